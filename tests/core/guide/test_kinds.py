"""The guides that really differ: what must and must not appear by kind, exchange cycles, levels by temperature. Common practice."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.ledger.drained import Amount
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.exchanging import fresh_share
from barodex.core.run.folding import fold
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.sheet import LevelSpec
from tests.core.guides import AUTOMATIC, BLOWER, CHAIN, CLUTCH_CASE, COUPLING, DRIBBLER, DUAL, HUB, TRUCK, Walk, guide

TABLE = [
    (
        "automatic",
        AUTOMATIC,
        {
            "drain.0.1",
            "snug.0.1",
            "sweep.0.1",
            "drain.0.2",
            "sweep.0.2",
            "drain.0",
            "shut.0",
            "running.0",
            "sweep.0",
            "level.0",
            "thermostat.0",
            "closelevel.0",
        },
        {"drain.0.3", "warm", "cool.0", "reset.0"},
    ),
    ("dual-clutch, one drain", DUAL, {"running.0", "sweep.0", "level.0", "shut.0"}, {"drain.0.1", "cool.0"}),
    ("electronic differential", COUPLING, {"cool.0", "level.0", "shut.0"}, {"running.0", "sweep.0", "warm", "drain.0.1"}),
    ("clutch-type transfer case", CLUTCH_CASE, {"before.0", "reset.0", "values.0", "shut.0"}, {"running.0", "level.0.1"}),
    ("supercharger by suction", BLOWER, {"case.0", "prove.0", "drain.0", "measure.0"}, {"shut.0", "warm", "sweep.0"}),
    ("supercharger that dribbles", DRIBBLER, {"case.0", "level.0"}, {"shut.0"}),
    ("hub gear", HUB, {"flushin.0", "work.0", "rest.0", "drain.0", "level.0"}, {"shut.0", "warm"}),
    ("chain case", CHAIN, {"drain.0", "chain.0", "tension.0", "shut.0", "level.0"}, {"prove.0", "running.0"}),
    ("a truck's gearbox, one finger joint", TRUCK, {"prove.0", "level.0", "shut.0"}, {"running.0"}),
]
SHEETS = [t[1] for t in TABLE]


@pytest.mark.parametrize(("words", "sheet", "must", "must_not"), TABLE, ids=[t[0] for t in TABLE])
def test_what_must_and_must_not_appear(words, sheet, must, must_not):
    check_sheet(sheet)
    made = guide(sheet)
    have = {k for k, v in fold(made, []).steps.items() if v.status != "off"}  # spare cycles do not apply until wanted
    assert must <= have
    assert not must_not & have


@pytest.mark.parametrize("sheet", SHEETS, ids=[t[0] for t in TABLE])
def test_every_need_is_a_step_that_comes_no_later(sheet):
    made = guide(sheet)
    place = {s.id: k for k, s in enumerate(made.steps)}
    for step in made.steps:
        for need in step.needs:
            assert place[need] < place[step.id], f"{step.id} needs {need}"


@pytest.mark.parametrize("sheet", SHEETS, ids=[t[0] for t in TABLE])
def test_every_guide_can_be_walked_to_its_signature(sheet):
    walk = Walk(sheet)
    walk.to()
    assert walk.state.signed
    assert walk.state.conflicts == []


def test_an_exchange_is_tracked_with_what_was_really_drained_and_poured():
    walk = Walk(AUTOMATIC, last_net_in=Amount(4200, 20, 80))
    walk.to("measure.0.1")
    walk.act("measure.0.1", pan_ml=3800.0, temperature_c=30.0)
    assert walk.state.ledgers["0"].target_ml == 3800
    walk.to("pour.0.1")
    walk.act("pour.0.1", "add", volume_ml=3600.0)
    walk.act("pour.0.1")
    first = walk.state.ledgers["0"]
    assert [(c.drained_ml, c.poured_ml) for c in first.cycles] == [(3800, 3600)]
    assert first.poured_ml == 0
    # 9 500 mL inside, 3 800 out at 30 °C, which are 3 773 at the 20 °C of the rest (ASTM D1250, by hand), 3 600 in.
    assert fresh_share(walk.made.job("0"), first) == pytest.approx(3600 / (9500 - 3773 + 3600), rel=1e-4)
    walk.to()
    ledger = walk.state.ledgers["0"]
    assert len(ledger.cycles) == 2
    assert len(ledger.all_pours) == 3
    assert fresh_share(walk.made.job("0"), ledger) > 0.6
    assert ledger.loss is None  # after cycles what came out says nothing of the last fill


def test_half_out_each_time_is_the_textbook_series():
    # Common practice: draining half each time leaves 50, 75, 87.5 % fresh.
    half = replace(AUTOMATIC, total_ml=8000, capacity_ml=4000, surplus_ml=0.0)
    walk = Walk(half)
    shares = []
    for k in (1, 2):
        walk.to(f"measure.0.{k}")
        walk.act(f"measure.0.{k}", pan_ml=4000.0, temperature_c=20.0)
        walk.to(f"pour.0.{k}")
        walk.act(f"pour.0.{k}", "add", volume_ml=4000.0)
        walk.act(f"pour.0.{k}")
        shares.append(fresh_share(walk.made.job("0"), walk.state.ledgers["0"]))
    walk.to("measure.0")
    walk.act("measure.0", pan_ml=4000.0, temperature_c=20.0)
    walk.to("pour.0")
    walk.act("pour.0", "add", volume_ml=4000.0)
    shares.append(fresh_share(walk.made.job("0"), walk.state.ledgers["0"]))
    assert shares == pytest.approx([0.5, 0.75, 0.875])


def test_a_cycle_short_of_oil_or_of_sense_is_refused():
    walk = Walk(AUTOMATIC)
    walk.to("measure.0.1")
    with pytest.raises(OutOfRange, match="at most 9"):
        walk.act("measure.0.1", pan_ml=12_000.0)
    walk.act("measure.0.1", pan_ml=3800.0)
    walk.to("pour.0.1")
    with pytest.raises(GateClosed, match="Nothing has been poured"):
        walk.act("pour.0.1")
    walk.act("pour.0.1", "add", volume_ml=2000.0)
    with pytest.raises(NeedsReason, match="less than the"):
        walk.act("pour.0.1")
    walk.act("pour.0.1", reason="bottle was half empty")
    assert any("bottle was half empty" in text for _, text in walk.state.gaps)


def at_the_level(sheet=AUTOMATIC):
    walk = Walk(sheet)
    step = walk.to("level.0")
    return walk, walk.plain(step)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"engine": "off"}, "pump holds no oil up"),
        ({"temperature_c": 55.0}, "too little would stay inside"),
        ({"temperature_c": 30.0}, "too much would stay inside"),
        ({"outcome": "nothing comes"}, "too little is inside"),
        ({"outcome": "still a stream"}, "breaks into drips"),
    ],
)
def test_a_level_is_set_only_as_the_sheet_says(change, words):
    walk, values = at_the_level()
    with pytest.raises(GateClosed, match=words):
        walk.act("level.0", **{**values, **change})
    assert walk.act("level.0", **values).steps["level.0"].status == "done"


def test_engine_off_levels_refuse_a_running_engine():
    walk, values = at_the_level(COUPLING)
    assert values["engine"] == "off"
    with pytest.raises(GateClosed, match="throws the oil about"):
        walk.act("level.0", **{**values, "engine": "running"})


def test_oil_added_while_nothing_comes_is_counted():
    walk, values = at_the_level()
    before = walk.state.ledgers["0"].poured_ml
    walk.act("level.0", "add", volume_ml=300.0)
    assert walk.state.ledgers["0"].poured_ml == before + 300
    walk.act("level.0", **values)


def test_no_window_on_the_sheet_asks_where_the_temperature_is_from():
    walk, values = at_the_level(replace(DUAL, level=LevelSpec(engine="running")))
    with pytest.raises(NeedsReason, match="states no window"):
        walk.act("level.0", **{**values, "temperature_c": 40.0})
    walk.act("level.0", **{**values, "temperature_c": 40.0, "reason": "maker's bulletin by telephone"})


def test_warm_oil_may_not_begin_where_the_window_is_cool():
    walk = Walk(COUPLING)
    walk.to("cool.0")
    with pytest.raises(GateClosed, match="too warm to begin"):
        walk.act("cool.0", temperature_c=62.0)
    walk.act("cool.0", temperature_c=18.0)


def test_readings_are_kept_and_a_dead_or_jumping_sensor_is_refused():
    walk, _ = at_the_level()
    for k, t in enumerate((25.0, 28.0, 31.0, 33.5)):
        walk.act("level.0", "reading", 30, temperature_c=t)
        assert len(walk.state.ledgers["0"].readings) == k + 1
    with pytest.raises(Inconsistent, match="no oil does that"):
        walk.act("level.0", "reading", 2, temperature_c=78.0)
    with pytest.raises(OutOfRange, match="temperature_c"):
        walk.act("level.0", "reading", 30, temperature_c=-273.0)
    with pytest.raises(Inconsistent, match="no reading"):
        walk.act("drive", "reading", 30, temperature_c=40.0)
    assert len(walk.state.ledgers["0"].readings) == 4


def test_a_reset_wants_its_preconditions():
    walk = Walk(CLUTCH_CASE)
    step = walk.to("reset.0")
    assert "Ignition on, engine off" in step.checklist
    with pytest.raises(GateClosed, match="Not ticked yet"):
        walk.act("reset.0", ticked=["Battery supply connected"])


def test_an_undone_cycle_comes_open_again_with_its_pour():
    walk = Walk(AUTOMATIC)
    walk.to("snug.0.2")
    measured = next(e for e in walk.acts if e.step == "pour.0.1" and e.kind == "done")
    walk.act("", "undo", act=measured.id)
    state = walk.state
    assert state.steps["pour.0.1"].status == "open"
    assert state.ledgers["0"].cycles == []
    assert state.ledgers["0"].poured_ml > 0  # the oil is in there


def test_two_compartments_prove_every_fill_plug_and_hold_every_start_gate_before_a_drain():
    walk = Walk(AUTOMATIC, CLUTCH_CASE)
    first = walk.to("drain")
    done = {s for s, v in walk.state.steps.items() if v.status == "done"}
    assert {"prove.0", "prove.1"} <= done
    assert first.id.startswith("drain")


@settings(max_examples=25, deadline=None)
@given(st.sampled_from(SHEETS), st.lists(st.integers(0, 60), min_size=10, max_size=60))
def test_no_order_of_acts_drains_before_the_fill_plug_or_drives_on_an_interim_closure(sheet, picks):
    walk = Walk(sheet)
    steps = walk.made.steps
    for pick in picks:
        step = steps[pick % len(steps)]
        try:
            walk.act(step.id, "skip" if step.kind == "timer" else "done", **walk.plain(step, reason="because it rains"))
        except CoreError:
            continue
        state = walk.state
        done = {s for s, v in state.steps.items() if v.status == "done"}
        if any(s.startswith("drain.") for s in done) and "prove.0" in walk.made.by_id:
            assert "prove.0" in done
        if "drive" in done and "shut.0" in walk.made.by_id:
            assert "shut.0" in done
        assert not state.signed or all(state.steps[s.id].status != "open" for s in steps if s.gate)
