"""An exchange while it runs, by hand: a third of 9 000 mL at a time leaves (2/3)ⁿ of the old oil."""

import datetime as dt
from dataclasses import replace

import pytest

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Procedure, Step
from barodex.core.ledger.drained import Amount
from barodex.core.quantity.errors import GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.adopted import adopted_variants
from barodex.core.run.exchanging import drain_shares, exchange_outlook, fresh_share
from barodex.core.run.state import Act, Cycle, Ledger
from tests.core.guides import AUTOMATIC, BOX, Walk

SHEET = replace(AUTOMATIC, capacity_ml=3000, total_ml=9000, exchange_cycles=3)
JOB = Job(
    "0", "Box", SHEET, "the oil", work="exchange", cycles=3, target_fresh=0.8, ambient_c=20.0
)  # all at the temperature for which a sheet states what a box holds


def cycle(out, into):
    return Cycle(out, into, Amount(out, 20.0))


THIRD = cycle(3000, 3000)


def pour(ml):
    return Act("a", 1, "add", "pour", {"volume_ml": ml}, dt.datetime(2026, 5, 1, tzinfo=dt.UTC))


def so_far(*cycles, drained=None, poured=0.0, ran_out=0.0, out=None, wanted=3):
    return Ledger(
        None,
        "",
        drained=None if drained is None else Amount(drained, 20.0),
        cycles=list(cycles),
        past_pours=[pour(c.poured_ml) for c in cycles],
        pours=[pour(poured)] if poured else [],
        poured_ml=poured,
        run_out_ml=ran_out,
        run_out_c=20.0,
        cycle_out=None if out is None else Amount(out, 20.0),
        wanted_cycles=wanted,
    )


@pytest.mark.parametrize(
    ("ledger", "fresh"),
    [
        (so_far(), None),
        (so_far(THIRD), 1 / 3),
        (so_far(THIRD, THIRD), 5 / 9),
        (so_far(THIRD, THIRD, drained=3000), 5 / 9),  # drained and not filled yet
        (so_far(THIRD, THIRD, drained=3000, poured=3000), 19 / 27),
        (so_far(THIRD, THIRD, drained=3000, poured=3500, ran_out=500), (5 / 9 * 6000 + 3500) / 9500),  # what ran out was mixed
        (so_far(cycle(3000, 2000)), 2000 / 8000),
    ],
)
def test_the_fresh_share_so_far(ledger, fresh):
    assert fresh_share(JOB, ledger) == (None if fresh is None else pytest.approx(fresh))
    assert fresh_share(replace(JOB, sheet=replace(SHEET, total_ml=None)), ledger) is None


def test_by_flowing_through_it_rises_with_what_was_poured():
    """Perfect mixing while as much runs out: 1 − e^(−V/total), the limit of ever smaller cycles."""
    flowing = replace(JOB, school="flow through")
    assert fresh_share(flowing, so_far(poured=9000)) == pytest.approx(1 - 2.718281828 ** (-1), rel=1e-6)
    assert fresh_share(flowing, so_far()) is None


@pytest.mark.parametrize(
    ("ledger", "shares"),
    [
        (so_far(), ()),
        (so_far(out=3000), ()),  # measured, not yet a cycle: nothing was poured
        (so_far(THIRD), (0,)),
        (so_far(THIRD, out=3000), (0, 1 / 3)),
        (so_far(THIRD, THIRD), (0, 1 / 3)),
        (so_far(THIRD, THIRD, drained=3000), (0, 1 / 3, 5 / 9)),
        (so_far(drained=3000), (0,)),
        (so_far(cycle(9500, 3000), THIRD, drained=3000), (0,)),  # more than is inside cannot be followed
    ],
)
def test_what_each_drain_was(ledger, shares):
    assert drain_shares(JOB, ledger) == pytest.approx(shares)
    assert drain_shares(replace(JOB, sheet=replace(SHEET, total_ml=None)), ledger) == ()


def test_where_it_ends_and_how_many_drains_the_target_takes():
    """After three thirds 19/27 = 70 %, after four 65/81 = 80.2 %: the target of 80 takes four."""
    found = exchange_outlook(JOB, so_far(THIRD))
    assert (found.fresh, found.wanted, found.needed, found.target) == (pytest.approx(19 / 27), 3, 4, 0.8)
    assert "give only 70" in found.text
    assert exchange_outlook(JOB, so_far(wanted=4)).needed == 4  # before any: what the sheet says it holds
    assert exchange_outlook(JOB, so_far(THIRD, wanted=4)).text.startswith("4 drains give 80")
    more = exchange_outlook(JOB, so_far(THIRD, wanted=6))
    assert (more.fresh, more.needed) == (pytest.approx(1 - (2 / 3) ** 6), 4)
    assert "4 are enough" in more.text


