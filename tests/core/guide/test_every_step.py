"""What every guide of every kind and work keeps: what each step is, how it may be passed, what it records, and what comes before it.

The table is the contract of the guide in words of the trade: what can hurt someone or the box is never passed; what only costs knowledge
is passed with a reason; what is a courtesy is free. Common practice throughout.
"""

from __future__ import annotations

import functools
import itertools
from dataclasses import replace

import pytest

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job, plug_torque_words, torques_found
from barodex.core.kinds.kind import kind_of
from barodex.core.sheet.sheet import Head, Variant
from barodex.core.sheet.work import WORKS
from tests.core import guides
from tests.core.guides import AUTOMATIC, BLOWER, BOX, DRAIN, FILL, HUB, TRUCK, Plug, guide

SHEETS = {
    n: getattr(guides, n)
    for n in [
        "BOX",
        "AUTOMATIC",
        "OPENABLE",
        "DUAL",
        "COUPLING",
        "CLUTCH_CASE",
        "BLOWER",
        "DRIBBLER",
        "HUB",
        "CHAIN",
        "MARINE",
        "TRUCK",
        "POCKET",
    ]
}
VARIANTS = (Variant("short", "S", capacity_ml=1500), Variant("long", "L", capacity_ml=2100))
OPEN = replace(BLOWER, capacity_ml=None, variants=VARIANTS)
SEEN = replace(BOX, capacity_ml=None, variants=VARIANTS)


def with_open(sheet):
    return build((Job("0", "Box 0", sheet, "the oil", open_sheet=sheet),), Conditions("the vehicle", "car"))


HOW = {f"{name}, {work}": functools.partial(guide, sheet, work=work) for name, sheet in SHEETS.items() for work in WORKS} | {
    "two boxes": functools.partial(guide, BOX, TRUCK),
    "variant open, measured": functools.partial(with_open, OPEN),
    "variant open, to the lip": functools.partial(with_open, SEEN),
    "flow through": functools.partial(guide, AUTOMATIC, work="exchange", school="flow through"),
    "a job that rides along": functools.partial(guide, BOX, attached=("look at the boot",)),
}


@functools.cache
def guide_of(name: str):
    return HOW[name]()


AMOUNT = {"pan_ml", "mass_g", "temperature_c", "warmth", "reason"}
TORQUE = {"torque_nm", "seal_renewed", "started_by_hand", "reason"}
DRIVEN = {"noise", "feel"}
# block: (kind, how it may be passed, whether it is a gate, what it records at least)
WHAT = {
    "ready": ("confirm", "never", True, set()),
    "kit": ("confirm", "never", True, {"tools"}),
    "warm": ("timer", "free", False, DRIVEN),
    "cool": ("note", "never", True, {"temperature_c"}),
    "feel": ("note", "free", False, {"shift", *DRIVEN}),
    "before": ("note", "reason", False, {"before"}),
    "exposure": ("note", "never", True, {"wrong_oil", "ran", "hours", "how"}),
    "safe": ("confirm", "never", True, set()),
    "access": ("note", "free", False, {"came_off"}),
    "case": ("confirm", "never", True, {"lean_deg", "wheelbase_mm"}),
    "clean": ("confirm", "reason", False, set()),
    "prove": ("confirm", "never", True, set()),
    "hose": ("confirm", "never", True, set()),
    "rest": ("timer", "reason", False, set()),
    "work": ("timer", "reason", False, set()),
    "open": ("confirm", "never", True, set()),
    "stood": ("note", "never", True, {"stood", "below_mm", "ran_ml"}),
    "leak": ("note", "free", False, {"leak"}),
    "off": ("confirm", "never", True, set()),
    "drain": ("confirm", "never", True, set()),
    "drain2": ("confirm", "never", True, set()),
    "wait": ("timer", "free", False, {"drops", "seconds"}),
    "measure": ("measure", None, None, AMOUNT),
    "snug": ("confirm", "never", True, set()),
    "look": ("inspect", "reason", False, {"finding", "reason"}),
    "chain": ("confirm", "reason", False, set()),
    "tension": ("note", "reason", False, {"turns", "stretch"}),
    "pan": ("confirm", "never", True, set()),
    "filter": ("confirm", "reason", False, {"part"}),
    "whileopen": ("confirm", "reason", False, {"seen"}),
    "attached": ("note", "reason", False, {"done"}),
    "which": ("note", None, None, {"variant"}),
    "variant": ("note", "never", True, {"variant"}),
    "rinse": ("confirm", "reason", True, set()),
    "shut": (None, "never", True, set()),
    "shut2": ("torque", "never", True, TORQUE),
    "panshut": ("torque", "never", True, TORQUE | {"bolts"}),
    "levelled": ("confirm", "never", True, {"lift_mm", "wheelbase_mm", "reason"}),
    "oil": ("confirm", "never", True, set()),
    "pour": ("pour", "never", True, {"volume_ml", "reason"}),
    "running": ("confirm", "never", True, set()),
    "sweep": ("timer", "reason", False, set()),
    "level": ("level", "never", True, {"outcome"}),
    "gauge": ("note", "free", False, {"depth_mm"}),
    "closelevel": ("torque", "never", True, TORQUE),
    "snuglevel": ("confirm", "never", True, set()),
    "thermostat": ("level", "reason", True, {"temperature_c", "engine", "outcome", "run_out_ml"}),
    "closefill": (None, "never", True, set()),
    "wipe": ("confirm", "reason", False, {"tools_back"}),
    "reset": ("confirm", "reason", True, set()),
    "stop": ("note", "never", False, {"handling"}),
    "drive": ("confirm", "reason", False, DRIVEN),
    "values": ("note", "reason", False, {"after"}),
    "sign": ("sign", "never", True, set()),
    "flushin": (None, "never", True, set()),
}
FIELD_KINDS = {
    "volume",
    "mass",
    "length",
    "temperature",
    "torque",
    "number",
    "distance",
    "engine_hours",
    "bool",
    "text",
    "lines",
    "choice",
    "finding",
}
OPTIONAL = {"warm", "feel", "access", "wait", "gauge", "leak", "variant", "which"}  # nothing waits for these


