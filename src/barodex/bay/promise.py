"""What a service would leave behind if it were signed now: told by the very functions that write it and that read it afterwards."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.book.consequences import by_when
from barodex.core import guide, run
from barodex.core.verdict.consequences import consequence_text, consequences
from barodex.plan.promise import NextDue, next_due_if

from .models import Service, ServiceJob
from .seen import seen_of


@dataclass(frozen=True)
class Follows:
    """One thing that follows: what, by which day or meter value (km or h), at which share of the usual interval; once it is written its
    id, and what it offers (mL, N·m)."""

    kind: str
    code: str
    what: str
    due_on: dt.date | None
    due_meter: float | None
    factor: float | None
    basis: str
    id: int = 0
    offer: str = ""
    offer_ml: float | None = None
    offer_nm: float | None = None


@dataclass(frozen=True)
class Promise:
    """What follows, the gravest first, and when the next change falls."""

    follows: tuple[Follows, ...]
    next: NextDue


def promise_of(service: Service, row: ServiceJob, procedure: guide.Procedure, state: run.State, on: dt.date) -> Promise | None:
    """What a compartment's record would mean if it were signed on a day; None while nothing was seen of it."""
    ledger = state.ledgers[str(row.compartment_id)]
    if service.state != "open" or (ledger.assessment is None and ledger.loss is None):
        return None
    found = consequences(seen_of(service, row, procedure, state, on))
    meter = service.meter_value
    follows = tuple(
        Follows(c.kind, c.code, consequence_text(c.kind, c.code, c.params), *by_when(c.run, c.days, on, meter), c.factor, c.basis)
        for c in found
    )
    changed = procedure.job(str(row.compartment_id)).kind_of_work != "top-up"
    return Promise(follows, next_due_if(service.vehicle_id, row.compartment_id, on, meter, found, changed))
