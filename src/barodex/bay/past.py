"""The past of a compartment, kept with the job so that the guide stays what it was."""

from __future__ import annotations

import datetime as dt
from typing import Any

from barodex.book.amounts import net_in_ml
from barodex.book.queries import RECORDS, density, interval_share, is_first_change, record_views
from barodex.core.due.meter import run_since
from barodex.core.sheet.work import EXCHANGE_SCHOOLS
from barodex.fleet.models import Compartment
from barodex.fleet.use import meter_readings, vehicle_forecast


def past_of(compartment: Compartment, as_of: dt.date) -> dict[str, Any]:
    """What is known of a compartment today, as plain values."""
    records = list(RECORDS.filter(compartment=compartment))
    if not records:
        return {"first_change": False}
    views = record_views(records)
    changes = [v for v in views if v.work != "top-up"]
    if not changes:
        return {"first_change": False}
    last = changes[-1]
    by_id = {r.pk: r for r in records}
    vehicle = compartment.vehicle
    readings = list(vehicle.readings.all())
    use = vehicle_forecast(vehicle, readings, as_of)
    ran = run_since(meter_readings(readings), last.on, last.meter_value, as_of, 0.0)
    filled = next((v for v in reversed(changes) if v.poured_ml is not None), None)
    looked = next((v for v in reversed(changes) if v.level is not None), None)
    past: dict[str, Any] = {
        "first_change": is_first_change(compartment, as_of),
        "last_filled_on": last.on.isoformat(),
        "per_day": use.rate.per_day,
        "oil": last.oil,
    }
    share = interval_share(by_id[last.id], ran, last.on, as_of)
    if share is not None:
        past["share"] = round(share, 5)
    if vehicle.meter == "km" and ran is not None:
        past["distance_km"] = round(ran, 1)
    if filled and filled.poured_ml is not None:
        source = by_id[filled.id]
        past |= {"density15": density(source), "last_filled_on": filled.on.isoformat()}
        if source.details.get("school") != EXCHANGE_SCHOOLS[1]:  # what flowed through a box is not what stands in it
            past["net_in_ml"] = net_in_ml(filled.poured_ml, source.additive_ml, source.run_out_ml)
            past["poured_c"] = source.ambient_c
        after = views[views.index(filled) + 1 :]
        past["topups_ml"] = [v.poured_ml for v in after if v.work == "top-up" and v.poured_ml]
    depth = next((by_id[v.id].details["depth_mm"] for v in reversed(changes) if by_id[v.id].details.get("depth_mm") is not None), None)
    if depth is not None:
        past["depth_mm"] = depth
    if looked:
        levels = [v.level for v in reversed(changes) if v.level is not None]
        past |= {"previous": by_id[looked.id].finding, "previous_level": looked.level, "older_levels": levels[1:]}
    return past
