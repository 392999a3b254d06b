"""Figures that can be but rarely are: each is questioned, none refused. All ranges are common practice."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from barodex.core.kinds.kind import COMPARTMENT_KINDS, kind_of
from barodex.core.quantity.errors import OutOfRange
from barodex.core.quantity.working import grouped, ml
from barodex.core.sheet.sheet import Sheet
from barodex.core.words import say

USUAL_TORQUE_NM = (8.0, 120.0)
USUAL_KEY_MM = (5.0, 36.0)
USUAL_KM = (2_000.0, 200_000.0)
USUAL_MONTHS = (6, 144)


def usual_fill_ml(kind: str) -> float | None:
    """Give the middle of what a kind of compartment usually takes.

    Parameters
    ----------
    kind : compartment kind

    Returns
    -------
    float, mL, the geometric mean of the usual ends; None for a kind that is not known

    References
    ----------
    The table of kinds, common practice.
    """
    if kind not in COMPARTMENT_KINDS:
        return None
    low, high = kind_of(kind).usual_fill_ml
    return math.sqrt(low * high)


@dataclass(frozen=True)
class Doubt:
    """A figure to look at again: where it stands, a sentence, and what is usual."""

    field: str
    text: str
    usual: str


def doubts(sheet: Sheet, interval_km: float | None = None, interval_months: int | None = None) -> tuple[Doubt, ...]:
    """Give the figures of a sheet that lie outside what is usual for its kind.

    Parameters
    ----------
    sheet : a sheet that holds together (see :func:`barodex.core.sheet.checked.check_sheet`); amounts in mL, torques in N·m, keys in mm
    interval_km : interval in km; None when the sheet is silent
    interval_months : interval in months; None when the sheet is silent

    Returns
    -------
    tuple of :class:`Doubt`; empty when nothing is unusual

    References
    ----------
    Common practice: typical fills by kind of compartment, plug torques, keys and intervals.
    """
    found: list[Doubt] = []
    low, high = kind_of(sheet.kind).usual_fill_ml
    amounts = [("capacity_ml", sheet.capacity_ml)] + [(f"variants.{k}.capacity_ml", v.capacity_ml) for k, v in enumerate(sheet.variants)]
    for name, value in amounts:
        if value is not None and not low <= value <= high:
            text = say("{value} is unusual for this kind ({kind}).", value=ml(value), kind=sheet.kind)
            found.append(Doubt(name, text, say("{low} to {high}", low=grouped(low), high=ml(high))))
    for k, plug in enumerate(sheet.plugs):
        found += _outside(
            f"plugs.{k}.torque_nm", say("{plug_label}: torque", plug_label=plug.label), plug.torque_nm, USUAL_TORQUE_NM, "N·m"
        )
        found += _outside(f"plugs.{k}.size_mm", say("{plug_label}: key", plug_label=plug.label), plug.size_mm, USUAL_KEY_MM, "mm")
    found += _outside("interval_km", "Interval", interval_km, USUAL_KM, "km")
    found += _outside("interval_months", "Interval", interval_months, USUAL_MONTHS, "months")
    return tuple(found)


def _outside(field: str, what: str, value: float | None, usual: tuple[float, float], unit: str) -> Iterable[Doubt]:
    if value is not None and not usual[0] <= value <= usual[1]:
        yield Doubt(
            field,
            say("{what} {value:g} {unit} is unusual.", what=what, value=value, unit=unit),
            say("{usual:g} to {usual_2:g} {unit}", usual=usual[0], usual_2=usual[1], unit=unit),
        )


LOW_SHARE = 0.15  # of the capacity: so much below full the level is at its low mark (common practice)
MOST_TIMES = 5.0  # so many times of what a compartment holds cannot have come out of it or gone in (common practice)


def more_than_it_holds(name: str, volume_ml: float, sigma_ml: float, holds_ml: float) -> bool:
    """Say whether an amount is more than a compartment holds, beyond what the reading may be wrong by.

    Parameters
    ----------
    name : the field, for the error
    volume_ml, sigma_ml : the amount and its σ, mL
    holds_ml : what it holds at most, mL

    Returns
    -------
    bool; True wants a reason

    Raises
    ------
    OutOfRange : more than five times of it

    References
    ----------
    Common practice; 2σ of the reading as :func:`barodex.core.ledger.drained.drained_sigma_ml`.
    """
    if volume_ml > MOST_TIMES * holds_ml:
        raise OutOfRange(
            say("{volume_ml} cannot be of a compartment of {holds_ml}.", volume_ml=ml(volume_ml), holds_ml=ml(holds_ml)),
            field=name,
            value=volume_ml,
            allowed=say("up to {ml}", ml=ml(MOST_TIMES * holds_ml)),
        )
    return volume_ml - 2 * sigma_ml > holds_ml


def less_than_it_should(volume_ml: float, sigma_ml: float, holds_ml: float) -> bool:
    """Say whether an amount that came out is less than what a compartment holds at its low mark, beyond what the reading may be wrong by.

    Parameters
    ----------
    volume_ml, sigma_ml : the amount and its σ, mL
    holds_ml : what it holds at least, mL

    Returns
    -------
    bool; True wants a reason: it ran low, or the sheet is wrong

    References
    ----------
    Common practice: the low mark lies 15 % below full; 2σ of the reading.
    """
    return volume_ml + 2 * sigma_ml < (1 - LOW_SHARE) * holds_ml
