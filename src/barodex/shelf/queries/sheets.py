"""Reads of sheets, as the core and the page want them."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace

from barodex.core.kinds.kind import fluid_rules
from barodex.core.oil.lubricant import AmbientGrade, Requirement
from barodex.core.sheet.kit import KitItem, kit_of
from barodex.core.sheet.sheet import CasingMark, Head, LevelSpec, Sheet, Variant, resolve
from barodex.core.sheet.sheet import Plug as CorePlug
from barodex.core.sheet.work import touched_plugs

from ..models import SheetRevision, SpecSheet

NEW_GRADES_SINCE, OLD_GRADES = dt.date(2005, 1, 1), "1998"  # a sheet of before reads its grade 90 by the edition of its time


def ambient_of(revision: SheetRevision) -> tuple[AmbientGrade, ...]:
    """The grades of a revision by air temperature."""
    return tuple(AmbientGrade(**row) for row in revision.ambient)


def variants_of(revision: SheetRevision) -> tuple[Variant, ...]:
    """The variants of a revision."""
    return tuple(Variant(**{**row, "heads": tuple(Head(**h) for h in row.get("heads", ()))}) for row in revision.variants)


def marks_of(revision: SheetRevision) -> tuple[CasingMark, ...]:
    """What to read on the casing."""
    return tuple(CasingMark(**row) for row in revision.casing_marks)


def kit_items_of(revision: SheetRevision) -> tuple[KitItem, ...]:
    """The seals, parts and tools that a revision lists beside its plugs."""
    return tuple(KitItem(**row) for row in revision.kit)


def kit_for(revision: SheetRevision, variant: str = "", work: str = "") -> tuple[KitItem, ...]:
    """Everything that a revision asks for, its plugs' seals and keys among it; for a top-up only what its fill plug wants.

    What is listed for a pan or cover is mandatory once that comes off.
    """
    sheet = core_sheet(revision, variant)
    items = kit_items_of(revision)
    if work == "top-up":
        return kit_of(replace(sheet, plugs=touched_plugs(sheet, work), drain_method="plug"))
    sheet = replace(sheet, plugs=touched_plugs(sheet, work))
    if work == "opened":
        items = tuple(replace(i, mandatory=True) for i in items)
    return kit_of(sheet, items, revision.hose)


def core_sheet(revision: SheetRevision, variant: str = "", limited_slip: bool | None = None) -> Sheet:
    """The core's view of a revision, of one variant where it is known (prefetch ``plugs`` and ``sources`` for many).

    ``limited_slip`` answers what the sheet leaves open.
    """
    plugs = tuple(CorePlug(p.role, p.label, p.drive, p.size_mm, p.seal, p.torque_nm, p.magnet) for p in revision.plugs.all())
    whole = Sheet(
        kind=revision.sheet.kind,
        requirement=_asked(revision, revision.limited_slip if revision.limited_slip is not None else limited_slip),
        capacity_ml=revision.capacity_ml,
        fill_method=revision.fill_method,
        drain_method=revision.drain_method,
        plugs=plugs,
        number=revision.number,
        case_material=revision.case_material,
        drain_minutes=revision.drain_minutes,
        warm_up=revision.warm_up,
        level_note=revision.level_note,
        cautions=tuple(revision.cautions),
        trust={s.figure: s.trust for s in revision.sources.all()},
        variants=variants_of(revision),
        casing_marks=marks_of(revision),
        level=LevelSpec(
            revision.window_low_c,
            revision.window_high_c,
            revision.level_engine,
            revision.selector,
            revision.thermostat_c,
            revision.below_lip_mm,
        ),
        total_ml=revision.total_ml,
        exchange_cycles=revision.exchange_cycles,
        surplus_ml=revision.surplus_ml or 0.0,
        flush_ml=revision.flush_ml,
        resets=tuple(revision.resets),
        hose=revision.hose,
    )
    return resolve(whole, variant if variant in {v.name for v in whole.variants} else "")


def _asked(r: SheetRevision, limited_slip: bool | None) -> Requirement:
    return Requirement(
        family=r.family,
        grade=r.grade,
        categories=r.categories,
        hypoid=r.hypoid,
        yellow_metal=r.yellow_metal,
        limited_slip=limited_slip,
        also=tuple(r.also),
        no_ep=r.no_ep,
        wet_clutch=fluid_rules(r.sheet.kind, r.wet_clutch, limited_slip, r.approvals),
        synchro=r.synchro,
        non_detergent=r.non_detergent,
        approvals=tuple(r.approvals),
        ambient=ambient_of(r),
        base=r.base,
        modifier_ml=r.modifier_ml,
        residual_ml=r.residual_ml,
        edition=OLD_GRADES if r.effective_on and r.effective_on < NEW_GRADES_SINCE else "",
    )


def requirement(revision: SheetRevision, variant: str = "", limited_slip: bool | None = None) -> Requirement:
    """What a revision asks of an oil, for a variant; ``limited_slip`` answers what the sheet leaves open."""
    known = revision.limited_slip if revision.limited_slip is not None else limited_slip
    asked = _asked(revision, known)
    chosen = next((v for v in variants_of(revision) if v.name == variant), None)
    if chosen is None:
        return asked
    return replace(asked, grade=chosen.grade or asked.grade, categories=chosen.categories or asked.categories)


def current_revision(revisions: Iterable[SheetRevision], as_of: dt.date) -> SheetRevision:
    """The newest revision in force on a day, or the first one when none is yet."""
    ordered = sorted(revisions, key=lambda r: r.number)
    return next((r for r in reversed(ordered) if r.effective_on <= as_of), ordered[0])


@dataclass(frozen=True)
class PlugView:
    role: str
    label: str
    drive: str
    size_mm: float | None
    seal: str
    torque_nm: float | None
    magnet: bool


@dataclass(frozen=True)
class SourceView:
    figure: str
    source: str
    trust: str
    note: str
    by: str
    at: dt.datetime


@dataclass(frozen=True)
class RevisionView:
    """A revision with everything on it."""

    id: int
    number: int
    effective_on: dt.date
    reason: str
    capacity_ml: float | None
    family: str
    grade: str
    categories: str
    hypoid: bool
    yellow_metal: bool | None
    limited_slip: bool | None
    fill_method: str
    drain_method: str
    case_material: str
    drain_minutes: float | None
    warm_up: bool
    level_note: str
    cautions: tuple[str, ...]
    interval_km: float | None
    interval_h: float | None
    interval_months: int | None
    for_life: bool
    total_ml: float | None
    residual_ml: float | None
    rinse_ml: float | None
    surplus_ml: float | None
    exchange_cycles: int
    modifier_ml: float | None
    also: tuple[str, ...]
    approvals: tuple[str, ...]
    ambient: tuple[AmbientGrade, ...]
    base: str
    no_ep: bool
    wet_clutch: bool
    synchro: bool
    non_detergent: bool
    variants: tuple[Variant, ...]
    casing_marks: tuple[CasingMark, ...]
    kit: tuple[KitItem, ...]
    hose: str
    window_low_c: float | None
    window_high_c: float | None
    level_engine: str
    selector: str
    thermostat_c: float | None
    below_lip_mm: float | None
    flush_ml: float | None
    resets: tuple[str, ...]
    plugs: tuple[PlugView, ...]
    sources: tuple[SourceView, ...]
    written_by: str
    written_at: dt.datetime


@dataclass(frozen=True)
class SheetView:
    """A sheet, its revisions newest first, and the compartments that stand on it."""

    id: int
    name: str
    kind: str
    revisions: tuple[RevisionView, ...]
    compartments: tuple[str, ...]


_APART = (
    "cautions",
    "also",
    "approvals",
    "resets",
    "ambient",
    "variants",
    "casing_marks",
    "kit",
    "plugs",
    "sources",
    "written_by",
    "written_at",
)


def _revision_view(r: SheetRevision) -> RevisionView:
    plain = {f: getattr(r, f) for f in RevisionView.__dataclass_fields__ if f not in _APART}
    return RevisionView(
        **plain,
        **{f: tuple(getattr(r, f)) for f in ("cautions", "also", "approvals", "resets")},
        ambient=ambient_of(r),
        variants=variants_of(r),
        casing_marks=marks_of(r),
        kit=kit_items_of(r),
        plugs=tuple(PlugView(*(getattr(p, f) for f in PlugView.__dataclass_fields__)) for p in r.plugs.all()),
        sources=tuple(SourceView(s.figure, s.source, s.trust, s.note, (s.by or r.by).shown_name, s.at or r.at) for s in r.sources.all()),
        written_by=r.by.shown_name,
        written_at=r.at,
    )


def sheets() -> list[SheetView]:
    """Every sheet by name."""
    rows = SpecSheet.objects.prefetch_related("revisions__plugs", "revisions__sources__by", "revisions__by", "compartments__vehicle")
    return [
        SheetView(
            s.pk,
            s.name,
            s.kind,
            tuple(_revision_view(r) for r in sorted(s.revisions.all(), key=lambda r: -r.number)),
            tuple(f"{c.vehicle.name}, {c.name}" for c in s.compartments.all()),
        )
        for s in rows
    ]


def sheet(pk: int) -> SheetView:
    """One sheet; raises SpecSheet.DoesNotExist."""
    found = [s for s in sheets() if s.id == pk]
    if not found:
        raise SpecSheet.DoesNotExist
    return found[0]


# --- several sources for one figure ----------------------------------------------------------------------------------


# --- what a revision changed -----------------------------------------------------------------------------------------
