"""A spec sheet revision as the core sees it: what the compartment holds, how it opens, how its level is set."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .errors import Inconsistent, in_range
from .lubricant import Requirement

KINDS = (
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
# The kinds whose guide exists; a change of another kind is written into the Book by hand.
GUIDED = ("manual gearbox", "transaxle", "axle", "transfer case", "bevel drive", "marine gearbox")
ROLES = ("fill", "drain", "level", "combination", "dipstick")
SEALS = ("crush washer", "O-ring", "taper thread", "PTFE tape", "thread-lock", "none", "unknown")
DRIVES = ("hex socket", "hex head", "square", "six-lobe", "multi-point", "slot", "by hand", "unknown")
FILL_METHODS = ("to the lip", "measured", "dipstick")
DRAIN_METHODS = ("plug", "suction")
TRUSTS = ("verified", "remembered", "guessed", "unknown")
SOURCES = ("bulletin", "plate", "manual", "oil maker", "forum", "memory", "guess")
CASES = ("iron", "aluminium", "magnesium", "unknown")


@dataclass(frozen=True)
class Plug:
    """A plug: role, drive and its size (mm), seal, torque (N·m, None unknown), whether it carries a magnet."""

    role: str
    label: str
    drive: str = "unknown"
    size_mm: float | None = None
    seal: str = "unknown"
    torque_nm: float | None = None
    magnet: bool = False

    @property
    def key(self) -> str:
        """The key that fits, in words."""
        if self.drive == "unknown":
            return "key unknown: look before you crawl under"
        if self.size_mm is None:
            return self.drive
        return f"{self.size_mm:g} mm {self.drive}"


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

    def plug(self, *roles: str) -> Plug | None:
        """The first plug with one of the roles, or None."""
        return next((p for p in self.plugs if p.role in roles), None)

    @property
    def magnet(self) -> bool:
        return any(p.magnet for p in self.plugs)


def check_sheet(sheet: Sheet) -> None:
    """Refuse a sheet that contradicts itself.

    Parameters
    ----------
    sheet : amounts in mL, torques in N·m, sizes in mm

    Raises
    ------
    OutOfRange : a capacity outside 5 to 60 000 mL, a torque outside 1 to 1000 N·m, a key outside 2 to 60 mm
    Inconsistent : a word that is not in the lists, drained by a plug that the sheet does not have, or filled to a lip
        without a fill, level or combination plug

    References
    ----------
    Ranges: common practice.
    """
    lists: tuple[tuple[str, str, tuple[str, ...]], ...] = (
        ("kind", sheet.kind, KINDS),
        ("fill_method", sheet.fill_method, FILL_METHODS),
        ("case_material", sheet.case_material, CASES),
        ("drain_method", sheet.drain_method, DRAIN_METHODS),
    )
    for name, value, allowed in lists:
        if value not in allowed:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(allowed)}.", field=name, value=value, allowed=", ".join(allowed))
    if sheet.capacity_ml is not None:
        in_range("capacity_ml", sheet.capacity_ml, 5, 60_000, "mL")
    if sheet.drain_minutes is not None:
        in_range("drain_minutes", sheet.drain_minutes, 1, 1440, "min")
    for k, plug in enumerate(sheet.plugs):
        words: tuple[tuple[str, str, tuple[str, ...]], ...] = (
            ("role", plug.role, ROLES),
            ("drive", plug.drive, DRIVES),
            ("seal", plug.seal, SEALS),
        )
        for name, value, allowed in words:
            if value not in allowed:
                raise Inconsistent(
                    f"“{value}” is not one of: {', '.join(allowed)}.", field=f"plugs.{k}.{name}", value=value, allowed=", ".join(allowed)
                )
        if plug.torque_nm is not None and not 1 <= plug.torque_nm <= 1000:
            raise Inconsistent(
                f"A plug torque of {plug.torque_nm:g} N·m cannot be right; allowed is 1 to 1000 N·m.",
                field=f"plugs.{k}.torque_nm",
                value=plug.torque_nm,
                allowed="1 to 1000 N·m",
            )
        if plug.size_mm is not None and not 2 <= plug.size_mm <= 60:
            raise Inconsistent(
                f"A key of {plug.size_mm:g} mm cannot be right; allowed is 2 to 60 mm.",
                field=f"plugs.{k}.size_mm",
                value=plug.size_mm,
                allowed="2 to 60 mm",
            )
    if sheet.drain_method == "plug" and sheet.plug("drain", "combination") is None:
        raise Inconsistent("Drained by a plug, but the sheet lists no drain plug.", field="plugs", value="")
    if sheet.fill_method == "to the lip" and sheet.plug("fill", "level", "combination") is None:
        raise Inconsistent("Filled to the lip, but the sheet lists no fill or level plug.", field="plugs", value="")
    if sheet.fill_method == "dipstick" and sheet.plug("dipstick") is None:
        raise Inconsistent("Levelled by dipstick, but the sheet lists no dipstick.", field="plugs", value="")
