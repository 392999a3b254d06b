"""Variant, loss and capacity from amounts: against brute force, against SciPy, and by common practice."""

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.linalg import inv, lstsq
from scipy.stats import exponnorm, norm, ttest_1samp

from barodex.core.ledger.bands import BANDS, Run, loss_band
from barodex.core.ledger.drained import Amount, loss_since_last_fill
from barodex.core.ledger.leak import LossPoint, days_until_low, loss_by, loss_rate
from barodex.core.ledger.learnt import Fill, learn_capacity
from barodex.core.ledger.variant import Candidate, identify_variant
from barodex.core.quantity.errors import Inconsistent, OutOfRange

SHORT, LONG = Candidate("short case", 2300, residual_ml=80), Candidate("long case", 2700, residual_ml=80)


def brute(measured, candidates, sigma, mean_loss):
    """The posterior by summing the joint density over a fine grid of losses: 85 % of the boxes lose so much in the mean, 15 % five times
    that; a tenth are of no listed size, of any between 0.3 of the smallest and 1.5 of the largest. The last is that it is none."""
    weights = []
    of = sum(c.prior for c in candidates)
    for c in candidates:
        parts = []
        for share, mean in ((0.85, mean_loss), (0.15, 5 * mean_loss)):
            loss = np.linspace(0, 60 * mean, 400_001)
            density = np.exp(-loss / mean) / mean
            parts.append(
                share * float(np.trapezoid(norm.pdf(measured, c.expected_ml - loss, np.hypot(sigma, c.residual_sigma_ml)) * density, loss))
            )
        weights.append(0.9 * c.prior / of * sum(parts))
    low, high = 0.3 * min(c.capacity_ml for c in candidates), 1.5 * max(c.capacity_ml for c in candidates)
    weights.append(0.1 / (high - low) if low <= measured <= high else 0.0)
    return np.array(weights) / sum(weights)


@settings(max_examples=60, deadline=None)
@given(st.floats(1900, 2700), st.floats(15, 90), st.floats(20, 300), st.floats(0.2, 5), st.floats(0, 150))
@example(2173.0, 15.0, 94.0, 1.0, 150.0)
def test_the_posterior_is_that_of_brute_force(measured, sigma, mean_loss, prior, residue):
    candidates = [Candidate("short case", 2300, prior, residue), Candidate("long case", 2700, 1.0, 80), Candidate("other", 2500, 0.5)]
    verdict = identify_variant(measured, candidates, sigma, mean_loss)
    found = {s.name: s.share for s in verdict.shares}
    want = brute(measured, candidates, sigma, mean_loss)
    assert [*(found[c.name] for c in candidates), verdict.none] == pytest.approx(want, abs=2e-4)


@given(st.floats(0, 3000), st.floats(5, 200), st.floats(5, 500))
def test_the_density_is_that_of_scipys_exponnorm(measured, sigma, mean_loss):
    found = {s.name: s.share for s in identify_variant(measured, [SHORT, LONG], sigma, mean_loss).shares}
    logs = [
        float(
            np.logaddexp(
                *(
                    np.log(share) + exponnorm.logpdf(c.expected_ml - measured, k * mean_loss / sigma, scale=sigma)
                    for share, k in ((0.85, 1), (0.15, 5))
                )
            )
        )
        for c in (SHORT, LONG)
    ]
    if all(np.isfinite(logs)) and max(logs) > -600 and sum(found.values()) > 1e-9:
        odds = 1 / (1 + np.exp(np.clip(logs[1] - logs[0], -700, 700)))
        assert found["short case"] / sum(found.values()) == pytest.approx(odds, abs=1e-6)


def test_a_full_long_case_is_named_and_a_short_one_is_proposed_with_care():
    long = identify_variant(2600, [SHORT, LONG], 55)
    assert long.named == "long case"
    assert not long.circular
    short = identify_variant(2215, [SHORT, LONG], 40, 69)
    assert short.named == "short case"
    assert short.circular, "a long case that lost 405 mL would look the same"
    assert "then no loss can be reckoned" in short.text
    assert short.settle[-1].startswith("Fill to the level")


def test_between_the_two_nothing_is_named():
    found = identify_variant(2290, [SHORT, LONG], 60, 250, casing_marks=("pad by the fill plug",))
    assert found.named == ""
    assert "It does not say which" in found.text
    assert "pad by the fill plug" in found.settle[0]


