"""Changes of people and their settings; the permission check and the audit entry that every action uses."""

from collections.abc import Iterable
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import PermissionDenied
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import models, transaction

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.memory.versions import raise_versions

from .models import ROLES, SYSTEMS, AuditEntry, Person


def require(by: Person, role: str) -> None:
    """Refuse when ``by`` may not act as ``role``."""
    if not by.may(role):
        raise PermissionDenied(f"This is for the {role}; you are signed in as {by.role}.")


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
        raise Inconsistent(f"No role “{role}”.", field="role", value=role, allowed=", ".join(ROLES))
    person = Person(username=username, role=role, first_name=first, last_name=last)
    if password is None:
        person.set_unusable_password()
    else:
        try:
            validate_password(password, person)
        except DjangoValidationError as error:
            raise Inconsistent(" ".join(error.messages), field="password") from error
        person.set_password(password)
    person.save()
    audit(by, "person added", person, (), role=role)
    return person


SETTINGS = ("unit_system", "theme", "large_type", "left_hand", "spoken", "short_guide", "goes_on")


@transaction.atomic
def change_settings(by: Person, **changes: str | bool) -> Person:
    """Change one's own settings: units, theme, large type, the step at hand on the left, steps read out."""
    for name, value in changes.items():
        if name not in SETTINGS:
            raise Inconsistent(f"No setting “{name}”.", field=name, value=value, allowed=", ".join(SETTINGS))
        if name == "unit_system" and value not in SYSTEMS:
            raise Inconsistent(f"No unit system “{value}”.", field="unit_system", value=value, allowed=", ".join(SYSTEMS))
        setattr(by, name, value)
    by.save(update_fields=list(changes))
    audit(by, "settings changed", by, (), **changes)
    return by
