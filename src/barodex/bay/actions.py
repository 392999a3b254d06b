"""Changes of a service: start, an event, drop. Signing writes record, findings, reading and stock in one transaction."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from django.db import IntegrityError, OperationalError, transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.book.actions import Entry, write_record
from barodex.choose.judging import COMPARTMENTS, Answers, DoseChoice, asked_of, day_of, revision_of, variant_of
from barodex.core import guide, run
from barodex.core.oil.judge import judge
from barodex.core.oil.lubricant import OilConditions, Requirement
from barodex.core.oil.rules import HARMS_RUNNING, LOCKING
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, NeedsReason, OutOfRange, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.run.adopted import adopted_variants
from barodex.core.run.vehicle import forbidden
from barodex.core.sheet.sheet import Sheet
from barodex.core.sheet.work import SCHOOLS, TARGET_FRESH, check_work, kit_work
from barodex.fleet.actions import add_reading, check_new_reading
from barodex.fleet.models import Compartment, Vehicle
from barodex.memory.versions import SHELF
from barodex.plan.life import warranty_holds
from barodex.shelf.actions import draw, use_item
from barodex.shelf.models import Container, Lubricant
from barodex.shelf.queries import bottles, core_lubricant, core_sheet
from barodex.shelf.queries.oils import asks_limited_slip
from barodex.workshop.policy import oil_policy

from . import closing, guides, queries, views
from .guides import keep_guide
from .keeping import keep_page
from .models import Service, ServiceEvent, ServiceJob
from .oil_on_hand import OilShort, OilWanted, shortages
from .past import past_of
from .pouring import reserved_ml
from .start import kit_lines

MOST_TRIES = 30  # of storing an act while others store theirs


@dataclass(frozen=True)
class WorkSpec:
    """The kind of service and what goes with it: drains of an exchange (0: as the sheet says), the fresh share wanted, its school,
    jobs that ride along, and the oil that went in by mistake."""

    kind: str = ""
    cycles: int = 0
    target_fresh: float = TARGET_FRESH
    school: str = SCHOOLS[0]
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
    if not jobs:
        raise Inconsistent("Choose at least one compartment.", field="jobs", value="")
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
                f"{job.compartment.name}: {text} Write why it is opened all the same.",
                field=f"jobs.{k}.warranty",
                value=job.compartment.name,
            )
        job.plan["warranty"] = spec.warranty.strip()[:200]
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
        words = f"{oil.name}: {oil.on_hand_ml:.0f} of {oil.need_ml:.0f} mL are on the shelf and free"
        if len(fetches.strip()) < 2:
            raise GateClosed(
                f"{words}. Fetch it first, or name who does: the drain waits until it is there.", field="fetches", value=oil.name
            )
        for job in (j for j in made if j.lubricant_id == oil.lubricant):
            job.plan["fetch"] = f"{fetches.strip()[:60]} fetches {oil.need_ml - oil.on_hand_ml:.0f} mL of {oil.name}"
            job.save(update_fields=["plan"])


def _check_kit(service: Service, jobs: list[ServiceJob], at_hand: tuple[str, ...]) -> None:
    """A missing mandatory seal or tool stops the start, not the middle; what will be used up is kept with the service."""
    lines = kit_lines([(j.compartment.name, j.revision, j.variant, kit_work(j.work, j.plan["attached"])) for j in jobs])
    there = {name.casefold() for name in at_hand}
    missing = [x.item for x in lines if x.state == "missing" and x.item.mandatory and x.item.name.casefold() not in there]
    if missing:
        words = ", ".join(f"{i.count} × {i.name} ({i.use})" if i.use else f"{i.count} × {i.name}" for i in missing)
        raise GateClosed(
            f"Not in the store: {words}. Fetch it first; a missing seal or tool stops the start, not the middle.",
            field="at_hand",
            value=", ".join(i.name for i in missing),
        )
    service.kit = [{"name": x.item.name, "count": x.item.count} for x in lines if x.item.kind != "tool" and x.item.mandatory]
    service.save(update_fields=["kit"])


def _add_job(service: Service, spec: JobSpec, at: str) -> ServiceJob:
    compartment = COMPARTMENTS.filter(pk=spec.compartment_id, vehicle=service.vehicle).first()
    if compartment is None:
        raise Inconsistent("That compartment is not on this vehicle.", field=f"{at}compartment_id", value=spec.compartment_id)
    if ServiceJob.objects.filter(compartment=compartment, open=True).exists():
        raise GateClosed(
            f"{compartment.name} of {service.vehicle.name} is in service already: go on there.",
            field=f"{at}compartment_id",
            value=compartment.name,
        )
    lubricant = Lubricant.objects.filter(pk=spec.lubricant_id).first()
    if lubricant is None:
        raise Inconsistent(f"Choose the oil for {compartment.name}.", field=f"{at}lubricant_id", value=spec.lubricant_id)
    revision = revision_of(compartment)
    answers = Answers(spec.variant, spec.slip, service.coldest_c, service.warmest_c, spec.doses)
    try:
        asked, day = asked_of(compartment, revision, answers), day_of(compartment, revision, answers)
    except CoreError as error:
        error.field = f"{at}{error.field}" if error.field in ("variant",) or error.field.startswith("doses") else error.field
        raise
    if asks_limited_slip(compartment.sheet.kind, asked) and not spec.slip:
        raise Inconsistent(
            f"{compartment.name}: clutch-type limited slip or not? Answer before an axle oil is chosen.",
            field=f"{at}slip",
            value="",
            allowed="yes, no, unknown",
        )
    verdict = judge(core_lubricant(lubricant), asked, day, oil_policy())
    if verdict.locked:
        reason = next(r for r in verdict.reasons if r.rule in LOCKING)
        raise GateClosed(
            f"{lubricant.name} for {compartment.name}: {reason.text} Enter it on the shelf, then start.",
            field=f"{at}lubricant_id",
            value=lubricant.name,
        )
    if verdict.verdict == "reject" and len(spec.override.strip()) < 4:
        raise NeedsReason(
            f"{lubricant.name} must not go into {compartment.name}: {verdict.reasons[0].text} Write the reason to use it all the same.",
            field=f"{at}lubricant_id",
            value=lubricant.name,
        )
    _keep_facts(compartment, answers)
    past = past_of(compartment, clock.today())
    variant = variant_of(compartment, revision, answers)
    work = check_work_spec(core_sheet(revision, variant), spec.work, at, past.get("depth_mm") is not None)
    if verdict.rinse:
        past["rinse"] = next(r.text for r in verdict.reasons if r.rule == "residue-family")
    return ServiceJob.objects.create(
        service=service,
        compartment=compartment,
        revision=revision,
        lubricant=lubricant,
        oil_override=spec.override.strip() if verdict.verdict == "reject" else "",
        verdict=verdict.verdict,
        variant=variant,
        work=work,
        plan={
            "cycles": spec.work.cycles,
            "target_fresh": spec.work.target_fresh,
            "school": spec.work.school,
            "attached": [a.strip() for a in spec.work.attached if a.strip()],
            "wrong_oil": spec.work.wrong_oil.strip(),
            "variant_open": bool(revision.variants) and not variant,
            "no_warm": no_warm(spec.work.wrong_oil.strip(), asked) if work == "correction" else "",
        },
        limited_slip=asked.limited_slip,
        doses=[asdict(d) for d in day.doses],
        past=past,
    )


def no_warm(wrong: str, asked: Requirement) -> str:
    """Why a vehicle is not driven warm with the wrong oil inside; empty where it is wrong only by category, approval or grade."""
    oil = Lubricant.objects.filter(name__iexact=wrong).first() if wrong else None
    if oil is None:
        return "nobody knows what the wrong oil does to this compartment."
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
    if spec.school not in SCHOOLS:
        raise Inconsistent("That is no school of exchange.", field=f"{at}school", value=spec.school, allowed=", ".join(SCHOOLS))
    if kind == "exchange" and spec.school == SCHOOLS[1] and sheet.total_ml is None:
        raise Inconsistent("The sheet states no total amount: what shall flow through?", field=f"{at}school", value=spec.school)
    if len(spec.attached) > 8:
        raise Inconsistent("At most eight jobs ride along.", field=f"{at}attached", value=len(spec.attached))
    return kind


def _keep_facts(compartment: Compartment, answers: Answers) -> None:
    """What was found out about this very compartment is not asked again."""
    if answers.slip in ("yes", "no"):
        compartment.limited_slip = answers.limited_slip
    if answers.variant:
        compartment.variant = answers.variant
    compartment.save(update_fields=["limited_slip", "variant"])


@dataclass(frozen=True)
class NewEvent:
    """An act as a device sends it; amounts in ``values`` may be text as typed, in the person's units."""

    event_id: uuid.UUID
    kind: str
    step: str
    values: Mapping[str, Any]
    done_at: dt.datetime | None = None  # by the device's clock, for an act that waited; None: now


