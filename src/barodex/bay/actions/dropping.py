"""A service that is given up before anything was drained."""

from __future__ import annotations

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.bay import guides
from barodex.bay.models import Service
from barodex.core import run
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.run.state import drained
from barodex.core.words import say
from barodex.fleet.models import Compartment


@transaction.atomic
def drop_service(by: Person, service_id: int, reason: str) -> Service:
    """Give a service up before anything was drained; afterwards it has to be finished."""
    require(by, "technician")
    service = guides.load(service_id)
    if service.state != "open":
        raise GateClosed(say("This service is closed already."), field="reason", value=service.state)
    if len(reason.strip()) < 4:
        raise Inconsistent(say("Say why it is given up."), field="reason", value=reason)
    state = run.fold(procedure := guides.procedure_of(service), guides.acts_of(service))
    if opened := drained(procedure, state):
        raise GateClosed(
            say("Oil has been drained: a compartment without oil must not be forgotten. Fill it and sign, with the gaps explained."),
            field="reason",
            value=opened[0],
        )
    service.jobs.update(open=False)
    Compartment.objects.filter(in_service=service).update(in_service=None)
    service.state, service.ended_at = "dropped", clock.now()
    service.save(update_fields=["state", "ended_at"])
    audit(by, "service dropped", service, (service.vehicle_id,), reason=reason)
    return service