def block(step) -> str:
    return step.id.split(".")[0]


def before(made, step_id: str) -> set[str]:
    """Everything that must be done before a step."""
    found: set[str] = set()
    ahead = [step_id]
    while ahead:
        for need in made.by_id[ahead.pop()].needs:
            if need not in found:
                found.add(need)
                ahead.append(need)
    return found


@pytest.fixture(params=HOW, ids=str)
def made(request):
    return guide_of(request.param)


def test_each_step_is_what_it_is_in_the_trade(made):
    for step in made.steps:
        kind, skip, gate, fields = WHAT[block(step)]
        assert (kind or step.kind, skip or step.skip, step.gate if gate is None else gate) == (step.kind, step.skip, step.gate), step.id
        assert (TORQUE if step.kind == "torque" else fields) <= {f.name for f in step.fields}, step.id


def test_an_amount_is_passed_with_a_reason_only_where_the_next_step_does_not_need_it(made):
    for step in made.steps:
        if step.kind == "measure":
            assert (step.skip, step.gate) == (("never", True) if step.cycle or block(step) == "flushin" else ("reason", False)), step.id


def test_which_variant_it_is_must_be_said_only_where_the_amount_alone_decides():
    measured, seen = guide_of("variant open, measured").by_id["which.0"], guide_of("variant open, to the lip").by_id["which.0"]
    assert (measured.skip, measured.gate, measured.required) == ("never", True, True)
    assert (seen.skip, seen.gate) == ("free", False)
    assert {"short", "long"} <= {c for f in measured.fields for c in f.choices} & {c for f in seen.fields for c in f.choices}


def test_each_step_speaks_in_whole_sentences(made):
    for step in made.steps:
        said = [step.title, step.why, *step.advice, *step.checklist, *step.calls, *(f.label for f in step.fields)]
        assert all(isinstance(s, str) and s.strip() and "None" not in s for s in said), step.id
        assert isinstance(step.caution, str)
        if step.compartment:
            assert step.id.split(".")[1] == step.compartment, step.id
            assert made.job(step.compartment).name in step.title, step.id
        else:
            assert "." not in step.id


def test_each_field_can_be_filled_in(made):
    for step in made.steps:
        names = [f.name for f in step.fields]
        assert len(names) == len(set(names)), step.id
        for f in step.fields:
            assert f.kind in FIELD_KINDS
            assert bool(f.choices) == (f.kind == "choice"), (step.id, f.name)
            if f.kind == "bool":
                assert f.default is False, (step.id, f.name)
            if f.name in ("reason", "tools", "tools_back", "run_out_ml", "hose_ml", "rag_ml", "drops", "wheelbase_mm", "torque_nm"):
                assert not f.required, (step.id, f.name)
            if f.name in ("finding", "outcome", "handling", "seal_renewed", "started_by_hand"):
                assert f.required, (step.id, f.name)


