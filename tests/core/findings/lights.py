"""Oil on paper as a camera takes it under other lights: made-up pixels of a known colour, by a model that is not the core's own; seeded.

Light by daylight, shade, lamp and LED as the ratio of its red, green and blue; a camera mixes its colours a little and bends their tones;
the light falls off over the paper. All common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from barodex.core.findings.colour_space import _TO_XYZ, lab, to_linear, to_srgb
from barodex.core.findings.swatches import swatch_lab, swatches

LIGHTS = {"day": (1.0, 1.0, 1.0), "shade": (0.85, 1.0, 1.35), "lamp": (1.5, 1.0, 0.45), "LED": (1.1, 1.0, 0.8)}
MIXES = {"day": 0.01, "shade": 0.02, "lamp": 0.06, "LED": 0.04}


@dataclass(frozen=True)
class Shot:
    """Pixels under the marks, and the truth: the drained oil's ΔE to fresh and the word of the swatch that it was made of."""

    paper: np.ndarray
    fresh: np.ndarray
    drained: np.ndarray
    lab_true: np.ndarray
    word: str


def shot(rng: np.random.Generator, light: str, uneven: float = 0.15, tone: float = 0.15) -> Shot:
    """Fresh oil and one of the swatches on white paper, up to ``uneven`` less light at each, tones bent by up to ``tone``."""
    choices = swatches("gear")
    of = choices[int(rng.integers(0, len(choices)))]
    fresh_rgb = to_linear([int(choices[0].hex[k : k + 2], 16) for k in (1, 3, 5)])
    rgb = np.clip(to_linear([int(of.hex[k : k + 2], 16) for k in (1, 3, 5)]) * rng.lognormal(0, 0.04), 0, 1)
    mix = np.eye(3) + rng.normal(0, MIXES[light], (3, 3))
    gamma, falls = 1 + rng.uniform(-tone, tone), 1 - rng.uniform(0, uneven, 3)

    def pixels(linear: np.ndarray, fall: float) -> np.ndarray:
        seen = np.clip((np.asarray(linear) * np.array(LIGHTS[light]) @ mix.T) * 0.5 * fall, 1e-5, 1)
        bent = 0.5 * (seen / 0.5) ** gamma
        return np.clip(to_srgb(bent)[None, :] + rng.normal(0, 3, (400, 3)), 0, 255)

    true = lab(rgb @ _TO_XYZ.T)
    near = min(choices, key=lambda s: float(np.abs(swatch_lab(s) - true).sum()))
    return Shot(pixels(np.ones(3), falls[0]), pixels(fresh_rgb, falls[1]), pixels(rgb, falls[2]), true, near.word)
