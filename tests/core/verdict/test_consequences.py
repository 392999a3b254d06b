"""What follows from what was seen: every figure from one list, caps before looks, never two tongues, and monotone in what was seen.

Figures: common practice, as the judgement page of the design states them.
"""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.interval import Limits
from barodex.core.findings.debris import assess
from barodex.core.findings.finding import CLARITIES, COLOURS, FORMS, MAGNETS, METALS, SMELLS, WET, DebrisContext, Finding, Particle
from barodex.core.findings.surprises import ran_over, too_clean
from barodex.core.ledger.bands import Run
from barodex.core.ledger.drained import Amount, judged_outside, loss_since_last_fill
from barodex.core.ledger.leak import LossPoint, days_until_low, loss_rate
from barodex.core.quantity.errors import OutOfRange
from barodex.core.verdict.consequences import CONSEQUENCE_KINDS, Again, Bad, Consequence, Seen, consequence_text, consequences, held_by

ON = dt.date(2026, 5, 31)
LONG, SHORT = Limits({"road": 60_000.0}, None, 60), Limits({"road": 60_000.0}, None, 60)
FAIR = Finding("film", (), "brown", "clear", "none")


def seen(finding=None, kind="manual gearbox", **more):
    more = {"on": ON, "meter": "km", "limits": LONG, "limits_short": SHORT, **more}
    return Seen(assessment=None if finding is None else assess(finding, DebrisContext(kind, 40_000)), **more)


def lost(out_ml, run=None, wet=""):
    return judged_outside(
        loss_since_last_fill(Amount(1800, 15, 10), (), Amount(out_ml, 15, 25), 1850, distance_km=20_000, run=run or Run(1 / 3, 1 / 60)), wet
    )


def said(found):
    return [(c.kind, c.code) for c in found]


def test_a_fair_look_asks_nothing():
    assert consequences(seen(FAIR)) == ()


def test_milky_is_changed_again_by_the_cap_and_its_entry_is_a_repair_before_it():
    found = consequences(seen(Finding("film", (), "brown", "milky", "none")))
    assert said(found) == [("repair", "water"), ("due-cap", "finding"), ("due-cap", "water")]
    repair, _, cap = found
    assert (repair.run, repair.days) == (cap.run, cap.days) == (500.0, 30)
    (by_hours, _, _) = consequences(seen(Finding("film", (), "brown", "milky", "none"), meter="h"))
    assert (by_hours.run, by_hours.days) == (10.0, 30)


def test_milky_oil_in_linings_is_a_stop_until_the_entry_is_found():
    found = consequences(seen(Finding(None, (), "brown", "milky", "none"), "automatic"))
    assert found[0].kind == "stop"
    assert ("repair", "water") in said(found)


@pytest.mark.parametrize(
    ("finding", "level_factor", "run", "days"),
    [
        # Level 2: the lesser of 5 000 km and a quarter of 60 000 km, or three months: 31 May to 31 August is 92 days.
        (Finding("whiskers", (), "brown", "clear", "none"), 0.5, 5000.0, 92),
        # Level 3: a fifth of a quarter of 60 000 km, or a month: 31 May to 30 June.
        (Finding("film", (Particle("flake", "steel", 4, 1.5),), "brown", "clear", "none"), 0.25, 3000.0, 30),
    ],
)
def test_what_is_to_be_watched_shortens_the_interval_and_is_looked_at_again(finding, level_factor, run, days):
    cap, look = consequences(seen(finding))
    assert (cap.kind, cap.factor) == ("due-cap", level_factor)
    assert (look.kind, look.run, look.days) == ("look-again", run, days)
    assert consequence_text(look.kind, look.code, look.params).startswith("Look again: ")


def test_a_repair_is_wanted_before_the_low_mark_at_the_rate_of_the_loss_at_its_worst():
    """20 000 km lost 400 mL of 1 850, σ √(10² + 25²); 15 % is 277.5 mL. At its 90 % quantile (z = 1.2816, tables of the normal distribution)
    the loss is 434.5 mL: the low mark after 20 000 · 277.5 / 434.5 km, where the trend has its earliest."""
    loss = lost(1400)
    assert loss.band == "repair"
    (repair,) = consequences(seen(loss=loss, capacity_ml=1850.0, ran=20_000.0, ran_days=600))
    sigma = (10**2 + 25**2) ** 0.5
    assert repair.run == pytest.approx(20_000 * 0.15 * 1850 / (400 + 1.2816 * sigma), rel=1e-4)
    assert repair.days is None  # the day follows from the use
    rate = loss_rate([LossPoint(20_000.0, loss.loss_ml, loss.sigma_ml)])
    assert repair.run == pytest.approx(days_until_low(1850, rate.rate, rate.sigma, 40.0).run[0])
    (by_days,) = consequences(seen(loss=loss, capacity_ml=1850.0, ran_days=600))
    assert by_days.days == int(600 * 0.15 * 1850 / (400 + 1.2816 * sigma))
    (now,) = consequences(seen(loss=loss, capacity_ml=1850.0))
    assert (now.kind, now.run, now.days) == ("repair", 0.0, 0)  # how far it ran is not known: at once


