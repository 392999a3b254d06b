"""How the workshop's own past forecasts came out."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from dataclasses import dataclass
from statistics import median

from barodex.core.due.replay import CameOut, Tally, replayed, tally
from barodex.fleet.models import Vehicle
from barodex.fleet.use import Columns, line_of, readings_of

QUARTERS, QUARTER_DAYS = 8, 91


@dataclass(frozen=True)
class MissView:
    """A forecast that did not come out: said on a day between two, and when it was."""

    as_of: dt.date
    early: dt.date | None
    late: dt.date | None
    true: dt.date


@dataclass(frozen=True)
class VehicleOutcome:
    """How the forecasts of a vehicle came out; ``off``: the middle of P50's error, a share of the time to go, late above 0."""

    vehicle_id: int
    vehicle: str
    tally: Tally
    off: float | None
    misses: tuple[MissView, ...]


@dataclass(frozen=True)
class ForecastsView:
    """How all came out, and each vehicle, those that missed most first; ``quarters`` back, a forecast each."""

    tally: Tally
    off: float | None
    quarters: int
    vehicles: tuple[VehicleOutcome, ...]


def _off(rows: list[CameOut]) -> float | None:
    known = [r.off for r in rows if r.off is not None]
    return median(known) if known else None


def came_out(today: dt.date) -> ForecastsView:
    """What would have been said each quarter of the last two years, against what was read since."""
    vehicles, readings, none = list(Vehicle.objects.order_by("name")), readings_of(), Columns()
    lines = [line_of(v, readings.get(v.pk, none).meter(today)) for v in vehicles]
    rows = replayed(lines, [today - dt.timedelta(days=QUARTER_DAYS * k) for k in range(1, QUARTERS + 1)])
    by_vehicle: dict[int, list[CameOut]] = defaultdict(list)
    for row in rows:
        by_vehicle[row.line].append(row)
    told = [
        VehicleOutcome(
            vehicles[k].pk,
            vehicles[k].name,
            tally(mine),
            _off(mine),
            tuple(MissView(r.as_of, r.early, r.late, r.true) for r in mine if r.side),
        )
        for k, mine in by_vehicle.items()
    ]
    told.sort(key=lambda v: (-(v.tally.before + v.tally.after), v.vehicle))
    return ForecastsView(tally(rows), _off(rows), QUARTERS, tuple(told))
