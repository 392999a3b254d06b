"""Bottles that ride in a vehicle."""

from __future__ import annotations

from django.db import transaction

from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.fleet.models import Vehicle
from barodex.memory.versions import SHELF
from barodex.shelf.actions.stock import note_movement
from barodex.shelf.models import Container


@transaction.atomic
def carry(by: Person, container_id: int, vehicle_id: int | None) -> Container:
    """Put a container into a vehicle as its top-up bottle, or back on the shelf."""
    require(by, "technician")
    container = Container.objects.get(pk=container_id)
    vehicle = Vehicle.objects.filter(pk=vehicle_id).first() if vehicle_id is not None else None
    if vehicle_id is not None and vehicle is None:
        raise Inconsistent(say("There is no such vehicle."), field="vehicle_id", value=vehicle_id)
    if vehicle is not None and container.kind == "drum":
        raise Inconsistent(say("A drum does not travel as a top-up bottle."), field="vehicle_id", value=container.label)
    container.vehicle = vehicle
    container.kind = "top-up bottle" if vehicle else "bottle" if container.kind == "top-up bottle" else container.kind
    container.save(update_fields=["vehicle", "kind"])
    note_movement(by, container, 0.0, say("carried in {vehicle}", vehicle=vehicle.name) if vehicle else say("back on the shelf"))
    audit(by, "container moved", container, (SHELF,), vehicle=vehicle_id)
    return container
