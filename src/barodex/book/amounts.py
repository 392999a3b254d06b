"""Amounts of a compartment's records: corrected, at one temperature, each against the fill before it."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from barodex.core.due.interval import Limits, life_used
from barodex.core.due.schedule import OwnRule, SchedulePolicy, SheetInterval, plan_for
from barodex.core.ledger.drained import Amount, Loss, drained_amount, loss_since_last_fill, poured_amount, topup_loss, usual_warmth
from barodex.core.quantity.expansion import DEFAULT_DENSITY15
from barodex.fleet.models import Compartment
from barodex.shelf.models import Lubricant, SheetRevision

from .models import Correction, OilRecord

# What may be set right afterwards, and the quantity kind in which it is typed ("" for plain text).
CORRECTABLE = {
    "drained_ml": "volume",
    "drained_c": "temperature",
    "poured_ml": "volume",
    "meter_value": "meter",
    "oil": "",
    "note": "",
    "on": "date",
}


def corrected(record: OilRecord) -> dict[str, Any]:
    """The correctable fields of a record after its corrections (prefetch ``corrections__by`` for many)."""
    return _values(record, record.corrections.all())


def _values(record: OilRecord, corrections: Iterable[Correction]) -> dict[str, Any]:
    values = {f: getattr(record, f) for f in CORRECTABLE}
    for correction in corrections:
        values[correction.field] = dt.date.fromisoformat(correction.after) if correction.field == "on" else correction.after
    return values


def density(record: OilRecord) -> float:
    """Density of the oil that went in, or the usual one."""
    return (record.lubricant.density15 if record.lubricant else None) or DEFAULT_DENSITY15


def drain_method_of(revision: SheetRevision | None) -> str:
    """How a compartment is emptied; by a plug where nobody says."""
    return revision.drain_method if revision else "plug"


def came_out(volume_ml: float, temperature_c: float | None, warmth: str, revision: SheetRevision | None, ambient_c: float | None) -> Amount:
    """An amount that came out, at the temperature that was taken, or at what its state suggests."""
    method = drain_method_of(revision)
    said = warmth or usual_warmth(revision.warm_up if revision else True, method)
    return drained_amount(volume_ml, method, temperature_c, said, ambient_c)


def net_in_ml(poured_ml: float, additive_ml: float, run_out_ml: float) -> float:
    """What stays of a fill: the oil and its additives, less what ran out again."""
    return max(0.0, poured_ml + additive_ml - run_out_ml)


def interval_share(record: OilRecord, ran: float | None, since: dt.date | None, on: dt.date) -> float | None:
    """The share of its interval that a record's compartment ran since the level was set; None unknown."""
    if since is None or record.revision is None or on < since:
        return None
    r = record.revision
    # A loss is judged against the interval of its sheet or kind, whatever school the workshop follows since.
    sheet = SheetInterval(r.interval_km, r.interval_h, r.interval_months, r.for_life)
    limits = plan_for(record.compartment.sheet.kind, sheet, OwnRule(), SchedulePolicy()).limits
    by_km = record.compartment.vehicle.meter == "km"
    legs = {"road": ran} if by_km and ran is not None and ran >= 0 else {}
    if by_km and not legs:
        limits = Limits({}, limits.hours, limits.months)
    return life_used(legs, None if by_km or ran is None or ran < 0 else ran, since, on, limits).used or None


def reaches(record: OilRecord) -> bool:
    """Whether oil was found on a brake or a clutch."""
    return any(word in str(record.details.get("leak") or "").lower() for word in ("brake", "clutch"))


@dataclass(frozen=True)
class Measured:
    """A record with its corrections, what came out and stayed in, and the loss against the fill before it.

    ``run`` is what the oil had run (km or h), ``oil_before`` the density of what came out (kg/m³ at 15 °C).
    """

    record: OilRecord
    values: dict[str, Any]
    corrections: tuple[Correction, ...]
    drained: Amount | None
    net_in: Amount | None
    loss: Loss | None
    run: float | None
    oil_before: float


def records_of(c: Compartment) -> list[OilRecord]:
    """The records of a compartment that was loaded with its sheet and vehicle, as far as amounts and findings need them."""
    records = list(c.records.defer("reasons", "gaps", "torques"))
    for name, model in (("revision", SheetRevision), ("lubricant", Lubricant)):
        wanted = model.objects.in_bulk({getattr(r, f"{name}_id") for r in records} - {None})
        for r in records:
            setattr(r, name, wanted.get(getattr(r, f"{name}_id")))
    return records


def measured(records: Iterable[OilRecord]) -> list[Measured]:
    """One compartment's records, oldest first, each set against the fill before it."""
    whole = list(records)
    fixes: dict[int, list[Correction]] = defaultdict(list)
    for c in Correction.objects.filter(record__in=[r.pk for r in whole]).select_related("by"):
        fixes[c.record_id].append(c)
    ordered = sorted(((_values(r, fixes.get(r.pk, ())), r) for r in whole), key=lambda p: (p[0]["on"], p[1].pk))
    found: list[Measured] = []
    last_in: Amount | None = None
    last_oil = DEFAULT_DENSITY15
    last_fill: tuple[dt.date | None, float | None] = (None, None)  # day and meter of the fill
    last_look: tuple[dt.date | None, float | None] = (None, None)  # and of when the level was last set
    topups: list[Amount] = []
    for values, r in ordered:
        topped, flowed = r.work == "top-up", r.details.get("school") == "flow through"
        drained = None
        if values["drained_ml"] is not None:
            drained = came_out(values["drained_ml"], values["drained_c"], r.warmth, r.revision, r.ambient_c)
        net_in = None
        if values["poured_ml"] is not None:
            net_in = poured_amount(net_in_ml(values["poured_ml"], r.additive_ml, r.run_out_ml), r.ambient_c)
        loss = None
        known = (r.revision.capacity_ml if r.revision else None) or (last_in.volume_ml if last_in else None)
        from_on, from_meter = last_look if topped else last_fill
        ran = values["meter_value"] - from_meter if values["meter_value"] is not None and from_meter is not None else None
        run = ran if ran and ran > 0 else None
        share = interval_share(r, ran, from_on, values["on"])
        if topped and net_in and known:
            loss = topup_loss(net_in, known, run, last_oil, share)
        elif drained and last_in and last_in.volume_ml > 0 and not r.details.get("cycles") and known:
            stays = drain_method_of(r.revision) == "suction"
            loss = loss_since_last_fill(last_in, topups, drained, known, run, last_oil, share, stays)
        if loss and reaches(r):
            loss = replace(loss, band="stop", text="Oil reaches a brake or a clutch: it no longer holds as it must.")
        found.append(Measured(r, values, tuple(fixes.get(r.pk, ())), drained, net_in, loss, run, last_oil))
        if net_in:
            last_look = (values["on"], values["meter_value"])
        if topped and net_in:
            topups.append(net_in)
        elif net_in:
            # What flowed through a box is not what stands in it.
            last_in = None if flowed else net_in
            last_oil, last_fill, topups = density(r), last_look, []
    return found
