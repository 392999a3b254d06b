"""Oils side by side, and the gap report of a service."""

import datetime as dt
from dataclasses import replace

import pytest

from barodex.core.ledger.leak import LossPoint
from barodex.core.ledger.tried import Fill, compare_oils
from barodex.core.quantity.errors import OutOfRange
from barodex.core.run.gaps import GAP_KINDS, gap_report
from tests.core.guides import BOX, Walk

DAY = dt.date(2024, 3, 1)


def fill(oil, k, **more):
    return Fill(oil, DAY + dt.timedelta(days=400 * k), 400, more.pop("run", 10_000.0), more.pop("inside", False), **more)


def test_oils_are_summed_over_their_fills():
    told = compare_oils(
        [
            fill("Heavy", 0, shift_before=3, shift_after=2, level=2, loss=LossPoint(10_000.0, 60.0, 10.0)),
            fill("Light", 1, shift_after=4, level=1, loss=LossPoint(10_000.0, 20.0, 10.0)),
            fill("Light", 2, shift_after=5, noise_after=4, level=0, inside=True, run=5_000.0),
        ]
    )
    heavy, light = told.oils
    assert (light.fills, light.run, light.days, light.inside) == (2, 15_000, 800, True)
    assert (light.shift, heavy.shift, heavy.shift_gain) == (4.5, 2.0, -1.0)
    assert light.levels == (1, 0)
    # One loss of 60 mL over 10 000 km is 6 mL a 1 000 km, its sigma 10 mL is 1: by hand.
    assert (heavy.loss_rate, heavy.loss_within) == (pytest.approx(6), pytest.approx(2))
    assert light.loss_rate == pytest.approx(2)
    assert any(s.startswith("Shifting: Light (4.5 of 5) before Heavy (2.0)") for s in told.says)
    assert any(s.startswith("Debris: Light left less") for s in told.says)
    # 6 ± 1 against 2 ± 1: apart by 4, more than twice √2.
    assert "Loss: Light less than Heavy." in told.says
    assert any("proves little" in s for s in told.says)


def test_no_difference_is_said_as_such():
    told = compare_oils(
        [
            fill("A", 0, shift_after=4, loss=LossPoint(10_000.0, 30.0, 20.0)),
            fill("B", 1, shift_after=4, loss=LossPoint(10_000.0, 50.0, 20.0)),
        ]
    )
    assert "Shifting: no difference worth a name between A and B." in told.says
    assert "Loss: not to be told apart." in told.says


def test_nothing_is_said_of_one_oil_alone_or_of_none():
    assert compare_oils([fill("A", 0, shift_after=4)]).says == ()
    assert compare_oils([]).oils == ()


def test_an_impression_outside_its_steps_is_refused():
    with pytest.raises(OutOfRange, match="shift_after"):
        compare_oils([fill("A", 0, shift_after=6)])
    with pytest.raises(OutOfRange, match="level"):
        compare_oils([fill("A", 0, level=5)])


def texts(report, kind):
    return [g.text for g in report.lines if g.kind == kind]


def test_a_service_done_to_the_letter_leaves_only_what_was_passed():
    walk = Walk(BOX)
    walk.to()
    report = gap_report(walk.made, walk.state, True, True)
    assert not texts(report, "missing")
    assert not texts(report, "shortfall")
    assert report.done < report.steps
    assert {g.kind for g in report.lines} <= {"skipped", "reason"}
    assert any("no time to wait here" in t for t in texts(report, "reason")) or texts(report, "skipped")


def test_a_service_half_done_tells_what_is_not_known():
    walk = Walk(BOX)
    walk.to("measure")
    report = gap_report(walk.made, walk.state, False, False)
    missing = texts(report, "missing")
    assert "Box 0: what came out was not measured." in missing
    assert "Box 0: oil and magnet were not looked at." in missing
    assert "The meter was not read." in missing
    assert "The air's temperature was not noted." in missing
    assert "not measured" in report.text


def test_an_amount_off_its_target_stands_first():
    walk = Walk(replace(BOX, fill_method="measured"))
    step = walk.to("pour")
    walk.act(step.id, "add", volume_ml=1800)
    walk.act(step.id, **walk.plain(step), reason="the bottle was empty")
    report = gap_report(walk.made, walk.state, True, True)
    assert report.lines[0].kind == "shortfall"
    assert "200 mL less than the 2" in report.lines[0].text.replace("\N{NO-BREAK SPACE}", " ")
    assert [g.kind for g in report.lines] == sorted((g.kind for g in report.lines), key=list(GAP_KINDS).index)
