"""The workshop's policy: which school it follows where practitioners differ."""

from django.conf import settings
from django.db import models


class PolicyRevision(models.Model):
    """The policy from a moment on, never edited: a change is a new row with its reason. ``oil``: values of the core's OilPolicy."""

    oil = models.JSONField(default=dict)
    why = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
