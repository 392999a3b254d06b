"""Is this oil right for this compartment? A verdict with reasons, from a table of rules.

The rules of this module are the ones that keep an oil out of a box that it would harm. Each is a function of the same
shape, listed in ``RULES``; a new rule is one more function there.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from .errors import Unreadable
from .grades import cold_limit_c, parse_category, parse_grade
from .working import COMMON_PRACTICE

VERDICTS = ("meets", "equivalent", "caution", "reject")
FAMILIES = ("gear", "atf", "engine", "ester turbine", "clutch fluid", "hub", "chain case")


@dataclass(frozen=True)
class Lubricant:
    """An oil as its label and data sheet state it; empty text means not stated."""

    name: str
    family: str
    grade: str = ""
    categories: str = ""
    friction_modifier: bool = False
    declared_safe_for_yellow_metal: bool = False


@dataclass(frozen=True)
class Requirement:
    """What a compartment asks for. ``yellow_metal`` and ``limited_slip``: True, False, or None for unknown."""

    family: str
    grade: str = ""
    categories: str = ""
    hypoid: bool = False
    yellow_metal: bool | None = None
    limited_slip: bool | None = None


@dataclass(frozen=True)
class OilReason:
    """One rule that spoke: stable ``rule`` id, its verdict, a sentence, what was compared, and its basis."""

    rule: str
    verdict: str
    text: str
    compared: str
    basis: str


@dataclass(frozen=True)
class Judgement:
    """The verdict (the worst reason decides) and every reason, worst first."""

    verdict: str
    reasons: tuple[OilReason, ...]


def _family(oil: Lubricant, asked: Requirement, ambient_min_c: float | None) -> OilReason | None:
    if oil.family == asked.family:
        return None
    return OilReason(
        "family",
        "reject",
        f"This compartment takes {asked.family} oil; this is {oil.family} oil.",
        f"{asked.family} / {oil.family}",
        COMMON_PRACTICE,
    )


def _category(oil: Lubricant, asked: Requirement, ambient_min_c: float | None) -> OilReason | None:
    if asked.family != "gear" or oil.family != "gear":
        return None
    want, have = parse_category(asked.categories), parse_category(oil.categories)
    compared = f"{'/'.join(want) or 'none named'} / {'/'.join(have) or 'none on the label'}"
    if not want:
        return OilReason("sheet-unknown", "caution", "The sheet names no category: ask before pouring.", compared, COMMON_PRACTICE)
    if not have:
        return OilReason("category-unknown", "caution", "The label carries no category: fetch the data sheet.", compared, COMMON_PRACTICE)
    if "GL-5" in have and "GL-5" not in want and asked.yellow_metal is not False:
        if "GL-4" not in have:
            if asked.yellow_metal is None:
                return OilReason(
                    "yellow-metal",
                    "caution",
                    "Is there brass inside? If so, a GL-5 oil takes it along: ask first.",
                    compared,
                    COMMON_PRACTICE,
                )
            return OilReason(
                "yellow-metal",
                "reject",
                "Brass rings inside: the film of a GL-5 oil bonds to brass and takes it along.",
                compared,
                COMMON_PRACTICE,
            )
        if oil.declared_safe_for_yellow_metal:
            return OilReason(
                "dual-claim",
                "caution",
                "Claims GL-4 and GL-5, and its maker declares it safe for yellow metal.",
                compared,
                "common practice; copper strip ASTM D130 1a or 1b",
            )
        return OilReason(
            "dual-claim",
            "reject",
            "Claims GL-4 and GL-5 but no copper strip result: not into a box with brass.",
            compared,
            "common practice; copper strip ASTM D130",
        )
    if set(want) & set(have):
        return OilReason("category", "meets", f"Category {'/'.join(c for c in want if c in have)} as asked.", compared, "API 1560")
    if "GL-5" in want or asked.hypoid:
        return OilReason("hypoid-weak", "reject", "Hypoid gears need GL-5; this oil claims less.", compared, COMMON_PRACTICE)
    if "GL-3" in want and "GL-4" in have:
        return OilReason("older", "equivalent", "GL-4 in place of GL-3.", compared, COMMON_PRACTICE)
    if "GL-4" in want and "GL-5" in have:
        return OilReason(
            "category-other", "caution", "GL-5 in place of GL-4; the sheet says that no yellow metal is inside.", compared, COMMON_PRACTICE
        )
    return OilReason("category-weak", "reject", "The category that the sheet asks for is not claimed.", compared, COMMON_PRACTICE)


def _grade(oil: Lubricant, asked: Requirement, ambient_min_c: float | None) -> OilReason | None:
    if not asked.grade:
        return None
    compared = f"{asked.grade} / {oil.grade or 'not stated'}"
    if not oil.grade:
        return OilReason("grade-unknown", "caution", "The label states no grade.", compared, COMMON_PRACTICE)
    scale = "engine" if asked.family == "engine" else "gear"
    try:
        want, have = parse_grade(asked.grade, scale), parse_grade(oil.grade, scale)
    except Unreadable:
        same = asked.grade.strip().lower() == oil.grade.strip().lower()
        return OilReason(
            "grade-same" if same else "grade-other",
            "meets" if same else "caution",
            "As asked by name." if same else "Another grade name: compare the data sheets.",
            compared,
            COMMON_PRACTICE,
        )
    if want == have:
        return OilReason("grade-same", "meets", f"Grade {have} as asked.", compared, "SAE J306 / J300")
    if want.summer == have.summer and want.scale == have.scale:
        limit = cold_limit_c(have)
        if limit is not None and ambient_min_c is not None and limit <= ambient_min_c:
            return OilReason("grade-near", "equivalent", f"Same when hot, and it flows down to {limit:.0f} °C.", compared, "SAE J306")
    return OilReason(
        "grade-other", "caution", f"{have} in place of {want}: compare the viscosities before you pour.", compared, "SAE J306 / J300"
    )


def _friction(oil: Lubricant, asked: Requirement, ambient_min_c: float | None) -> OilReason | None:
    if asked.limited_slip and not oil.friction_modifier:
        return OilReason(
            "friction",
            "caution",
            "Clutch-type limited slip: add the friction modifier dose that the sheet states.",
            "modifier needed / none in it",
            COMMON_PRACTICE,
        )
    if asked.limited_slip is None and asked.hypoid:
        return OilReason("friction", "caution", "Limited slip or not? Find out before the oil goes in.", "unknown", COMMON_PRACTICE)
    return None


RULES: tuple[Callable[[Lubricant, Requirement, float | None], OilReason | None], ...] = (_family, _category, _grade, _friction)


def judge(lubricant: Lubricant, requirement: Requirement, ambient_min_c: float | None = None) -> Judgement:
    """Judge an oil against what a compartment asks for.

    Parameters
    ----------
    lubricant : the oil in hand
    requirement : what the sheet asks
    ambient_min_c : coldest air temperature expected, °C; None when not known

    Returns
    -------
    Judgement; its verdict is the worst of its reasons, which stand worst first

    Raises
    ------
    Unreadable : a category or family that does not exist

    References
    ----------
    API 1560, SAE J306; rules marked common practice in their ``basis``.
    """
    for family in (lubricant.family, requirement.family):
        if family not in FAMILIES:
            raise Unreadable(f"“{family}” is not an oil family; known are {', '.join(FAMILIES)}.", field="family", value=family)
    reasons = [r for rule in RULES if (r := rule(lubricant, requirement, ambient_min_c))]
    reasons.sort(key=lambda r: -VERDICTS.index(r.verdict))
    return Judgement(reasons[0].verdict if reasons else "meets", tuple(reasons))
