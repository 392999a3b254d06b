"""Is there oil enough on the shelf for a visit, beside what other open services have still to pour?"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from barodex.choose.judging import COMPARTMENTS, Answers, core_doses, need_for, revision_of, variant_of
from barodex.core import run
from barodex.shelf.models import Lubricant
from barodex.shelf.queries.stock import held_ml

from .guides import acts_of, load, procedure_of
from .models import ServiceJob
from .pouring import reserved_ml


@dataclass(frozen=True)
class OilShort:
    """An oil of which the shelf holds less than a visit needs, mL."""

    lubricant: int
    name: str
    need_ml: float
    on_hand_ml: float


@dataclass(frozen=True)
class OilWanted:
    """A compartment of a visit that is planned: its oil, and what decides the need."""

    compartment_id: int
    lubricant_id: int
    answers: Answers


def _answers_of(job: ServiceJob) -> Answers:
    plan = job.wanted
    return Answers(job.variant, work=job.work, cycles=plan.cycles, school=plan.school, target_fresh=plan.target_fresh)


def still_wanted_ml(leave_out: int | None = None) -> dict[int, float]:
    """What open services but one have still to pour of each oil, by the need at their start less what is in already."""
    wanted: dict[int, float] = defaultdict(float)
    jobs = ServiceJob.objects.filter(open=True).select_related("compartment", "revision__sheet").prefetch_related("revision__plugs")
    for job in jobs.exclude(service_id=leave_out):
        service = load(job.service_id)
        ledger = run.fold(procedure_of(service), acts_of(service)).ledgers[str(job.compartment_id)]
        need = need_for(job.revision, job.variant, (), _answers_of(job))
        poured = sum(float(p.values["volume_ml"]) for p in ledger.all_pours)
        wanted[job.lubricant_id] += max(0.0, (need.total_ml if need else 0.0) - poured)
    return wanted


def shortages(planned: Iterable[OilWanted], service: int | None = None) -> tuple[OilShort, ...]:
    """The oils of which there is too little for a visit that is planned, or that has just begun as ``service``; an amount that nobody
    knows is not counted."""
    wants = {w.compartment_id: w for w in planned}
    need: dict[int, float] = defaultdict(float)
    for c in COMPARTMENTS.filter(pk__in=wants):
        want, revision = wants[c.pk], revision_of(c)
        found = need_for(revision, variant_of(c, revision, want.answers), core_doses(want.answers.doses), want.answers)
        if found is not None:
            need[want.lubricant_id] += found.total_ml
    if not need:
        return ()
    poured, others = reserved_ml(), still_wanted_ml(service)
    short = []
    for oil in Lubricant.objects.filter(pk__in=need).prefetch_related("containers"):
        held = held_ml(oil, poured)
        free = max(0.0, held - others.get(oil.pk, 0.0))
        if free + 0.5 < need[oil.pk]:
            short.append(OilShort(oil.pk, oil.name, need[oil.pk], free))
    return tuple(short)
