"""What is due, by which limit, by when: read from readings, records and sheets, computed by the core."""

from __future__ import annotations

import datetime as dt
import functools
from collections import Counter, defaultdict
from dataclasses import dataclass

from django.db.models import Max, Prefetch, QuerySet

from barodex.accounts.models import AuditEntry
from barodex.bay.models import ServiceJob
from barodex.book.models import Correction, OilRecord
from barodex.book.queries import FollowUpView, corrected, open_follow_ups
from barodex.core.interval import Due, Rate, leg_mix, next_due
from barodex.core.policy import limits_for
from barodex.core.usage import Forecast, MeterReading, forecast, run_since
from barodex.fleet.models import Compartment, Reading, Vehicle
from barodex.shelf.queries import current_revision

STATES = ("stop", "overdue", "due", "unknown", "soon", "fine")


@dataclass(frozen=True)
class CompartmentDue:
    """A compartment as a sight glass shows it; ``life_left`` 0 to 1; ``left`` in km, h or days as ``limit`` says."""

    id: int
    name: str
    slot: str
    kind: str
    family: str
    oil: str
    sheet_id: int
    sheet: str
    capacity_ml: float | None
    state: str
    limit: str
    used: float
    life_left: float
    on: dt.date | None
    earliest: dt.date | None
    latest: dt.date | None
    left: float | None
    at_meter: float | None
    basis: str
    last_on: dt.date | None
    last_meter: float | None
    colour: str
    level: int | None
    in_service: int | None


@dataclass(frozen=True)
class VehicleDue:
    """A vehicle with its compartments front to rear as entered; ``together`` are those worth doing in one visit."""

    id: int
    name: str
    plate: str
    kind: str
    layout: str
    meter: str
    meter_now: float | None
    meter_on: dt.date | None
    per_day: float
    per_day_is_default: bool
    readings: int
    warranty_until: dt.date | None
    duty: str
    state: str
    together: tuple[int, ...]
    compartments: tuple[CompartmentDue, ...]


@dataclass(frozen=True)
class StateCount:
    state: str
    count: int


@dataclass(frozen=True)
class DueBoard:
    """The Due page: vehicles worst first, counts by state, and what must be looked at again."""

    today: dt.date
    counts: tuple[StateCount, ...]
    vehicles: tuple[VehicleDue, ...]
    follow_ups: tuple[FollowUpView, ...]


def latest_records(records: QuerySet[OilRecord]) -> dict[int, OilRecord]:
    """The latest change of each compartment, by its date as corrected; only those are read whole. A top-up begins no interval."""
    records = records.exclude(work="top-up")
    moved = {c.record_id: dt.date.fromisoformat(c.after) for c in Correction.objects.filter(field="on").order_by("at", "id")}
    newest: dict[int, tuple[dt.date, int]] = {}
    for pk, compartment, on in records.values_list("pk", "compartment_id", "on"):
        newest[compartment] = max(newest.get(compartment, (dt.date.min, 0)), (moved.get(pk, on), pk))
    whole = OilRecord.objects.prefetch_related("corrections").in_bulk([pk for _, pk in newest.values()])
    return {r.compartment_id: r for r in whole.values()}


def vehicle_forecast(vehicle: Vehicle, readings: list[Reading], as_of: dt.date) -> Forecast:
    """Rate of use of a vehicle, in what its meter counts."""
    return forecast([MeterReading(r.on, r.value, r.swap) for r in readings], as_of, vehicle.kind, vehicle.meter)


def compartment_due(
    c: Compartment, vehicle: Vehicle, readings: list[MeterReading], use: Forecast, last: OilRecord | None, as_of: dt.date
) -> tuple[Due, str]:
    """Next due of a compartment from its last record, and the basis of its interval in words."""
    revision = current_revision(c.sheet.revisions.all(), as_of)
    limits, basis = limits_for(c.sheet.kind, revision.interval_km, revision.interval_h, revision.interval_months)
    split = vehicle.duty_split or {"road": 1.0}
    by_km = vehicle.meter == "km"
    since, ran, factor = None, None, 1.0
    if last is not None:
        values = corrected(last)
        since, factor = values["on"], last.interval_factor
        ran = run_since(readings, since, values["meter_value"], as_of, use.rate.per_day)
    legs = leg_mix(split, ran) if by_km and ran is not None else {}
    if by_km and ran is None:
        limits = type(limits)({}, limits.hours, limits.months)
    meter_now = readings[-1].value + use.rate.per_day * (as_of - readings[-1].on).days if readings else None
    rate: Rate = use.rate
    due = next_due(
        legs,
        None if by_km else ran,
        since,
        as_of,
        limits,
        split,
        rate if by_km else None,
        None if by_km else rate,
        meter_now if by_km else None,
        None if by_km else meter_now,
        factor,
    )
    if factor < 1.0:
        basis += f"; shortened to {factor * 100:.0f} % by what the last change showed"
    return due, basis


