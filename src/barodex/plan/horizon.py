"""The due horizon: when each compartment falls due, the visits that gather them, what was agreed, and what a day would mean."""

from __future__ import annotations

import datetime as dt
import functools
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, fields

from django.db.models import Max

from barodex.accounts.models import AuditEntry
from barodex.core.errors import Inconsistent
from barodex.core.visits import WORK_HOURS, BayPolicy, Task, VisitCosts, Wanted, fill_days, group_visits, is_open

from .models import BayRevision, PlannedVisit
from .queries import CompartmentDue, VehicleDue, due_board

WORTH_HOURS_PER_LITRE = 0.35  # of oil thrown away with life left in it, in hours of work (common practice)
EARLY_SHARE, MOST_EARLY_DAYS = 0.25, 120  # of an interval, and days, that a change may come early to share a visit (common practice)
MOST_DAYS = 400


def bay_policy() -> BayPolicy:
    """The bay policy in force; the core's first values where the workshop has not spoken."""
    newest = BayRevision.objects.order_by("-id").first()
    if newest is None:
        return BayPolicy()
    known = {k: v for k, v in newest.bay.items() if k in {f.name for f in fields(BayPolicy)}}
    known["closed_weekdays"] = tuple(known.get("closed_weekdays", ()))
    known["closed_days"] = tuple(dt.date.fromisoformat(d) for d in known.get("closed_days", ()))
    return BayPolicy(**known)


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
class VisitView:
    """A visit, proposed (``id`` None) or agreed: its day, compartments, bay hours and what it throws away or overruns."""

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
    note: str
    done: bool
    problem: str


@dataclass(frozen=True)
class HorizonRow:
    """A vehicle's row: marks in order of their days, proposals, and what was agreed."""

    vehicle_id: int
    vehicle: str
    plate: str
    meter: str
    marks: tuple[Mark, ...]
    proposed: tuple[VisitView, ...]
    planned: tuple[VisitView, ...]


@dataclass(frozen=True)
class DayLoad:
    """A day with its bay hours, and those that visits take."""

    on: dt.date
    hours: float
    taken: float


@dataclass(frozen=True)
class Savings:
    """Visits, bay hours, and litres thrown away early, grouped against each change as it falls due."""

    visits: int
    alone_visits: int
    hours: float
    alone_hours: float
    thrown_ml: float


@dataclass(frozen=True)
class OilNeed:
    """Litres of an oil that the visits of a month take; ``oil`` is empty where nobody knows yet."""

    oil: str
    litres: float


@dataclass(frozen=True)
class Month:
    """A month ahead, by its first day: visits, bay hours, and what oil they take."""

    first: dt.date
    visits: int
    hours: float
    oils: tuple[OilNeed, ...]


@dataclass(frozen=True)
class Horizon:
    """The horizon from today to a day, rows with the soonest first; ``unfit`` says which visits found no day, and why."""

    today: dt.date
    until: dt.date
    rows: tuple[HorizonRow, ...]
    loads: tuple[DayLoad, ...]
    savings: Savings
    months: tuple[Month, ...]
    unfit: tuple[str, ...]
    text: str


def _span_days(c: CompartmentDue, today: dt.date) -> int:
    """Days from the last change to the next: the life that a day early throws a part of away."""
    if c.on is None or c.last_on is None:
        return 365
    return max(30, (max(c.on, today) - c.last_on).days)


def _early_days(c: CompartmentDue, today: dt.date) -> int:
    return min(MOST_EARLY_DAYS, int(EARLY_SHARE * _span_days(c, today)))


def _mark(c: CompartmentDue, today: dt.date) -> Mark | None:
    on = today if c.state in ("stop", "unknown") else c.on
    if on is None:
        return None
    litres = None if c.capacity_ml is None else c.capacity_ml / 1000
    return Mark(
        c.id,
        c.name,
        c.state,
        c.limit,
        on,
        min(on, c.earliest or on),
        max(on, c.latest or on),
        c.used,
        c.family,
        c.colour,
        c.level,
        c.oil,
        litres,
    )


def _task(c: CompartmentDue, on: dt.date, today: dt.date, bay: BayPolicy) -> Task:
    due = max(0, (on - today).days)
    litres = (c.capacity_ml or 1000.0) / 1000
    worth = WORK_HOURS.get(c.kind, 0.8) + litres * WORTH_HOURS_PER_LITRE
    early = worth / _span_days(c, today)
    return Task(str(c.id), max(0, due - _early_days(c, today)), due, due + bay.late_days, early, 12 * early, c.oil)


def _hours(boxes: Iterable[CompartmentDue], bay: BayPolicy) -> float:
    chosen = list(boxes)
    return bay.visit_hours + bay.oil_hours * len({c.oil for c in chosen if c.oil}) + sum(WORK_HOURS.get(c.kind, 0.8) for c in chosen)


