"""The kinds of service: what must and must not appear by compartment, and what each computes. Common practice where no source is named."""

import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.ledger.drained import Amount
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.exchanging import exchange_outlook, fresh_share
from barodex.core.run.folding import fold
from barodex.core.sheet.work import WORKS, check_work, usual_work, works_for
from tests.core.guides import AUTOMATIC, BLOWER, BOX, CHAIN, CLUTCH_CASE, COUPLING, DUAL, HUB, MARINE, OPENABLE, POCKET, TRUCK, Walk, guide

OLD_BOX = replace(BOX, requirement=replace(BOX.requirement, categories="GL-1"))  # straight-cut, before synchronisers
# sheet, kind of service, what must appear, what must not
TABLE = [
    (BOX, "change", {"prove.0", "drain.0", "shut.0", "pour.0"}, {"stood.0", "exposure.0", "pan.0", "drain.0.1"}),
    (BOX, "top-up", {"open.0", "stood.0", "pour.0", "level.0", "closefill.0"}, {"prove.0", "drain.0", "shut.0", "measure.0", "drive"}),
    (OLD_BOX, "flush", {"drain.0.1", "measure.0.1", "snug.0.1", "flushin.0", "work.0", "drain.0", "shut.0"}, {"rest.0", "running.0.1"}),
    (BOX, "correction", {"exposure.0", "rinse.0", "drain.0", "shut.0"}, {"flushin.0"}),
    (POCKET, "change", {"drain2.0", "shut2.0"}, set()),
    (AUTOMATIC, "exchange", {"drain.0.1", "drain.0.2", "sweep.0.2", "drain.0"}, {"drain.0.3", "pan.0"}),
    (AUTOMATIC, "change", {"drain.0", "level.0"}, {"drain.0.1"}),
    (OPENABLE, "opened", {"pan.0", "filter.0", "whileopen.0", "panshut.0", "shut.0"}, {"drain.0.1"}),
    (AUTOMATIC, "top-up", {"open.0", "running.0", "sweep.0", "level.0", "closelevel.0"}, {"drain.0", "stood.0", "pour.0"}),
    (COUPLING, "top-up", {"open.0", "cool.0", "level.0"}, {"drain.0", "stood.0", "running.0"}),
    (AUTOMATIC, "correction", {"exposure.0", "off.0.1", "drain.0.1", "drain.0.5", "off.0"}, {"rinse.0", "warm", "drain.0.6"}),
    (MARINE, "correction", {"exposure.0", "rinse.0"}, {"shut.0"}),
    (BLOWER, "change", {"case.0", "drain.0", "level.0"}, {"levelled", "warm"}),
    (DUAL, "change", {"drain.0", "level.0"}, {"drain.0.1"}),
    (COUPLING, "change", {"cool.0", "drain.0"}, {"running.0"}),
    (CLUTCH_CASE, "change", {"gauge.0", "reset.0"}, set()),
    (CHAIN, "opened", {"filter.0", "whileopen.0", "chain.0", "shut.0"}, {"pan.0", "panshut.0", "prove.0"}),
    (CHAIN, "top-up", {"stood.0", "level.0"}, {"drain.0", "chain.0"}),
    (HUB, "flush", {"flushin.0", "work.0", "hose.0", "rest.0", "drain.0"}, {"shut.0", "drain.0.1"}),
    (MARINE, "top-up", {"stood.0", "level.0"}, {"drain.0"}),
    (TRUCK, "correction", {"exposure.0", "rinse.0"}, set()),
]
IDS = [f"{s.kind}, {w}" for s, w, _, _ in TABLE]


def applies(made):
    return {k for k, v in fold(made, []).steps.items() if v.status != "off"}


@pytest.mark.parametrize(("sheet", "work", "must", "must_not"), TABLE, ids=IDS)
def test_what_must_and_must_not_appear(sheet, work, must, must_not):
    assert work in works_for(sheet)
    have = applies(guide(sheet, work=work))
    assert must <= have
    assert not must_not & have


