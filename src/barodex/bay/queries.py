"""Reads of services: the folded state as the page draws it."""

from __future__ import annotations

import datetime as dt
import functools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from barodex import clock
from barodex.accounts.models import Person
from barodex.book.models import FollowUp, OilRecord
from barodex.book.queries import past_finding
from barodex.core import procedure as guide
from barodex.core import run
from barodex.core.debris import RULES, Assessment, drop_rate
from barodex.core.drained import Loss, poured_amount
from barodex.core.draining import Balance, DripYield, Recovery, balance, drip_yield
from barodex.core.errors import CoreError
from barodex.core.exchanging import Outlook, drain_shares
from barodex.core.expansion import DEFAULT_DENSITY15
from barodex.core.level import FEWEST_SAMPLES, DipPlan, WarmUp, dip_plan, warmup_eta
from barodex.core.lubricant import Dose
from barodex.core.phases import PhaseTime, phase_times
from barodex.core.variant import VariantVerdict
from barodex.core.variant_blocks import adopted_variants
from barodex.core.vehicle import Stop, VehicleState, forbidden, vehicle_state
from barodex.core.work import SCHOOLS, TARGET_FRESH, WORK_WORDS
from barodex.shelf.queries import core_sheet

from .consequences import Consequence, consequence_of
from .models import Service, ServiceJob
from .photos import PhotoView, photos_of_service


def _core_job(job: ServiceJob, adopted: str = "") -> guide.Job:
    """The core's view of a job; ``adopted`` is the variant that was taken over on the way."""
    past, plan = job.past, job.plan
    slip = job.compartment.limited_slip
    asked = plan.get("variant_open", False)
    net = past.get("net_in_ml")
    previous = past_finding(OilRecord(finding=past["previous"])) if past.get("previous") else None
    return guide.Job(
        str(job.compartment_id),
        job.compartment.name,
        core_sheet(job.revision, adopted or job.variant, slip),
        job.lubricant.name,
        past.get("density15") or job.lubricant.density15 or DEFAULT_DENSITY15,
        None if net is None else poured_amount(net, past.get("poured_c")),
        past.get("distance_km"),
        past.get("first_change", False),
        previous,
        past.get("previous_level"),
        tuple(past.get("older_levels", ())),
        dt.date.fromisoformat(past["last_filled_on"]) if past.get("last_filled_on") else None,
        tuple(Dose(**d) for d in job.doses),
        past.get("rinse", ""),
        job.work,
        plan.get("cycles", 0),
        plan.get("target_fresh", TARGET_FRESH),
        plan.get("school", SCHOOLS[0]),
        tuple(plan.get("attached", ())),
        plan.get("wrong_oil", ""),
        tuple(poured_amount(ml) for ml in past.get("topups_ml", ())),
        depth_mm=past.get("depth_mm"),
        share=past.get("share"),
        ambient_c=job.service.ambient_c,
        fetch=plan.get("fetch", ""),
        no_warm=plan.get("no_warm", ""),
        open_sheet=core_sheet(job.revision, "", slip) if asked else None,
    )


def load(service_id: int) -> Service:
    """A service with its vehicle; raises Service.DoesNotExist."""
    return Service.objects.select_related("vehicle", "started_by").get(pk=service_id)


@functools.lru_cache(maxsize=256)
def _jobs(service_id: int, started_at: dt.datetime) -> tuple[ServiceJob, ...]:
    """Jobs of a service. They do not change once it has started (revisions are never edited): kept in memory."""
    return tuple(
        load(service_id)
        .jobs.select_related("service", "compartment__sheet", "lubricant", "revision__sheet")
        .prefetch_related("revision__plugs", "revision__sources")
    )


@functools.lru_cache(maxsize=256)
def _guide(service_id: int, started_at: dt.datetime, adopted: tuple[tuple[str, str], ...]) -> guide.Procedure:
    """The guide of a service, with the variants that were taken over on the way: kept in memory for each of them."""
    service, variants = load(service_id), dict(adopted)
    conditions = guide.Conditions(service.vehicle.name, service.vehicle.kind, service.ambient_c)
    jobs = _jobs(service_id, started_at)
    return guide.build(tuple(_core_job(j, variants.get(str(j.compartment_id), "")) for j in jobs), conditions)


def jobs_of(service: Service) -> tuple[ServiceJob, ...]:
    """The jobs of a service, as they were when it started."""
    return _jobs(service.pk, service.started_at)


def procedure_of(service: Service, events: list[run.Event] | None = None) -> guide.Procedure:
    """The guide of a service after some events, all of them when none are given."""
    if not any(j.plan.get("variant_open") for j in jobs_of(service)):
        return _guide(service.pk, service.started_at, ())
    return _guide(service.pk, service.started_at, adopted_variants(events_of(service) if events is None else events))


