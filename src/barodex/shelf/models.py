"""Sheets, oils and stock; volumes in mL, torques in N·m."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from barodex.core import lubricant
from barodex.core import sheet as words


def _choices(words):
    return [(w, w) for w in words]


class SpecSheet(models.Model):
    """What a kind of compartment needs; shared by every compartment of that make. The figures stand in its revisions."""

    name = models.CharField(max_length=80, unique=True)
    kind = models.CharField(max_length=24, choices=_choices(words.KINDS))

    class Meta:
        ordering = ["name"]


class SheetRevision(models.Model):
    """The figures as of a date, never edited: a change is a new revision with its reason."""

    sheet = models.ForeignKey(SpecSheet, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    effective_on = models.DateField()
    reason = models.CharField(max_length=200, blank=True)
    capacity_ml = models.FloatField(null=True)
    family = models.CharField(max_length=20, choices=_choices(lubricant.FAMILIES))
    grade = models.CharField(max_length=40, blank=True)
    categories = models.CharField(max_length=40, blank=True)
    hypoid = models.BooleanField(default=False)
    yellow_metal = models.BooleanField(null=True)
    limited_slip = models.BooleanField(null=True)
    fill_method = models.CharField(max_length=20, choices=_choices(words.FILL_METHODS))
    drain_method = models.CharField(max_length=20, choices=_choices(words.DRAIN_METHODS))
    case_material = models.CharField(max_length=20, choices=_choices(words.CASES), default="unknown")
    drain_minutes = models.FloatField(null=True)
    warm_up = models.BooleanField(default=True)
    level_note = models.CharField(max_length=200, blank=True)
    cautions = models.JSONField(default=list)
    interval_km = models.FloatField(null=True)
    interval_h = models.FloatField(null=True)
    interval_months = models.PositiveIntegerField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["sheet", "number"]
        constraints = [
            models.UniqueConstraint(fields=["sheet", "number"], name="revision_once"),
            models.CheckConstraint(condition=Q(capacity_ml__isnull=True) | Q(capacity_ml__gt=0), name="revision_capacity_positive"),
            models.CheckConstraint(condition=Q(interval_km__isnull=True) | Q(interval_km__gt=0), name="revision_interval_km_positive"),
            models.CheckConstraint(condition=Q(interval_h__isnull=True) | Q(interval_h__gt=0), name="revision_interval_h_positive"),
        ]


class Plug(models.Model):
    """A plug of a revision."""

    revision = models.ForeignKey(SheetRevision, on_delete=models.CASCADE, related_name="plugs")
    role = models.CharField(max_length=12, choices=_choices(words.ROLES))
    label = models.CharField(max_length=40)
    drive = models.CharField(max_length=12, choices=_choices(words.DRIVES), default="unknown")
    size_mm = models.FloatField(null=True)
    seal = models.CharField(max_length=14, choices=_choices(words.SEALS), default="unknown")
    torque_nm = models.FloatField(null=True)
    magnet = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [models.CheckConstraint(condition=Q(torque_nm__isnull=True) | Q(torque_nm__gt=0), name="plug_torque_positive")]


class FigureSource(models.Model):
    """Where a figure of a revision comes from and how far it can be trusted."""

    revision = models.ForeignKey(SheetRevision, on_delete=models.CASCADE, related_name="sources")
    figure = models.CharField(max_length=40)
    source = models.CharField(max_length=12, choices=_choices(words.SOURCES))
    trust = models.CharField(max_length=12, choices=_choices(words.TRUSTS))
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["revision", "figure"], name="figure_source_once")]


class Lubricant(models.Model):
    """An oil as its label and data sheet state it; density in kg/m³ at 15 °C, None not stated."""

    name = models.CharField(max_length=60, unique=True)
    family = models.CharField(max_length=20, choices=_choices(lubricant.FAMILIES))
    grade = models.CharField(max_length=40, blank=True)
    categories = models.CharField(max_length=40, blank=True)
    density15 = models.FloatField(null=True)
    friction_modifier = models.BooleanField(default=False)
    safe_for_yellow_metal = models.BooleanField(default=False)
    settles = models.BooleanField(default=False)

    class Meta:
        ordering = ["name"]


class Pack(models.Model):
    """A pack on offer, with its price."""

    lubricant = models.ForeignKey(Lubricant, on_delete=models.CASCADE, related_name="packs")
    size_ml = models.FloatField()
    price = models.DecimalField(max_digits=8, decimal_places=2)

    class Meta:
        ordering = ["size_ml"]
        constraints = [models.CheckConstraint(condition=Q(size_ml__gt=0) & Q(price__gte=0), name="pack_possible")]


class Container(models.Model):
    """A bottle, can or drum in stock. ``content_ml`` is the sum of its movements and never below zero."""

    lubricant = models.ForeignKey(Lubricant, on_delete=models.PROTECT, related_name="containers")
    label = models.CharField(max_length=40)
    size_ml = models.FloatField()
    content_ml = models.FloatField()
    graduated = models.BooleanField(default=True)
    opened_on = models.DateField(null=True)

    class Meta:
        ordering = ["lubricant", "content_ml", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(content_ml__gte=0) & Q(content_ml__lte=models.F("size_ml")), name="container_content_possible"
            )
        ]


class StockMovement(models.Model):
    """What went into or out of a container; never edited."""

    container = models.ForeignKey(Container, on_delete=models.PROTECT, related_name="movements")
    change_ml = models.FloatField()
    why = models.CharField(max_length=80)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
