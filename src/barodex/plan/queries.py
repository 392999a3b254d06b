"""What is due, by which limit, by when: read from readings, records and sheets, computed by the core, kept until something moves it."""

from __future__ import annotations

import datetime as dt
import functools
import gc
import operator
import threading
from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass, replace

from barodex.book.queries import FollowUpView, open_follow_ups, soonest
from barodex.core.due.oil_life import Schooled
from barodex.core.due.season import Season
from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import percent
from barodex.memory.kept import register
from barodex.memory.versions import POLICY, changed_since, newest
from barodex.plan.facts import Box, VehicleFacts, dues_of, fleet_facts
from barodex.workshop.schedule import schedule_policy

DUE_STATES = ("stop", "overdue", "due", "unknown", "soon", "fine")


@dataclass(slots=True)  # twenty thousand are made at once, and a frozen one takes three times as long
class CompartmentDue:
    """A compartment as a sight glass shows it; ``life_left`` 0 to 1; ``left`` in km, h or days as ``limit`` says."""

    id: int
    name: str
    slot: str
    kind: str
    family: str
    oil: str
    sheet_id: int
    sheet: str
    capacity_ml: float | None
    state: str
    limit: str
    used: float
    life_left: float
    on: dt.date | None
    earliest: dt.date | None
    latest: dt.date | None
    left: float | None
    at_meter: float | None
    basis: str
    held_until: dt.date | None
    last_on: dt.date | None
    last_meter: float | None
    colour: str
    level: int | None
    in_service: int | None


@dataclass(slots=True)  # as those in it
class VehicleDue:
    """A vehicle with its compartments front to rear as entered; ``together`` are those worth doing in one visit.

    ``per_day`` is the mean over the year, ``per_day_in_use`` that of its season, km or h.
    """

    id: int
    name: str
    plate: str
    kind: str
    layout: str
    meter: str
    meter_now: float | None
    meter_on: dt.date | None
    per_day: float
    per_day_in_use: float
    per_day_is_default: bool
    readings: int
    wants_reading: bool
    parked_days: int
    season: str
    warranty_until: dt.date | None
    duty: str
    state: str
    together: tuple[int, ...]
    compartments: tuple[CompartmentDue, ...]


@dataclass(frozen=True)
class StateCount:
    state: str
    count: int


@dataclass(frozen=True)
class DueBoard:
    """The Due page: vehicles worst first, counts by state, and what must be looked at again.

    ``matching`` vehicles in all, of which these are a page; ``follow_ups_in_all`` likewise.
    """

    today: dt.date
    counts: tuple[StateCount, ...]
    vehicles: tuple[VehicleDue, ...]
    follow_ups: tuple[FollowUpView, ...]
    matching: int = 0
    follow_ups_in_all: int = 0


def basis_of(schooled: Schooled, factor: float) -> str:
    """Whose interval counts, and what shortens it, in words."""
    words = schooled.plan.basis
    return words if factor >= 1 else f"{words}; shortened to {percent(factor)} by what the last change showed"


def _box_view(box: Box, schooled: Schooled, stopped: bool) -> CompartmentDue:
    due, last, revision = schooled.due, box.last, box.revision
    return CompartmentDue(
        id=box.id,
        name=box.name,
        slot=box.slot,
        kind=box.kind,
        family=revision.family,
        oil=last.oil if last else "",
        sheet_id=box.sheet_id,
        sheet=box.sheet,
        capacity_ml=revision.capacity_ml,
        state="stop" if stopped else due.state,
        limit=due.limit,
        used=due.used,
        life_left=max(0.0, min(1.0, 1 - due.used)),
        on=due.on,
        earliest=due.earliest,
        latest=due.latest,
        left=due.left,
        at_meter=due.at_km if due.at_km is not None else due.at_h,
        basis=basis_of(schooled, last.factor if last else 1.0),
        held_until=schooled.held_until,
        last_on=last.on if last else None,
        last_meter=last.meter if last else None,
        colour=last.colour if last else "",
        level=last.level if last else None,
        in_service=box.in_service,
    )


def _duty_words(split: dict[str, float]) -> str:
    return ", ".join(f"{percent(share)} {duty.replace('_', '-')}" for duty, share in split.items()) if len(split) > 1 else ""


@functools.lru_cache(maxsize=1024)
def _season_words(season: Season | None) -> str:
    if season is None:
        return ""
    first, last = (dt.date(2000, *md) for md in (season.first, season.last))
    return f"{first.day} {first:%b} to {last.day} {last:%b}"


def _vehicle_view(v: VehicleFacts, dues: list[Schooled], stopped: set[tuple[int, str]]) -> VehicleDue:
    vehicle, use = v.vehicle, v.use
    rows = tuple(_box_view(box, due, (vehicle.pk, box.name) in stopped) for box, due in zip(v.boxes, dues, strict=True))
    worst = min((DUE_STATES.index(r.state) for r in rows), default=len(DUE_STATES) - 1)
    return VehicleDue(
        id=vehicle.pk,
        name=vehicle.name,
        plate=vehicle.plate,
        kind=vehicle.kind,
        layout=vehicle.layout,
        meter=vehicle.meter,
        meter_now=v.meter.last_value,
        meter_on=v.meter.last_on,
        per_day=use.rate.per_day,
        per_day_in_use=use.in_use.per_day,
        per_day_is_default=use.is_default,
        readings=v.meter.count,
        wants_reading=use.wants_reading,
        parked_days=use.parked_days,
        season=_season_words(use.season),
        warranty_until=vehicle.warranty_until,
        duty=_duty_words(v.split),
        state=DUE_STATES[worst],
        together=tuple(r.id for r in rows if r.state in ("overdue", "due", "unknown", "soon") and r.in_service is None),
        compartments=rows,
    )


