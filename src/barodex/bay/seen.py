"""Everything that a service showed of a compartment, from which its consequences are told: on the page before the signature, and by it."""

from __future__ import annotations

import datetime as dt

from barodex.book.consequences import limits_both
from barodex.book.learning import OFFERS_NONE
from barodex.book.ledger import stated_ml
from barodex.core import guide, run
from barodex.core.findings.surprises import (
    Reset,
    Surprise,
    came_back,
    fault_lines,
    faults_back,
    odd_colour,
    over_limits,
    ran_over,
    too_clean,
)
from barodex.core.guide.purpose import Purpose
from barodex.core.ledger.draining import RECOVERED_ENOUGH
from barodex.core.ledger.learnt import capacity_offered
from barodex.core.run.state import said
from barodex.core.sheet.figures import FINDS_LEVEL
from barodex.core.verdict.consequences import Again, Bad, Seen

from .models import Service, ServiceJob


def agains_of(procedure: guide.Procedure, job: guide.Job, state: run.State, meter: str) -> tuple[Again, ...]:
    """The looks that the work itself asks for (common practice)."""

    def ahead(km: float, hours: float) -> float:
        return hours if meter == "h" else km

    if job.kind_of_work == "top-up":
        return (Again("topped-up", 30, ahead(1000, 20)),)
    again = procedure.step(Purpose.RECHECK) or procedure.step(Purpose.DRIVE)
    status = "off" if again is None else state.steps[again.id].status
    found = []
    if status != "off":  # a vehicle that is stopped is not driven, and not looked at after it
        found.append(Again("drive-passed", 1, ahead(200, 5)) if status == "skipped" else Again("first-drives", 7, ahead(200, 5)))
    if job.kind_of_work == "correction" and job.sheet.requirement.yellow_metal is not False:
        found.append(Again("wrong-oil", 90, ahead(2000, 40)))
    return tuple(found)


def _values(procedure: guide.Procedure, state: run.State, key: str, on: dt.date) -> Reset:
    """What a tool read before and after, in words, and the fault codes."""
    before, after = said(procedure, state, Purpose.BEFORE, key), said(procedure, state, Purpose.VALUES, key)
    cleared = bool(said(procedure, state, Purpose.RESET, key).get("cleared"))
    found, left = (fault_lines(str(read.get("faults") or "")) for read in (before, after))
    return Reset(on, (), str(before.get("before") or ""), str(after.get("after") or ""), found, left, cleared)


def _good(procedure: guide.Procedure, state: run.State, key: str) -> tuple[str, ...]:
    """The checks that were answered good."""
    found: list[str] = []
    for step in procedure.steps:
        here = state.steps[step.id]
        if step.checks and step.compartment == key and here.status == "done" and here.act is not None:
            found += [
                c for c in step.checklist if c in here.act.values.get("ticked", ()) and c not in state.ledgers[key].bad.get(step.id, {})
            ]
    return tuple(found)


def _odd(procedure: guide.Procedure, state: run.State, row: ServiceJob, meter: str) -> tuple[Surprise, ...]:
    """What was odd about the oil as it was found, and wants a question."""
    key, known = str(row.compartment_id), row.known
    finding, stood = state.ledgers[key].finding, said(procedure, state, Purpose.STOOD, key)
    ran = known.distance_km if known.run is None else known.run
    clean = too_clean(finding.colour, ran, known.last_filled_on is not None, meter) if finding else None
    over = ran_over(str(stood.get("stood") or ""), stood.get("ran_ml"), reset_level=known.level_set_on is not None)
    odd = odd_colour(finding.colour, known.oil) if finding else None
    return tuple(s for s in (clean, odd, over) if s)


def _took_ml(procedure: guide.Procedure, state: run.State, job: guide.Job) -> float | None:
    """What a fill that is at its level offers as the capacity of a sheet that only guesses it, mL at a workshop's temperature."""
    sheet, net = job.sheet, run.balance_of(job, state.ledgers[job.key]).net_in
    steps = [s for s in procedure.steps if s.compartment == job.key and s.phase in ("fill", "level")]
    open_still = any(state.steps[s.id].status not in ("done", "skipped", "off") for s in steps)
    if net is None or open_still or job.kind_of_work in OFFERS_NONE or sheet.variants:
        return None
    trust = sheet.trust.get("capacity", "")
    return capacity_offered(stated_ml(net, job.density15), sheet.capacity_ml, trust, sheet.fill_method in FINDS_LEVEL)


def seen_of(service: Service, row: ServiceJob, procedure: guide.Procedure, state: run.State, on: dt.date) -> Seen:
    """What a service showed of a compartment so far, signed on a day."""
    key = str(row.compartment_id)
    job, ledger, meter = procedure.job(key), state.ledgers[key], service.vehicle.meter
    known = row.known
    reset, read = procedure.step(Purpose.RESET, key), _values(procedure, state, key, on)
    results = state.steps[reset.id].results if reset is not None else {}
    open_still = row.wanted.variant_open and not job.sheet.variant
    return Seen(
        on=on,
        meter=meter,
        assessment=ledger.assessment,
        loss=ledger.judged_loss,
        capacity_ml=job.sheet.capacity_ml,
        ran=None if service.meter_value is None else known.distance_km if known.run is None else known.run,
        ran_days=None if known.level_set_on is None else max(0, (on - known.level_set_on).days),
        agains=agains_of(procedure, job, state, meter),
        old_oil_stayed=ledger.recovery is not None and ledger.recovery.share < RECOVERED_ENOUGH,
        wrong_oil=job.kind_of_work == "correction",
        failed=tuple((name, why) for name, (outcome, why) in results.items() if outcome == "failed"),
        returned=tuple((name, value) for name, value, _, again in came_back([*known.resets, read]) if again is read),
        codes_back=tuple(line for line, _, again in faults_back([*known.resets, read]) if again is read),
        over=over_limits(read.after or read.before, job.sheet.wear_limits),
        bad=tuple(Bad(name, said) for checks in ledger.bad.values() for name, said in checks.items()),
        good=_good(procedure, state, key),
        override=(row.lubricant.name, row.oil_override) if row.oil_override and row.lubricant else None,
        variant=ledger.variant.named if ledger.variant is not None and open_still else "",
        odd=_odd(procedure, state, row, meter),
        ran_low=ledger.ran_low,
        torques=tuple((plug, nm, source) for plug, (nm, source) in ledger.torques.items()),
        took_ml=_took_ml(procedure, state, job),
        **limits_both(row.compartment, row.revision),
    )
