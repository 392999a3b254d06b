"""What must be known before a service starts: oils judged, the need, the kit against the store, questions that are still open."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from barodex import clock
from barodex.book.models import OilRecord
from barodex.choose.judging import COMPARTMENTS, Answers, compartment_oils, last_oil, need_of, revision_of, variant_of
from barodex.core.sheet.kit import KitLine, join_kits, readiness
from barodex.core.sheet.sheet import CasingMark, Variant
from barodex.core.sheet.work import TARGET_FRESH, WORK_WORDS, usual_work, works_for
from barodex.fleet.models import Vehicle
from barodex.plan.life import warranty_holds
from barodex.shelf.models import SheetRevision
from barodex.shelf.queries import core_sheet, kit_for, marks_of, store_counts, variants_of
from barodex.shelf.queries.oils import OilOffer
from barodex.shelf.queries.stock import AdditiveView, additives

from .models import ServiceJob
from .pouring import reserved_ml
from .queries import state_of_vehicle


@dataclass(frozen=True)
class WorkChoice:
    """A kind of service that this compartment can have, the usual one first."""

    value: str
    label: str


@dataclass(frozen=True)
class StartJob:
    """A compartment as the start page shows it: sheet, variants, need, oils judged, questions open."""

    compartment: int
    name: str
    kind: str
    sheet: str
    sheet_id: int
    revision: int
    capacity_ml: float | None
    need_ml: float | None
    doubtful: tuple[str, ...]
    last_oil: str
    in_service: bool
    asks: str
    ask_limited_slip: bool
    variant: str
    variants: tuple[Variant, ...]
    casing_marks: tuple[CasingMark, ...]
    offers: tuple[OilOffer, ...]
    works: tuple[WorkChoice, ...]
    total_ml: float | None
    cycles: int
    target_fresh: float
    last_oils: tuple[str, ...]
    warranty: str


@dataclass(frozen=True)
class StartView:
    """What must be known before a service starts; ``vehicle_says`` what stands against driving it, running it or opening more."""

    vehicle_id: int
    vehicle: str
    meter: str
    meter_now: float | None
    additives: tuple[AdditiveView, ...]
    jobs: tuple[StartJob, ...]
    vehicle_says: tuple[str, ...]


def start_view(vehicle_id: int) -> StartView:
    """The start page of a vehicle; raises Vehicle.DoesNotExist."""
    vehicle = Vehicle.objects.prefetch_related("compartments__sheet__revisions__plugs", "compartments__sheet__revisions__sources").get(
        pk=vehicle_id
    )
    busy = set(ServiceJob.objects.filter(open=True, compartment__vehicle=vehicle).values_list("compartment_id", flat=True))
    made = OilRecord.objects.filter(box__place__vehicle=vehicle)
    holds = warranty_holds(vehicle_id, clock.today())
    gauged = {r.box_id for r in made if r.details.get("depth_mm") is not None}
    jobs = []
    taken = reserved_ml()
    for c in vehicle.compartments.filter(removed_on=None):
        revision = revision_of(c)
        variant = variant_of(c, revision, Answers())
        oils = compartment_oils(c.pk, taken)
        need = need_of(revision, variant)
        sheet = core_sheet(revision, variant)
        jobs.append(
            StartJob(
                compartment=c.pk,
                name=c.name,
                kind=c.sheet.kind,
                sheet=c.sheet.name,
                sheet_id=c.sheet_id,
                revision=revision.number,
                capacity_ml=sheet.capacity_ml,
                need_ml=need.total_ml if need else None,
                doubtful=tuple(f"{s.figure}: {s.trust}" for s in revision.sources.all() if s.trust != "verified"),
                last_oil=last_oil(c)[0],
                in_service=c.pk in busy,
                asks=oils.asks,
                ask_limited_slip=oils.ask_limited_slip,
                variant=variant,
                variants=variants_of(revision),
                casing_marks=marks_of(revision),
                offers=oils.offers,
                works=tuple(WorkChoice(w, WORK_WORDS[w]) for w in works_for(sheet, c.box_id in gauged)),
                total_ml=sheet.total_ml,
                cycles=sheet.exchange_cycles,
                target_fresh=TARGET_FRESH,
                last_oils=tuple(
                    dict.fromkeys(r.oil for r in OilRecord.objects.filter(box=c.box_id).exclude(oil="").order_by("-on", "-id")[:4])
                ),
                warranty=holds.get(c.pk, ""),
            )
        )
    newest = vehicle.readings.last()
    says = state_of_vehicle(vehicle_id).sentences
    return StartView(vehicle.pk, vehicle.name, vehicle.meter, newest.value if newest else None, tuple(additives()), tuple(jobs), says)


def kit_lines(jobs: Iterable[tuple[str, SheetRevision, str, str]]) -> tuple[KitLine, ...]:
    """The kit of a visit, given as (compartment, revision, variant, kind of service), against the store."""
    return readiness(join_kits((name, kit_for(revision, variant, work)) for name, revision, variant, work in jobs), store_counts())


def visit_kit(chosen: dict[int, tuple[str, str]]) -> tuple[KitLine, ...]:
    """The kit of a visit that is being planned, given as compartment to variant (empty: as known, or open) and kind of service."""
    boxes = COMPARTMENTS.filter(pk__in=chosen)
    return kit_lines(
        (c.name, r := revision_of(c), variant_of(c, r, Answers(chosen[c.pk][0])), chosen[c.pk][1] or usual_work(core_sheet(r)))
        for c in boxes
    )
