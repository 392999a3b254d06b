"""One range policy, one small tree of errors, one way to write a number."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.quantity import errors
from barodex.core.quantity.errors import CoreError, OutOfRange, in_range
from barodex.core.quantity.working import grouped

TREE = [
    getattr(errors, name)
    for name in dir(errors)
    if isinstance(getattr(errors, name), type) and issubclass(getattr(errors, name), CoreError)
]


def test_every_error_is_drawn_in_the_tree_and_carries_its_field():
    for kind in TREE:
        if kind is not CoreError:
            assert kind.__name__ in errors.__doc__
            assert issubclass(kind, ValueError)
        error = kind("A sentence.", field="f", value=3, allowed="1 to 2")
        assert (str(error), error.message, error.field, error.value, error.allowed) == ("A sentence.", "A sentence.", "f", 3, "1 to 2")


@pytest.mark.parametrize("value", [math.nan, math.inf, -math.inf, "3", None, True])
def test_what_is_not_a_number_is_refused(value):
    with pytest.raises(OutOfRange, match="must be a number from 0 to 10 mL"):
        in_range("volume_ml", value, 0, 10, "mL")


@given(st.floats(allow_nan=False, allow_infinity=False), st.floats(-100, 0), st.floats(0, 100))
def test_inside_is_given_back_and_outside_is_named(value, low, high):
    if low <= value <= high:
        assert in_range("x", value, low, high) == value
    else:
        with pytest.raises(OutOfRange) as refused:
            in_range("x", value, low, high)
        assert refused.value.field == "x"
        assert refused.value.value == value


@pytest.mark.parametrize(
    ("value", "decimals", "text"),
    [(1840, 0, "1 840"), (1234567.891, 2, "1 234 567.89"), (0, 0, "0"), (-1500, 0, "-1 500"), (999, 0, "999")],
)
def test_grouping(value, decimals, text):
    assert grouped(value, decimals).replace("\N{NO-BREAK SPACE}", " ") == text
