"""What is said of a loss, against boxes whose true loss is known: a first drain, small boxes, suction, temperatures that nobody took.

Counts are binomial; bounds leave three standard errors. All figures common practice.
"""

import re

import numpy as np
import pytest

from barodex.core.ledger.bands import MATTERS, Run, loss_band, tight_odds
from barodex.core.ledger.drained import RESIDUE, level_sigma_ml, poured_sigma_ml
from barodex.core.ledger.leak import LossPoint, loss_rate, stays_learnt
from barodex.core.ledger.learnt import Fill, learn_capacity
from barodex.core.ledger.variant import Candidate, identify_variant

from .boxes import Workshop, rate_points, service, suction_points

N = 300


def bands(seed, **of):
    rng = np.random.default_rng(seed)
    found = []
    for _ in range(N):
        given = {k: v(rng) if callable(v) else v for k, v in of.items()}
        told = service(rng, **given)
        found.append("" if told is None else told.band)
    return {b: found.count(b) / N for b in set(found)}


def test_the_first_drain_of_a_dry_filled_box_is_seldom_called_a_leak():
    """2 to 6 % stays on walls that were dry: of a tight box a leak or a repair is said in fewer than one of twenty."""
    told = bands(1, fill_ml=1850.0, lost_ml=0.0, left_ml=lambda rng: 1850 * rng.uniform(0.02, 0.06), first=True)
    assert told.get("leak", 0) + told.get("repair", 0) < 0.05
    later = bands(2, fill_ml=1850.0, lost_ml=0.0, left_ml=0.0)
    assert later.get("tight", 0) > 0.9
    lost = bands(3, fill_ml=1850.0, lost_ml=0.25 * 1850, left_ml=lambda rng: 1850 * rng.uniform(0.02, 0.06), first=True)
    assert lost.get("leak", 0) + lost.get("repair", 0) > 0.9  # a quarter gone is seen all the same


def test_a_first_suction_tells_no_loss():
    told = bands(
        4, fill_ml=3000.0, lost_ml=0.0, left_ml=lambda rng: 3000 * rng.uniform(0.05, 0.30), method="suction", first=True, some_stays=True
    )
    assert told.get("repair", 0) + told.get("leak", 0) == 0


@pytest.mark.parametrize(("method", "stays"), [("plug", False), ("suction", True)])
def test_tight_is_not_said_where_it_cannot_be_told(method, stays):
    """10 % of a small box is gone, which matters: at most one of ten reads tight, for that is what "90 % sure" says."""
    told = bands(5, fill_ml=150.0, lost_ml=15.0, left_ml=0.0, method=method, some_stays=stays)
    assert told.get("tight", 0) <= 0.1 + 3 * (0.1 * 0.9 / N) ** 0.5, told
    assert told.get("unclear", 0) + told.get("", 0) > 0.5, told


def test_where_it_is_said_to_be_tight_less_was_lost_than_would_matter_nine_times_out_of_ten():
    rng = np.random.default_rng(6)
    right = said = 0
    for _ in range(1500):
        fill = float(np.exp(rng.uniform(np.log(150), np.log(4000))))
        lost = fill * rng.uniform(0, 0.2)
        told = service(rng, fill, lost, 0.0)
        if told.band == "tight":
            said += 1
            right += lost < MATTERS * fill
    assert said > 200
    assert right / said >= 0.9


@pytest.mark.parametrize("capacity", [150.0, 500.0, 1850.0, 9500.0])
def test_a_weep_is_only_said_of_what_may_be_one(capacity):
    """The best estimate over a whole interval below 5 % of the box: never of a third of a small one."""
    sigma = float(np.hypot(0.02 * capacity, 22))
    for loss in np.linspace(0, 0.6 * capacity, 60):
        band = loss_band(loss, sigma, capacity, Run(1.0, 1 / 60))
        assert band != "weep" or loss < 0.05 * capacity


def test_the_odds_of_tight_are_those_of_the_normal_distribution():
    """Φ(1) = 0.8413, Φ(1.6449) = 0.95 (tables of the normal distribution): 10 % of 1 000 mL is 100."""
    assert tight_odds(0, 100, 1000) == pytest.approx(0.8413, abs=1e-4)
    assert tight_odds(0, 100 / 1.6449, 1000) == pytest.approx(0.95, abs=1e-4)
    assert loss_band(0, 100, 1000) == "unclear"
    assert loss_band(0, 100 / 1.6449, 1000) == "tight"


@pytest.mark.parametrize("takes", [True, False])
def test_the_rate_of_eight_services_lies_in_its_two_sigma(takes):
    """Nineteen of twenty, or more; where no temperature was taken its guess errs alike at every service."""
    rng = np.random.default_rng(8)
    inside = 0
    for _ in range(N):
        shop = Workshop(takes, 0.0 if takes else rng.normal(0, 15))
        told = loss_rate(rate_points(rng, 1850.0, 3.0, shop))
        inside += abs(told.rate - 3.0) <= 2 * told.sigma
    assert inside / N >= 0.954 - 3 * (0.954 * 0.046 / N) ** 0.5, inside / N


