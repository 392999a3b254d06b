"""What a job keeps from the day on which its service started: what was known of the compartment then, and what was wanted.

Plain values with their units, stored as JSON in the job's columns ``past`` and ``plan``. What a later version adds has a value for jobs
from before.
"""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, field
from typing import Any

from barodex.core.findings.surprises import Reset
from barodex.core.guide.stored import CONVERTER
from barodex.core.ledger.drained import Amount
from barodex.core.sheet.work import EXCHANGE_SCHOOLS, TARGET_FRESH


@dataclass(frozen=True)
class Past:
    """What was known of a compartment: its last change (day, oil), what went in then and since (at 15 °C), when its level was set and
    what was run since (km or h, also as a ``share`` of the interval; ``distance_km``: where the vehicle counts km), the last looks, why it is rinsed,
    what was ``noted`` last by the purpose of a step, and what was reset."""

    first_change: bool = False
    last_filled_on: dt.date | None = None
    level_set_on: dt.date | None = None
    oil: str = ""
    share: float | None = None
    distance_km: float | None = None
    density15: float | None = None
    least_share: float | None = None
    last_in: Amount | None = None
    topups: tuple[Amount, ...] = ()
    first_drain: bool = False
    depth_mm: float | None = None
    previous: dict[str, Any] | None = None
    previous_level: int | None = None
    older_levels: tuple[int, ...] = ()
    rinse: str = ""
    noted: dict[str, str] = field(default_factory=dict)
    resets: tuple[Reset, ...] = ()
    run: float | None = None


@dataclass(frozen=True)
class WorkPlan:
    """What was wanted of a job beside its kind of service: cycles and target of an exchange, jobs that ride along, the wrong oil of a
    correction; what it started with: an open variant, a warranty's reason, who fetches oil, why it is not driven warm."""

    cycles: int = 0
    target_fresh: float = TARGET_FRESH
    school: str = EXCHANGE_SCHOOLS[0]
    attached: tuple[str, ...] = ()
    wrong_oil: str = ""
    variant_open: bool = False
    no_warm: str = ""
    warranty: str = ""
    fetch: str = ""


def to_json(facts: Past | WorkPlan) -> dict[str, Any]:
    """As it is stored."""
    return CONVERTER.unstructure(facts)


def past_from(stored: dict[str, Any]) -> Past:
    """As it was stored, by this version or an earlier one."""
    return CONVERTER.structure(stored, Past)


def plan_from(stored: dict[str, Any]) -> WorkPlan:
    """As it was stored, by this version or an earlier one."""
    return CONVERTER.structure(stored, WorkPlan)
