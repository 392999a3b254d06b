"""A record that was written in the wrong place, moved to the right one: void there with its reason, written here with all that it says."""

from __future__ import annotations

import datetime as dt
from typing import Any

from django.db import transaction

from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.words import say
from barodex.fleet.actions import add_reading, mark_void
from barodex.fleet.models import Compartment, Reading
from barodex.fleet.use import box_on
from barodex.shelf.queries import current_revision

from .actions import Entry, judged_finding, void_record, write_record
from .amounts import Measured, measured, records_of_box
from .closed import from_rows
from .models import OilRecord, ServicePhoto
from .queries import past_finding


@transaction.atomic
def move_record(by: Person, record_id: int, compartment_id: int, meter_value: float | None, reason: str) -> OilRecord:
    """Move a record to the compartment that it is of. Nothing of it is lost: corrections are in it, amounts keep their containers.

    Its finding is judged by the past of where it comes, and what follows from it is told anew. ``meter_value``: of the other vehicle on
    that day (km or h as it counts); None: as it stands, where both are of one vehicle or count alike.
    """
    require(by, "lead")
    record = OilRecord.objects.select_related("compartment__vehicle").get(pk=record_id)
    target = Compartment.objects.select_related("vehicle", "sheet").prefetch_related("sheet__revisions").get(pk=compartment_id)
    if target.pk == record.compartment_id:
        raise Inconsistent(say("It is there already."), field="compartment_id", value=compartment_id)
    if target.in_service_id is not None:
        raise GateClosed(
            say("{target} is on the bench: sign its service first.", target=target.name), field="compartment_id", value=compartment_id
        )
    here = next(m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk)
    if target.sheet.kind != record.compartment.sheet.kind and here.record.torques:
        _refuse_other_plugs(here, target)
    on: dt.date = here.values["on"]
    meter = _meter(by, here, record, target, meter_value, reason)
    void_record(
        by, record.pk, say("moved to {vehicle}, {target}: {reason}", vehicle=target.vehicle.name, target=target.name, reason=reason)
    )
    service = record.service_id
    if service is not None and OilRecord.everything.filter(service=service, compartment=target).exists():
        service = None  # it has one of that service already: they were mixed up
    revision, box = current_revision(target.sheet.revisions.all(), on), box_on(target, on)
    seen = past_finding(here.record)
    judged = judged_finding(target, revision, seen, on, meter, box) if seen is not None else None
    entry = Entry(
        on=on,
        meter_value=meter,
        oil=here.values["oil"],
        lubricant=here.record.lubricant,
        revision=revision,
        amounts=here.entries,
        finding=seen,
        assessment=judged if judged is not None and judged.level is not None else None,
        gaps=(
            *record.gaps,
            say(
                "moved from {vehicle}, {compartment}: {reason}",
                vehicle=record.compartment.vehicle.name,
                compartment=record.compartment.name,
                reason=reason.strip(),
            ),
        ),
        torques=from_rows(here.record.torques),
        note=here.values["note"],
        factory_fill=record.factory_fill,
        work=record.work,
        details=record.details,
        ambient_c=record.ambient_c,
        box_id=box,
    )
    made = write_record(by, target, entry, service)
    if service is not None:
        ServicePhoto.objects.filter(service=service, compartment=record.compartment_id).update(compartment=target)
        record.service.photo_version += 1
        record.service.save(update_fields=["photo_version"])
    vehicles = {record.compartment.vehicle_id, target.vehicle_id}
    audit(by, "record moved", made, vehicles, was=record.pk, origin=record.compartment_id, reason=reason)
    return made


WITH_A_RECORD = ("service", "paper")  # a reading that was written with a record; a typed one was read off that vehicle


def _refuse_other_plugs(here: Measured, target: Compartment) -> None:
    raise Inconsistent(
        say(
            "Its plugs were closed as those of a {kind}; {target} is a {kind_2}: declare it void and enter it there.",
            kind=here.record.compartment.sheet.kind,
            target=target.name,
            kind_2=target.sheet.kind,
        ),
        field="compartment_id",
        value=target.pk,
    )


def _meter(by: Person, here: Measured, record: OilRecord, target: Compartment, typed: float | None, reason: str) -> float | None:
    """The meter value at the right vehicle; the reading that was written with the record goes with it."""
    said: Any = here.values["meter_value"]
    if target.vehicle_id == record.compartment.vehicle_id:
        if typed is not None and typed != said:
            raise Inconsistent(
                say("It is the same vehicle: correct the meter value of the record itself."), field="meter_value", value=typed
            )
        return said
    wrong = Reading.objects.filter(
        vehicle=record.compartment.vehicle_id, on=here.values["on"], value=said, source__in=WITH_A_RECORD
    ).first()
    others = OilRecord.objects.filter(compartment__vehicle=record.compartment.vehicle_id, on=here.values["on"], meter_value=said).exclude(
        pk=record.pk
    )
    if wrong is not None and not others.exists():
        mark_void(wrong, by, say("of {vehicle}: {reason}", vehicle=target.vehicle.name, reason=reason))
    meter = typed if typed is not None else said if target.vehicle.meter == record.compartment.vehicle.meter else None
    if meter is not None:
        add_reading(by, target.vehicle_id, here.values["on"], meter, source="paper")
    return meter
