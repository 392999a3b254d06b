"""Is this oil right for this compartment? A verdict with reasons, from a table of rules.

This module holds what is judged and how the reasons are drawn together; each rule is a function of :mod:`barodex.core.oil_rules`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .errors import Inconsistent, Unreadable, in_range
from .working import Working

VERDICTS = ("meets", "equivalent", "caution", "reject")
FAMILIES = ("gear", "atf", "cvt fluid", "dual-clutch fluid", "engine", "ester turbine", "clutch fluid", "hub", "chain case", "marine")
BASES = ("", "mineral", "part synthetic", "synthetic", "ester", "PAG")
FORBIDS = "no "  # a sheet may forbid a base stock instead of insisting on one
ASKED_BASES = (*BASES, "no mineral", "no ester", "no PAG")
COPPER_STRIPS = ("", "1a", "1b", "2a", "2b", "2c", "2d", "2e", "3a", "3b", "4a", "4b", "4c")
ADDITIVE_KINDS = ("friction modifier", "extreme pressure", "tackifier", "solid lubricant", "seal conditioner", "other")
SWITCHES: dict[str, tuple[str, ...]] = {
    "dual_claim": ("with copper strip", "never"),
    "approval": ("equivalent", "maker's bottle"),
    "additives": ("with dose", "never"),
    "substitution": ("by viscosity", "sheet grade only"),
    "category_weak": ("reject", "caution without hypoid"),
    "j306_edition": ("2005", "2019"),
}


@dataclass(frozen=True)
class Lubricant:
    """An oil as its label and data sheet state it; empty text and None mean not stated.

    ``kv40``, ``kv100`` in mm²/s; ``density15`` in kg/m³ at 15 °C; ``copper_strip`` the class of ASTM D130; ``approvals`` the makers'
    approvals and fluids that it claims.
    """

    name: str
    family: str
    grade: str = ""
    categories: str = ""
    friction_modifier: bool = False
    declared_safe_for_yellow_metal: bool = False
    copper_strip: str = ""
    kv40: float | None = None
    kv100: float | None = None
    density15: float | None = None
    base: str = ""
    approvals: tuple[str, ...] = ()
    detergent: bool | None = None


@dataclass(frozen=True)
class AmbientGrade:
    """A grade that a sheet gives for a range of air temperature, °C; None is open to that side."""

    grade: str
    min_c: float | None = None
    max_c: float | None = None


@dataclass(frozen=True)
class Requirement:
    """What a compartment asks for. ``yellow_metal`` and ``limited_slip`` (clutch type): True, False, or None for unknown.

    ``also``: other families that the sheet lists. ``modifier_ml``: the sheet's friction modifier dose. ``base``: the base stock that it
    insists on, or forbids (``no PAG``). ``residual_ml``: what stays inside after draining. ``wet_clutch``: an oil must claim the sheet's
    fluids. ``edition``: of SAE J306 by which the sheet's grade is read, empty for the workshop's.
    """

    family: str
    grade: str = ""
    categories: str = ""
    hypoid: bool = False
    yellow_metal: bool | None = None
    limited_slip: bool | None = None
    also: tuple[str, ...] = ()
    no_ep: bool = False
    wet_clutch: bool = False
    synchro: bool = False
    non_detergent: bool = False
    approvals: tuple[str, ...] = ()
    ambient: tuple[AmbientGrade, ...] = ()
    base: str = ""
    modifier_ml: float | None = None
    residual_ml: float | None = None
    edition: str = ""


@dataclass(frozen=True)
class Dose:
    """An additive put into the fill: its kind, the dose in mL, and the most that its own maker allows, as a share of the fill."""

    name: str
    kind: str
    volume_ml: float
    max_share: float | None = None


@dataclass(frozen=True)
class Residue:
    """What stays inside: ``volume_ml``, and the oil that it is; None when nobody knows."""

    volume_ml: float
    lubricant: Lubricant | None = None


@dataclass(frozen=True)
class OilConditions:
    """The day and the job: air temperatures in °C, the fill in mL, additives, and what stays inside; None and empty: not known, none."""

    ambient_min_c: float | None = None
    ambient_max_c: float | None = None
    fill_ml: float | None = None
    doses: tuple[Dose, ...] = ()
    residue: Residue | None = None


@dataclass(frozen=True)
class OilPolicy:
    """The workshop's school where practitioners differ; ``near_low``, ``near_high``, ``off`` are shares of the asked viscosity at 80 °C."""

    dual_claim: str = "with copper strip"
    approval: str = "equivalent"
    additives: str = "with dose"
    substitution: str = "by viscosity"
    category_weak: str = "reject"
    j306_edition: str = "2005"
    near_low: float = 0.30
    near_high: float = 0.35
    off: float = 0.50


