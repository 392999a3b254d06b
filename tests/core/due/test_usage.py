"""Use per day: slips, swaps, parked months. The regression stands in the reference tests."""

import datetime as dt

import numpy as np
import pytest

from barodex.core.due.meter import Meter, MeterReading, check_reading, running_total
from barodex.core.due.season import parse_season
from barodex.core.due.use import DEFAULT_PER_DAY, Line, forecast, forecasts
from barodex.core.quantity.errors import OutOfRange

TODAY = dt.date(2026, 6, 15)


def reading(days_ago, value, swap=False):
    return MeterReading(TODAY - dt.timedelta(days=days_ago), value, swap)


def test_one_reading_takes_the_default_of_its_kind_and_says_so():
    found = forecast([reading(3, 50_000)], TODAY, "truck")
    assert (found.rate.per_day, found.is_default) == (DEFAULT_PER_DAY["truck"][0], True)
    assert forecast([], TODAY, "boat", "h").rate.per_day == 0.4


def test_a_steady_vehicle_has_its_steady_rate():
    found = forecast([reading(d, 10_000 - 40 * d) for d in (200, 150, 100, 50, 0)], TODAY, "car")
    assert found.rate.per_day == pytest.approx(40, rel=2e-3)  # few readings: a little towards the 35 of its kind
    assert not found.is_default


def test_recent_use_weighs_more():
    busy_now = [reading(400, 0), reading(200, 2000), reading(100, 3000), reading(0, 11_000)]
    unweighted = np.polyfit([-400, -200, -100, 0], [0, 2000, 3000, 11_000], 1)[0]
    assert forecast(busy_now, TODAY, "car").rate.per_day > unweighted * 1.3


def test_a_parked_vehicle_does_not_run_backwards():
    found = forecast([reading(30, 5000), reading(20, 5000), reading(0, 5000)], TODAY, "car")
    assert found.rate.per_day == 0


def test_a_swapped_meter_goes_on_counting():
    readings = [reading(300, 90_000), reading(200, 94_000), reading(150, 10, swap=True), reading(0, 6010)]
    assert running_total(readings) == [90_000, 94_000, 94_000, 100_000]
    assert Meter.of(readings, TODAY).run(TODAY - dt.timedelta(days=200), 94_000) == pytest.approx(6000)


def test_run_since_reads_between_the_readings_and_on_to_today():
    readings = [reading(100, 1000), reading(50, 2000)]
    assert Meter.of(readings, TODAY).run(TODAY - dt.timedelta(days=75), None) == pytest.approx(500)
    assert Meter.of(readings, TODAY).run(TODAY - dt.timedelta(days=100), 1000, 50 * 20.0) == pytest.approx(1000 + 50 * 20)
    assert Meter.of([], TODAY).last_on is None


@pytest.mark.parametrize(
    ("earlier", "new", "later", "words"),
    [
        (reading(10, 5000), reading(0, 4000), None, "lower than"),
        (None, reading(10, 5000), reading(0, 4000), "higher than"),
        (reading(1, 5000), reading(0, 50_000), None, "a digit too many"),
        (reading(2, 100), reading(0, 200), None, "a digit too many"),
    ],
)
def test_a_slip_is_asked_about(earlier, new, later, words):
    with pytest.raises(OutOfRange, match=words):
        check_reading(earlier, new, later, "h" if new.value == 200 else "km")


def test_a_swap_may_be_lower():
    check_reading(reading(10, 90_000), reading(0, 12, swap=True), None, "km")


def test_an_unknown_kind_is_refused():
    with pytest.raises(OutOfRange, match="No default use"):
        forecast([], TODAY, "hovercraft")


def test_miles_on_a_km_vehicle_are_seen():
    # 62 000 mi on a dial are 99 779 km (1.609344 km a mile, NIST SP 811): in line with 99 500 km.
    with pytest.raises(OutOfRange, match="write mi behind it"):
        check_reading(reading(30, 99_500), reading(0, 62_000), None, "km")
    with pytest.raises(OutOfRange) as plain:
        check_reading(reading(30, 99_500), reading(0, 20_000), None, "km")
    assert "mi" not in plain.value.message.split("swapped?")[1]


def test_a_winter_in_the_shed_counts_as_standing_that_may_come_again():
    steady = [reading(400 - 20 * k, 800 * k) for k in range(11)]  # 40 km a day up to 200 days ago
    parked = [*steady, reading(100, 8010), reading(60, 9610), reading(20, 11_210), reading(0, 12_010)]
    found, busy = forecast(parked, TODAY, "van"), forecast([reading(400 - 20 * k, 800 * k) for k in range(21)], TODAY, "van")
    assert found.parked_days == 100
    assert found.in_use.per_day == pytest.approx(
        40 * (1 - 0.85 * 100 / 400), rel=0.01
    )  # as much again is to come; 85 % of it before the middle
    early, _, late = found.date_at(12_000)
    assert late - early > 1.5 * (busy.date_at(16_000)[2] - busy.date_at(16_000)[0])  # both some 400 days: nobody knows when it stands again


def test_few_readings_lie_nearer_to_the_usual_of_the_kind():
    """100 km a day over 10 days of a car: variance 1.5/10 and half of 0.003 known, 1 of the kind's 35: 0.152 of ln(35/100) towards it."""
    found = forecast([reading(10, 0), reading(0, 1000)], TODAY, "car")
    known = 1.5 / 10 + 0.003 / 2
    assert found.in_use.per_day == pytest.approx(100 * (35 / 100) ** (known / (1 + known)), rel=1e-9)


