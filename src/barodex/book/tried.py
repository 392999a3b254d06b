"""Oils tried in a compartment, from its records."""

from __future__ import annotations

import datetime as dt
from typing import Any

from barodex.core.ledger.tried import Fill, SideBySide, compare_oils
from barodex.core.words import say
from barodex.fleet.models import Compartment

from .history import history_of


def _rated(record: Any, when: str, what: str) -> int | None:
    said = ((record.details.get("rated") or {}).get(when) or {}).get(what)
    return int(said[0]) if said else None


def oils_tried(compartment_id: int, as_of: dt.date) -> SideBySide:
    """The oils of a compartment side by side; raises Compartment.DoesNotExist."""
    c = Compartment.objects.select_related("vehicle", "sheet").prefetch_related("vehicle__readings").get(pk=compartment_id)
    history = history_of(c, as_of)
    changes = [m for m in history.changes if m.values["oil"]]
    fills = []
    for k, m in enumerate(changes):
        on = m.values["on"]
        after = changes[k + 1] if k + 1 < len(changes) else None
        if after is not None:
            run, days = after.run, (after.values["on"] - on).days
        else:
            run = history.run_since(m)
            days = (as_of - on).days
        fills.append(
            Fill(
                oil=say("{values}, with an additive", values=m.values["oil"]) if m.said.additive_ml else m.values["oil"],
                on=on,
                days=days,
                run=run,
                inside=after is None,
                shift_before=_rated(m.record, "before", "shift"),
                shift_after=_rated(m.record, "after", "shift"),
                noise_before=_rated(m.record, "before", "noise"),
                noise_after=_rated(m.record, "after", "noise"),
                level=after.record.level if after else None,
                colour=((after.record.finding or {}).get("colour") or "") if after else "",
                loss=after.loss_point if after and after.left is None else None,
            )
        )
    return compare_oils(fills, c.vehicle.meter)
