"""Is this oil right for this compartment? The verdict, the order of the shelf, and the verdicts of many, from the table of rules."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from barodex.core.oil.grade_rules import viscosity_off
from barodex.core.oil.lubricant import FAMILIES, VERDICTS, Judgement, Lubricant, OilConditions, OilPolicy, Requirement
from barodex.core.oil.rules import LOCKING, RULES
from barodex.core.quantity.errors import Unreadable
from barodex.core.words import say


@dataclass(frozen=True)
class Ranked:
    """An oil of the shelf in its place; ``off`` is how far its viscosity at 80 °C lies from the asked one, as a share (None unknown)."""

    lubricant: Lubricant
    judgement: Judgement
    off: float | None


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
            raise Unreadable(
                say("“{family}” is not an oil family; known are {families}.", family=family, families=", ".join(FAMILIES)),
                field="family",
                value=family,
            )


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
