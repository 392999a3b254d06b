"""Sums of amounts by hand: values at which no part of a formula falls away. All worked out on paper beside each."""

from dataclasses import replace

import pytest

from barodex.core.ledger.correcting import CORRECTED, correction_cycles
from barodex.core.ledger.exchange import drain_refill
from barodex.core.ledger.leak import Z90, loss_by
from barodex.core.ledger.learnt import Fill, learn_capacity
from barodex.core.ledger.variant import Candidate, identify_variant
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from tests.core.guides import AUTOMATIC, BOX, DUAL


def test_a_wrong_fluid_comes_out_of_an_automatic_by_as_many_drains_as_95_per_cent_take():
    """4 of 10 L a drain leave 0.6ⁿ: 0.6⁵ = 7.8 %, 0.6⁶ = 4.7 %: six. A half each: 0.5⁵ = 3.1 %: five, as the rule of thumb says."""
    assert CORRECTED == 0.95
    assert correction_cycles(replace(AUTOMATIC, capacity_ml=4000, total_ml=10_000)) == 6
    assert correction_cycles(replace(AUTOMATIC, capacity_ml=5000, total_ml=10_000)) == 5
    assert correction_cycles(replace(DUAL, total_ml=None)) == 5
    assert correction_cycles(replace(AUTOMATIC, capacity_ml=None)) == 5
    for emptied in (9500, 9600):
        assert correction_cycles(replace(AUTOMATIC, capacity_ml=emptied, total_ml=9500)) == 1
    assert correction_cycles(replace(AUTOMATIC, drain_method="suction")) == 1
    assert correction_cycles(BOX) == 1


def test_fresh_oil_by_drains_and_refills_of_unlike_size():
    """10 L, half fresh: 4 out (2 fresh left of 6… 3), 5 in: (3 + 5)/11. Then 1 out of 11, nothing in: the share stays."""
    first, second = drain_refill(10_000, [(4000, 5000), (1000, 0)], initial_fresh=0.5)
    assert (first.volume_ml, first.fresh) == (pytest.approx(11_000), pytest.approx(8 / 11))
    assert second.fresh == pytest.approx(8 / 11)


def test_what_does_not_mix_stays_old():
    """A quarter of 8 L stands still: 6 move; 3 out and in leave half of those: 3 fresh of 8."""
    (only,) = drain_refill(8000, [(3000, 3000)], mixing=0.75)
    assert only.fresh == pytest.approx(3 / 8)
    with pytest.raises(Inconsistent, match=r"only 6.000 mL inside can move") as refused:
        drain_refill(8000, [(6001, 0)], mixing=0.75)
    assert (refused.value.field, refused.value.value, refused.value.allowed) == (
        "drained_ml",
        6001,
        "up to 6\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}mL",
    )


def test_an_empty_box_is_filled():
    (only,) = drain_refill(8000, [(0, 5000)], initial_volume_ml=0)
    assert only.fresh == 1.0
    assert drain_refill(8000, [(0, 0)], initial_volume_ml=0)[0].fresh == 0.0


@pytest.mark.parametrize(
    ("arguments", "more"),
    [
        ((4, []), {}),
        ((60_001, []), {}),
        ((8000, [(-1, 0)]), {}),
        ((8000, [(0, -1)]), {}),
        ((8000, [(0, 120_001)]), {}),
        ((8000, []), {"initial_volume_ml": -1}),
        ((8000, []), {"initial_volume_ml": 120_001}),
        ((8000, []), {"mixing": 1.1}),
        ((8000, []), {"initial_fresh": -0.1}),
    ],
)
def test_what_cannot_be_inside_is_refused(arguments, more):
    with pytest.raises(OutOfRange):
        drain_refill(*arguments, **more)


def test_what_a_trip_loses_and_whether_the_level_stays_above_its_low_mark():
    """100 ± 20 mL a 1 000 km, 1 500 behind and 500 ahead: 200 mL by then, 200 ± 2·25.6. The low mark of 1 000 mL is 150 below full."""
    found = loss_by(1000, 100, 20, 500, 1500)
    spread = 2 * Z90 * 20
    assert found.lost_ml == pytest.approx((200 - spread, 200, 200 + spread))
    assert (found.passes, found.carry_ml) == ("perhaps", pytest.approx(200 + spread))
    assert "carry 300 mL" in found.text  # 251 up to the next 50
    assert loss_by(1000, 100, 20, 100, 100).passes == "no"
    assert loss_by(1000, 100, 20, 100, 100).carry_ml == 0.0
    sure = loss_by(1000, 100, 10, 3000)
    assert (sure.passes, sure.lost_ml[2]) == ("yes", pytest.approx(300 + 3 * Z90 * 10))
    assert loss_by(1000, 100, 10, 50_000).lost_ml[1] == 1000  # no more is lost than was inside


