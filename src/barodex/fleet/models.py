"""Vehicles, compartments and readings; distances in km, engine hours in h."""

import datetime as dt

from django.conf import settings
from django.db import models
from django.db.models import Q

from barodex.core.due.use import DEFAULT_PER_DAY
from barodex.core.words import say
from barodex.workshop.models import Decided

VEHICLE_KINDS = tuple(DEFAULT_PER_DAY)
USUAL = {  # how a kind of vehicle is usually driven, and what its meter counts (common practice)
    "car": ("front-wheel", "km"),
    "van": ("front-wheel", "km"),
    "4x4": ("four-wheel", "km"),
    "truck": ("rear-wheel", "km"),
    "motorcycle": ("shaft motorcycle", "km"),
    "bicycle": ("bicycle", "km"),
    "boat": ("boat", "h"),
    "snow machine": ("track machine", "km"),
    "bus": ("rear-wheel", "km"),
}
MERGED = "merged"  # it was twice in the book, and its rows are those of another: only taking that apart brings it back
LEFT_BY = ("laid up", "sold", "scrapped", "given back")  # why a vehicle is no more in use
OLDEST = dt.date(1950, 1, 1)  # before it nothing is read or done
LAYOUTS = ("front-wheel", "rear-wheel", "rear-engine", "four-wheel", "six-by-six", "shaft motorcycle", "bicycle", "boat", "track machine")
SLOTS = (
    "supercharger",
    "front axle",
    "gearbox",
    "transaxle",
    "transfer case",
    "middle axle",
    "rear axle",
    "bevel drive",
    "hub gear",
    "chain case",
    "marine gearbox",
)


class Vehicle(models.Model):
    """A vehicle as people call it.

    ``duty_split`` spreads what it runs over duties; shares add up to 1. The season as month-day, both empty: nobody set one;
    ``all_year``: somebody said that it has none, whatever its readings look like.
    ``engine_oil_*``: the engine's own oil, which other changes may go with; ``engine_oil_run`` and ``_meter`` in km or h.
    """

    name = models.CharField(max_length=60, unique=True)
    plate = models.CharField(max_length=20, blank=True)
    kind = models.CharField(max_length=20, choices=[(k, k) for k in VEHICLE_KINDS])
    layout = models.CharField(max_length=20, choices=[(k, k) for k in LAYOUTS])
    meter = models.CharField(max_length=2, choices=[("km", "km"), ("h", "h")], default="km")
    duty_split = models.JSONField(default=dict)
    warranty_until = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    depot = models.CharField(max_length=60, blank=True)  # where it stands, where the workshop wants to know
    driver = models.CharField(max_length=60, blank=True)  # who is asked for it
    season_from = models.CharField(max_length=5, blank=True)
    season_to = models.CharField(max_length=5, blank=True)
    all_year = models.BooleanField(default=False)
    engine_oil_run = models.FloatField(null=True)
    engine_oil_months = models.PositiveIntegerField(null=True)
    engine_oil_on = models.DateField(null=True)
    engine_oil_meter = models.FloatField(null=True)
    retired_on = models.DateField(null=True)  # since when it is no more in use: it leaves Due, its past stays
    retired_how = models.CharField(max_length=12, blank=True)
    retired_note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=Q(engine_oil_run__isnull=True) | Q(engine_oil_run__gt=0), name="engine_oil_run_positive"),
            models.CheckConstraint(condition=Q(meter__in=["km", "h"]), name="vehicle_meter_known"),
            models.CheckConstraint(condition=~Q(name=""), name="vehicle_named"),
            models.UniqueConstraint(fields=["plate"], condition=~Q(plate=""), name="vehicle_plate_once"),
        ]


class Box(models.Model):
    """A gearbox, axle or the like as such: its past hangs on it and goes with it, wherever it is fitted.

    What was found out of one in the store is kept here; of one that is fitted at its place.
    """

    number = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=300, blank=True)
    variant = models.CharField(max_length=60, blank=True)
    limited_slip = models.BooleanField(null=True)


