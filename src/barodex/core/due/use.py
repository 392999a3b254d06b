"""Use per day from meter readings: recent ones weigh more, parked months and seasons are understood."""

from __future__ import annotations

import datetime as dt
import functools
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain

import numpy as np

from barodex.core.due.interval import Ahead, Rate
from barodex.core.due.meter import Meter, MeterReading
from barodex.core.due.season import Season, days_run_up_to, season_share
from barodex.core.quantity.errors import OutOfRange, in_range

# Use when there is only one reading, per day (common practice): vehicle kind to (km, h).
DEFAULT_PER_DAY = {
    "car": (35.0, 0.0),
    "van": (35.0, 0.0),
    "4x4": (35.0, 0.0),
    "truck": (90.0, 0.0),
    "motorcycle": (12.0, 0.0),
    "bicycle": (8.0, 0.0),
    "boat": (0.0, 0.4),
    "snow machine": (15.0, 0.0),
    "bus": (20.0, 0.0),
}
P10 = 1.2815515655446004  # of a normal spread
LEAST_SPREAD = 0.10  # of the rate: no vehicle runs steadier than that (common practice)
PARKED_DAYS, PARKED_SHARE = 28, 0.05  # a leg this long at less than this share of its mean rate stood parked (common practice)
STALE_DAYS = 92  # without a reading for so long, the vehicle is asked for one (common practice)


@dataclass(frozen=True)
class Forecast:
    """Use of a vehicle, in km or h.

    ``rate`` per calendar day, the mean over a year; ``in_use`` per day of its season. ``readings`` carry it, ``is_default``
    when it is only that of its kind. ``since``: the last reading; ``stale_days`` ago; ``wants_reading``: too long.
    ``parked_days`` stood still and are left out of ``in_use``.
    """

    rate: Rate
    readings: int
    is_default: bool
    in_use: Rate
    season: Season | None
    since: dt.date
    stale_days: int
    wants_reading: bool
    parked_days: int

    @functools.cached_property
    def ahead(self) -> Ahead:
        return Ahead(self.in_use, self.since, self.season)

    def date_at(self, run: float) -> tuple[dt.date | None, dt.date | None, dt.date | None]:
        """P10, P50, P90 of the day by which ``run`` (km or h from the last reading) is done."""
        return self.ahead.date_at(run)


@dataclass(frozen=True)
class Line:
    """The meter of a vehicle with its kind, the unit it counts (km or h) and its season."""

    meter: Meter
    kind: str
    unit: str = "km"
    season: Season | None = None


def weighted_slopes(
    age_days: np.ndarray, x: np.ndarray, y: np.ndarray, starts: np.ndarray, half_life_days: float
) -> tuple[np.ndarray, ...]:
    """Fit a line to each of many groups by weighted least squares, recent points weighing more.

    Parameters
    ----------
    age_days : age of each point, days, 0 or less for the past, shape (n,); weights are 2^(age/half-life)
    x, y : where and how much, shape (n,); x in days of use, y in km or h
    starts : index of the first point of each group, shape (groups,), in rising order
    half_life_days : age at which a point weighs half, days, 1 to 10 000

    Returns
    -------
    (slopes, their standard errors), y per x, shape (groups,). NaN where all x of a group are one

    Raises
    ------
    OutOfRange : a half-life outside its range

    References
    ----------
    Weighted least squares: Draper and Smith, Applied Regression Analysis, chapter 9; the weights say how much a reading still
    tells, so the error is the sandwich form, White (1980), with n/(n−2).
    """
    in_range("half_life_days", half_life_days, 1, 10_000, "d")
    counts = np.diff(np.append(starts, len(x)))
    newest = np.maximum.reduceat(age_days, starts)
    weights = np.exp2((age_days - np.repeat(newest, counts)) / half_life_days)
    total = np.add.reduceat(weights, starts)

    def mean(values: np.ndarray) -> np.ndarray:
        return np.repeat(np.add.reduceat(weights * values, starts) / total, counts)

    dx, dy = x - mean(x), y - mean(y)
    with np.errstate(divide="ignore", invalid="ignore"):
        spread = np.add.reduceat(weights * dx**2, starts)
        slopes = np.where(spread > 1e-9, np.add.reduceat(weights * dx * dy, starts) / spread, np.nan)
        residual = dy - np.repeat(np.nan_to_num(slopes), counts) * dx
        meat = np.add.reduceat((weights * residual * dx) ** 2, starts)
        errors = np.where(counts > 2, np.sqrt(meat * counts / np.maximum(counts - 2, 1)) / spread, 0.0)
    return slopes, errors


