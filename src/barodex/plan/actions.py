"""Changes of the plan: visits agreed, moved and dropped; bay hours; the policy and its schools; a compartment's own rule."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass
from typing import Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.mail import EmailMessage
from django.core.validators import validate_email
from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.due.schedule import Rule, SchedulePolicy, SheetInterval, check_rule, check_schedule
from barodex.core.due.visits import BayPolicy, check_bay
from barodex.core.oil.lubricant import OilPolicy, check_policy
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.fleet.models import Compartment

from .models import BayRevision, CompartmentRule, PlannedVisit, PolicyRevision, ScheduleRevision
from .morning import as_text, morning
from .morning_paper import morning_paper
from .policy import oil_policy
from .schedule import schedule_policy
from .visit import VisitView, bay_policy, trial


def _need_reason(why: str, ask: str) -> None:
    if len(why.strip()) < 4:
        raise Inconsistent(ask, field="why", value=why)


def _checked(vehicle_id: int, on: dt.date, compartments: tuple[int, ...], visit_id: int | None = None, bay: int | None = None) -> VisitView:
    view = trial(clock.today(), vehicle_id, on, compartments, visit_id, bay)
    if view.problem:
        raise GateClosed(view.problem, field="on", value=str(on))
    others = PlannedVisit.objects.filter(vehicle_id=vehicle_id, dropped_at=None, on__gte=clock.today()).exclude(pk=visit_id)
    taken = others.filter(compartments__in=compartments).first()
    if taken is not None:
        raise GateClosed(f"A visit on {taken.on:%d %b %Y} has it already: move that one.", field="compartments", value=taken.pk)
    return view


@transaction.atomic
def plan_visit(
    by: Person, vehicle_id: int, on: dt.date, compartments: tuple[int, ...], note: str = "", bay: int | None = None
) -> PlannedVisit:
    """Agree a visit: a day and bay with room (None: the first bay that has it), and compartments that no other visit holds."""
    require(by, "lead")
    view = _checked(vehicle_id, on, compartments, None, bay)
    made = PlannedVisit.objects.create(
        vehicle_id=vehicle_id, on=on, hours=view.hours, bay=view.bay or 1, note=note.strip()[:200], by=by, at=clock.now()
    )
    made.compartments.set(view.compartments)
    audit(by, "visit planned", made, (), vehicle=vehicle_id, on=str(on))
    return made


@transaction.atomic
def move_visit(by: Person, visit_id: int, on: dt.date, bay: int | None = None) -> PlannedVisit:
    """Move an agreed visit to another day or bay."""
    require(by, "lead")
    visit = PlannedVisit.objects.get(pk=visit_id, dropped_at=None)
    view = _checked(visit.vehicle_id, on, tuple(visit.compartments.values_list("pk", flat=True)), visit_id, bay)
    before, visit.on, visit.hours, visit.bay = visit.on, on, view.hours, view.bay or 1
    visit.save(update_fields=["on", "hours", "bay"])
    audit(by, "visit moved", visit, (), before=str(before), on=str(on))
    return visit


@transaction.atomic
def drop_visit(by: Person, visit_id: int) -> PlannedVisit:
    """Give an agreed visit up; that it was agreed stays on record."""
    require(by, "lead")
    visit = PlannedVisit.objects.get(pk=visit_id, dropped_at=None)
    visit.dropped_at = clock.now()
    visit.save(update_fields=["dropped_at"])
    audit(by, "visit dropped", visit, ())
    return visit


@transaction.atomic
def set_bay_policy(by: Person, changes: dict[str, Any], why: str) -> BayPolicy:
    """Change bay hours and closed days from now on; visits that were agreed stay where they are."""
    require(by, "lead")
    _need_reason(why, "Say why it changes.")
    policy = BayPolicy(**{**asdict(bay_policy()), **changes})
    check_bay(policy)
    kept = {**asdict(policy), "closed_weekdays": list(policy.closed_weekdays), "closed_days": [d.isoformat() for d in policy.closed_days]}
    made = BayRevision.objects.create(bay=kept, why=why.strip(), by=by, at=clock.now())
    audit(by, "bay policy changed", made, (), why=why)
    return policy


@dataclass(frozen=True)
class Sent:
    """To whom a mail went, and in which folder it waits when there is no mail server (empty: it was sent)."""

    to: tuple[str, ...]
    outbox: str


MOST_ADDRESSES = 20


def send_morning(by: Person, to: tuple[str, ...] = ()) -> Sent:
    """Send the morning summary; to one's own address when none is named. Without a mail server it goes into the outbox folder."""
    require(by, "lead")
    wanted = tuple(dict.fromkeys(a.strip() for a in to if a.strip())) or ((by.email,) if by.email else ())
    if not wanted:
        raise Inconsistent("Name an address: you have none of your own here.", field="to", value="")
    if len(wanted) > MOST_ADDRESSES:
        raise Inconsistent(f"At most {MOST_ADDRESSES} addresses at once.", field="to", value=len(wanted))
    for address in wanted:
        try:
            validate_email(address)
        except ValidationError:
            raise Inconsistent(f"“{address}” is no mail address.", field="to", value=address) from None
    made = morning(clock.today(), by.unit_system)
    mail = EmailMessage(f"Barodex: {made.text}", as_text(made), to=list(wanted))
    mail.attach(f"morning-{made.today}.pdf", morning_paper(made), "application/pdf")
    try:
        mail.send()
    except OSError as error:
        raise GateClosed(f"The mail was not sent: {error.strerror or error}. Nothing is lost; try again.", field="to") from error
    audit(by, "morning summary sent", by, (), to=list(wanted))
    return Sent(wanted, "" if settings.EMAIL_HOST else str(settings.EMAIL_FILE_PATH))


