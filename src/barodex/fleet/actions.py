"""Changes of vehicles, compartments and readings."""

from __future__ import annotations

import csv
import datetime as dt
import io
from dataclasses import dataclass

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.errors import CoreError, Inconsistent, OutOfRange, Unreadable
from barodex.core.interval import leg_mix
from barodex.core.policy import DUTIES
from barodex.core.quantity import parse_quantity
from barodex.core.usage import MeterReading, check_reading
from barodex.shelf.models import SpecSheet

from .models import KINDS, LAYOUTS, SLOTS, Compartment, Reading, Vehicle

OLDEST = dt.date(1950, 1, 1)
CSV_COLUMNS = ("vehicle", "date", "reading", "unit")
CSV_MOST_BYTES = 1_000_000
CSV_MOST_ROWS = 5000


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
    compartments: tuple[CompartmentSpec, ...] = ()


@transaction.atomic
def add_vehicle(by: Person, spec: VehicleSpec) -> Vehicle:
    """Add a vehicle with its compartments."""
    require(by, "lead")
    for name, value, allowed in (("kind", spec.kind, KINDS), ("layout", spec.layout, LAYOUTS), ("meter", spec.meter, ("km", "h"))):
        if value not in allowed:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(allowed)}.", field=name, value=value, allowed=", ".join(allowed))
    split = spec.duty_split or {"road": 1.0}
    if set(split) - set(DUTIES):
        raise Inconsistent(f"A duty is one of: {', '.join(DUTIES)}.", field="duty_split", value=", ".join(split))
    leg_mix(split, 0.0)
    if Vehicle.objects.filter(name__iexact=spec.name.strip()).exists():
        raise Inconsistent(f"There is a vehicle “{spec.name}” already.", field="name", value=spec.name)
    if spec.plate and Vehicle.objects.filter(plate__iexact=spec.plate.strip()).exists():
        raise Inconsistent(f"The plate “{spec.plate}” is on another vehicle.", field="plate", value=spec.plate)
    vehicle = Vehicle.objects.create(
        name=spec.name.strip(),
        plate=spec.plate.strip(),
        kind=spec.kind,
        layout=spec.layout,
        meter=spec.meter,
        duty_split=split,
        warranty_until=spec.warranty_until,
        note=spec.note,
    )
    for k, compartment in enumerate(spec.compartments):
        _add_compartment(vehicle, compartment, f"compartments.{k}.")
    audit(by, "vehicle added", vehicle, name=spec.name)
    return vehicle


def _add_compartment(vehicle: Vehicle, spec: CompartmentSpec, at: str = "") -> Compartment:
    if spec.slot not in SLOTS:
        raise Inconsistent(f"“{spec.slot}” is not a place in a driveline.", field=f"{at}slot", value=spec.slot, allowed=", ".join(SLOTS))
    if vehicle.compartments.filter(name__iexact=spec.name.strip()).exists():
        raise Inconsistent(f"{vehicle.name} has a “{spec.name}” already.", field=f"{at}name", value=spec.name)
    sheet = SpecSheet.objects.filter(pk=spec.sheet_id).first()
    if sheet is None:
        raise Inconsistent("Choose the sheet that this compartment stands on.", field=f"{at}sheet_id", value=spec.sheet_id)
    return Compartment.objects.create(vehicle=vehicle, name=spec.name.strip(), slot=spec.slot, sheet=sheet)


@transaction.atomic
def add_compartment(by: Person, vehicle_id: int, spec: CompartmentSpec) -> Compartment:
    """Add a compartment to a vehicle."""
    require(by, "lead")
    made = _add_compartment(Vehicle.objects.get(pk=vehicle_id), spec)
    audit(by, "compartment added", made, name=spec.name)
    return made


def neighbours(vehicle: Vehicle, on: dt.date) -> tuple[MeterReading | None, MeterReading | None]:
    """The readings before (or on) and after a day."""
    earlier = vehicle.readings.filter(on__lte=on).order_by("-on", "-id").first()
    later = vehicle.readings.filter(on__gt=on).order_by("on", "id").first()
    return tuple(MeterReading(r.on, r.value, r.swap) if r else None for r in (earlier, later))


def check_new_reading(vehicle: Vehicle, on: dt.date, value: float, swap: bool = False) -> None:
    """Refuse a reading that cannot be true: in the future, in the far past, or out of line with its neighbours."""
    if on > clock.today():
        raise OutOfRange(f"{on:%d %b %Y} lies in the future.", field="on", value=str(on), allowed=f"up to {clock.today():%d %b %Y}")
    if on < OLDEST:
        raise OutOfRange(f"{on:%d %b %Y} is too long ago.", field="on", value=str(on), allowed="from 1950 on")
    earlier, later = neighbours(vehicle, on)
    check_reading(earlier, MeterReading(on, value, swap), later, vehicle.meter)


