"""A spec sheet revision as the core sees it: what the compartment holds, how it opens, how its level is set."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Any

from barodex.core.kinds.kind import fluid_rules
from barodex.core.oil.lubricant import AmbientGrade, Requirement
from barodex.core.quantity.errors import Inconsistent
from barodex.core.quantity.window import TemperatureWindow
from barodex.core.quantity.working import figure
from barodex.core.sheet.figures import Figures
from barodex.core.words import say

PLUG_ROLES = ("fill", "drain", "level", "combination", "dipstick", "cover")
SEALS = ("crush washer", "O-ring", "taper thread", "PTFE tape", "thread-lock", "gasket", "sealant", "new plug", "none", "unknown")
DRIVES = ("hex socket", "hex head", "square", "six-lobe", "multi-point", "slot", "by hand", "unknown")
TRUSTS = ("verified", "remembered", "guessed", "unknown")
SOURCES = ("bulletin", "plate", "manual", "oil maker", "forum", "memory", "guess")


MM_PER_INCH = 25.4


def key_size(size_mm: float) -> str:
    """Name a key as it is stamped: ``12 mm``, ``5/8 in``.

    Parameters
    ----------
    size_mm : across the flats, mm

    Returns
    -------
    str; a fraction of an inch down to 1/32 where the size is one to 2 µm and no half millimetre

    References
    ----------
    1 in = 25.4 mm (NIST SP 811). Keys are stamped in whole and half millimetres or in fractions of an inch (common practice).
    """
    parts = Fraction(round(size_mm / MM_PER_INCH * 32), 32)
    if abs(float(parts) * MM_PER_INCH - size_mm) > 0.002 or abs(size_mm * 2 - round(size_mm * 2)) < 0.01:
        return say("{size_mm} mm", size_mm=figure(size_mm, 1))
    whole, rest = divmod(parts, 1)
    return " ".join([*([str(whole)] if whole else []), *([str(rest)] if rest else []), "in"])


@dataclass(frozen=True)
class Head:
    """A plug head that a variant has: on which plug (by its label), drive, size in mm, torque in N·m (None unknown)."""

    plug: str
    drive: str = "unknown"
    size_mm: float | None = None
    torque_nm: float | None = None


@dataclass(frozen=True)
class Variant:
    """A variant of a compartment that looks like its sisters: the mark on its casing, and what differs. None and empty: as the sheet."""

    name: str
    mark: str = ""
    capacity_ml: float | None = None
    grade: str = ""
    categories: str = ""
    heads: tuple[Head, ...] = ()


@dataclass(frozen=True)
class CasingMark:
    """Something to read on the casing: where to look, what may stand there, what it tells."""

    where: str
    reads: str = ""
    tells: str = ""


@dataclass(frozen=True)
class Plug:
    """A plug: role, drive and its size (mm), seal, torque (N·m, None unknown), whether it carries a magnet.

    ``heads``: other heads that the same box is found with, each with its own torque.
    """

    role: str
    label: str
    drive: str = "unknown"
    size_mm: float | None = None
    seal: str = "unknown"
    torque_nm: float | None = None
    magnet: bool = False
    heads: tuple[Head, ...] = ()

    @property
    def key(self) -> str:
        """The key that fits, in words."""
        if self.drive == "unknown":
            return say("key unknown: look before you crawl under")
        if self.size_mm is None:
            return self.drive
        return f"{key_size(self.size_mm)} {self.drive}"


@dataclass(frozen=True)
class LevelSpec:
    """When a level is read: the oil's window in °C, engine running or off, selector, thermostat of a cooler in °C, depth below the lip in mm.

    None and empty: the sheet does not say.
    """

    window_low_c: float | None = None
    window_high_c: float | None = None
    engine: str = ""
    selector: str = ""
    thermostat_c: float | None = None
    below_lip_mm: float | None = None

    @property
    def window(self) -> TemperatureWindow | None:
        """The window, where both ends are stated."""
        if self.window_low_c is None or self.window_high_c is None:
            return None
        return TemperatureWindow(self.window_low_c, self.window_high_c)


@dataclass(frozen=True)
class Sheet:
    """A revision. None means unknown and is carried as such; ``trust`` maps a figure's name to verified … unknown."""

    kind: str
    requirement: Requirement
    capacity_ml: float | None
    fill_method: str
    drain_method: str
    plugs: tuple[Plug, ...]
    number: int = 1
    case_material: str = "unknown"
    drain_minutes: float | None = None
    warm_up: bool = True
    level_note: str = ""
    cautions: tuple[str, ...] = ()
    trust: Mapping[str, str] = field(default_factory=dict)
    variants: tuple[Variant, ...] = ()
    casing_marks: tuple[CasingMark, ...] = ()
    variant: str = ""
    level: LevelSpec = LevelSpec()
    total_ml: float | None = None
    exchange_cycles: int = 1
    surplus_ml: float = 0.0
    flush_ml: float | None = None
    resets: tuple[str, ...] = ()
    wear_limits: tuple[str, ...] = ()  # name and figure of what a tool reads, above which it is worn
    hose: str = ""
    rinse_ml: float | None = None  # that the sheet asks to be poured through at every change
    trays_nm: float | None = None

    @property
    def way_out(self) -> Plug | None:
        """The plug or cover that lets the oil out; None when it is sucked out."""
        if self.drain_method == "suction":
            return None
        return self.plug("cover") if self.drain_method == "cover" else self.plug("drain", "combination")

    @property
    def keeps_some(self) -> bool:
        """Whether an unknown share of the oil stays inside when it is emptied: what comes out tells no loss then."""
        return keeps_some(self.drain_method, self.capacity_ml, self.total_ml)

    def plug(self, *roles: str) -> Plug | None:
        """The first plug with one of the roles, or None."""
        return next((p for p in self.plugs if p.role in roles), None)

    @property
    def magnet(self) -> bool:
        return any(p.magnet for p in self.plugs)


