"""Reads of the book: a record as it stands after its corrections, and a compartment's history."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from barodex.bay.photos import PhotoView, photos_of_records
from barodex.core.debris import Finding
from barodex.core.drained import Amount, at_reference, drained_sigma_ml, loss_since_last_fill, poured_sigma_ml, topup_loss
from barodex.core.expansion import DEFAULT_DENSITY15
from barodex.core.interval import Limits, life_used
from barodex.core.policy import limits_for
from barodex.core.run import finding_from
from barodex.core.working import percent
from barodex.fleet.models import Compartment

from .models import FollowUp, OilRecord

# What may be set right afterwards, and the quantity kind in which it is typed ("" for plain text).
CORRECTABLE = {
    "drained_ml": "volume",
    "drained_c": "temperature",
    "poured_ml": "volume",
    "meter_value": "meter",
    "oil": "",
    "note": "",
    "on": "date",
}


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
    lines = []
    for key, label, kind in _DETAILS:
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
    torques: tuple[str, ...]
    note: str
    work: str
    details: tuple[DetailLine, ...]
    photos: tuple[PhotoView, ...]
    by: str
    at: dt.datetime
    corrections: tuple[CorrectionView, ...]


POURED_C = 20.0  # fresh oil is poured at workshop temperature, common practice


def corrected(record: OilRecord) -> dict[str, Any]:
    """The correctable fields of a record after its corrections (prefetch ``corrections__by`` for many)."""
    values = {f: getattr(record, f) for f in CORRECTABLE}
    for correction in record.corrections.all():
        values[correction.field] = dt.date.fromisoformat(correction.after) if correction.field == "on" else correction.after
    return values


def density(record: OilRecord) -> float:
    """Density of the oil that went in, or the usual one."""
    return (record.lubricant.density15 if record.lubricant else None) or DEFAULT_DENSITY15


def _drained_method(record: OilRecord) -> str:
    return record.revision.drain_method if record.revision else "plug"


def interval_share(record: OilRecord, ran: float | None, since: dt.date | None, on: dt.date) -> float | None:
    """The share of its interval that a record's compartment ran since the level was set; None unknown."""
    if since is None or record.revision is None or on < since:
        return None
    r = record.revision
    limits, _ = limits_for(record.compartment.sheet.kind, r.interval_km, r.interval_h, r.interval_months)
    by_km = record.compartment.vehicle.meter == "km"
    legs = {"road": ran} if by_km and ran is not None and ran >= 0 else {}
    if by_km and not legs:
        limits = Limits({}, limits.hours, limits.months)
    return life_used(legs, None if by_km or ran is None or ran < 0 else ran, since, on, limits).used or None


def reaches(record: OilRecord) -> bool:
    """Whether oil was found on a brake or a clutch."""
    return any(word in str(record.details.get("leak") or "").lower() for word in ("brake", "clutch"))


