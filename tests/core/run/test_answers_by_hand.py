"""What each answer of a service does: torques, levels, pours, looks, tools, gaps. Limits: common practice, as the judgement page states."""

from dataclasses import replace

import pytest

from barodex.core.findings.finding import Particle
from barodex.core.guide.variant_blocks import UNREADABLE
from barodex.core.quantity.errors import GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.run.gaps import gap_report
from barodex.core.run.seen import finding_from
from barodex.core.sheet.sheet import Head
from tests.core.guides import AUTOMATIC, BOX, CHAIN, COUPLING, DRAIN, FILL, MARINE, TRUCK, Plug, Walk

HELD = {"seal_renewed": True, "started_by_hand": True}


def at(stop, sheet=BOX, **job):
    walk = Walk(sheet, **job)
    return walk, walk.to(stop)


def last_gap(state):
    return state.gaps[-1]


@pytest.mark.parametrize(
    ("torque", "error", "words"),
    [
        (20.0, None, ""),
        (23.0, None, ""),  # 15 % over 20
        (17.0, None, ""),
        (23.1, NeedsReason, "23.1 N·m used, the sheet says 20 N·m"),
        (16.9, NeedsReason, "16.9 N·m used"),
        (40.0, NeedsReason, "40 N·m used"),  # twice
        (40.1, OutOfRange, "more than twice the 20 N·m"),
        (0.1, OutOfRange, "torque_nm"),
        (None, NeedsReason, "without a torque figure"),
    ],
)
def test_a_torque_beside_the_sheet_s(torque, error, words):
    walk, step = at("shut.")
    if error is None:
        assert walk.act(step.id, torque_nm=torque, **HELD).gaps == []
        return
    with pytest.raises(error, match=words):
        walk.act(step.id, torque_nm=torque, **HELD)
    if error is NeedsReason:
        state = walk.act(step.id, torque_nm=torque, **HELD, reason="asked the maker")
        assert last_gap(state)[0] == step.id
        assert last_gap(state)[1].endswith("Reason: asked the maker")


def test_a_reason_counts_from_four_letters_on():
    walk, step = at("shut.")
    for reason in ("", "abc", "  abc  ", None):
        with pytest.raises(NeedsReason, match=r"not renewed\. Write the reason to go on"):
            walk.act(step.id, torque_nm=20.0, started_by_hand=True, reason=reason)
    assert walk.act(step.id, torque_nm=20.0, started_by_hand=True, reason="none").gaps == [
        (step.id, "Box 0, drain plug: the seal was not renewed. Reason: none")
    ]


def test_threads_are_started_by_hand_whatever_else_is_said():
    walk, step = at("shut.")
    for said in (False, None, "yes"):
        with pytest.raises(GateClosed, match="started by hand") as refused:
            walk.act(step.id, torque_nm=20.0, seal_renewed=True, started_by_hand=said, reason="no way to do it")
        assert refused.value.field == "started_by_hand"


def test_a_torque_that_the_sheet_does_not_have_says_where_it_is_from():
    walk, step = at("shut.", replace(BOX, plugs=(FILL, Plug("drain", "drain plug", "hex socket", 8, "crush washer", None, True))))
    with pytest.raises(NeedsReason, match="the sheet has no torque; 31 N·m was used"):
        walk.act(step.id, torque_nm=31.0, **HELD)


HEADS = replace(DRAIN, heads=(Head("drain", "hex socket", 10, 30), Head("drain", "square", 12, 45)))


def test_the_torque_of_the_plug_that_is_fitted():
    walk, step = at("shut.", replace(BOX, plugs=(FILL, HEADS)))
    first, second, unknown = next(f.choices for f in step.fields if f.name == "head")
    with pytest.raises(GateClosed, match="Which plug is fitted") as refused:
        walk.act(step.id, **HELD)
    assert refused.value.field == "head"
    with pytest.raises(NeedsReason, match="45 N·m"):
        walk.act(step.id, head=second, torque_nm=30.0, **HELD)
    with pytest.raises(NeedsReason, match="closed at 30 N·m, the lowest"):
        walk.act(step.id, head=unknown, **HELD)
    state = walk.act(step.id, head=unknown, **HELD, reason="head is worn")
    assert [g[0] for g in state.gaps] == [step.id]
    other, step = at("shut.", replace(BOX, plugs=(FILL, HEADS)))
    assert other.act(step.id, head=first, **HELD).gaps == []


