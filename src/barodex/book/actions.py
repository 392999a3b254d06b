"""Changes of the book: records written, corrections, follow-ups. A record is never edited."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.findings.debris import assess
from barodex.core.findings.finding import Assessment, DebrisContext, Finding
from barodex.core.guide.visit_blocks import RATED
from barodex.core.kinds.kind import clutches_inside
from barodex.core.ledger.balance import LedgerEntry
from barodex.core.quantity.errors import Inconsistent, NeedsReason, OutOfRange, in_range
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.verdict.consequences import Consequence, Seen, consequences
from barodex.core.words import say
from barodex.fleet.actions import add_reading, mark_void
from barodex.fleet.models import Compartment
from barodex.fleet.use import box_on, meter_of_box
from barodex.shelf.actions import Source, revise_sheet
from barodex.shelf.actions.sheets import figures_of
from barodex.shelf.models import Lubricant, SheetRevision
from barodex.shelf.queries import core_sheet, current_revision

from .amounts import measured, records_of_box
from .closed import ClosedWith, to_rows
from .consequences import LOOKED_WITH, close_before, seen_of, write_consequences
from .learning import learnt_of, offered_ml
from .ledger import entries_of_records, paper_entries, totals, write_entries
from .models import ConsequenceRow, OilRecord
from .on_paper import odd_amounts
from .queries import RECORDS, is_first_change, past_finding


@dataclass(frozen=True)
class Entry:
    """What a record says; amounts in mL and °C as measured, meter in km or h. ``seen`` is everything that it showed, where more than
    its amounts and finding did."""

    on: dt.date
    meter_value: float | None = None
    oil: str = ""
    lubricant: Lubricant | None = None
    revision: SheetRevision | None = None
    amounts: tuple[LedgerEntry, ...] = ()
    finding: Finding | None = None
    assessment: Assessment | None = None
    gaps: tuple[str, ...] = ()
    torques: tuple[ClosedWith, ...] = ()
    note: str = ""
    factory_fill: bool = False
    work: str = "change"
    details: dict[str, Any] = field(default_factory=dict)
    seen: Seen | None = None
    ambient_c: float | None = None
    box_id: int | None = None  # of which it is; None: the one that is fitted now


def write_record(by: Person, compartment: Compartment, entry: Entry, service_id: int | None = None) -> OilRecord:
    """Write a record and what follows from it. Called inside the caller's transaction."""
    judged = entry.assessment
    record = OilRecord.objects.create(
        compartment=compartment,
        box_id=entry.box_id,
        service_id=service_id,
        revision=entry.revision,
        lubricant=entry.lubricant,
        on=entry.on,
        meter_value=entry.meter_value,
        oil=entry.oil or (entry.lubricant.name if entry.lubricant else ""),
        ambient_c=entry.ambient_c,
        finding=asdict(entry.finding) if entry.finding else None,
        level=judged.level if judged else None,
        reasons=[r.text for r in judged.reasons] if judged else [],
        gaps=list(entry.gaps),
        torques=to_rows(entry.torques),
        note=entry.note,
        factory_fill=entry.factory_fill,
        work=entry.work,
        details=entry.details,
        by=by,
        at=clock.now(),
    )
    write_entries(record, entry.amounts)
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    found: tuple[Consequence, ...] = ()
    if entry.revision:
        found = consequences(entry.seen or seen_of(here, assessment=judged))
        newer = OilRecord.objects.filter(box=record.box_id, on__gt=entry.on).exists()
        write_consequences(record, [c for c in found if not newer or c.kind == "due-cap"])
    close_before(by, record, entry.on, found, here.loss is not None, entry.seen.good if entry.seen else ())
    audit(by, "record written", record, (compartment.vehicle_id,), compartment=compartment.pk, service=service_id)
    return record


@dataclass(frozen=True)
class PaperRecord:
    """An earlier change as it stands on paper; None is not written there."""

    on: dt.date
    meter_value: float | None = None
    lubricant_id: int | None = None
    oil: str = ""
    drained_ml: float | None = None
    drained_c: float | None = None
    poured_ml: float | None = None
    finding: Finding | None = None
    note: str = ""
    factory_fill: bool = False
    gaps: tuple[str, ...] = field(default=("written in from paper",))
    shift: int | None = None  # impressions after it, 1 bad to 5 very good
    noise: int | None = None
    reason: str = ""  # for an amount that the sheet does not bear out, or a second change on a day


def usual_ml(compartment: Compartment, on: dt.date | None = None) -> float | None:
    """What a fill of a compartment usually is, mL; None unknown."""
    sheet = core_sheet(current_revision(compartment.sheet.revisions.all(), on or clock.today()), compartment.variant)
    return max((m for m in (sheet.capacity_ml, *candidates_ml(sheet)) if m is not None), default=None)


