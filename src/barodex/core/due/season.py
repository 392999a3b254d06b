"""Seasons: a machine that runs only a part of the year, and days counted in it."""

from __future__ import annotations

import calendar
import datetime as dt
import functools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, Unreadable, in_range
from barodex.core.words import say

LONGEST_SEASON = 330  # days; a longer one is the whole year (our reading)
FIRST_YEAR, LAST_YEAR = 1900, 2200


@dataclass(frozen=True)
class Season:
    """First and last day of each year's season as (month, day), both included; it may run over the new year."""

    first: tuple[int, int]
    last: tuple[int, int]

    @property
    def over_new_year(self) -> bool:
        return self.first > self.last


def _on(year: int, month_day: tuple[int, int]) -> dt.date:
    """That day of a year; 29 February is the last of February in other years."""
    month, day = month_day
    return dt.date(year, month, min(day, calendar.monthrange(year, month)[1]))


def parse_season(first: str, last: str) -> Season | None:
    """Read a season from its first and last day.

    Parameters
    ----------
    first, last : month and day, such as 12-01 and 04-15; both empty: all year

    Returns
    -------
    Season, or None for all year. A last day before the first runs over the new year

    Raises
    ------
    Unreadable : not a day of the year
    Inconsistent : only one of the two, or a season that leaves less than five weeks out

    References
    ----------
    ISO 8601 month and day; 29 February counts as the last of February in other years.
    """
    if not first and not last:
        return None
    days = []
    for field, text in (("season_from", first), ("season_to", last)):
        if not text:
            raise Inconsistent(say("A season needs its first and its last day."), field=field, value=text)
        try:
            read = dt.date.fromisoformat(f"2000-{text.strip()}")  # 2000 had a 29 February
        except ValueError as error:
            raise Unreadable(
                say("“{text}” is no day of the year: write month-day, such as 12-01.", text=text), field=field, value=text
            ) from error
        days.append((read.month, read.day))
    season = Season(days[0], days[1])
    if season_length(season) > LONGEST_SEASON:
        raise Inconsistent(
            say(
                "From {first} to {last} is {season} days, nearly the whole year: does it end before it starts? Leave both "
                "empty for all year.",
                first=first,
                last=last,
                season=season_length(season),
            ),
            field="season_to",
            value=last,
            allowed=say("at most {longest_season} days", longest_season=LONGEST_SEASON),
        )
    return season


@functools.lru_cache(maxsize=512)
def season_length(season: Season) -> int:
    """Give the days of a season.

    Parameters
    ----------
    season : first and last day

    Returns
    -------
    int, days of a common year, both ends included

    References
    ----------
    Gregorian calendar.
    """
    return (_on(2025 + season.over_new_year, season.last) - _on(2025, season.first)).days + 1


def season_share(season: Season | None) -> float:
    """Give the share of the year that a machine runs.

    Parameters
    ----------
    season : or None for all year

    Returns
    -------
    float above 0 to 1

    References
    ----------
    Gregorian calendar, a year of 365 days.
    """
    return 1.0 if season is None else season_length(season) / 365


def rest_of(season: Season) -> Season:
    """Give the part of the year that is not a season.

    Parameters
    ----------
    season : first and last day

    Returns
    -------
    Season, from the day after its last to the day before its first

    References
    ----------
    Gregorian calendar, a common year.
    """
    day = dt.timedelta(days=1)
    first, last = _on(2025, season.last) + day, _on(2025, season.first) - day
    return Season((first.month, first.day), (last.month, last.day))


def in_season(season: Season | None, on: dt.date) -> bool:
    """Tell whether a day lies in the season.

    Parameters
    ----------
    season : or None for all year
    on : the day

    Returns
    -------
    bool

    References
    ----------
    Gregorian calendar.
    """
    if season is None:
        return True
    begins, ends = _on(on.year, season.first), _on(on.year, season.last)
    return on >= begins or on <= ends if season.over_new_year else begins <= on <= ends


def season_start(season: Season, after: dt.date) -> dt.date:
    """Give the first season that starts after a day.

    Parameters
    ----------
    season : first and last day
    after : the day; a season that starts on it has started

    Returns
    -------
    date

    References
    ----------
    Gregorian calendar.
    """
    begins = _on(after.year, season.first)
    return begins if begins > after else _on(after.year + 1, season.first)