def test_a_leak_is_looked_at_half_way_a_short_run_soon_and_oil_at_a_brake_stops():
    (leak,) = consequences(seen(loss=lost(1650, Run(1.0, 1 / 60)), capacity_ml=1850.0, ran=60_000.0))
    assert (leak.kind, leak.code, leak.run) == ("look-again", "leak", 30_000.0)
    (short,) = consequences(seen(loss=lost(1650, Run(0.001, 1 / 60)), capacity_ml=1850.0, ran=60.0))
    assert (short.kind, short.code, short.run, short.days) == ("look-again", "loss-short", 1000.0, 30)
    assert said(consequences(seen(loss=lost(1700, wet="brake")))) == [("stop", "reaches")]
    both = consequences(seen(Finding("film", (), "brown", "clear", "none", wet="brake"), loss=lost(1700, wet="brake")))
    assert [c.kind for c in both].count("stop") == 1


def test_what_the_work_itself_leaves():
    found = consequences(
        seen(
            agains=(Again("first-drives", 7, 200.0),),
            old_oil_stayed=True,
            wrong_oil=True,
            failed=(("Adaptation", "supply low"),),
            returned=(("Wear counter", 14.0),),
            bad=(Bad("Breather moves freely", "blocked with mud"),),
            override=("Heavy 80W-90", "nothing else within 300 km"),
            variant="long case",
        )
    )
    assert held_by(c for c in found if c.kind == "due-cap").factor == 0.25
    assert [c.kind for c in found] == sorted((c.kind for c in found), key=CONSEQUENCE_KINDS.index)
    texts = [consequence_text(c.kind, c.code, c.params) for c in found]
    assert "Breather moves freely: bad. blocked with mud" in texts
    assert "Wear counter was reset and is back at 14: measure the wear, do not reset it again" in texts
    assert next(c for c in found if c.code == "oil-override").run == 30_000.0  # half of the interval
    assert not any(t.endswith(".") for t in texts)


def test_a_stop_that_is_over_forbids_nothing():
    params = {"because": "A chip of 3 mm: something has broken."}
    assert consequence_text("stop", "finding", params) == "Stop, do not drive: A chip of 3 mm: something has broken"
    assert "do not drive" not in consequence_text("stop", "finding", params, closed=True)


def test_caps_together_are_the_shortest_of_each():
    assert held_by(()).factor == 1.0
    one, other = Consequence("due-cap", "water", run=500.0, days=30), Consequence("due-cap", "finding", run=900.0, factor=0.25)
    held = held_by((one, other))
    assert (held.factor, held.run, held.days) == (0.25, 500.0, 30)
    assert held_by([Consequence("due-cap", "finding", factor=0.0)]).factor == 0.01  # never none at all


def test_what_cannot_be_is_refused():
    with pytest.raises(OutOfRange):
        consequences(seen(ran=-1.0))
    with pytest.raises(OutOfRange):
        consequences(seen(capacity_ml=0.0))


# --- over all that a service can show -------------------------------------------------------------------------------------

