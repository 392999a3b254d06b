"""Where things stand on two pictures: an oil's line on the axes of ASTM D341, and the bands of the three grade scales side by side.

Places are shares of the picture's width and height, 0 to 1 from left and from bottom, so that a page only scales them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.oil.grades import Grade, kv40_band, table
from barodex.core.oil.viscosity import KELVIN, THINNEST, Thickness, kv40_for_index, open_band, thickness_of_grade, walther
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.words import say

T_FROM, T_TO = -40.0, 120.0
KV_FROM, KV_TO = 3.0, 1e5
T_TICKS = (-40, -20, 0, 20, 40, 60, 80, 100, 120)
KV_TICKS = (3, 5, 10, 20, 50, 100, 300, 1000, 10_000, 100_000)
SHOWN_AT = (-20.0, 0.0, 40.0, 80.0, 100.0)


def place_t(temperature_c: float) -> float:
    """Give where a temperature stands on the axis of log10 T.

    Parameters
    ----------
    temperature_c : °C, −60 to 200; outside −40 to 120 the place lies outside 0 to 1

    Returns
    -------
    float, share of the width

    Raises
    ------
    OutOfRange : outside −60 to 200 °C

    References
    ----------
    ASTM D341: abscissa log10 T, T in K.
    """
    t = in_range("temperature_c", temperature_c, -60, 200, "°C")
    low, high = math.log10(T_FROM + KELVIN), math.log10(T_TO + KELVIN)
    return (math.log10(t + KELVIN) - low) / (high - low)


def place_kv(kv: float) -> float:
    """Give where a viscosity stands on the axis of log10 log10(ν + 0.7).

    Parameters
    ----------
    kv : kinematic viscosity, mm²/s, 2 to 10⁹

    Returns
    -------
    float, share of the height; outside 3 to 100 000 mm²/s it lies outside 0 to 1

    Raises
    ------
    OutOfRange : outside 2 to 10⁹ mm²/s

    References
    ----------
    ASTM D341: ordinate log10 log10(ν + 0.7).
    """
    low, high = float(walther(KV_FROM)), float(walther(KV_TO))
    return (float(walther(kv)) - low) / (high - low)


@dataclass(frozen=True)
class Tick:
    value: float
    at: float


@dataclass(frozen=True)
class Point:
    """A point of a line: its place, and what stands there in °C and mm²/s."""

    x: float
    y: float
    temperature_c: float
    kv: float


@dataclass(frozen=True)
class OilLine:
    """An oil's line, its points at the temperatures shown in the table, and whether it is estimated."""

    name: str
    points: tuple[Point, ...]
    shown: tuple[Point, ...]
    estimated: bool
    basis: str


@dataclass(frozen=True)
class Band:
    """The asked grade's band as two lines, thin and thick side."""

    name: str
    thin: tuple[Point, ...]
    thick: tuple[Point, ...]


@dataclass(frozen=True)
class ViscosityChart:
    t_ticks: tuple[Tick, ...]
    kv_ticks: tuple[Tick, ...]
    lines: tuple[OilLine, ...]
    band: Band | None
    ambient: tuple[float, float] | None


def line_points(thickness: Thickness, temperatures_c: Sequence[float]) -> tuple[Point, ...]:
    """Give the places of an oil's line, as far as ASTM D341 holds (2 mm²/s and above).

    Parameters
    ----------
    thickness : two points of the oil's line
    temperatures_c : °C, −40 to 150

    Returns
    -------
    tuple of :class:`Point`; temperatures at which the oil is thinner than 2 mm²/s or thicker than 10⁹ mm²/s are left out

    References
    ----------
    ASTM D341.
    """
    w40, w100 = float(walther(thickness.kv40)), float(walther(thickness.kv100))
    x40, x100 = math.log10(40 + KELVIN), math.log10(100 + KELVIN)
    found = []
    for t in temperatures_c:
        w = w40 + (w100 - w40) * (math.log10(t + KELVIN) - x40) / (x100 - x40)
        if not float(walther(THINNEST)) <= w <= float(walther(1e9)):
            continue
        kv = float(10.0 ** (10.0**w) - 0.7)
        found.append(Point(place_t(t), place_kv(max(kv, THINNEST)), t, kv))
    return tuple(found)