@pytest.mark.parametrize(("sheet", "work"), [(s, w) for s, w, _, _ in TABLE], ids=IDS)
def test_every_kind_of_service_can_be_walked_to_its_signature(sheet, work):
    walk = Walk(sheet, work=work, attached=("breather",), last_net_in=Amount(sheet.capacity_ml or 1000, 20, 20))
    walk.to()
    assert walk.state.signed
    assert walk.state.conflicts == []


@pytest.mark.parametrize(("sheet", "work"), [(s, w) for s, w, _, _ in TABLE], ids=IDS)
def test_every_need_is_a_step_that_comes_no_later(sheet, work):
    made = guide(sheet, work=work, attached=("seal", "belt"))
    place = {s.id: k for k, s in enumerate(made.steps)}
    for step in made.steps:
        for need in step.needs:
            assert place[need] < place[step.id], f"{step.id} needs {need}"


@pytest.mark.parametrize(
    ("sheet", "work", "words"),
    [
        (BLOWER, "top-up", "its level is the amount"),
        (BOX, "exchange", "no total amount"),
        (BOX, "opened", "no cover or pan"),
        (BLOWER, "flush", "no drain plug"),
        (BOX, "flush", "do not bear one"),
        (AUTOMATIC, "flush", "its maker states none"),
        (replace(OLD_BOX, requirement=replace(OLD_BOX.requirement, limited_slip=True)), "flush", "do not bear one"),
        (HUB, "change", "flush fluid goes in before"),
        (BOX, "polish", "no such kind"),
    ],
)
def test_a_kind_of_service_that_cannot_be_is_refused_with_the_reason(sheet, work, words):
    with pytest.raises(Inconsistent, match=words):
        check_work(sheet, work)


def test_the_usual_kind_comes_first_and_all_are_named():
    assert [usual_work(s) for s in (BOX, AUTOMATIC, HUB)] == ["change", "exchange", "flush"]
    for sheet, *_ in TABLE:
        assert works_for(sheet)[0] == usual_work(sheet) == check_work(sheet, "")
        assert set(works_for(sheet)) <= set(WORKS)


def test_what_a_top_up_takes_is_the_loss():
    walk = Walk(BOX, work="top-up", distance_km=8000.0, share=0.5)
    walk.to("pour.0")
    with pytest.raises(GateClosed, match="Nothing was poured"):
        walk.act("pour.0")
    walk.act("pour.0", "add", volume_ml=240.0)
    with pytest.raises(Inconsistent, match="one of the two"):
        walk.act("pour.0", full=True)
    walk.act("pour.0")
    loss = walk.state.ledgers["0"].loss
    assert loss.loss_ml == pytest.approx(240, rel=0.01)  # at 15 °C, poured at 20 °C
    assert loss.per_1000km_ml == pytest.approx(30, rel=0.01)  # 240 mL in 8 000 km, by hand
    assert loss.band == "repair"  # 240 − 64 in half an interval: 17.6 % of 2 000 mL
    walk.to()
    assert walk.state.signed


def test_a_full_compartment_took_nothing():
    walk = Walk(BOX, work="top-up")
    walk.to("pour.0")
    walk.act("pour.0", full=True)
    assert walk.state.ledgers["0"].loss.band == "tight"
    walk.to()
    assert walk.state.ledgers["0"].poured_ml == 0


def test_a_measured_compartment_is_checked_by_the_gauge_that_was_cut_for_it():
    assert "top-up" not in works_for(CLUTCH_CASE)
    assert check_work(CLUTCH_CASE, "top-up", gauged=True) == "top-up"
    walk = Walk(CLUTCH_CASE, work="top-up", depth_mm=18.0, distance_km=5000.0)
    step = walk.to("stood")
    assert any("18 mm below the lip" in a for a in step.advice)
    walk.act("stood.0", stood="deeper: oil is missing", below_mm=23.0)
    assert walk.to("level").fields[0].choices == ("stands as deep as the gauge says",)
    walk.to()
    assert walk.state.signed
    assert "drain.0" not in walk.made.by_id


