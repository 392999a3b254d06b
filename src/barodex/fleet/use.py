"""How much a vehicle runs: its readings, its season, the forecast."""

from __future__ import annotations

import datetime as dt
import functools
import itertools
import json
import operator
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass, field

import numpy as np
from django.db.models import CharField, Count, Q, TextField
from django.db.models.functions import Cast

from barodex.core.due.meter import BoxMeter, Fitted, Meter, MeterReading
from barodex.core.due.season import Season, parse_season
from barodex.core.due.use import Forecast, Line, forecasts
from barodex.fleet.models import Compartment, Fitting, Reading, Vehicle

MANY = 400  # ids in one query; more are read whole


@functools.lru_cache(maxsize=512)
def _season(first: str, last: str) -> Season | None:
    return parse_season(first, last)


def season_of(vehicle: Vehicle) -> Season | None:
    """When a vehicle runs; None for all year."""
    return _season(vehicle.season_from, vehicle.season_to)


def line_of(vehicle: Vehicle, meter: Meter) -> Line:
    """A vehicle's meter as the core takes it."""
    return Line(meter, vehicle.kind, vehicle.meter, season_of(vehicle), vehicle.all_year)


def few_enough(ids: Collection[int] | None) -> Collection[int] | None:
    return ids if ids is not None and len(ids) <= MANY else None


@dataclass(slots=True)
class Columns:
    """The readings of a vehicle by columns, as :class:`Meter` takes them."""

    days: list[int] = field(default_factory=list)
    values: list[float] = field(default_factory=list)
    swaps: set[int] = field(default_factory=set)
    duties: dict[int, dict[str, float]] = field(default_factory=dict)

    def add(self, on: dt.date, value: float, within: float) -> None:
        """One more reading; the same one twice is one, ``within`` what the meter is read to."""
        day = on.toordinal()
        if not any(d == day and abs(v - value) <= within for d, v in zip(self.days, self.values, strict=True)):
            self.days.append(day)
            self.values.append(value)

    def meter(self, as_of: dt.date) -> Meter:
        """A meter of them, brought into order of date where they were not written so."""
        if all(map(operator.le, self.days, self.days[1:])):
            return Meter(self.days, self.values, as_of, self.swaps, self.duties)
        order = sorted(range(len(self.days)), key=self.days.__getitem__)
        place = {k: n for n, k in enumerate(order)}
        return Meter(
            [self.days[k] for k in order],
            [self.values[k] for k in order],
            as_of,
            {place[k] for k in self.swaps},
            {place[k]: d for k, d in self.duties.items()},
        )


class _Ordinals(dict[str, int]):
    """Days as ordinals, by their text: a quarter of a million readings share some thousand days."""

    def __missing__(self, text: str) -> int:
        self[text] = found = dt.date.fromisoformat(text).toordinal()
        return found


_ORDINALS = _Ordinals()


@functools.lru_cache(maxsize=4096)
def _shares(text: str | None) -> dict[str, float] | None:
    """The shares of a leg; thousands of legs share a few of them."""
    return json.loads(text) if text else None


def readings_of(vehicles: Collection[int] | None = None) -> dict[int, Columns]:
    """The readings of each vehicle."""
    rows = Reading.objects.order_by("id")
    some = few_enough(vehicles)
    if some is not None:
        rows = rows.filter(vehicle_id__in=some)
    odd = rows.filter(Q(duty__isnull=False) | Q(swap=True)).annotate(text=Cast("duty", TextField())).values_list("id", "swap", "text")
    rare = {pk: (swap, _shares(text)) for pk, swap, text in odd}
    # A quarter of a million rows: dates come as text, by vehicle, and what few rows have comes apart, at a quarter of the cost.
    plain = rows.order_by("vehicle_id", "id").annotate(day=Cast("on", CharField())).values_list("vehicle_id", "id", "day", "value")
    found: dict[int, Columns] = defaultdict(Columns)
    mine = list(plain.iterator(chunk_size=5000))
    owners, ids, days, values = zip(*mine, strict=True) if mine else ((), (), (), ())
    ordinals = list(map(_ORDINALS.__getitem__, days))
    ends = [0, *(np.flatnonzero(np.diff(np.array(owners))) + 1).tolist(), len(owners)]
    for first, last in itertools.pairwise(ends) if owners else ():
        columns = found[owners[first]] = Columns(ordinals[first:last], list(values[first:last]))
        for pk in rare.keys() & set(ids[first:last]) if rare else ():
            swap, duty = rare[pk]
            place = ids.index(pk, first, last) - first
            if swap:
                columns.swaps.add(place)
            if duty:
                columns.duties[place] = duty
    return found