def test_a_timer_has_its_time_and_nothing_else_has_one(made):
    for step in made.steps:
        drips = any(f.name == "drips" for f in step.fields)  # measured once it only drips
        assert (step.timer_s > 0) == (step.kind == "timer" or drips), step.id
        assert not drips or step.kind == "measure"
        assert not step.calls or step.kind == "timer"


def test_a_step_that_starts_a_timer_stands_before_the_one_that_has_it(made):
    for step in made.steps:
        if step.starts:
            assert made.by_id[step.starts].timer_s > 0, step.id
            assert step.id in made.by_id[step.starts].needs, step.id
    for drain in (s for s in made.steps if block(s) == "drain" and not s.cycle and s.phase == "drain"):
        assert bool(drain.starts) == (made.job(drain.compartment).sheet.drain_method != "suction"), drain.id


def test_nothing_is_asked_that_the_compartment_cannot_have(made):
    drained = [j for j in made.jobs if j.kind_of_work != "top-up"]
    shifts = any(kind_of(j.sheet.kind).shifts for j in drained)
    for step in made.steps:
        names = {f.name for f in step.fields}
        if block(step) in ("feel", "drive", "warm"):
            assert ("shift" in names) == shifts, step.id
        if block(step) == "drive":
            assert ("shift" in step.task) == shifts, step.id
        if block(step) == "measure":
            assert not ("drops" in names and made.job(step.compartment).sheet.drain_method == "suction"), step.id
        if block(step) == "levelled":
            assert any(j.wants_floor for j in made.jobs)


def test_steps_follow_what_they_need(made):
    seen: set[str] = set()
    for step in made.steps:
        assert set(step.needs) <= seen, step.id
        assert step.needs or step.id == "ready", step.id
        assert step.id not in seen
        seen.add(step.id)


def test_the_signature_waits_for_all_that_is_asked_for(made):
    first = made.steps[-1]
    assert (first.id, first.kind) == ("sign", "sign")
    waited = before(made, "sign")
    for step in made.steps[:-1]:
        if step.required and block(step) != "stop":
            assert step.id in waited, step.id
        if block(step) in OPTIONAL and not step.gate:
            assert step.id not in made.by_id["sign"].needs or step.required, step.id


def test_nothing_is_opened_before_it_is_safe_and_nothing_filled_before_it_is_shut(made):
    for step in made.steps:
        first = before(made, step.id)
        key = step.compartment
        if step.opens_oil:
            assert {"ready", "safe", "kit"} <= first, step.id
            proof = f"prove.{key}"
            assert proof not in made.by_id or proof in first, step.id
        if block(step) == "prove":
            assert "clean round" in step.task
            assert f"clean.{key}" not in made.by_id
        if step.kind == "pour":
            drained = [s.id for s in made.steps if s.compartment == key and block(s) in ("shut", "shut2", "panshut") and not s.cycle]
            if not step.cycle and not made.job(key).flows:  # there the line is put back once it has flowed
                assert set(drained) <= first, step.id
            labels = [s.id for s in made.steps if s.compartment == key and block(s) == "oil" and s.cycle == step.cycle]
            assert not labels or set(labels) <= first, step.id
        if step.kind == "level":
            pours = {s.id for s in made.steps if s.compartment == key and s.kind == "pour" and not s.cycle}
            assert pours <= first, step.id
        if block(step) == "closefill":
            assert {s.id for s in made.steps if s.compartment == key and s.kind == "level"} <= first
        if block(step) in ("shut", "snug") and f"measure.{key}" in made.by_id and not made.job(key).flows:
            out = [
                s.id
                for s in made.steps
                if s.compartment == key and s.kind == "measure" and s.cycle == step.cycle and s.purpose == "measure"
            ]
            assert set(out) <= first or (step.cycle == 0 and step.phase == "exchange"), step.id
        if block(step) == "drive":
            assert {s.id for s in made.steps if block(s) == "closefill"} <= first, step.id
        if block(step) == "wipe":
            assert {s.id for s in made.steps if block(s) in ("closefill", "closelevel")} <= first


