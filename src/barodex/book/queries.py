"""Reads of the book: a record as it stands after its corrections, and a compartment's history."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from barodex.book.photos import PhotoView, photos_of_records
from barodex.core.findings.finding import Finding
from barodex.core.ledger.drained import at_reference
from barodex.core.quantity.working import percent
from barodex.core.run.seen import finding_from
from barodex.fleet.models import Compartment, void_words

from .amounts import CORRECTABLE, Measured, corrected, density, interval_share, measured
from .closed import ClosedWith, from_rows
from .models import FollowUp, OilRecord

__all__ = ["CORRECTABLE", "corrected", "density", "interval_share", "measured"]  # what the amounts give is asked for here


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
    ("oil_ml", "Oil used in all", "volume"),
    ("closed_at_c", "Level set at", "temperature"),
    ("depth_mm", "Stands below the lip", "length"),
    ("stood", "Stood before", ""),
    ("leak", "Wet at", ""),
    ("wrong_oil", "Wrong oil", ""),
    ("ran", "It ran on it", "distance"),
    ("hours", "It ran on it", "engine_hours"),
    ("recovered", "Recovered by suction", "share"),
    ("flush_in_ml", "Flush fluid in", "volume"),
    ("flush_out_ml", "Flush fluid out", "volume"),
    ("before", "Before", ""),
    ("after", "After", ""),
    ("resets", "Reset", ""),
    ("values_before", "Values before", ""),
    ("values_after", "Values after", ""),
    ("attached", "Rode along", ""),
    ("refit", "Came off and went back on", ""),
    ("waste_ml", "Used oil handed in", "volume"),
    ("where_to", "Used oil to", ""),
    ("time", "Time", ""),
)


def detail_lines(details: dict[str, Any]) -> tuple[DetailLine, ...]:
    """What a record's details say, in the order of the work."""
    lines: list[DetailLine] = []
    for key, label, kind in _DETAILS if details else ():
        value = details.get(key)
        if value in (None, "", []):
            continue
        if kind == "share":
            lines.append(DetailLine(label, percent(float(value))))
        elif kind:
            lines.append(DetailLine(label, "", float(value), kind))
        else:
            lines.append(DetailLine(label, ", ".join(value) if isinstance(value, list) else str(value)))
    return tuple(lines)


@dataclass(frozen=True)
class RecordView:
    """A record with its corrections applied; volumes in mL, ``*_15_ml`` at 15 °C; losses against the record before it."""

    id: int
    service: int | None
    on: dt.date
    meter_value: float | None
    revision: int | None
    oil: str
    drained_ml: float | None
    drained_c: float | None
    drained_15_ml: float | None
    poured_ml: float | None
    net_in_15_ml: float | None
    loss_15_ml: float | None
    loss_sigma_ml: float | None
    loss_band: str
    loss_text: str
    run: float | None
    level: int | None
    colour: str
    clarity: str
    magnet: str
    particles: tuple[str, ...]
    interval_factor: float
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
    found = measured(records)
    photos = photos_of_records((m.record.service_id, m.record.compartment_id) for m in found if m.record.service_id)
    return [_view(m, photos) for m in found]


def _view(m: Measured, photos: dict[tuple[int, int], tuple[PhotoView, ...]]) -> RecordView:
    values, r, loss, finding = m.values, m.record, m.loss, m.record.finding or {}
    return RecordView(
        id=r.pk,
        service=r.service_id,
        on=values["on"],
        meter_value=values["meter_value"],
        revision=r.revision.number if r.revision else None,
        oil=values["oil"],
        drained_ml=values["drained_ml"],
        drained_c=values["drained_c"],
        drained_15_ml=at_reference(m.drained, m.oil_before).volume_ml if m.drained else None,
        poured_ml=values["poured_ml"],
        net_in_15_ml=at_reference(m.net_in, density(r)).volume_ml if m.net_in else None,
        loss_15_ml=loss.loss_ml if loss else None,
        loss_sigma_ml=loss.sigma_ml if loss else None,
        loss_band=loss.band if loss else "",
        loss_text=loss.text if loss else "",
        run=m.run,
        level=r.level,
        colour=finding.get("colour") or "",
        clarity=finding.get("clarity") or "",
        magnet=finding.get("magnet") or "",
        particles=tuple(f"{p.get('form')}, {p.get('metal', 'steel')}" for p in finding.get("particles") or ()),
        interval_factor=r.interval_factor,
        reasons=tuple(r.reasons),
        gaps=tuple(r.gaps),
        torques=from_rows(r.torques),
        note=values["note"],
        work=r.work,
        details=detail_lines(r.details),
        photos=photos.get((r.service_id or 0, r.compartment_id), ()),
        by=r.by.shown_name,
        at=r.at,
        corrections=tuple(CorrectionView(c.field, str(c.before), str(c.after), c.reason, c.by.shown_name, c.at) for c in m.corrections),
    )


