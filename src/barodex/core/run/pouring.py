"""What was poured, set against what was wanted."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import POUR_TOLERANCE, Job, Procedure, Step
from barodex.core.guide.work_blocks import MISSING
from barodex.core.ledger.drained import topup_loss
from barodex.core.ledger.draining import inside_between
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.quantity.working import ml
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.ledgering import balance_of
from barodex.core.run.measuring import target_of
from barodex.core.run.state import Cycle, Ledger, State, said
from barodex.core.sheet.figures import FINDS_LEVEL
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.words import say


def apply_pour_done(state: State, procedure: Procedure, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Close a pour: what went in is set against what was wanted.

    Parameters
    ----------
    state, step, job : where it happened; the ledger is changed in place
    values : what the act carries

    Raises
    ------
    GateClosed : nothing was poured
    NeedsReason : far off its target without a reason

    References
    ----------
    Tolerances: :data:`barodex.core.guide.steps.POUR_TOLERANCE`, common practice.
    """
    ledger = state.ledgers[job.key]
    if job.kind_of_work == "top-up":
        _apply_top_up(state, procedure, job, values)
        return
    if not ledger.pours:
        raise GateClosed(say("Nothing has been poured yet."), field="volume_ml", value=0)
    _check_ceiling(state, step, job, values)
    if ledger.target_ml is None:
        return
    difference = ledger.poured_ml - ledger.target_ml
    open_sizes = candidates_ml(job.sheet)
    slack = POUR_TOLERANCE[job.sheet.fill_method]
    if open_sizes and open_sizes[0] * (1 - slack) <= ledger.poured_ml <= open_sizes[-1] * (1 + slack):
        difference = 0.0  # the level decides while nobody knows which variant it is
    if job.sheet.fill_method in FINDS_LEVEL and job.sheet.trust.get("capacity") == "guessed":
        difference = 0.0  # a guess is not what a level is held against
    if abs(difference) > slack * ledger.target_ml:
        word = "more" if difference > 0 else "less"
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                say(
                    "{job}: {poured_ml} poured, {difference} {word} than the {target_ml} wanted.",
                    job=job.name,
                    poured_ml=ml(ledger.poured_ml),
                    difference=ml(abs(difference)),
                    word=word,
                    target_ml=ml(ledger.target_ml),
                ),
                "volume_ml",
                ledger.poured_ml,
            ),
        )
    if step.cycle:
        ledger.cycles.append(Cycle(ledger.cycle_out.volume_ml if ledger.cycle_out else 0.0, ledger.poured_ml, ledger.cycle_out))
        ledger.cycle_out = None
        ledger.past_pours += ledger.pours
        ledger.pours, ledger.poured_ml = [], 0.0
        ledger.target_ml, ledger.target_basis = target_of(job)


def _apply_top_up(state: State, procedure: Procedure, job: Job, values: Mapping[str, Any]) -> None:
    """What it took to stand where it should is what was lost since."""
    ledger = state.ledgers[job.key]
    if not ledger.pours and values.get("full") is not True:
        raise GateClosed(say("Nothing was poured: tick that it was full, or count what went in."), field="volume_ml", value=0)
    if ledger.pours and values.get("full") is True:
        raise Inconsistent(say("It was full, and oil went in: one of the two."), field="full", value=True)
    stood = str(said(procedure, state, Purpose.STOOD, job.key).get("stood") or "")
    if not ledger.pours and stood in MISSING:
        raise Inconsistent(say("It stood “{stood}” and nothing went in: then it was not full.", stood=stood), field="full", value=True)
    ledger.full = not ledger.pours
    note_top_up(ledger, job)


def note_top_up(ledger: Ledger, job: Job) -> None:
    """Read what was poured so far in a top-up as the loss since the level was last set.

    Parameters
    ----------
    ledger : changed in place
    job : the compartment

    References
    ----------
    As :func:`barodex.core.ledger.drained.topup_loss`.
    """
    capacity = job.sheet.capacity_ml or (job.last_net_in.volume_ml if job.last_net_in else None)
    added = balance_of(job, ledger).net_in
    if capacity and job.kind_of_work == "top-up" and added is not None:
        ledger.loss = topup_loss(added, capacity, job.distance_km, job.density15, job.run)


def _check_ceiling(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """After a suction what stayed inside counts too: above the maximum needs a reason."""
    ledger, capacity = state.ledgers[job.key], job.sheet.capacity_ml
    if capacity is None or ledger.recovery is None or ledger.drained is None or job.sheet.fill_method != "measured":
        return
    inside = inside_between(ledger.poured_ml, ledger.drained.volume_ml, capacity)
    if inside.over:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: {inside.text}", "volume_ml", ledger.poured_ml))