QUANTITIES = ("volume", "mass", "temperature", "torque", "length", "distance", "engine_hours")
READINGS = {
    "dead_ml": "volume",
    "dip_mm": "length",
    "mark_mm": "length",
    "drops": "duration",
    "seconds": "duration",
}  # read beside a step's own fields
CLOCK_SKEW = dt.timedelta(minutes=2)


def when_done(new: NewEvent, started_at: dt.datetime, now: dt.datetime) -> dt.datetime:
    """When an act was done: by the device's clock where it waited, never before the service nor after now."""
    if new.done_at is None:
        return now
    if new.done_at > now + CLOCK_SKEW:
        raise OutOfRange(
            "This act comes from the future: the clock of that device runs ahead.",
            field="done_at",
            value=new.done_at.isoformat(timespec="seconds"),
            allowed=f"up to {now.isoformat(timespec='seconds')}",
        )
    return min(now, max(new.done_at, started_at))


def read_values(procedure: guide.Procedure, step_id: str, values: Mapping[str, Any], system: str) -> dict[str, Any]:
    """Bring what was typed into canonical units, by the step's fields. Raises what :func:`parse_quantity` raises, at the field."""
    step = procedure.by_id.get(step_id)
    holds_ml = procedure.job(step.compartment).holds_ml if step and step.compartment else None
    read = {str(k)[:40]: v for k, v in list(values.items())[:40]}
    for field in step.fields if step else ():
        value = read.get(field.name)
        if value in (None, ""):
            read[field.name] = None
            continue
        if field.kind in QUANTITIES:
            try:
                read[field.name] = (
                    parse_quantity(value, field.kind, system, holds_ml if field.kind == "volume" else None)
                    if isinstance(value, str)
                    else in_range(field.name, value, -100, 1e6)
                )
            except CoreError as error:
                error.field = field.name
                raise
        elif field.kind == "number":
            read[field.name] = parse_quantity(str(value), "duration") if isinstance(value, str) else in_range(field.name, value, 0, 1e6)
        elif field.kind in ("text", "lines"):
            read[field.name] = str(value)[:2000]
    for name, kind in READINGS.items():
        if isinstance(read.get(name), str) and (step is None or all(f.name != name for f in step.fields)):
            try:
                read[name] = parse_quantity(read[name], kind, system)
            except CoreError as error:
                error.field = name
                raise
    return read


