"""Time planned and taken, phase by phase."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass

from barodex.core.guide.steps import PHASES, Procedure, Step
from barodex.core.run.state import Act, State

# What a step of a kind takes beside its timer, s (common practice).
STEP_S = {"confirm": 60, "note": 60, "timer": 15, "measure": 120, "inspect": 180, "pour": 120, "level": 120, "torque": 90, "sign": 30}
POUR_S_PER_LITRE = 60.0  # slowly: oil settles (common practice)
PAUSE_S = 2 * 3600.0  # a longer gap is a pause, not work


@dataclass(frozen=True)
class PhaseTime:
    """A phase with the seconds planned for it and taken so far."""

    phase: str
    planned_s: float
    taken_s: float


def planned_s(step: Step, volume_ml: float | None = None) -> float:
    """Give what a step is planned to take.

    Parameters
    ----------
    step : of a guide
    volume_ml : what is poured in it, mL; None where unknown or nothing is

    Returns
    -------
    float, s

    References
    ----------
    Common practice; the timers are the guide's.
    """
    pour = POUR_S_PER_LITRE * volume_ml / 1000 if volume_ml and step.kind == "pour" else 0.0
    return STEP_S[step.kind] + step.timer_s + pour


def phase_times(procedure: Procedure, state: State, acts: Iterable[Act], started_at: dt.datetime) -> tuple[PhaseTime, ...]:
    """Set the time taken against the time planned, phase by phase.

    Parameters
    ----------
    procedure, state, acts : the service as it is
    started_at : when it was opened

    Returns
    -------
    tuple of :class:`PhaseTime`, in the order of the work; phases that do not apply are left out. The time since the act before
    counts for the phase of an act; a gap of more than two hours is a pause. Drains that run beside each other are waited for once.

    References
    ----------
    None needed: sums.
    """
    planned: dict[str, float] = {}
    waits: dict[str, list[float]] = {}
    for step in procedure.steps:
        status = state.steps[step.id].status
        if status in ("off", "skipped") or (not step.required and status != "done"):
            continue
        target = state.ledgers[step.compartment].target_ml if step.compartment else None
        alone = step.phase != "drain"  # what drains, drains beside the others
        planned[step.phase] = planned.get(step.phase, 0.0) + planned_s(step, target) - (0.0 if alone else step.timer_s)
        if not alone:
            waits.setdefault(step.phase, []).append(float(step.timer_s))
    for phase, times in waits.items():
        planned[phase] += max(times)
    taken: dict[str, float] = {}
    before = started_at
    for act in sorted(acts, key=lambda e: e.seq):
        gap = (act.at - before).total_seconds()
        if 0 < gap <= PAUSE_S and act.step in procedure.by_id:
            phase = procedure.by_id[act.step].phase
            taken[phase] = taken.get(phase, 0.0) + gap
        before = max(before, act.at)
    return tuple(PhaseTime(p, planned.get(p, 0.0), taken.get(p, 0.0)) for p in PHASES if p in planned or p in taken)
