"""Oils over HTTP: the list, where an oil may go, the shelf ordered for a compartment, and the pictures of viscosity."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers

from barodex.core.oil import charts, lubricant
from barodex.http.endpoints import FROM_VERSION, Endpoint, Made, Quantity, Words, answer, shape, started_from
from barodex.shelf import actions
from barodex.shelf.queries import oils, stock
from barodex.workshop.policy import oil_policy


class PackRequest(serializers.Serializer):
    size_ml = Quantity("volume", required=True, allow_null=False)
    price = serializers.DecimalField(max_digits=8, decimal_places=2, min_value=0, required=False, allow_null=True, default=None)


class LubricantRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    family = serializers.ChoiceField(choices=lubricant.FAMILIES)
    grade = Words(40)
    categories = Words(40)
    density15 = serializers.FloatField(required=False, allow_null=True, default=None)
    friction_modifier = serializers.BooleanField(default=False)
    safe_for_yellow_metal = serializers.BooleanField(default=False)
    settles = serializers.BooleanField(default=False)
    kv40 = serializers.FloatField(required=False, allow_null=True, default=None)
    kv100 = serializers.FloatField(required=False, allow_null=True, default=None)
    base = serializers.ChoiceField(choices=lubricant.BASES, default="", allow_blank=True)
    copper_strip = serializers.ChoiceField(choices=lubricant.COPPER_STRIPS, default="", allow_blank=True)
    approvals = serializers.ListField(child=serializers.CharField(max_length=40), max_length=20, default=list)
    detergent = serializers.BooleanField(allow_null=True, default=None)
    packs = PackRequest(many=True, default=list)


def _oil(given: dict) -> actions.Oil:
    packs = tuple((p["size_ml"], p["price"]) for p in given.pop("packs"))
    return actions.Oil(**{**given, "approvals": tuple(given["approvals"])}, packs=packs)


class Lubricants(Endpoint):
    """Every oil with its stock; add one."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="lubricants", responses=shape(oils.LubricantView, many=True))
    def get(self, request):
        return answer(oils.lubricants())

    @extend_schema(operation_id="add_lubricant", request=LubricantRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(actions.add_lubricant(request.user, _oil(self.read(LubricantRequest))).pk), 201)


class Lubricant(Endpoint):
    """Correct an oil from its data sheet; a technician may fill in what is missing."""

    roles = {"PUT": "technician"}

    @extend_schema(operation_id="change_lubricant", request=LubricantRequest, responses=shape(Made), parameters=[FROM_VERSION])
    def put(self, request, lubricant: int):
        oil = _oil(self.read(LubricantRequest))
        return answer(Made(actions.change_lubricant(request.user, lubricant, oil, started_from(request)).pk))


class AdditiveRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=lubricant.ADDITIVE_KINDS)
    max_share = serializers.FloatField(required=False, allow_null=True, default=None)
    note = Words(200)


class Additives(Endpoint):
    """Every additive; add one."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="additives", responses=shape(stock.AdditiveView, many=True))
    def get(self, request):
        return answer(stock.additives())

    @extend_schema(operation_id="add_additive", request=AdditiveRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(actions.add_additive(request.user, actions.Tonic(**self.read(AdditiveRequest))).pk), 201)


class Scales(Endpoint):
    """The three grade scales side by side."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="grade_scales",
        responses=shape(charts.Scales),
        parameters=[OpenApiParameter("edition", str, description="of SAE J306: 2005 or 2019; the policy's when left out")],
    )
    def get(self, request):
        return answer(charts.scales(request.query_params.get("edition") or oil_policy().j306_edition))