def test_top_ups_since_the_last_fill_count_as_put_in():
    plain = Walk(BOX, last_net_in=Amount(2000, 20, 10))
    topped = Walk(BOX, last_net_in=Amount(2000, 20, 10), topups=(Amount(300, 20, 5),))
    for walk in (plain, topped):
        walk.to("measure.0")
        walk.act("measure.0", pan_ml=1900.0, temperature_c=20.0)
    more = topped.state.ledgers["0"].loss.loss_ml - plain.state.ledgers["0"].loss.loss_ml
    assert more == pytest.approx(300, rel=0.01)


def test_a_correction_writes_down_what_ran_in_the_wrong_oil():
    walk = Walk(BOX, work="correction", wrong_oil="engine oil", distance_km=1200.0)
    walk.to("exposure")
    assert walk.made.by_id["exposure.0"].fields[0].default == "engine oil"
    with pytest.raises(Inconsistent, match="What went in"):
        walk.act("exposure.0", wrong_oil="")
    walk.act("exposure.0", wrong_oil="engine oil", ran=1200.0)
    assert walk.state.ledgers["0"].exposure == {"wrong_oil": "engine oil", "ran": 1200.0}
    step = walk.to("rinse")
    for k, missing in enumerate(("Label reads the oil", "Pan emptied", "First rinse", "Second rinse")):
        with pytest.raises(GateClosed, match=missing):
            walk.act("rinse.0", ticked=list(step.checklist)[:k])
    walk.act("rinse.0", ticked=list(step.checklist))


def test_flush_fluid_does_not_count_as_old_oil():
    walk = Walk(HUB, last_net_in=Amount(25, 20, 1))
    walk.to("measure.0")
    walk.act("measure.0", pan_ml=48.0, temperature_c=20.0)  # 25 mL of fluid and 23 of oil, by hand
    ledger = walk.state.ledgers["0"]
    assert (ledger.drained.volume_ml, ledger.flush_in_ml, ledger.flush_out_ml) == (23, 25, 48)
    by_plug = Walk(OLD_BOX, work="flush")
    by_plug.to("measure.0.1")
    by_plug.act("measure.0.1", pan_ml=1900.0)
    by_plug.to("flushin")
    by_plug.act("flushin.0", pan_ml=2000.0)
    by_plug.to("measure.0")
    with pytest.raises(NeedsReason, match="of flush fluid went in"):
        by_plug.act("measure.0", pan_ml=3500.0)
    by_plug.act("measure.0", pan_ml=1980.0)
    kept = by_plug.state.ledgers["0"]
    assert (kept.drained.volume_ml, kept.flush_in_ml, kept.flush_out_ml) == (1900, 2000, 1980)


def test_an_exchange_takes_another_cycle_when_the_target_is_not_reached():
    walk = Walk(AUTOMATIC, target_fresh=0.85)
    walk.to("drain.0.2")
    outlook = exchange_outlook(walk.made.job("0"), walk.state.ledgers["0"])
    # 3 880 of 9 500 mL each time leaves (1 − 0.408)ⁿ of the old oil: three drains 79 %, four 88 %, by hand.
    assert outlook.fresh == pytest.approx(1 - (1 - 3880 / 9500) ** 3, abs=0.01)
    assert (outlook.wanted, outlook.needed) == (3, 4)
    walk.act("drain.0.2")
    walk.to("drain.0")
    with pytest.raises(NeedsReason, match=r"4 would reach the 85\s%"):
        walk.act("drain.0")
    walk.act("drain.0", "cycles", count=4)
    assert walk.state.steps["drain.0"].status == "locked"
    assert walk.state.steps["off.0.3"].status == "open"
    assert walk.state.steps["off.0"].status == "locked"  # asked anew before the last drain, though it was ticked before
    walk.to()
    assert walk.state.signed
    assert len(walk.state.ledgers["0"].cycles) == 3
    assert fresh_share(walk.made.job("0"), walk.state.ledgers["0"]) > 0.85
    assert not any("would reach" in text for _, text in walk.state.gaps)


