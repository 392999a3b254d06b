"""What is measured during a service: amounts that came out, what they are, and the target that follows from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Step
from barodex.core.ledger.balance import STATED_C
from barodex.core.ledger.drained import (
    RESIDUE,
    Amount,
    Loss,
    assumed_temperature,
    at_reference,
    drained_amount,
    loss_since_last_fill,
    usual_warmth,
)
from barodex.core.ledger.draining import RECOVERED_ENOUGH, recovery
from barodex.core.ledger.exchange import flow_needed_ml
from barodex.core.ledger.variant import Candidate, VariantVerdict, identify_variant
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.expansion import volume_at, volume_from_mass
from barodex.core.quantity.working import ml, percent
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.ledgering import balance_of
from barodex.core.run.state import Cycle, Ledger, State
from barodex.core.sheet.plausible import less_than_it_should, more_than_it_holds
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.words import say


def measured_amount(job: Job, values: Mapping[str, Any]) -> Amount:
    """Sum what came out: pan (or weight), hose and rag, at the oil's temperature.

    Parameters
    ----------
    job : the compartment, for its density (kg/m³) and how it is drained
    values : pan_ml or mass_g, hose_ml, rag_ml (mL, g), temperature_c (°C; where it was not taken, warmth: cold, warm or hot)

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
        raise Inconsistent(say("Give what is in the pan, or what it weighs: one of the two."), field="pan_ml", value=pan)
    taken = values.get("temperature_c")
    if taken is not None:
        in_range("temperature_c", float(taken), -20, 150, "°C")
    warmth = values.get("warmth") or usual_warmth(job.sheet.warm_up, job.sheet.drain_method)
    temperature_c = assumed_temperature(warmth, job.ambient_c)[0] if taken is None else float(taken)
    volume = float(pan) if pan is not None else volume_from_mass(float(mass or 0), temperature_c, job.density15)
    volume += sum(in_range(name, float(values.get(name) or 0), 0, 10_000, "mL") for name in ("hose_ml", "rag_ml"))
    if volume <= 0:
        raise OutOfRange(
            say("Nothing came out? Then the amount is not a measurement: pass this step with a reason."), field="pan_ml", value=pan
        )
    return drained_amount(volume, job.sheet.drain_method, None if taken is None else temperature_c, warmth, job.ambient_c)


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
    OutOfRange : as :func:`barodex.core.ledger.drained.loss_since_last_fill`

    References
    ----------
    As :func:`barodex.core.ledger.drained.loss_since_last_fill`.
    """
    if job.last_net_in is None:
        return None
    capacity = job.sheet.capacity_ml or job.last_net_in.volume_ml
    return loss_since_last_fill(
        job.last_net_in,
        job.topups,
        drained,
        capacity,
        distance_km=job.distance_km,
        density15=job.density15,
        run=job.run,
        some_stays=job.sheet.keeps_some,
        first_drain=job.first_drain,
        method=job.sheet.drain_method,
    )


def told_variant(job: Job, drained: Amount) -> VariantVerdict | None:
    """Tell which variant a drained amount speaks for, where the sheet lists some and nobody knows yet.

    Parameters
    ----------
    job : the compartment with its sheet and last fill (mL)
    drained : what came out (mL at °C)

    Returns
    -------
    VariantVerdict, or None where there is nothing to tell apart

    Raises
    ------
    OutOfRange : as :func:`barodex.core.ledger.variant.identify_variant`

    References
    ----------
    As :func:`barodex.core.ledger.variant.identify_variant`. A fill that was measured out stands in the box as it was poured; one to a
    level as the box holds it.
    """
    sheet = job.open_sheet or job.sheet
    known = [v for v in sheet.variants if v.capacity_ml is not None]
    if sheet.variant or len(known) < 2:
        return None
    last = job.last_net_in.volume_ml if job.last_net_in and job.sheet.fill_method in ("measured", "syringe") else None
    stays, within = RESIDUE[sheet.drain_method] if job.first_drain or sheet.keeps_some else (0.0, 0.0)
    candidates = [
        Candidate(v.name, size, residual_ml=stays * size, residual_sigma_ml=within * size, last_fill_ml=last)
        for v in known
        if (size := v.capacity_ml)
    ]
    at_fill = volume_at(drained.volume_ml, drained.temperature_c, STATED_C, job.density15)
    marks = [f"{m.where}: {m.reads} {m.tells}".strip() for m in job.sheet.casing_marks]
    return identify_variant(at_fill, candidates, max(at_reference(drained, job.density15).sigma_ml, 0.1), casing_marks=marks)


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
    if job.kind_of_work == "top-up":
        return None, say("what it takes: that is the measurement")
    if job.flows and job.sheet.total_ml is not None:
        return flow_needed_ml(job.sheet.total_ml, job.target_fresh), say(
            "{target_fresh} fresh by flowing through", target_fresh=percent(job.target_fresh)
        )
    sizes = candidates_ml(job.sheet)
    if len(sizes) > 1:
        words = " or ".join(f"{ml(s)}" for s in sizes)
        if job.by_amount:
            return None, say("which variant is it? It holds {words}", words=words)
        return sizes[-1] + job.sheet.surplus_ml - job.additive_ml, say("the largest variant of {words}: its level decides", words=words)
    if job.sheet.capacity_ml is None:
        return None, say("unknown: what comes out is the first estimate")
    basis = say("sheet revision {sheet_number}", sheet_number=job.sheet.number) + (
        say(", variant {variant}", variant=job.sheet.variant) if job.sheet.variant else ""
    )
    if job.sheet.fill_method == "overflow" and job.sheet.surplus_ml:
        surplus = job.sheet.surplus_ml
        return job.sheet.capacity_ml + surplus - job.additive_ml, say(
            "{basis}, with {surplus} that runs out again", basis=basis, surplus=ml(surplus)
        )
    if job.doses:
        names = ", ".join(f"{ml(d.volume_ml)} {d.name}" for d in job.doses)
        return job.sheet.capacity_ml - job.additive_ml, say("{basis}, less {names}", basis=basis, names=names)
    return job.sheet.capacity_ml, basis


def _note_loss(job: Job, ledger: Ledger) -> None:
    """The loss by the old oil, which came out first: later drains of an exchange, or what is mixed with flush fluid, say nothing of it."""
    first = balance_of(job, ledger).first_out
    ledger.loss = None if first is None else drained_loss(job, first)


def _apply_cycle_measure(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """What came out in a cycle: as much goes in again."""
    amount, ledger = measured_amount(job, values), state.ledgers[job.key]
    most = job.sheet.total_ml or (job.sheet.capacity_ml or amount.volume_ml) * 1.5
    if amount.volume_ml > most:
        raise OutOfRange(
            say("{volume_ml} cannot come out: at most {most} are inside.", volume_ml=ml(amount.volume_ml), most=ml(most)),
            field="pan_ml",
            value=amount.volume_ml,
            allowed=say("up to {most}", most=ml(most)),
        )
    number = int(step.id.rsplit(".", 1)[1])
    if number <= len(ledger.cycles):  # said again after its pour
        ledger.cycles[number - 1] = Cycle(amount.volume_ml, ledger.cycles[number - 1].poured_ml, amount)
        _note_loss(job, ledger)
        return
    ledger.cycle_out = amount
    _note_loss(job, ledger)
    ledger.target_ml, ledger.target_basis = amount.volume_ml, say("what came out in cycle {number}", number=number)


def _apply_flow_measure(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """What ran into the can while as much went in: the two must balance."""
    amount, ledger = measured_amount(job, values), state.ledgers[job.key]
    off = amount.volume_ml - ledger.poured_ml
    if abs(off) > max(0.1 * ledger.poured_ml, 500.0):
        word = "more" if off > 0 else "less"
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                say(
                    "{job}: {volume_ml} came out, {off} {word} than went in.",
                    job=job.name,
                    volume_ml=ml(amount.volume_ml),
                    off=ml(abs(off)),
                    word=word,
                ),
                "pan_ml",
                amount.volume_ml,
            ),
        )
    ledger.drained = amount
    ledger.drained_15_ml = at_reference(amount, job.density15).volume_ml


def apply_measure(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Take an amount as what it is: of a cycle, into the can, the old oil, the flush going in or coming out.

    Parameters
    ----------
    state : changed in place
    step, job : where it was measured
    values : as :func:`measured_amount`

    Raises
    ------
    CoreError : what cannot come out, or needs a reason

    References
    ----------
    As :func:`measured_amount`.
    """
    ledger = state.ledgers[job.key]
    if step.purpose == Purpose.FLUSH_IN:
        ledger.flush_in_ml = measured_amount(job, values).volume_ml
    elif job.flows:
        _apply_flow_measure(state, step, job, values)
    elif step.cycle:
        _apply_cycle_measure(state, step, job, values)
    elif job.kind_of_work == "flush" and step.phase != "exchange" and not job.sheet.flush_ml:
        ledger.flush_out_ml = measured_amount(job, values).volume_ml
        if ledger.flush_in_ml and ledger.flush_out_ml > ledger.flush_in_ml * 1.5 + 100:
            text = say(
                "{job}: {flush_out_ml} came out, {flush_in_ml} of flush fluid went in.",
                job=job.name,
                flush_out_ml=ml(ledger.flush_out_ml),
                flush_in_ml=ml(ledger.flush_in_ml),
            )
            note_gap(state, step, refuse_unreasoned(values, text, "pan_ml", ledger.flush_out_ml))
    else:
        _apply_old_oil(state, step, job, values)


