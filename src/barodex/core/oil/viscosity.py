"""How thick an oil is at a temperature: from two measured points, from its grade when there is no data sheet, and blended."""

from __future__ import annotations

import functools
import importlib.resources
import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from barodex.core import data
from barodex.core.oil.grades import Grade, kv40_band, kv100_band, table
from barodex.core.quantity.errors import Inconsistent, OutOfRange, all_in_range, in_range
from barodex.core.words import say

KELVIN = 273.15
THINNEST = 2.0  # mm²/s: below, the simple form of ASTM D341 does not hold
THICKEST = 1e5  # mm²/s, more than any oil of the trade at 40 °C
ASSUMED_VI = {"multigrade": 150.0, "straight": 95.0}  # common practice, where no data sheet is at hand


def walther(kv: Any) -> Any:
    """Give W = log10 log10(ν + 0.7), the scale on which an oil's line is straight over log10 T.

    Parameters
    ----------
    kv : kinematic viscosity, mm²/s, 2 to 10⁹; a number or an array

    Returns
    -------
    float or array, without unit

    Raises
    ------
    OutOfRange : outside that range

    References
    ----------
    ASTM D341 (Walther).
    """
    return np.log10(np.log10(all_in_range("kv", kv, THINNEST, 1e9, "mm²/s") + 0.7))


def _line(kv40: Any, kv100: Any) -> tuple[Any, Any]:
    """A and B of W = A − B·log10 T through the two points."""
    kv40 = all_in_range("kv40", kv40, THINNEST, THICKEST, "mm²/s")
    kv100 = all_in_range("kv100", kv100, THINNEST, THICKEST, "mm²/s")
    if np.any(kv100 >= kv40):
        first = np.argmax(np.atleast_1d(kv100 >= kv40))
        at100, at40 = (float(np.atleast_1d(np.broadcast_to(v, np.broadcast(kv40, kv100).shape)).flat[first]) for v in (kv100, kv40))
        raise Inconsistent(
            say(
                "An oil is thinner hot than cold: {at100:g} mm²/s at 100 °C does not fit {at40:g} mm²/s at 40 °C. Were they swapped?",
                at100=at100,
                at40=at40,
            ),
            field="kv100",
            value=at100,
            allowed=say("below {at40:g} mm²/s", at40=at40),
        )
    w40, w100 = walther(kv40), walther(kv100)
    t40, t100 = math.log10(40 + KELVIN), math.log10(100 + KELVIN)
    slope = (w40 - w100) / (t100 - t40)
    return w40 + slope * t40, slope


def kinematic_viscosity(kv40: Any, kv100: Any, temperature_c: Any) -> Any:
    """Give the kinematic viscosity of an oil at a temperature from its two data-sheet points.

    log10 log10(ν + 0.7) = A − B·log10 T, T in K.

    Parameters
    ----------
    kv40, kv100 : kinematic viscosity at 40 and 100 °C, mm²/s, 2 to 100 000; numbers or arrays that broadcast
    temperature_c : °C, −40 to 150; a number or an array

    Returns
    -------
    float or array, mm²/s; within a few per cent between the points, less sure towards −40 °C, where oils with wax or polymer
    leave the line

    Raises
    ------
    OutOfRange : outside the ranges, or a result below 2 mm²/s, where this form of the standard does not hold
    Inconsistent : kv100 not below kv40

    References
    ----------
    ASTM D341 (Walther).
    """
    a, b = _line(kv40, kv100)
    kelvin = all_in_range("temperature_c", temperature_c, -40, 150, "°C") + KELVIN
    kv = 10.0 ** (10.0 ** (a - b * np.log10(kelvin))) - 0.7
    if np.any(kv < THINNEST):
        raise OutOfRange(
            say(
                "At that temperature the oil is thinner than {thinnest:g} mm²/s, where ASTM D341 does not hold in this form.",
                thinnest=THINNEST,
            ),
            field="temperature_c",
            value=float(np.max(temperature_c)),
            allowed=say("down to 2 mm²/s"),
        )
    return kv if np.ndim(kv) else float(kv)


def temperature_for_viscosity(kv40: float, kv100: float, kv: float) -> float:
    """Give the temperature at which an oil has a viscosity: the inverse of :func:`kinematic_viscosity`.

    Parameters
    ----------
    kv40, kv100 : kinematic viscosity at 40 and 100 °C, mm²/s
    kv : the viscosity sought, mm²/s, 2 to 10⁹

    Returns
    -------
    float, °C

    Raises
    ------
    OutOfRange : outside the ranges, or a temperature outside −40 to 150 °C
    Inconsistent : kv100 not below kv40

    References
    ----------
    ASTM D341 (Walther).
    """
    a, b = _line(kv40, kv100)
    exponent = float((a - walther(kv)) / b)
    return in_range("temperature_c", 10.0**exponent - KELVIN, -40, 150, "°C")


@functools.cache
def _segments() -> tuple[tuple[float, ...], ...]:
    text = importlib.resources.files(data).joinpath("astm_d2270.json").read_text("utf-8")
    return tuple(tuple(row) for row in json.loads(text)["segments"])


def _l_and_h(kv100: float) -> tuple[float, float]:
    y = in_range("kv100", kv100, THINNEST, 1000, "mm²/s")
    a, b, c, d, e, f = next(row[2:] for row in reversed(_segments()) if y >= row[0])
    return a * y * y + b * y + c, d * y * y + e * y + f


