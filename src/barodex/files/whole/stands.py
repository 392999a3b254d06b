"""What there is, as rows of tables: vehicles, compartments, readings, sheets, oils, stock, parts, visits, people, photos."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterator
from typing import Any

from barodex.accounts.models import Person
from barodex.book.models import ServicePhoto
from barodex.book.photos import path_of
from barodex.core.sheet.figures import declared
from barodex.fleet.models import Compartment, Reading, Vehicle, void_words
from barodex.plan.models import PlannedVisit
from barodex.shelf.models import Container, Lubricant, Pack, SheetRevision, StockMovement, StoreItem, StoreMovement

from .changes import WHERE, where
from .tables import Column, Refers, Table, by_meter, number, shown_ml, text

AT_ONCE = 500
OF_VEHICLE = Refers(("vehicle",), "vehicles", ("vehicle",))
OF_OIL = Refers(("oil",), "oils", ("oil",))
_TYPES = {"count": "integer", "months": "integer", "minutes": "number", "flag": "boolean", "three": "boolean"}


def _vehicles() -> Iterator[tuple[Any, ...]]:
    for v in Vehicle.objects.order_by("pk").iterator(AT_ONCE):
        season = f"{v.season_from} to {v.season_to}" if v.season_from else "all year" if v.all_year else ""
        oil = (v.engine_oil_on, *by_meter(v.meter, v.engine_oil_run), v.engine_oil_months)
        yield (
            v.plate,
            v.name,
            v.kind,
            v.layout,
            v.depot,
            v.driver,
            season,
            v.warranty_until,
            *oil,
            v.note,
            v.retired_on,
            v.retired_how,
            v.retired_note,
        )


def _compartments() -> Iterator[tuple[Any, ...]]:
    for c in Compartment.objects.select_related("vehicle", "sheet", "box").order_by("pk").iterator(AT_ONCE):
        box = (c.box_id, c.box.number, c.box.note, c.variant, c.limited_slip)
        yield (*where(c), c.sheet.kind, c.slot, c.sheet.name, *box, c.removed_on, c.removed_why)


def _readings() -> Iterator[tuple[Any, ...]]:
    for r in Reading.everything.select_related("vehicle", "by", "voided_by").order_by("pk").iterator(AT_ONCE):
        duty = [f"{name} {share:.0%}" for name, share in (r.duty or {}).items()]
        yield (
            r.pk,
            r.vehicle.plate,
            r.vehicle.name,
            r.on,
            *by_meter(r.vehicle.meter, r.value),
            r.swap,
            duty,
            r.source,
            r.by.shown_name,
            void_words(r),
        )


def _sheets() -> Iterator[tuple[Any, ...]]:
    rows = SheetRevision.objects.select_related("sheet", "by").prefetch_related("plugs").order_by("sheet__name", "number")
    for r in rows.iterator(AT_ONCE):
        plugs = [
            ", ".join(filter(None, (p.label or p.role, p.drive, p.seal, "" if p.torque_nm is None else f"{p.torque_nm:g} N·m")))
            for p in r.plugs.all()
        ]
        figures = (getattr(r, name) for name in declared())
        yield (r.sheet.name, r.number, r.sheet.kind, r.effective_on, r.reason, *figures, plugs, r.by.shown_name)


def _oils() -> Iterator[tuple[Any, ...]]:
    for o in Lubricant.objects.order_by("pk").iterator(AT_ONCE):
        yield (
            o.name,
            o.family,
            o.grade,
            o.categories,
            o.base,
            o.density15,
            o.kv40,
            o.kv100,
            o.copper_strip,
            o.approvals,
            o.friction_modifier,
        )


def _packs() -> Iterator[tuple[Any, ...]]:
    for p in Pack.objects.select_related("lubricant").order_by("pk").iterator(AT_ONCE):
        yield p.pk, p.lubricant.name, shown_ml(p.size_ml), p.price


def _containers() -> Iterator[tuple[Any, ...]]:
    for c in Container.objects.select_related("lubricant", "vehicle").order_by("pk").iterator(AT_ONCE):
        amounts = (shown_ml(c.size_ml), shown_ml(c.content_ml))
        yield c.pk, c.label, c.lubricant.name, c.kind, *amounts, c.opened_on, c.vehicle.name if c.vehicle else ""


def _day(at: dt.datetime) -> dt.date:
    return at.date()


def _stock() -> Iterator[tuple[Any, ...]]:
    for m in StockMovement.objects.select_related("container__lubricant", "by").order_by("pk").iterator(AT_ONCE):
        c = m.container
        yield m.pk, c.pk, c.label, c.lubricant.name, _day(m.at), shown_ml(m.change_ml), m.why, m.by.shown_name


def _parts() -> Iterator[tuple[Any, ...]]:
    for i in StoreItem.objects.order_by("pk").iterator(AT_ONCE):
        yield i.name, i.kind, i.count, i.place


def _part_moves() -> Iterator[tuple[Any, ...]]:
    for m in StoreMovement.objects.select_related("item", "by").order_by("pk").iterator(AT_ONCE):
        yield m.pk, m.item.name, _day(m.at), m.change, m.why, m.by.shown_name


def _visits() -> Iterator[tuple[Any, ...]]:
    rows = PlannedVisit.objects.select_related("vehicle", "by", "technician").prefetch_related("compartments").order_by("pk")
    for v in rows.iterator(AT_ONCE):
        names = [c.name for c in v.compartments.all()]
        dropped = None if v.dropped_at is None else _day(v.dropped_at)
        yield (
            v.pk,
            v.vehicle.plate,
            v.vehicle.name,
            names,
            v.on,
            v.hours,
            v.bay,
            v.note,
            v.technician.shown_name if v.technician else "",
            v.by.shown_name,
            dropped,
        )


def _people() -> Iterator[tuple[Any, ...]]:
    for p in Person.objects.order_by("pk").iterator(AT_ONCE):
        yield p.username, p.shown_name, p.role, p.is_active


def _photos() -> Iterator[tuple[Any, ...]]:
    rows = ServicePhoto.objects.select_related("service__vehicle", "compartment", "by").order_by("at", "pk")
    for p in rows.iterator(AT_ONCE):
        file = f"photos/{path_of(p.pk).parent.name}/{path_of(p.pk).name}" if p.removed_at is None else ""
        v = p.service.vehicle
        yield str(p.pk), v.plate, v.name, p.compartment.name if p.compartment else "", _day(p.at), p.task, file, p.by.shown_name


def _figures() -> tuple[Column, ...]:
    return tuple(
        Column(
            name, "number" if of.meaning.unit and of.meaning.kind not in _TYPES else _TYPES.get(of.meaning.kind, "string"), of.meaning.label
        )
        for name, of in declared().items()
    )


THERE = (
    Table(
        "vehicles",
        "Vehicles, those in use and those that left",
        (
            *text("plate", "vehicle", "kind", "layout", "depot", "driver", "season"),
            Column("warranty_until", "date"),
            Column("engine_oil_on", "date"),
            number("engine_oil_every_km"),
            number("engine_oil_every_h"),
            Column("engine_oil_every_months", "integer"),
            Column("note"),
            Column("left_on", "date"),
            *text("left_how", "left_note"),
        ),
        _vehicles,
        ("vehicle",),
    ),
    Table(
        "compartments",
        "Oil compartments and the box that is fitted in each",
        (
            *WHERE,
            *text("kind", "place_in_driveline", "sheet"),
            Column("box", "integer"),
            *text("box_number", "box_note", "variant"),
            Column("limited_slip", "boolean"),
            Column("removed_on", "date"),
            Column("removed_why"),
        ),
        _compartments,
        ("vehicle", "compartment"),
        (OF_VEHICLE,),
    ),
    Table(
        "readings",
        "Meter readings",
        (
            Column("reading", "integer"),
            *text("plate", "vehicle"),
            Column("on", "date"),
            number("meter_km"),
            number("meter_h"),
            Column("new_meter", "boolean", "the first of a new or reset meter"),
            *text("duty", "source", "by", "void"),
        ),
        _readings,
        ("reading",),
        (OF_VEHICLE,),
    ),
    Table(
        "sheets",
        "Spec sheets, every revision",
        (
            Column("sheet"),
            Column("revision", "integer"),
            Column("kind"),
            Column("effective_on", "date"),
            Column("reason"),
            *_figures(),
            *text("plugs", "by"),
        ),
        _sheets,
        ("sheet", "revision"),
    ),
    Table(
        "oils",
        "Oils as their labels and data sheets state them",
        (
            *text("oil", "family", "grade", "categories", "base"),
            number("density15_kg_m3"),
            number("kv40_mm2_s"),
            number("kv100_mm2_s"),
            *text("copper_strip", "approvals"),
            Column("friction_modifier", "boolean"),
        ),
        _oils,
        ("oil",),
    ),
    Table(
        "packs",
        "Packs on offer; the price in the workshop's own money",
        (Column("pack", "integer"), Column("oil"), number("size_ml"), number("price")),
        _packs,
        ("pack",),
        (OF_OIL,),
    ),
    Table(
        "containers",
        "Bottles, cans and drums",
        (
            Column("container_number", "integer"),
            *text("container", "oil", "kind"),
            number("size_ml"),
            number("content_ml"),
            Column("opened_on", "date"),
            Column("carried_by"),
        ),
        _containers,
        ("container_number",),
        (OF_OIL,),
    ),
    Table(
        "stock",
        "What went into and out of containers",
        (
            Column("movement", "integer"),
            Column("container_number", "integer"),
            *text("container", "oil"),
            Column("on", "date"),
            number("change_ml"),
            *text("why", "by"),
        ),
        _stock,
        ("movement",),
        (Refers(("container_number",), "containers", ("container_number",)), OF_OIL),
    ),
    Table(
        "parts",
        "Seals, parts and tools that are counted",
        (*text("part", "kind"), Column("count", "integer"), Column("place")),
        _parts,
        ("part",),
    ),
    Table(
        "part_movements",
        "What came into or left the store",
        (Column("movement", "integer"), Column("part"), Column("on", "date"), Column("change", "integer"), *text("why", "by")),
        _part_moves,
        ("movement",),
        (Refers(("part",), "parts", ("part",)),),
    ),
    Table(
        "visits",
        "Visits that were agreed",
        (
            Column("visit", "integer"),
            *text("plate", "vehicle", "compartments"),
            Column("on", "date"),
            number("bay_hours_h"),
            Column("bay", "integer"),
            *text("note", "technician", "by"),
            Column("dropped_on", "date"),
        ),
        _visits,
        ("visit",),
        (OF_VEHICLE,),
    ),
    Table("people", "Who wrote it", (*text("person", "name", "role"), Column("here", "boolean")), _people, ("person",)),
    Table(
        "photos",
        "Photos, with their files",
        (*text("photo", "plate", "vehicle", "compartment"), Column("on", "date"), *text("of", "file", "by")),
        _photos,
        ("photo",),
        (OF_VEHICLE,),
    ),
)
