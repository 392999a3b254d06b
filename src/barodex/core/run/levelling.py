"""Levels and the readings before them: temperature, dips, how level the vehicle stands."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from barodex.core.guide.level import check_reading, cooling_minutes, level_shift_ml, lip_tilt_error_ml, tilt_deg
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Procedure, Step
from barodex.core.ledger.balance import STATED_C
from barodex.core.ledger.drained import level_sigma_ml
from barodex.core.ledger.draining import drop_rate
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange, in_range
from barodex.core.quantity.expansion import volume_at
from barodex.core.quantity.working import ml
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.ledgering import balance_of
from barodex.core.run.pouring import note_top_up
from barodex.core.run.state import Act, Ledger, State
from barodex.core.sheet.figures import FINDS_LEVEL
from barodex.core.words import say

ASKED_FROM = 0.05  # of a verified capacity: a level that is further off is asked about (common practice)
MOST_TILT_DEG = 1.0  # a level is read on a level vehicle (common practice)


def apply_level(state: State, procedure: Procedure, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Take a level as it was read: engine, window and stream as they must be, or refused with the reason.

    Parameters
    ----------
    state, procedure, step, job : where it happened; the ledger is changed in place
    values : what the act carries

    Raises
    ------
    GateClosed, NeedsReason, OutOfRange : it is no level, or needs the reason

    References
    ----------
    Window and engine are the sheet's; the rest is common practice.
    """
    level = job.sheet.level
    if job.sheet.fill_method == "overflow":
        if level.engine and values.get("engine") != level.engine:
            why = (
                say("With the engine off the pump holds no oil up: what runs out then is not the level.")
                if level.engine == "running"
                else say("This one is read with the engine off: running, it throws the oil about.")
            )
            raise GateClosed(
                say("{why} The sheet says: engine {engine}.", why=why, engine=level.engine), field="engine", value=values.get("engine")
            )
        if values.get("outcome") == "nothing comes":
            raise GateClosed(
                say("Nothing comes: too little is inside. Add oil slowly through the filler, then look again."),
                field="outcome",
                value="nothing comes",
            )
        if values.get("outcome") in ("still a stream", "a trickle"):
            raise GateClosed(
                say("Wait until the stream breaks into drips, then close at once."), field="outcome", value=values.get("outcome")
            )
        if level.window is None:
            text = say(
                "{job}: the sheet states no window; the level was set at {values:g} °C. Where is that from?",
                job=job.name,
                values=float(values["temperature_c"]),
            )
            note_gap(state, step, refuse_unreasoned(values, text, "temperature_c", values["temperature_c"]))
    ledger = state.ledgers[job.key]
    run_out = in_range("run_out_ml", float(values.get("run_out_ml") or 0), 0, 20_000, "mL")
    if (
        run_out > ledger.poured_ml - (ledger.run_out_ml if step.purpose == Purpose.THERMOSTAT else 0.0) and job.kind_of_work != "top-up"
    ):  # what is over the level runs out of a top-up too
        raise OutOfRange(say("More ran out than was poured?"), field="run_out_ml", value=run_out)
    again = step.purpose == Purpose.THERMOSTAT  # what ran out before it has run out all the same
    ledger.run_out_ml, ledger.levelled = run_out + (ledger.run_out_ml if again else 0.0), True
    ledger.run_out_c = None if values.get("temperature_c") is None else float(values["temperature_c"])
    note_top_up(ledger, job)
    asked = {s.id for s in procedure.steps if s.kind == "pour" and s.compartment == job.key} & {step_id for step_id, _ in state.gaps}
    later = not again and procedure.step(Purpose.THERMOSTAT, job.key) is not None
    if not asked and not later:
        _check_amount(state, step, job, ledger, values)


def _check_amount(state: State, step: Step, job: Job, ledger: Ledger, values: Mapping[str, Any]) -> None:
    """Ask once where a level that was found by its own method contradicts a verified capacity; the answered figure is the truth of that
    fill."""
    capacity, net = job.sheet.capacity_ml, balance_of(job, ledger).net_in
    found_itself = job.sheet.fill_method in FINDS_LEVEL and job.kind_of_work not in ("top-up", "flush") and job.planned_cycles == 1
    measured = job.sheet.fill_method != "overflow" or ledger.run_out_ml > 0 or not job.sheet.surplus_ml
    if (
        not found_itself
        or not measured
        or job.sheet.keeps_some
        or capacity is None
        or net is None
        or job.sheet.trust.get("capacity") != "verified"
    ):
        return
    put = volume_at(net.volume_ml, 15.0, STATED_C, job.density15)
    off = put - capacity
    if job.flows or abs(off) <= max(2 * math.hypot(net.sigma_ml, level_sigma_ml(capacity)), ASKED_FROM * capacity):
        return
    word = "more" if off > 0 else "less"
    text = say(
        "{job}: {put} went in to the level, {off} {word} than the verified {capacity}.",
        job=job.name,
        put=ml(put),
        off=ml(abs(off)),
        word=word,
        capacity=ml(capacity),
    )
    ask = say(" Had it settled, was the hose out of the hole, the vehicle level, the oil cold, is it this variant?")
    note_gap(state, step, refuse_unreasoned(values, text if str(values.get("reason") or "").strip() else text + ask, "run_out_ml", put))


