"""People as the lead sees them."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from .models import Person
from .signed_in import counts


@dataclass(frozen=True)
class PersonView:
    """Somebody: the name to sign in by, the role, whether a password was chosen yet, on how many devices they are signed in."""

    id: int
    username: str
    name: str
    role: str
    active: bool
    joined: bool
    last_seen: dt.datetime | None
    signed_in: int
    only_lead: bool


def people() -> list[PersonView]:
    """Everybody, those who left last."""
    signed_in = counts()
    rows = list(Person.objects.order_by("-is_active", "username"))
    leads = [p for p in rows if p.is_active and p.role == "lead"]
    return [
        PersonView(
            id=p.pk,
            username=p.username,
            name=p.shown_name,
            role=p.role,
            active=p.is_active,
            joined=p.has_usable_password(),
            last_seen=p.last_login,
            signed_in=signed_in.get(p.pk, 0),
            only_lead=leads == [p],
        )
        for p in rows
    ]