particles = st.builds(Particle, st.sampled_from(FORMS), st.sampled_from(METALS), st.integers(1, 60), st.floats(0.05, 12))
findings = st.builds(
    Finding,
    st.none() | st.sampled_from(MAGNETS),
    st.none() | st.lists(particles, max_size=3).map(tuple),
    st.none() | st.sampled_from(COLOURS),
    st.none() | st.sampled_from(CLARITIES),
    st.none() | st.sampled_from(SMELLS),
    wet=st.none() | st.sampled_from(WET),
)
everything = st.builds(
    lambda finding, kind, past, out, wet, agains, stayed, wrong, meter: Seen(
        on=ON,
        meter=meter,
        limits=LONG if meter == "km" else Limits({}, 400.0, 12),
        limits_short=SHORT if meter == "km" else Limits({}, 400.0, 12),
        assessment=assess(finding, DebrisContext(kind, 40_000, previous_level=past)),
        loss=None if out is None else lost(out, wet=wet),
        capacity_ml=1850.0,
        ran=20_000.0,
        ran_days=600,
        agains=agains,
        old_oil_stayed=stayed,
        wrong_oil=wrong,
    ),
    findings,
    st.sampled_from(["manual gearbox", "axle", "automatic"]),
    st.none() | st.integers(0, 4),
    st.none() | st.floats(600, 1900),
    st.sampled_from(["", "dry", "brake", "seal or flange"]),
    st.sampled_from([(), (Again("first-drives", 7, 200.0),), (Again("topped-up", 30, 1000.0),)]),
    st.booleans(),
    st.booleans(),
    st.sampled_from(["km", "h"]),
)


@given(everything)
def test_no_look_lies_after_the_change_that_is_asked_for(shown):
    found = consequences(shown)
    cap = held_by(c for c in found if c.kind == "due-cap")
    for c in found:
        if c.kind in ("look-again", "repair"):
            assert cap.run is None or (c.run is not None and c.run <= cap.run)
            assert cap.days is None or (c.days is not None and c.days <= cap.days)


@given(everything)
def test_each_says_itself_and_stands_once(shown):
    found = consequences(shown)
    assert len({(c.kind, c.code) for c in found}) == len(found)
    assert all(consequence_text(c.kind, c.code, c.params) for c in found)
    assert [CONSEQUENCE_KINDS.index(c.kind) for c in found] == sorted(CONSEQUENCE_KINDS.index(c.kind) for c in found)


@given(everything)
def test_a_grave_level_or_loss_is_never_without_its_consequence(shown):
    kinds = {c.kind for c in consequences(shown)}
    level = shown.assessment.level
    if level == 4 or (shown.loss and shown.loss.band == "stop"):
        assert "stop" in kinds
    if shown.loss and shown.loss.band == "repair":
        assert "repair" in kinds
    if level in (2, 3):
        assert kinds & {"look-again", "repair"}


@given(findings, st.sampled_from([None, 0, 1, 2, 3, 4]), st.sampled_from([None, 0, 1, 2, 3, 4]))
def test_a_worse_past_never_gives_a_longer_interval_or_a_milder_kind(finding, one, other):
    better, worse = sorted((one, other), key=lambda v: -1 if v is None else v)
    found = []
    for past in (better, worse):
        judged = assess(finding, DebrisContext("axle", 40_000, previous_level=past))
        found.append(consequences(Seen(ON, "km", LONG, SHORT, assessment=judged)))
    mild, grave = found
    assert held_by(c for c in grave if c.kind == "due-cap").factor <= held_by(c for c in mild if c.kind == "due-cap").factor
    assert ("stop" in {c.kind for c in mild}) <= ("stop" in {c.kind for c in grave})


@given(findings, st.sampled_from(range(len(MAGNETS))), st.sampled_from(range(len(MAGNETS))))
def test_a_worse_magnet_never_gives_a_longer_interval_or_a_later_look(finding, one, other):
    found = []
    for k in sorted((one, other)):
        worse = Finding(MAGNETS[k], finding.particles, finding.colour, finding.clarity, finding.smell, wet=finding.wet)
        found.append(consequences(seen(worse)))
    mild, grave = found
    assert held_by(c for c in grave if c.kind == "due-cap").factor <= held_by(c for c in mild if c.kind == "due-cap").factor
    looks = [min((c.run for c in f if c.run is not None), default=float("inf")) for f in found]
    assert looks[1] <= looks[0]


def test_what_is_odd_is_asked_and_what_was_found_is_offered():
    clean = too_clean("fresh", 25_000, True)
    found = consequences(seen(FAIR, odd=(clean,), ran_low=True, took_ml=1700.0))
    assert said(found) == [("ask", "clean-too-long"), ("ask", "ran-low"), ("adopt", "capacity")]
    assert consequence_text("ask", "clean-too-long", found[0].params) == f"{clean.text} {clean.do}".rstrip(".")


def test_every_question_that_the_core_asks_of_a_fill_has_its_words():
    for surprise in (too_clean("fresh", None, False), too_clean("fresh", 30_000, True), ran_over("it ran over", 50)):
        (asked,) = consequences(seen(odd=(surprise,)))
        assert surprise.text in consequence_text(asked.kind, asked.code, asked.params)
