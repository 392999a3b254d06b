"""Oil colour as numbers: CIE L*a*b* relative to the paper beside it, CIEDE2000, and the nearest swatch.

Arrays of colours have their three components on the last axis.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from barodex.core.quantity.errors import Inconsistent, OutOfRange, all_in_range, in_range
from barodex.core.quantity.working import Working, percent

Array = NDArray[np.float64]

# Linear sRGB to CIE XYZ, and its white D65: IEC 61966-2-1.
_TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
D65 = _TO_XYZ.sum(axis=1)
# CIE standard illuminant C, 2° observer: CIE 15.
C_WHITE = np.array([0.98074, 1.0, 1.18232])
# Cone responses of the Bradford transform: CIE 160.
_BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


def to_linear(rgb: ArrayLike) -> Array:
    """Give light from the values of a picture.

    Parameters
    ----------
    rgb : sRGB values, 0 to 255, shape (…, 3)

    Returns
    -------
    array of the same shape, 0 to 1, proportional to light

    Raises
    ------
    OutOfRange : a value outside 0 to 255

    References
    ----------
    IEC 61966-2-1, 5.2.
    """
    v = np.asarray(all_in_range("rgb", rgb, 0, 255)) / 255.0
    return np.asarray(np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4))


def to_srgb(linear: ArrayLike) -> Array:
    """Give the values of a picture from light; what a screen cannot show is cut.

    Parameters
    ----------
    linear : light in linear sRGB, shape (…, 3)

    Returns
    -------
    array of the same shape, 0 to 255

    References
    ----------
    IEC 61966-2-1, 5.2.
    """
    v = np.clip(np.asarray(linear, dtype=np.float64), 0.0, 1.0)
    return np.where(v <= 0.0031308, v * 12.92, 1.055 * v ** (1 / 2.4) - 0.055) * 255.0


def lab(xyz: ArrayLike, white: ArrayLike = D65) -> Array:
    """Give CIE L*a*b*.

    Parameters
    ----------
    xyz : tristimulus values, Y of white 1, shape (…, 3)
    white : those of the white that it is seen against

    Returns
    -------
    array of the same shape: L*, a*, b*

    References
    ----------
    ISO/CIE 11664-4.
    """
    t = np.asarray(xyz, dtype=np.float64) / np.asarray(white, dtype=np.float64)
    f = np.where(t > (6 / 29) ** 3, np.cbrt(t), t * (29 / 6) ** 2 / 3 + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def adapt(xyz: ArrayLike, white: ArrayLike, to_white: ArrayLike = D65) -> Array:
    """Bring colours seen under one white to another.

    Parameters
    ----------
    xyz : tristimulus values, shape (…, 3)
    white, to_white : the white that they were seen under, and the one to see them under; none of their components 0

    Returns
    -------
    array of the same shape

    References
    ----------
    Linear Bradford transform, CIE 160:2004.
    """
    gain = (_BRADFORD @ np.asarray(to_white)) / (_BRADFORD @ np.asarray(white))
    return np.asarray(np.asarray(xyz, dtype=np.float64) @ (np.linalg.inv(_BRADFORD) @ np.diag(gain) @ _BRADFORD).T)


def ciede2000(one: ArrayLike, other: ArrayLike) -> Array:
    """Give the colour difference ΔE₀₀; about 1 can just be seen side by side.

    Parameters
    ----------
    one, other : L*a*b*, shapes (…, 3) that broadcast; L* 0 to 110, a* and b* −200 to 200

    Returns
    -------
    array of the shape without the last axis

    Raises
    ------
    OutOfRange : a component outside −200 to 200

    References
    ----------
    ISO/CIE 11664-6; Sharma, Wu and Dalal (2005), whose notes on hue are followed; all weights 1.
    """
    p, q = all_in_range("lab", one, -200, 200), all_in_range("lab", other, -200, 200)
    c_mean = (np.hypot(p[..., 1], p[..., 2]) + np.hypot(q[..., 1], q[..., 2])) / 2
    g = 1.5 - 0.5 * np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7))
    a1, a2 = g * p[..., 1], g * q[..., 1]
    c1, c2 = np.hypot(a1, p[..., 2]), np.hypot(a2, q[..., 2])
    h1, h2 = np.degrees(np.arctan2(p[..., 2], a1)) % 360, np.degrees(np.arctan2(q[..., 2], a2)) % 360
    grey = c1 * c2 == 0
    apart = h2 - h1
    dh = np.where(grey, 0.0, np.where(apart > 180, apart - 360, np.where(apart < -180, apart + 360, apart)))
    both = h1 + h2
    h = np.where(grey, both, np.where(np.abs(apart) <= 180, both / 2, np.where(both < 360, both / 2 + 180, both / 2 - 180)))
    light, chroma = (p[..., 0] + q[..., 0]) / 2, (c1 + c2) / 2
    r = np.radians
    t = 1 - 0.17 * np.cos(r(h - 30)) + 0.24 * np.cos(r(2 * h)) + 0.32 * np.cos(r(3 * h + 6)) - 0.20 * np.cos(r(4 * h - 63))
    s_l = 1 + 0.015 * (light - 50) ** 2 / np.sqrt(20 + (light - 50) ** 2)
    s_c, s_h = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    turn = -2 * np.sqrt(chroma**7 / (chroma**7 + 25.0**7)) * np.sin(r(60 * np.exp(-(((h - 275) / 25) ** 2))))
    d_l = (q[..., 0] - p[..., 0]) / s_l
    d_c = (c2 - c1) / s_c
    d_h = 2 * np.sqrt(c1 * c2) * np.sin(r(dh / 2)) / s_h
    return np.asarray(np.sqrt(np.maximum(0.0, d_l**2 + d_c**2 + d_h**2 + turn * d_c * d_h)))


# --- what oil is compared with ---------------------------------------------------------------------------------------

# ASTM D1500, table of glass colour standards, from memory: number, chromaticity r g b on the UCS of Judd (1935), and
# luminous transmittance for CIE illuminant C.
_D1500 = (
    (0.5, 0.462, 0.473, 0.065, 0.86),
    (1.0, 0.489, 0.475, 0.036, 0.77),
    (1.5, 0.521, 0.464, 0.015, 0.67),
    (2.0, 0.552, 0.442, 0.006, 0.55),
    (2.5, 0.582, 0.416, 0.002, 0.44),
    (3.0, 0.611, 0.388, 0.001, 0.31),
    (3.5, 0.640, 0.359, 0.001, 0.22),
    (4.0, 0.671, 0.328, 0.001, 0.152),
    (4.5, 0.703, 0.296, 0.001, 0.109),
    (5.0, 0.736, 0.264, 0.000, 0.081),
    (5.5, 0.770, 0.230, 0.000, 0.058),
    (6.0, 0.805, 0.195, 0.000, 0.040),
    (6.5, 0.841, 0.159, 0.000, 0.026),
    (7.0, 0.877, 0.123, 0.000, 0.016),
    (7.5, 0.915, 0.085, 0.000, 0.0081),
    (8.0, 0.956, 0.044, 0.000, 0.0025),
)
# CIE XYZ to the UCS of Judd (1935), from memory.
_UCS = np.array([[3.1956, 2.4478, -0.1434], [-2.5455, 7.0492, 0.9963], [0.0, 0.0, 1.0]])

# Tints of dyed oils, our own reading of common practice: D1500 is for undyed oils.
_TINTS = {
    "atf": ("#C6384C", "#A93A36", "#87442E", "#59291D", "#211210"),
    "ester turbine": ("#CBD8BD", "#BDB884", "#9B7A3C", "#64431E", "#1E140D"),
    "hub": ("#CBD8BD", "#BDB884", "#9B7A3C", "#64431E", "#1E140D"),
    "clutch fluid": ("#A99DB8", "#8F7F93", "#7A5F5A", "#513A36", "#201614"),
}
_WORDS = ("fresh", "darker", "brown", "dark brown", "black")
_BROWNER_FROM = (1.75, 3.25, 4.75, 6.75)  # D1500 from which the next word holds (common practice)


@dataclass(frozen=True)
class Swatch:
    """A colour to compare with: the word that is noted, its ASTM D1500 number where it has one, and how a screen shows it."""

    word: str
    d1500: float | None
    hex: str


def word_of(d1500: float) -> str:
    """Give the word for an ASTM D1500 number.

    Parameters
    ----------
    d1500 : 0.5 to 8

    Returns
    -------
    str: fresh, darker, brown, dark brown, black

    Raises
    ------
    OutOfRange : outside 0.5 to 8

    References
    ----------
    The numbers are ASTM D1500; where one word ends and the next begins is common practice.
    """
    number = in_range("d1500", d1500, 0.5, 8)
    return _WORDS[sum(number >= edge for edge in _BROWNER_FROM)]


def glass_xyz(d1500: float) -> Array:
    """Give the tristimulus values of a glass colour standard, seen under D65.

    Parameters
    ----------
    d1500 : one of 0.5, 1.0 … 8.0

    Returns
    -------
    array (3,), Y of white 1

    Raises
    ------
    OutOfRange : no such glass

    References
    ----------
    ASTM D1500 (values from memory), Judd (1935) UCS, Bradford from illuminant C to D65.
    """
    row = next((g for g in _D1500 if g[0] == d1500), None)
    if row is None:
        raise OutOfRange(f"ASTM D1500 has no glass {d1500:g}.", field="d1500", value=d1500, allowed="0.5, 1.0 … 8.0")
    xyz = np.linalg.solve(_UCS, np.array(row[1:4]))
    return adapt(xyz / xyz[1] * row[4], C_WHITE)


def _hex(xyz: Array) -> str:
    values = to_srgb(np.linalg.solve(_TO_XYZ, xyz)).round().astype(int)
    return "#" + "".join(f"{v:02X}" for v in values)


def swatches(family: str) -> tuple[Swatch, ...]:
    """Give the colours that an oil of a family is compared with, from fresh to black.

    Parameters
    ----------
    family : of the oil

    Returns
    -------
    tuple of Swatch: the sixteen glasses of ASTM D1500, or the tints of a dyed oil

    References
    ----------
    ASTM D1500 for undyed oils; the tints of dyed ones are common practice.
    """
    if family in _TINTS:
        return tuple(Swatch(word, None, shade) for word, shade in zip(_WORDS, _TINTS[family], strict=True))
    return tuple(Swatch(word_of(number), number, _hex(glass_xyz(number))) for number, *_ in _D1500)


def swatch_lab(swatch: Swatch) -> Array:
    """Give L*a*b* of a swatch.

    Parameters
    ----------
    swatch : from :func:`swatches`

    Returns
    -------
    array (3,), against D65

    References
    ----------
    ISO/CIE 11664-4.
    """
    if swatch.d1500 is not None:
        return lab(glass_xyz(swatch.d1500))
    rgb = [int(swatch.hex[k : k + 2], 16) for k in (1, 3, 5)]
    return lab(to_linear(rgb) @ _TO_XYZ.T)


# --- a photo's spots -------------------------------------------------------------------------------------------------

DARK, BLOWN = 0.06, 0.97  # light of the paper, as a share of what the camera can take (common practice)
GREY_RATIOS = ((0.35, 1.6), (0.08, 2.6))  # green to red and blue to red of paper under daylight to lamp light (common practice)
SEEN_DELTA_E = 2.0  # below it two spots beside each other are called alike (common practice)


@dataclass(frozen=True)
class OilColour:
    """One spot of oil: L*a*b* against the paper, how a screen shows it, ΔE₀₀ to fresh oil with its σ, the nearest swatch and how sure."""

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
            "The paper is blown out: the camera took too much light. Take it again, less bright.", field="paper", value="blown out"
        )
    if mean.max() < DARK:
        raise Inconsistent("The photo is too dark to read a colour from: more light, no shadow.", field="paper", value="dark")
    ratios = (mean[1] / max(mean[0], 1e-6), mean[2] / max(mean[0], 1e-6))
    if any(not low <= ratio <= high for ratio, (low, high) in zip(ratios, GREY_RATIOS, strict=True)):
        raise Inconsistent("There is no white under the paper's mark: put it on bare white paper.", field="paper", value="no white")
    return np.asarray(mean, dtype=np.float64)


def _light_words(paper: Array) -> str:
    ratio = paper[2] / paper[0]
    return "warm, as of a lamp" if ratio < 0.7 else "cold, as of shade" if ratio > 1.3 else "near daylight"


def _against(paper: Array, pixels: ArrayLike) -> Array:
    """Tristimulus values of pixels as they would be with the paper as white, (n, 3)."""
    return adapt(to_linear(pixels) @ _TO_XYZ.T, _TO_XYZ @ paper)


def _nearest(labs: Array, choices: Sequence[Swatch]) -> tuple[Swatch, float]:
    """The swatch nearest to a spot, and the share of its pixels for which the same word is nearest."""
    known = np.stack([swatch_lab(s) for s in choices])
    best = ciede2000(labs[:, None, :], known[None, :, :]).argmin(axis=1)
    centre = choices[int(ciede2000(labs.mean(axis=0), known).argmin())]
    return centre, float(np.mean([choices[k].word == centre.word for k in best]))


def read_colours(
    paper: ArrayLike, fresh: ArrayLike, drained: Sequence[ArrayLike], family: str = "gear", shares: Sequence[float | None] = ()
) -> ColourReading:
    """Read drained oils against fresh oil and white paper in the same photo.

    Parameters
    ----------
    paper, fresh : pixels under the marks, sRGB 0 to 255, shape (n, 3)
    drained : the same for one drained oil or more, in the order in which they came out
    family : of the oil, for the swatches
    shares : computed fresh share of each drained oil, 0 to 1, None where it is not known

    Returns
    -------
    ColourReading

    Raises
    ------
    Inconsistent : no drained oil, a paper that cannot be used, or oil brighter than the paper

    References
    ----------
    The paper is taken as white (media-relative, as ISO 15076-1), by a linear Bradford transform; ISO/CIE 11664-4 and -6. The
    film's thickness is not known, so a swatch is a suggestion.
    """
    if not drained:
        raise Inconsistent("Mark at least one drained oil.", field="drained", value=0)
    white = check_paper(paper)
    choices = swatches(family)
    fresh_labs = lab(_against(white, fresh))
    base = fresh_labs.mean(axis=0)
    doubts: list[str] = []

    def one(pixels: ArrayLike, share: float | None, name: str) -> OilColour:
        xyz = _against(white, pixels)
        if xyz[:, 1].mean() > 1.15:
            raise Inconsistent(f"{name} is brighter than the paper: the marks are mixed up, or it shines.", field="drained", value=name)
        labs = lab(xyz)
        if np.asarray(pixels, dtype=np.float64).std(axis=0).max() > 28:
            doubts.append(f"{name}: the mark takes in more than one colour, or a reflection.")
        middle = labs.mean(axis=0)
        delta = float(ciede2000(base, middle))
        spread = np.concatenate([ciede2000(middle, labs), ciede2000(base, fresh_labs)])
        swatch, sure = _nearest(labs, choices)
        l_a_b = (round(float(middle[0]), 2), round(float(middle[1]), 2), round(float(middle[2]), 2))
        sigma = float(np.sqrt(np.mean(spread**2) / max(1.0, np.sqrt(len(labs)))))
        return OilColour(l_a_b, _hex(xyz.mean(axis=0)), delta, sigma, swatch.word, swatch.d1500, sure, share)

    first = one(fresh, None, "Fresh oil")
    many = len(drained) > 1
    given = [*shares, *[None] * (len(drained) - len(shares))]
    read = tuple(one(d, s, f"Drain {k}" if many else "Drained oil") for k, (d, s) in enumerate(zip(drained, given, strict=False), 1))
    last = read[-1]
    if many and any(b.delta_e > a.delta_e + SEEN_DELTA_E for a, b in itertools.pairwise(read)):
        doubts.append("A later drain is darker than the one before: marks mixed up, or old oil came loose.")
    alike = last.delta_e - 2 * last.sigma < SEEN_DELTA_E
    where = f"ASTM D1500 about {last.d1500:g}, " if last.d1500 is not None else ""
    text = f"ΔE {last.delta_e:.1f} from fresh" + (": hardly to be told from it" if alike else "") + f"; {where}{last.word}" + "."
    working = Working(
        "light of the spot / light of the paper → XYZ (Bradford) → L*a*b*; ΔE₀₀ to fresh",
        (
            ("paper, linear", " ".join(f"{v:.3f}" for v in white)),
            ("fresh L*a*b*", " ".join(f"{v:.1f}" for v in first.lab)),
            ("drained L*a*b*", " ".join(f"{v:.1f}" for v in last.lab)),
            ("nearest swatch for", f"{percent(last.sure)} of the pixels"),
        ),
        "IEC 61966-2-1; CIE 160; ISO/CIE 11664-4 and -6; ASTM D1500 glasses from memory",
    )
    return ColourReading(_light_words(white), first, read, tuple(doubts), text, working)
