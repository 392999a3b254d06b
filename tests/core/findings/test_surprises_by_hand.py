"""What is odd, and how a look compares with those into sister compartments, by hand. Thresholds: common practice."""

import datetime as dt

import pytest

from barodex.core.findings.finding import Finding, Particle
from barodex.core.findings.surprises import Reset, exposure_of, ran_over, returned_fault, too_clean
from barodex.core.findings.trend import Look, against_sisters, rises
from barodex.core.quantity.errors import OutOfRange

ON = dt.date(2026, 5, 3)


@pytest.mark.parametrize(
    ("colour", "run", "recorded", "meter", "rule"),
    [
        ("darker", 90_000, True, "km", None),
        (None, 90_000, True, "km", None),
        ("fresh", None, False, "km", "clean-no-record"),
        ("fresh", 20_000, True, "km", None),
        ("fresh", 20_001, True, "km", "clean-too-long"),
        ("fresh", None, True, "km", None),
        ("fresh", 100, True, "h", None),
        ("fresh", 101, True, "h", "clean-too-long"),
    ],
)
def test_oil_that_is_too_clean(colour, run, recorded, meter, rule):
    found = too_clean(colour, run, recorded, meter)
    assert (found and found.rule) == rule
    if found and run:
        assert f"{meter}." in found.text


@pytest.mark.parametrize(
    ("stood", "ran", "odd"),
    [
        ("at the lip", None, False),
        ("at the lip", 19.9, False),
        ("at the lip", 20, True),
        ("Over the lip", None, True),
        ("it ran out", 5, True),
        ("Ran out at once", 0, True),
        ("below", 0, False),
    ],
)
def test_oil_that_runs_out_on_opening(stood, ran, odd):
    assert (ran_over(stood, ran) is not None) is odd


def test_what_lies_behind_it_depends_on_who_set_the_level():
    assert "overfilled" in ran_over("over", 250).causes[2]
    assert "on a slope" in ran_over("over", 250, reset_level=True).causes[2]
    assert ran_over("over", 250).text == "Oil 250 mL ran out on opening."
    assert ran_over("over", None).text == "Oil ran out on opening."
    with pytest.raises(OutOfRange):
        ran_over("level", -1)


def reset(day, before, after):
    return Reset(ON + dt.timedelta(days=day), ("counter",), before, after)


@pytest.mark.parametrize(
    ("resets", "rule", "words"),
    [
        ((reset(0, "wear counter 12", "wear counter 0"),), None, ""),
        ((reset(0, "wear counter 12", "wear counter 12"),), "reset-without-effect", "wear counter is 12"),
        ((reset(0, "wear counter 12", "wear counter 11"),), None, ""),  # it went down
        ((reset(0, "no figure", "wear counter 5"),), None, ""),  # what it was before is not known
        (
            (reset(0, "wear counter 12", "wear counter 0"), reset(90, "wear counter 3", "wear counter 0")),
            "fault-returned",
            "stood at 3 on 1 August",
        ),
        ((reset(0, "slip: 1,5; adaptation 7", "slip: 0; adaptation 7"), reset(9, "slip 0", "slip 0")), None, ""),
        ((reset(0, "a 4", "a 4"), reset(9, "a 4", "a 0")), None, ""),  # stuck once, but not the last time
    ],
)
def test_a_value_that_is_back_after_its_reset(resets, rule, words):
    found = returned_fault(resets)
    assert (found and found.rule) == rule
    assert words in (found.text if found else "")


def test_decimals_are_read_with_comma_and_point():
    found = returned_fault((reset(0, "slip 1,5", "slip 1.5"),))
    assert found.text == "slip is 1.5 after the reset, as before."


