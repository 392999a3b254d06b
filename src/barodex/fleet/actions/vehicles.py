"""Changes of vehicles and compartments, their use and their counters."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.since import check_since, last_hand
from barodex.core.due.season import parse_season
from barodex.core.quantity.errors import CoreError, Inconsistent, OutOfRange, in_range
from barodex.core.words import say
from barodex.fleet.actions.readings import OLDEST, add_reading, check_duty
from barodex.fleet.models import LAYOUTS, SLOTS, VEHICLE_KINDS, Compartment, CounterReading, Vehicle
from barodex.fleet.plates import plain_plate
from barodex.fleet.use import vehicle_forecast
from barodex.shelf.models import SpecSheet


@dataclass(frozen=True)
class CompartmentSpec:
    """A compartment to add: name, place in the driveline, sheet."""

    name: str
    slot: str
    sheet_id: int


@dataclass(frozen=True)
class VehicleSpec:
    """A vehicle to add."""

    name: str
    kind: str
    layout: str
    meter: str = "km"
    plate: str = ""
    duty_split: dict[str, float] | None = None
    warranty_until: dt.date | None = None
    note: str = ""
    meter_value: float | None = None  # what it shows today, km or h
    depot: str = ""
    driver: str = ""
    compartments: tuple[CompartmentSpec, ...] = ()


@dataclass(frozen=True)
class Use:
    """How a vehicle is used: duty shares, season as month-day, and when its engine oil is changed (km or h as it counts)."""

    duty_split: dict[str, float]
    season_from: str = ""
    season_to: str = ""
    engine_oil_run: float | None = None
    engine_oil_months: int | None = None
    engine_oil_on: dt.date | None = None
    engine_oil_meter: float | None = None
    warranty_until: dt.date | None = None


def use_of(vehicle: Vehicle) -> dict[str, Any]:
    """How a vehicle is used, as it stands."""
    return {name: getattr(vehicle, name) for name in Use.__dataclass_fields__}


@transaction.atomic
def set_use(by: Person, vehicle_id: int, use: Use, based_on: int | None = None) -> Vehicle:
    """Say how a vehicle is used; its due dates follow."""
    require(by, "lead")
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    split = check_duty(use.duty_split, "duty_split")
    parse_season(use.season_from, use.season_to)
    if use.engine_oil_run is not None:
        in_range("engine_oil_run", use.engine_oil_run, 1, 1_000_000, vehicle.meter)
    if use.engine_oil_months is not None:
        in_range("engine_oil_months", use.engine_oil_months, 1, 240, "months")
    if use.engine_oil_on is not None and not OLDEST <= use.engine_oil_on <= clock.today():
        raise OutOfRange(say("The engine oil was changed on a day up to today."), field="engine_oil_on", value=str(use.engine_oil_on))
    if (use.engine_oil_run or use.engine_oil_months) and use.engine_oil_on is None:
        raise Inconsistent(say("Say when the engine oil was changed last."), field="engine_oil_on", value="")
    changed = {
        "duty_split": split,
        "season_from": use.season_from.strip(),
        "season_to": use.season_to.strip(),
        "engine_oil_run": use.engine_oil_run,
        "engine_oil_months": use.engine_oil_months,
        "engine_oil_on": use.engine_oil_on,
        "engine_oil_meter": use.engine_oil_meter,
        "warranty_until": use.warranty_until,
    }
    check_since(based_on, use_of(vehicle), changed, say("how {vehicle} is used", vehicle=vehicle.name), last_hand(vehicle))
    was = {name: str(getattr(vehicle, name)) for name, value in changed.items() if getattr(vehicle, name) != value}
    for name, value in changed.items():
        setattr(vehicle, name, value)
    vehicle.save(update_fields=list(changed))
    audit(by, "use changed", vehicle, (vehicle.pk,), was=was)
    return vehicle


@transaction.atomic
def answer_season(by: Person, vehicle_id: int, stands: bool) -> Vehicle:
    """Answer whether a vehicle stands each year as its readings look: its season is set so, or never asked again."""
    require(by, "lead")
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    use = vehicle_forecast(vehicle, list(vehicle.readings.order_by("on", "id")), clock.today())
    if not use.found or use.season is None:
        raise Inconsistent(say("Its readings ask for no season: somebody answered already."), field="stands", value=stands)
    if stands:
        vehicle.season_from, vehicle.season_to = (f"{month:02}-{day:02}" for month, day in (use.season.first, use.season.last))
    else:
        vehicle.all_year = True
    vehicle.save(update_fields=["season_from", "season_to", "all_year"])
    audit(by, "season answered", vehicle, (vehicle.pk,), stands=stands, season=[vehicle.season_from, vehicle.season_to])
    return vehicle


@transaction.atomic
def read_counter(by: Person, compartment_id: int, used: float, on: dt.date | None = None) -> CounterReading:
    """Write what a vehicle's own oil-life counter says of a compartment: the share of life used."""
    require(by, "technician")
    compartment = Compartment.objects.get(pk=compartment_id)
    if not 0 <= used <= 2:
        raise OutOfRange(
            say("{used:.0f} % used: a counter says 0 to 200 %.", used=used * 100), field="used", value=used, allowed="0 to 200 %"
        )
    day = on or clock.today()
    if not OLDEST <= day <= clock.today():
        raise OutOfRange(say("A counter is read on a day up to today."), field="on", value=str(day))
    made = CounterReading.objects.create(compartment=compartment, on=day, used=used, by=by, at=clock.now())
    audit(by, "counter read", made, (compartment.vehicle_id,), used=used)
    return made


