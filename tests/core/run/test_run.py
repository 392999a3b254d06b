"""The fold: order, duplicates, undo, gates. No order of acts drains before the fill plug or signs with an open gate."""

import datetime as dt
import itertools
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.ledger.drained import Amount
from barodex.core.oil.lubricant import Requirement
from barodex.core.quantity.errors import GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.folding import accept, fold
from barodex.core.run.gaps import gap_report
from barodex.core.run.state import Act
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.sheet import Plug, Sheet

AT = dt.datetime(2026, 6, 15, 9, 0, tzinfo=dt.UTC)
ASKED = Requirement("gear", "75W-80", "GL-4", yellow_metal=True)
PLUGS = (
    Plug("fill", "fill plug", "hex socket", 12, "crush washer", 37),
    Plug("drain", "drain plug", "hex socket", 12, "crush washer", 43, True),
)
BOX = Sheet("manual gearbox", ASKED, 1850, "to the lip", "plug", PLUGS, case_material="aluminium")
AXLE = Sheet("axle", Requirement("gear", "80W-90", "GL-5", True, False, False), 1500, "to the lip", "plug", PLUGS)
MARINE = Sheet(
    "marine gearbox",
    Requirement("engine", "SAE 30"),
    1100,
    "dipstick",
    "suction",
    (Plug("dipstick", "dipstick", "by hand", None, "O-ring"),),
)
LOOK = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}
BROKEN = {**LOOK, "particles": [{"form": "part", "metal": "steel", "count": 1, "size_mm": 6}]}


def procedure(*sheets):
    jobs = tuple(
        Job(str(k), f"Box {k}", sheet, "the oil", last_net_in=Amount(sheet.capacity_ml or 1850, 20, 20), distance_km=40_000)
        for k, sheet in enumerate(sheets or (BOX,))
    )
    return build(jobs, Conditions("the vehicle", "car"))


def values_for(step, finding=LOOK, capacity=1850.0):
    values = {"ticked": list(step.ticks)}
    for f in step.fields:
        if f.kind == "choice":
            values[f.name] = f.choices[0]
        elif f.kind == "bool":
            values[f.name] = True
        elif f.kind == "finding":
            values[f.name] = finding
        elif f.name == "torque_nm":
            values[f.name] = f.default
    if step.kind == "measure":
        values |= {"pan_ml": capacity - 50, "temperature_c": 38.0}
    return values


class Bench:
    """Posts acts one after another, as the server does."""

    def __init__(self, made, finding=LOOK):
        self.procedure, self.acts, self.finding = made, [], finding
        self.state = fold(made, [])

    def post(self, kind, step, **values):
        act = Act(f"e{len(self.acts)}", len(self.acts) + 1, kind, step, values, AT)
        self.state = accept(self.procedure, self.acts, act)
        self.acts.append(act)
        return self.state

    def do(self, step_id, **more):
        step = self.procedure.by_id[step_id]
        if step.kind == "pour":
            target = self.state.ledgers[step.compartment].target_ml
            self.post("add", step_id, volume_ml=target)
        capacity = self.procedure.job(step.compartment).sheet.capacity_ml if step.compartment else None
        return self.post("done", step_id, **{**values_for(step, self.finding, capacity or 1850.0), **more})

    def until(self, prefix=""):
        for _ in range(200):
            step = next((s for s in self.procedure.steps if self.state.steps[s.id].status == "open"), None)
            if step is None or (prefix and step.id.startswith(prefix)):
                return self
            self.do(step.id)
        raise AssertionError("the guide does not end")


@pytest.mark.parametrize("sheets", [(BOX,), (AXLE,), (MARINE,), (BOX, AXLE)])
def test_the_guide_leads_to_the_signature(sheets):
    bench = Bench(procedure(*sheets)).until()
    assert bench.state.signed is not None
    assert bench.state.conflicts == []
    assert bench.state.gaps == []


