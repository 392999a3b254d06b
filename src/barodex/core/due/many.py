"""The next due of many compartments at once: the batch form of :func:`barodex.core.due.interval.next_due` for the plain ones."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from math import isnan
from typing import NamedTuple

import numpy as np

from barodex.core.due.ahead import A_CENTURY, Ahead, spread_factors
from barodex.core.due.interval import DUE_DAYS, DUE_LIFE, SOON_DAYS, SOON_LIFE, Due, Limits, due_date
from barodex.core.due.season import Season, days_after
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.words import say

_NONE = float("nan")


class Plain(NamedTuple):
    """A compartment whose oil ages by one meter and by time alone: it hangs on no occasion.

    ``since``: the last change; ``used``: share of the meter's limit that is run, NaN without one; ``per_unit``: share that a km or h to
    come takes; ``by_time``: the day of the time limit as an ordinal, NaN without one; ``ahead``: use to come, of which ``beyond`` is run
    since the last reading, and ``meter_now``, km or h; ``by_km``: which of the two.
    """

    since: dt.date
    used: float
    per_unit: float
    by_time: float
    ahead: Ahead
    beyond: float
    meter_now: float
    by_km: bool


def plain(
    legs: Mapping[str, float] | None,
    since: dt.date,
    limits: Limits,
    split: Mapping[str, float],
    factor: float,
    *,
    ahead: Ahead,
    beyond: float,
    meter_now: float | None,
    by_km: bool,
) -> Plain:
    """Give what the due of a plain compartment is told from.

    Parameters
    ----------
    legs : run since the last change by duty, km or h; None without a reading
    since, limits, split, factor : as :func:`barodex.core.due.interval.next_due`
    ahead : use to come, km or h
    beyond : run from the last reading to today, km or h
    meter_now : km or h; None unknown
    by_km : whether the meter counts km

    Returns
    -------
    Plain

    Raises
    ------
    OutOfRange : a negative leg, an interval of zero, a factor outside its range

    References
    ----------
    As :func:`barodex.core.due.interval.life_used`.
    """
    used = per_unit = _NONE
    if legs is not None and (limits.distance_km if by_km else limits.hours is not None):
        interval_of = limits.of_duty if by_km else limits.hours_of
        total = 0.0
        for duty, leg in legs.items():
            interval = interval_of(duty)
            if not (0.1 <= interval <= 10_000_000 and 0 <= leg <= 10_000_000):
                in_range("interval", interval, 0.1, 10_000_000)
                in_range("leg", leg, 0, 10_000_000)
            total += leg / interval
        if not 0.01 <= factor <= 1.0:
            in_range("factor", factor, 0.01, 1.0)
        used, per_unit = total / factor, sum([share / interval_of(duty) for duty, share in split.items()]) / factor
    by_time = _NONE if limits.months is None else float(due_date(since, limits.months, factor).toordinal())
    return Plain(since, used, per_unit, by_time, ahead, beyond, meter_now=_NONE if meter_now is None else meter_now, by_km=by_km)


def next_dues(rows: Sequence[Plain], as_of: dt.date) -> list[Due]:
    """Give the next due of each of many plain compartments.

    Parameters
    ----------
    rows : from :func:`plain`; km or h, days
    as_of : today

    Returns
    -------
    list of Due, in the order of the rows; each what :func:`barodex.core.due.interval.next_due` gives for it alone

    Raises
    ------
    Inconsistent : ``as_of`` before a last change
    OutOfRange : a time limit of no day

    References
    ----------
    As :func:`barodex.core.due.interval.next_due`.
    """
    if not rows:
        return []
    today = as_of.toordinal()
    table = np.array(
        [
            (
                r.since.toordinal(),
                r.used,
                r.per_unit,
                r.by_time,
                r.ahead.rate.per_day,
                r.ahead.spread.rate,
                r.ahead.spread.noise,
                r.ahead.spread.drift,
                r.ahead.spread.rest,
                r.ahead.since.toordinal(),
                r.beyond,
                r.meter_now,
            )
            for r in rows
        ],
        dtype=np.float64,
    ).T
    since, life, per_unit, by_time, per_day, known, noise, drift, rest, read_on, beyond, meter_now = table
    if (since > today).any():
        first_wrong = rows[int(np.argmax(since > today))].since
        raise Inconsistent(
            say("{as_of} lies before the last change of {first_wrong}.", as_of=as_of, first_wrong=first_wrong),
            field="as_of",
            value=str(as_of),
        )
    if (by_time - since < 1).any():
        raise OutOfRange(say("An interval must last at least a day."), field="months", value=0, allowed="1 or more")
    with np.errstate(divide="ignore", invalid="ignore"):
        left = (1.0 - life) / per_unit
        ahead = np.where(per_day > 0, (beyond + left) / per_day + rest, np.inf)
        wide = spread_factors(known, noise, drift, ahead)
        spans = (ahead, ahead / wide, ahead * wide)
        on, early, late = (_day(read_on, span) for span in spans)
        for season, at in _by_season(rows).items():
            for day, span in zip((on, early, late), spans, strict=True):
                day[at] = days_after(season, read_on[at], span[at])
        early, late = (np.where(np.isnan(on), np.nan, spread) for spread in (early, late))  # a limit without its day has no spread
        used = np.fmax(np.fmax(life, (today - since) / (by_time - since)), 0.0)
        time_first = np.isnan(on) | (by_time < on)  # where both fall on one day the meter is named
        first = np.maximum(np.fmin(on, by_time), since)
        early = np.maximum(np.fmin(np.fmin(early, by_time), first), since)
        late = np.maximum(np.fmin(late, by_time), first)
        days = first - today
        states = np.select(
            [used > 1.0, (used >= DUE_LIFE) | (days <= DUE_DAYS), (used >= SOON_LIFE) | (days <= SOON_DAYS)],
            ["overdue", "due", "soon"],
            "fine",
        )
        at_meter = np.where(time_first, np.nan, meter_now + left)
        left = np.where(time_first, by_time - today, left)
    columns = (c.tolist() for c in (states, used, time_first, first, early, late, left, at_meter))
    return [_due(row, found) for row, found in zip(rows, zip(*columns, strict=True), strict=True)]


def _by_season(rows: Sequence[Plain]) -> dict[Season, list[int]]:
    """The places of the rows that run in a season only."""
    found: dict[Season, list[int]] = {}
    for k, row in enumerate(rows):
        if row.ahead.season is not None:
            found.setdefault(row.ahead.season, []).append(k)
    return found


def _day(start: np.ndarray, days: np.ndarray) -> np.ndarray:
    """The day so many days on, as an ordinal; NaN: never, or not in this century."""
    return np.where(np.abs(days) < A_CENTURY, start + np.rint(days), np.nan)


def _due(row: Plain, found: tuple[str, float, bool, float, float, float, float, float]) -> Due:
    """The due of a row from its columns; NaN is what cannot be told."""
    state, used, time_first, first, early, late, left, at_meter = found
    on_meter = "distance" if row.by_km else "hours"
    if isnan(row.used) and isnan(row.by_time):
        return Due("fine", "none", 0.0)
    if isnan(first):
        return Due(state, on_meter, used)
    at, day = None if isnan(at_meter) else at_meter, dt.date.fromordinal
    by_km, by_h = (at, None) if row.by_km else (None, at)
    limit, last = "time" if time_first else on_meter, None if isnan(late) else day(int(late))
    return Due(state, limit, used, day(int(first)), day(int(early)), last, left, at_km=by_km, at_h=by_h)