def test_a_time_on_a_wrong_oil():
    gone = exposure_of("ATF", ON, ON, 1500.0, ("friction", "cold"), "no modifier", "h")
    assert gone.look_for == ("Chatter in tight turns", "Dark fibres of the plates", "Stiff shifting when cold, starved bearings")
    assert gone.follow_up.startswith("Sample after 40 h")
    assert exposure_of("ATF", ON, ON, 1500.0, (), "x").follow_up.startswith("Sample after 2 000 km")
    inside = exposure_of("ATF", ON, None, None, ("none of these",), "x")
    assert (inside.look_for, inside.follow_up) == (
        ("More paste than before, darker oil",),
        "Take it out now, rinse, and halve the interval.",
    )
    with pytest.raises(OutOfRange):
        exposure_of("ATF", ON, None, -1.0, (), "x")


def look(run, level, where="a", finding=None, day=0):
    return Look(ON + dt.timedelta(days=day), None, run, finding or Finding(), level, where)


def test_sisters_count_when_their_oil_ran_half_to_one_and_a_half_times_as_far():
    near = (look(5000, 1, "a"), look(15_000, 0, "b"), look(4999, 4, "c"), look(15_001, 4, "d"), look(10_000, None, "e"), look(None, 4, "f"))
    found = against_sisters(1, 10_000, near)
    assert (found.mean_level, found.low, found.high, found.looks, found.places) == (0.5, 0, 1, 2, 2)
    assert not found.above
    assert found.working.source == "common practice"
    assert against_sisters(1, 10_000, near[2:]) is None
    assert against_sisters(1, None, near) is None
    assert against_sisters(1, 0, near) is None


@pytest.mark.parametrize(("level", "looks", "above"), [(2, 2, True), (1, 2, False), (2, 1, False), (None, 2, False), (3, 3, True)])
def test_one_shows_more_than_its_sisters_from_a_whole_level_and_two_looks_on(level, looks, above):
    found = against_sisters(level, 10_000, [look(10_000, 1, "a") for _ in range(looks)], "h")
    assert found.above is above
    assert ("more than its sisters" in found.text) is above
    assert ("looks" in found.text, "compartments" in found.text, " h:" in found.text) == (looks > 1, False, True)


def grew(before, now, run=(10_000, 10_000)):
    return {r.rule: r for r in rises((look(run[0], 1, finding=before), look(run[1], 1, finding=now, day=90)))}


@pytest.mark.parametrize(
    ("before", "now", "rule"),
    [
        (Finding(magnet="film"), Finding(magnet="cap"), "cover"),
        (Finding(particles=()), Finding(particles=(Particle("chip", "steel", 1, 3.0),)), "new-form"),
        (Finding(particles=(Particle("chip", "steel", 1, 2.0),)), Finding(particles=(Particle("chip", "steel", 1, 3.0),)), "larger"),
        (Finding(particles=(Particle("chip", "steel", 2, 2.0),)), Finding(particles=(Particle("chip", "steel", 5, 2.0),)), "more"),
        (Finding(colour="darker"), Finding(colour="brown"), "darker"),
    ],
)
def test_what_grew_since_the_look_before(before, now, rule):
    assert {k: r.looks for k, r in grew(before, now).items()} == {rule: 2}
    assert grew(now, now) == {}


def test_levels_that_climb_are_told_with_how_often():
    up = rises([look(10_000, n, day=n) for n in (1, 2, 3)])
    assert [(r.rule, r.looks) for r in up] == [("level", 2), ("climbing", 3)]
    assert (up[0].text.startswith("Up from 2"), "2 times" in up[1].text) == (True, True)
    assert [r.rule for r in rises([look(1, n) for n in (3, 1, 2)])] == ["level"]
    assert rises([look(1, n) for n in (2, 2)]) == ()
    assert "still fair" in rises([look(1, n) for n in (0, 1)])[0].text
    assert rises([look(1, 3)]) == ()


def test_twice_as_many_is_not_yet_more_and_a_longer_run_darkens():
    two, four = (Finding(particles=(Particle("chip", "steel", n, 2.0),)) for n in (2, 4))
    assert grew(two, four) == {}
    assert grew(Finding(colour="darker"), Finding(colour="brown"), (10_000, 11_000)) != {}
    assert grew(Finding(colour="darker"), Finding(colour="brown"), (10_000, 11_001)) == {}
    assert "clean before" in grew(Finding(magnet="none"), Finding(magnet="film"))["cover"].text