def test_compartments_really_differ():
    box, marine = procedure(BOX), procedure(MARINE)
    assert "prove.0" in box.by_id
    assert "prove.0" not in marine.by_id
    assert "shut.0" not in marine.by_id
    assert "hose" in marine.by_id["drain.0"].title
    assert "43 N·m (32 lbf·ft)" in box.by_id["shut.0"].title.replace("\N{NO-BREAK SPACE}", " ")  # 43 / 1.35582 = 31.7
    assert any("no impact" in a for a in box.by_id["prove.0"].advice)


def test_the_drain_waits_for_every_fill_plug_of_the_visit():
    bench = Bench(procedure(BOX, AXLE)).until("prove")
    bench.do("prove.0")
    with pytest.raises(GateClosed, match="Box 1: clean round the plugs, crack the fill plug"):
        bench.do("drain.0")
    bench.do("prove.1")
    assert bench.do("drain.0").steps["drain.0"].status == "done"


def test_filling_waits_for_the_drain_to_be_closed():
    bench = Bench(procedure()).until("shut")
    with pytest.raises(GateClosed, match="is locked"):
        bench.post("add", "pour.0", volume_ml=500)


def test_no_signature_with_an_open_gate():
    bench = Bench(procedure()).until("closefill")
    with pytest.raises(GateClosed, match="is locked"):
        bench.do("sign")


def test_a_gate_cannot_be_passed():
    bench = Bench(procedure()).until("prove")
    with pytest.raises(GateClosed, match="cannot be passed"):
        bench.post("skip", "prove.0", reason="no time for it")


def test_a_look_is_passed_only_with_a_reason_and_stands_in_the_gap_report():
    bench = Bench(procedure()).until("look")
    with pytest.raises(NeedsReason):
        bench.post("skip", "look.0", reason=" ")
    bench.post("skip", "look.0", reason="lamp is broken")
    assert any("lamp is broken" in text for _, text in bench.state.gaps)


def test_a_tick_that_is_missing_is_named():
    bench = Bench(procedure())
    with pytest.raises(GateClosed, match="Not ticked yet: Box 0: the oil"):
        bench.post("done", "ready", ticked=[])


def test_a_torque_other_than_the_sheets_needs_a_reason():
    bench = Bench(procedure()).until("shut")
    with pytest.raises(NeedsReason, match="60 N·m used, the sheet says 43"):
        bench.do("shut.0", torque_nm=60.0)
    with pytest.raises(NeedsReason, match="without a torque figure"):
        bench.do("shut.0", torque_nm=None)
    with pytest.raises(GateClosed, match="started by hand"):
        bench.do("shut.0", started_by_hand=False)
    bench.do("shut.0", torque_nm=60.0, reason="another plug head is fitted")
    assert len(bench.state.gaps) == 1


def test_more_out_than_the_sheet_holds_is_asked_about():
    bench = Bench(procedure()).until("measure")
    with pytest.raises(NeedsReason, match="the sheet says"):
        bench.do("measure.0", pan_ml=2300.0)
    bench.do("measure.0", pan_ml=2300.0, reason="it was overfilled last time")
    with pytest.raises(OutOfRange, match="cannot be of a compartment"):
        bench.do("measure.0", pan_ml=40_000.0, reason="no idea")
    assert bench.state.ledgers["0"].drained.volume_ml == 2300


@pytest.mark.parametrize("values", [{}, {"pan_ml": 100.0, "mass_g": 90.0}])
def test_an_amount_is_volume_or_weight(values):
    bench = Bench(procedure()).until("measure")
    with pytest.raises(Inconsistent, match="one of the two"):
        bench.post("done", "measure.0", **values)


def test_weighed_oil_hose_and_rag_are_summed():
    bench = Bench(procedure()).until("measure")
    bench.post("done", "measure.0", mass_g=880.0, temperature_c=15.0, hose_ml=40.0, rag_ml=10.0)
    assert bench.state.ledgers["0"].drained.volume_ml == pytest.approx(1050)  # 880 g at 880 kg/m³ is a litre


def test_too_little_poured_needs_a_reason():
    bench = Bench(procedure()).until("pour")
    with pytest.raises(GateClosed, match="Nothing has been poured"):
        bench.post("done", "pour.0")
    bench.post("add", "pour.0", volume_ml=1000.0)
    with pytest.raises(NeedsReason, match="less than the"):
        bench.post("done", "pour.0")
    bench.post("add", "pour.0", volume_ml=850.0)
    assert bench.post("done", "pour.0").steps["pour.0"].status == "done"