@functools.lru_cache(maxsize=256)
def _kept(service_id: int, started_at: dt.datetime) -> list[tuple[run.Event, ...]]:
    """A place for the events of a service that were read already: they are only ever added to."""
    return [()]


def events_of(service: Service) -> list[run.Event]:
    """The events of a service in order, as the core sees them; what was read before is kept in memory, only newer ones are read."""
    place = _kept(service.pk, service.started_at)
    known = place[0]
    rows = list(
        service.events.filter(seq__gt=known[-1].seq if known else 0)
        .order_by("seq")
        .values_list("event_id", "seq", "kind", "step", "values", "at", "by_id")
    )
    if rows:
        names = {p.pk: p.shown_name for p in Person.objects.filter(pk__in={r[-1] for r in rows})}
        fresh = (run.Event(str(pk), seq, kind, step, values, at, names[by]) for pk, seq, kind, step, values, at, by in rows)
        place[0] = known = (*known, *fresh)
    return list(known)


# --- what the page draws ---------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class FieldView:
    name: str
    kind: str
    label: str
    required: bool
    choices: tuple[str, ...]
    default_number: float | None
    default_text: str
    shown: str


@dataclass(frozen=True)
class StepView:
    """A step with its state; ``values`` is what was recorded, ``event`` names what an undo takes back."""

    id: str
    phase: str
    kind: str
    title: str
    why: str
    compartment: str
    caution: str
    advice: tuple[str, ...]
    checklist: tuple[str, ...]
    fields: tuple[FieldView, ...]
    gate: bool
    skip: str
    required: bool
    status: str
    why_locked: str
    timer_s: int
    timer_started: dt.datetime | None
    timer_stopped: dt.datetime | None
    event: str
    done_by: str
    done_at: dt.datetime | None
    values: dict[str, Any]
    window_low_c: float | None
    window_high_c: float | None
    calls: tuple[str, ...]
    forbidden: str  # why the vehicle as a whole does not allow it now


@dataclass(frozen=True)
class PourView:
    event: str
    volume_ml: float
    at: dt.datetime
    by: str


@dataclass(frozen=True)
class CycleView:
    """A drain-and-refill cycle as done, mL."""

    drained_ml: float
    poured_ml: float


@dataclass(frozen=True)
class TemperatureReading:
    """A temperature reading, °C."""

    at: dt.datetime
    temperature_c: float


@dataclass(frozen=True)
class DipView:
    """A dip of the stick: poured so far, mL, and where it stood, mm."""

    added_ml: float
    reading_mm: float


@dataclass(frozen=True)
class LedgerView:
    """What is known of one compartment so far."""

    compartment: str
    name: str
    oil: str
    family: str
    colour: str
    capacity_ml: float | None
    last_in_ml: float | None
    last_on: dt.date | None
    target_ml: float | None
    target_basis: str
    drained_ml: float | None
    drained_c: float | None
    drained_15_ml: float | None
    loss: Loss | None
    assessment: Assessment | None
    poured_ml: float
    run_out_ml: float
    pours: tuple[PourView, ...]
    fill_method: str
    tolerance: float
    cycles: tuple[CycleView, ...]
    cycles_planned: int
    fresh: float | None
    window_low_c: float | None
    window_high_c: float | None
    readings: tuple[TemperatureReading, ...]
    warmup: WarmUp | None
    work: str
    school: str
    cycles_most: int
    outlook: Outlook | None
    recovery: Recovery | None
    inside: Balance | None
    flush_in_ml: float | None
    flush_out_ml: float | None
    drip: DripYield | None
    dips: tuple[DipView, ...]
    dip: DipPlan | None
    mark_mm: float | None
    depth_mm: float | None
    before_depth_mm: float | None
    variant: VariantVerdict | None
    consequence: Consequence | None
    drain_shares: tuple[float, ...]
    elsewhere_ml: float  # poured, and not off the shelf


@dataclass(frozen=True)
class NoteView:
    text: str
    by: str
    at: dt.datetime


@dataclass(frozen=True)
class RecordRef:
    """The record that a signature wrote for a compartment."""

    compartment: str
    record: int


@dataclass(frozen=True)
class ServiceView:
    """A service as the Bay draws it; ``now`` is the server's time, by which timers run."""

    id: int
    vehicle_id: int
    vehicle: str
    plate: str
    vehicle_kind: str
    meter: str
    meter_value: float | None
    state: str
    started_at: dt.datetime
    started_by: str
    now: dt.datetime
    current: str
    stopped: bool
    seq: int
    last_event: str
    steps: tuple[StepView, ...]
    ledgers: tuple[LedgerView, ...]
    notes: tuple[NoteView, ...]
    gaps: tuple[str, ...]
    records: tuple[RecordRef, ...]
    times: tuple[PhaseTime, ...]
    photos: tuple[PhotoView, ...]
    tilt_deg: float | None
    words: str
    vehicle_says: tuple[str, ...]


