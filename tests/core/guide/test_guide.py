"""The guide: what must and must not appear for each compartment and vehicle. The order of work is common practice."""

from dataclasses import replace

import pytest

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import PHASES, Conditions, Job, torque_words
from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.oil.lubricant import Requirement
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.quantity.working import ml
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.sheet import Plug, Sheet

GEAR = Requirement("gear", "80W-90", "GL-5", hypoid=True, yellow_metal=False, limited_slip=False)
FILL, DRAIN = Plug("fill", "fill plug", "hex socket", 10, "crush washer", 40), Plug("drain", "drain plug", "square", 14, "O-ring", 55, True)
STICK = Plug("dipstick", "dipstick", "by hand")
LIP = Sheet("axle", GEAR, 1500, "to the lip", "plug", (FILL, DRAIN), case_material="iron")
MEASURED = Sheet("manual gearbox", GEAR, 2300, "measured", "plug", (FILL, DRAIN), case_material="aluminium")
BEVEL = Sheet("bevel drive", GEAR, 180, "measured", "plug", (FILL, DRAIN), case_material="aluminium")
COMBINED = Sheet(
    "transfer case", GEAR, 1200, "to the lip", "plug", (Plug("combination", "level and drain plug", "hex socket", 10, "O-ring", 30),)
)
MARINE = Sheet("marine gearbox", Requirement("engine", "SAE 30"), 1100, "dipstick", "suction", (STICK,), warm_up=False)
BUS = Sheet("transaxle", GEAR, 3500, "to the lip", "plug", (FILL, DRAIN), case_material="magnesium", drain_minutes=30)


def guide(*sheets, kind="car", **job):
    jobs = tuple(Job(str(k), f"Box {k}", s, "the oil", **job) for k, s in enumerate(sheets))
    return build(jobs, Conditions("the vehicle", kind))


def ids(made):
    return [s.id for s in made.steps]


TABLE = [
    (
        "axle to the lip",
        LIP,
        {"prove.0", "drain.0", "measure.0", "look.0", "shut.0", "oil.0", "pour.0", "levelled", "level.0", "closefill.0", "warm"},
        set(),
    ),
    ("gearbox, measured", MEASURED, {"prove.0", "shut.0", "closefill.0"}, set()),
    ("bevel drive", BEVEL, {"prove.0", "shut.0", "pour.0"}, set()),
    ("one hole for all", COMBINED, {"drain.0", "shut.0", "level.0", "closefill.0"}, {"prove.0"}),
    ("marine gearbox", MARINE, {"drain.0", "measure.0", "look.0", "level.0", "closefill.0"}, {"prove.0", "shut.0"}),
    ("magnesium transaxle", BUS, {"prove.0", "shut.0"}, set()),
]


@pytest.mark.parametrize(("words", "sheet", "must", "must_not"), TABLE, ids=[t[0] for t in TABLE])
def test_what_must_and_must_not_appear(words, sheet, must, must_not):
    have = set(ids(guide(sheet)))
    assert must <= have
    assert not must_not & have
    assert {"ready", "kit", "safe", "wipe", "drive", "sign"} <= have


@pytest.mark.parametrize(("words", "sheet", "must", "must_not"), TABLE, ids=[t[0] for t in TABLE])
def test_every_need_names_a_step_that_comes_no_later(words, sheet, must, must_not):
    made = guide(sheet)
    order = {s.id: PHASES.index(s.phase) for s in made.steps}
    for step in made.steps:
        for need in step.needs:
            assert need in order, f"{step.id} needs {need}"
            assert order[need] <= order[step.id], f"{step.id} stands before {need}"


@pytest.mark.parametrize(("words", "sheet", "must", "must_not"), TABLE, ids=[t[0] for t in TABLE])
def test_what_guards_oil_cannot_be_passed(words, sheet, must, must_not):
    for step in guide(sheet).steps:
        if step.id.split(".")[0] in (
            "ready",
            "kit",
            "safe",
            "prove",
            "drain",
            "shut",
            "oil",
            "pour",
            "levelled",
            "level",
            "closefill",
            "sign",
        ):
            assert step.gate, step.id
            assert step.skip == "never", step.id


