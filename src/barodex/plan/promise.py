"""What the schedule will say once a record is written: the next due of a compartment as if it were changed today."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass, replace

from barodex.core.verdict.consequences import Consequence, consequence_text, held_by
from barodex.workshop.schedule import schedule_policy

from .facts import LastChange, due_of, facts_with_reading


@dataclass(frozen=True)
class NextDue:
    """When a compartment falls due next, by which limit; ``at_meter`` in km or h."""

    on: dt.date | None
    at_meter: float | None
    limit: str
    state: str


def next_due_if(
    vehicle_id: int, compartment_id: int, on: dt.date, meter_value: float | None, found: Iterable[Consequence], changed: bool = True
) -> NextDue:
    """The due of a compartment once it is ``changed`` on a day at a meter value with what follows; a top-up changes nothing.

    It is told by what tells the board, from the readings with the new one. Raises Vehicle.DoesNotExist.
    """
    v = facts_with_reading(vehicle_id, on, meter_value)
    box = next(b for b in v.boxes if b.id == compartment_id)
    if changed:
        caps = [c for c in found if c.kind == "due-cap"]
        why = tuple(consequence_text(c.kind, c.code, c.params) for c in caps)
        box = replace(box, last=LastChange(on, meter_value, "", "", None, held_by(caps), why))
    due = due_of(v, box, schedule_policy(), on)[0].due
    return NextDue(due.on, due.at_km if due.at_km is not None else due.at_h, due.limit, due.state)