def test_fewer_cycles_are_enough_when_the_target_is_low_and_nonsense_is_refused():
    walk = Walk(AUTOMATIC, target_fresh=0.5)
    walk.to("drain.0.2")
    for count, error in ((1, OutOfRange), (9, OutOfRange), (2.5, Inconsistent), (None, Inconsistent)):
        with pytest.raises(error):
            walk.act("drain.0", "cycles", count=count)
    walk.act("drain.0", "cycles", count=2)
    assert walk.state.steps["drain.0.2"].status == "off"
    assert walk.state.steps["off.0"].status == "open"  # the engine first
    assert walk.state.steps["drain.0"].status == "locked"
    said = walk.acts[-1].id
    walk.act("", "undo", act=said)
    assert walk.state.steps["drain.0.2"].status == "open"
    with pytest.raises(Inconsistent, match="no exchange"):
        Walk(BOX).act("drain.0", "cycles", count=2)


def test_a_cycle_that_was_added_and_begun_is_not_taken_back():
    walk = Walk(AUTOMATIC)
    walk.act("drain.0", "cycles", count=4)
    added = walk.acts[-1].id
    walk.to("drain.0.3")
    walk.act("drain.0.3")
    with pytest.raises(GateClosed, match="has begun"):
        walk.act("", "undo", act=added)


def test_flow_through_needs_what_the_textbook_says():
    # Perfectly mixed tank flushed at constant volume: fresh = 1 − e^(−V/C); 70 % of 9 500 mL take 9 500·ln(1/0.3) = 11 438 mL.
    walk = Walk(AUTOMATIC, school="flow through")
    assert walk.state.ledgers["0"].target_ml == pytest.approx(11_438, abs=1)
    have = applies(walk.made)
    assert "drain.0.1" not in have
    assert "running.0.flow" in have
    walk.to("measure.0")
    assert fresh_share(walk.made.job("0"), walk.state.ledgers["0"]) == pytest.approx(0.7, abs=0.001)
    with pytest.raises(NeedsReason, match="less than went in"):
        walk.act("measure.0", pan_ml=8000.0)
    walk.act("measure.0", pan_ml=11_300.0)
    walk.to()
    assert walk.state.signed


def test_every_drain_point_is_opened_and_shut():
    walk = Walk(POCKET)
    walk.to("drain2")
    assert walk.made.by_id["drain2.0"].title == "Box 0: pocket plug out too"
    walk.to("shut2")
    with pytest.raises(GateClosed, match="is locked"):
        walk.act("pour.0", "add", volume_ml=100.0)


def test_suction_that_got_little_asks_again_and_has_a_ceiling():
    walk = Walk(BLOWER, last_net_in=Amount(140, 20, 5))
    walk.to("measure.0")
    walk.act("measure.0", pan_ml=70.0)
    ledger = walk.state.ledgers["0"]
    assert ledger.recovery.share == pytest.approx(0.5)
    assert not ledger.recovery.enough
    assert ledger.target_ml == 70
    assert ledger.loss is None  # what a suction left behind is no loss
    walk.act("measure.0", pan_ml=115.0)  # tried again: said again, the later one counts
    ledger = walk.state.ledgers["0"]
    assert ledger.recovery.enough
    assert ledger.target_ml == 115  # no more than came out: what stayed counts against the 140 of the sheet
    assert "tells no loss" in ledger.recovery.text
    walk.to("pour.0")
    walk.act("pour.0", "add", volume_ml=140.0)
    with pytest.raises(NeedsReason, match="between 140 and 165 mL"):  # (140 − 115) + 140, by hand
        walk.act("pour.0")