@transaction.atomic
def add_reading(by: Person, vehicle_id: int, on: dt.date, value: float, swap: bool = False, source: str = "typed") -> Reading:
    """Write a meter reading; the same one twice is one. ``swap`` says that a new or reset meter begins with it."""
    require(by, "technician")
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    known = vehicle.readings.filter(on=on, value=value).first()
    if known:
        return known
    check_new_reading(vehicle, on, value, swap)
    reading = Reading.objects.create(vehicle=vehicle, on=on, value=value, swap=swap, source=source, by=by, at=clock.now())
    audit(by, "reading written", reading, value=value, swap=swap)
    return reading


@dataclass(frozen=True)
class RowProblem:
    """What is wrong with a row: its line in the file, the value, and a sentence."""

    line: int
    value: str
    message: str


class CsvRefused(Inconsistent):
    """A file of which nothing was taken, with what is wrong row by row."""

    def __init__(self, message: str, rows: tuple[RowProblem, ...] = ()) -> None:
        super().__init__(message, field="file", value="")
        self.rows = rows


@dataclass(frozen=True)
class CsvTaken:
    """How many readings a file added, and how many were on record already."""

    added: int
    known: int


def _decode(content: bytes) -> str:
    if len(content) > CSV_MOST_BYTES:
        raise CsvRefused(f"The file is {len(content) / 1e6:.0f} MB; at most 1 MB is read at once.")
    if content[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\x00" in content:
        raise CsvRefused("The file is UTF-16 or not text at all: save it as CSV in UTF-8.")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CsvRefused("The file is not UTF-8 text: save it as CSV in UTF-8.") from error


def _read_rows(text: str) -> list[tuple[int, dict[str, str]]]:
    try:
        dialect = csv.Sniffer().sniff(text[:2000], ",;\t")
    except csv.Error:
        dialect = csv.excel
    reader = csv.reader(io.StringIO(text), dialect)
    try:
        header = [h.strip().lower() for h in next(reader, [])]
        if [c for c in CSV_COLUMNS[:3] if c not in header]:
            raise CsvRefused(f"The first line must name the columns {', '.join(CSV_COLUMNS)}; it reads “{','.join(header)[:80]}”.")
        rows = []
        for cells in reader:
            if any(c.strip() for c in cells):
                rows.append((reader.line_num, dict(zip(header, (c.strip() for c in cells), strict=False))))
            if len(rows) > CSV_MOST_ROWS:
                raise CsvRefused(f"More than {CSV_MOST_ROWS} rows: split the file.")
        return rows
    except csv.Error as error:
        raise CsvRefused(f"This is not a CSV file: {error}.") from error


def _read_row(row: dict[str, str], vehicles: dict[str, Vehicle]) -> tuple[Vehicle, dt.date, float]:
    for name in CSV_COLUMNS:
        if row.get(name, "")[:1] in ("=", "@", "+"):
            raise Unreadable("A formula is not read: put its result there.", field=name, value=row[name])
    vehicle = vehicles.get(row.get("vehicle", "").lower())
    if vehicle is None:
        raise Unreadable("No vehicle of that name or plate.", field="vehicle", value=row.get("vehicle", ""))
    try:
        on = dt.date.fromisoformat(row.get("date", ""))
    except ValueError as error:
        raise Unreadable("A date reads year-month-day, such as 2026-03-09.", field="date", value=row.get("date", "")) from error
    unit = row.get("unit") or vehicle.meter
    kind = "distance" if vehicle.meter == "km" else "engine_hours"
    return vehicle, on, round(parse_quantity(f"{row.get('reading', '')} {unit}", kind), 3)


@transaction.atomic
def import_readings(by: Person, content: bytes) -> CsvTaken:
    """Take a CSV file of readings, all of it or nothing; the same file twice adds nothing.

    Columns: vehicle (name or plate), date (year-month-day), reading, unit (km, mi or h; empty: as the vehicle counts).
    """
    require(by, "technician")
    rows = _read_rows(_decode(content))
    if not rows:
        raise CsvRefused("There is no row below the column names.")
    vehicles: dict[str, Vehicle] = {}
    for v in Vehicle.objects.all():
        vehicles[v.name.lower()] = v
        if v.plate:
            vehicles[v.plate.lower()] = v
    problems: list[RowProblem] = []
    read: list[tuple[int, Vehicle, dt.date, float]] = []
    for line, row in rows:
        try:
            read.append((line, *_read_row(row, vehicles)))
        except CoreError as error:
            problems.append(RowProblem(line, str(error.value)[:60], error.message))
    added = known = 0
    for line, vehicle, on, value in sorted(read, key=lambda r: r[2]):
        if vehicle.readings.filter(on=on, value=value).exists():
            known += 1
            continue
        try:
            check_new_reading(vehicle, on, value)
        except CoreError as error:
            problems.append(RowProblem(line, f"{value:g}", error.message))
            continue
        Reading.objects.create(vehicle=vehicle, on=on, value=value, source="csv", by=by, at=clock.now())
        added += 1
    if problems:
        problems.sort(key=lambda p: p.line)
        raise CsvRefused(f"Nothing was taken: {len(problems)} row(s) need mending.", tuple(problems))
    if added:
        audit(by, "readings taken from a file", by, added=added, known=known)
    return CsvTaken(added, known)
