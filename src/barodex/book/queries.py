"""Reads of the book: a record as it stands after its corrections, and a compartment's history."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from barodex.book.photos import PhotoView, photos_of_records
from barodex.core.findings.finding import Finding
from barodex.core.ledger.balance import EMPTIES, ENTRY_WORDS
from barodex.core.ledger.drained import Amount
from barodex.core.quantity.working import figure, percent
from barodex.core.run.seen import finding_from
from barodex.core.words import say
from barodex.fleet.models import Compartment, void_words
from barodex.shelf.models import Container

from .amounts import CORRECTABLE, Measured, corrected, interval_run, measured, measured_by_box
from .closed import ClosedWith, from_rows
from .consequences import FollowLine, follow_lines, held_of, rows_of_records
from .ledger import density, entries_of_records, totals
from .models import ConsequenceRow, OilRecord

__all__ = ["CORRECTABLE", "corrected", "density", "interval_run", "measured"]  # what the amounts give is asked for here


@dataclass(frozen=True)
class CorrectionView:
    field: str
    before: str
    after: str
    reason: str
    by: str
    at: dt.datetime


@dataclass(frozen=True)
class DetailLine:
    """A line that a kind of service leaves on its record; ``value`` is canonical when it has a ``kind`` of quantity, else words."""

    label: str
    words: str
    value: float | None = None
    kind: str = ""


_DETAILS: tuple[tuple[str, str, str], ...] = (
    ("fresh", "Fresh share", "share"),
    ("school", "School", ""),
    ("cycles", "Drains", ""),
    ("closed_at_c", say("Level set at"), "temperature"),
    ("depth_mm", say("Stands below the lip"), "length"),
    ("stood", "Stood before", ""),
    ("leak", "Wet at", ""),
    ("wrong_oil", "Wrong oil", ""),
    ("ran", say("It ran on it"), "distance"),
    ("hours", say("It ran on it"), "engine_hours"),
    ("recovered", say("Recovered by suction"), "share"),
    ("before", "Before", ""),
    ("after", "After", ""),
    ("resets", "Reset", ""),
    ("values_before", "Values before", ""),
    ("values_after", "Values after", ""),
    ("faults_before", "Faults read", ""),
    ("faults_after", say("Faults read again"), ""),
    ("attached", "Rode along", ""),
    ("checked", "Looked at", ""),
    ("refit", say("Came off and went back on"), ""),
    ("handed_in_ml", say("Used oil handed in, as counted"), "volume"),
    ("where_to", say("Used oil to"), ""),
    ("time", "Time", ""),
)


def detail_lines(details: dict[str, Any]) -> tuple[DetailLine, ...]:
    """What a record's details say, in the order of the work."""
    lines: list[DetailLine] = []
    for key, label, kind in _DETAILS if details else ():
        value = details.get(key)
        if value in (None, "", [], {}):
            continue
        if kind == "share":
            lines.append(DetailLine(label, percent(float(value))))
        elif kind:
            lines.append(DetailLine(label, "", float(value), kind))
        else:
            several = value.values() if isinstance(value, dict) else value if isinstance(value, list) else [str(value)]
            lines.append(DetailLine(label, ", ".join(several)))
    return tuple(lines)


@dataclass(frozen=True)
class EntryView:
    """One amount of a record, in words; mL as measured, its temperature where it was taken (°C), from which container."""

    kind: str
    words: str
    volume_ml: float
    temperature_c: float | None
    cycle: int
    container: str


@dataclass(frozen=True)
class RecordView:
    """A record with its corrections applied, its amounts as sums over its entries: mL as measured, ``*_15_ml`` at 15 °C.

    ``drained_ml`` and ``poured_ml``: all that came out and all oil that went in; ``first_out_15_ml`` the old oil, set against the fill
    before; ``net_in_15_ml`` what stays of the last fill, ``inside_15_ml`` with what was left behind; ``used_ml`` for the can;
    ``loss_within_ml`` is 2σ.
    """

    id: int
    service: int | None
    on: dt.date
    meter_value: float | None
    revision: int | None
    oil: str
    drained_ml: float | None
    drained_c: float | None
    drained_15_ml: float | None
    first_out_15_ml: float | None
    poured_ml: float | None
    run_out_ml: float | None
    additive_ml: float | None
    put_in_15_ml: float | None
    net_in_15_ml: float | None
    inside_15_ml: float | None
    used_ml: float
    fresh_share: float | None
    entries: tuple[EntryView, ...]
    loss_15_ml: float | None
    loss_within_ml: float | None
    loss_band: str
    loss_text: str
    run: float | None
    level: int | None
    colour: str
    clarity: str
    magnet: str
    particles: tuple[str, ...]
    seen: Finding | None  # what was noted in full, from which it is put right
    interval_factor: float
    follows: tuple[FollowLine, ...]
    reasons: tuple[str, ...]
    gaps: tuple[str, ...]
    torques: tuple[ClosedWith, ...]
    note: str
    work: str
    details: tuple[DetailLine, ...]
    photos: tuple[PhotoView, ...]
    by: str
    at: dt.datetime
    corrections: tuple[CorrectionView, ...]