@transaction.atomic
def set_oil_policy(by: Person, changes: dict[str, Any], why: str) -> OilPolicy:
    """Change the policy from now on; services on record keep the verdict that they had."""
    require(by, "lead")
    _need_reason(why, "Say why the policy changes.")
    policy = OilPolicy(**{**asdict(oil_policy()), **changes})
    check_policy(policy)
    made = PolicyRevision.objects.create(oil=asdict(policy), why=why.strip(), by=by, at=clock.now())
    audit(by, "policy changed", made, (), why=why, **{k: str(v) for k, v in changes.items()})
    return policy


@transaction.atomic
def set_schedule_policy(by: Person, changes: dict[str, Any], why: str) -> SchedulePolicy:
    """Change the school from now on; every due date follows."""
    require(by, "lead")
    _need_reason(why, "Say why the school changes.")
    policy = SchedulePolicy(**{**asdict(schedule_policy()), **changes})
    check_schedule(policy)
    made = ScheduleRevision.objects.create(schedule=asdict(policy), why=why.strip(), by=by, at=clock.now())
    audit(by, "school changed", made, None, why=why, **{k: str(v) for k, v in changes.items()})
    return policy


@transaction.atomic
def set_rule(by: Person, compartment_id: int, rule: Rule, why: str) -> CompartmentRule:
    """Set a school, an interval, a load or a link for one compartment, with the reason; an empty rule takes it back."""
    require(by, "lead")
    compartment = Compartment.objects.select_related("vehicle").get(pk=compartment_id)
    _need_reason(why, "Say why this one differs.")
    check_rule(rule)
    if rule.linked == "season" and not compartment.vehicle.season_from:
        raise Inconsistent(f"{compartment.vehicle.name} has no season: set it first.", field="linked", value=rule.linked)
    if rule.linked == "engine oil" and compartment.vehicle.engine_oil_on is None:
        text = f"It is not known when the engine oil of {compartment.vehicle.name} is due: set that first."
        raise Inconsistent(text, field="linked", value=rule.linked)
    own = rule.interval or SheetInterval()
    made = CompartmentRule.objects.create(
        compartment=compartment,
        school=rule.school,
        interval_km=own.distance_km,
        interval_h=own.hours,
        interval_months=own.months,
        load_share=rule.load_share,
        severe_factor=rule.severe_factor,
        linked=rule.linked,
        why=why.strip(),
        by=by,
        at=clock.now(),
    )
    audit(by, "rule set", made, (compartment.vehicle_id,), why=why)
    return made
