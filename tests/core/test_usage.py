"""Use per day: slips, swaps, parked months. The regression stands in the reference tests."""

import datetime as dt

import numpy as np
import pytest

from barodex.core.errors import OutOfRange
from barodex.core.usage import DEFAULT_PER_DAY, MeterReading, check_reading, forecast, run_since, running_total

TODAY = dt.date(2026, 6, 15)


def reading(days_ago, value, swap=False):
    return MeterReading(TODAY - dt.timedelta(days=days_ago), value, swap)


def test_one_reading_takes_the_default_of_its_kind_and_says_so():
    found = forecast([reading(3, 50_000)], TODAY, "truck")
    assert (found.rate.per_day, found.is_default) == (DEFAULT_PER_DAY["truck"][0], True)
    assert forecast([], TODAY, "boat", "h").rate.per_day == 0.4


def test_a_steady_vehicle_has_its_steady_rate():
    found = forecast([reading(d, 10_000 - 40 * d) for d in (200, 150, 100, 50, 0)], TODAY, "car")
    assert found.rate.per_day == pytest.approx(40)
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
    assert run_since(readings, TODAY - dt.timedelta(days=200), 94_000, TODAY, 0) == pytest.approx(6000)


def test_run_since_reads_between_the_readings_and_on_to_today():
    readings = [reading(100, 1000), reading(50, 2000)]
    assert run_since(readings, TODAY - dt.timedelta(days=75), None, TODAY, 0) == pytest.approx(500)
    assert run_since(readings, TODAY - dt.timedelta(days=100), 1000, TODAY, 20) == pytest.approx(1000 + 50 * 20)
    assert run_since([], TODAY, None, TODAY, 20) is None


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
