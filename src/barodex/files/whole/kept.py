"""What of the database is the book: every table of it, and each row as a line of JSON and back."""

from __future__ import annotations

import datetime as dt
import decimal
import json
import uuid
from collections.abc import Iterator
from typing import Any

from django.apps import apps
from django.db import models

from barodex.core.words import kept, say
from barodex.said import SaidJSON

OURS = ("accounts", "workshop", "shelf", "fleet", "book", "plan", "bay", "devices", "files")
LEFT_OUT = {  # by its label: why it is none of the book
    "accounts.sentchange": say("answers that are kept some days, for a page that lost them"),
    "accounts.person_groups": say("Django's own groups are not used"),
    "accounts.person_user_permissions": say("Django's own permissions are not used"),
}
FIELDS_LEFT_OUT = {  # what would let somebody in elsewhere, and what Django's own people have beside
    "accounts.person": ("password", "last_login", "is_superuser", "is_staff", "email", "link_no")
}
AT_ONCE = 500


def kept_models() -> list[type[models.Model]]:
    """Every table of the book, by its label; those that tie two others are tables too."""
    found = [m for name in OURS for m in apps.get_app_config(name).get_models(include_auto_created=True)]
    return sorted((m for m in found if m._meta.label_lower not in LEFT_OUT), key=lambda m: m._meta.label_lower)


def fields_of(model: Any) -> list[models.Field]:
    """The fields of a table that go into a file."""
    out = FIELDS_LEFT_OUT.get(model._meta.label_lower, ())
    return [f for f in model._meta.local_concrete_fields if f.name not in out]


def plain_value(value: Any) -> Any:
    if isinstance(value, dt.datetime):
        return value.astimezone(dt.UTC).isoformat()
    if isinstance(value, dt.date):
        return value.isoformat()
    if isinstance(value, (uuid.UUID, decimal.Decimal)):
        return str(value)
    raise TypeError(f"{value!r} is not written to a file.")


def line_of(row: dict[str, Any]) -> bytes:
    """A row as one line of JSON; what it holds keeps its order, which says something (steps, names in a list)."""
    return json.dumps(row, default=plain_value, ensure_ascii=False, separators=(",", ":")).encode() + b"\n"


def rows_of(model: type[models.Model], **only: Any) -> Iterator[dict[str, Any]]:
    """The rows of a table in the order of their keys, a few at a time; ``only``: those that a filter lets through."""
    names = [f.attname for f in fields_of(model)]
    worded = [f.attname for f in fields_of(model) if isinstance(f, SaidJSON)]
    for row in model._base_manager.filter(**only).order_by("pk").values(*names).iterator(AT_ONCE):
        for name in worded:
            row[name] = kept(row[name])  # a message goes out by its code
        yield row


def row_back(model: Any, row: dict[str, Any]) -> models.Model:
    """A row of a file as one of a table; raises ValueError, KeyError or Django's ValidationError for one that cannot be."""
    known = {f.attname: f for f in fields_of(model)}
    strange = set(row) - set(known)
    if strange:
        raise ValueError(f"{model._meta.label_lower} has no {', '.join(sorted(strange))}")
    made = model(**{name: known[name].to_python(value) for name, value in row.items()})
    if model._meta.label_lower == "accounts.person":
        made.password = "!"  # nobody can sign in by it; a one-time link lets them choose one
    return made
