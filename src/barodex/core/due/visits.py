"""The fewest visits that do what is due: which compartments of a vehicle go together, and on which day.

Days are whole numbers counted from today; costs are in one unit of the workshop's choice (hours here).
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when they are first used

from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.words import say

EXACT_UP_TO = 12  # tasks of one vehicle solved over subsets; above that by a mixed-integer programme
MOST_TASKS = 60


@dataclass(frozen=True)
class Task:
    """A compartment that falls due: the first day worth it, the day it is due, the last day allowed, what a day early throws away and
    a day late costs, and the oil and access that it may share."""

    key: str
    earliest: int
    due: int
    latest: int
    early_per_day: float
    late_per_day: float = 0.0
    oil: str = ""
    access: str = ""

    def cost_on(self, day: int) -> float:
        """What doing it on a day throws away, or costs for being late."""
        return (self.due - day) * self.early_per_day if day <= self.due else (day - self.due) * self.late_per_day


@dataclass(frozen=True)
class Visit:
    """Tasks done together on a day, what they throw away, and the visit's whole cost."""

    day: int
    keys: tuple[str, ...]
    waste: float
    cost: float


@dataclass(frozen=True)
class Grouping:
    """The cheapest visits in order of days; ``alone`` is what it costs when each is done as it falls due,
    what falls due on one day together."""

    visits: tuple[Visit, ...]
    cost: float
    alone: float
    alone_visits: int


@dataclass(frozen=True)
class VisitCosts:
    """What a visit costs by itself, what opening an oil costs, and what an access costs (undertray, lift), each once a visit."""

    visit: float
    oil: float = 0.0
    access: float = 0.0


def _check(tasks: Sequence[Task], costs: VisitCosts) -> None:
    for name, value in (("visit_cost", costs.visit), ("oil_cost", costs.oil), ("access_cost", costs.access)):
        in_range(name, value, 0, 1e9)
    if len(tasks) > MOST_TASKS:
        raise OutOfRange(
            say("A vehicle has at most {most_tasks} compartments here.", most_tasks=MOST_TASKS), field="tasks", value=len(tasks)
        )
    if len({t.key for t in tasks}) < len(tasks):
        raise Inconsistent(say("Two tasks have one name."), field="tasks", value=[t.key for t in tasks])
    for t in tasks:
        in_range("early_per_day", t.early_per_day, 0, 1e9)
        in_range("late_per_day", t.late_per_day, 0, 1e9)
        if not t.earliest <= t.due or not t.earliest <= t.latest:
            raise Inconsistent(
                say(
                    "The days of {key} are out of order: {earliest}, {due}, {latest}.",
                    key=t.key,
                    earliest=t.earliest,
                    due=t.due,
                    latest=t.latest,
                ),
                field="earliest",
                value=t.earliest,
            )


def _shared(tasks: Sequence[Task], costs: VisitCosts) -> float:
    oils = {t.oil for t in tasks if t.oil}
    access = {t.access for t in tasks if t.access}
    return costs.visit + costs.oil * len(oils) + costs.access * len(access)


def best_day(tasks: Sequence[Task]) -> tuple[int, float] | None:
    """Give the day on which tasks are best done together.

    Parameters
    ----------
    tasks : one or more

    Returns
    -------
    (day, what it throws away and costs for being late), or None where no day suits all

    References
    ----------
    The cost is convex and piecewise linear in the day, so that its least value lies at a due day or at an end of the common window.
    """
    first, last = max(t.earliest for t in tasks), min(t.latest for t in tasks)
    if first > last:
        return None
    days = sorted({first, last, *(t.due for t in tasks if first <= t.due <= last)})
    costs = [sum(t.cost_on(d) for t in tasks) for d in days]
    k = int(np.argmin(costs))
    return days[k], costs[k]


def _by_subsets(tasks: Sequence[Task], costs: VisitCosts) -> list[list[Task]]:
    n = len(tasks)
    whole = (1 << n) - 1
    price = np.full(1 << n, np.inf)
    for mask in range(1, whole + 1):
        chosen = [tasks[k] for k in range(n) if mask >> k & 1]
        found = best_day(chosen)
        if found is not None:
            price[mask] = found[1] + _shared(chosen, costs)
    least = np.full(1 << n, np.inf)
    least[0] = 0.0
    pick = [0] * (1 << n)
    for mask in range(1, whole + 1):
        lowest = mask & -mask
        rest = mask ^ lowest
        sub = rest
        while True:  # every subset that holds the lowest task
            group = sub | lowest
            total = least[mask ^ group] + price[group]
            if total < least[mask] - 1e-12:
                least[mask], pick[mask] = total, group
            if sub == 0:
                break
            sub = (sub - 1) & rest
    groups, left = [], whole
    while left:
        groups.append([tasks[k] for k in range(n) if pick[left] >> k & 1])
        left ^= pick[left]
    return groups


