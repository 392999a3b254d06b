"""The workshop's policy: which school it follows where practitioners differ."""

from django.conf import settings
from django.db import models


class PlannedVisit(models.Model):
    """A visit that was agreed: a vehicle, a day, its compartments and the bay hours it takes. Dropped ones stay on record."""

    vehicle = models.ForeignKey("fleet.Vehicle", on_delete=models.PROTECT, related_name="planned_visits")
    on = models.DateField()
    hours = models.FloatField()
    bay = models.PositiveSmallIntegerField(default=1)
    compartments = models.ManyToManyField("fleet.Compartment", related_name="planned_visits")
    note = models.CharField(max_length=200, blank=True)
    technician = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")  # who does it
    dropped_at = models.DateTimeField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["on", "id"]
        constraints = [models.CheckConstraint(condition=models.Q(hours__gt=0), name="visit_takes_time")]


class CalendarLink(models.Model):
    """A secret link under which a person's calendar program reads due dates and visits; only the hash of its key is kept."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="calendar_links")
    key_hash = models.CharField(max_length=64, unique=True)
    at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["person"], condition=models.Q(revoked_at__isnull=True), name="one_calendar_link_a_person")
        ]
