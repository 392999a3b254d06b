"""The cross pattern of a round cover. Common practice: each pair stands opposite, and the next pair does not stand beside the last."""

from __future__ import annotations

import itertools

import pytest

from barodex.core.guide.torque import bolt_sequence


@pytest.mark.parametrize("count", [6, 10, 14, 18, 22])
def test_an_even_number_that_four_does_not_divide(count):
    order = bolt_sequence(count, "circle").order
    assert sorted(order) == list(range(1, count + 1))
    pairs = [order[k : k + 2] for k in range(0, count, 2)]
    assert all((b - a) % count == count // 2 for a, b in pairs)
    for (a, _), (b, _) in itertools.pairwise(pairs):
        apart = (b - a) % (count // 2)
        assert count == 6 or b == 2 or min(apart, count // 2 - apart) >= 2, order  # 2: it goes back to the first gap


def test_ten_bolts_by_number():
    assert bolt_sequence(10, "circle").order == (1, 6, 3, 8, 5, 10, 2, 7, 4, 9)
