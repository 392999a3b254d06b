"""The workshop itself: its name and address, as they stand at the head of its papers."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from barodex.accounts.since import version_of
from barodex.workshop.models import Workshop


@dataclass(frozen=True)
class Details:
    """Name, address (several lines), telephone or mail, and where Barodex is reached from a phone; empty where nobody said."""

    name: str = ""
    address: str = ""
    reached: str = ""
    web: str = ""


@dataclass(frozen=True)
class WorkshopView(Details):
    """The details and their version."""

    version: int = 0


def details() -> Details:
    """The details that stand."""
    row = Workshop.objects.filter(pk=Workshop.ONE).first()
    return Details() if row is None else Details(row.name, row.address, row.reached, row.web)


def workshop_view() -> WorkshopView:
    """The details with the version from which an edit of them starts."""
    now = asdict(details())
    return WorkshopView(**now, version=version_of(now))
