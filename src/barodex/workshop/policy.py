"""The workshop's policy: read, and changed with a reason."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass, fields

from barodex.accounts.since import version_of
from barodex.core.oil.lubricant import SWITCHES, OilPolicy
from barodex.core.words import say
from barodex.workshop.models import PolicyRevision


def oil_policy() -> OilPolicy:
    """The policy in force; the core's first values where the workshop has not spoken."""
    newest = PolicyRevision.objects.order_by("-id").first()
    known = {f.name for f in fields(OilPolicy)}
    return OilPolicy(**{k: v for k, v in newest.oil.items() if k in known}) if newest else OilPolicy()


@dataclass(frozen=True)
class Switch:
    """A question on which practitioners differ, and the schools."""

    name: str
    question: str
    options: tuple[str, ...]


@dataclass(frozen=True)
class PolicyChange:
    at: dt.datetime
    by: str
    why: str


@dataclass(frozen=True)
class PolicyView:
    """The policy, what may be chosen, and its changes, the latest first."""

    oil: OilPolicy
    switches: tuple[Switch, ...]
    history: tuple[PolicyChange, ...]
    version: int


QUESTIONS = {
    "dual_claim": say("An oil that claims GL-4 and GL-5, into a box with brass"),
    "approval": say("An oil that does not claim the maker's approval but has its properties"),
    "additives": "After-market additives",
    "substitution": say("Another grade than the sheet's"),
    "category_weak": say("A weaker category than asked"),
    "j306_edition": say("Edition of SAE J306 by which grades are read"),
}


def policy_view() -> PolicyView:
    """The policy as the page shows it."""
    switches = tuple(Switch(name, QUESTIONS[name], options) for name, options in SWITCHES.items())
    history = tuple(PolicyChange(r.at, r.by.shown_name, r.why) for r in PolicyRevision.objects.select_related("by").order_by("-id")[:20])
    policy = oil_policy()
    return PolicyView(policy, switches, history, version_of(asdict(policy)))
