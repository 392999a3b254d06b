"""What is measured in a service, by hand: values at which no part of a sum falls away. All worked out on paper beside each."""

from dataclasses import replace

import pytest

from barodex.core.guide.steps import Dose, Job
from barodex.core.ledger.drained import Amount
from barodex.core.quantity.errors import GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.ledgering import entries_of
from barodex.core.run.measuring import drained_loss, measured_amount, target_of, told_variant
from barodex.core.run.state import Cycle
from barodex.core.sheet.sheet import Variant
from tests.core.guides import AUTOMATIC, BOX, HUB, Walk

SUCKED = replace(BOX, drain_method="suction", fill_method="measured")
DOSE = (Dose("friction modifier", "friction modifier", 110.0),)


def at_measure(sheet, **job):
    """A service led up to its measurement."""
    walk = Walk(sheet, **job)
    walk.to("measure.")
    return walk


def ledger(walk, step="measure.0", **values):
    return walk.act(step, **values).ledgers["0"]


def test_an_additive_takes_the_place_of_oil_when_little_came_out():
    """1 200 of 2 000 mL is 60 %, under 70: no more goes in than came out, 110 mL of it additive."""
    found = ledger(at_measure(SUCKED, doses=DOSE), pan_ml=1200.0, temperature_c=20.0)
    assert found.target_ml == pytest.approx(1090)
    assert "under 70" in found.target_basis
    assert found.recovery.share == pytest.approx(0.6)


def test_an_additive_takes_the_place_of_oil_when_the_capacity_is_unknown():
    found = ledger(at_measure(replace(BOX, capacity_ml=None), doses=DOSE), pan_ml=1710.0, temperature_c=20.0)
    assert found.target_ml == pytest.approx(1600)


def test_an_additive_takes_the_place_of_oil_at_an_overflow():
    """4 000 mL and 500 that run out again, less 110 of additive."""
    job = Job("0", "Box", AUTOMATIC, "the oil", doses=DOSE)
    assert target_of(job)[0] == pytest.approx(4390)
    assert target_of(replace(job, doses=()))[0] == pytest.approx(4500)


def test_what_was_measured_out_is_the_ceiling_of_what_is_measured_in():
    """1 900 of 2 000 mL came out by suction: 1 900 go in, less 110 of additive; more than the sheet's 2 000 never."""
    assert ledger(at_measure(SUCKED, doses=DOSE), pan_ml=1900.0, temperature_c=20.0).target_ml == pytest.approx(1790)
    assert ledger(at_measure(SUCKED, doses=DOSE), pan_ml=2050.0, temperature_c=20.0).target_ml == pytest.approx(1890)
    by_plug = replace(SUCKED, drain_method="plug")
    assert ledger(at_measure(by_plug, doses=DOSE), pan_ml=1900.0, temperature_c=20.0).target_ml == pytest.approx(1890)


def test_flush_fluid_that_came_out_with_the_oil_is_taken_off():
    """25 mL of flush went in with the oil inside: 44 mL came out, 19 of them oil."""
    found = ledger(at_measure(HUB, work="flush"), pan_ml=44.0, temperature_c=20.0)
    assert (found.flush_in_ml, found.flush_out_ml, found.drained.volume_ml) == (25, 44, pytest.approx(19))
    assert found.loss is None


def exchange(doses=()):
    """An exchange of three cycles at its first drain of 4 000 mL."""
    walk = Walk(AUTOMATIC, work="exchange", cycles=3, doses=doses)
    walk.to("measure.0")
    return walk


def test_a_cycle_is_drained_measured_and_poured_as_much_again():
    walk = exchange()
    step = walk.to("measure.0")
    found = ledger(walk, step.id, pan_ml=3900.0, temperature_c=20.0)
    assert (found.cycle_out.volume_ml, found.target_ml) == (pytest.approx(3900), pytest.approx(3900))
    assert "cycle 1" in found.target_basis


def test_a_cycle_that_is_measured_again_after_its_pour_keeps_the_pour():
    walk = exchange()
    first = walk.to("measure.0")
    walk.act(first.id, pan_ml=3900.0, temperature_c=20.0)
    walk.to("measure.0")
    assert walk.state.ledgers["0"].cycles == [
        Cycle(pytest.approx(3900), pytest.approx(3900), Amount(3900.0, 20.0, pytest.approx(80.5, abs=0.1)))
    ]
    found = ledger(walk, first.id, pan_ml=3700.0, temperature_c=20.0)
    assert found.cycles == [Cycle(pytest.approx(3700), pytest.approx(3900), Amount(3700.0, 20.0, pytest.approx(76.7, abs=0.1)))]


def test_a_cycle_that_is_measured_again_stays_one_drain_in_the_ledger():
    walk = exchange()
    first = walk.to("measure.0")
    walk.act(first.id, pan_ml=3900.0, temperature_c=20.0)
    walk.to("measure.0")
    job = walk.made.job("0")
    assert [(e.kind, e.cycle) for e in entries_of(job, walk.state.ledgers["0"])] == [("drained", 1), ("oil", 1)]
    found = ledger(walk, first.id, pan_ml=3700.0, temperature_c=20.0)
    assert [(e.kind, e.amount.volume_ml) for e in entries_of(job, found)] == [("drained", 3700), ("oil", 3900)]


