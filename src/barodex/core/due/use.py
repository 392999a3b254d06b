"""Use per day from meter readings: recent ones weigh more, slips are refused, swaps, parked months and seasons are understood."""

from __future__ import annotations

import datetime as dt
import functools
from bisect import bisect_right
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from barodex.core.due.interval import Ahead, Rate, leg_mix
from barodex.core.due.season import Season, days_run, season_share
from barodex.core.quantity.errors import OutOfRange, in_range
from barodex.core.quantity.working import grouped

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
READ_TO = {"km": 0.9, "h": 0.06}  # how finely a meter is read: half of a mile, half of a tenth of an hour (common practice)
MOST_PER_DAY = {"km": 2000.0, "h": 24.0}
P10 = 1.2815515655446004  # of a normal spread
LEAST_SPREAD = 0.10  # of the rate: no vehicle runs steadier than that (common practice)
PARKED_DAYS, PARKED_SHARE = 28, 0.05  # a leg this long at less than this share of its mean rate stood parked (common practice)
STALE_DAYS = 92  # without a reading for so long, the vehicle is asked for one (common practice)
KM_PER_MILE = 1.609344  # NIST SP 811, appendix B


class MeterReading(NamedTuple):
    """A meter value on a day; ``swap``: the first of a new or reset meter. ``duty``: shares of the leg that ends here; None: as usual."""

    on: dt.date
    value: float
    swap: bool = False
    duty: Mapping[str, float] | None = None


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


class Meter:
    """The readings of a vehicle up to a day, ready to be asked many times what was run since an event.

    By columns: ``days`` as ordinals in rising order, ``values`` in km or h; ``swaps`` are the places of readings that begin a
    new meter, ``duties`` the shares of the legs that end at a place, where they were noted.
    """

    def __init__(
        self,
        days: Sequence[int],
        values: Sequence[float],
        as_of: dt.date,
        swaps: Collection[int] = (),
        duties: Mapping[int, Mapping[str, float]] | None = None,
    ) -> None:
        known = bisect_right(days, as_of.toordinal())
        self.days, self.values = (days, values) if known == len(days) else (days[:known], values[:known])
        self.totals = _across_swaps(self.values, swaps) if swaps else self.values
        self.duties = {k: d for k, d in (duties or {}).items() if k < known}
        # Of legs whose duty was noted: what was run in all of them up to each reading, and by duty.
        self.noted: list[float] | None = None
        self.by_duty: dict[str, list[float]] = {}
        if self.duties:
            self._note()

    @classmethod
    def of(cls, readings: Sequence[MeterReading], as_of: dt.date) -> Meter:
        """From readings in order of date."""
        return cls(
            [r.on.toordinal() for r in readings],
            [r.value for r in readings],
            as_of,
            [k for k, r in enumerate(readings) if r.swap],
            {k: r.duty for k, r in enumerate(readings) if r.duty},
        )

    @property
    def count(self) -> int:
        return len(self.days)

    @property
    def last_on(self) -> dt.date | None:
        return dt.date.fromordinal(self.days[-1]) if self.days else None

    @property
    def last_value(self) -> float | None:
        return self.values[-1] if self.days else None

    def _note(self) -> None:
        names = {name for duty in self.duties.values() for name in duty}
        self.noted, self.by_duty = [0.0], {name: [0.0] for name in names}
        for k in range(1, len(self.totals)):
            duty = self.duties.get(k, {})
            leg = max(0.0, self.totals[k] - self.totals[k - 1]) if duty else 0.0
            self.noted.append(self.noted[-1] + leg)
            for name, sums in self.by_duty.items():
                sums.append(sums[-1] + leg * duty.get(name, 0.0))

    def then(self, on: dt.date, value: float | None) -> float:
        """The running total at an event: by its own meter value, else read between the neighbouring readings."""
        k = bisect_right(self.days, on.toordinal()) - 1
        if value is not None:
            anchor = max(k, 0)
            return value + self.totals[anchor] - self.values[anchor]
        if k < 0:
            return self.totals[0]
        total = self.totals[k]
        if k + 1 < len(self.days) and self.days[k + 1] > self.days[k]:
            share = (on.toordinal() - self.days[k]) / (self.days[k + 1] - self.days[k])
            total += share * (self.totals[k + 1] - self.totals[k])
        return total

    def run(self, on: dt.date, value: float | None, beyond: float = 0.0) -> float | None:
        """What was run since an event; ``beyond`` is what was run since the last reading. None without a reading."""
        if not self.days:
            return None
        return max(0.0, self.totals[-1] + beyond - self.then(on, value))

    def legs(self, on: dt.date, value: float | None, beyond: float, split: Mapping[str, float]) -> dict[str, float] | None:
        """What was run since an event by duty: as each leg was noted, else by the usual split."""
        ran = self.run(on, value, beyond)
        if ran is None:
            return None
        if self.noted is None:
            return leg_mix(split, ran)
        start = self.then(on, value)
        k = min(bisect_right(self.totals, start), len(self.totals) - 1)  # the leg in which it happened ends at reading k
        whole = self.totals[k] - self.totals[k - 1] if k else 0.0
        share = min(1.0, max(0.0, (start - self.totals[k - 1]) / whole)) if whole > 0 else 0.0

        def since(sums: list[float]) -> float:
            return sums[-1] - (sums[k - 1] + share * (sums[k] - sums[k - 1]) if k else 0.0)

        found = leg_mix(split, max(0.0, ran - since(self.noted)))
        for name, sums in self.by_duty.items():
            found[name] = found.get(name, 0.0) + since(sums)
        return found


@dataclass(frozen=True)
class Line:
    """The meter of a vehicle with its kind, the unit it counts (km or h) and its season."""

    meter: Meter
    kind: str
    unit: str = "km"
    season: Season | None = None