def viscosity_chart(
    oils: Sequence[tuple[str, Thickness]],
    grade: Grade | None = None,
    ambient_min_c: float | None = None,
    ambient_max_c: float | None = None,
    edition: str = "2005",
) -> ViscosityChart:
    """Draw up to four oils on the axes of ASTM D341, on which an oil is a straight line, with the asked band and the weather.

    Parameters
    ----------
    oils : (name, two points of its line), at most four
    grade : the asked grade, whose band is drawn; None for no band
    ambient_min_c, ambient_max_c : coldest and warmest air expected, °C; None for not known
    edition : of SAE J306

    Returns
    -------
    ViscosityChart

    Raises
    ------
    OutOfRange : more than four oils, or a temperature outside −60 to 60 °C
    Unreadable : a grade without a band

    References
    ----------
    ASTM D341; the band's two lines assume the same viscosity index as the grade's middle (common practice).
    """
    in_range("oils", len(oils), 0, 4)
    temperatures = [float(t) for t in np.linspace(T_FROM, T_TO, 33)]
    lines = tuple(OilLine(n, line_points(t, temperatures), line_points(t, SHOWN_AT), t.estimated, t.basis) for n, t in oils)
    band = None
    if grade is not None:
        low, high = _band_lines(grade, edition)
        band = Band(str(grade), line_points(low, temperatures), line_points(high, temperatures))
    ambient = None
    if ambient_min_c is not None:
        cold = in_range("ambient_min_c", ambient_min_c, -60, 60, "°C")
        warm = in_range("ambient_max_c", cold if ambient_max_c is None else ambient_max_c, -60, 60, "°C")
        if warm < cold:
            raise Inconsistent(say("The coldest day cannot be warmer than the warmest."), field="ambient_min_c", value=cold)
        ambient = (max(0.0, place_t(cold)), min(1.0, place_t(warm)))
    t_ticks = tuple(Tick(t, place_t(t)) for t in T_TICKS)
    return ViscosityChart(t_ticks, tuple(Tick(v, place_kv(v)) for v in KV_TICKS), lines, band, ambient)


def _band_lines(grade: Grade, edition: str) -> tuple[Thickness, Thickness]:
    middle = thickness_of_grade(grade, edition)
    if grade.scale == "industrial":
        thin, thick = kv40_band(grade)
        return tuple(Thickness(kv40, middle.kv100 * kv40 / middle.kv40, True, middle.basis) for kv40 in (thin, thick))  # type: ignore[return-value]
    index = 150.0 if grade.winter and grade.summer else 95.0
    low, high = open_band(grade, edition)
    return tuple(Thickness(kv40_for_index(kv, index), kv, True, middle.basis) for kv in (low, high))  # type: ignore[return-value]


@dataclass(frozen=True)
class ScaleBand:
    """A grade on one of the scales: its band at 100 °C, mm²/s (open above when ``high`` is None), and where it stands."""

    name: str
    low: float
    high: float | None
    bottom: float
    top: float


@dataclass(frozen=True)
class Scale:
    """A grade scale with its standard."""

    name: str
    standard: str
    note: str
    bands: tuple[ScaleBand, ...]


@dataclass(frozen=True)
class Scales:
    """The three scales beside each other, on one axis of viscosity at 100 °C, mm²/s (logarithmic)."""

    ticks: tuple[Tick, ...]
    scales: tuple[Scale, ...]


SCALE_FROM, SCALE_TO = 2.0, 60.0


def scales(edition: str = "2005") -> Scales:
    """Put gear, engine and industrial grades side by side by their viscosity at 100 °C, so that "30 is not 30" is seen.

    Parameters
    ----------
    edition : of SAE J306

    Returns
    -------
    Scales; ISO grades, which are set at 40 °C, stand where an oil of viscosity index 95 would: estimated

    References
    ----------
    SAE J306 (2005, 2019), SAE J300, ISO 3448; the index of 95 is that of the annex of ISO 3448, common practice.
    """

    def at(kv: float) -> float:
        share = (math.log10(kv) - math.log10(SCALE_FROM)) / (math.log10(SCALE_TO) - math.log10(SCALE_FROM))
        return min(1.0, max(0.0, share))

    def of(scale: str) -> tuple[ScaleBand, ...]:
        rows = table(scale, edition)["grades"].items()
        return tuple(ScaleBand(say("SAE {n}", n=n), low, high, at(low), at(high or SCALE_TO)) for n, (low, high) in rows)

    industrial = []
    for name in table("industrial")["grades"]:
        middle = thickness_of_grade(Grade("industrial", "", name)) if float(name) >= 15 else None
        if middle is None or middle.kv100 > SCALE_TO:
            continue
        low, high = _band_lines(Grade("industrial", "", name), edition)
        industrial.append(ScaleBand(say("VG {name}", name=name), low.kv100, high.kv100, at(low.kv100), at(high.kv100)))
    ticks = tuple(Tick(v, at(v)) for v in (2, 3, 4, 5, 7, 10, 15, 20, 30, 40, 60))
    gear = table("gear", edition)
    return Scales(
        ticks,
        (
            Scale("gear", say("SAE J306, {gear}", gear=gear["edition"]), say("set at 100 °C"), of("gear")),
            Scale("engine", "SAE J300", say("set at 100 °C"), of("engine")),
            Scale("industrial", "ISO 3448", say("set at 40 °C; placed for a viscosity index of 95, estimated"), tuple(industrial)),
        ),
    )
