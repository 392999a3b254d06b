"""Which variants were taken over while a service ran."""

from __future__ import annotations

from collections.abc import Iterable

from barodex.core.guide.variant_blocks import UNREADABLE
from barodex.core.run.state import Event


def adopted_variants(events: Iterable[Event]) -> tuple[tuple[str, str], ...]:
    """Give the variants that were taken over during a service and not taken back.

    Parameters
    ----------
    events : the accepted events, in order

    Returns
    -------
    tuple of (compartment key, variant), by key

    References
    ----------
    None needed.
    """
    found: dict[str, dict[str, str]] = {}
    for event in events:
        block, _, key = event.step.partition(".")
        if event.kind == "done" and block in ("variant", "which"):
            found.setdefault(key, {})[event.id] = str(event.values.get("variant") or "")
        elif event.kind == "undo":
            for said in found.values():
                said.pop(str(event.values.get("event")), None)
    last = {key: next((v for v in reversed(said.values()) if v != UNREADABLE), "") for key, said in found.items()}
    return tuple(sorted((k, v) for k, v in last.items() if v))
