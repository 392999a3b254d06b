"""How past forecasts came out: replayed by hand, and counted against eight out of ten."""

import datetime as dt

import numpy as np
import pytest

from barodex.core.due.meter import Meter, MeterReading
from barodex.core.due.replay import CameOut, replayed, tally
from barodex.core.due.use import Line, forecasts

from .use_by_day import weekly_noise

DAY = dt.date


def test_a_forecast_is_held_against_the_first_reading_far_enough_ahead():
    """Read each 30 days at 40 km a day. On 1 July 2025 the last reading is of 30 June, the first 90 days on that of 28 September: 3 600 km."""
    readings = [MeterReading(DAY(2025, 1, 1) + dt.timedelta(days=30 * k), 1200 * k) for k in range(14)]
    line = Line(Meter.of(readings, DAY(2026, 6, 1)), "van")
    (found,) = replayed([line], [DAY(2025, 7, 1)])
    assert (found.since, found.true, found.run) == (DAY(2025, 6, 30), DAY(2025, 9, 28), 3600)
    (then,) = forecasts([Line(Meter.of([r for r in readings if r.on <= DAY(2025, 7, 1)], DAY(2025, 7, 1)), "van")], DAY(2025, 7, 1))
    assert (found.early, found.middle, found.late) == then.date_at(3600)  # nothing that was read since was known
    assert (found.side, found.off) == (0, pytest.approx(0, abs=0.03))


def test_what_has_no_reading_so_far_ahead_or_stood_tells_nothing():
    readings = [MeterReading(DAY(2025, 1, 1), 0), MeterReading(DAY(2025, 3, 1), 2000), MeterReading(DAY(2025, 8, 1), 2000)]
    line = Line(Meter.of(readings, DAY(2026, 6, 1)), "van")
    assert replayed([line], [DAY(2025, 3, 2), DAY(2025, 1, 5), DAY(2025, 9, 1)]) == []


def test_a_swapped_meter_is_replayed_across_the_swap():
    readings = [MeterReading(DAY(2025, 1, 1) + dt.timedelta(days=30 * k), 90_000 + 1200 * k) for k in range(6)]
    readings += [MeterReading(DAY(2025, 6, 1) + dt.timedelta(days=30 * k), 1200 * k, swap=k == 0) for k in range(8)]
    line = Line(Meter.of(readings, DAY(2026, 6, 1)), "van")
    (found,) = replayed([line], [DAY(2025, 5, 15)])
    assert found.run == pytest.approx(3600)  # three legs of the new meter; what ran on the day of the swap is not known


def made(sides):
    day = DAY(2026, 1, 1)
    near, far = day - dt.timedelta(days=10), day + dt.timedelta(days=10)
    true = {-1: near - dt.timedelta(days=1), 0: day, 1: far + dt.timedelta(days=1)}
    return [CameOut(0, DAY(2025, 6, 1), DAY(2025, 6, 1), 100.0, near, day, far, true[s]) for s in sides]


@pytest.mark.parametrize(
    ("sides", "verdict"),
    [
        # One standard error of 8 of 10 in 100 is 4: between 72 and 88 are as wanted.
        ([0] * 73 + [1] * 27, "as wanted"),
        ([0] * 71 + [1] * 29, "narrow"),
        ([0] * 87 + [-1] * 13, "as wanted"),
        ([0] * 89 + [-1] * 11, "wide"),
        # Two of 15 are 0.207: more than tells 8 from 6.
        ([0] * 15, "few"),
        ([], "few"),
    ],
)
def test_the_verdict_is_that_of_the_binomial(sides, verdict):
    found = tally(made(sides))
    assert found.verdict == verdict
    assert found.count == len(sides)


def test_a_workshop_of_steady_vehicles_comes_out_as_wanted_or_wider():
    rng = np.random.default_rng(12)
    lines = [weekly_noise(rng).line for _ in range(60)]
    found = tally(replayed(lines, [max(line.meter.last_on for line in lines) - dt.timedelta(days=91 * k) for k in range(2, 6)]))
    assert found.count > 100
    assert found.within / found.count > 0.72
