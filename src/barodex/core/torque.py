"""Torque: what the wrench must be set to, and what the unit on it means."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .errors import OutOfRange, in_range
from .working import Working

NM_PER_LBF_FT = 1.3558179483314004


@dataclass(frozen=True)
class WrenchSetting:
    """``setting_nm`` to set on the wrench for ``torque_nm`` at the plug; ``warning`` is empty when all is well."""

    torque_nm: float
    setting_nm: float
    setting_lbf_ft: float
    warning: str
    working: Working


def nm_to_lbf_ft(torque_nm: float) -> float:
    """Give a torque in pound-force feet.

    Parameters
    ----------
    torque_nm : torque, N·m, 0 to 5000

    Returns
    -------
    float, lbf·ft

    Raises
    ------
    OutOfRange : outside the range

    References
    ----------
    NIST SP 811 appendix B: 1 lbf·ft = 1.3558179483314004 N·m.
    """
    return in_range("torque_nm", torque_nm, 0, 5000, "N·m") / NM_PER_LBF_FT


def wrench_setting(
    torque_nm: float, wrench_mm: float, offset_mm: float = 0.0, angle_deg: float = 0.0, wrench_max_nm: float | None = None
) -> WrenchSetting:
    """Give the setting of a torque wrench that carries an adaptor which moves the drive off its axis.

    setting = T·L / (L + E·cos θ). An extension bar along the bolt's axis needs no correction (E = 0).

    Parameters
    ----------
    torque_nm : torque wanted at the plug, N·m, above 0 to 5000
    wrench_mm : L, from the centre of the wrench's drive to the hand, mm, 50 to 3000
    offset_mm : E, from the wrench's drive to the plug, mm, 0 to 1000
    angle_deg : θ, angle of the adaptor to the wrench, degrees, 0 to 180 (90: no correction)
    wrench_max_nm : the wrench's largest setting, N·m; a warning appears outside 20 to 100 % of it

    Returns
    -------
    WrenchSetting

    Raises
    ------
    OutOfRange : outside the ranges, or an adaptor that reaches back to the hand (L + E·cos θ ≤ 0)

    References
    ----------
    FAA AC 43.13-1B chapter 7 for the straight form; the cosine is the adaptor's projection on the wrench.
    The 20 % limit is common practice.
    """
    in_range("torque_nm", torque_nm, 1e-3, 5000, "N·m")
    in_range("wrench_mm", wrench_mm, 50, 3000, "mm")
    in_range("offset_mm", offset_mm, 0, 1000, "mm")
    in_range("angle_deg", angle_deg, 0, 180, "°")
    arm = wrench_mm + offset_mm * math.cos(math.radians(angle_deg))
    if arm < wrench_mm / 4:
        raise OutOfRange(
            "The adaptor reaches back to the hand: turn it forward or to the side.",
            field="angle_deg",
            value=angle_deg,
            allowed="an effective length of at least a quarter of the wrench",
        )
    setting = torque_nm * wrench_mm / arm
    warning = ""
    if wrench_max_nm is not None:
        in_range("wrench_max_nm", wrench_max_nm, 1, 5000, "N·m")
        if setting > wrench_max_nm:
            warning = f"{setting:.0f} N·m is beyond this wrench ({wrench_max_nm:.0f} N·m): take a larger one."
        elif setting < 0.2 * wrench_max_nm:
            warning = f"{setting:.0f} N·m is below a fifth of this wrench's range, where it is not exact: take a smaller one."
    working = Working(
        "setting = T·L / (L + E·cos θ)",
        (("T", f"{torque_nm:g} N·m"), ("L", f"{wrench_mm:g} mm"), ("E", f"{offset_mm:g} mm"), ("θ", f"{angle_deg:g}°")),
        "FAA AC 43.13-1B chapter 7 (straight form)",
    )
    return WrenchSetting(torque_nm, setting, setting / NM_PER_LBF_FT, warning, working)