def test_hours_are_counted_by_the_hundred_and_a_gain_is_no_loss():
    assert loss_by(1000, 40, 0, 50, meter="h").lost_ml[1] == pytest.approx(20)
    assert loss_by(1000, -40, 10, 50, meter="h").lost_ml == (0.0, 0.0, 0.0)


@pytest.mark.parametrize(("sigma", "told"), [(50.0, False), (49.9, True)])
def test_a_rate_within_two_sigma_is_not_told_from_none(sigma, told):
    assert ("not to be told from none" not in loss_by(1000, 100, sigma, 10).text) is told


def fills(*amounts, where="a", to_level=True):
    return [Fill(a, where, to_level) for a in amounts]


def test_a_capacity_is_learnt_from_three_fills_to_the_level():
    """1 990, 2 000, 2 010: mean 2 000, s = 10; two readings of σ 20 over √3 = 23 are wider than 4.303·10/√3 = 24.8? They are not."""
    found = learn_capacity(fills(1990, 2000, 2010), (), 1900)
    assert (found.went_in.mean_ml, found.went_in.sd_ml, found.went_in.count) == (2000, pytest.approx(10), 3)
    assert found.went_in.half_ml == pytest.approx(4.3027 * 10 / 3**0.5, rel=1e-4)  # Student t for 2 degrees, handbook table
    assert found.proposes_ml == 2000  # 100 mL are more than 24.8, and than 2 % of 1 900
    assert learn_capacity(fills(1990, 2000, 2010), (), 1980).proposes_ml is None  # within the interval
    assert learn_capacity(fills(1990, 2000, 2010), (), None).proposes_ml == 2000
    assert learn_capacity(fills(1990, 2000), (), 1900).proposes_ml is None
    assert "1 more to tell" in learn_capacity(fills(1990, 2000), (), 1900).text


def test_steady_fills_are_no_surer_than_a_reading():
    """Nine equal fills: s = 0, so two readings' σ over √9: 2·20/3 = 13.3 mL."""
    found = learn_capacity(fills(*[2000] * 9), (), 1987)
    assert "± 13 mL" in found.text
    assert found.proposes_ml is None  # 13 mL is not beyond 13.3
    assert learn_capacity(fills(*[2000] * 9), (), 1950, reading_ml=20).proposes_ml == 2000
    assert learn_capacity(fills(*[2000] * 9), (), 1950, reading_ml=80).proposes_ml is None  # 2·80/3 = 53


def test_a_small_difference_is_not_worth_a_revision():
    """2 % of 2 000 are 40 mL: 2 039 stand, 2 041 are proposed; both far beyond 2·1/3 mL."""
    assert learn_capacity(fills(*[2039] * 9), (), 2000, reading_ml=1).proposes_ml is None
    assert learn_capacity(fills(*[2041] * 9), (), 2000, reading_ml=1).proposes_ml == 2040


def test_a_copy_of_the_sheet_s_figure_proves_nothing():
    found = learn_capacity(fills(2000, 2000, to_level=False), fills(1900), 2000)
    assert (found.went_in, found.copies, found.proposes_ml) == (None, 2, None)
    assert "measured by the sheet's figure" in found.text
    assert learn_capacity((), (), 2000).text == "No fill to a level is on record yet."


@pytest.mark.parametrize(
    ("went", "words"),
    [
        (fills(2000), "by 1 fill:"),
        (fills(2000, 2010), "by 2 fills:"),
        (fills(2000) + fills(2010, where="b"), "by 2 fills of 2 sister compartments:"),
    ],
)
def test_it_says_by_how_many_fills_of_how_many_boxes(went, words):
    assert words in learn_capacity(went, (), 2000).text


def test_a_bigger_box_that_lost_some_is_a_rival():
    """1 500 mL, σ 20: the box of 1 500, or that of 1 700 that lost 200; one of 3 000 would have lost half, which nobody overlooks."""
    found = identify_variant(1500, [Candidate("small", 1500), Candidate("middle", 1700), Candidate("large", 3000)], 20)
    assert next(s.name for s in found.shares) == "small"
    assert {s.name: round(s.loss_ml) for s in found.shares} == {"small": 0, "middle": 200, "large": 1500}
    assert sum(s.share for s in found.shares) + found.none == pytest.approx(1)
    assert "middle" in found.text or "middle" in " ".join(found.settle)
    assert "large" not in found.text
    assert found.circular


@pytest.mark.parametrize(
    ("other", "circular"),
    [
        (1700, True),
        (1541, True),
        (1539, False),  # 39 mL of loss are within 2σ
        (2100, True),  # 600 of 2 100 lost: 28.6 %
        (2200, False),  # 700 of 2 200: 31.8 %, nobody overlooks that
    ],
)
def test_a_rival_lost_what_can_be_told_and_what_can_be_overlooked(other, circular):
    assert identify_variant(1500, [Candidate("small", 1500, prior=50), Candidate("other", other)], 20).circular is circular
