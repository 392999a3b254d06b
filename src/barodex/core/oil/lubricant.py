"""What is judged of an oil: its label and data sheet, what a compartment asks, the day, the workshop's school, and the reasons.

The rules stand in :mod:`barodex.core.oil.rules`, the verdict in :mod:`barodex.core.oil.judge`.
"""

from __future__ import annotations

from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import Working
from barodex.core.words import say

VERDICTS = ("meets", "equivalent", "caution", "reject")
FAMILIES = ("gear", "atf", "cvt fluid", "dual-clutch fluid", "engine", "ester turbine", "clutch fluid", "hub", "chain case", "marine")
BASES = ("", "mineral", "part synthetic", "synthetic", "ester", "PAG")
FORBIDS = "no "  # a sheet may forbid a base stock instead of insisting on one
ASKED_BASES = (*BASES, "no mineral", "no ester", "no PAG")
COPPER_STRIPS = ("", "1a", "1b", "2a", "2b", "2c", "2d", "2e", "3a", "3b", "4a", "4b", "4c")
ADDITIVE_KINDS = ("friction modifier", "extreme pressure", "tackifier", "solid lubricant", "seal conditioner", "other")
SWITCHES: dict[str, tuple[str, ...]] = {
    "dual_claim": (say("with copper strip"), "never"),
    "approval": ("equivalent", "maker's bottle"),
    "additives": ("with dose", "never"),
    "substitution": ("by viscosity", say("sheet grade only")),
    "category_weak": ("reject", say("caution without hypoid")),
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

    dual_claim: str = say("with copper strip")
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


def limited_slip_open(asked: Requirement, differential: bool = False) -> bool:
    """Say whether a limited slip has to be found out before an oil goes in.

    Parameters
    ----------
    asked : what the sheet asks
    differential : the kind of compartment may have one whatever its gears

    Returns
    -------
    bool; False where the sheet or the compartment says

    References
    ----------
    Common practice: hypoid gears without synchronisers are those of an axle.
    """
    return asked.limited_slip is None and (differential or (asked.hypoid and not asked.synchro))


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
            raise Inconsistent(
                say("“{value}” is not one of: {allowed}.", value=value, allowed=", ".join(allowed)),
                field=name,
                value=value,
                allowed=", ".join(allowed),
            )
    for name in ("near_low", "near_high", "off"):
        in_range(name, getattr(policy, name), 0, 1)
    if policy.off < max(policy.near_low, policy.near_high):
        raise Inconsistent(
            say("The outer limit must not lie inside the near limits."),
            field="off",
            value=policy.off,
            allowed=say("at least the near limits"),
        )