# What hangs on the bench may have a say in an act: (service, guide, kind, step) raises what refuses it. Filled by the apps above.
ACT_CHECKS: list[Callable[[Service, guide.Procedure, str, str], None]] = []


class _OutOfDate(Exception):
    """Another act was stored between reading the service and storing this one."""


def post_event(by: Person, service_id: int, new: NewEvent) -> views.ServiceView:
    """Accept an act, or refuse it with the gate's reason. The same event id twice is one act. Signing closes the service.

    Reading and folding take far longer than storing, so they are done before the write lock is taken; when another act
    came between, it is read and folded again.
    """
    require(by, "technician")
    for _ in range(MOST_TRIES):
        service = guides.load(service_id)
        events = guides.events_of(service)
        procedure = guides.procedure_of(service, events)
        if any(e.id == str(new.event_id) for e in events):
            return queries.service_view(service, procedure, run.fold(procedure, events), events)
        if service.state == "dropped":
            raise GateClosed("This service was dropped.", field="step", value=new.step)
        values = read_values(procedure, new.step, new.values, by.unit_system)
        if new.kind == "add":
            _check_container(service, procedure, new.step, values)
        for check in ACT_CHECKS:
            check(service, procedure, new.kind, new.step)
        at = when_done(new, service.started_at, clock.now())
        event = run.Event(str(new.event_id), (events[-1].seq if events else 0) + 1, new.kind, new.step, values, at, by.shown_name)
        state = run.accept(procedure, events, event)
        procedure, state = _with_variant(service, procedure, state, [*events, event])
        try:
            _store(by, service, procedure, state, event, [*events, event])
        except (_OutOfDate, IntegrityError):
            if ServiceEvent.objects.filter(event_id=new.event_id).exclude(service=service).exists():
                raise Inconsistent("This act belongs to another service.", field="event_id", value=str(new.event_id)) from None
            continue
        return queries.service_view(service, procedure, state, [*events, event])
    raise OperationalError("Too many acts at once on this service.")


