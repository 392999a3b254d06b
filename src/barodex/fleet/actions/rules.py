"""What is set for one compartment, with the reason."""

from __future__ import annotations

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.since import check_since
from barodex.core.due.schedule import OwnRule, SheetInterval, check_rule
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.fleet.models import Compartment, CompartmentRule
from barodex.fleet.rules import rule_values
from barodex.workshop.actions import need_reason


@transaction.atomic
def set_rule(by: Person, compartment_id: int, rule: OwnRule, why: str, based_on: int | None = None) -> CompartmentRule:
    """Set a school, an interval, a load or a link for one compartment, with the reason; an empty rule takes it back."""
    require(by, "lead")
    compartment = Compartment.objects.select_related("vehicle").get(pk=compartment_id)
    need_reason(why, say("Say why this one differs."))
    check_rule(rule)
    if rule.linked == "season" and not compartment.vehicle.season_from:
        raise Inconsistent(
            say("{vehicle} has no season: set it first.", vehicle=compartment.vehicle.name), field="linked", value=rule.linked
        )
    if rule.linked == "engine oil" and compartment.vehicle.engine_oil_on is None:
        text = say("It is not known when the engine oil of {vehicle} is due: set that first.", vehicle=compartment.vehicle.name)
        raise Inconsistent(text, field="linked", value=rule.linked)
    own = rule.interval or SheetInterval()
    set_now = {
        "school": rule.school,
        "interval_km": own.distance_km,
        "interval_h": own.hours,
        "interval_months": own.months,
        "load_share": rule.load_share,
        "severe_factor": rule.severe_factor,
        "linked": rule.linked,
    }
    newest = compartment.rules.select_related("by").order_by("-id").first()
    who = newest.by.shown_name if newest is not None else "Somebody"
    check_since(based_on, rule_values(newest), set_now, say("what is set for the {compartment}", compartment=compartment.name.lower()), who)
    made = CompartmentRule.objects.create(compartment=compartment, **set_now, why=why.strip(), by=by, at=clock.now())
    audit(by, "rule set", made, (compartment.vehicle_id,), why=why)
    return made
