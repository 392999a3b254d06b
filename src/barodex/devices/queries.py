"""Reads of devices: which are chosen, and what they show."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.bay import guides
from barodex.bay.models import Service
from barodex.core.guide.level import FEWEST_SAMPLES, WarmUp, check_reading, warmup_eta
from barodex.core.quantity.errors import CoreError
from barodex.core.quantity.window import TemperatureWindow
from barodex.fleet.models import Vehicle
from barodex.fleet.use import vehicle_forecast

from .models import DeviceChoice, DeviceLink
from .protocol import ADAPTORS, DEVICE_KINDS, FeedReading, ResetState, ScaleReading, ScanReading
from .simulated import SimulatedFeed, SimulatedScale, SimulatedScanTool

WHAT_FOR = {
    "scan tool": "oil temperature live, values, resets",
    "scale": "what the drain pan weighs",
    "meter feed": "odometer and engine hours",
}


@dataclass(frozen=True)
class DeviceView:
    """A kind of device: what it is for, the adaptor chosen, those to choose from, and how fast a simulated vehicle's time runs."""

    kind: str
    what_for: str
    adaptor: str
    adaptors: tuple[str, ...]
    simulated: bool
    speed: float


def devices() -> list[DeviceView]:
    """Every kind of device."""
    chosen = {c.kind: c for c in DeviceChoice.objects.all()}
    found = []
    for kind in DEVICE_KINDS:
        choice = chosen.get(kind)
        adaptor = choice.adaptor if choice else "none"
        found.append(DeviceView(kind, WHAT_FOR[kind], adaptor, ADAPTORS, adaptor.startswith("simulated"), choice.speed if choice else 1.0))
    return found


def adaptor_of(kind: str) -> tuple[str, float]:
    """The adaptor of a kind of device, and the speed of its simulated time."""
    choice = DeviceChoice.objects.filter(kind=kind).first()
    return (choice.adaptor, choice.speed) if choice else ("none", 1.0)


def scan_tool(link: DeviceLink) -> SimulatedScanTool:
    """The scan tool of a link."""
    return SimulatedScanTool(link.state, link.adaptor == ADAPTORS[2])


def scale(link: DeviceLink) -> SimulatedScale:
    """The scale of a link."""
    return SimulatedScale(link.state, link.adaptor == ADAPTORS[2])


@dataclass(frozen=True)
class Sample:
    """A temperature that counts, °C."""

    at: dt.datetime
    temperature_c: float


@dataclass(frozen=True)
class ScanView:
    """What a scan tool shows for a service; ``doubt`` says why a value was not taken."""

    adaptor: str
    simulated: bool
    connected: bool
    status: str
    text: str
    reading: ScanReading | None
    doubt: str
    samples: tuple[Sample, ...]
    warmup: WarmUp | None
    resets: tuple[ResetState, ...]
    now: dt.datetime


STATUS_TEXT = {
    "none": "Not connected.",
    "connecting": "Looking for the control unit …",
    "live": "Live.",
    "lost": "The link is away: the last value stands, the timer runs on. It looks for it again.",
}
MOST_SAMPLES = 240


def doubt_of(samples: list[list[float]], reading: ScanReading) -> str:
    """Why a temperature is not taken: a dead sensor, a jump. Empty when it is."""
    if reading.temperature_c is None or reading.taken_at is None:
        return ""
    at = reading.taken_at.timestamp()
    before = (samples[-1][0], samples[-1][1]) if samples else None
    try:
        check_reading(before, reading.temperature_c, at)
        if before is not None and abs(reading.temperature_c - before[1]) >= 40 and at - before[0] <= 30:
            return f"From {before[1]:g} to {reading.temperature_c:g} °C within {at - before[0]:.0f} s: no oil does that. Check the sensor; the value is not used."
    except CoreError as error:
        return f"{error.message} The value is not used."
    return ""


def _window(service: Service, compartment: str) -> TemperatureWindow | None:
    job = next((j for j in guides.procedure_of(service).jobs if j.key == compartment), None)
    return job.sheet.level.window if job else None


