"""Drips, suction and its ceiling, top-up as a measurement, time by phase."""

import datetime as dt
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.stats import linregress

from barodex.core.ledger.bands import Run
from barodex.core.ledger.drained import Amount, topup_loss
from barodex.core.ledger.draining import drip_yield, inside_between, recovery
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.run.folding import fold
from barodex.core.run.phases import phase_times, planned_s
from tests.core.guides import BOX, TRUCK, Walk, guide


def test_one_count_gives_an_upper_bound():
    found = drip_yield([(0, 2.0)], 600)
    assert found.tau_s is None
    assert found.over_wait_ml == pytest.approx(20)  # 2 mL/min for ten minutes
    assert "at most" in found.text


def test_two_counts_give_the_decay_and_its_integral():
    # Halved after 5 minutes: τ = 300 / ln 2; the yield is the integral of the rate, by SciPy's quadrature.
    found = drip_yield([(0, 4.0), (300, 2.0)], 900)
    tau = 300 / math.log(2)
    assert found.tau_s == pytest.approx(tau)
    area, _ = quad(lambda t: 2.0 / 60 * math.exp(-t / tau), 0, 900)
    assert found.over_wait_ml == pytest.approx(area)
    assert found.in_all_ml == pytest.approx(2.0 / 60 * tau)


def test_several_counts_are_fitted_as_scipy_does():
    chance = np.random.default_rng(4)
    seconds = np.arange(0, 1500, 150.0)
    rates = 5 * np.exp(-seconds / 400) * np.exp(chance.normal(0, 0.1, seconds.size))
    found = drip_yield(list(zip(seconds.tolist(), rates.tolist(), strict=True)), 60)
    assert found.tau_s == pytest.approx(-1 / linregress(seconds, np.log(rates)).slope)


def test_a_rate_that_rises_is_taken_as_it_is():
    assert drip_yield([(0, 1.0), (60, 3.0)], 60).tau_s is None
    with pytest.raises(Inconsistent, match="follow each other"):
        drip_yield([(60, 1.0), (60, 0.5)], 60)
    with pytest.raises(Inconsistent, match="Count the drops"):
        drip_yield([], 60)
    with pytest.raises(OutOfRange):
        drip_yield([(0, -1.0)], 60)


@given(st.floats(1, 10), st.floats(0.05, 0.95), st.floats(10, 3000))
def test_waiting_longer_never_yields_less_nor_more_than_all(rate, share, wait):
    found = drip_yield([(0, rate), (120, rate * share)], wait)
    longer = drip_yield([(0, rate), (120, rate * share)], wait + 60)
    assert 0 <= found.over_wait_ml <= longer.over_wait_ml <= longer.in_all_ml + 1e-9


@pytest.mark.parametrize(("taken", "share", "enough"), [(140, 1.0, True), (98, 0.7, True), (97, 97 / 140, False), (0, 0.0, False)])
def test_recovery_below_seventy_percent_is_tried_again(taken, share, enough):
    found = recovery(taken, 140)
    assert found.share == pytest.approx(share)
    assert found.enough == enough
    assert ("try again" in found.text) != enough


def test_the_ceiling_is_maximum_less_taken_plus_put():
    found = inside_between(140, 95, 140)
    assert (found.low_ml, found.high_ml, found.over) == (140, 185, True)  # (140 − 95) + 140
    assert inside_between(95, 95, 140).over is False
    # 155 at most, 135 out, 150 in: up to 170 inside, by hand.
    full = inside_between(150, 135, 155)
    assert (full.low_ml, full.high_ml, full.over) == (150, 170, True)
    assert "above the 155 mL it may hold" in full.text
    with pytest.raises(OutOfRange):
        inside_between(-1, 95, 140)


def test_a_top_up_is_told_from_nothing_only_beyond_its_own_repeatability():
    # σ of a level set twice: √2 · √((0.01·2000)² + 10²) = 31.6 mL; with 1 mL of pouring hardly more.
    small = topup_loss(Amount(50, 15, 1.0), 2000, 10_000)
    assert small.sigma_ml == pytest.approx(31.6, abs=0.1)
    assert not small.told_from_zero
    assert small.band == "tight"
    large = topup_loss(Amount(380, 15, 1.0), 2000, 10_000, run=Run(1.0))
    assert large.band == "repair"  # 380 − 63, of 2 000: 15.8 %
    assert large.per_1000km_ml == pytest.approx(38)


def test_time_is_summed_by_phase_and_a_night_is_a_pause():
    walk = Walk(BOX)
    walk.act("ready", later=120, ticked=list(walk.made.by_id["ready"].checklist))
    walk.act("kit", later=14 * 3600, ticked=list(walk.made.by_id["kit"].checklist))
    walk.act("safe", later=30, ticked=list(walk.made.by_id["safe"].checklist))
    started = walk.acts[0].at.replace(hour=8, minute=0, second=0)
    times = {t.phase: t for t in phase_times(walk.made, walk.state, walk.acts, started)}
    assert times["prepare"].taken_s == 120 + 30
    assert times["prepare"].planned_s == sum(planned_s(walk.made.by_id[s]) for s in ("ready", "kit", "safe"))
    assert times["fill"].taken_s == 0
    assert times["fill"].planned_s == 60 + 60 + 120 + 120  # level ground, right oil, pour, and two litres at a minute each


def test_drains_beside_each_other_are_waited_for_once():
    alone, both = guide(BOX), guide(BOX, TRUCK)
    drains = {
        name: next(
            t.planned_s for t in phase_times(made, fold(made, []), [], dt.datetime(2026, 6, 15, 10, tzinfo=dt.UTC)) if t.phase == "drain"
        )
        for name, made in (("alone", alone), ("both", both))
    }
    # a minute for each plug, two for each amount, and twenty minutes in which both drip (common practice)
    assert drains == {"alone": 60 + 120 + 1200, "both": 2 * (60 + 120) + 1200}
