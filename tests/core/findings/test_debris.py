"""What came out, judged. The table of cases is common practice; monotony is a property."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.findings.asked import questions
from barodex.core.findings.debris import RULES, assess
from barodex.core.findings.finding import CLARITIES, COLOURS, FORMS, MAGNETS, METALS, SMELLS, DebrisContext, Finding, Particle
from barodex.core.ledger.draining import drop_rate
from barodex.core.quantity.errors import Inconsistent, OutOfRange

GEARBOX = DebrisContext("manual gearbox", 50_000, yellow_metal=True, magnet_fitted=True)
PASTE = Particle("paste")

CASES = [
    ("clean magnet, clear oil", Finding("none", (), "fresh", "clear", "none"), GEARBOX, 0),
    ("fine paste at 50 000 km", Finding("cap", (PASTE,), "brown", "clear", "none"), GEARBOX, 1),
    ("a cap after 6 000 km", Finding("cap", (PASTE,), "darker", "clear", "none"), DebrisContext("axle", 6_000), 2),
    ("first change, full of fuzz", Finding("cap", (PASTE,), "brown", "clear", "none"), DebrisContext("axle", 6_000, first_change=True), 1),
    (
        "first change, overflowing",
        Finding("overflowing", (PASTE,), "brown", "clear", "none"),
        DebrisContext("axle", 6_000, first_change=True),
        2,
    ),
    ("whiskers", Finding("whiskers", (PASTE,), "brown", "clear", "none"), GEARBOX, 2),
    ("gold flecks in a synchro box", Finding("film", (Particle("glitter", "yellow", 4, 0.2),), "brown", "clear", "none"), GEARBOX, 2),
    ("many gold flecks", Finding("film", (Particle("glitter", "yellow", 40, 0.2),), "brown", "clear", "none"), GEARBOX, 3),
    ("a tooth corner", Finding("cap", (Particle("part", "steel", 1, 6),), "dark brown", "clear", "none"), GEARBOX, 4),
    ("a chip of 2 mm", Finding(None, (Particle("chip", "steel", 1, 2.0),), None, None, None), GEARBOX, 4),
    ("milky axle", Finding("film", (), "darker", "milky", "none"), DebrisContext("axle", 30_000), 3),
    ("milky automatic", Finding("film", (), "darker", "milky", "none"), DebrisContext("automatic", 30_000), 4),
    ("milky marine gearbox", Finding(None, (), "darker", "milky", None), DebrisContext("marine gearbox"), 4),
    ("glitter by lamp", Finding("film", (Particle("glitter"),), "brown", "clear", "none"), GEARBOX, 2),
    ("two short needles", Finding("film", (Particle("sliver", "steel", 2, 1.0),), "brown", "clear", "none"), GEARBOX, 2),
    ("a long needle", Finding("film", (Particle("sliver", "steel", 1, 3.0),), "brown", "clear", "none"), GEARBOX, 3),
    ("several flakes", Finding("film", (Particle("flake", "steel", 5, 0.6),), "brown", "clear", "none"), GEARBOX, 3),
    ("silver, not magnetic", Finding("none", (Particle("flake", "aluminium", 1, 0.3),), "brown", "clear", "none"), GEARBOX, 3),
    ("fibres in a gear-only box", Finding("film", (Particle("paste", "friction lining", 1, 0.2),), "brown", "clear", "none"), GEARBOX, 3),
    (
        "a haze of fibres in an automatic",
        Finding("film", (Particle("paste", "friction lining", 1, 0.2),), "brown", "clear", "none"),
        DebrisContext("automatic", 40_000),
        1,
    ),
    ("oil on a brake", Finding("film", (PASTE,), "brown", "clear", "none", wet="brake"), DebrisContext("axle", 40_000), 4),
    ("wet at a seal", Finding("film", (PASTE,), "brown", "clear", "none", wet="seal or flange"), DebrisContext("axle", 40_000), 1),
    ("burnt", Finding("film", (PASTE,), "dark brown", "clear", "burnt"), GEARBOX, 2),
    ("seal crumbs", Finding("film", (Particle("flake", "seal", 1, 0.4),), "brown", "clear", "none"), GEARBOX, 2),
]


@pytest.mark.parametrize(("words", "finding", "context", "level"), CASES, ids=[c[0] for c in CASES])
def test_trade_cases(words, finding, context, level):
    found = assess(finding, context)
    assert found.level == level
    assert found.reasons[0].level == level
    assert found.actions or found.look


def test_nothing_looked_at_is_not_clean():
    found = assess(Finding(), GEARBOX)
    assert found.level is None
    assert set(found.not_looked_at) == {"magnet", "particles", "colour", "clarity", "smell"}


def test_a_box_without_a_magnet_does_not_miss_one():
    assert "magnet" not in assess(Finding(colour="brown"), DebrisContext("axle", magnet_fitted=False)).not_looked_at


def test_a_rise_shortens_one_step_further():
    before = Finding("film", (PASTE,), "brown", "clear", "none")
    now = Finding("cap", (PASTE,), "brown", "clear", "none")
    assert assess(now, GEARBOX).interval_factor == 1
    rising = assess(now, DebrisContext("manual gearbox", 50_000, previous=before, previous_level=1))
    assert (rising.level, rising.interval_factor, rising.rise) == (1, 0.75, True)


def test_a_second_watch_with_a_rise_is_to_be_investigated():
    before = Finding("whiskers", (PASTE,), "brown", "clear", "none")
    now = Finding("overflowing", (PASTE,), "brown", "clear", "none")
    assert assess(now, DebrisContext("axle", 50_000, previous=before, previous_level=2)).level == 3


def test_glitter_that_comes_again_is_to_be_investigated():
    glitter = Finding("film", (Particle("glitter"),), "brown", "clear", "none")
    assert assess(glitter, DebrisContext("axle", 50_000, previous=glitter, previous_level=2)).level == 3


def test_a_fair_look_after_a_watched_one_restores_three_quarters():
    fair = Finding("film", (PASTE,), "brown", "clear", "none")
    before = Finding("whiskers", (PASTE,), "brown", "clear", "none")
    assert assess(fair, DebrisContext("axle", 50_000, previous=before, previous_level=2)).interval_factor == 0.75


def said(**more):
    return Finding(**{"magnet": "film", "particles": (), "colour": "brown", "clarity": "clear", "smell": "none", **more})


# What the revised table of common practice says; each line was judged otherwise before.
TABLE = [
    ("hazy, no last look", said(clarity="hazy"), {}, 2),
    ("hazy, clear last time", said(clarity="hazy"), {"previous": said()}, 2),
    ("hazy, as last time", said(clarity="hazy"), {"previous": said(clarity="hazy")}, 1),
    ("many yellow flecks where none should be", said(particles=(Particle("glitter", "yellow", 30, 0.2),)), {"yellow_metal": False}, 3),
    ("a few yellow flecks where none should be", said(particles=(Particle("glitter", "yellow", 4, 0.2),)), {"yellow_metal": False}, 2),
    ("clumps of lining in a limited-slip axle", said(particles=(Particle("flake", "friction lining", 1, 0.8),)), {"clutches": True}, 2),
    ("clumps of lining in a plain axle", said(particles=(Particle("flake", "friction lining", 1, 0.8),)), {}, 3),
    ("a flake of 50 mm", said(particles=(Particle("flake", "steel", 1, 50.0),)), {}, 4),
    ("a flake of 9.9 mm", said(particles=(Particle("flake", "steel", 1, 9.9),)), {}, 3),
    ("a flake of 10 mm", said(particles=(Particle("flake", "steel", 1, 10.0),)), {}, 4),
    ("a paste of 50 mm", said(particles=(Particle("paste", "steel", 1, 50.0),)), {}, 4),
    ("a strip of seal of 60 mm", said(particles=(Particle("sliver", "seal", 1, 60.0),)), {}, 2),
    ("whiskers at the first change", said(magnet="whiskers"), {"first_change": True}, 2),
    ("a sliver of exactly 2 mm", said(particles=(Particle("sliver", "steel", 1, 2.0),)), {}, 3),
    ("a watch after level 3, with a rise", said(magnet="whiskers"), {"previous": said(), "previous_level": 3}, 3),
    ("a watch after level 4, with a rise", said(magnet="whiskers"), {"previous": said(), "previous_level": 4}, 3),
]


@pytest.mark.parametrize(("words", "finding", "more", "level"), TABLE, ids=[c[0] for c in TABLE])
def test_the_table_as_revised(words, finding, more, level):
    assert assess(finding, DebrisContext(**{"kind": "axle", "distance_km": 50_000, **more})).level == level


def test_a_paste_too_coarse_is_asked_about():
    asked = assess(said(particles=(Particle("paste", "steel", 1, 50.0),)), DebrisContext("axle", 50_000)).questions
    assert [q.rule for q in asked] == ["coarse-paste"]


@pytest.mark.parametrize(
    ("past", "factor"),
    [((), 1), ((2,), 0.75), ((1, 2), 1), ((3,), 0.5), ((1, 3), 0.75), ((1, 1, 3), 1), ((4,), 0.5), ((2, 3), 0.5), ((1, 2, 3), 0.75)],
)
def test_a_fair_look_gives_the_interval_back_step_by_step(past, factor):
    # Common practice: after a 2 three quarters, then the whole; after a 3 or 4 a half, three quarters, then the whole.
    context = DebrisContext("axle", 50_000, previous_level=past[0] if past else None, older_levels=past[1:])
    assert assess(said(), context).interval_factor == factor


def test_milky_oil_has_a_day_and_a_meter_by_which_it_is_changed_again():
    judged = assess(said(clarity="milky"), DebrisContext("axle", 50_000))
    assert (judged.cap.km, judged.cap.hours, judged.cap.days) == (500, 10, 30)
    assert assess(said(), DebrisContext("axle", 50_000)).cap is None
    assert assess(said(clarity="milky"), DebrisContext("automatic", 50_000)).cap == judged.cap


particles = st.builds(Particle, st.sampled_from(FORMS), st.sampled_from(METALS), st.integers(1, 60), st.floats(0.05, 12))
findings = st.builds(
    Finding,
    st.none() | st.sampled_from(MAGNETS),
    st.none() | st.lists(particles, max_size=4).map(tuple),
    st.none() | st.sampled_from(COLOURS),
    st.none() | st.sampled_from(CLARITIES),
    st.none() | st.sampled_from(SMELLS),
)
contexts = st.builds(
    DebrisContext,
    st.sampled_from(["manual gearbox", "axle", "automatic", "marine gearbox", "transfer case"]),
    st.none() | st.floats(0, 200_000),
    st.booleans(),
    st.none() | st.booleans(),
    st.none() | st.booleans(),
    st.none() | findings,
    st.none() | st.integers(0, 4),
    st.lists(st.integers(0, 4), max_size=3).map(tuple),
    st.booleans(),
)


def level_of(finding, context):
    return -1 if (found := assess(finding, context)).level is None else found.level


@settings(max_examples=300, deadline=None)
@given(findings, contexts, st.integers(0, 3), st.integers(1, 4))
def test_a_worse_past_never_makes_it_better(finding, context, at, by):
    past = list(context.past)
    if at >= len(past) or context.previous_level is None:
        return
    past[at] = min(4, past[at] + by)
    worse = replace(context, previous_level=past[0], older_levels=tuple(past[1:]))
    before, after = assess(finding, context), assess(finding, worse)
    assert (after.level or 0) >= (before.level or 0)
    assert after.interval_factor <= before.interval_factor


@settings(max_examples=300, deadline=None)
@given(findings, contexts, particles)
def test_one_more_particle_never_makes_it_better(finding, context, extra):
    worse = Finding(finding.magnet, (*(finding.particles or ()), extra), finding.colour, finding.clarity, finding.smell)
    assert level_of(worse, context) >= level_of(finding, context)


@settings(max_examples=200, deadline=None)
@given(findings, contexts, st.integers(0, 4), st.integers(0, 4))
def test_more_on_the_magnet_never_makes_it_better(finding, context, a, b):
    low, high = sorted((a, b))
    fair = Finding(MAGNETS[low], finding.particles, finding.colour, finding.clarity, finding.smell)
    worse = Finding(MAGNETS[high], finding.particles, finding.colour, finding.clarity, finding.smell)
    assert level_of(worse, context) >= level_of(fair, context)


@settings(max_examples=200, deadline=None)
@given(findings, contexts, particles, st.floats(1, 5), st.integers(0, 40))
def test_a_larger_or_more_of_the_same_never_makes_it_better(finding, context, p, times, more):
    rest = finding.particles or ()
    bigger = Particle(p.form, p.metal, p.count + more, min(200, p.size_mm * times))
    fair = Finding(finding.magnet, (*rest, p), finding.colour, finding.clarity, finding.smell)
    worse = Finding(finding.magnet, (*rest, bigger), finding.colour, finding.clarity, finding.smell)
    assert level_of(worse, context) >= level_of(fair, context)


@settings(max_examples=300, deadline=None)
@given(findings, contexts, st.sampled_from(["colour", "clarity", "smell"]), st.data())
def test_darker_cloudier_or_burnt_never_makes_it_better(finding, context, what, data):
    scale = {"colour": COLOURS, "clarity": CLARITIES, "smell": SMELLS}[what]
    low, high = sorted(data.draw(st.tuples(*[st.integers(0, len(scale) - 1)] * 2)))
    assert level_of(replace(finding, **{what: scale[high]}), context) >= level_of(replace(finding, **{what: scale[low]}), context)


@settings(max_examples=300, deadline=None)
@given(findings, contexts, particles)
def test_a_worse_finding_never_gives_a_longer_interval(finding, context, extra):
    worse = replace(finding, particles=(*(finding.particles or ()), extra), smell="burnt", clarity="milky")
    if level_of(finding, context) >= 0:
        assert assess(worse, context).interval_factor <= assess(finding, context).interval_factor


@settings(max_examples=300, deadline=None)
@given(findings, contexts)
def test_the_worst_reason_is_the_level_and_stands_first(finding, context):
    found = assess(finding, context)
    if found.level is not None:
        assert found.reasons[0].level == found.level == max(r.level for r in found.reasons)
        assert (found.level == 4) == (found.interval_factor == 0)


CHIP = Particle("chip", "steel", 1, 3.0)
ODD = [
    ("clean and chips", Finding("none", (CHIP,)), "clean-and-chips"),
    ("full and nothing seen", Finding("overflowing", ()), "full-and-none"),
    ("steel that no magnet takes", Finding("cap", (Particle("flake", "steel", 1, 1.0, magnetic=False),)), "steel-not-magnetic"),
    ("brass that a magnet takes", Finding("cap", (Particle("flake", "yellow", 1, 1.0, magnetic=True),)), "soft-but-magnetic"),
    ("paste of 3 mm", Finding("cap", (Particle("paste", "steel", 1, 3.0),)), "coarse-paste"),
    ("fresh and burnt", Finding("film", (), "fresh", "clear", "burnt"), "fresh-and-burnt"),
    ("fresh and milky", Finding("film", (), "fresh", "milky"), "fresh-and-milky"),
]


@pytest.mark.parametrize(("words", "finding", "rule"), ODD, ids=[o[0] for o in ODD])
def test_what_does_not_go_together_is_questioned(words, finding, rule):
    asked = assess(finding, GEARBOX).questions
    assert [q.rule for q in asked] == [rule]
    assert asked[0].ask.endswith(("?", ".", "new."))


def test_a_magnet_on_a_stick_will_do_where_none_is_fitted():
    assert questions(Finding("film"), DebrisContext("axle", magnet_fitted=False)) == ()
    assert questions(Finding("none", (CHIP,)), DebrisContext("axle", magnet_fitted=False)) == ()


@pytest.mark.parametrize("case", CASES, ids=[c[0] for c in CASES])
def test_plain_findings_are_not_questioned(case):
    assert assess(case[1], case[2]).questions == ()


def test_a_measured_colour_outside_its_scale_is_refused():
    for bad in (Finding(d1500=9.0), Finding(delta_e=-1.0), Finding(covered=1.2)):
        with pytest.raises(OutOfRange):
            assess(bad, GEARBOX)


@pytest.mark.parametrize(
    ("finding", "error"),
    [
        (Finding("rusty"), Inconsistent),
        (Finding(particles=(Particle("dust"),)), Inconsistent),
        (Finding(particles=(Particle("chip", size_mm=-2),)), OutOfRange),
        (Finding(particles=(Particle("chip", size_mm=2000),)), OutOfRange),
        (Finding(smell="roses"), Inconsistent),
    ],
)
def test_what_is_not_a_finding_is_refused(finding, error):
    with pytest.raises(error):
        assess(finding, GEARBOX)


def test_the_table_shown_is_the_table_that_judges():
    assert len({r.id for r in RULES}) == len(RULES)
    assert all(r.evidence and r.levels for r in RULES)


def test_drip_rate():
    # One drop in 9 s at 0.05 mL a drop (common practice): a third of a millilitre a minute.
    assert drop_rate(1, 9) == pytest.approx(0.05 * 60 / 9)
