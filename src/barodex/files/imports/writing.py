"""What was read, written: sheets, vehicles, compartments, oils and containers by their own actions, changes and readings many at once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable

from barodex import clock
from barodex.accounts.models import Person
from barodex.accounts.names import alike
from barodex.book.actions import close_before
from barodex.book.amounts import Measured, measured, measured_by_box, records_of
from barodex.book.consequences import seen_of, write_consequences
from barodex.book.ledger import paper_entries
from barodex.book.models import LedgerRow, OilRecord
from barodex.core.due.meter import READ_TO, Meter, MeterReading
from barodex.core.quantity.errors import CoreError, Inconsistent
from barodex.core.verdict.consequences import consequences
from barodex.core.words import say
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_compartment, add_vehicle
from barodex.fleet.models import USUAL, Compartment, Reading
from barodex.shelf.actions import Figures, Oil, Source, add_lubricant, stock_container, write_sheet
from barodex.shelf.models import Lubricant, SheetRevision, SpecSheet
from barodex.shelf.queries import current_revision

from .drafts import BoxDraft, ChangeDraft, OilDraft, Row, VehicleDraft
from .known import Known

AT_ONCE = 2_000
CHAIN = 6  # changes before the newest that its loss may hang on: it is set against the fill before it
WRITTEN_IN = say("written in from a spreadsheet")


class Writer:
    """Writes the rows that count; ``made`` gathers what is new, by model."""

    def __init__(self, by: Person, book: Known, source: str, tell: Callable[[float], None]) -> None:
        self.by, self.book, self.source, self.tell = by, book, source, tell
        self.made: dict[str, list[int]] = defaultdict(list)
        self.sheets: dict[str, int] = {}

    def vehicle(self, v: VehicleDraft) -> None:
        """A vehicle that the book does not have."""
        if v.id is not None:
            return
        kind = v.kind or "car"
        spec = VehicleSpec(v.name, kind, USUAL[kind][0], v.meter or USUAL[kind][1], v.plate)
        v.id = add_vehicle(self.by, spec).pk
        self.made["fleet.Vehicle"].append(v.id)

    def sheet(self, box: BoxDraft) -> int:
        """The sheet of a compartment: of its name, or written now; its figures are remembered until somebody looks them up."""
        name = box.sheet_name
        if name not in self.sheets:
            there = self.book.sheets.get(alike(name))
            if there is None:
                said = [
                    f
                    for f, value in (
                        ("capacity", box.capacity_ml),
                        ("oil", box.grade),
                        ("interval", box.interval_km or box.interval_months),
                    )
                    if value
                ]
                sources = tuple(Source(f, "memory", "remembered", say("from {source}", source=self.source)[:200]) for f in said)
                figures = Figures(**vars(box.figures()), plugs=box.plugs(), sources=sources)
                there = write_sheet(self.by, name, box.kind, figures).pk
                self.made["shelf.SpecSheet"].append(there)
            self.sheets[name] = there
        return self.sheets[name]

    def box(self, box: BoxDraft) -> None:
        """A compartment that its vehicle does not have."""
        if box.id is None:
            assert box.vehicle.id is not None
            box.id = add_compartment(self.by, box.vehicle.id, CompartmentSpec(box.name, box.slot or "gearbox", self.sheet(box))).pk
            self.made["fleet.Compartment"].append(box.id)

    def oil(self, oil: OilDraft, family: str = "") -> None:
        """An oil that the list does not have; of a change alone nothing is known but its name."""
        if oil.id is None:
            oil.id = add_lubricant(self.by, Oil(oil.name, oil.family or family or "gear", oil.grade, oil.categories)).pk
            self.made["shelf.Lubricant"].append(oil.id)

    def readings(self, rows: Iterable[Row]) -> None:
        """Readings, those of changes among them; one that the book has, or that another row brings, is one."""
        there = {(v, r.on): r.value for v, rs in self.book.readings.items() for r in rs}
        new = []
        for row in rows:
            said = row.reading or row.change
            value = row.reading.value if row.reading else row.change.meter if row.change else None
            if said is None or value is None or row.vehicle is None or row.vehicle.id is None:
                continue
            key = (row.vehicle.id, said.on)
            if key in there and abs(there[key] - value) <= READ_TO[row.vehicle.meter or "km"]:
                continue
            there[key] = value
            new.append(Reading(vehicle_id=row.vehicle.id, on=said.on, value=value, source="csv", by=self.by, at=clock.now()))
        self.made["fleet.Reading"] += [r.pk for r in Reading.objects.bulk_create(new, batch_size=AT_ONCE)]

    def changes(self, rows: Iterable[Row]) -> None:
        """Past changes with their amounts, and what follows from the newest of each compartment."""
        drafts = sorted((r.change for r in rows if r.change is not None), key=lambda c: c.on)
        places = {c.pk: c for c in Compartment.objects.select_related("vehicle", "sheet").filter(pk__in={d.box.id for d in drafts})}
        revisions = {
            s.pk: list(s.revisions.all())
            for s in SpecSheet.objects.prefetch_related("revisions").filter(pk__in={c.sheet_id for c in places.values()})
        }
        oils = Lubricant.objects.in_bulk({d.oil.id for d in drafts if d.oil is not None and d.oil.id is not None})
        records, amounts = [], []
        for d in drafts:
            place = places[d.box.id or 0]
            revision = current_revision(revisions[place.sheet_id], d.on)
            records.append(self._record(d, place, revision))
            amounts.append(paper_entries(revision, d.drained_ml, None, d.poured_ml))
        records = OilRecord.objects.bulk_create(records, batch_size=AT_ONCE)
        self.made["book.OilRecord"] += [r.pk for r in records]
        rows_of = (
            LedgerRow(
                record=r,
                place=k,
                kind=e.kind,
                volume_ml=e.amount.volume_ml,
                temperature_c=e.amount.temperature_c,
                temperature_sigma_k=e.amount.temperature_sigma_k,
                sigma_ml=e.amount.sigma_ml,
                assumed=e.assumed,
            )
            for r, entries in zip(records, amounts, strict=True)
            for k, e in enumerate(entries)
        )
        LedgerRow.objects.bulk_create(rows_of, batch_size=AT_ONCE)
        for r in records:
            r.lubricant = oils.get(r.lubricant_id or 0)
        of_place: dict[int, list[OilRecord]] = defaultdict(list)
        for r in records:
            of_place[r.compartment_id].append(r)
        meters = self._meters(places.values())
        fresh = {pk: mine for pk, mine in of_place.items() if not self.book.changes.get(pk)}
        by_box = {places[pk].box_id: meters[places[pk].vehicle_id] for pk in fresh}
        chains = measured_by_box((r for mine in fresh.values() for r in mine[-CHAIN:]), by_box)
        for k, (pk, mine) in enumerate(of_place.items()):
            self._follows(places[pk], mine, chains.get(places[pk].box_id) if pk in fresh else None)
            self.tell(0.7 + 0.3 * k / len(of_place))

    def _meters(self, places: Iterable[Compartment]) -> dict[int, Meter]:
        """The meter of each vehicle, with the readings that were just written; read once for all."""
        known: dict[int, list[MeterReading]] = defaultdict(list)
        for vehicle, on, value, swap, duty in Reading.objects.order_by("on", "id").values_list("vehicle_id", "on", "value", "swap", "duty"):
            known[vehicle].append(MeterReading(on, value, swap, duty))
        return {v: Meter.of(known[v], clock.today()) for v in {p.vehicle_id for p in places}}

    def _record(self, d: ChangeDraft, place: Compartment, revision: SheetRevision) -> OilRecord:
        oil = d.oil
        return OilRecord(
            compartment=place,
            box_id=place.box_id,
            revision=revision,
            lubricant_id=oil.id if oil else None,
            on=d.on,
            meter_value=d.meter,
            oil=oil.name if oil else "",
            gaps=[WRITTEN_IN, *d.gaps],
            note=d.note,
            by=self.by,
            at=clock.now(),
        )

    def _follows(self, place: Compartment, mine: list[OilRecord], told: list[Measured] | None) -> None:
        """What follows from the newest change of a compartment, as from one that is typed; older ones say nothing any more.

        ``told``: the last of them, each set against the one before, where the book has no other of that compartment.
        """
        fresh = told is not None
        here = (told or measured(records_of(place)))[-1]
        if here.record.pk not in {r.pk for r in mine} or (here.loss is None and fresh):
            return
        found = consequences(seen_of(here, assessment=None))
        write_consequences(here.record, found)
        if not fresh:
            close_before(self.by, here.record, here.record.on, found, here.loss is not None, ())


def write_rows(
    by: Person, rows: list[Row], book: Known, source: str, tell: Callable[[float], None] = lambda _: None
) -> dict[str, list[int]]:
    """Write all that counts, in one go; gives what is new, by model. Raises with the line where something did not fit.

    ``tell`` is told how much of it is done, 0 to 1.
    """
    writer = Writer(by, book, source, tell)
    for k, row in enumerate(rows):
        if k % 200 == 0:
            tell(0.4 * k / len(rows))
        try:
            if row.vehicle is not None:
                writer.vehicle(row.vehicle)
            if row.box is not None:
                writer.box(row.box)
            if row.oil is not None:
                sheet = row.box.as_sheet() if row.box else None
                writer.oil(row.oil, sheet.requirement.family if sheet else "")
            if row.container is not None:
                assert row.container.oil.id is not None
                made = stock_container(by, row.container.oil.id, row.container.size_ml, row.container.content_ml, row.container.label)
                writer.made["shelf.Container"].append(made.pk)
        except CoreError as error:
            raise Inconsistent(
                say("Line {line}: {message}", line=row.line, message=error.message), field=row.key, value=error.value
            ) from error
    writer.readings(rows)
    tell(0.5)
    writer.changes(rows)
    return dict(writer.made)