def test_what_moves_runs_and_opens_says_so(made):
    for step in made.steps:
        b = block(step)
        assert step.moves_vehicle == (b in ("warm", "drive")), step.id
        assert step.opens_oil == (b in ("drain", "open")), step.id
        engine = b in ("running", "sweep") or (b == "level" and f"running.{step.compartment}" in made.by_id)
        engine = engine or (b == "pour" and bool(step.compartment) and made.job(step.compartment).flows)
        assert step.runs_engine == engine or b in ("thermostat", "sweep"), step.id
        if step.opens_oil and f"off.{step.compartment}" in made.by_id and not step.cycle:
            assert f"off.{step.compartment}" in before(made, step.id)


def test_a_cycle_is_drained_measured_closed_poured_and_worked_through_in_that_order():
    made = guide(AUTOMATIC, work="exchange", cycles=3)
    for k in (1, 2):
        assert "look.0" in before(made, f"snug.0.{k}")
        order = [f"{b}.0.{k}" for b in ("off", "drain", "measure", "snug", "oil", "pour", "running", "sweep")]
        assert all(a in before(made, b) for a, b in itertools.pairwise(order))
        assert all(made.by_id[s].cycle == k for s in order)
    assert made.by_id["look.0"].needs == ("drain.0.1",)  # the first drain is the old oil
    assert "sweep.0.1" in before(made, "off.0.2")
    assert {"sweep.0.1", "sweep.0.2"} <= before(made, "drain.0")


def test_every_filler_of_a_visit_is_proven_before_any_drain_but_not_one_that_is_the_way_out():
    two = guide(BOX, TRUCK)
    assert {"prove.0", "prove.1"} <= before(two, "drain.0") & before(two, "drain.1")
    topup = guide(BOX, work="top-up")
    assert not [s for s in topup.steps if s.opens_oil and block(s) == "drain"]


def test_the_casing_code_is_read_first_only_where_the_amount_alone_decides():
    assert "variant.0" in guide_of("variant open, measured").by_id
    assert "variant.0" in before(guide_of("variant open, measured"), "drain.0")
    assert "variant.0" not in guide_of("variant open, to the lip").by_id
    named = {f.name: f.choices for f in guide_of("variant open, measured").by_id["variant.0"].fields}["variant"]
    assert {"short", "long"} <= set(named)


def test_which_plug_is_fitted_is_asked_only_where_torques_differ():
    heads = (Head("drain", "hex socket", 10, 30), Head("drain", "square", 12, 45))
    several = guide(replace(BOX, plugs=(FILL, replace(DRAIN, heads=heads))))
    head = next(f for f in several.by_id["shut.0"].fields if f.name == "head")
    assert (head.kind, len(head.choices), head.required) == ("choice", 3, False)  # two heads, and "cannot tell"
    assert "30 or 45" in several.by_id["shut.0"].title.replace("\N{NO-BREAK SPACE}", " ")
    assert "head" not in {f.name for f in guide(BOX).by_id["shut.0"].fields}
    words = guide(replace(BOX, plugs=(FILL, Plug("drain", "drain plug", "hex socket", 8, "crush washer", None, True))))
    assert "torque unknown" in words.by_id["shut.0"].title


def test_the_level_of_a_truck_is_its_own_figure_below_the_lip():
    assert any("20 mm below" in a.replace("\N{NO-BREAK SPACE}", " ") for a in guide(TRUCK).by_id["level.0"].advice)
    assert guide(BOX).by_id["level.0"].advice == ()


def test_a_flush_names_its_amount_and_its_fluid():
    step = guide(HUB, work="flush").by_id["flushin.0"]
    assert "25 mL" in step.title.replace("\N{NO-BREAK SPACE}", " ")
    assert "prove.0" in step.needs


def test_a_level_at_temperature_says_with_which_engine():
    title = {n: s.title for n, sheet in (("on", AUTOMATIC), ("off", guides.COUPLING)) for s in guide(sheet).steps if s.purpose == "level"}
    assert ("engine running" in title["on"], "engine off" in title["off"]) == (True, True)
    vague = guide(replace(AUTOMATIC, level=replace(AUTOMATIC.level, engine="")))
    assert any("engine as the maker says" in s.title for s in vague.steps if s.kind == "level")


def test_heads_of_one_torque_leave_nothing_to_ask():
    one = replace(DRAIN, heads=(Head("drain", "hex socket", 10, 30), Head("drain", "square", 12, 30), Head("drain", "bolt", 13, None)))
    assert torques_found(one) == ()
    assert torques_found(DRAIN) == ()
    assert torques_found(replace(one, heads=(*one.heads, Head("drain", "bolt", 17, 25)))) == (25, 30)
    assert plug_torque_words(one) == plug_torque_words(DRAIN)
