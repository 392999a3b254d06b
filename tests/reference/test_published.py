"""Checks against values from outside the project; each names its source."""

import itertools
import math

import numpy as np
import pytest
from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.interval import add_months
from barodex.core.due.meter import MeterReading
from barodex.core.due.use import forecast
from barodex.core.guide.torque import nm_to_lbf_ft, wrench_setting
from barodex.core.ledger.bands import Run
from barodex.core.ledger.drained import Amount, at_reference, loss_since_last_fill
from barodex.core.oil.grades import (
    cold_limit_c,
    grade_for_kv100,
    grades_for_kv100,
    kv100_band,
    parse_category,
    parse_grade,
    read_grade,
    table,
)
from barodex.core.quantity.errors import Ambiguous, OutOfRange, Unreadable
from barodex.core.quantity.expansion import volume_at, volume_correction_factor, volume_from_mass
from barodex.core.sheet.sheet import key_size

# ASTM D1250 / API MPMS 11.1, generalised lubricating oils, evaluated by hand from K1 = 0.6278, K0 = 0.


@pytest.mark.parametrize(
    ("density15", "temperature_c", "expected"), [(880, 40, 0.98207), (860, 60, 0.96685), (900, 90, 0.94695), (880, 15, 1.0)]
)
def test_volume_correction_factor_of_the_published_constants(density15, temperature_c, expected):
    assert volume_correction_factor(density15, temperature_c) == pytest.approx(expected, abs=5e-6)


def test_a_hot_drain_at_15_degrees():
    # 2 300 mL at 60 °C is about 2 226 mL at 15 °C for 880 kg/m³: the same constants, worked separately.
    assert volume_at(2300, 60, 15, 880) == pytest.approx(2225.5, abs=0.2)  # α = 7.1341e-4, αΔt = 0.032103, VCF = 0.96761
    assert at_reference(Amount(2300, 60, 50), 880).sigma_ml == pytest.approx(50 * 2226 / 2300, abs=0.1)


def test_oil_shrinks_about_seven_thousandths_in_ten_degrees():
    # Handbook rule, common practice: about 0.7 % per 10 °C.
    assert 1 - volume_at(1000, 40, 30, 880) / 1000 == pytest.approx(0.007, abs=0.0005)


@given(st.floats(800, 1164), st.floats(-20, 150), st.floats(-20, 150), st.floats(1, 60_000))
def test_expansion_there_and_back(density15, a, b, volume):
    assert volume_at(volume_at(volume, a, b, density15), b, a, density15) == pytest.approx(volume, rel=1e-9)


def test_weighed_oil_by_its_density():
    # 880 g of an 880 kg/m³ oil fill one litre at 15 °C, by definition of density.
    assert volume_from_mass(880, 15, 880) == pytest.approx(1000)


@pytest.mark.parametrize(("density15", "temperature_c"), [(0.88, 20), (799, 20), (880, 151), (880, math.nan)])
def test_expansion_refuses_what_the_standard_does_not_cover(density15, temperature_c):
    with pytest.raises(OutOfRange, match=r"allowed is|must be a number"):
        volume_correction_factor(density15, temperature_c)


# SAE J306 (2005) table 1 and SAE J300: limits of kinematic viscosity at 100 °C, mm²/s.


@pytest.mark.parametrize(
    ("text", "low", "high"),
    [
        ("SAE 80", 7.0, 11.0),
        ("SAE 85", 11.0, 13.5),
        ("80W-90", 13.5, 18.5),
        ("75W-110", 18.5, 24.0),
        ("85W-140", 24.0, 32.5),
        ("SAE 190", 32.5, 41.0),
        ("SAE 250", 41.0, None),
        ("75W", 4.1, None),
        ("85W", 11.0, None),
    ],
)
def test_gear_bands(text, low, high):
    assert kv100_band(parse_grade(text)) == (low, high)


@pytest.mark.parametrize(
    ("text", "low", "high"), [("SAE 30", 9.3, 12.5), ("SAE 20", 6.9, 9.3), ("SAE 40", 12.5, 16.3), ("SAE 60", 21.9, 26.1)]
)
def test_engine_bands(text, low, high):
    assert kv100_band(parse_grade(text, "engine")) == (low, high)