def is_first_change(compartment: Compartment, on: dt.date) -> bool:
    """Whether the oil that comes out on a day is the factory fill. Without a trace it is unknown, which is not the same."""
    last = compartment.records.filter(on__lt=on).exclude(work="top-up").last()
    return last is not None and last.factory_fill


def past_finding(record: OilRecord | None) -> Finding | None:
    """The finding of a record, as the core reads it."""
    return finding_from(record.finding) if record is not None and record.finding else None


@dataclass(frozen=True)
class FollowUpView:
    """Something to look at again; ``meter`` in km or h as the vehicle counts."""

    id: int
    vehicle_id: int
    vehicle: str
    compartment: str
    what: str
    due_on: dt.date | None
    due_meter: float | None
    meter: str
    stop: bool


def open_follow_ups(vehicle_id: int | None = None) -> list[FollowUpView]:
    """What must be looked at again, of all vehicles or one, soonest first."""
    rows = FollowUp.objects.filter(done_at=None).select_related("compartment__vehicle")
    if vehicle_id is not None:
        rows = rows.filter(compartment__vehicle_id=vehicle_id)
    found = [
        FollowUpView(
            id=f.pk,
            vehicle_id=f.compartment.vehicle_id,
            vehicle=f.compartment.vehicle.name,
            compartment=f.compartment.name,
            what=f.what,
            due_on=f.due_on,
            due_meter=f.due_meter,
            meter=f.compartment.vehicle.meter,
            stop=f.stop,
        )
        for f in rows
    ]
    return sorted(found, key=soonest)


def soonest(f: FollowUpView) -> tuple[bool, dt.date, int]:
    """The order of follow-ups: stops first, then by their day, those without one first."""
    return not f.stop, f.due_on or dt.date.min, f.id


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
        records=tuple(record_views(RECORDS.filter(compartment=c))),
        voided=tuple(
            VoidedRecord(r.pk, r.on, r.oil, r.drained_ml, r.poured_ml, void_words(r))
            for r in OilRecord.everything.filter(compartment=c).exclude(voided_at=None).select_related("voided_by").order_by("-on", "-id")
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
    rows = OilRecord.objects.select_related("compartment__vehicle", "by").prefetch_related("corrections").order_by("-on", "-id")[:limit]
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
                poured_ml=values["poured_ml"],
                level=r.level,
                by=r.by.shown_name,
                work=r.work,
            )
        )
    return lines


@dataclass(frozen=True)
class WasteLine:
    """Used oil handed in, as a record says it; ``oil`` is the old one that came out."""

    record: int
    on: dt.date
    vehicle: str
    compartment: str
    oil: str
    waste_ml: float
    where_to: str
    by: str


@dataclass(frozen=True)
class WasteLog:
    """Used oil of a year, newest first, and its sum, mL; ``unknown`` counts the changes of which nothing was written down."""

    since: dt.date
    total_ml: float
    unknown: int
    lines: tuple[WasteLine, ...]


def waste_log(since: dt.date) -> WasteLog:
    """What used oil was handed in since a day."""
    rows = (
        OilRecord.objects.filter(on__gte=since).exclude(work="top-up").select_related("compartment__vehicle", "by").order_by("-on", "-id")
    )
    lines, unknown = [], 0
    for r in rows:
        amount = r.details.get("waste_ml")
        if amount is None:
            unknown += 1
            continue
        place = (r.compartment.vehicle.name, r.compartment.name)
        lines.append(
            WasteLine(
                r.pk, r.on, *place, r.details.get("waste_oil") or "oil not known", amount, r.details.get("where_to", ""), r.by.shown_name
            )
        )
    return WasteLog(since, sum(x.waste_ml for x in lines), unknown, tuple(lines))
