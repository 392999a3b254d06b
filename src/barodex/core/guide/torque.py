"""Torque: what the wrench must be set to, and what the unit on it means."""

from __future__ import annotations

import math
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import Working
from barodex.core.words import say

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
            say("The adaptor reaches back to the hand: turn it forward or to the side."),
            field="angle_deg",
            value=angle_deg,
            allowed=say("an effective length of at least a quarter of the wrench"),
        )
    setting = torque_nm * wrench_mm / arm
    warning = ""
    if wrench_max_nm is not None:
        in_range("wrench_max_nm", wrench_max_nm, 1, 5000, "N·m")
        if setting > wrench_max_nm:
            warning = say(
                "{setting:.0f} N·m is beyond this wrench ({wrench_max_nm:.0f} N·m): take a larger one.",
                setting=setting,
                wrench_max_nm=wrench_max_nm,
            )
        elif setting < 0.2 * wrench_max_nm:
            warning = say(
                "{setting:.0f} N·m is below a fifth of this wrench's range, where it is not exact: take a smaller one.", setting=setting
            )
    working = Working(
        "setting = T·L / (L + E·cos θ)",
        (("T", f"{torque_nm:g} N·m"), ("L", f"{wrench_mm:g} mm"), ("E", f"{offset_mm:g} mm"), ("θ", f"{angle_deg:g}°")),
        "FAA AC 43.13-1B chapter 7 (straight form)",
    )
    return WrenchSetting(torque_nm, setting, setting / NM_PER_LBF_FT, warning, working)


LAYOUTS = ("circle", "pan")
ROUNDS = ((say("all by hand"), 0.0), ("half torque", 0.5), ("full torque", 1.0), (say("once round again"), 1.0))


@dataclass(frozen=True)
class BoltSequence:
    """In which order to draw bolts: numbers clockwise from the top, where each sits (x, y from 0 to 1), and the rounds in words."""

    order: tuple[int, ...]
    positions: tuple[tuple[float, float], ...]
    rounds: tuple[str, ...]
    working: Working


def _circle_order(count: int) -> list[int]:
    half, quarter = count // 2, count // 4
    if count % 4 == 0 and count > 4:
        starts = range(quarter) if quarter < 4 else [*range(0, quarter, 2), *range(1, quarter, 2)]
        return [k for s in starts for k in (s, s + half, s + quarter, s + quarter + half)]
    if count % 2 == 0:
        starts = [*range(0, half, 2), *range(1, half, 2)] if half > 3 else range(half)
        return [k for s in starts for k in (s, s + half)]
    return [(k * half) % count for k in range(count)]


def _pan_positions(count: int) -> list[tuple[float, float]]:
    """Evenly round a rectangle of four to three, clockwise from the top left corner."""
    wide, high = 1.0, 0.75
    found = []
    for k in range(count):
        way = 2 * (wide + high) * k / count
        if way < wide:
            found.append((way, 0.0))
        elif way < wide + high:
            found.append((wide, way - wide))
        elif way < 2 * wide + high:
            found.append((2 * wide + high - way, high))
        else:
            found.append((0.0, 2 * (wide + high) - way))
    return found


def bolt_sequence(count: int, layout: str = "pan", torque_nm: float | None = None) -> BoltSequence:
    """Give the order in which the bolts of a cover or pan are drawn.

    Parameters
    ----------
    count : number of bolts, 3 to 60
    layout : circle (crosswise), or pan (from the middle outwards, crosswise)
    torque_nm : full torque, N·m, for the words of the rounds; None unknown

    Returns
    -------
    BoltSequence; bolts are numbered clockwise from the top

    Raises
    ------
    OutOfRange : outside the ranges
    Inconsistent : no such layout

    References
    ----------
    Circle: the cross pattern of ASME PCC-1 (4, 8, 12, 16 and 20 bolts, from memory). Pan: common practice.
    """
    if isinstance(count, bool) or count != int(count):
        raise OutOfRange(say("Bolts are counted whole."), field="count", value=count, allowed="3 to 60")
    bolts = int(in_range("count", count, 3, 60))
    if torque_nm is not None:
        in_range("torque_nm", torque_nm, 0.2, 1000, "N·m")
    if layout == "circle":
        turns = [2 * math.pi * k / bolts for k in range(bolts)]
        positions = [(0.5 + 0.5 * math.sin(a), 0.5 - 0.5 * math.cos(a)) for a in turns]
        order = _circle_order(bolts)
    elif layout == "pan":
        positions = _pan_positions(bolts)
        left = set(range(bolts))
        order = []
        while left:
            near = min(left, key=lambda k: (round(math.dist(positions[k], (0.5, 0.375)), 6), k))
            left.discard(near)
            order.append(near)
            if left:
                far = max(
                    left,
                    key=lambda k: (
                        round(math.dist(positions[k], positions[near]), 6) if _opposite(positions[k], positions[near]) else 0.0,
                        -k,
                    ),
                )
                left.discard(far)
                order.append(far)
    else:
        raise Inconsistent(say("No layout “{layout}”.", layout=layout), field="layout", value=layout, allowed=", ".join(LAYOUTS))
    words = []
    for name, share in ROUNDS:
        words.append(f"{name}: {share * torque_nm:.3g} N·m" if torque_nm is not None and share else name)
    source = say("cross pattern of ASME PCC-1, from memory") if layout == "circle" else "common practice"
    working = Working(
        "opposite after opposite, a quarter turn further each time"
        if layout == "circle"
        else "from the middle outwards, each followed by its opposite",
        (("bolts", str(bolts)), ("layout", layout)),
        source,
    )
    return BoltSequence(tuple(k + 1 for k in order), tuple(positions), tuple(words), working)


def _opposite(one: tuple[float, float], other: tuple[float, float]) -> bool:
    """Whether two places of a pan lie about as far from its middle, on the other side."""
    near = math.dist(one, (0.5, 0.375)), math.dist(other, (0.5, 0.375))
    return abs(near[0] - near[1]) < 0.12
