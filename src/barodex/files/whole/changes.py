"""What was done, as rows of tables: changes with their sums, amounts, corrections, what follows. One compartment's file is a part of these."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from barodex.book.ledger import entries_of_records, totals
from barodex.book.models import Correction, OilRecord
from barodex.book.queries import RECORDS, RecordView, record_views
from barodex.core.ledger.balance import ENTRY_WORDS
from barodex.fleet.models import Box, Compartment, void_words
from barodex.shelf.models import Container

from .tables import Column, Refers, Table, by_meter, number, shown_ml, text

WHERE = text("plate", "vehicle", "compartment")
AT_PLACE = Refers(("vehicle", "compartment"), "compartments", ("vehicle", "compartment"))
OF_CHANGE = Refers(("change",), "changes", ("change",))
CHANGE = Column("change", "integer", "the number of the change, as the other tables name it")


def where(c: Compartment) -> tuple[str, str, str]:
    """Plate, vehicle and compartment, which stand in every row."""
    return c.vehicle.plate, c.vehicle.name, c.name


def _boxes() -> Iterator[int]:
    yield from Box.objects.order_by("pk").values_list("pk", flat=True).iterator(500)


def _views(box: int) -> list[tuple[OilRecord, RecordView]]:
    """The records of a box as they stand after their corrections."""
    records = list(RECORDS.filter(box=box))
    rows = {r.pk: r for r in records}
    return [(rows[v.id], v) for v in record_views(records)]


def _change(r: OilRecord, v: RecordView) -> tuple[Any, ...]:
    meter = r.compartment.vehicle.meter
    return (
        v.id,
        *where(r.compartment),
        v.on,
        *by_meter(meter, v.meter_value),
        v.work,
        v.oil,
        v.revision,
        shown_ml(v.drained_ml),
        None if v.drained_c is None else round(v.drained_c, 1),
        shown_ml(v.drained_15_ml),
        shown_ml(v.poured_ml),
        shown_ml(v.run_out_ml),
        shown_ml(v.additive_ml),
        shown_ml(v.net_in_15_ml),
        shown_ml(v.inside_15_ml),
        shown_ml(v.used_ml),
        shown_ml(v.loss_15_ml),
        shown_ml(v.loss_within_ml),
        v.loss_band,
        v.level,
        v.colour,
        v.clarity,
        v.magnet,
        v.particles,
        [f"{t.plug}: {t.torque_nm:g} N·m" for t in v.torques if t.torque_nm is not None],
        round(v.interval_factor, 3),
        v.gaps,
        v.note,
        v.by,
        "",
    )


def _voided(r: OilRecord, drained_ml: float | None, poured_ml: float | None) -> tuple[Any, ...]:
    """A void record: what it said, and by whom and why it counts no more."""
    row = dict.fromkeys(CHANGES.headings)
    km, hours = by_meter(r.compartment.vehicle.meter, r.meter_value)
    plate, vehicle, compartment = where(r.compartment)
    row |= {"change": r.pk, "plate": plate, "vehicle": vehicle, "compartment": compartment, "on": r.on, "meter_km": km, "meter_h": hours}
    row |= {"work": r.work, "oil": r.oil, "drained_ml": shown_ml(drained_ml), "poured_ml": shown_ml(poured_ml), "note": r.note}
    return tuple((row | {"by": r.by.shown_name, "void": void_words(r)}).values())


def changes_of(box: int) -> Iterator[tuple[Any, ...]]:
    """The changes of a box, oldest first, the void ones last."""
    for r, v in _views(box):
        yield _change(r, v)
    gone = OilRecord.everything.filter(box=box).exclude(voided_at=None)
    rows = list(gone.select_related("by", "voided_by", "compartment__vehicle").order_by("on", "pk"))
    said = entries_of_records([r.pk for r in rows]) if rows else {}
    for r in rows:
        sums = totals(said.get(r.pk, ()))
        yield _voided(r, sums.drained_ml, sums.poured_ml)


def _changes() -> Iterator[tuple[Any, ...]]:
    for box in _boxes():
        yield from changes_of(box)


def _amounts() -> Iterator[tuple[Any, ...]]:
    labels = dict(Container.objects.values_list("pk", "label"))
    for box in _boxes():
        records = list(OilRecord.objects.filter(box=box).select_related("compartment__vehicle"))
        entries = entries_of_records([r.pk for r in records]) if records else {}
        for r in records:
            for n, e in enumerate(entries.get(r.pk, ()), 1):
                taken = None if e.amount.temperature_sigma_k else round(e.amount.temperature_c, 1)
                label = labels.get(e.container or 0, "")
                sums = (shown_ml(e.amount.volume_ml), taken, round(e.amount.sigma_ml, 1))
                yield (r.pk, n, *where(r.compartment), r.on, ENTRY_WORDS[e.kind], *sums, e.cycle, label, e.container, e.assumed)


def _corrections() -> Iterator[tuple[Any, ...]]:
    rows = Correction.objects.select_related("record__compartment__vehicle", "by").order_by("pk")
    for c in rows.iterator(500):
        yield (
            c.pk,
            c.record_id,
            *where(c.record.compartment),
            c.field,
            _said(c.before),
            _said(c.after),
            c.reason,
            c.by.shown_name,
            c.at.date(),
        )


def _said(value: Any) -> str:
    return "" if value is None else str(value)


def _follows() -> Iterator[tuple[Any, ...]]:
    for box in _boxes():
        for r, v in _views(box):
            for f in v.follows:
                km, hours = by_meter(r.compartment.vehicle.meter, f.due_meter)
                yield (f.id, v.id, *where(r.compartment), v.on, f.kind, f.what, f.due_on, km, hours, f.closed)


AT_15 = "as it would measure at 15 °C"
CHANGES = Table(
    "changes",
    "What was done, one row a compartment and day, with its corrections applied",
    (
        CHANGE,
        *WHERE,
        Column("on", "date"),
        number("meter_km"),
        number("meter_h"),
        *text("work", "oil"),
        Column("revision", "integer", "the revision of the sheet by which it was done"),
        number("drained_ml", "as measured"),
        number("drained_c"),
        number("drained_15_ml", AT_15),
        number("poured_ml", "as measured"),
        number("run_out_ml"),
        number("additive_ml"),
        number("net_in_15_ml", AT_15),
        number("inside_15_ml", f"with what was left inside, {AT_15}"),
        number("used_ml", "for the can of used oil"),
        number("loss_15_ml", "against the fill before"),
        number("loss_within_ml", "two standard deviations"),
        *text("loss_band"),
        Column("level", "integer", "of what was found, 0 to 4"),
        *text("colour", "clarity", "magnet", "particles", "torques"),
        number("interval_factor", "by which the next interval is shortened"),
        *text("gaps", "note", "by", "void"),
    ),
    _changes,
    ("change",),
    (AT_PLACE,),
)
DONE = (
    CHANGES,
    Table(
        "amounts",
        "Every amount that went in or came out, in the order of the work",
        (
            CHANGE,
            Column("place", "integer"),
            *WHERE,
            Column("on", "date"),
            *text("what"),
            number("amount_ml", "as measured"),
            number("temperature_c", "empty: not taken"),
            number("sigma_ml", "one standard deviation"),
            Column("cycle", "integer", "of an exchange; 0: the last or only one"),
            Column("container", "string"),
            Column("container_number", "integer"),
            Column("assumed", "boolean", "nobody measured it"),
        ),
        _amounts,
        ("change", "place"),
        (OF_CHANGE, AT_PLACE),
    ),
    Table(
        "corrections",
        "What was put right afterwards, by whom and why",
        (Column("correction", "integer"), CHANGE, *WHERE, *text("what", "before", "after", "reason", "by"), Column("on", "date")),
        _corrections,
        ("correction",),
        (OF_CHANGE, AT_PLACE),
    ),
    Table(
        "follow_ups",
        "What follows from a change: looks, repairs, shorter intervals",
        (
            Column("follow_up", "integer"),
            CHANGE,
            *WHERE,
            Column("since", "date"),
            *text("kind", "what"),
            Column("due_on", "date"),
            number("due_km"),
            number("due_h"),
            *text("closed"),
        ),
        _follows,
        ("follow_up",),
        (OF_CHANGE, AT_PLACE),
    ),
)
