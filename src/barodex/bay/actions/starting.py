"""The start of a service: what it is done on, with which oil, and what stands against it."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.bay import guides
from barodex.bay.facts import WorkPlan, to_json
from barodex.bay.guides import keep_guide
from barodex.bay.models import Service, ServiceJob
from barodex.bay.oil_on_hand import OilShort, OilWanted, shortages
from barodex.bay.past import past_of
from barodex.bay.start import kit_lines
from barodex.choose.judging import COMPARTMENTS, Answers, DoseChoice, asked_of, day_of, revision_of, variant_of
from barodex.core.kinds.kind import kind_of
from barodex.core.oil.judge import judge
from barodex.core.oil.lubricant import Judgement, OilConditions, Requirement, limited_slip_open
from barodex.core.oil.rules import HARMS_RUNNING, LOCKING
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, NeedsReason, in_range
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import Sheet
from barodex.core.sheet.work import EXCHANGE_SCHOOLS, TARGET_FRESH, check_work, kit_work
from barodex.core.words import say
from barodex.fleet.actions import check_new_reading
from barodex.fleet.models import Compartment, Vehicle
from barodex.plan.life import warranty_holds
from barodex.shelf.models import Lubricant
from barodex.shelf.queries import core_lubricant, core_sheet
from barodex.workshop.policy import oil_policy


@dataclass(frozen=True)
class WorkSpec:
    """The kind of service and what goes with it: drains of an exchange (0: as the sheet says), the fresh share wanted, its school,
    jobs that ride along, and the oil that went in by mistake."""

    kind: str = ""
    cycles: int = 0
    target_fresh: float = TARGET_FRESH
    school: str = EXCHANGE_SCHOOLS[0]
    attached: tuple[str, ...] = ()
    wrong_oil: str = ""


@dataclass(frozen=True)
class JobSpec:
    """A compartment to serve and the oil for it; an oil that the rules reject needs the reason.

    ``slip`` answers whether an axle has a clutch-type limited slip: yes, no, unknown; empty when it was not asked. ``warranty``
    is why a compartment is opened that its warranty would rather leave closed.
    """

    compartment_id: int
    lubricant_id: int
    override: str = ""
    variant: str = ""
    slip: str = ""
    doses: tuple[DoseChoice, ...] = ()
    work: WorkSpec = WorkSpec()
    warranty: str = ""


@dataclass(frozen=True)
class Weather:
    """Air temperature now, and the coldest and warmest expected until the next change; °C, None unknown."""

    now_c: float | None = None
    coldest_c: float | None = None
    warmest_c: float | None = None


@transaction.atomic
def start_service(
    by: Person,
    vehicle_id: int,
    jobs: tuple[JobSpec, ...],
    meter_value: float | None,
    weather: Weather = Weather(),
    at_hand: tuple[str, ...] = (),
    fetches: str = "",
) -> Service:
    """Open a service on one or several compartments of a vehicle.

    ``at_hand`` names what the store or the shelf counts as missing and is there all the same; without it a missing mandatory seal or
    tool, or too little oil, stops the start. ``fetches`` names who fetches the oil that is short: its drain waits until it is there.
    """
    require(by, "technician")
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    if vehicle.retired_on is not None:
        raise Inconsistent(
            say("{vehicle} is {retired_how}: bring it back first.", vehicle=vehicle.name, retired_how=vehicle.retired_how),
            field="vehicle_id",
            value=vehicle.pk,
        )
    if not jobs:
        raise Inconsistent(say("Choose at least one compartment."), field="jobs", value="")
    if meter_value is not None:
        check_new_reading(vehicle, clock.today(), meter_value)
    for name, value in (("ambient_c", weather.now_c), ("coldest_c", weather.coldest_c), ("warmest_c", weather.warmest_c)):
        if value is not None:
            in_range(name, value, -60, 60, "°C")
    service = Service.objects.create(
        vehicle=vehicle,
        started_at=clock.now(),
        started_by=by,
        meter_value=meter_value,
        ambient_c=weather.now_c,
        coldest_c=weather.coldest_c,
        warmest_c=weather.warmest_c,
    )
    made = [_add_job(service, spec, f"jobs.{k}.") for k, spec in enumerate(jobs)]
    Compartment.objects.filter(pk__in=[j.compartment_id for j in made]).update(in_service=service)
    _check_warranty(vehicle, jobs, made)
    _check_kit(service, made, at_hand)
    short = shortages((OilWanted(s.compartment_id, s.lubricant_id, _wanted(s)) for s in jobs), service.pk)
    _check_oil(made, short, at_hand, fetches)
    keep_guide(guides.load(service.pk))
    audit(by, "service started", service, (vehicle.pk,), vehicle=vehicle.name, at_hand=list(at_hand))
    return service


def _check_warranty(vehicle: Vehicle, specs: tuple[JobSpec, ...], made: list[ServiceJob]) -> None:
    """What a warranty would leave closed is opened with a reason only; a top-up opens nothing."""
    if vehicle.warranty_until is None:
        return
    holds = warranty_holds(vehicle.pk, clock.today())
    for k, (spec, job) in enumerate(zip(specs, made, strict=True)):
        text = holds.get(job.compartment_id, "")
        if not text or job.work == "top-up":
            continue
        if len(spec.warranty.strip()) < 4:
            raise NeedsReason(
                say("{compartment}: {text} Write why it is opened all the same.", compartment=job.compartment.name, text=text),
                field=f"jobs.{k}.warranty",
                value=job.compartment.name,
            )
        _plan_anew(job, warranty=spec.warranty.strip()[:200])


def _plan_anew(job: ServiceJob, **changes: str) -> None:
    """Keep what came to a job's plan while its service was started."""
    job.plan = to_json(replace(job.wanted, **changes))
    job.save(update_fields=["plan"])


