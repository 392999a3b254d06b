"""Gaps: what was not done as it should be, each with its reason; and the report of a service: amounts that fell short, steps that were
passed, values that nobody measured."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Procedure, Step
from barodex.core.quantity.errors import NeedsReason
from barodex.core.quantity.working import ml, percent
from barodex.core.run.state import Ledger, State, StepState
from barodex.core.sheet.figures import FINDS_LEVEL
from barodex.core.words import say

NEAR_SHARE, NEAR_ML = 0.03, 30.0  # of the target, and mL, within which an amount counts as met (common practice)
GAP_KINDS = {
    "shortfall": say("amounts off their target"),
    "conflict": say("acts that no longer fitted"),
    "reason": say("gone on with a reason"),
    "skipped": "steps passed",
    "missing": say("values not measured"),
}


def note_gap(state: State, step: Step, text: str) -> None:
    """Add an explained gap of a step to the report.

    Parameters
    ----------
    state, step : where it happened
    text : what and why

    References
    ----------
    As :func:`refuse_unreasoned`.
    """
    state.gaps.append((step.id, text))


def refuse_unreasoned(values: Mapping[str, Any], message: str, field_name: str, value: object) -> str:
    """Give the gap's text when a reason is written, else refuse.

    Parameters
    ----------
    values : what the act carries; ``reason`` counts from four letters on
    message, field_name, value : what is out of line, where, and how much

    Returns
    -------
    str, for the gap report

    Raises
    ------
    NeedsReason : no reason is given

    References
    ----------
    A gap is explained or the signature waits: common practice of the paper record.
    """
    reason = str(values.get("reason") or "").strip()
    if len(reason) < 4:
        raise NeedsReason(message + say(" Write the reason to go on."), field=field_name, value=value)
    return say("{message} Reason: {reason}", message=message, reason=reason[:300])


@dataclass(frozen=True)
class GapLine:
    """One gap: its kind, the compartment's key ("" for the whole service), what it is, and what would make it good."""

    kind: str
    compartment: str
    text: str
    mend: str


@dataclass(frozen=True)
class GapReport:
    """Every gap, the gravest kind first; ``done`` of ``steps`` that applied; the whole in a sentence."""

    lines: tuple[GapLine, ...]
    done: int
    steps: int
    text: str


def _amounts(job: Job, ledger: Ledger) -> list[GapLine]:
    found = []
    net, target = ledger.poured_ml - ledger.run_out_ml, ledger.target_ml
    # A level that was found by its own method is the measurement: it is not off a figure.
    found_itself = job.sheet.fill_method in FINDS_LEVEL
    if (
        target
        and not found_itself
        and not ledger.cycles
        and job.kind_of_work != "top-up"
        and abs(net - target) > max(NEAR_ML, NEAR_SHARE * target)
    ):
        word = "less" if net < target else "more"
        off = abs(net - target)
        text = say(
            "{job}: {net} went in, {off} {word} than the {target} of {target_basis}.",
            job=job.name,
            net=ml(net),
            off=ml(off),
            word=word,
            target=ml(target),
            target_basis=ledger.target_basis,
        )
        found.append(
            GapLine(
                "shortfall",
                job.key,
                text,
                say("Check the level at the next stop.") if net < target else say("Look for oil at the breather."),
            )
        )
    if job.kind_of_work not in ("top-up",) and not job.flows:
        if ledger.drained is None:
            found.append(
                GapLine(
                    "missing",
                    job.key,
                    say("{job}: what came out was not measured.", job=job.name),
                    say("The loss cannot be told this time: measure at the next change."),
                )
            )
        if ledger.finding is None:
            found.append(
                GapLine(
                    "missing",
                    job.key,
                    say("{job}: oil and magnet were not looked at.", job=job.name),
                    say("Look at the next change, or take a sample."),
                )
            )
        elif ledger.finding.magnet is None and job.sheet.magnet:
            found.append(
                GapLine(
                    "missing", job.key, say("{job}: nothing was noted of the magnet.", job=job.name), say("Look at it at the next change.")
                )
            )
    return found


LAST = (Purpose.SWEEP, Purpose.TURN_OVER, Purpose.REST)  # what takes its time whatever is seen
ENOUGH = 0.9  # of the time (common practice)


def _takes_its_time(step: Step, state: State) -> bool:
    """Whether its time counts: what drains does unless somebody saw that it only drips, or counted the drops."""
    if step.purpose == Purpose.MEASURE and step.timer_s:
        here = state.steps[step.id]
        seen = here.act is not None and here.act.values.get("drips") is True
        return not seen and not any(d.step == step.id for d in state.ledgers[step.compartment].drips)
    return step.purpose in LAST


def _cut_short(step: Step, here: StepState) -> str:
    """What a timed step lacks of its time; empty where it had it."""
    if here.timer_started is None or here.timer_stopped is None:
        return say("not timed, {timer_s:g} min asked", timer_s=step.timer_s / 60)
    took = (here.timer_stopped - here.timer_started).total_seconds()
    return (
        ""
        if took >= ENOUGH * step.timer_s
        else say("cut short after {took:.1f} of {timer_s:g} min", took=took / 60, timer_s=step.timer_s / 60)
    )


def gap_report(procedure: Procedure, state: State, meter_known: bool, air_known: bool) -> GapReport:
    """List what a service leaves open.

    Parameters
    ----------
    procedure, state : the service as it stands
    meter_known, air_known : whether the meter was read and the air's temperature noted

    Returns
    -------
    GapReport; amounts in mL

    References
    ----------
    A gap is told, not hidden: common practice of the paper record. Within 3 % or 30 mL an amount counts as met.
    """
    lines: list[GapLine] = []
    for job in procedure.jobs:
        lines += _amounts(job, state.ledgers[job.key])
    for conflict in state.conflicts:
        lines.append(GapLine("conflict", "", conflict.error.message, say("See whether what was meant has been done since.")))
    for step_id, text in state.gaps:
        lines.append(
            GapLine(
                "reason", procedure.by_id[step_id].compartment, text, say("Make it good at the next visit, or leave it with its reason.")
            )
        )
    lines += [
        GapLine("missing", step.compartment, f"{step.title}: {words}.", say("A shorter time does less than the guide reckons with."))
        for step in procedure.steps
        if _takes_its_time(step, state) and state.steps[step.id].status == "done" and (words := _cut_short(step, state.steps[step.id]))
    ]
    explained = {step_id for step_id, _ in state.gaps}
    applied = done = 0
    for step in procedure.steps:
        status = state.steps[step.id].status
        if status == "off":
            continue
        applied += 1
        done += status == "done"
        if status == "skipped" and step.id not in explained:
            lines.append(GapLine("skipped", step.compartment, step.title, ""))
    if not meter_known:
        lines.append(
            GapLine("missing", "", say("The meter was not read."), say("Read it now: the next due by distance or hours hangs on it."))
        )
    if not air_known:
        lines.append(
            GapLine(
                "missing", "", say("The air's temperature was not noted."), say("Without it a cold drain cannot be told from a warm one.")
            )
        )
    order = list(GAP_KINDS)
    lines.sort(key=lambda g: order.index(g.kind))
    whole = say(
        "{done} of {applied} steps done ({percent})", done=done, applied=applied, percent=percent(done / applied if applied else 1.0)
    )
    counts = [f"{sum(g.kind == k for g in lines)} {words}" for k, words in GAP_KINDS.items() if any(g.kind == k for g in lines)]
    return GapReport(tuple(lines), done, applied, f"{whole}; {', '.join(counts) if counts else 'no gap'}.")