def box_filled_before(box_id: int, on: dt.date) -> bool:
    """Whether a fill of a box is on record before a day."""
    return any(m.sums.put_in and m.values["on"] < on for m in measured(records_of_box(box_id)))


def _check_paper(compartment: Compartment, paper: PaperRecord, revision: SheetRevision, box: int) -> list[str]:
    """Refuse what cannot be and what stands already, as the Bay does; gives the explained gaps of what is only odd."""
    sheet = core_sheet(revision, compartment.variant)
    odd: list[tuple[str, str, object]] = [*odd_amounts(sheet, paper.drained_ml, paper.poured_ml, box_filled_before(box, paper.on))]
    same_day = OilRecord.objects.exclude(work="top-up").filter(box=box, on=paper.on)
    alike = same_day.filter(meter_value=paper.meter_value, lubricant_id=paper.lubricant_id)
    said = entries_of_records(list(alike.values_list("pk", flat=True)))
    if any(
        (t := totals(said.get(pk, ()))).drained_ml == paper.drained_ml and t.poured_ml == paper.poured_ml
        for pk in said or alike.values_list("pk", flat=True)
    ):
        raise Inconsistent(
            say("This change of {paper_on} stands in the book already.", paper_on=f"{paper.on:%d %b %Y}"), field="on", value=str(paper.on)
        )
    if same_day.exists():
        odd.append(("on", say("Another change of {paper_on} is on record.", paper_on=f"{paper.on:%d %b %Y}"), str(paper.on)))
    for name, text, value in odd:
        if len(paper.reason.strip()) < 4:
            raise NeedsReason(say("{text} Write why it is so all the same.", text=text), field=name, value=value)
    return [f"{text} {paper.reason.strip()}" for _, text, _ in odd]


@transaction.atomic
def void_record(by: Person, record_id: int, reason: str) -> OilRecord:
    """Declare a record void: it stays with who, when and why; due, trend and stock of knowledge go on without it.

    What follows from it counts no more, and what it had settled is open again. Oil that was drawn for it stays drawn.
    """
    require(by, "lead")
    record = OilRecord.objects.select_related("compartment").get(pk=record_id)
    mark_void(record, by, reason)
    settled = ConsequenceRow.objects.filter(record__box=record.box_id, done_at=record.at, outcome__startswith=LOOKED_WITH)
    settled.update(done_at=None, done_by=None, outcome="")
    audit(by, "record voided", record, (record.compartment.vehicle_id,), reason=reason)
    return record


def judged_finding(
    compartment: Compartment, revision: SheetRevision, finding: Finding, on: dt.date, meter_value: float | None, box_id: int | None = None
) -> Assessment:
    """A finding of a day judged against what was seen of the box before it, and what was run since; the one that is fitted, if not said."""
    box = compartment.box_id if box_id is None else box_id
    looked = [m for m in measured(records_of_box(box)) if m.record.level is not None and m.values["on"] < on]
    previous = looked[-1] if looked else None
    slip = compartment.limited_slip if revision.limited_slip is None else revision.limited_slip
    ran = None
    if previous is not None and meter_value is not None and compartment.vehicle.meter == "km":
        ran = meter_of_box(box).between(previous.values["on"], previous.values["meter_value"], on, meter_value)
    return assess(
        finding,
        DebrisContext(
            compartment.sheet.kind,
            None if ran is None else max(0.0, ran),
            first_change=is_first_change(box, on),
            yellow_metal=revision.yellow_metal,
            magnet_fitted=any(p.magnet for p in revision.plugs.all()),
            previous=past_finding(previous.record) if previous else None,
            previous_level=previous.record.level if previous else None,
            older_levels=tuple(m.record.level for m in reversed(looked[:-1])),
            clutches=clutches_inside(compartment.sheet.kind, revision.wet_clutch, slip),
        ),
    )