def _apply_old_oil(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    amount, ledger, capacity = measured_amount(job, values), state.ledgers[job.key], job.holds_ml
    flushed = job.sheet.flush_ml if job.kind_of_work == "flush" and job.sheet.flush_ml else 0.0
    if flushed:
        # Oil and flush fluid come out together: what went in of the fluid is taken off.
        ledger.flush_in_ml, ledger.flush_out_ml = flushed, amount.volume_ml
        amount = replace(amount, volume_ml=max(0.0, amount.volume_ml - flushed))
    if capacity is not None and more_than_it_holds("pan_ml", amount.volume_ml, amount.sigma_ml, capacity):
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                say(
                    "{job}: {volume_ml} came out, the sheet says {capacity}.",
                    job=job.name,
                    volume_ml=ml(amount.volume_ml),
                    capacity=ml(capacity),
                ),
                "pan_ml",
                amount.volume_ml,
            ),
        )
    alone = job.last_net_in is None and len(candidates_ml(job.sheet)) < 2 and not (ledger.cycles or flushed or job.sheet.keeps_some)
    ledger.ran_low = alone and capacity is not None and less_than_it_should(amount.volume_ml, amount.sigma_ml, capacity)
    if ledger.ran_low and capacity is not None:
        text = say(
            "{job}: {volume_ml} came out, the sheet says {capacity}: it ran low by about {ml}, or the sheet is wrong.",
            job=job.name,
            volume_ml=ml(amount.volume_ml),
            capacity=ml(capacity),
            ml=ml(capacity - amount.volume_ml),
        )
        note_gap(state, step, refuse_unreasoned(values, text, "pan_ml", amount.volume_ml))
    ledger.drained, ledger.cloth_ml = amount, float(values.get("rag_ml") or 0)
    ledger.drained_15_ml = at_reference(amount, job.density15).volume_ml
    # After cycles, or mixed with flush fluid, what comes out says nothing of the last fill.
    _note_loss(job, ledger)
    ledger.variant = None if ledger.cycles or flushed or job.planned_cycles > 1 or job.flows else told_variant(job, amount)
    suction = job.sheet.drain_method == "suction" and not flushed
    inside = capacity or (job.last_net_in.volume_ml if job.last_net_in else None)
    ledger.recovery = recovery(amount.volume_ml, inside) if suction and inside else None
    if capacity is None:
        ledger.target_ml = max(0.0, amount.volume_ml - job.additive_ml)
        ledger.target_basis = say("what came out (the capacity is unknown)")
    elif suction and amount.volume_ml < RECOVERED_ENOUGH * capacity:
        ledger.target_ml = max(0.0, amount.volume_ml - job.additive_ml)
        ledger.target_basis = say("no more than came out: under 70 % was recovered")
    else:
        ledger.target_ml, ledger.target_basis = target_of(job)
        ceiling = max(0.0, amount.volume_ml - job.additive_ml)
        if suction and job.sheet.fill_method == "measured" and ledger.target_ml is not None and ledger.target_ml > ceiling:
            ledger.target_ml = ceiling
            ledger.target_basis = say("the ceiling: no more than came out, what stayed inside counts")