def record_views(records: Iterable[OilRecord]) -> list[RecordView]:
    """Views of one compartment's records, oldest first, each loss computed against the fill before it."""
    ordered = sorted(((corrected(r), r) for r in records), key=lambda p: (p[0]["on"], p[1].pk))
    views: list[RecordView] = []
    photos = photos_of_records((r.service_id, r.compartment_id) for _, r in ordered if r.service_id)
    last_in: Amount | None = None
    last_oil = DEFAULT_DENSITY15
    last_fill: tuple[dt.date | None, float | None] = (None, None)  # day and meter of the fill
    last_look: tuple[dt.date | None, float | None] = (None, None)  # and of when the level was last set
    topups: list[Amount] = []
    for values, r in ordered:
        topped, flowed = r.work == "top-up", r.details.get("school") == "flow through"
        drained = None
        if values["drained_ml"] is not None:
            drained = Amount(
                values["drained_ml"],
                20.0 if values["drained_c"] is None else values["drained_c"],
                drained_sigma_ml(values["drained_ml"], _drained_method(r)),
            )
        net_in = None
        if values["poured_ml"] is not None:
            net_in = Amount(max(0.0, values["poured_ml"] - r.run_out_ml), POURED_C, poured_sigma_ml(values["poured_ml"]))
        loss = None
        known = (r.revision.capacity_ml if r.revision else None) or (last_in.volume_ml if last_in else None)
        from_on, from_meter = last_look if topped else last_fill
        ran = values["meter_value"] - from_meter if values["meter_value"] is not None and from_meter is not None else None
        share = interval_share(r, ran, from_on, values["on"])
        if topped and net_in and known:
            loss = topup_loss(net_in, known, ran if ran and ran > 0 else None, last_oil, share)
        elif drained and last_in and last_in.volume_ml > 0 and r.work != "exchange":
            capacity = (r.revision.capacity_ml if r.revision else None) or last_in.volume_ml
            loss = loss_since_last_fill(last_in, topups, drained, capacity, ran if ran and ran > 0 else None, last_oil, share)
        if loss and reaches(r):
            loss = replace(loss, band="stop", text="Oil reaches a brake or a clutch: do not drive.")
        finding = r.finding or {}
        views.append(
            RecordView(
                r.pk,
                r.service_id,
                values["on"],
                values["meter_value"],
                r.revision.number if r.revision else None,
                values["oil"],
                values["drained_ml"],
                values["drained_c"],
                at_reference(drained, last_oil).volume_ml if drained else None,
                values["poured_ml"],
                at_reference(net_in, density(r)).volume_ml if net_in else None,
                loss.loss_ml if loss else None,
                loss.sigma_ml if loss else None,
                loss.band if loss else "",
                loss.text if loss else "",
                ran if ran and ran > 0 else None,
                r.level,
                finding.get("colour") or "",
                finding.get("clarity") or "",
                finding.get("magnet") or "",
                tuple(f"{p.get('form')}, {p.get('metal', 'steel')}" for p in finding.get("particles") or ()),
                r.interval_factor,
                tuple(r.reasons),
                tuple(r.gaps),
                tuple(r.torques),
                values["note"],
                r.work,
                detail_lines(r.details),
                photos.get((r.service_id or 0, r.compartment_id), ()),
                r.by.shown_name,
                r.at,
                tuple(CorrectionView(c.field, str(c.before), str(c.after), c.reason, c.by.shown_name, c.at) for c in r.corrections.all()),
            )
        )
        if net_in:
            last_look = (values["on"], values["meter_value"])
        if topped and net_in:
            topups.append(net_in)
        elif net_in:
            # What flowed through a box is not what stands in it.
            last_in = None if flowed else net_in
            last_oil, last_fill, topups = density(r), last_look, []
    return views


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


def open_follow_ups() -> list[FollowUpView]:
    """What must be looked at again, soonest first."""
    rows = FollowUp.objects.filter(done_at=None).select_related("compartment__vehicle").order_by("-stop", "due_on", "id")
    return [
        FollowUpView(
            f.pk,
            f.compartment.vehicle_id,
            f.compartment.vehicle.name,
            f.compartment.name,
            f.what,
            f.due_on,
            f.due_meter,
            f.compartment.vehicle.meter,
            f.stop,
        )
        for f in rows
    ]


@dataclass(frozen=True)
class HistoryView:
    """A compartment's whole history, oldest record first."""

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


RECORDS = OilRecord.objects.select_related("revision", "lubricant", "by", "compartment__sheet", "compartment__vehicle").prefetch_related(
    "corrections__by"
)


def history(compartment_id: int) -> HistoryView:
    """The history of a compartment; raises Compartment.DoesNotExist."""
    c = Compartment.objects.select_related("vehicle", "sheet").prefetch_related("sheet__revisions").get(pk=compartment_id)
    newest = max(c.sheet.revisions.all(), key=lambda r: r.number)
    return HistoryView(
        c.pk,
        c.name,
        c.slot,
        c.sheet.kind,
        c.vehicle_id,
        c.vehicle.name,
        c.vehicle.plate,
        c.vehicle.meter,
        c.sheet_id,
        c.sheet.name,
        newest.capacity_ml,
        tuple(record_views(RECORDS.filter(compartment=c))),
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
                r.pk,
                values["on"],
                r.compartment.vehicle.name,
                r.compartment_id,
                r.compartment.name,
                values["oil"],
                values["poured_ml"],
                r.level,
                r.by.shown_name,
                r.work,
            )
        )
    return lines


@dataclass(frozen=True)
class WasteLine:
    """Used oil handed in, as a record says it."""

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
        lines.append(WasteLine(r.pk, r.on, *place, r.oil, amount, r.details.get("where_to", ""), r.by.shown_name))
    return WasteLog(since, sum(x.waste_ml for x in lines), unknown, tuple(lines))
