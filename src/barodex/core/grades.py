"""Viscosity grades and service categories: what stands on a label, read and compared.

Gear numbers (SAE J306), engine numbers (SAE J300) and industrial numbers (ISO 3448) are different scales; a grade always says
which one it is on.
"""

from __future__ import annotations

import difflib
import functools
import importlib.resources
import json
import re
from dataclasses import dataclass
from typing import Any

from .errors import OutOfRange, Unreadable, in_range

SCALES = ("gear", "engine", "industrial")
EDITIONS = ("2005", "2019")
_FILES = {"gear": "sae_j306.json", "engine": "sae_j300.json", "industrial": "iso_3448.json"}
_ENGINE_WINTER = ("0W", "5W", "10W", "15W", "20W", "25W")


@functools.cache
def table(scale: str, edition: str = "2005") -> dict[str, Any]:
    """Give the published table of a scale.

    Parameters
    ----------
    scale : gear (SAE J306), engine (SAE J300) or industrial (ISO 3448)
    edition : of SAE J306, 2005 or 2019 (the latter from memory); the other scales have one here

    Returns
    -------
    dict with title, edition, units, grades and, for gear, winter

    Raises
    ------
    Unreadable : another scale or edition

    References
    ----------
    SAE J306 (2005, 2019); SAE J300; ISO 3448. The figures are data files beside this module.
    """
    if scale not in _FILES:
        raise Unreadable(f"No scale “{scale}”; known are {', '.join(SCALES)}.", field="scale", value=scale)
    if edition not in EDITIONS:
        raise Unreadable(f"No edition “{edition}” of SAE J306; known are {', '.join(EDITIONS)}.", field="edition", value=edition)
    name = "sae_j306_2019.json" if scale == "gear" and edition == "2019" else _FILES[scale]
    text = importlib.resources.files(__package__).joinpath("data", name).read_text("utf-8")
    return dict(json.loads(text))


@dataclass(frozen=True)
class Grade:
    """A grade: ``scale`` gear, engine or industrial, ``winter`` such as 75W or empty, ``summer`` such as 90 or empty."""

    scale: str
    winter: str
    summer: str

    def __str__(self) -> str:
        if self.scale == "industrial":
            return f"ISO VG {self.summer}"
        return "-".join(p for p in (self.winter, self.summer) if p) if self.winter else f"SAE {self.summer}"


@functools.lru_cache(maxsize=4096)
def parse_grade(text: str, scale: str = "gear", edition: str = "2005") -> Grade:
    """Read a viscosity grade as it stands on a label.

    Parameters
    ----------
    text : ``75W-90``, ``75w90``, ``SAE 80W/90``, ``SAE 30``, ``ISO VG 46``; at most 40 characters
    scale : which scale a straight number belongs to where both have it, gear or engine
    edition : of SAE J306; grades 65, 70 and 75 exist since 2019

    Returns
    -------
    Grade; winter grades 70W and above are gear grades, 0W to 25W engine grades, whatever ``scale`` says

    Raises
    ------
    Unreadable : not a grade of J306, J300 or ISO 3448; near matches are listed

    References
    ----------
    SAE J306 (2005, 2019), SAE J300, ISO 3448.
    """
    compact = re.sub(r"[\s/-]", "", str(text)[:40].upper().removeprefix("SAE"))
    industrial = re.fullmatch(r"(?:ISO)?VG(\d{1,4})", compact)
    if industrial and industrial.group(1) in table("industrial")["grades"]:
        return Grade("industrial", "", industrial.group(1))
    match = re.fullmatch(r"(?:(\d{1,2}W))?(\d{2,3})?", compact)
    gear, engine = table("gear", edition), table("engine")
    if match and compact:
        winter, summer = match.group(1) or "", match.group(2) or ""
        if winter in gear["winter"]:
            scale = "gear"
        elif winter in _ENGINE_WINTER:
            scale = "engine"
        elif not winter and summer not in table(scale, edition)["grades"]:
            scale = "gear" if summer in gear["grades"] else "engine"
        winter_known = not winter or winter in (gear["winter"] if scale == "gear" else _ENGINE_WINTER)
        if winter_known and (not summer or summer in table(scale, edition)["grades"]):
            return Grade(scale, winter, summer)
    names = [f"{w}-{s}" for w in gear["winter"] for s in gear["grades"] if int(s) >= int(w[:-1])]
    names += [f"SAE {s}" for s in (*gear["grades"], *engine["grades"])]
    names += [f"ISO VG {n}" for n in table("industrial")["grades"]]
    near = difflib.get_close_matches(str(text).upper()[:40], names, 3, 0.4)
    hint = f" Near: {', '.join(near)}." if near else ""
    raise Unreadable(
        f"“{str(text)[:40]}” is not a grade of SAE J306, J300 or ISO 3448.{hint}", field="grade", value=text, allowed=", ".join(near)
    )