def _field_view(f: guide.Field) -> FieldView:
    number = float(f.default) if isinstance(f.default, (int, float)) and not isinstance(f.default, bool) else None
    words = f.default if isinstance(f.default, str) else ""
    return FieldView(
        f.name, f.kind, f.label, f.required, f.choices, number, words, guide.torque_words(number) if f.kind == "torque" else ""
    )


def _step_view(step: guide.Step, state: run.State, vehicle: VehicleState, service: int) -> StepView:
    here = state.steps[step.id]
    event = here.event
    checklist = state.refit if step.id == "wipe" else step.checklist
    if step.id == "sign":
        checklist = ()
    return StepView(
        step.id,
        step.phase,
        step.kind,
        step.title,
        step.why,
        step.compartment,
        step.caution,
        tuple(a for a in step.advice if a),
        tuple(checklist),
        tuple(_field_view(f) for f in step.fields),
        step.gate,
        step.skip,
        step.required,
        here.status,
        here.why_locked,
        step.timer_s,
        here.timer_started,
        here.timer_stopped,
        event.id if event else "",
        event.by if event else "",
        event.at if event else None,
        dict(event.values) if event else {},
        step.window.low_c if step.window else None,
        step.window.high_c if step.window else None,
        step.calls,
        _forbidden(step, here, vehicle, service),
    )


def _forbidden(step: guide.Step, here: run.StepState, vehicle: VehicleState, service: int) -> str:
    """Why an open step must not be done now, by what else is open on the vehicle."""
    if here.status != "open" or not (step.moves_vehicle or step.runs_engine or step.opens_oil):
        return ""
    refused = forbidden(vehicle, step, service)
    return str(refused) if refused is not None else ""


def _ledger_view(service: Service, job: guide.Job, ledger: run.Ledger) -> LedgerView:
    row = next(j for j in jobs_of(service) if str(j.compartment_id) == job.key)
    finding = ledger.finding or job.previous
    return LedgerView(
        job.key,
        job.name,
        job.oil,
        job.sheet.requirement.family,
        (finding.colour if finding else None) or "",
        job.sheet.capacity_ml,
        job.last_net_in.volume_ml if job.last_net_in else None,
        job.last_filled_on,
        ledger.target_ml,
        ledger.target_basis,
        ledger.drained.volume_ml if ledger.drained else None,
        ledger.drained.temperature_c if ledger.drained and not ledger.drained.temperature_sigma_k else None,
        ledger.drained_15_ml,
        ledger.loss,
        ledger.assessment,
        ledger.poured_ml,
        ledger.run_out_ml,
        tuple(PourView(e.id, float(e.values["volume_ml"]), e.at, e.by) for e in ledger.pours),
        job.sheet.fill_method,
        guide.POUR_TOLERANCE[job.sheet.fill_method],
        tuple(CycleView(c.drained_ml, c.poured_ml) for c in ledger.cycles),
        ledger.wanted_cycles,
        run.fresh_share(job, ledger),
        job.sheet.level.window_low_c,
        job.sheet.level.window_high_c,
        tuple(TemperatureReading(e.at, float(e.values["temperature_c"])) for e in ledger.readings[-MOST_READINGS:]),
        _warmup(job, ledger),
        job.kind_of_work,
        job.school if job.kind_of_work == "exchange" else "",
        job.most_cycles,
        run.exchange_outlook(job, ledger),
        ledger.recovery,
        _inside(job, ledger),
        ledger.flush_in_ml,
        ledger.flush_out_ml,
        _drip(ledger),
        tuple(DipView(added, reading) for added, reading in ledger.dips),
        dip_plan(ledger.dips, ledger.mark_mm) if ledger.dips and ledger.mark_mm is not None else None,
        ledger.mark_mm,
        ledger.depth_mm,
        job.depth_mm,
        ledger.variant,
        consequence_of(service, row, ledger.assessment, clock.today()),
        drain_shares(job, ledger),
        sum(float(p.values["volume_ml"]) for p in ledger.all_pours if not p.values.get("container")),
    )


DRIP_WAIT_S = 600.0  # what ten more minutes yield


def _drip(ledger: run.Ledger) -> DripYield | None:
    """What more waiting yields, from the drops counted so far."""
    if not ledger.drips:
        return None
    first = ledger.drips[0].at
    rates = [((e.at - first).total_seconds(), drop_rate(float(e.values["drops"]), float(e.values["seconds"]))) for e in ledger.drips]
    kept = [r for k, r in enumerate(rates) if k == len(rates) - 1 or r[0] < rates[k + 1][0]]
    return drip_yield(kept, DRIP_WAIT_S)


