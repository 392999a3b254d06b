"""Each figure of a sheet with who says what of it."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Any

from barodex.core.quantity.quantity import format_quantity
from barodex.core.sheet.claims import Claim, conflicts, rank_claims
from barodex.core.sheet.figures import FIGURES_WITH_SOURCE, QUANTITIES, Declared, declared
from barodex.core.sheet.sheet import DRIVES, PLUG_ROLES, SEALS, SOURCES, TRUSTS
from barodex.core.words import say
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


@dataclass(frozen=True)
class FigureWords:
    """A scalar figure that a sheet may state: what it is (see the core's Meaning), where the form has it, its bounds, what it is unsaid."""

    name: str
    kind: str
    group: str
    label: str
    said: str
    unit: str
    low: float
    high: float
    choices: tuple[str, ...]
    longest: int
    most: int
    hint: str
    blank: str
    backed: str
    kinds: tuple[str, ...]


def _blank(of: Declared) -> str:
    """What stands in an empty form."""
    if of.meaning.kind == "three":
        return "unknown"
    if of.meaning.kind == "flag":
        return "yes" if of.default else "no"
    if of.asked:
        return of.meaning.choices[0]
    return "" if of.default in (None, ()) else str(of.default)


@dataclass(frozen=True)
class SheetWords:
    """What a sheet may say: its scalar figures in their order, and the words of its rows."""

    figures: tuple[FigureWords, ...]
    roles: tuple[str, ...]
    drives: tuple[str, ...]
    seals: tuple[str, ...]
    sources: tuple[str, ...]
    trusts: tuple[str, ...]
    backed: tuple[str, ...]


def sheet_words() -> SheetWords:
    """What a sheet may say."""
    return SheetWords(tuple(_figure_words()), PLUG_ROLES, DRIVES, SEALS, SOURCES, TRUSTS, FIGURES_WITH_SOURCE)


_SAID_AS_IT_IS = ("kind", "group", "label", "said", "unit", "low", "high", "choices", "longest", "most", "hint", "backed", "kinds")


def _figure_words() -> list[FigureWords]:
    return [
        FigureWords(name=name, blank=_blank(of), **{word: getattr(of.meaning, word) for word in _SAID_AS_IT_IS})
        for name, of in declared().items()
    ]


@dataclass(frozen=True)
class Claimable:
    """A figure of which sources speak: kind of quantity or "words", its field (the plug's label, of a torque), the group that backs it."""

    kind: str
    field: str
    group: str


CLAIMABLE = {
    of.meaning.claim: Claimable("words" if of.meaning.kind == "text" else of.meaning.kind, name, of.meaning.backed)
    for name, of in declared().items()
    if of.meaning.claim
}


def claimable(revision: SheetRevision) -> dict[str, Claimable]:
    """Every figure of a sheet of which sources can say something: those declared so, and the torque of each plug."""
    return CLAIMABLE | {f"torque, {p.label}": Claimable("torque", p.label, "torque") for p in revision.plugs.all()}


def _said(revision: SheetRevision, of: Claimable) -> tuple[float | None, str]:
    """(number, words) that the sheet itself says of a figure."""
    if of.group == "torque":
        return next((p.torque_nm for p in revision.plugs.all() if p.label == of.field), None), ""
    value = getattr(revision, of.field)
    return (None, value) if of.kind == "words" else (value, "")


def figure_text(of: Declared, value: Any, system: str) -> str:
    """The value of a figure as the reader sees it; empty when unknown."""
    kind = of.meaning.kind
    if kind in ("flag", "three"):
        return {True: "yes", False: "no", None: "unknown"}[value]
    if value is None:
        return ""
    if of.meaning.several:
        return (" " if kind == "lines" else ", ").join(value)
    if kind in QUANTITIES:
        return format_quantity(value, kind, system)
    return f"{value:g} {of.meaning.unit}".strip() if isinstance(value, (int, float)) else value


def in_words(kind: str, number: float | None, words: str, system: str) -> str:
    """A figure as the reader sees it; empty when unknown."""
    if kind == "words":
        return words
    if number is None:
        return ""
    return say("{number:g} months", number=number) if kind == "months" else format_quantity(number, kind, system)


def figures(sheet_id: int, system: str) -> list[FigureView]:
    """Every figure of a sheet with its sources side by side; raises SpecSheet.DoesNotExist."""
    sheet = SpecSheet.objects.get(pk=sheet_id)
    revision = current_revision(sheet.revisions.prefetch_related("plugs", "sources__by").select_related("by"), dt.date.max)
    by_figure: dict[str, list[SourceClaim]] = {}
    for row in SourceClaim.objects.filter(sheet=sheet).select_related("by"):
        by_figure.setdefault(row.figure, []).append(row)
    found = []
    for name, of in claimable(revision).items():
        kind, (number, words) = of.kind, _said(revision, of)
        backing = next((s for s in revision.sources.all() if s.figure == of.group), None)
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