def test_use_that_doubled_is_followed_by_what_was_run_since():
    """30 km a day for a year, 60 since three readings: by hand 1 800 km in 30 days."""
    before = [reading(400 - 10 * k, 300 * k) for k in range(38)]  # up to 30 days ago
    found = forecast([*before, *(reading(20 - 10 * k, 11_100 + 600 * (k + 1)) for k in range(3))], TODAY, "van")
    assert found.change is not None
    assert (found.change.since, found.change.factor) == (TODAY - dt.timedelta(days=30), pytest.approx(2.0))
    assert found.in_use.per_day == pytest.approx(60, rel=0.05)
    assert forecast(before, TODAY, "van").change is None


def test_a_season_that_nobody_set_is_found_and_one_that_is_denied_is_not():
    day = dt.date(2024, 4, 1)
    total, readings = 0, [MeterReading(day, 0)]
    while day < TODAY:
        total += sum(20 for k in range(15) if 4 <= (day + dt.timedelta(days=k)).month <= 10)
        day += dt.timedelta(days=15)
        readings.append(MeterReading(day, total))
    found = forecast([r for r in readings if r.on <= TODAY], TODAY, "motorcycle")
    assert found.found
    assert (found.season.first, found.season.last) == ((4, 1), (10, 31))
    line = Line(Meter.of(readings, TODAY), "motorcycle", all_year=True)
    (denied,) = forecasts([line], TODAY)
    assert (denied.found, denied.season) == (False, None)
    once = [r for r in readings if r.on < dt.date(2025, 8, 1)]
    assert forecast(once, TODAY, "motorcycle").found
    assert not forecast(once, TODAY, "car").found  # of another kind one winter tells nothing


def test_a_seasonal_machine_runs_in_its_season_only():
    winter = parse_season("12-01", "04-15")
    days = [dt.date(2024, 12, 1), dt.date(2025, 4, 15), dt.date(2025, 12, 1), dt.date(2026, 4, 15)]
    found = forecast([MeterReading(d, v) for d, v in zip(days, (0, 1350, 1350, 2710), strict=True)], TODAY, "snow machine", season=winter)
    assert found.in_use.per_day == pytest.approx(10, rel=0.05)  # 135 days of each season; 15 a day of the year are usual of its kind
    assert found.rate.per_day == pytest.approx(10 * 136 / 365, rel=0.05)
    assert found.parked_days == 0
    _, on, _ = found.date_at(100)
    assert on in (dt.date(2026, 12, 9), dt.date(2026, 12, 10))  # nothing runs in summer; ten days of the next season
    assert found.ahead.run_by(dt.date(2026, 11, 30)) == 0


def test_without_readings_the_whiskers_widen_and_it_asks_for_one():
    fresh = [reading(d, 40_000 - 40 * d) for d in (300, 200, 100, 10)]
    late = [reading(d + 170, 40_000 - 40 * d) for d in (300, 200, 100, 10)]
    new, old = forecast(fresh, TODAY, "car"), forecast(late, TODAY, "car")
    assert (new.wants_reading, old.wants_reading) == (False, True)
    ahead = [found.date_at(40 * found.stale_days + 4000) for found in (new, old)]  # the same day, a hundred from now
    spread = [(late - early).days for early, _, late in ahead]
    assert spread[1] > 1.4 * spread[0]
    assert forecast([], TODAY, "car").wants_reading


def test_many_at_once_are_as_each_alone():
    winter = parse_season("11-01", "03-31")
    cases = [
        ([reading(300, 0), reading(200, 3000), reading(90, 3010), reading(5, 7000)], "car", "km", None),
        ([], "boat", "h", None),
        ([reading(400, 10), reading(150, 400), reading(80, 700)], "snow machine", "km", winter),
        ([reading(30, 5000)], "truck", "km", None),
        ([reading(300, 90_000), reading(200, 94_000), reading(150, 10, swap=True), reading(-5, 6010)], "van", "km", None),
    ]
    lines = [Line(Meter.of(readings, TODAY), *more) for readings, *more in cases]
    alone = [forecast(readings, TODAY, kind, unit, season=season) for readings, kind, unit, season in cases]
    assert forecasts(lines, TODAY) == alone


def test_a_leg_counts_with_the_duty_that_was_noted():
    readings = [reading(100, 1000), reading(50, 2000)._replace(duty={"track": 0.25, "road": 0.75}), reading(0, 3000)]
    meter = Meter.of(readings, TODAY)
    legs = meter.legs(TODAY - dt.timedelta(days=100), 1000, 0.0, {"road": 1.0})
    assert legs == pytest.approx({"track": 250, "road": 1750})
    # From the middle of the noted leg on: half of it.
    legs = meter.legs(TODAY - dt.timedelta(days=75), 1500, 0.0, {"road": 0.5, "towing": 0.5})
    assert legs == pytest.approx({"track": 125, "road": 375 + 500, "towing": 500})
    assert sum(legs.values()) == pytest.approx(meter.run(TODAY - dt.timedelta(days=75), 1500))
    assert Meter.of([], TODAY).legs(TODAY, 0, 10.0, {"road": 1.0}) is None
