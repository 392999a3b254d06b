"""Oil on paper as a camera takes it under other lights: made-up pixels of a known colour, by a model that is not the core's own; seeded.

Light by daylight, shade, lamp and LED as the ratio of its red, green and blue; a camera mixes its colours a little and bends their tones;
the light falls off over the paper. All common practice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from barodex.core.findings.colour import Patch
from barodex.core.findings.colour_space import _TO_XYZ, lab, to_linear, to_srgb
from barodex.core.findings.swatches import swatch_lab, swatches

LIGHTS = {"day": (1.0, 1.0, 1.0), "shade": (0.85, 1.0, 1.35), "lamp": (1.5, 1.0, 0.45), "LED": (1.1, 1.0, 0.8)}
MIXES = {"day": 0.01, "shade": 0.02, "lamp": 0.06, "LED": 0.04}


@dataclass(frozen=True)
class Shot:
    """What lies under the marks, and the truth: the drained oil's ΔE to fresh and the word of the swatch that it was made of."""

    papers: tuple[Patch, ...]
    fresh: Patch
    drained: Patch
    lab_true: np.ndarray
    word: str


PAPERS = {"white": (1.0, 1.0, 1.0), "cream": (1.0, 0.95, 0.78)}


def _fall(rng: np.random.Generator, uneven: float, smooth: bool) -> Callable[[float, float], float]:
    """How much of the light reaches a place: anyhow, or (``smooth``) falling off to one side and towards the corners."""
    if not smooth:
        return lambda x, y: float(1 - rng.uniform(0, uneven))
    turn, side, corner = rng.uniform(0, 2 * np.pi), rng.uniform(0, uneven), rng.uniform(0, uneven / 2)
    return lambda x, y: float(
        1 - side * (0.5 + (x - 0.5) * np.cos(turn) + (y - 0.5) * np.sin(turn)) - corner * 2 * ((x - 0.5) ** 2 + (y - 0.5) ** 2)
    )


def shot(rng: np.random.Generator, light: str, uneven: float = 0.15, tone: float = 0.15, whites: int = 1, paper: str = "white") -> Shot:
    """Fresh oil and one of the swatches on paper, up to ``uneven`` less light at each, tones bent by up to ``tone``; several white points lie
    round the oils, under a light that falls off evenly."""
    choices = swatches("gear")
    of = choices[int(rng.integers(0, len(choices)))]
    fresh_rgb = to_linear([int(choices[0].hex[k : k + 2], 16) for k in (1, 3, 5)])
    rgb = np.clip(to_linear([int(of.hex[k : k + 2], 16) for k in (1, 3, 5)]) * rng.lognormal(0, 0.04), 0, 1)
    mix = np.eye(3) + rng.normal(0, MIXES[light], (3, 3))
    gamma, fall_at = 1 + rng.uniform(-tone, tone), _fall(rng, uneven, whites > 1)

    def patch(linear: np.ndarray, x: float, y: float) -> Patch:
        fall = fall_at(x, y)
        seen = np.clip((np.asarray(linear) * np.array(LIGHTS[light]) @ mix.T) * 0.5 * fall, 1e-5, 1)
        bent = 0.5 * (seen / 0.5) ** gamma
        return Patch(np.clip(to_srgb(bent)[None, :] + rng.normal(0, 3, (400, 3)), 0, 255), x, y)

    true = lab(rgb @ _TO_XYZ.T)
    near = min(choices, key=lambda s: float(np.abs(swatch_lab(s) - true).sum()))
    sheet = np.array(PAPERS[paper])
    places = ((0.15, 0.15), (0.85, 0.8), (0.85, 0.2), (0.15, 0.85), (0.5, 0.08))[:whites]
    papers = tuple(patch(sheet, x + rng.uniform(-0.08, 0.08), y + rng.uniform(-0.06, 0.06)) for x, y in places)
    return Shot(
        papers, patch(fresh_rgb * sheet, 0.35, 0.5), patch(rgb * sheet, rng.uniform(0.5, 0.75), rng.uniform(0.4, 0.6)), true, near.word
    )