def _wanted(spec: JobSpec) -> Answers:
    """What decides how much oil a job takes."""
    w = spec.work
    return Answers(spec.variant, doses=spec.doses, work=w.kind, cycles=w.cycles, school=w.school, target_fresh=w.target_fresh)


def _check_oil(made: list[ServiceJob], short: tuple[OilShort, ...], at_hand: tuple[str, ...], fetches: str) -> None:
    """Too little oil for the whole visit stops the start, or locks the drains until the one who fetches it is back."""
    there = {name.casefold() for name in at_hand}
    for oil in short:
        if oil.name.casefold() in there:
            continue
        words = say(
            "{oil}: {on_hand_ml:.0f} of {need_ml} are on the shelf and free",
            oil=oil.name,
            on_hand_ml=oil.on_hand_ml,
            need_ml=ml(oil.need_ml),
        )
        if len(fetches.strip()) < 2:
            raise GateClosed(
                say("{words}. Fetch it first, or name who does: the drain waits until it is there.", words=words),
                field="fetches",
                value=oil.name,
            )
        for job in (j for j in made if j.lubricant_id == oil.lubricant):
            _plan_anew(
                job,
                fetch=say(
                    "{fetches} fetches {ml} of {oil}", fetches=fetches.strip()[:60], ml=ml(oil.need_ml - oil.on_hand_ml), oil=oil.name
                ),
            )


def _check_kit(service: Service, jobs: list[ServiceJob], at_hand: tuple[str, ...]) -> None:
    """A missing mandatory seal or tool stops the start, not the middle; what will be used up is kept with the service."""
    lines = kit_lines([(j.compartment.name, j.revision, j.variant, kit_work(j.work, j.wanted.attached)) for j in jobs])
    there = {name.casefold() for name in at_hand}
    missing = [x.item for x in lines if x.state == "missing" and x.item.mandatory and x.item.name.casefold() not in there]
    if missing:
        words = ", ".join(f"{i.count} × {i.name} ({i.use})" if i.use else f"{i.count} × {i.name}" for i in missing)
        raise GateClosed(
            say("Not in the store: {words}. Fetch it first; a missing seal or tool stops the start, not the middle.", words=words),
            field="at_hand",
            value=", ".join(i.name for i in missing),
        )
    service.kit = [{"name": x.item.name, "count": x.item.count} for x in lines if x.item.kind != "tool" and x.item.mandatory]
    service.save(update_fields=["kit"])


def _refuse_oil(verdict: Judgement, lubricant: Lubricant, compartment: Compartment, override: str, at: str) -> None:
    """An oil that must not go in is refused: outright where it is locked, else until a reason is written."""
    if verdict.locked:
        reason = next(r for r in verdict.reasons if r.rule in LOCKING)
        raise GateClosed(
            say(
                "{lubricant} for {compartment}: {reason_text} Enter it on the shelf, then start.",
                lubricant=lubricant.name,
                compartment=compartment.name,
                reason_text=reason.text,
            ),
            field=f"{at}lubricant_id",
            value=lubricant.name,
        )
    if verdict.verdict == "reject" and len(override.strip()) < 4:
        raise NeedsReason(
            say(
                "{lubricant} must not go into {compartment}: {reasons_text} Write the reason to use it all the same.",
                lubricant=lubricant.name,
                compartment=compartment.name,
                reasons_text=verdict.reasons[0].text,
            ),
            field=f"{at}lubricant_id",
            value=lubricant.name,
        )