def test_what_was_poured_by_the_figure_tells_nothing():
    same = [Candidate("a", 2300, last_fill_ml=2300), Candidate("b", 2700, last_fill_ml=2300)]
    found = identify_variant(2280, same, 50)
    assert found.named == ""
    assert "what went in last time" in found.text
    assert found.shares[0].share == pytest.approx(found.shares[1].share)


def test_more_than_any_variant_holds_is_said():
    found = identify_variant(3600, [SHORT, LONG], 60)
    assert found.named == ""
    assert "more than any variant" in found.text


@pytest.mark.parametrize(
    ("call", "error"),
    [
        (lambda: identify_variant(2000, [SHORT], 50), Inconsistent),
        (lambda: identify_variant(-1, [SHORT, LONG], 50), OutOfRange),
        (lambda: identify_variant(2000, [SHORT, LONG], 0), OutOfRange),
        (lambda: identify_variant(2000, [SHORT, Candidate("x", 2000, 0)], 50), OutOfRange),
        (lambda: loss_rate([]), Inconsistent),
        (lambda: loss_rate([LossPoint(0, 10, 5)]), OutOfRange),
        (lambda: loss_rate([LossPoint(100, 10, 0)]), OutOfRange),
        (lambda: days_until_low(0, 1, 1, 10), OutOfRange),
        (lambda: loss_by(2000, 1, 1, -5), OutOfRange),
        (lambda: learn_capacity([Fill(-5, "a")], [], 100), OutOfRange),
    ],
)
def test_what_cannot_be_is_refused(call, error):
    with pytest.raises(error):
        call()


# --- loss --------------------------------------------------------------------------------------------------------------

points = st.lists(st.builds(LossPoint, st.floats(100, 90_000), st.floats(-300, 900), st.floats(5, 120)), min_size=1, max_size=8)


@settings(max_examples=80, deadline=None)
@given(points)
def test_the_rate_and_its_sigma_are_those_of_scipy(rows):
    x, y, s = (np.array(v) for v in zip(*[(p.run / 1000, p.loss_ml, p.sigma_ml) for p in rows], strict=True))
    weighted = (x / s)[:, None]
    (want,), *_ = lstsq(weighted, y / s)
    found = loss_rate(rows)
    assert found.rate == pytest.approx(want, rel=1e-9, abs=1e-9)
    assert found.sigma == pytest.approx(inv(weighted.T @ weighted)[0, 0] ** 0.5, rel=1e-9)


def test_a_leak_that_grows_is_said_to_rise():
    steady = [LossPoint(20_000, 60, 20), LossPoint(20_000, 70, 20)]
    assert not loss_rate(steady).rising
    worse = loss_rate([*steady, LossPoint(20_000, 260, 20)])
    assert worse.rising
    assert worse.real
    assert "rising" in worse.text
    assert (worse.rate_now, worse.sigma_now) == (pytest.approx(13), pytest.approx(1))  # the latest alone: 260 ± 20 in 20 000 km
    assert (loss_rate(steady).rate_now, loss_rate(steady).sigma_now) == (loss_rate(steady).rate, loss_rate(steady).sigma)
    assert "not to be told from none" in loss_rate([LossPoint(20_000, 30, 40)]).text
    assert loss_rate([LossPoint(100, 50, 10)], "h").text.endswith("per 100 h")


def test_until_the_low_mark():
    # 15 % of 2 000 mL are 300 mL; at 30 mL per 1 000 km they are gone after 10 000 km, 200 days at 50 km a day.
    held = days_until_low(2000, 30, 5, 50)
    assert held.run[1] == pytest.approx(10_000)
    assert held.days[1] == pytest.approx(200)
    assert held.run[0] < held.run[1] < held.run[2]
    assert days_until_low(2000, 30, 5, 50, run_since=4_000).run[1] == pytest.approx(6_000)
    assert days_until_low(2000, 30, 5, 50, run_since=12_000).run[1] == 0
    assert days_until_low(2000, -1, 0.5, 50).run == (None, None, None)
    assert days_until_low(2000, 3, 5, 50).run[2] is None, "perhaps it loses nothing"
    assert days_until_low(2000, 30, 5, 0).days == (None, None, None)


