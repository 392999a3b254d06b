"""Changes of people and their settings; the permission check and the audit entry that every action uses."""

import datetime as dt
from collections.abc import Iterable
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import PermissionDenied
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import models, transaction

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.memory.versions import raise_versions

from .links import link_for, person_by_link
from .models import DATES, ROLES, SYSTEMS, AuditEntry, Person
from .names import alike, checked_name
from .signed_in import end_sessions


def require(by: Person, role: str) -> None:
    """Refuse when ``by`` may not act as ``role``."""
    if not by.may(role):
        raise PermissionDenied(say("This is for the {role}; you are signed in as {role_2}.", role=role, role_2=by.role))


def audit(by: Person | None, act: str, about: models.Model, changed: Iterable[int | str], **detail: Any) -> None:
    """Write who did what, and raise the versions of what it moves; called inside the action's transaction.

    ``changed``: vehicles by id, and scopes of :mod:`barodex.memory.versions`; empty where no kept answer hangs on it.
    """
    AuditEntry.objects.create(at=clock.now(), by=by, act=act, about=f"{about._meta.label_lower}:{about.pk}", detail=detail)
    raise_versions(changed)


@transaction.atomic
def add_person(by: Person | None, username: str, password: str | None, role: str, first: str = "", last: str = "") -> Person:
    """Add somebody. ``by`` None: at installation. A password of None can never be used to sign in."""
    if by is not None:
        require(by, "lead")
    if role not in ROLES:
        raise Inconsistent(say("No role “{role}”.", role=role), field="role", value=role, allowed=", ".join(ROLES))
    kept = checked_name(username)
    taken = next((p for p in Person.objects.values_list("username", flat=True) if alike(p) == alike(kept)), None)
    if taken is not None:
        same = say("is there already") if taken == kept else say("looks like “{taken}”, who is there already", taken=taken)
        raise Inconsistent(say("“{kept}” {same}: choose another name.", kept=kept, same=same), field="username", value=kept)
    person = Person(username=kept, role=role, first_name=_part(first, "first"), last_name=_part(last, "last"))
    if password is None:
        person.set_unusable_password()
    else:
        _set_password(person, password)
    person.save()
    audit(by, "person added", person, (), role=role)
    return person


def _part(name: str, field: str) -> str:
    """A first or last name, which may be empty."""
    return checked_name(name, field) if name.strip() else ""


def _set_password(person: Person, password: str) -> None:
    try:
        validate_password(password, person)
    except DjangoValidationError as error:
        raise Inconsistent(" ".join(error.messages), field="password") from error
    person.set_password(password)


def _new_link(person: Person) -> tuple[str, dt.datetime]:
    person.link_no += 1
    person.save(update_fields=["link_no"])
    return link_for(person)


@transaction.atomic
def invite(by: Person, username: str, role: str, first: str = "", last: str = "") -> tuple[Person, str, dt.datetime]:
    """Add somebody who chooses a password by a one-time link: the person, its address, and until when it may be used."""
    require(by, "lead")
    person = add_person(by, username, None, role, first, last)
    change_settings(person, unit_system=by.unit_system, dates=by.dates)
    return (person, *_new_link(person))


@transaction.atomic
def send_link(by: Person, person_id: int) -> tuple[str, dt.datetime]:
    """Make a new one-time link for somebody; those before are ended."""
    require(by, "lead")
    person = _staying(person_id)
    made = _new_link(person)
    audit(by, "link made", person, ())
    return made


@transaction.atomic
def links_of_leads() -> list[tuple[str, str, dt.datetime]]:
    """A one-time link for each lead of a book that was just put back: name, address, until when; at installation only.

    They are not in the trail: a book that was put back is the one that was written.
    """
    return [(p.shown_name, *_new_link(p)) for p in Person.objects.filter(role="lead", is_active=True).order_by("pk")]


