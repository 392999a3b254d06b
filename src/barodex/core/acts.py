"""What one act does to the state of a service.

An act that does not fit raises the error that says why, and has then changed nothing that counts.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from . import debris
from .drained import Amount, Loss, at_reference, drained_sigma_ml, loss_since_last_fill
from .errors import CoreError, GateClosed, Inconsistent, NeedsReason, OutOfRange, in_range
from .exchange import drain_refill
from .expansion import volume_from_mass
from .level import check_reading, level_shift_ml
from .state import Cycle, Event, Ledger, State
from .steps import POUR_TOLERANCE, Job, Procedure, Step
from .working import grouped


def measured_amount(job: Job, values: Mapping[str, Any]) -> Amount:
    """Sum what came out: pan (or weight), hose and rag, at the oil's temperature.

    Parameters
    ----------
    job : the compartment, for its density (kg/m³) and how it is drained
    values : pan_ml or mass_g, hose_ml, rag_ml (mL, g), temperature_c (°C; 20 when not taken)

    Returns
    -------
    Amount with its σ

    Raises
    ------
    Inconsistent : neither volume nor weight, or both
    OutOfRange : as the parts' ranges

    References
    ----------
    ASTM D1250 for weight to volume; σ common practice.
    """
    pan, mass = values.get("pan_ml"), values.get("mass_g")
    if (pan is None) == (mass is None):
        raise Inconsistent("Give what is in the pan, or what it weighs: one of the two.", field="pan_ml", value=pan)
    temperature_c = 20.0 if values.get("temperature_c") is None else float(values["temperature_c"])
    in_range("temperature_c", temperature_c, -20, 150, "°C")
    volume = float(pan) if pan is not None else volume_from_mass(float(mass or 0), temperature_c, job.density15)
    volume += sum(in_range(name, float(values.get(name) or 0), 0, 10_000, "mL") for name in ("hose_ml", "rag_ml"))
    if volume <= 0:
        raise OutOfRange("Nothing came out? Then the amount is not a measurement: pass this step with a reason.", field="pan_ml", value=pan)
    return Amount(volume, temperature_c, drained_sigma_ml(volume, job.sheet.drain_method))


def drained_loss(job: Job, drained: Amount) -> Loss | None:
    """Set a drained amount against the last fill, where one is on record and the capacity is known.

    Parameters
    ----------
    job : the compartment with its last fill (mL) and distance (km)
    drained : what came out

    Returns
    -------
    Loss, or None when there is nothing to compare with

    Raises
    ------
    OutOfRange : as :func:`barodex.core.drained.loss_since_last_fill`

    References
    ----------
    As :func:`barodex.core.drained.loss_since_last_fill`.
    """
    if job.last_net_in is None:
        return None
    capacity = job.sheet.capacity_ml or job.last_net_in.volume_ml
    return loss_since_last_fill(job.last_net_in, (), drained, capacity, job.distance_km, job.density15)


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
    Inconsistent, OutOfRange : as :func:`barodex.core.debris.assess`

    References
    ----------
    As :func:`barodex.core.debris.assess`.
    """
    return debris.assess(
        finding,
        debris.DebrisContext(
            job.sheet.kind,
            job.distance_km,
            job.first_change,
            job.sheet.requirement.yellow_metal,
            job.sheet.magnet,
            job.previous,
            job.previous_level,
        ),
    )


def finding_from(values: Mapping[str, Any]) -> debris.Finding:
    """Read a finding from plain values, as they are stored.

    Parameters
    ----------
    values : magnet, colour, clarity, smell as words or None; particles a list of form, metal, count, size_mm (mm), or None

    Returns
    -------
    Finding

    Raises
    ------
    Inconsistent : something that is not a finding

    References
    ----------
    The lists of :mod:`barodex.core.debris`.
    """
    try:
        raw = values.get("particles")
        particles = (
            None
            if raw is None
            else tuple(
                debris.Particle(str(p["form"]), str(p.get("metal", "steel")), int(p.get("count", 1)), float(p.get("size_mm", 0.1)))
                for p in raw
            )
        )
        return debris.Finding(values.get("magnet"), particles, values.get("colour"), values.get("clarity"), values.get("smell"))
    except (AttributeError, KeyError, TypeError, ValueError) as error:
        raise Inconsistent(
            "That is not a finding: magnet, particles, colour, clarity, smell.", field="finding", value=str(values)[:80]
        ) from error


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


def target_of(job: Job) -> tuple[float | None, str]:
    """Give the amount to pour by the sheet, and what it rests on.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    (mL or None when unknown, basis in words)

    References
    ----------
    The sheet revision.
    """
    if job.sheet.capacity_ml is None:
        return None, "unknown: what comes out is the first estimate"
    basis = f"sheet revision {job.sheet.number}" + (f", variant {job.sheet.variant}" if job.sheet.variant else "")
    if job.sheet.fill_method == "overflow" and job.sheet.surplus_ml:
        surplus = job.sheet.surplus_ml
        return job.sheet.capacity_ml + surplus - job.additive_ml, f"{basis}, with {grouped(surplus)} mL that runs out again"
    if job.doses:
        names = ", ".join(f"{d.volume_ml:g} mL {d.name}" for d in job.doses)
        return job.sheet.capacity_ml - job.additive_ml, f"{basis}, less {names}"
    return job.sheet.capacity_ml, basis


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
        raise NeedsReason(message + " Write the reason to go on.", field=field_name, value=value)
    return f"{message} Reason: {reason[:300]}"