def _view(
    c: Compartment, due: Due, basis: str, last: OilRecord | None, in_service: int | None, stopped: bool, as_of: dt.date
) -> CompartmentDue:
    revision = current_revision(c.sheet.revisions.all(), as_of)
    values = corrected(last) if last else {}
    finding = (last.finding if last else None) or {}
    at_meter = due.at_km if due.at_km is not None else due.at_h
    return CompartmentDue(
        c.pk,
        c.name,
        c.slot,
        c.sheet.kind,
        revision.family,
        values.get("oil") or "",
        c.sheet_id,
        c.sheet.name,
        revision.capacity_ml,
        "stop" if stopped else due.state,
        due.limit,
        due.used,
        max(0.0, min(1.0, 1 - due.used)),
        due.on,
        due.earliest,
        due.latest,
        due.left,
        at_meter,
        basis,
        values.get("on"),
        values.get("meter_value"),
        finding.get("colour") or "",
        last.level if last else None,
        in_service,
    )


@functools.lru_cache(maxsize=4)
def _board_at(as_of: dt.date, version: int) -> DueBoard:
    return _compute_board(as_of, None)


def due_board(as_of: dt.date, vehicle_id: int | None = None) -> DueBoard:
    """The whole board, or one vehicle of it.

    Every action writes an audit entry in its own transaction, so the newest entry is the version of the book: as long as
    it and the day stand, the whole board is what it was.
    """
    if vehicle_id is not None:
        return _compute_board(as_of, vehicle_id)
    return _board_at(as_of, AuditEntry.objects.aggregate(newest=Max("id"))["newest"] or 0)


def _compute_board(as_of: dt.date, vehicle_id: int | None) -> DueBoard:
    vehicles = Vehicle.objects.prefetch_related(
        Prefetch("compartments", Compartment.objects.select_related("sheet")), "compartments__sheet__revisions"
    )
    readings: dict[int, list[MeterReading]] = defaultdict(list)
    taken = Reading.objects.all()
    records = OilRecord.objects.all()
    if vehicle_id is not None:
        vehicles = vehicles.filter(pk=vehicle_id)
        taken = taken.filter(vehicle_id=vehicle_id)
        records = records.filter(compartment__vehicle_id=vehicle_id)
    for vehicle, on, value, swap in taken.values_list("vehicle_id", "on", "value", "swap"):
        readings[vehicle].append(MeterReading(on, value, swap))
    last = latest_records(records)
    in_service = dict(ServiceJob.objects.filter(open=True).values_list("compartment_id", "service_id"))
    follow_ups = open_follow_ups()
    stopped = {(f.vehicle_id, f.compartment) for f in follow_ups if f.stop}
    shown = []
    for vehicle in vehicles:
        mine = readings[vehicle.pk]
        use = forecast(mine, as_of, vehicle.kind, vehicle.meter)
        rows = []
        for c in vehicle.compartments.all():
            due, basis = compartment_due(c, vehicle, mine, use, last.get(c.pk), as_of)
            rows.append(_view(c, due, basis, last.get(c.pk), in_service.get(c.pk), (vehicle.pk, c.name) in stopped, as_of))
        worst = min((STATES.index(r.state) for r in rows), default=len(STATES) - 1)
        together = tuple(r.id for r in rows if r.state in ("overdue", "due", "unknown", "soon") and r.in_service is None)
        duty = (
            ", ".join(f"{share * 100:.0f} % {duty.replace('_', '-')}" for duty, share in vehicle.duty_split.items())
            if len(vehicle.duty_split) > 1
            else ""
        )
        shown.append(
            VehicleDue(
                vehicle.pk,
                vehicle.name,
                vehicle.plate,
                vehicle.kind,
                vehicle.layout,
                vehicle.meter,
                mine[-1].value if mine else None,
                mine[-1].on if mine else None,
                use.rate.per_day,
                use.is_default,
                len(mine),
                vehicle.warranty_until,
                duty,
                STATES[worst],
                together,
                tuple(rows),
            )
        )
    shown.sort(key=lambda v: (STATES.index(v.state), -max((c.used for c in v.compartments), default=0.0), v.name))
    counts = Counter(c.state for v in shown for c in v.compartments)
    return DueBoard(
        as_of,
        tuple(StateCount(s, counts[s]) for s in STATES),
        tuple(shown),
        tuple(f for f in follow_ups if vehicle_id is None or f.vehicle_id == vehicle_id),
    )
