"""What a record says wrong, set right: each an entry with who, when, why; the ledger, due and what must be looked at again follow."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.findings.finding import Finding
from barodex.core.quantity.errors import CoreError, Inconsistent, OutOfRange, in_range
from barodex.core.quantity.quantity import parse_quantity

from .actions import Entry, follow_ups, judged_finding, usual_ml
from .amounts import measured, records_of_box
from .ledger import AMOUNTS, entries_of_records, replace_entries, totals
from .models import Correction, FollowUp, OilRecord
from .queries import CORRECTABLE, corrected, past_finding


@transaction.atomic
def correct(by: Person, record_id: int, field_name: str, typed: str, reason: str) -> Correction:
    """Set a figure of a record right: an entry with who, when, why; the record itself is not touched."""
    require(by, "technician")
    record = OilRecord.objects.select_related("compartment__vehicle").prefetch_related("corrections").get(pk=record_id)
    if field_name not in CORRECTABLE:
        raise Inconsistent(f"“{field_name}” cannot be corrected.", field="field", value=field_name, allowed=", ".join(CORRECTABLE))
    if len(reason.strip()) < 4:
        raise Inconsistent("Say why it was wrong.", field="reason", value=reason)
    after = _read_correction(by, record, CORRECTABLE[field_name], typed)
    said = totals(entries_of_records([record.pk]).get(record.pk, ()))
    before = getattr(said, field_name) if field_name in AMOUNTS else corrected(record)[field_name]
    if field_name == "drained_c" and said.drained_ml is None:
        raise Inconsistent("Nothing came out by this record: it has no temperature.", field="value", value=typed)
    if after == before or (isinstance(before, dt.date) and after == before.isoformat()):
        raise Inconsistent("That is what it says already.", field="value", value=typed)
    made = Correction.objects.create(
        record=record,
        field=field_name,
        before=before.isoformat() if isinstance(before, dt.date) else before,
        after=after,
        reason=reason.strip()[:300],
        by=by,
        at=clock.now(),
    )
    if field_name in AMOUNTS:
        replace_entries(by, record, field_name, float(after), made.reason, made.at)
        _loss_again(by, record, made)
    audit(
        by,
        "record corrected",
        record,
        (record.compartment.vehicle_id,),
        field=field_name,
        before=str(before),
        after=str(after),
        reason=reason,
    )
    return made


def _read_correction(by: Person, record: OilRecord, kind: str, typed: str) -> Any:
    if kind == "date":
        try:
            on = dt.date.fromisoformat(typed.strip())
        except ValueError as error:
            raise Inconsistent("A date reads year-month-day, such as 2026-03-09.", field="value", value=typed) from error
        if on > clock.today():
            raise OutOfRange(f"{on:%d %b %Y} lies in the future.", field="value", value=typed)
        return on.isoformat()
    if kind == "meter":
        kind = "distance" if record.compartment.vehicle.meter == "km" else "engine_hours"
    if kind:
        value = _typed(typed, kind, by, usual_ml(record.compartment) if kind == "volume" else None)
        return in_range("value", value, 1, 60_000, "mL") if kind == "volume" else value
    return typed.strip()[:80]


def _typed(typed: str, kind: str, by: Person, usual: float | None = None) -> float:
    """A figure as typed; what cannot be read is refused at the field."""
    try:
        return parse_quantity(typed, kind, by.unit_system, usual)
    except CoreError as error:
        error.field = "value"
        raise


def _checked(by: Person, record_id: int, reason: str) -> OilRecord:
    require(by, "technician")
    record = (
        OilRecord.objects.select_related("compartment__vehicle", "compartment__sheet", "revision")
        .prefetch_related("corrections", "revision__plugs")
        .get(pk=record_id)
    )
    if len(reason.strip()) < 4:
        raise Inconsistent("Say why it was wrong.", field="reason", value=reason)
    return record


def _write(by: Person, record: OilRecord, field_name: str, before: Any, after: Any, reason: str) -> Correction:
    made = Correction.objects.create(
        record=record, field=field_name, before=before, after=after, reason=reason.strip()[:300], by=by, at=clock.now()
    )
    audit(by, "record corrected", record, (record.compartment.vehicle_id,), field=field_name, reason=reason)
    return made


@transaction.atomic
def correct_finding(by: Person, record_id: int, finding: Finding, reason: str) -> Correction:
    """Set right what was seen: it is judged anew, and what shortens the next interval or must be looked at again follows."""
    record = _checked(by, record_id, reason)
    if record.revision is None:
        raise Inconsistent("This record follows no sheet: a finding cannot be judged.", field="finding", value="")
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    old, on, meter = past_finding(here.record), here.values["on"], here.values["meter_value"]
    judged = judged_finding(record.compartment, record.revision, finding, on, meter, record.box_id)
    if judged.level is None:
        raise Inconsistent("Nothing was looked at: tap what was seen.", field="finding", value="")
    if old == finding:
        raise Inconsistent("That is what it says already.", field="finding", value="")
    # What shortened the interval beside the finding goes on doing so.
    was = judged_finding(record.compartment, record.revision, old, on, meter, record.box_id).interval_factor if old is not None else 1.0
    beside = min(1.0, here.record.interval_factor / was) if was else 1.0
    by_km = record.compartment.vehicle.meter == "km"
    after = {
        "finding": asdict(finding),
        "level": judged.level,
        "interval_factor": max(0.01, judged.interval_factor * beside),
        "reasons": [r.text for r in judged.reasons],
        "cap_run": None if judged.cap is None else (judged.cap.km if by_km else judged.cap.hours),
        "cap_days": None if judged.cap is None else judged.cap.days,
    }
    before = {name: getattr(here.record, name) for name in after}
    made = _write(by, record, "finding", before, after, reason)
    _follow_again(by, record, made, "finding", Entry(on, meter, revision=record.revision, assessment=judged))
    return made


@transaction.atomic
def correct_torque(by: Person, record_id: int, plug: str, typed: str, reason: str) -> Correction:
    """Set right what a plug was closed with; empty: no figure is known."""
    record = _checked(by, record_id, reason)
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    rows = [dict(t) for t in here.record.torques]
    mine = next((t for t in rows if t["plug"] == plug), None)
    if mine is None:
        raise Inconsistent("No such plug was closed by this record.", field="plug", value=plug, allowed=", ".join(t["plug"] for t in rows))
    torque = in_range("value", _typed(typed, "torque", by), 0.2, 1000, "N·m") if typed.strip() else None
    if torque == mine["torque_nm"]:
        raise Inconsistent("That is what it says already.", field="value", value=typed)
    mine["torque_nm"] = torque
    return _write(by, record, "torques", here.record.torques, rows, reason)


def _follow_again(by: Person, record: OilRecord, correction: Correction, cause: str, entry: Entry, only_loss: bool = False) -> None:
    """What had to be looked at again for what was wrong is closed, and what follows from what is right is written."""
    open_ones = FollowUp.objects.filter(record=record, cause=cause, done_at=None)
    # What somebody looked at and settled meanwhile is not asked for again.
    closed = FollowUp.objects.filter(record=record, cause=cause).exclude(done_at=None).exclude(done_at__in=record.corrections.values("at"))
    was_open = open_ones.exists() or not closed.exists()
    open_ones.update(done_at=correction.at, done_by=by, outcome=f"its record was put right: {correction.reason}"[:300])
    newest = record.pk == OilRecord.objects.filter(box=record.box_id).order_by("-on", "-id").values_list("pk", flat=True).first()
    if not was_open or not newest or entry.revision is None:
        return
    lost = next((m.loss for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk), None) if only_loss else None
    follow_ups(record.compartment, record, entry, lost)


def _loss_again(by: Person, record: OilRecord, correction: Correction) -> None:
    """An amount was put right: the loss of its record and of the one after it are told anew, and what follows from them."""
    chain = measured(records_of_box(record.box_id))
    place = next((k for k, m in enumerate(chain) if m.record.pk == record.pk), None)
    for m in chain[place : place + 2] if place is not None else ():
        entry = Entry(m.values["on"], m.values["meter_value"], revision=m.record.revision)
        _follow_again(by, m.record, correction, "loss", entry, only_loss=True)
