"""What is to be told about a vehicle to somebody who does not work on it: seen, meant, next, on one sheet."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.book.consequences import ConsequenceView
from barodex.book.models import OilRecord
from barodex.book.photos import PhotoView
from barodex.book.queries import RECORDS, past_finding, record_views
from barodex.core.verdict.words import loss_in_words, meaning, seen_in_words
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.plan.queries import DUE_STATES, CompartmentDue, due_board


@dataclass(frozen=True)
class NextLine:
    """Something that has to be done, by a day or meter value (km or h) where there is one; ``stop``: the vehicle must not be driven before."""

    text: str
    stop: bool
    on: dt.date | None
    meter: float | None


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
    why: tuple[str, ...]  # what brings the next change forward
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


def _next_words(due: CompartmentDue, ahead: list[ConsequenceView]) -> tuple[NextLine, ...]:
    said = [NextLine(f"{c.what}.", c.stop, c.due_on, c.due_meter) for c in ahead if c.kind != "adopt"]
    if due.state == "stop":  # said here and nowhere else: it holds until the lead has cleared it, whatever a record says
        said.append(NextLine(say("The vehicle must not be driven until it is mended."), True, None, None))
    elif due.state == "unknown":
        said.append(NextLine(say("Nobody knows when its oil was changed: change it now."), False, None, None))
    elif due.state == "overdue":
        said.append(NextLine(say("Its oil change is overdue."), False, None, None))
    elif due.state in ("due", "soon"):
        said.append(NextLine(say("Its oil change is due soon."), False, None, None))
    return tuple(said)


def _about(r: CompartmentVerdict, ahead: list[ConsequenceView]) -> tuple[str, ...]:
    """What an owner is told of a compartment in the first sentence."""
    kinds = {c.kind for c in ahead}
    worn = r.level is not None and r.level >= 2
    return (
        *(
            ("to be mended",)
            if "repair" in kinds
            else ("to be watched",)
            if worn
            else (say("to be looked at"),)
            if kinds & {"look-again", "ask"}
            else ()
        ),
        *((say("oil change due"),) if r.state in ("overdue", "due", "unknown") else ()),
    )


def _sentence(rows: list[CompartmentVerdict], ahead: dict[int, list[ConsequenceView]]) -> str:
    stop = [r.compartment.lower() for r in rows if r.state == "stop"]
    if stop:
        return say("Do not drive this vehicle: {stop}.", stop=", ".join(stop))
    told: dict[str, list[str]] = {about: [] for about in ("to be mended", "to be watched", say("to be looked at"), say("oil change due"))}
    for r in rows:
        for about in _about(r, ahead[r.compartment_id]):
            told[about].append(r.compartment.lower())
    text = "; ".join(f"{about}: {', '.join(names)}" for about, names in told.items() if names)
    return f"{text[0].upper()}{text[1:]}." if text else say("Nothing needs doing now.")


def vehicle_verdict(vehicle_id: int, as_of: dt.date) -> VehicleVerdict:
    """The sheet of a vehicle; raises Compartment.DoesNotExist where there is no such vehicle or it has no compartment."""
    board = due_board(as_of, vehicle_id)
    if not board.vehicles:
        raise Compartment.DoesNotExist
    (vehicle,) = board.vehicles
    by_box: dict[int, list[OilRecord]] = {c.id: [] for c in vehicle.compartments}
    for r in RECORDS.filter(box__place__vehicle_id=vehicle_id).select_related("box__place"):
        by_box[r.box.place.pk].append(r)
    ahead: dict[int, list[ConsequenceView]] = {c.id: [] for c in vehicle.compartments}
    for c in board.consequences:
        ahead[c.compartment_id].append(c)
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
                loss=loss_in_words(lost.loss_band if lost else "", lost.loss_15_ml if lost else None, idle=not ahead[due.id]),
                next_on=due.on,
                next_meter=due.at_meter,
                next_words=_next_words(due, ahead[due.id]),
                why=due.why,
                photos=tuple(p for v in views[-2:] for p in v.photos)[:3],
            )
        )
    rows.sort(key=lambda r: (DUE_STATES.index(r.state), -(r.level or 0)))
    return VehicleVerdict(
        vehicle.id, vehicle.name, vehicle.plate, vehicle.meter, vehicle.meter_now, as_of, _sentence(rows, ahead), tuple(rows)
    )
