"""What the compartments on a sheet really take, by their records."""

from __future__ import annotations

from barodex.core.ledger.drained import assumed_temperature, drained_amount, poured_sigma_ml, usual_warmth
from barodex.core.ledger.learnt import Fill, Learnt, learn_capacity
from barodex.core.quantity.expansion import DEFAULT_DENSITY15, volume_at
from barodex.fleet.models import Compartment
from barodex.shelf.models import SheetRevision

from .amounts import net_in_ml
from .models import Correction, OilRecord

LEVELLED = ("to the lip", "overflow", "dipstick")  # ways to fill that find the level themselves
_FIELDS = (
    "pk",
    "compartment__vehicle__name",
    "compartment__name",
    "run_out_ml",
    "additive_ml",
    "factory_fill",
    "poured_ml",
    "drained_ml",
    "drained_c",
    "warmth",
    "ambient_c",
    "revision__fill_method",
    "revision__drain_method",
    "revision__capacity_ml",
    "revision__warm_up",
    "lubricant__density15",
)


def learnt_of(c: Compartment, revision: SheetRevision) -> Learnt:
    """What the compartments on a sheet really take, of the same variant where it has some."""
    rows = OilRecord.objects.filter(compartment__sheet_id=c.sheet_id).exclude(work__in=["top-up", "exchange"])
    if revision.variants:
        rows = rows.filter(compartment__variant=c.variant)
    fixed = {
        (k.record_id, k.field): k.after
        for k in Correction.objects.filter(record__compartment__sheet_id=c.sheet_id, field__in=["poured_ml", "drained_ml", "drained_c"])
    }
    went_in, came_out = [], []
    for row in rows.values_list(*_FIELDS):
        pk, vehicle, box, run_out, additive, factory, poured, drained, at, warmth, air, fill, drain, capacity, warm_up, oil_density = row
        where = f"{vehicle}, {box}"
        poured, drained, at = (fixed.get((pk, name), v) for name, v in (("poured_ml", poured), ("drained_ml", drained), ("drained_c", at)))
        # A figure that was poured to the millilitre is the sheet's, whatever the method says.
        net = None if poured is None else net_in_ml(poured, additive, run_out)
        levelled = fill in LEVELLED and drain != "suction" and net != capacity
        if net is not None and net >= 1 and not factory:
            went_in.append(Fill(net, where, levelled))
        if drained is not None and drained >= 1 and drain != "suction":
            out = drained_amount(drained, drain or "plug", at, warmth or usual_warmth(bool(warm_up), drain or "plug"), air)
            poured_c = assumed_temperature("poured", air)[0]
            came_out.append(Fill(volume_at(drained, out.temperature_c, poured_c, oil_density or DEFAULT_DENSITY15), where))
    typical = revision.capacity_ml or (went_in[0].volume_ml if went_in else 1000.0)
    return learn_capacity(went_in, came_out, revision.capacity_ml, poured_sigma_ml(typical))
