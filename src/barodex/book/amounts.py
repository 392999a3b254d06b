"""Amounts of a compartment's records: corrected, at one temperature, each against the fill before it."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from barodex.core.due.interval import life_used
from barodex.core.due.meter import BoxMeter, Meter
from barodex.core.due.schedule import OwnRule, SchedulePolicy, SheetInterval, plan_for
from barodex.core.ledger.balance import Balance, LedgerEntry
from barodex.core.ledger.bands import LEAST_DAYS, LEAST_KM, Run
from barodex.core.ledger.drained import NO_FILL, RESIDUE, SOME_STAYS, Amount, Loss, judged_outside, loss_since_last_fill, topup_loss
from barodex.core.ledger.leak import LossPoint
from barodex.fleet.models import Compartment
from barodex.fleet.use import meter_of_box, meters_of_boxes
from barodex.shelf.models import Lubricant, SheetRevision

from .ledger import Totals, balance_of, density, drain_method_of, entries_of_records, some_stays, totals
from .models import Correction, OilRecord

# What may be set right afterwards, and the quantity kind in which it is typed ("" for plain text).
CORRECTABLE = {
    "drained_ml": "volume",
    "drained_c": "temperature",
    "poured_ml": "volume",
    "run_out_ml": "volume",
    "additive_ml": "volume",
    "meter_value": "meter",
    "oil": "",
    "note": "",
    "on": "date",
}
OF_THE_RECORD = ("meter_value", "oil", "note", "on")  # the rest stands in its entries
JUDGED = ("finding", "level", "reasons")  # as it was judged anew


def corrected(record: OilRecord) -> dict[str, Any]:
    """Day, meter, oil and note of a record after its corrections, and the record as it was judged anew where what was seen was wrong
    (prefetch ``corrections__by`` for many)."""
    return _values(record, record.corrections.all())


def _values(record: OilRecord, corrections: Iterable[Correction]) -> dict[str, Any]:
    values = {f: getattr(record, f) for f in OF_THE_RECORD}
    for correction in corrections:
        if correction.field == "finding":
            for name in JUDGED:
                setattr(record, name, correction.after[name])
        elif correction.field == "torques":
            record.torques = correction.after
        elif correction.field in values:
            values[correction.field] = dt.date.fromisoformat(correction.after) if correction.field == "on" else correction.after
    return values


def interval_run(record: OilRecord, ran: float | None, since: dt.date | None, on: dt.date) -> Run | None:
    """The share of its interval that a record's compartment ran since the level was set, and the least that says something; None unknown."""
    if since is None or record.revision is None or on < since or ran is None or ran < 0:
        return None
    r = record.revision
    # A loss is judged against the interval of its sheet or kind, whatever school the workshop follows since.
    sheet = SheetInterval(r.interval_km, r.interval_h, r.interval_months, r.for_life)
    limits = plan_for(record.compartment.sheet.kind, sheet, OwnRule(), SchedulePolicy()).limits
    by_km = record.compartment.vehicle.meter == "km"
    used = life_used({"road": ran} if by_km else {}, None if by_km else ran, since, on, limits).used
    least = life_used({"road": LEAST_KM} if by_km else {}, None, since, since + dt.timedelta(days=LEAST_DAYS), limits).used
    return Run(used, max(least, 1e-3))


@dataclass(frozen=True)
class Measured:
    """A record with its corrections, its entries and their sums, and the loss against the fill before it.

    ``said`` as measured; ``loss_text`` says what the loss means, or why there is none. ``run`` is what the oil had run (km or h), ``days``
    how long, ``left``: what is missing where some stays inside, which tells a loss only together with others; ``oil_before`` the
    density of what came out (kg/m³ at 15 °C); ``filled``: it began a fill that the next drain is set against.
    """

    record: OilRecord
    values: dict[str, Any]
    corrections: tuple[Correction, ...]
    entries: tuple[LedgerEntry, ...]
    said: Totals
    sums: Balance
    loss: Loss | None
    loss_text: str
    left: LossPoint | None
    run: float | None
    days: int | None
    oil_before: float

    @property
    def loss_point(self) -> LossPoint | None:
        """The loss as a rate counts it; None where none was told."""
        if self.left is not None:
            return self.left
        loss = self.loss
        if not self.run or loss is None or loss.bound or not loss.sigma_ml:
            return None
        return LossPoint(self.run, loss.loss_ml, loss.sigma_ml, loss.shared_ml)


def records_of(c: Compartment) -> list[OilRecord]:
    """The records of the box that is fitted in a compartment, as far as amounts and findings need them."""
    return records_of_box(c.box_id)


def records_of_box(box_id: int) -> list[OilRecord]:
    """The records of a box, wherever it was fitted when they were written."""
    records = list(OilRecord.objects.filter(box=box_id))
    for name, model in (("revision", SheetRevision), ("lubricant", Lubricant), ("compartment", Compartment)):
        chosen = model.objects.select_related("vehicle", "sheet") if model is Compartment else model.objects
        wanted = chosen.in_bulk({getattr(r, f"{name}_id") for r in records} - {None})
        for r in records:
            setattr(r, name, wanted.get(getattr(r, f"{name}_id")))
    return records


@dataclass
class _Before:
    """What is known of a compartment before a record: its fill, when the level was set, what was topped up since."""

    fill: Amount | None = None
    inside: Amount | None = None
    oil: float | None = None  # density of what is inside, kg/m³ at 15 °C
    filled: tuple[dt.date | None, float | None] = (None, None)
    looked: tuple[dt.date | None, float | None] = (None, None)
    topups: tuple[Amount, ...] = ()
    drained: bool = False
    left: bool = False  # what the service before left inside is among what is counted


