"""A compartment's history as CSV: its part of the changes of the whole book, in the same columns."""

from __future__ import annotations

from barodex.fleet.models import Compartment

from .whole.changes import CHANGES, changes_of
from .whole.tables import cell
from .whole.zipped import csv_pieces


def history_csv(compartment_id: int) -> bytes:
    """Give the history of the box that is fitted in a compartment as CSV; raises Compartment.DoesNotExist."""
    box = Compartment.objects.values_list("box_id", flat=True).get(pk=compartment_id)
    return b"".join(csv_pieces(CHANGES.headings, changes_of(box), cell))
