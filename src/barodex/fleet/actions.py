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
from barodex.core.due.policy import DUTIES, DUTY_WORDS
from barodex.core.due.season import parse_season
from barodex.core.due.use import READ_TO, MeterReading, check_reading
from barodex.core.quantity.errors import CoreError, Inconsistent, OutOfRange, Unreadable, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.shelf.models import SpecSheet

from .models import KINDS, LAYOUTS, SLOTS, Compartment, CounterReading, Reading, Vehicle, Voidable

OLDEST = dt.date(1950, 1, 1)
CSV_COLUMNS = ("vehicle", "date", "reading", "unit", "duty")
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


def check_duty(split: dict[str, float], field: str = "duty") -> dict[str, float]:
    """Duty shares as they are kept: known duties, each 0 to 1; what they leave over of the whole is road. Raises over 100 %."""
    if set(split) - set(DUTIES):
        raise Inconsistent(f"A duty is one of: {', '.join(DUTIES)}.", field=field, value=", ".join(split), allowed=", ".join(DUTIES))
    for duty, share in split.items():
        if not 0 <= share <= 1:
            raise OutOfRange(
                f"{share * 100:.0f} % {DUTY_WORDS[duty]}: a share lies from 0 to 100 %.", field=duty, value=share, allowed="0 to 100 %"
            )
    others = sum(share for duty, share in split.items() if duty != "road")
    whole = others + split.get("road", max(0.0, 1 - others))
    if abs(whole - 1) > 1e-6:
        raise Inconsistent(f"The duty shares add up to {whole * 100:.0f} %, not 100 %.", field=field, value=whole, allowed="100 %")
    kept = {**split, "road": 1 - others}
    return {duty: share for duty, share in kept.items() if share > 1e-9}


def parse_duty(text: str) -> dict[str, float] | None:
    """Read the duty of a leg: "track", or shares such as "track 25 %, off_road 10 %", the rest road; empty: as usual."""
    split: dict[str, float] = {}
    for part in filter(None, (p.strip() for p in text.replace(";", ",").split(","))):
        words = part.lower().replace("%", " ").split()
        name = words[0].replace("-", "_")
        try:
            split[name] = float(words[1]) / 100 if len(words) > 1 else 1.0
        except ValueError as error:
            raise Unreadable(f"“{part}” is no share: write such as track 25 %.", field="duty", value=part) from error
    return check_duty(split) if split else None


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


@transaction.atomic
def set_use(by: Person, vehicle_id: int, use: Use) -> Vehicle:
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
        raise OutOfRange("The engine oil was changed on a day up to today.", field="engine_oil_on", value=str(use.engine_oil_on))
    if (use.engine_oil_run or use.engine_oil_months) and use.engine_oil_on is None:
        raise Inconsistent("Say when the engine oil was changed last.", field="engine_oil_on", value="")
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
    was = {name: str(getattr(vehicle, name)) for name, value in changed.items() if getattr(vehicle, name) != value}
    for name, value in changed.items():
        setattr(vehicle, name, value)
    vehicle.save(update_fields=list(changed))
    audit(by, "use changed", vehicle, (vehicle.pk,), was=was)
    return vehicle


@transaction.atomic
def read_counter(by: Person, compartment_id: int, used: float, on: dt.date | None = None) -> CounterReading:
    """Write what a vehicle's own oil-life counter says of a compartment: the share of life used."""
    require(by, "technician")
    compartment = Compartment.objects.get(pk=compartment_id)
    if not 0 <= used <= 2:
        raise OutOfRange(f"{used * 100:.0f} % used: a counter says 0 to 200 %.", field="used", value=used, allowed="0 to 200 %")
    day = on or clock.today()
    if not OLDEST <= day <= clock.today():
        raise OutOfRange("A counter is read on a day up to today.", field="on", value=str(day))
    made = CounterReading.objects.create(compartment=compartment, on=day, used=used, by=by, at=clock.now())
    audit(by, "counter read", made, (compartment.vehicle_id,), used=used)
    return made


