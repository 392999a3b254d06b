"""Rules of single compartments over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.core.due.schedule import LINKS, SCHEDULE_SCHOOLS, OwnRule, SheetInterval
from barodex.fleet import actions
from barodex.fleet import rules as schedule
from barodex.http.endpoints import FROM_VERSION, Endpoint, Quantity, answer, shape, started_from


class RuleRequest(serializers.Serializer):
    school = serializers.ChoiceField(choices=SCHEDULE_SCHOOLS, allow_blank=True, default="")
    interval_km = Quantity("distance")
    interval_h = Quantity("engine_hours")
    interval_months = serializers.IntegerField(required=False, allow_null=True, default=None)
    load_share = serializers.FloatField(required=False, allow_null=True, default=None)
    severe_factor = serializers.FloatField(required=False, allow_null=True, default=None)
    linked = serializers.ChoiceField(choices=LINKS[1:], allow_blank=True, default="")
    why = serializers.CharField(max_length=200)


class CompartmentRule(Endpoint):
    """What is set for one compartment: school, interval, load, link; with the reason."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="set_rule", request=RuleRequest, responses=shape(schedule.RuleView), parameters=[FROM_VERSION])
    def post(self, request, compartment: int):
        given = self.read(RuleRequest)
        own = SheetInterval(given.get("interval_km"), given.get("interval_h"), given["interval_months"])
        rule = OwnRule(given["school"], None if own.silent else own, given["load_share"], given["severe_factor"], given["linked"])
        actions.set_rule(request.user, compartment, rule, given["why"], started_from(request))
        return answer(schedule.rule_view(compartment))
