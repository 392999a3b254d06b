"""Which variants were taken over while a service ran."""

from __future__ import annotations

from collections.abc import Iterable

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Procedure
from barodex.core.guide.variant_blocks import UNREADABLE
from barodex.core.run.state import Act


def adopted_variants(procedure: Procedure, acts: Iterable[Act]) -> tuple[tuple[str, str], ...]:
    """Give the variants that were taken over during a service and not taken back.

    Parameters
    ----------
    procedure : the guide, by whatever variant: its steps are the same
    acts : the accepted acts, in order

    Returns
    -------
    tuple of (compartment key, variant), by key

    References
    ----------
    None needed.
    """
    found: dict[str, dict[str, str]] = {}
    for act in acts:
        step = procedure.by_id.get(act.step)
        if act.kind == "done" and step is not None and step.purpose in (Purpose.VARIANT, Purpose.WHICH):
            found.setdefault(step.compartment, {})[act.id] = str(act.values.get("variant") or "")
        elif act.kind == "undo":
            for said in found.values():
                said.pop(str(act.values.get("act")), None)
    last = {key: next((v for v in reversed(said.values()) if v != UNREADABLE), "") for key, said in found.items()}
    return tuple(sorted((k, v) for k, v in last.items() if v))
