"""Oils over HTTP: the list, where an oil may go, the shelf ordered for a compartment, and the pictures of viscosity."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers

from barodex.config.api import FROM_VERSION, Endpoint, Made, Quantity, Words, answer, shape, started_from
from barodex.core.oil import charts, lubricant
from barodex.core.oil.grades import read_grade
from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.work import SCHOOLS, WORKS
from barodex.plan.policy import oil_policy

from .. import actions, judging
from ..judging import Answers, DoseChoice, compartment_oils, oil_places
from ..queries import oils, stock


class PackRequest(serializers.Serializer):
    size_ml = Quantity("volume", required=True, allow_null=False)
    price = serializers.DecimalField(max_digits=8, decimal_places=2, min_value=0)


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


class PlacesRequest(serializers.Serializer):
    coldest_c = Quantity("temperature")


class Places(Endpoint):
    """Where an oil may go and where it must not."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="oil_places", request=PlacesRequest, responses=shape(oils.PlaceVerdict, many=True))
    def post(self, request, lubricant: int):
        return answer(oil_places(lubricant, self.read(PlacesRequest).get("coldest_c")))


class DoseOfRequest(serializers.Serializer):
    additive_id = serializers.IntegerField()
    volume_ml = Quantity("volume", required=True, allow_null=False)


class AnswersRequest(serializers.Serializer):
    variant = Words(60)
    slip = serializers.ChoiceField(choices=("", "yes", "no", "unknown"), default="", allow_blank=True)
    coldest_c = Quantity("temperature", default=None)
    warmest_c = Quantity("temperature", default=None)
    doses = DoseOfRequest(many=True, default=list)
    work = serializers.ChoiceField(choices=("", *WORKS), required=False, allow_blank=True)
    cycles = serializers.IntegerField(min_value=0, max_value=12, required=False)
    school = serializers.ChoiceField(choices=SCHOOLS, required=False)
    target_fresh = serializers.FloatField(min_value=0.2, max_value=0.98, required=False)


class CompartmentOils(Endpoint):
    """The shelf ordered for a compartment, with what is known or asked before an oil is chosen."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="compartment_oils", request=AnswersRequest, responses=shape(oils.CompartmentOils))
    def post(self, request, compartment: int):
        given = self.read(AnswersRequest)
        doses = tuple(DoseChoice(**d) for d in given.pop("doses"))
        return answer(compartment_oils(compartment, Answers(**given, doses=doses)))


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


class ChartRequest(serializers.Serializer):
    oils = serializers.ListField(child=serializers.IntegerField(), max_length=4, default=list)
    compartment = serializers.IntegerField(required=False, allow_null=True, default=None)
    grade = Words(40)
    coldest_c = Quantity("temperature", default=None)
    warmest_c = Quantity("temperature", default=None)


class Chart(Endpoint):
    """Up to four oils on the axes of ASTM D341, with the asked grade's band and the weather."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="viscosity_chart", request=ChartRequest, responses=shape(charts.ViscosityChart))
    def post(self, request):
        given = self.read(ChartRequest)
        edition = oil_policy().j306_edition
        shown = [o for o in oils.lubricants() if o.id in given["oils"]]
        if len(shown) != len(set(given["oils"])):
            raise Inconsistent("There is no such oil on the list.", field="oils", value=str(given["oils"]))
        asked = judging.asked_grade(given["compartment"], given["coldest_c"], given["warmest_c"]) if given["compartment"] else None
        if given["grade"]:
            asked = read_grade(given["grade"], "gear", edition)
        lines = [(o.name, o.thickness) for o in shown if o.thickness is not None]
        return answer(charts.viscosity_chart(lines, asked, given["coldest_c"], given["warmest_c"], edition))


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