def scan_view(service: Service, link: DeviceLink | None, compartment: str, now: dt.datetime) -> ScanView:
    """What the scan tool of a service shows, with the warm-up fitted to the samples."""
    if link is None:
        adaptor, _ = adaptor_of("scan tool")
        return ScanView(
            adaptor=adaptor,
            simulated=adaptor.startswith("simulated"),
            connected=False,
            status="none",
            text=STATUS_TEXT["none"],
            reading=None,
            doubt="",
            samples=(),
            warmup=None,
            resets=(),
            now=now,
        )
    tool = scan_tool(link)
    reading = tool.read(now)
    doubt = doubt_of(link.samples, reading)
    window, warmup = _window(service, compartment), None
    rows = [(s, c) for s, c in link.samples]
    if (
        reading.taken_at
        and reading.temperature_c is not None
        and not doubt
        and (not rows or reading.taken_at.timestamp() > rows[-1][0] + 0.5)
    ):
        rows.append((reading.taken_at.timestamp(), reading.temperature_c))
    if window and len(rows) >= FEWEST_SAMPLES:
        try:
            warmup = warmup_eta([(s - rows[0][0], c) for s, c in rows], window)
        except CoreError:
            warmup = None
    samples = tuple(Sample(dt.datetime.fromtimestamp(s, dt.UTC), c) for s, c in rows)
    simulated = link.adaptor.startswith("simulated")
    return ScanView(
        adaptor=link.adaptor,
        simulated=simulated,
        connected=True,
        status=reading.status,
        text=STATUS_TEXT[reading.status],
        reading=reading,
        doubt=doubt,
        samples=samples,
        warmup=warmup,
        resets=tool.resets(now),
        now=now,
    )


@dataclass(frozen=True)
class ScaleView:
    """What the scale shows; ``usable_g`` is what may be noted, None with the reason in ``text``."""

    adaptor: str
    simulated: bool
    connected: bool
    reading: ScaleReading | None
    usable_g: float | None
    text: str


def scale_view(link: DeviceLink | None, now: dt.datetime) -> ScaleView:
    """What the scale of a service shows, and whether it can be used."""
    if link is None:
        adaptor, _ = adaptor_of("scale")
        return ScaleView(adaptor, adaptor.startswith("simulated"), False, None, None, "Not connected.")
    reading = scale(link).read(now)
    usable: float | None = None
    if reading.status == "lost" or reading.mass_g is None:
        text = "The scale does not answer just now: it is asked again."
    elif not reading.steady:
        text = "It swings: wait until it has come to rest."
    elif not reading.tared:
        text = "Put the empty pan on and tare it first: the pan is not oil."
    elif reading.mass_g < -2:
        text = "Below zero: the pan is off, or it drifted. Put the empty pan on and tare again."
    else:
        usable, text = max(0.0, reading.mass_g), "At rest."
    return ScaleView(link.adaptor, link.adaptor.startswith("simulated"), True, reading, usable, text)


@dataclass(frozen=True)
class FeedView:
    """What the meter feed delivers for a vehicle, km or h as it counts."""

    adaptor: str
    simulated: bool
    reading: FeedReading | None
    text: str


def feed_view(vehicle_id: int, now: dt.datetime) -> FeedView:
    """The meter of a vehicle by its feed; raises Vehicle.DoesNotExist."""
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    adaptor, _ = adaptor_of("meter feed")
    if adaptor == "none":
        return FeedView(adaptor, False, None, "No meter feed is chosen: settings, devices.")
    readings = list(vehicle.readings.all())
    if not readings:
        return FeedView(adaptor, True, None, "The feed knows nothing of this vehicle yet: write one reading first.")
    use = vehicle_forecast(vehicle, readings, now.date())
    reading = SimulatedFeed(readings[-1].value, readings[-1].on, use.rate.per_day, vehicle.pk, adaptor == ADAPTORS[2]).read(now)
    text = "Delivered just now." if reading.status == "live" else "The feed does not answer: try again in a moment."
    return FeedView(adaptor, True, reading, text)
