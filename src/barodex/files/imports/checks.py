"""Rows held against the book and against each other: what is there already, which amounts are odd, which readings are out of line."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Sequence

from barodex.accounts.names import alike
from barodex.book.on_paper import odd_amounts
from barodex.core.due.meter import MeterReading, check_reading
from barodex.core.quantity.errors import CoreError
from barodex.core.words import say

from .drafts import ChangeDraft, Issue, ReadingDraft, Row, VehicleDraft
from .known import Known, KnownChange

METER_ALIKE = 1.0  # km or h within which two changes of a day are one


def _same(a: KnownChange, change: ChangeDraft) -> bool:
    """Whether a change is the one that is on record; what one of them does not say is no difference."""
    oil = alike(change.oil.name) if change.oil else ""
    meters = a.meter is None or change.meter is None or abs(a.meter - change.meter) <= METER_ALIKE
    amounts = all(x is None or y is None or abs(x - y) < 1 for x, y in ((a.drained_ml, change.drained_ml), (a.poured_ml, change.poured_ml)))
    return a.on == change.on and meters and amounts and (not a.oil or not oil or a.oil == oil)


def hold_against_the_book(rows: Sequence[Row], book: Known) -> None:
    """What stands in the book or in the file already, and what is odd of an amount."""
    seen: dict[tuple[int, dt.date], list[tuple[KnownChange, Row]]] = defaultdict(list)
    filled: dict[int, dt.date] = {}
    for row in sorted((r for r in rows if r.change and not r.problems), key=lambda r: r.change.on):  # type: ignore[union-attr]
        change = row.change
        assert change is not None
        there = book.changes.get(change.box.id, []) if change.box.id is not None else []
        here = seen[id(change.box), change.on]
        if any(_same(a, change) for a in there):
            row.state = "known"
            continue
        if twin := next((r for a, r in here if _same(a, change)), None):
            row.state = "twice"
            row.adds = [say("the same as line {line}", line=twin.line)]
            continue
        if here or any(a.on == change.on for a in there):
            row.doubts.append(Issue("on", say("Another change of {change_on} is on record.", change_on=f"{change.on:%d %b %Y}")))
        before = filled.get(id(change.box), change.on) < change.on or any(a.poured_ml and a.on < change.on for a in there)
        sheet = change.box.as_sheet()
        try:
            odd = odd_amounts(sheet, change.drained_ml, change.poured_ml, before) if sheet else []
            row.doubts += [Issue(name, text) for name, text, _ in odd]
        except CoreError as error:
            row.problems.append(Issue(error.field or "", error.message))
        if change.poured_ml:
            filled.setdefault(id(change.box), change.on)
        oil = alike(change.oil.name) if change.oil else ""
        here.append((KnownChange(change.on, change.meter, oil, change.drained_ml, change.poured_ml), row))


def _in_line(points: list[tuple[dt.date, float]]) -> set[int]:
    """Which of the points, in order of day, rise together: as many as may."""
    best: list[int] = []
    links: list[int] = []
    tails: list[int] = []
    for k, (_, value) in enumerate(points):
        low, high = 0, len(tails)
        while low < high:
            middle = (low + high) // 2
            if points[tails[middle]][1] <= value:
                low = middle + 1
            else:
                high = middle
        links.append(tails[low - 1] if low else -1)
        tails[low : low + 1] = [k]
    at = tails[-1] if tails else -1
    while at >= 0:
        best.append(at)
        at = links[at]
    return set(best)


def check_meters(rows: Sequence[Row], book: Known) -> None:
    """What a meter showed is in line with the other readings of its vehicle, of the book and of the file."""
    by_vehicle: dict[int, list[tuple[dt.date, float, Row | None]]] = defaultdict(list)
    units: dict[int, VehicleDraft] = {}
    for row in rows:
        said = row.reading or (row.change if row.change and row.change.meter is not None else None)
        if said is None or row.problems or row.state != "new":
            continue
        vehicle = row.vehicle
        assert vehicle is not None
        value = said.value if isinstance(said, ReadingDraft) else said.meter
        by_vehicle[id(vehicle)].append((said.on, value or 0.0, row))
        units[id(vehicle)] = vehicle
    for key, mine in by_vehicle.items():
        vehicle = units[key]
        there = book.readings.get(vehicle.id, []) if vehicle.id is not None else []
        swapped = max((r.on for r in there if r.swap), default=None)
        points = sorted([*mine, *((r.on, r.value, None) for r in there)], key=lambda p: (p[0], p[1]))
        points = [p for p in points if swapped is None or p[0] >= swapped]
        good = _in_line([(on, value) for on, value, _ in points])
        for k, (on, value, of) in enumerate(points):
            if of is None:
                continue
            earlier = next((points[j] for j in range(k - 1, -1, -1) if j in good), None)
            later = next((points[j] for j in range(k + 1, len(points)) if j in good), None)
            try:
                check_reading(*(MeterReading(p[0], p[1]) if p else None for p in (earlier, (on, value), later)), vehicle.meter or "km")  # type: ignore[arg-type]
            except CoreError as error:
                of.problems.append(Issue("meter", error.message))
