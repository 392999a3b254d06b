"""Now, from one place, so that tests, screenshots and the demo can set it."""

from __future__ import annotations

import contextlib
import datetime as dt
import os
from collections.abc import Iterator
from contextvars import ContextVar

from django.utils import timezone

_fixed: ContextVar[dt.datetime | None] = ContextVar("barodex_now", default=None)


def now() -> dt.datetime:
    """The moment, with time zone; BARODEX_NOW (ISO 8601) or :func:`at` overrule the machine's clock.

    BARODEX_CLOCK names a file with the seconds by which this clock runs ahead, so that a test of the whole page need not wait.
    """
    fixed = _fixed.get()
    if fixed is not None:
        return fixed
    text = os.environ.get("BARODEX_NOW")
    if text:
        return dt.datetime.fromisoformat(text).astimezone(dt.UTC)
    ahead = os.environ.get("BARODEX_CLOCK")
    if ahead and os.path.exists(ahead):
        with open(ahead, encoding="ascii") as file:
            return timezone.now() + dt.timedelta(seconds=float(file.read() or 0))
    return timezone.now()


def today() -> dt.date:
    """The date here."""
    return timezone.localtime(now()).date()


@contextlib.contextmanager
def at(moment: dt.datetime) -> Iterator[None]:
    """Hold the clock at a moment."""
    token = _fixed.set(moment)
    try:
        yield
    finally:
        _fixed.reset(token)
