"""Viscosity grades and service categories: what stands on a label, read and compared.

Gear numbers (SAE J306), engine numbers (SAE J300) and industrial numbers (ISO 3448) are different scales; a grade always says
which one it is on.
"""

from __future__ import annotations

import contextlib
import difflib
import functools
import importlib.resources
import json
import re
from dataclasses import dataclass
from typing import Any

from barodex.core import data
from barodex.core.quantity.errors import Ambiguous, OutOfRange, Unreadable, in_range
from barodex.core.words import say

SCALES = ("gear", "engine", "industrial")
EDITIONS = ("2005", "2019", "1998")
_FILES = {"gear": "sae_j306.json", "engine": "sae_j300.json", "industrial": "iso_3448.json"}
_OTHER_EDITIONS = {"2019": "sae_j306_2019.json", "1998": "sae_j306_1998.json"}


@functools.cache
def table(scale: str, edition: str = "2005") -> dict[str, Any]:
    """Give the published table of a scale.

    Parameters
    ----------
    scale : gear (SAE J306), engine (SAE J300) or industrial (ISO 3448)
    edition : of SAE J306, 2005, 2019 or 1998 (the last two from memory); the other scales have one here

    Returns
    -------
    dict with title, edition, units, grades and, for gear, winter

    Raises
    ------
    Unreadable : another scale or edition

    References
    ----------
    SAE J306 (1998, 2005, 2019); SAE J300; ISO 3448. The figures are data files beside this module.
    """
    if scale not in _FILES:
        raise Unreadable(say("No scale “{scale}”; known are {scales}.", scale=scale, scales=", ".join(SCALES)), field="scale", value=scale)
    if edition not in EDITIONS:
        raise Unreadable(
            say("No edition “{edition}” of SAE J306; known are {editions}.", edition=edition, editions=", ".join(EDITIONS)),
            field="edition",
            value=edition,
        )
    name = _OTHER_EDITIONS.get(edition, _FILES[scale]) if scale == "gear" else _FILES[scale]
    text = importlib.resources.files(data).joinpath(name).read_text("utf-8")
    return dict(json.loads(text))


@dataclass(frozen=True)
class Grade:
    """A grade: ``scale`` gear, engine or industrial, ``winter`` such as 75W or empty, ``summer`` such as 90 or empty."""

    scale: str
    winter: str
    summer: str

    def __str__(self) -> str:
        if self.scale == "industrial":
            return say("ISO VG {summer}", summer=self.summer)
        return "-".join(p for p in (self.winter, self.summer) if p) if self.winter else say("SAE {summer}", summer=self.summer)


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
    Unreadable : not a grade of J306, J300 or ISO 3448, and near matches are listed; or a pair that no oil can be, as 85W-80

    References
    ----------
    SAE J306 (2005, 2019), SAE J300, ISO 3448.
    """
    compact = re.sub(r"[\s/-]", "", str(text)[:40].upper().removeprefix("SAE"))
    industrial = re.fullmatch(r"(?:ISO)?VG(\d{1,4})", compact)
    if industrial and industrial.group(1) in table("industrial")["grades"]:
        return Grade("industrial", "", industrial.group(1))
    match = re.fullmatch(r"(?:(\d{1,2}W))?(\d{1,3})?", compact)
    gear, engine = table("gear", edition), table("engine")
    if match and compact:
        winter, summer = match.group(1) or "", match.group(2) or ""
        if winter in gear["winter"]:
            scale = "gear"
        elif winter in engine["winter"]:
            scale = "engine"
        elif not winter and summer not in table(scale, edition)["grades"]:
            scale = "gear" if summer in gear["grades"] else "engine"
        published = table(scale, edition)
        if (not winter or winter in published["winter"]) and (not summer or summer in published["grades"]):
            _pair(published, winter, summer)
            return Grade(scale, winter, summer)
    names = [f"{w}-{s}" for w in gear["winter"] for s in gear["grades"] if int(s) >= int(w[:-1])]
    names += [say("SAE {s}", s=s) for s in (*gear["grades"], *engine["grades"])]
    names += [say("ISO VG {n}", n=n) for n in table("industrial")["grades"]]
    near = difflib.get_close_matches(str(text).upper()[:40], names, 3, 0.4)
    hint = say(" Near: {near}.", near=", ".join(near)) if near else ""
    raise Unreadable(
        say("“{text}” is not a grade of SAE J306, J300 or ISO 3448.{hint}", text=str(text)[:40], hint=hint),
        field="grade",
        value=text,
        allowed=", ".join(near),
    )


def _pair(published: dict[str, Any], winter: str, summer: str) -> None:
    """Refuse a winter grade beside a summer grade whose band ends before the winter grade's least viscosity."""
    if not winter or not summer:
        return
    least, most = float(published["winter"][winter][1]), published["grades"][summer][1]
    if most is not None and most <= least:
        raise Unreadable(
            say(
                "{winter}-{summer} cannot be: {winter} wants at least {least:g} mm²/s at 100 °C, and {summer} ends below {most:g}.",
                winter=winter,
                summer=summer,
                least=least,
                most=most,
            ),
            field="grade",
            value=f"{winter}-{summer}",
            allowed=", ".join(n for n, (_, high) in published["grades"].items() if high is None or high > least),
        )


@functools.lru_cache(maxsize=4096)
def read_grade(text: str, scale: str = "gear", edition: str = "2005") -> Grade:
    """Read a grade by an edition of SAE J306, or by another where that one does not know it: labels outlive editions.

    Parameters
    ----------
    text, scale, edition : as :func:`parse_grade`; the edition is looked into first

    Returns
    -------
    Grade

    Raises
    ------
    Unreadable : a grade of no edition; what the asked edition says of it

    References
    ----------
    SAE J306 (1998, 2005, 2019), SAE J300, ISO 3448.
    """
    try:
        return parse_grade(text, scale, edition)
    except Unreadable as error:
        for other in EDITIONS:
            with contextlib.suppress(Unreadable):
                return parse_grade(text, scale, other)
        raise error