def vehicle_forecast(vehicle: Vehicle, readings: list[Reading], as_of: dt.date) -> Forecast:
    """Rate of use of a vehicle, in what its meter counts."""
    return forecasts([line_of(vehicle, Meter.of(meter_readings(readings), as_of))], as_of)[0]


def meter_of(vehicle: Vehicle, as_of: dt.date = dt.date.max) -> Meter:
    """The meter of a vehicle up to a day (prefetch ``readings`` for many)."""
    return Meter.of(meter_readings(list(vehicle.readings.all())), as_of)


def meter_of_box(box_id: int, as_of: dt.date = dt.date.max) -> Meter | BoxMeter:
    """What a box ran: by the meter of the vehicle that it is fitted in, and of those before."""
    fittings = list(Fitting.objects.filter(box=box_id).select_related("compartment__vehicle").order_by("id"))
    if len(fittings) == 1 and fittings[0].on is None and fittings[0].off is None:
        return meter_of(fittings[0].compartment.vehicle, as_of)
    if not fittings:
        place = Compartment.objects.filter(box=box_id).select_related("vehicle").first()
        return meter_of(place.vehicle, as_of) if place else BoxMeter(())
    kinds = {f.compartment.vehicle.meter for f in fittings}
    counted = (
        fittings if len(kinds) == 1 else [f for f in fittings if f.compartment.vehicle.meter == fittings[-1].compartment.vehicle.meter]
    )
    return BoxMeter(tuple(Fitted(meter_of(f.compartment.vehicle, as_of), f.on, f.meter_value, f.off, f.off_meter) for f in counted))


def meters_of_boxes(boxes: Collection[int]) -> dict[int, Meter | BoxMeter]:
    """What many boxes ran, as :func:`meter_of_box` of each; those that never moved share the meter of their vehicle."""
    moved = set(Fitting.objects.filter(box__in=boxes).exclude(on=None, off=None).values_list("box", flat=True)) | {
        b for b, n in Fitting.objects.filter(box__in=boxes).values_list("box").annotate(n=Count("id")) if n > 1
    }
    homes = dict(Fitting.objects.filter(box__in=boxes).values_list("box", "compartment__vehicle"))
    homes |= {b: v for b, v in Compartment.objects.filter(box__in=boxes).values_list("box", "vehicle") if b not in homes}
    shared = readings_of({homes[b] for b in boxes if b in homes and b not in moved})
    meters = {v: shared.get(v, Columns()).meter(dt.date.max) for v in {homes[b] for b in boxes if b in homes and b not in moved}}
    return {b: meters[homes[b]] if b in homes and b not in moved else meter_of_box(b) for b in boxes}


def box_on(place: Compartment, on: dt.date) -> int:
    """The box that was fitted at a place on a day; the one that is there now, where nobody wrote another."""
    rows = Fitting.objects.filter(Q(on=None) | Q(on__lte=on), Q(off=None) | Q(off__gt=on), compartment=place)
    found = rows.order_by("-id").values_list("box_id", flat=True).first()
    return found if found is not None else place.box_id


def meter_readings(readings: list[Reading]) -> list[MeterReading]:
    """Rows as the core takes them."""
    return [MeterReading(r.on, r.value, r.swap, r.duty) for r in readings]