def test_more_than_is_inside_does_not_come_out_in_a_cycle():
    """9 500 mL are inside; without that figure, one and a half times 4 000."""
    walk = exchange()
    step = walk.to("measure.0")
    with pytest.raises(OutOfRange, match=r"at most 9.500 mL"):
        walk.act(step.id, pan_ml=9501.0, temperature_c=20.0)
    bare = Walk(replace(AUTOMATIC, total_ml=None), work="exchange", cycles=3)
    step = bare.to("measure.0")
    with pytest.raises(OutOfRange, match=r"at most 6.000 mL"):
        bare.act(step.id, pan_ml=6001.0, temperature_c=20.0)
    assert ledger(bare, step.id, pan_ml=6000.0, temperature_c=20.0).cycle_out.volume_ml == pytest.approx(6000)


def test_weight_hose_and_rag_are_summed_each_with_its_sign():
    """880 kg/m³ at 15 °C: 880 g are 1 000 mL; 40 in the hose, 15 in the rag."""
    job = Job("0", "Box", BOX, "the oil", density15=880.0)
    found = measured_amount(job, {"mass_g": 880.0, "hose_ml": 40.0, "rag_ml": 15.0, "temperature_c": 15.0})
    assert found.volume_ml == pytest.approx(1055)
    with pytest.raises(Inconsistent):
        measured_amount(job, {"mass_g": 880.0, "pan_ml": 1000.0})


def test_a_loss_per_distance_and_its_sign():
    """2 000 in and 100 topped up at 15 °C, 1 790 out: 310 mL over 20 000 km are 15.5 per 1 000."""
    job = Job("0", "Box", BOX, "the oil", last_net_in=Amount(2000, 15, 20), topups=(Amount(100, 15, 5),), distance_km=20_000.0, share=0.7)
    found = drained_loss(job, Amount(1790, 15, 30))
    assert found.loss_ml == pytest.approx(310)
    assert found.per_1000km_ml == pytest.approx(15.5)
    assert found.sigma_ml == pytest.approx((20**2 + 5**2 + 30**2) ** 0.5)
    assert (found.band, found.told_from_zero) == ("repair", True)  # 310 − 73 in 0.7 of an interval: 16.9 % of 2 000
    assert drained_loss(replace(job, share=2.0), Amount(1800, 15, 30)).band == "leak"  # over two intervals: 227 mL, 5.7 % each
    assert drained_loss(replace(job, share=4.0), Amount(1800, 15, 30)).band == "weep"
    assert drained_loss(replace(job, share=None), Amount(1800, 15, 30)).band == "look again"
    more = drained_loss(job, Amount(2300, 15, 30))
    assert (more.loss_ml, more.band) == (pytest.approx(-200), "tight")
    assert "More came out than went in" in more.text


def test_a_variant_is_told_by_what_came_out():
    """1 480 mL speak for the box of 1 500, not for that of 2 100."""
    sheet = replace(BOX, capacity_ml=None, variants=(Variant("short", capacity_ml=1500), Variant("long", capacity_ml=2100)))
    job = Job("0", "Box", sheet, "the oil")
    assert told_variant(job, Amount(1480, 20, 20)).named == "short"
    assert told_variant(job, Amount(2050, 20, 20)).named == "long"
    amount, why = target_of(job)
    assert (amount, why.startswith("the largest variant of")) == (2100, True)
    assert target_of(replace(job, sheet=replace(sheet, fill_method="measured")))[0] is None  # then the amount alone decides: asked


def test_no_compartment_takes_more_than_120_litres():
    walk = Walk(replace(BOX, capacity_ml=60_000, fill_method="measured"))
    step = walk.to("pour.")
    walk.act(step.id, "add", volume_ml=60_000.0)
    walk.act(step.id, "add", volume_ml=60_000.0)
    with pytest.raises(OutOfRange, match="No compartment takes that much"):
        walk.act(step.id, "add", volume_ml=0.2)


def test_what_went_in_can_be_taken_back_and_is_taken_back_once():
    walk = Walk(replace(BOX, fill_method="measured"))
    step = walk.to("pour.")
    walk.act(step.id, "add", volume_ml=700.0)
    first = walk.acts[-1].id
    assert walk.act(step.id, "add", volume_ml=400.0).ledgers["0"].poured_ml == pytest.approx(1100)
    assert walk.act("", "undo", act=first).ledgers["0"].poured_ml == pytest.approx(400)
    with pytest.raises(Inconsistent, match="nothing to undo"):
        walk.act("", "undo", act=first)


def test_once_oil_has_run_the_proof_of_the_filler_stands():
    walk = Walk(BOX)
    walk.to("drain.")
    proof = next(e.id for e in walk.acts if e.step.startswith("prove."))
    walk.to("measure.")
    with pytest.raises(GateClosed, match="cannot be taken back"):
        walk.act("", "undo", act=proof)


def test_more_flush_out_than_half_as_much_again_wants_a_reason():
    """1 000 mL of flush went in: up to 1 600 may come out, 1 601 not without a reason. It is no drain of the old oil."""
    walk = Walk(BOX, work="flush")
    walk.to("measure.0.1")
    old = ledger(walk, "measure.0.1", pan_ml=1900.0, temperature_c=20.0)
    assert old.drained.volume_ml == pytest.approx(1900)
    walk.to("flushin.")
    assert ledger(walk, "flushin.0", pan_ml=1000.0, temperature_c=20.0).flush_in_ml == pytest.approx(1000)
    walk.to("measure.0")
    with pytest.raises(NeedsReason, match="flush fluid went in"):
        walk.act("measure.0", pan_ml=1601.0, temperature_c=20.0)
    found = ledger(walk, "measure.0", pan_ml=1600.0, temperature_c=20.0)
    assert (found.flush_out_ml, found.drained.volume_ml) == (pytest.approx(1600), pytest.approx(1900))
