"""When a vehicle stands each year though nobody said so: found in its readings, to be asked."""

from __future__ import annotations

import datetime as dt
import functools

import numpy as np

from barodex.core.due.season import Season

YEAR, STEPS = 365.25, 24  # a season is sought in half-months
SHORTEST, LONGEST = 6, 20  # half-months that it runs
STILL_SHARE, STILL_DAYS = 0.25, 40.0  # legs at less than this share of the mean rate, and so many days of them, before it is sought at all
LEAST_DAYS, LEAST_READINGS = 330, 6
FITS, RUNS_STILL = 0.6, 0.15  # what a season leaves of the squares; what is run out of it, of the rate within
OUTSIDE, SEEN = 0.6, 0.5  # share of a leg that lies out of season; share of a rest that was seen
SEASONAL = frozenset({"motorcycle", "boat", "snow machine", "bicycle"})  # one rest tells; of others two (common practice)
_EPOCH = dt.date(2001, 1, 1).toordinal()


@functools.lru_cache(maxsize=1)
def _grid() -> tuple[np.ndarray, np.ndarray]:
    """Begin and length of each season that is tried, in days, shape (seasons, 1)."""
    begin, length = np.meshgrid(np.arange(STEPS), np.arange(SHORTEST, LONGEST + 1), indexing="ij")
    return begin.reshape(-1, 1) * (YEAR / STEPS), length.reshape(-1, 1) * (YEAR / STEPS)


def _used(day: np.ndarray, begin: np.ndarray, length: np.ndarray) -> np.ndarray:
    """Days of season up to each day, for each season, shape (seasons, days)."""
    turns = (day - _EPOCH - begin) / YEAR
    whole = np.floor(turns)
    used: np.ndarray = whole * length + np.minimum((turns - whole) * YEAR, length)
    return used


def found_season(days: np.ndarray, totals: np.ndarray, kind: str) -> Season | None:
    """Find the season of a vehicle of which nobody has set one.

    Parameters
    ----------
    days : of the readings, ordinals in rising order, shape (n,)
    totals : running total, km or h, shape (n,)
    kind : of the vehicle; a motorcycle, boat, bicycle or snow machine shows it by one rest, another one by two

    Returns
    -------
    Season, to a half-month; None where it stands in none, or that cannot be told

    References
    ----------
    Least squares over all seasons of 3 to 10 months, variances growing with the days; thresholds common practice.
    """
    dx, dy = np.diff(days).astype(float), np.diff(totals)
    if len(days) < LEAST_READINGS or days[-1] - days[0] < LEAST_DAYS or totals[-1] <= totals[0]:
        return None
    mean = dy.sum() / dx.sum()
    if dx[dy < STILL_SHARE * mean * dx].sum() < STILL_DAYS:
        return None
    good = dx > 0
    since, until, dx, dy = days[:-1][good], days[1:][good], dx[good], dy[good]
    begin, length = _grid()
    used = _used(until, begin, length) - _used(since, begin, length)
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = dy.sum() / used.sum(axis=1, keepdims=True)
        squares = np.nan_to_num(((dy - rate * used) ** 2 / dx).sum(axis=1), nan=np.inf)
    best = int(np.argmin(squares))
    out = dx - used[best]
    still = out > OUTSIDE * dx
    out_days = out[still].sum()
    if squares[best] > FITS * ((dy - mean * dx) ** 2 / dx).sum() or dy[still].sum() > RUNS_STILL * float(rate[best, 0]) * max(
        1.0, out_days
    ):
        return None
    rest = YEAR - float(length[best, 0])
    middle = float(begin[best, 0] + length[best, 0]) + rest / 2 + _EPOCH
    year = np.round(((since[still] + until[still]) / 2 - middle) / YEAR).astype(int)
    rests = sum(out[still][year == y].sum() >= SEEN * rest for y in np.unique(year))
    if rests < (1 if kind in SEASONAL else 2):
        return None
    begins = float(begin[best, 0])
    first, after = _near_half_month(begins), _near_half_month(begins + float(length[best, 0]))
    last = after - dt.timedelta(days=1)
    return Season((first.month, first.day), (last.month, last.day))


def _near_half_month(days: float) -> dt.date:
    """The first or sixteenth of a month that is nearest to so many days into a year."""
    day = dt.date(2001, 1, 1) + dt.timedelta(days=round(days % YEAR))
    halves = [dt.date(2001, month, first) for month in range(1, 13) for first in (1, 16)] + [dt.date(2002, 1, 1)]
    near = min(halves, key=lambda half: abs((half - day).days))
    return near.replace(year=2001)