def _by_programme(tasks: Sequence[Task], costs: VisitCosts) -> list[list[Task]]:
    """Days as places of a facility location problem: open a day, put each task on an open day within its window."""
    days = sorted({d for t in tasks for d in (t.earliest, t.due, t.latest)})
    pairs = [(k, j) for k, t in enumerate(tasks) for j, d in enumerate(days) if t.earliest <= d <= t.latest]
    kinds = [(name, value) for name in ("oil", "access") for value in {getattr(t, name) for t in tasks} - {""}]
    shares = [(name, value, j) for name, value in kinds for j in range(len(days))]
    at_day, at_share = len(pairs), len(pairs) + len(days)
    size = at_share + len(shares)
    price = np.zeros(size)
    for p, (k, j) in enumerate(pairs):
        price[p] = tasks[k].cost_on(days[j])
    price[at_day:at_share] = costs.visit
    for s, (name, _, _) in enumerate(shares):
        price[at_share + s] = getattr(costs, name)
    index = {share: s for s, share in enumerate(shares)}
    once = np.zeros((len(tasks), size))
    rows = []
    for p, (k, j) in enumerate(pairs):
        once[k, p] = 1.0
        needed = [
            at_day + j,
            *(at_share + index[name, getattr(tasks[k], name), j] for name in ("oil", "access") if getattr(tasks[k], name)),
        ]
        for column in needed:
            row = np.zeros(size)
            row[p], row[column] = 1.0, -1.0
            rows.append(row)
    best = scipy.optimize
    solved = best.milp(
        price,
        constraints=[best.LinearConstraint(once, 1, 1), best.LinearConstraint(np.array(rows), -np.inf, 0)],
        integrality=np.ones(size),
        bounds=best.Bounds(0, 1),
        options={"mip_rel_gap": 0.0},
    )
    groups: dict[int, list[Task]] = {}
    for p, (k, j) in enumerate(pairs):
        if solved.x[p] > 0.5:
            groups.setdefault(j, []).append(tasks[k])
    return list(groups.values())


def group_visits(tasks: Sequence[Task], costs: VisitCosts) -> Grouping:
    """Group the tasks of one vehicle into visits at the least cost of visits and of life thrown away.

    Parameters
    ----------
    tasks : up to 60, days whole numbers from today
    costs : of a visit, of an oil, of an access, 0 or more

    Returns
    -------
    Grouping; every task stands in one visit, on a day within its window

    Raises
    ------
    Inconsistent : days out of order, or two tasks of one name
    OutOfRange : a negative cost, or too many tasks

    References
    ----------
    Set partition over subsets, exact, up to 12 tasks; above that facility location as a mixed-integer programme (SciPy, HiGHS).
    """
    _check(tasks, costs)
    groups = [] if not tasks else (_by_subsets if len(tasks) <= EXACT_UP_TO else _by_programme)(tasks, costs)
    visits = []
    for group in groups:
        found = best_day(group)
        assert found is not None  # its window is what made it a group
        day, waste = found
        visits.append(Visit(day, tuple(t.key for t in group), waste, waste + _shared(group, costs)))
    visits.sort(key=lambda v: (v.day, v.keys))
    falls = as_they_fall(tasks)
    alone = sum(_shared(group, costs) + sum(t.cost_on(day) for t in group) for day, group in falls.items())
    return Grouping(tuple(visits), sum(v.cost for v in visits), alone, len(falls))


def as_they_fall(tasks: Sequence[Task]) -> dict[int, list[Task]]:
    """Give what is done on which day by one who plans nothing ahead, but does together what falls due together.

    Parameters
    ----------
    tasks : of one vehicle, days whole numbers from today

    Returns
    -------
    dict from the day to its tasks

    References
    ----------
    Common practice: nobody drives a vehicle in twice on one day.
    """
    found: dict[int, list[Task]] = {}
    for t in tasks:
        found.setdefault(max(t.earliest, min(t.latest, t.due)), []).append(t)
    return found


