"""Pour plans and packs to buy. Worked examples are common practice; the purchase is checked against brute force."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.ledger.pour import Bottle, pour_plan
from barodex.core.ledger.purchase import Pack, purchase_plan
from barodex.core.quantity.errors import Inconsistent, OutOfRange


def texts(plan):
    return [a.text.replace("\N{NO-BREAK SPACE}", " ") for a in plan.actions]


def test_two_and_a_third_litres_from_three_bottles():
    plan = pour_plan(2300, [Bottle(1000, 1000, f"bottle {k}") for k in (1, 2, 3)])
    assert texts(plan) == ["bottle 1 empty (1 000 mL)", "bottle 2 empty (1 000 mL)", "bottle 3 down to the 700 mL mark"]


def test_seven_hundred_from_a_litre_stops_at_three_hundred():
    assert texts(pour_plan(700, [Bottle(1000, 1000, "the bottle")])) == ["the bottle down to the 300 mL mark"]


def test_three_strokes_of_a_syringe():
    plan = pour_plan(150, [Bottle(1000, 1000, "b")], stroke_ml=50)
    assert texts(plan)[-1] == "3 full strokes"
    assert texts(pour_plan(120, [Bottle(1000, 1000, "b")], stroke_ml=50))[-2:] == ["2 full strokes", "then to 20 mL"]


def test_the_opened_bottle_goes_first_and_a_drum_without_marks_needs_a_jug():
    plan = pour_plan(1000, [Bottle(20000, 14000, "drum", graduated=False), Bottle(1000, 1000, "new"), Bottle(1000, 350, "opened")])
    assert texts(plan) == ["opened empty (350 mL)", "650 mL from drum, measured in a jug"]


def test_the_pump_is_loaded_with_its_dead_volume_once():
    plan = pour_plan(900, [Bottle(1000, 1000, "b")], dead_volume_ml=50)
    assert texts(plan) == ["b down to the 50 mL mark"]
    assert plan.dead_volume_ml == 50


def test_a_shortage_is_said():
    assert pour_plan(2300, [Bottle(1000, 1000, "b")]).shortage_ml == pytest.approx(1300)


def test_a_bottle_cannot_hold_more_than_its_size():
    with pytest.raises(Inconsistent, match="holds more"):
        pour_plan(100, [Bottle(1000, 1100, "b")])
    with pytest.raises(OutOfRange, match="need_ml"):
        pour_plan(-1, [])


@given(st.floats(0, 8000), st.lists(st.tuples(st.floats(1, 5000), st.floats(0, 1)), max_size=6))
def test_what_is_poured_and_what_is_left_add_up(need, sizes):
    bottles = [Bottle(size, size * share, f"b{k}") for k, (size, share) in enumerate(sizes)]
    plan = pour_plan(need, bottles)
    held = sum(b.content_ml for b in bottles)
    poured = sum(a.volume_ml for a in plan.actions)
    assert poured + plan.shortage_ml == pytest.approx(need, abs=1e-6)
    assert poured + sum(b.content_ml for b in plan.left) == pytest.approx(held, abs=1e-6)
    assert sum(0 < b.content_ml < b.size_ml for b in plan.left) <= 1 + sum(b.opened for b in bottles)


def brute_force(short, packs, most=8):
    best = None
    for counts in itertools.product(range(most), repeat=len(packs)):
        volume = sum(p.size_ml * c for p, c in zip(packs, counts, strict=True))
        if volume >= short:
            key = (round(sum(p.price * c for p, c in zip(packs, counts, strict=True)), 6), volume, sum(counts))
            best = key if best is None or key < best else best
    return best


@settings(max_examples=40, deadline=None)
@given(
    st.integers(1, 6500),
    st.lists(
        st.tuples(st.sampled_from([250, 500, 1000, 2000, 5000]), st.integers(1, 60)), min_size=1, max_size=3, unique_by=lambda t: t[0]
    ),
)
def test_the_cheapest_packs_are_those_of_brute_force(short, offers):
    packs = [Pack(size, float(price)) for size, price in offers]
    if max(p.size_ml for p in packs) * 7 < short:
        return
    (plan,) = purchase_plan({"oil": short}, {"oil": packs}, {})
    if sum(c for _, c in plan.packs) < 8 and all(c < 8 for _, c in plan.packs):
        cost, volume, count = brute_force(short, packs)
        assert plan.cost == pytest.approx(cost)
        assert plan.leftover_ml == pytest.approx(volume - short)
        assert sum(c for _, c in plan.packs) == count


def test_what_is_on_hand_is_used_first_and_nothing_on_offer_is_said():
    assert purchase_plan({"oil": 900}, {}, {"oil": 1000}) == ()
    (plan,) = purchase_plan({"oil": 900}, {}, {"oil": 100})
    assert plan.short_ml == 800
    assert plan.packs == ()
