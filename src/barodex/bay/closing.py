"""What a signed service leaves on its records beside amounts and findings: details, a shortened interval, second looks."""

from __future__ import annotations

from typing import Any

from barodex.book.actions import Recheck
from barodex.core import guide, run
from barodex.core.guide.purpose import Purpose
from barodex.core.ledger.draining import RECOVERED_ENOUGH
from barodex.core.run.phases import phase_times
from barodex.core.run.state import said

from . import guides
from .models import Service


def _impression(said: dict[str, Any]) -> str:
    parts = [
        f"shifts {said['shift'][2:]}" if said.get("shift") else "",
        f"quietness {said['noise'][2:]}" if said.get("noise") else "",
        said.get("feel") or "",
    ]
    return ", ".join(p for p in parts if p)


def details_of(service: Service, procedure: guide.Procedure, state: run.State, key: str) -> dict[str, Any]:
    """What the record of a compartment keeps of the way it was done, as plain values."""
    job, ledger = procedure.job(key), state.ledgers[key]
    stood, level = said(procedure, state, Purpose.STOOD, key), said(procedure, state, Purpose.LEVEL, key)
    waste, feel, drive = said(procedure, state, Purpose.WASTE), said(procedure, state, Purpose.FEEL), said(procedure, state, Purpose.DRIVE)
    reset = procedure.step(Purpose.RESET, key)
    rode_along = [s for s in procedure.steps if s.purpose == Purpose.ATTACHED and s.compartment == key]
    cycles = len(ledger.cycles) + 1 if ledger.cycles else 0
    times = phase_times(procedure, state, guides.acts_of(service), service.started_at)
    details = {
        "school": job.school if job.kind_of_work == "exchange" else "",
        "cycles": str(cycles) if cycles else "",
        "closed_at_c": level.get("temperature_c"),
        "depth_mm": ledger.depth_mm,
        "stood": stood.get("stood"),
        "leak": (ledger.finding.wet if ledger.finding and ledger.finding.wet else None)
        or said(procedure, state, Purpose.LEAK, key).get("leak"),
        "variant": ledger.variant.text if ledger.variant else None,
        "ran_ml": stood.get("ran_ml"),
        **ledger.exposure,
        "recovered": ledger.recovery.share if ledger.recovery else None,
        "before": _impression(feel),
        "after": _impression(drive),
        "rated": {when: {k: noted[k] for k in ("shift", "noise") if noted.get(k)} for when, noted in (("before", feel), ("after", drive))},
        "resets": list(reset.resets) if reset is not None and state.steps[reset.id].status == "done" else [],
        "values_before": said(procedure, state, Purpose.BEFORE, key).get("before"),
        "values_after": said(procedure, state, Purpose.VALUES, key).get("after"),
        "attached": [f"{s.task}: {_noted(state, s).get('done', 'passed')}" for s in rode_along],
        "refit": list(state.refit),
        "handed_in_ml": waste.get("waste_ml"),
        "where_to": ", ".join(w for w in (waste.get("container"), waste.get("where_to")) if w),
        "time": f"{sum(t.taken_s for t in times) / 60:.0f} of {sum(t.planned_s for t in times) / 60:.0f} minutes",
        "minutes": {t.phase: [round(t.taken_s / 60, 1), round(t.planned_s / 60, 1)] for t in times},
    }
    return {k: v for k, v in details.items() if v not in (None, "", [], {})}


def _noted(state: run.State, step: guide.Step) -> dict[str, Any]:
    here = state.steps[step.id]
    return dict(here.act.values) if here.status == "done" and here.act else {}


def factor_of(job: guide.Job, ledger: run.Ledger) -> float:
    """What shortens the next interval beside the finding: old oil that stayed after a poor suction, a wrong oil before (common practice)."""
    poor = ledger.recovery is not None and ledger.recovery.share < RECOVERED_ENOUGH
    return (0.5 if poor else 1.0) * (0.5 if job.kind_of_work == "correction" else 1.0)


def rechecks_of(procedure: guide.Procedure, job: guide.Job, state: run.State) -> tuple[Recheck, ...]:
    """The second looks that the procedure itself asks for (common practice)."""
    found = []
    if job.kind_of_work == "top-up":
        return (Recheck("Look at the level again after a top-up", 30, 1000, 20),)
    again = procedure.step(Purpose.RECHECK)
    looked = again is not None and state.steps[again.id].status == "done"
    days = 7 if looked else 1
    found.append(
        Recheck(
            "Leaks and level, after the first drives" if looked else "Leaks and level: the look after the drive was passed", days, 200, 5
        )
    )
    if job.kind_of_work == "correction" and job.sheet.requirement.yellow_metal is not False:
        found.append(Recheck("After a wrong oil: sample, look for yellow flecks", 90, 2000, 40))
    return tuple(found)
