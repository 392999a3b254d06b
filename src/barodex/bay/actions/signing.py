"""What a signature writes: record, findings, stock, reading, and the page as it was."""

from __future__ import annotations

from barodex import clock
from barodex.accounts.actions import audit
from barodex.accounts.models import Person
from barodex.bay import closing, guides
from barodex.bay.models import Service
from barodex.bay.seen import seen_of
from barodex.book.actions import Entry, write_record
from barodex.book.closed import ClosedWith
from barodex.core import guide, run
from barodex.core.quantity.working import ml
from barodex.core.words import say
from barodex.fleet.actions import add_reading
from barodex.fleet.models import Compartment
from barodex.memory.versions import SHELF
from barodex.shelf.actions import draw, use_item
from barodex.shelf.models import Container


def close_service(by: Person, service: Service, procedure: guide.Procedure, state: run.State) -> None:
    """Write everything that a signature means."""
    today = clock.today()
    notes = " · ".join(str(n.values.get("text", "")) for n in state.notes if n.values.get("text"))[:300]
    gaps: dict[str, list[str]] = {j.key: [] for j in procedure.jobs}
    for step_id, text in state.gaps:
        for key in [procedure.by_id[step_id].compartment] if procedure.by_id[step_id].compartment else list(gaps):
            gaps[key].append(text)
    if service.meter_value is not None:
        add_reading(by, service.vehicle_id, today, service.meter_value, source="service")
    for job in guides.jobs_of(service):
        key = str(job.compartment_id)
        ledger = state.ledgers[key]
        if job.wanted.warranty:
            gaps[key].append(say("Opened under warranty: {warranty}", warranty=job.wanted.warranty))
        if job.oil_override:
            gaps[key].append(say("Oil against the rules: {oil_override}", oil_override=job.oil_override))
        gaps[key] += [
            say("Additive: {volume} {name} ({kind})", volume=ml(d["volume_ml"]), name=d["name"], kind=d["kind"]) for d in job.doses
        ]
        amounts = run.entries_of(procedure.job(key), ledger)
        for container, wanted in run.balance_of(procedure.job(key), ledger).drawn_ml.items():
            if draw(by, container, wanted, f"service {service.pk}, {job.compartment.name}") < wanted - 0.5:
                gaps[key].append(say("A container held less than was poured: its count was off."))
            audit(by, "oil drawn", Container.objects.get(pk=container), (SHELF,), service=service.pk)
        torques = tuple(
            _closed_with(state, s) for s in procedure.steps if s.compartment == key and s.kind == "torque" and state.steps[s.id].act
        )
        write_record(
            by,
            job.compartment,
            Entry(
                on=today,
                meter_value=service.meter_value,
                oil=job.lubricant.name,
                lubricant=job.lubricant,
                revision=job.revision,
                amounts=amounts,
                finding=ledger.finding,
                assessment=ledger.assessment,
                gaps=tuple(gaps[key]),
                torques=torques,
                note=notes,
                work=procedure.job(key).kind_of_work,
                details=closing.details_of(service, procedure, state, key),
                seen=seen_of(service, job, procedure, state, today),
                ambient_c=service.ambient_c,
            ),
            service.pk,
        )
    for item in service.kit:
        use_item(
            by, item["name"], item["count"], say("service {service_pk}, {vehicle}", service_pk=service.pk, vehicle=service.vehicle.name)
        )
    service.jobs.update(open=False)
    Compartment.objects.filter(in_service=service).update(in_service=None)
    service.state, service.ended_at = "signed", clock.now()
    service.save(update_fields=["state", "ended_at"])
    audit(by, "service signed", service, (service.vehicle_id,))


def _closed_with(state: run.State, step: guide.Step) -> ClosedWith:
    act = state.steps[step.id].act
    return ClosedWith(step.plug, act.values.get("torque_nm") if act else None)
