"""What the compartments on a sheet really take, by their records."""

from __future__ import annotations

from barodex.core.drained import poured_sigma_ml
from barodex.core.expansion import volume_at
from barodex.core.learnt import Fill, Learnt, learn_capacity
from barodex.fleet.models import Compartment
from barodex.shelf.models import SheetRevision

from .models import OilRecord
from .queries import POURED_C, corrected, density

LEVELLED = ("to the lip", "overflow", "dipstick")  # ways to fill that find the level themselves


def learnt_of(c: Compartment, revision: SheetRevision) -> Learnt:
    """What the compartments on a sheet really take, of the same variant where it has some."""
    rows = OilRecord.objects.filter(compartment__sheet_id=c.sheet_id).exclude(work__in=["top-up", "exchange"])
    if revision.variants:
        rows = rows.filter(compartment__variant=c.variant)
    rows = rows.select_related("lubricant", "revision", "compartment__vehicle").prefetch_related("corrections")
    went_in, came_out = [], []
    for r in rows:
        values, where = corrected(r), f"{r.compartment.vehicle.name}, {r.compartment.name}"
        levelled = r.revision is not None and r.revision.fill_method in LEVELLED and r.revision.drain_method != "suction"
        # A figure that was poured to the millilitre is the sheet's, whatever the method says.
        copied = r.revision is not None and values["poured_ml"] is not None and values["poured_ml"] - r.run_out_ml == r.revision.capacity_ml
        if values["poured_ml"] is not None and values["poured_ml"] - r.run_out_ml >= 1 and not r.factory_fill:
            went_in.append(Fill(values["poured_ml"] - r.run_out_ml, where, levelled and not copied))
        if values["drained_ml"] is not None and values["drained_ml"] >= 1 and (r.revision is None or r.revision.drain_method != "suction"):
            at = 20.0 if values["drained_c"] is None else values["drained_c"]
            came_out.append(Fill(volume_at(values["drained_ml"], at, POURED_C, density(r)), where))
    typical = revision.capacity_ml or (went_in[0].volume_ml if went_in else 1000.0)
    return learn_capacity(went_in, came_out, revision.capacity_ml, poured_sigma_ml(typical))
