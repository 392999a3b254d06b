"""What the book knows already, as a spreadsheet is held against it: read once, in few questions."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from dataclasses import dataclass, field

from barodex.accounts.names import alike
from barodex.book.ledger import entries_of_records, totals
from barodex.book.models import OilRecord
from barodex.core.due.meter import MeterReading
from barodex.core.sheet.sheet import Sheet
from barodex.fleet.merged import known_as
from barodex.fleet.models import Compartment, Reading
from barodex.fleet.plates import plain_plate
from barodex.memory.versions import newest
from barodex.shelf.models import Container, Lubricant, SpecSheet
from barodex.shelf.queries import core_sheet, current_revision


@dataclass(frozen=True)
class KnownVehicle:
    """A vehicle of the book: what it is called, what its meter counts (km or h)."""

    id: int
    name: str
    plate: str
    meter: str


@dataclass(frozen=True)
class KnownBox:
    """A compartment of the book with its sheet as it stands."""

    id: int
    name: str
    sheet: Sheet


@dataclass(frozen=True)
class KnownChange:
    """A change that is on record: day, meter (km or h), oil, mL."""

    on: dt.date
    meter: float | None
    oil: str
    drained_ml: float | None
    poured_ml: float | None


@dataclass
class Known:
    """The book: vehicles by name and by plate, compartments by vehicle and name, oils, sheets and containers by name, changes and readings."""

    version: int
    vehicles: dict[str, KnownVehicle] = field(default_factory=dict)
    plates: dict[str, KnownVehicle] = field(default_factory=dict)
    boxes: dict[tuple[int, str], KnownBox] = field(default_factory=dict)
    oils: dict[str, tuple[int, str]] = field(default_factory=dict)
    sheets: dict[str, int] = field(default_factory=dict)
    containers: set[tuple[str, str]] = field(default_factory=set)
    changes: dict[int, list[KnownChange]] = field(default_factory=lambda: defaultdict(list))
    readings: dict[int, list[MeterReading]] = field(default_factory=lambda: defaultdict(list))


def _amounts() -> dict[int, tuple[float | None, float | None]]:
    return {pk: ((t := totals(rows)).drained_ml, t.poured_ml) for pk, rows in entries_of_records(range(1_000_000)).items()}


def known(today: dt.date) -> Known:
    """Read the book."""
    book = Known(newest())
    for name, plate, v in known_as():
        mine = KnownVehicle(v.pk, v.name, v.plate, v.meter)
        book.vehicles[alike(name)] = mine
        if plate:
            book.plates[plain_plate(plate)] = mine
    revisions = {
        s.pk: current_revision(s.revisions.all(), today)
        for s in SpecSheet.objects.prefetch_related("revisions__plugs", "revisions__sources", "revisions__sheet")
    }
    for c in Compartment.objects.all():
        book.boxes[c.vehicle_id, alike(c.name)] = KnownBox(c.pk, c.name, core_sheet(revisions[c.sheet_id], c.variant))
    book.oils = {alike(o.name): (o.pk, o.name) for o in Lubricant.objects.all()}
    book.sheets = {alike(s.name): s.pk for s in SpecSheet.objects.all()}
    book.containers = {(alike(label), alike(oil)) for label, oil in Container.objects.values_list("label", "lubricant__name")}
    said = _amounts()
    for pk, box, on, meter, oil in OilRecord.objects.exclude(box__place=None).values_list("pk", "box__place", "on", "meter_value", "oil"):
        book.changes[box].append(KnownChange(on, meter, alike(oil), *said.get(pk, (None, None))))
    for vehicle, on, value, swap in Reading.objects.order_by("on", "id").values_list("vehicle_id", "on", "value", "swap"):
        book.readings[vehicle].append(MeterReading(on, value, swap))
    return book
