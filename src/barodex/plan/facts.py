"""What the due dates are told from, read for many vehicles in a few queries: readings, last changes, rules, counters."""

from __future__ import annotations

import datetime as dt
import functools
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass

from django.db.models import F, Window
from django.db.models.functions import RowNumber

from barodex.book.models import Correction, OilRecord
from barodex.core.interval import Due, Event, Limits, next_due
from barodex.core.schedule import Facts, Rule, SchedulePolicy, Schooled, SheetInterval, counter_event, linked_events, schooled_due
from barodex.core.season import Season, parse_season
from barodex.core.usage import Forecast, Line, Meter, MeterReading, forecasts
from barodex.fleet.models import Compartment, CounterReading, Reading, Vehicle
from barodex.shelf.models import SheetRevision, SpecSheet
from barodex.shelf.queries import current_revision

from .schedule import rules_of, sheet_interval

MANY = 400  # ids in one query; more are read whole


@dataclass(frozen=True, slots=True)
class LastChange:
    """The newest change of a compartment as corrected; ``meter`` in km or h."""

    on: dt.date
    meter: float | None
    oil: str
    colour: str
    level: int | None
    factor: float
    poured_ml: float | None


@dataclass(frozen=True, slots=True)
class Box:
    """A compartment with what is known of it."""

    id: int
    name: str
    slot: str
    kind: str
    sheet_id: int
    sheet: str
    revision: SheetRevision
    interval: SheetInterval
    last: LastChange | None
    rule: Rule
    counter: tuple[dt.date, float] | None


@dataclass(frozen=True, slots=True)
class VehicleFacts:
    """A vehicle with its readings, its use, its compartments."""

    vehicle: Vehicle
    meter: Meter
    use: Forecast
    split: dict[str, float]
    boxes: tuple[Box, ...]
    engine: Due | None


@functools.lru_cache(maxsize=512)
def _season(first: str, last: str) -> Season | None:
    return parse_season(first, last)


def season_of(vehicle: Vehicle) -> Season | None:
    """When a vehicle runs; None for all year."""
    return _season(vehicle.season_from, vehicle.season_to)


def line_of(vehicle: Vehicle, readings: list[MeterReading]) -> Line:
    """A vehicle's readings as the core takes them."""
    return Line(readings, vehicle.kind, vehicle.meter, season_of(vehicle))


def _some(ids: Collection[int] | None) -> Collection[int] | None:
    return ids if ids is not None and len(ids) <= MANY else None


def last_changes(vehicles: Collection[int] | None = None) -> dict[int, LastChange]:
    """The latest change of each compartment, by its date as corrected. A top-up begins no interval."""
    records = OilRecord.objects.exclude(work="top-up")
    some = _some(vehicles)
    if some is not None:
        records = records.filter(compartment__vehicle_id__in=some)
    corrections: dict[int, dict[str, object]] = defaultdict(dict)
    for record, name, after in Correction.objects.order_by("at", "id").values_list("record_id", "field", "after"):
        corrections[record][name] = after
    fields = ("pk", "compartment_id", "on", "meter_value", "oil", "finding", "level", "interval_factor", "poured_ml")
    place = Window(RowNumber(), partition_by=F("compartment_id"), order_by=[F("on").desc(), F("id").desc()])
    rows = list(records.annotate(place=place).filter(place=1).values_list(*fields))
    # Where a date was corrected, all records of that compartment are looked at.
    moved = {pk for pk, changed in corrections.items() if "on" in changed}
    if moved:
        anew = set(records.filter(pk__in=moved).values_list("compartment_id", flat=True))
        rows = [r for r in rows if r[1] not in anew]
        newest: dict[int, tuple[dt.date, int, tuple]] = {}
        for row in records.filter(compartment_id__in=anew).values_list(*fields):
            on = dt.date.fromisoformat(str(corrections.get(row[0], {}).get("on", row[2])))
            if row[1] not in newest or (on, row[0]) > newest[row[1]][:2]:
                newest[row[1]] = (on, row[0], row)
        rows += [row for _, _, row in newest.values()]
    found = {}
    for pk, compartment, on, meter, oil, finding, level, factor, poured in rows:
        values = {"on": on, "meter_value": meter, "oil": oil, "poured_ml": poured, **corrections.get(pk, {})}
        day = values["on"] if isinstance(values["on"], dt.date) else dt.date.fromisoformat(str(values["on"]))
        colour = (finding or {}).get("colour") or ""
        found[compartment] = LastChange(day, values["meter_value"], values["oil"] or "", colour, level, factor, values["poured_ml"])
    return found


def readings_of(vehicles: Collection[int] | None = None) -> dict[int, list[MeterReading]]:
    """The readings of each vehicle in order of date."""
    rows = Reading.objects.order_by("on", "id")
    some = _some(vehicles)
    if some is not None:
        rows = rows.filter(vehicle_id__in=some)
    found: dict[int, list[MeterReading]] = defaultdict(list)
    for vehicle, on, value, swap, duty in rows.values_list("vehicle_id", "on", "value", "swap", "duty"):
        found[vehicle].append(MeterReading(on, value, swap, duty))
    return found


