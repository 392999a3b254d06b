"""Quantities as typed. Unit definitions: NIST SP 811 (2008), appendix B."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.quantity.errors import Ambiguous, Inconsistent, OutOfRange, Unreadable
from barodex.core.quantity.quantity import SYSTEMS, display_table, format_quantity, parse_quantity

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
        ("30+90", "volume", "metric", 120),
        ("0.5 L + 120 mL", "volume", "metric", 620),
        ("1 + 1/2 qt", "volume", "us", 1.5 * US_GAL / 4),
        ("2 qts", "volume", "us", US_GAL / 2),
        ("3 gals", "volume", "imperial", 3 * IMP_GAL),
        ("1.25 gal US", "volume", "metric", 1.25 * US_GAL),
        ("8 oz", "volume", "us", US_GAL / 16),
        ("half a pint", "volume", "imperial", IMP_GAL / 16),
        ("80,000 mi", "distance", "us", 80_000 * MILE),
        ("80,000 mi", "distance", "imperial", 80_000 * MILE),
    ],
)
def test_what_people_type_is_understood(text, kind, system, expected):
    assert parse_quantity(text, kind, system) == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "kind", "expected"),
    [
        ("43 N·m (32 lb ft)", "torque", 43),
        ("2.3 L = 2.43 US qt", "volume", 2300),
        ("60 000 km (37 300 mi)", "distance", 60_000),
        ("0 °C (32 °F)", "temperature", 0),
    ],
)
def test_a_figure_given_twice_counts_when_both_say_the_same(text, kind, expected):
    assert parse_quantity(text, kind) == expected


def test_a_figure_given_twice_that_contradicts_itself_is_reported():
    with pytest.raises(Inconsistent, match=r"contradict each other: the first is 43\sN·m, 31\.7\slbf·ft"):  # 43 / 1.35582
        parse_quantity("43 N·m (43 lb ft)", "torque")


@pytest.mark.parametrize(
    ("text", "kind"), [("0 °C (34 °F)", "temperature"), ("100 N·m (100 lb ft)", "torque"), ("2.3 L (2.3 US qt)", "volume")]
)
def test_two_figures_are_compared_at_the_precision_they_were_written_with(text, kind):
    with pytest.raises(Inconsistent, match="contradict each other"):
        parse_quantity(text, kind)


@pytest.mark.parametrize(
    ("text", "usual", "expected"), [("1.7 L", 1850, 1700), ("1.7 mL", 1850, 1.7), ("1700", 1850, 1700), ("2", 12, 2), ("12.5", 12, 12.5)]
)
def test_a_bare_figure_is_taken_where_it_makes_sense(text, usual, expected):
    assert parse_quantity(text, "volume", "metric", usual) == pytest.approx(expected)


@pytest.mark.parametrize(("text", "usual"), [("1.7", 1850), ("2", 1850), ("0.15", 155)])
def test_a_bare_figure_that_fits_only_as_litres_is_asked_about(text, usual):
    with pytest.raises(Ambiguous, match=f"{text} L"):
        parse_quantity(text, "volume", "metric", usual)


@pytest.mark.parametrize(
    ("value", "kind", "system", "shown"),
    [
        (1.5, "torque", "metric", "1.5 N·m"),
        (43.0, "torque", "metric", "43 N·m"),
        (40 * LBF_FT, "torque", "metric", "54.2 N·m"),
        (40 * LBF_FT, "torque", "us", "40 lbf·ft"),
        (15.875, "length", "metric", "15.9 mm"),
        (15.875, "length", "us", "0.625 in"),
        (42.5, "temperature", "metric", "42.5 °C"),
        (-0.01, "temperature", "metric", "0 °C"),
    ],
)
def test_a_figure_has_the_digits_that_its_source_has(value, kind, system, shown):
    assert format_quantity(value, kind, system) == shown.replace(" ", "\N{NO-BREAK SPACE}")


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
