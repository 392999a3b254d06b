"""Each figure of a sheet with who says what of it."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.core.quantity.quantity import format_quantity
from barodex.core.sheet.claims import Claim, conflicts, rank_claims
from barodex.shelf.models import SheetRevision, SourceClaim, SpecSheet
from barodex.shelf.queries.sheets import current_revision


@dataclass(frozen=True)
class ClaimView:
    """What a source says; ``shown`` in the reader's units, ``as_typed`` as it was given; ``agrees`` with what the sheet says now."""

    id: int
    source: str
    trust: str
    shown: str
    as_typed: str
    published: dt.date | None
    note: str
    by: str
    at: dt.datetime
    agrees: bool


@dataclass(frozen=True)
class FigureView:
    """A figure of a sheet: what it says now and on whose word, and what other sources say, the most to be trusted first."""

    figure: str
    now: str
    source: str
    trust: str
    note: str
    by: str
    claims: tuple[ClaimView, ...]
    conflict: bool
    better: int | None


QUANTITIES = {
    "capacity": ("volume", "capacity_ml"),
    "interval by distance": ("distance", "interval_km"),
    "interval by hours": ("engine_hours", "interval_h"),
}


_GROUPS = {"capacity": "capacity", "grade": "oil", "categories": "oil"}


def _said(revision: SheetRevision, figure: str) -> tuple[str, float | None, str]:
    """(kind, number, words) that the sheet itself says of a figure."""
    if figure in QUANTITIES:
        kind, name = QUANTITIES[figure]
        return kind, getattr(revision, name), ""
    if figure == "interval by months":
        return "months", revision.interval_months, ""
    if figure in ("grade", "categories"):
        return "words", None, getattr(revision, figure)
    plug = next((p for p in revision.plugs.all() if f"torque, {p.label}" == figure), None)
    return "torque", plug.torque_nm if plug else None, ""


def in_words(kind: str, number: float | None, words: str, system: str) -> str:
    """A figure as the reader sees it; empty when unknown."""
    if kind == "words":
        return words
    if number is None:
        return ""
    return f"{number:g} months" if kind == "months" else format_quantity(number, kind, system)


def figures(sheet_id: int, system: str) -> list[FigureView]:
    """Every figure of a sheet with its sources side by side; raises SpecSheet.DoesNotExist."""
    sheet = SpecSheet.objects.get(pk=sheet_id)
    revision = current_revision(sheet.revisions.prefetch_related("plugs", "sources__by").select_related("by"), dt.date.max)
    names = [*QUANTITIES, "interval by months", "grade", "categories", *(f"torque, {p.label}" for p in revision.plugs.all())]
    by_figure: dict[str, list[SourceClaim]] = {}
    for row in SourceClaim.objects.filter(sheet=sheet).select_related("by"):
        by_figure.setdefault(row.figure, []).append(row)
    found = []
    for name in names:
        kind, number, words = _said(revision, name)
        group = _GROUPS.get(name, "torque" if kind == "torque" else "interval")
        backing = next((s for s in revision.sources.all() if s.figure == group), None)
        rows = by_figure.get(name, [])
        own = Claim(backing.source if backing else "guess", number, words)
        said = [Claim(r.source, r.number, r.words, r.published) for r in rows]
        order = rank_claims(said)
        clash = {i for pair in conflicts([own, *said]) for i in pair} if number is not None or words else set()
        views = tuple(
            ClaimView(
                id=rows[k].pk,
                source=rows[k].source,
                trust=rows[k].trust,
                shown=in_words(kind, rows[k].number, rows[k].words, system),
                as_typed=rows[k].as_typed,
                published=rows[k].published,
                note=rows[k].note,
                by=rows[k].by.shown_name,
                at=rows[k].at,
                agrees=not conflicts([own, said[k]]),
            )
            for k in order
        )
        best = order[0] if order and rank_claims([own, said[order[0]]])[0] == 1 and conflicts([own, said[order[0]]]) else None
        found.append(
            FigureView(
                figure=name,
                now=in_words(kind, number, words, system),
                source=backing.source if backing else "",
                trust=backing.trust if backing else "unknown",
                note=backing.note if backing else "",
                by=(backing.by or revision.by).shown_name if backing else "",
                claims=views,
                conflict=bool(clash),
                better=rows[best].pk if best is not None else None,
            )
        )
    return found
