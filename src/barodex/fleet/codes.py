"""The short code of a box: it stands on its label, and leads to wherever the box is fitted now. It never changes."""

from __future__ import annotations

from barodex.core.quantity.errors import Inconsistent
from barodex.fleet.models import Box, Compartment, Fitting, Merge

ALPHABET = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"  # no I, L, O, U: they are read as others
CHECK = 29  # a prime below its 32 letters: a slip in one of them, or two that changed places, shows in the last
READ_AS = str.maketrans({"O": "0", "I": "1", "L": "1"})


def code_of(box_id: int) -> str:
    """The code of a box: its number in letters, at least three, and one that proves them."""
    digits, left = "", box_id
    while left:
        left, last = divmod(left, 32)
        digits = ALPHABET[last] + digits
    return f"{digits:0>3}{ALPHABET[box_id % CHECK]}"


def box_of(code: str) -> int:
    """The number of the box of a code as it was read or typed; raises Inconsistent for one that is none."""
    plain = "".join(c for c in code.upper() if c not in " -").translate(READ_AS)
    if not 4 <= len(plain) <= 12 or any(c not in ALPHABET for c in plain):
        raise Inconsistent(f"“{code[:20]}” is no code of a label.", field="code", value=code[:20])
    box = 0
    for c in plain[:-1]:
        box = box * 32 + ALPHABET.index(c)
    if box == 0 or plain[-1] != ALPHABET[box % CHECK]:
        raise Inconsistent(f"“{code[:20]}” is no code of a label: a letter was read wrong.", field="code", value=code[:20])
    return box


def place_of(box_id: int) -> Compartment | None:
    """Where a box is fitted now; of one whose vehicle was made one with another, there. Raises Box.DoesNotExist."""
    Box.objects.get(pk=box_id)
    place = Compartment.objects.filter(box=box_id).select_related("vehicle", "sheet").first()
    if place is None or place.vehicle.retired_how != "merged":
        return place
    moved = Merge.objects.filter(other=place.vehicle_id, undone_at=None).values_list("moved", flat=True).first() or []
    gone = [(label, pk, was) for label, pk, was in moved if label == "book.oilrecord" and was.get("box_id") == box_id]
    if gone:
        record = place.box.records.model.everything.filter(pk=gone[0][1]).first()
        return record.box.place if record is not None else place
    return place


def last_place(box_id: int) -> Compartment | None:
    """Where a box that lies in the store was fitted last."""
    fitting = Fitting.objects.filter(box=box_id).select_related("compartment__vehicle").order_by("-id").first()
    return fitting.compartment if fitting is not None else None