@functools.lru_cache(maxsize=32)
def _counts(season: Season) -> np.ndarray:
    """Days of use up to each day from 31 December before the first year on, 4 bytes a day."""
    first = dt.date(FIRST_YEAR, 1, 1).toordinal()
    runs = np.zeros(dt.date(LAST_YEAR, 12, 31).toordinal() - first + 2, dtype=np.int32)
    for year in range(FIRST_YEAR, LAST_YEAR + 1):
        new_year, end_of_year = dt.date(year, 1, 1).toordinal(), dt.date(year, 12, 31).toordinal()
        begins, ends = _on(year, season.first).toordinal(), _on(year, season.last).toordinal()
        spans = ((new_year, ends), (begins, end_of_year)) if season.over_new_year else ((begins, ends),)
        for start, end in spans:
            runs[start - first + 1 : end - first + 2] = 1
    return np.cumsum(runs, dtype=np.int32)


BEFORE_FIRST = dt.date(FIRST_YEAR, 1, 1).toordinal() - 1


def _count(season: Season, on: dt.date) -> int:
    in_range("year", on.year, FIRST_YEAR, LAST_YEAR)
    return int(_counts(season)[on.toordinal() - BEFORE_FIRST])


def days_run_up_to(season: Season, start: dt.date, days: Sequence[int]) -> np.ndarray:
    """Count the days of use after a day up to each of many; the batch form of :func:`days_run`.

    Parameters
    ----------
    season : when it runs
    start : the day before the first counted
    days : the last days counted, as ordinals, shape (n,)

    Returns
    -------
    numpy array of int, days, shape (n,)

    Raises
    ------
    OutOfRange : a year outside 1900 to 2200

    References
    ----------
    As :func:`days_run`.
    """
    counts, at = _counts(season), np.asarray(days, dtype=np.int64) - BEFORE_FIRST
    if len(at):
        for end in (at.min(), at.max()):
            in_range("year", dt.date.fromordinal(int(end) + BEFORE_FIRST).year, FIRST_YEAR, LAST_YEAR)
    found: np.ndarray = counts[at] - _count(season, start)
    return found


def days_run(season: Season | None, start: dt.date, end: dt.date) -> int:
    """Count the days of use after a day up to another.

    Parameters
    ----------
    season : or None for all year
    start, end : the day before the first counted, and the last counted; ``end`` before ``start`` counts backwards, below 0

    Returns
    -------
    int, days

    Raises
    ------
    OutOfRange : with a season, a year outside 1900 to 2200

    References
    ----------
    Gregorian calendar.
    """
    return (end - start).days if season is None else _count(season, end) - _count(season, start)


def after_days(season: Season | None, start: dt.date, days: float) -> dt.date | None:
    """Give the day on which a number of days of use has passed.

    Parameters
    ----------
    season : or None for all year
    start : where the count begins, that day not counted
    days : days of use, rounded to whole ones; below 0 goes back

    Returns
    -------
    date; None when it lies more than a century away

    References
    ----------
    The inverse of :func:`days_run`.
    """
    if not abs(days) < 36_525:
        return None
    left = round(days)
    if season is None or left == 0:
        return start + dt.timedelta(days=left)
    counts, wanted = _counts(season), _count(season, start) + left
    if not 0 < wanted <= int(counts[-1]):
        return None
    at = counts.searchsorted(np.int32(wanted))  # of the array's own type: for another one the whole array would be converted
    return dt.date.fromordinal(int(at) + BEFORE_FIRST)


def days_after(season: Season, starts: np.ndarray, days: np.ndarray) -> np.ndarray:
    """Give the day on which a number of days of use has passed, for many; the batch form of :func:`after_days`.

    Parameters
    ----------
    season : when it runs
    starts : where each count begins, as ordinals, shape (n,)
    days : days of use, rounded to whole ones, shape (n,); NaN where there is none

    Returns
    -------
    numpy array of float, ordinals, shape (n,); NaN where it lies more than a century away

    Raises
    ------
    OutOfRange : a year outside 1900 to 2200

    References
    ----------
    As :func:`after_days`.
    """
    counts, at = _counts(season), starts.astype(np.int64) - BEFORE_FIRST
    for end in (at.min(), at.max()) if len(at) else ():
        in_range("year", dt.date.fromordinal(int(end) + BEFORE_FIRST).year, FIRST_YEAR, LAST_YEAR)
    near = np.abs(days) < 36_525
    left = np.rint(np.where(near, days, 0.0)).astype(np.int32)
    wanted = counts[at] + left
    there = near & ((left == 0) | ((wanted > 0) & (wanted <= counts[-1])))
    found: np.ndarray = np.where(left == 0, starts, counts.searchsorted(wanted) + BEFORE_FIRST)
    return np.where(there, found, np.nan)
