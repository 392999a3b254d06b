"""The entries of records: written once, declared void and written anew where they were wrong, and their sums."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from barodex.accounts.models import Person
from barodex.core.ledger.balance import EMPTIES, STATED_C, Balance, LedgerEntry, Start, balance, start_of
from barodex.core.ledger.drained import Amount, drained_amount, poured_amount, usual_warmth
from barodex.core.quantity.errors import OutOfRange
from barodex.core.quantity.expansion import DEFAULT_DENSITY15, volume_at
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import keeps_some
from barodex.core.words import say
from barodex.shelf.models import SheetRevision

from .models import LedgerRow, OilRecord


def density(record: OilRecord) -> float:
    """Density of the oil that went in, or the usual one."""
    return (record.lubricant.density15 if record.lubricant else None) or DEFAULT_DENSITY15


def stated_ml(amount: Amount, dense: float) -> float:
    """An amount as a sheet states a capacity: at a workshop's temperature."""
    return volume_at(amount.volume_ml, 15.0, STATED_C, dense)


def drain_method_of(revision: SheetRevision | None) -> str:
    """How a compartment is emptied; by a plug where nobody says."""
    return revision.drain_method if revision else "plug"


def some_stays(revision: SheetRevision | None) -> bool:
    """Whether an unknown share stays inside when it is emptied."""
    return revision is not None and keeps_some(revision.drain_method, revision.capacity_ml, revision.total_ml)


def came_out(volume_ml: float, temperature_c: float | None, warmth: str, revision: SheetRevision | None, ambient_c: float | None) -> Amount:
    """An amount that came out, at the temperature that was taken, or at what its state suggests."""
    method = drain_method_of(revision)
    said = warmth or usual_warmth(revision.warm_up if revision else True, method)
    return drained_amount(volume_ml, method, temperature_c, said, ambient_c)


def paper_entries(
    revision: SheetRevision, drained_ml: float | None, drained_c: float | None, poured_ml: float | None
) -> tuple[LedgerEntry, ...]:
    """What an earlier change says of amounts: what came out, and what went in from nobody knows which container."""
    found = []
    if drained_ml is not None:
        way = "sucked" if revision.drain_method == "suction" else "drained"
        found.append(LedgerEntry(way, came_out(drained_ml, drained_c, "", revision, None)))
    if poured_ml is not None:
        found.append(LedgerEntry("oil", poured_amount(poured_ml)))
    return tuple(found)


def write_entries(record: OilRecord, entries: Iterable[LedgerEntry], first: int = 0) -> None:
    """Write the entries of a record in their order."""
    LedgerRow.objects.bulk_create(
        LedgerRow(
            record=record,
            place=first + k,
            kind=e.kind,
            volume_ml=e.amount.volume_ml,
            temperature_c=e.amount.temperature_c,
            temperature_sigma_k=e.amount.temperature_sigma_k,
            sigma_ml=e.amount.sigma_ml,
            container_id=e.container,
            cycle=e.cycle,
            assumed=e.assumed,
        )
        for k, e in enumerate(entries)
    )


_FIELDS = ("record_id", "kind", "volume_ml", "temperature_c", "sigma_ml", "temperature_sigma_k", "container_id", "cycle", "assumed")


def entries_of_records(records: Sequence[int]) -> dict[int, tuple[LedgerEntry, ...]]:
    """The entries that stand, of many records."""
    found: dict[int, list[LedgerEntry]] = defaultdict(list)
    rows = LedgerRow.objects.filter(record_id__in=records) if len(records) < 900 else LedgerRow.objects.all()
    for record, kind, volume, at, sigma, sigma_k, container, cycle, assumed in rows.order_by("record_id", "place").values_list(*_FIELDS):
        found[record].append(LedgerEntry(kind, Amount(volume, at, sigma, sigma_k), container, cycle, assumed))
    return {pk: tuple(rows) for pk, rows in found.items()}