def test_a_level_by_overflow_is_read_with_its_engine_in_its_window_and_when_it_drips():
    walk, step = at("level.", AUTOMATIC)
    good = {"temperature_c": 42.0, "engine": "running", "outcome": step.fields[2].choices[0]}
    outcomes = next(f.choices for f in step.fields if f.name == "outcome")
    with pytest.raises(GateClosed, match=r"pump holds no oil up.*engine running"):
        walk.act(step.id, **(good | {"engine": "off"}))
    for wrong, words in (("nothing comes", "too little is inside"), ("still a stream", "breaks into drips")):
        if wrong in outcomes:
            with pytest.raises(GateClosed, match=words) as refused:
                walk.act(step.id, **(good | {"outcome": wrong}))
            assert (refused.value.field, refused.value.value) == ("outcome", wrong)
    drips = next(o for o in outcomes if o not in ("nothing comes", "still a stream", "a trickle"))
    with pytest.raises(GateClosed, match=r"36 °C is outside 40 to 45 °C.*too much.*wait until it is warmer"):
        walk.act(step.id, **(good | {"temperature_c": 36.0, "outcome": drips}))
    with pytest.raises(GateClosed, match=r"too little would stay.*let it cool"):
        walk.act(step.id, **(good | {"temperature_c": 52.0, "outcome": drips}))
    for edge in (40.0, 45.0):
        other, there = at("level.", AUTOMATIC)
        assert other.act(there.id, **(good | {"temperature_c": edge, "outcome": drips})).steps[there.id].status == "done"


def test_a_coupling_is_read_with_the_engine_off():
    walk, step = at("level.", COUPLING)
    values = walk.plain(step)
    with pytest.raises(GateClosed, match="read with the engine off"):
        walk.act(step.id, **(values | {"engine": "running"}))


def test_no_more_runs_out_than_was_poured():
    walk, step = at("level.")
    values = walk.plain(step)
    poured = walk.state.ledgers["0"].poured_ml
    with pytest.raises(OutOfRange, match="More ran out than was poured") as refused:
        walk.act(step.id, **(values | {"run_out_ml": poured + 1}))
    assert refused.value.value == poured + 1
    assert walk.act(step.id, **(values | {"run_out_ml": poured})).ledgers["0"].run_out_ml == poured
    other, step = at("level.")
    assert other.act(step.id, **values).ledgers["0"].run_out_ml == 0


def test_a_slope_is_measured_with_both_and_bears_so_much():
    """The wheelbase lies along the slope: asin(100/2 500) is 2.292°, asin(−10/2 500) is −0.229°."""
    walk, step = at("levelled")
    ticked = list(step.checklist)
    for given, field in (({"lift_mm": 35.0}, "wheelbase_mm"), ({"wheelbase_mm": 2500.0}, "lift_mm")):
        with pytest.raises(Inconsistent) as refused:
            walk.act("levelled", ticked=ticked, **given)
        assert refused.value.field == field
    with pytest.raises(NeedsReason, match=r"2\.3° out of level\. A level at a plug is wrong by Box 0 about"):
        walk.act("levelled", ticked=ticked, lift_mm=100.0, wheelbase_mm=2500.0)
    state = walk.act("levelled", ticked=ticked, lift_mm=100.0, wheelbase_mm=2500.0, reason="no other floor")
    assert (state.tilt_deg, last_gap(state)[0]) == (pytest.approx(2.292, abs=1e-3), "levelled")
    other, _ = at("levelled")
    assert other.act("levelled", ticked=ticked, lift_mm=-10.0, wheelbase_mm=2500.0).tilt_deg == pytest.approx(-0.229, abs=1e-3)


