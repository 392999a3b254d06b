"""Changes of the plan: visits agreed, moved and dropped."""

from __future__ import annotations

import datetime as dt

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.since import check_since, last_hand
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.words import say
from barodex.memory.versions import PLAN
from barodex.plan.models import PlannedVisit
from barodex.plan.visit import VisitView, trial


def _checked(vehicle_id: int, on: dt.date, compartments: tuple[int, ...], visit_id: int | None = None, bay: int | None = None) -> VisitView:
    view = trial(clock.today(), vehicle_id, on, compartments, visit_id, bay)
    if view.problem:
        raise GateClosed(view.problem, field="on", value=str(on))
    others = PlannedVisit.objects.filter(vehicle_id=vehicle_id, dropped_at=None, on__gte=clock.today()).exclude(pk=visit_id)
    taken = others.filter(compartments__in=compartments).first()
    if taken is not None:
        raise GateClosed(
            say("A visit on {taken_on} has it already: move that one.", taken_on=f"{taken.on:%d %b %Y}"),
            field="compartments",
            value=taken.pk,
        )
    return view


@transaction.atomic
def plan_visit(
    by: Person,
    vehicle_id: int,
    on: dt.date,
    compartments: tuple[int, ...],
    note: str = "",
    bay: int | None = None,
    technician_id: int | None = None,
) -> PlannedVisit:
    """Agree a visit: a day and bay with room (None: the first bay that has it), compartments that no other visit holds, and who does it."""
    require(by, "lead")
    technician = _technician(technician_id)
    view = _checked(vehicle_id, on, compartments, None, bay)
    made = PlannedVisit.objects.create(
        vehicle_id=vehicle_id,
        on=on,
        hours=view.hours,
        bay=view.bay or 1,
        note=note.strip()[:200],
        technician=technician,
        by=by,
        at=clock.now(),
    )
    made.compartments.set(view.compartments)
    audit(by, "visit planned", made, (PLAN,), vehicle=vehicle_id, on=str(on))
    return made


def _technician(person_id: int | None) -> Person | None:
    """Who does a visit; raises Inconsistent for somebody who may not work, or has left."""
    if person_id is None:
        return None
    person = Person.objects.filter(pk=person_id).first()
    if person is None or not person.may("technician"):
        raise Inconsistent(say("Choose somebody who works here as a technician or lead."), field="technician_id", value=person_id)
    return person


UNSAID = -1  # who does it stays as it is


@transaction.atomic
def move_visit(
    by: Person, visit_id: int, on: dt.date, bay: int | None = None, based_on: int | None = None, technician_id: int | None = UNSAID
) -> PlannedVisit:
    """Move an agreed visit to another day or bay, or give it to somebody else."""
    require(by, "lead")
    visit = PlannedVisit.objects.get(pk=visit_id, dropped_at=None)
    technician = visit.technician if technician_id == UNSAID else _technician(technician_id)
    sent = {"on": on, "bay": bay or visit.bay, "technician": technician.pk if technician else None}
    stands = {"on": visit.on, "bay": visit.bay, "technician": visit.technician_id}
    check_since(based_on, stands, sent, say("the visit of {vehicle}", vehicle=visit.vehicle.name), last_hand(visit))
    view = _checked(visit.vehicle_id, on, tuple(visit.compartments.values_list("pk", flat=True)), visit_id, bay)
    before, visit.on, visit.hours, visit.bay, visit.technician = visit.on, on, view.hours, view.bay or 1, technician
    visit.save(update_fields=["on", "hours", "bay", "technician"])
    audit(by, "visit moved", visit, (PLAN,), before=str(before), on=str(on), technician=technician.shown_name if technician else "")
    return visit


@transaction.atomic
def drop_visit(by: Person, visit_id: int) -> PlannedVisit:
    """Give an agreed visit up; that it was agreed stays on record."""
    require(by, "lead")
    visit = PlannedVisit.objects.get(pk=visit_id, dropped_at=None)
    visit.dropped_at = clock.now()
    visit.save(update_fields=["dropped_at"])
    audit(by, "visit dropped", visit, (PLAN,))
    return visit
