"""Boxes: another one fitted at a place, the old one kept in the store or fitted elsewhere; each takes its past along."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange
from barodex.core.words import say
from barodex.fleet.actions.readings import add_reading
from barodex.fleet.models import Box, Compartment, Fitting


@dataclass(frozen=True)
class OtherBox:
    """A box to be fitted: one from the store by its id, or one that the book does not know yet, with what is known of it."""

    box_id: int | None = None
    number: str = ""
    note: str = ""


@transaction.atomic
def fit_box(by: Person, compartment_id: int, on: dt.date, meter_value: float | None, other: OtherBox, why: str) -> Box:
    """Fit another box at a place. What was found out of the one that comes off goes to the store with it; its records are its own."""
    require(by, "lead")
    place = Compartment.objects.select_related("vehicle", "box").get(pk=compartment_id)
    if on > clock.today():
        raise OutOfRange(
            say("{on} lies in the future.", on=f"{on:%d %b %Y}"),
            field="on",
            value=str(on),
            allowed=say("up to {today}", today=f"{clock.today():%d %b %Y}"),
        )
    if place.in_service_id is not None:
        raise GateClosed(
            say("{place} is on the bench: sign its service or give it up first.", place=place.name), field="compartment", value=place.pk
        )
    if len(why.strip()) < 4:
        raise Inconsistent(say("Say why another one was fitted."), field="why", value=why)
    since = Fitting.objects.filter(compartment=place, off=None).first()
    if since is not None and since.on is not None and on < since.on:
        raise Inconsistent(
            say("The one that is there was fitted on {since_on}.", since_on=f"{since.on:%d %b %Y}"), field="on", value=str(on)
        )
    if meter_value is not None:
        add_reading(by, place.vehicle_id, on, meter_value, source="typed")
    made = _box_of(other)
    old = place.box
    old.variant, old.limited_slip = place.variant, place.limited_slip
    old.save(update_fields=["variant", "limited_slip"])
    if since is None:
        since = Fitting(box=old, compartment=place, by=by, at=clock.now())
    since.off, since.off_meter = on, meter_value
    since.save()
    Fitting.objects.create(box=made, compartment=place, on=on, meter_value=meter_value, why=why.strip()[:200], by=by, at=clock.now())
    place.box, place.variant, place.limited_slip = made, made.variant, made.limited_slip
    place.save(update_fields=["box", "variant", "limited_slip"])
    audit(by, "box fitted", place, (place.vehicle_id,), old=old.pk, new=made.pk, why=why)
    return made


def _box_of(other: OtherBox) -> Box:
    if other.box_id is None:
        return Box.objects.create(number=other.number.strip()[:40], note=other.note.strip()[:300])
    box = Box.objects.filter(pk=other.box_id).first()
    if box is None:
        raise Inconsistent(say("There is no such box in the store."), field="box_id", value=other.box_id)
    fitted = Compartment.objects.filter(box=box).select_related("vehicle").first()
    if fitted is not None:
        raise Inconsistent(
            say("It is fitted: {vehicle}, {fitted}. Take it out there first.", vehicle=fitted.vehicle.name, fitted=fitted.name),
            field="box_id",
            value=other.box_id,
        )
    return box