@transaction.atomic
def add_vehicle(by: Person, spec: VehicleSpec) -> Vehicle:
    """Add a vehicle with its compartments."""
    require(by, "lead")
    for name, value, allowed in (("kind", spec.kind, KINDS), ("layout", spec.layout, LAYOUTS), ("meter", spec.meter, ("km", "h"))):
        if value not in allowed:
            raise Inconsistent(f"“{value}” is not one of: {', '.join(allowed)}.", field=name, value=value, allowed=", ".join(allowed))
    split = check_duty(spec.duty_split or {"road": 1.0}, "duty_split")
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
    audit(by, "vehicle added", vehicle, (vehicle.pk,), name=spec.name)
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
    audit(by, "compartment added", made, (vehicle_id,), name=spec.name)
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
def add_reading(
    by: Person, vehicle_id: int, on: dt.date, value: float, swap: bool = False, source: str = "typed", duty: dict[str, float] | None = None
) -> Reading:
    """Write a meter reading; the same one twice is one. ``swap`` says that a new or reset meter begins with it.

    ``duty``: shares of what was run since the reading before; None: as the vehicle usually does.
    """
    require(by, "technician")
    split = check_duty(duty) if duty else None
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    within = READ_TO[vehicle.meter]
    known = vehicle.readings.filter(on=on, value__gte=value - within, value__lte=value + within).first()
    if known and not swap:
        return known
    check_new_reading(vehicle, on, value, swap)
    reading = Reading.objects.create(vehicle=vehicle, on=on, value=value, swap=swap, duty=split, source=source, by=by, at=clock.now())
    audit(by, "reading written", reading, (vehicle.pk,), value=value, swap=swap)
    return reading


@transaction.atomic
def void_reading(by: Person, reading_id: int, reason: str) -> Reading:
    """Declare a mistyped reading void: it stays with who, when and why, and counts for nothing."""
    require(by, "technician")
    reading = Reading.objects.get(pk=reading_id)
    mark_void(reading, by, reason)
    audit(by, "reading voided", reading, (reading.vehicle_id,), value=reading.value, reason=reason)
    return reading


def mark_void(row: Voidable, by: Person, reason: str) -> None:
    """Set who, when and why on a row that is declared void; called inside the caller's transaction."""
    if len(reason.strip()) < 4:
        raise Inconsistent("Say why it is void.", field="reason", value=reason)
    row.voided_at, row.voided_by, row.void_reason = clock.now(), by, reason.strip()[:300]
    row.save(update_fields=["voided_at", "voided_by", "void_reason"])


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


def _read_row(row: dict[str, str], vehicles: dict[str, Vehicle]) -> tuple[Vehicle, dt.date, float, dict[str, float] | None]:
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
    return vehicle, on, round(parse_quantity(f"{row.get('reading', '')} {unit}", kind), 3), parse_duty(row.get("duty", ""))


@transaction.atomic
def import_readings(by: Person, content: bytes) -> CsvTaken:
    """Take a CSV file of readings, all of it or nothing; the same file twice adds nothing.

    Columns: vehicle (name or plate), date (year-month-day), reading, unit (km, mi or h; empty: as the vehicle counts), duty
    (such as "track 25 %", the rest road; empty or left out: as usual).
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
    read: list[tuple[int, Vehicle, dt.date, float, dict[str, float] | None]] = []
    for line, row in rows:
        try:
            read.append((line, *_read_row(row, vehicles)))
        except CoreError as error:
            problems.append(RowProblem(line, str(error.value)[:60], error.message))
    added = known = 0
    for line, vehicle, on, value, duty in sorted(read, key=lambda r: r[2]):
        if vehicle.readings.filter(on=on, value=value).exists():
            known += 1
            continue
        try:
            check_new_reading(vehicle, on, value)
        except CoreError as error:
            problems.append(RowProblem(line, f"{value:g}", error.message))
            continue
        Reading.objects.create(vehicle=vehicle, on=on, value=value, duty=duty, source="csv", by=by, at=clock.now())
        added += 1
    if problems:
        problems.sort(key=lambda p: p.line)
        raise CsvRefused(f"Nothing was taken: {len(problems)} row(s) need mending.", tuple(problems))
    if added:
        audit(by, "readings taken from a file", by, {r[1].pk for r in read}, added=added, known=known)
    return CsvTaken(added, known)
