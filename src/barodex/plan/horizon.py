"""The due horizon: when each compartment falls due, the visits that gather them, what was agreed, and what a day would mean."""

from __future__ import annotations

import datetime as dt
import functools
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, replace

from django.db.models import Max

from barodex.accounts.models import AuditEntry
from barodex.book.queries import FollowUpView
from barodex.core.errors import Inconsistent, OutOfRange, in_range
from barodex.core.purchase import Drum, Pack, drum_offer
from barodex.core.visits import WORK_HOURS, BayPolicy, Filled, Grouping, Task, VisitCosts, Wanted, fill_days, group_visits, is_open
from barodex.shelf.models import Lubricant

from .models import BayRevision, PlannedVisit
from .queries import CompartmentDue, DueBoard, VehicleDue, due_board

WORTH_HOURS_PER_LITRE = 0.35  # of oil thrown away with life left in it, in hours of work (common practice)
EARLY_SHARE, MOST_EARLY_DAYS = 0.25, 120  # of an interval, and days, that a change may come early to share a visit (common practice)
MOST_DAYS = 400
MOST_ROWS = 500
LOOK_BEFORE_DAYS, LOOK_AFTER_DAYS = 45, 14  # a look rides along with a visit so much before or after its day (common practice)
DRUM_FROM_ML = 15_000


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


@dataclass(frozen=True)
class HorizonRow:
    """A vehicle's row: marks in order of their days, proposals, what was agreed, and looks that no visit takes along."""

    vehicle_id: int
    vehicle: str
    plate: str
    meter: str
    marks: tuple[Mark, ...]
    proposed: tuple[VisitView, ...]
    planned: tuple[VisitView, ...]
    looks: tuple[Look, ...]
    wants_reading: bool


@dataclass(frozen=True)
class DayLoad:
    """A day with the hours of all bays, and those that visits take."""

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
class YearOil:
    """An oil over the time shown: litres, the changes that take it, and a drum against smaller packs where both are on offer."""

    oil: str
    litres: float
    changes: int
    drum: Drum | None


@dataclass(frozen=True)
class Horizon:
    """The horizon from today to a day, rows with the soonest first; ``unfit`` says which visits found no day, and why.

    ``matching`` vehicles in all, of which these rows are a page.
    """

    today: dt.date
    until: dt.date
    rows: tuple[HorizonRow, ...]
    loads: tuple[DayLoad, ...]
    savings: Savings
    months: tuple[Month, ...]
    oils: tuple[YearOil, ...]
    unfit: tuple[str, ...]
    text: str
    matching: int


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
        (),
        more.get("place"),  # type: ignore[arg-type]
        str(more.get("note") or ""),
        bool(more.get("done")),
        str(more.get("problem") or ""),
    )


def looks_of(v: VehicleDue, follow_ups: Iterable[FollowUpView], today: dt.date) -> list[Look]:
    """What must be looked at again on a vehicle, by the day or by the meter at the present use, whichever comes first."""
    found = []
    for f in follow_ups:
        days = [f.due_on] if f.due_on else []
        if f.due_meter is not None and v.meter_now is not None and v.meter_on is not None and v.per_day > 0:
            ahead = (f.due_meter - v.meter_now) / v.per_day
            if ahead < MOST_DAYS * 3:
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


def bay_rooms(bay: BayPolicy, today: dt.date, days: int, planned: Iterable[VisitView] = ()) -> dict[int, list[float]]:
    """Hours left in each bay on the days that differ from the usual: closed ones, and those with visits agreed."""
    rooms: dict[int, list[float]] = {k: [] for k in range(days + 1) if not is_open(bay, today + dt.timedelta(days=k))}
    for p in planned:
        if p.done or p.on < today:
            continue
        left = rooms.setdefault((p.on - today).days, [bay.hours_per_day] * bay.bays)
        k = (p.bay or 1) - 1
        if k < len(left):
            left[k] = max(0.0, left[k] - p.hours)
    return rooms


def horizon(today: dt.date, days: int = 183, offset: int = 0, limit: int = 200) -> Horizon:
    """The horizon from today on, ``days`` ahead (7 to 400), a page of its rows. Kept until the next act of anybody."""
    if not 7 <= days <= MOST_DAYS:
        raise Inconsistent(f"The horizon shows 7 to {MOST_DAYS} days.", field="days", value=days)
    in_range("limit", limit, 1, MOST_ROWS)
    in_range("offset", offset, 0, 1_000_000)
    whole = whole_horizon(today, days)
    return whole if offset == 0 and len(whole.rows) <= limit else replace(whole, rows=whole.rows[offset : offset + limit])


