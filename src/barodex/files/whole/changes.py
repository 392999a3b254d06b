"""What was done, as rows of tables: changes with their sums, amounts, corrections, what follows. One compartment's file is a part of these."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from django.db.models import Count

from barodex.book.amounts import corrected
from barodex.book.consequences import follow_lines, rows_of_records
from barodex.book.ledger import entries_of_records, totals
from barodex.book.models import Correction, OilRecord
from barodex.book.queries import RECORDS, RecordView, record_views_by_box
from barodex.core.ledger.balance import ENTRY_WORDS
from barodex.fleet.models import Compartment, void_words
from barodex.shelf.models import Container

from .tables import Column, Refers, Table, by_meter, number, shown_ml, text

WHERE = text("plate", "vehicle", "compartment")
AT_PLACE = Refers(("vehicle", "compartment"), "compartments", ("vehicle", "compartment"))
OF_CHANGE = Refers(("change",), "changes", ("change",))
CHANGE = Column("change", "integer", "the number of the change, as the other tables name it")


def where(c: Compartment) -> tuple[str, str, str]:
    """Plate, vehicle and compartment, which stand in every row."""
    return c.vehicle.plate, c.vehicle.name, c.name


AT_ONCE = 800  # records in one question: more are read whole


def _boxes() -> Iterator[list[int]]:
    """The boxes with a past, some at a time: as many as have some hundred records together."""
    some: list[int] = []
    held = 0
    for box, count in OilRecord.everything.values_list("box").annotate(n=Count("id")).order_by("box").iterator(2000):
        if some and held + count > AT_ONCE:
            yield some
            some, held = [], 0
        some.append(box)
        held += count
    if some:
        yield some


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
    yield from _changes_of([box])


def _changes_of(boxes: list[int]) -> Iterator[tuple[Any, ...]]:
    records = {r.pk: r for r in RECORDS.filter(box__in=boxes)}
    views = record_views_by_box(records.values())
    gone: dict[int, list[OilRecord]] = defaultdict(list)
    voided = OilRecord.everything.filter(box__in=boxes).exclude(voided_at=None)
    for r in voided.select_related("by", "voided_by", "compartment__vehicle").order_by("on", "pk"):
        gone[r.box_id].append(r)
    said = entries_of_records([r.pk for mine in gone.values() for r in mine]) if gone else {}
    for box in boxes:
        for v in views.get(box, ()):
            yield _change(records[v.id], v)
        for r in gone[box]:
            sums = totals(said.get(r.pk, ()))
            yield _voided(r, sums.drained_ml, sums.poured_ml)


def _changes() -> Iterator[tuple[Any, ...]]:
    for some in _boxes():
        yield from _changes_of(some)


def _records() -> Iterator[list[OilRecord]]:
    """Every record that stands, some at a time."""
    rows = OilRecord.objects.prefetch_related("compartment__vehicle", "corrections").order_by("pk")
    some: list[OilRecord] = []
    for r in rows.iterator(AT_ONCE):
        some.append(r)
        if len(some) == AT_ONCE:
            yield some
            some = []
    if some:
        yield some


def _amounts() -> Iterator[tuple[Any, ...]]:
    labels = dict(Container.objects.values_list("pk", "label"))
    for records in _records():
        entries = entries_of_records([r.pk for r in records])
        for r in records:
            on = corrected(r)["on"]
            for n, e in enumerate(entries.get(r.pk, ()), 1):
                taken = None if e.amount.temperature_sigma_k else round(e.amount.temperature_c, 1)
                label = labels.get(e.container or 0, "")
                sums = (shown_ml(e.amount.volume_ml), taken, round(e.amount.sigma_ml, 1))
                yield (r.pk, n, *where(r.compartment), on, ENTRY_WORDS[e.kind], *sums, e.cycle, label, e.container, e.assumed)


def _corrections() -> Iterator[tuple[Any, ...]]:
    rows = Correction.objects.select_related("record__compartment__vehicle", "by").order_by("pk")
    for c in rows.iterator(500):
        said = (_said(c.before), _said(c.after))
        yield (c.pk, c.record_id, *where(c.record.compartment), c.field, *said, c.reason, c.by.shown_name, c.at.date())


def _follows() -> Iterator[tuple[Any, ...]]:
    for records in _records():
        rows = rows_of_records([r.pk for r in records])
        for r in records:
            values = corrected(r)
            for f in follow_lines(rows.get(r.pk, ()), values["on"], values["meter_value"]):
                km, hours = by_meter(r.compartment.vehicle.meter, f.due_meter)
                yield (f.id, r.pk, *where(r.compartment), values["on"], f.kind, f.what, f.due_on, km, hours, f.closed)


def _said(value: Any) -> str:
    return "" if value is None else str(value)


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
