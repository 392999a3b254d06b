"""A compartment's oil life in full: by each limit, its working, whose school, and what the other would have said."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, replace

from barodex.core.due.interval import life_used
from barodex.core.due.oil_life import Facts, Schooled, due_by, life_working, warranty_hold
from barodex.core.due.schedule import SCHOOL_WORDS, plan_for
from barodex.core.quantity.working import Working
from barodex.core.words import say
from barodex.fleet.rules import RuleView, rule_view
from barodex.workshop.schedule import schedule_policy

from .facts import Box, VehicleFacts, due_of, facts_of, facts_of_vehicle
from .queries import basis_of


@dataclass(frozen=True)
class OtherSchool:
    """What the school that does not count here would have said; ``at_meter`` in km or h."""

    school: str
    basis: str
    on: dt.date | None
    at_meter: float | None
    used: float
    limit: str


@dataclass(frozen=True)
class LimitShare:
    """A limit and the share of life used by it."""

    limit: str
    used: float


@dataclass(frozen=True)
class CompartmentLife:
    """A compartment's oil life: the school that counts, the share used by each limit, its working, and what the other school says.

    ``unknown_why`` lists why nothing is known, and what would tell.
    """

    id: int
    name: str
    school: str
    words: str
    limits: tuple[LimitShare, ...]
    working: Working
    other: OtherSchool | None
    rule: RuleView
    counter: float | None
    counter_on: dt.date | None
    unknown_why: tuple[str, ...]


def _shares(schooled: Schooled, facts: Facts, as_of: dt.date) -> tuple[LimitShare, ...]:
    if facts.since is None:
        return ()
    by_km, limits = facts.meter == "km", schooled.plan.limits
    if by_km and facts.legs is None:
        limits = replace(limits, distance_km={})
    life = life_used(facts.legs or {} if by_km else {}, None if by_km else facts.legs, facts.since, as_of, limits, facts.factor)
    found = [LimitShare(name, used) for name, used in life.by_limit.items()] + [
        LimitShare(e.limit, e.used) for e in (*facts.occasions, *facts.caps)
    ]
    return tuple(sorted(found, key=lambda s: -s.used))


def _unknown_why(v: VehicleFacts, box: Box) -> tuple[str, ...]:
    if box.last is not None:
        return ()
    why = [say("No change of this compartment is on record, on paper or from the bay.")]
    if not v.meter.count:
        why.append(say("The vehicle has no reading either: what it ran cannot be told."))
    else:
        first = dt.date.fromordinal(v.meter.days[0])
        why.append(say("Its readings begin on {first}; whatever was done before is not known.", first=f"{first:%d %b %Y}"))
    if v.vehicle.warranty_until is not None:
        why.append(say("It may stand on its factory fill: write that in with the day it was new."))
    why.append(say("A tag, a receipt or a mark on the case counts as evidence: write it in. Otherwise it is first to be opened."))
    return tuple(why)


def warranty_holds(vehicle_id: int, as_of: dt.date) -> dict[int, str]:
    """Why compartments of a vehicle under warranty are better left closed, of those that are."""
    v, policy = facts_of_vehicle(vehicle_id, as_of), schedule_policy()
    holds = {box.id: warranty_hold(box.kind, box.interval, policy, facts_of(v, box, as_of), as_of) for box in v.boxes}
    return {pk: text for pk, text in holds.items() if text}


def vehicle_life(vehicle_id: int, as_of: dt.date) -> tuple[CompartmentLife, ...]:
    """The oil life of a vehicle's compartments with its working; raises Vehicle.DoesNotExist."""
    v, policy = facts_of_vehicle(vehicle_id, as_of), schedule_policy()
    found = []
    for box in v.boxes:
        schooled, facts = due_of(v, box, policy, as_of)
        school = "maker" if schooled.plan.school == "preventive" else "preventive"
        # By its maker it would be what its maker says, whatever was found since.
        told = replace(facts, factor=1.0, caps=()) if school == "maker" else facts
        plan = plan_for(box.kind, box.interval, box.rule, policy, school, told.factor < 1)
        due = due_by(plan, told, as_of) if facts.since is not None else None
        other = due and OtherSchool(school, plan.basis, due.on, due.at_km if due.at_km is not None else due.at_h, due.used, due.limit)
        counter = box.counter or (None, None)
        found.append(
            CompartmentLife(
                id=box.id,
                name=box.name,
                school=schooled.plan.school,
                words=f"{SCHOOL_WORDS[schooled.plan.school]}: {basis_of(schooled, box.last)}",
                limits=_shares(schooled, facts, as_of),
                working=life_working(schooled.plan, facts, as_of, schooled.due),
                other=other,
                rule=rule_view(box.id),
                counter=counter[1],
                counter_on=counter[0],
                unknown_why=_unknown_why(v, box),
            )
        )
    return tuple(found)
