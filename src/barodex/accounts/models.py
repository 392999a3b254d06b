"""People and the trail of their acts."""

from django.contrib.auth.models import AbstractUser
from django.db import models

from barodex.said import SaidJSON

ROLES = ("viewer", "technician", "lead")  # each may do what the ones before may
SYSTEMS = ("metric", "imperial", "us")
DATES = ("day first", "month first", "year first")  # how a day is written


class Person(AbstractUser):
    """Somebody who signs in; the role says what for, the rest how things are shown."""

    role = models.CharField(max_length=12, choices=[(r, r) for r in ROLES], default="viewer")
    unit_system = models.CharField(max_length=10, choices=[(s, s) for s in SYSTEMS], default="metric")
    dates = models.CharField(max_length=12, choices=[(d, d) for d in DATES], default=DATES[0])
    theme = models.CharField(max_length=6, choices=[("day", "day"), ("night", "night")], default="day")
    large_type = models.BooleanField(default=False)
    left_hand = models.BooleanField(default=False)
    spoken = models.BooleanField(default=False)
    short_guide = models.BooleanField(default=False)
    goes_on = models.BooleanField(default=False)  # by itself, when a time is over
    link_no = models.PositiveIntegerField(default=0)  # of one-time links made for them: a newer one ends those before

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=ROLES), name="person_role_known"),
            models.CheckConstraint(condition=models.Q(unit_system__in=SYSTEMS), name="person_system_known"),
        ]

    @property
    def shown_name(self) -> str:
        return self.get_full_name() or self.username

    def may(self, role: str) -> bool:
        return self.is_active and ROLES.index(self.role) >= ROLES.index(role)


class AuditEntry(models.Model):
    """One act: who, when, what, about what. Never changed."""

    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True)
    act = models.CharField(max_length=60)
    about = models.CharField(max_length=80)
    detail = SaidJSON(default=dict)

    class Meta:
        indexes = [models.Index(fields=["about", "at"])]


class SentChange(models.Model):
    """A change that was answered, by the id that the page made for it; kept for some days, for an answer that was lost on its way."""

    by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    key = models.UUIDField()
    what = models.CharField(max_length=64)  # digest of method, address and body
    status = models.PositiveSmallIntegerField()
    content_type = models.CharField(max_length=80, blank=True)
    answer = models.TextField(blank=True)
    at = models.DateTimeField(db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["by", "key"], name="change_once_a_person")]