def effects_of(boxes: Iterable[CompartmentDue], on: dt.date, today: dt.date, bay: BayPolicy) -> tuple[Effect, ...]:
    """What doing compartments on a day throws away, or overruns."""
    found = []
    for c in boxes:
        mark = _mark(c, today)
        due = max(mark.on, today) if mark else on
        early = (due - on).days
        share = max(0.0, early / _span_days(c, today))
        found.append(Effect(c.id, c.name, early, share, share * (c.capacity_ml or 0.0), early < 0))
    return tuple(found)


def _view(
    v: VehicleDue, boxes: list[CompartmentDue], on: dt.date, today: dt.date, bay: BayPolicy, pk: int | None = None, **more: object
) -> VisitView:
    effects = effects_of(boxes, on, today, bay)
    tasks = [_task(c, m.on, today, bay) for c in boxes if (m := _mark(c, today))]
    first = today + dt.timedelta(days=max((t.earliest for t in tasks), default=0))
    last = today + dt.timedelta(days=min((t.latest for t in tasks), default=0))
    return VisitView(
        pk,
        v.id,
        v.name,
        on,
        first,
        last,
        round(float(more.get("hours") or _hours(boxes, bay)), 2),  # type: ignore[arg-type]
        tuple(c.id for c in boxes),
        tuple(c.name for c in boxes),
        tuple(dict.fromkeys(c.oil for c in boxes if c.oil)),
        effects,
        sum(e.thrown_ml for e in effects),
        str(more.get("note") or ""),
        bool(more.get("done")),
        str(more.get("problem") or ""),
    )


def day_hours(bay: BayPolicy, today: dt.date, days: int) -> dict[int, float]:
    """Bay hours of the days that differ from the usual: closed ones."""
    return {k: 0.0 for k in range(days + 1) if not is_open(bay, today + dt.timedelta(days=k))}


def horizon(today: dt.date, days: int = 183) -> Horizon:
    """The horizon from today on, ``days`` ahead (7 to 400). Kept until the next act of anybody."""
    if not 7 <= days <= MOST_DAYS:
        raise Inconsistent(f"The horizon shows 7 to {MOST_DAYS} days.", field="days", value=days)
    return _horizon_at(today, days, AuditEntry.objects.aggregate(newest=Max("id"))["newest"] or 0)


def _planned(today: dt.date, by_vehicle: dict[int, VehicleDue], bay: BayPolicy) -> dict[int, list[VisitView]]:
    found: dict[int, list[VisitView]] = defaultdict(list)
    for p in PlannedVisit.objects.filter(dropped_at=None).prefetch_related("compartments"):
        v = by_vehicle.get(p.vehicle_id)
        if v is None:
            continue
        ids = {c.pk for c in p.compartments.all()}
        boxes = [c for c in v.compartments if c.id in ids]
        made = p.at.date()
        done = bool(boxes) and all(c.last_on is not None and c.last_on >= made for c in boxes)
        if not done or p.on >= today:
            found[v.id].append(_view(v, boxes, p.on, today, bay, p.pk, hours=p.hours, note=p.note, done=done))
    return found