def record_views(records: Iterable[OilRecord]) -> list[RecordView]:
    """Views of one compartment's records, oldest first, each loss computed against the fill before it."""
    return _views(measured(records))


def record_views_by_box(records: Iterable[OilRecord]) -> dict[int, list[RecordView]]:
    """Views of the records of many boxes, each box's oldest first, in few questions."""
    found = measured_by_box(records)
    views = {v.id: v for v in _views([m for mine in found.values() for m in mine])}
    return {box: [views[m.record.pk] for m in mine] for box, mine in found.items()}


def _views(found: list[Measured]) -> list[RecordView]:
    photos = photos_of_records((m.record.service_id, m.record.compartment_id) for m in found if m.record.service_id)
    wanted = {e.container for m in found for e in m.entries if e.container is not None}
    labels = dict(Container.objects.filter(pk__in=wanted).values_list("pk", "label")) if wanted else {}
    rows = rows_of_records([m.record.pk for m in found])
    return [_view(m, photos, labels, rows.get(m.record.pk, [])) for m in found]


def _ml(amount: Amount | None) -> float | None:
    return None if amount is None else amount.volume_ml


def _view(
    m: Measured, photos: dict[tuple[int, int], tuple[PhotoView, ...]], labels: dict[int, str], rows: list[ConsequenceRow]
) -> RecordView:
    values, r, loss, finding, said, sums = m.values, m.record, m.loss, m.record.finding or {}, m.said, m.sums
    last_drain = max((e.cycle for e in m.entries), default=0) + 1
    return RecordView(
        id=r.pk,
        service=r.service_id,
        on=values["on"],
        meter_value=values["meter_value"],
        revision=r.revision.number if r.revision else None,
        oil=values["oil"],
        drained_ml=said.drained_ml,
        drained_c=said.drained_c,
        drained_15_ml=_ml(sums.drained),
        first_out_15_ml=_ml(sums.first_out),
        poured_ml=said.poured_ml,
        run_out_ml=said.run_out_ml,
        additive_ml=said.additive_ml,
        put_in_15_ml=_ml(sums.put_in),
        net_in_15_ml=_ml(sums.net_in),
        inside_15_ml=_ml(sums.inside),
        used_ml=sums.used_ml,
        fresh_share=sums.fresh_share if r.work == "exchange" else None,
        entries=tuple(
            EntryView(
                e.kind,
                ENTRY_WORDS[e.kind] + (say(", not measured") if e.assumed else ""),
                e.amount.volume_ml,
                None if e.amount.temperature_sigma_k else e.amount.temperature_c,
                e.cycle or (last_drain if last_drain > 1 and e.kind in (*EMPTIES, "oil") else 0),
                labels.get(e.container or 0, ""),
            )
            for e in m.entries
        ),
        loss_15_ml=loss.loss_ml if loss else None,
        loss_within_ml=loss.within_ml if loss else None,
        loss_band=loss.band if loss else "",
        loss_text=m.loss_text,
        run=m.run,
        level=r.level,
        colour=finding.get("colour") or "",
        clarity=finding.get("clarity") or "",
        magnet=finding.get("magnet") or "",
        particles=tuple(f"{p.get('form')}, {p.get('metal', 'steel')}" for p in finding.get("particles") or ()),
        seen=past_finding(r),
        interval_factor=held_of(rows).factor,
        follows=follow_lines(rows, values["on"], values["meter_value"]),
        reasons=tuple(r.reasons),
        gaps=tuple(r.gaps),
        torques=from_rows(r.torques),
        note=values["note"],
        work=r.work,
        details=detail_lines(r.details),
        photos=photos.get((r.service_id or 0, r.compartment_id), ()),
        by=r.by.shown_name,
        at=r.at,
        corrections=tuple(
            CorrectionView(c.field, _told(c.field, c.before), _told(c.field, c.after), c.reason, c.by.shown_name, c.at)
            for c in m.corrections
        ),
    )


