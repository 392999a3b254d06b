"""The morning summary: what stops, what is overdue and due, today's visits, what waits for parts, what must be looked at again."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from barodex.bay.overview import open_services
from barodex.book.consequences import ConsequenceView
from barodex.core.due.interval import LIMIT_WORDS, ON_METER
from barodex.core.quantity.quantity import format_quantity
from barodex.core.words import say
from barodex.desk.shopping import ShoppingList, Wish, shopping_list
from barodex.plan.horizon import whole_horizon
from barodex.plan.queries import CompartmentDue, DueBoard, VehicleDue, due_board
from barodex.plan.visit import VisitView, looks_of

AHEAD_DAYS = 7  # visits and looks within a week are told (common practice)
MOST_LINES = 30
MOST_PARTS = 40  # compartments whose parts are looked for


@dataclass(frozen=True)
class MorningLine:
    """One thing: the vehicle and compartment, what it is in words, and where in the page it is done."""

    vehicle: str
    what: str
    path: str


@dataclass(frozen=True)
class MorningSection:
    """A heading with its lines, and how many more there are."""

    key: str
    title: str
    lines: tuple[MorningLine, ...]
    more: int


@dataclass(frozen=True)
class Morning:
    """The summary of a day; empty sections are left out. ``text`` is its first sentence."""

    today: dt.date
    text: str
    sections: tuple[MorningSection, ...]


def _day(on: dt.date, today: dt.date) -> str:
    if on == today:
        return "today"
    late = (today - on).days
    if late > 0:
        return say("{late} day ago", late=late) if late == 1 else say("{late} days ago", late=late)
    return f"{on:%a} {on.day} {on:%b}" + ("" if on.year == today.year else f" {on.year}")


def _over(v: VehicleDue, c: CompartmentDue, today: dt.date, show: Callable[[float, str], str]) -> str:
    if c.left is not None and c.left < 0 and c.limit in ON_METER:
        return say("{c}: {show} over", c=c.name, show=show(-c.left, "distance" if v.meter == "km" else "engine_hours"))
    if c.on is None:
        return say("{c}: {used:.0f} % of its life", c=c.name, used=c.used * 100)
    return say("{c}: due {c_on}, by {limit_words}", c=c.name, c_on=_day(c.on, today), limit_words=LIMIT_WORDS.get(c.limit, c.limit))


def _states(board: DueBoard, show: Callable[[float, str], str]) -> Iterable[tuple[str, str, list[MorningLine]]]:
    titles = {
        "stop": say("Stop, do not drive"),
        "overdue": "Overdue",
        "due": say("Due this week"),
        "unknown": say("No record: counts as due"),
    }
    why: dict[int, str] = {}
    for x in board.consequences:
        if x.stop:
            why.setdefault(x.compartment_id, x.what)
    for state, title in titles.items():
        lines = []
        for v in board.vehicles:
            for c in v.compartments:
                if c.state != state or c.in_service is not None:
                    continue
                words = {
                    "stop": say("{c}: {why}. The lead must clear it", c=c.name, why=why.get(c.id, "stopped")),
                    "unknown": say("{c}: nothing is known of its oil", c=c.name),
                }
                lines.append(MorningLine(v.name, words.get(state) or _over(v, c, board.today, show), f"/due/vehicle/{v.id}"))
        yield state, title, lines
    mend = [
        MorningLine(x.vehicle, _mend(x, board.today, show), f"/due/vehicle/{x.vehicle_id}")
        for x in board.consequences
        if x.kind == "repair"
    ]
    yield "repair", say("To be mended"), mend


def _mend(x: ConsequenceView, today: dt.date, show: Callable[[float, str], str]) -> str:
    """What is to be mended and by when."""
    by = [say("by {due_on}", due_on=_day(x.due_on, today))] if x.due_on else []
    if x.due_meter is not None:
        by.append(say("at {due_meter}", due_meter=show(x.due_meter, "distance" if x.meter == "km" else "engine_hours")))
    return f"{x.compartment}: {x.what}" + (f", {' or '.join(by)}" if by else "")


def _visits(visits: list[VisitView], today: dt.date) -> list[MorningLine]:
    found = []
    for p in sorted(visits, key=lambda p: (p.on, p.bay or 0)):
        names = ", ".join(n.lower() for n in p.names)
        looks = say("; looks along: {looks}", looks=len(p.looks)) if p.looks else ""
        bay = say(", bay {bay}", bay=p.bay) if p.bay else ""
        who = f", {p.technician}" if p.technician else ""
        text = f"{_day(p.on, today)}{bay}{who}: {names}, {p.hours:.1f} h{looks}"
        found.append(MorningLine(p.vehicle, text, f"/bay/start/{p.vehicle_id}?c={','.join(map(str, p.compartments))}"))
    return found


def _parts(made: ShoppingList, system: str) -> list[MorningLine]:
    lines = []
    for o in made.oils:
        if o.short_ml > 0:
            text = say("{o}: {short_ml} short", o=o.name, short_ml=format_quantity(o.short_ml, "volume", system))
            lines.append(MorningLine(", ".join(o.needs), text, "/shelf/shopping"))
    for k in made.kit:
        if k.state == "missing" and k.item.mandatory:
            lacking = max(1, k.item.count - (k.in_store or 0))
            lines.append(MorningLine(k.item.use, say("{item}: {lacking} missing", item=k.item.name, lacking=lacking), "/shelf/store"))
    lines += [MorningLine(name, say("oil or amount not known yet"), "/shelf/shopping") for name in made.unknown]
    return lines


def morning(today: dt.date, system: str = "metric") -> Morning:
    """The summary of a day, in the reader's units."""

    def show(value: float, kind: str) -> str:
        return format_quantity(value, kind, system)

    board = due_board(today)
    plan = whole_horizon(today, 31)
    until = today + dt.timedelta(days=AHEAD_DAYS)
    agreed = [p for row in plan.rows for p in row.planned if not p.done and p.on <= until]
    sections = list(_states(board, show))
    sections.append(("visits", say("Visits agreed, this week"), _visits(agreed, today)))
    waiting = [MorningLine(s.vehicle, s.step, f"/bay/{s.id}") for s in open_services()]
    sections.append(("open", say("Open in the Bay"), waiting))
    pressing = [c.id for v in board.vehicles for c in v.compartments if c.state in ("overdue", "due") and c.in_service is None]
    wanted = tuple(dict.fromkeys([*(c for p in agreed for c in p.compartments), *pressing]))[:MOST_PARTS]
    parts = _parts(shopping_list(Wish(wanted)), system) if wanted else []
    sections.append(("parts", say("Waiting for oil or parts"), parts))
    looks = []
    by_vehicle = {v.id: v for v in board.vehicles}
    asked: dict[int, list] = {}
    for f in board.consequences:
        if f.kind == "repair":
            continue  # told above, whenever it is wanted
        asked.setdefault(f.vehicle_id, []).append(f)
    for vehicle, mine in asked.items():
        v = by_vehicle.get(vehicle)
        if v is not None:
            for x in looks_of(v, mine, today):
                if x.on <= until and not x.stop:
                    looks.append((x.on, MorningLine(v.name, f"{x.compartment}, {_day(x.on, today)}: {x.what}", f"/due/vehicle/{v.id}")))
    sections.append(("looks", say("To be looked at again"), [line for _, line in sorted(looks, key=lambda x: x[0])]))
    stale = [
        MorningLine(
            v.name,
            (say("no reading yet") if v.meter_on is None else say("last read {meter_on}", meter_on=_day(v.meter_on, today)))
            + (say(": ask {driver}", driver=v.driver) if v.driver else ""),
            f"/due/vehicle/{v.id}",
        )
        for v in board.vehicles
        if v.wants_reading
    ]
    sections.append(("readings", say("Wanted: a meter reading"), stale))
    lines = tuple(
        MorningSection(key, title, tuple(lines[:MOST_LINES]), max(0, len(lines) - MOST_LINES)) for key, title, lines in sections if lines
    )
    counts = {c.state: c.count for c in board.counts}
    count = len(agreed)
    visits = say("{count} visit this week", count=count) if count == 1 else say("{count} visits this week", count=count)
    text = say(
        "{stopped} stopped, {overdue} overdue, {due} due, {unknown} without record, {visits}.",
        stopped=counts["stop"],
        overdue=counts["overdue"],
        due=counts["due"],
        unknown=counts["unknown"],
        visits=visits,
    )
    return Morning(today, text, lines)


def as_text(made: Morning) -> str:
    """The summary as plain text, as a mail carries it."""
    lines = [
        say("Barodex, {weekday} {day} {month}", weekday=f"{made.today:%A}", day=made.today.day, month=f"{made.today:%B %Y}"),
        made.text,
        "",
    ]
    for s in made.sections:
        lines += [s.title, *(f"  {x.vehicle}: {x.what}" for x in s.lines)]
        if s.more:
            lines.append(say("  and {more} more", more=s.more))
        lines.append("")
    return "\n".join(lines)