def _check_window(step: Step, job: Job, temperature_c: float, ambient_c: float | None) -> None:
    """Refuse a temperature outside the step's window, and say what it would do to the level."""
    window = step.window
    if window is None or window.holds(in_range("temperature_c", temperature_c, -40, 200, "°C")):
        return
    warm = temperature_c > window.high_c
    if step.kind != "level":
        text = say(
            "{temperature_c:g} °C is too warm to begin: at most {high_c:g} °C. Let it stand, in the shade",
            temperature_c=temperature_c,
            high_c=window.high_c,
        )
        wait = None if ambient_c is None else cooling_minutes(temperature_c, window.high_c, ambient_c)
        if wait is not None:
            text += say(": about {minutes} minutes at {ambient_c:g} °C", minutes=max(5, round(wait / 5) * 5), ambient_c=ambient_c)
        elif ambient_c is not None:
            text += say("; at {ambient_c:g} °C it will not get there, wait for a cooler hour", ambient_c=ambient_c)
        text += "."
    else:
        inside = job.sheet.total_ml or job.sheet.capacity_ml or 1000.0
        shift = level_shift_ml(inside, temperature_c, window.high_c if warm else window.low_c, job.density15)
        what = say("about {shift} too {words} would stay inside", shift=ml(abs(shift)), words="little" if shift < 0 else "much")
        then = say("let it cool back into the window") if warm else say("wait until it is warmer")
        text = say(
            "{temperature_c:g} °C is outside {low_c:g} to {high_c:g} °C: {what}. Close nothing yet; {then}.",
            temperature_c=temperature_c,
            low_c=window.low_c,
            high_c=window.high_c,
            what=what,
            then=then,
        )
    raise GateClosed(text, field="temperature_c", value=temperature_c)


def note_reading(state: State, procedure: Procedure, step: Step, act: Act) -> None:
    """Keep a reading of a compartment: a temperature, a dip of the stick, drops counted; or refuse one that cannot be.

    Parameters
    ----------
    state : changed in place
    procedure, step : the guide and a step that has such a reading
    act : with ``temperature_c`` in °C; or ``dip_mm`` and, once, ``mark_mm`` in mm; or ``drops`` and ``seconds``

    Raises
    ------
    Inconsistent : a step without a temperature, or a jump that no oil makes
    OutOfRange : a dead sensor

    References
    ----------
    As :func:`barodex.core.guide.level.check_reading`.
    """
    ledger = state.ledgers.get(step.compartment)
    if ledger is None:
        raise Inconsistent(say("This step has no reading."), field="step", value=step.id)
    if act.values.get("drops") is not None:
        if not any(f.name == "drops" for f in step.fields):
            raise Inconsistent(say("Drops are counted while it drains."), field="step", value=step.id)
        drop_rate(float(act.values["drops"]), float(act.values.get("seconds") or 0))
        ledger.drips.append(act)
    elif act.values.get("dip_mm") is not None:
        _note_dip(ledger, procedure.job(step.compartment), step, act)
    else:
        _note_temperature(ledger, step, act)


def _note_dip(ledger: Ledger, job: Job, step: Step, act: Act) -> None:
    """A dip of the stick after a pour."""
    if job.sheet.fill_method != "dipstick" or step.kind not in ("pour", "level"):
        raise Inconsistent(say("This compartment is not dipped."), field="dip_mm", value=step.id)
    ledger_mark = act.values.get("mark_mm")
    if ledger_mark is not None:
        ledger.mark_mm = in_range("mark_mm", float(ledger_mark), 1, 500, "mm")
    reading = in_range("dip_mm", float(act.values["dip_mm"]), 0, 500, "mm")
    if ledger.mark_mm is None:
        raise Inconsistent(say("Say where the upper mark is on the stick."), field="mark_mm", value=None)
    ledger.dips.append((ledger.poured_ml, reading))


def _note_temperature(ledger: Ledger, step: Step, act: Act) -> None:
    value = act.values.get("temperature_c")
    if not any(f.kind == "temperature" for f in step.fields):
        raise Inconsistent(say("This step has no temperature."), field="step", value=step.id)
    if value is None:
        raise OutOfRange(say("Say what the thermometer shows."), field="temperature_c", value=None)
    before = None
    if ledger.readings:
        last = ledger.readings[-1]
        before = (last.at.timestamp(), float(last.values["temperature_c"]))
    check_reading(before, float(value), act.at.timestamp())
    ledger.readings.append(act)


def apply_levelled(state: State, procedure: Procedure, step: Step, values: Mapping[str, Any]) -> None:
    """Note how level it stands, where lift and wheelbase are measured; what a slope does to a level at a plug.

    Parameters
    ----------
    state, procedure, step : where it happened
    values : what the act carries

    Raises
    ------
    OutOfRange : one of the two measures without the other
    NeedsReason : it slopes more than a level bears

    References
    ----------
    As :func:`barodex.core.guide.level.tilt_error_ml`.
    """
    lift, base = values.get("lift_mm"), values.get("wheelbase_mm")
    if lift is None and base is None:
        state.tilt_deg = None
        return
    if lift is None or base is None:
        name = "lift_mm" if lift is None else "wheelbase_mm"
        raise Inconsistent(say("A tilt takes both: how much higher one end stands, and the wheelbase."), field=name, value="")
    tilt = tilt_deg(float(lift), float(base))
    if abs(tilt) > MOST_TILT_DEG:
        errors = [
            say("{j} about {capacity_ml}", j=j.name, capacity_ml=ml(abs(lip_tilt_error_ml(j.sheet.capacity_ml, tilt))))
            for j in procedure.jobs
            if j.sheet.capacity_ml and j.sheet.plug("fill", "level", "combination")
        ]
        wrong = say(" A level at a plug is wrong by {errors}.", errors=", ".join(errors)) if errors else ""
        note_gap(
            state,
            step,
            refuse_unreasoned(values, say("It stands {tilt:.1f}° out of level.{wrong}", tilt=abs(tilt), wrong=wrong), "lift_mm", lift),
        )
    state.tilt_deg = tilt
