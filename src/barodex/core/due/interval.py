"""Oil life and the next due: whichever of distance, hours and time comes first."""

from __future__ import annotations

import calendar
import datetime as dt
import functools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from barodex.core.due.ahead import Ahead
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.words import say

LIMITS = ("distance", "hours", "time", "counter", "engine oil", "season", "finding", "finding-run")
ON_METER = ("distance", "hours", "finding-run")  # the limits of which what is left is told in km or h
LIMIT_WORDS = {"finding": say("what was found"), "finding-run": say("what was found")}  # where the name alone does not say it
MOST_KM = 10_000_000
SOON_LIFE, DUE_LIFE, SOON_DAYS, DUE_DAYS = 0.90, 0.98, 30, 7  # common practice


@dataclass(frozen=True)
class Limits:
    """Interval by duty: ``distance_km`` maps a duty (road, off_road, track…) to km; hours and months or None.

    ``hours`` is the interval of ordinary hours; a duty in ``hour_factors`` has that share of it.
    """

    distance_km: Mapping[str, float]
    hours: float | None = None
    months: int | None = None
    hour_factors: Mapping[str, float] = field(default_factory=dict)

    def of_duty(self, duty: str) -> float:
        """The distance of a duty, km: its own, else that of the road, else the shortest."""
        found = self.distance_km.get(duty)
        return found if found is not None else self.distance_km.get("road") or min(self.distance_km.values())

    def hours_of(self, duty: str) -> float:
        """The hours of a duty."""
        return (self.hours or 0.0) * self.hour_factors.get(duty, 1.0)


@dataclass(frozen=True)
class LifeUsed:
    """Share of life used per limit (1 = due), the largest of them, and which limit that is ("" when none is set)."""

    by_limit: Mapping[str, float]
    used: float
    limit: str


def add_months(start: dt.date, months: float) -> dt.date:
    """Add calendar months; the day is kept, or falls back to the last of the month. A half month counts 15 days.

    Parameters
    ----------
    start : a date
    months : 0 to 1200, in steps of a half

    Returns
    -------
    date; 31 January plus 1 month is 28 or 29 February

    Raises
    ------
    OutOfRange : outside 0 to 1200

    References
    ----------
    Gregorian calendar; the same rule as ``dateutil.relativedelta``.
    """
    in_range("months", months, 0, 1200)
    whole = int(months)
    index = start.year * 12 + start.month - 1 + whole
    year, month = divmod(index, 12)
    day = min(start.day, calendar.monthrange(year, month + 1)[1])
    return dt.date(year, month + 1, day) + dt.timedelta(days=15 if months - whole >= 0.5 else 0)


def life_used(
    legs: Mapping[str, float],
    hours: float | Mapping[str, float] | None,
    since: dt.date,
    as_of: dt.date,
    limits: Limits,
    factor: float = 1.0,
) -> LifeUsed:
    """Give the share of oil life used since the last change.

    Parameters
    ----------
    legs : distance run since, km, by duty; a duty without a limit of its own counts as road
    hours : engine hours run since, h, all in all or by duty; None when not counted
    since, as_of : date of the last change and today
    limits : the interval
    factor : shortens the whole interval after a finding, above 0 to 1

    Returns
    -------
    LifeUsed; distance adds up as Σ legᵢ / intervalᵢ

    Raises
    ------
    OutOfRange : a negative leg, an interval of zero, a factor outside its range
    Inconsistent : ``as_of`` before ``since``

    References
    ----------
    Palmgren (1924) and Miner (1945), linear damage; the largest of the limits decides, common practice.
    """
    # Tens of thousands of compartments are told at once: what lies in its range is not handed on to be looked at again.
    if not 0.01 <= factor <= 1.0:
        in_range("factor", factor, 0.01, 1.0)
    if as_of < since:
        raise Inconsistent(
            say("{as_of} lies before the last change of {since}.", as_of=as_of, since=since), field="as_of", value=str(as_of)
        )
    used: dict[str, float] = {}
    if limits.distance_km:
        total = 0.0
        for duty, leg in legs.items():
            interval = limits.of_duty(duty)
            if not (1 <= interval <= MOST_KM and 0 <= leg <= MOST_KM):
                in_range("interval_km", interval, 1, MOST_KM, "km")
                in_range("leg_km", leg, 0, MOST_KM, "km")
            total += leg / interval
        used["distance"] = total / factor
    if limits.hours is not None and hours is not None:
        by_duty = hours if isinstance(hours, Mapping) else {"road": hours}
        worn = 0.0
        for duty, leg in by_duty.items():
            worn += in_range("hours", leg, 0, 1_000_000, "h") / in_range("interval_h", limits.hours_of(duty), 0.1, 1_000_000, "h")
        used["hours"] = worn / factor
    if limits.months is not None:
        span = (due_date(since, limits.months, factor) - since).days
        if span < 1:
            raise OutOfRange(say("An interval must last at least a day."), field="months", value=limits.months, allowed="1 or more")
        used["time"] = (as_of - since).days / span
    limit = max(used, key=lambda k: used[k]) if used else ""
    return LifeUsed(used, used.get(limit, 0.0), limit)


