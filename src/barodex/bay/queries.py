"""Reads of services: the folded state as the page draws it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from barodex import clock
from barodex.book.amounts import measured, records_of_box
from barodex.book.consequences import ConsequenceView, open_consequences
from barodex.core import guide, run
from barodex.core.findings.debris import RULES
from barodex.core.guide.level import FEWEST_SAMPLES, WarmUp, warmup_eta
from barodex.core.guide.purpose import Purpose
from barodex.core.ledger.dips import dip_plan
from barodex.core.ledger.drained import NO_FILL, SOME_STAYS
from barodex.core.ledger.draining import Between, DripYield, drip_yield, drop_rate, inside_between
from barodex.core.quantity.errors import CoreError
from barodex.core.run.exchanging import drain_shares
from barodex.core.run.gaps import GapReport, gap_report
from barodex.core.run.phases import phase_times
from barodex.core.run.vehicle import Stop, VehicleState, forbidden, vehicle_state
from barodex.core.sheet.work import WORK_WORDS
from barodex.core.verdict.consequences import CONSEQUENCE_KINDS

from .guides import acts_of, jobs_of, load, procedure_of
from .keeping import gaps_of, page_of
from .models import Service
from .photos import photos_of_service
from .promise import Follows, promise_of
from .views import (
    CycleView,
    DipView,
    FieldView,
    LedgerView,
    NoteView,
    PourView,
    RecordRef,
    ResetView,
    ServiceView,
    StepView,
    TemperatureReading,
)


def _field_view(f: guide.Field) -> FieldView:
    number = float(f.default) if isinstance(f.default, (int, float)) and not isinstance(f.default, bool) else None
    words = f.default if isinstance(f.default, str) else ""
    return FieldView(
        f.name, f.kind, f.label, f.required, f.choices, number, words, guide.torque_words(number) if f.kind == "torque" else ""
    )


def _step_view(step: guide.Step, state: run.State, vehicle: VehicleState, service: int) -> StepView:
    here = state.steps[step.id]
    act = here.act
    checklist = state.refit if step.purpose == Purpose.WIPE else step.checklist
    return StepView(
        id=step.id,
        purpose=step.purpose.value,
        phase=step.phase,
        kind=step.kind,
        title=step.title,
        task=step.task,
        cycle=step.cycle,
        why=step.why,
        compartment=step.compartment,
        caution=step.caution,
        advice=tuple(a for a in step.advice if a),
        checklist=tuple(checklist),
        fields=tuple(_field_view(f) for f in step.fields),
        gate=step.gate,
        skip=step.skip,
        required=step.required,
        status=here.status,
        why_locked=here.why_locked,
        timer_s=step.timer_s,
        timer_started=here.timer_started,
        timer_stopped=here.timer_stopped,
        act=act.id if act else "",
        done_by=act.by if act else "",
        done_at=act.at if act else None,
        values=dict(act.values) if act else {},
        window_low_c=step.window.low_c if step.window else None,
        window_high_c=step.window.high_c if step.window else None,
        calls=step.calls,
        resets=tuple(ResetView(name, *here.results.get(name, ("", ""))) for name in step.resets),
        forbidden=_forbidden(step, here, vehicle, service),
        checks=step.checks,
    )


def _forbidden(step: guide.Step, here: run.StepState, vehicle: VehicleState, service: int) -> str:
    """Why an open step must not be done now, by what else is open on the vehicle."""
    if here.status != "open" or not (step.moves_vehicle or step.runs_engine or step.opens_oil):
        return ""
    refused = forbidden(vehicle, step, service)
    return str(refused) if refused is not None else ""


def _ledger_view(service: Service, procedure: guide.Procedure, job: guide.Job, state: run.State) -> LedgerView:
    ledger = state.ledgers[job.key]
    row = next(j for j in jobs_of(service) if str(j.compartment_id) == job.key)
    finding = ledger.finding or job.previous
    return LedgerView(
        compartment=job.key,
        name=job.name,
        oil=job.oil,
        family=job.sheet.requirement.family,
        colour=(finding.colour if finding else None) or "",
        capacity_ml=job.sheet.capacity_ml,
        last_in_ml=job.last_net_in.volume_ml if job.last_net_in else None,
        last_on=job.last_filled_on,
        target_ml=ledger.target_ml,
        target_basis=ledger.target_basis,
        drained_ml=ledger.drained.volume_ml if ledger.drained else None,
        drained_c=ledger.drained.temperature_c if ledger.drained and not ledger.drained.temperature_sigma_k else None,
        drained_15_ml=ledger.drained_15_ml,
        loss=ledger.judged_loss,
        no_loss="" if ledger.loss is not None or ledger.drained is None else NO_FILL if job.last_net_in is None else SOME_STAYS,
        assessment=ledger.assessment,
        poured_ml=ledger.poured_ml,
        run_out_ml=ledger.run_out_ml,
        pours=tuple(PourView(e.id, float(e.values["volume_ml"]), e.at, e.by) for e in ledger.pours),
        fill_method=job.sheet.fill_method,
        tolerance=guide.POUR_TOLERANCE[job.sheet.fill_method],
        cycles=tuple(CycleView(c.drained_ml, c.poured_ml) for c in ledger.cycles),
        cycles_planned=ledger.wanted_cycles,
        fresh=run.fresh_share(job, ledger),
        window_low_c=job.sheet.level.window_low_c,
        window_high_c=job.sheet.level.window_high_c,
        readings=tuple(TemperatureReading(e.at, float(e.values["temperature_c"])) for e in ledger.readings[-MOST_READINGS:]),
        warmup=_warmup(job, ledger),
        work=job.kind_of_work,
        school=job.school if job.kind_of_work == "exchange" else "",
        cycles_most=job.most_cycles,
        outlook=run.exchange_outlook(job, ledger),
        recovery=ledger.recovery,
        inside=_inside(job, ledger),
        flush_in_ml=ledger.flush_in_ml,
        flush_out_ml=ledger.flush_out_ml,
        drip=_drip(ledger),
        dips=tuple(DipView(added, reading) for added, reading in ledger.dips),
        dip=dip_plan(ledger.dips, ledger.mark_mm) if ledger.dips and ledger.mark_mm is not None else None,
        mark_mm=ledger.mark_mm,
        depth_mm=ledger.depth_mm,
        before_depth_mm=job.depth_mm,
        variant=ledger.variant,
        promise=promise_of(service, row, procedure, state, clock.today()),
        drain_shares=drain_shares(job, ledger),
        elsewhere_ml=sum(float(p.values["volume_ml"]) for p in ledger.all_pours if not p.values.get("container")),
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


def _inside(job: guide.Job, ledger: run.Ledger) -> Between | None:
    """Between what bounds the amount inside lies after a suction."""
    if ledger.recovery is None or ledger.drained is None or job.sheet.capacity_ml is None:
        return None
    return inside_between(ledger.poured_ml, ledger.drained.volume_ml, job.sheet.capacity_ml)


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


def service_view(service: Service, procedure: guide.Procedure, state: run.State, acts: list[run.Act]) -> ServiceView:
    """The view of a folded service."""
    revoked = {str(e.values.get("act")) for e in acts if e.kind == "undo"}
    undoable = [e for e in acts if e.kind in run.UNDOABLE and e.id not in revoked]
    vehicle = state_of_vehicle(service.vehicle_id, (service.pk, procedure, state)) if service.state == "open" else VehicleState()
    return ServiceView(
        id=service.pk,
        vehicle_id=service.vehicle_id,
        vehicle=service.vehicle.name,
        plate=service.vehicle.plate,
        vehicle_kind=service.vehicle.kind,
        meter=service.vehicle.meter,
        meter_value=service.meter_value,
        state=service.state,
        started_at=service.started_at,
        started_by=service.started_by.shown_name,
        now=clock.now(),
        current=state.current,
        stopped=state.stopped,
        seq=acts[-1].seq if acts else 0,
        last_act=undoable[-1].id if undoable else "",
        steps=tuple(_step_view(s, state, vehicle, service.pk) for s in procedure.steps),
        ledgers=tuple(_ledger_view(service, procedure, j, state) for j in procedure.jobs),
        notes=tuple(NoteView(str(n.values.get("text", "")), n.by, n.at) for n in state.notes),
        gaps=tuple(text for _, text in state.gaps),
        records=_records(service) if service.state == "signed" else (),
        times=phase_times(procedure, state, acts, service.started_at),
        photos=photos_of_service(service, procedure),
        tilt_deg=state.tilt_deg,
        words=", ".join(dict.fromkeys(WORK_WORDS[j.kind_of_work] for j in procedure.jobs)),
        vehicle_says=vehicle.sentences,
    )


def state_of_vehicle(vehicle_id: int, known: tuple[int, guide.Procedure, run.State] | None = None) -> VehicleState:
    """The state of a vehicle over all its open services and the stops that nobody has cleared; ``known`` is one that is folded already."""
    services = [] if known is None else [known]
    others = Service.objects.filter(vehicle_id=vehicle_id, state="open")
    if known is not None:
        others = others.exclude(pk=known[0])
    for service in others.select_related("vehicle", "started_by"):
        acts = acts_of(service)
        procedure = procedure_of(service, acts)
        services.append((service.pk, procedure, run.fold(procedure, acts)))
    return vehicle_state(services, [Stop(c.compartment, f"{c.what}.") for c in open_consequences(vehicle_id) if c.stop])


def view(service_id: int) -> ServiceView:
    """The view of a service; raises Service.DoesNotExist. A signed one shows what it showed, on the vehicle as it is called now."""
    service = load(service_id)
    procedure = procedure_of(service)
    if service.state == "signed":
        vehicle = service.vehicle
        return replace(
            page_of(service),
            vehicle=vehicle.name,
            plate=vehicle.plate,
            records=_records(service),
            photos=photos_of_service(service, procedure),
        )
    acts = acts_of(service)
    return service_view(service, procedure, run.fold(procedure, acts), acts)


def _records(service: Service) -> tuple[RecordRef, ...]:
    """The records of a service with their sums, as the book has them now."""
    found = []
    ahead = sorted(open_consequences(service.vehicle_id), key=lambda c: (CONSEQUENCE_KINDS.index(c.kind), c.id))
    for record in service.records.select_related("compartment__sheet", "compartment__vehicle"):
        m = next((m for m in measured(records_of_box(record.box_id)) if m.record.pk == record.pk), None)
        if m is None:
            continue
        inside = m.sums.inside
        found.append(
            RecordRef(
                str(record.compartment_id),
                record.pk,
                m.said.drained_ml,
                m.said.poured_ml,
                inside.volume_ml if inside else None,
                m.sums.used_ml,
                tuple(_written(c) for c in ahead if c.record == record.pk),
            )
        )
    return tuple(found)


def _written(c: ConsequenceView) -> Follows:
    return Follows(
        c.kind, c.code, c.what, c.due_on, c.due_meter, None, "", id=c.id, offer=c.offer, offer_ml=c.offer_ml, offer_nm=c.offer_nm
    )


def service_gaps(service_id: int) -> GapReport:
    """The gap report of a service, of a signed one as it was; raises Service.DoesNotExist."""
    service = load(service_id)
    if service.state == "signed":
        return gaps_of(service)
    procedure = procedure_of(service)
    return _gaps(service, procedure, run.fold(procedure, acts_of(service)))


def _gaps(service: Service, procedure: guide.Procedure, state: run.State) -> GapReport:
    return gap_report(procedure, state, service.meter_value is not None, service.ambient_c is not None)


def folded_page(service: Service, acts: list[run.Act] | None = None) -> tuple[ServiceView, GapReport]:
    """What a service shows and leaves open, folded from its acts."""
    acts = acts_of(service) if acts is None else acts
    procedure = procedure_of(service, acts)
    state = run.fold(procedure, acts)
    return service_view(service, procedure, state, acts), _gaps(service, procedure, state)


def trial(service_id: int, kind: str, step: str, values: Mapping[str, Any]) -> LedgerView | None:
    """What the ledger of a step's compartment would be if these values were noted; raises what would refuse them."""
    service = load(service_id)
    acts = acts_of(service)
    procedure = procedure_of(service, acts)
    new = run.Act("trial", (acts[-1].seq if acts else 0) + 1, kind, step, values, clock.now())
    state = run.accept(procedure, acts, new)
    key = procedure.by_id[step].compartment if step in procedure.by_id else ""
    return _ledger_view(service, procedure, procedure.job(key), state) if key else None


@dataclass(frozen=True)
class DebrisRule:
    id: str
    evidence: str
    levels: str
    basis: str


def debris_table() -> list[DebrisRule]:
    """The table by which findings are judged."""
    return [DebrisRule(r.id, r.evidence, r.levels, "common practice") for r in RULES]
