"""Vehicles, compartments, readings over HTTP."""

from __future__ import annotations

import dataclasses

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.response import Response

from barodex import clock
from barodex.config.api import Endpoint, Made, Words, answer, read_meter, shape
from barodex.core.errors import Inconsistent
from barodex.core.sheet import KINDS as COMPARTMENT_KINDS

from . import actions
from .models import KINDS, LAYOUTS, SLOTS, Reading, Vehicle


class CompartmentRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    slot = serializers.ChoiceField(choices=SLOTS)
    sheet_id = serializers.IntegerField()


class VehicleRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    plate = Words(20)
    kind = serializers.ChoiceField(choices=KINDS)
    layout = serializers.ChoiceField(choices=LAYOUTS)
    meter = serializers.ChoiceField(choices=("km", "h"))
    off_road_share = serializers.FloatField(min_value=0, max_value=1, default=0)
    note = Words(300)
    compartments = CompartmentRequest(many=True)

    def validate_compartments(self, value):
        if not value:
            raise serializers.ValidationError("A vehicle needs at least one compartment.")
        return value


class ReadingRequest(serializers.Serializer):
    on = serializers.DateField(required=False)
    value = serializers.CharField(max_length=60)
    swap = serializers.BooleanField(default=False)


@dataclasses.dataclass(frozen=True)
class Vocabulary:
    """The words of the lists that forms offer."""

    vehicle_kinds: tuple[str, ...]
    layouts: tuple[str, ...]
    slots: tuple[str, ...]
    compartment_kinds: tuple[str, ...]


@dataclasses.dataclass(frozen=True)
class ReadingView:
    """A reading, in km or h as the vehicle counts."""

    id: int
    on: str
    value: float
    swap: bool
    source: str
    by: str


class Vocabularies(Endpoint):
    """The words of the lists."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vocabulary", responses=shape(Vocabulary))
    def get(self, request):
        return answer(Vocabulary(KINDS, LAYOUTS, SLOTS, COMPARTMENT_KINDS))


class Vehicles(Endpoint):
    """Add a vehicle."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="add_vehicle", request=VehicleRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(VehicleRequest)
        share = given.pop("off_road_share")
        compartments = tuple(actions.CompartmentSpec(**c) for c in given.pop("compartments"))
        split = {"road": 1.0 - share, "off_road": share} if share else {"road": 1.0}
        made = actions.add_vehicle(request.user, actions.VehicleSpec(**given, duty_split=split, compartments=compartments))
        return answer(Made(made.pk), 201)


class Compartments(Endpoint):
    """Add a compartment to a vehicle."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="add_compartment", request=CompartmentRequest, responses={201: shape(Made)})
    def post(self, request, vehicle: int):
        made = actions.add_compartment(request.user, vehicle, actions.CompartmentSpec(**self.read(CompartmentRequest)))
        return answer(Made(made.pk), 201)


class Readings(Endpoint):
    """The readings of a vehicle, newest first; write one."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="readings", responses=shape(ReadingView, many=True))
    def get(self, request, vehicle: int):
        rows = Reading.objects.filter(vehicle_id=vehicle).select_related("by").order_by("-on", "-id")[:60]
        return answer([ReadingView(r.pk, r.on.isoformat(), r.value, r.swap, r.source, r.by.shown_name) for r in rows])

    @extend_schema(operation_id="add_reading", request=ReadingRequest, responses={201: shape(ReadingView)})
    def post(self, request, vehicle: int):
        given = self.read(ReadingRequest)
        value = read_meter(request, Vehicle.objects.get(pk=vehicle).meter, given["value"], "value")
        r = actions.add_reading(request.user, vehicle, given.get("on") or clock.today(), value, given["swap"])
        return answer(ReadingView(r.pk, r.on.isoformat(), r.value, r.swap, r.source, r.by.shown_name), 201)


@dataclasses.dataclass(frozen=True)
class CsvResult:
    """How many readings were added and how many were known already."""

    added: int
    known: int


class CsvRequest(serializers.Serializer):
    file = serializers.FileField()


class ReadingsFile(Endpoint):
    """Take a CSV file of readings (columns vehicle, date, reading, unit), all of it or nothing; GET gives a sample."""

    roles = {"GET": "viewer", "POST": "technician"}
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="sample_readings_file", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request):
        lines = ["vehicle,date,reading,unit"]
        for v in Vehicle.objects.all()[:3]:
            newest = v.readings.last()
            base = newest.value if newest else 0
            lines.append(f"{v.name},{clock.today().isoformat()},{base + (1 if v.meter == 'h' else 10):.0f},{v.meter}")
        return HttpResponse(
            "\n".join(lines) + "\n",
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": 'attachment; filename="readings-sample.csv"'},
        )

    @extend_schema(operation_id="import_readings", request={"multipart/form-data": CsvRequest}, responses=shape(CsvResult))
    def post(self, request):
        file = request.FILES.get("file")
        if file is None:
            raise Inconsistent("Choose a file first.", field="file")
        if file.size > actions.CSV_MOST_BYTES:
            raise actions.CsvRefused(f"The file is {file.size / 1e6:.0f} MB; at most 1 MB is read at once.")
        taken = actions.import_readings(request.user, file.read())
        return Response({"added": taken.added, "known": taken.known})
