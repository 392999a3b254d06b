"""Reads of devices: which are chosen, and what they show."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.bay import guides
from barodex.bay.models import Service
from barodex.core.guide.level import FEWEST_SAMPLES, WarmUp, check_reading, warmup_eta
from barodex.core.quantity.errors import CoreError
from barodex.core.quantity.window import TemperatureWindow
from barodex.core.words import say
from barodex.fleet.models import Vehicle
from barodex.fleet.use import vehicle_forecast

from .models import DeviceChoice, DeviceLink
from .protocol import (
    DEVICE_KINDS,
    FeedReading,
    FeedSetup,
    LabelPrinter,
    MeterFeed,
    PrinterSetup,
    ResetState,
    Scale,
    ScaleReading,
    ScanReading,
    ScanTool,
)
from .registry import NONE, adaptor_for, is_simulated, names_of

WHAT_FOR = {
    "scan tool": say("oil temperature live, values, resets"),
    "scale": say("what the drain pan weighs"),
    "meter feed": say("odometer and engine hours"),
    "label printer": say("labels for cases, with the code of their box"),
}


@dataclass(frozen=True)
class DeviceView:
    """A kind of device: what it is for, the adaptor chosen, those to choose from; of a simulated one whether it is faulty, and how fast its
    time runs."""

    kind: str
    what_for: str
    adaptor: str
    adaptors: tuple[str, ...]
    simulated: bool
    faulty: bool
    speed: float


def devices() -> list[DeviceView]:
    """Every kind of device."""
    chosen = {c.kind: c for c in DeviceChoice.objects.all()}
    found = []
    for kind in DEVICE_KINDS:
        choice = chosen.get(kind)
        choice = choice or DeviceChoice(kind=kind, adaptor=NONE)
        simulated = is_simulated(kind, choice.adaptor)
        found.append(DeviceView(kind, WHAT_FOR[kind], choice.adaptor, names_of(kind), simulated, choice.faulty, choice.speed))
    return found


def choice_of(kind: str) -> DeviceChoice:
    """What is chosen for a kind of device; ``none`` where nothing is."""
    return DeviceChoice.objects.filter(kind=kind).first() or DeviceChoice(kind=kind, adaptor=NONE)


def scan_tool(link: DeviceLink) -> ScanTool:
    """The scan tool of a link."""
    tool: ScanTool = adaptor_for(link.kind, link.adaptor).open(link.state)
    return tool


def scale(link: DeviceLink) -> Scale:
    """The scale of a link."""
    found: Scale = adaptor_for(link.kind, link.adaptor).open(link.state)
    return found


def label_printer(folder: str) -> LabelPrinter | None:
    """The label printer of the workshop; None where none is chosen. ``folder``: where a simulated one lays its labels."""
    choice = choice_of("label printer")
    if choice.adaptor == NONE:
        return None
    adaptor = adaptor_for("label printer", choice.adaptor)
    printer: LabelPrinter = adaptor.open(adaptor.connect(PrinterSetup(folder, choice.faulty)))
    return printer


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
    "none": say("Not connected."),
    "connecting": say("Looking for the control unit …"),
    "live": "Live.",
    "lost": say("The link is away: the last value stands, the timer runs on. It looks for it again."),
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
            return say(
                "From {before:g} to {temperature_c:g} °C within {at:.0f} s: no oil does that. Check the sensor; the value is not used.",
                before=before[1],
                temperature_c=reading.temperature_c,
                at=at - before[0],
            )
    except CoreError as error:
        return say("{message} The value is not used.", message=error.message)
    return ""


def _window(service: Service, compartment: str) -> TemperatureWindow | None:
    job = next((j for j in guides.procedure_of(service).jobs if j.key == compartment), None)
    return job.sheet.level.window if job else None


def scan_view(service: Service, link: DeviceLink | None, compartment: str, now: dt.datetime) -> ScanView:
    """What the scan tool of a service shows, with the warm-up fitted to the samples."""
    if link is None:
        adaptor = choice_of("scan tool").adaptor
        return ScanView(
            adaptor=adaptor,
            simulated=is_simulated("scan tool", adaptor),
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
    simulated = is_simulated(link.kind, link.adaptor)
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
        adaptor = choice_of("scale").adaptor
        return ScaleView(adaptor, is_simulated("scale", adaptor), False, None, None, say("Not connected."))
    reading = scale(link).read(now)
    usable: float | None = None
    if reading.status == "lost" or reading.mass_g is None:
        text = say("The scale does not answer just now: it is asked again.")
    elif not reading.steady:
        text = say("It swings: wait until it has come to rest.")
    elif not reading.tared:
        text = say("Put the empty pan on and tare it first: the pan is not oil.")
    elif reading.mass_g < -2:
        text = say("Below zero: the pan is off, or it drifted. Put the empty pan on and tare again.")
    else:
        usable, text = max(0.0, reading.mass_g), say("At rest.")
    return ScaleView(link.adaptor, is_simulated(link.kind, link.adaptor), True, reading, usable, text)


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
    choice = choice_of("meter feed")
    simulated = is_simulated("meter feed", choice.adaptor)
    if choice.adaptor == NONE:
        return FeedView(choice.adaptor, False, None, say("No meter feed is chosen: settings, devices."))
    readings = list(vehicle.readings.all())
    if not readings:
        return FeedView(choice.adaptor, simulated, None, say("The feed knows nothing of this vehicle yet: write one reading first."))
    use = vehicle_forecast(vehicle, readings, now.date())
    adaptor = adaptor_for("meter feed", choice.adaptor)
    setup = FeedSetup(vehicle.pk, readings[-1].value, readings[-1].on, use.rate.per_day, choice.faulty)
    feed: MeterFeed = adaptor.open(adaptor.connect(setup))
    reading = feed.read(now)
    text = say("Delivered just now.") if reading.status == "live" else say("The feed does not answer: try again in a moment.")
    return FeedView(choice.adaptor, simulated, reading, text)
