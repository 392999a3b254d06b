"""Sheets, oils and stock; volumes in mL, torques in N·m."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.oil import lubricant
from barodex.core.sheet import sheet as lists
from barodex.core.sheet.kit import KIT_KINDS

from .columns import FigureColumns


def _choices(names):
    return [(n, n) for n in names]


class SpecSheet(models.Model):
    """What a kind of compartment needs; shared by every compartment of that make. The figures stand in its revisions."""

    name = models.CharField(max_length=80, unique=True)
    kind = models.CharField(max_length=24, choices=_choices(COMPARTMENT_KINDS))

    class Meta:
        ordering = ["name"]


class SheetRevision(FigureColumns):
    """The figures as of a date, never edited: a change is a new revision with its reason."""

    sheet = models.ForeignKey(SpecSheet, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    effective_on = models.DateField()
    reason = models.CharField(max_length=200, blank=True)
    ambient = models.JSONField(default=list)  # grades by air temperature
    variants = models.JSONField(default=list)
    casing_marks = models.JSONField(default=list)
    kit = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["sheet", "number"]
        constraints = [
            models.UniqueConstraint(fields=["sheet", "number"], name="revision_once"),
            models.CheckConstraint(condition=Q(capacity_ml__isnull=True) | Q(capacity_ml__gt=0), name="revision_capacity_positive"),
            models.CheckConstraint(condition=Q(interval_km__isnull=True) | Q(interval_km__gt=0), name="revision_interval_km_positive"),
            models.CheckConstraint(condition=Q(interval_h__isnull=True) | Q(interval_h__gt=0), name="revision_interval_h_positive"),
            models.CheckConstraint(condition=Q(exchange_cycles__gte=1) & Q(exchange_cycles__lte=12), name="revision_cycles_possible"),
        ]


class Plug(models.Model):
    """A plug of a revision."""

    revision = models.ForeignKey(SheetRevision, on_delete=models.CASCADE, related_name="plugs")
    role = models.CharField(max_length=12, choices=_choices(lists.PLUG_ROLES))
    label = models.CharField(max_length=40)
    drive = models.CharField(max_length=12, choices=_choices(lists.DRIVES), default="unknown")
    size_mm = models.FloatField(null=True)
    seal = models.CharField(max_length=14, choices=_choices(lists.SEALS), default="unknown")
    torque_nm = models.FloatField(null=True)
    magnet = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [models.CheckConstraint(condition=Q(torque_nm__isnull=True) | Q(torque_nm__gt=0), name="plug_torque_positive")]


class FigureSource(models.Model):
    """Where a figure of a revision comes from and how far it can be trusted, by whose word and when (the revision's, if not said)."""

    revision = models.ForeignKey(SheetRevision, on_delete=models.CASCADE, related_name="sources")
    figure = models.CharField(max_length=40)
    source = models.CharField(max_length=12, choices=_choices(lists.SOURCES))
    trust = models.CharField(max_length=12, choices=_choices(lists.TRUSTS))
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["revision", "figure"], name="figure_source_once")]


class SourceClaim(models.Model):
    """What one source says of one figure of a sheet, in canonical units or in words; never edited, kept beside the others."""

    sheet = models.ForeignKey(SpecSheet, on_delete=models.CASCADE, related_name="claims")
    figure = models.CharField(max_length=60)
    source = models.CharField(max_length=12, choices=_choices(lists.SOURCES))
    number = models.FloatField(null=True)
    words = models.CharField(max_length=60, blank=True)
    as_typed = models.CharField(max_length=60)
    published = models.DateField(null=True)
    trust = models.CharField(max_length=12, choices=_choices(lists.TRUSTS))
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["figure", "id"]


class FieldName(models.Model):
    """A field name of other people's sheet files, and which of ours it means; empty: leave it out."""

    foreign = models.CharField(max_length=60, unique=True)
    ours = models.CharField(max_length=40, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class Lubricant(models.Model):
    """An oil as its label and data sheet state it; density in kg/m³ at 15 °C, viscosities in mm²/s, None not stated."""

    name = models.CharField(max_length=60, unique=True)
    family = models.CharField(max_length=20, choices=_choices(lubricant.FAMILIES))
    grade = models.CharField(max_length=40, blank=True)
    categories = models.CharField(max_length=40, blank=True)
    density15 = models.FloatField(null=True)
    friction_modifier = models.BooleanField(default=False)
    safe_for_yellow_metal = models.BooleanField(default=False)
    settles = models.BooleanField(default=False)
    kv40 = models.FloatField(null=True)
    kv100 = models.FloatField(null=True)
    base = models.CharField(max_length=16, blank=True)
    copper_strip = models.CharField(max_length=2, blank=True)
    approvals = models.JSONField(default=list)
    detergent = models.BooleanField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["name"]


class Pack(models.Model):
    """A pack on offer, with its price where it is known."""

    lubricant = models.ForeignKey(Lubricant, on_delete=models.CASCADE, related_name="packs")
    size_ml = models.FloatField()
    price = models.DecimalField(max_digits=8, decimal_places=2, null=True)  # empty: nobody knows it yet

    class Meta:
        ordering = ["size_ml"]
        constraints = [models.CheckConstraint(condition=Q(size_ml__gt=0) & Q(price__gte=0), name="pack_possible")]


class Additive(models.Model):
    """An additive as its label states it; ``max_share`` is the most of a fill that its maker allows."""

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=20, choices=_choices(lubricant.ADDITIVE_KINDS))
    max_share = models.FloatField(null=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(
                condition=Q(max_share__isnull=True) | Q(max_share__gt=0) & Q(max_share__lte=1), name="additive_share_possible"
            )
        ]


CONTAINER_KINDS = ("bottle", "can", "drum", "top-up bottle")


class Container(models.Model):
    """A bottle, can or drum in stock, or a top-up bottle that a vehicle carries. ``content_ml`` is the sum of its movements, never
    below zero."""

    lubricant = models.ForeignKey(Lubricant, on_delete=models.PROTECT, related_name="containers")
    label = models.CharField(max_length=40)
    kind = models.CharField(max_length=14, choices=_choices(CONTAINER_KINDS), default="bottle")
    vehicle = models.ForeignKey("fleet.Vehicle", on_delete=models.PROTECT, null=True, related_name="carried")
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


class StoreItem(models.Model):
    """A seal, part or tool that the workshop counts; ``count`` is the sum of its movements."""

    name = models.CharField(max_length=80, unique=True)
    kind = models.CharField(max_length=6, choices=_choices(KIT_KINDS))
    count = models.IntegerField(default=0)
    place = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["kind", "name"]
        constraints = [models.CheckConstraint(condition=Q(count__gte=0), name="store_count_possible")]


class StoreMovement(models.Model):
    """What came into or left the store; never edited."""

    item = models.ForeignKey(StoreItem, on_delete=models.PROTECT, related_name="movements")
    change = models.IntegerField()
    why = models.CharField(max_length=80)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class StockMovement(models.Model):
    """What went into or out of a container; never edited."""

    container = models.ForeignKey(Container, on_delete=models.PROTECT, related_name="movements")
    change_ml = models.FloatField()
    why = models.CharField(max_length=80)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
