"""What follows from the records: written with them, read by everybody who says what is next, closed by an act."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from barodex.accounts.models import Person
from barodex.core.due.interval import Limits
from barodex.core.due.meter import BoxMeter
from barodex.core.verdict.consequences import CONSEQUENCE_KINDS, Again, Consequence, Held, Seen, consequence_text, held_by
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.fleet.rules import limits_of
from barodex.fleet.use import meter_of_box
from barodex.shelf.models import SheetRevision

from .amounts import Measured
from .models import ConsequenceRow, Correction, OilRecord

OF_LOSS = frozenset({("stop", "reaches"), ("repair", "leak"), ("look-again", "leak"), ("look-again", "loss-short")})
OF_AMOUNT = OF_LOSS | {("adopt", "capacity")}
OF_FINDING = frozenset(
    {("stop", "finding"), ("repair", "water"), ("due-cap", "finding"), ("due-cap", "water"), ("look-again", "finding")}
) | {("ask", "clean-no-record"), ("ask", "clean-too-long")}
# What a look at oil and magnet answers; any other look is answered by whatever is done next.
ASKS_A_FINDING = ("finding", "wrong-oil", "mended", "oil-override")
LOOKED_WITH = say("looked at with the change of")


def limits_both(compartment: Compartment, revision: SheetRevision) -> dict[str, Limits]:
    """The limits of a compartment, and those where something shortens them, as :class:`Seen` takes them."""
    usual, short = limits_of(compartment, revision)
    return {"limits": usual, "limits_short": short}


def write_consequences(record: OilRecord, found: Iterable[Consequence]) -> None:
    """Keep what follows from a record."""
    ConsequenceRow.objects.bulk_create(
        [
            ConsequenceRow(
                record=record, kind=c.kind, code=c.code, params=dict(c.params), run=c.run, days=c.days, factor=c.factor, basis=c.basis
            )
            for c in found
        ]
    )


def close_before(
    by: Person, record: OilRecord, on: dt.date, found: Sequence[Consequence], lost_told: bool, good: tuple[str, ...] = ()
) -> None:
    """What a record answers of those before it: looks are looked at; what it shows again stands anew; a loss told anew replaces the old,
    and a part that is good now is no longer bad."""
    again = {(c.kind, c.code, _about(c.params)) for c in found}
    rows = ConsequenceRow.objects.filter(record__box=record.box_id, done_at=None, record__on__lt=on).exclude(kind__in=("stop", "due-cap"))
    for row in rows.exclude(record=record):
        looked = row.kind != "repair" and (record.level is not None or row.code not in ASKS_A_FINDING)
        told = row.kind == "repair" and row.code == "leak" and lost_told
        mended = row.code == "check-bad" and row.params.get("check") in good
        if looked or told or mended or (row.kind, row.code, _about(row.params)) in again:
            row.done_at, row.done_by, row.outcome = record.at, by, f"{LOOKED_WITH} {on:%d %b %Y}"
            row.save(update_fields=["done_at", "done_by", "outcome"])


def _about(params: Mapping[str, Any]) -> str:
    """Which part or value a consequence is of, where its code alone does not say."""
    return str(params.get("check") or params.get("name") or "")


def seen_of(m: Measured, agains: tuple[Again, ...] = (), **more: object) -> Seen:
    """What a record in the book shows, as far as its amounts tell it; ``more`` as :class:`Seen`."""
    r = m.record
    assert r.revision is not None
    return Seen(
        on=m.values["on"],
        meter=r.compartment.vehicle.meter,
        loss=m.loss,
        capacity_ml=r.revision.capacity_ml,
        ran=m.run,
        ran_days=m.days,
        agains=agains,
        **limits_both(r.compartment, r.revision),
        **more,  # type: ignore[arg-type]
    )


def rows_of_records(records: Collection[int]) -> dict[int, list[ConsequenceRow]]:
    """What follows from each of some records, the gravest first."""
    found: dict[int, list[ConsequenceRow]] = defaultdict(list)
    for row in ConsequenceRow.objects.filter(record__in=records).select_related("done_by").order_by("id"):
        found[row.record_id].append(row)
    for mine in found.values():
        mine.sort(key=lambda r: CONSEQUENCE_KINDS.index(r.kind))
    return found


def held_of(rows: Iterable[ConsequenceRow]) -> Held:
    """What shortens the interval after a record."""
    return held_by(r.consequence for r in rows if r.kind == "due-cap" and r.done_at is None)


@dataclass(frozen=True)
class FollowLine:
    """What follows from a record, by which day or meter (km or h), at which share of the usual interval; ``closed`` says who, when and
    what was found or mended, empty while it is open."""

    id: int
    kind: str
    code: str
    what: str
    due_on: dt.date | None
    due_meter: float | None
    factor: float | None
    closed: str
    offer: str = ""
    offer_ml: float | None = None
    offer_nm: float | None = None


def by_when(run: float | None, days: int | None, on: dt.date, meter: float | None) -> tuple[dt.date | None, float | None]:
    """By which day and meter value (km or h) something is wanted that is counted from a record of a day and meter value."""
    return None if days is None else on + dt.timedelta(days=days), None if run is None or meter is None else meter + run


def follow_lines(rows: Iterable[ConsequenceRow], on: dt.date, meter: float | None) -> tuple[FollowLine, ...]:
    """What follows from a record of a day and meter value, in words."""
    return tuple(
        FollowLine(r.pk, r.kind, r.code, r.text, *by_when(r.run, r.days, on, meter), r.factor, _closed(r), *_offer(r.kind, r.params))
        for r in rows
    )


def _offer(kind: str, params: Mapping[str, Any]) -> tuple[str, float | None, float | None]:
    """The variant, the capacity (mL) and the torque (N·m) that can be taken over."""
    return (str(params.get("variant", "")), params.get("took_ml"), params.get("torque_nm")) if kind == "adopt" else ("", None, None)


def _closed(r: ConsequenceRow) -> str:
    if r.done_at is None or r.done_by is None:
        return ""
    return f"{r.done_at.day} {r.done_at:%b %Y}, {r.done_by.shown_name}: {r.outcome}"


@dataclass(frozen=True)
class ConsequenceView:
    """Something that follows and is open: what, by which day or meter (km or h as the vehicle counts), on whose record.

    ``offer``: the variant, ``offer_ml``: the capacity (mL), ``offer_nm``: the torque (N·m) that can be taken over by one press.
    """

    id: int
    vehicle_id: int
    vehicle: str
    compartment_id: int
    compartment: str
    kind: str
    code: str
    what: str
    due_on: dt.date | None
    due_meter: float | None
    meter: str
    since: dt.date
    record: int
    offer: str = ""
    offer_ml: float | None = None
    offer_nm: float | None = None

    @property
    def stop(self) -> bool:
        """Whether it forbids driving."""
        return self.kind == "stop"


_AT = "record__box__place"  # where the box is fitted now
_FIELDS = (
    "pk",
    f"{_AT}__vehicle_id",
    f"{_AT}__vehicle__name",
    f"{_AT}__pk",
    f"{_AT}__name",
    "kind",
    "code",
    "params",
    "run",
    "days",
    f"{_AT}__vehicle__meter",
    "record__compartment_id",
    "record__box_id",
    "record__on",
    "record__meter_value",
    "record_id",
)


def open_consequences(vehicle_id: int | None = None) -> list[ConsequenceView]:
    """What is open, of all vehicles or one, the gravest first, then by their day; what shortens an interval is the schedule's own."""
    rows = ConsequenceRow.objects.filter(done_at=None, record__voided_at=None).exclude(kind="due-cap").exclude(record__box__place=None)
    rows = rows.filter(record__box__place__removed_on=None)
    fixes = Correction.objects.filter(field__in=("on", "meter_value"), record__consequences__done_at=None).order_by("at", "id")
    if vehicle_id is None:
        rows = rows.filter(record__box__place__vehicle__retired_on=None)
    if vehicle_id is not None:
        rows = rows.filter(record__box__place__vehicle_id=vehicle_id)
        fixes = fixes.filter(record__box__place__vehicle_id=vehicle_id)
    anew = {(record, name): after for record, name, after in fixes.values_list("record_id", "field", "after")}
    found = []
    for pk, vehicle, name, place, box, kind, code, params, run, days, meter, then, moved, on, value, record in rows.order_by().values_list(
        *_FIELDS
    ):
        since = dt.date.fromisoformat(str(anew.get((record, "on"), on)))
        read = anew.get((record, "meter_value"), value)
        due_on, due_meter = by_when(run, days, since, read)
        if then != place and run is not None:
            due_meter = _where_it_is_now(moved, run, since, read)
        offer, offer_ml, offer_nm = _offer(kind, params)
        found.append(
            ConsequenceView(
                id=pk,
                vehicle_id=vehicle,
                vehicle=name,
                compartment_id=place,
                compartment=box,
                kind=kind,
                code=code,
                what=consequence_text(kind, code, params),
                due_on=due_on,
                due_meter=due_meter,
                meter=meter,
                since=since,
                record=record,
                offer=offer,
                offer_ml=offer_ml,
                offer_nm=offer_nm,
            )
        )
    return sorted(found, key=gravest)


def _where_it_is_now(box: int, run: float, since: dt.date, read: float | None) -> float | None:
    """At which meter value of the vehicle that a box is fitted in now it has run so much since a record on another's meter."""
    meter = meter_of_box(box)
    if not isinstance(meter, BoxMeter) or not meter.fittings or meter.fittings[-1].value is None:
        return None
    here = meter.fittings[-1]
    ran = BoxMeter(meter.fittings[:-1]).between(since, read, here.on, None) if here.on is not None else None
    return None if ran is None else here.value + run - ran


def gravest(c: ConsequenceView) -> tuple[int, dt.date, int]:
    """The order of what is open: stops first, then repairs, then by their day, those without one first."""
    return CONSEQUENCE_KINDS.index(c.kind) if c.kind in ("stop", "repair") else len(CONSEQUENCE_KINDS), c.due_on or dt.date.min, c.id
