"""Changes of people and their settings; the permission check and the audit entry that every action uses."""

from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import PermissionDenied
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import models, transaction

from barodex import clock
from barodex.core.errors import Inconsistent

from .models import ROLES, SYSTEMS, AuditEntry, Person


def require(by: Person, role: str) -> None:
    """Refuse when ``by`` may not act as ``role``."""
    if not by.may(role):
        raise PermissionDenied(f"This is for the {role}; you are signed in as {by.role}.")


def audit(by: Person | None, act: str, about: models.Model, **detail: Any) -> None:
    """Write who did what; called inside the action's transaction."""
    AuditEntry.objects.create(at=clock.now(), by=by, act=act, about=f"{about._meta.label_lower}:{about.pk}", detail=detail)


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
    audit(by, "person added", person, role=role)
    return person


@transaction.atomic
def change_settings(by: Person, unit_system: str | None = None, theme: str | None = None) -> Person:
    """Change one's own units and theme."""
    if unit_system is not None:
        if unit_system not in SYSTEMS:
            raise Inconsistent(f"No unit system “{unit_system}”.", field="unit_system", value=unit_system, allowed=", ".join(SYSTEMS))
        by.unit_system = unit_system
    if theme is not None:
        by.theme = theme
    by.save(update_fields=["unit_system", "theme"])
    audit(by, "settings changed", by, unit_system=by.unit_system, theme=by.theme)
    return by
