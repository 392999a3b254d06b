"""Number plates."""

from __future__ import annotations


def plain_plate(plate: str) -> str:
    """A plate as two that are the same compare: letters and digits alone."""
    return "".join(c for c in plate.casefold() if c.isalnum())
