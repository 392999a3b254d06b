"""Vehicles, compartments, readings over HTTP."""

from __future__ import annotations

import dataclasses
import datetime as dt

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.response import Response

from barodex import clock
from barodex.config.api import Endpoint, Made, Words, answer, read_meter, shape
from barodex.core.due.policy import DUTIES, DUTY_WORDS
from barodex.core.due.season import parse_season, season_length
from barodex.core.quantity.errors import Inconsistent
from barodex.core.quantity.working import percent
from barodex.core.sheet.sheet import KINDS as COMPARTMENT_KINDS

from . import actions
from .models import KINDS, LAYOUTS, SLOTS, Reading, Vehicle, void_words


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


class VoidRequest(serializers.Serializer):
    reason = serializers.CharField(max_length=300)


class ReadingRequest(serializers.Serializer):
    on = serializers.DateField(required=False)
    value = serializers.CharField(max_length=60)
    swap = serializers.BooleanField(default=False)
    duty = serializers.DictField(child=serializers.FloatField(), required=False, allow_null=True, default=None)


@dataclasses.dataclass(frozen=True)
class Vocabulary:
    """The words of the lists that forms offer."""

    vehicle_kinds: tuple[str, ...]
    layouts: tuple[str, ...]
    slots: tuple[str, ...]
    compartment_kinds: tuple[str, ...]
    duties: dict[str, str]


@dataclasses.dataclass(frozen=True)
class ReadingView:
    """A reading, in km or h as the vehicle counts; ``void`` says who declared it so, when and why, empty while it stands."""

    id: int
    on: str
    value: float
    swap: bool
    duty: str
    source: str
    by: str
    void: str


def _reading(r: Reading) -> ReadingView:
    duty = ", ".join(f"{percent(share)} {DUTY_WORDS[name]}" for name, share in (r.duty or {}).items())
    void = void_words(r)
    return ReadingView(r.pk, r.on.isoformat(), r.value, r.swap, duty, r.source, r.by.shown_name, void)


class Vocabularies(Endpoint):
    """The words of the lists."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vocabulary", responses=shape(Vocabulary))
    def get(self, request):
        return answer(Vocabulary(KINDS, LAYOUTS, SLOTS, COMPARTMENT_KINDS, {d: DUTY_WORDS[d] for d in DUTIES}))


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


class UseRequest(serializers.Serializer):
    duty_split = serializers.DictField(child=serializers.FloatField())
    season_from = Words(5)
    season_to = Words(5)
    engine_oil_run = serializers.CharField(max_length=40, allow_blank=True, default="")
    engine_oil_months = serializers.IntegerField(required=False, allow_null=True, default=None)
    engine_oil_on = serializers.DateField(required=False, allow_null=True, default=None)
    engine_oil_meter = serializers.CharField(max_length=40, allow_blank=True, default="")
    warranty_until = serializers.DateField(required=False, allow_null=True, default=None)


@dataclasses.dataclass(frozen=True)
class UseView:
    """How a vehicle is used: duty shares, season, engine oil (km or h as it counts), warranty, and the duties that there are."""

    meter: str
    duty_split: dict[str, float]
    season_from: str
    season_to: str
    season_days: int | None
    engine_oil_run: float | None
    engine_oil_months: int | None
    engine_oil_on: dt.date | None
    engine_oil_meter: float | None
    warranty_until: dt.date | None


def _use(v: Vehicle) -> UseView:
    season = parse_season(v.season_from, v.season_to)
    days = season_length(season) if season else None
    oil = (v.engine_oil_run, v.engine_oil_months, v.engine_oil_on, v.engine_oil_meter)
    return UseView(v.meter, v.duty_split or {"road": 1.0}, v.season_from, v.season_to, days, *oil, v.warranty_until)


class VehicleUse(Endpoint):
    """How a vehicle is used; say it anew."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="vehicle_use", responses=shape(UseView))
    def get(self, request, vehicle: int):
        return answer(_use(Vehicle.objects.get(pk=vehicle)))

    @extend_schema(operation_id="set_use", request=UseRequest, responses=shape(UseView))
    def post(self, request, vehicle: int):
        given = self.read(UseRequest)
        meter = Vehicle.objects.get(pk=vehicle).meter
        for name in ("engine_oil_run", "engine_oil_meter"):
            given[name] = read_meter(request, meter, given[name], name) if given[name].strip() else None
        return answer(_use(actions.set_use(request.user, vehicle, actions.Use(**given))))


class CounterRequest(serializers.Serializer):
    used = serializers.FloatField()
    on = serializers.DateField(required=False, allow_null=True, default=None)


class Counter(Endpoint):
    """Write what a vehicle's own oil-life counter says."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="read_counter", request=CounterRequest, responses={201: shape(Made)})
    def post(self, request, compartment: int):
        given = self.read(CounterRequest)
        return answer(Made(actions.read_counter(request.user, compartment, given["used"], given["on"]).pk), 201)


class Compartments(Endpoint):
    """Add a compartment to a vehicle."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="add_compartment", request=CompartmentRequest, responses={201: shape(Made)})
    def post(self, request, vehicle: int):
        made = actions.add_compartment(request.user, vehicle, actions.CompartmentSpec(**self.read(CompartmentRequest)))
        return answer(Made(made.pk), 201)


class Readings(Endpoint):
    """The readings of a vehicle, newest first, void ones among them; write one."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="readings", responses=shape(ReadingView, many=True))
    def get(self, request, vehicle: int):
        rows = Reading.everything.filter(vehicle_id=vehicle).select_related("by", "voided_by").order_by("-on", "-id")[:60]
        return answer([_reading(r) for r in rows])

    @extend_schema(operation_id="add_reading", request=ReadingRequest, responses={201: shape(ReadingView)})
    def post(self, request, vehicle: int):
        given = self.read(ReadingRequest)
        value = read_meter(request, Vehicle.objects.get(pk=vehicle).meter, given["value"], "value")
        on = given.get("on") or clock.today()
        return answer(_reading(actions.add_reading(request.user, vehicle, on, value, given["swap"], duty=given["duty"])), 201)


class VoidReading(Endpoint):
    """Declare a mistyped reading void."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="void_reading", request=VoidRequest, responses=shape(Made))
    def post(self, request, reading: int):
        return answer(Made(actions.void_reading(request.user, reading, self.read(VoidRequest)["reason"]).pk))


@dataclasses.dataclass(frozen=True)
class CsvResult:
    """How many readings were added and how many were known already."""

    added: int
    known: int


class CsvRequest(serializers.Serializer):
    file = serializers.FileField()


class ReadingsFile(Endpoint):
    """Take a CSV file of readings (columns vehicle, date, reading, unit, duty), all of it or nothing; GET gives a sample."""

    roles = {"GET": "viewer", "POST": "technician"}
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="sample_readings_file", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request):
        lines = ["vehicle,date,reading,unit,duty"]
        for v in Vehicle.objects.all()[:3]:
            newest = v.readings.last()
            base = newest.value if newest else 0
            lines.append(f"{v.name},{clock.today().isoformat()},{base + (1 if v.meter == 'h' else 10):.0f},{v.meter},")
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
