"""Oil life and the next due. Worked cases are common practice; calendar months stand in the reference tests."""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.ahead import Ahead, Rate, Spread
from barodex.core.due.interval import Limits, add_months, due_date, leg_mix, life_used, next_due
from barodex.core.due.policy import look_again
from barodex.core.due.schedule import OwnRule, SchedulePolicy, SheetInterval, plan_for
from barodex.core.quantity.errors import Inconsistent, OutOfRange

TODAY = dt.date(2026, 6, 15)
YEAR_AGO = dt.date(2025, 6, 15)
ROAD = {"road": 1.0}


def ahead(per_day, low, high):
    return Ahead(Rate(per_day, low, high), TODAY, spread=Spread.within(high / per_day))


def test_a_quarter_of_the_distance_on_track_halves_ten_thousand():
    # 10 000 km on the road, 2 000 km on the track, a quarter of it on the track: due at 5 000 km (common practice).
    limits = Limits({"road": 10_000, "track": 2_000})
    split = {"road": 0.75, "track": 0.25}
    assert life_used(leg_mix(split, 5000), None, YEAR_AGO, TODAY, limits).used == pytest.approx(1.0)
    due = next_due(
        legs={"road": 0}, hours=None, since=TODAY, as_of=TODAY, limits=limits, split=split, ahead_km=ahead(50, 40, 60), meter_km=10_000
    )
    assert due.left == pytest.approx(5000)
    assert due.at_km == pytest.approx(15_000)
    assert due.on == TODAY + dt.timedelta(days=100)


@pytest.mark.parametrize(
    ("legs", "hours", "months", "limit"),
    [({"road": 30_000}, None, 48, "distance"), ({"road": 5_000}, None, 18, "time"), ({}, 190, 24, "hours")],
)
def test_whichever_comes_first_is_named(legs, hours, months, limit):
    limits = Limits({"road": 40_000} if legs else {}, 200 if hours else None, months)
    life = life_used(legs, hours, YEAR_AGO, TODAY, limits)
    assert life.limit == limit
    assert life.used == max(life.by_limit.values())


def test_the_last_of_january_plus_a_month():
    assert add_months(dt.date(2027, 1, 31), 1) == dt.date(2027, 2, 28)
    assert add_months(dt.date(2028, 1, 31), 1) == dt.date(2028, 2, 29)
    assert add_months(dt.date(2028, 2, 29), 12) == dt.date(2029, 2, 28)


def test_unknown_history_is_due_now_and_says_so():
    due = next_due({}, None, None, TODAY, Limits({"road": 40_000}), ROAD)
    assert (due.state, due.limit, due.on, due.left) == ("unknown", "unknown", TODAY, None)


@pytest.mark.parametrize(("ran", "state"), [(0, "fine"), (35_000, "fine"), (36_100, "soon"), (39_300, "due"), (40_001, "overdue")])
def test_states_by_distance(ran, state):
    due = next_due(
        legs={"road": ran},
        hours=None,
        since=YEAR_AGO,
        as_of=TODAY,
        limits=Limits({"road": 40_000}),
        split=ROAD,
        ahead_km=ahead(20, 15, 25),
        meter_km=90_000,
    )
    assert due.state == state


@pytest.mark.parametrize(
    ("days", "state"), [(40, "fine"), (31, "fine"), (30, "soon"), (8, "soon"), (7, "due"), (0, "due"), (-1, "overdue")]
)
def test_states_by_days_left(days, state):
    end = dt.date(2026, 6, 15)
    as_of = end - dt.timedelta(days=days)
    due = next_due({}, None, dt.date(2025, 12, 15), as_of, Limits({}, None, 6), ROAD)
    assert due.on == end
    assert due.state == state


def test_a_finding_shortens_every_limit():
    limits = Limits({"road": 40_000}, None, 24)
    whole = life_used({"road": 10_000}, None, YEAR_AGO, TODAY, limits)
    half = life_used({"road": 10_000}, None, YEAR_AGO, TODAY, limits, 0.5)
    assert half.by_limit["distance"] == pytest.approx(2 * whole.by_limit["distance"])
    assert due_date(YEAR_AGO, 24, 0.5) == dt.date(2026, 6, 15)


def test_the_whisker_stands_round_the_date():
    due = next_due(
        legs={"road": 10_000},
        hours=None,
        since=YEAR_AGO,
        as_of=TODAY,
        limits=Limits({"road": 40_000}),
        split=ROAD,
        ahead_km=ahead(50, 40, 60),
        meter_km=50_000,
    )
    assert due.earliest < due.on < due.latest
    assert due.earliest == TODAY + dt.timedelta(days=500)


@given(st.floats(0, 100_000), st.floats(0, 100_000), st.floats(0, 1))
def test_more_distance_is_never_less_life(a, b, share):
    limits = Limits({"road": 60_000, "off_road": 36_000})
    low, high = sorted((a, b))
    split = {"road": 1 - share, "off_road": share}
    assert (
        life_used(leg_mix(split, low), None, TODAY, TODAY, limits).used
        <= life_used(leg_mix(split, high), None, TODAY, TODAY, limits).used + 1e-12
    )


@given(st.floats(1, 50_000), st.floats(1, 50_000))
def test_damage_adds_up(a, b):
    limits = Limits({"road": 60_000})
    one, two, both = (life_used({"road": leg}, None, TODAY, TODAY, limits).used for leg in (a, b, a + b))
    assert one + two == pytest.approx(both)


@pytest.mark.parametrize(
    ("act", "error"),
    [
        (lambda: life_used({"road": -1}, None, YEAR_AGO, TODAY, Limits({"road": 1000})), OutOfRange),
        (lambda: life_used({"road": 1}, None, YEAR_AGO, TODAY, Limits({"road": 0})), OutOfRange),
        (lambda: life_used({}, None, TODAY, YEAR_AGO, Limits({}, None, 12)), Inconsistent),
        (lambda: leg_mix({"road": 0.7, "track": 0.7}, 100), Inconsistent),
        (lambda: leg_mix({"road": 1.2, "track": -0.2}, 100), OutOfRange),
        (lambda: due_date(TODAY, 0), OutOfRange),
    ],
)
def test_bad_input_is_refused(act, error):
    with pytest.raises(error):
        act()


def test_a_silent_sheet_takes_common_practice_and_says_so():
    plan = plan_for("axle", SheetInterval(), OwnRule(), SchedulePolicy())
    assert plan.limits.distance_km["road"] == 80_000
    assert plan.limits.distance_km["off_road"] == pytest.approx(48_000)
    assert "common practice" in plan.basis
    plan = plan_for("axle", SheetInterval(40_000), OwnRule(), SchedulePolicy())
    assert (plan.limits.distance_km["road"], plan.limits.months, plan.basis) == (40_000, 60, "the sheet")


def test_when_to_look_again():
    limits = Limits({"road": 80_000}, None, 60)
    assert look_again(1, limits) == (None, None, None)
    assert look_again(2, limits) == (5000, None, 3)
    assert look_again(2, Limits({"road": 12_000}))[0] == 3000
    assert look_again(3, limits)[0] == pytest.approx(80_000 * 0.25 / 5)
    assert look_again(4, limits) == (0.0, None, 0)
