"""Oil colour as numbers: CIE L*a*b* relative to the paper beside it, CIEDE2000, and the nearest swatch.

Arrays of colours have their three components on the last axis.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from barodex.core.findings.colour_space import _TO_XYZ, Array, adapt, ciede2000, lab, to_linear
from barodex.core.findings.swatches import Swatch, _hex, swatch_lab, swatches
from barodex.core.quantity.errors import Inconsistent
from barodex.core.quantity.working import Working, percent
from barodex.core.words import say

# --- a photo's spots -------------------------------------------------------------------------------------------------

UNEVEN_PAPER = 1.35  # light of the brightest part of the paper over the darkest (common practice)
DARK, BLOWN = 0.06, 0.97  # light of the paper, as a share of what the camera can take (common practice)
GREY_RATIOS = ((0.35, 1.6), (0.08, 2.6))  # green to red and blue to red of paper under daylight to lamp light (common practice)
# How far a colour may be off by what one paper does not tell, ΔE₀₀ (common practice, checked on pictures made under other lights): the kind
# of light (by the paper's blue to red), the light on the way from the paper to the spot, and a camera's tone curve, by how far the spot is
# darker than the paper (L* apart).
LIGHT_SIGMA = ((0.7, 9.0), (0.85, 4.0), (1.3, 2.5), (float("inf"), 4.0))
UNEVEN_SIGMA, TONE_SIGMA = (3.0, 2.0, 1.4), 0.06  # by how many white points the light over the paper is known: one, two, three and more
YELLOWISH = 0.85  # blue to red of the paper below which it may be cream (common practice)
LIGHT_BEYOND = 1.1  # how far past the brightest or darkest white point the light at a spot is taken to reach
DRAWS, DRAWS_SEED = 256, 1500  # of the colour as it may be, to tell how sure the word is
SEEN_DELTA_E = 2.0  # below it two spots beside each other are called alike (common practice)


@dataclass(frozen=True)
class Patch:
    """Pixels under a mark, sRGB 0 to 255, (n, 3), and where it lies: shares of the photo's width and height."""

    pixels: ArrayLike
    x: float = 0.5
    y: float = 0.5


@dataclass(frozen=True)
class OilColour:
    """One spot of oil: L*a*b* against the paper, how a screen shows it, ΔE₀₀ to fresh oil with its σ, the nearest swatch and the
    probability that its word is right."""

    lab: tuple[float, float, float]
    hex: str
    delta_e: float
    sigma: float
    word: str
    d1500: float | None
    sure: float
    fresh_share: float | None


@dataclass(frozen=True)
class ColourReading:
    """A photo read: the paper's light, fresh oil, and each drained oil against it; ``doubts`` say what makes it less sure."""

    light: str
    fresh: OilColour
    drained: tuple[OilColour, ...]
    doubts: tuple[str, ...]
    text: str
    working: Working


def check_paper(pixels: ArrayLike) -> Array:
    """Give the mean light of the paper, or say why the photo cannot be read.

    Parameters
    ----------
    pixels : sRGB, 0 to 255, shape (n, 3)

    Returns
    -------
    array (3,), linear

    Raises
    ------
    Inconsistent : too dark, blown out, or no white

    References
    ----------
    Thresholds :data:`DARK`, :data:`BLOWN`, :data:`GREY_RATIOS`: common practice.
    """
    values = np.asarray(pixels, dtype=np.float64)
    mean = to_linear(values).mean(axis=0)
    if (values >= 254).any(axis=1).mean() > 0.2 or mean.max() > BLOWN:
        raise Inconsistent(
            say("The paper is blown out: the camera took too much light. Take it again, less bright."), field="paper", value="blown out"
        )
    if mean.max() < DARK:
        raise Inconsistent(say("The photo is too dark to read a colour from: more light, no shadow."), field="paper", value="dark")
    ratios = (mean[1] / max(mean[0], 1e-6), mean[2] / max(mean[0], 1e-6))
    if any(not low <= ratio <= high for ratio, (low, high) in zip(ratios, GREY_RATIOS, strict=True)):
        raise Inconsistent(say("There is no white under the paper's mark: put it on bare white paper."), field="paper", value="no white")
    return np.asarray(mean, dtype=np.float64)


