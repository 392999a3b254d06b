"""A vehicle's file held against this book: each thing in it is new, the same, or in conflict with what is here."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass, field
from typing import Any

from barodex.accounts.models import Person
from barodex.accounts.names import LONGEST_NAME, alike
from barodex.book.models import OilRecord, ServicePhoto
from barodex.core.due.meter import READ_TO
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.files.whole.kept import plain_value, rows_of
from barodex.fleet.merged import known_as
from barodex.fleet.models import Compartment, Fitting, Reading
from barodex.fleet.plates import plain_plate
from barodex.shelf.models import FigureSource, Lubricant, Plug, SheetRevision, SpecSheet
from barodex.workshop.models import Workshop

from .gather import TABLES, people_fields
from .reading import Row, VehicleFile

NEW, SAME, CONFLICT = "new", "same", "conflict"
_APART = {"id", "sheet_id", "revision_id", "by_id", "at", "version"}  # what differs between two books and says nothing


@dataclass(frozen=True)
class Part:
    """Something of the file: what it is, how it is called, how it stands to this book, and what is done with it."""

    what: str
    name: str
    state: str
    note: str = ""


@dataclass
class Plan:
    """What of a file becomes what: rows that are here already by their id in the file, names that others of the file get, what is left out."""

    file: VehicleFile
    parts: list[Part] = field(default_factory=list)
    here: dict[str, dict[Any, Any]] = field(default_factory=lambda: defaultdict(dict))
    called: dict[tuple[str, Any], str] = field(default_factory=dict)
    out: dict[str, set[Any]] = field(default_factory=lambda: defaultdict(set))

    @property
    def vehicle(self) -> int | None:
        """The vehicle of this book that it is, None for one that is not here."""
        return next(iter(self.here["fleet.vehicle"].values()), None)

    def add(self, what: str, name: str, state: str, note: str = "") -> None:
        self.parts.append(Part(what, name, state, note))

    def coming(self, label: str) -> list[Row]:
        """The rows of a table that are written."""
        return [r for r in self.file.rows[label] if r["id"] not in self.out[label] and r["id"] not in self.here[label]]

    def counts(self) -> Counter[tuple[str, str]]:
        """How many of what stand how."""
        return Counter((p.what, p.state) for p in self.parts)


def _plain(row: Row) -> Row:
    return {k: plain_value(v) if not isinstance(v, (str, int, float, bool, list, dict, type(None))) else v for k, v in row.items()}


def _says(row: Row) -> Row:
    return {k: v for k, v in row.items() if k not in _APART}


def _free(name: str, taken: set[str], source: str, longest: int) -> str:
    """A name that nobody has: with where it is from, and a number where that is taken too."""
    for n in range(1, 1000):
        tail = f" ({source or 'of a file'}{'' if n == 1 else f' {n}'})"
        made = f"{name[: longest - len(tail)]}{tail}"
        if alike(made) not in taken:
            return made
    raise Inconsistent(say("Too many are called “{name}”.", name=name), field="file", value=name)


def plan_for(file: VehicleFile) -> Plan:
    """Hold a file against this book; nothing is written. Raises Inconsistent where it cannot be taken in at all."""
    plan = Plan(file)
    own = Workshop.objects.first()
    _oils(plan)
    _sheets(plan)
    _vehicle(plan)
    _compartments(plan)
    _readings(plan)
    _records(plan)
    _photos(plan)
    _people(plan, bool(own) and alike(own.name) == alike(file.workshop) != "")
    return plan


def _people(plan: Plan, ours: bool) -> None:
    """Who wrote what comes: of the same workshop by the name to sign in by, of another as somebody who cannot sign in here."""
    wanted = {row[f] for label in TABLES for f in people_fields(label) for row in plan.coming(label)}
    plan.out["accounts.person"] = {r["id"] for r in plan.file.rows["accounts.person"]} - wanted
    there = {p.username: p for p in Person.objects.all()}
    taken = {alike(u) for u in there}
    for row in plan.coming("accounts.person"):
        name, shown = row["username"], " ".join(filter(None, (row["first_name"], row["last_name"]))) or row["username"]
        known = there.get(name if ours else f"{name} ({plan.file.workshop})"[:LONGEST_NAME])
        if known is not None:
            plan.here["accounts.person"][row["id"]] = known.pk
        else:
            made = name if alike(name) not in taken else _free(name, taken, plan.file.workshop, LONGEST_NAME)
            if not ours and made == name:
                made = f"{name} ({plan.file.workshop or 'of a file'})"[:LONGEST_NAME]
            plan.called["accounts.person", row["id"]] = made
            taken.add(alike(made))
            plan.add("person", shown, NEW, say("comes as the one who wrote it, and cannot sign in"))


def _oils(plan: Plan) -> None:
    ours = {alike(o["name"]): o for o in map(_plain, rows_of(Lubricant))}
    for row in plan.file.rows["shelf.lubricant"]:
        mine = ours.get(alike(row["name"]))
        if mine is None:
            plan.add("oil", row["name"], NEW)
            continue
        plan.here["shelf.lubricant"][row["id"]] = mine["id"]
        differs = sorted(k for k, v in _says(row).items() if k != "name" and v != mine.get(k))
        if differs:
            plan.add("oil", row["name"], CONFLICT, say("differs in {differs}: what stands here stays", differs=", ".join(differs)))
        else:
            plan.add("oil", row["name"], SAME)


def _content(revision: Row, plugs: list[Row], sources: list[Row]) -> tuple[Row, list[Row], list[Row]]:
    by_figure = sorted((_says(s) for s in sources), key=lambda s: str(s["figure"]))
    return _says(revision), [_says(p) for p in plugs], by_figure


def _of(rows: Any, key: str) -> dict[Any, list[Row]]:
    found: dict[Any, list[Row]] = defaultdict(list)
    for row in rows:
        found[row[key]].append(row)
    return found


def _sheets(plan: Plan) -> None:
    """A sheet is the same where every revision that the file has stands here too; of another of that name a copy comes in beside it."""
    ours = {alike(name): pk for pk, name in SpecSheet.objects.values_list("pk", "name")}
    taken = set(ours)
    revisions = _of(plan.file.rows["shelf.sheetrevision"], "sheet_id")
    plugs, sources = _of(plan.file.rows["shelf.plug"], "revision_id"), _of(plan.file.rows["shelf.figuresource"], "revision_id")
    for row in plan.file.rows["shelf.specsheet"]:
        pk = ours.get(alike(row["name"]))
        if pk is None:
            plan.add("sheet", row["name"], NEW)
            continue
        mine = {r["number"]: r for r in map(_plain, rows_of(SheetRevision, sheet=pk))}
        my_plugs = _of(map(_plain, rows_of(Plug, revision__sheet=pk)), "revision_id")
        my_sources = _of(map(_plain, rows_of(FigureSource, revision__sheet=pk)), "revision_id")
        theirs = revisions[row["id"]]
        same = all(
            r["number"] in mine
            and _content(r, plugs[r["id"]], sources[r["id"]])
            == _content(mine[r["number"]], my_plugs[mine[r["number"]]["id"]], my_sources[mine[r["number"]]["id"]])
            for r in theirs
        )
        if same:
            plan.here["shelf.specsheet"][row["id"]] = pk
            for r in theirs:
                plan.here["shelf.sheetrevision"][r["id"]] = mine[r["number"]]["id"]
                for label, parts in (("shelf.plug", plugs), ("shelf.figuresource", sources)):
                    plan.out[label] |= {p["id"] for p in parts[r["id"]]}
            plan.out["shelf.sourceclaim"] |= {c["id"] for c in plan.file.rows["shelf.sourceclaim"] if c["sheet_id"] == row["id"]}
            plan.add("sheet", row["name"], SAME)
        else:
            made = _free(row["name"], taken, plan.file.workshop, 60)
            taken.add(alike(made))
            plan.called["shelf.specsheet", row["id"]] = made
            plan.add("sheet", row["name"], CONFLICT, say("another of that name is here: it comes in as “{made}”", made=made))


def _vehicle(plan: Plan) -> None:
    row = plan.file.rows["fleet.vehicle"][0]
    names, plates = {}, {}
    for name, plate, v in known_as():
        names[alike(name)] = v
        if plate:
            plates[plain_plate(plate)] = v
    mine = plates.get(plain_plate(row["plate"])) if row["plate"] else names.get(alike(row["name"]))
    if mine is None and alike(row["name"]) in names:
        made = _free(row["name"], set(names), row["plate"] or plan.file.workshop, 60)
        plan.called["fleet.vehicle", row["id"]] = made
        plan.add("vehicle", row["name"], NEW, say("another is called so: it comes in as “{made}”", made=made))
    elif mine is None:
        plan.add("vehicle", row["name"], NEW)
    elif mine.meter != row["meter"]:
        raise Inconsistent(
            say(
                "{mine} is here and counts {meter}; the file counts {row}: it is another vehicle, or the plate is wrong.",
                mine=mine.name,
                meter=mine.meter,
                row=row["meter"],
            ),
            field="file",
            value=row["plate"] or row["name"],
        )
    else:
        plan.here["fleet.vehicle"][row["id"]] = mine.pk
        note = say("it is here: what the book does not have is added to it")
        if alike(mine.name) != alike(row["name"]):
            note = say("it is here as “{mine}”: what the book does not have is added to it", mine=mine.name)
        plan.add("vehicle", row["name"], SAME, note)


def _compartments(plan: Plan) -> None:
    """Compartments by their name; a box that was at a place from a day on is the same box."""
    mine = {alike(c.name): c for c in Compartment.objects.filter(vehicle=plan.vehicle).select_related("sheet")} if plan.vehicle else {}
    kinds = {r["id"]: r["kind"] for r in plan.file.rows["shelf.specsheet"]}
    fittings = _of(plan.file.rows["fleet.fitting"], "compartment_id")
    for row in plan.file.rows["fleet.compartment"]:
        c = mine.get(alike(row["name"]))
        if c is not None and c.sheet.kind != kinds[row["sheet_id"]]:
            made = _free(row["name"], set(mine), plan.file.workshop, 60)
            plan.called["fleet.compartment", row["id"]] = made
            plan.add(
                "compartment", row["name"], CONFLICT, say("here it is a {kind}: it comes in as “{made}”", kind=c.sheet.kind, made=made)
            )
        elif c is not None:
            plan.here["fleet.compartment"][row["id"]] = c.pk
            plan.here["fleet.box"][row["box_id"]] = c.box_id
            there = {str(f.on): f for f in Fitting.objects.filter(compartment=c)}
            for f in fittings[row["id"]]:
                same = there.get(str(f["on"]))
                if same is not None:
                    plan.here["fleet.fitting"][f["id"]] = same.pk
                    plan.here["fleet.box"].setdefault(f["box_id"], same.box_id)
                elif f["off"] is None:
                    plan.out["fleet.fitting"].add(f["id"])  # one box at a place: the one that is here stays
            plan.add("compartment", row["name"], SAME)
        else:
            plan.add("compartment", row["name"], NEW)
    known = plan.here["fleet.compartment"]
    for label in ("fleet.counterreading", "fleet.compartmentrule"):
        plan.out[label] |= {r["id"] for r in plan.file.rows[label] if r["compartment_id"] in known}


def _readings(plan: Plan) -> None:
    mine: dict[str, list[float]] = defaultdict(list)
    if plan.vehicle:
        for on, value in Reading.objects.filter(vehicle=plan.vehicle).values_list("on", "value"):
            mine[str(on)].append(value)
    within = READ_TO[plan.file.rows["fleet.vehicle"][0]["meter"]]
    for row in plan.file.rows["fleet.reading"]:
        name = f"{row['on']}, {row['value']:g} {plan.file.rows['fleet.vehicle'][0]['meter']}"
        there = mine.get(row["on"], [])
        if plan.vehicle and row["voided_at"] is not None:
            plan.out["fleet.reading"].add(row["id"])
        elif any(abs(v - row["value"]) <= within for v in there):
            plan.out["fleet.reading"].add(row["id"])
            plan.add("reading", name, SAME)
        elif there:
            plan.out["fleet.reading"].add(row["id"])
            plan.add("reading", name, CONFLICT, say("here it read {there:g} that day: that stays", there=there[0]))
        else:
            plan.add("reading", name, NEW)


def _records(plan: Plan) -> None:
    """A change is the same where its compartment has one of that day, kind and oil; where they differ ours stays."""
    known = plan.here["fleet.compartment"]
    mine = {(r.compartment_id, str(r.on), r.work): r for r in OilRecord.objects.filter(compartment__in=known.values())}
    places = plan.file.by_id("fleet.compartment")
    for row in plan.file.rows["book.oilrecord"]:
        name = f"{places[row['compartment_id']]['name']}, {row['on']}: {row['oil'] or row['work']}"
        ours = mine.get((known.get(row["compartment_id"]), row["on"], row["work"]))
        if known.get(row["compartment_id"]) and row["voided_at"] is not None:
            plan.out["book.oilrecord"].add(row["id"])
        elif ours is None:
            plan.add("change", name, NEW)
        else:
            plan.here["book.oilrecord"][row["id"]] = ours.pk
            same = (ours.oil, ours.meter_value) == (row["oil"], row["meter_value"])
            plan.add("change", name, SAME if same else CONFLICT, "" if same else say("here another stands on that day: that stays"))
    gone = plan.out["book.oilrecord"] | set(plan.here["book.oilrecord"])
    for label in ("book.ledgerrow", "book.correction", "book.consequencerow"):
        plan.out[label] |= {r["id"] for r in plan.file.rows[label] if r["record_id"] in gone}
    wanted = {r["service_id"] for r in plan.file.rows["book.oilrecord"] if r["id"] not in gone} - {None}
    plan.out["bay.service"] |= {r["id"] for r in plan.file.rows["bay.service"] if r["id"] not in wanted}


def _photos(plan: Plan) -> None:
    here = {str(pk) for pk in ServicePhoto.objects.values_list("pk", flat=True)}
    for row in plan.file.rows["book.servicephoto"]:
        if row["id"] in here:
            plan.out["book.servicephoto"].add(row["id"])
            plan.add("photo", row["task"] or row["step"], SAME)
        elif row["service_id"] in plan.out["bay.service"]:
            plan.out["book.servicephoto"].add(row["id"])
        else:
            plan.add("photo", row["task"] or row["step"], NEW)