def test_an_unknown_capacity_is_poured_to_what_came_out():
    bench = Bench(procedure(Sheet("manual gearbox", ASKED, None, "to the lip", "plug", PLUGS))).until("measure")
    assert bench.state.ledgers["0"].target_ml is None
    bench.do("measure.0", pan_ml=1725.0)
    assert bench.state.ledgers["0"].target_ml == 1725


def test_suction_that_got_little_is_not_refilled_with_the_whole():
    bench = Bench(procedure(MARINE)).until("measure")
    bench.do("measure.0", pan_ml=600.0)
    assert bench.state.ledgers["0"].target_ml == 600


def test_a_stop_verdict_takes_the_drive_away_and_asks_what_happens():
    bench = Bench(procedure(), BROKEN).until("stop")
    assert bench.state.stopped
    assert bench.state.steps["drive"].status == "off"
    with pytest.raises(GateClosed, match="do not drive"):
        bench.do("drive")
    with pytest.raises(GateClosed, match="is locked"):
        bench.do("sign")
    bench.until()
    assert bench.state.signed


def test_what_came_off_must_go_back_on():
    bench = Bench(procedure()).until("access")
    bench.post("done", "access", came_off="undertray\nfour bolts")
    bench.until("wipe")
    with pytest.raises(GateClosed, match="Not back on yet: four bolts"):
        bench.post("done", "wipe", ticked=["undertray"])
    bench.post("done", "wipe", ticked=["undertray", "four bolts"])


def test_undo_reopens_what_depends_on_it():
    bench = Bench(procedure()).until("pour")
    shut = bench.state.steps["shut.0"].act
    bench.post("add", "pour.0", volume_ml=500.0)
    state = bench.post("undo", "", act=shut.id)
    assert state.steps["shut.0"].status == "open"
    assert state.steps["oil.0"].status == "locked"
    assert state.ledgers["0"].poured_ml == 0  # the drain is open again: what was poured ran out


def test_the_fill_plug_is_not_unproven_once_drained():
    bench = Bench(procedure()).until("measure")
    proven = bench.state.steps["prove.0"].act
    with pytest.raises(GateClosed, match="cannot be taken back"):
        bench.post("undo", "", act=proven.id)


def test_a_corrected_measurement_reopens_nothing_and_its_undo_brings_the_first_back():
    bench = Bench(procedure()).until("pour")
    bench.post("done", "measure.0", pan_ml=1700.0, temperature_c=38.0)
    assert bench.state.ledgers["0"].drained.volume_ml == 1700
    assert bench.state.steps["shut.0"].status == "done"
    bench.post("undo", "", act=bench.acts[-1].id)
    assert bench.state.ledgers["0"].drained.volume_ml == 1800


def test_one_pour_undone_leaves_the_others():
    bench = Bench(procedure()).until("pour")
    bench.post("add", "pour.0", volume_ml=1000.0)
    first = bench.acts[-1].id
    bench.post("add", "pour.0", volume_ml=850.0)
    assert bench.post("undo", "", act=first).ledgers["0"].poured_ml == 850


def test_undoing_nothing_is_refused():
    with pytest.raises(Inconsistent, match="nothing to undo"):
        Bench(procedure()).post("undo", "", act="never was")


def test_after_the_signature_nothing_changes():
    bench = Bench(procedure()).until()
    with pytest.raises(GateClosed, match="correction goes into the Book"):
        bench.post("done", "measure.0", pan_ml=1.0)
    with pytest.raises(GateClosed, match="correction goes into the Book"):
        bench.post("undo", "", act=bench.acts[3].id)


def test_timers_run_and_stop():
    bench = Bench(procedure()).until("drain")
    bench.do("drain.0")
    assert bench.state.steps["measure.0"].timer_started == AT  # with the plug out it drains
    assert bench.state.current == "look.0"  # while one drains, there is other work
    bench.post("timer_stop", "measure.0")
    assert bench.state.steps["measure.0"].timer_stopped == AT
    with pytest.raises(Inconsistent, match="no timer"):
        bench.post("timer_start", "look.0")