def _light_words(paper: Array) -> str:
    ratio = paper[2] / paper[0]
    return "warm, as of a lamp" if ratio < 0.7 else "cold, as of shade" if ratio > 1.3 else "near daylight"


def _against(paper: Array, pixels: ArrayLike) -> Array:
    """Tristimulus values of pixels as they would be with the paper as white, (n, 3)."""
    return adapt(to_linear(pixels) @ _TO_XYZ.T, _TO_XYZ @ paper)


def _nearest(middle: Array, sigma: float, choices: Sequence[Swatch]) -> tuple[Swatch, float]:
    """The swatch nearest to a colour, and the probability that its word is right: the share of what the colour may be for which it is the
    nearest."""
    known = np.stack([swatch_lab(s) for s in choices])
    centre = choices[int(ciede2000(middle, known).argmin())]
    drawn = middle + np.random.default_rng(DRAWS_SEED).normal(0, sigma, (DRAWS, 3)) * np.array([1.0, 0.7, 0.7])
    best = ciede2000(np.clip(drawn, [0, -150, -150], [110, 150, 150])[:, None, :], known[None, :, :]).argmin(axis=1)
    return centre, float(np.mean([choices[k].word == centre.word for k in best]))


def _unknown_sigma(white: Array, middle: Array, whites: int) -> float:
    """What white points do not tell of a colour: the kind of light, its evenness, the camera's tone curve; ΔE₀₀."""
    light = next(s for most, s in LIGHT_SIGMA if white[2] / white[0] < most)
    uneven = UNEVEN_SIGMA[min(whites, len(UNEVEN_SIGMA)) - 1]
    return float(np.sqrt(light**2 + uneven**2 + (TONE_SIGMA * (100 - middle[0])) ** 2))


def _white_at(papers: Sequence[Patch], whites: Array, spot: Patch) -> Array:
    """The paper's light where a spot lies: of one white point that point's; between two by how near each is; over three and more as a plane
    through the logarithm of their light, never far past the brightest or the darkest of them."""
    if len(papers) == 1:
        return np.asarray(whites[0])
    places = np.array([(p.x, p.y) for p in papers])
    here = np.array([spot.x, spot.y])
    logs = np.log(np.maximum(whites, 1e-6))
    spread = np.linalg.matrix_rank(places - places.mean(axis=0), tol=0.05)
    if len(papers) > 2 and spread == 2:
        base = np.column_stack([np.ones(len(places)), places])
        found = np.array([1.0, *here]) @ np.linalg.lstsq(base, logs, rcond=None)[0]
    else:
        near = 1 / (np.square(places - here).sum(axis=1) + 1e-6)
        found = near @ logs / near.sum()
    most = np.log(LIGHT_BEYOND)
    return np.asarray(np.exp(np.clip(found, logs.min(axis=0) - most, logs.max(axis=0) + most)))


def _doubts(paper: ArrayLike, white: Array) -> list[str]:
    """What may be wrong with the light."""
    doubts: list[str] = []
    if white[2] / white[0] < LIGHT_SIGMA[0][0]:
        doubts.append(say("The light is that of a lamp: colours are off by it. Take it by daylight, in the shade."))
    elif white[2] / white[0] < YELLOWISH:
        doubts.append(say("The paper or its light is yellowish: on cream paper every colour is off. White paper by daylight tells more."))
    paper_light = to_linear(paper).mean(axis=-1)
    if float(np.percentile(paper_light, 95)) > UNEVEN_PAPER * float(np.percentile(paper_light, 5)):
        doubts.append(say("The paper is not evenly lit: half in shadow, or a lamp from the side."))
    return doubts


def _working(whites: Array, first: OilColour, last: OilColour) -> Working:
    return Working(
        "light of the spot / light of the paper → XYZ (Bradford) → L*a*b*; ΔE₀₀ to fresh",
        (
            *(("paper, linear", " ".join(f"{v:.3f}" for v in w)) for w in whites),
            ("fresh L*a*b*", " ".join(f"{v:.1f}" for v in first.lab)),
            ("drained L*a*b*", " ".join(f"{v:.1f}" for v in last.lab)),
            ("σ: light, evenness, tone curve, grain", f"{last.sigma:.1f} ΔE"),
            (f"{last.word} with a probability of", percent(last.sure)),
        ),
        "IEC 61966-2-1; CIE 160; ISO/CIE 11664-4 and -6; ASTM D1500 glasses from memory",
    )


