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
# Common practice: where so much of the circle is dark there is nothing bare to hold it against; its rim is that of the magnet itself
# where it is as round as this (share of the radius), and bare metal is as even as this (share of the light, from spot to spot).
ALL_DARK, ROUND, EVEN = 0.82, 0.05, 0.16
RIM_STEPS, RIM_MOST, SMALL_BY = 72, 1.35, 1.2  # directions; radii looked at; a circle is drawn too small by no more than this
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
    """How much of a marked magnet is dark: ``share`` 0 to 1, what reaches past its rim, the cover this suggests, and how sure (0 to 1)."""

    share: float
    beyond: float
    suggests: str
    sure: float
    text: str
    working: Working


def _reach(
    dark: NDArray[np.bool_], here: NDArray[np.bool_], magnet: Spot, shape: tuple[int, int], corner: tuple[int, int]
) -> tuple[float, float] | None:
    """How far the dark part that lies on the magnet reaches from its middle: the median over all directions, in radii, and how much that
    differs (from the tenth to the ninetieth of a hundred); None where nothing dark reaches out to the rim all round."""
    parts = ski.measure.label(dark)
    on = np.unique(parts[here & (parts > 0)])
    rows, columns = np.where(np.isin(parts, on)) if len(on) else (np.array([]), np.array([]))
    if not len(rows):
        return None
    y, x = rows + corner[0] - magnet.y * (shape[0] - 1), columns + corner[1] - magnet.x * (shape[1] - 1)
    radius = np.hypot(x, y) / (magnet.r * min(shape))
    bin_of = ((np.arctan2(y, x) / (2 * np.pi) + 0.5) * RIM_STEPS).astype(int) % RIM_STEPS
    far = np.zeros(RIM_STEPS)
    np.maximum.at(far, bin_of, np.where(radius <= RIM_MOST, radius, 0.0))
    if (far < 0.85).any():
        return None
    low, middle, high = np.percentile(far, (10, 50, 90))
    return float(middle), float(high - low)


def _even(light: NDArray[np.float64], spot: NDArray[np.bool_]) -> bool:
    """Whether a spot is as even as bare metal: paste is lumps of its own light and shade, larger than the grain of a camera."""
    grain = max(1, int(spot.sum() ** 0.5 / 40))
    smooth = ski.filters.gaussian(light, sigma=grain)
    inner = ski.morphology.erosion(spot, ski.morphology.disk(2 * grain))
    values = smooth[inner]
    if len(values) < LEAST_PIXELS:
        return True
    low, middle, high = np.percentile(values, (10, 50, 90))
    return bool(high - low < EVEN * max(float(middle), 8.0))


_COVERED = {
    "none": say("next to nothing"),
    "film": say("a film"),
    "cap": say("a cap"),
    "whiskers": say("whiskers"),
    "overflowing": say("more than it can hold"),
}


def _suggested(share: float, beyond: float) -> str:
    """The cover by the shares of the circle and of the ground round it that are dark."""
    if share < 0.03:
        return "none"
    if beyond > 0.4:
        return "overflowing"
    if beyond > 0.12:
        return "whiskers"
    return "film" if share < 0.35 else "cap"


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
    ring = _mask(picture, magnet, "magnet", 1.35) & ~_mask(picture, magnet, "magnet", 1.02)
    rows, columns = np.where(inside | ring)
    box = np.s_[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]
    light = ski.color.rgb2lab(picture[box])[..., 0]
    here, around = inside[box], ring[box]
    values = light[here | around]
    ground = float(np.percentile(values, 95))
    if ground < LIGHT_GROUND:
        raise Inconsistent(
            say("The photo is too dark to tell paste from metal: more light, white paper below."), field="magnet", value="dark"
        )
    if ground - float(np.percentile(values, 5)) < FLAT:
        raise Inconsistent(_NOT_APART, field="magnet", value="flat")
    if blurred(picture[box]):
        raise Inconsistent(say("The photo is blurred: hold still, or go a little further away."), field="magnet", value="blurred")
    cut = min(float(ski.filters.threshold_otsu(values)), PASTE_DARKER * ground)
    dark = ski.morphology.closing(ski.morphology.opening(light < cut, ski.morphology.disk(1)), ski.morphology.disk(1))
    low, high = values[values < cut], values[values >= cut]
    apart = float(high.mean() - low.mean()) if len(low) > len(values) * 0.002 else ground - cut
    bare = (float(np.percentile(light[here], 10)) / ground - PASTE_DARKER) / 0.2  # how plainly bare metal stands out where nothing is dark
    reach = _reach(dark, here, magnet, picture.shape[:2], (rows.min(), columns.min()))
    if not redrawn and reach is not None and 1.03 < reach[0] < SMALL_BY and reach[1] < ROUND and magnet.r * reach[0] <= 0.5:
        return magnet_cover(picture, Spot(magnet.x, magnet.y, magnet.r * reach[0]), redrawn=True)  # the circle was drawn too small
    share = float(dark[here].mean())
    if share > ALL_DARK and (reach is None or (reach[1] < ROUND and reach[0] < SMALL_BY)) and _even(light, dark & here):
        raise Inconsistent(_NO_BARE, field="magnet", value=say("no bare metal"))
    # Only what hangs together with what is on the magnet counts beyond its rim.
    parts = ski.measure.label(dark)
    touching = np.unique(parts[here & (parts > 0)])
    beyond = float(np.isin(parts, touching)[around].mean()) if len(touching) and around.any() else 0.0
    suggests = _suggested(share, beyond)
    between = apart**2 * len(low) * len(high) / len(values) ** 2
    sure = max(0.0, min(1.0, bare if suggests == "none" else between / max(float(values.var()), 1e-9)))
    between_them = float((np.abs(light[here] - cut) < 4).mean())  # of the circle neither dark nor light
    if apart < TOLD_APART or sure < LEAST_SURE or between_them > 0.15:
        raise Inconsistent(_NOT_APART, field="magnet", value=apart)
    text = say(
        "{share} of the circle is covered, {beyond} of the ground round it: {words}.",
        share=percent(share),
        beyond=percent(beyond),
        words=_COVERED[suggests],
    )
    working = Working(
        "share = dark pixels / pixels of the circle; dark below Otsu's threshold of L*",
        (("threshold", f"L* {cut:.0f}"), ("metal less paste", f"{apart:.0f} L*"), ("dark in the circle", percent(share))),
        f"Otsu (1979), CIE L*; {COMMON_PRACTICE}",
    )
    return Cover(share, beyond, suggests, sure, text, working)
