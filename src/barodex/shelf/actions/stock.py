"""Changes of stock: containers of oil, and the seals, parts and tools of the store. Movements are written, never edited."""

from __future__ import annotations

from django.db import transaction
from django.db.models import F

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import ml
from barodex.core.sheet.kit import KIT_KINDS
from barodex.core.words import say
from barodex.memory.versions import SHELF

from ..models import CONTAINER_KINDS, Container, Lubricant, StockMovement, StoreItem, StoreMovement


@transaction.atomic
def stock_container(
    by: Person, lubricant_id: int, size_ml: float, content_ml: float, label: str, graduated: bool = True, kind: str = "bottle"
) -> Container:
    """Put a container on the shelf."""
    require(by, "technician")
    oil = Lubricant.objects.get(pk=lubricant_id)
    in_range("size_ml", size_ml, 10, 250_000, "mL")
    if kind not in CONTAINER_KINDS:
        raise Inconsistent(
            say("“{kind}” is not a kind of container.", kind=kind), field="kind", value=kind, allowed=", ".join(CONTAINER_KINDS)
        )
    if content_ml > size_ml:
        raise Inconsistent(
            say("It cannot hold more ({content_ml}) than its size ({size_ml}).", content_ml=ml(content_ml), size_ml=ml(size_ml)),
            field="content_ml",
            value=content_ml,
        )
    in_range("content_ml", content_ml, 0, 250_000, "mL")
    if not label.strip():
        raise Inconsistent(say("Write something on it, to tell it from the others."), field="label", value=label)
    made = Container.objects.create(
        lubricant=oil,
        label=label.strip(),
        kind=kind,
        size_ml=size_ml,
        content_ml=content_ml,
        graduated=graduated,
        opened_on=clock.today() if content_ml < size_ml else None,
    )
    note_movement(by, made, content_ml, say("put on the shelf"))
    audit(by, "container stocked", made, (SHELF,), label=label, content_ml=content_ml)
    return made


def note_movement(by: Person, container: Container, change_ml: float, why: str) -> None:
    StockMovement.objects.create(container=container, change_ml=change_ml, why=why[:80], by=by, at=clock.now())


def _change(by: Person, container: Container, change_ml: float, why: str) -> None:
    """Change what is in a container, by the database's own sum, so that two at once cannot both take the last of it."""
    Container.objects.filter(pk=container.pk).update(content_ml=F("content_ml") + change_ml, opened_on=container.opened_on or clock.today())
    note_movement(by, container, change_ml, why)


@transaction.atomic
def draw(by: Person, container_id: int, volume_ml: float, why: str) -> float:
    """Take oil out of a container at sign-off; gives what was really there to take, never below empty."""
    require(by, "technician")
    container = Container.objects.get(pk=container_id)
    taken = min(in_range("volume_ml", volume_ml, 0, 250_000, "mL"), container.content_ml)
    _change(by, container, -taken, why)
    return taken


@transaction.atomic
def take_out(by: Person, container_id: int, volume_ml: float, why: str) -> Container:
    """Take oil out of a container by hand: for a top-up, or thrown away. More than is in it is refused."""
    require(by, "technician")
    container = Container.objects.get(pk=container_id)
    in_range("volume_ml", volume_ml, 0.1, 250_000, "mL")
    if len(why.strip()) < 3:
        raise Inconsistent(say("Say what it was taken for."), field="why", value=why)
    if volume_ml > container.content_ml + 0.05:
        held = ml(container.content_ml)
        raise OutOfRange(
            say(
                "{container_label} holds {held} by the book, {volume_ml} cannot come out. If it held more, count it again.",
                container_label=container.label,
                held=held,
                volume_ml=ml(volume_ml),
            ),
            field="volume_ml",
            value=volume_ml,
            allowed=say("up to {held}", held=held),
        )
    _change(by, container, -min(volume_ml, container.content_ml), why.strip())
    audit(by, "oil taken out", container, (SHELF,), volume_ml=volume_ml, why=why)
    return Container.objects.get(pk=container_id)


@transaction.atomic
def recount(by: Person, container_id: int, content_ml: float, why: str) -> Container:
    """Set the book right after looking: the difference is a movement with its reason."""
    require(by, "technician")
    container = Container.objects.get(pk=container_id)
    in_range("content_ml", content_ml, 0, container.size_ml, "mL")
    if len(why.strip()) < 3:
        raise Inconsistent(say("Say how you know."), field="why", value=why)
    _change(by, container, content_ml - container.content_ml, say("counted: {why}", why=why.strip()))
    audit(by, "container counted", container, (SHELF,), content_ml=content_ml, why=why)
    return Container.objects.get(pk=container_id)


# --- seals, parts and tools -----------------------------------------------------------------------------------------


@transaction.atomic
def count_item(by: Person, name: str, kind: str, count: int, place: str = "") -> StoreItem:
    """Say how many of a seal, part or tool there are; a new name is a new item."""
    require(by, "technician")
    if kind not in KIT_KINDS:
        raise Inconsistent(say("“{kind}” is not a seal, part or tool.", kind=kind), field="kind", value=kind, allowed=", ".join(KIT_KINDS))
    if not name.strip():
        raise Inconsistent(say("It needs a name."), field="name", value=name)
    in_range("count", count, 0, 10_000)
    item = StoreItem.objects.filter(name__iexact=name.strip()).first() or StoreItem(name=name.strip(), kind=kind)
    change = count - item.count
    item.count, item.kind, item.place = count, kind, place.strip()
    item.save()
    StoreMovement.objects.create(item=item, change=change, why="counted", by=by, at=clock.now())
    audit(by, "store counted", item, (SHELF,), count=count)
    return item


def use_item(by: Person, name: str, count: int, why: str) -> int:
    """Take a counted item out of the store, as far as it reaches; gives how many were there. Uncounted ones are left alone."""
    item = StoreItem.objects.filter(name__iexact=name).first()
    if item is None:
        return 0
    taken = min(count, item.count)
    if taken:
        StoreItem.objects.filter(pk=item.pk).update(count=F("count") - taken)
        StoreMovement.objects.create(item=item, change=-taken, why=why[:80], by=by, at=clock.now())
    return taken
