"""What a service is at a moment: its acts, the state of every step, and what is known of each compartment."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from barodex.core.findings.finding import Assessment, Finding
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Procedure
from barodex.core.ledger.drained import Amount, Loss, judged_outside
from barodex.core.ledger.draining import Recovery
from barodex.core.ledger.variant import VariantVerdict
from barodex.core.quantity.errors import CoreError


@dataclass(frozen=True)
class Act:
    """An accepted act. ``values`` in canonical units; ``at`` the server's time; for an undo, ``values["act"]`` names it."""

    id: str
    seq: int
    kind: str
    step: str
    values: Mapping[str, Any]
    at: dt.datetime
    by: str = ""


@dataclass(frozen=True)
class Conflict:
    """An act that did not fit when its turn came, with the error that says why."""

    act: Act
    error: CoreError


@dataclass
class StepState:
    """status: locked, open, done, skipped, off (does not apply); what locks it; the act that settled it."""

    status: str = "locked"
    blocked_by: tuple[str, ...] = ()
    why_locked: str = ""
    act: Act | None = None
    timer_started: dt.datetime | None = None
    timer_stopped: dt.datetime | None = None
    results: dict[str, tuple[str, str]] = field(default_factory=dict)  # by what is reset: done or failed, and why, as the tool said last


@dataclass(frozen=True)
class Cycle:
    """A drain-and-refill cycle as it was really done, mL."""

    drained_ml: float
    poured_ml: float
    drained: Amount | None = None  # as it was measured, where it was


@dataclass
class Ledger:
    """What is known of one compartment so far; volumes in mL as measured, ``*_15`` brought to 15 °C."""

    target_ml: float | None
    target_basis: str
    drained: Amount | None = None
    drained_15_ml: float | None = None
    loss: Loss | None = None
    assessment: Assessment | None = None
    finding: Finding | None = None
    poured_ml: float = 0.0
    run_out_ml: float = 0.0
    pours: list[Act] = field(default_factory=list)
    cycle_out: Amount | None = None
    cycles: list[Cycle] = field(default_factory=list)
    past_pours: list[Act] = field(default_factory=list)
    readings: list[Act] = field(default_factory=list)
    wanted_cycles: int = 1
    flush_in_ml: float | None = None
    flush_out_ml: float | None = None
    ran_ml: float = 0.0  # out of the fill plug when it was opened
    run_out_c: float | None = None
    levelled: bool = False
    full: bool = False  # a top-up that took nothing
    rinse: Act | None = None
    rinses: int = 0
    cloth_ml: float = 0.0
    recovery: Recovery | None = None
    ran_low: bool = False  # the first amount that came out is less than the sheet lets it be
    drips: list[Act] = field(default_factory=list)
    dips: list[tuple[float, float]] = field(default_factory=list)  # poured so far mL, reading mm
    mark_mm: float | None = None
    depth_mm: float | None = None
    exposure: Mapping[str, Any] = field(default_factory=dict)
    variant: VariantVerdict | None = None
    variant_read: bool = False  # on the casing, before anything was drained
    torques: dict[str, tuple[float, str]] = field(
        default_factory=dict
    )  # by plug that the sheet has no torque for: N·m used, and where from
    bad: dict[str, dict[str, str]] = field(default_factory=dict)  # by step: the checks that were bad, and what was seen

    @property
    def judged_loss(self) -> Loss | None:
        """The loss, held against what is wet outside once somebody looked."""
        return judged_outside(self.loss, (self.finding.wet or "") if self.finding else "")

    @property
    def all_pours(self) -> list[Act]:
        """Every pour, those of earlier cycles first."""
        return [*self.past_pours, *self.pours]


@dataclass
class State:
    """The state of a service: every step, every compartment's ledger, what did not fit, and what is next."""

    steps: dict[str, StepState]
    ledgers: dict[str, Ledger]
    conflicts: list[Conflict] = field(default_factory=list)
    notes: list[Act] = field(default_factory=list)
    gaps: list[tuple[str, str]] = field(default_factory=list)  # (step id, what and why)
    refit: tuple[str, ...] = ()
    tools_out: float | None = None
    tilt_deg: float | None = None
    torque_source: str = ""  # where the last torque is from that no sheet had: asked once a service
    stopped: bool = False
    signed: Act | None = None
    current: str = ""


def drained(procedure: Procedure, state: State) -> tuple[str, ...]:
    """Give the drains that were opened.

    Parameters
    ----------
    procedure, state : the service as it stands

    Returns
    -------
    tuple of step ids; empty while everything can still be given up

    References
    ----------
    None needed.
    """
    return tuple(s.id for s in procedure.steps if s.purpose == Purpose.DRAIN and state.steps[s.id].status == "done")


def said(procedure: Procedure, state: State, purpose: Purpose, compartment: str = "") -> dict[str, Any]:
    """Give what was noted at a step.

    Parameters
    ----------
    procedure, state : the service as it stands
    purpose, compartment : which step, the one that belongs to no cycle

    Returns
    -------
    dict of values in canonical units; empty where the guide has no such step or it was not done

    References
    ----------
    None needed.
    """
    step = procedure.step(purpose, compartment)
    here = state.steps[step.id] if step is not None else None
    return dict(here.act.values) if here and here.status == "done" and here.act else {}
