"""Quantities as typed. Unit definitions: NIST SP 811 (2008), appendix B."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.errors import Ambiguous, Inconsistent, OutOfRange, Unreadable
from barodex.core.quantity import SYSTEMS, display_table, format_quantity, parse_quantity

US_GAL, IMP_GAL, MILE, LBF_FT = 3785.411784, 4546.09, 1.609344, 1.3558179483314004  # NIST SP 811 app. B


@pytest.mark.parametrize(
    ("text", "kind", "system", "expected"),
    [
        ("2.3", "volume", "metric", 2.3),
        ("2,3 L", "volume", "metric", 2300),
        ("2.5 litres", "volume", "metric", 2500),
        ("0.500 L", "volume", "metric", 500),
        ("1 840 mL", "volume", "metric", 1840),
        ("1,234.5 mL", "volume", "metric", 1234.5),
        ("1.234,5 mL", "volume", "metric", 1234.5),
        ("1 1/4 US gal", "volume", "metric", 1.25 * US_GAL),
        ("1 1/4 gal", "volume", "us", 1.25 * US_GAL),
        ("1 1/4 gal", "volume", "imperial", 1.25 * IMP_GAL),
        ("1 imp gal", "volume", "us", IMP_GAL),
        ("1 UK gallon", "volume", "us", IMP_GAL),
        ("8 US fl oz", "volume", "metric", US_GAL / 16),
        ("8 fl. oz", "volume", "us", US_GAL / 16),
        ("½ pt", "volume", "imperial", IMP_GAL / 16),
        ("1½ US qt", "volume", "metric", 1.5 * US_GAL / 4),
        ("1.9 qt", "volume", "us", 1.9 * US_GAL / 4),
        ("2", "volume", "us", 2 * US_GAL / 4),
        ("27 ft-lb", "torque", "metric", 27 * LBF_FT),
        ("27 lb ft", "torque", "metric", 27 * LBF_FT),
        ("27 lbf·ft", "torque", "metric", 27 * LBF_FT),
        ("37Nm", "torque", "metric", 37),
        ("37 N·m", "torque", "us", 37),
        ("37", "torque", "us", 37 * LBF_FT),
        ("60k mi", "distance", "metric", 60_000 * MILE),
        ("80000", "distance", "metric", 80_000),
        ("104 °F", "temperature", "metric", 40),
        ("-4", "temperature", "metric", -4),
        ("−4 °C", "temperature", "us", -4),
        ("1.5 kg", "mass", "metric", 1500),
        ("200 h", "engine_hours", "metric", 200),
        ("10 mm", "length", "us", 10),
    ],
)
def test_what_people_type_is_understood(text, kind, system, expected):
    assert parse_quantity(text, kind, system) == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "kind", "expected"),
    [("43 N·m (32 lb ft)", "torque", 43), ("2.3 L = 2.43 US qt", "volume", 2300), ("60 000 km (37 300 mi)", "distance", 60_000)],
)
def test_a_figure_given_twice_counts_when_both_say_the_same(text, kind, expected):
    assert parse_quantity(text, kind) == expected


def test_a_figure_given_twice_that_contradicts_itself_is_reported():
    with pytest.raises(Inconsistent, match=r"contradict each other: the first is 43\sN·m, 31\.7\slbf·ft"):  # 43 / 1.35582
        parse_quantity("43 N·m (43 lb ft)", "torque")


@pytest.mark.parametrize("text", ["80.000 km", "80,000 km", "2,300 km"])
def test_a_thousand_or_a_decimal_is_asked(text):
    with pytest.raises(Ambiguous, match="can mean"):
        parse_quantity(text, "distance")


@pytest.mark.parametrize("text", ["2 qt", "½ pt", "1 gal", "8 fl oz"])
def test_a_bare_us_or_imperial_unit_is_asked_under_metric(text):
    with pytest.raises(Ambiguous, match="US or imperial"):
        parse_quantity(text, "volume", "metric")


@pytest.mark.parametrize("text", ["", "nan", "inf", "about two", "1e9", "2 furlong", "1/0", "1.2.3", "12,34,5", "9" * 61])
def test_nonsense_is_unreadable(text):
    with pytest.raises(Unreadable):
        parse_quantity(text, "volume")


@pytest.mark.parametrize(("text", "kind"), [("-3 L", "volume"), ("2000 L", "volume"), ("900", "temperature"), ("99999 Nm", "torque")])
def test_the_impossible_is_out_of_range(text, kind):
    with pytest.raises(OutOfRange, match="outside what is possible"):
        parse_quantity(text, kind)


@given(st.floats(1, 60_000), st.sampled_from(SYSTEMS), st.sampled_from(["volume", "distance", "torque"]))
def test_format_then_parse_comes_back_within_the_shown_precision(value, system, kind):
    if kind == "torque":
        value = value / 60 + 1
    shown = format_quantity(value, kind, system)
    step = 10 ** -display_table(system)[kind].decimals / display_table(system)[kind].factor
    assert parse_quantity(shown, kind, "metric") == pytest.approx(value, abs=0.51 * step)


@given(st.sampled_from(SYSTEMS), st.floats(-20, 150))
def test_the_display_table_is_the_straight_line_that_formats(system, value):
    line = display_table(system)["temperature"]
    shown = format_quantity(value, "temperature", system)
    assert float(shown.split("\N{NO-BREAK SPACE}")[0]) == pytest.approx(value * line.factor + line.offset, abs=0.51)
