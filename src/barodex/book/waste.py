"""Used oil: what came out by the entries of the records, and where it went."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Sum

from barodex.core.ledger.balance import USED

from .models import Correction, LedgerRow, OilRecord


@dataclass(frozen=True)
class WasteLine:
    """Used oil of a record, the sum of its entries; ``oil`` is the old one that came out."""

    record: int
    on: dt.date
    vehicle: str
    compartment: str
    oil: str
    waste_ml: float
    where_to: str
    by: str


@dataclass(frozen=True)
class WasteLog:
    """Used oil of a year, newest first, and its sum, mL; ``unknown`` counts the changes of which nothing was written down."""

    since: dt.date
    total_ml: float
    unknown: int
    lines: tuple[WasteLine, ...]


def waste_log(since: dt.date) -> WasteLog:
    """What used oil was handed in since a day."""
    rows = OilRecord.objects.filter(on__gte=since).select_related("compartment__vehicle", "by").order_by("-on", "-id")
    used = dict(
        LedgerRow.objects.filter(record__in=rows, kind__in=USED)
        .order_by()
        .values("record")
        .annotate(sum=Sum("volume_ml"))
        .values_list("record", "sum")
    )
    before = _oils_before([r.box_id for r in rows])
    lines, unknown = [], 0
    for r in rows:
        amount = used.get(r.pk)
        if amount is None:
            unknown += r.work != "top-up"
            continue
        place = (r.compartment.vehicle.name, r.compartment.name)
        lines.append(
            WasteLine(
                r.pk,
                r.on,
                *place,
                r.details.get("wrong_oil") or before.get(r.pk) or "",
                amount,
                r.details.get("where_to", ""),
                r.by.shown_name,
            )
        )
    return WasteLog(since, sum(x.waste_ml for x in lines), unknown, tuple(lines))


def _oils_before(boxes: Iterable[int]) -> dict[int, str]:
    """By record: the oil that was inside before it, by the record before; records without one are left out."""
    found: dict[int, str] = {}
    last: dict[int, str] = {}
    rows = OilRecord.objects.filter(box__in=set(boxes)).exclude(work="top-up").order_by("on", "id")
    anew = dict(Correction.objects.filter(field="oil", record__box__in=set(boxes)).order_by("at").values_list("record_id", "after"))
    for pk, box, written in rows.values_list("pk", "box_id", "oil"):
        oil = anew.get(pk, written)
        if last.get(box):
            found[pk] = last[box]
        last[box] = oil
    return found
