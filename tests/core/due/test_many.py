"""The batch form of the next due says what the form for one says, whatever the compartment."""

import datetime as dt
from dataclasses import asdict

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.ahead import Ahead, Rate, Spread
from barodex.core.due.interval import Limits, leg_mix, next_due
from barodex.core.due.many import next_dues, plain
from barodex.core.due.season import Season
from barodex.core.quantity.errors import Inconsistent, OutOfRange

TODAY = dt.date(2026, 3, 31)
days = st.integers(0, 9000).map(lambda n: TODAY - dt.timedelta(days=n))
paces = st.one_of(st.just(0.0), st.floats(0.001, 400))
splits = st.sampled_from([{"road": 1.0}, {"road": 0.7, "off_road": 0.3}, {"track": 0.25, "road": 0.75}])
intervals = st.one_of(st.none(), st.floats(100, 200_000))
months = st.one_of(st.none(), st.integers(1, 240))
factors = st.sampled_from([1.0, 0.75, 0.5, 0.35, 0.25, 0.01])
seasons = st.sampled_from([None, None, Season((4, 1), (10, 31)), Season((11, 15), (3, 10))])
spreads = st.builds(Spread, st.floats(0, 0.3), st.floats(0, 50), st.floats(0, 1e-4), st.sampled_from([0.0, 40.0]))
rows = st.tuples(
    days, st.one_of(st.none(), st.floats(0, 500_000)), splits, intervals, months, factors, paces, days, seasons, st.booleans(), spreads
)


def both(row):
    since, ran, split, interval, months, factor, pace, read_on, season, by_km, spread = row
    rate = Rate(pace, pace * 0.8, pace * 1.3)
    flat = {} if interval is None else {"road": interval, "off_road": interval * 0.6}
    limits = Limits(flat, None, months) if by_km else Limits({}, interval and max(1.0, interval / 60), months, {"off_road": 0.6})
    ahead = Ahead(rate, read_on, season, spread)
    beyond = ahead.run_by(TODAY)
    legs = None if ran is None else leg_mix(split, ran)
    if by_km and ran is None:
        limits = Limits({}, None, months)
    alone = next_due(
        (legs or {}) if by_km else {},
        None if by_km else legs,
        since,
        TODAY,
        limits,
        split,
        ahead_km=ahead if by_km else None,
        ahead_h=None if by_km else ahead,
        meter_km=1000.0 if by_km else None,
        meter_h=None if by_km else 1000.0,
        factor=factor,
    )
    made = plain(legs, since, limits, split, factor, ahead=ahead, beyond=beyond, meter_now=1000.0, by_km=by_km)
    return alone, made


@given(st.lists(rows, max_size=6))
def test_it_says_of_each_what_the_form_for_one_says(asked):
    pairs = [both(row) for row in asked]
    for (alone, _), found in zip(pairs, next_dues([made for _, made in pairs], TODAY), strict=True):
        expected = asdict(alone)
        assert asdict(found) == {k: pytest.approx(v, rel=1e-9, abs=1e-6) if isinstance(v, float) else v for k, v in expected.items()}


FIVE_YEARS = Limits({"road": 80_000}, None, 60)


def one(since=dt.date(2025, 3, 31), ran=40_000.0, pace=100.0, limits=FIVE_YEARS, **changed):
    given = {
        "ahead": Ahead(Rate(pace, pace * 0.5, pace * 2), TODAY, spread=Spread.within(2.0)),
        "beyond": 0.0,
        "meter_now": 120_000.0,
        "by_km": True,
        "factor": 1.0,
    } | changed
    return plain({"road": ran}, since, limits, {"road": 1.0}, **given)


def test_by_hand():
    # 40 000 km left at 100 km a day are 400 days, 200 at the fast pace and 800 at the slow one; the time limit is years away.
    found = next_dues([one()], TODAY)[0]
    assert (found.state, found.limit, found.used, found.left, found.at_km) == ("fine", "distance", 0.5, 40_000, 160_000)
    assert [(d - TODAY).days for d in (found.earliest, found.on, found.latest)] == [200, 400, 800]
    # Parked, the time limit alone counts: 31 March 2025 and five years.
    parked = next_dues([one(pace=0.0)], TODAY)[0]
    assert (parked.limit, parked.on, parked.earliest, parked.latest) == ("time", *[dt.date(2030, 3, 31)] * 3)
    assert (parked.at_km, parked.left) == (None, (dt.date(2030, 3, 31) - TODAY).days)


def test_without_a_limit_nothing_falls_due_and_without_a_pace_no_day_is_named():
    assert next_dues([one(limits=Limits({}))], TODAY)[0].limit == "none"
    still = next_dues([one(pace=0.0, ran=79_900.0, limits=Limits({"road": 80_000}))], TODAY)[0]
    assert (still.state, still.limit, still.on, still.used) == ("due", "distance", None, pytest.approx(0.99875))
    assert next_dues([], TODAY) == []


def test_what_is_run_to_the_last_km_is_due_and_one_more_is_overdue():
    to_the_km = Limits({"road": 80_000})
    assert [next_dues([one(ran=ran, limits=to_the_km)], TODAY)[0].state for ran in (80_000.0, 80_001.0)] == ["due", "overdue"]


def test_what_is_a_century_away_is_not_named():
    # 39 000 km at one km a day are 39 000 days of the season: past the century in which days are named, and so is the day.
    summer = Ahead(Rate(1.0, 1.0, 1.0), TODAY, Season((4, 1), (9, 30)))
    far, near = (next_dues([one(ran=ran, ahead=summer, limits=Limits({"road": 80_000}))], TODAY)[0] for ran in (41_000.0, 79_817.0))
    assert (far.on, far.limit) == (None, "distance")
    # 1 April to 30 September are 183 days: 183 km are run on the last of them.
    assert near.on == dt.date(2026, 9, 30)


def test_what_cannot_be_is_refused():
    with pytest.raises(Inconsistent, match="lies before the last change"):
        next_dues([one(), one(since=dt.date(2026, 4, 1))], TODAY)
    with pytest.raises(OutOfRange):
        one(ran=-1.0)
    with pytest.raises(OutOfRange):
        one(factor=0.0)
