"""Reads of sheets, oils and stock, as the core and the page want them."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass

from barodex.core.lubricant import Lubricant as CoreLubricant
from barodex.core.lubricant import OilReason, Requirement, judge
from barodex.core.pour import Bottle
from barodex.core.purchase import Pack as CorePack
from barodex.core.purchase import purchase_plan
from barodex.core.sheet import Plug as CorePlug
from barodex.core.sheet import Sheet

from .models import Container, Lubricant, SheetRevision, SpecSheet


def core_sheet(revision: SheetRevision) -> Sheet:
    """The core's view of a revision (prefetch ``plugs`` and ``sources`` for many)."""
    plugs = tuple(CorePlug(p.role, p.label, p.drive, p.size_mm, p.seal, p.torque_nm, p.magnet) for p in revision.plugs.all())
    return Sheet(
        revision.sheet.kind,
        requirement(revision),
        revision.capacity_ml,
        revision.fill_method,
        revision.drain_method,
        plugs,
        revision.number,
        revision.case_material,
        revision.drain_minutes,
        revision.warm_up,
        revision.level_note,
        tuple(revision.cautions),
        {s.figure: s.trust for s in revision.sources.all()},
    )


def requirement(revision: SheetRevision) -> Requirement:
    """What a revision asks of an oil."""
    return Requirement(revision.family, revision.grade, revision.categories, revision.hypoid, revision.yellow_metal, revision.limited_slip)


def core_lubricant(oil: Lubricant) -> CoreLubricant:
    """The core's view of an oil."""
    return CoreLubricant(oil.name, oil.family, oil.grade, oil.categories, oil.friction_modifier, oil.safe_for_yellow_metal)


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
    plugs: tuple[PlugView, ...]
    sources: tuple[SourceView, ...]
    written_by: str


@dataclass(frozen=True)
class SheetView:
    """A sheet, its revisions newest first, and the compartments that stand on it."""

    id: int
    name: str
    kind: str
    revisions: tuple[RevisionView, ...]
    compartments: tuple[str, ...]


def _revision_view(r: SheetRevision) -> RevisionView:
    plain = {f: getattr(r, f) for f in RevisionView.__dataclass_fields__ if f not in ("plugs", "sources", "written_by", "cautions")}
    return RevisionView(
        **plain,
        cautions=tuple(r.cautions),
        plugs=tuple(PlugView(*(getattr(p, f) for f in PlugView.__dataclass_fields__)) for p in r.plugs.all()),
        sources=tuple(SourceView(s.figure, s.source, s.trust, s.note) for s in r.sources.all()),
        written_by=r.by.shown_name,
    )


def sheets() -> list[SheetView]:
    """Every sheet by name."""
    rows = SpecSheet.objects.prefetch_related("revisions__plugs", "revisions__sources", "revisions__by", "compartments__vehicle")
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


@dataclass(frozen=True)
class ContainerView:
    id: int
    label: str
    size_ml: float
    content_ml: float
    graduated: bool
    opened_on: dt.date | None


@dataclass(frozen=True)
class PackView:
    size_ml: float
    price: float


@dataclass(frozen=True)
class LubricantView:
    """An oil with what is on the shelf of it."""

    id: int
    name: str
    family: str
    grade: str
    categories: str
    density15: float | None
    friction_modifier: bool
    safe_for_yellow_metal: bool
    settles: bool
    packs: tuple[PackView, ...]
    containers: tuple[ContainerView, ...]
    on_hand_ml: float


def lubricants() -> list[LubricantView]:
    """Every oil by name, with its packs and containers that are not empty."""
    views = []
    for oil in Lubricant.objects.prefetch_related("packs", "containers"):
        held = [c for c in oil.containers.all() if c.content_ml > 0]
        views.append(
            LubricantView(
                oil.pk,
                oil.name,
                oil.family,
                oil.grade,
                oil.categories,
                oil.density15,
                oil.friction_modifier,
                oil.safe_for_yellow_metal,
                oil.settles,
                tuple(PackView(p.size_ml, float(p.price)) for p in oil.packs.all()),
                tuple(ContainerView(c.pk, c.label, c.size_ml, c.content_ml, c.graduated, c.opened_on) for c in held),
                sum(c.content_ml for c in held),
            )
        )
    return views


@dataclass(frozen=True)
class PackCount:
    size_ml: float
    count: int


@dataclass(frozen=True)
class OilOffer:
    """An oil held against a sheet: verdict and reasons, what is on hand, and what to buy for the need."""

    lubricant: int
    name: str
    verdict: str
    reasons: tuple[OilReason, ...]
    on_hand_ml: float
    short_ml: float
    buy: tuple[PackCount, ...]
    buy_cost: float


def offers(revision: SheetRevision, need_ml: float | None) -> list[OilOffer]:
    """Every oil judged for a revision, best first, with what must be bought to pour ``need_ml``."""
    asked, order = requirement(revision), ("meets", "equivalent", "caution", "reject")
    found = []
    for oil in Lubricant.objects.prefetch_related("packs", "containers"):
        verdict = judge(core_lubricant(oil), asked)
        held = sum(c.content_ml for c in oil.containers.all())
        plan = purchase_plan(
            {oil.name: need_ml or 0}, {oil.name: [CorePack(p.size_ml, float(p.price)) for p in oil.packs.all()]}, {oil.name: held}
        )
        buy = plan[0] if plan else None
        found.append(
            OilOffer(
                oil.pk,
                oil.name,
                verdict.verdict,
                verdict.reasons,
                held,
                buy.short_ml if buy else 0.0,
                tuple(PackCount(p.size_ml, n) for p, n in buy.packs) if buy else (),
                buy.cost if buy else 0.0,
            )
        )
    return sorted(found, key=lambda o: (order.index(o.verdict), -o.on_hand_ml, o.name))


def bottles(lubricant: Lubricant, reserved: dict[int, float]) -> list[Bottle]:
    """What is in stock of an oil, less what open services have poured from it already."""
    return [
        Bottle(c.size_ml, max(0.0, c.content_ml - reserved.get(c.pk, 0.0)), c.label, c.graduated)
        for c in Container.objects.filter(lubricant=lubricant, content_ml__gt=0)
    ]
