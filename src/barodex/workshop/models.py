"""What the workshop decided from a day on: its policy, its school of scheduling, its bay hours."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Decided(models.Model):
    """What somebody decided at a moment, with the reason: never edited, a change is a new row, the newest counts."""

    why = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        abstract = True
        ordering = ["id"]


class Workshop(models.Model):
    """The workshop itself, one row: what stands at the head of its papers. The audit trail says who changed it."""

    ONE = 1

    name = models.CharField(max_length=80)
    address = models.CharField(max_length=300, blank=True)
    reached = models.CharField(max_length=120, blank=True)
    web = models.CharField(max_length=120, blank=True)  # where Barodex is reached from a phone in the workshop: codes on labels lead there

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(id=1), name="one_workshop")]


class PolicyRevision(Decided):
    """The policy from a moment on, never edited: a change is a new row with its reason. ``oil``: values of the core's OilPolicy."""

    oil = models.JSONField(default=dict)

    class Meta(Decided.Meta):
        db_table = "plan_policyrevision"


class ScheduleRevision(Decided):
    """The school of scheduling from a moment on, never edited. ``schedule``: values of the core's SchedulePolicy."""

    schedule = models.JSONField(default=dict)

    class Meta(Decided.Meta):
        db_table = "plan_schedulerevision"


class BayRevision(Decided):
    """Bay hours and closed days from a moment on, never edited. ``bay``: values of the core's BayPolicy."""

    bay = models.JSONField(default=dict)

    class Meta(Decided.Meta):
        db_table = "plan_bayrevision"
