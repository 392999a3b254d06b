"""Figures in two units, ranges of many values, decimals: by hand."""

import numpy as np
import pytest

from barodex.core.quantity.errors import Ambiguous, Inconsistent, OutOfRange, Unreadable, all_in_range
from barodex.core.quantity.expansion import volume_at
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.quantity.window import TemperatureWindow, check_window
from barodex.core.quantity.working import figure


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        # NIST SP 811: 1 US qt = 946.353 mL; a half is good to 3 %: 473.2 ± 14.2 mL
        ("½ US qt (480 mL)", "volume", 473.176),
        ("½ US qt (487 mL)", "volume", 473.176),
        ("1.9 L (2 US qt)", "volume", 1900.0),
        ("27 lbf·ft (37 N·m)", "torque", 36.607),
    ],
)
def test_two_units_that_say_the_same(text, kind, value):
    assert parse_quantity(text, kind) == pytest.approx(value, rel=1e-4)


@pytest.mark.parametrize(("text", "usual_ml", "asked"), [("2", 2000, True), ("5", 20_000, True), ("50", 2000, False), ("150", 2000, False)])
def test_a_bare_figure_is_asked_about_only_where_it_fits_as_litres_and_not_as_millilitres(text, usual_ml, asked):
    # A compartment of 2 L: "2" may be litres; 50 mL is little, but 50 L is no amount of such a box.
    if asked:
        with pytest.raises(Ambiguous, match=f"{text} L"):
            parse_quantity(text, "volume", "metric", usual_ml)
    else:
        assert parse_quantity(text, "volume", "metric", usual_ml) == float(text)


@pytest.mark.parametrize("volume_ml", [-0.1, 1_000_000.5])
def test_a_volume_that_no_box_holds_is_not_reckoned_to_another_temperature(volume_ml):
    with pytest.raises(OutOfRange) as refused:
        volume_at(volume_ml, 40, 15, 860)
    assert refused.value.field == "volume_ml"
    assert volume_at(1_000_000, 15, 15, 860) == pytest.approx(1_000_000)


@pytest.mark.parametrize("text", ["½ US qt (510 mL)", "½ US qt (430 mL)", "1.9 L (3 US qt)", "27 lbf·ft (47 N·m)"])
def test_two_units_that_do_not(text):
    with pytest.raises(Inconsistent, match="contradict each other") as refused:
        parse_quantity(text, "torque" if "lbf" in text else "volume")
    assert "(" in refused.value.value


def test_what_is_too_long_is_no_amount():
    with pytest.raises(Unreadable, match="at most 60 characters") as refused:
        parse_quantity("1" * 61, "volume")
    assert (refused.value.field, len(refused.value.value)) == ("volume", 60)


def test_the_first_value_outside_is_named_with_its_unit():
    with pytest.raises(OutOfRange, match=r"kv is 1, allowed is 2 to 5000 mm²/s") as refused:
        all_in_range("kv", np.array([3.0, 1.0, 9000.0]), 2, 5000, "mm²/s")
    assert (refused.value.field, refused.value.value) == ("kv", 1.0)
    with pytest.raises(OutOfRange, match="must hold numbers") as refused:
        all_in_range("kv", ["three"], 2, 5000, "mm²/s")
    assert refused.value.value == "['three']"
    assert all_in_range("kv", [2, 5000], 2, 5000).tolist() == [2, 5000]


def test_zeros_are_left_out_where_they_say_nothing():
    assert [figure(12.5, 1), figure(12.0, 1), figure(12.0, 0), figure(120.0, 0)] == ["12.5", "12", "12", "120"]
    assert [figure(12.0, 1, trim=False), figure(12.50, 2, trim=False), figure(-0.04, 1)] == ["12.0", "12.50", "0"]


def test_a_window_has_its_ends_in_order():
    with pytest.raises(Inconsistent) as refused:
        check_window(TemperatureWindow(45, 40))
    assert (refused.value.field, refused.value.value) == ("window_low_c", 45)
