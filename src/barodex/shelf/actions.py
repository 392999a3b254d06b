"""Changes of sheets, oils and stock."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, field
from decimal import Decimal

from django.db import transaction
from django.db.models import F

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.errors import Inconsistent, OutOfRange, in_range
from barodex.core.grades import parse_category, parse_grade
from barodex.core.lubricant import FAMILIES, Requirement
from barodex.core.sheet import KINDS, SOURCES, TRUSTS, Sheet, check_sheet
from barodex.core.sheet import Plug as CorePlug

from .models import Container, FigureSource, Lubricant, Pack, Plug, SheetRevision, SpecSheet, StockMovement


@dataclass(frozen=True)
class Source:
    """Where a figure comes from."""

    figure: str
    source: str
    trust: str
    note: str = ""


@dataclass(frozen=True)
class Figures:
    """What stands on a revision. Amounts in mL, intervals in km, h, months; None is unknown."""

    family: str
    capacity_ml: float | None = None
    grade: str = ""
    categories: str = ""
    hypoid: bool = False
    yellow_metal: bool | None = None
    limited_slip: bool | None = None
    fill_method: str = "to the lip"
    drain_method: str = "plug"
    case_material: str = "unknown"
    drain_minutes: float | None = None
    warm_up: bool = True
    level_note: str = ""
    cautions: tuple[str, ...] = ()
    interval_km: float | None = None
    interval_h: float | None = None
    interval_months: int | None = None
    plugs: tuple[CorePlug, ...] = ()
    sources: tuple[Source, ...] = ()
    effective_on: dt.date | None = None


FIGURES_WITH_SOURCE = ("capacity", "oil", "interval", "torque")


def _check(kind: str, figures: Figures) -> None:
    if figures.family not in FAMILIES:
        raise Inconsistent(f"“{figures.family}” is not an oil family.", field="family", value=figures.family, allowed=", ".join(FAMILIES))
    parse_category(figures.categories)
    if figures.grade and figures.family == "gear":
        parse_grade(figures.grade)
    for name, value, high, unit in (
        ("interval_km", figures.interval_km, 1_000_000, "km"),
        ("interval_h", figures.interval_h, 20_000, "h"),
        ("interval_months", figures.interval_months, 240, "months"),
    ):
        if value is not None:
            in_range(name, value, 1, high, unit)
    for k, source in enumerate(figures.sources):
        if source.source not in SOURCES or source.trust not in TRUSTS:
            raise Inconsistent(
                "A source is one of " + ", ".join(SOURCES) + "; trust one of " + ", ".join(TRUSTS) + ".",
                field=f"sources.{k}.source",
                value=source.source,
            )
    asked = Requirement(figures.family, figures.grade, figures.categories, figures.hypoid, figures.yellow_metal, figures.limited_slip)
    check_sheet(
        Sheet(
            kind,
            asked,
            figures.capacity_ml,
            figures.fill_method,
            figures.drain_method,
            figures.plugs,
            case_material=figures.case_material,
            drain_minutes=figures.drain_minutes,
        )
    )


def _write_revision(by: Person, sheet: SpecSheet, number: int, figures: Figures, reason: str) -> SheetRevision:
    plain = {f: getattr(figures, f) for f in Figures.__dataclass_fields__ if f not in ("plugs", "sources", "cautions", "effective_on")}
    revision = SheetRevision.objects.create(
        sheet=sheet,
        number=number,
        reason=reason,
        by=by,
        at=clock.now(),
        effective_on=figures.effective_on or clock.today(),
        cautions=list(figures.cautions),
        **plain,
    )
    Plug.objects.bulk_create(
        Plug(
            revision=revision,
            role=p.role,
            label=p.label,
            drive=p.drive,
            size_mm=p.size_mm,
            seal=p.seal,
            torque_nm=p.torque_nm,
            magnet=p.magnet,
        )
        for p in figures.plugs
    )
    FigureSource.objects.bulk_create(
        FigureSource(revision=revision, figure=s.figure, source=s.source, trust=s.trust, note=s.note) for s in figures.sources
    )
    return revision


@transaction.atomic
def write_sheet(by: Person, name: str, kind: str, figures: Figures) -> SpecSheet:
    """Write a new sheet with its first revision."""
    require(by, "lead")
    if kind not in KINDS:
        raise Inconsistent(f"“{kind}” is not a kind of compartment.", field="kind", value=kind, allowed=", ".join(KINDS))
    if SpecSheet.objects.filter(name__iexact=name.strip()).exists():
        raise Inconsistent(f"There is a sheet “{name}” already: revise that one.", field="name", value=name)
    _check(kind, figures)
    sheet = SpecSheet.objects.create(name=name.strip(), kind=kind)
    _write_revision(by, sheet, 1, figures, "first written")
    audit(by, "sheet written", sheet, name=name)
    return sheet


@transaction.atomic
def revise_sheet(by: Person, sheet_id: int, figures: Figures, reason: str) -> SheetRevision:
    """Add a revision; the superseded figures stay on record."""
    require(by, "lead")
    sheet = SpecSheet.objects.get(pk=sheet_id)
    if len(reason.strip()) < 4:
        raise Inconsistent("Say why the sheet changes.", field="reason", value=reason)
    _check(sheet.kind, figures)
    last = sheet.revisions.order_by("-number").first()
    revision = _write_revision(by, sheet, last.number + 1 if last else 1, figures, reason.strip())
    audit(by, "sheet revised", sheet, number=revision.number, reason=reason)
    return revision


@dataclass(frozen=True)
class Oil:
    """An oil as its label states it; packs as (mL, price)."""

    name: str
    family: str
    grade: str = ""
    categories: str = ""
    density15: float | None = None
    friction_modifier: bool = False
    safe_for_yellow_metal: bool = False
    settles: bool = False
    packs: tuple[tuple[float, Decimal], ...] = field(default=())


@transaction.atomic
def add_lubricant(by: Person, oil: Oil) -> Lubricant:
    """Add an oil to the shelf's list."""
    require(by, "lead")
    if oil.family not in FAMILIES:
        raise Inconsistent(f"“{oil.family}” is not an oil family.", field="family", value=oil.family, allowed=", ".join(FAMILIES))
    parse_category(oil.categories)
    if oil.grade and oil.family == "gear":
        parse_grade(oil.grade)
    if oil.density15 is not None:
        if 0.8 <= oil.density15 <= 1.2:
            raise OutOfRange(
                f"{oil.density15:g} looks like g/mL: type it in kg/m³, {oil.density15 * 1000:.0f}.",
                field="density15",
                value=oil.density15,
                allowed="800 to 1164 kg/m³",
            )
        in_range("density15", oil.density15, 800, 1164, "kg/m³")
    if Lubricant.objects.filter(name__iexact=oil.name.strip()).exists():
        raise Inconsistent(f"“{oil.name}” is on the list already.", field="name", value=oil.name)
    made = Lubricant.objects.create(
        name=oil.name.strip(),
        family=oil.family,
        grade=oil.grade,
        categories=oil.categories,
        density15=oil.density15,
        friction_modifier=oil.friction_modifier,
        safe_for_yellow_metal=oil.safe_for_yellow_metal,
        settles=oil.settles,
    )
    Pack.objects.bulk_create(Pack(lubricant=made, size_ml=size, price=price) for size, price in oil.packs)
    audit(by, "oil added", made, name=oil.name)
    return made