def test_a_wrong_fluid_leaves_an_automatic_by_cycles_to_95_per_cent():
    # 4 000 of 9 500 mL a drain leaves (1 − 0.421)ⁿ of the old: five drains 93.5 %, six 96.2 %, by hand.
    walk = Walk(AUTOMATIC, work="correction", wrong_oil="engine oil")
    job = walk.made.job("0")
    assert (job.planned_cycles, job.aim_fresh) == (6, 0.95)
    walk.to()
    assert walk.state.signed
    assert len(walk.state.ledgers["0"].cycles) == 5
    # Nobody knows how much is inside: five half drains give 96.9 % (common practice).
    assert guide(replace(AUTOMATIC, total_ml=None), work="correction").job("0").planned_cycles == 5
    assert any("engine stays off" in a for a in walk.made.by_id["exposure.0"].advice)


def test_a_rinse_has_a_way_out_or_says_how_it_goes_without_one_and_may_be_declined():
    through, without = (guide(s, work="correction").by_id["rinse.0"] for s in (BOX, MARINE))
    assert "the way out open" in through.title
    assert "suck it out again" in without.title
    assert "way out" not in without.title
    walk = Walk(BOX, work="correction")
    walk.to("rinse")
    with pytest.raises(NeedsReason):
        walk.act("rinse.0", "skip")
    walk.act("rinse.0", "skip", reason="no oil left for it")
    walk.to()
    assert any("no oil left for it" in text for _, text in walk.state.gaps)


def test_no_warm_drive_with_an_oil_inside_that_harms_what_runs_in_it():
    warm, cold = guide(BOX, work="correction"), guide(BOX, work="correction", no_warm="a wrong family.")
    assert "warm" in warm.by_id
    assert "warm" not in cold.by_id
    assert cold.by_id["measure.0"].timer_s == 2 * warm.by_id["measure.0"].timer_s
    assert any("a wrong family" in a for a in cold.by_id["measure.0"].advice)


def test_it_was_full_does_not_go_with_below_the_lip():
    walk = Walk(BOX, work="top-up")
    walk.to("stood")
    walk.act("stood.0", stood="below the lip")
    walk.to("pour")
    with pytest.raises(Inconsistent, match="then it was not full"):
        walk.act("pour.0", full=True)
    walk.act("pour.0", "add", volume_ml=150.0)
    walk.act("pour.0")


def test_a_top_up_of_an_automatic_is_its_level_procedure():
    walk = Walk(AUTOMATIC, work="top-up", last_net_in=Amount(4000, 20, 20))
    walk.to("level.")
    with pytest.raises(GateClosed, match="engine"):
        walk.act("level.0", temperature_c=42.0, engine="off", outcome="streamed, then only drips")
    walk.act("level.0", "add", volume_ml=200.0)
    walk.act("level.0", temperature_c=42.0, engine="running", outcome="streamed, then only drips", run_out_ml=50.0)
    assert walk.state.ledgers["0"].loss.loss_ml == pytest.approx(150, rel=0.01)  # 200 in, 50 out again
    walk.to()
    assert walk.state.signed


def test_filled_below_the_lip_is_said_in_every_word():
    made = guide(TRUCK)
    assert "never to the lip" in made.by_id["pour.0"].why
    topped = guide(TRUCK, work="top-up").by_id["stood.0"]
    assert next(f.choices for f in topped.fields if f.name == "stood")[0] == "at the stated depth"


def test_the_branch_for_a_break_is_none_of_the_normal_steps():
    assert [s.id for s in guide(BOX).steps if s.branch] == ["stop"]


def test_a_slope_that_spoils_the_level_needs_a_reason():
    walk = Walk(BOX)
    walk.to("levelled")
    with pytest.raises(Inconsistent, match="takes both"):
        walk.act("levelled", lift_mm=100.0)
    with pytest.raises(NeedsReason, match=r"2\.9° out of level.*Box 0 about"):
        walk.act("levelled", lift_mm=125.0, wheelbase_mm=2500.0)  # arcsin 0.05 = 2.87°
    walk.act("levelled", lift_mm=10.0, wheelbase_mm=2500.0)
    assert walk.state.tilt_deg == pytest.approx(0.229, abs=0.001)


