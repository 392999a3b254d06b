"""Due and policy over HTTP."""

from __future__ import annotations

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.config.api import Endpoint, answer, shape
from barodex.core.lubricant import SWITCHES

from . import policy, queries


class Due(Endpoint):
    """The due board, worst first."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="due_board", responses=shape(queries.DueBoard))
    def get(self, request):
        return answer(queries.due_board(clock.today()))


class VehicleDue(Endpoint):
    """One vehicle of the board."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_due", responses=shape(queries.DueBoard))
    def get(self, request, vehicle: int):
        board = queries.due_board(clock.today(), vehicle)
        if not board.vehicles:
            raise Http404
        return answer(board)


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

    @extend_schema(operation_id="set_policy", request=PolicyRequest, responses=shape(policy.PolicyView))
    def post(self, request):
        given = self.read(PolicyRequest)
        why = given.pop("why")
        policy.set_oil_policy(request.user, given, why)
        return answer(policy.policy_view())