@dataclass(frozen=True)
class OilReason:
    """One rule that spoke: stable ``rule`` id, verdict, a sentence, what was compared, its basis, the school of the workshop that decided
    it (empty where none did), and the working behind a number."""

    rule: str
    verdict: str
    text: str
    compared: str
    basis: str
    school: str = ""
    working: Working | None = None


@dataclass(frozen=True)
class Judgement:
    """The verdict (the worst reason decides) and every reason, worst first.

    ``locked``: the pour stays locked until the missing data-sheet value is entered. ``rinse``: another family stays inside, rinse first.
    """

    verdict: str
    reasons: tuple[OilReason, ...]
    locked: bool = False
    rinse: bool = False


@dataclass(frozen=True)
class Ranked:
    """An oil of the shelf in its place; ``off`` is how far its viscosity at 80 °C lies from the asked one, as a share (None unknown)."""

    lubricant: Lubricant
    judgement: Judgement
    off: float | None


def check_policy(policy: OilPolicy) -> None:
    """Refuse a policy that names no school or absurd limits.

    Parameters
    ----------
    policy : the workshop's policy

    Raises
    ------
    Inconsistent : a switch that has no such position, or limits out of order
    OutOfRange : a limit outside 0 to 1

    References
    ----------
    The switches of :data:`SWITCHES`; their first positions are common practice.
    """
    for name, allowed in SWITCHES.items():
        value = getattr(policy, name)
        if value not in allowed:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(allowed)}.", field=name, value=value, allowed=", ".join(allowed))
    for name in ("near_low", "near_high", "off"):
        in_range(name, getattr(policy, name), 0, 1)
    if policy.off < max(policy.near_low, policy.near_high):
        raise Inconsistent(
            "The outer limit must not lie inside the near limits.", field="off", value=policy.off, allowed="at least the near limits"
        )


def check_lubricant(oil: Lubricant) -> None:
    """Refuse an oil whose figures cannot be.

    Parameters
    ----------
    oil : viscosities in mm²/s, density in kg/m³

    Raises
    ------
    OutOfRange : a viscosity or density outside what oils of the trade have
    Inconsistent : kv100 not below kv40, or a word that is not in the lists
    Unreadable : a category or grade that does not exist
    Ambiguous : a density that looks like g/mL

    References
    ----------
    Ranges: ASTM D341 (2 mm²/s), ASTM D1250 (800 to 1164 kg/m³); D130 classes as its table lists them.
    """
    from .errors import Ambiguous
    from .grades import parse_category, read_grade
    from .viscosity import kinematic_viscosity

    for name, value, allowed in (
        ("family", oil.family, FAMILIES),
        ("base", oil.base, BASES),
        ("copper_strip", oil.copper_strip, COPPER_STRIPS),
    ):
        if value not in allowed:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(a for a in allowed if a)}.", field=name, value=value)
    parse_category(oil.categories)
    if oil.grade and oil.family in ("gear", "engine"):
        read_grade(oil.grade, "engine" if oil.family == "engine" else "gear")
    if oil.density15 is not None:
        if 0.7 <= oil.density15 <= 1.3:
            raise Ambiguous(
                f"{oil.density15:g} looks like g/mL: is it {oil.density15 * 1000:.0f} kg/m³? Type it so.",
                field="density15",
                value=oil.density15,
                allowed="800 to 1164 kg/m³",
            )
        in_range("density15", oil.density15, 800, 1164, "kg/m³")
    for name, kv in (("kv40", oil.kv40), ("kv100", oil.kv100)):
        if kv is not None:
            in_range(name, kv, 2, 5000, "mm²/s")
    if oil.kv40 is not None and oil.kv100 is not None:
        kinematic_viscosity(oil.kv40, oil.kv100, 40)