def fresh_share(job: Job, ledger: Ledger) -> float | None:
    """Give the share of fresh oil inside, from what was really drained and poured.

    Parameters
    ----------
    job : the compartment; its sheet states the total amount, mL
    ledger : what is known of it so far

    Returns
    -------
    float, 0 to 1; None where the total is not stated, or nothing was done yet

    References
    ----------
    As :func:`barodex.core.exchange.drain_refill`.
    """
    done = [(c.drained_ml, c.poured_ml) for c in ledger.cycles]
    if ledger.drained is not None and ledger.poured_ml > 0:
        done.append((ledger.drained.volume_ml, max(0.0, ledger.poured_ml - ledger.run_out_ml)))
    if job.sheet.total_ml is None or not done:
        return None
    try:
        return drain_refill(job.sheet.total_ml, done)[-1].fresh
    except CoreError:
        return None


def _apply_cycle_measure(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """What came out in a cycle: as much goes in again."""
    amount, ledger = measured_amount(job, values), state.ledgers[job.key]
    most = job.sheet.total_ml or (job.sheet.capacity_ml or amount.volume_ml) * 1.5
    if amount.volume_ml > most:
        raise OutOfRange(
            f"{grouped(amount.volume_ml)} mL cannot come out: at most {grouped(most)} mL are inside.",
            field="pan_ml",
            value=amount.volume_ml,
            allowed=f"up to {most:.0f} mL",
        )
    number = int(step.id.rsplit(".", 1)[1])
    if number <= len(ledger.cycles):  # said again after its pour
        ledger.cycles[number - 1] = Cycle(amount.volume_ml, ledger.cycles[number - 1].poured_ml)
        return
    ledger.cycle_out_ml = amount.volume_ml
    ledger.target_ml, ledger.target_basis = amount.volume_ml, f"what came out in cycle {number}"


def _apply_measure(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    if step.phase == "exchange":
        _apply_cycle_measure(state, step, job, values)
        return
    amount = measured_amount(job, values)
    ledger = state.ledgers[job.key]
    capacity = job.sheet.capacity_ml
    if capacity is not None and amount.volume_ml - 2 * amount.sigma_ml > capacity:
        if amount.volume_ml > 5 * capacity:
            raise OutOfRange(
                f"{grouped(amount.volume_ml)} mL cannot come out of a compartment of {grouped(capacity)} mL.",
                field="pan_ml",
                value=amount.volume_ml,
                allowed=f"up to {5 * capacity:.0f} mL",
            )
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                f"{job.name}: {grouped(amount.volume_ml)} mL came out, the sheet says {grouped(capacity)} mL.",
                "pan_ml",
                amount.volume_ml,
            ),
        )
    ledger.drained = amount
    ledger.drained_15_ml = at_reference(amount, job.density15).volume_ml
    # After cycles what comes out says nothing of the last fill.
    ledger.loss = None if ledger.cycles else drained_loss(job, amount)
    if capacity is None:
        ledger.target_ml = max(0.0, amount.volume_ml - job.additive_ml)
        ledger.target_basis = "what came out (the capacity is unknown)"
    elif job.sheet.drain_method == "suction" and amount.volume_ml < 0.7 * capacity:
        ledger.target_ml = max(0.0, amount.volume_ml - job.additive_ml)
        ledger.target_basis = "no more than came out: under 70 % was recovered"


def _apply_torque(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    wanted = next((f.default for f in step.fields if f.name == "torque_nm"), None)
    given = values.get("torque_nm")
    if values.get("started_by_hand") is not True:
        raise GateClosed("Threads started by hand? Tick it when it is so.", field="started_by_hand", value=values.get("started_by_hand"))
    if any(f.name == "seal_renewed" for f in step.fields) and values.get("seal_renewed") is not True:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: the seal was not renewed.", "seal_renewed", False))
    if given is None:
        note_gap(state, step, refuse_unreasoned(values, f"{job.name}: closed without a torque figure.", "torque_nm", None))
        return
    in_range("torque_nm", float(given), 1, 1000, "N·m")
    if isinstance(wanted, (int, float)) and abs(float(given) - wanted) > 0.15 * wanted:
        note_gap(
            state,
            step,
            refuse_unreasoned(values, f"{job.name}: {float(given):g} N·m used, the sheet says {wanted:g} N·m.", "torque_nm", given),
        )
    elif wanted is None:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values, f"{job.name}: the sheet has no torque; {float(given):g} N·m was used. Where is the figure from?", "torque_nm", given
            ),
        )


