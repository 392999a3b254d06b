"""What the page draws of a service: the shapes of its answers."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Any

from barodex.book.photos import PhotoView
from barodex.core.findings.finding import Assessment
from barodex.core.guide.level import WarmUp
from barodex.core.ledger.dips import DipPlan
from barodex.core.ledger.drained import Loss
from barodex.core.ledger.draining import Between, DripYield, Recovery
from barodex.core.ledger.variant import VariantVerdict
from barodex.core.run.exchanging import Outlook
from barodex.core.run.phases import PhaseTime

from .promise import Follows, Promise


@dataclass(frozen=True)
class FieldView:
    name: str
    kind: str
    label: str
    required: bool
    choices: tuple[str, ...]
    default_number: float | None
    default_text: str
    shown: str


@dataclass(frozen=True)
class ResetView:
    """Something that is set back: ``outcome`` as the tool said last, done or failed, with why; empty where no tool has said anything."""

    name: str
    outcome: str
    why: str


@dataclass(frozen=True)
class StepView:
    """A step with its state; ``title`` is ``task`` with its compartment; ``values`` is what was recorded, ``act`` names what an undo
    takes back."""

    id: str
    purpose: str
    phase: str
    kind: str
    title: str
    task: str
    cycle: int
    why: str
    compartment: str
    caution: str
    advice: tuple[str, ...]
    checklist: tuple[str, ...]
    fields: tuple[FieldView, ...]
    gate: bool
    skip: str
    required: bool
    status: str
    why_locked: str
    timer_s: int
    timer_started: dt.datetime | None
    timer_stopped: dt.datetime | None
    act: str
    done_by: str
    done_at: dt.datetime | None
    values: dict[str, Any]
    window_low_c: float | None
    window_high_c: float | None
    calls: tuple[str, ...]
    resets: tuple[ResetView, ...]
    forbidden: str  # why the vehicle as a whole does not allow it now
    checks: bool = False  # what is ticked is good, or answered bad


@dataclass(frozen=True)
class PourView:
    act: str
    volume_ml: float
    at: dt.datetime
    by: str


@dataclass(frozen=True)
class CycleView:
    """A drain-and-refill cycle as done, mL."""

    drained_ml: float
    poured_ml: float


@dataclass(frozen=True)
class TemperatureReading:
    """A temperature reading, °C."""

    at: dt.datetime
    temperature_c: float


@dataclass(frozen=True)
class DipView:
    """A dip of the stick: poured so far, mL, and where it stood, mm."""

    added_ml: float
    reading_mm: float


@dataclass(frozen=True)
class LedgerView:
    """What is known of one compartment so far."""

    compartment: str
    name: str
    oil: str
    family: str
    colour: str
    capacity_ml: float | None
    last_in_ml: float | None
    last_on: dt.date | None
    target_ml: float | None
    target_basis: str
    drained_ml: float | None
    drained_c: float | None
    drained_15_ml: float | None
    loss: Loss | None
    assessment: Assessment | None
    poured_ml: float
    run_out_ml: float
    pours: tuple[PourView, ...]
    fill_method: str
    tolerance: float
    cycles: tuple[CycleView, ...]
    cycles_planned: int
    fresh: float | None
    window_low_c: float | None
    window_high_c: float | None
    readings: tuple[TemperatureReading, ...]
    warmup: WarmUp | None
    work: str
    school: str
    cycles_most: int
    outlook: Outlook | None
    recovery: Recovery | None
    inside: Between | None
    flush_in_ml: float | None
    flush_out_ml: float | None
    drip: DripYield | None
    dips: tuple[DipView, ...]
    dip: DipPlan | None
    mark_mm: float | None
    depth_mm: float | None
    before_depth_mm: float | None
    variant: VariantVerdict | None
    drain_shares: tuple[float, ...]
    elsewhere_ml: float  # poured, and not off the shelf
    no_loss: str = ""  # why what came out tells no loss
    promise: Promise | None = None  # what follows if it is signed now; None once it is signed


@dataclass(frozen=True)
class NoteView:
    text: str
    by: str
    at: dt.datetime


@dataclass(frozen=True)
class RecordRef:
    """The record that a signature wrote for a compartment, with its sums as the book has them now: mL as measured, at 15 °C what is
    inside, None unknown."""

    compartment: str
    record: int
    drained_ml: float | None = None
    poured_ml: float | None = None
    inside_15_ml: float | None = None
    used_ml: float = 0.0
    follows: tuple[Follows, ...] = ()  # what follows from it and is open


@dataclass(frozen=True)
class ServiceView:
    """A service as the Bay draws it; ``now`` is the server's time, by which timers run."""

    id: int
    vehicle_id: int
    vehicle: str
    plate: str
    vehicle_kind: str
    meter: str
    meter_value: float | None
    state: str
    started_at: dt.datetime
    started_by: str
    now: dt.datetime
    current: str
    stopped: bool
    seq: int
    last_act: str
    steps: tuple[StepView, ...]
    ledgers: tuple[LedgerView, ...]
    notes: tuple[NoteView, ...]
    gaps: tuple[str, ...]
    records: tuple[RecordRef, ...]
    times: tuple[PhaseTime, ...]
    photos: tuple[PhotoView, ...]
    tilt_deg: float | None
    words: str
    vehicle_says: tuple[str, ...]
