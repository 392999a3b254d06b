"""The due horizon: when each compartment falls due, the visits that gather them, what was agreed, and the oil of the months ahead."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace

from barodex.book.consequences import ConsequenceView
from barodex.core.due.visits import BayPolicy, Filled, Grouping, Task, VisitCosts, Wanted, as_they_fall, fill_days, group_visits, is_open
from barodex.core.ledger.purchase import Drum, Pack, drum_offer
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, percent
from barodex.core.words import say
from barodex.memory.kept import keep
from barodex.memory.versions import newest
from barodex.plan.visit import (
    EARLY_SHARE,
    MOST_EARLY_DAYS,
    WORTH_HOURS_PER_LITRE,
    Look,
    Mark,
    VisitView,
    hours_of,
    looks_of,
    mark_of,
    ride_along,
    task_of,
    visit_view,
)
from barodex.shelf.models import Lubricant
from barodex.workshop.bay import bay_policy

from .models import PlannedVisit
from .queries import CompartmentDue, DueBoard, VehicleDue, due_board

MOST_DAYS = 400
MOST_ROWS = 500
DRUM_FROM_ML = 15_000


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
    working: Working


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
    bays: int


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
        raise Inconsistent(say("The horizon shows 7 to {most_days} days.", most_days=MOST_DAYS), field="days", value=days)
    in_range("limit", limit, 1, MOST_ROWS)
    in_range("offset", offset, 0, 1_000_000)
    whole = whole_horizon(today, days)
    return whole if offset == 0 and len(whole.rows) <= limit else replace(whole, rows=whole.rows[offset : offset + limit])


def whole_horizon(today: dt.date, days: int) -> Horizon:
    """The horizon with every row."""
    return _horizon_at(today, days, newest())


def _planned(today: dt.date, by_vehicle: dict[int, VehicleDue], bay: BayPolicy) -> dict[int, list[VisitView]]:
    found: dict[int, list[VisitView]] = defaultdict(list)
    for p in PlannedVisit.objects.filter(dropped_at=None, vehicle__retired_on=None).prefetch_related("compartments", "technician"):
        v = by_vehicle.get(p.vehicle_id)
        if v is None:
            continue
        ids = {c.pk for c in p.compartments.all()}
        boxes = [c for c in v.compartments if c.id in ids]
        made = p.at.date()
        done = bool(boxes) and all(c.last_on is not None and c.last_on >= made for c in boxes)
        if not done or p.on >= today:
            who = {"technician_id": p.technician_id, "technician": p.technician.shown_name if p.technician else ""}
            found[v.id].append(visit_view(v, boxes, p.on, today, bay, p.pk, hours=p.hours, place=p.bay, note=p.note, done=done, **who))
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


def _working(bay: BayPolicy) -> Working:
    """How the visits came about."""
    inputs = (
        (say("a visit itself"), f"{bay.visit_hours:g} h"),
        (say("each oil in it"), f"{bay.oil_hours:g} h"),
        (
            say("oil thrown away early"),
            say(
                "{worth_hours_per_litre:g} h a litre, and the work of the change, by the share of life left",
                worth_hours_per_litre=WORTH_HOURS_PER_LITRE,
            ),
        ),
        (
            say("a change may come early by"),
            say(
                "{early_share} of its interval, at most {most_early_days} days",
                early_share=percent(EARLY_SHARE),
                most_early_days=MOST_EARLY_DAYS,
            ),
        ),
        (say("or late by"), say("{late_days} days, a day late at twelve times the cost of a day early", late_days=bay.late_days)),
        (
            "bays",
            say(
                "{bays} of {hours_per_day:g} h a day; those whose last day comes first choose first",
                bays=bay.bays,
                hours_per_day=bay.hours_per_day,
            ),
        ),
    )
    return Working(
        "for each vehicle the least Σ hours of its visits + Σ cost of days early or late, over every way to group its changes",
        inputs,
        f"exact over all subsets up to 12 changes, above that a mixed-integer programme; days: Jackson (1955); figures: {COMMON_PRACTICE}",
    )


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


@keep("visits", 20_000)
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
    """The visits that each vehicle wants, with what it would take to do each change as it falls due, those of one day together: visits and hours."""
    costs, today = VisitCosts(bay.visit_hours, bay.oil_hours), board.today
    wishes: dict[str, _Wish] = {}
    wanted, alone_visits, alone_hours = [], 0, 0.0
    for v in board.vehicles:
        agreed = {c for p in planned.get(v.id, ()) if not p.done for c in p.compartments}
        boxes = {str(c.id): c for c in v.compartments if c.id not in agreed and c.in_service is None}
        tasks = tuple(task_of(c, m.on, today, bay) for c in boxes.values() if (m := mark_of(c, today)) and m.on <= until)
        by_key = {t.key: t for t in tasks}
        for k, visit in enumerate(_grouped(tasks, costs).visits):
            chosen, mine = [boxes[key] for key in visit.keys], [by_key[key] for key in visit.keys]
            key = f"{v.id}.{k}"
            wishes[key] = _Wish(v, chosen, visit.day)
            wanted.append(Wanted(key, visit.day, max(t.earliest for t in mine), min(t.latest for t in mine), hours_of(chosen, bay)))
        held = [c for c in v.compartments if c.id in agreed]
        falls = as_they_fall([*tasks, *(task_of(c, m.on if (m := mark_of(c, today)) else today, today, bay) for c in held)])
        every = boxes | {str(c.id): c for c in held}
        alone_visits += len(falls)
        alone_hours += sum(hours_of([every[t.key] for t in group], bay) for group in falls.values())
    return wishes, wanted, alone_visits, alone_hours


def _proposed(wishes: dict[str, _Wish], filled: Filled, today: dt.date, bay: BayPolicy) -> dict[int, list[VisitView]]:
    found: dict[int, list[VisitView]] = defaultdict(list)
    for key, w in wishes.items():
        day, place = filled.days.get(key, w.best), filled.bays.get(key)
        on, problem = today + dt.timedelta(days=day), filled.unfit.get(key, "")
        found[w.vehicle.id].append(
            visit_view(w.vehicle, w.boxes, on, today, bay, problem=problem, place=None if place is None else place + 1)
        )
    return found


def _rows(board: DueBoard, proposed: dict[int, list[VisitView]], planned: dict[int, list[VisitView]], until: dt.date) -> list[HorizonRow]:
    asked: dict[int, list[ConsequenceView]] = defaultdict(list)
    for f in board.consequences:
        asked[f.vehicle_id].append(f)
    rows = []
    for v in board.vehicles:
        marks = sorted((m for c in v.compartments if (m := mark_of(c, board.today)) and m.earliest <= until), key=lambda m: m.on)
        looks = [x for x in looks_of(v, asked[v.id], board.today) if x.on <= until] if v.id in asked else []
        if not marks and not planned.get(v.id) and not looks:
            continue
        agreed, left = ride_along(planned.get(v.id, ()), looks)
        offered, alone = ride_along(proposed.get(v.id, ()), left)
        rows.append(
            HorizonRow(
                vehicle_id=v.id,
                vehicle=v.name,
                plate=v.plate,
                meter=v.meter,
                marks=tuple(marks),
                proposed=tuple(offered),
                planned=tuple(agreed),
                looks=tuple(alone),
                wants_reading=v.wants_reading,
            )
        )
    rows.sort(key=lambda r: (min([until, *(m.on for m in r.marks[:1]), *(x.on for x in r.looks[:1])]), r.vehicle))
    return rows


@keep("horizon", 8)
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
    savings = Savings(len(visits), alone_visits, round(hours, 1), round(alone_hours, 1), thrown, _working(bay))
    saved = max(0.0, alone_hours - hours)
    said = say("{visits} visit", visits=savings.visits) if savings.visits == 1 else say("{visits} visits", visits=savings.visits)
    nothing = savings.visits == savings.alone_visits and saved < 0.05
    text = (
        say("{said}, as it falls due", said=said)
        if nothing
        else say("{said} instead of {alone_visits}, {saved:.1f} h saved", said=said, alone_visits=savings.alone_visits, saved=saved)
    )
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
    return Horizon(
        today=today,
        until=until,
        rows=tuple(rows),
        loads=tuple(loads),
        savings=savings,
        months=months,
        oils=oils,
        unfit=unfit[:40],
        text=text,
        matching=len(rows),
        bays=bay.bays,
    )
