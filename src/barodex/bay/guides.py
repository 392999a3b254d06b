"""The guide of a service and the acts done by it: the guide is kept when the service starts and read from then on, never built anew."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from typing import Any

from barodex.accounts.models import Person
from barodex.book.models import OilRecord
from barodex.book.queries import past_finding
from barodex.core import guide, run
from barodex.core.guide.stored import guide_to_keep, kept_guide
from barodex.core.ledger.bands import LEAST_SHARE
from barodex.core.oil.lubricant import Dose
from barodex.core.quantity.expansion import DEFAULT_DENSITY15
from barodex.core.run.adopted import adopted_variants
from barodex.memory.kept import keep
from barodex.shelf.queries import core_sheet

from .models import Service, ServiceGuide, ServiceJob


def _core_job(job: ServiceJob) -> guide.Job:
    """The core's view of a job, as it is when the service starts."""
    past, plan = job.known, job.wanted
    slip = job.compartment.limited_slip
    previous = past_finding(OilRecord(finding=past.previous)) if past.previous else None
    return guide.Job(
        key=str(job.compartment_id),
        name=job.compartment.name,
        sheet=core_sheet(job.revision, job.variant, slip),
        oil=job.lubricant.name,
        density15=past.density15 or job.lubricant.density15 or DEFAULT_DENSITY15,
        density15_in=job.lubricant.density15 or DEFAULT_DENSITY15,
        last_net_in=past.last_in,
        distance_km=past.distance_km,
        first_change=past.first_change,
        previous=previous,
        previous_level=past.previous_level,
        older_levels=past.older_levels,
        last_filled_on=past.last_filled_on,
        doses=tuple(Dose(**d) for d in job.doses),
        rinse=past.rinse,
        last_time=past.noted,
        work=job.work,
        cycles=plan.cycles,
        target_fresh=plan.target_fresh,
        school=plan.school,
        attached=plan.attached,
        wrong_oil=plan.wrong_oil,
        topups=past.topups,
        first_drain=past.first_drain,
        depth_mm=past.depth_mm,
        share=past.share,
        least_share=past.least_share or LEAST_SHARE,
        ambient_c=job.service.ambient_c,
        fetch=plan.fetch,
        no_warm=plan.no_warm,
        open_sheet=core_sheet(job.revision, "", slip) if plan.variant_open else None,
    )


def load(service_id: int) -> Service:
    """A service with its vehicle; raises Service.DoesNotExist."""
    return Service.objects.select_related("vehicle", "started_by").get(pk=service_id)


@keep("jobs", 256)
def _jobs(service_id: int, started_at: dt.datetime) -> tuple[ServiceJob, ...]:
    """Jobs of a service. They do not change once it has started (revisions are never edited): kept in memory."""
    return tuple(
        load(service_id)
        .jobs.select_related("service", "compartment__sheet", "lubricant", "revision__sheet")
        .prefetch_related("revision__plugs", "revision__sources")
    )


def keep_guide(service: Service, fit: Callable[[dict[str, Any]], dict[str, Any]] = lambda kept: kept) -> None:
    """Build the guide of a service that starts, and keep it, fitted to what was done already. Raises what refuses a visit that has no
    guide."""
    conditions = guide.Conditions(service.vehicle.name, service.vehicle.kind, service.ambient_c)
    jobs = tuple(_core_job(j) for j in jobs_of(service))
    ServiceGuide.objects.create(service=service, guide=fit(guide_to_keep(jobs, conditions)))


@keep("guide", 256)
def _guide(service_id: int, started_at: dt.datetime, adopted: tuple[tuple[str, str], ...]) -> guide.Procedure:
    """The guide of a service, with the variants that were taken over on the way: kept in memory for each of them."""
    return kept_guide(ServiceGuide.objects.get(service_id=service_id).guide, adopted)


def jobs_of(service: Service) -> tuple[ServiceJob, ...]:
    """The jobs of a service, as they were when it started."""
    return _jobs(service.pk, service.started_at)


def procedure_of(service: Service, acts: list[run.Act] | None = None) -> guide.Procedure:
    """The guide of a service after some acts, all of them when none are given."""
    if not any(j.wanted.variant_open for j in jobs_of(service)):
        return _guide(service.pk, service.started_at, ())
    begun = _guide(service.pk, service.started_at, ())
    return _guide(service.pk, service.started_at, adopted_variants(begun, acts_of(service) if acts is None else acts))


@keep("acts", 256)
def _kept(service_id: int, started_at: dt.datetime) -> list[tuple[run.Act, ...]]:
    """A place for the acts of a service that were read already: they are only ever added to."""
    return [()]


def acts_of(service: Service) -> list[run.Act]:
    """The acts of a service in order, as the core sees them; what was read before is kept in memory, only newer ones are read."""
    place = _kept(service.pk, service.started_at)
    known = place[0]
    rows = list(
        service.acts.filter(seq__gt=known[-1].seq if known else 0)
        .order_by("seq")
        .values_list("act_id", "seq", "kind", "step", "values", "at", "by_id")
    )
    if rows:
        names = {p.pk: p.shown_name for p in Person.objects.filter(pk__in={r[-1] for r in rows})}
        fresh = (run.Act(str(pk), seq, kind, step, values, at, names[by]) for pk, seq, kind, step, values, at, by in rows)
        place[0] = known = (*known, *fresh)
    return list(known)
