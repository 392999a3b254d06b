"""The hours of the workshop's bays."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass, fields

from barodex.accounts.since import version_of
from barodex.core.due.visits import BayPolicy
from barodex.workshop.models import BayRevision


@dataclass(frozen=True, kw_only=True)
class BayView(BayPolicy):
    """Bay hours and closed days, and their version."""

    version: int


def bay_view() -> BayView:
    """The bay policy as the page shows it."""
    values = asdict(bay_policy())
    return BayView(**values, version=version_of(values))


def bay_policy() -> BayPolicy:
    """The bay policy in force; the core's first values where the workshop has not spoken."""
    newest = BayRevision.objects.order_by("-id").first()
    if newest is None:
        return BayPolicy()
    known = {k: v for k, v in newest.bay.items() if k in {f.name for f in fields(BayPolicy)}}
    known["closed_weekdays"] = tuple(known.get("closed_weekdays", ()))
    known["closed_days"] = tuple(dt.date.fromisoformat(d) for d in known.get("closed_days", ()))
    return BayPolicy(**known)
