"""Who is signed in where: the sessions that Django keeps, read by person."""

from __future__ import annotations

import datetime as dt
import hashlib
from collections import defaultdict
from dataclasses import dataclass
from typing import Any

from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.models import Session

from barodex import clock
from barodex.core.words import say

SINCE, DEVICE = "since", "device"  # what a session keeps of its sign-in


@dataclass(frozen=True)
class SignedIn:
    """A session of somebody: since when, on what, and whether it is the one that asks. ``id`` is not its key."""

    id: str
    since: dt.datetime | None
    device: str
    here: bool


_KNOWN = (
    ("iPhone", "phone"),
    ("Android", say("phone or tablet")),
    ("iPad", "tablet"),
    ("Macintosh", "computer"),
    ("Windows", "computer"),
    ("Linux", "computer"),
)


def device_of(agent: str) -> str:
    """What somebody signed in on, as far as the browser says."""
    return next((word for sign, word in _KNOWN if sign in agent), "unknown device")


def note_sign_in(request: Any) -> None:
    """Keep when and on what a session began."""
    request.session[SINCE] = clock.now().isoformat()
    request.session[DEVICE] = device_of(request.META.get("HTTP_USER_AGENT", ""))


def _rows() -> list[tuple[Session, dict[str, Any]]]:
    return [(s, s.get_decoded()) for s in Session.objects.filter(expire_date__gt=clock.now())]


def counts() -> dict[int, int]:
    """How many sessions each person has."""
    found: dict[int, int] = defaultdict(int)
    for _, kept in _rows():
        if str(kept.get(SESSION_KEY, "")).isdigit():
            found[int(kept[SESSION_KEY])] += 1
    return dict(found)


def sessions_of(person_id: int, here: str = "") -> list[SignedIn]:
    """The sessions of somebody, the newest first; ``here``: the key of the one that asks."""
    mine = [(s, kept) for s, kept in _rows() if kept.get(SESSION_KEY) == str(person_id)]
    found = [
        SignedIn(
            _mark(s), dt.datetime.fromisoformat(kept[SINCE]) if kept.get(SINCE) else None, str(kept.get(DEVICE, "")), s.session_key == here
        )
        for s, kept in mine
    ]
    return sorted(found, key=lambda s: (s.since is not None, s.since or clock.now()), reverse=True)


def end_sessions(person_id: int, but: str = "", only: str = "") -> int:
    """End the sessions of somebody: all, all ``but`` one (its key), or ``only`` one (its id)."""
    ended = [s for s, kept in _rows() if kept.get(SESSION_KEY) == str(person_id) and s.session_key != but and only in ("", _mark(s))]
    Session.objects.filter(session_key__in=[s.session_key for s in ended]).delete()
    return len(ended)


def _mark(session: Session) -> str:
    """A name for a session that is no key to it."""
    return hashlib.sha256(session.session_key.encode()).hexdigest()[:16]
