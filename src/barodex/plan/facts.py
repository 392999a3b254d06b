"""What the due dates are told from, read for many vehicles in a few queries: readings, last changes, rules, counters."""

from __future__ import annotations

import datetime as dt
import functools
from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from django.db.models import CharField, OuterRef, Subquery
from django.db.models.fields.json import KT
from django.db.models.functions import Cast

from barodex.book.models import ConsequenceRow, Correction, OilRecord
from barodex.core.due.interval import Due, Limits, Occasion, next_due
from barodex.core.due.many import Plain, next_dues, plain
from barodex.core.due.meter import READ_TO, Meter
from barodex.core.due.oil_life import Facts, Schooled, cap_occasions, counter_occasion, linked_occasions, schooled_due
from barodex.core.due.schedule import OwnRule, Plan, SchedulePolicy, SheetInterval, plan_for
from barodex.core.due.use import Forecast, forecasts
from barodex.core.verdict.consequences import Consequence, Held, consequence_text, held_by
from barodex.fleet.models import Compartment, CounterReading, Fitting, Vehicle
from barodex.fleet.rules import rules_of, sheet_interval
from barodex.fleet.use import Columns, few_enough, line_of, meter_of_box, readings_of
from barodex.shelf.models import SheetRevision, SpecSheet
from barodex.shelf.queries import current_revision

USUAL = Held()


@dataclass(slots=True)  # twenty thousand are made at once, and a frozen one takes three times as long
class LastChange:
    """The newest change of a compartment as corrected; ``meter`` in km or h."""

    on: dt.date
    meter: float | None
    oil: str
    colour: str
    level: int | None
    held: Held = USUAL  # by what its finding and the work asked
    why: tuple[str, ...] = ()  # in words, where something shortens the interval
    legs_from: tuple[dt.date, float | None] | None = None  # since when it runs here, where it was changed before it was fitted
    carried: float = 0.0  # what it ran elsewhere since that change, km or h
    told_on: dt.date | None = None  # the day of its record, where that lies after today


@dataclass(slots=True)  # twenty thousand are made at once, and a frozen one takes three times as long
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
    rule: OwnRule
    counter: tuple[dt.date, float] | None
    in_service: int | None  # the open service that has it


@dataclass(frozen=True, slots=True)
class VehicleFacts:
    """A vehicle with its readings, its use, its compartments."""

    vehicle: Vehicle
    meter: Meter
    use: Forecast
    split: dict[str, float]
    beyond: float  # run since the last reading, km or h
    boxes: tuple[Box, ...]
    engine: Due | None


MANY = 5000  # rows that are fetched at a time, where there are tens of thousands


@functools.lru_cache(maxsize=20_000)
def _day(text: str) -> dt.date:
    return dt.date.fromisoformat(text)


