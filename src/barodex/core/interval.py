"""Oil life and the next due: whichever of distance, hours and time comes first."""

from __future__ import annotations

import calendar
import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass

from .errors import Inconsistent, OutOfRange, in_range

LIMITS = ("distance", "hours", "time")


@dataclass(frozen=True)
class Limits:
    """Interval by duty: ``distance_km`` maps a duty (road, off_road, track…) to km; hours and months or None."""

    distance_km: Mapping[str, float]
    hours: float | None = None
    months: int | None = None

    @property
    def empty(self) -> bool:
        return not self.distance_km and self.hours is None and self.months is None


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
    legs: Mapping[str, float], hours: float | None, since: dt.date, as_of: dt.date, limits: Limits, factor: float = 1.0
) -> LifeUsed:
    """Give the share of oil life used since the last change.

    Parameters
    ----------
    legs : distance run since, km, by duty; a duty without a limit of its own counts as road
    hours : engine hours run since, h; None when not counted
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
    in_range("factor", factor, 0.01, 1.0)
    if as_of < since:
        raise Inconsistent(f"{as_of} lies before the last change of {since}.", field="as_of", value=str(as_of))
    used: dict[str, float] = {}
    if limits.distance_km:
        total = 0.0
        for duty, leg in legs.items():
            interval = limits.distance_km.get(duty, limits.distance_km.get("road", min(limits.distance_km.values())))
            in_range("interval_km", interval, 1, 10_000_000, "km")
            total += in_range("leg_km", leg, 0, 10_000_000, "km") / interval
        used["distance"] = total / factor
    if limits.hours is not None and hours is not None:
        used["hours"] = in_range("hours", hours, 0, 1_000_000, "h") / in_range("interval_h", limits.hours, 0.1, 1_000_000, "h") / factor
    if limits.months is not None:
        span = (due_date(since, limits.months, factor) - since).days
        if span < 1:
            raise OutOfRange("An interval must last at least a day.", field="months", value=limits.months, allowed="1 or more")
        used["time"] = (as_of - since).days / span
    limit = max(used, key=lambda k: used[k]) if used else ""
    return LifeUsed(used, used.get(limit, 0.0), limit)


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
    in_range("distance_km", distance_km, 0, 10_000_000, "km")
    for share in split.values():
        in_range("share", share, 0, 1)
    total = sum(split.values())
    if abs(total - 1) > 1e-6:
        raise Inconsistent(f"The duty shares add up to {total:.0%}, not 100 %.", field="duty", value=total, allowed="100 %")
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
    on: dt.date | None
    earliest: dt.date | None
    latest: dt.date | None
    left: float | None
    at_km: float | None
    at_h: float | None


@dataclass(frozen=True)
class Rate:
    """Use per day with spread, in km or h: P50 ``per_day``, slow ``low`` (P10) and fast ``high`` (P90)."""

    per_day: float
    low: float
    high: float


def _date_at(as_of: dt.date, left: float, per_day: float) -> dt.date | None:
    if per_day <= 0:
        return None
    days = left / per_day
    return as_of + dt.timedelta(days=round(days)) if abs(days) < 36_525 else None


def next_due(
    legs: Mapping[str, float],
    hours: float | None,
    since: dt.date | None,
    as_of: dt.date,
    limits: Limits,
    split: Mapping[str, float],
    rate_km: Rate | None,
    rate_h: Rate | None,
    meter_km: float | None = None,
    meter_h: float | None = None,
    factor: float = 1.0,
) -> Due:
    """Give the next due of a compartment: the earliest of distance, hours and time.

    Parameters
    ----------
    legs, hours, as_of, limits, factor : as :func:`life_used`
    since : date of the last change; None when there is no trace of one: unknown history is due now
    split : duties of the distance to come, shares that add up to 1
    rate_km, rate_h : use per day, km and h; None when not known
    meter_km, meter_h : meters now, km and h, for the reading at which it falls due

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
        return Due("unknown", "unknown", 1.0, as_of, as_of, as_of, None, None, None)
    life = life_used(legs, hours, since, as_of, limits, factor)
    if not life.limit:
        return Due("fine", "none", 0.0, None, None, None, None, None, None)
    candidates: list[tuple[dt.date, dt.date | None, dt.date | None, str, float, float | None, float | None]] = []
    if "distance" in life.by_limit:
        per_km = (
            sum(
                share / limits.distance_km.get(d, limits.distance_km.get("road", min(limits.distance_km.values())))
                for d, share in split.items()
            )
            / factor
        )
        left = (1 - life.by_limit["distance"]) / per_km
        on = _date_at(as_of, left, rate_km.per_day) if rate_km else None
        at = meter_km + left if meter_km is not None else None
        if on and rate_km:
            candidates.append((on, _date_at(as_of, left, rate_km.high), _date_at(as_of, left, rate_km.low), "distance", left, at, None))
    if "hours" in life.by_limit and limits.hours is not None:
        left = (1 - life.by_limit["hours"]) * limits.hours * factor
        on = _date_at(as_of, left, rate_h.per_day) if rate_h else None
        at = meter_h + left if meter_h is not None else None
        if on and rate_h:
            candidates.append((on, _date_at(as_of, left, rate_h.high), _date_at(as_of, left, rate_h.low), "hours", left, None, at))
    if "time" in life.by_limit and limits.months is not None:
        on = due_date(since, limits.months, factor)
        candidates.append((on, on, on, "time", float((on - as_of).days), None, None))
    if not candidates:
        return Due(_state(life.used, None), life.limit, life.used, None, None, None, None, None, None)
    on, early, late, limit, left, at_km, at_h = min(candidates, key=lambda c: c[0])
    if early and late and early > late:
        early, late = late, early
    return Due(_state(life.used, (on - as_of).days), limit, life.used, on, early, late, left, at_km, at_h)


def _state(used: float, days: int | None) -> str:
    if used > 1.0:
        return "overdue"
    if used >= 0.98 or (days is not None and days <= 7):
        return "due"
    if used >= 0.90 or (days is not None and days <= 30):
        return "soon"
    return "fine"
