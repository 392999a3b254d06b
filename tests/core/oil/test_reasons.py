"""Every reason that judges an oil: it names its rule, compares two things, says on what it rests. And where things stand on the charts."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import pytest

from barodex.core.oil.ambient import grade_for_ambient
from barodex.core.oil.charts import KV_TICKS, T_TICKS, place_kv, place_t, scales, viscosity_chart
from barodex.core.oil.check_oil import check_lubricant
from barodex.core.oil.grade_rules import thickness_of
from barodex.core.oil.judge import judge, rank
from barodex.core.oil.lubricant import VERDICTS, AmbientGrade, Dose, Lubricant, OilConditions, OilPolicy, Requirement, Residue, check_policy
from barodex.core.oil.viscosity import Thickness
from barodex.core.quantity.errors import Ambiguous, CoreError, Inconsistent, OutOfRange

OILS = (
    Lubricant("Gear", "gear", "75W-90", "GL-5", kv40=110, kv100=15.6),
    Lubricant("Mild", "gear", "80W-90", "GL-4"),
    Lubricant("Both", "gear", "80W-90", "GL-4/GL-5", copper_strip="1b"),
    Lubricant("Slip", "gear", "75W-140", "GL-5", friction_modifier=True, base="ester"),
    Lubricant("Straight", "gear", "90", "GL-1", detergent=False),
    Lubricant("Bare", "gear", kv40=150, kv100=15.0),
    Lubricant("Fluid", "atf", kv40=35, kv100=7.2, approvals=("F-3",)),
    Lubricant("Nameless", "atf"),
    Lubricant("Engine", "engine", "10W-40", detergent=True),
    Lubricant("PAG", "gear", "75W-90", "GL-5", base="PAG"),
)
ASKED = (
    Requirement("gear", "75W-90", "GL-5", hypoid=True),
    Requirement("gear", "80W-90", "GL-4", yellow_metal=True, synchro=True),
    Requirement("gear", "80W-90", "GL-4", yellow_metal=None, base="no PAG"),
    Requirement("gear", "80W-90", "GL-3", yellow_metal=False, no_ep=True, non_detergent=True),
    Requirement("gear", "90", "GL-1", yellow_metal=True, non_detergent=True),
    Requirement("gear", "75W-140", "GL-5", hypoid=True, limited_slip=True, modifier_ml=110, base="ester"),
    Requirement("gear", "75W-90", "GL-4 and GL-5", yellow_metal=True, hypoid=True),
    Requirement("gear", "", "", hypoid=True, ambient=(AmbientGrade("75W-90", None, 10), AmbientGrade("85W-140", 0, None))),
    Requirement("atf", wet_clutch=True, approvals=("F-3", "F-4")),
    Requirement("atf", wet_clutch=True, also=("engine",)),
    Requirement("ester turbine"),
    Requirement("gear", "75W-90", approvals=("A-7",)),
)
DAYS = (
    OilConditions(),
    OilConditions(-32, 20, 2000, (Dose("modifier", "friction modifier", 110, 0.05),), Residue(300, OILS[6])),
    OilConditions(5, 35, None, (Dose("slick", "solid lubricant", 400), Dose("guard", "extreme pressure", 100)), Residue(300)),
    OilConditions(-5, 15, 2000, (Dose("much", "tackifier", 300),), Residue(400, OILS[9])),
)
POLICIES = (OilPolicy(), OilPolicy("never", "maker's bottle", "never", "sheet grade only", "caution without hypoid", "2019"))


def all_reasons():
    for asked, day, policy in itertools.product(ASKED, DAYS, POLICIES):
        for oil in OILS:
            yield oil, asked, day, policy


def policies_are_real():
    for policy in POLICIES:
        try:
            check_policy(policy)
        except CoreError as error:
            raise AssertionError(error.message) from error


def test_every_reason_names_its_rule_what_was_compared_and_on_what_it_rests():
    rules = set()
    for oil, asked, day, policy in all_reasons():
        found = judge(oil, asked, day, policy)
        assert found.verdict in VERDICTS
        worst = max((VERDICTS.index(r.verdict) for r in found.reasons), default=None)
        assert worst is None or VERDICTS[worst] == found.verdict
        assert [VERDICTS.index(r.verdict) for r in found.reasons] == sorted(
            (VERDICTS.index(r.verdict) for r in found.reasons), reverse=True
        )
        for r in found.reasons:
            rules.add(r.rule)
            for words in (r.rule, r.text, r.compared, r.basis):
                assert isinstance(words, str)
                assert words.strip()
                assert "None" not in words
            assert isinstance(r.school, str)
    assert len(rules) > 25


def test_an_oil_of_a_family_that_the_sheet_does_not_list_is_never_taken():
    for oil, asked, day, policy in all_reasons():
        if oil.family != asked.family and oil.family not in asked.also:
            assert judge(oil, asked, day, policy).verdict == "reject"


def test_the_ranking_puts_the_better_first_and_fewer_objections_before_more():
    for asked, day in itertools.product(ASKED, DAYS):
        order = rank(OILS, asked, day)
        places = [VERDICTS.index(r.judgement.verdict) for r in order]
        assert places == sorted(places)
        for one, other in itertools.pairwise(order):
            same = one.judgement.verdict == other.judgement.verdict
            if same and one.judgement.verdict in ("caution", "reject"):
                counts = [sum(x.verdict == r.judgement.verdict for x in r.judgement.reasons) for r in (one, other)]
                assert counts[0] <= counts[1]
            elif same:  # right by the book or as good: the nearer one first, however much was said of it
                assert (abs(one.off or 0), one.lubricant.name) <= (abs(other.off or 0), other.lubricant.name)


@pytest.mark.parametrize(
    ("change", "error", "field"),
    [
        ({"family": "soap"}, Inconsistent, "family"),
        ({"base": "milk"}, Inconsistent, "base"),
        ({"copper_strip": "9z"}, Inconsistent, "copper_strip"),
        ({"kv100": 1.99}, OutOfRange, "kv100"),
        ({"kv40": 5000.5, "kv100": None}, OutOfRange, "kv40"),
        ({"density15": 799.9}, OutOfRange, "density15"),
        ({"density15": 1164.1}, OutOfRange, "density15"),
        ({"density15": 0.7}, Ambiguous, "density15"),
        ({"density15": 1.3}, Ambiguous, "density15"),
        ({"density15": 0.69}, OutOfRange, "density15"),
        ({"density15": 1.31}, OutOfRange, "density15"),
    ],
)
def test_a_data_sheet_that_cannot_be_is_refused_at_its_field(change, error, field):
    with pytest.raises(error) as refused:
        check_lubricant(replace(OILS[0], **change))
    assert (refused.value.field, type(refused.value)) == (field, error)


@pytest.mark.parametrize(
    "change", [{"kv40": None, "kv100": 2}, {"kv40": 5000, "kv100": None}, {"density15": 800}, {"density15": 1164}, {"base": ""}]
)
def test_the_ends_of_what_oils_have_are_accepted(change):
    check_lubricant(replace(OILS[0], **change))


def test_a_policy_has_its_switches_and_its_limits_in_order():
    policies_are_real()
    check_policy(OilPolicy(near_low=0, near_high=0, off=0))
    check_policy(OilPolicy(near_low=0.5, near_high=0.4, off=0.5))
    for wrong, field in (
        ({"approval": "any"}, "approval"),
        ({"near_low": -0.01}, "near_low"),
        ({"near_high": 1.01, "off": 1}, "near_high"),
        ({"near_high": 0.51}, "off"),
    ):
        with pytest.raises(CoreError) as refused:
            check_policy(OilPolicy(**wrong))
        assert refused.value.field == field
        assert refused.value.allowed


def test_the_axes_are_those_of_astm_d341():
    """log10 of kelvin from −40 to 120 °C; log10 log10(ν + 0.7) from 3 to 100 000 mm²/s."""
    assert (place_t(-40), place_t(120)) == (0, 1)
    assert place_t(40) == pytest.approx(math.log10(313.15 / 233.15) / math.log10(393.15 / 233.15))
    assert (place_kv(3), place_kv(1e5)) == (0, 1)
    w = [math.log10(math.log10(v + 0.7)) for v in (3, 20, 1e5)]
    assert place_kv(20) == pytest.approx((w[1] - w[0]) / (w[2] - w[0]))


def test_a_chart_shows_its_ticks_and_each_oil_as_a_straight_line():
    chart = viscosity_chart([("Gear", Thickness(110, 15.6, False, "data sheet"))], ambient_min_c=-10, ambient_max_c=30)
    assert tuple(t.value for t in chart.t_ticks) == T_TICKS
    assert tuple(t.value for t in chart.kv_ticks) == KV_TICKS
    assert [t.at for t in chart.kv_ticks] == [place_kv(v) for v in KV_TICKS]
    assert [t.at for t in chart.t_ticks] == [place_t(v) for v in T_TICKS]
    assert chart.ambient == (pytest.approx(place_t(-10)), pytest.approx(place_t(30)))
    (line,) = chart.lines
    slopes = {round((b.y - a.y) / (b.x - a.x), 6) for a, b in itertools.pairwise(line.points)}
    assert len(slopes) == 1
    assert {round(p.temperature_c): round(p.kv, 1) for p in line.shown if p.temperature_c in (40, 100)} == {40: 110.0, 100: 15.6}
    assert (line.name, line.estimated) == ("Gear", False)


def test_the_scales_stand_side_by_side_on_one_axis():
    found = scales()
    values = [t.value for t in found.ticks]
    assert values == sorted(set(values))
    places = [t.at for t in found.ticks]
    assert places == sorted(places)
    assert (places[0] >= 0, places[-1] <= 1) == (True, True)


def test_an_oil_s_line_comes_from_its_data_sheet_before_its_grade():
    assert thickness_of(OILS[0]) == Thickness(110, 15.6, False, "data sheet")
    assert thickness_of(OILS[1]).estimated
    assert thickness_of(Lubricant("x", "gear")) is None
    half = thickness_of(Lubricant("x", "gear", "75W-90", kv100=15.0))
    assert (half.kv100, half.estimated) == (15.0, True)
    warm = thickness_of(Lubricant("x", "gear", "75W-90", kv40=100.0))
    assert (warm.kv40, warm.estimated) == (100.0, True)


def test_the_weather_is_told_as_one_temperature_or_a_span():
    asked = Requirement("gear", ambient=(AmbientGrade("75W-90", None, 10), AmbientGrade("85W-140", 0, None)))
    assert "5 °C" in str(grade_for_ambient(asked, 5, 5))
    assert "5 to 8 °C" in str(grade_for_ambient(asked, 5, 8))
    assert "to 5 °C" not in str(grade_for_ambient(asked, 5, 5))
