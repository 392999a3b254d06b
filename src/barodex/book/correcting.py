"""What a record says wrong, set right: each an entry with who, when, why; the ledger, due and what must be looked at again follow."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.findings.finding import Assessment, Finding
from barodex.core.quantity.errors import CoreError, Inconsistent, OutOfRange, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.verdict.consequences import Consequence, consequences
from barodex.core.words import say
from barodex.fleet.actions import replace_reading
from barodex.fleet.models import Reading

from .actions import judged_finding, usual_ml
from .amounts import measured, records_of_box
from .consequences import OF_AMOUNT, OF_FINDING, seen_of, write_consequences
from .learning import odd_of, offered_ml
from .ledger import AMOUNTS, entries_of_records, replace_entries, totals
from .models import ConsequenceRow, Correction, OilRecord
from .queries import CORRECTABLE, corrected, past_finding


@transaction.atomic
def correct(by: Person, record_id: int, field_name: str, typed: str, reason: str) -> Correction:
    """Set a figure of a record right: an entry with who, when, why; the record itself is not touched."""
    require(by, "technician")
    record = OilRecord.objects.select_related("compartment__vehicle").prefetch_related("corrections").get(pk=record_id)
    if field_name not in CORRECTABLE:
        raise Inconsistent(
            say("“{field_name}” cannot be corrected.", field_name=field_name),
            field="field",
            value=field_name,
            allowed=", ".join(CORRECTABLE),
        )
    if len(reason.strip()) < 4:
        raise Inconsistent(say("Say why it was wrong."), field="reason", value=reason)
    after = _read_correction(by, record, CORRECTABLE[field_name], typed)
    said = totals(entries_of_records([record.pk]).get(record.pk, ()))
    before = getattr(said, field_name) if field_name in AMOUNTS else corrected(record)[field_name]
    if field_name == "drained_c" and said.drained_ml is None:
        raise Inconsistent(say("Nothing came out by this record: it has no temperature."), field="value", value=typed)
    if after == before or (isinstance(before, dt.date) and after == before.isoformat()):
        raise Inconsistent(say("That is what it says already."), field="value", value=typed)
    made = Correction.objects.create(
        record=record,
        field=field_name,
        before=before.isoformat() if isinstance(before, dt.date) else before,
        after=after,
        reason=reason.strip()[:300],
        by=by,
        at=clock.now(),
    )
    if field_name in ("on", "meter_value") and before is not None:
        _reading_follows(by, record, field_name, before, after, made.reason)
    if field_name in AMOUNTS:
        replace_entries(by, record, field_name, float(after), made.reason, made.at)
    if field_name in AMOUNTS or field_name in ("on", "meter_value"):
        _loss_again(by, record, made.reason)
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


def _reading_follows(by: Person, record: OilRecord, field_name: str, before: Any, after: Any, reason: str) -> None:
    """The reading of a record's day is set right with it, so that both say the same; an impossible one is refused."""
    values = {name: value for name, value in corrected(OilRecord.objects.get(pk=record.pk)).items() if name in ("on", "meter_value")}
    was = values | {field_name: before}
    if was["meter_value"] is None or after is None:
        return
    reading = Reading.objects.filter(vehicle=record.compartment.vehicle_id, on=was["on"], value=was["meter_value"]).first()
    if reading is None or _others_say(record, was["on"], was["meter_value"]):
        return
    if not Reading.objects.filter(vehicle=reading.vehicle_id, on=values["on"], value=values["meter_value"]).exists():
        replace_reading(by, reading.pk, values["on"], values["meter_value"], reading.swap, reason)


def _others_say(record: OilRecord, on: dt.date, value: float) -> bool:
    """Whether another record of the vehicle, of the same visit say, still says that reading."""
    others = OilRecord.objects.filter(compartment__vehicle=record.compartment.vehicle_id).exclude(pk=record.pk)
    return any(
        (v := corrected(r))["on"] == on and v["meter_value"] == value
        for r in others.filter(on__range=(on - dt.timedelta(days=400), on + dt.timedelta(days=400))).prefetch_related("corrections")
    )


@transaction.atomic
def correct_reading(by: Person, reading_id: int, on: dt.date, value: float, swap: bool, reason: str) -> Reading:
    """Set a reading right, and with it the records of that day that say the same: one visit has one reading."""
    old = Reading.objects.select_related("vehicle").get(pk=reading_id)
    made = replace_reading(by, reading_id, on, value, swap, reason)
    for record in OilRecord.objects.filter(compartment__vehicle=old.vehicle_id).prefetch_related("corrections"):
        said = corrected(record)
        if (said["on"], said["meter_value"]) != (old.on, old.value):
            continue
        for name, before, after in (("meter_value", old.value, value), ("on", old.on.isoformat(), on.isoformat())):
            if before != after:
                _write(by, record, name, before, after, reason)
        _loss_again(by, record, reason.strip()[:300])
    return made