@pytest.mark.parametrize(
    ("text", "limit"), [("70W-80", -55), ("75W-90", -40), ("80W-90", -26), ("85W-140", -12), ("SAE 90", None), ("10W-40", None)]
)
def test_cold_limits(text, limit):
    assert cold_limit_c(parse_grade(text)) == limit


def test_thirty_is_not_thirty():
    # An engine SAE 30 of 11 mm²/s is as thick as a gear 80 to 85: two scales.
    assert grade_for_kv100(11.0, "engine") == "30"
    assert grade_for_kv100(11.0, "gear") == "85"
    assert grade_for_kv100(10.9, "gear") == "80"


@given(st.floats(7.0, 100))
def test_a_grade_found_for_a_viscosity_has_it_in_its_band(kv100):
    low, high = kv100_band(parse_grade(f"SAE {grade_for_kv100(kv100, 'gear')}"))
    assert low <= kv100
    assert high is None or kv100 < high


@pytest.mark.parametrize(("scale", "edition"), [("gear", "1998"), ("gear", "2005"), ("gear", "2019"), ("engine", "2005")])
def test_the_tables_join_without_gap_and_name_their_edition(scale, edition):
    bands = list(table(scale, edition)["grades"].values())
    pairs = list(itertools.pairwise(bands))
    thin = 3 if scale == "engine" else 0  # SAE J300: grades 8, 12, 16 and 20 overlap
    assert all(b[0] < a[1] for a, b in pairs[:thin])
    assert all(a[1] == b[0] for a, b in pairs[thin:])
    assert table(scale, edition)["edition"]


def test_engine_grades_that_overlap_ask_which_is_meant():
    # SAE J300 since 2013, from memory: 16 is 6.1 to below 8.2, 20 is 6.9 to below 9.3 mm²/s at 100 °C.
    assert grades_for_kv100(7.5, "engine") == ("16", "20")
    with pytest.raises(Ambiguous, match="both 16 and 20"):
        grade_for_kv100(7.5, "engine")
    assert grades_for_kv100(6.5, "engine") == ("12", "16")
    assert grade_for_kv100(8.3, "engine") == "20"


@pytest.mark.parametrize(
    ("text", "scale", "edition", "kv100"),
    [
        ("75W-65", "gear", "2019", (3.8, 5.0)),
        ("75W-70", "gear", "2019", (5.0, 6.5)),
        ("75W-75", "gear", "2019", (6.5, 8.5)),
        ("0W-8", "engine", "2005", (4.0, 6.1)),
        ("0W-12", "engine", "2005", (5.0, 7.1)),
        ("0W-16", "engine", "2005", (6.1, 8.2)),
        ("15W", "engine", "2005", (5.6, None)),
        ("25W", "engine", "2005", (9.3, None)),
        ("SAE 90", "gear", "1998", (13.5, 24.0)),
        ("SAE 140", "gear", "1998", (24.0, 41.0)),
    ],
)
def test_grades_of_other_editions(text, scale, edition, kv100):
    # SAE J306-2019, J306-1998 and J300-2015, all from memory.
    assert kv100_band(parse_grade(text, scale, edition), edition) == kv100
    assert kv100_band(read_grade(text, scale), edition) == kv100


@pytest.mark.parametrize(
    ("text", "edition", "words"),
    [
        ("85W-80", "2005", "85W wants at least 11"),
        ("80W-75", "2019", "80W wants at least 8.5"),
        ("25W-20", "2005", "25W wants at least 9.3"),
    ],
)
def test_a_pair_that_no_oil_can_be_is_refused(text, edition, words):
    # SAE J306-2005: 85W from 11.0 mm²/s, grade 80 below 11.0; the other two from memory.
    with pytest.raises(Unreadable, match=words):
        parse_grade(text, "gear", edition)
    with pytest.raises(Unreadable):
        read_grade(text, "gear", "2005")


@pytest.mark.parametrize(("text", "shown"), [("75w90", "75W-90"), ("SAE 80W/90", "80W-90"), ("80W90", "80W-90"), ("sae 90", "SAE 90")])
def test_spellings_of_a_grade(text, shown):
    assert str(parse_grade(text)) == shown


