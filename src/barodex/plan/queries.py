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

from barodex.book.consequences import ConsequenceView, gravest, open_consequences
from barodex.core.due.oil_life import Schooled
from barodex.core.due.season import Season, rest_of
from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import percent
from barodex.core.words import say
from barodex.fleet.models import Vehicle
from barodex.memory.kept import register
from barodex.memory.versions import POLICY, changed_since, newest
from barodex.plan.facts import Box, LastChange, VehicleFacts, dues_of, fleet_facts
from barodex.workshop.schedule import schedule_policy

DUE_STATES = ("stop", "overdue", "due", "unknown", "repair", "soon", "fine")


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
    why: tuple[str, ...]  # what shortens the interval, or wants the oil changed again sooner
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
    ``stands``: when it stands each year by its readings, to be asked; use that ``changed_since`` a day, by a factor.
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
    stands: str
    changed_since: dt.date | None
    changed_factor: float | None
    warranty_until: dt.date | None
    duty: str
    state: str
    together: tuple[int, ...]
    compartments: tuple[CompartmentDue, ...]
    depot: str = ""
    driver: str = ""


@dataclass(frozen=True)
class StateCount:
    state: str
    count: int


@dataclass(frozen=True)
class DueBoard:
    """The Due page: vehicles worst first, counts by state, and what must be looked at again.

    ``matching`` vehicles in all, of which these are a page; ``open_in_all`` likewise.
    """

    today: dt.date
    counts: tuple[StateCount, ...]
    vehicles: tuple[VehicleDue, ...]
    consequences: tuple[ConsequenceView, ...]
    matching: int = 0
    open_in_all: int = 0
    clock: str = ""  # what is wrong with the day, where something lies after it


def basis_of(schooled: Schooled, last: LastChange | None) -> str:
    """Whose interval counts, and what shortens it, in words."""
    words = schooled.plan.basis
    return (
        words
        if last is None or last.held.factor >= 1
        else say("{words}; shortened to {factor}", words=words, factor=percent(last.held.factor))
    )


def _state(due: str, open_kinds: frozenset[str]) -> str:
    """A compartment that is stopped or to be repaired is never fine."""
    if "stop" in open_kinds:
        return "stop"
    return "repair" if "repair" in open_kinds and due in ("soon", "fine") else due


def _box_view(box: Box, schooled: Schooled, open_kinds: frozenset[str]) -> CompartmentDue:
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
        state=_state(due.state, open_kinds),
        limit=due.limit,
        used=due.used,
        life_left=max(0.0, min(1.0, 1 - due.used)),
        on=due.on,
        earliest=due.earliest,
        latest=due.latest,
        left=due.left,
        at_meter=due.at_km if due.at_km is not None else due.at_h,
        basis=basis_of(schooled, last),
        why=last.why if last else (),
        held_until=schooled.held_until,
        last_on=(last.told_on or last.on) if last else None,
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
    return say("{day} {first} to {day_2} {last}", day=first.day, first=f"{first:%b}", day_2=last.day, last=f"{last:%b}")


NOTHING_OPEN: frozenset[str] = frozenset()


def _vehicle_view(v: VehicleFacts, dues: list[Schooled], kinds: dict[int, frozenset[str]]) -> VehicleDue:
    vehicle, use = v.vehicle, v.use
    rows = tuple(_box_view(box, due, kinds.get(box.id, NOTHING_OPEN)) for box, due in zip(v.boxes, dues, strict=True))
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
        stands=_season_words(rest_of(use.season)) if use.found and use.season else "",
        changed_since=use.change.since if use.change else None,
        changed_factor=use.change.factor if use.change else None,
        warranty_until=vehicle.warranty_until,
        duty=_duty_words(v.split),
        state=DUE_STATES[worst],
        together=tuple(
            r.id for r, due in zip(rows, dues, strict=True) if r.state != "stop" and due.due.state != "fine" and r.in_service is None
        ),
        compartments=rows,
        depot=vehicle.depot,
        driver=vehicle.driver,
    )


