"""A photo as evidence: the pixels under a mark, whether it is good enough, and how much of a magnet is covered.

A picture is an array (height, width, 3) of sRGB values 0 to 255; places on it are shares of its width and height from the
top left corner; radii are shares of its smaller side.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import skimage as ski  # its parts are loaded when they are first used
from numpy.typing import NDArray

from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, percent
from barodex.core.words import say

Picture = NDArray[np.uint8]
LEAST_PIXELS = 12  # under a mark
BLURRED = 0.55  # of 0 sharp to 1 flat (common practice, from pictures blurred on purpose)
# Common practice, from pictures made for the purpose: L* of the ground at least; paste is darker than this share of it; L*
# between metal and paste, and how sure, below which they are not told apart.
LIGHT_GROUND, PASTE_DARKER, TOLD_APART, LEAST_SURE = 45.0, 0.62, 18.0, 0.2
FLAT = 6.0  # L* from the darkest to the lightest below which nothing is to be seen
# Common practice, checked on pictures made of other metals, lights and pastes (tests/core/findings/magnets.py): each line between two covers
# is a value and how wide the doubt about it is. Of the circle that is dark: bare, film, cap; where all is dark there is nothing bare to hold
# it against: paste is lumps, bare metal even (σ of the logarithm of its light, less its slope); of the ground round the rim that is dark.
BARE_SHARE, CAP_SHARE, ALL_DARK = (0.03, 0.012), (0.37, 0.04), (0.80, 0.04)
LUMPS = (0.2, 0.03)
METAL_SEEN, OFF_GROUND = (0.05, 0.01), 8.0  # of the circle that is neither dark nor as light (L*) as the ground: bare metal
WHISKERS, NO_METAL, OVERFLOWS = (0.035, 0.012), (0.2, 0.03), (0.33, 0.04)  # so much round its rim is no metal, however even
RIM_STEPS, RIM_MOST, DRAWN_BY = 72, 1.5, 0.18  # directions; radii looked at; a circle is drawn too small by no more than this
LUMP_BLUR = 0.05  # of the magnet's radius: finer is the grain of a camera
_NO_BARE = say(
    "All of the circle is dark and smooth: a bare dark magnet looks like a thick cap. Wipe a part of it bare "
    "and take it again, or say by eye what is on it."
)
_NOT_APART = say("Paste and metal are not told apart in this photo: light from the side, white paper below, no flash.")


@dataclass(frozen=True)
class Spot:
    """A round mark on a picture: centre and radius as shares."""

    x: float
    y: float
    r: float = 0.02


def _mask(picture: Picture, spot: Spot, name: str, grow: float = 1.0) -> NDArray[np.bool_]:
    height, width = picture.shape[:2]
    for axis, value in (("x", spot.x), ("y", spot.y)):
        if not (isinstance(value, (int, float)) and 0 <= value <= 1):
            raise OutOfRange(
                say("The mark for {name} lies outside the photo.", name=name), field=f"{name}.{axis}", value=value, allowed="0 to 1"
            )
    radius = in_range(f"{name}.r", spot.r, 0.002, 0.5) * min(height, width) * grow
    rows, columns = np.ogrid[:height, :width]
    return np.asarray((columns - spot.x * (width - 1)) ** 2 + (rows - spot.y * (height - 1)) ** 2 <= max(radius, 0.5) ** 2)


def spot_pixels(picture: Picture, spot: Spot, name: str, most: int = 600) -> NDArray[np.uint8]:
    """Give the pixels under a mark.

    Parameters
    ----------
    picture : array (height, width, 3), 0 to 255
    spot : the mark, centre 0 to 1, radius 0.002 to 0.5
    name : of what is marked, for the message
    most : how many at most, evenly taken

    Returns
    -------
    array (n, 3)

    Raises
    ------
    OutOfRange : a mark outside the picture, or over too few pixels

    References
    ----------
    Geometry.
    """
    found = picture[_mask(picture, spot, name)]
    if len(found) < LEAST_PIXELS:
        raise OutOfRange(
            say("The mark for {name} covers {found} pixels: too few to read.", name=name, found=len(found)),
            field=f"{name}.r",
            value=len(found),
        )
    return found[:: max(1, len(found) // most)][:most]


def blurred(picture: Picture) -> bool:
    """Tell whether a picture is too blurred to see particles on.

    Parameters
    ----------
    picture : array (height, width, 3), 0 to 255, at least 16 × 16

    Returns
    -------
    bool

    References
    ----------
    Crété-Roffet et al. (2007), the blur effect of scikit-image; the threshold is common practice.
    """
    step = max(1, min(picture.shape[:2]) // 150)
    small = ski.transform.downscale_local_mean(picture, (step, step, 1))
    return bool(ski.measure.blur_effect(small, h_size=11, channel_axis=2) > BLURRED)


@dataclass(frozen=True)
class Cover:
    """How much of a marked magnet is dark: ``share`` 0 to 1, what reaches past its rim, the cover this suggests, and the
    probability that it is right (0 to 1)."""

    share: float
    beyond: float
    suggests: str
    sure: float
    text: str
    working: Working


def _rim(dark: NDArray[np.bool_], here: NDArray[np.bool_], middle: tuple[float, float], radius: float) -> NDArray[np.float64] | None:
    """How far the dark part that lies on the magnet reaches, by direction, in radii of the circle; None where nothing dark lies on it."""
    parts = ski.measure.label(dark)
    on = np.unique(parts[here & (parts > 0)])
    rows, columns = np.where(np.isin(parts, on)) if len(on) else (np.array([]), np.array([]))
    if not len(rows):
        return None
    y, x = rows - middle[1], columns - middle[0]
    away = np.hypot(x, y) / radius
    bin_of = ((np.arctan2(y, x) / (2 * np.pi) + 0.5) * RIM_STEPS).astype(int) % RIM_STEPS
    far = np.zeros(RIM_STEPS)
    np.maximum.at(far, bin_of, np.where(away <= RIM_MOST, away, 0.0))
    return far


def _redrawn(far: NDArray[np.float64], magnet: Spot, shape: tuple[int, int]) -> Spot | None:
    """The circle through the magnet's own rim, where what is dark reaches it nearly all round; None where it does not, or is the same.

    Spikes stand out of it: the circle goes by the directions in which nothing does."""
    angle = (np.arange(RIM_STEPS) + 0.5) / RIM_STEPS * 2 * np.pi - np.pi
    base = np.stack([np.ones(RIM_STEPS), np.cos(angle), np.sin(angle)], axis=1)
    within = far <= np.quantile(far, 0.5)
    for _ in range(6):
        fit = np.linalg.lstsq(base[within], far[within], rcond=None)[0]
        within = np.abs(far - base @ fit) < 0.06
        if within.sum() < RIM_STEPS // 4:
            return None
    reach, right, down = fit
    if not 0.97 < reach < 1 + DRAWN_BY or float(np.mean(far < base @ fit - 0.08)) > 0.1:
        return None
    small = min(shape)
    moved = Spot(
        magnet.x + right * magnet.r * small / (shape[1] - 1), magnet.y + down * magnet.r * small / (shape[0] - 1), magnet.r * float(reach)
    )
    return moved if 0 <= moved.x <= 1 and 0 <= moved.y <= 1 and moved.r <= 0.5 else None


def _lumps(picture: NDArray[np.float64], spot: NDArray[np.bool_], radius: float) -> float:
    """How lumpy a spot is: σ of the logarithm of its light once grain is smoothed away and the slope of one lamp taken out."""
    grain = max(1.0, LUMP_BLUR * radius)
    smooth = ski.filters.gaussian(picture, sigma=grain)
    inner = ski.morphology.erosion(spot, ski.morphology.disk(int(2 * grain)))
    rows, columns = np.where(inner)
    if len(rows) < LEAST_PIXELS:
        return 0.0
    light = np.log(np.maximum(smooth[inner], 1e-3))
    base = np.stack([np.ones(len(rows)), rows / radius, columns / radius, (rows / radius) ** 2, (columns / radius) ** 2], axis=1)
    return float(np.std(light - base @ np.linalg.lstsq(base, light, rcond=None)[0]))


def _above(value: float, line: tuple[float, float]) -> float:
    """The probability that a value lies above a line that is itself not sharp."""
    return float(1 / (1 + np.exp(-np.clip((value - line[0]) / (line[1] / 1.8), -40, 40))))


def _odds(share: float, beyond: float, lumps: float, metal: float) -> dict[str, float]:
    """How likely each cover is, by the share of the circle that is dark, that of the ground round it, how lumpy the dark is, and the share
    in which bare metal is seen."""
    covered, thick = _above(share, BARE_SHARE), _above(share, CAP_SHARE)
    # All dark, even, nothing bare beside it and nothing standing out: it may be the metal itself.
    bare_dark = _above(share, ALL_DARK) * (1 - _above(lumps, LUMPS)) * (1 - _above(metal, METAL_SEEN)) * (1 - _above(beyond, NO_METAL))
    out, over = _above(beyond, WHISKERS), _above(beyond, OVERFLOWS)
    heap = covered * thick * (1 - bare_dark)
    return {
        "none": (1 - covered) + covered * thick * bare_dark / 2,
        "film": covered * (1 - thick) + covered * thick * bare_dark / 2,
        "cap": heap * (1 - out),
        "whiskers": heap * out * (1 - over),
        "overflowing": heap * out * over,
    }


_COVERED = {
    "none": say("next to nothing"),
    "film": say("a film"),
    "cap": say("a cap"),
    "whiskers": say("whiskers"),
    "overflowing": say("more than it can hold"),
}


def _ground(values: NDArray[np.float64], picture: Picture) -> float:
    """L* of the paper under the magnet; raises Inconsistent where the photo shows nothing."""
    ground = float(np.percentile(values, 95))
    if ground < LIGHT_GROUND:
        raise Inconsistent(
            say("The photo is too dark to tell paste from metal: more light, white paper below."), field="magnet", value="dark"
        )
    if ground - float(np.percentile(values, 5)) < FLAT:
        raise Inconsistent(_NOT_APART, field="magnet", value="flat")
    if blurred(picture):
        raise Inconsistent(say("The photo is blurred: hold still, or go a little further away."), field="magnet", value="blurred")
    return ground


def magnet_cover(picture: Picture, magnet: Spot, redrawn: bool = False) -> Cover:
    """Tell how much of a magnet is covered, from a photo on a light ground. A suggestion: the technician has the last word.

    Parameters
    ----------
    picture : array (height, width, 3), 0 to 255
    magnet : a circle round the magnet's face; one that is drawn too small is drawn anew at the rim of what is dark, where that is round
    redrawn : that it was

    Returns
    -------
    Cover

    Raises
    ------
    OutOfRange : a circle outside the picture, or too small
    Inconsistent : too dark, blurred, or the photo does not set paste apart from metal; all dark, round and smooth, as a bare magnet is too

    References
    ----------
    Otsu (1979), the threshold of scikit-image on CIE L*, with one opening and closing; where one cover ends and the next
    begins is common practice.
    """
    inside = _mask(picture, magnet, "magnet")
    if inside.sum() < 200:
        raise OutOfRange(say("The circle covers too few pixels: go nearer, or draw it larger."), field="magnet.r", value=int(inside.sum()))
    wide = _mask(picture, magnet, "magnet", RIM_MOST)
    ring = _mask(picture, magnet, "magnet", 1.35) & ~_mask(picture, magnet, "magnet", 1.04)
    rows, columns = np.where(inside | wide)
    box = np.s_[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]
    light = ski.color.rgb2lab(picture[box])[..., 0]
    here, around = inside[box], ring[box]
    values = light[here | around]
    ground = _ground(values, picture[box])
    cut = min(float(ski.filters.threshold_otsu(values)), PASTE_DARKER * ground)
    dark = ski.morphology.closing(ski.morphology.opening(light < cut, ski.morphology.disk(1)), ski.morphology.disk(1))
    low, high = values[values < cut], values[values >= cut]
    apart = float(high.mean() - low.mean()) if len(low) > len(values) * 0.002 else ground - cut
    radius = magnet.r * min(picture.shape[:2])
    middle = (magnet.x * (picture.shape[1] - 1) - columns.min(), magnet.y * (picture.shape[0] - 1) - rows.min())
    far = _rim(dark, here, middle, radius)
    better = None if redrawn or far is None else _redrawn(far, magnet, picture.shape[:2])
    if better is not None:
        return magnet_cover(picture, better, redrawn=True)
    share = float(dark[here].mean())
    # Only what hangs together with what is on the magnet counts beyond its rim.
    parts = ski.measure.label(dark)
    touching = np.unique(parts[here & (parts > 0)])
    beyond = float(np.isin(parts, touching)[around].mean()) if len(touching) and around.any() else 0.0
    lumps = _lumps(ski.color.rgb2gray(picture[box]), dark & here, radius)
    metal = float(((light[here] > cut + 4) & (light[here] < ground - OFF_GROUND)).mean())
    odds = _odds(share, beyond, lumps, metal)
    suggests = max(odds, key=lambda name: odds[name])
    bare = (float(np.percentile(light[here], 10)) / ground - PASTE_DARKER) / 0.2  # how plainly bare metal stands out where nothing is dark
    between = apart**2 * len(low) * len(high) / len(values) ** 2
    parted = max(0.0, min(1.0, bare if suggests == "none" else between / max(float(values.var()), 1e-9)))
    between_them = float((np.abs(light[here] - cut) < 4).mean())  # of the circle neither dark nor light
    if suggests in ("none", "film") and share > 0.5:
        raise Inconsistent(_NO_BARE, field="magnet", value=say("no bare metal"))
    if apart < TOLD_APART or parted < LEAST_SURE or between_them > 0.15:
        raise Inconsistent(_NOT_APART, field="magnet", value=apart)
    text = say(
        "{share} of the circle is covered, {beyond} of the ground round it: {words}.",
        share=percent(share),
        beyond=percent(beyond),
        words=_COVERED[suggests],
    )
    inputs = (
        ("threshold", f"L* {cut:.0f}"),
        ("metal less paste", f"{apart:.0f} L*"),
        ("dark in the circle", percent(share)),
        ("dark round it", percent(beyond)),
        ("lumps, σ of ln light", f"{lumps:.2f}"),
        *((name, percent(p)) for name, p in odds.items() if p >= 0.005),
    )
    formula = "share = dark pixels / pixels of the circle; dark below Otsu's threshold of L*"
    return Cover(share, beyond, suggests, odds[suggests], text, Working(formula, inputs, f"Otsu (1979), CIE L*; {COMMON_PRACTICE}"))
