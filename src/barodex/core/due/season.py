"""Seasons: a machine that runs only a part of the year, and days counted in it."""

from __future__ import annotations

import calendar
import datetime as dt
import functools
from bisect import bisect_left
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, Unreadable, in_range

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
            raise Inconsistent("A season needs its first and its last day.", field=field, value=text)
        try:
            read = dt.date.fromisoformat(f"2000-{text.strip()}")  # 2000 had a 29 February
        except ValueError as error:
            raise Unreadable(f"“{text}” is no day of the year: write month-day, such as 12-01.", field=field, value=text) from error
        days.append((read.month, read.day))
    season = Season(days[0], days[1])
    if season_length(season) > LONGEST_SEASON:
        raise Inconsistent(
            f"From {first} to {last} is {season_length(season)} days, nearly the whole year: does it end before it starts? "
            "Leave both empty for all year.",
            field="season_to",
            value=last,
            allowed=f"at most {LONGEST_SEASON} days",
        )
    return season


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


@functools.lru_cache(maxsize=512)
def _years(season: Season) -> tuple[list[int], list[tuple[int, int, int, int]]]:
    """Days of use before each year's first of January, and that year's (1 January, last day of a season begun the year before,
    first day, last day), as ordinals; what does not fall into the year is empty."""
    before, spans, count = [], [], 0
    for year in range(FIRST_YEAR, LAST_YEAR + 1):
        new_year, end_of_year = dt.date(year, 1, 1).toordinal(), dt.date(year, 12, 31).toordinal()
        begins, ends = _on(year, season.first).toordinal(), _on(year, season.last).toordinal()
        tail, last = (ends, end_of_year) if season.over_new_year else (new_year - 1, ends)
        before.append(count)
        spans.append((new_year, tail, begins, last))
        count += (tail - new_year + 1) + (last - begins + 1)
    return before, spans


def _count(season: Season, on: dt.date) -> int:
    before, spans = _years(season)
    k, day = on.year - FIRST_YEAR, on.toordinal()
    if not 0 <= k < len(spans):
        in_range("year", on.year, FIRST_YEAR, LAST_YEAR)
    new_year, tail, begins, last = spans[k]
    count = before[k]
    if tail >= new_year:
        count += (day if day < tail else tail) - new_year + 1
    if day >= begins:
        count += (day if day < last else last) - begins + 1
    return count


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
    before, spans = _years(season)
    wanted = _count(season, start) + left
    k = bisect_left(before, wanted) - 1
    if k < 0 or wanted > before[-1]:
        return None
    new_year, tail, begins, _ = spans[k]
    rest = wanted - before[k]
    in_tail = tail - new_year + 1
    return dt.date.fromordinal(new_year + rest - 1 if rest <= in_tail else begins + rest - in_tail - 1)
