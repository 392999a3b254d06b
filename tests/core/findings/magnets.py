"""Magnets on white paper as a camera takes them: made-up pictures of a known cover, by a model that is not the core's own; seeded.

Faces from blank to nearly black, one lamp from a side, paste as lumps and hollows, whiskers as spikes past the rim, a beard all round; a
circle that is drawn by hand, a tenth too large or too small. All common practice.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from barodex.core.findings.photo import Cover, Spot, magnet_cover
from barodex.core.quantity.errors import Inconsistent

COVERS = ("none", "film", "cap", "whiskers", "overflowing")
WIDTH, HEIGHT = 480, 360


@dataclass(frozen=True)
class Face:
    """A picture, the circle that somebody drew, and the truth: the cover, and the magnet's radius as a share of the smaller side."""

    picture: np.ndarray
    circle: Spot
    cover: str
    radius: float


def _rough(rng: np.random.Generator, across: int) -> np.ndarray:
    """A field of lumps, about ``across`` of them over the width, mean 0 and σ about 1."""
    field = rng.normal(0, 1, (max(3, across * HEIGHT // WIDTH), across)).astype(np.float32)
    return np.array(Image.fromarray(field).resize((WIDTH, HEIGHT), Image.BICUBIC), dtype=np.float64)


def _spikes(rng: np.random.Generator, middle: tuple[float, float], radius: float, count: int, longest: float) -> np.ndarray:
    """Where spikes of paste stand out from the middle, 0 to 1."""
    image = Image.new("L", (WIDTH, HEIGHT), 0)
    draw = ImageDraw.Draw(image)
    for angle in rng.uniform(0, 2 * np.pi, count):
        far = radius * rng.uniform(1.08, longest)
        tip = (middle[0] + far * np.cos(angle), middle[1] + far * np.sin(angle))
        draw.line([middle, tip], fill=255, width=int(radius * rng.uniform(0.06, 0.14)) + 1)
    return np.array(image.filter(ImageFilter.GaussianBlur(0.8)), dtype=np.float64) / 255


def face(rng: np.random.Generator, cover: str, shade: tuple[float, float] = (25, 215)) -> Face:
    """A magnet's face with this cover, its bare metal of any ``shade`` (sRGB)."""
    rows, columns = np.mgrid[:HEIGHT, :WIDTH].astype(float)
    middle = (WIDTH * rng.uniform(0.4, 0.6), HEIGHT * rng.uniform(0.4, 0.6))
    radius = HEIGHT * rng.uniform(0.18, 0.26)
    away = np.hypot(columns - middle[0], rows - middle[1])
    metal, paste = rng.uniform(*shade), rng.uniform(30, 62)
    light = np.full((HEIGHT, WIDTH), rng.uniform(190, 245))
    on = away <= radius
    turn = rng.uniform(0, 2 * np.pi)
    sheen = 1 + rng.uniform(0, 0.08) * ((columns - middle[0]) * np.cos(turn) + (rows - middle[1]) * np.sin(turn)) / radius
    light[on] = (metal * sheen)[on]
    lumps = _rough(rng, int(rng.integers(18, 36)))
    grey = paste * np.exp(0.4 * lumps)
    if cover == "film":
        share = rng.uniform(0.08, 0.3)
        thin = on & (lumps > np.quantile(lumps[on], 1 - share))
        light[thin] = np.minimum(light, grey + rng.uniform(0, 15))[thin]
    elif cover != "none":
        share = rng.uniform(0.45, 1.0) if cover == "cap" else rng.uniform(0.85, 1.0)
        heap = on & (away <= radius * share**0.5 * (1 + 0.05 * lumps))
        light[heap] = grey[heap]
        if cover != "cap":
            count, longest = (int(rng.integers(10, 20)), 1.35) if cover == "whiskers" else (int(rng.integers(60, 110)), 1.4)
            out = _spikes(rng, middle, radius, count, longest)
            light = light * (1 - out) + grey * out
    slope = 1 + rng.uniform(0, 0.12) * ((columns / WIDTH - 0.5) * np.cos(turn) + (rows / HEIGHT - 0.5) * np.sin(turn))
    tone = 1 + rng.uniform(-0.12, 0.12)
    bent = 255 * np.clip(light * slope / 255, 1e-4, 1) ** tone
    tint = np.array([1.0, rng.uniform(0.97, 1.0), rng.uniform(0.9, 1.0)])
    grain = rng.uniform(2, 6)
    picture = np.clip(bent[..., None] * tint + rng.normal(0, grain, (HEIGHT, WIDTH, 3)), 0, 255).astype(np.uint8)
    drawn = radius * rng.uniform(0.9, 1.08) / HEIGHT
    off = radius * 0.03
    circle = Spot((middle[0] + rng.normal(0, off)) / (WIDTH - 1), (middle[1] + rng.normal(0, off)) / (HEIGHT - 1), float(drawn))
    return Face(picture, circle, cover, radius / HEIGHT)


def shrunk(of: Face, by: float) -> Face:
    """The same with a circle that is ``by`` as large as the magnet."""
    return replace(of, circle=replace(of.circle, r=of.radius * by))


def told_of(of: Face) -> Cover | None:
    """What is told of it; None where it says that it cannot be told."""
    try:
        return magnet_cover(of.picture, of.circle)
    except Inconsistent:
        return None
