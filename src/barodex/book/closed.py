"""What a compartment was closed with: each plug and its torque, as a record keeps it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True)
class ClosedWith:
    """A plug and the torque that it was drawn to, N·m, None where no figure is known; ``as_written``: a line of before, kept as it stands."""

    plug: str
    torque_nm: float | None
    as_written: str = ""


def to_rows(closed: tuple[ClosedWith, ...]) -> list[dict[str, Any]]:
    """As a record keeps them."""
    return [asdict(c) for c in closed]


def from_rows(rows: list[Mapping[str, Any]]) -> tuple[ClosedWith, ...]:
    """As they were kept."""
    return tuple(ClosedWith(r["plug"], r["torque_nm"], r["as_written"]) for r in rows)
