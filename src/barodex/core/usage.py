"""Use per day from meter readings: recent ones weigh more, slips are refused, swaps are understood."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .errors import OutOfRange, in_range
from .interval import Rate
from .working import grouped

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
MOST_PER_DAY = {"km": 2000.0, "h": 24.0}


@dataclass(frozen=True)
class MeterReading:
    """A meter value on a day; ``swap`` marks the first reading of a new or reset meter."""

    on: dt.date
    value: float
    swap: bool = False


@dataclass(frozen=True)
class Forecast:
    """Rate of use with its spread, how many readings carry it, and whether it is only the default of the kind."""

    rate: Rate
    readings: int
    is_default: bool


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
    offset = 0.0
    totals: list[float] = []
    for k, reading in enumerate(readings):
        if reading.swap and k:
            offset = totals[-1] - reading.value
        totals.append(reading.value + offset)
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
    OutOfRange : lower than the earlier one, higher than the later one, or an impossible rate of use

    References
    ----------
    Common practice: at most 2 000 km or 24 h a day.
    """
    most = MOST_PER_DAY[unit]
    for before, after, other in ((earlier, new, earlier), (new, later, later)):
        if before is None or after is None or other is None or after.swap:
            continue
        ran, days = after.value - before.value, (after.on - before.on).days
        if ran < 0:
            word = "lower" if other is earlier else "higher"
            raise OutOfRange(
                f"{grouped(new.value)} {unit} is {word} than the {grouped(other.value)} {unit} of {other.on:%d %b %Y}: "
                "a slip, or was the meter swapped?",
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


def forecast(readings: Sequence[MeterReading], as_of: dt.date, kind: str, unit: str = "km", half_life_days: float = 120.0) -> Forecast:
    """Give the rate of use, recent readings weighing more.

    Weighted least squares of the running total over time, weights 2^(−age/half-life).

    Parameters
    ----------
    readings : in order of date; values in ``unit``
    as_of : today
    kind : vehicle kind, for the default rate when there are fewer than two readings on different days
    unit : km or h
    half_life_days : age at which a reading weighs half, days, 1 to 10 000

    Returns
    -------
    Forecast; the rate in ``unit`` per day, P10 and P90 from the slope's standard error, at least ±10 %

    Raises
    ------
    OutOfRange : an unknown kind or a half-life outside its range

    References
    ----------
    Weighted least squares: Draper and Smith, Applied Regression Analysis, chapter 9. Default rates: common practice.
    """
    in_range("half_life_days", half_life_days, 1, 10_000, "d")
    if kind not in DEFAULT_PER_DAY:
        raise OutOfRange(f"No default use for “{kind}”.", field="kind", value=kind, allowed=", ".join(DEFAULT_PER_DAY))
    known = [r for r in readings if r.on <= as_of]
    if len({r.on for r in known}) < 2:
        per_day = DEFAULT_PER_DAY[kind][0 if unit == "km" else 1]
        return Forecast(Rate(per_day, per_day * 0.5, per_day * 2.0), len(known), True)
    days = np.array([(r.on - as_of).days for r in known], dtype=float)
    totals = np.array(running_total(known))
    weights = np.exp2(days / half_life_days)
    if weights.sum() < 1e-9:  # every reading is very old: only their ratio matters
        weights = np.exp2((days - days.max()) / half_life_days)
    mean_day, mean_total = np.average(days, weights=weights), np.average(totals, weights=weights)
    spread = float(np.sum(weights * (days - mean_day) ** 2))
    slope = float(np.sum(weights * (days - mean_day) * (totals - mean_total)) / spread)
    residual = totals - mean_total - slope * (days - mean_day)
    error = 0.0
    if len(known) > 2:
        error = float(
            np.sqrt(
                np.sum(weights * residual**2)
                / np.sum(weights)
                * len(known)
                / (len(known) - 2)
                * np.sum(weights**2 * (days - mean_day) ** 2)
            )
            / spread
        )
    slope = max(slope, 0.0)
    half = 1.2815515655446004 * max(error, slope * 0.1 / 1.2815515655446004)
    return Forecast(Rate(slope, max(slope - half, slope * 0.2), slope + half), len(known), False)


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
    known = [r for r in readings if r.on <= as_of]
    if not known:
        return None
    totals = running_total(known)
    now = totals[-1] + per_day * (as_of - known[-1].on).days
    before = [k for k, r in enumerate(known) if r.on <= on]
    if value is not None:
        anchor = before[-1] if before else 0
        then = value + totals[anchor] - known[anchor].value
    elif not before:
        then = totals[0]
    else:
        k = before[-1]
        then = totals[k]
        if k + 1 < len(known) and known[k + 1].on > known[k].on:
            share = (on - known[k].on).days / (known[k + 1].on - known[k].on).days
            then += share * (totals[k + 1] - totals[k])
    return max(0.0, now - then)
