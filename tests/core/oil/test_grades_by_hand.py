"""What the grade scales refuse, and the grade for the weather. SAE J306, J300, ISO 3448; the order among equals is common practice."""

from __future__ import annotations

import pytest

from barodex.core.oil.ambient import grade_for_ambient
from barodex.core.oil.grades import grades_for_kv100, kv40_band, kv100_band, read_grade, table
from barodex.core.oil.lubricant import AmbientGrade, Requirement
from barodex.core.quantity.errors import Inconsistent, OutOfRange, Unreadable

COLD, MILD, HOT = AmbientGrade("75W-85", None, 10.0), AmbientGrade("80W-90", -10.0, 30.0), AmbientGrade("85W-140", 15.0, None)
ASKED = Requirement("gear", "80W-90", ambient=(COLD, MILD, HOT))


@pytest.mark.parametrize(
    ("low", "high", "grade", "fits", "covers"),
    [
        (-30.0, 5.0, "75W-85", ("75W-85",), True),
        (-10.0, 10.0, "75W-85", ("75W-85", "80W-90"), True),
        (-10.0, 30.0, "80W-90", ("80W-90",), True),
        (15.0, 45.0, "85W-140", ("85W-140",), True),
        (-12.0, 30.0, "80W-90", (), False),
        (-30.0, 12.0, "75W-85", (), False),
    ],
)
def test_the_grade_for_the_weather(low, high, grade, fits, covers):
    choice = grade_for_ambient(ASKED, low, high)
    assert (choice.grade, choice.fits, choice.covers) == (grade, fits, covers)


def test_weather_that_is_not_known_or_cannot_be():
    unknown = grade_for_ambient(ASKED, None, 20.0)
    assert (unknown.grade, unknown.covers, unknown.fits) == ("80W-90", False, ())
    one = grade_for_ambient(Requirement("gear", "75W-90"), None)
    assert (one.grade, one.covers, one.fits) == ("75W-90", True, ("75W-90",))
    with pytest.raises(Inconsistent, match="coldest day cannot be warmer"):
        grade_for_ambient(ASKED, 20.0, 10.0)
    for low, high, field in ((-60.1, None, "t_min"), (0.0, 60.1, "t_max")):
        with pytest.raises(OutOfRange) as refused:
            grade_for_ambient(ASKED, low, high)
        assert refused.value.field == field


def test_what_a_scale_does_not_have_is_refused_by_name():
    with pytest.raises(Unreadable, match="No scale “moon”"):
        table("moon")
    with pytest.raises(Unreadable, match="No edition “1900”"):
        table("gear", "1900")
    with pytest.raises(Unreadable, match="set at 40 °C"):
        kv100_band(read_grade("ISO VG 220"))
    with pytest.raises(Unreadable, match="set at 100 °C"):
        kv40_band(read_grade("80W-90"))
    with pytest.raises(Unreadable, match="not set at 100 °C"):
        grades_for_kv100(15.0, "industrial")
    with pytest.raises(OutOfRange):
        grades_for_kv100(0.5, "gear")
