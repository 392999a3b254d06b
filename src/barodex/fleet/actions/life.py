"""A vehicle's life: what it is called, when it is laid up, sold or back; its compartments renamed, on another sheet, taken out."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass, replace
from typing import Any

from django.db import transaction
from django.db.models import ProtectedError

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.since import check_since, last_hand
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange
from barodex.core.words import say
from barodex.fleet.actions.vehicles import refuse_taken
from barodex.fleet.models import LAYOUTS, LEFT_BY, MERGED, SLOTS, VEHICLE_KINDS, Box, Compartment, Fitting, Reading, Vehicle
from barodex.shelf.models import SpecSheet


@dataclass(frozen=True)
class Called:
    """What a vehicle is called and what it is; where it stands and who drives it, where the workshop wants to know."""

    name: str
    plate: str
    kind: str
    layout: str
    note: str
    depot: str = ""
    driver: str = ""


def called(v: Vehicle) -> Called:
    """What a vehicle is called as it stands."""
    return Called(v.name, v.plate, v.kind, v.layout, v.note, v.depot, v.driver)


def _nobody_works_on(v: Vehicle) -> None:
    busy = v.compartments.exclude(in_service=None).first()
    if busy is not None:
        raise GateClosed(
            say("{busy} is on the bench: sign its service or give it up first.", busy=busy.name), field="vehicle", value=v.name
        )


def _not_merged(v: Vehicle) -> None:
    if v.retired_how == MERGED:
        raise Inconsistent(
            say("{v} was made one with another ({retired_note}): take them apart there.", v=v.name, retired_note=v.retired_note),
            field="vehicle",
            value=v.name,
        )


@transaction.atomic
def edit_vehicle(by: Person, vehicle_id: int, new: Called, based_on: int | None = None) -> Vehicle:
    """Change name, plate, kind, layout, note, depot or driver of a vehicle."""
    require(by, "lead")
    v = Vehicle.objects.select_for_update().get(pk=vehicle_id)
    words = {name: " ".join(getattr(new, name).split()) for name in ("name", "depot", "driver")}
    kept = replace(new, **words, plate=new.plate.strip(), note=new.note.strip())
    if not kept.name:
        raise Inconsistent(say("Say what people call it."), field="name", value=new.name)
    for name, value, allowed in (("kind", kept.kind, VEHICLE_KINDS), ("layout", kept.layout, LAYOUTS)):
        if value not in allowed:
            raise Inconsistent(
                say("“{value}” is not one of: {allowed}.", value=value, allowed=", ".join(allowed)),
                field=name,
                value=value,
                allowed=", ".join(allowed),
            )
    refuse_taken(kept.name, kept.plate, v.pk)
    before = asdict(called(v))
    check_since(based_on, before, asdict(kept), v.name, last_hand(v))
    changed = {k: value for k, value in asdict(kept).items() if value != before[k]}
    for k, value in changed.items():
        setattr(v, k, value)
    v.save()
    audit(by, "vehicle changed", v, (v.pk,), was={k: before[k] for k in changed}, now=changed)
    return v


@transaction.atomic
def retire(by: Person, vehicle_id: int, on: dt.date, how: str, note: str = "") -> Vehicle:
    """Lay a vehicle up, sell or scrap it: it leaves Due, its past stays in the Book."""
    require(by, "lead")
    v = Vehicle.objects.select_for_update().get(pk=vehicle_id)
    if how not in LEFT_BY:
        raise Inconsistent(
            say("A vehicle is one of: {left_by}.", left_by=", ".join(LEFT_BY)), field="how", value=how, allowed=", ".join(LEFT_BY)
        )
    if on > clock.today():
        raise OutOfRange(
            say("{on} lies in the future.", on=f"{on:%d %b %Y}"),
            field="on",
            value=str(on),
            allowed=say("up to {today}", today=f"{clock.today():%d %b %Y}"),
        )
    _nobody_works_on(v)
    _not_merged(v)
    v.retired_on, v.retired_how, v.retired_note = on, how, note.strip()[:200]
    v.save(update_fields=["retired_on", "retired_how", "retired_note"])
    audit(by, "vehicle retired", v, (v.pk,), on=str(on), how=how, note=note)
    return v


@transaction.atomic
def bring_back(by: Person, vehicle_id: int) -> Vehicle:
    """A vehicle that was laid up or sold is back: its dues count again, by the readings that it has."""
    require(by, "lead")
    v = Vehicle.objects.select_for_update().get(pk=vehicle_id)
    if v.retired_on is None:
        raise Inconsistent(say("{v} was never away.", v=v.name), field="vehicle", value=v.name)
    _not_merged(v)
    v.retired_on, v.retired_how, v.retired_note = None, "", ""
    v.save(update_fields=["retired_on", "retired_how", "retired_note"])
    audit(by, "vehicle is back", v, (v.pk,))
    return v


def _delete_boxes(places: list[Compartment]) -> None:
    boxes = [c.box_id for c in places]
    Fitting.objects.filter(compartment__in=places).delete()
    for c in places:
        c.delete()
    Box.objects.filter(pk__in=boxes).delete()


@transaction.atomic
def delete_vehicle(by: Person, vehicle_id: int) -> None:
    """Delete a vehicle that was entered by mistake: only where nothing was ever done to it; its readings go with it."""
    require(by, "lead")
    v = Vehicle.objects.select_for_update().get(pk=vehicle_id)
    audit(by, "vehicle deleted", v, (v.pk,), name=v.name, plate=v.plate)
    try:
        with transaction.atomic():
            _delete_boxes(list(v.compartments.all()))
            Reading.everything.filter(vehicle=v).delete()
            v.delete()
    except ProtectedError as error:
        raise Inconsistent(
            say("{v} has a past in the book: lay it up instead, then it leaves Due and its past stays.", v=v.name),
            field="vehicle",
            value=v.name,
        ) from error


@transaction.atomic
def edit_compartment(by: Person, compartment_id: int, changes: dict[str, Any]) -> Compartment:
    """Rename a compartment, put it elsewhere in the driveline, or on another sheet of its kind."""
    require(by, "lead")
    c = Compartment.objects.select_for_update().select_related("vehicle", "sheet").get(pk=compartment_id)
    before = {"name": c.name, "slot": c.slot, "sheet_id": c.sheet_id}
    name = " ".join(str(changes.get("name", c.name)).split())
    if not name:
        raise Inconsistent(say("Say what it is called."), field="name", value=name)
    if c.vehicle.compartments.exclude(pk=c.pk).filter(name__iexact=name).exists():
        raise Inconsistent(say("{vehicle} has a “{name}” already.", vehicle=c.vehicle.name, name=name), field="name", value=name)
    if changes.get("slot", c.slot) not in SLOTS:
        raise Inconsistent(say("That is not a place in a driveline."), field="slot", value=changes["slot"], allowed=", ".join(SLOTS))
    sheet = SpecSheet.objects.filter(pk=changes.get("sheet_id", c.sheet_id)).first()
    if sheet is None:
        raise Inconsistent(say("There is no such sheet."), field="sheet_id", value=changes.get("sheet_id"))
    if sheet.pk != c.sheet_id:
        if c.in_service_id is not None:
            raise GateClosed(
                say("{c} is on the bench: its sheet stays until its service is signed.", c=c.name), field="sheet_id", value=sheet.pk
            )
        if sheet.kind != c.sheet.kind and c.records.exists():
            raise Inconsistent(
                say(
                    "{c} has a past as {kind}; “{sheet}” is of a {kind_2}: fit another box, or add a compartment.",
                    c=c.name,
                    kind=c.sheet.kind,
                    sheet=sheet.name,
                    kind_2=sheet.kind,
                ),
                field="sheet_id",
                value=sheet.pk,
            )
        c.variant = ""  # a variant is one of its sheet
    c.name, c.slot, c.sheet = name, changes.get("slot", c.slot), sheet
    c.save(update_fields=["name", "slot", "sheet", "variant"])
    audit(by, "compartment changed", c, (c.vehicle_id,), was=before, now={"name": c.name, "slot": c.slot, "sheet_id": c.sheet_id})
    return c


@transaction.atomic
def remove_compartment(by: Person, compartment_id: int, why: str) -> None:
    """Take a compartment out: one without a past is deleted, one with a past leaves Due and stays in the Book."""
    require(by, "lead")
    c = Compartment.objects.select_for_update().select_related("vehicle").get(pk=compartment_id)
    if c.in_service_id is not None:
        raise GateClosed(say("{c} is on the bench: sign its service or give it up first.", c=c.name), field="compartment", value=c.pk)
    audit(by, "compartment taken out", c, (c.vehicle_id,), name=c.name, why=why)
    try:
        with transaction.atomic():
            _delete_boxes([c])
    except ProtectedError:
        if len(why.strip()) < 4:
            raise Inconsistent(say("It has a past in the book: say why it is taken out."), field="why", value=why) from None
        c.removed_on, c.removed_why = clock.today(), why.strip()[:200]
        c.save(update_fields=["removed_on", "removed_why"])