@functools.lru_cache(maxsize=65_536)
def due_date(since: dt.date, months: int, factor: float = 1.0) -> dt.date:
    """Give the date at which a time limit is reached.

    Parameters
    ----------
    since : date of the last change
    months : interval, 1 to 1200
    factor : shortens it after a finding, above 0 to 1

    Returns
    -------
    date; months are calendar months, a shortened interval is rounded to half months

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    As :func:`add_months`.
    """
    in_range("months", months, 1, 1200)
    in_range("factor", factor, 0.01, 1.0)
    return add_months(since, months if factor == 1.0 else max(0.5, round(months * factor * 2) / 2))


_ROAD = {"road": 1.0}


def leg_mix(split: Mapping[str, float], distance_km: float) -> dict[str, float]:
    """Spread a distance over duties by the vehicle's usual split.

    Parameters
    ----------
    split : duty to share, each 0 to 1, together 1
    distance_km : distance to spread, km

    Returns
    -------
    dict of duty to km

    Raises
    ------
    OutOfRange : a share outside 0 to 1, or a negative distance
    Inconsistent : shares that do not add up to 1

    References
    ----------
    Arithmetic.
    """
    if not 0 <= distance_km <= MOST_KM:
        in_range("distance_km", distance_km, 0, MOST_KM, "km")
    total = 0.0
    for share in split.values():
        if not 0 <= share <= 1:
            in_range("share", share, 0, 1)
        total += share
    if abs(total - 1) > 1e-6:
        raise Inconsistent(
            say("The duty shares add up to {total:.0%}, not 100 %.", total=total), field="duty", value=total, allowed="100 %"
        )
    return {duty: share * distance_km for duty, share in split.items()}


@dataclass(frozen=True)
class Due:
    """When the next change falls.

    ``limit`` says which of distance, hours, time comes first ("unknown" without history, "none" without any limit);
    ``on`` the date at the present rate of use with ``earliest`` and ``latest`` (P10, P90); ``left`` what remains on that
    limit, in its unit; ``at_km`` / ``at_h`` the meter reading at which it falls; ``state`` fine, soon, due, overdue, unknown.
    """

    state: str
    limit: str
    used: float
    on: dt.date | None = None
    earliest: dt.date | None = None
    latest: dt.date | None = None
    left: float | None = None
    at_km: float | None = None
    at_h: float | None = None


@dataclass(frozen=True)
class Occasion:
    """A day on which the change falls due whatever the oil has run: with the engine oil, before the season, by a counter.

    ``limit`` names it, ``used`` is the share of the way there, with P10 and P90 of the day; ``left`` what remains of it on the meter,
    km or h, where the meter decides.
    """

    limit: str
    used: float
    on: dt.date
    earliest: dt.date
    latest: dt.date
    left: float | None = None


