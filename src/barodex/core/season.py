"""Seasons: a machine that runs only a part of the year, and days counted in it."""

from __future__ import annotations

import calendar
import datetime as dt
from dataclasses import dataclass

from .errors import Inconsistent, Unreadable

LONGEST_SEASON = 330  # days; a longer one is the whole year (our reading)


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


def days_run(season: Season | None, start: dt.date, end: dt.date) -> int:
    """Count the days of use after a day up to another.

    Parameters
    ----------
    season : or None for all year
    start, end : the day before the first counted, and the last counted; ``end`` before ``start`` counts backwards, below 0

    Returns
    -------
    int, days

    References
    ----------
    Gregorian calendar.
    """
    if season is None:
        return (end - start).days
    if end < start:
        return -days_run(season, end, start)
    count = 0
    for year in range(start.year - 1, end.year + 1):
        begins = _on(year, season.first)
        ends = _on(year + season.over_new_year, season.last)
        count += max(0, (min(ends, end) - max(begins, start + dt.timedelta(days=1))).days + 1)
    return count


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
    if season is None:
        return start + dt.timedelta(days=left)
    length = season_length(season)
    if left / length > 100:
        return None
    # Whole years first, then the span narrows by halves: days_run never falls as the end moves on.
    years, sign = int(abs(left) / length), 1 if left >= 0 else -1
    if start.year + sign * (years + 2) not in range(1, 9999):
        return None
    low, high = (0, (years + 2) * 366) if sign > 0 else (-(years + 2) * 366, 0)
    while low < high:
        middle = (low + high) // 2
        if days_run(season, start, start + dt.timedelta(days=middle)) >= left:
            high = middle
        else:
            low = middle + 1
    return start + dt.timedelta(days=low)