def test_the_last_drain_counts_as_filled_up_again_until_it_is():
    """Two thirds done and a third out: filled up it is 19/27; with 2 000 mL in it is (5/9·6 000 + 2 000)/8 000."""
    assert exchange_outlook(JOB, so_far(THIRD, THIRD, drained=3000)).fresh == pytest.approx(19 / 27)
    part = exchange_outlook(JOB, so_far(THIRD, THIRD, drained=3000, poured=2500, ran_out=500))
    assert part.fresh == pytest.approx((5 / 9 * 6000 + 2000) / 8000)
    assert "the target is 80" in part.text


def test_it_is_told_only_of_an_exchange_in_cycles():
    assert exchange_outlook(replace(JOB, work="change"), so_far()) is None
    assert exchange_outlook(replace(JOB, school="flow through"), so_far()) is None
    assert exchange_outlook(replace(JOB, sheet=replace(SHEET, total_ml=None)), so_far()) is None


def test_the_number_of_drains_is_changed_within_what_has_begun_and_what_there_is_room_for():
    walk = Walk(SHEET, work="exchange", cycles=3, target_fresh=0.8)
    walk.to("snug.0.1")
    assert walk.act("measure.0.1", "cycles", count=5).ledgers["0"].wanted_cycles == 5
    for count in (1, 99):
        with pytest.raises(OutOfRange):
            walk.act("measure.0.1", "cycles", count=count)
    for count in (2.5, True, "3", None):
        with pytest.raises(Inconsistent, match="how many drains"):
            walk.act("measure.0.1", "cycles", count=count)
    assert walk.act("measure.0.1", "cycles", count=2).ledgers["0"].wanted_cycles == 2
    with pytest.raises(Inconsistent, match="no exchange in cycles"):
        walk.act("ready", "cycles", count=3)
    plain = Walk(BOX)
    with pytest.raises(Inconsistent, match="no exchange in cycles"):
        plain.act("drain.0", "cycles", count=3)


def test_short_of_the_target_the_last_drain_wants_a_reason():
    walk = Walk(SHEET, work="exchange", cycles=3, target_fresh=0.8)
    step = walk.to("drain.0")
    while step.cycle:
        walk.act(step.id, **walk.plain(step))
        step = walk.to("drain.0")
    with pytest.raises(NeedsReason, match="Add a cycle first"):
        walk.act("drain.0", **walk.plain(step, reason=""))
    walk.act("drain.0", **walk.plain(step, reason="no more oil is here"))
    with pytest.raises(GateClosed, match="last drain is open"):
        walk.act("measure.0", "cycles", count=5)


def said(number, step, kind="done", **values):
    return Act(f"a{number}", number, kind, step, values, None, "me")


def step(purpose, key):
    return Step(f"{purpose}.{key}", purpose, "open", "note", "which variant?", "", key)


def test_the_variant_said_last_counts_unless_it_is_taken_back():
    steps = [step(p, key) for key in ("0", "7") for p in (Purpose.VARIANT, Purpose.WHICH, Purpose.OIL)]
    asks = Procedure((), tuple(steps), {s.id: s for s in steps})
    short, long = said(1, "variant.0", variant="short"), said(2, "which.0", variant="long")
    assert adopted_variants(asks, [short]) == (("0", "short"),)
    assert adopted_variants(asks, [short, long]) == (("0", "long"),)
    assert adopted_variants(asks, [short, long, said(3, "", "undo", act="a2")]) == (("0", "short"),)
    assert adopted_variants(asks, [short, said(3, "", "undo", act="a1")]) == ()
    assert adopted_variants(asks, [short, said(2, "which.0", "skip")]) == (("0", "short"),)
    assert adopted_variants(asks, [said(1, "which.7", variant="b"), said(2, "variant.0", variant="a")]) == (("0", "a"), ("7", "b"))
    assert adopted_variants(asks, [said(1, "which.0"), said(2, "oil.0", variant="x")]) == ()
