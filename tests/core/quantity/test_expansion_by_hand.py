"""Volumes away from 15 °C. ASTM D1250 / API MPMS 11.1, generalised lubricating oils; the factors as published constants give them."""

from __future__ import annotations

import numpy as np
import pytest

from barodex.core.quantity.expansion import volume_at, volume_correction_factor, volume_from_mass
from barodex.core.quantity.quantity import parse_quantity

PUBLISHED = [(880.0, 40.0, 0.98207), (860.0, 60.0, 0.96685), (900.0, 90.0, 0.94695)]


@pytest.mark.parametrize(("density15", "temperature_c", "factor"), PUBLISHED)
def test_weighed_warm_oil_is_more_than_its_cold_volume(density15, temperature_c, factor):
    """1 kg of 860 kg/m³ at 60 °C: 1 000 000 / (860 · 0.96685) = 1 202.7 mL."""
    assert volume_from_mass(1000.0, temperature_c, density15) == pytest.approx(1e6 / (density15 * factor), rel=2e-5)


@pytest.mark.parametrize(("density15", "temperature_c", "factor"), PUBLISHED)
def test_single_values_whole_numbers_and_arrays_give_the_same(density15, temperature_c, factor):
    single = volume_correction_factor(density15, temperature_c)
    assert single == pytest.approx(factor, abs=5e-6)
    assert volume_correction_factor(int(density15), int(temperature_c)) == pytest.approx(single, rel=1e-12)
    assert volume_correction_factor(np.array([density15]), np.array([temperature_c]))[0] == pytest.approx(single, rel=1e-12)


def test_from_one_warm_temperature_to_another_goes_over_15_degrees():
    """1 000 mL at 60 °C are 966.85 at 15 °C and 966.85 / VCF(90 °C, 860) there; VCF(90, 860) = exp(−0.05475(1 + 0.8·0.05475)) = 0.94446."""
    growth = 0.6278 / 860 * 75
    assert volume_at(1000.0, 60.0, 90.0, 860.0) == pytest.approx(966.85 / np.exp(-growth * (1 + 0.8 * growth)), rel=2e-5)


def test_a_typed_month_is_the_mean_month_of_the_gregorian_calendar():
    """400 years have 146 097 days and 4 800 months."""
    assert parse_quantity("3 months", "duration") == pytest.approx(3 * 146_097 / 4800, rel=1e-9)
