"""The past of a compartment, kept with the job so that the guide stays what it was."""

from __future__ import annotations

import datetime as dt
from dataclasses import replace

from barodex.book.history import history_of
from barodex.fleet.models import Compartment

from .facts import Past


def past_of(compartment: Compartment, as_of: dt.date, meter_value: float | None, topped: bool = False) -> Past:
    """What is known of a compartment today; ``meter_value`` as it was read now, km or h, None not read; a top-up
    (``topped``) is held against the level as it was last set, a drain against the last fill."""
    history = history_of(compartment, as_of)
    last = history.last_change
    if last is None:
        return Past()
    since = (history.last_set if topped else history.filled) or last
    ran, run = history.run_until(since, meter_value), history.interval_run_until(since, meter_value)
    if ran is not None and ran < 0:
        ran = None  # its last change was noted at more than the meter says: how far it ran is not known
    past = Past(
        first_change=last.record.factory_fill,
        last_filled_on=last.values["on"],
        level_set_on=since.values["on"],
        oil=last.values["oil"],
        share=None if run is None else round(run.share, 5),
        least_share=None if run is None else round(run.least, 5),
        distance_km=round(ran, 1) if compartment.vehicle.meter == "km" and ran is not None else None,
        run=None if ran is None else round(ran, 1),
        depth_mm=history.depth_mm,
        last_in=history.last_fill,
        topups=history.topups,
        first_drain=not history.drained_before,
        density15=history.oil_density,
    )
    past = replace(past, noted=history.noted, resets=history.resets)
    looked = history.looks
    if looked:
        levels = tuple(m.record.level for m in looked)
        past = replace(past, previous=looked[0].record.finding, previous_level=levels[0], older_levels=levels[1:])
    return past