def test_tools_are_counted_back():
    walk = Walk(BOX)
    walk.to("kit")
    step = walk.made.by_id["kit"]
    walk.act("kit", ticked=list(step.checklist), tools=7.0)
    walk.to("wipe")
    with pytest.raises(GateClosed, match="count them back"):
        walk.act("wipe")
    with pytest.raises(GateClosed, match="find the rest"):
        walk.act("wipe", tools_back=6.0)
    walk.act("wipe", tools_back=7.0)


def test_a_torque_beyond_the_case_is_refused_whatever_the_reason():
    walk = Walk(BOX)
    walk.to("shut.0")
    with pytest.raises(OutOfRange, match="strips a thread"):
        walk.act("shut.0", torque_nm=90.0, started_by_hand=True, seal_renewed=True, reason="it felt right")


def test_dips_lead_to_the_mark_and_drops_to_a_yield():
    plain = Walk(BOX)
    plain.to("measure")
    plain.act("measure.0", "reading", drops=40.0, seconds=60.0)
    with pytest.raises(OutOfRange):
        plain.act("measure.0", "reading", drops=5000.0, seconds=60.0)
    assert len(plain.state.ledgers["0"].drips) == 1
    walk = Walk(MARINE)
    walk.to("measure")
    with pytest.raises(Inconsistent, match="counted while it drains"):
        walk.act("measure.0", "reading", drops=4.0, seconds=60.0)
    walk.to("pour")
    walk.act("pour.0", "add", volume_ml=600.0)
    with pytest.raises(Inconsistent, match="upper mark"):
        walk.act("pour.0", "reading", dip_mm=12.0)
    walk.act("pour.0", "reading", dip_mm=12.0, mark_mm=30.0)
    walk.act("pour.0", "add", volume_ml=200.0)
    walk.act("pour.0", "reading", dip_mm=20.0)
    assert walk.state.ledgers["0"].dips == [(600, 12), (800, 20)]
    with pytest.raises(OutOfRange):
        walk.act("pour.0", "reading", dip_mm=-3.0)
    dry = Walk(BOX)
    dry.to("pour")
    with pytest.raises(Inconsistent, match="not dipped"):
        dry.act("pour.0", "reading", dip_mm=3.0, mark_mm=9.0)


@pytest.mark.parametrize("works", [("change", "top-up"), ("flush", "change"), ("correction", "change")], ids=lambda w: " and ".join(w))
@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 1_000_000))
def test_no_order_of_acts_of_any_kind_of_service_breaks_a_gate(works, seed):
    """Acts thrown at a visit of two kinds at random: what was accepted respects the gates."""
    from barodex.core.guide.procedure import build
    from barodex.core.guide.steps import Conditions, Job

    chance = random.Random(seed)
    walk = Walk(BOX)
    sheets = (BOX, replace(BOX, kind="axle"))
    walk.made = build(
        tuple(Job(str(k), f"Box {k}", s, "the oil", work=w) for k, (s, w) in enumerate(zip(sheets, works, strict=True))),
        Conditions("the vehicle", "car"),
    )
    drains = {k: [s.id for s in walk.made.steps if s.id.startswith(f"drain.{k}")] for k in "01"}
    for _ in range(110):
        step = chance.choice(walk.made.steps)
        kind = chance.choice(["done"] * 5 + ["skip", "add", "undo"])
        try:
            if kind == "undo" and walk.acts:
                walk.act("", "undo", act=chance.choice(walk.acts).id)
            elif kind == "add":
                walk.act(step.id, "add", volume_ml=chance.choice([200.0, 1000.0]))
            elif kind == "skip":
                walk.act(step.id, "skip", reason="by chance")
            else:
                walk.act(step.id, **walk.plain(step))
        except CoreError:
            pass
    state = walk.state
    proven = [f"prove.{k}" for k, w in zip("01", works, strict=True) if w != "top-up"]
    if any(state.steps[d].status == "done" for ids in drains.values() for d in ids):
        assert all(state.steps[p].status == "done" for p in proven)
    for k, work in zip("01", works, strict=True):
        if work == "top-up":
            assert not drains[k]
        elif state.ledgers[k].poured_ml:
            assert state.steps[f"shut.{k}"].status == "done"
        if work == "correction" and state.ledgers[k].poured_ml:
            assert state.steps[f"rinse.{k}"].status == "done"
    if state.signed:
        assert all(state.steps[s.id].status != "open" for s in walk.made.steps if s.gate)