def _add_job(service: Service, spec: JobSpec, at: str) -> ServiceJob:
    compartment = COMPARTMENTS.filter(pk=spec.compartment_id, vehicle=service.vehicle).first()
    if compartment is None:
        raise Inconsistent(say("That compartment is not on this vehicle."), field=f"{at}compartment_id", value=spec.compartment_id)
    if ServiceJob.objects.filter(compartment=compartment, open=True).exists():
        raise GateClosed(
            say(
                "{compartment} of {vehicle} is in service already: go on there.", compartment=compartment.name, vehicle=service.vehicle.name
            ),
            field=f"{at}compartment_id",
            value=compartment.name,
        )
    lubricant = Lubricant.objects.filter(pk=spec.lubricant_id).first()
    if lubricant is None:
        raise Inconsistent(
            say("Choose the oil for {compartment}.", compartment=compartment.name), field=f"{at}lubricant_id", value=spec.lubricant_id
        )
    revision = revision_of(compartment)
    answers = Answers(spec.variant, spec.slip, service.coldest_c, service.warmest_c, spec.doses)
    try:
        asked, day = asked_of(compartment, revision, answers), day_of(compartment, revision, answers)
    except CoreError as error:
        error.field = f"{at}{error.field}" if error.field in ("variant",) or error.field.startswith("doses") else error.field
        raise
    if limited_slip_open(asked, kind_of(compartment.sheet.kind).differential) and not spec.slip:
        raise Inconsistent(
            say("{compartment}: clutch-type limited slip or not? Answer before an axle oil is chosen.", compartment=compartment.name),
            field=f"{at}slip",
            value="",
            allowed="yes, no, unknown",
        )
    verdict = judge(core_lubricant(lubricant), asked, day, oil_policy())
    _refuse_oil(verdict, lubricant, compartment, spec.override, at)
    _keep_facts(compartment, answers)
    past = past_of(compartment, clock.today(), service.meter_value, spec.work.kind == "top-up")
    variant = variant_of(compartment, revision, answers)
    work = check_work_spec(core_sheet(revision, variant), spec.work, at, past.depth_mm is not None)
    if verdict.rinse:
        past = replace(past, rinse=next(r.text for r in verdict.reasons if r.rule == "residue-family"))
    return ServiceJob.objects.create(
        service=service,
        compartment=compartment,
        revision=revision,
        lubricant=lubricant,
        oil_override=spec.override.strip() if verdict.verdict == "reject" else "",
        verdict=verdict.verdict,
        variant=variant,
        work=work,
        plan=to_json(
            WorkPlan(
                cycles=spec.work.cycles,
                target_fresh=spec.work.target_fresh,
                school=spec.work.school,
                attached=tuple(a.strip() for a in spec.work.attached if a.strip()),
                wrong_oil=spec.work.wrong_oil.strip(),
                variant_open=bool(revision.variants) and not variant,
                no_warm=no_warm(spec.work.wrong_oil.strip(), asked) if work == "correction" else "",
            )
        ),
        limited_slip=asked.limited_slip,
        doses=[asdict(d) for d in day.doses],
        past=to_json(past),
    )


def no_warm(wrong: str, asked: Requirement) -> str:
    """Why a vehicle is not driven warm with the wrong oil inside; empty where it is wrong only by category, approval or grade."""
    oil = Lubricant.objects.filter(name__iexact=wrong).first() if wrong else None
    if oil is None:
        return say("nobody knows what the wrong oil does to this compartment.")
    reasons = judge(core_lubricant(oil), asked, OilConditions(), oil_policy()).reasons
    return next((r.text for r in reasons if r.rule in HARMS_RUNNING and r.verdict == "reject"), "")


def check_work_spec(sheet: Sheet, spec: WorkSpec, at: str, gauged: bool) -> str:
    """The kind of service of a job, or what does not fit, named at its field."""
    try:
        kind = check_work(sheet, spec.kind, gauged)
        in_range("target_fresh", spec.target_fresh, 0.2, 0.98)
        in_range("cycles", spec.cycles, 0, 12)
    except CoreError as error:
        error.field = f"{at}{error.field}"
        raise
    if spec.school not in EXCHANGE_SCHOOLS:
        raise Inconsistent(
            say("That is no school of exchange."), field=f"{at}school", value=spec.school, allowed=", ".join(EXCHANGE_SCHOOLS)
        )
    if kind == "exchange" and spec.school == EXCHANGE_SCHOOLS[1] and sheet.total_ml is None:
        raise Inconsistent(say("The sheet states no total amount: what shall flow through?"), field=f"{at}school", value=spec.school)
    if len(spec.attached) > 8:
        raise Inconsistent(say("At most eight jobs ride along."), field=f"{at}attached", value=len(spec.attached))
    return kind


def _keep_facts(compartment: Compartment, answers: Answers) -> None:
    """What was found out about this very compartment is not asked again."""
    if answers.slip in ("yes", "no"):
        compartment.limited_slip = answers.limited_slip
    if answers.variant:
        compartment.variant = answers.variant
    compartment.save(update_fields=["limited_slip", "variant"])
