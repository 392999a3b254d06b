"""An act as a device sends it, read into canonical units."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from barodex.core import guide
from barodex.core.quantity.errors import CoreError, OutOfRange, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.words import say


@dataclass(frozen=True)
class NewAct:
    """An act as a device sends it; amounts in ``values`` may be text as typed, in the person's units."""

    act_id: uuid.UUID
    kind: str
    step: str
    values: Mapping[str, Any]
    done_at: dt.datetime | None = None  # by the device's clock, for an act that waited; None: now


QUANTITIES = ("volume", "mass", "temperature", "torque", "length", "distance", "engine_hours")


READINGS = {
    "dead_ml": "volume",
    "dip_mm": "length",
    "mark_mm": "length",
    "drops": "duration",
    "seconds": "duration",
}  # read beside a step's own fields


CLOCK_SKEW = dt.timedelta(minutes=2)


def when_done(new: NewAct, started_at: dt.datetime, now: dt.datetime) -> dt.datetime:
    """When an act was done: by the device's clock where it waited, never before the service nor after now."""
    if new.done_at is None:
        return now
    if new.done_at > now + CLOCK_SKEW:
        raise OutOfRange(
            say("This act comes from the future: the clock of that device runs ahead."),
            field="done_at",
            value=new.done_at.isoformat(timespec="seconds"),
            allowed=say("up to {now}", now=now.isoformat(timespec="seconds")),
        )
    return min(now, max(new.done_at, started_at))


def read_values(procedure: guide.Procedure, step_id: str, values: Mapping[str, Any], system: str) -> dict[str, Any]:
    """Bring what was typed into canonical units, by the step's fields. Raises what :func:`parse_quantity` raises, at the field."""
    step = procedure.by_id.get(step_id)
    holds_ml = procedure.job(step.compartment).holds_ml if step and step.compartment else None
    read = {str(k)[:40]: v for k, v in list(values.items())[:40]}
    for field in step.fields if step else ():
        value = read.get(field.name)
        if value in (None, ""):
            read[field.name] = None
            continue
        if field.kind in QUANTITIES:
            try:
                read[field.name] = (
                    parse_quantity(value, field.kind, system, holds_ml if field.kind == "volume" else None)
                    if isinstance(value, str)
                    else in_range(field.name, value, -100, 1e6)
                )
            except CoreError as error:
                error.field = field.name
                raise
        elif field.kind == "number":
            read[field.name] = parse_quantity(str(value), "duration") if isinstance(value, str) else in_range(field.name, value, 0, 1e6)
        elif field.kind in ("text", "lines"):
            read[field.name] = str(value)[:2000]
    for name, kind in READINGS.items():
        if isinstance(read.get(name), str) and (step is None or all(f.name != name for f in step.fields)):
            try:
                read[name] = parse_quantity(read[name], kind, system)
            except CoreError as error:
                error.field = name
                raise
    return read
