"""Use to come: a rate with what it may be off by, and the day by which so much is run."""

from __future__ import annotations

import datetime as dt
import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from barodex.core.due.season import Season, after_days, days_run

A_CENTURY = 36_525  # days
P10 = 1.2815515655446004  # of a normal spread
MOST_SPREAD = 2.0  # of the logarithm: wider than seven times says nothing


class Rate(NamedTuple):
    """Use per day with spread, in km or h: P50 ``per_day``, slow ``low`` (P10) and fast ``high`` (P90)."""

    per_day: float
    low: float
    high: float


class Spread(NamedTuple):
    """What a forecast of use may be off by, as variances of the logarithm of the time it takes.

    ``rate``: of the rate as it is known; ``noise``: times 1 / days, what each day differs by; ``drift``: times days, what the rate moves
    by. ``rest``: days that it still stands before it runs again.
    """

    rate: float
    noise: float = 0.0
    drift: float = 0.0
    rest: float = 0.0

    @classmethod
    def within(cls, factor: float) -> Spread:
        """A rate that is known within a factor, eight times out of ten."""
        return cls((math.log(factor) / P10) ** 2)

    def factor(self, days: float) -> float:
        """P90 of the time over P50, of so many days of use; also P50 over P10."""
        if days <= 0:
            return 1.0
        return math.exp(min(MOST_SPREAD, P10 * math.sqrt(self.rate + self.noise / max(days, 1.0) + self.drift * days)))


EXACT = Spread(0.0)


def spread_factors(rate: np.ndarray, noise: np.ndarray, drift: np.ndarray, days: np.ndarray | float) -> np.ndarray:
    """Give P90 of the time over P50 of many forecasts; the batch form of :meth:`Spread.factor`.

    Parameters
    ----------
    rate, noise, drift : as :class:`Spread`, shape (n,)
    days : of use, shape (n,) or one for all

    Returns
    -------
    numpy array of float, 1 or more, shape (n,)

    References
    ----------
    As :class:`Spread`.
    """
    wide = P10 * np.sqrt(rate + noise / np.maximum(days, 1.0) + drift * np.maximum(days, 0.0))
    found: np.ndarray = np.where(np.asarray(days) > 0, np.exp(np.minimum(wide, MOST_SPREAD)), 1.0)
    return found


def _day_of(start: int, days: float) -> dt.date | None:
    return dt.date.fromordinal(start + round(days)) if -A_CENTURY < days < A_CENTURY else None


@dataclass(frozen=True)
class Ahead:
    """Use to come: ``rate`` per day of use in km or h, counted from ``since`` (the last reading) on, days of the season only;
    ``spread``: what that may be off by."""

    rate: Rate
    since: dt.date
    season: Season | None = None
    spread: Spread = EXACT

    def run_by(self, day: dt.date) -> float:
        """What is run from ``since`` up to a day at the P50 rate, km or h."""
        days = days_run(self.season, self.since, day)
        return self.rate.per_day * (max(0.0, days - self.spread.rest) if days > 0 else days)

    def date_at(self, run: float) -> tuple[dt.date | None, dt.date | None, dt.date | None]:
        """P10, P50 and P90 of the day by which ``run`` (km or h from ``since``) is done; None: never, or not in this century."""
        if self.rate.per_day <= 0:
            return None, None, None
        days = run / self.rate.per_day + self.spread.rest
        wide = self.spread.factor(days)
        if self.season is not None:
            early, middle, late = (after_days(self.season, self.since, d) for d in (days / wide, days, days * wide))
            return early, middle, late
        start = self.since.toordinal()
        return _day_of(start, days / wide), _day_of(start, days), _day_of(start, days * wide)