def check_families(lubricant: Lubricant, requirement: Requirement) -> None:
    """Refuse an oil or a requirement of no known family.

    Parameters
    ----------
    lubricant, requirement : as for :func:`judge`

    Raises
    ------
    Unreadable : an unknown family

    References
    ----------
    The list :data:`FAMILIES`.
    """
    for family in (lubricant.family, requirement.family, *requirement.also):
        if family not in FAMILIES:
            raise Unreadable(f"“{family}” is not an oil family; known are {', '.join(FAMILIES)}.", field="family", value=family)


def judge(
    lubricant: Lubricant, requirement: Requirement, conditions: OilConditions = OilConditions(), policy: OilPolicy = OilPolicy()
) -> Judgement:
    """Judge an oil against what a compartment asks for.

    Parameters
    ----------
    lubricant : the oil in hand
    requirement : what the sheet asks
    conditions : air temperature in °C, fill in mL, additives, what stays inside
    policy : the workshop's school where practitioners differ

    Returns
    -------
    Judgement; its verdict is the worst of its reasons, which stand worst first

    Raises
    ------
    Unreadable : a category or family that does not exist

    References
    ----------
    API 1560, SAE J306, SAE J300, ISO 3448, ASTM D341; rules marked common practice in their ``basis``.
    """
    from .oil_rules import LOCKING, RULES

    check_families(lubricant, requirement)
    reasons = [r for rule in RULES for r in rule.act(lubricant, requirement, conditions, policy)]
    reasons.sort(key=lambda r: -VERDICTS.index(r.verdict))
    dangerous = bool(requirement.yellow_metal) or requirement.hypoid or requirement.wet_clutch
    return Judgement(
        reasons[0].verdict if reasons else "meets",
        tuple(reasons),
        dangerous and any(r.rule in LOCKING for r in reasons),
        any(r.rule == "residue-family" for r in reasons),
    )


def rank(
    lubricants: Sequence[Lubricant], requirement: Requirement, conditions: OilConditions = OilConditions(), policy: OilPolicy = OilPolicy()
) -> tuple[Ranked, ...]:
    """Order the shelf for a compartment, best first.

    Parameters
    ----------
    lubricants : the oils
    requirement, conditions, policy : as :func:`judge`

    Returns
    -------
    tuple of :class:`Ranked`: by verdict, then by the fewest reasons of that verdict, then by how near the viscosity at 80 °C
    lies, then by name

    Raises
    ------
    Unreadable : a category or family that does not exist

    References
    ----------
    As :func:`judge`; the order among equals is common practice.
    """
    from .grade_rules import viscosity_off

    found = [
        Ranked(oil, judge(oil, requirement, conditions, policy), viscosity_off(oil, requirement, conditions, policy)) for oil in lubricants
    ]

    def place(r: Ranked) -> tuple[int, int, float, str]:
        worst = VERDICTS.index(r.judgement.verdict)
        return (
            worst,
            sum(x.verdict == r.judgement.verdict for x in r.judgement.reasons) if worst > 1 else 0,
            abs(r.off or 0.0),
            r.lubricant.name,
        )

    return tuple(sorted(found, key=place))


