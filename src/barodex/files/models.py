"""What moves in: a file that is being read, and how headings were mapped."""

from __future__ import annotations

from django.conf import settings
from django.db import models

IMPORT_STATES = ("draft", "taken", "undone")


class ImportRun(models.Model):
    """A spreadsheet: its tables as text, how they are read, what was repaired; once taken in, what it made (by model, ids)."""

    name = models.CharField(max_length=120)
    state = models.CharField(max_length=8, choices=[(s, s) for s in IMPORT_STATES], default="draft")
    tables = models.JSONField(default=list)
    ways = models.JSONField(default=list)  # how each table is read
    repairs = models.JSONField(default=dict)  # by table and line: cells put right, skip, reason
    made = models.JSONField(default=dict)
    counts = models.JSONField(default=dict)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    taken_at = models.DateTimeField(null=True)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]
        constraints = [models.CheckConstraint(condition=models.Q(state__in=IMPORT_STATES), name="import_state_known")]


class KeptMapping(models.Model):
    """How headings were mapped, kept by name for the next file of the same make."""

    name = models.CharField(max_length=60, unique=True)
    mapping = models.JSONField(default=dict)  # figure to heading
    units = models.JSONField(default=dict)
    order = models.CharField(max_length=12, blank=True)
    decimal = models.CharField(max_length=1, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["name"]
