"""Fills that a newer revision of the sheet has overtaken."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from dataclasses import dataclass

from barodex.core.sheet.claims import fill_difference_ml
from barodex.shelf.models import SheetRevision, SpecSheet
from barodex.shelf.queries.sheets import current_revision


@dataclass(frozen=True)
class SupersededFill:
    """A compartment whose last fill followed a superseded capacity; ``difference_ml`` above 0: too much is inside."""

    compartment: int
    name: str
    on: dt.date
    poured_ml: float | None
    old_ml: float
    new_ml: float
    difference_ml: float


def superseded_revision(
    revisions: Iterable[SheetRevision], followed: SheetRevision | None, filled_on: dt.date, as_of: dt.date
) -> SheetRevision | None:
    """The revision by which a compartment was filled, where its capacity has been revised since; None when it still holds.

    A record on paper carries no revision (``followed`` None, or one of another sheet): it followed the one in force on its day.
    """
    known = list(revisions)
    now = current_revision(known, as_of)
    by = next((r for r in known if followed is not None and r.pk == followed.pk), None) or current_revision(known, filled_on)
    if now.capacity_ml is None or by.number == now.number or by.capacity_ml in (None, now.capacity_ml):
        return None
    return by


def superseded_fills(sheet_id: int, as_of: dt.date) -> list[SupersededFill]:
    """Compartments of a sheet whose last fill followed a capacity that has been revised since."""
    from barodex.book.ledger import balance_of, density, entries_of_records, stated_ml
    from barodex.book.models import OilRecord

    sheet = SpecSheet.objects.prefetch_related("revisions").get(pk=sheet_id)
    now = current_revision(sheet.revisions.all(), as_of)
    found = []
    for c in sheet.compartments.select_related("vehicle"):
        last = (
            OilRecord.objects.filter(box=c.box_id)
            .exclude(work="top-up")
            .select_related("revision", "lubricant")
            .order_by("-on", "-id")
            .first()
        )
        by = superseded_revision(sheet.revisions.all(), last.revision, last.on, as_of) if last else None
        if last is None or by is None or by.capacity_ml is None or now.capacity_ml is None:
            continue
        stays = balance_of(last, entries_of_records([last.pk]).get(last.pk, ()), None, density(last)).net_in
        net = None if stays is None else stated_ml(stays, density(last))
        found.append(
            SupersededFill(
                c.pk,
                f"{c.vehicle.name}, {c.name}",
                last.on,
                net,
                by.capacity_ml,
                now.capacity_ml,
                fill_difference_ml(net, by.capacity_ml, now.capacity_ml),
            )
        )
    return found
