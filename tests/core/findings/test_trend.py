"""Trend, sisters and surprises: trade cases, common practice."""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.findings.finding import Finding, Particle
from barodex.core.findings.surprises import Reset, exposure_of, ran_over, returned_fault, too_clean
from barodex.core.findings.trend import Look, against_sisters, rises
from barodex.core.quantity.errors import OutOfRange

DAY = dt.date(2026, 3, 1)
PASTE = Particle("paste")


def look(level, run=40_000, magnet="film", particles=(PASTE,), colour="brown", where="x", months=0):
    return Look(DAY + dt.timedelta(days=30 * months), 10_000.0, run, Finding(magnet, particles, colour, "clear", "none"), level, where)


def rules(*looks):
    return [r.rule for r in rises(looks)]


def test_rising_glitter_is_called_out_by_form_and_by_number():
    few = (PASTE, Particle("glitter", "steel", 5, 0.2))
    many = (PASTE, Particle("glitter", "steel", 40, 0.2))
    assert "new-form" in rules(look(1), look(2, particles=few))
    assert "more" in rules(look(2, particles=few), look(2, particles=many))
    assert "larger" in rules(look(2, particles=few), look(2, particles=(PASTE, Particle("glitter", "steel", 5, 0.4))))


def test_a_rise_is_called_out_while_the_level_is_fair():
    found = rises([look(0, magnet="none"), look(1, magnet="film")])
    assert any("still fair" in r.text for r in found)
    assert "cover" in [r.rule for r in found]


def test_darker_counts_only_after_no_longer_a_run():
    assert "darker" in rules(look(1, colour="brown"), look(1, colour="black"))
    assert "darker" not in rules(look(1, run=20_000, colour="brown"), look(1, run=60_000, colour="black"))


def test_three_in_a_row_climb():
    assert "climbing" in rules(look(0), look(1), look(2))
    assert "climbing" not in rules(look(1), look(1), look(2))
    assert rules(look(2)) == []
    assert rules(look(1), look(1)) == []


@given(st.lists(st.integers(0, 4), min_size=2, max_size=6))
def test_a_compartment_that_does_not_get_worse_is_left_in_peace(levels):
    falling = sorted(levels, reverse=True)
    assert rules(*[look(v) for v in falling]) == []


def test_sisters_compare_at_a_like_run_only():
    sisters = [look(1, 38_000, where="a"), look(1, 45_000, where="b"), look(0, 30_000, where="b"), look(4, 200_000, where="c")]
    found = against_sisters(2, 40_000, sisters)
    assert (found.looks, found.places, found.low, found.high) == (3, 2, 0, 1)
    assert found.mean_level == pytest.approx(2 / 3)
    assert found.above
    assert "more than its sisters" in found.text
    assert not against_sisters(1, 40_000, sisters).above
    one = against_sisters(3, 40_000, sisters[:1])
    assert one.text.startswith("1 look into 1 sister compartment at")
    assert not one.above, "one look is too few to call it more"
    assert against_sisters(1, 40_000, sisters[3:]) is None
    assert against_sisters(1, None, sisters) is None
    with pytest.raises(OutOfRange):
        against_sisters(1, -1, sisters)


def test_oil_that_is_too_clean():
    assert too_clean("fresh", None, False).rule == "clean-no-record"
    assert too_clean("fresh", 45_000, True).rule == "clean-too-long"
    assert too_clean("fresh", 900, True) is None
    assert too_clean("brown", 45_000, False) is None
    assert too_clean(None, None, False) is None
    assert too_clean("fresh", 150, True, "h").rule == "clean-too-long"


def test_oil_over_the_plug_on_opening():
    found = ran_over("over the lip, it ran out", 120)
    assert found.rule == "over-the-plug"
    assert "120 mL" in found.text
    assert "level" in found.causes[0]
    assert ran_over("at the lip", 5) is None
    assert ran_over("", 80, reset_level=True).causes[2].startswith("It was set on a slope")


def test_a_fault_that_returns_after_a_reset():
    first = Reset(dt.date(2024, 3, 1), ("wear counter",), "wear counter 38", "wear counter 0, clutch adaptation 0")
    later = Reset(dt.date(2026, 3, 1), ("wear counter",), "wear counter 21, clutch adaptation 0", "wear counter 0")
    found = returned_fault([first, later])
    assert found.rule == "fault-returned"
    assert "21" in found.text
    assert "Wear" in found.causes[0]
    assert returned_fault([first]) is None
    assert returned_fault([first, Reset(dt.date(2026, 3, 1), (), "wear counter 0", "wear counter 0")]) is None
    stuck = Reset(dt.date(2026, 3, 1), ("wear counter",), "wear counter 38", "wear counter 38")
    assert returned_fault([stuck]).rule == "reset-without-effect"
    assert returned_fault([Reset(dt.date(2026, 3, 1), (), "nothing noted", "")]) is None


def test_exposure_says_what_to_look_for():
    past = exposure_of("Corrie 80W-90", DAY, DAY + dt.timedelta(days=110), 3_400, ["yellow-metal"], "GL-5 on brass")
    assert past.look_for[0].startswith("Yellow flecks")
    assert "2 000 km" in past.follow_up
    inside = exposure_of("Corrie 80W-90", DAY, None, None, ["something"], "not as asked", "h")
    assert "Take it out now" in inside.follow_up
    assert inside.look_for
