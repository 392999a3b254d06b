"""The order of bolts: the cross pattern of ASME PCC-1 (from memory) on circles, from the middle outwards on pans (common practice)."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.guide.torque import LAYOUTS, bolt_sequence
from barodex.core.quantity.errors import Inconsistent, OutOfRange

PCC_1 = {
    4: (1, 3, 2, 4),
    8: (1, 5, 3, 7, 2, 6, 4, 8),
    12: (1, 7, 4, 10, 2, 8, 5, 11, 3, 9, 6, 12),
    16: (1, 9, 5, 13, 3, 11, 7, 15, 2, 10, 6, 14, 4, 12, 8, 16),
    20: (1, 11, 6, 16, 3, 13, 8, 18, 5, 15, 10, 20, 2, 12, 7, 17, 4, 14, 9, 19),
}


@pytest.mark.parametrize(("count", "order"), PCC_1.items())
def test_circles_follow_the_cross_pattern(count, order):
    assert bolt_sequence(count, "circle").order == order


@given(st.integers(3, 60), st.sampled_from(LAYOUTS))
def test_every_bolt_is_drawn_once(count, layout):
    found = bolt_sequence(count, layout)
    assert sorted(found.order) == list(range(1, count + 1))
    assert len(found.positions) == count


@given(st.integers(3, 60).filter(lambda n: n % 2 == 0))
def test_on_an_even_circle_every_second_bolt_is_opposite_the_one_before(count):
    order = bolt_sequence(count, "circle").order
    assert all(abs(a - b) == count // 2 for a, b in zip(order[::2], order[1::2], strict=True))


@given(st.integers(6, 40))
def test_a_pan_is_drawn_from_the_middle_outwards(count):
    found = bolt_sequence(count, "pan")
    far = [math.dist(found.positions[k - 1], (0.5, 0.375)) for k in found.order]
    assert far[0] == pytest.approx(min(far))
    assert sum(far[: count // 2]) <= sum(far[count // 2 :])


def test_the_rounds_say_the_torque_and_nonsense_is_refused():
    assert bolt_sequence(10, "pan", 12.0).rounds[1:3] == ("half torque: 6 N·m", "full torque: 12 N·m")
    assert bolt_sequence(10, "pan").rounds[1] == "half torque"
    for count in (2, 61, 7.5, True):
        with pytest.raises(OutOfRange):
            bolt_sequence(count)
    with pytest.raises(Inconsistent, match="No layout"):
        bolt_sequence(6, "star")