def last_changes(vehicles: Collection[int] | None = None) -> dict[int, LastChange]:
    """The latest change of each box that is fitted, by its date as corrected. A top-up begins no interval."""
    records = OilRecord.objects.exclude(work="top-up")
    some = few_enough(vehicles)
    if some is not None:
        records = records.filter(box__place__vehicle_id__in=some)
    corrections: dict[int, dict[str, object]] = defaultdict(dict)
    corrected = Correction.objects.order_by("at", "id")
    if some is not None:
        corrected = corrected.filter(record__box__place__vehicle_id__in=some)
    for record, name, after in corrected.values_list("record_id", "field", "after"):
        corrections[record][name] = after
    seen = KT("finding__colour")  # of a finding no more is read: twenty thousand of them are not unpacked for a word each
    day = Cast("on", CharField())  # a few thousand days among tens of thousands of rows: each is read once
    fields = ("pk", "box_id", "day", "meter_value", "oil", "seen", "level")
    boxes = Compartment.objects.all() if some is None else Compartment.objects.filter(vehicle_id__in=some)
    of_one = OilRecord.objects.filter(box=OuterRef("box_id")).exclude(work="top-up").order_by("-on", "-id")
    newest_ids = boxes.order_by().annotate(newest=Subquery(of_one.values("pk")[:1])).values("newest")
    newest = OilRecord.objects.filter(pk__in=newest_ids).order_by().annotate(seen=seen, day=day)
    rows = list(newest.values_list(*fields).iterator(chunk_size=MANY))
    # Where a date was corrected, all records of that compartment are looked at.
    dated_anew = {pk for pk, changed in corrections.items() if "on" in changed}
    if dated_anew:
        anew = set(records.filter(pk__in=dated_anew).values_list("box_id", flat=True))
        rows = [r for r in rows if r[1] not in anew]
        newest_of: dict[int, tuple[dt.date, int, tuple]] = {}
        for row in records.filter(box_id__in=anew).annotate(seen=seen, day=day).values_list(*fields):
            on = dt.date.fromisoformat(str(corrections.get(row[0], {}).get("on", row[2])))
            if row[1] not in newest_of or (on, row[0]) > newest_of[row[1]][:2]:
                newest_of[row[1]] = (on, row[0], row)
        rows += [row for _, _, row in newest_of.values()]
    found = {}
    caps = _caps({row[0] for row in rows}, some)
    for pk, box, text, meter, oil, colour, level in rows:
        on = _day(text)
        if pk in corrections:
            values = {"on": on, "meter_value": meter, "oil": oil, **corrections[pk]}
            on = values["on"] if isinstance(values["on"], dt.date) else dt.date.fromisoformat(str(values["on"]))
            oil, meter = values["oil"], values["meter_value"]
            seen_anew = values.get("finding")
            if isinstance(seen_anew, dict):
                colour, level = seen_anew["finding"].get("colour"), seen_anew["level"]
        mine = caps.get(pk)
        if mine is None:
            found[box] = LastChange(on=on, meter=meter, oil=oil or "", colour=colour or "", level=level)
        else:
            found[box] = LastChange(
                on=on,
                meter=meter,
                oil=oil or "",
                colour=colour or "",
                level=level,
                held=held_by(c for c, _ in mine),
                why=tuple(text for _, text in mine),
            )
    return found


def _caps(newest: Collection[int], vehicles: Collection[int] | None) -> dict[int, list[tuple[Consequence, str]]]:
    """What shortens the interval after each of some records and still stands, with its words."""
    rows = ConsequenceRow.objects.filter(kind="due-cap", done_at=None)
    if vehicles is not None:
        rows = rows.filter(record__box__place__vehicle_id__in=vehicles)
    rows = rows.order_by()
    # Most shortened an interval that is over: their parameters are not unpacked.
    wanted = [pk for pk, record in rows.values_list("pk", "record_id") if record in newest]
    some = few_enough(wanted)
    rows = rows if some is None else rows.filter(pk__in=some)
    found: dict[int, list[tuple[Consequence, str]]] = defaultdict(list)
    for record, code, params, run, days, factor in rows.values_list("record_id", "code", "params", "run", "days", "factor"):
        if record in newest:
            cap = Consequence("due-cap", code, params, run, days, factor)
            found[record].append((cap, consequence_text(cap.kind, code, params)))
    return found


def carried_runs(last: dict[int, LastChange], vehicles: Collection[int] | None) -> dict[int, LastChange]:
    """The last changes of boxes that were fitted here after them: what they ran elsewhere is carried along."""
    fitted = Fitting.objects.filter(off=None).exclude(on=None)
    if vehicles is not None:
        fitted = fitted.filter(compartment__vehicle_id__in=vehicles)
    found = {}
    for f in fitted:
        change = last.get(f.box_id)
        if change is not None and f.on is not None and change.on < f.on:
            ran = meter_of_box(f.box_id).between(change.on, change.meter, f.on, f.meter_value) or 0.0
            found[f.box_id] = replace(change, legs_from=(f.on, f.meter_value), carried=max(0.0, ran))
    return found


def _by_today(last: LastChange | None, as_of: dt.date) -> LastChange | None:
    """A change that lies after today, by a clock that is wrong or a date that is: it is taken as of today, and nothing ran since."""
    if last is None or last.on <= as_of:
        return last
    return replace(last, on=as_of, meter=None, legs_from=None, carried=0.0, told_on=last.on)