def test_phases_stand_in_order():
    phases = [PHASES.index(s.phase) for s in guide(LIP, MARINE, BUS).steps]
    assert phases == sorted(phases)


def test_every_drain_waits_for_every_fill_plug_and_for_what_the_sheets_say():
    made = guide(LIP, MEASURED, MARINE)
    for k in range(3):
        assert {"prove.0", "prove.1", "safe", "ready", "kit"} <= set(made.by_id[f"drain.{k}"].needs)


def test_the_one_that_drains_longest_comes_first():
    made = guide(LIP, BUS)
    assert ids(made).index("drain.1") < ids(made).index("drain.0")


def test_drains_open_together_so_that_waiting_is_not_idle():
    made = ids(guide(LIP, BUS))
    assert max(made.index("drain.0"), made.index("drain.1")) < min(made.index("measure.0"), made.index("measure.1"))


def test_the_level_is_read_only_on_a_level_vehicle():
    for sheet in (LIP, MARINE):
        assert "levelled" in guide(sheet).by_id["level.0"].needs
    # An exact fill is no reading: it stands level for its drain, so that nothing stays inside.
    measured = guide(MEASURED)
    assert "levelled" not in measured.by_id["level.0"].needs
    assert "levelled" in measured.by_id["drain.0"].needs
    assert ids(measured).index("levelled") < ids(measured).index("drain.0")
    sucked = guide(replace(MEASURED, drain_method="suction", plugs=(FILL,)))
    assert "levelled" not in ids(sucked)
    assert "side stand" in guide(BEVEL, kind="motorcycle").by_id["levelled"].title
    assert "spirit level" in guide(LIP).by_id["levelled"].title


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("car", "never on a jack alone"),
        ("truck", "chocked"),
        ("motorcycle", "strap"),
        ("boat", "ignition isolated"),
        ("bicycle", "stand"),
        ("snow machine", "track clear"),
    ],
)
def test_it_is_made_safe_in_the_way_of_the_vehicle(kind, words):
    safe = guide(LIP, kind=kind).by_id["safe"]
    assert any(words in line for line in safe.checklist)
    assert any("Gloves and eye protection" in line for line in safe.checklist)
    assert "maker's manual" in safe.caution


def test_a_boat_is_run_not_driven():
    made = guide(MARINE, kind="boat")
    assert "mooring" in made.by_id["drive"].title
    assert "mooring" in made.by_id["warm"].title
    assert "nobody near the shaft" in made.by_id["warm"].caution


def test_a_cold_compartment_is_not_warmed():
    assert "warm" not in ids(guide(replace(LIP, warm_up=False)))
    assert "warm" not in ids(guide(MARINE))


def test_the_kit_names_keys_seals_and_a_pan_that_is_large_enough():
    kit = guide(LIP, MARINE).by_id["kit"].checklist
    assert "10 mm hex socket (Box 0 fill plug)" in kit
    assert "14 mm square (Box 0 drain plug)" in kit
    assert "crush washer for Box 0 fill plug" in kit
    assert "O-ring for Box 0 drain plug" in kit
    assert "suction pump and hose (Box 1)" in kit
    # 1 500 and 1 100 mL and a quarter more, common practice; each box is measured by itself
    assert f"a measuring pan for each, or one that is emptied and read between: Box 0 {ml(1875)}, Box 1 {ml(1375)}" in kit
    alone = guide(LIP).by_id["kit"].checklist
    assert f"measuring pan for {ml(1875)}" in alone
    same = guide(replace(LIP, plugs=(FILL, replace(DRAIN, drive=FILL.drive, size_mm=FILL.size_mm)))).by_id["kit"].checklist
    assert "10 mm hex socket (fill plug, drain plug)" in same  # one key is listed once


def test_an_unknown_capacity_asks_for_the_largest_pan_and_is_confirmed():
    made = guide(replace(LIP, capacity_ml=None))
    assert "the largest measuring pan: a capacity is unknown" in made.by_id["kit"].checklist
    assert any("unknown" in line for line in made.by_id["ready"].checklist)


