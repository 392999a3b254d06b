"""A visit: what falls due on a vehicle, what a day means for it, what rides along, and whether a bay has room."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from barodex.accounts.since import version_of
from barodex.book.consequences import ConsequenceView
from barodex.core.due.visits import BayPolicy, Task, is_open
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.plan.models import PlannedVisit
from barodex.workshop.bay import bay_policy

from .queries import CompartmentDue, VehicleDue, due_board

WORTH_HOURS_PER_LITRE = 0.35  # of oil thrown away with life left in it, in hours of work (common practice)
EARLY_SHARE, MOST_EARLY_DAYS = 0.25, 120  # of an interval, and days, that a change may come early to share a visit (common practice)
LOOK_BEFORE_DAYS, LOOK_AFTER_DAYS = 45, 14  # a look rides along with a visit so much before or after its day (common practice)
FARTHEST_DAYS = 1200  # ahead, that a meter value is given a day


@dataclass(frozen=True)
class Mark:
    """A compartment on the horizon: due day with P10 and P90, its state, and what its glass shows."""

    compartment_id: int
    name: str
    state: str
    limit: str
    on: dt.date
    earliest: dt.date
    latest: dt.date
    used: float
    family: str
    colour: str
    level: int | None
    oil: str
    litres: float | None


@dataclass(frozen=True)
class Effect:
    """What a day means for one compartment: days early (negative: late), the share of its life thrown away, and litres of oil."""

    compartment_id: int
    name: str
    early_days: int
    thrown_share: float
    thrown_ml: float
    over: bool


@dataclass(frozen=True)
class Look:
    """Something to be looked at again: of which compartment, by which day (by its meter at the present use), and whether it is a stop."""

    id: int
    compartment: str
    what: str
    on: dt.date
    stop: bool


@dataclass(frozen=True)
class VisitView:
    """A visit, proposed (``id`` None) or agreed: its day, compartments, bay hours and what it throws away or overruns.

    ``looks`` ride along; ``bay`` counts from 1.
    """

    id: int | None
    vehicle_id: int
    vehicle: str
    on: dt.date
    first: dt.date
    last: dt.date
    hours: float
    compartments: tuple[int, ...]
    names: tuple[str, ...]
    oils: tuple[str, ...]
    effects: tuple[Effect, ...]
    thrown_ml: float
    looks: tuple[Look, ...]
    bay: int | None
    note: str
    done: bool
    problem: str
    version: int
    technician_id: int | None = None
    technician: str = ""  # who does it, where somebody was named


def _span_days(c: CompartmentDue, today: dt.date) -> int:
    """Days from the last change to the next: the life that a day early throws a part of away."""
    if c.on is None or c.last_on is None:
        return 365
    return max(30, (max(c.on, today) - c.last_on).days)


def _early_days(c: CompartmentDue, today: dt.date) -> int:
    return min(MOST_EARLY_DAYS, int(EARLY_SHARE * _span_days(c, today)))


def mark_of(c: CompartmentDue, today: dt.date) -> Mark | None:
    """A compartment's mark; None where nothing falls due."""
    on = today if c.state in ("stop", "unknown") else c.on
    if on is None:
        return None
    litres = None if c.capacity_ml is None else c.capacity_ml / 1000
    return Mark(
        compartment_id=c.id,
        name=c.name,
        state=c.state,
        limit=c.limit,
        on=on,
        earliest=min(on, c.earliest or on),
        latest=max(on, c.latest or on),
        used=c.used,
        family=c.family,
        colour=c.colour,
        level=c.level,
        oil=c.oil,
        litres=litres,
    )


def task_of(c: CompartmentDue, on: dt.date, today: dt.date, bay: BayPolicy) -> Task:
    """A compartment as the grouping takes it: days from today, and what a day early or late costs in hours."""
    due = max(0, (on - today).days)
    litres = (c.capacity_ml or 1000.0) / 1000
    worth = kind_of(c.kind).work_hours + litres * WORTH_HOURS_PER_LITRE
    early = worth / _span_days(c, today)
    return Task(str(c.id), max(0, due - _early_days(c, today)), due, due + bay.late_days, early, 12 * early, c.oil)


def hours_of(boxes: Iterable[CompartmentDue], bay: BayPolicy) -> float:
    """Bay hours of a visit that does these."""
    chosen = list(boxes)
    return bay.visit_hours + bay.oil_hours * len({c.oil for c in chosen if c.oil}) + sum(kind_of(c.kind).work_hours for c in chosen)


def effects_of(boxes: Iterable[CompartmentDue], on: dt.date, today: dt.date, bay: BayPolicy) -> tuple[Effect, ...]:
    """What doing compartments on a day throws away, or overruns."""
    found = []
    for c in boxes:
        mark = mark_of(c, today)
        due = max(mark.on, today) if mark else on
        early = (due - on).days
        share = max(0.0, early / _span_days(c, today))
        found.append(Effect(c.id, c.name, early, share, share * (c.capacity_ml or 0.0), early < 0))
    return tuple(found)


