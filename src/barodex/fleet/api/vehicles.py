"""Vehicles, compartments, readings over HTTP."""

from __future__ import annotations

import dataclasses
import datetime as dt

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.accounts.since import version_of
from barodex.core.due.policy import DUTIES, DUTY_WORDS
from barodex.core.due.season import parse_season, season_length
from barodex.core.kinds.kind import KIND_TABLE, PlugDefault
from barodex.core.words import say
from barodex.fleet import actions
from barodex.fleet.models import LAYOUTS, SLOTS, USUAL, VEHICLE_KINDS, Vehicle
from barodex.http.endpoints import FROM_VERSION, Endpoint, Made, Words, answer, read_meter, shape, started_from


class CompartmentRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    slot = serializers.ChoiceField(choices=SLOTS)
    sheet_id = serializers.IntegerField()


class VehicleRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    plate = Words(20)
    kind = serializers.ChoiceField(choices=VEHICLE_KINDS)
    layout = serializers.ChoiceField(choices=LAYOUTS)
    meter = serializers.ChoiceField(choices=("km", "h"))
    off_road_share = serializers.FloatField(min_value=0, max_value=1, default=0)
    note = Words(300)
    meter_value = Words(60)
    compartments = CompartmentRequest(many=True)

    def validate_compartments(self, value):
        if not value:
            raise serializers.ValidationError(say("A vehicle needs at least one compartment."))
        return value


@dataclasses.dataclass(frozen=True)
class KindWords:
    """A kind of compartment, and what a sheet of it begins with."""

    name: str
    family: str
    fill_method: str
    drain_method: str
    warm_up: bool
    wet_clutch: bool
    plugs: tuple[PlugDefault, ...]


@dataclasses.dataclass(frozen=True)
class VehicleWords:
    """A kind of vehicle, its usual layout, and what its meter usually counts."""

    name: str
    layout: str
    meter: str


@dataclasses.dataclass(frozen=True)
class Vocabulary:
    """The words of the lists that forms offer."""

    vehicle_kinds: tuple[str, ...]
    layouts: tuple[str, ...]
    slots: tuple[str, ...]
    kinds: tuple[KindWords, ...]
    duties: dict[str, str]
    vehicles: tuple[VehicleWords, ...]


class Vocabularies(Endpoint):
    """The words of the lists."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vocabulary", responses=shape(Vocabulary))
    def get(self, request):
        vehicles = tuple(VehicleWords(name, *usual) for name, usual in USUAL.items())
        kinds = tuple(KindWords(k.name, k.family, k.fill_method, k.drain_method, k.warm_up, k.clutches, k.plugs) for k in KIND_TABLE)
        return answer(Vocabulary(VEHICLE_KINDS, LAYOUTS, SLOTS, kinds, {d: DUTY_WORDS[d] for d in DUTIES}, vehicles))


class Vehicles(Endpoint):
    """Add a vehicle."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="add_vehicle", request=VehicleRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(VehicleRequest)
        share = given.pop("off_road_share")
        typed = given.pop("meter_value").strip()
        meter_value = read_meter(request, given["meter"], typed, "meter_value") if typed else None
        compartments = tuple(actions.CompartmentSpec(**c) for c in given.pop("compartments"))
        split = {"road": 1.0 - share, "off_road": share} if share else {"road": 1.0}
        made = actions.add_vehicle(
            request.user, actions.VehicleSpec(**given, duty_split=split, meter_value=meter_value, compartments=compartments)
        )
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
    all_year: bool
    engine_oil_run: float | None
    engine_oil_months: int | None
    engine_oil_on: dt.date | None
    engine_oil_meter: float | None
    warranty_until: dt.date | None
    version: int


def _use(v: Vehicle) -> UseView:
    season = parse_season(v.season_from, v.season_to)
    days = season_length(season) if season else None
    oil = (v.engine_oil_run, v.engine_oil_months, v.engine_oil_on, v.engine_oil_meter)
    return UseView(
        v.meter,
        v.duty_split or {"road": 1.0},
        v.season_from,
        v.season_to,
        days,
        v.all_year,
        *oil,
        v.warranty_until,
        version_of(actions.use_of(v)),
    )


class VehicleUse(Endpoint):
    """How a vehicle is used; say it anew."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="vehicle_use", responses=shape(UseView))
    def get(self, request, vehicle: int):
        return answer(_use(Vehicle.objects.get(pk=vehicle)))

    @extend_schema(operation_id="set_use", request=UseRequest, responses=shape(UseView), parameters=[FROM_VERSION])
    def post(self, request, vehicle: int):
        given = self.read(UseRequest)
        meter = Vehicle.objects.get(pk=vehicle).meter
        for name in ("engine_oil_run", "engine_oil_meter"):
            given[name] = read_meter(request, meter, given[name], name) if given[name].strip() else None
        return answer(_use(actions.set_use(request.user, vehicle, actions.Use(**given), started_from(request))))


class SeasonRequest(serializers.Serializer):
    """Whether it stands each year as its readings look."""

    stands = serializers.BooleanField()


class VehicleSeason(Endpoint):
    """Answer whether a vehicle stands each year as its readings look."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="answer_season", request=SeasonRequest, responses=shape(UseView))
    def post(self, request, vehicle: int):
        return answer(_use(actions.answer_season(request.user, vehicle, self.read(SeasonRequest)["stands"])))


class Compartments(Endpoint):
    """Add a compartment to a vehicle."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="add_compartment", request=CompartmentRequest, responses={201: shape(Made)})
    def post(self, request, vehicle: int):
        made = actions.add_compartment(request.user, vehicle, actions.CompartmentSpec(**self.read(CompartmentRequest)))
        return answer(Made(made.pk), 201)