@transaction.atomic
def join(link: str, password: str) -> Person:
    """Choose a password by a one-time link."""
    person = person_by_link(link)
    _set_password(person, password)
    person.save(update_fields=["password"])
    end_sessions(person.pk)
    audit(person, "password chosen by link", person, ())
    return person


@transaction.atomic
def change_password(by: Person, old: str, new: str) -> Person:
    """Change one's own password; the old one is asked for."""
    if not by.check_password(old):
        raise Inconsistent(say("This is not the password of today."), field="old", value="")
    if old == new:
        raise Inconsistent(say("The new password is the old one."), field="password", value="")
    _set_password(by, new)
    by.save(update_fields=["password"])
    audit(by, "password changed", by, ())
    return by


def _staying(person_id: int) -> Person:
    person = Person.objects.select_for_update().get(pk=person_id)
    if not person.is_active:
        raise Inconsistent(say("{shown_name} has left.", shown_name=person.shown_name), field="person", value=person.shown_name)
    return person


def _another_lead(person: Person) -> None:
    if person.role == "lead" and not Person.objects.filter(role="lead", is_active=True).exclude(pk=person.pk).exists():
        raise Inconsistent(
            say("{shown_name} is the only lead: make somebody else one first, or nobody could.", shown_name=person.shown_name),
            field="role",
            value=person.role,
        )


@transaction.atomic
def change_role(by: Person, person_id: int, role: str) -> Person:
    """Give somebody another role; the last lead stays one."""
    require(by, "lead")
    if role not in ROLES:
        raise Inconsistent(say("No role “{role}”.", role=role), field="role", value=role, allowed=", ".join(ROLES))
    person = _staying(person_id)
    before = person.role
    if role != before:
        _another_lead(person)
        person.role = role
        person.save(update_fields=["role"])
        audit(by, "role changed", person, (), before=before, after=role)
    return person


@transaction.atomic
def leave(by: Person, person_id: int) -> Person:
    """Somebody leaves: cannot sign in any more, is signed out everywhere; what they wrote stays in their name."""
    require(by, "lead")
    person = _staying(person_id)
    _another_lead(person)
    person.is_active = False
    person.save(update_fields=["is_active"])
    end_sessions(person.pk)
    audit(by, "person left", person, ())
    return person


@transaction.atomic
def come_back(by: Person, person_id: int) -> Person:
    """Somebody who left is back, with the password and the role of before."""
    require(by, "lead")
    person = Person.objects.select_for_update().get(pk=person_id)
    if not person.is_active:
        person.is_active = True
        person.save(update_fields=["is_active"])
        audit(by, "person came back", person, ())
    return person


@transaction.atomic
def sign_out(by: Person, person_id: int, but: str = "", only: str = "") -> int:
    """End sessions: one's own, or as the lead those of somebody else."""
    if by.pk != person_id:
        require(by, "lead")
    ended = end_sessions(person_id, but, only)
    audit(by, "sessions ended", Person.objects.get(pk=person_id), (), ended=ended)
    return ended


SETTINGS = ("unit_system", "dates", "theme", "large_type", "left_hand", "spoken", "short_guide", "goes_on")


@transaction.atomic
def change_settings(by: Person, **changes: str | bool) -> Person:
    """Change one's own settings: units, theme, large type, the step at hand on the left, steps read out."""
    for name, value in changes.items():
        if name not in SETTINGS:
            raise Inconsistent(say("No setting “{name}”.", name=name), field=name, value=value, allowed=", ".join(SETTINGS))
        if name == "unit_system" and value not in SYSTEMS:
            raise Inconsistent(say("No unit system “{value}”.", value=value), field="unit_system", value=value, allowed=", ".join(SYSTEMS))
        if name == "dates" and value not in DATES:
            raise Inconsistent(say("No way to write days “{value}”.", value=value), field="dates", value=value, allowed=", ".join(DATES))
        setattr(by, name, value)
    by.save(update_fields=list(changes))
    audit(by, "settings changed", by, (), **changes)
    return by