def visit_view(
    v: VehicleDue, boxes: list[CompartmentDue], on: dt.date, today: dt.date, bay: BayPolicy, pk: int | None = None, **more: object
) -> VisitView:
    """A visit on a day; ``more``: hours and place as agreed, note, who does it, done, problem."""
    effects = effects_of(boxes, on, today, bay)
    tasks = [task_of(c, m.on, today, bay) for c in boxes if (m := mark_of(c, today))]
    first = today + dt.timedelta(days=max((t.earliest for t in tasks), default=0))
    last = today + dt.timedelta(days=min((t.latest for t in tasks), default=0))
    return VisitView(
        id=pk,
        vehicle_id=v.id,
        vehicle=v.name,
        on=on,
        first=first,
        last=last,
        hours=round(float(more.get("hours") or hours_of(boxes, bay)), 2),  # type: ignore[arg-type]
        compartments=tuple(c.id for c in boxes),
        names=tuple(c.name for c in boxes),
        oils=tuple(dict.fromkeys(c.oil for c in boxes if c.oil)),
        effects=effects,
        thrown_ml=sum(e.thrown_ml for e in effects),
        looks=(),
        bay=more.get("place"),  # type: ignore[arg-type]
        note=str(more.get("note") or ""),
        done=bool(more.get("done")),
        problem=str(more.get("problem") or ""),
        version=version_of({"on": on, "bay": more.get("place"), "technician": more.get("technician_id")}),
        technician_id=more.get("technician_id"),  # type: ignore[arg-type]
        technician=str(more.get("technician") or ""),
    )


def looks_of(v: VehicleDue, consequences: Iterable[ConsequenceView], today: dt.date) -> list[Look]:
    """What must be looked at again on a vehicle, by the day or by the meter at the present use, whichever comes first."""
    found = []
    for f in consequences:
        if f.kind == "adopt":
            continue  # nothing to look at
        days = [f.due_on] if f.due_on else []
        if f.due_meter is not None and v.meter_now is not None and v.meter_on is not None and v.per_day > 0:
            ahead = (f.due_meter - v.meter_now) / v.per_day
            if ahead < FARTHEST_DAYS:
                days.append(v.meter_on + dt.timedelta(days=round(ahead)))
        found.append(Look(f.id, f.compartment, f.what, min(days, default=today), f.stop))
    return sorted(found, key=lambda x: x.on)


def ride_along(visits: Sequence[VisitView], looks: Iterable[Look]) -> tuple[list[VisitView], list[Look]]:
    """Put each look to the nearest visit that is near enough; gives the visits with theirs, and the looks that stand alone."""
    taken: dict[int, list[Look]] = defaultdict(list)
    alone = []
    for x in looks:
        near = [
            (abs((v.on - x.on).days), k)
            for k, v in enumerate(visits)
            if not v.done and not v.problem and -LOOK_BEFORE_DAYS <= (v.on - x.on).days <= LOOK_AFTER_DAYS
        ]
        if near and not x.stop:
            taken[min(near)[1]].append(x)
        else:
            alone.append(x)
    return [replace(v, looks=tuple(taken[k])) if k in taken else v for k, v in enumerate(visits)], alone


def trial(
    today: dt.date, vehicle_id: int, on: dt.date, compartments: tuple[int, ...], visit_id: int | None = None, bay_asked: int | None = None
) -> VisitView:
    """What a visit on a day would mean; ``problem`` says what speaks against it. Raises Inconsistent for what cannot be.

    ``bay_asked`` from 1; None: the first bay with room.
    """
    board = due_board(today, vehicle_id)
    if not board.vehicles:
        raise Inconsistent(say("There is no such vehicle."), field="vehicle_id", value=vehicle_id)
    (v,) = board.vehicles
    boxes = [c for c in v.compartments if c.id in compartments]
    if not boxes or len(boxes) < len(set(compartments)):
        raise Inconsistent(say("Choose compartments of this vehicle."), field="compartments", value=list(compartments))
    if on < today:
        raise Inconsistent(
            say("{on} has passed.", on=f"{on:%d %b %Y}"),
            field="on",
            value=str(on),
            allowed=say("from {today} on", today=f"{today:%d %b %Y}"),
        )
    bay = bay_policy()
    if bay_asked is not None and not 1 <= bay_asked <= bay.bays:
        raise Inconsistent(
            say("There is no bay {bay_asked}.", bay_asked=bay_asked),
            field="bay",
            value=bay_asked,
            allowed=say("1 to {bays}", bays=bay.bays),
        )
    hours = hours_of(boxes, bay)
    place, problem = _place(on, hours, bay, visit_id, bay_asked)
    view = visit_view(v, boxes, on, today, bay, visit_id, hours=hours, place=place, problem=problem)
    (view,), _ = ride_along([replace(view, problem="")], looks_of(v, board.consequences, today))
    return replace(view, problem=problem)


def _place(on: dt.date, hours: float, bay: BayPolicy, visit_id: int | None, asked: int | None) -> tuple[int | None, str]:
    """The bay for a visit of some hours on a day, and what speaks against it; empty when nothing does."""
    if not is_open(bay, on):
        return None, say("The workshop is closed on {on} {day} {on_2}.", on=f"{on:%A}", day=on.day, on_2=f"{on:%B}")
    left = dict.fromkeys(range(1, bay.bays + 1), bay.hours_per_day)
    beside: dict[int, list[str]] = defaultdict(list)
    for p in PlannedVisit.objects.filter(on=on, dropped_at=None, vehicle__retired_on=None).exclude(pk=visit_id).select_related("vehicle"):
        if p.bay in left:
            left[p.bay] -= p.hours
            beside[p.bay].append(p.vehicle.name)
    for k in [asked] if asked else list(left):
        if left[k] >= hours - 1e-6:
            return k, ""
    best = asked or max(left, key=lambda k: left[k])
    names = say(" beside {beside}", beside=", ".join(beside[best])) if beside[best] else ""
    where = say("in bay {best} ", best=best) if bay.bays > 1 else ""
    return None, say(
        "It takes {hours:.1f} h; {left:.1f} h are left {where}on that day{names}.",
        hours=hours,
        left=max(0.0, left[best]),
        where=where,
        names=names,
    )
