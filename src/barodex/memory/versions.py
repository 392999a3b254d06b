"""Versions: raised in the transaction of the action that moves something, read by whatever keeps an answer."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Max

from barodex.memory.models import Version

POLICY = "policy"  # what the workshop decided: everything that is due may move
SHELF = "shelf"  # oils, containers, additives, sheets, what is in the store
PLAN = "plan"  # visits that were agreed, and the hours of the bays
SCOPES = (POLICY, SHELF, PLAN)
VEHICLE = "vehicle:"


def _names(changed: Iterable[int | str]) -> set[str]:
    return {f"{VEHICLE}{m}" if isinstance(m, int) else m for m in changed}


def raise_versions(changed: Iterable[int | str]) -> None:
    """Say that vehicles (by id) or scopes have moved; called inside the action's transaction, which holds the one write lock."""
    names = _names(changed)
    if not names:
        return
    number = newest() + 1
    Version.objects.bulk_create(
        [Version(what=n, number=number) for n in sorted(names)], update_conflicts=True, unique_fields=["what"], update_fields=["number"]
    )


def hold(vehicle: int) -> None:
    """Let nobody else change what hangs on a vehicle until this transaction ends: its row is locked."""
    what = f"{VEHICLE}{vehicle}"
    Version.objects.get_or_create(what=what, defaults={"number": newest()})
    Version.objects.select_for_update().get(what=what)


def newest() -> int:
    """The version of everything."""
    return Version.objects.aggregate(newest=Max("number"))["newest"] or 0


def version_of(*changed: int | str) -> int:
    """The version of some vehicles and scopes together."""
    return Version.objects.filter(what__in=_names(changed)).aggregate(newest=Max("number"))["newest"] or 0


@dataclass(frozen=True)
class Changed:
    """What has moved since a version: vehicles by id, and scopes."""

    vehicles: frozenset[int]
    scopes: frozenset[str]


def changed_since(version: int) -> Changed:
    """What has moved since a version."""
    names = Version.objects.filter(number__gt=version).values_list("what", flat=True)
    vehicles = {n.removeprefix(VEHICLE) for n in names if n.startswith(VEHICLE)}
    return Changed(frozenset(int(v) for v in vehicles), frozenset(n for n in names if not n.startswith(VEHICLE)))