def asked_by(
    kind: str, figures: Figures, ambient: tuple[AmbientGrade, ...] = (), limited_slip: bool | None = None, edition: str = ""
) -> Requirement:
    """Give what the figures of a revision ask of an oil.

    Parameters
    ----------
    kind : of the compartment
    figures : of the revision
    ambient : its grades by air temperature
    limited_slip : answers what the figures leave open
    edition : of SAE J306, where the sheet is older than the grades of today

    Returns
    -------
    Requirement

    References
    ----------
    None needed.
    """
    known = figures.limited_slip if figures.limited_slip is not None else limited_slip
    return Requirement(
        family=figures.family,
        grade=figures.grade,
        categories=figures.categories,
        hypoid=figures.hypoid,
        yellow_metal=figures.yellow_metal,
        limited_slip=known,
        also=tuple(figures.also),
        no_ep=figures.no_ep,
        wet_clutch=fluid_rules(kind, figures.wet_clutch, known, figures.approvals),
        synchro=figures.synchro,
        non_detergent=figures.non_detergent,
        approvals=tuple(figures.approvals),
        ambient=ambient,
        base=figures.base,
        modifier_ml=figures.modifier_ml,
        residual_ml=figures.residual_ml,
        edition=edition,
    )


def sheet_of(kind: str, figures: Figures, requirement: Requirement, plugs: tuple[Plug, ...], **rows: Any) -> Sheet:
    """Give a sheet from the figures of a revision.

    Parameters
    ----------
    kind : of the compartment
    figures : of the revision
    requirement : from :func:`asked_by`
    plugs : as the revision lists them
    rows : ``number``, ``trust``, ``variants``, ``casing_marks`` of a :class:`Sheet`

    Returns
    -------
    Sheet

    References
    ----------
    None needed.
    """
    return Sheet(
        kind=kind,
        requirement=requirement,
        capacity_ml=figures.capacity_ml,
        fill_method=figures.fill_method,
        drain_method=figures.drain_method,
        plugs=plugs,
        case_material=figures.case_material,
        drain_minutes=figures.drain_minutes,
        warm_up=figures.warm_up,
        level_note=figures.level_note,
        cautions=tuple(figures.cautions),
        level=LevelSpec(
            figures.window_low_c, figures.window_high_c, figures.level_engine, figures.selector, figures.thermostat_c, figures.below_lip_mm
        ),
        total_ml=figures.total_ml,
        exchange_cycles=figures.exchange_cycles,
        surplus_ml=figures.surplus_ml or 0.0,
        flush_ml=figures.flush_ml,
        resets=tuple(figures.resets),
        wear_limits=tuple(figures.wear_limits),
        hose=figures.hose,
        rinse_ml=figures.rinse_ml,
        trays_nm=figures.trays_nm,
        **rows,
    )