def named(rng, sizes, true_ml, method):
    """What the core names of a drain: a box of a size, a tenth of them leaking much, as much left as the way of emptying leaves."""
    lost = true_ml * rng.exponential(0.15 if rng.random() < 0.15 else 0.02)
    stays, within = RESIDUE[method]
    left = true_ml * max(0.0, rng.normal(stays, within))
    out = max(1.0, true_ml - min(lost, 0.9 * true_ml) - left)
    sigma = 0.1 * out if method == "suction" else float(np.hypot(0.02 * out, 20))
    read = max(1.0, out + rng.normal(0, sigma))
    candidates = [Candidate(str(k), c, residual_ml=stays * c, residual_sigma_ml=within * c) for k, c in enumerate(sizes)]
    return identify_variant(read, candidates, 0.1 * read if method == "suction" else float(np.hypot(0.02 * read, 20)))


def named_right(rng, method, unlisted, count):
    """How many variants were named rightly, and how many in all: two or three sizes, a twentieth to a half apart; some boxes leak much, some
    are of no listed size."""
    said = right = 0
    for _ in range(count):
        sizes = np.cumprod([rng.uniform(800, 6000), *rng.uniform(1.05, 1.5, int(rng.integers(1, 3)))])
        of = int(rng.integers(0, len(sizes)))
        true = float(sizes[of]) if rng.random() >= unlisted else float(sizes[0] * rng.uniform(0.6, 1.0 + 0.5 * len(sizes)))
        told = named(rng, sizes.tolist(), true, method)
        if told.named:
            said += 1
            right += told.named == str(of) and true == sizes[of]
    return right, said


@pytest.mark.parametrize(("method", "unlisted"), [("plug", 0.0), ("plug", 0.1), ("suction", 0.0), ("suction", 0.1)])
def test_of_the_variants_that_are_named_nine_of_ten_are_right(method, unlisted):
    right, said = named_right(np.random.default_rng(9), method, unlisted, 1500)
    assert said > (10 if method == "suction" else 300), said
    assert right / said >= 0.9 - 3 * (0.9 * 0.1 / said) ** 0.5, (right, said)


def test_the_capacity_that_one_fill_to_the_level_teaches_covers_the_true_one():
    """Poured by bottle marks to a level that repeats to 1 % and 10 mL: the truth lies within twice both together nineteen times of twenty."""
    rng = np.random.default_rng(10)
    inside = 0
    for _ in range(N):
        true = float(np.exp(rng.uniform(np.log(400), np.log(8000))))
        level = true + rng.normal(0, np.hypot(0.01 * true, 10))
        read = level + rng.normal(0, poured_sigma_ml(level))
        told = learn_capacity([Fill(read, "here")], [], true, float(np.hypot(poured_sigma_ml(read), level_sigma_ml(read))))
        within = float(re.search(r"± ([\d\s]+)mL", told.text.replace("\N{NO-BREAK SPACE}", " ")).group(1).replace(" ", ""))
        inside += abs(told.went_in.mean_ml - true) <= within
    assert inside / N >= 0.954 - 3 * (0.954 * 0.046 / N) ** 0.5, inside / N


@pytest.mark.parametrize("own", [0.2, 1.0, 1.6])
@pytest.mark.parametrize("rate", [0.0, 6.0])
def test_a_box_that_keeps_a_share_tells_its_loss_over_several_services(own, rate):
    """Sucked out, 5 to 30 % stay inside, each time another share, by less or more than usual: the rate of eight services is honest."""
    rng = np.random.default_rng(11)
    told = [loss_rate(suction_points(rng, 3000.0, rate, own)) for _ in range(300)]
    inside = sum(abs(r.rate - rate) <= 2 * r.sigma for r in told)
    assert inside / 300 >= 0.95 - 3 * (0.95 * 0.05 / 300) ** 0.5
    if not rate:
        assert sum(r.real for r in told) / 300 <= 0.05 + 3 * (0.05 * 0.95 / 300) ** 0.5


def test_what_stays_is_learnt_of_the_box_itself():
    rng = np.random.default_rng(12)
    usual = suction_points(rng, 3000.0, 0.0)[0].stays_ml
    calm, restless = (np.mean([stays_learnt(suction_points(rng, 3000.0, 0.0, own)) for _ in range(200)]) for own in (0.1, 2.5))
    assert calm < 0.75 * usual < 1.2 * usual < restless
    assert stays_learnt(suction_points(rng, 3000.0, 0.0)[:1]) == pytest.approx(usual)


def test_what_one_service_leaves_the_next_one_finds():
    """In a row of services only the ends remain; of services that do not follow each other every one counts with both of its ends."""
    row = [LossPoint(20_000, 10.0, 30.0, 0.0, 300.0, k > 0) for k in range(9)]
    apart = [LossPoint(20_000, 10.0, 30.0, 0.0, 300.0, False) for _ in range(9)]
    assert loss_rate(row).rate == pytest.approx(loss_rate(apart).rate) == pytest.approx(0.5)
    assert loss_rate(row).sigma < 0.5 * loss_rate(apart).sigma


def test_a_top_up_or_a_plug_between_takes_nothing_off_what_stays():
    """Only the services that leave a share inside err against each other, whatever was counted between; others keep their own σ."""
    left = [LossPoint(20_000, 10.0, 30.0, 0.0, 300.0, k > 0) for k in range(3)]
    topped = LossPoint(5_000, 2.5, 20.0)
    between = [left[0], topped, left[1], left[2]]
    assert stays_learnt(between) == pytest.approx(stays_learnt(left))
    assert loss_rate(between).rate == pytest.approx(0.5)
    assert loss_rate(between).sigma < loss_rate([topped]).sigma
    assert loss_rate(between).sigma == pytest.approx((1 / loss_rate(left).sigma ** 2 + 1 / loss_rate([topped]).sigma ** 2) ** -0.5)
