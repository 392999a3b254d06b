"""What one act does to the state of a service.

An act that does not fit raises the error that says why, and has then changed nothing that counts.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.findings import debris
from barodex.core.guide.kind_blocks import CANNOT_TELL
from barodex.core.guide.level import check_reading, cooling_minutes, level_shift_ml, lip_tilt_error_ml, tilt_deg
from barodex.core.guide.steps import POUR_TOLERANCE, Job, Procedure, Step, head_words, torques_found
from barodex.core.guide.variant_blocks import UNREADABLE
from barodex.core.guide.work_blocks import MISSING
from barodex.core.kinds.kind import clutches_inside
from barodex.core.ledger.drained import poured_amount, topup_loss
from barodex.core.ledger.draining import balance
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import figure, grouped
from barodex.core.run.exchanging import check_target
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.measuring import apply_measure, target_of
from barodex.core.run.state import Cycle, Event, Ledger, State
from barodex.core.sheet.sheet import candidates_ml

MOST_TILT_DEG = 1.0  # a level is read on a level vehicle (common practice)
WRONG_TORQUE = 2.0  # times the sheet's: a slip of the hand, or a stripped thread


def assess_finding(job: Job, finding: debris.Finding) -> debris.Assessment:
    """Judge a finding against this compartment's own past.

    Parameters
    ----------
    job : the compartment, its sheet and past (distance km)
    finding : what was seen (sizes mm)

    Returns
    -------
    Assessment

    Raises
    ------
    Inconsistent, OutOfRange : as :func:`barodex.core.findings.debris.assess`

    References
    ----------
    As :func:`barodex.core.findings.debris.assess`.
    """
    asked = job.sheet.requirement
    return debris.assess(
        finding,
        debris.DebrisContext(
            job.sheet.kind,
            job.distance_km,
            job.first_change,
            asked.yellow_metal,
            job.sheet.magnet,
            job.previous,
            job.previous_level,
            job.older_levels,
            clutches_inside(job.sheet.kind, asked.wet_clutch, asked.limited_slip),
        ),
    )


def finding_from(values: Mapping[str, Any]) -> debris.Finding:
    """Read a finding from plain values, as they are stored.

    Parameters
    ----------
    values : magnet, colour, clarity, smell, wet as words or None; particles a list of form, metal, count, size_mm (mm) and magnetic, or
        None; d1500, delta_e, covered as measured, or None

    Returns
    -------
    Finding

    Raises
    ------
    Inconsistent : something that is not a finding

    References
    ----------
    The lists of :mod:`barodex.core.findings.debris`.
    """
    try:
        raw = values.get("particles")
        particles = (
            None
            if raw is None
            else tuple(
                debris.Particle(
                    str(p["form"]), str(p.get("metal", "steel")), int(p.get("count", 1)), float(p.get("size_mm", 0.1)), p.get("magnetic")
                )
                for p in raw
            )
        )
        d1500, delta_e, covered = (None if values.get(k) is None else float(values[k]) for k in ("d1500", "delta_e", "covered"))
        magnet, colour, clarity, smell, wet = (values.get(k) or None for k in ("magnet", "colour", "clarity", "smell", "wet"))
        return debris.Finding(magnet, particles, colour, clarity, smell, d1500, delta_e, covered, wet)
    except (AttributeError, KeyError, TypeError, ValueError) as error:
        raise Inconsistent(
            "That is not a finding: magnet, particles, colour, clarity, smell.", field="finding", value=str(values)[:80]
        ) from error


def _fitted_torque(state: State, step: Step, job: Job, heads: tuple[str, ...], values: Mapping[str, Any]) -> float | None:
    """The torque of the plug that is really fitted; where that cannot be told, the lowest of those possible, with its reason."""
    chosen = values.get("head")
    if chosen is None:
        raise GateClosed("Which plug is fitted? Its torque goes by its head.", field="head", value=None)
    plug = next(p for p in (job.open_sheet or job.sheet).plugs if {head_words(h) for h in p.heads} & set(heads))
    if chosen == CANNOT_TELL:
        lowest = torques_found(plug)[0]
        text = f"{job.name}: the plug could not be told; closed at {figure(lowest, 1)} N·m, the lowest of its variants."
        note_gap(state, step, refuse_unreasoned(values, text, "head", chosen))
        return lowest
    return next(h.torque_nm for h in plug.heads if head_words(h) == chosen)


def _apply_variant(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Which variant it is: read on the casing, or told by what drained and confirmed by hand."""
    ledger, said = state.ledgers[job.key], str(values.get("variant") or "")
    if step.id.startswith("variant."):
        if said == UNREADABLE:
            note_gap(state, step, refuse_unreasoned(values, f"{job.name}: its casing code cannot be read.", "variant", said))
        ledger.variant_read = said != UNREADABLE
        return
    named = ledger.variant.named if ledger.variant else ""
    if said != named:
        speaks = f"speaks for {named}" if named else "does not say which it is"
        text = f"{job.name}: taken as {said}, while the drained amount {speaks}. Where is it known from?"
        note_gap(state, step, refuse_unreasoned(values, text, "variant", said))


