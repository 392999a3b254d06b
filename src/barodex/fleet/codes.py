"""The short code of a box: it stands on its label, and leads to wherever the box is fitted now. It never changes."""

from __future__ import annotations

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.fleet.models import MERGED, Box, Compartment, Fitting, Merge

ALPHABET = "0123456789ACDEFGHJKMNPQRTVWXY"  # 29 of them, a prime; none that is read as another
READ_AS = str.maketrans({"O": "0", "I": "1", "L": "1", "Z": "2", "S": "5", "B": "8", "U": "V"})
LEAST, MOST = 4, 12  # letters


def _proof(digits: str) -> str:
    """The letter that proves the others: a weighted sum modulo a prime, so that any one misread and any two swapped neighbours show."""
    return ALPHABET[sum((k + 2) * ALPHABET.index(d) for k, d in enumerate(reversed(digits))) % len(ALPHABET)]


def code_of(box_id: int) -> str:
    """The code of a box: its number in letters, at least three, and one that proves them."""
    digits, left = "", box_id
    while left:
        left, last = divmod(left, len(ALPHABET))
        digits = ALPHABET[last] + digits
    digits = f"{digits:0>3}"
    return digits + _proof(digits)


def box_of(code: str) -> int:
    """The number of the box of a code as it was read or typed; raises Inconsistent for one that is none."""
    plain = "".join(c for c in code.upper() if c not in " -").translate(READ_AS)
    if not LEAST <= len(plain) <= MOST or any(c not in ALPHABET for c in plain):
        raise Inconsistent(say("“{code}” is no code of a label.", code=code[:20]), field="code", value=code[:20])
    box = 0
    for c in plain[:-1]:
        box = box * len(ALPHABET) + ALPHABET.index(c)
    if box == 0 or plain[-1] != _proof(plain[:-1]):
        raise Inconsistent(say("“{code}” is no code of a label: a letter was read wrong.", code=code[:20]), field="code", value=code[:20])
    return box


def place_of(box_id: int) -> Compartment | None:
    """Where a box is fitted now; of one whose vehicle was made one with another, there. Raises Box.DoesNotExist."""
    Box.objects.get(pk=box_id)
    place = Compartment.objects.filter(box=box_id).select_related("vehicle", "sheet").first()
    if place is None or place.vehicle.retired_how != MERGED:
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
