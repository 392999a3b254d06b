"""What is said eight times out of ten is right eight times out of ten: forecasts of made-up vehicles whose future is known.

Wanted: 70 to 90 % of the true days inside P10 to P90 in every scenario, P50 off by less than 7 % of the time to go in the middle, and
neither side more than twice as often as the other. The counts are binomial; each bound is widened by three of its standard errors, so
that a forecast that holds it fails about once in a thousand runs of another seed. The whole count stands in ``make calibration``.
"""

import numpy as np
import pytest

from .use_by_day import SCENARIOS, hits, just_changed, weekly_noise

COUNT = 150


def within(share, low, high, count):
    """Whether a share of so many lies between bounds, to three binomial standard errors."""
    return low - 3 * (low * (1 - low) / count) ** 0.5 <= share <= high + 3 * (high * (1 - high) / count) ** 0.5


@pytest.mark.parametrize("scenario", SCENARIOS, ids=lambda s: s.__name__)
def test_eight_out_of_ten(scenario):
    found = hits(scenario, COUNT, 2026)
    assert within(found.inside, 0.7, 0.9, COUNT), found
    assert abs(found.bias) < 0.07 + 3 * 0.25 / COUNT**0.5, found  # one standard error of a median of errors that spread by a fifth
    more, less = max(found.below, found.above), min(found.below, found.above)
    outside = COUNT * (more + less)
    assert more * COUNT <= outside * 2 / 3 + 3 * (outside * 2 / 9) ** 0.5, found


def test_a_steady_vehicle_is_seldom_said_to_have_changed_and_a_changed_one_nearly_always():
    from barodex.core.due.use import forecasts

    rng = np.random.default_rng(5)
    steady = [made.line for made in (weekly_noise(rng) for _ in range(300))]
    changed = [made.line for made in (just_changed(rng) for _ in range(300))]
    alarms = sum(f.change is not None for line in steady for f in forecasts([line], made_on(line)))
    seen = sum(f.change is not None for line in changed for f in forecasts([line], made_on(line)))
    assert alarms <= 9, alarms  # stated: about one of a hundred; three of a hundred is four standard errors above it
    assert seen >= 0.85 * 300, seen  # with three readings since


def made_on(line):
    return line.meter.last_on
