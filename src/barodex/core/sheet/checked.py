"""Whether a sheet can be: its figures in range, its plugs and variants fitting each other."""

from __future__ import annotations

from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.sheet.sheet import DRIVES, PLUG_ROLES, SEALS, Sheet
from barodex.core.words import say


def _among(field: str, value: str, allowed: tuple[str, ...]) -> None:
    if value not in allowed:
        raise Inconsistent(
            say("“{value}” is not one of: {allowed}.", value=value, allowed=", ".join(allowed)),
            field=field,
            value=value,
            allowed=", ".join(allowed),
        )


def _check_head(at: str, drive: str, size_mm: float | None, torque_nm: float | None) -> None:
    _among(f"{at}drive", drive, DRIVES)
    for name, what, value, low, high, unit in (
        ("torque_nm", say("A plug torque"), torque_nm, 1, 1000, "N·m"),
        ("size_mm", "A key", size_mm, 2, 60, "mm"),
    ):
        if value is not None and not low <= value <= high:
            raise Inconsistent(
                say(
                    "{what} of {value:g} {unit} cannot be right; allowed is {low} to {high} {unit}.",
                    what=what,
                    value=value,
                    unit=unit,
                    low=low,
                    high=high,
                ),
                field=f"{at}{name}",
                value=value,
                allowed=say("{low} to {high} {unit}", low=low, high=high, unit=unit),
            )


def _check_variants(sheet: Sheet) -> None:
    labels = [p.label for p in sheet.plugs]
    for k, variant in enumerate(sheet.variants):
        at = f"variants.{k}."
        if not variant.name.strip() or [v.name for v in sheet.variants].count(variant.name) > 1:
            raise Inconsistent(say("Each variant needs a name of its own."), field=f"{at}name", value=variant.name)
        if variant.capacity_ml is not None:
            try:
                in_range("capacity_ml", variant.capacity_ml, 5, 60_000, "mL")
            except OutOfRange as error:
                error.field = f"{at}capacity_ml"
                raise
        for h, head in enumerate(variant.heads):
            _among(f"{at}heads.{h}.plug", head.plug, tuple(labels))
            _check_head(f"{at}heads.{h}.", head.drive, head.size_mm, head.torque_nm)


def _check_ways_in(sheet: Sheet) -> None:
    """Each plug once, and one to fill through: a row that was lost on the way is not taken in silence."""
    labels = [p.label.strip().casefold() for p in sheet.plugs]
    for k, label in enumerate(labels):
        if label in labels[:k]:
            raise Inconsistent(
                say("Two plugs are called “{plugs_label}”.", plugs_label=sheet.plugs[k].label),
                field=f"plugs.{k}.label",
                value=sheet.plugs[k].label,
            )
    by_plug = sheet.fill_method not in ("dipstick", "overflow") and bool(sheet.plugs)
    level_alone = [p.role for p in sheet.plugs].count("level") == 1 and len(sheet.plugs) <= 2  # the level plug is the filler
    if by_plug and sheet.plug("fill", "combination") is None and not level_alone:
        raise Inconsistent(say("The sheet lists no plug to fill through."), field="plugs", value="")


def check_sheet(sheet: Sheet) -> None:
    """Refuse a sheet whose rows contradict each other or its figures, which :func:`check_figures` has looked at.

    Parameters
    ----------
    sheet : amounts in mL, torques in N·m, sizes in mm

    Raises
    ------
    OutOfRange : a variant's capacity outside 5 to 60 000 mL, a torque outside 1 to 1000 N·m, a key outside 2 to 60 mm
    Inconsistent : a variant twice or on a plug that is not there, a mark without a place, a word that is not in the lists, drained by a plug that the sheet does not have, or filled to a lip
        without a fill, level or combination plug

    References
    ----------
    Ranges: common practice.
    """
    _among("kind", sheet.kind, COMPARTMENT_KINDS)
    for k, plug in enumerate(sheet.plugs):
        _among(f"plugs.{k}.role", plug.role, PLUG_ROLES)
        _among(f"plugs.{k}.seal", plug.seal, SEALS)
        _check_head(f"plugs.{k}.", plug.drive, plug.size_mm, plug.torque_nm)
    _check_ways_in(sheet)
    _check_variants(sheet)
    for k, mark in enumerate(sheet.casing_marks):
        if not mark.where.strip():
            raise Inconsistent(say("Say where on the casing to look."), field=f"casing_marks.{k}.where", value=mark.where)
    if sheet.drain_method == "cover" and sheet.plug("cover") is None:
        raise Inconsistent(say("Drained by taking a cover off, but the sheet lists no cover."), field="plugs", value="")
    if sheet.drain_method == "plug" and sheet.plug("drain", "combination") is None:
        raise Inconsistent(say("Drained by a plug, but the sheet lists no drain plug."), field="plugs", value="")
    if sheet.fill_method in ("to the lip", "below the lip", "overflow", "dribble") and sheet.plug("fill", "level", "combination") is None:
        raise Inconsistent(say("Filled to a hole, but the sheet lists no fill or level plug."), field="plugs", value="")
    if sheet.fill_method == "dipstick" and sheet.plug("dipstick") is None:
        raise Inconsistent(say("Levelled by dipstick, but the sheet lists no dipstick."), field="plugs", value="")
