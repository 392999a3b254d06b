"""The workshop's policy over HTTP."""

from __future__ import annotations

from django.contrib.auth import login
from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.accounts.api import Session, SessionEndpoint, session_of
from barodex.accounts.models import DATES, SYSTEMS
from barodex.accounts.signed_in import note_sign_in
from barodex.core.due.schedule import SCHEDULE_SWITCHES
from barodex.core.oil.lubricant import SWITCHES
from barodex.http.endpoints import FROM_VERSION, Endpoint, Words, answer, shape, started_from
from barodex.http.permissions import ANYONE
from barodex.workshop import actions, own, policy, schedule
from barodex.workshop import bay as bays


class WorkshopRequest(serializers.Serializer):
    name = serializers.CharField(max_length=80, allow_blank=True)
    address = Words(300)
    reached = Words(120)
    web = Words(120)


class OwnWorkshop(Endpoint):
    """What stands at the head of the papers."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="workshop", responses=shape(own.WorkshopView))
    def get(self, request):
        return answer(own.workshop_view())

    @extend_schema(operation_id="set_workshop", request=WorkshopRequest, responses=shape(own.WorkshopView), parameters=[FROM_VERSION])
    def post(self, request):
        actions.set_workshop(request.user, own.Details(**self.read(WorkshopRequest)), started_from(request))
        return answer(own.workshop_view())


class SetUpRequest(WorkshopRequest):
    username = serializers.CharField(max_length=150, allow_blank=True, trim_whitespace=False)
    password = serializers.CharField(max_length=200, allow_blank=True, trim_whitespace=False)
    first = Words(60)
    last = Words(60)
    unit_system = serializers.ChoiceField(choices=SYSTEMS, default="metric")
    dates = serializers.ChoiceField(choices=DATES, default=DATES[0])


class SetUp(SessionEndpoint):
    """Begin an empty book: its first lead, who is signed in at once, and the workshop."""

    roles = {"POST": ANYONE}
    http_method_names = ["post", "options"]

    @extend_schema(operation_id="set_up", request=SetUpRequest, responses={201: shape(Session)})
    def post(self, request):
        given = self.read(SetUpRequest)
        workshop = own.Details(given.pop("name"), given.pop("address"), given.pop("reached"), given.pop("web"))
        lead = actions.set_up(workshop=workshop, **given)
        login(request._request, lead, backend="django.contrib.auth.backends.ModelBackend")
        note_sign_in(request._request)
        request.user = lead
        return answer(session_of(request), 201)


class ScheduleRequest(serializers.Serializer):
    school = serializers.ChoiceField(choices=SCHEDULE_SWITCHES["school"], required=False)
    severe = serializers.ChoiceField(choices=SCHEDULE_SWITCHES["severe"], required=False)
    load = serializers.ChoiceField(choices=SCHEDULE_SWITCHES["load"], required=False)
    warranty = serializers.ChoiceField(choices=SCHEDULE_SWITCHES["warranty"], required=False)
    why = serializers.CharField(max_length=200)


class Schedule(Endpoint):
    """The schools of scheduling; change them with a reason."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="schedule_policy", responses=shape(schedule.ScheduleView))
    def get(self, request):
        return answer(schedule.schedule_view())

    @extend_schema(
        operation_id="set_schedule_policy", request=ScheduleRequest, responses=shape(schedule.ScheduleView), parameters=[FROM_VERSION]
    )
    def post(self, request):
        given = self.read(ScheduleRequest)
        why = given.pop("why")
        actions.set_schedule_policy(request.user, given, why, started_from(request))
        return answer(schedule.schedule_view())


class BayRequest(serializers.Serializer):
    hours_per_day = serializers.FloatField(required=False)
    closed_weekdays = serializers.ListField(child=serializers.IntegerField(), required=False, max_length=7)
    closed_days = serializers.ListField(child=serializers.DateField(), required=False, max_length=400)
    visit_hours = serializers.FloatField(required=False)
    oil_hours = serializers.FloatField(required=False)
    late_days = serializers.IntegerField(required=False)
    bays = serializers.IntegerField(required=False)
    why = serializers.CharField(max_length=200)


class Bay(Endpoint):
    """Bay hours and closed days; change them with a reason."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="bay_policy", responses=shape(bays.BayView))
    def get(self, request):
        return answer(bays.bay_view())

    @extend_schema(operation_id="set_bay_policy", request=BayRequest, responses=shape(bays.BayView), parameters=[FROM_VERSION])
    def post(self, request):
        given = self.read(BayRequest)
        why = given.pop("why")
        changes = {k: tuple(v) if isinstance(v, list) else v for k, v in given.items()}
        actions.set_bay_policy(request.user, changes, why, started_from(request))
        return answer(bays.bay_view())


class PolicyRequest(serializers.Serializer):
    dual_claim = serializers.ChoiceField(choices=SWITCHES["dual_claim"], required=False)
    approval = serializers.ChoiceField(choices=SWITCHES["approval"], required=False)
    additives = serializers.ChoiceField(choices=SWITCHES["additives"], required=False)
    substitution = serializers.ChoiceField(choices=SWITCHES["substitution"], required=False)
    category_weak = serializers.ChoiceField(choices=SWITCHES["category_weak"], required=False)
    j306_edition = serializers.ChoiceField(choices=SWITCHES["j306_edition"], required=False)
    near_low = serializers.FloatField(required=False)
    near_high = serializers.FloatField(required=False)
    off = serializers.FloatField(required=False)
    why = serializers.CharField(max_length=200)


class Policy(Endpoint):
    """The workshop's policy; change it with a reason."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="policy", responses=shape(policy.PolicyView))
    def get(self, request):
        return answer(policy.policy_view())

    @extend_schema(operation_id="set_policy", request=PolicyRequest, responses=shape(policy.PolicyView), parameters=[FROM_VERSION])
    def post(self, request):
        given = self.read(PolicyRequest)
        why = given.pop("why")
        actions.set_oil_policy(request.user, given, why, started_from(request))
        return answer(policy.policy_view())
