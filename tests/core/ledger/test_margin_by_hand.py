"""Until when a level holds, by hand: the low mark is 15 % of the capacity (common practice)."""

from __future__ import annotations

import pytest

from barodex.core.ledger.leak import days_until_low


def test_the_margin_is_what_may_still_be_lost():
    """150 mL may be missing of 1 000; 2 mL per 1 000 km over 20 000 km are 40: 110 are left, 55 000 km, 1 100 days at 50."""
    holds = days_until_low(1000.0, 2.0, 0.1, 50.0, 20_000.0)
    assert holds.margin_ml == pytest.approx(110.0)
    assert (holds.run[1], holds.days[1]) == (pytest.approx(55_000), pytest.approx(1100))


def test_a_gain_takes_nothing_off_the_margin_and_a_low_mark_of_its_own_counts():
    assert days_until_low(1000.0, -2.0, 0.1, 50.0, 20_000.0).margin_ml == pytest.approx(150.0)
    assert days_until_low(1000.0, 2.0, 0.1, 50.0, 20_000.0, low_ml=60.0).margin_ml == pytest.approx(20.0)
