"""What one act does to the state of a service.

An act that does not fit raises the error that says why, and has then changed nothing that counts.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.guide.kind_blocks import CANNOT_TELL
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Procedure, Step, head_words, torques_found
from barodex.core.guide.variant_blocks import UNREADABLE
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import figure
from barodex.core.run.checking import check_resets, note_checks, reset_by_tool
from barodex.core.run.exchanging import check_target
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.levelling import _check_window, apply_level, apply_levelled
from barodex.core.run.measuring import apply_measure
from barodex.core.run.pouring import apply_pour_done
from barodex.core.run.seen import assess_finding, finding_from
from barodex.core.run.state import Act, State
from barodex.core.words import say

WRONG_TORQUE = 2.0  # times the sheet's: a slip of the hand, or a stripped thread


def _fitted_torque(state: State, step: Step, job: Job, heads: tuple[str, ...], values: Mapping[str, Any]) -> float | None:
    """The torque of the plug that is really fitted; where that cannot be told, the lowest of those possible, with its reason."""
    chosen = values.get("head")
    if chosen is None:
        raise GateClosed(say("Which plug is fitted? Its torque goes by its head."), field="head", value=None)
    plug = next(p for p in (job.open_sheet or job.sheet).plugs if {head_words(h) for h in p.heads} & set(heads))
    if chosen == CANNOT_TELL:
        lowest = torques_found(plug)[0]
        text = say(
            "{job}: the plug could not be told; closed at {lowest} N·m, the lowest of its variants.", job=job.name, lowest=figure(lowest, 1)
        )
        note_gap(state, step, refuse_unreasoned(values, text, "head", chosen))
        return lowest
    return next(h.torque_nm for h in plug.heads if head_words(h) == chosen)


def _apply_variant(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Which variant it is: read on the casing, or told by what drained and confirmed by hand."""
    ledger, said = state.ledgers[job.key], str(values.get("variant") or "")
    if step.purpose == Purpose.VARIANT:
        if said == UNREADABLE:
            note_gap(state, step, refuse_unreasoned(values, say("{job}: its casing code cannot be read.", job=job.name), "variant", said))
        ledger.variant_read = said != UNREADABLE
        return
    named = ledger.variant.named if ledger.variant else ""
    if said != named:
        speaks = say("speaks for {named}", named=named) if named else say("does not say which it is")
        text = say(
            "{job}: taken as {said}, while the drained amount {speaks}. Where is it known from?", job=job.name, said=said, speaks=speaks
        )
        note_gap(state, step, refuse_unreasoned(values, text, "variant", said))


def _apply_torque(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    wanted = next((f.default for f in step.fields if f.name == "torque_nm"), None)
    given = values.get("torque_nm")
    heads = next((f.choices for f in step.fields if f.name == "head"), ())
    if heads:
        wanted = _fitted_torque(state, step, job, heads, values)
        given = wanted if given is None else given
    if values.get("started_by_hand") is not True:
        raise GateClosed(
            say("Threads started by hand? Tick it when it is so."), field="started_by_hand", value=values.get("started_by_hand")
        )
    if any(f.name == "seal_renewed" for f in step.fields) and values.get("seal_renewed") is not True:
        note_gap(
            state,
            step,
            refuse_unreasoned(values, say("{job}, {plug}: the seal was not renewed.", job=job.name, plug=step.plug), "seal_renewed", False),
        )
    if given is None:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values, say("{job}, {plug}: closed without a torque figure.", job=job.name, plug=step.plug), "torque_nm", None
            ),
        )
        return
    in_range("torque_nm", float(given), 0.2, 1000, "N·m")
    if isinstance(wanted, (int, float)) and float(given) > WRONG_TORQUE * wanted:
        raise OutOfRange(
            say(
                "{given} N·m is more than twice the {wanted} N·m of the sheet: that strips a thread or cracks a case. If "
                "it was really drawn so, undo the plug, look at the thread, and write down what the sheet should say.",
                given=figure(float(given), 1),
                wanted=figure(wanted, 1),
            ),
            field="torque_nm",
            value=given,
            allowed=say("up to {figure} N·m", figure=figure(WRONG_TORQUE * wanted, 1)),
        )
    if isinstance(wanted, (int, float)) and abs(float(given) - wanted) > 0.15 * wanted:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                say(
                    "{job}, {plug}: {given} N·m used, the sheet says {wanted} N·m.",
                    job=job.name,
                    plug=step.plug,
                    given=figure(float(given), 1),
                    wanted=figure(wanted, 1),
                ),
                "torque_nm",
                given,
            ),
        )
    elif wanted is None:
        source = str(values.get("reason") or "").strip() or state.torque_source
        text = say(
            "{job}, {plug}: the sheet has no torque; {given} N·m was used. Where is the figure from?",
            job=job.name,
            plug=step.plug,
            given=figure(float(given), 1),
        )
        note_gap(state, step, refuse_unreasoned({**values, "reason": source}, text, "torque_nm", given))
        state.torque_source = source
        if not heads:
            state.ledgers[job.key].torques[step.plug] = (float(given), source[:120])