class Compartment(models.Model):
    """A place for a closed oil volume in a vehicle's driveline, on a spec sheet, with the box that is fitted there now."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="compartments")
    sheet = models.ForeignKey("shelf.SpecSheet", on_delete=models.PROTECT, related_name="compartments")
    name = models.CharField(max_length=60)
    slot = models.CharField(max_length=20, choices=[(s, s) for s in SLOTS])
    box = models.OneToOneField(Box, on_delete=models.PROTECT, related_name="place")
    # What was found out about this very one, where its sheet leaves it open.
    limited_slip = models.BooleanField(null=True)
    variant = models.CharField(max_length=60, blank=True)
    # The open service that has it on the bench; the Bay writes it.
    in_service = models.ForeignKey("bay.Service", on_delete=models.SET_NULL, null=True, related_name="+")
    removed_on = models.DateField(null=True)  # since when it is gone; its past stays
    removed_why = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["vehicle", "id"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "name"], name="compartment_once_a_vehicle")]

    def save(self, *args, **kwargs):
        """A place comes with a box; of what was there before nothing is known."""
        if self.box_id is None:
            self.box = Box.objects.create()
        super().save(*args, **kwargs)


class Fitting(models.Model):
    """A box at a place, from a day and meter value on, and up to others where it was taken out again (km or h as the vehicle counts)."""

    box = models.ForeignKey(Box, on_delete=models.PROTECT, related_name="fittings")
    compartment = models.ForeignKey(Compartment, on_delete=models.PROTECT, related_name="fittings")
    on = models.DateField(null=True)  # None: before the book began
    meter_value = models.FloatField(null=True)
    off = models.DateField(null=True)
    off_meter = models.FloatField(null=True)
    why = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["compartment"], condition=Q(off__isnull=True), name="one_box_at_a_place"),
            models.UniqueConstraint(fields=["box"], condition=Q(off__isnull=True), name="one_place_for_a_box"),
        ]


class Standing(models.Manager):
    """The rows that stand: those that nobody declared void."""

    def get_queryset(self):
        return super().get_queryset().filter(voided_at=None)


class Voidable(models.Model):
    """A row that may be declared void: it stays, with who, when and why, and counts for nothing."""

    voided_at = models.DateTimeField(null=True)
    voided_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    void_reason = models.CharField(max_length=300, blank=True)

    everything = models.Manager()
    objects = Standing()

    class Meta:
        abstract = True
        default_manager_name = "objects"


def void_words(row: Voidable) -> str:
    """Who declared a row void, when and why; empty while it stands."""
    if row.voided_at is None or row.voided_by is None:
        return ""
    return say(
        "void {voided_at}, {shown_name}: {void_reason}",
        voided_at=f"{row.voided_at:%d %b %Y}",
        shown_name=row.voided_by.shown_name,
        void_reason=row.void_reason,
    )


class Merge(models.Model):
    """A vehicle that was twice in the book: ``other`` went into ``kept``. ``moved`` says of each row that moved what it named before,
    by which the merge is taken back."""

    kept = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="merges")
    other = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="merged_into")
    moved = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["other"], condition=Q(undone_at__isnull=True), name="merged_once")]


class Reading(Voidable):
    """A meter reading of a day, in km or in h as the vehicle counts.

    ``swap``: the first of a new or reset meter. ``duty``: shares of what was run since the reading before; None: as usual.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="readings")
    on = models.DateField()
    value = models.FloatField()
    swap = models.BooleanField(default=False)
    duty = models.JSONField(null=True)
    source = models.CharField(max_length=10, choices=[(s, s) for s in ("typed", "csv", "service", "paper")], default="typed")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta(Voidable.Meta):
        abstract = False
        ordering = ["on", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(value__gte=0) & Q(value__lte=9_999_999), name="reading_possible"),
            models.UniqueConstraint(fields=["vehicle", "on", "value"], condition=Q(voided_at__isnull=True), name="reading_once"),
        ]


class CounterReading(models.Model):
    """What a vehicle's own oil-life counter says of a compartment: the share of life used on a day."""

    compartment = models.ForeignKey(Compartment, on_delete=models.PROTECT, related_name="counter_readings")
    on = models.DateField()
    used = models.FloatField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["on", "id"]
        constraints = [models.CheckConstraint(condition=Q(used__gte=0) & Q(used__lte=2), name="counter_possible")]


class CompartmentRule(Decided):
    """What the workshop set for one compartment from a moment on; the newest counts, none is edited. Empty: as policy and sheet say."""

    compartment = models.ForeignKey("fleet.Compartment", on_delete=models.PROTECT, related_name="rules")
    school = models.CharField(max_length=12, blank=True)
    interval_km = models.FloatField(null=True)
    interval_h = models.FloatField(null=True)
    interval_months = models.PositiveIntegerField(null=True)
    load_share = models.FloatField(null=True)  # engine torque over the box's rating
    severe_factor = models.FloatField(null=True)
    linked = models.CharField(max_length=12, blank=True)

    class Meta(Decided.Meta):
        db_table = "plan_compartmentrule"