def _loss(r: OilRecord, sums: Balance, before: _Before, dense: float, run: float | None, share: Run | None) -> tuple[Loss | None, str]:
    """The loss of a record, and what it means or why there is none."""
    known = (r.revision.capacity_ml if r.revision else None) or (before.fill.volume_ml if before.fill else None)
    wet = str((r.finding or {}).get("wet") or r.details.get("leak") or "").lower()
    loss, why = None, ""
    if r.work == "top-up":
        if sums.net_in and known:
            loss = topup_loss(sums.net_in, known, run, dense, share)
    elif sums.first_out is not None:
        why = NO_FILL
        if before.fill is not None and before.fill.volume_ml > 0 and known:
            why, stays = SOME_STAYS, some_stays(r.revision)
            loss = loss_since_last_fill(
                before.fill,
                before.topups,
                sums.first_out,
                known,
                distance_km=run,
                density15=dense,
                run=share,
                some_stays=stays,
                first_drain=not before.drained,
                method=drain_method_of(r.revision),
            )
    judged = judged_outside(loss, wet)
    return judged, judged.text if judged else why


def _left(r: OilRecord, sums: Balance, before: _Before, dense: float, run: float | None, follows: bool) -> LossPoint | None:
    """What is missing by a drain that leaves some inside, as one of several; None of the first drain of a box, and where nothing stays."""
    if not run or r.work == "top-up" or sums.first_out is None or before.fill is None or not before.drained or not some_stays(r.revision):
        return None
    told = loss_since_last_fill(before.fill, before.topups, sums.first_out, before.fill.volume_ml, density15=dense)
    if told is None or not told.sigma_ml:
        return None
    stays = RESIDUE[drain_method_of(r.revision)][1] * before.fill.volume_ml
    return LossPoint(run, told.loss_ml, told.sigma_ml, told.shared_ml, stays, follows)


def measured(records: Iterable[OilRecord], meter: Meter | BoxMeter | None = None) -> list[Measured]:
    """One compartment's records, oldest first, each set against the fill before it; what was run between them by the vehicle's meter."""
    whole = list(records)
    if meter is None and whole:
        meter = meter_of_box(whole[0].box_id)
    return _measured(whole, meter, *_said_of(whole))


def measured_by_box(records: Iterable[OilRecord], meters: Mapping[int, Meter | BoxMeter] | None = None) -> dict[int, list[Measured]]:
    """The records of many boxes, each as :func:`measured` gives it, in few questions; ``meters`` by box, where they are known already."""
    whole: dict[int, list[OilRecord]] = defaultdict(list)
    for r in records:
        whole[r.box_id].append(r)
    said = _said_of([r for mine in whole.values() for r in mine])
    meters = meters_of_boxes(list(whole)) if meters is None else meters
    return {box: _measured(mine, meters[box], *said) for box, mine in whole.items()}


_Said = tuple[dict[int, list[Correction]], dict[int, tuple[LedgerEntry, ...]], dict[str, Lubricant]]


def _said_of(whole: Sequence[OilRecord]) -> _Said:
    """Corrections and entries of records, and the oils that were corrected to."""
    ids = [r.pk for r in whole]
    fixes: dict[int, list[Correction]] = defaultdict(list)
    for c in Correction.objects.filter(record__in=ids).select_related("by"):
        fixes[c.record_id].append(c)
    named = {c.after for mine in fixes.values() for c in mine if c.field == "oil"}
    oils = {o.name: o for o in Lubricant.objects.filter(name__in=named)} if named else {}
    return fixes, entries_of_records(ids), oils


def _measured(
    whole: list[OilRecord],
    meter: Meter | BoxMeter | None,
    fixes: dict[int, list[Correction]],
    entries: dict[int, tuple[LedgerEntry, ...]],
    oils: dict[str, Lubricant],
) -> list[Measured]:
    ordered = sorted(((_values(r, fixes.get(r.pk, ())), r) for r in whole), key=lambda p: (p[0]["on"], p[1].pk))
    found: list[Measured] = []
    before = _Before()
    for values, r in ordered:
        if values["oil"] != r.oil:
            r.lubricant = oils.get(values["oil"])
        topped, here = r.work == "top-up", (values["on"], values["meter_value"])
        mine = entries.get(r.pk, ())
        dense = before.oil or density(r)
        sums = balance_of(r, mine, None if topped else before.inside, dense)
        since = before.looked if topped else before.filled
        ran = meter.between(*since, *here) if meter is not None and since[0] is not None else None
        run = ran if ran and ran > 0 else None
        loss, text = _loss(r, sums, before, dense, run, interval_run(r, ran, since[0], values["on"]))
        left = _left(r, sums, before, dense, run, before.left)
        found.append(
            Measured(
                record=r,
                values=values,
                corrections=tuple(fixes.get(r.pk, ())),
                entries=mine,
                said=totals(mine),
                sums=sums,
                loss=loss,
                loss_text=text,
                left=left,
                run=run,
                days=None if since[0] is None else (values["on"] - since[0]).days,
                oil_before=dense,
            )
        )
        before.drained = before.drained or sums.first_out is not None
        before.left = left is not None if not topped else before.left
        if not sums.put_in:
            continue
        before.looked = here
        if topped:
            before.topups += (sums.net_in,) if sums.net_in else ()
        else:
            before.fill, before.inside, before.oil, before.filled, before.topups = sums.net_in, sums.inside, density(r), here, ()
    return found