def _inside(job: guide.Job, ledger: run.Ledger) -> Balance | None:
    """Between what bounds the amount inside lies after a suction."""
    if ledger.recovery is None or ledger.drained is None or job.sheet.capacity_ml is None:
        return None
    return balance(ledger.poured_ml, ledger.drained.volume_ml, job.sheet.capacity_ml)


MOST_READINGS = 200  # drawn and fitted; older ones say nothing of the present rate


def _warmup(job: guide.Job, ledger: run.Ledger) -> WarmUp | None:
    """When the window opens and closes, from the latest readings; None while they are too few or do not fit a law."""
    window, rows = job.sheet.level.window, ledger.readings[-MOST_READINGS:]
    if window is None or len(rows) < FEWEST_SAMPLES:
        return None
    try:
        return warmup_eta([(e.at.timestamp() - rows[0].at.timestamp(), float(e.values["temperature_c"])) for e in rows], window)
    except CoreError:
        return None


def service_view(service: Service, procedure: guide.Procedure, state: run.State, events: list[run.Event]) -> ServiceView:
    """The view of a folded service."""
    revoked = {str(e.values.get("event")) for e in events if e.kind == "undo"}
    undoable = [e for e in events if e.kind in run.UNDOABLE and e.id not in revoked]
    vehicle = state_of_vehicle(service.vehicle_id, (service.pk, procedure, state)) if service.state == "open" else VehicleState()
    return ServiceView(
        service.pk,
        service.vehicle_id,
        service.vehicle.name,
        service.vehicle.plate,
        service.vehicle.kind,
        service.vehicle.meter,
        service.meter_value,
        service.state,
        service.started_at,
        service.started_by.shown_name,
        clock.now(),
        state.current,
        state.stopped,
        events[-1].seq if events else 0,
        undoable[-1].id if undoable else "",
        tuple(_step_view(s, state, vehicle, service.pk) for s in procedure.steps),
        tuple(_ledger_view(service, j, state.ledgers[j.key]) for j in procedure.jobs),
        tuple(NoteView(str(n.values.get("text", "")), n.by, n.at) for n in state.notes),
        tuple(text for _, text in state.gaps),
        tuple(RecordRef(str(c), pk) for c, pk in service.records.values_list("compartment_id", "pk")) if service.state == "signed" else (),
        phase_times(procedure, state, events, service.started_at),
        photos_of_service(service, procedure),
        state.tilt_deg,
        ", ".join(dict.fromkeys(WORK_WORDS[j.kind_of_work] for j in procedure.jobs)),
        vehicle.sentences,
    )


def state_of_vehicle(vehicle_id: int, known: tuple[int, guide.Procedure, run.State] | None = None) -> VehicleState:
    """The state of a vehicle over all its open services and the stops that nobody has cleared; ``known`` is one that is folded already."""
    told = [] if known is None else [known]
    others = Service.objects.filter(vehicle_id=vehicle_id, state="open")
    if known is not None:
        others = others.exclude(pk=known[0])
    for service in others.select_related("vehicle", "started_by"):
        events = events_of(service)
        procedure = procedure_of(service, events)
        told.append((service.pk, procedure, run.fold(procedure, events)))
    rows = FollowUp.objects.filter(compartment__vehicle_id=vehicle_id, stop=True, done_at=None).select_related("compartment")
    return vehicle_state(told, [Stop(f.compartment.name, f.what) for f in rows])


def view(service_id: int) -> ServiceView:
    """The view of a service; raises Service.DoesNotExist."""
    service = load(service_id)
    events = events_of(service)
    procedure = procedure_of(service)
    return service_view(service, procedure, run.fold(procedure, events), events)


def trial(service_id: int, kind: str, step: str, values: Mapping[str, Any]) -> LedgerView | None:
    """What the ledger of a step's compartment would be if these values were noted; raises what would refuse them."""
    service = load(service_id)
    events = events_of(service)
    procedure = procedure_of(service, events)
    new = run.Event("trial", (events[-1].seq if events else 0) + 1, kind, step, values, clock.now())
    state = run.accept(procedure, events, new)
    key = procedure.by_id[step].compartment if step in procedure.by_id else ""
    return _ledger_view(service, procedure.job(key), state.ledgers[key]) if key else None


@dataclass(frozen=True)
class DebrisRule:
    id: str
    evidence: str
    levels: str
    basis: str


def debris_table() -> list[DebrisRule]:
    """The table by which findings are judged."""
    return [DebrisRule(r.id, r.evidence, r.levels, "common practice") for r in RULES]