def _read_correction(by: Person, record: OilRecord, kind: str, typed: str) -> Any:
    if kind == "date":
        try:
            on = dt.date.fromisoformat(typed.strip())
        except ValueError as error:
            raise Inconsistent(say("A date reads year-month-day, such as 2026-03-09."), field="value", value=typed) from error
        if on > clock.today():
            raise OutOfRange(say("{on} lies in the future.", on=f"{on:%d %b %Y}"), field="value", value=typed)
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
        raise Inconsistent(say("Say why it was wrong."), field="reason", value=reason)
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
        raise Inconsistent(say("This record follows no sheet: a finding cannot be judged."), field="finding", value="")
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    old, on, meter = past_finding(here.record), here.values["on"], here.values["meter_value"]
    judged = judged_finding(record.compartment, record.revision, finding, on, meter, record.box_id)
    if judged.level is None:
        raise Inconsistent(say("Nothing was looked at: tap what was seen."), field="finding", value="")
    if old == finding:
        raise Inconsistent(say("That is what it says already."), field="finding", value="")
    after = {"finding": asdict(finding), "level": judged.level, "reasons": [r.text for r in judged.reasons]}
    before = {name: getattr(here.record, name) for name in after}
    made = _write(by, record, "finding", before, after, reason)
    _follows_anew(by, record.box_id, record.pk, OF_FINDING, made.reason, judged)
    return made


@transaction.atomic
def correct_torque(by: Person, record_id: int, plug: str, typed: str, reason: str) -> Correction:
    """Set right what a plug was closed with; empty: no figure is known."""
    record = _checked(by, record_id, reason)
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    rows = [dict(t) for t in here.record.torques]
    mine = next((t for t in rows if t["plug"] == plug), None)
    if mine is None:
        raise Inconsistent(
            say("No such plug was closed by this record."), field="plug", value=plug, allowed=", ".join(t["plug"] for t in rows)
        )
    torque = in_range("value", _typed(typed, "torque", by), 0.2, 1000, "N·m") if typed.strip() else None
    if torque == mine["torque_nm"]:
        raise Inconsistent(say("That is what it says already."), field="value", value=typed)
    mine["torque_nm"] = torque
    return _write(by, record, "torques", here.record.torques, rows, reason)


def _rewrite(by: Person, record: OilRecord, found: Iterable[Consequence], about: frozenset[tuple[str, str]], reason: str) -> None:
    """What follows from a record as it was put right: what no longer follows is void, what follows now is written.

    What somebody has settled meanwhile is not asked again.
    """
    wanted = [c for c in found if (c.kind, c.code) in about]
    kept = [r for r in ConsequenceRow.objects.filter(record=record) if (r.kind, r.code) in about]
    settled = {(r.kind, r.code) for r in kept if r.done_at is not None}
    for row in kept:
        if row.done_at is None and row.consequence not in wanted:
            if row.kind == "stop" and all(c.kind != "stop" for c in wanted):
                require(by, "lead")  # a stop is lifted by the lead alone, also where what was seen is put right
            row.voided_at, row.voided_by, row.void_reason = clock.now(), by, say("its record was put right: {reason}", reason=reason)[:300]
            row.save(update_fields=["voided_at", "voided_by", "void_reason"])
    standing = [r.consequence for r in kept if r.voided_at is None]
    write_consequences(record, [c for c in wanted if c not in standing and (c.kind, c.code) not in settled])


def _follows_anew(
    by: Person, box_id: int, record_id: int, about: frozenset[tuple[str, str]], reason: str, judged: Assessment | None = None
) -> None:
    """What follows from a record, told anew by the finding as it is judged and the loss as it is measured now."""
    chain = measured(records_of_box(box_id))
    m = next(m for m in chain if m.record.pk == record_id)
    if m.record.revision is None:
        return
    seen = past_finding(m.record)
    if judged is None and seen is not None:
        judged = judged_finding(m.record.compartment, m.record.revision, seen, m.values["on"], m.values["meter_value"], box_id)
    newest = all(x.record.work == "top-up" for x in chain[next(k for k, x in enumerate(chain) if x is m) + 1 :])
    more: dict[str, object] = {"assessment": judged}
    if m.record.service_id is not None:  # what is asked and offered is of a service that was led
        before = [x for x in chain[: next(k for k, x in enumerate(chain) if x is m)] if x.record.work != "top-up"]
        more |= {
            "odd": odd_of(m, seen, bool(before), before[-1].values["oil"] if before else ""),
            "took_ml": offered_ml(m, m.record.revision),
        }
    found = consequences(seen_of(m, **more))
    _rewrite(by, m.record, [c for c in found if newest or c.kind == "due-cap"], about, reason)


def _loss_again(by: Person, record: OilRecord, reason: str) -> None:
    """An amount, a day or a meter value was put right: the losses of its record and of the one after are told anew, and what follows."""
    chain = measured(records_of_box(record.box_id))
    place = next((k for k, m in enumerate(chain) if m.record.pk == record.pk), None)
    for m in chain[place : place + 2] if place is not None else ():
        _follows_anew(by, record.box_id, m.record.pk, OF_AMOUNT, reason)
