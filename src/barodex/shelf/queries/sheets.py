"""Reads of sheets, as the core and the page want them."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from barodex.core.oil.lubricant import AmbientGrade, Requirement
from barodex.core.sheet.figures import Figures, declared
from barodex.core.sheet.kit import KitItem, kit_of
from barodex.core.sheet.sheet import CasingMark, Head, Sheet, Variant, asked_by, resolve, sheet_of
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


def scalars_of(revision: SheetRevision) -> dict[str, Any]:
    """The scalar figures of a revision, by name."""
    return {name: tuple(v) if isinstance(v := getattr(revision, name), list) else v for name in declared()}


def plugs_of(revision: SheetRevision) -> tuple[CorePlug, ...]:
    """The plugs of a revision."""
    return tuple(CorePlug(p.role, p.label, p.drive, p.size_mm, p.seal, p.torque_nm, p.magnet) for p in revision.plugs.all())


def core_sheet(revision: SheetRevision, variant: str = "", limited_slip: bool | None = None) -> Sheet:
    """The core's view of a revision, of one variant where it is known (prefetch ``plugs`` and ``sources`` for many).

    ``limited_slip`` answers what the sheet leaves open.
    """
    whole = sheet_of(
        revision.sheet.kind,
        revision,
        _asked(revision, limited_slip),
        plugs_of(revision),
        number=revision.number,
        trust={s.figure: s.trust for s in revision.sources.all()},
        variants=variants_of(revision),
        casing_marks=marks_of(revision),
    )
    return resolve(whole, variant if variant in {v.name for v in whole.variants} else "")


def _asked(r: SheetRevision, limited_slip: bool | None) -> Requirement:
    edition = OLD_GRADES if r.effective_on and r.effective_on < NEW_GRADES_SINCE else ""
    return asked_by(r.sheet.kind, r, ambient_of(r), limited_slip, edition)


def requirement(revision: SheetRevision, variant: str = "", limited_slip: bool | None = None) -> Requirement:
    """What a revision asks of an oil, for a variant; ``limited_slip`` answers what the sheet leaves open."""
    asked = _asked(revision, limited_slip)
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
class Backing:
    """Which source a group of figures is from, and how far it is trusted."""

    figure: str
    source: str
    trust: str
    note: str


@dataclass(frozen=True)
class SourceView(Backing):
    by: str
    at: dt.datetime


@dataclass(frozen=True, kw_only=True)
class Content(Figures):
    """What a sheet says: its scalar figures and its rows."""

    ambient: tuple[AmbientGrade, ...]
    variants: tuple[Variant, ...]
    casing_marks: tuple[CasingMark, ...]
    kit: tuple[KitItem, ...]
    plugs: tuple[PlugView, ...]


@dataclass(frozen=True, kw_only=True)
class RevisionView(Content):
    """A revision with everything on it."""

    id: int
    number: int
    effective_on: dt.date
    reason: str
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


def _revision_view(r: SheetRevision) -> RevisionView:
    return RevisionView(
        **scalars_of(r),
        id=r.pk,
        number=r.number,
        effective_on=r.effective_on,
        reason=r.reason,
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
