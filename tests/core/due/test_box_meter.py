"""What a box ran over all vehicles that it was fitted in; all by hand."""

import datetime as dt

import pytest

from barodex.core.due.meter import BoxMeter, Fitted, Meter, MeterReading

DAY = dt.date(2026, 1, 1)


def on(days):
    return DAY + dt.timedelta(days=days)


def meter(*rows):
    return Meter.of([MeterReading(on(d), v, *more) for d, v, *more in rows], on(1000))


FIRST = meter((0, 50_000.0), (100, 60_000.0), (300, 80_000.0))
SECOND = meter((0, 5_000.0), (100, 9_000.0), (200, 10_000.0))
MOVED = BoxMeter((Fitted(FIRST, None, None, on(100), 60_000.0), Fitted(SECOND, on(120), 9_200.0, None, None)))


@pytest.mark.parametrize(
    ("begun", "ended", "ran"),
    [
        ((0, 50_000.0), (50, 55_000.0), 5_000),  # in the first vehicle
        ((50, 55_000.0), (150, 9_500.0), 5_000 + 300),  # over both; twenty days in the store ran nothing
        ((130, 9_300.0), (200, 10_000.0), 700),  # in the second
        ((100, 60_000.0), (120, 9_200.0), 0),
        ((50, None), (200, None), 5_000 + 800),  # read between the readings
    ],
)
def test_between_two_events(begun, ended, ran):
    assert MOVED.between(on(begun[0]), begun[1], on(ended[0]), ended[1]) == pytest.approx(ran)


def test_since_an_event_up_to_now():
    """5 000 in the first, 800 in the second up to its last reading, 40 since by its use."""
    assert MOVED.run(on(50), 55_000.0, beyond=40.0) == pytest.approx(5_000 + 800 + 40)
    assert MOVED.run(on(150), 9_500.0) == pytest.approx(500)


def test_one_in_the_store_runs_nothing_more():
    stored = BoxMeter((Fitted(FIRST, None, None, on(100), 60_000.0),))
    assert stored.run(on(50), 55_000.0, beyond=40.0) == pytest.approx(5_000)
    assert BoxMeter(()).run(on(0), 1.0) is None
    assert BoxMeter(()).between(on(0), 1.0, on(1), 2.0) is None


def test_on_the_day_of_a_swap_a_value_is_of_the_meter_that_it_lies_next_to():
    swapped = meter((0, 60_000.0), (10, 71_700.0), (10, 300_000.0, True), (20, 300_500.0))
    assert swapped.between(on(0), 60_000.0, on(20), 300_500.0) == pytest.approx(12_200)
    assert swapped.between(on(0), 60_000.0, on(10), 71_700.0) == pytest.approx(11_700)
    assert swapped.between(on(10), 300_000.0, on(20), 300_500.0) == pytest.approx(500)


def test_without_a_reading_by_their_own_values():
    assert meter().between(on(0), 100.0, on(5), 350.0) == 250
    assert meter().between(on(0), None, on(5), 350.0) is None
