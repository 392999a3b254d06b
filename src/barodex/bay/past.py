"""The past of a compartment, kept with the job so that the guide stays what it was."""

from __future__ import annotations

import datetime as dt
from dataclasses import replace

from barodex.book.amounts import net_in_ml
from barodex.book.queries import RECORDS, density, interval_share, is_first_change, record_views
from barodex.core.due.meter import run_since
from barodex.core.sheet.work import EXCHANGE_SCHOOLS
from barodex.fleet.models import Compartment
from barodex.fleet.use import meter_readings, vehicle_forecast

from .facts import Past


def past_of(compartment: Compartment, as_of: dt.date) -> Past:
    """What is known of a compartment today."""
    records = list(RECORDS.filter(compartment=compartment))
    if not records:
        return Past()
    views = record_views(records)
    changes = [v for v in views if v.work != "top-up"]
    if not changes:
        return Past()
    last = changes[-1]
    by_id = {r.pk: r for r in records}
    vehicle = compartment.vehicle
    readings = list(vehicle.readings.all())
    use = vehicle_forecast(vehicle, readings, as_of)
    ran = run_since(meter_readings(readings), last.on, last.meter_value, as_of, 0.0)
    filled = next((v for v in reversed(changes) if v.poured_ml is not None), None)
    looked = next((v for v in reversed(changes) if v.level is not None), None)
    share = interval_share(by_id[last.id], ran, last.on, as_of)
    past = Past(
        first_change=is_first_change(compartment, as_of),
        last_filled_on=last.on,
        per_day=use.rate.per_day,
        oil=last.oil,
        share=None if share is None else round(share, 5),
        distance_km=round(ran, 1) if vehicle.meter == "km" and ran is not None else None,
        depth_mm=next((d for v in reversed(changes) if (d := by_id[v.id].details.get("depth_mm")) is not None), None),
    )
    if filled and filled.poured_ml is not None:
        source = by_id[filled.id]
        after = views[views.index(filled) + 1 :]
        topups = tuple(v.poured_ml for v in after if v.work == "top-up" and v.poured_ml)
        past = replace(past, density15=density(source), last_filled_on=filled.on, topups_ml=topups)
        if source.details.get("school") != EXCHANGE_SCHOOLS[1]:  # what flowed through a box is not what stands in it
            net = net_in_ml(filled.poured_ml, source.additive_ml, source.run_out_ml)
            past = replace(past, net_in_ml=net, poured_c=source.ambient_c)
    if looked:
        levels = tuple(v.level for v in reversed(changes) if v.level is not None)
        past = replace(past, previous=by_id[looked.id].finding, previous_level=looked.level, older_levels=levels[1:])
    return past
