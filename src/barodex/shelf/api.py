"""Sheets, oils and stock over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.config.api import Endpoint, Made, Quantity, Words, answer, shape
from barodex.core import lubricant, sheet

from . import actions, queries


class PlugRequest(serializers.Serializer):
    role = serializers.ChoiceField(choices=sheet.ROLES)
    label = serializers.CharField(max_length=40)
    drive = serializers.ChoiceField(choices=sheet.DRIVES, default="unknown")
    size_mm = Quantity("length")
    seal = serializers.ChoiceField(choices=sheet.SEALS, default="unknown")
    torque_nm = Quantity("torque")
    magnet = serializers.BooleanField(default=False)


class SourceRequest(serializers.Serializer):
    figure = serializers.ChoiceField(choices=actions.FIGURES_WITH_SOURCE)
    source = serializers.ChoiceField(choices=sheet.SOURCES)
    trust = serializers.ChoiceField(choices=sheet.TRUSTS)
    note = Words(200)


class FiguresRequest(serializers.Serializer):
    effective_on = serializers.DateField(required=False, allow_null=True)
    capacity_ml = Quantity("volume")
    family = serializers.ChoiceField(choices=lubricant.FAMILIES)
    grade = Words(40)
    categories = Words(40)
    hypoid = serializers.BooleanField(default=False)
    yellow_metal = serializers.BooleanField(allow_null=True, default=None)
    limited_slip = serializers.BooleanField(allow_null=True, default=None)
    fill_method = serializers.ChoiceField(choices=sheet.FILL_METHODS)
    drain_method = serializers.ChoiceField(choices=sheet.DRAIN_METHODS)
    case_material = serializers.ChoiceField(choices=sheet.CASES, default="unknown")
    drain_minutes = serializers.FloatField(required=False, allow_null=True, default=None)
    warm_up = serializers.BooleanField(default=True)
    level_note = Words(200)
    cautions = serializers.ListField(child=serializers.CharField(max_length=200), max_length=12, default=list)
    interval_km = Quantity("distance")
    interval_h = Quantity("engine_hours")
    interval_months = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=240)
    plugs = PlugRequest(many=True)
    sources = SourceRequest(many=True)


class SheetRequest(FiguresRequest):
    name = serializers.CharField(max_length=80)
    kind = serializers.ChoiceField(choices=sheet.KINDS)


class RevisionRequest(FiguresRequest):
    reason = serializers.CharField(max_length=200)


def _figures(given: dict) -> actions.Figures:
    plugs = tuple(
        sheet.Plug(p["role"], p["label"], p["drive"], p.get("size_mm"), p["seal"], p.get("torque_nm"), p["magnet"])
        for p in given.pop("plugs")
    )
    sources = tuple(actions.Source(**s) for s in given.pop("sources"))
    cautions = tuple(given.pop("cautions"))
    return actions.Figures(**given, plugs=plugs, sources=sources, cautions=cautions)


class Sheets(Endpoint):
    """Every sheet; write a new one."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="sheets", responses=shape(queries.SheetView, many=True))
    def get(self, request):
        return answer(queries.sheets())

    @extend_schema(operation_id="write_sheet", request=SheetRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(SheetRequest)
        name, kind = given.pop("name"), given.pop("kind")
        return answer(Made(actions.write_sheet(request.user, name, kind, _figures(given)).pk), 201)


class Sheet(Endpoint):
    """One sheet; revise it."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="sheet", responses=shape(queries.SheetView))
    def get(self, request, sheet: int):
        return answer(queries.sheet(sheet))

    @extend_schema(operation_id="revise_sheet", request=RevisionRequest, responses={201: shape(Made)})
    def post(self, request, sheet: int):
        given = self.read(RevisionRequest)
        reason = given.pop("reason")
        return answer(Made(actions.revise_sheet(request.user, sheet, _figures(given), reason).pk), 201)


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
    packs = PackRequest(many=True, default=list)


class Lubricants(Endpoint):
    """Every oil with its stock; add one."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="lubricants", responses=shape(queries.LubricantView, many=True))
    def get(self, request):
        return answer(queries.lubricants())

    @extend_schema(operation_id="add_lubricant", request=LubricantRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(LubricantRequest)
        packs = tuple((p["size_ml"], p["price"]) for p in given.pop("packs"))
        return answer(Made(actions.add_lubricant(request.user, actions.Oil(**given, packs=packs)).pk), 201)


class ContainerRequest(serializers.Serializer):
    lubricant_id = serializers.IntegerField()
    label = serializers.CharField(max_length=40)
    size_ml = Quantity("volume", required=True, allow_null=False)
    content_ml = Quantity("volume", required=True, allow_null=False)
    graduated = serializers.BooleanField(default=True)


class Containers(Endpoint):
    """Put a container on the shelf."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="stock_container", request=ContainerRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(actions.stock_container(request.user, **self.read(ContainerRequest)).pk), 201)