@dataclass(frozen=True)
class BayPolicy:
    """How the workshop works: bays and the hours of each a day, closed weekdays (0 Monday) and days, what a visit and an oil cost in
    hours, and how many days late a change may be.

    First values are common practice.
    """

    hours_per_day: float = 8.0
    closed_weekdays: tuple[int, ...] = (5, 6)
    closed_days: tuple[dt.date, ...] = ()
    visit_hours: float = 0.75
    oil_hours: float = 0.1
    late_days: int = 14
    bays: int = 1


def check_bay(policy: BayPolicy) -> None:
    """Refuse a bay policy that cannot be worked by.

    Parameters
    ----------
    policy : 1 to 40 bays, 0.5 to 24 hours of each a day, weekdays 0 to 6, hours of a visit 0 to 24, late days 0 to 180

    Raises
    ------
    OutOfRange : a figure outside its range
    Inconsistent : every day closed

    References
    ----------
    Common practice.
    """
    in_range("hours_per_day", policy.hours_per_day, 0.5, 24, "h")
    in_range("bays", policy.bays, 1, 40)
    in_range("visit_hours", policy.visit_hours, 0, 24, "h")
    in_range("oil_hours", policy.oil_hours, 0, 24, "h")
    in_range("late_days", policy.late_days, 0, 180, "d")
    for day in policy.closed_weekdays:
        in_range("closed_weekdays", day, 0, 6)
    if len(set(policy.closed_weekdays)) == 7:
        raise Inconsistent(say("Every weekday is closed: nothing could ever be done."), field="closed_weekdays", value=7)


def is_open(policy: BayPolicy, day: dt.date) -> bool:
    """Tell whether the workshop works on a day.

    Parameters
    ----------
    policy : the workshop's
    day : a date

    Returns
    -------
    bool

    References
    ----------
    The calendar.
    """
    return day.weekday() not in policy.closed_weekdays and day not in policy.closed_days


@dataclass(frozen=True)
class Wanted:
    """A visit that looks for a day: its name, the best day, its window, and the bay hours that it takes."""

    key: str
    day: int
    earliest: int
    latest: int
    hours: float


@dataclass(frozen=True)
class Filled:
    """The day and bay (from 0) of each visit, and those that found none, with the reason."""

    days: Mapping[str, int]
    unfit: Mapping[str, str]
    bays: Mapping[str, int]


def fill_days(
    wanted: Sequence[Wanted], hours_of: Mapping[int, Sequence[float]], usual: Sequence[float], first: int = 0, horizon: int = 730
) -> Filled:
    """Put visits into days and bays that have room.

    The rule: those whose last day comes first choose first; each takes its best day, else the nearest earlier day with room from its
    first day on, else the nearest later one up to its last day; on a day the first bay that holds it whole.

    Parameters
    ----------
    wanted : visits, hours above 0
    hours_of : hours of each bay, h, on days that differ from the usual (none or 0: closed)
    usual : hours of each bay, h, on every other day, 0 to 24
    first : the first day that may be used
    horizon : how many days ahead are looked at, at most 3650

    Returns
    -------
    Filled

    Raises
    ------
    OutOfRange : hours outside their range

    References
    ----------
    Earliest due date first: Jackson (1955); the rest is the workshop's common practice.
    """
    for hours in (*usual, *(h for bays in hours_of.values() for h in bays)):
        in_range("usual", hours, 0, 24, "h")
    in_range("horizon", horizon, 1, 3650, "d")
    room: dict[int, list[float]] = {}
    days: dict[str, int] = {}
    bays: dict[str, int] = {}
    unfit: dict[str, str] = {}
    longest = max([0.0, *usual, *(h for bays_of in hours_of.values() for h in bays_of)])
    for w in sorted(wanted, key=lambda v: (v.latest, v.day, v.key)):
        hours = in_range("hours", w.hours, 0.01, 1000, "h")
        start = max(first, w.earliest)
        best = min(max(w.day, start), max(start, w.latest))
        candidates = [*range(best, start - 1, -1), *range(best + 1, min(w.latest, first + horizon) + 1)]
        chosen = next((d for d in candidates if max(room.get(d) or hours_of.get(d, usual), default=0.0) >= hours - 1e-9), None)
        if chosen is None:
            unfit[w.key] = (
                say("It takes {hours:g} h; the longest day has {longest:g} h.", hours=hours, longest=longest)
                if hours > longest
                else say("No day within its window has room.")
            )
            continue
        left = room.setdefault(chosen, list(hours_of.get(chosen, usual)))
        bay = next(k for k, free in enumerate(left) if free >= hours - 1e-9)
        left[bay] -= hours
        days[w.key], bays[w.key] = chosen, bay
    return Filled(days, unfit, bays)
