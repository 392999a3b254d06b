"""What the compartments on a sheet really take, by their records."""

from __future__ import annotations

from math import hypot

from barodex.core.findings.finding import Finding
from barodex.core.findings.surprises import Surprise, odd_colour, too_clean
from barodex.core.ledger.balance import balance
from barodex.core.ledger.drained import level_sigma_ml, poured_sigma_ml
from barodex.core.ledger.learnt import Fill, Learnt, capacity_offered, learn_capacity
from barodex.core.quantity.expansion import DEFAULT_DENSITY15
from barodex.core.sheet.figures import FINDS_LEVEL
from barodex.fleet.models import Compartment
from barodex.shelf.models import SheetRevision

from .amounts import Measured
from .ledger import density, entries_of_records, stated_ml
from .models import OilRecord

_FIELDS = (
    "pk",
    "compartment__vehicle__name",
    "compartment__name",
    "factory_fill",
    "revision__fill_method",
    "revision__drain_method",
    "revision__capacity_ml",
    "lubricant__density15",
)

OFFERS_NONE = ("top-up", "exchange")  # works whose fill says nothing of what the box holds


def offered_ml(m: Measured, newest: SheetRevision) -> float | None:
    """What a fill offers as the capacity of a sheet that states none, or only a guess: mL at 20 °C; None where it says nothing new."""
    if m.sums.net_in is None or m.record.work in OFFERS_NONE or m.record.revision is None or newest.variants:
        return None
    trust = next((s.trust for s in newest.sources.all() if s.figure == "capacity"), "")
    took = stated_ml(m.sums.net_in, density(m.record))
    return capacity_offered(took, newest.capacity_ml, trust, newest.fill_method in FINDS_LEVEL)


def odd_of(m: Measured, finding: Finding | None, recorded: bool, oil: str = "") -> tuple[Surprise, ...]:
    """What is odd about the oil that a record saw; ``recorded``: the book knows of a change before it, with which ``oil``."""
    clean = too_clean(finding.colour, m.run, recorded, m.record.compartment.vehicle.meter) if finding else None
    odd = odd_colour(finding.colour, oil) if finding else None
    return tuple(s for s in (clean, odd) if s)


def learnt_of(c: Compartment, revision: SheetRevision) -> Learnt:
    """What the compartments on a sheet really take, of the same variant where it has some."""
    records = OilRecord.objects.filter(compartment__sheet_id=c.sheet_id).exclude(work__in=["top-up", "exchange"])
    if revision.variants:
        records = records.filter(compartment__variant=c.variant)
    rows = list(records.values_list(*_FIELDS))
    entries = entries_of_records([row[0] for row in rows])
    went_in, came_out = [], []
    for pk, vehicle, box, factory, fill, drain, capacity, oil_density in rows:
        where, dense = f"{vehicle}, {box}", oil_density or DEFAULT_DENSITY15
        mine = entries.get(pk, ())
        sums = balance(mine, density15=dense)
        # A figure that was poured to the millilitre is the sheet's, whatever the method says.
        copied = sum(e.amount.volume_ml for e in mine if e.kind in ("oil", "additive")) == capacity
        levelled = fill in FINDS_LEVEL and drain != "suction" and not copied

        if sums.net_in is not None and sums.net_in.volume_ml >= 1 and not factory:
            went_in.append(Fill(stated_ml(sums.net_in, dense), where, levelled))
        if sums.first_out is not None and sums.first_out.volume_ml >= 1 and drain != "suction":
            came_out.append(Fill(stated_ml(sums.first_out, dense), where))
    typical = revision.capacity_ml or (went_in[0].volume_ml if went_in else 1000.0)
    return learn_capacity(went_in, came_out, revision.capacity_ml, hypot(poured_sigma_ml(typical), level_sigma_ml(typical)))
