"""A colour's σ and how sure its word is, on pictures whose true colour is known, under day, shade, lamp and LED, unevenly lit, with bent tones.

Counts are binomial; bounds leave three standard errors.
"""

import numpy as np
import pytest

from barodex.core.findings.colour import Patch, read_colours
from barodex.core.findings.colour_space import ciede2000

from .lights import LIGHTS, shot

N = 80


@pytest.mark.parametrize(
    ("light", "more"), [*((name, {}) for name in LIGHTS), ("day", {"whites": 3, "uneven": 0.3}), ("day", {"paper": "cream"})]
)
def test_the_true_colour_lies_within_two_sigma_and_a_sure_word_is_right(light, more):
    rng = np.random.default_rng(7)
    inside = sure = right = 0
    for _ in range(N):
        made = shot(rng, light, **more)
        found = read_colours(made.papers, made.fresh, [made.drained]).drained[0]
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
    by_day, by_lamp = (read_colours(s.papers, s.fresh, [s.drained]) for s in (day, lamp))
    assert any("lamp" in d for d in by_lamp.doubts)
    assert not any("lamp" in d for d in by_day.doubts)
    assert by_lamp.drained[0].sigma > 1.4 * by_day.drained[0].sigma


def test_half_a_shadow_on_the_paper_is_doubted():
    made = shot(np.random.default_rng(4), "day", uneven=0.0, tone=0.0)
    whole = np.asarray(made.papers[0].pixels)
    half = Patch(np.concatenate([whole[:200], whole[200:] * 0.75]))
    assert any("not evenly lit" in d for d in read_colours([half], made.fresh, [made.drained]).doubts)
    assert not any("not evenly lit" in d for d in read_colours(made.papers, made.fresh, [made.drained]).doubts)


def test_white_points_round_the_oil_take_a_slope_of_light_out():
    """A third of the light falls off across the photo: one white point is far out, three are not, and the uncertainty says so."""
    off, sigmas = {1: [], 3: []}, {1: [], 3: []}
    for seed in range(40):
        made = shot(np.random.default_rng(seed), "day", uneven=0.3, tone=0.0, whites=3)
        for count in off:
            found = read_colours(made.papers[:count], made.fresh, [made.drained]).drained[0]
            off[count].append(float(ciede2000(np.array(found.lab), made.lab_true)))
            sigmas[count].append(found.sigma)
    assert np.mean(off[3]) < 0.75 * np.mean(off[1])
    assert np.mean(sigmas[3]) < 0.9 * np.mean(sigmas[1])


def test_white_points_in_one_line_or_on_one_spot_are_read_too():
    made = shot(np.random.default_rng(5), "day", whites=3)
    one = made.papers[0]
    same = read_colours([one, Patch(one.pixels, one.x, one.y)], made.fresh, [made.drained])
    line = read_colours([Patch(one.pixels, 0.1, 0.5), Patch(one.pixels, 0.5, 0.5), Patch(one.pixels, 0.9, 0.5)], made.fresh, [made.drained])
    alone = read_colours([one], made.fresh, [made.drained])
    assert same.drained[0].lab == pytest.approx(alone.drained[0].lab, abs=0.1)
    assert line.drained[0].lab == pytest.approx(alone.drained[0].lab, abs=0.1)


def test_cream_paper_is_doubted_and_white_paper_by_day_is_not():
    cream, white = (shot(np.random.default_rng(9), "day", paper=p) for p in ("cream", "white"))
    assert any("cream" in d for d in read_colours(cream.papers, cream.fresh, [cream.drained]).doubts)
    assert read_colours(white.papers, white.fresh, [white.drained]).doubts == ()
