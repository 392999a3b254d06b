"""Viscosity grades and service categories: what stands on a label, read and compared.

Gear numbers (SAE J306) and engine numbers (SAE J300) are different scales; a grade always says which one it is on.
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

SCALES = ("gear", "engine")
_FILES = {"gear": "sae_j306.json", "engine": "sae_j300.json"}
_ENGINE_WINTER = ("0W", "5W", "10W", "15W", "20W", "25W")


@functools.cache
def table(scale: str) -> dict[str, Any]:
    """Give the published table of a scale.

    Parameters
    ----------
    scale : gear (SAE J306) or engine (SAE J300)

    Returns
    -------
    dict with title, edition, units, grades and, for gear, winter

    Raises
    ------
    Unreadable : another scale

    References
    ----------
    SAE J306 (2005); SAE J300. The figures are data files beside this module.
    """
    if scale not in _FILES:
        raise Unreadable(f"No scale “{scale}”; known are {', '.join(SCALES)}.", field="scale", value=scale)
    text = importlib.resources.files(__package__).joinpath("data", _FILES[scale]).read_text("utf-8")
    return dict(json.loads(text))


@dataclass(frozen=True)
class Grade:
    """A grade: ``scale`` gear or engine, ``winter`` such as 75W or empty, ``summer`` such as 90 or empty."""

    scale: str
    winter: str
    summer: str

    def __str__(self) -> str:
        return "-".join(p for p in (self.winter, self.summer) if p) if self.winter else f"SAE {self.summer}"


def parse_grade(text: str, scale: str = "gear") -> Grade:
    """Read a viscosity grade as it stands on a label.

    Parameters
    ----------
    text : ``75W-90``, ``75w90``, ``SAE 80W/90``, ``SAE 30``; at most 40 characters
    scale : which scale a straight number belongs to where both have it, gear or engine

    Returns
    -------
    Grade; winter grades 70W and above are gear grades, 0W to 25W engine grades, whatever ``scale`` says

    Raises
    ------
    Unreadable : not a grade of J306 or J300; near matches are listed

    References
    ----------
    SAE J306 (2005), SAE J300.
    """
    compact = re.sub(r"[\s/-]", "", str(text)[:40].upper().removeprefix("SAE"))
    match = re.fullmatch(r"(?:(\d{1,2}W))?(\d{2,3})?", compact)
    gear, engine = table("gear"), table("engine")
    if match and compact:
        winter, summer = match.group(1) or "", match.group(2) or ""
        if winter in gear["winter"]:
            scale = "gear"
        elif winter in _ENGINE_WINTER:
            scale = "engine"
        elif not winter and summer not in table(scale)["grades"]:
            scale = "gear" if summer in gear["grades"] else "engine"
        winter_known = not winter or winter in (gear["winter"] if scale == "gear" else _ENGINE_WINTER)
        if winter_known and (not summer or summer in table(scale)["grades"]):
            return Grade(scale, winter, summer)
    names = [f"{w}-{s}" for w in gear["winter"] for s in gear["grades"] if int(s) >= int(w[:-1])]
    names += [f"SAE {s}" for s in (*gear["grades"], *engine["grades"])]
    near = difflib.get_close_matches(str(text).upper()[:40], names, 3, 0.4)
    hint = f" Near: {', '.join(near)}." if near else ""
    raise Unreadable(f"“{str(text)[:40]}” is not a grade of SAE J306 or J300.{hint}", field="grade", value=text, allowed=", ".join(near))


def kv100_band(grade: Grade) -> tuple[float, float | None]:
    """Give the band of kinematic viscosity at 100 °C that a grade allows.

    Parameters
    ----------
    grade : a :class:`Grade`

    Returns
    -------
    (lowest, highest) in mm²/s; the highest is None where the standard sets none

    Raises
    ------
    Unreadable : an engine winter grade alone, whose minima this table does not hold

    References
    ----------
    SAE J306 (2005), SAE J300.
    """
    published = table(grade.scale)
    if grade.summer:
        low, high = published["grades"][grade.summer]
        return float(low), None if high is None else float(high)
    if grade.winter in published.get("winter", {}):
        return float(published["winter"][grade.winter][1]), None
    raise Unreadable(f"No band at 100 °C for {grade} alone.", field="grade", value=str(grade))


def grade_for_kv100(kv100: float, scale: str) -> str:
    """Give the grade number whose band holds a viscosity at 100 °C.

    Parameters
    ----------
    kv100 : kinematic viscosity at 100 °C, mm²/s, 0 to 1000
    scale : gear or engine

    Returns
    -------
    str, for example ``90``

    Raises
    ------
    OutOfRange : thinner or thicker than every band of the scale

    References
    ----------
    SAE J306 (2005), SAE J300: a band holds its lower limit, not its upper one.
    """
    in_range("kv100", kv100, 0, 1000, "mm²/s")
    for name, (low, high) in table(scale)["grades"].items():
        if low <= kv100 and (high is None or kv100 < high):
            return str(name)
    raise OutOfRange(
        f"{kv100:g} mm²/s at 100 °C lies outside every {scale} grade.",
        field="kv100",
        value=kv100,
        allowed="the bands of " + table(scale)["title"],
    )


def cold_limit_c(grade: Grade) -> float | None:
    """Give the temperature at which a gear oil of this grade reaches 150 000 mPa·s.

    Parameters
    ----------
    grade : a :class:`Grade`

    Returns
    -------
    float, °C; None means "not stated": straight grades and engine grades have no such limit

    References
    ----------
    SAE J306 (2005).
    """
    if grade.scale == "gear" and grade.winter:
        return float(table("gear")["winter"][grade.winter][0])
    return None


_CATEGORIES = ("GL-1", "GL-2", "GL-3", "GL-4", "GL-5", "MT-1")


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