def refuse_taken(name: str, plate: str, but: int | None = None) -> None:
    """Refuse a name or a plate that another vehicle has; a plate with and without spaces is one."""
    others = Vehicle.objects.exclude(pk=but)
    if others.filter(name__iexact=name).exists():
        raise Inconsistent(say("There is a vehicle “{name}” already.", name=name), field="name", value=name)
    if plate and plain_plate(plate) in {plain_plate(p) for p in others.exclude(plate="").values_list("plate", flat=True)}:
        raise Inconsistent(say("The plate “{plate}” is on another vehicle.", plate=plate), field="plate", value=plate)


@transaction.atomic
def add_vehicle(by: Person, spec: VehicleSpec) -> Vehicle:
    """Add a vehicle with its compartments."""
    require(by, "lead")
    for name, value, allowed in (("kind", spec.kind, VEHICLE_KINDS), ("layout", spec.layout, LAYOUTS), ("meter", spec.meter, ("km", "h"))):
        if value not in allowed:
            raise Inconsistent(
                say("“{value}” is not one of: {allowed}.", value=value, allowed=", ".join(allowed)),
                field=name,
                value=value,
                allowed=", ".join(allowed),
            )
    split = check_duty(spec.duty_split or {"road": 1.0}, "duty_split")
    refuse_taken(spec.name.strip(), spec.plate.strip())
    vehicle = Vehicle.objects.create(
        name=spec.name.strip(),
        plate=spec.plate.strip(),
        kind=spec.kind,
        layout=spec.layout,
        meter=spec.meter,
        duty_split=split,
        warranty_until=spec.warranty_until,
        note=spec.note,
        depot=spec.depot.strip(),
        driver=spec.driver.strip(),
    )
    for k, compartment in enumerate(spec.compartments):
        _add_compartment(vehicle, compartment, f"compartments.{k}.")
    if spec.meter_value is not None:
        try:
            add_reading(by, vehicle.pk, clock.today(), spec.meter_value)
        except CoreError as error:
            error.field = "meter_value"
            raise
    audit(by, "vehicle added", vehicle, (vehicle.pk,), name=spec.name)
    return vehicle


def _add_compartment(vehicle: Vehicle, spec: CompartmentSpec, at: str = "") -> Compartment:
    if spec.slot not in SLOTS:
        raise Inconsistent(
            say("“{slot}” is not a place in a driveline.", slot=spec.slot), field=f"{at}slot", value=spec.slot, allowed=", ".join(SLOTS)
        )
    if vehicle.compartments.filter(name__iexact=spec.name.strip()).exists():
        raise Inconsistent(
            say("{vehicle} has a “{spec}” already.", vehicle=vehicle.name, spec=spec.name), field=f"{at}name", value=spec.name
        )
    sheet = SpecSheet.objects.filter(pk=spec.sheet_id).first()
    if sheet is None:
        raise Inconsistent(say("Choose the sheet that this compartment stands on."), field=f"{at}sheet_id", value=spec.sheet_id)
    return Compartment.objects.create(vehicle=vehicle, name=spec.name.strip(), slot=spec.slot, sheet=sheet)


@transaction.atomic
def add_compartment(by: Person, vehicle_id: int, spec: CompartmentSpec) -> Compartment:
    """Add a compartment to a vehicle."""
    require(by, "lead")
    made = _add_compartment(Vehicle.objects.get(pk=vehicle_id), spec)
    audit(by, "compartment added", made, (vehicle_id,), name=spec.name)
    return made
