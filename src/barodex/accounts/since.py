"""Edits that somebody else overtook: what stands now and what was sent, side by side, before anything is written over."""

from __future__ import annotations

import datetime as dt
import json
import zlib
from collections.abc import Callable, Mapping
from typing import Any

from django.db import models

from barodex.accounts.models import AuditEntry
from barodex.core.quantity.errors import Superseded
from barodex.core.words import say


def version_of(values: Mapping[str, Any]) -> int:
    """The version of what stands, made of the values themselves: the same values are the same version."""
    return zlib.crc32(json.dumps(values, sort_keys=True, default=str).encode()) % 1_000_000_000


def last_hand(about: models.Model) -> str:
    """Who changed a row last, by the audit trail."""
    last = AuditEntry.objects.filter(about=f"{about._meta.label_lower}:{about.pk}").order_by("-at", "-id").first()
    return last.by.shown_name if last is not None and last.by is not None else "Somebody"


def shown(value: Any) -> str:
    """A value for a person."""
    if value is None or value == "" or value == [] or value == () or value == {}:
        return "not stated"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        return ", ".join(f"{k} {shown(v)}" for k, v in value.items())
    if isinstance(value, (list, tuple)):
        return ", ".join(shown(v) for v in value)
    if isinstance(value, dt.date):
        return f"{value:%-d %b %Y}"
    return f"{value:g}" if isinstance(value, float) else str(value)


def check_since(
    based_on: int | None,
    now: Mapping[str, Any],
    sent: Mapping[str, Any],
    what: str,
    who: str = "Somebody",
    said: Callable[[str, Any], str] = lambda _, value: shown(value),
) -> None:
    """Refuse an edit that began from something else than stands now.

    ``now``: the values that stand, ``sent``: those that would be written; ``what`` they are of, ``who`` changed them last, ``said`` how a
    value of a name is shown.
    Raises Superseded with both sides where they differ.
    """
    stands = version_of(now)
    if based_on is None or based_on == stands:
        return
    differ = {name: value for name, value in sent.items() if name in now and said(name, now[name]) != said(name, value)}
    raise Superseded(
        say("{who} changed {what} since you opened it.", who=who, what=what),
        tuple(
            (name, say("there {name}, here {name_2}", name=said(name, now[name]), name_2=said(name, value)))
            for name, value in differ.items()
        ),
        field="version",
        value=based_on,
        allowed=str(stands),
    )
