"""Each row of a spreadsheet, read by its mapping and held against the book: what it becomes, what is wrong, what is there already."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from barodex.accounts.names import alike
from barodex.core.kinds.kind import COMPARTMENT_KINDS, kind_of
from barodex.core.oil.grades import read_grade
from barodex.core.oil.lubricant import FAMILIES
from barodex.core.quantity.errors import CoreError
from barodex.core.quantity.working import ml
from barodex.core.words import say
from barodex.fleet.models import OLDEST
from barodex.fleet.plates import plain_plate

from .cells import FORMULA, decimal_of, is_formula, order_of, read_day, read_figure
from .checks import METER_ALIKE, check_meters, hold_against_the_book
from .columns import OF_KIND, WANTED, guessed, unit_in
from .drafts import BoxDraft, ChangeDraft, ContainerDraft, Issue, OilDraft, ReadingDraft, Row, VehicleDraft, longest
from .known import Known
from .tables import Table
from .words import compartment_by, is_total, usual_meter, vehicle_by

LONGEST = {
    "vehicle": 60,
    "plate": 20,
    "compartment": 60,
    "grade": 40,
    "oil": 60,
    "oil_grade": 40,
    "categories": 40,
    "container": 40,
    "note": 400,
}


@dataclass
class Settings:
    """How a table is read: figure to heading, units by figure, in which order day and month stand, the mark before decimals; empty: as found."""

    use: bool = True
    mapping: dict[str, str] = field(default_factory=dict)
    units: dict[str, str] = field(default_factory=dict)
    order: str = ""
    decimal: str = ""


def first_settings(table: Table) -> Settings:
    """How a table is read until somebody says otherwise: by its headings and by what stands below them."""
    mapping = guessed(table.headings)
    return Settings(True, mapping, {f: unit_in(h, WANTED[f].kind) for f, h in mapping.items() if WANTED[f].kind in OF_KIND})


@dataclass
class Read:
    """A whole file read: its rows, and what is asked of whole columns (table, what)."""

    rows: list[Row]
    asks: list[tuple[int, str]]


@dataclass
class _Table:
    """A table with how its columns are written."""

    number: int
    table: Table
    settings: Settings
    places: dict[str, int]
    order: str
    decimals: dict[str, str]


def _columns(number: int, table: Table, s: Settings) -> _Table:
    places = {f: table.headings.index(h) for f, h in s.mapping.items() if f in WANTED and h in table.headings}

    def values(figure: str) -> list[str]:
        return [cells[places[figure]] for _, cells in table.rows if cells[places[figure]]]

    order = s.order or (order_of(values("on")) if "on" in places else "")
    figures = [f for f in places if WANTED[f].kind in ("volume", "distance", "meter")]
    return _Table(number, table, s, places, order, {f: s.decimal or decimal_of(values(f)) for f in figures})


class Reader:
    """Reads rows one after another; what they name is gathered over the whole file."""

    def __init__(self, book: Known, today: dt.date) -> None:
        self.book, self.today = book, today
        self.vehicles: dict[str, VehicleDraft] = {}
        self.plates: dict[str, VehicleDraft] = {}
        self.boxes: dict[tuple[int, str], BoxDraft] = {}
        self.oils: dict[str, OilDraft] = {}

    def vehicle(self, row: Row) -> VehicleDraft | None:
        """The vehicle that a row names, by plate and name."""
        name, plate = row.cells.get("vehicle", ""), row.cells.get("plate", "")
        if not name and not plate:
            return None
        by_plate = self._of_plate(plain_plate(plate)) if plate else None
        by_name = self._of_name(alike(name)) if alike(name) else None
        if by_plate and by_name and by_plate is not by_name:
            row.problems.append(
                Issue("plate", say("The plate {plate} is of {by_plate}, not of {name}.", plate=plate, by_plate=by_plate.name, name=name))
            )
            return None
        found = by_plate or by_name or VehicleDraft(name or plate, plate)
        if plate and not found.plate and found.id is None:
            found.plate = plate
        elif plate and found.plate and plain_plate(found.plate) != plain_plate(plate):
            row.problems.append(
                Issue("plate", say("{found} has the plate {plate}, here {plate_2}.", found=found.name, plate=found.plate, plate_2=plate))
            )
        self.vehicles[alike(found.name)] = found
        if found.plate:
            self.plates[plain_plate(found.plate)] = found
        said = row.cells.get("vehicle_kind", "")
        kind = vehicle_by(said)
        if said and not kind:
            row.problems.append(Issue("vehicle_kind", say("“{said}” is no kind of vehicle that is known here.", said=said)))
        found.kind = found.kind or kind
        return found

    def _of_plate(self, plate: str) -> VehicleDraft | None:
        if plate not in self.plates and plate in self.book.plates:
            return self._of_name(alike(self.book.plates[plate].name))
        return self.plates.get(plate)

    def _of_name(self, name: str) -> VehicleDraft | None:
        if name not in self.vehicles and name in self.book.vehicles:
            v = self.book.vehicles[name]
            self.vehicles[name] = VehicleDraft(v.name, v.plate, "", v.meter, v.id)
            if v.plate:
                self.plates[plain_plate(v.plate)] = self.vehicles[name]
        return self.vehicles.get(name)

    def box(self, row: Row, vehicle: VehicleDraft) -> BoxDraft | None:
        """The compartment that a row names."""
        name = row.cells.get("compartment", "") or row.cells.get("kind", "")
        if not alike(name):
            return None
        key = (id(vehicle), alike(name))
        found = self.boxes.get(key)
        if found is None:
            there = self.book.boxes.get((vehicle.id, alike(name))) if vehicle.id is not None else None
            found = (
                BoxDraft(vehicle, there.name, id=there.id, sheet=there.sheet) if there else BoxDraft(vehicle, name[:1].upper() + name[1:])
            )
            self.boxes[key] = found
        return found

    def oil(self, name: str) -> OilDraft:
        """The oil of a name."""
        if alike(name) not in self.oils:
            there = self.book.oils.get(alike(name))
            self.oils[alike(name)] = OilDraft(there[1], id=there[0]) if there else OilDraft(name)
        return self.oils[alike(name)]


def _figure(row: Row, t: _Table, figure: str, kind: str, unit: str) -> float | None:
    said = row.cells.get(figure, "")
    if not said:
        return None
    try:
        return read_figure(said, kind, unit, t.decimals.get(figure, ""))
    except CoreError as error:
        row.problems.append(Issue(figure, error.message))
        return None


CONTAINER_ML = (100.0, 250_000.0)  # from the smallest bottle to the largest drum (common practice)


def _volume(row: Row, t: _Table, figure: str) -> float | None:
    """An amount, mL; where no unit is said, in the one by which it is usual here, and asked where that is both or neither."""
    unit = t.settings.units.get(figure, "")
    value = _figure(row, t, figure, "volume", unit)
    if value is None or unit or any(c.isalpha() for c in row.cells[figure]):
        return value
    kind = row.box.as_kind if row.box else ""
    low, high = kind_of(kind).usual_fill_ml if kind else CONTAINER_ML
    fits = [scaled for scaled in (value, value * 1000) if low / 2 <= scaled <= high * 2]
    if len(fits) == 1:
        return fits[0]
    row.problems.append(Issue(figure, say("{cells}: litres or millilitres? Say the unit of the column.", cells=row.cells[figure])))
    return None


def _text_problems(row: Row) -> None:
    for figure, said in row.cells.items():
        most = longest(figure, LONGEST.get(figure, 500))
        if WANTED[figure].kind == "text" and is_formula(said):
            row.problems.append(Issue(figure, FORMULA))
        elif WANTED[figure].kind == "text" and len(said) > most and figure != "note":
            row.problems.append(Issue(figure, say("At most {most} characters; these are {said}.", most=most, said=len(said))))


def _meter(row: Row, t: _Table, vehicle: VehicleDraft) -> float | None:
    """What a meter showed, in km or h as its vehicle counts."""
    said = row.cells.get("meter", "")
    if not said:
        return None
    unit = t.settings.units.get("meter", "")
    hours = any(said.lower().rstrip().endswith(w) for w in (" h", "hrs", "std", "hours")) or said.lower().endswith("h") or unit == "h"
    if not vehicle.meter:
        vehicle.meter = "h" if hours else usual_meter(vehicle.kind or vehicle_by(vehicle.name)) if not unit else "km"
    if hours != (vehicle.meter == "h") and (unit or hours):
        row.problems.append(
            Issue("meter", say("{vehicle} counts {words}.", vehicle=vehicle.name, words="hours" if vehicle.meter == "h" else "distance"))
        )
        return None
    kind = "engine_hours" if vehicle.meter == "h" else "distance"
    return _figure(row, t, "meter", kind, unit if unit in OF_KIND["meter"] else "km" if kind == "distance" else "h")


def _day(row: Row, t: _Table, today: dt.date) -> dt.date | None:
    said = row.cells.get("on", "")
    if not said:
        return None
    try:
        on = read_day(said, t.order)
    except CoreError as error:
        row.problems.append(Issue("on", error.message))
        return None
    if on > today:
        row.problems.append(Issue("on", say("{on} lies in the future.", on=f"{on:%d %b %Y}")))
    elif on < OLDEST:
        row.problems.append(Issue("on", say("{on} is too long ago.", on=f"{on:%d %b %Y}")))
    return on


def _fill_box(row: Row, t: _Table, box: BoxDraft) -> None:
    """What a row says of its compartment, gathered over all rows that name it."""
    said = row.cells.get("kind", "")
    kind, slot = compartment_by(said) if said else ("", "")
    if said and not kind:
        row.problems.append(
            Issue(
                "kind",
                say(
                    "“{said}” is not a kind of compartment: one of {compartment_kinds}.",
                    said=said,
                    compartment_kinds=", ".join(COMPARTMENT_KINDS),
                ),
            )
        )
    by_name = compartment_by(box.name)
    if box.id is None:
        box.kind = box.kind or kind or by_name[0]
        box.slot = box.slot or by_name[1] or slot
        if not box.kind and not row.problems:
            row.problems.append(
                Issue(
                    "kind",
                    say(
                        "Which kind of compartment is “{box}”? One of {compartment_kinds}.",
                        box=box.name,
                        compartment_kinds=", ".join(COMPARTMENT_KINDS),
                    ),
                )
            )
    capacity = _volume(row, t, "capacity_ml")
    if capacity is not None and box.id is None:
        if box.capacity_ml is not None and abs(box.capacity_ml - capacity) > 0.01 * capacity:
            row.problems.append(Issue("capacity_ml", say("Another row says {capacity_ml}.", capacity_ml=ml(box.capacity_ml))))
        box.capacity_ml = box.capacity_ml or capacity
    box.grade = box.grade or row.cells.get("grade", "")
    if box.grade and box.kind and box.id is None:
        try:
            if kind_of(box.kind).family == "gear":  # its sheet is made once every row was read
                read_grade(box.grade)
        except CoreError as error:
            row.problems.append(Issue("grade", error.message))
    box.interval_km = box.interval_km or _figure(row, t, "interval_km", "distance", t.settings.units.get("interval_km", "") or "km")
    months = _figure(row, t, "interval_months", "count", "") if row.cells.get("interval_months") else None
    box.interval_months = box.interval_months or (round(months) if months else None)


def _read_row(row: Row, t: _Table, reader: Reader) -> None:
    """What one row names and says."""
    _text_problems(row)
    row.vehicle = reader.vehicle(row)
    on, said_oil = _day(row, t, reader.today), row.cells.get("oil", "")
    if row.vehicle is not None:
        row.box = reader.box(row, row.vehicle)
        meter = _meter(row, t, row.vehicle)
        if row.box is not None:
            _fill_box(row, t, row.box)
        amounts = (_volume(row, t, "drained_ml"), _volume(row, t, "poured_ml"))
        if row.box is not None and on is not None:
            oil = reader.oil(said_oil) if said_oil else None
            row.change = ChangeDraft(row.box, on, meter, oil, *amounts, row.cells.get("note", "")[:400])
        elif meter is not None:
            row.reading = ReadingDraft(row.vehicle, on or reader.today, meter)
        elif row.box is None and any(a is not None for a in amounts):
            row.problems.append(Issue("compartment", say("An amount of which compartment?")))
    elif any(row.cells.get(f) for f in ("compartment", "meter", "drained_ml", "poured_ml", "on")):
        row.problems.append(Issue("vehicle", say("Of which vehicle?")))
    if said_oil and (row.vehicle is None or "family" in row.cells or "oil_grade" in row.cells):
        _fill_oil(row, t, reader.oil(said_oil))


def _fill_oil(row: Row, t: _Table, oil: OilDraft) -> None:
    """What a row says of an oil, and of a container of it."""
    row.oil = oil
    family = row.cells.get("family", "").lower()
    if family and family not in FAMILIES:
        row.problems.append(Issue("family", say("“{family}” is not one of: {families}.", family=family, families=", ".join(FAMILIES))))
    oil.family = oil.family or (family if family in FAMILIES else "")
    oil.grade = oil.grade or row.cells.get("oil_grade", "") or (row.cells.get("grade", "") if row.vehicle is None else "")
    oil.categories = oil.categories or row.cells.get("categories", "")
    size, content = _volume(row, t, "size_ml"), _volume(row, t, "content_ml")
    if row.vehicle is None and (size is not None or content is not None):
        most = size if size is not None else content or 0.0
        if content is not None and content > most:
            row.problems.append(
                Issue("content_ml", say("It cannot hold more ({content}) than its size ({most}).", content=ml(content), most=ml(most)))
            )
        else:
            label = row.cells.get("container", "") or f"{oil.name}, {ml(most)}"
            row.container = ContainerDraft(oil, label[:40], most, most if content is None else content)


def _say(row: Row, reader: Reader, named: set[int]) -> None:
    """What a row becomes, in words; what it names first is new there."""
    adds = []
    for draft, words in ((row.vehicle, "vehicle"), (row.box, "compartment"), (row.oil or (row.change.oil if row.change else None), "oil")):
        if draft is not None and draft.id is None and id(draft) not in named:
            named.add(id(draft))
            if words != "oil" or row.oil is not None:
                adds.append(say("new {words} {draft}", words=words, draft=draft.name))
    if row.change is not None:
        adds.append(say("a change of {change_on}", change_on=f"{row.change.on:%d %b %Y}"))
    if row.reading is not None:
        there = reader.book.readings.get(row.reading.vehicle.id or 0, [])
        if any(r.on == row.reading.on and abs(r.value - row.reading.value) < METER_ALIKE for r in there):
            row.state = "known" if not adds else row.state
            row.reading = None
        else:
            adds.append(say("a reading of {reading_on}", reading_on=f"{row.reading.on:%d %b %Y}"))
    if row.container is not None:
        if (alike(row.container.label), alike(row.container.oil.name)) in reader.book.containers:
            row.container = None
        else:
            adds.append(say("a container, {content_ml}", content_ml=ml(row.container.content_ml)))
    row.adds = row.adds or adds


def read_file(
    tables: Sequence[Table], settings: Sequence[Settings], repairs: Mapping[str, Mapping[str, Any]], book: Known, today: dt.date
) -> Read:
    """Read a file by its settings and repairs.

    Parameters
    ----------
    tables, settings : of the file, as many of one as of the other
    repairs : by the key of a row: ``cells`` that were put right, ``skip``, ``reason``
    book, today : what it is held against

    Returns
    -------
    Read
    """
    reader, rows, asks, columns = Reader(book, today), [], [], {}
    for number, (table, s) in enumerate(zip(tables, settings, strict=True)):
        if not s.use:
            continue
        t = columns[number] = _columns(number, table, s)
        dates = [cells[t.places["on"]] for _, cells in table.rows] if "on" in t.places else []
        if not t.order and any("/" in d or d.count("-") == 2 for d in dates):
            asks.append((number, "order"))
        last: dict[str, str] = {}
        for line, cells in table.rows:
            row = Row(number, line, {f: cells[k] for f, k in t.places.items() if cells[k]})
            fix = repairs.get(row.key, {})
            if is_total(next((c for c in cells if c), "")) and "on" not in row.cells:
                row.state = "total"
            elif not row.cells:
                row.state = "nothing"
            if fix.get("cells"):
                row.cells = {f: v for f, v in {**row.cells, **fix["cells"]}.items() if v}
            if (
                row.state == "new"
                and not row.cells.get("vehicle")
                and not row.cells.get("plate")
                and row.cells.keys() - {"oil", "family", "oil_grade", "categories", "container", "size_ml", "content_ml", "grade"}
            ):
                row.cells = {**last, **row.cells}  # written once, meant for the rows below
            last = {f: row.cells[f] for f in ("vehicle", "plate") if f in row.cells} if row.state == "new" else last
            row.reason = str(fix.get("reason") or "").strip()
            if fix.get("skip"):
                row.state = "skipped"
            rows.append(row)
    live = [r for r in rows if r.state == "new"]
    for row in live:
        _read_row(row, columns[row.table], reader)
    hold_against_the_book(live, book)
    check_meters(live, book)
    named: set[int] = set()
    for row in live:
        if row.problems:
            row.state = "problem"
            continue
        if row.state == "new":
            _say(row, reader, named)
        if row.state != "new":
            continue
        if row.doubts and len(row.reason) < 4:
            row.state = "doubt"
        elif row.doubts and row.change is not None:
            row.change.gaps = [f"{d.message} {row.reason}" for d in row.doubts]
        if row.state == "new" and not row.adds:
            row.state = "known"
    return Read(rows, asks)
