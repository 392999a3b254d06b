"""A cover's probability, on pictures whose true cover is known: metal from blank to black, one lamp, a circle that is drawn by hand.

Counts are binomial; bounds leave three standard errors.
"""

import numpy as np

from .magnets import COVERS, face, told_of


def test_a_sure_cover_is_right_and_every_cover_is_found():
    rng = np.random.default_rng(21)
    read = [(f.cover, told_of(f)) for f in (face(rng, COVERS[k % len(COVERS)]) for k in range(75))]
    sure = [(cover, told.suggests) for cover, told in read if told is not None and told.sure > 0.9]
    right = [cover for cover, suggests in sure if cover == suggests]
    assert len(sure) >= 25
    assert len(right) / len(sure) >= 0.9 - 3 * (0.9 * 0.1 / len(sure)) ** 0.5
    assert set(right) == set(COVERS)


def test_a_bare_dark_magnet_is_not_told_for_a_cap():
    rng = np.random.default_rng(22)
    told = [told_of(face(rng, "none", shade=(25, 75))) for _ in range(25)]
    assert [t.suggests for t in told if t is not None and t.suggests != "none"] == []


def test_the_odds_of_all_covers_are_one():
    found = told_of(face(np.random.default_rng(23), "cap"))
    assert found is not None
    shown = [float(value.rstrip(" %").replace("\N{NO-BREAK SPACE}", "")) for name, value in found.working.inputs if name in COVERS]
    assert abs(sum(shown) - 100) <= len(shown)