def _views(as_of: dt.date, vehicles: Collection[int] | None, consequences: list[ConsequenceView]) -> list[VehicleDue]:
    kinds: dict[int, frozenset[str]] = {}
    for c in consequences:
        kinds[c.compartment_id] = kinds.get(c.compartment_id, NOTHING_OPEN) | {c.kind}
    facts = fleet_facts(as_of, vehicles)
    return [_vehicle_view(v, dues, kinds) for v, dues in zip(facts, dues_of(facts, schedule_policy(), as_of), strict=True)]


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


def _board(as_of: dt.date, rows: Collection[_Placed], consequences: list[ConsequenceView]) -> DueBoard:
    counts = dict.fromkeys(DUE_STATES, 0)
    for t in rows:
        for state, count in t.counts.items():
            counts[state] += count
    shown = tuple(t.view for t in sorted(rows, key=operator.attrgetter("order")))
    latest = max((c.last_on for v in shown for c in v.compartments if c.last_on is not None), default=as_of)
    clock = say(
        "A change of {day} {latest} lies after today: the clock of this server is behind, or that date is wrong.",
        day=latest.day,
        latest=f"{latest:%B %Y}",
    )
    return DueBoard(
        as_of,
        tuple(StateCount(s, n) for s, n in counts.items()),
        shown,
        tuple(consequences),
        len(shown),
        len(consequences),
        clock if latest > as_of else "",
    )


def in_use_of(vehicles: Collection[int]) -> tuple[int, ...]:
    """Those of some vehicles that are in use."""
    return tuple(Vehicle.objects.filter(pk__in=vehicles, retired_on=None).values_list("pk", flat=True))


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
            in_use = () if changed is None else in_use_of(changed)
            consequences = self._consequences(changed, in_use)
            if changed is None:
                self.rows = self._all(as_of, consequences)
            else:
                for k in changed:
                    self.rows.pop(k, None)
                self.rows |= {v.id: _placed(v) for v in _views(as_of, in_use, consequences)}
            self.board, self.version = _board(as_of, self.rows.values(), consequences), version
            return self.board

    def _consequences(self, changed: Collection[int] | None, in_use: Collection[int]) -> list[ConsequenceView]:
        if changed is None or self.board is None:
            return open_consequences()
        kept = [f for f in self.board.consequences if f.vehicle_id not in changed]
        return sorted([*kept, *(f for k in in_use for f in open_consequences(k))], key=gravest)

    @staticmethod
    def _all(as_of: dt.date, consequences: list[ConsequenceView]) -> dict[int, _Placed]:
        # Half a million small objects are made and none is garbage: looking for some costs a third of the time.
        collects = gc.isenabled()
        gc.disable()
        try:
            return {v.id: _placed(v) for v in _views(as_of, None, consequences)}
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
    consequences = open_consequences(vehicle_id)
    return _board(as_of, [_placed(v) for v in _views(as_of, (vehicle_id,), consequences)], consequences)


def seen_on_the_board(as_of: dt.date, vehicles: Collection[int]) -> list[VehicleDue]:
    """Some vehicles as the board shows them; those that are not in use are not on it."""
    BOARD.at(as_of)
    rows = BOARD.rows
    return [rows[v].view for v in vehicles if v in rows]


MOST_A_PAGE = 500


def due_page(as_of: dt.date, state: str = "", find: str = "", offset: int = 0, limit: int = 50) -> DueBoard:
    """A page of the board: vehicles with a compartment in a state, or whose name, plate, depot, driver or compartments hold the words."""
    in_range("limit", limit, 0, MOST_A_PAGE)
    in_range("offset", offset, 0, 1_000_000)
    board = due_board(as_of)
    shown = board.vehicles
    if state:
        shown = tuple(v for v in shown if any(c.state == state for c in v.compartments))
    words = find.lower().split()
    if words:
        shown = tuple(v for v in shown if all(w in _findable(v) for w in words))
    return replace(board, vehicles=shown[offset : offset + limit], consequences=board.consequences[:MOST_OPEN], matching=len(shown))


MOST_OPEN = 60


def _findable(v: VehicleDue) -> str:
    return " ".join(
        (v.name, v.plate, v.plate.replace(" ", ""), v.kind, v.depot, v.driver, *(f"{c.name} {c.kind}" for c in v.compartments))
    ).lower()