def forecasts(lines: Sequence[Line], as_of: dt.date, half_life_days: float = 120.0) -> list[Forecast]:
    """Give the use of many vehicles at once; the batch form of :func:`forecast`.

    Parameters
    ----------
    lines : a vehicle each; values in km or h
    as_of : today
    half_life_days : age at which a reading weighs half, days, 1 to 10 000

    Returns
    -------
    list of Forecast, in the order of the lines

    Raises
    ------
    OutOfRange : an unknown kind or a half-life outside its range

    References
    ----------
    As :func:`forecast`.
    """
    today = as_of.toordinal()
    found: list[Forecast | None] = [None] * len(lines)
    at: list[int] = []
    known = [line.meter.days for line in lines]
    for k, line in enumerate(lines):
        if line.kind not in DEFAULT_PER_DAY:
            raise OutOfRange(f"No default use for “{line.kind}”.", field="kind", value=line.kind, allowed=", ".join(DEFAULT_PER_DAY))
        mine = known[k]
        if len(mine) > 1 and mine[0] < mine[-1]:
            at.append(k)
        else:
            found[k] = _by_default(line, as_of)
    if not at:
        return [f for f in found if f is not None]
    starts = np.cumsum([0, *(len(known[k]) for k in at[:-1])])
    days = np.fromiter(chain.from_iterable(known[k] for k in at), dtype=np.float64)
    totals = np.fromiter(chain.from_iterable(lines[k].meter.totals for k in at), dtype=np.float64)
    counts = np.diff(np.append(starts, len(days)))
    ends = starts + counts - 1
    # Legs in which a vehicle stood parked add nothing to its days of use.
    first = np.zeros(len(days), dtype=bool)
    first[starts] = True
    gap, ran = np.diff(days, prepend=days[0]), np.diff(totals, prepend=totals[0])
    gap[first] = ran[first] = 0.0
    usual = np.repeat((totals[ends] - totals[starts]) / (days[ends] - days[starts]), counts)
    parked = (gap >= PARKED_DAYS) & (ran < PARKED_SHARE * usual * gap)
    used = np.where(parked, 0.0, gap)
    for n, k in enumerate(at):
        season = lines[k].season
        if season is not None:
            part = slice(starts[n] + 1, ends[n] + 1)
            used[part] = np.diff(days_run_up_to(season, dt.date.fromordinal(known[k][0]), known[k]))
            parked[part] = False
    x = np.cumsum(used)
    x -= np.repeat(x[starts], counts)
    slopes, errors = weighted_slopes(days - today, x, totals - np.repeat(totals[starts], counts), starts, half_life_days)
    stood = np.add.reduceat(np.where(parked, gap, 0.0), starts)
    calendar_days = days[ends] - days[starts]
    overall = (totals[ends] - totals[starts]) / calendar_days
    for n, k in enumerate(at):
        slope = float(slopes[n]) if np.isfinite(slopes[n]) else float(overall[n])
        found[k] = _fitted(
            lines[k], max(slope, 0.0), float(errors[n]), int(stood[n]), 1.0 - float(stood[n]) / float(calendar_days[n]), today
        )
    return [f for f in found if f is not None]


def _fitted(line: Line, slope: float, error: float, stood: int, share_in_use: float, today: int) -> Forecast:
    """The forecast of one vehicle from its slope, km or h per day of use, and the slope's error."""
    stale = today - int(line.meter.days[-1])
    # What a rate was does not say what it will stay: without readings the spread grows (common practice).
    half = P10 * max(error, slope * LEAST_SPREAD / P10) * (1 + stale / STALE_DAYS) ** 0.5
    low = max(min(slope - half, slope * share_in_use), slope * 0.2)
    in_use = Rate(slope, low, slope + half)
    share = season_share(line.season) if line.season is not None else share_in_use
    rate = Rate(slope * share, low * share, in_use.high * share)
    return Forecast(
        rate=rate,
        readings=line.meter.count,
        is_default=False,
        in_use=in_use,
        season=line.season,
        since=dt.date.fromordinal(line.meter.days[-1]),
        stale_days=stale,
        wants_reading=stale > STALE_DAYS,
        parked_days=stood,
    )


def _by_default(line: Line, as_of: dt.date) -> Forecast:
    per_day = DEFAULT_PER_DAY[line.kind][0 if line.unit == "km" else 1]
    in_use, share = Rate(per_day, per_day * 0.5, per_day * 2.0), season_share(line.season)
    count, since = line.meter.count, line.meter.last_on or as_of
    stale = (as_of - since).days
    rate = Rate(per_day * share, in_use.low * share, in_use.high * share)
    return Forecast(
        rate=rate,
        readings=count,
        is_default=True,
        in_use=in_use,
        season=line.season,
        since=since,
        stale_days=stale,
        wants_reading=not count or stale > STALE_DAYS,
        parked_days=0,
    )


def forecast(
    readings: Sequence[MeterReading],
    as_of: dt.date,
    kind: str,
    unit: str = "km",
    half_life_days: float = 120.0,
    season: Season | None = None,
) -> Forecast:
    """Give the rate of use, recent readings weighing more.

    Weighted least squares of the running total over days of use, weights 2^(−age/half-life). Days out of season, and
    legs of four weeks and more in which it stood parked, are no days of use.

    Parameters
    ----------
    readings : in order of date; values in ``unit``
    as_of : today
    kind : vehicle kind, for the default rate when there are fewer than two readings on different days
    unit : km or h
    half_life_days : age at which a reading weighs half, days, 1 to 10 000
    season : when it runs; None for all year

    Returns
    -------
    Forecast; rates in ``unit`` per day, P10 and P90 from the slope's standard error, at least ±10 %, wider the longer there
    was no reading, and down to the rate with its parked time counted

    Raises
    ------
    OutOfRange : an unknown kind or a half-life outside its range

    References
    ----------
    As :func:`weighted_slopes`. Default rates, parked legs and the growth of the spread: common practice.
    """
    return forecasts([Line(Meter.of(readings, as_of), kind, unit, season)], as_of, half_life_days)[0]
