"""Changes of the list of oils and additives."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from decimal import Decimal
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import transaction

from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.since import last_hand, shown
from barodex.core.oil.check_oil import check_lubricant
from barodex.core.oil.lubricant import ADDITIVE_KINDS
from barodex.core.quantity.errors import Inconsistent, Superseded, in_range
from barodex.core.words import say
from barodex.memory.versions import SHELF

from ..models import Additive, Lubricant, Pack
from ..queries import core_lubricant


@dataclass(frozen=True)
class Oil:
    """An oil as its label and data sheet state it; packs as (mL, price). Empty and None are not stated."""

    name: str
    family: str
    grade: str = ""
    categories: str = ""
    density15: float | None = None
    friction_modifier: bool = False
    safe_for_yellow_metal: bool = False
    settles: bool = False
    kv40: float | None = None
    kv100: float | None = None
    base: str = ""
    copper_strip: str = ""
    approvals: tuple[str, ...] = ()
    detergent: bool | None = None
    packs: tuple[tuple[float, Decimal | None], ...] = field(default=())


Packs = tuple[tuple[float, Decimal | None], ...]
_PLAIN = tuple(f.name for f in fields(Oil) if f.name not in ("packs", "approvals"))


def _check(oil: Lubricant, packs: tuple[tuple[float, Decimal | None], ...]) -> None:
    if not oil.name:
        raise Inconsistent(say("What does the label call it?"), field="name", value=oil.name)
    check_lubricant(core_lubricant(oil))
    for k, (size, price) in enumerate(packs):
        in_range(f"packs.{k}.size_ml", size, 10, 250_000, "mL")
        in_range(f"packs.{k}.price", float(price or 0), 0, 100_000)
        if size != round(size):
            raise Inconsistent(say("A pack's size is in whole mL."), field=f"packs.{k}.size_ml", value=size)


def _row(oil: Oil) -> Lubricant:
    plain = {f: getattr(oil, f) for f in _PLAIN}
    return Lubricant(**{**plain, "name": oil.name.strip()}, approvals=[a.strip() for a in oil.approvals if a.strip()])


@transaction.atomic
def add_lubricant(by: Person, oil: Oil) -> Lubricant:
    """Add an oil to the shelf's list."""
    require(by, "lead")
    made = _row(oil)
    _check(made, oil.packs)
    if Lubricant.objects.filter(name__iexact=made.name).exists():
        raise Inconsistent(say("“{oil}” is on the list already.", oil=oil.name), field="name", value=oil.name)
    made.save()
    Pack.objects.bulk_create(Pack(lubricant=made, size_ml=size, price=price) for size, price in oil.packs)
    audit(by, "oil added", made, (SHELF,), name=oil.name)
    return made


def _superseded(old: Lubricant, based_on: int | None, changed: dict[str, tuple[Any, Any]], stand: Packs, sent: Packs) -> Superseded:
    """What stands on an oil now beside what somebody who opened it earlier would write."""
    who = last_hand(old)
    both = [(f, say("there {now}, here {mine}", now=shown(now), mine=shown(mine))) for f, (now, mine) in changed.items()]
    if stand != sent:
        both.append(("packs", say("there {stand} with their prices, here {sent} that differ", stand=len(stand), sent=len(sent))))
    return Superseded(
        say("{who} changed this oil since you opened it.", who=who), tuple(both), field="version", value=based_on, allowed=str(old.version)
    )


def _unknown(value: Any) -> bool:
    return value is None or value == "" or value == [] or value == ()


@transaction.atomic
def change_lubricant(by: Person, lubricant_id: int, oil: Oil, based_on: int | None = None) -> Lubricant:
    """Correct an oil from its data sheet. The lead may change anything; a technician may only fill in what was missing.

    ``based_on`` is the version that it was written from: what was changed since is shown, not overwritten.
    """
    require(by, "technician")
    old = Lubricant.objects.get(pk=lubricant_id)
    new = _row(oil)
    _check(new, oil.packs)
    if Lubricant.objects.filter(name__iexact=new.name).exclude(pk=old.pk).exists():
        raise Inconsistent(say("“{oil}” is another oil on the list.", oil=oil.name), field="name", value=oil.name)
    changed = {f: (getattr(old, f), getattr(new, f)) for f in (*_PLAIN, "approvals") if getattr(old, f) != getattr(new, f)}
    packs = tuple((p.size_ml, p.price) for p in old.packs.all())
    if based_on not in (None, old.version):
        raise _superseded(old, based_on, changed, packs, oil.packs)
    if not by.may("lead") and (packs != oil.packs or any(not _unknown(before) for before, _ in changed.values())):
        raise PermissionDenied(say("A technician can fill in what is missing on an oil; changing what stands there is for the lead."))
    new.pk, new.version = old.pk, old.version + 1
    new.save()
    if packs != oil.packs:
        old.packs.all().delete()
        Pack.objects.bulk_create(Pack(lubricant=old, size_ml=size, price=price) for size, price in oil.packs)
    audit(by, "oil changed", old, (SHELF,), **{f: [str(before), str(after)] for f, (before, after) in changed.items()})
    return new


@dataclass(frozen=True)
class Tonic:
    """An additive as its label states it; ``max_share`` is the most of a fill that its maker allows."""

    name: str
    kind: str
    max_share: float | None = None
    note: str = ""


@transaction.atomic
def add_additive(by: Person, tonic: Tonic) -> Additive:
    """Add an additive to the list."""
    require(by, "lead")
    if tonic.kind not in ADDITIVE_KINDS:
        raise Inconsistent(
            say("“{kind}” is not a kind of additive.", kind=tonic.kind), field="kind", value=tonic.kind, allowed=", ".join(ADDITIVE_KINDS)
        )
    if not tonic.name.strip():
        raise Inconsistent(say("What does the label call it?"), field="name", value=tonic.name)
    if Additive.objects.filter(name__iexact=tonic.name.strip()).exists():
        raise Inconsistent(say("“{tonic}” is on the list already.", tonic=tonic.name), field="name", value=tonic.name)
    if tonic.max_share is not None:
        in_range("max_share", tonic.max_share, 0.001, 1)
    made = Additive.objects.create(name=tonic.name.strip(), kind=tonic.kind, max_share=tonic.max_share, note=tonic.note)
    audit(by, "additive added", made, (SHELF,), name=made.name)
    return made
