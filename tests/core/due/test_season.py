"""Seasons: days of use counted by hand and against a day-by-day walk through the calendar."""

import datetime as dt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.season import (
    Season,
    after_days,
    days_after,
    days_run,
    days_run_up_to,
    in_season,
    parse_season,
    season_length,
    season_share,
    season_start,
)
from barodex.core.quantity.errors import Inconsistent, OutOfRange, Unreadable

WINTER = parse_season("12-01", "04-15")
SUMMER = parse_season("05-01", "09-30")
DAYS = st.dates(dt.date(2001, 1, 1), dt.date(2040, 12, 31))
SEASONS = st.sampled_from([WINTER, SUMMER, parse_season("02-29", "06-01"), parse_season("07-01", "02-29"), None])


def test_many_counts_at_once_are_each_what_one_is_and_none_leaves_the_calendar():
    start = dt.date(2026, 5, 1).toordinal()
    found = days_after(SUMMER, np.array([start] * 4), np.array([0.0, 152.0, 30_000.0, -30_000.0]))
    # May to September are 153 days: 152 more after the first of May end on the last of September; 30 000 are 196 summers.
    assert found[0] == start
    assert found[1] == dt.date(2026, 9, 30).toordinal()
    assert np.isnan(found[2:]).all()


def test_both_empty_is_all_year():
    assert parse_season("", "") is None
    assert season_share(None) == 1.0


def test_a_season_over_the_new_year():
    assert Season((12, 1), (4, 15)) == WINTER
    assert WINTER.over_new_year
    assert season_length(WINTER) == 31 + 31 + 28 + 31 + 15
    assert in_season(WINTER, dt.date(2026, 1, 3))
    assert not in_season(WINTER, dt.date(2026, 7, 1))


@pytest.mark.parametrize(
    ("first", "last", "error", "words"),
    [
        ("05-01", "04-30", Inconsistent, "does it end before it starts"),
        ("12-01", "", Inconsistent, "its last day"),
        ("", "04-15", Inconsistent, "its first"),
        ("13-01", "04-15", Unreadable, "no day of the year"),
        ("02-30", "04-15", Unreadable, "no day of the year"),
        ("winter", "04-15", Unreadable, "no day of the year"),
    ],
)
def test_a_season_that_cannot_be_is_refused(first, last, error, words):
    with pytest.raises(error, match=words):
        parse_season(first, last)


def test_the_twenty_ninth_of_february():
    season = parse_season("02-29", "06-01")
    assert season_start(season, dt.date(2027, 1, 1)) == dt.date(2027, 2, 28)
    assert season_start(season, dt.date(2028, 1, 1)) == dt.date(2028, 2, 29)
    assert season_start(season, dt.date(2028, 2, 29)) == dt.date(2029, 2, 28)


@given(SEASONS, DAYS, st.integers(0, 900))
def test_days_of_use_are_those_of_a_walk_through_the_calendar(season, start, span):
    end = start + dt.timedelta(days=span)
    walked = sum(in_season(season, start + dt.timedelta(days=k + 1)) for k in range(span))
    assert days_run(season, start, end) == walked
    assert days_run(season, end, start) == -walked


@given(SEASONS, DAYS, st.integers(-700, 3000))
def test_after_days_is_the_first_day_with_so_many(season, start, days):
    found = after_days(season, start, days)
    assert days_run(season, start, found) == days
    assert days_run(season, start, found - dt.timedelta(days=1)) < days or days == 0


def test_never_is_none():
    assert after_days(SUMMER, dt.date(2026, 1, 1), float("inf")) is None
    assert after_days(SUMMER, dt.date(2026, 1, 1), float("nan")) is None
    assert after_days(None, dt.date(2026, 1, 1), 40_000) is None


@pytest.mark.parametrize(("first", "last"), [("04-01", "10-15"), ("12-01", "04-15"), ("02-29", "03-01")])
def test_many_days_are_counted_as_one_by_one_and_by_the_calendar(first, last):
    """Against a count of the calendar's days, one by one."""
    season, start = parse_season(first, last), dt.date(2023, 12, 20)
    days = [start + dt.timedelta(days=k) for k in range(0, 900, 7)]
    plain = [sum(in_season(season, start + dt.timedelta(days=n)) for n in range(1, (d - start).days + 1)) for d in days]
    assert days_run_up_to(season, start, [d.toordinal() for d in days]).tolist() == plain
    assert [days_run(season, start, d) for d in days] == plain
    with pytest.raises(OutOfRange):
        days_run_up_to(season, start, [dt.date(2300, 1, 1).toordinal()])
    assert days_run_up_to(season, start, []).tolist() == []


@pytest.mark.parametrize("days", [1, 30, 214, 215, -40])
def test_the_day_after_so_many_days_of_use_is_the_first_by_which_they_are_run(days):
    season, start = parse_season("12-01", "04-15"), dt.date(2026, 2, 1)
    day = after_days(season, start, days)
    assert days_run(season, start, day) == days
    assert days_run(season, start, day - dt.timedelta(days=1)) == days - 1