@pytest.mark.parametrize(
    ("sheet", "stop", "values", "words"),
    [
        (BOX, "ready", {"temperature_c": 20.0}, "This step has no reading"),
        (MARINE, "measure.", {"drops": 30, "seconds": 60}, "Drops are counted while it drains"),
        (BOX, "pour.", {"dip_mm": 10}, "is not dipped"),
        (MARINE, "look.", {"dip_mm": 10}, "is not dipped"),
        (MARINE, "pour.", {"dip_mm": 10}, "where the upper mark is"),
        (BOX, "look.", {"temperature_c": 20.0}, "This step has no temperature"),
    ],
)
def test_a_reading_where_there_is_none(sheet, stop, values, words):
    walk, step = at(stop, sheet)
    with pytest.raises(Inconsistent, match=words):
        walk.act(step.id, "reading", **values)


def test_dips_are_kept_with_what_was_poured_so_far():
    walk, step = at("pour.", MARINE)
    walk.act(step.id, "add", volume_ml=700.0)
    walk.act(step.id, "reading", dip_mm=10.0, mark_mm=25.0)
    walk.act(step.id, "add", volume_ml=300.0)
    found = walk.act(step.id, "reading", dip_mm=18.0).ledgers["0"]
    assert (found.dips, found.mark_mm) == ([(700.0, 10.0), (1000.0, 18.0)], 25.0)
    with pytest.raises(OutOfRange):
        walk.act(step.id, "reading", dip_mm=501.0)


def test_temperatures_follow_each_other_as_oil_does():
    walk, step = at("level.", AUTOMATIC)
    walk.act(step.id, "reading", temperature_c=30.0)
    with pytest.raises((Inconsistent, OutOfRange)):
        walk.act(step.id, "reading", later=1, temperature_c=90.0)
    assert len(walk.act(step.id, "reading", later=120, temperature_c=33.0).ledgers["0"].readings) == 2


@pytest.mark.parametrize(("poured", "word"), [(2200.0, "more"), (1800.0, "less")])
def test_far_from_the_target_a_pour_wants_a_reason(poured, word):
    walk, step = at("pour.", replace(BOX, fill_method="measured"))
    walk.act(step.id, "add", volume_ml=poured)
    target = walk.state.ledgers["0"].target_ml
    off = abs(poured - target)
    with pytest.raises(NeedsReason, match=f"{off:.0f}.mL {word} than") as refused:
        walk.act(step.id, volume_ml=None)
    assert refused.value.value == poured


def test_nothing_poured_is_no_pour():
    walk, step = at("pour.")
    with pytest.raises(GateClosed, match="Nothing has been poured yet"):
        walk.act(step.id)


def test_a_top_up_was_full_or_took_some():
    walk, step = at("pour.", work="top-up", last_net_in=None)
    with pytest.raises(GateClosed, match="tick that it was full"):
        walk.act(step.id)
    walk.act(step.id, "add", volume_ml=80.0)
    with pytest.raises(Inconsistent, match="one of the two"):
        walk.act(step.id, full=True)
    loss = walk.act(step.id).ledgers["0"].loss
    assert loss.loss_ml == pytest.approx(80, rel=0.01)


def test_a_look_that_saw_nothing_is_none():
    walk, step = at("look.")
    with pytest.raises(GateClosed, match="Nothing was looked at yet"):
        walk.act(step.id, finding={})
    with pytest.raises(Inconsistent, match="not a finding") as refused:
        walk.act(step.id, finding={"particles": [{"metal": "steel"}]})
    assert "particles" in str(refused.value.value)


