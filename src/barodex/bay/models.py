"""Services, the jobs in them, and their acts."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from barodex.said import SaidJSON

from .facts import Past, WorkPlan, past_from, plan_from


class Service(models.Model):
    """A visit under the vehicle. ``meter_value`` is the meter at the start (km or h as the vehicle counts; None unknown)."""

    vehicle = models.ForeignKey("fleet.Vehicle", on_delete=models.PROTECT, related_name="services")
    state = models.CharField(max_length=10, choices=[(s, s) for s in ("open", "signed", "dropped")], default="open")
    ambient_c = models.FloatField(null=True)
    coldest_c = models.FloatField(null=True)  # air expected until the next change; what the oil was judged by
    warmest_c = models.FloatField(null=True)
    meter_value = models.FloatField(null=True)
    started_at = models.DateTimeField()
    started_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    ended_at = models.DateTimeField(null=True)
    photo_version = models.PositiveIntegerField(default=0)  # counts every photo added or taken out
    kit = models.JSONField(default=list)  # seals and parts that it uses up, as name and count

    class Meta:
        ordering = ["-started_at"]


class ServiceJob(models.Model):
    """One compartment of a service, on the sheet revision and with the oil of that day. ``past`` and ``plan`` are read as ``known`` and ``wanted``."""

    service = models.ForeignKey(Service, on_delete=models.CASCADE, related_name="jobs")
    compartment = models.ForeignKey("fleet.Compartment", on_delete=models.PROTECT, related_name="jobs")
    revision = models.ForeignKey("shelf.SheetRevision", on_delete=models.PROTECT)
    lubricant = models.ForeignKey("shelf.Lubricant", on_delete=models.PROTECT)
    oil_override = models.CharField(max_length=300, blank=True)
    verdict = models.CharField(max_length=12, blank=True)
    variant = models.CharField(max_length=60, blank=True)
    limited_slip = models.BooleanField(null=True)
    doses = models.JSONField(default=list)  # additives: name, kind, volume_ml, max_share
    past = models.JSONField(default=dict)
    work = models.CharField(max_length=12, blank=True)  # the kind of service; empty: the usual one
    plan = models.JSONField(default=dict)
    open = models.BooleanField(default=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["compartment"], condition=Q(open=True), name="compartment_in_one_service"),
            models.UniqueConstraint(fields=["service", "compartment"], name="compartment_once_a_service"),
        ]

    @property
    def known(self) -> Past:
        """What was known of the compartment when the service started."""
        return past_from(self.past)

    @property
    def wanted(self) -> WorkPlan:
        """What was wanted of the job."""
        return plan_from(self.plan)


class ServiceGuide(models.Model):
    """The guide by which a service is led, as :func:`barodex.core.guide.stored.guide_to_keep` wrote it at the start; it is never edited."""

    service = models.OneToOneField(Service, on_delete=models.CASCADE, primary_key=True, related_name="guide")
    guide = models.JSONField()


class SignedPage(models.Model):
    """What a service showed and left open when it was signed; it is never edited."""

    service = models.OneToOneField(Service, on_delete=models.CASCADE, primary_key=True, related_name="page")
    view = models.JSONField()  # as :class:`barodex.bay.views.ServiceView`
    gaps = SaidJSON()  # as :class:`barodex.core.run.gaps.GapReport`


class ServiceAct(models.Model):
    """An accepted act. ``act_id`` is made by the device, so that sending it twice counts once."""

    service = models.ForeignKey(Service, on_delete=models.CASCADE, related_name="acts")
    act_id = models.UUIDField(unique=True)
    seq = models.PositiveIntegerField()
    kind = models.CharField(max_length=12)
    step = models.CharField(max_length=40, blank=True)
    values = models.JSONField(default=dict)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        db_table = "bay_serviceevent"
        ordering = ["seq"]
        constraints = [models.UniqueConstraint(fields=["service", "seq"], name="event_order_once")]