def _with_variant(
    service: Service, procedure: guide.Procedure, state: run.State, events: list[run.Event]
) -> tuple[guide.Procedure, run.State]:
    """The guide and the state as they are once a variant was taken over or back; refused where what was done no longer fits."""
    anew = guides.procedure_of(service, events)
    if anew is procedure:
        return procedure, state
    folded = run.fold(anew, events)
    before = {c.event.id for c in state.conflicts}
    misfit = next((c for c in folded.conflicts if c.event.id not in before), None)
    if misfit is not None:
        done = anew.by_id[misfit.event.step].title if misfit.event.step in anew.by_id else misfit.event.step
        raise GateClosed(f"“{done}” was done for another variant and does not fit this one: {misfit.error} Undo it first.", field="variant")
    return anew, folded


def _keep_variants(service: Service, events: list[run.Event]) -> None:
    """What a compartment was found to be is remembered with it at once; taken back, it is open again."""
    adopted = dict(adopted_variants(events))
    for job in guides.jobs_of(service):
        if job.plan.get("variant_open"):
            Compartment.objects.filter(pk=job.compartment_id).update(variant=adopted.get(str(job.compartment_id), ""))


def _check_vehicle(by: Person, service: Service, procedure: guide.Procedure, event: run.Event, before: list[run.Event]) -> None:
    """Refuse what moves, runs or opens the vehicle against a stop, another open compartment or a running engine; inside the transaction."""
    step = procedure.by_id.get(event.step)
    if step is None or event.kind not in ("done", "timer_start") or not (step.moves_vehicle or step.runs_engine or step.opens_oil):
        return
    if any(e.step == step.id and e.kind == "done" for e in before):
        return  # said again
    state = queries.state_of_vehicle(service.vehicle_id)
    refused = forbidden(state, step, service.pk, str(event.values.get("reason") or ""), by.may("lead"))
    if refused is not None:
        raise refused


@transaction.atomic
def _store(by: Person, service: Service, procedure: guide.Procedure, state: run.State, event: run.Event, events: list[run.Event]) -> None:
    """Store an act if the service is still what it was when the act was tested; a signature writes all that it means."""
    if (
        not Service.objects.filter(pk=service.pk, state=service.state).exists()
        or ServiceEvent.objects.filter(service=service, seq__gte=event.seq).exists()
    ):
        raise _OutOfDate
    _check_vehicle(by, service, procedure, event, events[:-1])
    ServiceEvent.objects.create(
        service=service, event_id=event.id, seq=event.seq, kind=event.kind, step=event.step, values=dict(event.values), at=event.at, by=by
    )
    if event.kind in ("done", "undo"):
        _keep_variants(service, events)
    if state.signed:
        _close(by, service, procedure, state)
        keep_page(service, *queries.folded_page(service, events))


def _ask_bottle(service: Service, procedure: guide.Procedure, step_id: str, values: dict[str, Any]) -> None:
    """From which bottle? So the shelf is true; "from elsewhere" is an answer, and the only one where the shelf has none."""
    step = procedure.by_id.get(step_id)
    job = next((j for j in guides.jobs_of(service) if step and str(j.compartment_id) == step.compartment), None)
    volume = values.get("volume_ml")
    if job is None or values.get("elsewhere") is True or not isinstance(volume, (int, float)) or volume <= 0:
        return  # what is no amount is refused by the core
    held = [b for b in bottles(job.lubricant, reserved_ml()) if b.content_ml > 0.5]
    if held:
        words = ", ".join(f"{b.label} ({b.content_ml:.0f} mL)" for b in held[:6])
        raise Inconsistent(
            f"From which bottle? {words}; or say that it came from elsewhere.", field="container", value="", allowed=f"{words}, elsewhere"
        )
    values["elsewhere"] = True


def _check_container(service: Service, procedure: guide.Procedure, step_id: str, values: dict[str, Any]) -> None:
    """A pour from a container: the right oil, and no more than is in it. A pour without one says that it came from elsewhere."""
    if not values.get("container"):
        _ask_bottle(service, procedure, step_id, values)
        return
    step = procedure.by_id.get(step_id)
    container = (
        Container.objects.select_related("lubricant").filter(pk=values["container"]).first()
        if isinstance(values["container"], int)
        else None
    )
    job = next((j for j in guides.jobs_of(service) if step and str(j.compartment_id) == step.compartment), None)
    if container is None or job is None:
        raise Inconsistent("There is no such container on the shelf.", field="container", value=values["container"])
    if container.lubricant_id != job.lubricant_id:
        raise GateClosed(
            f"{container.label} holds {container.lubricant.name}, not {job.lubricant.name}: wrong container.",
            field="container",
            value=container.label,
        )
    left = container.content_ml - reserved_ml().get(container.pk, 0.0)
    if float(values.get("volume_ml") or 0) + float(values.get("dead_ml") or 0) > left + 0.5:
        raise Inconsistent(
            f"{container.label} holds only {left:.0f} mL by the book: correct the amount, or pour without naming a container.",
            field="volume_ml",
            value=values.get("volume_ml"),
            allowed=f"up to {left:.0f} mL",
        )


