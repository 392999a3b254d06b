"""Reads of stock: containers, additives, the store of seals, parts and tools."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.core.ledger.pour import Bottle

from ..models import Additive, Container, Lubricant, StockMovement, StoreItem, StoreMovement


@dataclass(frozen=True)
class ContainerView:
    """A container with what is in it, where it is."""

    id: int
    label: str
    kind: str
    size_ml: float
    content_ml: float
    graduated: bool
    opened_on: dt.date | None
    vehicle_id: int | None
    carried_in: str


def container_view(c: Container) -> ContainerView:
    """A container as the page shows it."""
    carried = c.vehicle.name if c.vehicle else ""
    return ContainerView(
        id=c.pk,
        label=c.label,
        kind=c.kind,
        size_ml=c.size_ml,
        content_ml=c.content_ml,
        graduated=c.graduated,
        opened_on=c.opened_on,
        vehicle_id=c.vehicle_id,
        carried_in=carried,
    )


def on_the_shelf(containers: list[Container]) -> list[Container]:
    """Those of a lubricant that are not empty and not carried in a vehicle."""
    return [c for c in containers if c.content_ml > 0 and c.vehicle_id is None]


def held_ml(oil: Lubricant, poured: dict[int, float]) -> float:
    """What the shelf holds of an oil, mL, less what open services have poured from it (by container) and not yet booked."""
    return sum(max(0.0, c.content_ml - poured.get(c.pk, 0.0)) for c in on_the_shelf(list(oil.containers.all())))


def bottles(lubricant: Lubricant, reserved: dict[int, float]) -> list[Bottle]:
    """What is in stock of an oil, less what open services have poured from it already; top-up bottles stay in their vehicles."""
    return [
        Bottle(c.size_ml, max(0.0, c.content_ml - reserved.get(c.pk, 0.0)), c.label, c.graduated)
        for c in Container.objects.filter(lubricant=lubricant, content_ml__gt=0, vehicle=None)
    ]


@dataclass(frozen=True)
class MovementView:
    """A movement of a container; ``left_ml`` is what was in it afterwards."""

    change_ml: float
    left_ml: float
    why: str
    by: str
    at: dt.datetime


def movements(container_id: int) -> list[MovementView]:
    """The movements of a container, the latest first; raises Container.DoesNotExist."""
    Container.objects.get(pk=container_id)
    left, found = 0.0, []
    for m in StockMovement.objects.filter(container_id=container_id).select_related("by").order_by("at", "id"):
        left += m.change_ml
        found.append(MovementView(m.change_ml, left, m.why, m.by.shown_name, m.at))
    return found[::-1]


@dataclass(frozen=True)
class StoreView:
    """A seal, part or tool, how many there are, and its last movement."""

    id: int
    name: str
    kind: str
    count: int
    place: str
    last: str


def store() -> list[StoreView]:
    """Everything that the workshop counts."""
    last: dict[int, StoreMovement] = {}
    for m in StoreMovement.objects.select_related("by").order_by("id"):
        last[m.item_id] = m
    return [StoreView(i.pk, i.name, i.kind, i.count, i.place, _told(last.get(i.pk))) for i in StoreItem.objects.all()]


def _told(m: StoreMovement | None) -> str:
    return f"{m.change:+d}, {m.why}, {m.by.shown_name}, {m.at:%d %b %Y}" if m else ""


def store_counts() -> dict[str, int]:
    """Name to count."""
    return dict(StoreItem.objects.values_list("name", "count"))


@dataclass(frozen=True)
class AdditiveView:
    id: int
    name: str
    kind: str
    max_share: float | None
    note: str


def additives() -> list[AdditiveView]:
    """Every additive by name."""
    return [AdditiveView(a.pk, a.name, a.kind, a.max_share, a.note) for a in Additive.objects.all()]