def _months(rows: Iterable[HorizonRow], today: dt.date, until: dt.date) -> tuple[Month, ...]:
    """The visits of each month, agreed and proposed, with the oil and hours that they take."""
    visits: dict[dt.date, int] = defaultdict(int)
    hours: dict[dt.date, float] = defaultdict(float)
    litres: dict[dt.date, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for row in rows:
        marks = {m.compartment_id: m for m in row.marks}
        for v in (*row.planned, *row.proposed):
            if v.done or v.problem or not today <= v.on <= until:
                continue
            first = v.on.replace(day=1)
            visits[first] += 1
            hours[first] += v.hours
            for c in v.compartments:
                if c in marks:
                    litres[first][marks[c].oil] += marks[c].litres or 0.0
    found, first = [], today.replace(day=1)
    while first <= until:
        needs = tuple(OilNeed(oil, round(amount, 3)) for oil, amount in sorted(litres[first].items()) if amount > 0)
        found.append(Month(first, visits[first], round(hours[first], 2), needs))
        first = (first + dt.timedelta(days=32)).replace(day=1)
    return tuple(found)


@functools.lru_cache(maxsize=8)
def _horizon_at(today: dt.date, days: int, version: int) -> Horizon:
    until, bay = today + dt.timedelta(days=days), bay_policy()
    board = due_board(today)
    by_vehicle = {v.id: v for v in board.vehicles}
    planned = _planned(today, by_vehicle, bay)
    costs = VisitCosts(bay.visit_hours, bay.oil_hours)
    closed = day_hours(bay, today, days + bay.late_days)
    taken: dict[int, float] = defaultdict(float)
    for visits in planned.values():
        for p in visits:
            if not p.done and p.on >= today:
                taken[(p.on - today).days] += p.hours
    room = {k: max(0.0, closed.get(k, bay.hours_per_day) - taken.get(k, 0.0)) for k in {*closed, *taken}}
    groups: dict[str, tuple[VehicleDue, list[CompartmentDue], int]] = {}
    wanted, alone_visits, alone_hours = [], 0, 0.0
    for v in board.vehicles:
        agreed = {c for p in planned[v.id] if not p.done for c in p.compartments}
        boxes = {str(c.id): c for c in v.compartments if c.id not in agreed and c.in_service is None}
        tasks = [_task(c, m.on, today, bay) for c in boxes.values() if (m := _mark(c, today)) and m.on <= until]
        grouping = group_visits(tasks, costs)
        for k, visit in enumerate(grouping.visits):
            chosen = [boxes[key] for key in visit.keys]
            mine = [t for t in tasks if t.key in visit.keys]
            key = f"{v.id}.{k}"
            groups[key] = (v, chosen, visit.day)
            wanted.append(Wanted(key, visit.day, max(t.earliest for t in mine), min(t.latest for t in mine), _hours(chosen, bay)))
        alone_visits += len(tasks)
        alone_hours += sum(_hours([boxes[t.key]], bay) for t in tasks)
    filled = fill_days(wanted, room, bay.hours_per_day, 0, days + bay.late_days)
    proposed: dict[int, list[VisitView]] = defaultdict(list)
    unfit = []
    hours = 0.0
    for key, (v, chosen, best) in groups.items():
        problem = filled.unfit.get(key, "")
        day = filled.days.get(key, best)
        view = _view(v, chosen, today + dt.timedelta(days=day), today, bay, problem=problem)
        proposed[v.id].append(view)
        hours += view.hours
        if problem:
            unfit.append(f"{v.name}, {', '.join(n.lower() for n in view.names)}: {problem}")
        else:
            taken[day] += view.hours
    rows = []
    for v in board.vehicles:
        marks = sorted((m for c in v.compartments if (m := _mark(c, today)) and m.earliest <= until), key=lambda m: m.on)
        if marks or planned[v.id]:
            rows.append(HorizonRow(v.id, v.name, v.plate, v.meter, tuple(marks), tuple(proposed[v.id]), tuple(planned[v.id])))
    rows.sort(key=lambda r: (r.marks[0].on if r.marks else until, r.vehicle))
    loads = tuple(
        DayLoad(today + dt.timedelta(days=k), closed.get(k, bay.hours_per_day), round(taken.get(k, 0.0), 2)) for k in range(days + 1)
    )
    thrown = sum(p.thrown_ml for r in rows for p in r.proposed)
    savings = Savings(len(groups), alone_visits, round(hours, 1), round(alone_hours, 1), thrown)
    saved = max(0.0, alone_hours - hours)
    text = f"{savings.visits} visit{'' if savings.visits == 1 else 's'} instead of {savings.alone_visits}, {saved:.1f} h saved"
    return Horizon(today, until, tuple(rows), loads, savings, _months(rows, today, until), tuple(unfit), text)


def trial(today: dt.date, vehicle_id: int, on: dt.date, compartments: tuple[int, ...], visit_id: int | None = None) -> VisitView:
    """What a visit on a day would mean; ``problem`` says what speaks against it. Raises Inconsistent for what cannot be."""
    board = due_board(today, vehicle_id)
    if not board.vehicles:
        raise Inconsistent("There is no such vehicle.", field="vehicle_id", value=vehicle_id)
    (v,) = board.vehicles
    boxes = [c for c in v.compartments if c.id in compartments]
    if not boxes or len(boxes) < len(set(compartments)):
        raise Inconsistent("Choose compartments of this vehicle.", field="compartments", value=list(compartments))
    if on < today:
        raise Inconsistent(f"{on:%d %b %Y} has passed.", field="on", value=str(on), allowed=f"from {today:%d %b %Y} on")
    bay = bay_policy()
    hours = _hours(boxes, bay)
    return _view(v, boxes, on, today, bay, visit_id, hours=hours, problem=_against(on, hours, bay, visit_id))


def _against(on: dt.date, hours: float, bay: BayPolicy, visit_id: int | None) -> str:
    """What speaks against a visit of some hours on a day; empty when nothing does."""
    if not is_open(bay, on):
        return f"The workshop is closed on {on:%A} {on.day} {on:%B}."
    others = PlannedVisit.objects.filter(on=on, dropped_at=None).exclude(pk=visit_id).select_related("vehicle")
    taken = sum(p.hours for p in others)
    if taken + hours > bay.hours_per_day + 1e-6:
        names = ", ".join(p.vehicle.name for p in others)
        left = max(0.0, bay.hours_per_day - taken)
        return f"It takes {hours:.1f} h; {left:.1f} h are left on that day" + (f" beside {names}." if names else ".")
    return ""