def running_total(readings: Sequence[MeterReading]) -> list[float]:
    """Give the distance or hours run up to each reading, across meter swaps.

    Parameters
    ----------
    readings : in order of date; values in km or h

    Returns
    -------
    list of float, same length and unit; equals the meter where it was never swapped. What ran between the last
    reading of the old meter and the first of the new one is not known and counts as nothing.

    References
    ----------
    Arithmetic.
    """
    return list(_across_swaps([r.value for r in readings], [k for k, r in enumerate(readings) if r.swap]))


def _across_swaps(values: Sequence[float], swaps: Collection[int]) -> Sequence[float]:
    offset = 0.0
    totals: list[float] = []
    for k, value in enumerate(values):
        if k and k in swaps:
            offset = totals[-1] - value
        totals.append(value + offset)
    return totals


def check_reading(earlier: MeterReading | None, new: MeterReading, later: MeterReading | None, unit: str) -> None:
    """Refuse a reading that cannot be true beside its neighbours.

    Parameters
    ----------
    earlier, later : the readings next to it in time, or None
    new : the reading to check; value in ``unit``
    unit : km or h

    Raises
    ------
    OutOfRange : lower than the earlier one, higher than the later one by more than it can be read to, or an impossible rate of use

    References
    ----------
    Common practice: at most 2 000 km or 24 h a day.
    """
    most = MOST_PER_DAY[unit]
    for before, after, other in ((earlier, new, earlier), (new, later, later)):
        if before is None or after is None or other is None or after.swap:
            continue
        ran, days = after.value - before.value, (after.on - before.on).days
        if ran < -READ_TO[unit]:
            word = "lower" if other is earlier else "higher"
            in_miles = new.value * KM_PER_MILE
            as_miles = (
                f" Read in miles it would be {grouped(in_miles)} km: write mi behind it if the dial shows miles."
                if unit == "km" and other is earlier and 0 <= in_miles - before.value <= most * max(days, 1)
                else ""
            )
            raise OutOfRange(
                f"{grouped(new.value)} {unit} is {word} than the {grouped(other.value)} {unit} of {other.on:%d %b %Y}: "
                "a slip, or was the meter swapped?" + as_miles,
                field="value",
                value=new.value,
                allowed=f"a reading in line with {other.on}",
            )
        if ran > most * max(days, 1):
            raise OutOfRange(
                f"{grouped(ran)} {unit} in {max(days, 1)} day(s) is not possible: a digit too many?",
                field="value",
                value=new.value,
                allowed=f"at most {most:g} {unit} a day",
            )


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
    days = np.array([d for k in at for d in known[k]], dtype=np.float64)
    totals = np.array([t for k in at for t in lines[k].meter.totals], dtype=np.float64)
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
            mine, begin = known[k], dt.date.fromordinal(known[k][0])
            part = slice(starts[n] + 1, ends[n] + 1)
            used[part] = np.diff([days_run(season, begin, dt.date.fromordinal(d)) for d in mine])
            parked[part] = False
    x = np.cumsum(used)
    x -= np.repeat(x[starts], counts)
    slopes, errors = weighted_slopes(days - today, x, totals - np.repeat(totals[starts], counts), starts, half_life_days)
    stood = np.add.reduceat(np.where(parked, gap, 0.0), starts)
    calendar_days = days[ends] - days[starts]
    overall = (totals[ends] - totals[starts]) / calendar_days
    for n, k in enumerate(at):
        slope = float(slopes[n]) if np.isfinite(slopes[n]) else float(overall[n])
        slope, season = max(slope, 0.0), lines[k].season
        stale = today - int(days[ends[n]])
        # What a rate was does not say what it will stay: without readings the spread grows (common practice).
        half = P10 * max(float(errors[n]), slope * LEAST_SPREAD / P10) * (1 + stale / STALE_DAYS) ** 0.5
        share_in_use = 1.0 - float(stood[n]) / float(calendar_days[n])
        low = max(min(slope - half, slope * share_in_use), slope * 0.2)
        in_use = Rate(slope, low, slope + half)
        share = season_share(season) if season is not None else share_in_use
        rate = Rate(slope * share, low * share, in_use.high * share)
        found[k] = Forecast(
            rate, len(known[k]), False, in_use, season, dt.date.fromordinal(known[k][-1]), stale, stale > STALE_DAYS, int(stood[n])
        )
    return [f for f in found if f is not None]


def _by_default(line: Line, as_of: dt.date) -> Forecast:
    per_day = DEFAULT_PER_DAY[line.kind][0 if line.unit == "km" else 1]
    in_use, share = Rate(per_day, per_day * 0.5, per_day * 2.0), season_share(line.season)
    count, since = line.meter.count, line.meter.last_on or as_of
    stale = (as_of - since).days
    rate = Rate(per_day * share, in_use.low * share, in_use.high * share)
    return Forecast(rate, count, True, in_use, line.season, since, stale, not count or stale > STALE_DAYS, 0)


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


def run_since(readings: Sequence[MeterReading], on: dt.date, value: float | None, as_of: dt.date, per_day: float) -> float | None:
    """Give what was run since an event, up to today, across meter swaps.

    Parameters
    ----------
    readings : in order of date; values in km or h
    on, value : date and meter reading of the event; a value of None is read between the neighbouring readings
    as_of : today; from the last reading on, use goes on at ``per_day``
    per_day : present rate, km or h per day

    Returns
    -------
    float in the readings' unit, at least 0; None when there is no reading to go by

    References
    ----------
    Linear interpolation between readings.
    """
    meter = Meter.of(readings, as_of)
    return meter.run(on, value, per_day * (as_of - meter.last_on).days) if meter.last_on else None
