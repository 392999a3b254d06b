"""The next due by hand: values at which no part of the formula falls away. All worked out on paper beside each."""

from __future__ import annotations

import datetime as dt
from dataclasses import replace

import pytest

from barodex.core.due.ahead import Ahead, Rate, Spread
from barodex.core.due.interval import Limits, next_due
from barodex.core.due.season import in_season, parse_season
from barodex.core.due.visits import BayPolicy, check_bay
from barodex.core.quantity.errors import Inconsistent, OutOfRange

SINCE, TODAY = dt.date(2026, 1, 1), dt.date(2026, 5, 1)
ROAD = {"road": 1.0}


def ahead(per_day, low=None, high=None):
    return Ahead(Rate(per_day, low or per_day, high or per_day), TODAY, spread=Spread.within((high or per_day) / per_day))


def test_a_factor_shortens_the_distance_that_is_left():
    """Half of 10 000 km is 5 000; 4 000 are run: 0.8 of life, 1 000 km left, 20 days at 50 a day."""
    due = next_due({"road": 4000}, None, SINCE, TODAY, Limits({"road": 10_000}), ROAD, ahead_km=ahead(50), meter_km=71_000, factor=0.5)
    assert (due.limit, due.state) == ("distance", "soon")
    assert due.used == pytest.approx(0.8)
    assert (due.left, due.at_km, due.at_h) == (pytest.approx(1000), pytest.approx(72_000), None)
    assert due.on == TODAY + dt.timedelta(days=20)


def test_a_factor_shortens_the_hours_that_are_left():
    """A quarter of 200 h is 50; 40 are run: 10 h left, 40 days at a quarter of an hour a day, well under one."""
    due = next_due({}, 40.0, SINCE, TODAY, Limits({}, 200.0), ROAD, ahead_h=ahead(0.25), meter_h=1240.0, factor=0.25)
    assert (due.limit, due.used) == ("hours", pytest.approx(0.8))
    assert (due.left, due.at_h, due.at_km) == (pytest.approx(10), pytest.approx(1250), None)
    assert due.on == TODAY + dt.timedelta(days=40)


def test_hours_under_load_count_more():
    """20 h of 100 and 20 h of a towing's 50: 0.2 + 0.4; what is left, all towed, is 0.4 of 50 h."""
    limits = Limits({}, 100.0, hour_factors={"towing": 0.5})
    due = next_due({}, {"road": 20.0, "towing": 20.0}, SINCE, TODAY, limits, {"towing": 1.0}, ahead_h=ahead(2), meter_h=300)
    assert (due.used, due.left, due.at_h) == (pytest.approx(0.6), pytest.approx(20), pytest.approx(320))


def test_a_factor_shortens_the_months():
    """A third of 24 months is 8: from 1 January to 1 September."""
    due = next_due({}, None, SINCE, TODAY, Limits({}, None, 24), ROAD, factor=1 / 3)
    assert (due.limit, due.on, due.left) == ("time", dt.date(2026, 9, 1), 123.0)


def test_the_soonest_of_two_limits_may_be_overtaken_by_the_other_on_a_busy_stretch():
    """600 km left: 12 days at 50, 6 at 100, 24 at 25. Twelve months end in ten days: the day is that, P10 is the distance's."""
    since = dt.date(2025, 5, 11)
    due = next_due({"road": 9400}, None, since, TODAY, Limits({"road": 10_000}, None, 12), ROAD, ahead_km=ahead(50, 25, 100))
    assert (due.limit, due.on) == ("time", TODAY + dt.timedelta(days=10))
    assert (due.earliest, due.latest) == (TODAY + dt.timedelta(days=6), TODAY + dt.timedelta(days=10))


@pytest.mark.parametrize(
    ("day", "runs"), [((3, 31), True), ((4, 1), False), ((10, 31), False), ((11, 1), True), ((12, 31), True), ((1, 1), True)]
)
def test_a_season_over_new_year_holds_its_first_and_its_last_day(day, runs):
    assert in_season(parse_season("11-01", "03-31"), dt.date(2026, *day)) is runs


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("hours_per_day", 0.4),
        ("hours_per_day", 24.5),
        ("bays", 0),
        ("bays", 41),
        ("visit_hours", -0.1),
        ("visit_hours", 24.1),
        ("oil_hours", -0.1),
        ("oil_hours", 25.0),
        ("late_days", -1),
        ("late_days", 181),
        ("closed_weekdays", (7,)),
        ("closed_weekdays", (-1,)),
    ],
)
def test_a_bay_that_cannot_be_is_refused_at_its_field(field, value):
    with pytest.raises(OutOfRange) as refused:
        check_bay(replace(BayPolicy(), **{field: value}))
    assert refused.value.field == field


def test_the_ends_of_a_bay_policy_may_be_and_seven_closed_days_may_not():
    for field, value in (
        ("hours_per_day", 0.5),
        ("hours_per_day", 24),
        ("bays", 40),
        ("late_days", 180),
        ("closed_weekdays", (0, 1, 2, 3, 4, 5)),
    ):
        check_bay(replace(BayPolicy(), **{field: value}))
    with pytest.raises(Inconsistent, match="Every weekday is closed"):
        check_bay(replace(BayPolicy(), closed_weekdays=tuple(range(7))))
