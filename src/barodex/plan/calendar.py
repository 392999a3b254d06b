"""Due dates and visits as iCalendar (RFC 5545), for a file or under a secret link that can be revoked."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
from dataclasses import dataclass

from django.db import transaction
from icalendar import Calendar, Event

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.due.interval import LIMIT_WORDS
from barodex.core.words import say

from .horizon import MOST_DAYS, HorizonRow, whole_horizon
from .models import CalendarLink
from .visit import Look, Mark, VisitView

STATE_WORDS = {
    "overdue": "overdue",
    "unknown": say("no record: counts as due"),
    "stop": say("stop, do not drive"),
    "repair": say("something to be mended first"),
}


@dataclass(frozen=True)
class LinkView:
    """Whether a person has a link, since when, and its address the one time that it is shown."""

    since: dt.datetime | None
    path: str


def _hash(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()


def link_of(person: Person) -> LinkView:
    """A person's link, without its key."""
    link = CalendarLink.objects.filter(person=person, revoked_at=None).first()
    return LinkView(link.at if link else None, "")


@transaction.atomic
def make_link(person: Person) -> LinkView:
    """Make a new secret link; one that was there before no longer works."""
    require(person, "viewer")
    CalendarLink.objects.filter(person=person, revoked_at=None).update(revoked_at=clock.now())
    key = secrets.token_urlsafe(32)
    link = CalendarLink.objects.create(person=person, key_hash=_hash(key), at=clock.now())
    audit(person, "calendar link made", link, ())
    return LinkView(link.at, f"/calendar/{key}.ics")


@transaction.atomic
def revoke_link(person: Person) -> LinkView:
    """Revoke a person's link."""
    require(person, "viewer")
    if CalendarLink.objects.filter(person=person, revoked_at=None).update(revoked_at=clock.now()):
        audit(person, "calendar link revoked", person, ())
    return LinkView(None, "")


def person_of(key: str) -> Person | None:
    """Whose link a key is; None for one that was guessed or revoked, or of a person who has left."""
    link = CalendarLink.objects.select_related("person").filter(key_hash=_hash(key), revoked_at=None).first()
    return link.person if link and link.person.is_active else None


def _event(uid: str, on: dt.date, summary: str, lines: list[str], stamp: dt.datetime) -> Event:
    event = Event()
    event.add("uid", f"{uid}@barodex")
    event.add("dtstamp", stamp)
    event.add("dtstart", on)
    event.add("dtend", on + dt.timedelta(days=1))
    event.add("summary", summary)
    event.add("description", "\n".join(lines))
    event.add("transp", "TRANSPARENT")
    return event


def _due_event(row: HorizonRow, mark: Mark, stamp: dt.datetime) -> Event:
    lines = [
        say("Due by {limit_words}.", limit_words=LIMIT_WORDS.get(mark.limit, mark.limit))
        if mark.limit not in ("unknown", "none")
        else say("No change is on record.")
    ]
    if mark.earliest < mark.latest:
        lines.append(
            say(
                "Between {earliest} and {latest} (P10 to P90) at the present use.",
                earliest=f"{mark.earliest:%d %b %Y}",
                latest=f"{mark.latest:%d %b %Y}",
            )
        )
    if mark.oil:
        lines.append(say("Oil: {oil}.", oil=mark.oil))
    state = f" ({STATE_WORDS[mark.state]})" if mark.state in STATE_WORDS else ""
    return _event(
        f"due-{mark.compartment_id}",
        mark.on,
        say("{vehicle}, {mark}: oil change due{state}", vehicle=row.vehicle, mark=mark.name.lower(), state=state),
        lines,
        stamp,
    )


def _visit_event(visit: VisitView, stamp: dt.datetime) -> Event:
    lines = [
        say("{names}; {hours:.1f} h in the bay.", names=", ".join(visit.names), hours=visit.hours),
        *([say("Oils: {oils}.", oils=", ".join(visit.oils))] if visit.oils else []),
    ]
    lines += [say("Done by {technician}.", technician=visit.technician)] if visit.technician else []
    lines += [f"{x.compartment}: {x.what}." for x in visit.looks]
    return _event(
        f"visit-{visit.id}",
        visit.on,
        say("{vehicle}: visit agreed", vehicle=visit.vehicle),
        [*lines, visit.note] if visit.note else lines,
        stamp,
    )


def _look_event(row: HorizonRow, look: Look, stamp: dt.datetime) -> Event:
    return _event(
        f"look-{look.id}",
        look.on,
        f"{row.vehicle}, {look.compartment.lower()}: {look.what}",
        [say("Close it in Barodex once it is done.")],
        stamp,
    )


def calendar_file() -> bytes:
    """Every due date and agreed visit of the coming year, as an iCalendar file."""
    found = whole_horizon(clock.today(), MOST_DAYS)
    made = Calendar()
    made.add("prodid", "-//Barodex//oil book//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    made.add("x-wr-calname", "Barodex: oil")
    stamp = clock.now().astimezone(dt.UTC)
    for row in found.rows:
        agreed = {c for v in row.planned if not v.done for c in v.compartments}
        for mark in row.marks:
            if mark.compartment_id not in agreed:
                made.add_component(_due_event(row, mark, stamp))
        for look in (*row.looks, *(x for v in row.proposed for x in v.looks)):  # a proposal is not agreed: its looks stand alone
            made.add_component(_look_event(row, look, stamp))
        for visit in row.planned:
            if not visit.done:
                made.add_component(_visit_event(visit, stamp))
    return made.to_ical()
