"""An act on a service: tested outside the write lock, stored inside it; a signature writes all that it means."""

from __future__ import annotations

from collections.abc import Callable

from django.db import IntegrityError, OperationalError, transaction

from barodex import clock
from barodex.accounts.actions import require
from barodex.accounts.models import Person
from barodex.bay import guides, queries, views
from barodex.bay.actions.bottles import check_container, rinse_ml, rinses
from barodex.bay.actions.reading_acts import NewAct, read_values, when_done
from barodex.bay.actions.signing import close_service
from barodex.bay.keeping import keep_page
from barodex.bay.models import Service, ServiceAct
from barodex.core import guide, run
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.run.adopted import adopted_variants
from barodex.core.run.vehicle import forbidden
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.memory.versions import hold

MOST_TRIES = 30  # of storing an act while others store theirs


# What hangs on the bench may have a say in an act: (service, guide, kind, step) raises what refuses it, and says whether it has
# reported something of its own. Filled by the apps above.
ACT_CHECKS: list[Callable[[Service, guide.Procedure, str, str], bool]] = []


class _OutOfDate(Exception):
    """Another act was stored between reading the service and storing this one."""


def post_act(by: Person, service_id: int, new: NewAct) -> views.ServiceView:
    """Accept an act, or refuse it with the gate's reason. The same act id twice is one act. Signing closes the service.

    Reading and folding take far longer than storing, so they are done before the write lock is taken; when another act
    came between, it is read and folded again.
    """
    require(by, "technician")
    for _ in range(MOST_TRIES):
        service = guides.load(service_id)
        acts = guides.acts_of(service)
        procedure = guides.procedure_of(service, acts)
        if any(e.id == str(new.act_id) for e in acts):
            return queries.service_view(service, procedure, run.fold(procedure, acts), acts)
        if service.state == "dropped":
            raise GateClosed(say("This service was dropped."), field="step", value=new.step)
        values = read_values(procedure, new.step, new.values, by.unit_system)
        if rinses(procedure, new.step) and new.kind == "done":
            values["volume_ml"] = rinse_ml(procedure, new.step)
        if new.kind == "add" or (rinses(procedure, new.step) and new.kind == "done"):
            check_container(service, procedure, new.step, values)
        reported = [check(service, procedure, new.kind, new.step) for check in ACT_CHECKS]  # every one is asked
        if any(reported):
            acts = guides.acts_of(service)
        at = when_done(new, service.started_at, clock.now())
        act = run.Act(str(new.act_id), (acts[-1].seq if acts else 0) + 1, new.kind, new.step, values, at, by.shown_name)
        state = run.accept(procedure, acts, act)
        procedure, state = _with_variant(service, procedure, state, [*acts, act])
        try:
            _store(by, service, procedure, state, act, [*acts, act])
        except (_OutOfDate, IntegrityError):
            if ServiceAct.objects.filter(act_id=new.act_id).exclude(service=service).exists():
                raise Inconsistent(say("This act belongs to another service."), field="act_id", value=str(new.act_id)) from None
            continue
        return queries.service_view(service, procedure, state, [*acts, act])
    raise OperationalError(say("Too many acts at once on this service."))


def _with_variant(service: Service, procedure: guide.Procedure, state: run.State, acts: list[run.Act]) -> tuple[guide.Procedure, run.State]:
    """The guide and the state as they are once a variant was taken over or back; refused where what was done no longer fits."""
    anew = guides.procedure_of(service, acts)
    if anew is procedure:
        return procedure, state
    folded = run.fold(anew, acts)
    before = {c.act.id for c in state.conflicts}
    misfit = next((c for c in folded.conflicts if c.act.id not in before), None)
    if misfit is not None:
        done = anew.by_id[misfit.act.step].title if misfit.act.step in anew.by_id else misfit.act.step
        raise GateClosed(
            say("“{done}” was done for another variant and does not fit this one: {error} Undo it first.", done=done, error=misfit.error),
            field="variant",
        )
    return anew, folded


def _keep_variants(service: Service, procedure: guide.Procedure, acts: list[run.Act]) -> None:
    """What a compartment was found to be is remembered with it at once; taken back, it is open again."""
    adopted = dict(adopted_variants(procedure, acts))
    for job in guides.jobs_of(service):
        if job.wanted.variant_open:
            Compartment.objects.filter(pk=job.compartment_id).update(variant=adopted.get(str(job.compartment_id), ""))


def _check_vehicle(by: Person, service: Service, procedure: guide.Procedure, act: run.Act, before: list[run.Act]) -> None:
    """Refuse what moves, runs or opens the vehicle against a stop, another open compartment or a running engine; inside the transaction."""
    step = procedure.by_id.get(act.step)
    if step is None or act.kind not in ("done", "timer_start") or not (step.moves_vehicle or step.runs_engine or step.opens_oil):
        return
    if any(e.step == step.id and e.kind == "done" for e in before):
        return  # said again
    hold(service.vehicle_id)  # what another does to this vehicle at this moment is done before or after, never beside
    state = queries.state_of_vehicle(service.vehicle_id)
    refused = forbidden(state, step, service.pk, str(act.values.get("reason") or ""), by.may("lead"))
    if refused is not None:
        raise refused


@transaction.atomic
def _store(by: Person, service: Service, procedure: guide.Procedure, state: run.State, act: run.Act, acts: list[run.Act]) -> None:
    """Store an act if the service is still what it was when the act was tested; a signature writes all that it means."""
    if (
        not Service.objects.filter(pk=service.pk, state=service.state).exists()
        or ServiceAct.objects.filter(service=service, seq__gte=act.seq).exists()
    ):
        raise _OutOfDate
    _check_vehicle(by, service, procedure, act, acts[:-1])
    ServiceAct.objects.create(
        service=service, act_id=act.id, seq=act.seq, kind=act.kind, step=act.step, values=dict(act.values), at=act.at, by=by
    )
    if act.kind in ("done", "undo"):
        _keep_variants(service, procedure, acts)
    if state.signed:
        close_service(by, service, procedure, state)
        keep_page(service, *queries.folded_page(service, acts))