def whole_horizon(today: dt.date, days: int) -> Horizon:
    """The horizon with every row."""
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
            found[v.id].append(_view(v, boxes, p.on, today, bay, p.pk, hours=p.hours, place=p.bay, note=p.note, done=done))
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


def _year_oils(months: Iterable[Month], changes: dict[str, int], days: int) -> tuple[YearOil, ...]:
    """The oils of all months, most first, with a drum weighed against smaller packs at the pace of the time shown."""
    litres: dict[str, float] = defaultdict(float)
    for m in months:
        for need in m.oils:
            litres[need.oil] += need.litres
    packs = {
        o.name: [Pack(p.size_ml, float(p.price)) for p in o.packs.all()]
        for o in Lubricant.objects.filter(name__in=[o for o in litres if o]).prefetch_related("packs")
    }
    found = []
    for oil, total in sorted(litres.items(), key=lambda x: -x[1]):
        times, drum = changes.get(oil, 0), None
        if oil in packs and times:
            try:
                drum = drum_offer(total * 1000 / times, times * 365.25 / days, packs[oil], DRUM_FROM_ML)
            except OutOfRange:
                drum = None
        found.append(YearOil(oil, round(total, 3), times, drum))
    return tuple(found)


@functools.lru_cache(maxsize=20_000)
def _grouped(tasks: tuple[Task, ...], costs: VisitCosts) -> Grouping:
    """Visits of one vehicle: the same tasks give the same visits, whatever moves elsewhere."""
    return group_visits(tasks, costs)


@dataclass
class _Wish:
    """A proposed visit that looks for its day."""

    vehicle: VehicleDue
    boxes: list[CompartmentDue]
    best: int


def _wishes(
    board: DueBoard, planned: dict[int, list[VisitView]], bay: BayPolicy, until: dt.date
) -> tuple[dict[str, _Wish], list[Wanted], int, float]:
    """The visits that each vehicle wants, with what it would take to do each change as it falls due: visits and hours."""
    costs, today = VisitCosts(bay.visit_hours, bay.oil_hours), board.today
    wishes: dict[str, _Wish] = {}
    wanted, alone_visits, alone_hours = [], 0, 0.0
    for v in board.vehicles:
        agreed = {c for p in planned.get(v.id, ()) if not p.done for c in p.compartments}
        boxes = {str(c.id): c for c in v.compartments if c.id not in agreed and c.in_service is None}
        tasks = tuple(_task(c, m.on, today, bay) for c in boxes.values() if (m := _mark(c, today)) and m.on <= until)
        by_key = {t.key: t for t in tasks}
        for k, visit in enumerate(_grouped(tasks, costs).visits):
            chosen, mine = [boxes[key] for key in visit.keys], [by_key[key] for key in visit.keys]
            key = f"{v.id}.{k}"
            wishes[key] = _Wish(v, chosen, visit.day)
            wanted.append(Wanted(key, visit.day, max(t.earliest for t in mine), min(t.latest for t in mine), _hours(chosen, bay)))
        single = [boxes[t.key] for t in tasks] + [c for c in v.compartments if c.id in agreed]
        alone_visits += len(single)
        alone_hours += sum(_hours([c], bay) for c in single)
    return wishes, wanted, alone_visits, alone_hours


def _proposed(wishes: dict[str, _Wish], filled: Filled, today: dt.date, bay: BayPolicy) -> dict[int, list[VisitView]]:
    found: dict[int, list[VisitView]] = defaultdict(list)
    for key, w in wishes.items():
        day, place = filled.days.get(key, w.best), filled.bays.get(key)
        on, problem = today + dt.timedelta(days=day), filled.unfit.get(key, "")
        found[w.vehicle.id].append(_view(w.vehicle, w.boxes, on, today, bay, problem=problem, place=None if place is None else place + 1))
    return found


def _rows(board: DueBoard, proposed: dict[int, list[VisitView]], planned: dict[int, list[VisitView]], until: dt.date) -> list[HorizonRow]:
    asked: dict[int, list[FollowUpView]] = defaultdict(list)
    for f in board.follow_ups:
        asked[f.vehicle_id].append(f)
    rows = []
    for v in board.vehicles:
        marks = sorted((m for c in v.compartments if (m := _mark(c, board.today)) and m.earliest <= until), key=lambda m: m.on)
        looks = [x for x in looks_of(v, asked[v.id], board.today) if x.on <= until] if v.id in asked else []
        if not marks and not planned.get(v.id) and not looks:
            continue
        agreed, left = ride_along(planned.get(v.id, ()), looks)
        offered, alone = ride_along(proposed.get(v.id, ()), left)
        rows.append(HorizonRow(v.id, v.name, v.plate, v.meter, tuple(marks), tuple(offered), tuple(agreed), tuple(alone), v.wants_reading))
    rows.sort(key=lambda r: (min([until, *(m.on for m in r.marks[:1]), *(x.on for x in r.looks[:1])]), r.vehicle))
    return rows