def _apply_torque(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    wanted = next((f.default for f in step.fields if f.name == "torque_nm"), None)
    given = values.get("torque_nm")
    heads = next((f.choices for f in step.fields if f.name == "head"), ())
    if heads:
        wanted = _fitted_torque(state, step, job, heads, values)
        given = wanted if given is None else given
    if values.get("started_by_hand") is not True:
        raise GateClosed("Threads started by hand? Tick it when it is so.", field="started_by_hand", value=values.get("started_by_hand"))
    if any(f.name == "seal_renewed" for f in step.fields) and values.get("seal_renewed") is not True:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: the seal was not renewed.", "seal_renewed", False))
    if given is None:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: closed without a torque figure.", "torque_nm", None))
        return
    in_range("torque_nm", float(given), 0.2, 1000, "N·m")
    if isinstance(wanted, (int, float)) and float(given) > WRONG_TORQUE * wanted:
        raise OutOfRange(
            f"{figure(float(given), 1)} N·m is more than twice the {figure(wanted, 1)} N·m of the sheet: that strips a thread or cracks a case. "
            "If it was really drawn so, undo the plug, look at the thread, and write down what the sheet should say.",
            field="torque_nm",
            value=given,
            allowed=f"up to {figure(WRONG_TORQUE * wanted, 1)} N·m",
        )
    if isinstance(wanted, (int, float)) and abs(float(given) - wanted) > 0.15 * wanted:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values, f"{job.name}: {figure(float(given), 1)} N·m used, the sheet says {figure(wanted, 1)} N·m.", "torque_nm", given
            ),
        )
    elif wanted is None:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                f"{job.name}: the sheet has no torque; {figure(float(given), 1)} N·m was used. Where is the figure from?",
                "torque_nm",
                given,
            ),
        )


def _apply_pour_done(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    ledger = state.ledgers[job.key]
    if job.kind_of_work == "top-up":
        _apply_top_up(state, ledger, job, values)
        return
    if not ledger.pours:
        raise GateClosed("Nothing has been poured yet.", field="volume_ml", value=0)
    _check_ceiling(state, step, job, values)
    if ledger.target_ml is None:
        return
    difference = ledger.poured_ml - ledger.target_ml
    open_sizes = candidates_ml(job.sheet)
    slack = POUR_TOLERANCE[job.sheet.fill_method]
    if open_sizes and open_sizes[0] * (1 - slack) <= ledger.poured_ml <= open_sizes[-1] * (1 + slack):
        difference = 0.0  # the level decides while nobody knows which variant it is
    if abs(difference) > slack * ledger.target_ml:
        word = "more" if difference > 0 else "less"
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                f"{job.name}: {grouped(ledger.poured_ml)} mL poured, {grouped(abs(difference))} mL {word} than the {grouped(ledger.target_ml)} mL wanted.",
                "volume_ml",
                ledger.poured_ml,
            ),
        )
    if step.cycle:
        ledger.cycles.append(Cycle(ledger.cycle_out_ml or 0.0, ledger.poured_ml))
        ledger.past_pours += ledger.pours
        ledger.pours, ledger.poured_ml = [], 0.0
        ledger.target_ml, ledger.target_basis = target_of(job)


