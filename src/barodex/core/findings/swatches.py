"""What an oil's colour is compared with: the glasses of ASTM D1500, and the tints of dyed oils."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from barodex.core.findings.colour_space import _TO_XYZ, C_WHITE, Array, adapt, lab, to_linear, to_srgb
from barodex.core.quantity.errors import OutOfRange, in_range
from barodex.core.words import say

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
        raise OutOfRange(say("ASTM D1500 has no glass {d1500:g}.", d1500=d1500), field="d1500", value=d1500, allowed="0.5, 1.0 … 8.0")
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