def _check_fields(step: Step, values: Mapping[str, Any], proven: bool = False) -> None:
    """Refuse what is not said; ``proven``: a tool's success shows what its list asks."""
    for f in step.fields:
        value = values.get(f.name)
        if f.required and f.kind not in ("bool", "finding") and value in (None, ""):
            raise Inconsistent(say("{f_label}: say what it is.", f_label=f.label), field=f.name, value=value)
        if f.kind == "choice" and value is not None and value not in f.choices:
            raise Inconsistent(
                say("“{value}” is not one of: {choices}.", value=value, choices=", ".join(f.choices)),
                field=f.name,
                value=value,
                allowed=", ".join(f.choices),
            )
    ticked, denied = values.get("ticked"), values.get("not_so")
    missing = [c for c in step.checklist if not isinstance(ticked, (list, tuple)) or c not in ticked]
    if step.gate and missing and not proven:
        said = isinstance(denied, (list, tuple)) and missing[0] in denied
        words = (
            say("Not so yet: {missing}. It stops here until it is.", missing=missing[0])
            if said
            else say("Not ticked yet: {missing}.", missing=missing[0])
        )
        raise GateClosed(words, field="ticked", value=missing[0])


def _note_not_so(state: State, step: Step, values: Mapping[str, Any]) -> None:
    """What of a list is said not to be so, where nothing waits for it: a gap, with its reason."""
    denied = values.get("not_so")
    missing = [c for c in step.checklist if isinstance(denied, (list, tuple)) and c in denied]
    if missing and not step.checks:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values, say("{title}: not so: {missing}.", title=step.title, missing="; ".join(missing)), "ticked", missing[0]
            ),
        )


def apply_done(state: State, procedure: Procedure, step: Step, act: Act) -> None:
    """Do to the state what noting a step means.

    Parameters
    ----------
    state : changed in place
    procedure, step : the guide and its step
    act : what was noted, in canonical units

    Raises
    ------
    CoreError : what is noted does not fit; the message says why

    References
    ----------
    The gates of :mod:`barodex.core.guide.procedure`.
    """
    values = act.values
    here = state.steps[step.id]
    _check_fields(step, values, proven=reset_by_tool(here, step))
    _note_not_so(state, step, values)
    check_resets(here, step, values)
    job = procedure.job(step.compartment) if step.compartment else None
    if job:
        note_checks(state.ledgers[job.key], step, values)
    if job and step.window and values.get("temperature_c") is not None:
        _check_window(step, job, float(values["temperature_c"]), procedure.ambient_c)
    if job and step.kind == "measure":
        apply_measure(state, step, job, values)
    elif job and any(f.name == "variant" for f in step.fields):
        _apply_variant(state, step, job, values)
    elif job and step.kind == "torque":
        _apply_torque(state, step, job, values)
    elif job and step.kind == "inspect":
        finding = finding_from(values.get("finding") or {})
        assessment = assess_finding(job, finding)
        if assessment.level is None:
            raise GateClosed(
                say("Nothing was looked at yet: tap what you see, or pass this step with a reason."), field="finding", value=""
            )
        for question in assessment.questions:
            text = f"{job.name}: {question.text} {question.ask}"
            note_gap(state, step, refuse_unreasoned(values, text, "finding", question.rule))
        state.ledgers[job.key].finding, state.ledgers[job.key].assessment = finding, assessment
    elif job and step.kind == "pour":
        apply_pour_done(state, procedure, step, job, values)
    elif job and step.kind == "level":
        apply_level(state, procedure, step, job, values)
    elif job and step.purpose == Purpose.DRAIN and not step.cycle and job.planned_cycles > 1:
        check_target(state, step, job, values)
    elif job and step.purpose == Purpose.GAUGE:
        state.ledgers[job.key].depth_mm = in_range("depth_mm", float(values["depth_mm"]), 0, 300, "mm")
    elif job and step.purpose == Purpose.EXPOSURE:
        state.ledgers[job.key].exposure = {k: values.get(k) for k in ("wrong_oil", "ran", "hours", "how") if values.get(k) is not None}
    elif job and step.purpose == Purpose.RINSE:
        state.ledgers[job.key].rinse, state.ledgers[job.key].rinses = act, step.rinses
    elif job and step.purpose == Purpose.STOOD:
        state.ledgers[job.key].ran_ml = in_range("ran_ml", float(values.get("ran_ml") or 0), 0, 20_000, "mL")
    elif step.purpose == Purpose.LEVELLED:
        apply_levelled(state, procedure, step, values)
    elif step.purpose == Purpose.KIT:
        count = values.get("tools")
        state.tools_out = None if count is None else in_range("tools", float(count), 0, 200)
    elif step.purpose == Purpose.ACCESS:
        state.refit = tuple(line.strip()[:80] for line in str(values.get("came_off") or "").splitlines() if line.strip())
    elif step.purpose == Purpose.WIPE:
        _apply_wipe(state, values)


def _apply_wipe(state: State, values: Mapping[str, Any]) -> None:
    """Everything back on, and no tool left in the engine bay."""
    ticked = values.get("ticked")
    missing = [item for item in state.refit if not isinstance(ticked, (list, tuple)) or item not in ticked]
    if missing:
        raise GateClosed(say("Not back on yet: {missing}.", missing=missing[0]), field="ticked", value=missing[0])
    if state.tools_out is None:
        return
    back = values.get("tools_back")
    if back is None:
        raise GateClosed(
            say("{tools_out:g} tools were laid out: count them back.", tools_out=state.tools_out), field="tools_back", value=None
        )
    if float(back) != state.tools_out:
        raise GateClosed(
            say(
                "{tools_out:g} tools were laid out, {back:g} are back: find the rest before the engine runs.",
                tools_out=state.tools_out,
                back=float(back),
            ),
            field="tools_back",
            value=back,
        )