def next_due(
    legs: Mapping[str, float],
    hours: float | Mapping[str, float] | None,
    since: dt.date | None,
    as_of: dt.date,
    limits: Limits,
    split: Mapping[str, float],
    *,
    ahead_km: Ahead | None = None,
    ahead_h: Ahead | None = None,
    meter_km: float | None = None,
    meter_h: float | None = None,
    factor: float = 1.0,
    occasions: tuple[Occasion, ...] = (),
) -> Due:
    """Give the next due of a compartment: the earliest of distance, hours, time, and the occasions it hangs on.

    Parameters
    ----------
    legs, hours, as_of, limits, factor : as :func:`life_used`
    since : date of the last change; None when there is no trace of one: unknown history is due now
    split : duties of the distance or hours to come, shares that add up to 1
    ahead_km, ahead_h : use to come, km and h; None when not known
    meter_km, meter_h : meters now, km and h, for the reading at which it falls due
    occasions : linked changes, the season, a counter

    Returns
    -------
    Due. States: soon from 0.90 of life or within 30 days, due from 0.98 or within 7 days, overdue above 1.0

    Raises
    ------
    OutOfRange, Inconsistent : as :func:`life_used` and :func:`leg_mix`

    References
    ----------
    Linear damage as :func:`life_used`; thresholds common practice.
    """
    if since is None:
        return Due(state="unknown", limit="unknown", used=1.0, on=as_of, earliest=as_of, latest=as_of)
    life = life_used(legs, hours, since, as_of, limits, factor)
    if not life.limit and not occasions:
        return Due(state="fine", limit="none", used=0.0)
    meters = (meter_km, meter_h)
    found = list(_by_limits(life, limits, since, as_of, split=split, ahead_km=ahead_km, ahead_h=ahead_h, meters=meters, factor=factor))
    found += [_by_occasion(e, as_of, meter_km, meter_h) for e in occasions]
    used = max([life.used, *(e.used for e in occasions)])
    dated = [f for f in found if f.on is not None]
    if not dated:
        return Due(state=_state(used, None), limit=life.limit, used=used)
    soonest = min(dated, key=lambda f: f.on or since)
    # The change falls due by whichever comes first: none of the others' days can lie before the soonest of them.
    early = min((f.early for f in dated if f.early is not None), default=None)
    late = min((f.late for f in dated if f.late is not None), default=None)
    # However slowly it is used now, nothing fell due before the change from which it is counted.
    first = max(soonest.on or since, since)
    early = first if early is None or early > first else max(early, since)
    late = first if late is not None and late < first else late
    state = _state(used, (first - as_of).days)
    return Due(
        state=state,
        limit=soonest.limit,
        used=used,
        on=first,
        earliest=early,
        latest=late,
        left=soonest.left,
        at_km=soonest.at_km,
        at_h=soonest.at_h,
    )


@dataclass(frozen=True)
class _By:
    """When one limit alone is reached: the day with its P10 and P90, what is left to it, and the meter then, km or h."""

    on: dt.date | None
    early: dt.date | None
    late: dt.date | None
    limit: str
    left: float
    at_km: float | None = None
    at_h: float | None = None


def _by_limits(
    life: LifeUsed,
    limits: Limits,
    since: dt.date,
    as_of: dt.date,
    *,
    split: Mapping[str, float],
    ahead_km: Ahead | None,
    ahead_h: Ahead | None,
    meters: tuple[float | None, float | None],
    factor: float,
) -> Iterator[_By]:
    """Each limit of the schedule, of which life was used."""
    meter_km, meter_h = meters
    if "distance" in life.by_limit and ahead_km:
        per_km = sum(share / limits.of_duty(d) for d, share in split.items()) / factor
        left = (1 - life.by_limit["distance"]) / per_km
        early, on, late = ahead_km.date_at(ahead_km.run_by(as_of) + left)
        yield _By(on, early, late, "distance", left, None if meter_km is None else meter_km + left)
    if "hours" in life.by_limit and ahead_h:
        per_h = sum(share / limits.hours_of(d) for d, share in split.items()) / factor
        left = (1 - life.by_limit["hours"]) / per_h
        early, on, late = ahead_h.date_at(ahead_h.run_by(as_of) + left)
        yield _By(on, early, late, "hours", left, None, None if meter_h is None else meter_h + left)
    if "time" in life.by_limit and limits.months is not None:
        day = due_date(since, limits.months, factor)
        yield _By(day, day, day, "time", float((day - as_of).days))


def _by_occasion(e: Occasion, as_of: dt.date, meter_km: float | None, meter_h: float | None) -> _By:
    """An event that it hangs on, by its day or by what is left to run."""
    if e.left is None:
        return _By(e.on, e.earliest, e.latest, e.limit, float((e.on - as_of).days))
    at_km = None if meter_km is None else meter_km + e.left
    at_h = None if meter_h is None else meter_h + e.left
    return _By(e.on, e.earliest, e.latest, e.limit, e.left, at_km, at_h)


def _state(used: float, days: int | None) -> str:
    if used > 1.0:
        return "overdue"
    if used >= DUE_LIFE or (days is not None and days <= DUE_DAYS):
        return "due"
    if used >= SOON_LIFE or (days is not None and days <= SOON_DAYS):
        return "soon"
    return "fine"
