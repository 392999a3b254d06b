"""What a guide is made of: steps with their fields, the jobs they serve, and the procedure that holds them in order."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, field

from barodex.core.findings.finding import Finding
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.torque import nm_to_lbf_ft
from barodex.core.kinds.kind import kind_of
from barodex.core.ledger.bands import LEAST_SHARE, Run
from barodex.core.ledger.correcting import CORRECTED, correction_cycles
from barodex.core.ledger.drained import Amount
from barodex.core.oil.lubricant import Dose
from barodex.core.quantity.window import TemperatureWindow
from barodex.core.quantity.working import figure
from barodex.core.sheet.sheet import Head, Plug, Sheet, candidates_ml, key_size
from barodex.core.sheet.work import SPARE_CYCLES, TARGET_FRESH, pan_comes_off, usual_work
from barodex.core.words import say

PHASES = ("prepare", "access", "open", "exchange", "drain", "inspect", "close", "fill", "level", "finish", "after")
HOT = say("The oil may be hot, and used oil harms skin: gloves stay on.")  # wherever used oil comes out
COLD = say("Used oil harms skin: gloves stay on.")
OFF_BRAKES = say("Tyre, rim and brake covered: oil on any of them and it no longer holds.")
PAN_RESERVE = 1.25  # a pan holds a quarter more than what comes (common practice)
DEFAULT_DRAIN_MIN = {"plug": 20.0, "suction": 5.0, "cover": 10.0}  # common practice
# share of the target, common practice; what runs out at a hole is let go on purpose
POUR_TOLERANCE = {
    "measured": 0.05,
    "to the lip": 0.12,
    "dipstick": 0.20,
    "overflow": 0.25,
    "dribble": 0.25,
    "syringe": 0.05,
    "below the lip": 0.12,
}


@dataclass(frozen=True)
class Field:
    """What a step records. ``kind``: a quantity kind, bool, text, lines, choice or finding."""

    name: str
    kind: str
    label: str
    required: bool = True
    choices: tuple[str, ...] = ()
    default: float | str | bool | None = None


@dataclass(frozen=True)
class Step:
    """One step: what it is for, what to do, why, the caution, what it needs first, what it records, and how it may be passed.

    ``task`` is what to do, ``box`` the name of the compartment that it is done on, empty for the whole vehicle. ``skip``: never,
    reason (only with one), free. ``required``: it must be done or passed before the signature. ``plug``: which it shuts; ``resets``:
    what is set back by a tool, beside what is ticked. ``starts``: the step whose timer begins once this one is done.
    ``rounds``: how often a rinse goes through, 0 where it does not.
    """

    id: str
    purpose: Purpose
    phase: str
    kind: str
    task: str
    why: str
    compartment: str = ""
    caution: str = ""
    needs: tuple[str, ...] = ()
    fields: tuple[Field, ...] = ()
    checklist: tuple[str, ...] = ()
    gate: bool = False
    skip: str = "never"
    required: bool = True
    timer_s: int = 0
    advice: tuple[str, ...] = ()
    window: TemperatureWindow | None = None  # the temperature that it notes must lie inside
    calls: tuple[str, ...] = ()  # what is called out in turn while its timer runs, each for an equal share of it
    cycle: int = 0  # the exchange cycle that it belongs to; it does not apply when fewer are wanted
    moves_vehicle: bool = False
    runs_engine: bool = False
    opens_oil: bool = False
    branch: str = ""  # what it is the way out for, where it is not the normal way
    box: str = ""
    plug: str = ""
    resets: tuple[str, ...] = ()
    starts: str = ""
    rounds: int = 0
    checks: bool = False  # its list is of parts that are good or bad

    @property
    def rinses(self) -> int:
        """How often its rinse goes through; as long as its list is, in a guide of before."""
        return self.rounds or max(1, len(self.checklist))

    @property
    def title(self) -> str:
        """What to do and on which compartment."""
        return f"{self.box}: {self.task}" if self.box else self.task

    @property
    def ticks(self) -> tuple[str, ...]:
        """What is ticked by hand: its list, and without a tool each reset."""
        return (*self.checklist, *self.resets)


@dataclass(frozen=True)
class Job:
    """One compartment of a visit: its sheet, the oil chosen, and what is known of its past (amounts mL, distance km)."""

    key: str
    name: str
    sheet: Sheet
    oil: str
    density15: float = 880.0  # of what comes out, kg/m³ at 15 °C
    density15_in: float | None = None  # of what goes in; None: as what comes out
    last_net_in: Amount | None = None
    distance_km: float | None = None
    first_change: bool = False
    previous: Finding | None = None
    previous_level: int | None = None
    older_levels: tuple[int, ...] = ()
    last_filled_on: dt.date | None = None
    doses: tuple[Dose, ...] = ()
    rinse: str = ""  # why what stays inside must be rinsed out first; empty: no need
    work: str = ""  # the kind of service; empty: the usual one
    cycles: int = 0  # planned cycles of an exchange; 0: as many as the sheet says
    target_fresh: float = TARGET_FRESH
    school: str = "drain and refill"  # of an exchange
    attached: tuple[str, ...] = ()  # jobs that ride along: filter, seal, breather, belt
    wrong_oil: str = ""  # what went in by mistake, for a correction
    topups: tuple[Amount, ...] = ()  # what went in since the last fill
    shared_visit: bool = False  # another oil is poured in the same visit
    depth_mm: float | None = None  # how far below the lip it stood after the last measured fill
    share: float | None = None  # of the interval that was run since the last fill
    least_share: float = LEAST_SHARE  # of the interval, below which a loss says nothing of a whole one
    first_drain: bool = False  # of this box: what stays on its walls is not known yet
    ambient_c: float | None = None  # the air on the day, °C
    no_warm: str = ""  # why it is not driven warm with the oil that is inside
    fetch: str = ""  # who fetches how much of the oil that is short; empty: it is there
    last_time: Mapping[str, str] = field(default_factory=dict)  # what was noted of it by the purpose of a step, with its day
    open_sheet: Sheet | None = None  # as it stood while the variant was open, where it was when the service started

    @property
    def holds_ml(self) -> float | None:
        """What it may hold, mL: the most of its variants while nobody knows which one it is; None unknown."""
        return max(candidates_ml(self.sheet), default=self.sheet.capacity_ml)

    @property
    def run(self) -> Run | None:
        """What was run since the level was set, as a loss is judged by it; None unknown."""
        return None if self.share is None else Run(self.share, self.least_share)

    @property
    def by_amount(self) -> bool:
        """Whether the poured amount alone sets the level."""
        return self.sheet.fill_method in ("measured", "syringe")

    @property
    def kind_of_work(self) -> str:
        """The kind of service, the usual one when none was chosen."""
        return self.work or usual_work(self.sheet)

    @property
    def planned_cycles(self) -> int:
        """How many drains an exchange, or the correction of a box that keeps much of its oil, is planned with; 1 for all else."""
        if self.kind_of_work == "correction":
            found = correction_cycles(self.sheet)
            return max(found, self.cycles) if found > 1 else 1
        if self.kind_of_work != "exchange" or self.school == "flow through":
            return 1
        return max(2, self.cycles or self.sheet.exchange_cycles)

    @property
    def most_cycles(self) -> int:
        """How many drains the guide has room for."""
        planned = self.planned_cycles
        return planned + SPARE_CYCLES if planned > 1 else 1

    @property
    def aim_fresh(self) -> float:
        """The fresh share that its cycles are to reach."""
        return max(CORRECTED, self.target_fresh) if self.kind_of_work == "correction" else self.target_fresh

    @property
    def rinses(self) -> bool:
        """Whether what stays inside is rinsed out: another family, a wrong oil that one drain lets out, or the sheet asks for it."""
        drained_once = self.planned_cycles == 1 and not self.flows and self.kind_of_work != "top-up"
        named = bool(self.sheet.rinse_ml) and self.sheet.way_out is not None
        return bool(self.rinse) or (drained_once and (named or self.kind_of_work == "correction"))

    @property
    def oil_caution(self) -> str:
        """What is said wherever its used oil comes out."""
        kind = kind_of(self.sheet.kind)
        return f"{COLD if kind.cold else HOT}{f' {OFF_BRAKES}' if kind.near_brake else ''}"

    @property
    def flows(self) -> bool:
        """Whether the oil is exchanged by flowing through, without a drain."""
        return self.kind_of_work == "exchange" and self.school == "flow through"

    @property
    def cleaned_by(self) -> str:
        """The step that cleans round its plugs: with the proof that the filler opens, where that is another one than the way out."""
        fill = self.sheet.plug("fill", "level", "combination")
        proven = fill is not None and fill is not self.sheet.way_out and self.kind_of_work != "top-up"
        return f"{'prove' if proven else 'clean'}.{self.key}"

    @property
    def opens_pan(self) -> bool:
        """Whether its pan or cover comes off: an opened service, or a filter that rides along behind one."""
        kind = kind_of(self.sheet.kind)
        behind = kind.filtered and (self.sheet.drain_method == "cover" or self.sheet.plug("cover") is not None)
        drained = self.kind_of_work not in ("top-up", "flush") and not self.flows
        return self.kind_of_work == "opened" or (drained and behind and pan_comes_off(self.attached))

    @property
    def rides_along(self) -> tuple[str, ...]:
        """The jobs that ride along, without those that the pan block does."""
        return tuple(a for a in self.attached if not (self.opens_pan and pan_comes_off((a,))))

    @property
    def wants_floor(self) -> bool:
        """Whether the vehicle must stand level: to read a level, or for a full drain where the amount alone sets it."""
        reads = self.kind_of_work == "top-up" or not self.by_amount or self.planned_cycles > 1 or self.flows
        return not kind_of(self.sheet.kind).own_level and (reads or self.sheet.drain_method != "suction")

    @property
    def levelled_to_drain(self) -> bool:
        """Whether it is put level before the drain, as its fill is measured out: what stays inside would be too much later."""
        return self.wants_floor and self.by_amount and self.kind_of_work != "top-up" and not self.flows

    @property
    def levelled_by(self) -> str:
        """The step that puts it level: the vehicle on its floor, or the case of a supercharger, whose own level alone counts."""
        return f"case.{self.key}" if kind_of(self.sheet.kind).own_level else "levelled"

    @property
    def additive_ml(self) -> float:
        """What additives take of the fill, mL."""
        return sum(d.volume_ml for d in self.doses)


@dataclass(frozen=True)
class Conditions:
    """Where the work is done: kind of vehicle, ambient temperature °C (None unknown)."""

    vehicle: str
    vehicle_kind: str
    ambient_c: float | None = None


@dataclass(frozen=True)
class Procedure:
    """The steps in order, with the jobs that they serve."""

    jobs: tuple[Job, ...]
    steps: tuple[Step, ...]
    by_id: Mapping[str, Step] = field(repr=False, default_factory=dict)
    ambient_c: float | None = None

    def job(self, key: str) -> Job:
        return next(j for j in self.jobs if j.key == key)

    def step(self, purpose: Purpose, compartment: str = "", cycle: int = 0) -> Step | None:
        """The step for a purpose on a compartment, of a cycle of its exchange; None where the guide has none."""
        return next((s for s in self.steps if s.purpose == purpose and s.compartment == compartment and s.cycle == cycle), None)


def torque_words(torque_nm: float | None) -> str:
    """Give a torque in both units, or say that it must be looked up.

    Parameters
    ----------
    torque_nm : N·m, or None when unknown

    Returns
    -------
    str

    References
    ----------
    NIST SP 811 for the unit.
    """
    if torque_nm is None:
        return say("torque unknown: look it up")
    feet = nm_to_lbf_ft(torque_nm)
    return say(
        "{torque_nm}\N{NO-BREAK SPACE}N·m ({feet}\N{NO-BREAK SPACE}lbf·ft)",
        torque_nm=figure(torque_nm, 1),
        feet=figure(feet, 1 if feet < 10 else 0),
    )


def torques_found(plug: Plug) -> tuple[float, ...]:
    """Give the torques of the heads that a plug is found with, while nobody knows which variant it is.

    Parameters
    ----------
    plug : with its heads

    Returns
    -------
    tuple of N·m, lowest first; empty where one torque alone is possible

    References
    ----------
    The same box with another plug head has another torque: common practice.
    """
    found = tuple(sorted({h.torque_nm for h in plug.heads if h.torque_nm is not None}))
    return found if len(found) > 1 else ()


def head_words(head: Head) -> str:
    """Write a plug head for a choice.

    Parameters
    ----------
    head : drive, size in mm, torque in N·m

    Returns
    -------
    str, such as ``14 mm hex socket: 60 N·m (44 lbf·ft)``

    References
    ----------
    None needed.
    """
    size = say("{size_mm} mm ", size_mm=figure(head.size_mm, 1)) if head.size_mm is not None else ""
    return f"{size}{head.drive}: {torque_words(head.torque_nm)}"


def plug_torque_words(plug: Plug) -> str:
    """Give a plug's torque for a step's title: its own, or those among which the fitted plug decides.

    Parameters
    ----------
    plug : with its heads

    Returns
    -------
    str

    References
    ----------
    As :func:`torque_words`.
    """
    found = torques_found(plug)
    if not found:
        return torque_words(plug.torque_nm)
    return say("by the plug that is fitted: {found}\N{NO-BREAK SPACE}N·m", found=" or ".join(figure(t, 1) for t in found))


def other_heads(plug: Plug) -> tuple[str, ...]:
    """Give the torques of the heads that a plug is also found with, in words.

    Parameters
    ----------
    plug : with its heads

    Returns
    -------
    tuple of str

    References
    ----------
    The same box with another plug head has another torque: common practice.
    """
    return tuple(
        say(
            "By the head really fitted: {size_mm} {drive}, {torque_nm}",
            size_mm=key_size(h.size_mm),
            drive=h.drive,
            torque_nm=torque_words(h.torque_nm),
        )
        if h.size_mm is not None
        else say("By the head really fitted: {drive}, {torque_nm}", drive=h.drive, torque_nm=torque_words(h.torque_nm))
        for h in plug.heads
    )