def verdict_matrix(
    lubricants: Sequence[Lubricant],
    requirements: Sequence[Requirement],
    conditions: OilConditions = OilConditions(),
    policy: OilPolicy = OilPolicy(),
) -> NDArray[np.int8]:
    """Give the verdicts of many oils for many compartments, as codes into :data:`VERDICTS`.

    Each rule reads few properties of an oil and of a requirement, so it is asked once for each pair of different values
    and its answer spread over the matrix. Equal to :func:`judge` for every pair.

    Parameters
    ----------
    lubricants : n oils
    requirements : m requirements
    conditions, policy : the same for all

    Returns
    -------
    int8 array of shape (n, m)

    Raises
    ------
    Unreadable : a category or family that does not exist

    References
    ----------
    As :func:`judge`.
    """
    from .oil_rules import RULES

    for oil in lubricants:
        for asked in requirements[:1]:
            check_families(oil, asked)
    for asked in requirements:
        for oil in lubricants[:1]:
            check_families(oil, asked)
    worst = np.zeros((len(lubricants), len(requirements)), dtype=np.int8)
    for rule in RULES:
        oil_groups: dict[tuple[object, ...], int] = {}
        asked_groups: dict[tuple[object, ...], int] = {}
        oil_at = [oil_groups.setdefault(tuple(getattr(o, f) for f in rule.oil_reads), len(oil_groups)) for o in lubricants]
        asked_at = [asked_groups.setdefault(tuple(getattr(a, f) for f in rule.asked_reads), len(asked_groups)) for a in requirements]
        first_oil = dict(zip(reversed(oil_at), reversed(lubricants), strict=True))
        first_asked = dict(zip(reversed(asked_at), reversed(requirements), strict=True))
        codes = np.zeros((len(first_oil), len(first_asked)), dtype=np.int8)
        for i, oil in first_oil.items():
            for j, asked in first_asked.items():
                found = rule.act(oil, asked, conditions, policy)
                codes[i, j] = max((VERDICTS.index(r.verdict) for r in found), default=0)
        if codes.any():
            np.maximum(worst, codes[np.ix_(oil_at, asked_at)], out=worst)
    return worst


@dataclass(frozen=True)
class AmbientChoice:
    """The grade that a sheet gives for a range of air temperature; ``covers``: its range holds the whole of it."""

    grade: str
    covers: bool
    text: str
    fits: tuple[str, ...] = field(default=())


def grade_for_ambient(requirement: Requirement, t_min: float | None, t_max: float | None = None) -> AmbientChoice:
    """Choose the grade of a sheet that gives grades by air temperature.

    Parameters
    ----------
    requirement : with ``ambient`` filled; without it the sheet's one grade is the answer
    t_min, t_max : coldest and warmest air expected, °C, −60 to 60; None for not known

    Returns
    -------
    AmbientChoice; where no grade covers the range, the one that covers the coldest day best, and ``covers`` is False

    Raises
    ------
    OutOfRange : a temperature outside −60 to 60 °C
    Inconsistent : t_min above t_max

    References
    ----------
    The sheet's own table; where two grades would do, the thicker one when warm is the first listed (common practice).
    """
    for name, value in (("t_min", t_min), ("t_max", t_max)):
        if value is not None:
            in_range(name, value, -60, 60, "°C")
    if t_min is not None and t_max is not None and t_min > t_max:
        raise Inconsistent("The coldest day cannot be warmer than the warmest.", field="t_min", value=t_min, allowed=f"up to {t_max:g} °C")
    if not requirement.ambient:
        return AmbientChoice(
            requirement.grade, True, "The sheet gives one grade for all weathers.", (requirement.grade,) if requirement.grade else ()
        )
    if t_min is None:
        return AmbientChoice(
            requirement.grade or requirement.ambient[0].grade, False, "The sheet gives grades by air temperature: say how cold it gets."
        )
    high = t_min if t_max is None else t_max

    def miss(a: AmbientGrade) -> float:
        below = max(0.0, a.min_c - t_min) if a.min_c is not None else 0.0
        above = max(0.0, high - a.max_c) if a.max_c is not None else 0.0
        return below + above

    fits = tuple(a.grade for a in requirement.ambient if miss(a) == 0)
    best = min(requirement.ambient, key=miss)
    span = f"{t_min:g} °C" if high == t_min else f"{t_min:g} to {high:g} °C"
    if fits:
        return AmbientChoice(best.grade, True, f"The sheet gives {best.grade} for {span}.", fits)
    return AmbientChoice(best.grade, False, f"No grade of the sheet covers {span}; {best.grade} comes nearest.", ())
