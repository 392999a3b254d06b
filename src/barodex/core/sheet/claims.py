"""Several sources for one figure: ranked by kind, compared with each other, and what a revision changed."""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.sheet import SOURCES
from barodex.core.words import say

AGREE = 0.005  # two amounts within half a per cent are one amount, told in two units (common practice)


@dataclass(frozen=True)
class Claim:
    """What one source says of a figure: a number in canonical units or words, its kind, and the day it was published (None unknown)."""

    source: str
    number: float | None = None
    words: str = ""
    published: dt.date | None = None

    @property
    def said(self) -> float | str:
        return self.words.strip().casefold() if self.number is None else self.number


def rank_claims(claims: Sequence[Claim]) -> tuple[int, ...]:
    """Order the sources of one figure, the most to be trusted first.

    Parameters
    ----------
    claims : of one figure

    Returns
    -------
    tuple of positions in ``claims``: by kind (bulletin, plate, manual, oil maker, forum, memory, guess), the newer first within a kind

    Raises
    ------
    Inconsistent : a kind of source that does not exist

    References
    ----------
    Common practice: the newest applicable bulletin wins over the plate, the plate over the manual, and so on.
    """
    for claim in claims:
        if claim.source not in SOURCES:
            raise Inconsistent(
                say("“{source}” is not a source.", source=claim.source), field="source", value=claim.source, allowed=", ".join(SOURCES)
            )

    def place(k: int) -> tuple[int, int, int]:
        published = claims[k].published
        return SOURCES.index(claims[k].source), -published.toordinal() if published else 0, k

    return tuple(sorted(range(len(claims)), key=place))


def agree(a: Claim, b: Claim) -> bool:
    """Say whether two sources tell the same.

    Parameters
    ----------
    a, b : two claims of one figure

    Returns
    -------
    bool; numbers agree within half a per cent, words when they are the same but for case

    References
    ----------
    Common practice: rounding between units moves a figure by less.
    """
    if a.number is not None and b.number is not None:
        return math.isclose(a.number, b.number, rel_tol=AGREE, abs_tol=1e-9)
    return a.said == b.said


def conflicts(claims: Sequence[Claim]) -> tuple[tuple[int, int], ...]:
    """Give the pairs of sources that contradict each other.

    Parameters
    ----------
    claims : of one figure

    Returns
    -------
    tuple of (position, position)

    References
    ----------
    As :func:`agree`.
    """
    n = len(claims)
    return tuple((i, j) for i in range(n) for j in range(i + 1, n) if not agree(claims[i], claims[j]))


@dataclass(frozen=True)
class Changed:
    """A figure that a revision changed: its name, before and after, in words."""

    figure: str
    before: str
    after: str


def what_changed(before: dict[str, str], after: dict[str, str]) -> tuple[Changed, ...]:
    """Compare two revisions, given as figure to words.

    Parameters
    ----------
    before, after : every figure of the two revisions; an unknown one as empty text

    Returns
    -------
    tuple of :class:`Changed`, in the order of ``after``, then what was taken out

    References
    ----------
    None needed: a comparison.
    """
    names = [*after, *(k for k in before if k not in after)]
    return tuple(Changed(k, before.get(k, ""), after.get(k, "")) for k in names if before.get(k, "") != after.get(k, ""))


def fill_difference_ml(poured_ml: float | None, old_capacity_ml: float, new_capacity_ml: float) -> float:
    """Give by how much a compartment filled to a superseded capacity is off.

    Parameters
    ----------
    poured_ml : what really went in, mL; None when only the sheet's figure is known
    old_capacity_ml, new_capacity_ml : the superseded and the present capacity, mL

    Returns
    -------
    float, mL; above 0: too much is inside

    References
    ----------
    What went in less what should be inside.
    """
    return (old_capacity_ml if poured_ml is None else poured_ml) - new_capacity_ml