def edition_of(grade: Grade, edition: str = "2005") -> str:
    """Give the edition by which a grade is read: the asked one where it knows the grade, else the first that does.

    Parameters
    ----------
    grade : a :class:`Grade`
    edition : of SAE J306

    Returns
    -------
    str, one of :data:`EDITIONS`

    References
    ----------
    Grades 65, 70 and 75 exist since 2019; 110 and 190 since 2005.
    """
    if grade.scale != "gear" or not grade.summer:
        return edition
    return next((e for e in (edition, *EDITIONS) if grade.summer in table("gear", e)["grades"]), edition)


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
    Unreadable : an industrial grade, which is set at 40 °C

    References
    ----------
    SAE J306 (1998, 2005, 2019), SAE J300.
    """
    published = table(grade.scale, edition_of(grade, edition))
    if grade.scale == "industrial":
        raise Unreadable(say("{grade} is set at 40 °C: it has no band at 100 °C.", grade=grade), field="grade", value=str(grade))
    if grade.summer:
        low, high = published["grades"][grade.summer]
        return float(low), None if high is None else float(high)
    if grade.winter in published.get("winter", {}):
        return float(published["winter"][grade.winter][1]), None
    raise Unreadable(say("No band at 100 °C for {grade} alone.", grade=grade), field="grade", value=str(grade))


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
        raise Unreadable(say("{grade} is set at 100 °C: it has no band at 40 °C.", grade=grade), field="grade", value=str(grade))
    mid = float(table("industrial")["grades"][grade.summer])
    return 0.9 * mid, 1.1 * mid


def grades_for_kv100(kv100: float, scale: str, edition: str = "2005") -> tuple[str, ...]:
    """Give the grade numbers whose bands hold a viscosity at 100 °C: the thin engine grades overlap.

    Parameters
    ----------
    kv100 : kinematic viscosity at 100 °C, mm²/s, 0 to 1000
    scale : gear or engine
    edition : of SAE J306

    Returns
    -------
    tuple of str, thinnest first; more than one only on the engine scale below 8.2 mm²/s

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
        raise Unreadable(say("The {scale} scale is not set at 100 °C.", scale=scale), field="scale", value=scale, allowed="gear, engine")
    held = tuple(str(n) for n, (low, high) in table(scale, edition)["grades"].items() if low <= kv100 and (high is None or kv100 < high))
    if held:
        return held
    raise OutOfRange(
        say("{kv100:g} mm²/s at 100 °C lies outside every {scale} grade.", kv100=kv100, scale=scale),
        field="kv100",
        value=kv100,
        allowed=say("the bands of ") + table(scale)["title"],
    )


def grade_for_kv100(kv100: float, scale: str, edition: str = "2005") -> str:
    """Give the one grade number whose band holds a viscosity at 100 °C.

    Parameters
    ----------
    kv100, scale, edition : as :func:`grades_for_kv100`

    Returns
    -------
    str, for example ``90``

    Raises
    ------
    Ambiguous : two engine grades hold it, as 16 and 20 from 6.9 to 8.2 mm²/s: which is meant stands on the label
    OutOfRange, Unreadable : as :func:`grades_for_kv100`

    References
    ----------
    SAE J306 (1998, 2005, 2019), SAE J300.
    """
    held = grades_for_kv100(kv100, scale, edition)
    if len(held) > 1:
        raise Ambiguous(
            say("{kv100:g} mm²/s at 100 °C is both {held}: say which is meant.", kv100=kv100, held=" and ".join(held)),
            field="kv100",
            value=kv100,
            allowed=", ".join(held),
        )
    return held[0]


def class_at(kv100: float, scale: str, edition: str = "2005") -> int:
    """Give the place of a viscosity on a scale, so that the classes between two oils can be counted.

    Parameters
    ----------
    kv100 : kinematic viscosity at 100 °C, mm²/s, above 0
    scale : gear or engine
    edition : of SAE J306

    Returns
    -------
    int: 0 in the thinnest grade, one more for each; −1 below all

    References
    ----------
    SAE J306 (1998, 2005, 2019), SAE J300: the lower limits of the bands.
    """
    return sum(1 for low, _ in table(scale, edition)["grades"].values() if low <= kv100) - 1


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
def asks_all(text: str) -> bool:
    """Say whether a sheet wants one oil that is all the categories that it names, and not either of them.

    Parameters
    ----------
    text : ``GL-4 and GL-5`` or ``GL-4 + GL-5`` ask one oil of both; ``GL-4/GL-5``, ``GL-4, GL-5`` and ``GL-4 or GL-5`` either

    Returns
    -------
    bool

    References
    ----------
    Common practice.
    """
    return len(parse_category(text)) > 1 and bool(re.search(r"\bAND\b|[+&]", str(text).upper()))


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
    for part in re.split(r"[\s/,;+&]+|\bAND\b|\bOR\b", rest):
        if not part:
            continue
        match = re.fullmatch(r"(GL|MT)-?(\d)", part)
        name = f"{match.group(1)}-{match.group(2)}" if match else (f"GL-{part}" if part in "12345" else part)
        if name not in _CATEGORIES:
            raise Unreadable(
                say("“{part}” is not an API gear category; known are {categories}.", part=part, categories=", ".join(_CATEGORIES)),
                field="category",
                value=text,
                allowed=", ".join(_CATEGORIES),
            )
        found.append(name)
    return tuple(c for c in _CATEGORIES if c in found)