def _apply_top_up(state: State, ledger: Ledger, job: Job, values: Mapping[str, Any]) -> None:
    """What it took to stand where it should is what was lost since."""
    if not ledger.pours and values.get("full") is not True:
        raise GateClosed("Nothing was poured: tick that it was full, or count what went in.", field="volume_ml", value=0)
    if ledger.pours and values.get("full") is True:
        raise Inconsistent("It was full, and oil went in: one of the two.", field="full", value=True)
    seen = state.steps.get(f"stood.{job.key}")
    stood = str(seen.event.values.get("stood") or "") if seen and seen.event else ""
    if not ledger.pours and stood in MISSING:
        raise Inconsistent(f"It stood “{stood}” and nothing went in: then it was not full.", field="full", value=True)
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
    if capacity and job.kind_of_work == "top-up":
        added = poured_amount(max(0.0, ledger.poured_ml - ledger.run_out_ml), job.ambient_c)
        ledger.loss = topup_loss(added, capacity, job.distance_km, job.density15, job.share)


def _check_ceiling(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """After a suction what stayed inside counts too: above the maximum needs a reason."""
    ledger, capacity = state.ledgers[job.key], job.sheet.capacity_ml
    if capacity is None or ledger.recovery is None or ledger.drained is None or job.sheet.fill_method != "measured":
        return
    inside = balance(ledger.poured_ml, ledger.drained.volume_ml, capacity)
    if inside.over:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: {inside.text}", "volume_ml", ledger.poured_ml))


def _apply_level(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """A level as it was read: engine, window and stream as they must be, or refused with the reason."""
    level = job.sheet.level
    if job.sheet.fill_method == "overflow":
        if level.engine and values.get("engine") != level.engine:
            why = (
                "With the engine off the pump holds no oil up: what runs out then is not the level."
                if level.engine == "running"
                else "This one is read with the engine off: running, it throws the oil about."
            )
            raise GateClosed(f"{why} The sheet says: engine {level.engine}.", field="engine", value=values.get("engine"))
        if values.get("outcome") == "nothing comes":
            raise GateClosed(
                "Nothing comes: too little is inside. Add oil slowly through the filler, then look again.",
                field="outcome",
                value="nothing comes",
            )
        if values.get("outcome") in ("still a stream", "a trickle"):
            raise GateClosed("Wait until the stream breaks into drips, then close at once.", field="outcome", value=values.get("outcome"))
        if level.window is None:
            text = (
                f"{job.name}: the sheet states no window; the level was set at {float(values['temperature_c']):g} °C. Where is that from?"
            )
            note_gap(state, step, refuse_unreasoned(values, text, "temperature_c", values["temperature_c"]))
    ledger = state.ledgers[job.key]
    run_out = in_range("run_out_ml", float(values.get("run_out_ml") or 0), 0, 20_000, "mL")
    if run_out > ledger.poured_ml and job.kind_of_work != "top-up":  # what is over the level runs out of a top-up too
        raise OutOfRange("More ran out than was poured?", field="run_out_ml", value=run_out)
    ledger.run_out_ml = run_out
    note_top_up(ledger, job)


def _check_window(step: Step, job: Job, temperature_c: float, ambient_c: float | None) -> None:
    """Refuse a temperature outside the step's window, and say what it would do to the level."""
    window = step.window
    if window is None or window.holds(in_range("temperature_c", temperature_c, -40, 200, "°C")):
        return
    warm = temperature_c > window.high_c
    if step.kind != "level":
        text = f"{temperature_c:g} °C is too warm to begin: at most {window.high_c:g} °C. Let it stand, in the shade"
        wait = None if ambient_c is None else cooling_minutes(temperature_c, window.high_c, ambient_c)
        if wait is not None:
            text += f": about {max(5, round(wait / 5) * 5)} minutes at {ambient_c:g} °C"
        elif ambient_c is not None:
            text += f"; at {ambient_c:g} °C it will not get there, wait for a cooler hour"
        text += "."
    else:
        inside = job.sheet.total_ml or job.sheet.capacity_ml or 1000.0
        shift = level_shift_ml(inside, temperature_c, window.high_c if warm else window.low_c, job.density15)
        what = f"about {grouped(abs(shift))} mL too {'little' if shift < 0 else 'much'} would stay inside"
        then = "let it cool back into the window" if warm else "wait until it is warmer"
        text = f"{temperature_c:g} °C is outside {window.low_c:g} to {window.high_c:g} °C: {what}. Close nothing yet; {then}."
    raise GateClosed(text, field="temperature_c", value=temperature_c)


def note_reading(state: State, procedure: Procedure, step: Step, event: Event) -> None:
    """Keep a reading of a compartment: a temperature, a dip of the stick, drops counted; or refuse one that cannot be.

    Parameters
    ----------
    state : changed in place
    procedure, step : the guide and a step that has such a reading
    event : with ``temperature_c`` in °C; or ``dip_mm`` and, once, ``mark_mm`` in mm; or ``drops`` and ``seconds``

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
        raise Inconsistent("This step has no reading.", field="step", value=step.id)
    if event.values.get("drops") is not None:
        if not step.id.startswith("wait."):
            raise Inconsistent("Drops are counted while it drains.", field="step", value=step.id)
        debris.drop_rate(float(event.values["drops"]), float(event.values.get("seconds") or 0))
        ledger.drips.append(event)
    elif event.values.get("dip_mm") is not None:
        _note_dip(ledger, procedure.job(step.compartment), step, event)
    else:
        _note_temperature(ledger, step, event)


def _note_dip(ledger: Ledger, job: Job, step: Step, event: Event) -> None:
    """A dip of the stick after a pour."""
    if job.sheet.fill_method != "dipstick" or step.kind not in ("pour", "level"):
        raise Inconsistent("This compartment is not dipped.", field="dip_mm", value=step.id)
    ledger_mark = event.values.get("mark_mm")
    if ledger_mark is not None:
        ledger.mark_mm = in_range("mark_mm", float(ledger_mark), 1, 500, "mm")
    reading = in_range("dip_mm", float(event.values["dip_mm"]), 0, 500, "mm")
    if ledger.mark_mm is None:
        raise Inconsistent("Say where the upper mark is on the stick.", field="mark_mm", value=None)
    ledger.dips.append((ledger.poured_ml, reading))


def _note_temperature(ledger: Ledger, step: Step, event: Event) -> None:
    value = event.values.get("temperature_c")
    if not any(f.kind == "temperature" for f in step.fields):
        raise Inconsistent("This step has no temperature.", field="step", value=step.id)
    if value is None:
        raise OutOfRange("Say what the thermometer shows.", field="temperature_c", value=None)
    before = None
    if ledger.readings:
        last = ledger.readings[-1]
        before = (last.at.timestamp(), float(last.values["temperature_c"]))
    check_reading(before, float(value), event.at.timestamp())
    ledger.readings.append(event)


def _check_fields(step: Step, values: Mapping[str, Any]) -> None:
    for f in step.fields:
        value = values.get(f.name)
        if f.required and f.kind not in ("bool", "finding") and value in (None, ""):
            raise Inconsistent(f"{f.label}: say what it is.", field=f.name, value=value)
        if f.kind == "choice" and value is not None and value not in f.choices:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(f.choices)}.", field=f.name, value=value, allowed=", ".join(f.choices))
    ticked = values.get("ticked")
    missing = [c for c in step.checklist if not isinstance(ticked, (list, tuple)) or c not in ticked]
    if step.gate and missing:
        raise GateClosed(f"Not ticked yet: {missing[0]}.", field="ticked", value=missing[0])


def apply_done(state: State, procedure: Procedure, step: Step, event: Event) -> None:
    """Do to the state what noting a step means.

    Parameters
    ----------
    state : changed in place
    procedure, step : the guide and its step
    event : what was noted, in canonical units

    Raises
    ------
    CoreError : what is noted does not fit; the message says why

    References
    ----------
    The gates of :mod:`barodex.core.guide.procedure`.
    """
    values = event.values
    _check_fields(step, values)
    job = procedure.job(step.compartment) if step.compartment else None
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
            raise GateClosed("Nothing was looked at yet: tap what you see, or pass this step with a reason.", field="finding", value="")
        for question in assessment.questions:
            text = f"{job.name}: {question.text} {question.ask}"
            note_gap(state, step, refuse_unreasoned(values, text, "finding", question.rule))
        state.ledgers[job.key].finding, state.ledgers[job.key].assessment = finding, assessment
    elif job and step.kind == "pour":
        _apply_pour_done(state, step, job, values)
    elif job and step.kind == "level":
        _apply_level(state, step, job, values)
    elif job and step.id == f"drain.{job.key}" and job.planned_cycles > 1:
        check_target(state, step, job, values)
    elif job and step.id.startswith("gauge."):
        state.ledgers[job.key].depth_mm = in_range("depth_mm", float(values["depth_mm"]), 0, 300, "mm")
    elif job and step.id.startswith("exposure."):
        state.ledgers[job.key].exposure = {k: values.get(k) for k in ("wrong_oil", "ran", "hours", "how") if values.get(k) is not None}
    elif step.id == "levelled":
        _apply_levelled(state, procedure, step, values)
    elif step.id == "kit":
        count = values.get("tools")
        state.tools_out = None if count is None else in_range("tools", float(count), 0, 200)
    elif step.id == "access":
        state.refit = tuple(line.strip()[:80] for line in str(values.get("came_off") or "").splitlines() if line.strip())
    elif step.id == "wipe":
        _apply_wipe(state, values)


def _apply_wipe(state: State, values: Mapping[str, Any]) -> None:
    """Everything back on, and no tool left in the engine bay."""
    ticked = values.get("ticked")
    missing = [item for item in state.refit if not isinstance(ticked, (list, tuple)) or item not in ticked]
    if missing:
        raise GateClosed(f"Not back on yet: {missing[0]}.", field="ticked", value=missing[0])
    if state.tools_out is None:
        return
    back = values.get("tools_back")
    if back is None:
        raise GateClosed(f"{state.tools_out:g} tools were laid out: count them back.", field="tools_back", value=None)
    if float(back) != state.tools_out:
        raise GateClosed(
            f"{state.tools_out:g} tools were laid out, {float(back):g} are back: find the rest before the engine runs.",
            field="tools_back",
            value=back,
        )


def _apply_levelled(state: State, procedure: Procedure, step: Step, values: Mapping[str, Any]) -> None:
    """How level it stands, where lift and wheelbase are measured; what a slope does to a level at a plug."""
    lift, base = values.get("lift_mm"), values.get("wheelbase_mm")
    if lift is None and base is None:
        state.tilt_deg = None
        return
    if lift is None or base is None:
        name = "lift_mm" if lift is None else "wheelbase_mm"
        raise Inconsistent("A tilt takes both: how much higher one end stands, and the wheelbase.", field=name, value="")
    tilt = tilt_deg(float(lift), float(base))
    if abs(tilt) > MOST_TILT_DEG:
        errors = [
            f"{j.name} about {grouped(abs(lip_tilt_error_ml(j.sheet.capacity_ml, tilt)))} mL"
            for j in procedure.jobs
            if j.sheet.capacity_ml and j.sheet.plug("fill", "level", "combination")
        ]
        wrong = f" A level at a plug is wrong by {', '.join(errors)}." if errors else ""
        note_gap(state, step, refuse_unreasoned(values, f"It stands {abs(tilt):.1f}° out of level.{wrong}", "lift_mm", lift))
    state.tilt_deg = tilt