def test_a_wait_cut_short_is_a_gap_unless_it_only_drips_or_drops_were_counted():
    def missing(bench, **values):
        bench.do("measure.0", pan_ml=1800.0, temperature_c=38.0, **values)
        report = gap_report(bench.procedure, bench.state, meter_known=True, air_known=True)
        return [g.text for g in report.lines if "let it drip" in g.text]

    short = Bench(procedure()).until("measure")
    assert any("cut short after 0.0 of 20 min" in text for text in missing(short, drips=False))
    assert missing(Bench(procedure()).until("measure"), drips=True) == []
    counted = Bench(procedure()).until("measure")
    counted.post("reading", "measure.0", drops=12.0, seconds=60.0)
    assert missing(counted, drips=False) == []


def test_the_drain_is_shut_only_once_what_came_out_was_measured_or_passed():
    bench = Bench(procedure()).until("drain")
    bench.do("drain.0")
    bench.do("look.0")
    assert bench.state.steps["shut.0"].blocked_by == ("measure.0",)
    assert bench.state.current == "measure.0"


def whole(sheets=(BOX,)):
    return Bench(procedure(*sheets)).until()


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_the_order_of_handing_over_does_not_matter(seed):
    bench = whole()
    shuffled = list(bench.acts)
    random.Random(seed).shuffle(shuffled)
    assert fold(bench.procedure, shuffled).steps == bench.state.steps


@settings(max_examples=30, deadline=None)
@given(st.lists(st.integers(0, 30), max_size=12))
def test_duplicates_change_nothing(again):
    bench = whole()
    repeated = [*bench.acts, *(bench.acts[k % len(bench.acts)] for k in again)]
    assert fold(bench.procedure, repeated).ledgers == bench.state.ledgers


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 1_000_000))
def test_no_order_of_acts_drains_before_the_fill_plug_or_signs_with_an_open_gate(seed):
    """Throws every act at the guide at random; whatever was accepted must respect the gates."""
    chance = random.Random(seed)
    made = procedure(BOX, AXLE)
    bench = Bench(made)
    for _ in range(160):
        step = chance.choice(made.steps)
        kind = chance.choice(["done", "done", "done", "done", "skip", "add", "undo"])
        try:
            if kind == "undo" and bench.acts:
                bench.post("undo", "", act=chance.choice(bench.acts).id)
            elif kind == "add":
                bench.post("add", step.id, volume_ml=chance.choice([100.0, 900.0, 1500.0]))
            elif kind == "skip":
                bench.post("skip", step.id, reason="by chance")
            else:
                bench.do(step.id)
        except (GateClosed, Inconsistent, OutOfRange):
            pass
        state = bench.state
        drained = [k for k in ("0", "1") if state.steps[f"drain.{k}"].status == "done"]
        if drained:
            assert all(state.steps[f"prove.{k}"].status == "done" for k in ("0", "1"))
        for k in ("0", "1"):
            if state.ledgers[k].poured_ml:
                assert state.steps[f"shut.{k}"].status == "done"
        if state.signed:
            assert all(state.steps[s.id].status != "open" for s in made.steps if s.gate)
            break


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"kind": "biscuit tin"}, "not one of"),
        ({"drain_method": "plug", "plugs": ()}, "no drain plug"),
        ({"fill_method": "dipstick"}, "no dipstick"),
        ({"plugs": (Plug("drain", "d", torque_nm=-4.0),)}, "cannot be right"),
        ({"plugs": (Plug("drain", "d", size_mm=900.0),)}, "cannot be right"),
    ],
)
def test_a_sheet_that_contradicts_itself_is_refused(changed, words):
    from dataclasses import replace

    with pytest.raises((OutOfRange, Inconsistent), match=words):
        check_sheet(replace(BOX, **changed))


def test_step_ids_are_stable_and_once():
    ids = [s.id for s in procedure(BOX, AXLE).steps]
    assert len(ids) == len(set(ids))
    assert all(a in ids for a, b in itertools.product(("ready", "prove.0", "drain.1", "sign"), [0]))