def _heads_found(plug: Plug, variants: tuple[Variant, ...]) -> tuple[Head, ...]:
    """The heads that a plug is found with while the variant is open: each variant's own, or the plug as the sheet has it."""
    own = Head(plug.label, plug.drive, plug.size_mm, plug.torque_nm)
    found = tuple(dict.fromkeys(next((h for h in v.heads if h.plug == plug.label), own) for v in variants))
    return () if found in ((), (own,)) else found


def resolve(sheet: Sheet, variant: str) -> Sheet:
    """Give the sheet of the variant that a compartment is, or the open one with every head beside its plug.

    Parameters
    ----------
    sheet : with its variants
    variant : name of the one it is; empty when nobody knows

    Returns
    -------
    Sheet

    Raises
    ------
    Inconsistent : a variant that the sheet does not list

    References
    ----------
    The same box with another plug head has another torque: common practice.
    """
    if not variant:
        return replace(sheet, plugs=tuple(replace(p, heads=_heads_found(p, sheet.variants)) for p in sheet.plugs))
    chosen = next((v for v in sheet.variants if v.name == variant), None)
    if chosen is None:
        names = ", ".join(v.name for v in sheet.variants) or "none"
        raise Inconsistent(say("The sheet lists no variant “{variant}”.", variant=variant), field="variant", value=variant, allowed=names)
    by_plug = {h.plug: h for h in chosen.heads}

    def fitted(plug: Plug) -> Plug:
        head = by_plug.get(plug.label)
        return plug if head is None else replace(plug, drive=head.drive, size_mm=head.size_mm, torque_nm=head.torque_nm)

    asked = replace(
        sheet.requirement, grade=chosen.grade or sheet.requirement.grade, categories=chosen.categories or sheet.requirement.categories
    )
    capacity = sheet.capacity_ml if chosen.capacity_ml is None else chosen.capacity_ml
    return replace(sheet, requirement=asked, capacity_ml=capacity, plugs=tuple(fitted(p) for p in sheet.plugs), variant=variant)


def keeps_some(drain_method: str, capacity_ml: float | None, total_ml: float | None) -> bool:
    """Say whether an unknown share of its oil stays inside when a compartment is emptied.

    Parameters
    ----------
    drain_method : plug, suction or cover
    capacity_ml, total_ml : what a change takes, and what the dry box holds, mL; None unknown

    Returns
    -------
    bool: it is sucked out, or a drain lets only a part of it out

    References
    ----------
    Common practice: a dry capacity more than 5 % above that of a change.
    """
    return drain_method == "suction" or (total_ml is not None and capacity_ml is not None and total_ml > 1.05 * capacity_ml)


def candidates_ml(sheet: Sheet) -> tuple[float, ...]:
    """Give the capacities that a compartment may have while its variant is open.

    Parameters
    ----------
    sheet : with its variants

    Returns
    -------
    tuple of mL, smallest first; empty once the variant is known or where none differs

    References
    ----------
    None needed.
    """
    if sheet.variant:
        return ()
    return tuple(sorted({v.capacity_ml for v in sheet.variants if v.capacity_ml is not None}))
