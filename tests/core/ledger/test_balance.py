"""The ledger: what went in, came out and stays, as sums over one list of entries."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.ledger.balance import ENTRY_KINDS, INTO, OUT_OF, LedgerEntry, Start, balance, start_of
from barodex.core.ledger.drained import Amount
from barodex.core.ledger.exchange import drain_refill, flow_exchange
from barodex.core.quantity.errors import Inconsistent, OutOfRange


def entry(kind, ml, sigma=0.0, at=15.0, **more):
    return LedgerEntry(kind, Amount(ml, at, sigma), **more)


def test_a_plain_change_by_hand():
    """2 250 out; 2 300 oil and 50 additive in, 40 ran out at the level: 2 310 stay, and that is what is inside."""
    found = balance(
        [entry("drained", 2250, 50), entry("oil", 2300, 30, container=7), entry("additive", 50, 10), entry("run-out", 40, 5)],
        Start(Amount(2300, 15, 20)),
    )
    assert found.net_in.volume_ml == pytest.approx(2310)
    assert found.net_in.sigma_ml == pytest.approx(math.sqrt(30**2 + 10**2 + 5**2))
    assert found.inside.volume_ml == pytest.approx(2310)
    assert (found.put_in.volume_ml, found.drained.volume_ml, found.first_out.volume_ml) == pytest.approx((2350, 2250, 2250))
    assert found.used_ml == pytest.approx(2290)
    assert found.drawn_ml == {7: 2300}
    assert (found.fresh_share, found.additive_share) == (pytest.approx(1), pytest.approx(50 / 2350))


def test_an_exchange_leaves_the_whole_box_inside():
    """9 500 mL, three times 3 900 out and in: 11 700 went through, 3 900 stay of the last fill, the box holds what it held; fresh as by
    the series 1 − (1 − 3 900/9 500)³."""
    rows = []
    for k in (1, 2, 0):
        rows += [entry("drained", 3900, cycle=k), entry("oil", 3900, cycle=k)]
    found = balance(rows, Start(Amount(9500, 15), empties=False))
    assert (found.put_in.volume_ml, found.net_in.volume_ml, found.inside.volume_ml) == pytest.approx((11_700, 3900, 9500))
    assert (found.drained.volume_ml, found.first_out.volume_ml) == pytest.approx((11_700, 3900))
    assert found.fresh_share == pytest.approx(1 - (1 - 3900 / 9500) ** 3)
    assert found.old_out_ml == pytest.approx(9500 * found.fresh_share)  # what is fresh now was old, and came out


def test_what_flows_through_mixes_all_the_while():
    """Ideal stirred vessel: 1 − e^(−V/C), as any textbook of chemical reaction engineering has it."""
    found = balance([entry("oil", 12_000), entry("flowed-out", 12_000)], Start(Amount(9500, 15), empties=False))
    assert found.fresh_share == pytest.approx(flow_exchange(9500, 12_000))
    assert found.inside.volume_ml == pytest.approx(9500)
    assert found.net_in is None  # what flowed through is not what stands in it
    assert found.used_ml == pytest.approx(12_000)


def test_a_suction_leaves_what_it_did_not_get():
    found = balance([entry("sucked", 900, 90), entry("oil", 880, 13)], Start(Amount(1200, 15, 15), empties=False))
    assert found.inside.volume_ml == pytest.approx(1180)
    assert found.inside.sigma_ml == pytest.approx(math.sqrt(15**2 + 90**2 + 13**2))
    assert found.fresh_share == pytest.approx(880 / 1180)


def test_a_top_up_alone_says_what_went_in_and_not_what_is_inside():
    found = balance([entry("top-up", 240, 10)])
    assert found.net_in.volume_ml == pytest.approx(240)
    assert (found.inside, found.first_out, found.drained) == (None, None, None)


def test_rinse_pump_cloth_and_sample_are_counted_where_they_belong():
    """Drained 1 000 of which 15 on the cloth and 20 in the sample bottle; rinsed with 250; the pump kept 60: 1 310 for the can."""
    found = balance(
        [
            entry("drained", 1000),
            entry("cloth", 15),
            entry("sample", 20),
            entry("rinse", 250, container=1),
            entry("rinse-out", 250),
            entry("oil", 1000, container=1),
            entry("pump", 60, container=1),
        ]
    )
    assert found.used_ml == pytest.approx(1310)
    assert found.drawn_ml == {1: 1310}
    assert found.net_in.volume_ml == pytest.approx(1000)
    assert found.first_out.volume_ml == pytest.approx(1000)


def test_flush_fluid_that_comes_out_with_the_oil_is_not_taken_off_the_fill():
    found = balance([entry("flush", 25), entry("flush-out", 25), entry("drained", 24), entry("oil", 25)])
    assert found.net_in.volume_ml == pytest.approx(25)
    assert found.first_out is None  # mixed: it says nothing of the last fill
    assert found.used_ml == pytest.approx(49)


def test_a_fill_without_a_measured_drain_says_nothing_of_a_box_that_keeps_a_part():
    kept = balance([entry("oil", 4200)], Start(Amount(9500, 15), empties=False))
    assert (kept.inside, kept.net_in.volume_ml) == (None, 4200)
    emptied = balance([entry("oil", 1850)])
    assert emptied.inside is None  # not known to have been emptied


def test_what_ran_out_on_opening_belongs_to_the_old_oil():
    found = balance([entry("run-out", 120), entry("drained", 2200), entry("oil", 2300)])
    assert found.first_out.volume_ml == pytest.approx(2320)
    assert found.net_in.volume_ml == pytest.approx(2300)


def test_each_amount_is_brought_to_one_temperature():
    """ASTM D1250 with K1 = 0.6278: at 880 kg/m³ 1 000 mL at 40 °C are 982.07 at 15 °C."""
    found = balance([entry("drained", 1000, at=40.0)], density15=860.0, density15_before=880.0)
    assert found.first_out.volume_ml == pytest.approx(982.07, abs=0.01)


def test_another_kind_or_an_impossible_amount_is_refused():
    with pytest.raises(Inconsistent, match="no entry"):
        balance([entry("poured", 10)])
    with pytest.raises(OutOfRange):
        balance([entry("oil", -1)])


@pytest.mark.parametrize(
    ("way", "capacity", "total", "inside", "empties", "held"),
    [
        ("plug", 2000, None, None, True, None),
        ("plug", 2000, 2050, None, True, None),  # within 5 %: it empties
        ("plug", 4000, 9500, None, False, 9500),
        ("suction", 1200, None, None, False, 1200),
        ("suction", 1200, None, Amount(1150, 15, 20), False, 1150),
        ("suction", None, None, None, False, None),
    ],
)
def test_what_a_box_is_before(way, capacity, total, inside, empties, held):
    found = start_of(way, capacity, total, None, inside)
    assert found.empties is empties
    assert (found.inside.volume_ml if found.inside else None) == held


amounts = st.floats(0, 5000)
rows = st.lists(st.tuples(st.sampled_from(ENTRY_KINDS), amounts), max_size=14)


@given(rows, st.floats(40_000, 60_000))
def test_volume_is_conserved_for_every_order_of_entries(listed, inside):
    """What was inside, plus all that went in, less all that came out, is inside: whatever came when, and whichever are left out."""
    found = balance([entry(k, ml) for k, ml in listed], Start(Amount(inside, 15), empties=False))
    sign = {**dict.fromkeys(INTO, 1), **dict.fromkeys(OUT_OF, -1)}
    expected = inside + sum(sign.get(k, 0) * ml for k, ml in listed)
    assume_left = min(inside + sum(sign.get(k, 0) * ml for k, ml in listed[:n]) for n in range(len(listed) + 1))
    kinds = {k for k, _ in listed}
    if "oil" in kinds and not kinds & {"drained", "sucked", "flowed-out"}:
        assert found.inside is None  # of a fill of which nobody measured what came out before
    elif assume_left > 1:  # more than is inside does not come out
        assert found.inside.volume_ml == pytest.approx(expected, abs=1e-6)
        assert 0 <= found.fresh_share <= 1
        assert found.additive_share <= found.fresh_share + 1e-9


@given(st.lists(st.tuples(st.floats(100, 3000), st.floats(100, 3000)), min_size=1, max_size=6))
def test_drains_and_refills_mix_as_the_exchange_says(cycles):
    rows = [e for k, (out, into) in enumerate(cycles, 1) for e in (entry("drained", out, cycle=k), entry("oil", into, cycle=k))]
    found = balance(rows, Start(Amount(30_000, 15), empties=False))
    after = drain_refill(30_000, cycles)[-1]
    assert found.inside.volume_ml == pytest.approx(after.volume_ml)
    assert found.fresh_share == pytest.approx(after.fresh)
