"""Viscosity against published examples, the standards' own definitions and general reference libraries; each names its source."""

import math
import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.oil.grades import grade_for_kv100, kv40_band, kv100_band, parse_grade, table
from barodex.core.oil.viscosity import (
    blend_viscosity,
    kinematic_viscosity,
    kv40_for_index,
    temperature_for_viscosity,
    thickness_of_grade,
    viscosity_index,
)
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.quantity.expansion import volume_correction_factor

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    from chemicals.viscosity import viscosity_index as chemicals_index


# ASTM D2270, the worked examples of procedures A and B.
@pytest.mark.parametrize(("kv40", "kv100", "index"), [(73.30, 8.86, 92), (22.83, 5.05, 156)])
def test_worked_examples_of_the_viscosity_index(kv40, kv100, index):
    assert round(viscosity_index(kv40, kv100)) == index


@pytest.mark.parametrize("kv100", [2.3, 3.9, 4.7, 5.5, 6.6, 7.3, 8.4, 10.5, 13.0, 16.5, 20.0, 25.0, 34.0, 48.0, 62.0, 85.0])
@pytest.mark.parametrize("ratio", [4.0, 5.5, 8.0, 11.0, 14.0])
def test_viscosity_index_beside_the_chemicals_package(kv100, ratio):
    # The package interpolates the table of ASTM D2270; ours evaluates the quadratics of its annex. One segment a row.
    theirs = chemicals_index(kv100 * ratio * 1e-6, kv100 * 1e-6)
    if 0 <= theirs <= 350:
        assert viscosity_index(kv100 * ratio, kv100) == pytest.approx(theirs, abs=0.6)


@given(st.floats(2.0, 80.0), st.floats(0.0, 250.0))
def test_the_index_read_backwards(kv100, index):
    kv40 = kv40_for_index(kv100, index)
    if kv40 > kv100:
        assert viscosity_index(kv40, kv100) == pytest.approx(index, abs=1e-6)


# ASTM D341: the two-point form, evaluated separately in natural logarithms (ln ln differs from log log by a constant only).
@pytest.mark.parametrize(("kv40", "kv100", "celsius"), [(100.0, 14.0, 80.0), (46.0, 6.8, 20.0), (320.0, 24.0, 60.0), (90.0, 15.5, -10.0)])
def test_walther_line_beside_an_independent_evaluation(kv40, kv100, celsius):
    y40, y100 = math.log(math.log(kv40 + 0.7) / math.log(10)), math.log(math.log(kv100 + 0.7) / math.log(10))
    x40, x100, x = (math.log(t + 273.15) for t in (40, 100, celsius))
    line = y40 + (y100 - y40) * (x - x40) / (x100 - x40)
    assert kinematic_viscosity(kv40, kv100, celsius) == pytest.approx(10 ** math.exp(line) - 0.7, rel=1e-9)


def test_handbook_points_of_industrial_oils():
    # ISO 3448, annex with viscosities at other temperatures for an index of 95, from memory: VG 46 has about 133 mm²/s at 20 °C
    # (110 to 150 across the band) and 30 at 50 °C (27 to 34).
    oil = thickness_of_grade(parse_grade("ISO VG 46"))
    assert 110 < oil.at(20) < 150
    assert 27 < oil.at(50) < 34
    assert oil.estimated


@given(st.floats(20, 600), st.floats(0.06, 0.3), st.floats(-20, 130))
def test_temperature_is_the_inverse(kv40, share, celsius):
    kv100 = max(2.5, kv40 * share)
    try:
        kv = kinematic_viscosity(kv40, kv100, celsius)
    except OutOfRange:
        return
    if kv < 1e9:
        assert temperature_for_viscosity(kv40, kv100, kv) == pytest.approx(celsius, abs=1e-6)


def test_the_points_given_come_back_and_colder_is_thicker():
    temperatures = np.array([-20.0, 0, 20, 40, 60, 80, 100, 120])
    kv = kinematic_viscosity(100, 14, temperatures)
    assert kv[3] == pytest.approx(100)
    assert kv[6] == pytest.approx(14)
    assert (np.diff(kv) < 0).all()


def test_what_viscosity_refuses():
    with pytest.raises(Inconsistent, match="swapped"):
        kinematic_viscosity(14, 100, 40)
    with pytest.raises(Inconsistent, match="thinner hot than cold"):
        kinematic_viscosity(np.array([100.0, 9.0]), np.array([14.0, 9.5]), 40)
    with pytest.raises(OutOfRange, match="temperature_c is 151"):
        kinematic_viscosity(100, 14, 151)
    with pytest.raises(OutOfRange, match="thinner than 2"):
        kinematic_viscosity(10, 2.1, 140)
    with pytest.raises(OutOfRange, match="kv100"):
        viscosity_index(5, 1.9)
    with pytest.raises(OutOfRange, match="nan"):
        kinematic_viscosity(100, np.array([14.0, math.nan]), 40)
    with pytest.raises(OutOfRange, match="must hold numbers"):
        kinematic_viscosity(["thick"], 14, 40)


# ASTM D7152 by volume: Walther numbers add up in proportion; evaluated separately.
def test_blend_beside_an_independent_evaluation():
    w = 0.25 * math.log10(math.log10(30.7)) + 0.75 * math.log10(math.log10(80.7))
    assert blend_viscosity([(0.25, 30), (0.75, 80)]) == pytest.approx(10 ** (10**w) - 0.7)
    assert blend_viscosity([(0.5, 40), (0.5, 40)]) == pytest.approx(40)
    with pytest.raises(Inconsistent, match="add up to 1"):
        blend_viscosity([(0.5, 40)])


# ISO 3448: the twenty mid-points, ±10 %.
@pytest.mark.parametrize(("text", "low", "high"), [("ISO VG 46", 41.4, 50.6), ("vg 320", 288, 352), ("ISO VG 2", 1.98, 2.42)])
def test_industrial_bands(text, low, high):
    assert kv40_band(parse_grade(text)) == pytest.approx((low, high))
    assert len(table("industrial")["grades"]) == 20


# SAE J306 (2019), from memory.
@pytest.mark.parametrize(
    ("text", "band"), [("SAE 65", (3.8, 5.0)), ("SAE 70", (5.0, 6.5)), ("SAE 75", (6.5, 8.5)), ("SAE 80", (8.5, 11.0))]
)
def test_the_edition_of_2019(text, band):
    assert kv100_band(parse_grade(text, "gear", "2019"), "2019") == band
    assert kv100_band(parse_grade("80W", "gear", "2019"), "2019")[0] == 8.5


def test_thirty_is_not_thirty():
    # A straight SAE 30 engine oil is about as thick as an 80 to 85 gear oil (SAE J300 against SAE J306).
    low, high = kv100_band(parse_grade("SAE 30", "engine"))
    assert (grade_for_kv100(low, "gear"), grade_for_kv100(high - 0.01, "gear")) == ("80", "85")


def test_expansion_of_many_values_is_that_of_one():
    # ASTM D1250 / API MPMS 11.1 points of the constants, worked by hand: 880 at 40 °C, 860 at 60 °C, 900 at 90 °C.
    many = volume_correction_factor(np.array([880.0, 860, 900]), np.array([40.0, 60, 90]))
    assert many == pytest.approx([0.98207, 0.96685, 0.94695], abs=5e-6)
