"""Use of a vehicle by hand: meters of hours, seasons, duties noted for a part of the way. All worked out on paper beside each."""

import datetime as dt

import pytest

from barodex.core.due.meter import Meter, MeterReading
from barodex.core.due.season import parse_season
from barodex.core.due.use import Line, forecast

DAY = dt.date


def test_a_boat_that_runs_a_third_of_an_hour_a_day_of_its_season():
    """1 May to 30 August are 122 days; 40 h in the 120 days from 1 May to 29 August, nothing in winter: 1/3 h a day of use, 122/365 of that a year."""
    season = parse_season("05-01", "08-30")
    readings = [MeterReading(DAY(2025, 5, 1), 100.0), MeterReading(DAY(2025, 8, 29), 140.0), MeterReading(DAY(2026, 4, 1), 140.0 + 1 / 3)]
    found = forecast(readings, DAY(2026, 4, 1), "boat", "h", season=season)
    assert found.in_use.per_day == pytest.approx(1 / 3, rel=0.05)  # three readings: a little towards the usual of a boat
    assert found.rate.per_day == pytest.approx(found.in_use.per_day * 122 / 365)
    assert found.rate.per_day < found.in_use.per_day
    assert not found.is_default
    # 20 h are 60 days of use at most: the first is 1 May 2026 (what is left of 2025 was run), so 29 June, or three days sooner.
    _, middle, _ = found.date_at(20.0)
    assert DAY(2026, 6, 26) <= middle <= DAY(2026, 6, 30)


def test_a_meter_that_never_ran_tells_a_rate_of_zero_and_no_day():
    readings = [MeterReading(DAY(2026, 1, 1), 50.0), MeterReading(DAY(2026, 1, 20), 50.0)]
    found = forecast(readings, DAY(2026, 1, 20), "boat", "h")
    assert (found.in_use.per_day, found.date_at(1.0)[1]) == (0.0, None)


def test_a_duty_noted_on_one_leg_leaves_the_usual_split_for_the_rest():
    """The second 1 000 km of three were towing by half. Since the change at 500: 500 usual, 500 + 500 noted, 1 000 usual, 200 beyond."""
    meter = Meter.of(
        [
            MeterReading(DAY(2026, 1, 1), 0.0),
            MeterReading(DAY(2026, 2, 1), 1000.0),
            MeterReading(DAY(2026, 3, 1), 2000.0, duty={"towing": 0.5, "road": 0.5}),
            MeterReading(DAY(2026, 4, 1), 3000.0),
        ],
        DAY(2026, 5, 1),
    )
    found = meter.legs(DAY(2026, 1, 15), 500.0, 200.0, {"road": 0.8, "town": 0.2})
    assert found == {"road": pytest.approx(0.8 * 1700 + 500), "town": pytest.approx(0.2 * 1700), "towing": pytest.approx(500)}


def test_a_change_within_a_noted_leg_counts_the_part_of_it_that_came_after():
    """At 1 250 of a leg from 1 000 to 2 000 that was all towing: 750 of it, and 300 beyond by the usual split."""
    meter = Meter.of([MeterReading(DAY(2026, 1, 1), 1000.0), MeterReading(DAY(2026, 3, 1), 2000.0, duty={"towing": 1.0})], DAY(2026, 5, 1))
    assert meter.legs(DAY(2026, 2, 1), 1250.0, 300.0, {"road": 1.0}) == {"road": pytest.approx(300), "towing": pytest.approx(750)}


def test_a_change_after_the_last_reading_has_no_noted_leg():
    """Its own meter value 2 100 lies beyond the last reading 2 000: of 300 run beyond that, 200 came after."""
    meter = Meter.of([MeterReading(DAY(2026, 1, 1), 1000.0), MeterReading(DAY(2026, 3, 1), 2000.0, duty={"towing": 1.0})], DAY(2026, 5, 1))
    found = meter.legs(DAY(2026, 4, 1), 2100.0, 300.0, {"road": 1.0})
    assert {k: v for k, v in found.items() if v} == {"road": pytest.approx(200)}
    assert found.get("towing", 0.0) == 0.0


def test_a_swapped_meter_runs_on_from_what_the_old_one_showed():
    """500 on the old meter, then a used one begins at 9 000: 200 more are 700 in all; 250 since the change at the old meter's 450."""
    meter = Meter.of(
        [
            MeterReading(DAY(2026, 1, 1), 0.0),
            MeterReading(DAY(2026, 2, 1), 500.0),
            MeterReading(DAY(2026, 2, 1), 9000.0, swap=True),
            MeterReading(DAY(2026, 3, 1), 9200.0),
        ],
        DAY(2026, 3, 1),
    )
    assert list(meter.totals) == [0, 500, 500, 700]
    assert meter.run(DAY(2026, 1, 28), 450.0) == pytest.approx(250)
    # Without its own meter value it is read between the neighbours: 10 of 31 days of 500.
    assert meter.run(DAY(2026, 1, 11), None) == pytest.approx(700 - 500 * 10 / 31)
    assert Line(meter, "car").unit == "km"
