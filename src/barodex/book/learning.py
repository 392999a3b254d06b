"""What the compartments on a sheet really take, by their records."""

from __future__ import annotations

from barodex.core.drained import poured_sigma_ml
from barodex.core.expansion import DEFAULT_DENSITY15, volume_at
from barodex.core.learnt import Fill, Learnt, learn_capacity
from barodex.fleet.models import Compartment
from barodex.shelf.models import SheetRevision

from .amounts import POURED_C
from .models import Correction, OilRecord

LEVELLED = ("to the lip", "overflow", "dipstick")  # ways to fill that find the level themselves
_FIELDS = (
    "pk",
    "compartment__vehicle__name",
    "compartment__name",
    "run_out_ml",
    "factory_fill",
    "poured_ml",
    "drained_ml",
    "drained_c",
    "revision__fill_method",
    "revision__drain_method",
    "revision__capacity_ml",
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
    for pk, vehicle, box, run_out, factory, poured, drained, at, fill, drain, capacity, oil_density in rows.values_list(*_FIELDS):
        where = f"{vehicle}, {box}"
        poured, drained, at = (fixed.get((pk, name), v) for name, v in (("poured_ml", poured), ("drained_ml", drained), ("drained_c", at)))
        # A figure that was poured to the millilitre is the sheet's, whatever the method says.
        levelled = fill in LEVELLED and drain != "suction" and (poured is None or poured - run_out != capacity)
        if poured is not None and poured - run_out >= 1 and not factory:
            went_in.append(Fill(poured - run_out, where, levelled))
        if drained is not None and drained >= 1 and drain != "suction":
            came_out.append(Fill(volume_at(drained, 20.0 if at is None else at, POURED_C, oil_density or DEFAULT_DENSITY15), where))
    typical = revision.capacity_ml or (went_in[0].volume_ml if went_in else 1000.0)
    return learn_capacity(went_in, came_out, revision.capacity_ml, poured_sigma_ml(typical))
