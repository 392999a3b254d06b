"""What is to be told about a vehicle to somebody who does not work on it: seen, meant, next, on one sheet."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.book.models import FollowUp, OilRecord
from barodex.book.photos import PhotoView
from barodex.book.queries import RECORDS, past_finding, record_views
from barodex.core.verdict.words import loss_in_words, meaning, seen_in_words
from barodex.fleet.models import Compartment
from barodex.plan.queries import CompartmentDue, due_board


@dataclass(frozen=True)
class NextLine:
    """Something that has to be done; ``stop``: the vehicle must not be driven before."""

    text: str
    stop: bool


@dataclass(frozen=True)
class CompartmentVerdict:
    """One compartment in plain words; ``level`` for its mark, ``next_on`` and ``next_meter`` when it is due again."""

    compartment_id: int
    compartment: str
    family: str
    oil: str
    on: dt.date | None
    meter: float | None
    level: int | None
    colour: str
    state: str
    used: float
    seen: tuple[str, ...]
    means: str
    loss: str
    next_on: dt.date | None
    next_meter: float | None
    next_words: tuple[NextLine, ...]
    photos: tuple[PhotoView, ...]


@dataclass(frozen=True)
class VehicleVerdict:
    """A vehicle's sheet: the worst first, and one sentence on the whole."""

    vehicle_id: int
    vehicle: str
    plate: str
    meter: str
    meter_now: float | None
    today: dt.date
    sentence: str
    compartments: tuple[CompartmentVerdict, ...]


def _next_words(due: CompartmentDue, follow_ups: list[FollowUp]) -> tuple[NextLine, ...]:
    said = [NextLine(f.what.rstrip(".") + ".", f.stop) for f in follow_ups]
    if due.state == "stop":  # said here and nowhere else: it holds until the lead has cleared it, whatever a record says
        said.append(NextLine("The vehicle must not be driven until it is mended.", True))
    elif due.state == "unknown":
        said.append(NextLine("Nobody knows when its oil was changed: change it now.", False))
    elif due.state == "overdue":
        said.append(NextLine("Its oil change is overdue.", False))
    elif due.state in ("due", "soon"):
        said.append(NextLine("Its oil change is due soon.", False))
    return tuple(said)


def _sentence(rows: list[CompartmentVerdict]) -> str:
    stop = [r.compartment.lower() for r in rows if r.state == "stop"]
    if stop:
        return f"Do not drive this vehicle: {', '.join(stop)}."
    look = [r.compartment.lower() for r in rows if r.level is not None and r.level >= 2]
    late = [r.compartment.lower() for r in rows if r.state in ("overdue", "due", "unknown")]
    parts = []
    if look:
        parts.append(f"To be watched: {', '.join(look)}")
    if late:
        parts.append(f"oil change due: {', '.join(late)}")
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}." if text else "Nothing needs doing now."


def vehicle_verdict(vehicle_id: int, as_of: dt.date) -> VehicleVerdict:
    """The sheet of a vehicle; raises Compartment.DoesNotExist where there is no such vehicle or it has no compartment."""
    board = due_board(as_of, vehicle_id)
    if not board.vehicles:
        raise Compartment.DoesNotExist
    (vehicle,) = board.vehicles
    by_box: dict[int, list[OilRecord]] = {c.id: [] for c in vehicle.compartments}
    for r in RECORDS.filter(box__place__vehicle_id=vehicle_id).select_related("box__place"):
        by_box[r.box.place.pk].append(r)
    open_ones = FollowUp.objects.filter(record__box__place__vehicle_id=vehicle_id, done_at=None).select_related("record__box__place")
    ahead: dict[int, list[FollowUp]] = {c.id: [] for c in vehicle.compartments}
    for f in open_ones.order_by("-stop", "due_on", "id"):
        ahead[f.record.box.place.pk].append(f)
    rows = []
    for due in vehicle.compartments:
        records = by_box[due.id]
        views = record_views(records)
        last = next((v for v in reversed(views) if v.work != "top-up"), None)
        looked = next((v for v in reversed(views) if v.level is not None), None)
        source = next((r for r in records if looked and r.pk == looked.id), None)
        lost = next((v for v in reversed(views) if v.loss_band), None)
        rows.append(
            CompartmentVerdict(
                compartment_id=due.id,
                compartment=due.name,
                family=due.family,
                oil=last.oil if last else "",
                on=last.on if last else None,
                meter=last.meter_value if last else None,
                level=looked.level if looked else None,
                colour=looked.colour if looked else "",
                state=due.state,
                used=due.used,
                seen=seen_in_words(past_finding(source)),
                means=meaning(looked.level if looked else None),
                loss=loss_in_words(lost.loss_band if lost else "", lost.loss_15_ml if lost else None, looked.level if looked else None),
                next_on=due.on,
                next_meter=due.at_meter,
                next_words=_next_words(due, ahead[due.id]),
                photos=tuple(p for v in views[-2:] for p in v.photos)[:3],
            )
        )
    order = ("stop", "overdue", "due", "unknown", "soon", "fine")
    rows.sort(key=lambda r: (order.index(r.state), -(r.level or 0)))
    return VehicleVerdict(vehicle.id, vehicle.name, vehicle.plate, vehicle.meter, vehicle.meter_now, as_of, _sentence(rows), tuple(rows))
