"""Walks a service through its guide as a technician would, through the same action as the page."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from barodex.accounts.models import Person
from barodex.bay.actions import NewAct, post_act
from barodex.bay.pouring import service_pour_plan
from barodex.bay.queries import view
from barodex.bay.views import ServiceView, StepView
from barodex.core.findings.finding import FORMS

GOOD_LOOK: dict[str, Any] = {
    "magnet": "film",
    "particles": [{"form": FORMS[0], "metal": "steel", "count": 1, "size_mm": 0.1}],
    "colour": "brown",
    "clarity": "clear",
    "smell": "none",
}


@dataclass(frozen=True)
class Outcome:
    """What comes out of a compartment and what is seen; amounts in mL, °C."""

    drained_ml: float | None = None
    temperature_c: float = 35.0
    finding: Mapping[str, Any] = field(default_factory=lambda: GOOD_LOOK)


def _post(by: Person, service: int, step: str, kind: str = "done", **values: Any) -> ServiceView:
    return post_act(by, service, NewAct(uuid.uuid4(), kind, step, values))


def _values(step: StepView, outcome: Outcome, capacity: float | None) -> dict[str, Any]:
    values: dict[str, Any] = {"ticked": [*step.checklist, *(r.name for r in step.resets)]} if step.checklist or step.resets else {}
    if step.kind == "confirm" and any(f.name == "reason" for f in step.fields):
        values["reason"] = "as far as the oil goes"
    for f in step.fields:
        if f.kind == "choice" and (f.required or f.name == "head"):
            values[f.name] = f.choices[0]
        elif f.kind == "bool":
            values[f.name] = True
        elif f.kind == "finding":
            values[f.name] = dict(outcome.finding)
        elif f.default_number is not None:
            values[f.name] = f.default_number
        elif f.kind == "temperature" and step.window_high_c is not None:
            values[f.name] = step.window_high_c - 2
        elif f.kind == "length" and f.required:
            values[f.name] = 5.0
        elif f.kind == "number" and f.required:
            values[f.name] = 3
        elif f.kind == "text" and f.required:
            values[f.name] = f.default_text or "as before"
        elif f.kind == "torque":
            values |= {f.name: 30.0, "reason": "asked the dealer by telephone"}
    if step.purpose == "rinse":
        values["elsewhere"] = True
    if step.kind == "measure":
        values.pop("temperature_c", None)
        drained = outcome.drained_ml if outcome.drained_ml is not None else (capacity or 1000.0) * 0.98
        values |= {"pan_ml": drained, "temperature_c": outcome.temperature_c}
    return values


def _pour(by: Person, service: int, step: StepView, poured_ml: float, target_ml: float | None) -> None:
    plan = service_pour_plan(service, step.compartment)
    poured = 0.0
    for bottle in plan.bottles if plan.plan else ():
        amount = bottle.content_ml - bottle.left_ml
        if amount > 0.5:
            _post(by, service, step.id, "add", volume_ml=amount, container=bottle.container)
            poured += amount
    missing = max(0.0, (target_ml or 1000.0) - poured - poured_ml)
    if missing > 0.5:
        _post(by, service, step.id, "add", volume_ml=missing, elsewhere=True)


def walk(by: Person, service: int, outcomes: Mapping[str, Outcome], stop_before: str = "") -> ServiceView:
    """Do every open step in order until the signature, or until a step for the purpose ``stop_before``, or of that id."""
    state = view(service)
    for _ in range(200):
        step = next((s for s in state.steps if s.status == "open"), None)
        if step is None or (stop_before and stop_before in (step.purpose, step.id)):
            return state
        ledger = next((x for x in state.ledgers if x.compartment == step.compartment), None)
        if step.forbidden and step.skip != "never":
            state = _post(by, service, step.id, "skip", reason=step.forbidden[:200])
            continue
        if step.kind == "timer" or (step.skip == "free" and step.kind == "note"):
            state = _post(by, service, step.id, "skip" if step.skip == "free" else "done")
            continue
        if step.kind == "pour" and ledger:
            _pour(by, service, step, ledger.poured_ml, ledger.target_ml)
        outcome = outcomes.get(ledger.name if ledger else "", Outcome())
        state = _post(by, service, step.id, **_values(step, outcome, ledger.capacity_ml if ledger else None))
        if state.state == "signed":
            return state
    return state