def test_a_finding_is_read_with_what_is_usual_where_nothing_is_said():
    found = finding_from({"particles": [{"form": "chip"}], "d1500": "3.5", "covered": 0.2, "magnet": "", "wet": "dry"})
    assert found.particles == (Particle("chip", "steel", 1, 0.1, None),)
    assert (found.d1500, found.covered, found.delta_e, found.magnet, found.wet) == (3.5, 0.2, None, None, "dry")
    assert finding_from({}).particles is None
    assert finding_from({"particles": []}).particles == ()
    full = finding_from({"particles": [{"form": "flake", "metal": "yellow", "count": 3, "size_mm": 0.4, "magnetic": False}]})
    assert full.particles == (Particle("flake", "yellow", 3, 0.4, False),)


def test_tools_and_parts_are_back_before_the_engine_runs():
    walk, step = at("kit")
    walk.act("kit", ticked=list(step.checklist), tools=7.0)
    step = walk.to("access")
    walk.act("access", came_off=" undertray \n\nshield ")
    step = walk.to("wipe")
    assert walk.state.refit == ("undertray", "shield")
    with pytest.raises(GateClosed, match="Not back on yet: shield") as refused:
        walk.act("wipe", ticked=["undertray"])
    assert refused.value.value == "shield"
    both = {"ticked": ["undertray", "shield", *step.checklist]}
    with pytest.raises(GateClosed, match="7 tools were laid out: count them back"):
        walk.act("wipe", **both)
    for back in (6.0, 8.0):
        with pytest.raises(GateClosed, match=f"7 tools were laid out, {back:g} are back") as refused:
            walk.act("wipe", **both, tools_back=back)
        assert refused.value.field == "tools_back"
    assert walk.act("wipe", **both, tools_back=7.0).steps["wipe"].status == "done"


def test_a_field_that_must_be_said_and_a_choice_that_is_none():
    walk, step = at("level.")
    values = walk.plain(step)
    with pytest.raises(Inconsistent) as refused:
        walk.act(step.id, **(values | {"outcome": ""}))
    assert refused.value.field == "outcome"
    with pytest.raises(Inconsistent, match="is not one of") as refused:
        walk.act(step.id, **(values | {"outcome": "looks fine"}))
    assert "drip" in refused.value.allowed or "lip" in refused.value.allowed


def test_an_unreadable_casing_code_wants_a_reason():
    from tests.core.guide.test_every_step import OPEN

    walk = Walk(OPEN, open_sheet=OPEN)
    step = walk.to("variant.")
    with pytest.raises(NeedsReason, match="cannot be read"):
        walk.act(step.id, variant=UNREADABLE)
    assert walk.act(step.id, variant=UNREADABLE, reason="plate is gone").ledgers["0"].variant_read is False
    other = Walk(OPEN, open_sheet=OPEN)
    other.to("variant.")
    assert other.act("variant.0", variant="short").ledgers["0"].variant_read is True


def test_the_gap_report_counts_what_applied_and_lists_what_is_open():
    walk = Walk(BOX)
    walk.to("measure.")
    walk.act("measure.0", "skip", reason="the can fell over")
    walk.to("look.")
    walk.act("look.0", **walk.plain(walk.made.by_id["look.0"], finding={"colour": "brown", "clarity": "clear", "smell": "none"}))
    walk.to("level.")
    walk.to()
    state = walk.state
    report = gap_report(walk.made, state, meter_known=False, air_known=True)
    kinds = [line.kind for line in report.lines]
    texts = " ".join(line.text for line in report.lines)
    assert "the can fell over" in texts
    assert "Box 0: what came out was not measured." in texts
    assert "Box 0: nothing was noted of the magnet." in texts
    assert "The meter was not read." in texts
    assert "air's temperature" not in texts
    assert kinds.count("reason") == 1 + sum(step.kind == "timer" and step.required for step in walk.made.steps)
    assert report.steps == len([s for s in state.steps.values() if s.status != "off"])
    assert report.done == len([s for s in state.steps.values() if s.status == "done"])
    assert report.text.startswith(f"{report.done} of {report.steps} steps done")
    assert all(line.text and isinstance(line.compartment, str) for line in report.lines)
    known = gap_report(walk.made, state, meter_known=True, air_known=False)
    assert (
        "The meter was not read." in [x.text for x in known.lines],
        "The air's temperature was not noted." in [x.text for x in known.lines],
    ) == (False, True)