def test_behind_a_thermostat_the_level_is_set_twice_and_what_ran_out_both_times_is_counted():
    walk = Walk(AUTOMATIC, work="change")
    ids = [s.id for s in walk.made.steps]
    order = ["level.0", "snuglevel.0", "thermostat.0", "closelevel.0", "closefill.0"]
    assert [s for s in ids if s in order] == order  # shut for now, and with its seal and torque once it has been past the thermostat
    walk.to("level.0")
    drips = "streamed, then only drips"
    walk.act("level.0", temperature_c=42.0, engine="running", outcome=drips, run_out_ml=180.0)
    walk.to("thermostat")
    poured = walk.state.ledgers["0"].poured_ml
    ticked = list(walk.made.by_id["thermostat.0"].checklist)
    with pytest.raises(GateClosed, match="outside 40 to 45"):
        walk.act("thermostat.0", ticked=ticked, temperature_c=60.0, engine="running", outcome=drips)
    with pytest.raises(GateClosed, match="Add oil slowly"):
        walk.act("thermostat.0", ticked=ticked, temperature_c=42.0, engine="running", outcome="nothing comes")
    with pytest.raises(GateClosed, match="Was past 75"):
        walk.act("thermostat.0", ticked=ticked[1:], temperature_c=42.0, engine="running", outcome=drips)
    walk.act("thermostat.0", "add", volume_ml=300.0)  # the cooler's share
    walk.act("thermostat.0", ticked=ticked, temperature_c=43.0, engine="running", outcome=drips, run_out_ml=60.0)
    ledger = walk.state.ledgers["0"]
    assert (ledger.poured_ml - poured, ledger.run_out_ml, ledger.run_out_c) == (300.0, 240.0, 43.0)
    walk.to()
    assert walk.state.signed


def test_a_filter_that_rides_along_takes_the_pan_off_and_what_the_pan_held_is_measured():
    plain, filtered = guide(OPENABLE, work="change"), guide(OPENABLE, work="change", attached=("filter", "breather"))
    assert "pan.0" not in plain.by_id
    order = ["drain.0", "wait.0", "pan.0", "measure.0", "look.0", "filter.0", "whileopen.0", "attached.0.0", "panshut.0", "shut.0"]
    assert [s.id for s in filtered.steps if s.id in order] == order
    assert filtered.by_id["attached.0.0"].task == "breather"  # the filter is the pan block
    assert "with what the pan held" in filtered.by_id["measure.0"].title
    assert any("gasket" in line for line in filtered.by_id["kit"].checklist)
    # Without a pan or cover on its sheet a filter is a job of its own.
    assert guide(BOX, attached=("filter",)).by_id["attached.0.0"].task == "filter"
    walk = Walk(OPENABLE, work="change", attached=("filter",))
    walk.to()
    assert walk.state.signed


def test_later_cycles_ask_what_is_still_so_and_only_the_first_drain_is_read():
    made = guide(AUTOMATIC, work="exchange", cycles=3)
    assert len(made.by_id["running.0.1"].checklist) == 4
    assert [len(made.by_id[f"running.0.{k}"].checklist) for k in (2, 3)] == [1, 1]
    assert len(made.by_id["running.0"].checklist) == 4  # before somebody goes under it: in full again
    assert [s.id for s in made.steps if s.kind == "inspect"] == ["look.0"]
    assert "mixture" in made.by_id["measure.0"].why


def test_two_boxes_are_measured_each_by_itself():
    kit = guide(BOX, TRUCK).by_id["kit"].checklist
    assert any("a measuring pan for each, or one that is emptied and read between" in line for line in kit)