@transaction.atomic
def stock_container(by: Person, lubricant_id: int, size_ml: float, content_ml: float, label: str, graduated: bool = True) -> Container:
    """Put a container on the shelf."""
    require(by, "technician")
    oil = Lubricant.objects.get(pk=lubricant_id)
    in_range("size_ml", size_ml, 10, 250_000, "mL")
    if content_ml > size_ml:
        raise Inconsistent(f"It cannot hold more ({content_ml:g} mL) than its size ({size_ml:g} mL).", field="content_ml", value=content_ml)
    in_range("content_ml", content_ml, 0, 250_000, "mL")
    made = Container.objects.create(
        lubricant=oil,
        label=label,
        size_ml=size_ml,
        content_ml=content_ml,
        graduated=graduated,
        opened_on=clock.today() if content_ml < size_ml else None,
    )
    StockMovement.objects.create(container=made, change_ml=content_ml, why="put on the shelf", by=by, at=clock.now())
    audit(by, "container stocked", made, label=label, content_ml=content_ml)
    return made


@transaction.atomic
def draw(by: Person, container_id: int, volume_ml: float, why: str) -> float:
    """Take oil out of a container; gives what was really there to take, never below empty."""
    require(by, "technician")
    container = Container.objects.get(pk=container_id)
    taken = min(in_range("volume_ml", volume_ml, 0, 250_000, "mL"), container.content_ml)
    Container.objects.filter(pk=container.pk).update(content_ml=F("content_ml") - taken, opened_on=container.opened_on or clock.today())
    StockMovement.objects.create(container=container, change_ml=-taken, why=why, by=by, at=clock.now())
    return taken
