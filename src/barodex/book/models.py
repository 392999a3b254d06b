"""Records of oil changes, their corrections, and what must be looked at again."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from barodex.core.ledger.balance import ENTRY_KINDS, LedgerEntry
from barodex.core.ledger.drained import Amount
from barodex.core.quantity.working import COMMON_PRACTICE
from barodex.core.verdict.consequences import CONSEQUENCE_KINDS, Consequence, consequence_text
from barodex.fleet.models import Voidable
from barodex.said import SaidJSON


class OilRecord(Voidable):
    """What was done to one compartment on a day. Never edited: a correction is an entry of its own.

    ``meter_value`` in km or h as the vehicle counts. What went in and came out stands in its entries, and nowhere else.
    """

    compartment = models.ForeignKey("fleet.Compartment", on_delete=models.PROTECT, related_name="records")
    box = models.ForeignKey("fleet.Box", on_delete=models.PROTECT, related_name="records")  # which was fitted there then
    service = models.ForeignKey("bay.Service", on_delete=models.PROTECT, null=True, related_name="records")
    revision = models.ForeignKey("shelf.SheetRevision", on_delete=models.PROTECT, null=True)
    lubricant = models.ForeignKey("shelf.Lubricant", on_delete=models.PROTECT, null=True)
    on = models.DateField()
    meter_value = models.FloatField(null=True)
    oil = models.CharField(max_length=80, blank=True)
    ambient_c = models.FloatField(null=True)  # the air on the day; what is poured has its temperature
    finding = models.JSONField(null=True)
    level = models.PositiveSmallIntegerField(null=True)
    reasons = models.JSONField(default=list)
    gaps = SaidJSON(default=list)
    torques = models.JSONField(default=list)  # as :class:`barodex.book.closed.ClosedWith`
    factory_fill = models.BooleanField(default=False)
    work = models.CharField(max_length=12, default="change")  # the kind of service
    details = models.JSONField(default=dict)  # what a kind of service leaves behind: depth, share, exposure, impressions, times, waste
    note = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    def save(self, *args, **kwargs):
        """A record is of the box that is fitted at its place, where nobody says another."""
        if self.box_id is None:
            self.box_id = self.compartment.box_id
        super().save(*args, **kwargs)

    class Meta(Voidable.Meta):
        abstract = False
        ordering = ["on", "id"]
        indexes = [
            models.Index(fields=["box", "-on", "-id"], name="record_newest_first"),
            models.Index(fields=["-on", "-id"], name="record_by_day"),
        ]
        constraints = [
            models.CheckConstraint(condition=Q(level__isnull=True) | Q(level__lte=4), name="record_level_possible"),
            models.UniqueConstraint(fields=["service", "compartment"], name="record_once_a_service"),
        ]


class LedgerRow(Voidable):
    """One amount of a record, mL as measured with the temperature at which it was (its σ above 0: not taken), from which container.

    Never edited: a wrong one is declared void, and another takes its place.
    """

    record = models.ForeignKey(OilRecord, on_delete=models.PROTECT, related_name="entries")
    place = models.SmallIntegerField()  # in the order of the work
    kind = models.CharField(max_length=12, choices=[(k, k) for k in ENTRY_KINDS])
    volume_ml = models.FloatField()
    temperature_c = models.FloatField()
    temperature_sigma_k = models.FloatField(default=0.0)
    sigma_ml = models.FloatField()
    cycle = models.PositiveSmallIntegerField(default=0)
    container = models.ForeignKey("shelf.Container", on_delete=models.PROTECT, null=True, related_name="+")
    assumed = models.BooleanField(default=False)  # nobody measured it
    as_written = models.BooleanField(default=False)  # taken from a record of before there were entries

    class Meta(Voidable.Meta):
        abstract = False
        ordering = ["record", "place", "id"]
        constraints = [models.CheckConstraint(condition=Q(volume_ml__gte=0), name="entry_possible")]

    @property
    def entry(self) -> LedgerEntry:
        """As the core sums it."""
        amount = Amount(self.volume_ml, self.temperature_c, self.sigma_ml, self.temperature_sigma_k)
        return LedgerEntry(self.kind, amount, self.container_id, self.cycle, self.assumed)


class Correction(models.Model):
    """A figure of a record set right afterwards: what it was, what it is, who, when, why."""

    record = models.ForeignKey(OilRecord, on_delete=models.PROTECT, related_name="corrections")
    field = models.CharField(max_length=20)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.CheckConstraint(condition=~Q(reason=""), name="correction_has_reason")]


class ConsequenceRow(Voidable):
    """What follows from a record, as :class:`barodex.core.verdict.consequences.Consequence`; closed by an act, or void with what it
    followed from.

    ``run`` (km or h as the vehicle counts) and ``days`` are counted from the record, and so follow its corrections.
    """

    record = models.ForeignKey(OilRecord, on_delete=models.PROTECT, related_name="consequences")
    kind = models.CharField(max_length=10, choices=[(k, k) for k in CONSEQUENCE_KINDS])
    code = models.CharField(max_length=20)
    params = models.JSONField(default=dict)
    run = models.FloatField(null=True)
    days = models.PositiveIntegerField(null=True)
    factor = models.FloatField(null=True)
    basis = models.CharField(max_length=80, default=COMMON_PRACTICE)
    done_at = models.DateTimeField(null=True)
    done_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    outcome = models.CharField(max_length=300, blank=True)  # what was found, or mended

    class Meta(Voidable.Meta):
        abstract = False
        ordering = ["record", "id"]
        indexes = [models.Index(fields=["kind", "record"], condition=Q(done_at=None, voided_at=None), name="consequence_open")]

    @property
    def consequence(self) -> Consequence:
        """As the core gives it."""
        return Consequence(self.kind, self.code, self.params, self.run, self.days, self.factor, self.basis)

    @property
    def text(self) -> str:
        """In words; by when stands beside it."""
        return consequence_text(self.kind, self.code, self.params, closed=self.done_at is not None)


class ServicePhoto(models.Model):
    """A photo of a service, kept as a file beside the database under its id; removing it keeps the row."""

    id = models.UUIDField(primary_key=True)
    service = models.ForeignKey("bay.Service", on_delete=models.PROTECT, related_name="photos")
    step = models.CharField(max_length=40)
    task = models.CharField(max_length=200, blank=True)  # what was being done
    compartment = models.ForeignKey("fleet.Compartment", on_delete=models.PROTECT, null=True, related_name="photos")
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    sha256 = models.CharField(max_length=64)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["at", "id"]
        db_table = "bay_servicephoto"