def _boxes(as_of: dt.date, vehicles: Collection[int] | None) -> dict[int, list[Box]]:
    rows, counters = Compartment.objects.order_by("id"), CounterReading.objects.order_by("on", "id")
    some = _some(vehicles)
    if some is not None:
        rows = rows.filter(vehicle_id__in=some)
        counters = counters.filter(compartment__vehicle_id__in=some)
    last = last_changes(vehicles)
    counted = {c: (on, used) for c, on, used in counters.values_list("compartment_id", "on", "used")}
    rules, plain = rules_of(), Rule()
    sheets = {}
    for sheet in SpecSheet.objects.prefetch_related("revisions"):
        revision = current_revision(sheet.revisions.all(), as_of)
        sheets[sheet.pk] = (sheet.kind, sheet.name, revision, sheet_interval(revision))
    found: dict[int, list[Box]] = defaultdict(list)
    for pk, vehicle, sheet_id, name, slot in rows.values_list("pk", "vehicle_id", "sheet_id", "name", "slot"):
        kind, sheet_name, revision, interval = sheets[sheet_id]
        box = Box(pk, name, slot, kind, sheet_id, sheet_name, revision, interval, last.get(pk), rules.get(pk, plain), counted.get(pk))
        found[vehicle].append(box)
    return found


def engine_due(vehicle: Vehicle, meter: Meter, use: Forecast, split: dict[str, float], as_of: dt.date) -> Due | None:
    """When the engine's own oil falls due; None where that is not known."""
    since = vehicle.engine_oil_on
    if since is None or not (vehicle.engine_oil_run or vehicle.engine_oil_months):
        return None
    by_km = vehicle.meter == "km"
    ran = meter.run(since, vehicle.engine_oil_meter, use.ahead)
    limits = Limits(
        {"road": vehicle.engine_oil_run} if by_km and vehicle.engine_oil_run and ran is not None else {},
        None if by_km else vehicle.engine_oil_run,
        vehicle.engine_oil_months,
    )
    road = {"road": 1.0}
    if by_km:
        return next_due({"road": ran or 0.0}, None, since, as_of, limits, road, use.ahead, None)
    return next_due({}, ran, since, as_of, limits, road, None, use.ahead)


def fleet_facts(as_of: dt.date, vehicles: Collection[int] | None = None) -> list[VehicleFacts]:
    """The facts of the whole fleet, or of some vehicles."""
    chosen = Vehicle.objects.order_by("id")
    if vehicles is not None:
        chosen = chosen.filter(pk__in=vehicles)
    mine = list(chosen)
    readings, boxes = readings_of(vehicles), _boxes(as_of, vehicles)
    uses = forecasts([line_of(v, readings[v.pk]) for v in mine], as_of)
    found = []
    for v, use in zip(mine, uses, strict=True):
        meter, split = Meter(readings[v.pk], as_of), v.duty_split or {"road": 1.0}
        found.append(VehicleFacts(v, meter, use, split, tuple(boxes[v.pk]), engine_due(v, meter, use, split, as_of)))
    return found


def facts_of(v: VehicleFacts, box: Box, as_of: dt.date) -> Facts:
    """What the core needs to tell the due of a compartment."""
    last, use = box.last, v.use
    legs, events = None, []
    since = last.on if last else None
    if last is not None:
        legs = v.meter.legs(last.on, last.meter, use.ahead, v.split)
        events += linked_events(box.rule, since, use.season, v.engine, as_of)
        counted = counter_event(box.counter[1], box.counter[0], since, as_of) if box.counter else None
        if isinstance(counted, Event):
            events.append(counted)
    now = v.meter.readings[-1].value + use.ahead.run_by(as_of) if v.meter.readings else None
    factor = last.factor if last else 1.0
    return Facts(v.vehicle.meter, since, legs, v.split, use.ahead, now, factor, v.vehicle.warranty_until, tuple(events))


def due_of(v: VehicleFacts, box: Box, policy: SchedulePolicy, as_of: dt.date) -> tuple[Schooled, Facts]:
    """The due of a compartment by the school in force, with its facts."""
    facts = facts_of(v, box, as_of)
    return schooled_due(box.kind, box.interval, box.rule, policy, facts, as_of), facts


def facts_of_vehicle(vehicle_id: int, as_of: dt.date) -> VehicleFacts:
    """The facts of one vehicle; raises Vehicle.DoesNotExist."""
    found = fleet_facts(as_of, (vehicle_id,))
    if not found:
        raise Vehicle.DoesNotExist
    return found[0]


def vehicle_forecast(vehicle: Vehicle, readings: list[Reading], as_of: dt.date) -> Forecast:
    """Rate of use of a vehicle, in what its meter counts."""
    return forecasts([line_of(vehicle, meter_readings(readings))], as_of)[0]


def meter_readings(readings: list[Reading]) -> list[MeterReading]:
    """Rows as the core takes them."""
    return [MeterReading(r.on, r.value, r.swap, r.duty) for r in readings]