def read_colours(
    papers: Sequence[Patch], fresh: Patch, drained: Sequence[Patch], family: str = "gear", shares: Sequence[float | None] = ()
) -> ColourReading:
    """Read drained oils against fresh oil and white paper in the same photo.

    Parameters
    ----------
    papers : white points, one or more: the light between them is taken out by where each oil lies
    fresh : the fresh oil
    drained : one drained oil or more, in the order in which they came out
    family : of the oil, for the swatches
    shares : computed fresh share of each drained oil, 0 to 1, None where it is not known

    Returns
    -------
    ColourReading

    Raises
    ------
    Inconsistent : no drained oil, no white point, a paper that cannot be used, or oil brighter than the paper

    References
    ----------
    The paper is taken as white (media-relative, as ISO 15076-1), by a linear Bradford transform; ISO/CIE 11664-4 and -6. The
    film's thickness is not known, so a swatch is a suggestion.
    """
    if not drained:
        raise Inconsistent(say("Mark at least one drained oil."), field="drained", value=0)
    if not papers:
        raise Inconsistent(say("Mark bare white paper."), field="paper", value=0)
    whites = np.stack([check_paper(p.pixels) for p in papers])
    white = whites[0]
    choices = swatches(family)
    fresh_labs = lab(_against(_white_at(papers, whites, fresh), fresh.pixels))
    base = fresh_labs.mean(axis=0)
    doubts = list(dict.fromkeys(d for p, w in zip(papers, whites, strict=True) for d in _doubts(p.pixels, w)))

    def one(patch: Patch, share: float | None, name: str) -> OilColour:
        pixels, light = patch.pixels, _white_at(papers, whites, patch)
        xyz = _against(light, pixels)
        if xyz[:, 1].mean() > 1.15:
            raise Inconsistent(
                say("{name} is brighter than the paper: the marks are mixed up, or it shines.", name=name), field="drained", value=name
            )
        labs = lab(xyz)
        if np.asarray(pixels, dtype=np.float64).std(axis=0).max() > 28:
            doubts.append(say("{name}: the mark takes in more than one colour, or a reflection.", name=name))
        middle = labs.mean(axis=0)
        delta = float(ciede2000(base, middle))
        spread = np.concatenate([ciede2000(middle, labs), ciede2000(base, fresh_labs)])
        l_a_b = (round(float(middle[0]), 2), round(float(middle[1]), 2), round(float(middle[2]), 2))
        noise = float(np.sqrt(np.mean(spread**2) / max(1.0, np.sqrt(len(labs)))))
        sigma = float(np.hypot(noise, _unknown_sigma(light, middle, len(papers))))
        swatch, sure = _nearest(middle, sigma, choices)
        return OilColour(l_a_b, _hex(xyz.mean(axis=0)), delta, sigma, swatch.word, swatch.d1500, sure, share)

    first = one(fresh, None, "Fresh oil")
    many = len(drained) > 1
    given = [*shares, *[None] * (len(drained) - len(shares))]
    read = tuple(
        one(d, s, say("Drain {k}", k=k) if many else "Drained oil") for k, (d, s) in enumerate(zip(drained, given, strict=False), 1)
    )
    last = read[-1]
    if many and any(b.delta_e > a.delta_e + SEEN_DELTA_E for a, b in itertools.pairwise(read)):
        doubts.append(say("A later drain is darker than the one before: marks mixed up, or old oil came loose."))
    alike = last.delta_e - 2 * last.sigma < SEEN_DELTA_E
    where = say("ASTM D1500 about {d1500:g}, ", d1500=last.d1500) if last.d1500 is not None else ""
    text = (
        say("ΔE {delta_e:.1f} from fresh", delta_e=last.delta_e)
        + (": hardly to be told from it" if alike else "")
        + f"; {where}{last.word}"
        + "."
    )
    return ColourReading(_light_words(white), first, read, tuple(doubts), text, _working(whites, first, last))