def test_an_unknown_grade_offers_near_ones():
    with pytest.raises(Unreadable, match=r"Near: .*75W-90"):
        parse_grade("75W-95")


@pytest.mark.parametrize(
    ("text", "expected"),
    [("GL4", ("GL-4",)), ("API GL-4/GL-5", ("GL-4", "GL-5")), ("MT-1", ("MT-1",)), ("", ()), ("GL-4/5", ("GL-4", "GL-5"))],
)
def test_categories(text, expected):
    assert parse_category(text) == expected


# FAA AC 43.13-1B chapter 7: a straight adaptor, T·L/(L+E).


def test_wrench_with_a_straight_adaptor():
    assert wrench_setting(100, 300, 75).setting_nm == pytest.approx(80.0)
    assert wrench_setting(100, 300, 75, 90).setting_nm == pytest.approx(100.0)
    assert wrench_setting(100, 300).setting_nm == pytest.approx(100.0)


def test_pound_feet():
    assert nm_to_lbf_ft(1.3558179483314004) == pytest.approx(1.0)  # NIST SP 811 app. B
    assert nm_to_lbf_ft(43) == pytest.approx(31.715, abs=5e-4)  # 43 / 1.35582


def test_a_wrench_outside_its_exact_range_is_said():
    assert "larger" in wrench_setting(100, 300, wrench_max_nm=60).warning
    assert "smaller" in wrench_setting(8, 300, wrench_max_nm=100).warning
    assert wrench_setting(50, 300, wrench_max_nm=100).warning == ""


# Weighted least squares against numpy.polyfit (weights of polyfit are square roots of ours).


def test_rate_of_use_is_the_weighted_mean_of_numpy():
    import datetime as dt

    today = dt.date(2026, 6, 1)
    days = [400, 300, 220, 100, 60, 20, 3]
    values = [1000.0, 4100.0, 6000.0, 9800.0, 11300.0, 12500.0, 13200.0]
    readings = [MeterReading(today - dt.timedelta(days=d), v) for d, v in zip(days, values, strict=True)]
    legs, middle = -np.diff(days), (np.array(days[1:]) + days[:-1]) / 2 - days[-1]
    mean = np.average(np.diff(values) / legs, weights=legs * np.exp2(-middle / 120.0))
    found = forecast(readings, today, "car")
    # A little towards the 35 km a day that are usual of a car, by the share of its own variance.
    own = found.spread.rate
    assert found.rate.per_day == pytest.approx(mean ** (1 / (1 + own)) * 35 ** (own / (1 + own)), rel=1e-9)
    assert found.rate.low < mean < found.rate.high


@given(st.dates(), st.integers(0, 240))
def test_calendar_months_as_dateutil_has_them(start, months):
    if start.year + months // 12 + 1 > 9998:
        return
    assert add_months(start, months) == start + relativedelta(months=months)


def test_uncertainties_add_in_quadrature():
    # JCGM 100 (GUM) 5.1.2: √(30² + 40²) = 50.
    loss = loss_since_last_fill(Amount(2000, 15, 30), (), Amount(1800, 15, 40), 2000, 10_000, run=Run(1.0))
    assert (loss.loss_ml, loss.sigma_ml) == (pytest.approx(200), pytest.approx(50))
    assert loss.per_1000km_ml == pytest.approx(20)
    assert loss.told_from_zero
    assert loss.band == "leak"  # 200 − 2·50, of 2 000: 5 % of the capacity, common practice


@pytest.mark.parametrize(
    ("size_mm", "stamped"),
    [
        (12.0, "12 mm"),
        (5.5, "5.5 mm"),
        (15.875, "5/8 in"),
        (9.525, "3/8 in"),
        (12.7, "1/2 in"),
        (28.575, "1 1/8 in"),
        (25.4, "1 in"),
        (7.938, "5/16 in"),
        (13.3, "13.3 mm"),
    ],
)
def test_a_key_is_named_as_it_is_stamped(size_mm, stamped):
    """1 in = 25.4 mm exactly: NIST SP 811, table B.8."""
    assert key_size(size_mm) == stamped