def _boxes(as_of: dt.date, vehicles: Collection[int] | None) -> dict[int, list[Box]]:
    rows, counters = Compartment.objects.filter(removed_on=None).order_by("id"), CounterReading.objects.order_by("on", "id")
    some = few_enough(vehicles)
    if some is not None:
        rows = rows.filter(vehicle_id__in=some)
        counters = counters.filter(compartment__vehicle_id__in=some)
    last = last_changes(vehicles)
    counted = {c: (on, used) for c, on, used in counters.values_list("compartment_id", "on", "used")}
    rules, plain = rules_of(some), OwnRule()
    sheets = {}
    used = SpecSheet.objects.prefetch_related("revisions")
    if some is not None:
        used = used.filter(compartments__vehicle_id__in=some).distinct()
    for sheet in used:
        revision = current_revision(sheet.revisions.all(), as_of)
        sheets[sheet.pk] = (sheet.kind, sheet.name, revision, sheet_interval(revision))
    found: dict[int, list[Box]] = defaultdict(list)
    moved = carried_runs(last, some)
    for pk, box_id, vehicle, sheet_id, name, slot, busy in rows.values_list(
        "pk", "box_id", "vehicle_id", "sheet_id", "name", "slot", "in_service_id"
    ).iterator(chunk_size=MANY):
        kind, sheet_name, revision, interval = sheets[sheet_id]
        box = Box(
            id=pk,
            name=name,
            slot=slot,
            kind=kind,
            sheet_id=sheet_id,
            sheet=sheet_name,
            revision=revision,
            interval=interval,
            last=_by_today(moved.get(box_id) or last.get(box_id), as_of),
            rule=rules.get(pk, plain),
            counter=counted.get(pk),
            in_service=busy,
        )
        found[vehicle].append(box)
    return found


def engine_due(vehicle: Vehicle, meter: Meter, use: Forecast, as_of: dt.date) -> Due | None:
    """When the engine's own oil falls due; None where that is not known."""
    since = vehicle.engine_oil_on
    if since is None or not (vehicle.engine_oil_run or vehicle.engine_oil_months):
        return None
    by_km, since = vehicle.meter == "km", min(since, as_of)
    ran = meter.run(since, vehicle.engine_oil_meter, use.ahead.run_by(as_of))
    limits = Limits(
        {"road": vehicle.engine_oil_run} if by_km and vehicle.engine_oil_run and ran is not None else {},
        None if by_km else vehicle.engine_oil_run,
        vehicle.engine_oil_months,
    )
    road = {"road": 1.0}
    if by_km:
        return next_due({"road": ran or 0.0}, None, since, as_of, limits, road, ahead_km=use.ahead)
    return next_due({}, ran, since, as_of, limits, road, ahead_h=use.ahead)


def fleet_facts(as_of: dt.date, vehicles: Collection[int] | None = None, read_now: dict[int, float] | None = None) -> list[VehicleFacts]:
    """The facts of the whole fleet, or of some vehicles; ``read_now``: a meter value that is not written yet, by vehicle."""
    chosen = Vehicle.objects.order_by("id")
    chosen = chosen.filter(retired_on=None) if vehicles is None else chosen.filter(pk__in=vehicles)
    mine = list(chosen)
    readings, boxes = readings_of(vehicles), _boxes(as_of, vehicles)
    nothing = Columns()
    for v in mine if read_now else ():
        readings.setdefault(v.pk, Columns()).add(as_of, read_now[v.pk], READ_TO[v.meter])
    meters = [readings.get(v.pk, nothing).meter(as_of) for v in mine]
    uses = forecasts([line_of(v, m) for v, m in zip(mine, meters, strict=True)], as_of)
    found = []
    for v, meter, use in zip(mine, meters, uses, strict=True):
        split = v.duty_split or {"road": 1.0}
        beyond = use.ahead.run_by(as_of)
        found.append(VehicleFacts(v, meter, use, split, beyond, tuple(boxes[v.pk]), engine_due(v, meter, use, as_of)))
    return found


