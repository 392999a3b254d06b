"""The schools of scheduling as this workshop has set them: policy, a compartment's own rule, and the limits that follow."""

from __future__ import annotations

import datetime as dt
from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

from barodex.accounts.since import version_of
from barodex.core.due.interval import Limits
from barodex.core.due.schedule import OwnRule, SheetInterval, plan_for
from barodex.fleet.models import Compartment, CompartmentRule
from barodex.shelf.models import SheetRevision
from barodex.workshop.schedule import schedule_policy


def sheet_interval(revision: SheetRevision) -> SheetInterval:
    """What a revision says of the interval."""
    return SheetInterval(revision.interval_km, revision.interval_h, revision.interval_months, revision.for_life)


def rule_from(row: CompartmentRule | None) -> OwnRule:
    """A compartment's rule as the core takes it; None: nothing is set."""
    if row is None:
        return OwnRule()
    own = SheetInterval(row.interval_km, row.interval_h, row.interval_months)
    return OwnRule(row.school, None if own.silent else own, row.load_share, row.severe_factor, row.linked)


def rules_of(vehicles: Collection[int] | None = None) -> dict[int, OwnRule]:
    """The newest rule of each compartment that has one, of all vehicles or some."""
    rows = CompartmentRule.objects.order_by("id")
    if vehicles is not None:
        rows = rows.filter(compartment__vehicle_id__in=vehicles)
    return {r.compartment_id: rule_from(r) for r in rows}


def limits_of(compartment: Compartment, revision: SheetRevision) -> tuple[Limits, Limits]:
    """The limits of a compartment by the school in force, and those where a finding shortens them."""
    rule = rule_from(CompartmentRule.objects.filter(compartment=compartment).order_by("-id").first())
    interval, policy = sheet_interval(revision), schedule_policy()
    usual, short = (plan_for(compartment.sheet.kind, interval, rule, policy, "", shortened).limits for shortened in (False, True))
    return usual, short


@dataclass(frozen=True)
class RuleView:
    """What is set for a compartment, why, by whom and when; intervals in km, h and months."""

    school: str
    interval_km: float | None
    interval_h: float | None
    interval_months: int | None
    load_share: float | None
    severe_factor: float | None
    linked: str
    why: str
    by: str
    at: dt.datetime | None
    version: int


RULE = ("school", "interval_km", "interval_h", "interval_months", "load_share", "severe_factor", "linked")


def rule_values(row: CompartmentRule | None) -> dict[str, Any]:
    """What is set for a compartment, as it stands; nothing is set without a row."""
    return {name: getattr(row, name) if row is not None else "" if name in ("school", "linked") else None for name in RULE}


def rule_view(compartment_id: int) -> RuleView:
    """The rule in force of a compartment."""
    row = CompartmentRule.objects.filter(compartment_id=compartment_id).select_related("by").order_by("-id").first()
    values = rule_values(row)
    said = {"why": row.why, "by": row.by.shown_name, "at": row.at} if row is not None else {"why": "", "by": "", "at": None}
    return RuleView(**values, **said, version=version_of(values))