@pytest.mark.parametrize(
    ("poured", "said"),
    [(2000, None), (1940, None), (1939, "61 mL less than the 2")],  # 3 % of 2 000 mL are 60
)
def test_an_amount_is_met_within_three_per_cent(poured, said):
    walk, step = at("pour.", replace(BOX, capacity_ml=2000, fill_method="measured"))
    walk.act(step.id, "add", volume_ml=poured)
    walk.act(step.id, **walk.plain(step))
    lines = [x for x in gap_report(walk.made, walk.state, True, True).lines if x.kind == "shortfall"]
    assert [said in x.text.replace("\N{NO-BREAK SPACE}", " ") for x in lines] == ([] if said is None else [True])


def test_a_level_that_was_found_is_not_off_a_figure():
    """What went in to the lip is the measurement, whatever the sheet says."""
    walk, step = at("level.", replace(BOX, capacity_ml=2000, trust={"capacity": "guessed"}))
    walk.act(step.id, **(walk.plain(step) | {"run_out_ml": 200.0}))
    assert [x for x in gap_report(walk.made, walk.state, True, True).lines if x.kind in ("shortfall", "reason")] == []


def test_a_level_that_contradicts_a_verified_capacity_is_asked_about_once():
    """300 of 2 000 mL less are 15 %, beyond 5 % and 2σ = 2·√((0.01·2000)² + 10²) and that of what ran out."""
    walk, step = at("level.", replace(BOX, capacity_ml=2000, trust={"capacity": "verified"}))
    with pytest.raises(NeedsReason, match="less than the verified"):
        walk.act(step.id, **({k: v for k, v in walk.plain(step).items() if k != "reason"} | {"run_out_ml": 300.0}))
    walk.act(step.id, **(walk.plain(step) | {"run_out_ml": 300.0, "reason": "it had settled, twice"}))
    assert [x.kind for x in gap_report(walk.made, walk.state, True, True).lines if "verified" in x.text] == ["reason"]
    near, step = at("level.", replace(BOX, capacity_ml=2000, trust={"capacity": "verified"}))
    near.act(step.id, **({k: v for k, v in near.plain(step).items() if k != "reason"} | {"run_out_ml": 90.0}))


def test_far_too_little_without_a_history_is_asked_and_carried_on():
    """Under 85 % of 2 000 mL by more than 2σ = 2·√((0.02·1500)² + 20²) = 72 mL."""
    walk, step = at("measure.", replace(BOX, capacity_ml=2000))
    with pytest.raises(NeedsReason, match="ran low by about 500 mL, or the sheet is wrong"):
        walk.act(step.id, pan_ml=1500.0, temperature_c=20.0)
    walk.act(step.id, pan_ml=1500.0, temperature_c=20.0, reason="the seal is wet since spring")
    again, step = at("measure.", replace(BOX, capacity_ml=2000))
    again.act(step.id, pan_ml=1640.0, temperature_c=20.0)  # within what can be measured of 1 700


def test_what_is_never_drained_misses_no_measurement():
    walk = Walk(TRUCK, work="top-up")
    walk.to()
    assert [x.kind for x in gap_report(walk.made, walk.state, True, True).lines if x.kind in ("missing", "shortfall")] == []
    assert CHAIN.drain_method == "cover"


def test_a_finding_keeps_every_word():
    words = {"magnet": "cap", "colour": "brown", "clarity": "hazy", "smell": "burnt", "wet": "cover"}
    found = finding_from(words | {"d1500": 4, "delta_e": 12.5, "covered": 0.3})
    assert {k: getattr(found, k) for k in words} == words
    assert (found.d1500, found.delta_e, found.covered) == (4.0, 12.5, 0.3)
