"""What belongs to a vehicle: the rows that go into its file, and what stays behind."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.apps import apps
from django.db.models import ForeignKey

from barodex import clock
from barodex.accounts.actions import require
from barodex.accounts.models import Person
from barodex.book.models import OilRecord, ServicePhoto
from barodex.book.photos import path_of
from barodex.files.whole.changes import CHANGES, changes_of
from barodex.files.whole.kept import fields_of, plain_value, rows_of
from barodex.files.whole.tables import cell
from barodex.files.whole.zipped import Zipped, csv_pieces, file_pieces
from barodex.fleet.models import Compartment, Fitting, Vehicle
from barodex.workshop.models import Workshop

FORMAT, VERSION = "barodex-vehicle", 1
CONTENT = "vehicle.json"
# The tables of the file, each after those that it refers to.
TABLES = (
    "accounts.person",
    "shelf.lubricant",
    "shelf.specsheet",
    "shelf.sheetrevision",
    "shelf.plug",
    "shelf.figuresource",
    "shelf.sourceclaim",
    "fleet.vehicle",
    "fleet.box",
    "fleet.compartment",
    "fleet.fitting",
    "fleet.reading",
    "fleet.counterreading",
    "fleet.compartmentrule",
    "bay.service",
    "book.oilrecord",
    "book.ledgerrow",
    "book.correction",
    "book.consequencerow",
    "book.servicephoto",
)
NOT_HERE = {"fleet.compartment": ("in_service_id",), "book.ledgerrow": ("container_id",)}  # what they name stays with the workshop
OF_PERSON = ("id", "username", "first_name", "last_name")


def names_of(label: str) -> tuple[str, ...]:
    """The fields of a table that stand in the file."""
    if label == "accounts.person":
        return OF_PERSON
    return tuple(f.attname for f in fields_of(apps.get_model(label)) if f.attname not in NOT_HERE.get(label, ()))


def _rows(label: str, **only: Any) -> list[dict[str, Any]]:
    names = set(names_of(label))
    # as JSON has it: days, times and ids as text
    return [
        json.loads(json.dumps({k: v for k, v in row.items() if k in names}, default=plain_value))
        for row in rows_of(apps.get_model(label), **only)
    ]


def rows_of_vehicle(vehicle_id: int) -> dict[str, list[dict[str, Any]]]:
    """Every row that goes with a vehicle, by table; raises Vehicle.DoesNotExist."""
    Vehicle.objects.get(pk=vehicle_id)
    places = list(Compartment.objects.filter(vehicle=vehicle_id).values_list("pk", flat=True))
    found: dict[str, list[dict[str, Any]]] = {}

    def take(label: str, **only: Any) -> set[Any]:
        found[label] = _rows(label, **only)
        return {r["id"] for r in found[label]}

    def named(label: str, field: str) -> set[Any]:
        return {r[field] for r in found[label]} - {None}

    take("fleet.vehicle", pk=vehicle_id)
    take("fleet.compartment", pk__in=places)
    take("fleet.fitting", compartment__in=places)
    take("fleet.reading", vehicle=vehicle_id)
    take("fleet.counterreading", compartment__in=places)
    take("fleet.compartmentrule", compartment__in=places)
    records = take("book.oilrecord", compartment__in=places)
    take("fleet.box", pk__in=named("fleet.compartment", "box_id") | named("fleet.fitting", "box_id") | named("book.oilrecord", "box_id"))
    for part in ("book.ledgerrow", "book.correction", "book.consequencerow"):
        take(part, record__in=records)
    services = take("bay.service", pk__in=named("book.oilrecord", "service_id"))
    take("book.servicephoto", service__in=services, removed_at=None)
    sheets = named("fleet.compartment", "sheet_id") | set(
        OilRecord.everything.filter(pk__in=records).exclude(revision=None).values_list("revision__sheet", flat=True)
    )
    take("shelf.specsheet", pk__in=sheets)
    revisions = take("shelf.sheetrevision", sheet__in=sheets)
    take("shelf.plug", revision__in=revisions)
    take("shelf.figuresource", revision__in=revisions)
    take("shelf.sourceclaim", sheet__in=sheets)
    take("shelf.lubricant", pk__in=named("book.oilrecord", "lubricant_id"))
    people = {r[f] for label, rows in found.items() for f in people_fields(label) for r in rows} - {None}
    take("accounts.person", pk__in=people)
    return {label: found[label] for label in TABLES}


def people_fields(label: str) -> tuple[str, ...]:
    """The fields of a table that name a person."""
    return tuple(f.attname for f in apps.get_model(label)._meta.local_fields if isinstance(f, ForeignKey) and f.related_model is Person)


def left_behind(vehicle_id: int) -> int:
    """How many changes of the boxes that are fitted now were written at other vehicles: those stay there."""
    boxes = Compartment.objects.filter(vehicle=vehicle_id).values("box")
    return OilRecord.objects.filter(box__in=boxes).exclude(compartment__vehicle=vehicle_id).count()


def _photos(rows: list[dict[str, Any]]) -> list[Path]:
    found = [path_of(p.pk, small) for p in ServicePhoto.objects.filter(pk__in=[r["id"] for r in rows]) for small in (False, True)]
    return [p for p in found if p.exists()]


def vehicle_file(by: Person, vehicle_id: int) -> Iterator[bytes]:
    """The file of a vehicle as a ZIP, in pieces: its rows, its changes as a table, its photos."""
    require(by, "technician")
    made, own = clock.now(), Workshop.objects.first()
    rows = rows_of_vehicle(vehicle_id)
    out = Zipped(made)
    head = {
        "format": FORMAT,
        "version": VERSION,
        "made": made.isoformat(),
        "workshop": own.name if own else "",
        "vehicle": rows["fleet.vehicle"][0]["name"],
        "plate": rows["fleet.vehicle"][0]["plate"],
        "left_behind": left_behind(vehicle_id),
    }
    yield from out.add("changes.csv", csv_pieces(CHANGES.headings, _changes(vehicle_id), cell))
    for path in _photos(rows["book.servicephoto"]):
        yield from out.add(f"photos/{path.parent.name}/{path.name}", file_pieces(path), packed=False)
    content = {**head, "members": dict(sorted(out.digests.items())), "rows": rows}
    yield from out.add(CONTENT, [json.dumps(content, ensure_ascii=False, indent=1).encode()])
    yield out.end()


def _changes(vehicle_id: int) -> Iterator[tuple[Any, ...]]:
    once = Fitting.objects.filter(compartment__vehicle=vehicle_id).order_by("pk").values_list("box", flat=True)
    now = Compartment.objects.filter(vehicle=vehicle_id).order_by("pk").values_list("box", flat=True)
    boxes = dict.fromkeys((*once, *now))
    name = Vehicle.objects.values_list("name", flat=True).get(pk=vehicle_id)
    at = CHANGES.headings.index("vehicle")
    for box in boxes:
        yield from (row for row in changes_of(box) if row[at] == name)
