"""Changes of sheets: written, revised, copied; what other sources say of a figure, and which is chosen."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass, replace

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.oil.grades import parse_category, read_grade
from barodex.core.oil.lubricant import AmbientGrade
from barodex.core.quantity.errors import CoreError, Inconsistent, Superseded, Unreadable, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.sheet import figures as core
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.figures import FIGURES_WITH_SOURCE, check_figures, declared
from barodex.core.sheet.kit import KitItem, check_item
from barodex.core.sheet.sheet import SOURCES, TRUSTS, CasingMark, Variant, asked_by, sheet_of
from barodex.core.sheet.sheet import Plug as CorePlug
from barodex.core.words import say
from barodex.memory.versions import SHELF
from barodex.shelf.queries.comparing import compare
from barodex.shelf.queries.figures import claimable

from ..models import FigureSource, Plug, SheetRevision, SourceClaim, SpecSheet
from ..queries import ambient_of, kit_items_of, marks_of, plugs_of, scalars_of, variants_of


@dataclass(frozen=True)
class Source:
    """Where a figure comes from."""

    figure: str
    source: str
    trust: str
    note: str = ""
    by: Person | None = None
    at: dt.datetime | None = None


@dataclass(frozen=True)
class Figures(core.Figures):
    """What stands on a revision: its scalar figures, and its rows."""

    ambient: tuple[AmbientGrade, ...] = ()
    variants: tuple[Variant, ...] = ()
    casing_marks: tuple[CasingMark, ...] = ()
    kit: tuple[KitItem, ...] = ()
    plugs: tuple[CorePlug, ...] = ()
    sources: tuple[Source, ...] = ()
    effective_on: dt.date | None = None


def _check(kind: str, figures: Figures) -> None:
    check_figures(figures)
    parse_category(figures.categories)
    if figures.grade and figures.family == "gear":
        read_grade(figures.grade)
    _check_oil(figures)
    for k, item in enumerate(figures.kit):
        check_item(item, f"kit.{k}.")
    for k, source in enumerate(figures.sources):
        if source.source not in SOURCES or source.trust not in TRUSTS:
            raise Inconsistent(
                say("A source is one of ") + ", ".join(SOURCES) + say("; trust one of ") + ", ".join(TRUSTS) + ".",
                field=f"sources.{k}.source",
                value=source.source,
            )
    asked = asked_by(kind, figures)
    check_sheet(sheet_of(kind, figures, asked, figures.plugs, variants=figures.variants, casing_marks=figures.casing_marks))


def _check_oil(figures: Figures) -> None:
    graded = [(f"ambient.{k}.grade", a.grade) for k, a in enumerate(figures.ambient)]
    graded += [(f"variants.{k}.grade", v.grade) for k, v in enumerate(figures.variants) if v.grade]
    for at, grade in graded:
        if figures.family not in ("gear", "engine"):
            continue
        try:
            read_grade(grade, "engine" if figures.family == "engine" else "gear")
        except Unreadable as error:
            error.field = at
            raise
    for k, variant in enumerate(figures.variants):
        try:
            parse_category(variant.categories)
        except Unreadable as error:
            error.field = f"variants.{k}.categories"
            raise
    for k, a in enumerate(figures.ambient):
        if a.min_c is not None and a.max_c is not None and a.min_c >= a.max_c:
            raise Inconsistent(say("The colder end must lie below the warmer one."), field=f"ambient.{k}.min_c", value=a.min_c)


_AS_ROWS = ("ambient", "variants", "casing_marks", "kit")


def _write_revision(by: Person, sheet: SpecSheet, number: int, figures: Figures, reason: str) -> SheetRevision:
    plain = {f: list(v) if isinstance(v := getattr(figures, f), tuple) else v for f in declared()}
    plain |= {f: [asdict(row) for row in getattr(figures, f)] for f in _AS_ROWS}
    revision = SheetRevision.objects.create(
        sheet=sheet, number=number, reason=reason, by=by, at=clock.now(), effective_on=figures.effective_on or clock.today(), **plain
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
        FigureSource(revision=revision, figure=s.figure, source=s.source, trust=s.trust, note=s.note, by=s.by or by, at=s.at or clock.now())
        for s in figures.sources
    )
    return revision


@transaction.atomic
def write_sheet(by: Person, name: str, kind: str, figures: Figures) -> SpecSheet:
    """Write a new sheet with its first revision."""
    require(by, "lead")
    if kind not in COMPARTMENT_KINDS:
        raise Inconsistent(
            say("“{kind}” is not a kind of compartment.", kind=kind), field="kind", value=kind, allowed=", ".join(COMPARTMENT_KINDS)
        )
    if SpecSheet.objects.filter(name__iexact=name.strip()).exists():
        raise Inconsistent(say("There is a sheet “{name}” already: revise that one.", name=name), field="name", value=name)
    _check(kind, figures)
    sheet = SpecSheet.objects.create(name=name.strip(), kind=kind)
    _write_revision(by, sheet, 1, figures, "first written")
    audit(by, "sheet written", sheet, (SHELF,), name=name)
    return sheet


@transaction.atomic
def revise_sheet(by: Person, sheet_id: int, figures: Figures, reason: str, based_on: int | None = None) -> SheetRevision:
    """Add a revision; the superseded figures stay on record.

    ``based_on`` is the number of the revision that it was written from: one that was added since is shown, not overwritten.
    """
    require(by, "lead")
    sheet = SpecSheet.objects.get(pk=sheet_id)
    _check_since(by, sheet, based_on)
    if len(reason.strip()) < 4:
        raise Inconsistent(say("Say why the sheet changes."), field="reason", value=reason)
    return _next_revision(by, _newest(sheet.pk), figures, reason.strip())


def _check_since(by: Person, sheet: SpecSheet, based_on: int | None) -> None:
    newest = _newest(sheet.pk)
    if based_on is None or newest.number == based_on:
        return
    seen = compare(sheet.pk, based_on, newest.number, by.unit_system)
    raise Superseded(
        say(
            "{shown_name} wrote revision {newest_number} since you opened revision {based_on}: {reason}",
            shown_name=newest.by.shown_name,
            newest_number=newest.number,
            based_on=based_on,
            reason=newest.reason,
        ),
        tuple(
            (c.figure, say("was {before}, is now {after}", before=c.before or "not stated", after=c.after or "not stated"))
            for c in seen.changes
        ),
        field="version",
        value=based_on,
        allowed=str(newest.number),
    )


def _next_revision(by: Person, newest: SheetRevision, figures: Figures, reason: str) -> SheetRevision:
    _check(newest.sheet.kind, figures)
    revision = _write_revision(by, newest.sheet, newest.number + 1, figures, reason)
    audit(
        by,
        "sheet revised",
        newest.sheet,
        (*newest.sheet.compartments.values_list("vehicle_id", flat=True), SHELF),
        number=revision.number,
        reason=reason,
    )
    return revision


def figures_of(revision: SheetRevision) -> Figures:
    """The figures of a revision, to write the next one from."""
    return Figures(
        **scalars_of(revision),
        ambient=ambient_of(revision),
        variants=variants_of(revision),
        casing_marks=marks_of(revision),
        kit=kit_items_of(revision),
        plugs=plugs_of(revision),
        sources=tuple(Source(s.figure, s.source, s.trust, s.note, s.by, s.at) for s in revision.sources.all()),
    )


def _newest(sheet_id: int) -> SheetRevision:
    sheet = SpecSheet.objects.get(pk=sheet_id)
    return sheet.revisions.order_by("-number")[0]


@transaction.atomic
def copy_sheet(by: Person, sheet_id: int, name: str) -> SpecSheet:
    """Write a new sheet with the figures of another; none of them counts as verified for it."""
    require(by, "lead")
    newest = _newest(sheet_id)
    figures = figures_of(newest)
    doubted = tuple(
        replace(
            s,
            trust="remembered" if s.trust == "verified" else s.trust,
            note=f"copied from {newest.sheet.name}"[:200],
            by=by,
            at=clock.now(),
        )
        for s in figures.sources
    )
    return write_sheet(by, name, newest.sheet.kind, replace(figures, sources=doubted))


# --- several sources for one figure ----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Said:
    """What a source says: the figure, as typed, the kind of source, when it was published, how far it is trusted."""

    figure: str
    text: str
    source: str
    trust: str = "unknown"
    published: dt.date | None = None
    note: str = ""


@transaction.atomic
def add_claim(by: Person, sheet_id: int, said: Said) -> SourceClaim:
    """Keep what a source says of a figure, beside what the sheet says."""
    require(by, "technician")
    newest = _newest(sheet_id)
    known = claimable(newest)
    if said.figure not in known:
        raise Inconsistent(
            say("The sheet has no figure “{figure}”.", figure=said.figure), field="figure", value=said.figure, allowed=", ".join(known)
        )
    if said.source not in SOURCES or said.trust not in TRUSTS:
        raise Inconsistent(say("Say what kind of source it is."), field="source", value=said.source, allowed=", ".join(SOURCES))
    if said.published and said.published > clock.today():
        raise Inconsistent(say("That lies in the future."), field="published", value=str(said.published))
    kind, text = known[said.figure].kind, said.text.strip()
    number: float | None = None
    try:
        if kind == "words":
            (parse_category if said.figure == "categories" else read_grade)(text)
        elif kind == "months":
            if not text.isdigit():
                raise Unreadable(say("A whole number of months."), field="text", value=text)
            number = in_range("months", int(text), 1, 240, "months")
        else:
            number = parse_quantity(text, kind, by.unit_system)
        made_of = _with(newest, said.figure, number, text)
        _check(newest.sheet.kind, made_of)
    except CoreError as error:
        error.field = "text"
        raise
    made = SourceClaim.objects.create(
        sheet_id=sheet_id,
        figure=said.figure,
        source=said.source,
        number=number,
        words="" if number is not None else text,
        as_typed=text,
        published=said.published,
        trust=said.trust,
        note=said.note.strip(),
        by=by,
        at=clock.now(),
    )
    audit(by, "source noted", made, (SHELF,), sheet=sheet_id, figure=said.figure, text=text)
    return made


def _with(revision: SheetRevision, figure: str, number: float | None, words: str) -> Figures:
    """The figures of a revision with one of them as a source says it."""
    of = claimable(revision)[figure]
    figures = figures_of(revision)
    if of.group == "torque":
        return replace(figures, plugs=tuple(replace(p, torque_nm=number) if p.label == of.field else p for p in figures.plugs))
    value = words if of.kind == "words" else int(number or 0) if of.kind == "months" else number
    return replace(figures, **{of.field: value})


@transaction.atomic
def choose_claim(by: Person, claim_id: int, reason: str) -> SheetRevision:
    """Make what a source says the sheet's figure: a new revision, with the reason."""
    require(by, "lead")
    claim = SourceClaim.objects.select_related("sheet").get(pk=claim_id)
    if len(reason.strip()) < 4:
        raise Inconsistent(say("Say why this source is the one to go by."), field="reason", value=reason)
    newest = _newest(claim.sheet_id)
    group = of.group if (of := claimable(newest).get(claim.figure)) else ""
    if not group:
        raise Inconsistent(say("The sheet has no such figure any more."), field="figure", value=claim.figure)
    figures = _with(newest, claim.figure, claim.number, claim.words)
    kept = tuple(s for s in figures.sources if s.figure != group)
    chosen = Source(group, claim.source, claim.trust, f"{claim.figure} {claim.as_typed}: {reason.strip()}"[:200], by, clock.now())
    return revise_sheet(
        by,
        claim.sheet_id,
        replace(figures, sources=(*kept, chosen)),
        say("{figure} by {source}: {reason}", figure=claim.figure, source=claim.source, reason=reason.strip())[:200],
    )


@transaction.atomic
def trust_figure(by: Person, sheet_id: int, figure: str, trust: str, how: str) -> SheetRevision:
    """Say how far a figure can be trusted from now on: verified at the vehicle, or doubted after all."""
    require(by, "technician")
    newest = _newest(sheet_id)
    if figure not in FIGURES_WITH_SOURCE:
        raise Inconsistent(say("There is no such figure."), field="figure", value=figure, allowed=", ".join(FIGURES_WITH_SOURCE))
    if trust not in TRUSTS:
        raise Inconsistent(
            say("“{trust}” is not one of: {trusts}.", trust=trust, trusts=", ".join(TRUSTS)),
            field="trust",
            value=trust,
            allowed=", ".join(TRUSTS),
        )
    if len(how.strip()) < 4:
        raise Inconsistent(say("Say how you know."), field="how", value=how)
    figures = figures_of(newest)
    was = next((s for s in figures.sources if s.figure == figure), None)
    now = Source(figure, was.source if was else "memory", trust, how.strip()[:200], by, clock.now())
    others = tuple(s for s in figures.sources if s.figure != figure)
    return _next_revision(by, newest, replace(figures, sources=(*others, now)), f"{figure} {trust}: {how.strip()}"[:200])
