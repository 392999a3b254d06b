"""A fill by the stick: how much more to pour, from what the dips so far read."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, ml
from barodex.core.words import say

NEXT_POUR = 0.8  # of what is still missing, until within two millimetres of the mark (common practice)


NEAR_MM = 2.0


@dataclass(frozen=True)
class DipPlan:
    """What the dips tell: mL for a millimetre on the stick, how much is still missing, the next pour, what is inside so far, mL."""

    ml_per_mm: float | None
    missing_ml: float | None
    next_pour_ml: float | None
    added_ml: float
    done: bool
    text: str
    working: Working


def dip_plan(dips: Sequence[tuple[float, float]], target_mm: float) -> DipPlan:
    """Plan the next pour from dips: pour, wait, dip, repeat, never past the mark.

    Parameters
    ----------
    dips : (added_ml since the start, reading_mm on the stick), in order, at least one
    target_mm : where the oil shall stand on the stick, mm

    Returns
    -------
    DipPlan; with one dip, or dips that do not rise, mL per mm is unknown and the next pour is left to the hand

    Raises
    ------
    Inconsistent : no dip, or amounts that fall
    OutOfRange : outside 0 to 60 000 mL or 0 to 500 mm

    References
    ----------
    Least squares through the dips; 80 % of the remainder until within 2 mm: common practice.
    """
    in_range("target_mm", target_mm, 0, 500, "mm")
    if not dips:
        raise Inconsistent(say("Dip once before planning."), field="dips", value="")
    for (a0, _), (a1, _) in itertools.pairwise(dips):
        if a1 < a0:
            raise Inconsistent(say("What was added cannot become less."), field="dips", value=a1)
    for added, reading in dips:
        in_range("added_ml", added, 0, 60_000, "mL")
        in_range("reading_mm", reading, 0, 500, "mm")
    added, reading = dips[-1]
    slope: float | None = None
    if len({a for a, _ in dips}) > 1:
        mm_per_ml = float(np.polyfit([a for a, _ in dips], [r for _, r in dips], 1)[0])
        slope = 1.0 / mm_per_ml if mm_per_ml > 1e-9 else None
    short_mm = target_mm - reading
    if short_mm <= 0:
        over = say(", {short_mm:g} mm over", short_mm=-short_mm) if short_mm < 0 else ""
        return DipPlan(
            slope, 0.0, 0.0, added, True, say("At the mark{over}: {added} went in.", over=over, added=ml(added)), _dip_working(dips, slope)
        )
    if slope is None:
        return DipPlan(
            None, None, None, added, False, say("Pour a little, wait, dip again: then the stick can be read."), _dip_working(dips, slope)
        )
    missing = short_mm * slope
    share = 1.0 if short_mm <= NEAR_MM else NEXT_POUR
    text = say(
        "{missing} still missing ({short_mm:g} mm): pour {ml}, wait, dip.", missing=ml(missing), short_mm=short_mm, ml=ml(share * missing)
    )
    return DipPlan(slope, missing, share * missing, added, False, text, _dip_working(dips, slope))


def _dip_working(dips: Sequence[tuple[float, float]], slope: float | None) -> Working:
    shown = tuple((say("dip {k}", k=k), say("{a} in, {r:g} mm", a=ml(a), r=r)) for k, (a, r) in enumerate(dips, 1))
    last = (say("mL per mm"), f"{slope:.1f}" if slope else say("not known yet"))
    return Working("missing = (mark − reading) × mL per mm", (*shown[-6:], last), COMMON_PRACTICE)