def kv100_band(grade: Grade, edition: str = "2005") -> tuple[float, float | None]:
    """Give the band of kinematic viscosity at 100 °C that a grade allows.

    Parameters
    ----------
    grade : a :class:`Grade`
    edition : of SAE J306

    Returns
    -------
    (lowest, highest) in mm²/s; the highest is None where the standard sets none

    Raises
    ------
    Unreadable : an industrial grade, which is set at 40 °C, or an engine winter grade alone, whose minima this table does not hold

    References
    ----------
    SAE J306 (2005, 2019), SAE J300.
    """
    published = table(grade.scale, edition)
    if grade.scale == "industrial":
        raise Unreadable(f"{grade} is set at 40 °C: it has no band at 100 °C.", field="grade", value=str(grade))
    if grade.summer:
        low, high = published["grades"][grade.summer]
        return float(low), None if high is None else float(high)
    if grade.winter in published.get("winter", {}):
        return float(published["winter"][grade.winter][1]), None
    raise Unreadable(f"No band at 100 °C for {grade} alone.", field="grade", value=str(grade))


def kv40_band(grade: Grade) -> tuple[float, float]:
    """Give the band of kinematic viscosity at 40 °C of an industrial grade.

    Parameters
    ----------
    grade : a :class:`Grade` of the industrial scale

    Returns
    -------
    (lowest, highest) in mm²/s: the mid-point less and plus 10 %

    Raises
    ------
    Unreadable : a grade of another scale

    References
    ----------
    ISO 3448.
    """
    if grade.scale != "industrial":
        raise Unreadable(f"{grade} is set at 100 °C: it has no band at 40 °C.", field="grade", value=str(grade))
    mid = float(table("industrial")["grades"][grade.summer])
    return 0.9 * mid, 1.1 * mid


def grade_for_kv100(kv100: float, scale: str, edition: str = "2005") -> str:
    """Give the grade number whose band holds a viscosity at 100 °C.

    Parameters
    ----------
    kv100 : kinematic viscosity at 100 °C, mm²/s, 0 to 1000
    scale : gear or engine
    edition : of SAE J306

    Returns
    -------
    str, for example ``90``

    Raises
    ------
    OutOfRange : thinner or thicker than every band of the scale
    Unreadable : a scale that is not set at 100 °C

    References
    ----------
    SAE J306 (2005, 2019), SAE J300: a band holds its lower limit, not its upper one.
    """
    in_range("kv100", kv100, 0, 1000, "mm²/s")
    if scale not in ("gear", "engine"):
        raise Unreadable(f"The {scale} scale is not set at 100 °C.", field="scale", value=scale, allowed="gear, engine")
    for name, (low, high) in table(scale, edition)["grades"].items():
        if low <= kv100 and (high is None or kv100 < high):
            return str(name)
    raise OutOfRange(
        f"{kv100:g} mm²/s at 100 °C lies outside every {scale} grade.",
        field="kv100",
        value=kv100,
        allowed="the bands of " + table(scale)["title"],
    )


def cold_limit_c(grade: Grade, edition: str = "2005") -> float | None:
    """Give the temperature at which a gear oil of this grade reaches 150 000 mPa·s.

    Parameters
    ----------
    grade : a :class:`Grade`
    edition : of SAE J306

    Returns
    -------
    float, °C; None means "not stated": straight, engine and industrial grades have no such limit

    References
    ----------
    SAE J306 (2005, 2019).
    """
    if grade.scale == "gear" and grade.winter:
        return float(table("gear", edition)["winter"][grade.winter][0])
    return None


_CATEGORIES = ("GL-1", "GL-2", "GL-3", "GL-4", "GL-5", "MT-1")


@functools.lru_cache(maxsize=4096)
def parse_category(text: str) -> tuple[str, ...]:
    """Read the API service categories of a gear oil label.

    Parameters
    ----------
    text : ``GL4``, ``API GL-4/GL-5``, ``MT-1``; empty means that none is claimed

    Returns
    -------
    tuple of categories in order, each once

    Raises
    ------
    Unreadable : something that is not a category; the known ones are listed

    References
    ----------
    API 1560 (GL-1 to GL-5, MT-1).
    """
    found = []
    rest = str(text).upper().replace("API", " ")
    for part in re.split(r"[\s/,;+&]+|\bAND\b", rest):
        if not part:
            continue
        match = re.fullmatch(r"(GL|MT)-?(\d)", part)
        name = f"{match.group(1)}-{match.group(2)}" if match else (f"GL-{part}" if part in "12345" else part)
        if name not in _CATEGORIES:
            raise Unreadable(
                f"“{part}” is not an API gear category; known are {', '.join(_CATEGORIES)}.",
                field="category",
                value=text,
                allowed=", ".join(_CATEGORIES),
            )
        found.append(name)
    return tuple(c for c in _CATEGORIES if c in found)