def _apply_pour_done(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    ledger = state.ledgers[job.key]
    if not ledger.pours:
        raise GateClosed("Nothing has been poured yet.", field="volume_ml", value=0)
    if ledger.target_ml is None:
        return
    difference = ledger.poured_ml - ledger.target_ml
    if abs(difference) > POUR_TOLERANCE[job.sheet.fill_method] * ledger.target_ml:
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
    if step.phase == "exchange":
        ledger.cycles.append(Cycle(ledger.cycle_out_ml or 0.0, ledger.poured_ml))
        ledger.past_pours += ledger.pours
        ledger.pours, ledger.poured_ml = [], 0.0
        ledger.target_ml, ledger.target_basis = target_of(job)


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
        if values.get("outcome") == "still a stream":
            raise GateClosed("Wait until the stream breaks into drips, then close at once.", field="outcome", value="still a stream")
        if level.window is None:
            text = (
                f"{job.name}: the sheet states no window; the level was set at {float(values['temperature_c']):g} °C. Where is that from?"
            )
            note_gap(state, step, refuse_unreasoned(values, text, "temperature_c", values["temperature_c"]))
    ledger = state.ledgers[job.key]
    run_out = in_range("run_out_ml", float(values.get("run_out_ml") or 0), 0, 20_000, "mL")
    if run_out > ledger.poured_ml:
        raise OutOfRange("More ran out than was poured?", field="run_out_ml", value=run_out)
    ledger.run_out_ml = run_out


def _check_window(step: Step, job: Job, temperature_c: float) -> None:
    """Refuse a temperature outside the step's window, and say what it would do to the level."""
    window = step.window
    if window is None or window.holds(in_range("temperature_c", temperature_c, -40, 200, "°C")):
        return
    warm = temperature_c > window.high_c
    if step.kind != "level":
        text = f"{temperature_c:g} °C is too warm to begin: at most {window.high_c:g} °C. Let it stand, in the shade."
    else:
        inside = job.sheet.total_ml or job.sheet.capacity_ml or 1000.0
        shift = level_shift_ml(inside, temperature_c, window.high_c if warm else window.low_c, job.density15)
        what = f"about {grouped(abs(shift))} mL too {'little' if shift < 0 else 'much'} would stay inside"
        then = "let it cool back into the window" if warm else "wait until it is warmer"
        text = f"{temperature_c:g} °C is outside {window.low_c:g} to {window.high_c:g} °C: {what}. Close nothing yet; {then}."
    raise GateClosed(text, field="temperature_c", value=temperature_c)


def note_reading(state: State, step: Step, event: Event) -> None:
    """Keep a temperature reading of a compartment, or refuse one that no oil has.

    Parameters
    ----------
    state : changed in place
    step : a step that has a temperature to note
    event : with ``temperature_c`` in °C

    Raises
    ------
    Inconsistent : a step without a temperature, or a jump that no oil makes
    OutOfRange : a dead sensor

    References
    ----------
    As :func:`barodex.core.level.check_reading`.
    """
    value = event.values.get("temperature_c")
    if not step.compartment or not any(f.kind == "temperature" for f in step.fields):
        raise Inconsistent("This step has no temperature.", field="step", value=step.id)
    if value is None:
        raise OutOfRange("Say what the thermometer shows.", field="temperature_c", value=None)
    readings = state.ledgers[step.compartment].readings
    before = (readings[-1].at.timestamp(), float(readings[-1].values["temperature_c"])) if readings else None
    check_reading(before, float(value), event.at.timestamp())
    readings.append(event)


def _check_fields(step: Step, values: Mapping[str, Any]) -> None:
    for f in step.fields:
        value = values.get(f.name)
        if f.required and f.kind != "bool" and value in (None, ""):
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
    The gates of :mod:`barodex.core.procedure`.
    """
    values = event.values
    _check_fields(step, values)
    job = procedure.job(step.compartment) if step.compartment else None
    if job and step.window and values.get("temperature_c") is not None:
        _check_window(step, job, float(values["temperature_c"]))
    if job and step.kind == "measure":
        _apply_measure(state, step, job, values)
    elif job and step.kind == "torque":
        _apply_torque(state, step, job, values)
    elif job and step.kind == "inspect":
        finding = finding_from(values.get("finding") or {})
        assessment = assess_finding(job, finding)
        if assessment.level is None:
            raise GateClosed("Nothing was looked at yet: tap what you see, or pass this step with a reason.", field="finding", value="")
        state.ledgers[job.key].finding, state.ledgers[job.key].assessment = finding, assessment
    elif job and step.kind == "pour":
        _apply_pour_done(state, step, job, values)
    elif job and step.kind == "level":
        _apply_level(state, step, job, values)
    elif step.id == "access":
        state.refit = tuple(line.strip()[:80] for line in str(values.get("came_off") or "").splitlines() if line.strip())
    elif step.id == "wipe" and state.refit:
        ticked = values.get("ticked")
        missing = [item for item in state.refit if not isinstance(ticked, (list, tuple)) or item not in ticked]
        if missing:
            raise GateClosed(f"Not back on yet: {missing[0]}.", field="ticked", value=missing[0])
