"""Changes of what the workshop decided, each with its reason."""

from __future__ import annotations

import re
from dataclasses import asdict
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import add_person, audit, change_settings, require
from barodex.accounts.models import AuditEntry, Person
from barodex.accounts.since import check_since, shown
from barodex.core.due.schedule import SchedulePolicy, check_schedule
from barodex.core.due.visits import BayPolicy, check_bay
from barodex.core.oil.lubricant import OilPolicy, check_policy
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.memory.versions import PLAN, POLICY
from barodex.workshop.bay import bay_policy
from barodex.workshop.models import BayRevision, Decided, PolicyRevision, ScheduleRevision, Workshop
from barodex.workshop.own import Details, details
from barodex.workshop.policy import oil_policy
from barodex.workshop.schedule import schedule_policy


def need_reason(why: str, ask: str) -> None:
    if len(why.strip()) < 4:
        raise Inconsistent(ask, field="why", value=why)


def _as_typed(name: str, value: Any) -> str:
    """A value of the oil policy as the page has it: its limits in per cent."""
    return f"{value * 100:g}" if name in ("near_low", "near_high", "off") else shown(value)


def _who(decided: type[Decided]) -> str:
    """Who decided last."""
    newest = decided.objects.select_related("by").order_by("-id").first()
    return newest.by.shown_name if newest is not None else "Somebody"


def _written(by: Person, new: Details) -> Details:
    address = "\n".join(line.strip() for line in new.address.splitlines() if line.strip())
    kept = Details(" ".join(new.name.split()), address, new.reached.strip(), new.web.strip().rstrip("/"))
    if not kept.name:
        raise Inconsistent(say("Say what the workshop is called."), field="name", value=new.name)
    if kept.web and not re.fullmatch(r"https?://[A-Za-z0-9.-]+(:\d{1,5})?(/[\w./-]*)?", kept.web):
        raise Inconsistent(
            say("An address in the network begins with http:// or https://, such as https://oil.lan."), field="web", value=new.web
        )
    row, _ = Workshop.objects.update_or_create(pk=Workshop.ONE, defaults=asdict(kept))
    audit(by, "workshop changed", row, (), **asdict(kept))
    return kept


@transaction.atomic
def set_workshop(by: Person, new: Details, based_on: int | None = None) -> Details:
    """Change what stands at the head of the papers."""
    require(by, "lead")
    last = AuditEntry.objects.filter(act="workshop changed").select_related("by").order_by("-id").first()
    check_since(based_on, asdict(details()), asdict(new), "the workshop", last.by.shown_name if last and last.by else "Somebody")
    return _written(by, new)


@transaction.atomic
def set_up(username: str, password: str, first: str, last: str, workshop: Details, unit_system: str, dates: str) -> Person:
    """Begin an empty book: its first lead, and the workshop. Refused as soon as anybody can sign in."""
    if Person.objects.exists():
        raise Inconsistent(say("This book has its people already: sign in, or ask its lead for a link."), field="username", value=username)
    lead = add_person(None, username, password, "lead", first, last)
    change_settings(lead, unit_system=unit_system, dates=dates)
    _written(lead, workshop)
    return lead


@transaction.atomic
def set_bay_policy(by: Person, changes: dict[str, Any], why: str, based_on: int | None = None) -> BayPolicy:
    """Change bay hours and closed days from now on; visits that were agreed stay where they are."""
    require(by, "lead")
    need_reason(why, say("Say why it changes."))
    check_since(based_on, asdict(bay_policy()), changes, say("the bay hours"), _who(BayRevision))
    policy = BayPolicy(**{**asdict(bay_policy()), **changes})
    check_bay(policy)
    kept = {**asdict(policy), "closed_weekdays": list(policy.closed_weekdays), "closed_days": [d.isoformat() for d in policy.closed_days]}
    made = BayRevision.objects.create(bay=kept, why=why.strip(), by=by, at=clock.now())
    audit(by, "bay policy changed", made, (PLAN,), why=why)
    return policy


@transaction.atomic
def set_oil_policy(by: Person, changes: dict[str, Any], why: str, based_on: int | None = None) -> OilPolicy:
    """Change the policy from now on; services on record keep the verdict that they had."""
    require(by, "lead")
    need_reason(why, say("Say why the policy changes."))
    check_since(based_on, asdict(oil_policy()), changes, "the policy", _who(PolicyRevision), _as_typed)
    policy = OilPolicy(**{**asdict(oil_policy()), **changes})
    check_policy(policy)
    made = PolicyRevision.objects.create(oil=asdict(policy), why=why.strip(), by=by, at=clock.now())
    audit(by, "policy changed", made, (POLICY,), why=why, **{k: str(v) for k, v in changes.items()})
    return policy


@transaction.atomic
def set_schedule_policy(by: Person, changes: dict[str, Any], why: str, based_on: int | None = None) -> SchedulePolicy:
    """Change the school from now on; every due date follows."""
    require(by, "lead")
    need_reason(why, say("Say why the school changes."))
    check_since(based_on, asdict(schedule_policy()), changes, "the school", _who(ScheduleRevision))
    policy = SchedulePolicy(**{**asdict(schedule_policy()), **changes})
    check_schedule(policy)
    made = ScheduleRevision.objects.create(schedule=asdict(policy), why=why.strip(), by=by, at=clock.now())
    audit(by, "school changed", made, (POLICY,), why=why, **{k: str(v) for k, v in changes.items()})
    return policy