@functools.lru_cache(maxsize=8)
def _horizon_at(today: dt.date, days: int, version: int) -> Horizon:
    until, bay = today + dt.timedelta(days=days), bay_policy()
    board = due_board(today)
    planned = _planned(today, {v.id: v for v in board.vehicles}, bay)
    agreed = [p for visits in planned.values() for p in visits if not p.done]
    rooms = bay_rooms(bay, today, days + bay.late_days, agreed)
    wishes, wanted, alone_visits, alone_hours = _wishes(board, planned, bay, until)
    filled = fill_days(wanted, rooms, [bay.hours_per_day] * bay.bays, 0, days + bay.late_days)
    proposed = _proposed(wishes, filled, today, bay)
    rows = _rows(board, proposed, planned, until)
    offered = [v for visits in proposed.values() for v in visits]
    taken: dict[dt.date, float] = defaultdict(float)
    for v in (*agreed, *(o for o in offered if not o.problem)):
        taken[v.on] += v.hours
    loads = []
    for k in range(days + 1):
        on = today + dt.timedelta(days=k)
        loads.append(DayLoad(on, bay.hours_per_day * bay.bays if is_open(bay, on) else 0.0, round(taken[on], 2)))
    visits = [*agreed, *offered]
    hours, thrown = sum(v.hours for v in visits), sum(v.thrown_ml for v in visits)
    savings = Savings(len(visits), alone_visits, round(hours, 1), round(alone_hours, 1), thrown)
    saved = max(0.0, alone_hours - hours)
    text = f"{savings.visits} visit{'' if savings.visits == 1 else 's'} instead of {savings.alone_visits}, {saved:.1f} h saved"
    unfit = tuple(f"{v.vehicle}, {', '.join(n.lower() for n in v.names)}: {v.problem}" for v in offered if v.problem)
    months = _months(rows, today, until)
    changes: dict[str, int] = defaultdict(int)
    for row in rows:
        oils = {m.compartment_id: m.oil for m in row.marks}
        for v in (*row.planned, *row.proposed):
            if not v.done and not v.problem:
                for c in v.compartments:
                    changes[oils.get(c, "")] += 1
    oils = _year_oils(months, changes, days) if days > 100 else ()
    return Horizon(today, until, tuple(rows), tuple(loads), savings, months, oils, unfit[:40], text, len(rows))


def trial(
    today: dt.date, vehicle_id: int, on: dt.date, compartments: tuple[int, ...], visit_id: int | None = None, bay_asked: int | None = None
) -> VisitView:
    """What a visit on a day would mean; ``problem`` says what speaks against it. Raises Inconsistent for what cannot be.

    ``bay_asked`` from 1; None: the first bay with room.
    """
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
    if bay_asked is not None and not 1 <= bay_asked <= bay.bays:
        raise Inconsistent(f"There is no bay {bay_asked}.", field="bay", value=bay_asked, allowed=f"1 to {bay.bays}")
    hours = _hours(boxes, bay)
    place, problem = _place(on, hours, bay, visit_id, bay_asked)
    view = _view(v, boxes, on, today, bay, visit_id, hours=hours, place=place, problem=problem)
    (view,), _ = ride_along([replace(view, problem="")], looks_of(v, board.follow_ups, today))
    return replace(view, problem=problem)


def _place(on: dt.date, hours: float, bay: BayPolicy, visit_id: int | None, asked: int | None) -> tuple[int | None, str]:
    """The bay for a visit of some hours on a day, and what speaks against it; empty when nothing does."""
    if not is_open(bay, on):
        return None, f"The workshop is closed on {on:%A} {on.day} {on:%B}."
    left = dict.fromkeys(range(1, bay.bays + 1), bay.hours_per_day)
    beside: dict[int, list[str]] = defaultdict(list)
    for p in PlannedVisit.objects.filter(on=on, dropped_at=None).exclude(pk=visit_id).select_related("vehicle"):
        if p.bay in left:
            left[p.bay] -= p.hours
            beside[p.bay].append(p.vehicle.name)
    for k in [asked] if asked else list(left):
        if left[k] >= hours - 1e-6:
            return k, ""
    best = asked or max(left, key=lambda k: left[k])
    names = f" beside {', '.join(beside[best])}" if beside[best] else ""
    where = f"in bay {best} " if bay.bays > 1 else ""
    return None, f"It takes {hours:.1f} h; {max(0.0, left[best]):.1f} h are left {where}on that day{names}."
