"""What Barodex asks of a device. A real adaptor answers the same way as the simulated one; time is always an argument."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Any, Protocol

DEVICE_KINDS = ("scan tool", "scale", "meter feed", "label printer")
STATUSES = ("none", "connecting", "live", "lost")


@dataclass(frozen=True)
class ScanReading:
    """What a scan tool answers: its link, when the values were taken, oil °C, battery V, engine and ignition; None not known."""

    status: str
    taken_at: dt.datetime | None = None
    temperature_c: float | None = None
    battery_v: float | None = None
    engine_on: bool | None = None
    ignition_on: bool | None = None
    supply: bool | None = None


@dataclass(frozen=True)
class ResetState:
    """A counter, adaptation or stored fault: its value in words, and how its reset stands (idle, running, done, failed, with why)."""

    name: str
    value: str
    state: str = "idle"
    why: str = ""


@dataclass(frozen=True)
class ScanSetup:
    """A scan tool that is connected to a vehicle: when, oil and air in °C, what its control unit keeps to be reset, a seed that is the
    service's. ``speed`` and ``faulty`` are asked of a simulated one."""

    now: dt.datetime
    oil_c: float
    air_c: float
    resets: tuple[str, ...]
    seed: int
    speed: float = 1.0
    faulty: bool = False


class ScanTool(Protocol):
    """Reads live values of one vehicle and resets what it keeps. ``state`` is what must be kept between two questions."""

    state: dict[str, Any]

    def read(self, now: dt.datetime) -> ScanReading: ...

    def resets(self, now: dt.datetime) -> tuple[ResetState, ...]: ...

    def start_reset(self, name: str, now: dt.datetime) -> None: ...

    def turn(self, now: dt.datetime, engine_on: bool | None, ignition_on: bool | None, supply: bool | None) -> None:
        """Turn the key or connect a supply from the page: asked of simulated ones only."""


@dataclass(frozen=True)
class ScaleReading:
    """What a scale shows: its link, g, whether it has come to rest, and whether it was tared."""

    status: str
    mass_g: float | None = None
    steady: bool = False
    tared: bool = False


@dataclass(frozen=True)
class ScaleSetup:
    """A scale that is connected to a service: when, g of oil that a full pan will hold, a seed that is the service's."""

    now: dt.datetime
    oil_g: float
    seed: int
    faulty: bool = False


class Scale(Protocol):
    """A scale on the bench. ``state`` is what must be kept between two questions."""

    state: dict[str, Any]

    def read(self, now: dt.datetime) -> ScaleReading: ...

    def tare(self, now: dt.datetime) -> None: ...

    def put(self, now: dt.datetime, what: str) -> None:
        """Put something on it from the page: asked of simulated ones only."""


@dataclass(frozen=True)
class FeedReading:
    """What a meter feed delivers: km or h as the vehicle counts, and the day."""

    status: str
    value: float | None = None
    on: dt.date | None = None


@dataclass(frozen=True)
class FeedSetup:
    """The meter that a feed is asked for: its vehicle, the last reading (km or h as it counts) and its day, what it runs a day."""

    vehicle: int
    last: float
    on: dt.date
    per_day: float
    faulty: bool = False


class MeterFeed(Protocol):
    """Delivers the meter of a vehicle."""

    def read(self, now: dt.datetime) -> FeedReading: ...


@dataclass(frozen=True)
class PrinterSetup:
    """A label printer that is asked to print: the folder in which a simulated one lays its labels."""

    folder: str
    faulty: bool = False


@dataclass(frozen=True)
class PrintedLabels:
    """What a label printer answers: whether it took them all, how many, and a sentence."""

    done: bool
    count: int
    text: str


class LabelPrinter(Protocol):
    """Prints labels of one size. ``pictures``: each as PNG, 300 to the inch; ``document``: all of them as PDF, a page each."""

    def print(self, name: str, pictures: tuple[bytes, ...], document: bytes, now: dt.datetime) -> PrintedLabels: ...
