"""Search over everything: vehicles, plates, drivers, compartments, label codes, oils, sheets, people, records by date; slips are forgiven."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.db.models import Q, QuerySet
from rapidfuzz import fuzz, process

from barodex import clock
from barodex.accounts.models import DATES, Person
from barodex.book.amounts import corrected
from barodex.book.models import Correction, OilRecord
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.fleet.codes import box_of, code_of, last_place, place_of
from barodex.fleet.models import Box, Compartment, Vehicle
from barodex.memory.kept import keep
from barodex.memory.versions import newest
from barodex.plan.queries import CompartmentDue, seen_on_the_board
from barodex.shelf.models import Lubricant, SpecSheet, StoreItem

A_KIND = 6  # hits of a kind that are shown
NEAR_ENOUGH = 70  # of 100, as rapidfuzz counts: "gaerbox" has 86 of "gearbox", "gaerbxo" 71
MANY = 500  # ids in one question
LONGEST = 60
OF_A_RECORD = (
    "compartment__name",
    "compartment__vehicle__name",
    "compartment__vehicle__plate",
    "compartment__sheet__kind",
    "oil",
    "work",
    "by__first_name",
)
MONTHS = {
    m[:3]: k
    for k, m in enumerate(
        ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"], 1
    )
}


@dataclass(frozen=True)
class Glass:
    """What a sight glass of a compartment shows."""

    state: str
    used: float
    family: str
    colour: str
    level: int | None


@dataclass(frozen=True)
class Hit:
    """Something that was found: its kind, its id (of a record its compartment), what it is called, and where it belongs."""

    kind: str
    id: int
    title: str
    note: str
    glass: Glass | None = None


@dataclass(frozen=True)
class Found:
    """What was found; ``read_as``: the words as they were read where a slip was forgiven, empty where they stand as typed."""

    hits: tuple[Hit, ...]
    read_as: str


@dataclass(frozen=True)
class Days:
    """A span of days that was asked for."""

    first: dt.date
    last: dt.date


def search(typed: str, dates: str = DATES[0]) -> Found:
    """Find by words as they are typed; a day or a month in them asks for the records of it. ``dates``: how the person writes a day."""
    words = typed[:LONGEST].casefold().split()
    if not words:
        return Found((), "")
    code = _by_code(typed)
    days, rest = _days(words, dates)
    hits = [*code, *_all(rest, days)]
    if hits:
        return Found(_once(hits), "")
    read = _forgiven(rest)
    if read == rest:
        return Found((), "")
    return Found(_once(_all(read, days)), " ".join(read))


def _once(hits: Iterable[Hit]) -> tuple[Hit, ...]:
    return tuple({(h.kind, h.id, h.title): h for h in hits}.values())


def _all(words: list[str], days: Days | None) -> list[Hit]:
    if days is not None:
        return _records(words, days)
    if not words:
        return []
    found = [*_vehicles(words), *_compartments(words), *_oils(words), *_sheets(words), *_parts(words), *_people(words)]
    return found


def _holding(rows: QuerySet, words: list[str], fields: tuple[str, ...]) -> QuerySet:
    """Rows of which each word stands in one of the fields."""
    for word in words:
        asked = Q()
        for field in fields:
            asked |= Q(**{f"{field}__icontains": word})
        rows = rows.filter(asked)
    return rows


def _first(rows: Iterable, words: list[str], name: str) -> list:
    """Those first whose name begins with what was typed."""
    whole = " ".join(words)
    return sorted(rows, key=lambda r: (not getattr(r, name).casefold().startswith(whole), getattr(r, name)))[:A_KIND]


def _vehicles(words: list[str]) -> list[Hit]:
    rows = list(_holding(Vehicle.objects.all(), words, ("name", "plate", "depot", "driver"))[: 4 * A_KIND])
    plate = "".join(c for w in words for c in w if c.isalnum())
    if len(plate) > 2 and len(rows) < A_KIND:  # a plate as one word, however it is written
        near = [pk for pk, p in Vehicle.objects.exclude(plate="").values_list("pk", "plate") if plate in _bare(p)]
        rows += list(Vehicle.objects.filter(pk__in=near[:A_KIND]).exclude(pk__in=[v.pk for v in rows]))
    return [
        Hit("vehicle", v.pk, v.name, ", ".join(filter(None, (v.plate, v.kind, v.depot, v.driver, v.retired_how))))
        for v in _first(rows, words, "name")
    ]


def _bare(plate: str) -> str:
    return "".join(c for c in plate.casefold() if c.isalnum())


def _compartments(words: list[str]) -> list[Hit]:
    rows, own = Compartment.objects.all(), Q(pk=None)
    for word in words:  # by ids of the few that are called so: nothing is joined before it is found
        sheets = list(SpecSheet.objects.filter(kind__icontains=word).values_list("pk", flat=True))
        boxes = list(Box.objects.exclude(number="").filter(number__icontains=word).values_list("pk", flat=True)[:MANY])
        vehicles = _holding(Vehicle.objects.all(), [word], ("name", "plate"))
        mine = Q(name__icontains=word) | Q(sheet__in=sheets) | Q(box__in=boxes)
        rows = rows.filter(mine | Q(vehicle__in=vehicles.values("pk")))
        own |= mine
    chosen = list(rows.filter(own).order_by("vehicle_id", "id").values_list("pk", flat=True)[:A_KIND])
    if not chosen:
        chosen = list(rows.order_by("vehicle_id", "id").values_list("pk", flat=True)[:A_KIND])
    return [_place(c) for c in _with_glass(list(Compartment.objects.filter(pk__in=chosen).select_related("vehicle", "box")))]


@dataclass(frozen=True)
class _Seen:
    place: Compartment
    due: CompartmentDue | None


def _with_glass(places: list[Compartment]) -> list[_Seen]:
    board = seen_on_the_board(clock.today(), {c.vehicle_id for c in places})
    by_id = {d.id: d for v in board for d in v.compartments}
    return [_Seen(c, by_id.get(c.pk)) for c in places]


def _place(s: _Seen, note: str = "") -> Hit:
    d, c = s.due, s.place
    said = note or (d.oil if d is not None and d.oil else "no record") if c.removed_on is None else "taken out"
    glass = Glass(d.state, d.used, d.family, d.colour, d.level) if d is not None else None
    return Hit("compartment", c.pk, f"{c.vehicle.name}, {c.name}", said, glass)


def _by_code(typed: str) -> list[Hit]:
    """The box of a label, wherever it is fitted now."""
    try:
        box = box_of(typed)
        place = place_of(box)
    except (Inconsistent, Box.DoesNotExist):
        return []
    if place is not None:
        return [_place(s, say("the box of label {box}", box=code_of(box))) for s in _with_glass([place])]
    was = last_place(box)
    return (
        [
            Hit(
                "compartment",
                was.pk,
                f"{was.vehicle.name}, {was.name}",
                say("the box of label {box} was here: it is in the store", box=code_of(box)),
            )
        ]
        if was
        else []
    )


def _oils(words: list[str]) -> list[Hit]:
    rows = _holding(Lubricant.objects.all(), words, ("name", "grade", "categories", "family"))[: 4 * A_KIND]
    return [Hit("oil", o.pk, o.name, ", ".join(filter(None, (o.family, o.grade, o.categories)))) for o in _first(rows, words, "name")]


def _sheets(words: list[str]) -> list[Hit]:
    rows = _holding(SpecSheet.objects.all(), words, ("name", "kind"))[: 4 * A_KIND]
    return [Hit("sheet", s.pk, s.name, s.kind) for s in _first(rows, words, "name")]


def _parts(words: list[str]) -> list[Hit]:
    rows = _holding(StoreItem.objects.all(), words, ("name", "place"))[: 4 * A_KIND]
    return [
        Hit("part", i.pk, i.name, say("{count} in the store{words}", count=i.count, words=f", {i.place}" if i.place else ""))
        for i in _first(rows, words, "name")
    ]


def _people(words: list[str]) -> list[Hit]:
    rows = _holding(Person.objects.all(), words, ("username", "first_name", "last_name"))[:A_KIND]
    return [Hit("person", p.pk, p.shown_name, p.role if p.is_active else "has left") for p in rows]


def _records(words: list[str], days: Days) -> list[Hit]:
    """The records of some days, newest first, by their day as it was corrected."""
    span = (days.first.isoformat(), days.last.isoformat())
    moved = [pk for pk, after in Correction.objects.filter(field="on").values_list("record", "after") if span[0] <= str(after) <= span[1]]
    asked = Q(on__range=(days.first, days.last)) | Q(pk__in=moved[:MANY])
    rows = OilRecord.objects.filter(asked).select_related("compartment__vehicle", "compartment__sheet", "by")
    rows = _holding(rows, words, OF_A_RECORD)
    found = []
    for r in rows.prefetch_related("corrections").order_by("-on", "-id")[: 10 * A_KIND]:
        values = corrected(r)
        if days.first <= values["on"] <= days.last:
            title = f"{r.compartment.vehicle.name}, {r.compartment.name}"
            found.append(
                Hit(
                    "record",
                    r.compartment_id,
                    title,
                    f"{values['on'].day} {values['on']:%b %Y}, {r.work}, {values['oil'] or 'oil not recorded'}",
                )
            )
    return found[: 2 * A_KIND]


_NUMBERS = re.compile(r"^(\d{1,2})[./-](\d{1,2})[./-](\d{4}|\d{2})$")


def _days(words: list[str], dates: str) -> tuple[Days | None, list[str]]:
    """A day or a month among the words, and the words that are left; None where there is none."""
    for size in (3, 2, 1):
        for k in range(len(words) - size + 1):
            days = _read_days(words[k : k + size], dates)
            if days is not None:
                return days, [*words[:k], *words[k + size :]]
    return None, words


def _read_days(words: list[str], dates: str) -> Days | None:
    try:
        if len(words) == 1:
            return _read_one(words[0], dates)
        month = MONTHS.get(words[-2][:3]) if words[-2].isalpha() else None
        if month is None or not re.fullmatch(r"(19|20)\d\d", words[-1]):
            return None
        if len(words) == 2:
            return _month(int(words[-1]), month)
        if re.fullmatch(r"\d{1,2}\.?", words[0]):
            on = dt.date(int(words[-1]), month, int(words[0].rstrip(".")))
            return Days(on, on)
    except ValueError:
        return None
    return None


def _read_one(word: str, dates: str) -> Days | None:
    if re.fullmatch(r"(19|20)\d\d-\d\d-\d\d", word):
        on = dt.date.fromisoformat(word)
        return Days(on, on)
    if re.fullmatch(r"(19|20)\d\d-\d\d", word):
        return _month(int(word[:4]), int(word[5:]))
    if word in ("today", "yesterday"):
        on = clock.today() - dt.timedelta(days=int(word == "yesterday"))
        return Days(on, on)
    written = _NUMBERS.match(word)
    if written is None:
        return None
    first, second, year = (int(g) for g in written.groups())
    month, day = (first, second) if dates == "month first" else (second, first)
    on = dt.date(year + 2000 if year < 100 else year, month, day)
    return Days(on, on)


def _month(year: int, month: int) -> Days:
    first = dt.date(year, month, 1)
    after = dt.date(year + month // 12, month % 12 + 1, 1)
    return Days(first, after - dt.timedelta(days=1))


def _forgiven(words: list[str]) -> list[str]:
    """The words as the nearest that the book knows, where one was mistyped."""
    known = _known_words()
    read = []
    for word in words:
        if len(word) < 3 or any(word in k for k in known):
            read.append(word)
            continue
        near = process.extractOne(word, known, scorer=fuzz.ratio, score_cutoff=NEAR_ENOUGH)
        read.append(near[0] if near is not None else word)
    return read


def _known_words() -> tuple[str, ...]:
    """Every word by which something of the book is called."""
    return _words_at(newest(), Person.objects.count())


@keep("words", 1)
def _words_at(version: int, people: int) -> tuple[str, ...]:
    names: set[str] = set()
    for model, fields in (
        (Vehicle, ("name", "plate", "depot", "driver")),
        (Compartment, ("name",)),
        (Lubricant, ("name", "grade")),
        (SpecSheet, ("name", "kind")),
        (StoreItem, ("name",)),
        (Person, ("username", "first_name", "last_name")),
    ):
        for field in fields:
            names.update(model._default_manager.values_list(field, flat=True).distinct())
    return tuple(sorted({w for name in names for w in name.casefold().split()}))


def without_people(found: Found) -> Found:
    """What was found, for those who may not see the page of people."""
    return replace(found, hits=tuple(h for h in found.hits if h.kind != "person"))