def _views(as_of: dt.date, vehicles: Collection[int] | None, follow_ups: list[FollowUpView]) -> list[VehicleDue]:
    stopped = {(f.vehicle_id, f.compartment) for f in follow_ups if f.stop}
    facts = fleet_facts(as_of, vehicles)
    return [_vehicle_view(v, dues, stopped) for v, dues in zip(facts, dues_of(facts, schedule_policy(), as_of), strict=True)]


def _order(v: VehicleDue) -> tuple[int, float, str]:
    return DUE_STATES.index(v.state), -max((c.used for c in v.compartments), default=0.0), v.name


@dataclass(frozen=True, slots=True)
class _Placed:
    """A vehicle of the board with its place in the order and its compartments counted by state."""

    view: VehicleDue
    order: tuple[int, float, str]
    counts: Counter[str]


def _placed(v: VehicleDue) -> _Placed:
    return _Placed(v, _order(v), Counter(c.state for c in v.compartments))


def _board(as_of: dt.date, rows: Collection[_Placed], follow_ups: list[FollowUpView]) -> DueBoard:
    counts = dict.fromkeys(DUE_STATES, 0)
    for t in rows:
        for state, count in t.counts.items():
            counts[state] += count
    shown = tuple(t.view for t in sorted(rows, key=operator.attrgetter("order")))
    return DueBoard(as_of, tuple(StateCount(s, n) for s, n in counts.items()), shown, tuple(follow_ups), len(shown), len(follow_ups))


class Board:
    """The board as it was shown last: while versions and the day stand, it stands; when some vehicles move, only those are worked out anew."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.forget()

    def forget(self) -> None:
        """Begin afresh."""
        self.board: DueBoard | None = None
        self.version = -1
        self.rows: dict[int, _Placed] = {}

    def at(self, as_of: dt.date) -> DueBoard:
        """The board of a day."""
        with self.lock:
            version = newest()
            if self.board is not None and self.board.today == as_of and version == self.version:
                return self.board
            changed = self._changed(as_of, version)
            if self.board is not None and changed is not None and not changed:
                self.version = version
                return self.board
            follow_ups = self._follow_ups(changed)
            if changed is None:
                self.rows = self._all(as_of, follow_ups)
            else:
                for k in changed:
                    self.rows.pop(k, None)
                self.rows |= {v.id: _placed(v) for v in _views(as_of, changed, follow_ups)}
            self.board, self.version = _board(as_of, self.rows.values(), follow_ups), version
            return self.board

    def _follow_ups(self, changed: Collection[int] | None) -> list[FollowUpView]:
        if changed is None or self.board is None:
            return open_follow_ups()
        kept = [f for f in self.board.follow_ups if f.vehicle_id not in changed]
        return sorted([*kept, *(f for k in changed for f in open_follow_ups(k))], key=soonest)

    @staticmethod
    def _all(as_of: dt.date, follow_ups: list[FollowUpView]) -> dict[int, _Placed]:
        # Half a million small objects are made and none is garbage: looking for some costs a third of the time.
        collects = gc.isenabled()
        gc.disable()
        try:
            return {v.id: _placed(v) for v in _views(as_of, None, follow_ups)}
        finally:
            if collects:
                gc.enable()

    def _changed(self, as_of: dt.date, version: int) -> Collection[int] | None:
        """Vehicles to tell anew; None: all."""
        if self.board is None or self.board.today != as_of or version < self.version:
            return None
        changed = changed_since(self.version)
        return None if POLICY in changed.scopes else changed.vehicles


BOARD = Board()
register("board", BOARD.forget)


def due_board(as_of: dt.date, vehicle_id: int | None = None) -> DueBoard:
    """The whole board, or one vehicle of it."""
    if vehicle_id is None:
        return BOARD.at(as_of)
    follow_ups = open_follow_ups(vehicle_id)
    return _board(as_of, [_placed(v) for v in _views(as_of, (vehicle_id,), follow_ups)], follow_ups)


MOST_A_PAGE = 500


def due_page(as_of: dt.date, state: str = "", find: str = "", offset: int = 0, limit: int = 50) -> DueBoard:
    """A page of the board: vehicles with a compartment in a state, or whose name, plate or compartments hold the words asked."""
    in_range("limit", limit, 0, MOST_A_PAGE)
    in_range("offset", offset, 0, 1_000_000)
    board = due_board(as_of)
    shown = board.vehicles
    if state:
        shown = tuple(v for v in shown if any(c.state == state for c in v.compartments))
    words = find.lower().split()
    if words:
        shown = tuple(v for v in shown if all(w in _findable(v) for w in words))
    return replace(board, vehicles=shown[offset : offset + limit], follow_ups=board.follow_ups[:MOST_FOLLOW_UPS], matching=len(shown))


MOST_FOLLOW_UPS = 60


def _findable(v: VehicleDue) -> str:
    return " ".join((v.name, v.plate, v.plate.replace(" ", ""), v.kind, *(f"{c.name} {c.kind}" for c in v.compartments))).lower()
