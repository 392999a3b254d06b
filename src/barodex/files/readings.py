"""Readings from a spreadsheet."""

from __future__ import annotations

import csv
import datetime as dt
import io
from dataclasses import dataclass

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import CoreError, Inconsistent, Unreadable
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.words import say
from barodex.fleet.actions import check_new_reading, parse_duty
from barodex.fleet.merged import known_as
from barodex.fleet.models import Reading, Vehicle

CSV_COLUMNS = ("vehicle", "date", "reading", "unit", "duty")


CSV_MOST_BYTES = 1_000_000


CSV_MOST_ROWS = 5000


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
        raise CsvRefused(say("The file is {content:.0f} MB; at most 1 MB is read at once.", content=len(content) / 1000000.0))
    if content[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\x00" in content:
        raise CsvRefused(say("The file is UTF-16 or not text at all: save it as CSV in UTF-8."))
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CsvRefused(say("The file is not UTF-8 text: save it as CSV in UTF-8.")) from error


def _read_rows(text: str) -> list[tuple[int, dict[str, str]]]:
    try:
        dialect = csv.Sniffer().sniff(text[:2000], ",;\t")
    except csv.Error:
        dialect = csv.excel
    reader = csv.reader(io.StringIO(text), dialect)
    try:
        header = [h.strip().lower() for h in next(reader, [])]
        if [c for c in CSV_COLUMNS[:3] if c not in header]:
            raise CsvRefused(
                say(
                    "The first line must name the columns {csv_columns}; it reads “{header}”.",
                    csv_columns=", ".join(CSV_COLUMNS),
                    header=",".join(header)[:80],
                )
            )
        rows = []
        for cells in reader:
            if any(c.strip() for c in cells):
                rows.append((reader.line_num, dict(zip(header, (c.strip() for c in cells), strict=False))))
            if len(rows) > CSV_MOST_ROWS:
                raise CsvRefused(say("More than {csv_most_rows} rows: split the file.", csv_most_rows=CSV_MOST_ROWS))
        return rows
    except csv.Error as error:
        raise CsvRefused(say("This is not a CSV file: {error}.", error=error)) from error


def _read_row(row: dict[str, str], vehicles: dict[str, Vehicle]) -> tuple[Vehicle, dt.date, float, dict[str, float] | None]:
    for name in CSV_COLUMNS:
        if row.get(name, "")[:1] in ("=", "@", "+"):
            raise Unreadable(say("A formula is not read: put its result there."), field=name, value=row[name])
    vehicle = vehicles.get(row.get("vehicle", "").removeprefix("'").lower())
    if vehicle is None:
        raise Unreadable(say("No vehicle of that name or plate."), field="vehicle", value=row.get("vehicle", ""))
    try:
        on = dt.date.fromisoformat(row.get("date", ""))
    except ValueError as error:
        raise Unreadable(say("A date reads year-month-day, such as 2026-03-09."), field="date", value=row.get("date", "")) from error
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
        raise CsvRefused(say("There is no row below the column names."))
    vehicles: dict[str, Vehicle] = {}
    for name, plate, v in known_as():
        vehicles[name.lower()] = v
        if plate:
            vehicles[plate.lower()] = v
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
        raise CsvRefused(say("Nothing was taken: {problems} row(s) need mending.", problems=len(problems)), tuple(problems))
    if added:
        audit(by, "readings taken from a file", by, {r[1].pk for r in read}, added=added, known=known)
    return CsvTaken(added, known)
