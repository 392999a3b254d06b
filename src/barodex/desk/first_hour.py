"""The way from an empty book to its first due: what is there, what comes next."""

from __future__ import annotations

from dataclasses import dataclass

from barodex.book.models import OilRecord
from barodex.fleet.models import Compartment, Reading, Vehicle
from barodex.shelf.models import Container, Lubricant, SpecSheet
from barodex.workshop.own import details

STEPS = ("workshop", "sheet", "vehicle", "reading", "oil", "change")


@dataclass(frozen=True)
class FirstStep:
    """A step of the way: which, whether it is done, and what of (a vehicle, a compartment) it is asked next."""

    key: str
    done: bool
    id: int | None = None
    name: str = ""


@dataclass(frozen=True)
class FirstHour:
    """The way; ``over``: the book stands on its own feet and leads nobody any more."""

    over: bool
    steps: tuple[FirstStep, ...]


def first_hour() -> FirstHour:
    """Where the book stands on the way to its first due."""
    vehicle = Vehicle.objects.order_by("-pk").first()
    unread = Vehicle.objects.filter(retired_on=None).exclude(pk__in=Reading.objects.values("vehicle")).order_by("pk").first()
    unwritten = Compartment.objects.exclude(box__in=OilRecord.objects.values("box")).select_related("vehicle").order_by("pk").first()
    steps = (
        FirstStep("workshop", bool(details().name)),
        FirstStep("sheet", SpecSheet.objects.exists()),
        FirstStep("vehicle", vehicle is not None),
        FirstStep("reading", vehicle is not None and unread is None, unread.pk if unread else None, unread.name if unread else ""),
        FirstStep("oil", Lubricant.objects.exists() and Container.objects.exists()),
        FirstStep(
            "change",
            OilRecord.objects.exists(),
            unwritten.pk if unwritten else None,
            f"{unwritten.vehicle.name}, {unwritten.name}" if unwritten else "",
        ),
    )
    done = {s.key for s in steps if s.done}
    return FirstHour({"vehicle", "change"} <= done and Reading.objects.exists(), steps)