def viscosity_index(kv40: float, kv100: float) -> float:
    """Give the viscosity index, by procedure A up to 100 and procedure B above.

    Parameters
    ----------
    kv40, kv100 : kinematic viscosity at 40 and 100 °C, mm²/s; kv100 from 2 to 1000

    Returns
    -------
    float, without unit; the standard reports it rounded to a whole number

    Raises
    ------
    OutOfRange : kv100 below 2 mm²/s, for which the standard has no reference oils
    Inconsistent : kv100 not below kv40

    References
    ----------
    ASTM D2270.
    """
    _line(kv40, kv100)
    low, high = _l_and_h(kv100)
    if kv40 >= high:
        return float((low - kv40) / (low - high) * 100.0)
    n = (math.log10(high) - math.log10(kv40)) / math.log10(kv100)
    return float((10.0**n - 1.0) / 0.00715 + 100.0)


def kv40_for_index(kv100: float, index: float) -> float:
    """Give the viscosity at 40 °C of an oil with this viscosity index: D2270 read backwards.

    Parameters
    ----------
    kv100 : kinematic viscosity at 100 °C, mm²/s, 2 to 1000
    index : viscosity index, 0 to 400

    Returns
    -------
    float, mm²/s at 40 °C

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    ASTM D2270, solved for U.
    """
    low, high = _l_and_h(kv100)
    index = in_range("index", index, 0, 400)
    if index <= 100:
        return float(low - index / 100.0 * (low - high))
    return float(high / kv100 ** math.log10((index - 100.0) * 0.00715 + 1.0))


def blend_viscosity(parts: Sequence[tuple[float, float]]) -> float:
    """Give the viscosity of a blend of oils at one temperature.

    Parameters
    ----------
    parts : (volume fraction, kinematic viscosity in mm²/s), all at one temperature; fractions add up to 1

    Returns
    -------
    float, mm²/s at that temperature; within about 10 % for oils of one kind

    Raises
    ------
    Inconsistent : no part, or fractions that do not add up to 1
    OutOfRange : a fraction outside 0 to 1, or a viscosity below 2 mm²/s

    References
    ----------
    ASTM D7152, procedure by volume: the Walther numbers add up in proportion.
    """
    total = sum(in_range("fraction", share, 0, 1) for share, _ in parts)
    if not parts or abs(total - 1.0) > 1e-6:
        raise Inconsistent(
            say("The shares of a blend add up to 1, not {total:g}.", total=total), field="fraction", value=total, allowed="1"
        )
    mean = sum(share * float(walther(kv)) for share, kv in parts)
    return float(10.0 ** (10.0**mean) - 0.7)


@dataclass(frozen=True)
class Thickness:
    """Two points of an oil's line, mm²/s at 40 and 100 °C. ``estimated``: not measured; ``basis`` says from what."""

    kv40: float
    kv100: float
    estimated: bool
    basis: str

    def at(self, temperature_c: float) -> float:
        """Kinematic viscosity, mm²/s, at a temperature in °C."""
        return float(kinematic_viscosity(self.kv40, self.kv100, temperature_c))


def open_band(grade: Grade, edition: str = "2005") -> tuple[float, float]:
    """Give a band at 100 °C that is closed at both ends, for grades to which the standard sets only a lower limit.

    Parameters
    ----------
    grade : a gear or engine grade
    edition : of SAE J306

    Returns
    -------
    (lowest, highest), mm²/s at 100 °C. A winter grade alone ends at the middle of the next band, grade 250 at 1.3 times its limit:
    our reading, not the standard's

    Raises
    ------
    Unreadable : a grade without a band at 100 °C

    References
    ----------
    SAE J306 (2005, 2019) for the lower limit; the upper one is common practice.
    """
    low, high = kv100_band(grade, edition)
    if high is not None:
        return low, high
    if not grade.summer:
        above = [(a, b) for a, b in table(grade.scale, edition)["grades"].values() if a > low and b is not None]
        if above:
            return low, sum(above[0]) / 2
    return low, 1.3 * low


def thickness_of_grade(grade: Grade, edition: str = "2005") -> Thickness:
    """Estimate an oil's line from its grade alone: the middle of the band and an assumed viscosity index.

    Parameters
    ----------
    grade : any :class:`Grade` with a band
    edition : of SAE J306

    Returns
    -------
    Thickness, always marked as estimated; the index is taken as 150 for a multigrade, 95 for a straight or industrial grade

    Raises
    ------
    Unreadable : a grade without a band

    References
    ----------
    SAE J306, SAE J300, ISO 3448 for the bands; ASTM D2270 for the index; the assumed indices are common practice.
    """
    assumed = ASSUMED_VI["multigrade" if grade.winter and grade.summer else "straight"]
    if grade.scale == "industrial":
        kv40 = sum(kv40_band(grade)) / 2
        thin, thick = THINNEST, min(kv40, 1000.0)
        while thick - thin > 1e-6:
            middle = (thin + thick) / 2
            thin, thick = (middle, thick) if kv40_for_index(middle, assumed) < kv40 else (thin, middle)
        return Thickness(kv40, thick, True, say("ISO 3448 mid-point, viscosity index {assumed:.0f} assumed", assumed=assumed))
    kv100 = sum(open_band(grade, edition)) / 2
    return Thickness(
        kv40_for_index(kv100, assumed),
        kv100,
        True,
        say("middle of {grade}, viscosity index {assumed:.0f} assumed", grade=grade, assumed=assumed),
    )
