"""Levels by temperature, on a slope and by dipstick. The warm-up fit is compared with SciPy's least squares."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import curve_fit

from barodex.core.guide.level import (
    cooling_minutes,
    level_shift_ml,
    raise_to_level_mm,
    tilt_deg,
    tilt_error_ml,
    warming_minutes,
    warmup_eta,
)
from barodex.core.ledger.dips import dip_plan
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.quantity.window import TemperatureWindow, check_window

WINDOW = TemperatureWindow(40, 45)


def warming(settles=70.0, start=20.0, tau=600.0, until=300, step=10, noise=0.0):
    seconds = np.arange(0, until + 1, step, dtype=float)
    wobble = np.random.default_rng(3).normal(0, noise, len(seconds)) if noise else 0.0
    return [(float(s), float(t)) for s, t in zip(seconds, settles - (settles - start) * np.exp(-seconds / tau) + wobble, strict=True)]


def test_the_fit_finds_the_law_that_made_the_readings():
    found = warmup_eta(warming(), WINDOW)
    assert found.settles_at_c == pytest.approx(70, abs=0.2)
    assert found.tau_s == pytest.approx(600, rel=0.02)
    # T = 40 at t = 600·ln(50/30) = 306.5 s, T = 45 at 600·ln(50/25) = 415.9 s; the last reading is at 300 s.
    assert found.opens_in_s == pytest.approx(600 * math.log(50 / 30) - 300, abs=1)
    assert found.closes_in_s == pytest.approx(600 * math.log(2) - 300, abs=2)
    assert found.reaches
    assert "opens in 6 s" in found.text


def test_the_fit_beside_scipys_least_squares():
    samples = warming(noise=0.3, until=600)
    t, y = np.array([s for s, _ in samples]), np.array([c for _, c in samples])
    (settles, amplitude, tau), _ = curve_fit(lambda x, a, b, c: a + b * np.exp(-x / c), t, y, p0=(60, -40, 500))
    found = warmup_eta(samples, WINDOW)
    assert found.settles_at_c == pytest.approx(settles, rel=1e-3)
    assert found.tau_s == pytest.approx(tau, rel=5e-3)
    assert found.opens_sigma_s > 0
    assert found.opens_in_s == pytest.approx(-tau * math.log((40 - settles) / amplitude) - 600, abs=2)


def test_it_says_when_the_window_is_never_reached():
    found = warmup_eta(warming(settles=37.0), WINDOW)
    assert not found.reaches
    assert "stays below 40 to 45 °C" in found.text


def test_inside_it_tells_the_minutes_left_and_after_it_that_it_has_left():
    inside = warmup_eta(warming(until=350), WINDOW)
    assert inside.opens_in_s < 0 < inside.closes_in_s
    assert "1.1 minutes left" in inside.text
    past = warmup_eta(warming(until=700), WINDOW)
    assert not past.reaches
    assert "stays above" in past.text


def test_oil_that_cools_back_into_the_window():
    found = warmup_eta(warming(settles=20.0, start=80.0), WINDOW)
    assert found.rate_c_per_min < 0
    assert found.reaches
    assert found.opens_in_s == pytest.approx(600 * math.log(60 / 25) - 300, abs=2)  # 45 °C, from above
    assert found.closes_in_s == pytest.approx(600 * math.log(60 / 20) - 300, abs=2)


@settings(max_examples=40, deadline=None)
@given(st.floats(50, 110), st.floats(0, 35), st.floats(120, 2000))
def test_later_readings_never_push_the_opening_into_the_past_while_it_is_colder(settles, start, tau):
    found = warmup_eta(warming(settles, start, tau, 120), WINDOW)
    if found.temperature_c < 39.5:
        assert found.opens_in_s is not None
        assert found.opens_in_s > 0


@pytest.mark.parametrize(
    ("samples", "error", "words"),
    [
        (warming()[:3], Inconsistent, "4 readings"),
        ([(0, 20), (10, 21), (10, 22), (20, 23)], Inconsistent, "follow each other"),
        ([(0, 20), (1, 60), (2, 61), (3, 61)], Inconsistent, "no oil does that"),
        ([(0, 20), (10, 21), (20, -273), (30, 22)], OutOfRange, "temperature_c"),
    ],
)
def test_a_dead_or_jumping_sensor_is_said(samples, error, words):
    with pytest.raises(error, match=words):
        warmup_eta(samples, WINDOW)


def test_a_window_must_be_one():
    with pytest.raises(Inconsistent, match="below its upper"):
        check_window(TemperatureWindow(45, 40))
    with pytest.raises(OutOfRange, match="high_c"):
        check_window(TemperatureWindow(40, 400))
    assert WINDOW.holds(40)
    assert not WINDOW.holds(45.1)


def test_a_level_set_too_warm_leaves_too_little():
    # ASTM D1250 for 850 kg/m³: VCF at 45 °C against 40 °C, worked by hand: α = 7.3859e-4; αΔt 0.018465 and 0.022158;
    # VCF 0.981434 and 0.977698; the ratio less one is −0.003807, of 9 000 mL: −34.3 mL.
    assert level_shift_ml(9000, 45, 40, 850) == pytest.approx(-34.3, abs=0.3)
    assert level_shift_ml(9000, 40, 40, 850) == 0
    assert level_shift_ml(9000, 30, 40, 850) > 0


def test_a_lifted_end_is_a_tilt_and_a_tilt_is_an_error_at_the_plug():
    assert tilt_deg(100, 2700) == pytest.approx(2.1226, abs=1e-3)  # arcsin(100 / 2700), by hand
    # A surface of 300 × 200 mm, a plug 120 mm from its middle, 2°: 60 000 × 120 × tan 2° = 251 430 mm³.
    assert tilt_error_ml(60_000, 120, 2) == pytest.approx(251.4, abs=0.1)
    assert tilt_error_ml(60_000, 120, -2) == pytest.approx(-251.4, abs=0.1)
    with pytest.raises(OutOfRange, match="more than its wheelbase"):
        tilt_deg(1400, 900)


def test_dips_plan_the_next_pour_and_never_past_the_mark():
    # 500 mL raised the stick from 0 to 20 mm: 25 mL a millimetre; to 60 mm 1 000 mL are missing, four fifths of it next.
    plan = dip_plan([(0, 0), (500, 20)], 60)
    assert (plan.ml_per_mm, plan.missing_ml, plan.next_pour_ml) == pytest.approx((25, 1000, 800))
    close = dip_plan([(0, 0), (500, 20), (1460, 58.4)], 60)
    assert close.next_pour_ml == pytest.approx(close.missing_ml)  # within two millimetres: all of it
    assert dip_plan([(0, 0), (1500, 60)], 60).done
    assert "3 mm over" in dip_plan([(0, 0), (1575, 63)], 60).text
    first = dip_plan([(300, 0)], 60)
    assert first.next_pour_ml is None
    assert "dip again" in first.text


@given(st.floats(1, 200), st.floats(5, 100), st.lists(st.floats(0.05, 1.0), min_size=1, max_size=8))
def test_following_the_plan_ends_at_the_mark_without_passing_it(ml_per_mm, target, shares):
    added, dips = 0.0, [(0.0, 0.0)]
    added = 0.3 * target * ml_per_mm
    dips.append((added, added / ml_per_mm))
    for _ in range(30):
        plan = dip_plan(dips, target)
        if plan.done or plan.next_pour_ml < 0.01:
            break
        added += plan.next_pour_ml
        dips.append((added, added / ml_per_mm))
        assert dips[-1][1] <= target + 1e-6
    assert dips[-1][1] == pytest.approx(target, rel=1e-3)


def test_dips_that_cannot_be_are_refused():
    with pytest.raises(Inconsistent, match="Dip once"):
        dip_plan([], 50)
    with pytest.raises(Inconsistent, match="cannot become less"):
        dip_plan([(500, 20), (400, 25)], 50)
    with pytest.raises(OutOfRange, match="reading_mm"):
        dip_plan([(0, -3)], 50)


def test_a_leaning_case_is_raised_by_wheelbase_times_sine():
    # sin 2° = 0.0349; 2.5 m of wheelbase: 87 mm. And back by the tilt of that lift.
    assert raise_to_level_mm(2.0, 2500.0) == pytest.approx(87.2, abs=0.1)
    assert tilt_deg(raise_to_level_mm(-1.3, 2600.0), 2600.0) == pytest.approx(-1.3)
    with pytest.raises(OutOfRange):
        raise_to_level_mm(45.0, 2500.0)


def test_cooling_follows_newtons_law():
    # From 60 °C to 40 °C at 20 °C half the difference is gone: ln 2 of the time constant.
    assert cooling_minutes(60.0, 40.0, 20.0) == pytest.approx(60 * math.log(2))
    assert cooling_minutes(35.0, 40.0, 20.0) == 0
    assert cooling_minutes(60.0, 20.0, 20.0) is None
    with pytest.raises(OutOfRange):
        cooling_minutes(400.0, 40.0, 20.0)


def test_more_heavier_and_colder_oil_takes_longer_to_warm():
    assert warming_minutes(1500.0, 15.0, heavy=False) == 10  # common practice
    assert warming_minutes(1500.0, -10.0, heavy=False) == 20
    assert warming_minutes(1500.0, None, heavy=True) == 15
    assert warming_minutes(8500.0, 15.0, heavy=False) == 15.5
