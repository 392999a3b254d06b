"""What a kind of compartment says of itself, whatever its sheet: the one place where "are there clutches in this oil?" is answered."""

from __future__ import annotations

from collections.abc import Collection

CLUTCH_KINDS = ("automatic", "dual-clutch", "clutch transfer case", "electronic differential", "marine gearbox")


def clutches_inside(kind: str, wet_clutch: bool = False, limited_slip: bool | None = None) -> bool:
    """Say whether friction linings run in the oil of a compartment.

    Parameters
    ----------
    kind : the kind of compartment
    wet_clutch : what its sheet says of wet clutches
    limited_slip : whether a clutch-type limited slip is inside; None for unknown

    Returns
    -------
    bool

    References
    ----------
    Common practice: automatics, dual-clutch boxes, clutch-type cases and couplings and marine gearboxes shift or hold by clutches.
    """
    return kind in CLUTCH_KINDS or wet_clutch or bool(limited_slip)


def fluid_rules(kind: str, wet_clutch: bool = False, limited_slip: bool | None = None, approvals: Collection[str] = ()) -> bool:
    """Say whether an oil must claim the fluids of the sheet: clutches run in it, or a limited slip whose sheet lists a fluid.

    Parameters
    ----------
    kind, wet_clutch, limited_slip : as :func:`clutches_inside`
    approvals : the fluids and approvals that the sheet lists

    Returns
    -------
    bool

    References
    ----------
    Common practice: an axle oil with friction modifier is right for a limited slip unless its maker names a fluid.
    """
    return clutches_inside(kind, wet_clutch, limited_slip if approvals else None)


COMPARTMENT_KINDS = (
    "manual gearbox",
    "transaxle",
    "automatic",
    "dual-clutch",
    "axle",
    "electronic differential",
    "transfer case",
    "clutch transfer case",
    "bevel drive",
    "supercharger",
    "hub gear",
    "chain case",
    "marine gearbox",
)