@settings(max_examples=100, deadline=None)
@given(st.floats(0.5, 100), st.floats(0.01, 20))
def test_quantiles_of_the_low_mark_are_those_of_simulated_rates(rate, sigma):
    found = days_until_low(2000, rate, sigma, 10).run
    speeds = norm.ppf([0.9, 0.5, 0.1], rate, sigma)
    for run, speed in zip(found, speeds, strict=True):
        assert (run is None) == (speed <= 0) or abs(speed) < 0.01
        if run is not None and speed > 0.01:
            assert run == pytest.approx(300_000 / speed, rel=1e-6)


def test_a_trip():
    assert loss_by(2000, 10, 2, 5_000).passes == "no"
    assert loss_by(2000, 30, 5, 10_000).passes == "perhaps"
    trip = loss_by(2000, 60, 5, 10_000, run_since=2_000)
    assert trip.passes == "yes"
    assert trip.lost_ml[1] == pytest.approx(720)
    assert trip.carry_ml == trip.lost_ml[2]


@pytest.mark.parametrize(
    ("loss", "share", "band"),
    [
        (30, 1.0, "tight"),
        (80, 1.0, "weep"),
        (40 + 2, 0.5, "weep"),
        (80, 0.5, "leak"),
        (80, 0.2, "leak"),
        (80, 0.1, "repair"),
        (400, 2.0, "leak"),
    ],
)
def test_bands_are_of_a_whole_interval(loss, share, band):
    """40 mL of 2 000 beyond 2σ in a fifth of an interval are 10 % in a whole one: common practice counts the interval. A weep is below 5 % by the best estimate:
    42 mL in half an interval are 4.2 %, 80 are 8."""
    assert loss_band(loss, 20, 2000, Run(share)) == band


def test_a_loss_soon_after_the_fill_says_look_again_before_repair():
    """52 mL beyond 2σ in a thousandth of an interval, counted as a fiftieth: more than there is, and too soon to say so."""
    soon = loss_since_last_fill(Amount(2000, 15, 10), (), Amount(1920, 15, 10), 2000, 100, run=Run(0.001, 0.02))
    assert soon.band == "look again"
    assert loss_since_last_fill(Amount(2000, 15, 10), (), Amount(1920, 15, 10), 2000, 9_000, run=Run(0.1)).band == "repair"


@given(st.floats(0, 2000), st.floats(0, 2000), st.floats(0.001, 3))
def test_more_lost_is_never_a_better_band(a, b, share):
    low, high = sorted((a, b))
    assert BANDS.index(loss_band(low, 20, 2000, Run(share))) <= BANDS.index(loss_band(high, 20, 2000, Run(share)))


# --- capacity ------------------------------------------------------------------------------------------------------------


def test_three_fills_to_the_level_that_agree_propose_a_revision():
    fills = [Fill(v, w) for v, w in ((2010, "van"), (1990, "van"), (2005, "truck"), (1998, "truck"))]
    found = learn_capacity(fills, [], 2300)
    assert found.proposes_ml == 2000
    assert "2 sister compartments" in found.text
    t = ttest_1samp([f.volume_ml for f in fills], 2300)
    assert t.pvalue < 0.05, "SciPy's test agrees that it is not the sheet's"
    low, high = t.confidence_interval(0.95)
    assert found.went_in.half_ml == pytest.approx((high - low) / 2)


def test_what_the_sheet_says_stands_within_the_spread():
    found = learn_capacity([Fill(v, "van") for v in (2290, 2315, 2305)], [Fill(2260, "van")], 2300)
    assert found.proposes_ml is None
    assert "stand" in found.text
    assert found.came_out.count == 1


def test_copies_of_the_figure_prove_nothing():
    found = learn_capacity([Fill(2300, "van", to_level=False)] * 5, [], 2300)
    assert found.proposes_ml is None
    assert found.copies == 5
    assert "says nothing" in found.text
    assert learn_capacity([], [], 2300).text == "No fill to a level is on record yet."


def test_two_fills_are_too_few_and_an_unknown_capacity_is_proposed():
    assert "1 more to tell" in learn_capacity([Fill(1500, "a"), Fill(1510, "a")], [], None).text
    assert learn_capacity([Fill(v, "a") for v in (1500, 1510, 1496)], [], None).proposes_ml == 1500