def facts_of(v: VehicleFacts, box: Box, as_of: dt.date) -> Facts:
    """What the core needs to tell the due of a compartment."""
    last, use = box.last, v.use
    legs: dict[str, float] | None = None
    occasions: list[Occasion] = []
    since = last.on if last else None
    if last is not None:
        legs = v.meter.legs(*(last.legs_from or (last.on, last.meter)), v.beyond, v.split)
        if legs is not None and last.carried:
            legs["road"] = legs.get("road", 0.0) + last.carried
        if box.rule.linked:
            occasions += linked_occasions(box.rule, since, use.season, v.engine, as_of)
        counted = counter_occasion(box.counter[1], box.counter[0], since, as_of) if box.counter else None
        if counted is not None:
            occasions.append(counted)
    now = None if v.meter.last_value is None else v.meter.last_value + v.beyond
    factor = last.held.factor if last else 1.0
    caps: tuple[Occasion, ...] = ()
    if last is not None and (last.held.run is not None or last.held.days is not None):
        run = None if legs is None else sum(legs.values())
        caps = cap_occasions(last.held.run, last.held.days, last.on, run, use.ahead, as_of)
    return Facts(
        meter=v.vehicle.meter,
        since=since,
        legs=legs,
        split=v.split,
        ahead=use.ahead,
        meter_now=now,
        factor=factor,
        warranty_until=v.vehicle.warranty_until,
        occasions=tuple(occasions),
        caps=caps,
    )


def due_of(v: VehicleFacts, box: Box, policy: SchedulePolicy, as_of: dt.date) -> tuple[Schooled, Facts]:
    """The due of a compartment by the school in force, with its facts."""
    facts = facts_of(v, box, as_of)
    return schooled_due(box.kind, box.interval, box.rule, policy, facts, as_of), facts


def _plain(v: VehicleFacts, box: Box, plan: Plan, policy: SchedulePolicy, as_of: dt.date) -> Plain | None:
    """A compartment to which nothing happens but use and time; None where its facts have to be looked at one by one."""
    last, until = box.last, v.vehicle.warranty_until
    if last is None or box.rule.linked or box.counter or last.legs_from:
        return None
    if last.held.run is not None or last.held.days is not None or last.on > as_of:
        return None
    if until is not None and until >= as_of and policy.warranty == "leave closed":
        return None
    now = v.meter.last_value
    return plain(
        v.meter.legs(last.on, last.meter, v.beyond, v.split),
        last.on,
        plan.limits,
        v.split,
        last.held.factor,
        ahead=v.use.ahead,
        beyond=v.beyond,
        meter_now=None if now is None else now + v.beyond,
        by_km=v.vehicle.meter == "km",
    )


def dues_of(vehicles: Sequence[VehicleFacts], policy: SchedulePolicy, as_of: dt.date) -> list[list[Schooled]]:
    """The dues of every compartment of many vehicles, each as :func:`due_of` gives it; the plain ones in a batch."""
    found: list[list[Schooled]] = []
    rows: list[Plain] = []
    places: list[tuple[list[Schooled], int, Plan]] = []
    plans: dict[tuple[str, int, int, bool], Plan] = {}  # many boxes share a sheet and have no rule of their own
    for v in vehicles:
        mine: list[Schooled] = []
        for box in v.boxes:
            shortened = box.last is not None and box.last.held.factor < 1
            alike = (box.kind, id(box.interval), id(box.rule), shortened)
            plan = plans.get(alike)
            if plan is None:
                plan = plans[alike] = plan_for(box.kind, box.interval, box.rule, policy, "", shortened)
            row = _plain(v, box, plan, policy, as_of)
            if row is None:
                mine.append(due_of(v, box, policy, as_of)[0])
            else:
                rows.append(row)
                places.append((mine, len(mine), plan))
                mine.append(_LATER)
        found.append(mine)
    for (mine, k, plan), due in zip(places, next_dues(rows, as_of), strict=True):
        mine[k] = Schooled(due, plan, None)
    return found


_LATER = Schooled(Due("unknown", "unknown", 1.0), Plan("", Limits({}), "", ()), None)  # until the batch is told


def facts_of_vehicle(vehicle_id: int, as_of: dt.date) -> VehicleFacts:
    """The facts of one vehicle; raises Vehicle.DoesNotExist."""
    return facts_with_reading(vehicle_id, as_of, None)


def facts_with_reading(vehicle_id: int, as_of: dt.date, value: float | None) -> VehicleFacts:
    """The facts of one vehicle once a meter value of the day is written; raises Vehicle.DoesNotExist."""
    found = fleet_facts(as_of, (vehicle_id,), None if value is None else {vehicle_id: value})
    if not found:
        raise Vehicle.DoesNotExist
    return found[0]