@transaction.atomic
def enter_record(by: Person, compartment_id: int, paper: PaperRecord) -> OilRecord:
    """Write in a change that was done before or outside the guide, with its meter reading."""
    require(by, "technician")
    compartment = Compartment.objects.select_related("vehicle", "sheet").get(pk=compartment_id)
    if paper.on > clock.today():
        raise OutOfRange(
            say("{paper_on} lies in the future.", paper_on=f"{paper.on:%d %b %Y}"),
            field="on",
            value=str(paper.on),
            allowed=say("up to {today}", today=f"{clock.today():%d %b %Y}"),
        )
    rated = {}
    for name in ("shift", "noise"):
        if (said := getattr(paper, name)) is not None:
            rated[name] = RATED[round(in_range(name, said, 1, 5)) - 1]
    revision = current_revision(compartment.sheet.revisions.all(), paper.on)
    box = box_on(compartment, paper.on)
    explained = _check_paper(compartment, paper, revision, box)
    if paper.meter_value is not None:
        add_reading(by, compartment.vehicle_id, paper.on, paper.meter_value, source="paper")
    oil = Lubricant.objects.filter(pk=paper.lubricant_id).first()
    judged = None
    if paper.finding is not None:
        judged = judged_finding(compartment, revision, paper.finding, paper.on, paper.meter_value, box)
        if judged.level is None:
            judged = None
    return write_record(
        by,
        compartment,
        Entry(
            paper.on,
            paper.meter_value,
            paper.oil,
            oil,
            revision,
            paper_entries(revision, paper.drained_ml, paper.drained_c, paper.poured_ml),
            finding=paper.finding,
            assessment=judged,
            gaps=(*paper.gaps, *explained),
            note=paper.note,
            factory_fill=paper.factory_fill,
            details={"rated": {"after": rated}} if rated else {},
            box_id=box,
        ),
    )


@transaction.atomic
def adopt_capacity(by: Person, record_id: int) -> SheetRevision:
    """Make what a compartment of unknown capacity took the figure of its sheet, by a revision that says where it is from."""
    require(by, "lead")
    record = RECORDS.select_related("compartment__sheet").get(pk=record_id)
    newest = current_revision(record.compartment.sheet.revisions.all(), clock.today())
    here = next((m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk), None)
    took = offered_ml(here, newest) if here else None
    if here is None or took is None:
        raise Inconsistent(
            say(
                "This fill does not offer a capacity: the sheet states one that is no guess, or the record does not say "
                "what the whole fill was."
            ),
            field="record",
            value=record_id,
        )
    why = say("measured: {took} went in on {values}", took=ml(took), values=f"{here.values['on']:%d %b %Y}")
    before = figures_of(newest)
    sources = tuple(s for s in before.sources if s.figure != "capacity")
    figures = replace(
        before,
        capacity_ml=took,
        sources=(*sources, Source("capacity", "memory", "verified", why, by, clock.now())),
        effective_on=clock.today(),
    )
    return revise_sheet(by, record.compartment.sheet_id, figures, why)


@transaction.atomic
def adopt_torque(by: Person, record_id: int, plug: str, torque_nm: float, source: str) -> SheetRevision:
    """Make the torque that a plug was closed with the figure of its sheet, by a revision that says where it is from."""
    require(by, "lead")
    record = RECORDS.select_related("compartment__sheet").get(pk=record_id)
    before = figures_of(current_revision(record.compartment.sheet.revisions.all(), clock.today()))
    if not any(p.label == plug and p.torque_nm is None for p in before.plugs):
        raise Inconsistent(
            say("The sheet names a torque for the {plug} by now, or has no such plug.", plug=plug), field="torque_nm", value=torque_nm
        )
    plugs = tuple(replace(p, torque_nm=torque_nm) if p.label == plug else p for p in before.plugs)
    why = say("{plug}: {torque_nm:g} N·m by {source}", plug=plug, torque_nm=torque_nm, source=source)[:200]
    known = next((s for s in before.sources if s.figure == "torque"), None)
    # One source stands for all torques of a sheet: it is as sure as the least sure of them.
    named = () if known else (Source("torque", "memory", "remembered", why, by, clock.now()),)
    return revise_sheet(
        by, record.compartment.sheet_id, replace(before, plugs=plugs, sources=(*before.sources, *named), effective_on=clock.today()), why
    )


@transaction.atomic
def take_learnt(by: Person, compartment_id: int) -> SheetRevision:
    """Revise a sheet's capacity to what the fills to a level say, with that evidence as the reason."""
    require(by, "lead")
    compartment = Compartment.objects.select_related("vehicle", "sheet").prefetch_related("sheet__revisions").get(pk=compartment_id)
    newest = current_revision(compartment.sheet.revisions.all(), clock.today())
    learnt = learnt_of(compartment, newest)
    if learnt.proposes_ml is None:
        raise Inconsistent(
            say("The evidence does not ask for a revision. {learnt_text}", learnt_text=learnt.text),
            field="capacity_ml",
            value=newest.capacity_ml,
        )
    why = say("learnt: {learnt_text}", learnt_text=learnt.text)[:200]
    before = figures_of(newest)
    sources = tuple(s for s in before.sources if s.figure != "capacity")
    figures = replace(
        before,
        capacity_ml=learnt.proposes_ml,
        sources=(*sources, Source("capacity", "memory", "verified", why, by, clock.now())),
        effective_on=clock.today(),
    )
    return revise_sheet(by, compartment.sheet_id, figures, why)