def balance_of(record: OilRecord, entries: Sequence[LedgerEntry], inside: Amount | None, density_before: float) -> Balance:
    """The sums of a record; ``inside`` is what its past left, ``density_before`` that of the oil that was inside, kg/m³ at 15 °C."""
    r = record.revision
    start = Start(inside) if r is None else start_of(r.drain_method, r.capacity_ml, r.total_ml, r.residual_ml, inside)
    return balance(entries, start, density(record), density_before)


@dataclass(frozen=True)
class Totals:
    """What a record says of amounts in all, mL as measured; None where nothing was. ``drained_c`` where it was taken, °C."""

    drained_ml: float | None
    drained_c: float | None
    poured_ml: float | None
    run_out_ml: float | None
    additive_ml: float | None


def totals(entries: Sequence[LedgerEntry]) -> Totals:
    """The sums of entries as they were measured, each kind by itself."""

    def of(*kinds: str) -> float | None:
        rows = [e.amount.volume_ml for e in entries if e.kind in kinds]
        return sum(rows) if rows else None

    first = next((e.amount for e in entries if e.kind in EMPTIES), None)
    taken = first.temperature_c if first is not None and first.temperature_sigma_k == 0 else None
    return Totals(of(*EMPTIES), taken, of("oil", "top-up"), of("run-out"), of("additive"))


AMOUNTS = {
    "drained_ml": EMPTIES,
    "drained_c": EMPTIES,
    "poured_ml": ("oil", "top-up"),
    "run_out_ml": ("run-out",),
    "additive_ml": ("additive",),
}


def replace_entries(by: Person, record: OilRecord, field_name: str, value: float, reason: str, at: dt.datetime) -> None:
    """Declare the entries behind a figure void, and write what is right in their place; the stock stays as it was drawn.

    ``value`` in mL, or °C for the temperature of what came out. Of an exchange the last drain or fill takes up the difference.
    """
    kinds = AMOUNTS[field_name]
    standing = list(LedgerRow.objects.filter(record=record, kind__in=kinds).order_by("place"))
    after: list[tuple[int, LedgerEntry]] = []
    touched = standing
    if field_name == "drained_c":
        after = [(r.place, replace(r.entry, amount=came_out(r.volume_ml, value, "", record.revision, record.ambient_c))) for r in standing]
    elif standing:
        last = standing[-1]
        others = [r for r in standing if r.cycle != last.cycle]
        touched = [r for r in standing if r.cycle == last.cycle]
        left = value - sum(r.volume_ml for r in others)
        if left < 0:
            alone = value - left
            raise OutOfRange(
                say("The other drains of this exchange alone make {alone}: less cannot be.", alone=ml(alone)),
                field="value",
                value=value,
                allowed=say("from {alone} on", alone=ml(alone)),
            )
        made = _made(record, last.kind, left, last.entry.amount)
        after = [(last.place, LedgerEntry(last.kind, made, None, last.cycle))]
    else:
        place = _place_for(record, field_name)
        kind = kinds[0] if field_name != "drained_ml" or drain_method_of(record.revision) != "suction" else "sucked"
        after = [(place, LedgerEntry(kind, _made(record, kind, value, None)))]
    LedgerRow.objects.filter(pk__in=[r.pk for r in touched]).update(voided_at=at, voided_by=by, void_reason=reason[:300])
    for place, entry in after:
        write_entries(record, (entry,), place)


def _made(record: OilRecord, kind: str, volume_ml: float, like: Amount | None) -> Amount:
    """An amount that was put right, at the temperature of the one that it replaces."""
    if kind in EMPTIES or kind == "run-out":
        taken = like.temperature_c if like is not None and like.temperature_sigma_k == 0 else None
        return came_out(volume_ml, taken, "", record.revision, record.ambient_c)
    return poured_amount(volume_ml, record.ambient_c)


def _place_for(record: OilRecord, field_name: str) -> int:
    """Where an entry goes that was not there: what drained before all, what ran out after all."""
    places = list(LedgerRow.objects.filter(record=record).order_by("place").values_list("place", flat=True))
    if not places:
        return 100
    return places[0] - 1 if field_name in ("drained_ml", "drained_c") else places[-1] + 1