def _close(by: Person, service: Service, procedure: guide.Procedure, state: run.State) -> None:
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
        if job.plan.get("warranty"):
            gaps[key].append(f"Opened under warranty: {job.plan['warranty']}")
        if job.oil_override:
            gaps[key].append(f"Oil against the rules: {job.oil_override}")
        gaps[key] += [f"Additive: {d['volume_ml']:g} mL {d['name']} ({d['kind']})" for d in job.doses]
        for pour in ledger.all_pours:
            if pour.values.get("container"):
                wanted = float(pour.values["volume_ml"]) + float(pour.values.get("dead_ml") or 0)
                if draw(by, int(pour.values["container"]), wanted, f"service {service.pk}, {job.compartment.name}") < wanted - 0.5:
                    gaps[key].append("A container held less than was poured: its count was off.")
        for container in {int(p.values["container"]) for p in ledger.all_pours if p.values.get("container")}:
            audit(by, "oil drawn", Container.objects.get(pk=container), (SHELF,), service=service.pk)
        torques = tuple(
            _torque_text(procedure, state, s)
            for s in procedure.steps
            if s.compartment == key and s.kind == "torque" and state.steps[s.id].event
        )
        write_record(
            by,
            job.compartment,
            Entry(
                today,
                service.meter_value,
                job.lubricant.name,
                job.lubricant,
                job.revision,
                None if procedure.job(key).flows else ledger.drained,
                ledger.poured_ml,
                ledger.run_out_ml,
                ledger.loss,
                ledger.finding,
                ledger.assessment,
                tuple(gaps[key]),
                torques,
                notes,
                work=procedure.job(key).kind_of_work,
                details=closing.details_of(service, procedure, state, key),
                factor=closing.factor_of(procedure.job(key), ledger),
                rechecks=closing.rechecks_of(procedure.job(key), state),
                additive_ml=procedure.job(key).additive_ml if ledger.poured_ml > 0 else 0.0,
                ambient_c=service.ambient_c,
                warmth=closing.warmth_of(state, key),
            ),
            service.pk,
        )
    for item in service.kit:
        use_item(by, item["name"], item["count"], f"service {service.pk}, {service.vehicle.name}")
    service.jobs.update(open=False)
    Compartment.objects.filter(in_service=service).update(in_service=None)
    service.state, service.ended_at = "signed", clock.now()
    service.save(update_fields=["state", "ended_at"])
    audit(by, "service signed", service, (service.vehicle_id,))


def _torque_text(procedure: guide.Procedure, state: run.State, step: guide.Step) -> str:
    event = state.steps[step.id].event
    torque = event.values.get("torque_nm") if event else None
    return f"{step.title.split(': ', 1)[-1].split(',')[0]}: " + (f"{round(torque, 1):g} N·m" if torque else "no figure")


@transaction.atomic
def drop_service(by: Person, service_id: int, reason: str) -> Service:
    """Give a service up before anything was drained; afterwards it has to be finished."""
    require(by, "technician")
    service = guides.load(service_id)
    if service.state != "open":
        raise GateClosed("This service is closed already.", field="reason", value=service.state)
    if len(reason.strip()) < 4:
        raise Inconsistent("Say why it is given up.", field="reason", value=reason)
    state = run.fold(procedure_of := guides.procedure_of(service), guides.events_of(service))
    drained = [s for s in procedure_of.steps if s.id.startswith("drain.") and state.steps[s.id].status == "done"]
    if drained:
        raise GateClosed(
            "Oil has been drained: a compartment without oil must not be forgotten. Fill it and sign, with the gaps explained.",
            field="reason",
            value=drained[0].id,
        )
    service.jobs.update(open=False)
    Compartment.objects.filter(in_service=service).update(in_service=None)
    service.state, service.ended_at = "dropped", clock.now()
    service.save(update_fields=["state", "ended_at"])
    audit(by, "service dropped", service, (service.vehicle_id,), reason=reason)
    return service