def test_a_guessed_figure_has_to_be_confirmed_and_a_verified_one_not():
    doubtful = replace(LIP, trust={"torque": "guessed", "capacity": "verified", "oil": "remembered"})
    step = guide(doubtful).by_id["ready"]
    assert step.checklist == ("Box 0: the oil", "Box 0, torque of the sheet: guessed", "Box 0, oil of the sheet: remembered")
    assert guide(replace(LIP, trust={"torque": "verified"})).by_id["ready"].checklist == ("Box 0: the oil",)


@pytest.mark.parametrize(
    ("material", "words"),
    [
        ("magnesium", "no impact, no flame"),
        ("aluminium", "no impact, no flame"),
        ("iron", "no flame once penetrant"),
        ("unknown", "treat it as aluminium"),
    ],
)
def test_a_stuck_plug_is_treated_as_its_case_wants(material, words):
    assert any(words in a for a in guide(replace(LIP, case_material=material)).by_id["prove.0"].advice)


def test_timers_come_from_the_sheet_or_common_practice():
    assert guide(BUS).by_id["measure.0"].timer_s == 30 * 60
    assert guide(LIP).by_id["measure.0"].timer_s == 20 * 60
    assert guide(MARINE).by_id["measure.0"].timer_s == 0  # what is sucked out drips no more
    assert guide(LIP).by_id["warm"].timer_s == 600


def test_a_plug_without_a_seal_asks_for_none():
    plain = replace(LIP, plugs=(FILL, replace(DRAIN, seal="none")))
    assert [f.name for f in guide(plain).by_id["shut.0"].fields] == ["torque_nm", "started_by_hand", "reason"]
    assert "crush washer" in next(f for f in guide(LIP).by_id["closefill.0"].fields if f.name == "seal_renewed").label


@pytest.mark.parametrize(("torque", "words"), [(43, "43 N·m (32 lbf·ft)"), (8.5, "8.5 N·m (6.3 lbf·ft)"), (None, "look it up")])
def test_torque_is_said_in_both_units(torque, words):
    # 43 / 1.35582 = 31.7; 8.5 / 1.35582 = 6.27 (NIST SP 811)
    assert words in torque_words(torque).replace("\N{NO-BREAK SPACE}", " ")


@pytest.mark.parametrize(("sheet", "words"), [(LIP, "the lip sets the level"), (MEASURED, "the counter does"), (MARINE, "time to settle")])
def test_the_level_says_why_its_method_is_the_right_one(sheet, words):
    assert words.lower() in guide(sheet).by_id["level.0"].why.lower()


def test_the_measure_says_since_when():
    import datetime as dt

    assert guide(LIP, last_filled_on=dt.date(2023, 3, 4)).by_id["measure.0"].why == "It tells what was lost since 4 March 2023."
    assert "first figure" in guide(LIP).by_id["measure.0"].why


@pytest.mark.parametrize("kind", COMPARTMENT_KINDS)
def test_every_kind_has_a_guide_that_ends_with_a_signature(kind):
    made = guide(replace(LIP, kind=kind))
    assert made.steps[-1].id == "sign"


def test_a_visit_has_one_to_twelve_compartments_each_once():
    with pytest.raises(Inconsistent, match="one to twelve"):
        build((), Conditions("v", "car"))
    twin = Job("1", "Box", LIP, "oil")
    with pytest.raises(Inconsistent, match="each once"):
        build((twin, twin), Conditions("v", "car"))
    with pytest.raises(Inconsistent, match="one to twelve"):
        guide(*[LIP] * 13)


@pytest.mark.parametrize("sheet", [LIP, MEASURED, BEVEL, COMBINED, MARINE, BUS])
def test_these_sheets_are_sound(sheet):
    check_sheet(sheet)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"plugs": (FILL, replace(DRAIN, seal="chewing gum"))}, "plugs.1.seal"),
        ({"plugs": (replace(FILL, role="cork"), DRAIN)}, "plugs.0.role"),
        ({"plugs": (DRAIN,)}, "plugs"),
    ],
)
def test_an_unsound_sheet_names_the_field(change, field):
    with pytest.raises((Inconsistent, OutOfRange)) as refused:
        check_sheet(replace(LIP, **change))
    assert refused.value.field == field
