"""Which device is chosen, and what a device keeps between two questions."""

from django.db import models

from .protocol import DEVICE_KINDS


class DeviceChoice(models.Model):
    """The adaptor of a kind of device in this workshop; a kind without a row has none."""

    kind = models.CharField(max_length=16, unique=True, choices=[(k, k) for k in DEVICE_KINDS])
    adaptor = models.CharField(max_length=20)  # a name of the registry
    faulty = models.BooleanField(default=False)  # a simulated one that also jumps, dies and runs backwards
    speed = models.FloatField(default=1.0)  # how fast the time of a simulated vehicle runs


class DeviceLink(models.Model):
    """A device at work for a service: its own state, and the samples that count (seconds since 1970, °C), thinned."""

    service = models.ForeignKey("bay.Service", on_delete=models.CASCADE, related_name="links")
    kind = models.CharField(max_length=16, choices=[(k, k) for k in DEVICE_KINDS])
    adaptor = models.CharField(max_length=20)
    state = models.JSONField(default=dict)
    samples = models.JSONField(default=list)
    asked = models.JSONField(default=dict)  # resets that the tool has not answered yet: who asked (a person's id), and the act's id

    class Meta:
        constraints = [models.UniqueConstraint(fields=["service", "kind"], name="one_link_a_service_and_kind")]
