"""The state of a vehicle over its services: what is open, what runs, what stops it, and what each forbids. Common practice."""

import pytest

from barodex.core.quantity.errors import GateClosed, NeedsReason
from barodex.core.run.vehicle import BoxAt, Stop, VehicleState, forbidden, vehicle_state
from tests.core.guides import AUTOMATIC, BOX, TRUCK, Walk

CHIPS = Stop("Rear axle", "chips of a tooth")


def state_of(*walks, stops=()):
    return vehicle_state([(k, w.made, w.state) for k, w in enumerate(walks, 1)], stops)


def test_a_box_is_open_from_its_drain_to_the_closing_of_its_filler():
    walk = Walk(BOX, TRUCK)
    assert state_of(walk) == VehicleState()
    step = walk.to("drain.")
    assert state_of(walk).opened == ()
    walk.act(step.id, **walk.plain(step))
    key = step.compartment
    assert state_of(walk).opened == (BoxAt(1, key, f"Box {key}"),)
    step = walk.to(f"closefill.{key}")
    assert BoxAt(1, key, f"Box {key}") in state_of(walk).opened
    walk.act(step.id, **walk.plain(step))
    assert key not in {b.key for b in state_of(walk).opened}


def test_each_service_says_what_is_open_under_its_own_number():
    first, second = Walk(BOX), Walk(TRUCK)
    for walk in (first, second):
        walk.to("measure.")
    assert [(b.service, b.key) for b in state_of(first, second).opened] == [(1, "0"), (2, "0")]


def test_an_engine_runs_by_its_guide_once_the_gate_before_it_is_passed():
    walk = Walk(AUTOMATIC, work="change")
    step = walk.to("running.")
    assert state_of(walk).running == ()
    walk.act(step.id, **walk.plain(step))
    ((number, title),) = state_of(walk).running
    assert number == 1
    assert title == next(s.title for s in walk.made.steps if walk.state.steps[s.id].status == "open" and s.runs_engine)


def test_a_drive_runs_while_its_timer_does():
    walk = Walk(BOX)
    walk.to("warm")
    walk.act("warm", "timer_start")
    driven = state_of(walk)
    assert driven.running == ()  # a drive is no engine beside a drain: it moves
    assert [number for number, _ in driven.moving] == [1]
    assert driven.engine == "on"
    other = Walk(TRUCK)
    drain = next(s for s in other.made.steps if s.opens_oil)
    refused = forbidden(driven, drain, 2, reason="it is only round the yard", lead=True)
    assert isinstance(refused, GateClosed)  # no reason opens a drain of what is driven
    assert "driven now" in str(refused)
    walk.act("warm", "timer_stop")
    assert state_of(walk) == VehicleState()
    assert state_of(walk).engine == "off"


def test_hot_oil_and_the_selector_are_said_while_they_matter():
    walk = Walk(AUTOMATIC, work="change")
    step = walk.to("level.")
    for at in (66.0, 41.0):
        walk.act(step.id, "reading", temperature_c=at)
        assert [t for _, t in state_of(walk).hot] == ([at] if at > 60 else [])
    assert state_of(walk).selector == "P"
    assert any("selector in P" in s for s in state_of(walk).sentences)
    assert not state_of(walk).may_be_driven  # its oil is not closed in yet
    assert VehicleState().may_be_driven
    assert not VehicleState(stops=(CHIPS,)).may_be_driven


def test_what_a_look_finds_broken_stops_the_vehicle_once():
    walk = Walk(BOX)
    step = walk.to("look.")
    broken = {"magnet": "overflowing", "particles": [{"form": "part", "metal": "steel", "count": 1, "size_mm": 8}], "colour": "black"}
    walk.act(step.id, **(walk.plain(step) | {"finding": broken, "reason": "as seen"}))
    (stop,) = state_of(walk).stops
    assert stop.name == "Box 0"
    assert len(stop.what) > 10
    assert state_of(walk, stops=(stop, CHIPS)).stops == (stop, CHIPS)


DRIVE, RUN, DRAIN, SHUT = "drive", "running.0", "drain.0", "shut.0"
OPEN_HERE, OPEN_THERE = BoxAt(1, "0", "Gearbox"), BoxAt(2, "7", "Rear axle")


@pytest.mark.parametrize(
    ("state", "step", "who", "error", "words"),
    [
        (VehicleState(), DRIVE, {}, None, ""),
        (VehicleState(), RUN, {}, None, ""),
        (VehicleState(), DRAIN, {}, None, ""),
        (
            VehicleState(stops=(CHIPS,)),
            DRIVE,
            {"lead": True, "reason": "to the yard"},
            GateClosed,
            "must not be driven. Rear axle: chips of a tooth",
        ),
        (
            VehicleState(opened=(OPEN_THERE,)),
            DRIVE,
            {"lead": True, "reason": "to the yard"},
            GateClosed,
            "while Rear axle is without its oil",
        ),
        (VehicleState(opened=(OPEN_HERE,)), RUN, {}, None, ""),  # its own filler is open while it is filled with the engine on
        (VehicleState(opened=(OPEN_HERE, OPEN_THERE)), RUN, {}, GateClosed, "while Rear axle is without"),
        (VehicleState(opened=(BoxAt(2, "0", "Gearbox"),)), RUN, {}, GateClosed, "while Gearbox is without"),  # of another service
        (VehicleState(opened=(BoxAt(1, "7", "Rear axle"),)), RUN, {}, GateClosed, "while Rear axle is without"),  # another box of this one
        (VehicleState(stops=(CHIPS,)), RUN, {}, NeedsReason, "The lead alone"),
        (VehicleState(stops=(CHIPS,)), RUN, {"lead": True}, NeedsReason, "The lead alone"),
        (VehicleState(stops=(CHIPS,)), RUN, {"lead": True, "reason": " abc "}, NeedsReason, "The lead alone"),
        (VehicleState(stops=(CHIPS,)), RUN, {"reason": "to hear it"}, NeedsReason, "The lead alone"),
        (VehicleState(stops=(CHIPS,)), RUN, {"lead": True, "reason": "hear"}, None, ""),
        (VehicleState(running=((2, "Box 1: run it"),)), DRAIN, {}, NeedsReason, "the engine of this vehicle runs now (Box 1: run it)"),
        (VehicleState(running=((2, "Box 1: run it"),)), DRAIN, {"reason": "off!"}, None, ""),
        (VehicleState(running=((2, "Box 1: run it"),)), DRAIN, {"reason": "off"}, NeedsReason, "runs now"),
        (VehicleState(opened=(OPEN_THERE,), running=((2, "run"),), stops=(CHIPS,)), SHUT, {}, None, ""),  # closing mends
        (VehicleState(opened=(OPEN_THERE,), stops=(CHIPS,)), DRAIN, {}, None, ""),  # opening stays allowed against a stop
    ],
)
def test_what_it_forbids(state, step, who, error, words):
    found = forbidden(state, Walk(AUTOMATIC, work="change").made.by_id[step], 1, **who)
    assert type(found) is (error or type(None))
    if found is not None:
        assert words in found.message
        assert found.field in ("step", "reason")
        assert found.value == step


def test_it_says_all_of_it():
    said = VehicleState(opened=(OPEN_HERE,), running=((1, "run it"),), stops=(CHIPS,)).sentences
    assert said == (
        "Must not be driven. Rear axle: chips of a tooth",
        "Gearbox is without its oil or open: not driven, and no engine, until it is filled and closed.",
        "By its guide the engine runs now: run it.",
    )
    assert VehicleState().sentences == ()
