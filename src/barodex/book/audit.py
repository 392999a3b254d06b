"""What the book does not know or cannot be trusted with, compartment by compartment, each with the shortest way to mend it."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from django.db.models import Prefetch

from barodex.book.superseded import superseded_revision
from barodex.core.ledger.balance import INTO
from barodex.core.quantity.working import ml
from barodex.core.words import say
from barodex.fleet.models import Compartment, Vehicle
from barodex.shelf.models import SheetRevision
from barodex.shelf.queries import current_revision

from .amounts import corrected
from .models import LedgerRow, OilRecord

AUDIT_KINDS = {
    "no evidence": say("No trace of a change"),
    "level": say("Level set outside its window"),
    "superseded": say("Filled by a capacity that no longer stands"),
    "guess": say("A guessed figure in use"),
    "amount": say("No amount on record"),
    "not looked at": say("Nobody looked at what came out"),
    "gap": say("A step passed or short"),
    "reading": say("No reading for long"),
}
STALE_DAYS = 92  # without a reading for so long the forecast is a guess (common practice)


@dataclass(frozen=True)
class AuditItem:
    """One thing to mend: what is wrong, how it is mended, and where in the page."""

    kind: str
    vehicle_id: int
    vehicle: str
    compartment_id: int | None
    compartment: str
    text: str
    mend: str
    path: str


@dataclass(frozen=True)
class AuditCount:
    kind: str
    words: str
    count: int


@dataclass(frozen=True)
class HistoryAudit:
    """The audit: counts by kind, the items with the gravest first, and how many compartments have nothing against them."""

    counts: tuple[AuditCount, ...]
    items: tuple[AuditItem, ...]
    compartments: int
    sound: int


def _level(record: OilRecord) -> str:
    """What speaks against the level as it was set; empty when nothing does."""
    revision, closed = record.revision, record.details.get("closed_at_c")
    if revision is None or closed is None or revision.window_low_c is None or revision.window_high_c is None:
        return ""
    if revision.window_low_c <= closed <= revision.window_high_c:
        return ""
    word = "too little" if closed > revision.window_high_c else "too much"
    window = say("{window_low_c:g} to {window_high_c:g} °C", window_low_c=revision.window_low_c, window_high_c=revision.window_high_c)
    return say(
        "The level was closed at {closed:g} °C, the window is {window}: {word} may be inside.", closed=closed, window=window, word=word
    )


def _of_compartment(
    c: Compartment, last: OilRecord | None, newest: SheetRevision, as_of: dt.date, measured: bool
) -> Iterator[tuple[str, str, str, str]]:
    """(kind, text, mend, path) of each thing against a compartment."""
    book, start = f"/book/{c.pk}", f"/bay/start/{c.vehicle_id}?c={c.pk}"
    if last is None:
        yield (
            "no evidence",
            say("No change is on record: unknown counts as due."),
            say("Write in what a tag or a receipt says, or change it now."),
            book,
        )
    else:
        values = corrected(last)
        on = values["on"]
        level = _level(last)
        if level:
            yield "level", level, say("Check the level again inside the window."), start
        was = superseded_revision(c.sheet.revisions.all(), last.revision, on, as_of)
        if was is not None and was.capacity_ml and newest.capacity_ml:
            text = say(
                "Filled on {day} {on} by {capacity_ml}; revision {newest_number} says {capacity_ml_2}.",
                day=on.day,
                on=f"{on:%b %Y}",
                capacity_ml=ml(was.capacity_ml),
                newest_number=newest.number,
                capacity_ml_2=ml(newest.capacity_ml),
            )
            yield "superseded", text, say("Check the level, or change it at the next visit."), start
        if not measured:
            yield (
                "amount",
                say("What went in on {day} {on} is not written down.", day=on.day, on=f"{on:%b %Y}"),
                say("Correct the record, or measure at the next change."),
                book,
            )
        if last.level is None and not last.factory_fill:
            yield (
                "not looked at",
                say("Of the change of {day} {on} nothing was noted of magnet and oil.", day=on.day, on=f"{on:%b %Y}"),
                say("Look at the next change."),
                book,
            )
        for gap in last.gaps:
            if gap != "written in from paper":
                yield "gap", gap, say("Make good what was passed, and note it."), book
    guessed = sorted({s.figure.replace("_", " ") for s in newest.sources.all() if s.trust == "guessed"})
    if guessed:
        yield (
            "guess",
            say("Guessed on its sheet: {guessed}.", guessed=", ".join(guessed)),
            say("Look it up, or confirm it at the vehicle."),
            f"/shelf/sheets/{c.sheet_id}",
        )


def history_audit(as_of: dt.date) -> HistoryAudit:
    """Go through the whole book, a few queries in all."""
    compartments = (
        Compartment.objects.filter(removed_on=None, vehicle__retired_on=None)
        .select_related("vehicle", "sheet")
        .prefetch_related(Prefetch("sheet__revisions", SheetRevision.objects.prefetch_related("sources")))
    )
    newest_record: dict[int, OilRecord] = {}
    for r in OilRecord.objects.exclude(work="top-up").select_related("revision").prefetch_related("corrections").order_by("on", "id"):
        newest_record[r.box_id] = r
    items, sound = [], 0
    rows = list(compartments)
    filled = set(
        LedgerRow.objects.filter(record__in=[r.pk for r in newest_record.values()], kind__in=INTO).values_list("record_id", flat=True)
    )
    for c in rows:
        last_record = newest_record.get(c.box_id)
        measured = last_record is not None and last_record.pk in filled
        found = list(_of_compartment(c, last_record, current_revision(c.sheet.revisions.all(), as_of), as_of, measured))
        sound += not found
        items += [AuditItem(kind, c.vehicle_id, c.vehicle.name, c.pk, c.name, text, mend, path) for kind, text, mend, path in found]
    for v in Vehicle.objects.filter(retired_on=None).prefetch_related("readings"):
        last = max((r.on for r in v.readings.all()), default=None)
        if last is None or (as_of - last).days > STALE_DAYS:
            text = (
                say("It has no reading.")
                if last is None
                else say("Its last reading is of {day} {last}.", day=last.day, last=f"{last:%b %Y}")
            )
            items.append(
                AuditItem(
                    "reading",
                    v.pk,
                    v.name,
                    None,
                    "",
                    text,
                    say("Read the meter: its due dates are guesses until then."),
                    f"/due/vehicle/{v.pk}",
                )
            )
    order = list(AUDIT_KINDS)
    items.sort(key=lambda i: (order.index(i.kind), i.vehicle, i.compartment))
    counts = Counter(i.kind for i in items)
    return HistoryAudit(tuple(AuditCount(k, w, counts[k]) for k, w in AUDIT_KINDS.items() if counts[k]), tuple(items), len(rows), sound)
