"""What is still to pour into a compartment of a service, from which containers, and what open services have taken of them."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from barodex.core import run
from barodex.core.ledger.pour import PourPlan, pour_plan
from barodex.shelf.queries import bottles

from .guides import acts_of, jobs_of, load, procedure_of
from .models import ServiceAct, ServiceJob


def reserved_ml(leave_out: int | None = None) -> dict[int, float]:
    """What open services have poured from each container, not yet booked out of stock."""
    taken: dict[int, float] = defaultdict(float)
    acts = ServiceAct.objects.filter(service__state="open", kind__in=["add", "done", "undo"])
    if leave_out is not None:
        acts = acts.exclude(service_id=leave_out)
    rows = list(acts)
    undone = {str(e.values.get("act")) for e in rows if e.kind == "undo"}
    for e in rows:
        if e.kind != "undo" and str(e.act_id) not in undone and e.values.get("container") and e.values.get("volume_ml"):
            taken[int(e.values["container"])] += float(e.values["volume_ml"]) + float(e.values.get("dead_ml") or 0)
    return taken


@dataclass(frozen=True)
class BottleView:
    container: int
    label: str
    size_ml: float
    content_ml: float
    left_ml: float
    graduated: bool


@dataclass(frozen=True)
class ServicePourPlan:
    """The plan of what is still to pour, and each container before and after it."""

    compartment: str
    oil: str
    target_ml: float | None
    target_basis: str
    plan: PourPlan | None
    bottles: tuple[BottleView, ...]
    dead_ml: float
    settle_s: float


SETTLE_S = {"to the lip": 120.0, "dipstick": 300.0, "below the lip": 120.0, "overflow": 60.0}  # common practice; others settle at once


def service_pour_plan(service_id: int, compartment: str, pump_ml: float = 0.0, stroke_ml: float | None = None) -> ServicePourPlan:
    """Plan what is still to pour into a compartment of a service, from what is on the shelf; ``pump_ml`` stays in a pump, once."""
    service = load(service_id)
    job = next((j for j in jobs_of(service) if str(j.compartment_id) == compartment), None)
    if job is None:
        raise ServiceJob.DoesNotExist
    state = run.fold(procedure_of(service), acts_of(service))
    ledger = state.ledgers[compartment]
    held = bottles(job.lubricant, reserved_ml())
    settle = SETTLE_S.get(job.revision.fill_method, 0.0)
    ids = {c.label: c.pk for c in job.lubricant.containers.all()}
    if ledger.target_ml is None:  # nothing to plan, but a bottle to pour from
        shown = tuple(BottleView(ids[b.label], b.label, b.size_ml, b.content_ml, b.content_ml, b.marked) for b in held[:6])
        return ServicePourPlan(compartment, job.lubricant.name, None, ledger.target_basis, None, shown, 0.0, settle)
    # The pump is primed once: what is in it already is not loaded again.
    primed = sum(float(e.values.get("dead_ml") or 0) for e in ledger.all_pours)
    missing = max(0.0, ledger.target_ml - ledger.poured_ml)
    dead = max(0.0, pump_ml - primed) if missing > 0.5 else 0.0
    plan = pour_plan(missing, held, dead, stroke_ml)
    left = {b.label: b.content_ml for b in plan.left}
    views = tuple(BottleView(ids[b.label], b.label, b.size_ml, b.content_ml, left.get(b.label, b.content_ml), b.marked) for b in held)
    used = {a.label for a in plan.actions if a.label}
    views = tuple(
        sorted(views, key=lambda v: (v.label not in used, [a.label for a in plan.actions].index(v.label) if v.label in used else 0))
    )
    return ServicePourPlan(compartment, job.lubricant.name, ledger.target_ml, ledger.target_basis, plan, views[:6], dead, settle)
