"""What a signed service leaves on its records beside amounts and findings: how it was done."""

from __future__ import annotations

from typing import Any

from barodex.core import guide, run
from barodex.core.findings.surprises import fault_lines
from barodex.core.guide.purpose import Purpose
from barodex.core.run.phases import phase_times
from barodex.core.run.state import said
from barodex.core.words import say

from . import guides
from .models import Service


def _impression(said: dict[str, Any]) -> str:
    parts = [
        say("shifts {said}", said=said["shift"][2:]) if said.get("shift") else "",
        say("quietness {said}", said=said["noise"][2:]) if said.get("noise") else "",
        said.get("feel") or "",
    ]
    return ", ".join(p for p in parts if p)


def details_of(service: Service, procedure: guide.Procedure, state: run.State, key: str) -> dict[str, Any]:
    """What the record of a compartment keeps of the way it was done, as plain values."""
    job, ledger = procedure.job(key), state.ledgers[key]
    stood, level = said(procedure, state, Purpose.STOOD, key), said(procedure, state, Purpose.LEVEL, key)
    drive, waste = said(procedure, state, Purpose.DRIVE), said(procedure, state, Purpose.WASTE) or said(procedure, state, Purpose.WIPE)
    feel = said(procedure, state, Purpose.FEEL) or said(procedure, state, Purpose.WARM)
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
        or stood.get("leak")
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
        "faults_before": list(fault_lines(str(said(procedure, state, Purpose.BEFORE, key).get("faults") or ""))),
        "faults_after": list(fault_lines(str(said(procedure, state, Purpose.VALUES, key).get("faults") or ""))),
        "faults_cleared": bool(said(procedure, state, Purpose.RESET, key).get("cleared")) or None,
        "attached": [_rode_along(state, s) for s in rode_along],
        "checked": checked_of(procedure, state, key),
        "refit": list(state.refit),
        "handed_in_ml": waste.get("waste_ml"),
        "where_to": ", ".join(w for w in (waste.get("container"), waste.get("where_to")) if w),
        "time": say(
            "{taken:.0f} of {planned:.0f} minutes", taken=sum(t.taken_s for t in times) / 60, planned=sum(t.planned_s for t in times) / 60
        ),
        "minutes": {t.phase: [round(t.taken_s / 60, 1), round(t.planned_s / 60, 1)] for t in times},
    }
    return {k: v for k, v in details.items() if v not in (None, "", [], {})}


def _rode_along(state: run.State, step: guide.Step) -> str:
    noted = _noted(state, step)
    bad = state.ledgers[step.compartment].bad.get(step.id)
    return f"{step.task}: {' '.join(bad.values()) if bad else noted.get('done', 'passed')}"


def checked_of(procedure: guide.Procedure, state: run.State, key: str) -> dict[str, str]:
    """What was looked at while it could be, by the purpose of its step: all good, or what was bad, or as it was measured."""
    found = {}
    for step in procedure.steps:
        if step.compartment != key or state.steps[step.id].status != "done":
            continue
        bad = state.ledgers[key].bad.get(step.id, {})
        if step.checks:
            found[step.purpose.value] = "; ".join(say("{name}: bad, {seen}", name=name, seen=seen) for name, seen in bad.items()) or say(
                "{task}: all good", task=step.task
            )
        elif step.purpose == Purpose.TENSION:
            noted = _noted(state, step)
            parts = (say("{noted:g} turns back to the nearest clip", noted=noted.get("turns", 0)), noted.get("state"), noted.get("stretch"))
            found[step.purpose.value] = ", ".join(str(p) for p in parts if p)
    return found


def _noted(state: run.State, step: guide.Step) -> dict[str, Any]:
    here = state.steps[step.id]
    return dict(here.act.values) if here.status == "done" and here.act else {}
