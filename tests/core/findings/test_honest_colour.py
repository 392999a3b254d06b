"""A colour's σ and how sure its word is, on pictures whose true colour is known, under day, shade, lamp and LED, unevenly lit, with bent tones.

Counts are binomial; bounds leave three standard errors.
"""

import numpy as np
import pytest

from barodex.core.findings.colour import read_colours
from barodex.core.findings.colour_space import ciede2000

from .lights import LIGHTS, shot

N = 80


@pytest.mark.parametrize("light", LIGHTS)
def test_the_true_colour_lies_within_two_sigma_and_a_sure_word_is_right(light):
    rng = np.random.default_rng(7)
    inside = sure = right = 0
    for _ in range(N):
        made = shot(rng, light)
        found = read_colours(made.paper, made.fresh, [made.drained]).drained[0]
        inside += float(ciede2000(np.array(found.lab), made.lab_true)) <= 2 * found.sigma
        if found.sure > 0.9:
            sure += 1
            right += found.word == made.word
    assert inside / N >= 0.9 - 3 * (0.9 * 0.1 / N) ** 0.5, inside
    assert sure >= 10
    assert right / sure >= 0.9 - 3 * (0.9 * 0.1 / sure) ** 0.5, (right, sure)


def test_a_lamp_is_doubted_and_widens_the_uncertainty():
    rng = np.random.default_rng(3)
    day, lamp = shot(rng, "day"), shot(rng, "lamp")
    by_day, by_lamp = (read_colours(s.paper, s.fresh, [s.drained]) for s in (day, lamp))
    assert any("lamp" in d for d in by_lamp.doubts)
    assert not any("lamp" in d for d in by_day.doubts)
    assert by_lamp.drained[0].sigma > 1.4 * by_day.drained[0].sigma


def test_half_a_shadow_on_the_paper_is_doubted():
    made = shot(np.random.default_rng(4), "day", uneven=0.0, tone=0.0)
    half = np.concatenate([made.paper[:200], made.paper[200:] * 0.75])
    assert any("not evenly lit" in d for d in read_colours(half, made.fresh, [made.drained]).doubts)
    assert not any("not evenly lit" in d for d in read_colours(made.paper, made.fresh, [made.drained]).doubts)
