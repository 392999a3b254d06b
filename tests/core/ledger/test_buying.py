"""What a service takes from the shelf, what a drum is worth, and what exchange cycles need."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.ledger.exchange import cycles_needed, drain_refill, flow_exchange, flow_needed_ml
from barodex.core.ledger.purchase import NeedPart, Pack, drum_offer, purchase_plan, service_need
from barodex.core.quantity.errors import Inconsistent, OutOfRange


def test_the_need_is_the_sum_of_its_parts():
    need = service_need(2300, (2300, 2600), rinse_ml=250, dead_volume_ml=50, surplus_ml=100, displaced_ml=40)
    assert need.total_ml == 2300 + 300 + 250 + 50 + 100 - 40
    assert {p.name: p.volume_ml for p in need.parts}["margin for the variant"] == 300
    assert need.uncertain
    assert not service_need(2300).uncertain
    assert service_need(None, (1800, 2100)).total_ml == 2100  # buy for the largest it may be
    assert service_need(None, estimate_ml=900).parts == (NeedPart("fill, estimated", 900),)
    assert service_need(4000, cycle_ml=(4000, 4000)).total_ml == 12_000


def test_a_need_without_anything_to_go_by_is_refused():
    with pytest.raises(Inconsistent, match="give an estimate"):
        service_need(None)
    with pytest.raises(OutOfRange, match="rinse_ml"):
        service_need(1000, rinse_ml=-5)
    with pytest.raises(OutOfRange, match="displaced_ml"):
        service_need(1000, displaced_ml=1500)


def test_odd_sizes_are_planned_exactly():
    # US quart and gallon beside litres: no common divisor but 1 mL. 4 785 mL: one gallon and one litre, exactly enough, by hand.
    packs = [Pack(946, 9.0), Pack(1000, 9.5), Pack(3785, 30.0)]
    (plan,) = purchase_plan({"oil": 4785}, {"oil": packs}, {})
    assert {(p.size_ml, c) for p, c in plan.packs} == {(3785, 1), (1000, 1)}
    assert plan.leftover_ml == 0
    with pytest.raises(Inconsistent, match="whole mL"):
        purchase_plan({"oil": 10}, {"oil": [Pack(946.3, 9)]}, {})


def test_equal_cost_takes_the_least_left_over_then_the_fewest():
    (plan,) = purchase_plan({"oil": 2000}, {"oil": [Pack(1000, 10), Pack(2000, 20), Pack(2500, 20)]}, {})
    assert [(p.size_ml, c) for p, c in plan.packs] == [(2000, 1)]
    (free,) = purchase_plan({"oil": 900}, {"oil": [Pack(500, 0), Pack(1000, 0)]}, {})
    assert [(p.size_ml, c) for p, c in free.packs] == [(1000, 1)]


def test_a_drum_breaks_even_where_its_packs_would_cost_as_much():
    # 2 L a service in litres at 10: 20 a service. A 60 L drum for 300 pays from the fifteenth service on; by hand.
    packs = [Pack(1000, 10), Pack(60_000, 300)]
    drum = drum_offer(2000, 20, packs)
    assert drum.break_even_services == 15
    assert drum.pays
    assert drum.packs_cost == 400
    assert not drum_offer(2000, 12, packs).pays
    dear = drum_offer(2000, 50, [Pack(1000, 1), Pack(60_000, 300)])
    assert not dear.pays
    assert "never" in dict(dear.working.inputs)["break-even"]
    assert drum_offer(2000, 12, [Pack(1000, 10)]) is None


# Common practice: draining half each time leaves 50, 75, 87.5 % fresh.
def test_half_each_time():
    assert [round(s.fresh, 4) for s in drain_refill(8000, [(4000, 4000)] * 3)] == [0.5, 0.75, 0.875]
    cycles = cycles_needed(8000, 4000, 0.7)
    assert (cycles.count, cycles.fresh, cycles.fresh_before, cycles.oil_ml) == (2, 0.75, 0.5, 8000)


@given(st.floats(100, 20_000), st.floats(0.05, 0.95), st.integers(1, 12))
def test_equal_cycles_follow_the_closed_form(capacity, share, n):
    # fresh = 1 − (1 − d/C)ⁿ, common practice.
    last = drain_refill(capacity, [(capacity * share, capacity * share)] * n)[-1]
    assert last.fresh == pytest.approx(1 - (1 - share) ** n)
    assert last.volume_ml == pytest.approx(capacity)


def test_overfill_then_down_to_level_and_what_does_not_mix():
    over, level = drain_refill(8000, [(3000, 3600), (600, 0)])
    assert over.volume_ml == 8600
    assert level.volume_ml == pytest.approx(8000)
    assert level.fresh == pytest.approx(over.fresh)  # letting down keeps the share
    stagnant = drain_refill(8000, [(6000, 6000)], mixing=0.75)[0]
    assert stagnant.fresh == pytest.approx(6000 / 8000)
    with pytest.raises(Inconsistent, match=r"only 6.000 mL inside can move"):
        drain_refill(8000, [(6500, 6500)], mixing=0.75)
    with pytest.raises(OutOfRange, match="never reached"):
        cycles_needed(8000, 3000, 0.9, mixing=0.75)


@given(st.floats(100, 20_000), st.floats(0.01, 0.98))
def test_flow_and_its_inverse(capacity, target):
    assert flow_exchange(capacity, flow_needed_ml(capacity, target)) == pytest.approx(target)


def test_one_capacity_through_leaves_a_third():
    # Ideal stirred vessel: 1 − 1/e = 63.2 %, any textbook of reaction engineering.
    assert flow_exchange(8000, 8000) == pytest.approx(0.632, abs=5e-4)