def _told(field: str, value: Any) -> str:
    """One side of a correction, in words."""
    if field == "finding":
        seen = value["finding"] or {}
        forms = [f"{p['form']}, {p['metal']}" for p in seen.get("particles") or ()]
        words = ", ".join(
            w
            for w in (
                seen.get("colour"),
                seen.get("clarity"),
                say("magnet {seen}", seen=seen["magnet"]) if seen.get("magnet") else "",
                *forms,
            )
            if w
        )
        return f"{words or 'not looked at'}" + ("" if value["level"] is None else say(" (level {value})", value=value["level"]))
    if field == "torques":
        return "; ".join(f"{t['plug']} {'no figure' if t['torque_nm'] is None else figure(t['torque_nm'], 1) + ' N·m'}" for t in value)
    return "unknown" if value is None else str(value)


def is_first_change(box_id: int, on: dt.date) -> bool:
    """Whether the oil that comes out on a day is the factory fill. Without a trace it is unknown, which is not the same."""
    last = OilRecord.objects.filter(box=box_id, on__lt=on).exclude(work="top-up").last()
    return last is not None and last.factory_fill


def past_finding(record: OilRecord | None) -> Finding | None:
    """The finding of a record, as the core reads it."""
    return finding_from(record.finding) if record is not None and record.finding else None


@dataclass(frozen=True)
class VoidedRecord:
    """A record that was declared void: what it said, and who, when, why."""

    id: int
    on: dt.date
    oil: str
    drained_ml: float | None
    poured_ml: float | None
    void: str


@dataclass(frozen=True)
class HistoryView:
    """A compartment's whole history, oldest record first; void ones apart, newest first."""

    compartment_id: int
    compartment: str
    slot: str
    kind: str
    vehicle_id: int
    vehicle: str
    plate: str
    meter: str
    sheet_id: int
    sheet: str
    capacity_ml: float | None
    records: tuple[RecordView, ...]
    voided: tuple[VoidedRecord, ...]


# Prefetched, not joined: two hundred records share a few revisions, oils and people.
RECORDS = OilRecord.objects.prefetch_related("revision", "lubricant", "by", "compartment__sheet", "compartment__vehicle", "corrections__by")


def history(compartment_id: int) -> HistoryView:
    """The history of a compartment; raises Compartment.DoesNotExist."""
    c = Compartment.objects.select_related("vehicle", "sheet").prefetch_related("sheet__revisions").get(pk=compartment_id)
    newest = max(c.sheet.revisions.all(), key=lambda r: r.number)
    voided = list(OilRecord.everything.filter(box=c.box_id).exclude(voided_at=None).select_related("voided_by").order_by("-on", "-id"))
    gone = defaultdict(tuple, entries_of_records([r.pk for r in voided]))
    return HistoryView(
        compartment_id=c.pk,
        compartment=c.name,
        slot=c.slot,
        kind=c.sheet.kind,
        vehicle_id=c.vehicle_id,
        vehicle=c.vehicle.name,
        plate=c.vehicle.plate,
        meter=c.vehicle.meter,
        sheet_id=c.sheet_id,
        sheet=c.sheet.name,
        capacity_ml=newest.capacity_ml,
        records=tuple(record_views(RECORDS.filter(box=c.box_id))),
        voided=tuple(
            VoidedRecord(r.pk, r.on, r.oil, totals(gone[r.pk]).drained_ml, totals(gone[r.pk]).poured_ml, void_words(r)) for r in voided
        ),
    )


@dataclass(frozen=True)
class BookLine:
    """One record in the list of all."""

    id: int
    on: dt.date
    vehicle: str
    compartment_id: int
    compartment: str
    oil: str
    poured_ml: float | None
    level: int | None
    by: str
    work: str


def recent(limit: int = 60) -> list[BookLine]:
    """The latest records of all vehicles."""
    rows = list(
        OilRecord.objects.select_related("compartment__vehicle", "by").prefetch_related("corrections").order_by("-on", "-id")[:limit]
    )
    said = entries_of_records([r.pk for r in rows])
    lines = []
    for r in rows:
        values = corrected(r)
        lines.append(
            BookLine(
                id=r.pk,
                on=values["on"],
                vehicle=r.compartment.vehicle.name,
                compartment_id=r.compartment_id,
                compartment=r.compartment.name,
                oil=values["oil"],
                poured_ml=totals(said.get(r.pk, ())).poured_ml,
                level=r.level,
                by=r.by.shown_name,
                work=r.work,
            )
        )
    return lines
