"""The sums of oil itself over HTTP: dips, tilt, exchange, viscosity."""

from __future__ import annotations

import dataclasses

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.core.guide import level
from barodex.core.ledger import dips, exchange
from barodex.core.oil import viscosity
from barodex.core.quantity.errors import CoreError
from barodex.core.quantity.working import COMMON_PRACTICE, Working, grouped, ml
from barodex.core.run.levelling import MOST_TILT_DEG
from barodex.core.words import say
from barodex.http.endpoints import Endpoint, Quantity, answer, shape


class DipOfRequest(serializers.Serializer):
    added_ml = Quantity("volume", required=True, allow_null=False)
    reading_mm = Quantity("length", required=True, allow_null=False)


class DipRequest(serializers.Serializer):
    dips = DipOfRequest(many=True)
    target_mm = Quantity("length", required=True, allow_null=False)


class Dip(Endpoint):
    """Plan the next pour from dips."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_dip", request=DipRequest, responses=shape(dips.DipPlan))
    def post(self, request):
        given = self.read(DipRequest)
        return answer(dips.dip_plan([(d["added_ml"], d["reading_mm"]) for d in given["dips"]], given["target_mm"]))


class TiltRequest(serializers.Serializer):
    lift_mm = Quantity("length", required=True, allow_null=False)
    wheelbase_mm = Quantity("length", required=True, allow_null=False)
    length_mm = Quantity("length", required=True, allow_null=False)
    width_mm = Quantity("length", required=True, allow_null=False)
    offset_mm = Quantity("length", required=True, allow_null=False)


@dataclasses.dataclass(frozen=True)
class TiltAnswer:
    """The tilt in degrees, and what it does to a level at a plug, mL."""

    tilt_deg: float
    error_ml: float
    working: Working


class Tilt(Endpoint):
    """What a lifted end does to a plug level."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_tilt", request=TiltRequest, responses=shape(TiltAnswer))
    def post(self, request):
        given = self.read(TiltRequest)
        tilt = level.tilt_deg(given["lift_mm"], given["wheelbase_mm"])
        area = given["length_mm"] * given["width_mm"]
        error = level.tilt_error_ml(area, given["offset_mm"], tilt)
        working = Working(
            "tilt = arcsin(lift / wheelbase); error = area × offset × tan(tilt)",
            (
                ("lift", f"{given['lift_mm']:.0f} mm"),
                ("wheelbase", f"{given['wheelbase_mm']:.0f} mm"),
                ("oil's surface", f"{grouped(area)} mm²"),
                ("plug from its middle", f"{given['offset_mm']:.0f} mm"),
            ),
            "trigonometry; the surface as a rectangle is common practice",
        )
        return answer(TiltAnswer(tilt, error, working))


class SlopeRequest(serializers.Serializer):
    lift_mm = Quantity("length", required=True, allow_null=False)
    wheelbase_mm = Quantity("length", required=True, allow_null=False)
    capacity_ml = Quantity("volume")


@dataclasses.dataclass(frozen=True)
class SlopeAnswer:
    """How far out of level it stands, degrees; about what that does to a level at a plug, mL; whether that is level enough."""

    tilt_deg: float
    error_ml: float | None
    level: bool
    working: Working


class Slope(Endpoint):
    """How far out of level a vehicle stands, and about what that does to a compartment of which only the capacity is known."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_slope", request=SlopeRequest, responses=shape(SlopeAnswer))
    def post(self, request):
        given = self.read(SlopeRequest)
        tilt = level.tilt_deg(given["lift_mm"], given["wheelbase_mm"])
        capacity = given.get("capacity_ml")
        error = level.lip_tilt_error_ml(capacity, tilt) if capacity else None
        working = Working(
            "tilt = arcsin(lift / wheelbase); the oil taken as a cube with its plug in a face",
            (("lift", f"{given['lift_mm']:.0f} mm"), ("wheelbase", f"{given['wheelbase_mm']:.0f} mm")),
            "trigonometry; the cube is our estimate",
        )
        return answer(SlopeAnswer(tilt, error, abs(tilt) <= MOST_TILT_DEG, working))


class RaiseRequest(serializers.Serializer):
    lean_deg = serializers.FloatField()
    wheelbase_mm = Quantity("length", required=True, allow_null=False)


@dataclasses.dataclass(frozen=True)
class RaiseAnswer:
    """By how much one axle is raised, mm, until a leaning case stands level."""

    raise_mm: float
    working: Working


class Raise(Endpoint):
    """By how much to raise one axle so that a case that leans stands level."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_raise", request=RaiseRequest, responses=shape(RaiseAnswer))
    def post(self, request):
        given = self.read(RaiseRequest)
        lift = level.raise_to_level_mm(given["lean_deg"], given["wheelbase_mm"])
        inputs = (("lean", f"{given['lean_deg']:g}°"), ("wheelbase", say("{given:.0f} mm", given=given["wheelbase_mm"])))
        return answer(RaiseAnswer(lift, Working("lift = wheelbase × sin(lean)", inputs, "trigonometry")))


class ExchangeRequest(serializers.Serializer):
    total_ml = Quantity("volume", required=True, allow_null=False)
    drained_ml = Quantity("volume", required=True, allow_null=False)
    target = serializers.FloatField(min_value=0, max_value=0.99)
    litre_price = serializers.FloatField(required=False, allow_null=True, default=None, min_value=0, max_value=10_000)
    drains = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=12)


@dataclasses.dataclass(frozen=True)
class ExchangePlanned:
    """What a chosen number of drains takes, mL, and the share of fresh oil that it gives."""

    drains: int
    oil_ml: float
    fresh: float


@dataclasses.dataclass(frozen=True)
class ExchangeAnswer:
    """Both schools for the same share of fresh oil: cycles and flow-through, in mL and money (None without a price)."""

    cycles: int
    cycles_oil_ml: float
    cycles_fresh: float
    fresh_one_less: float
    flow_oil_ml: float
    flow_fresh: float
    cycles_cost: float | None
    flow_cost: float | None
    working: Working
    planned: ExchangePlanned | None = None


class Exchange(Endpoint):
    """Drain and refill against flow-through."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_exchange", request=ExchangeRequest, responses=shape(ExchangeAnswer))
    def post(self, request):
        given = self.read(ExchangeRequest)
        total, target, price = given["total_ml"], given["target"], given["litre_price"]
        made = exchange.cycles_needed(total, given["drained_ml"], target)
        flow = exchange.flow_needed_ml(total, target)
        working = Working(
            "cycles: fresh = 1 − (1 − d/C)ⁿ; flow-through: fresh = 1 − e^(−V/C)",
            (("C, all inside", f"{ml(total)}"), ("d, out in one drain", f"{ml(given['drained_ml'])}"), ("target", f"{target:.0%}")),
            COMMON_PRACTICE,
        )
        costs = (None, None) if price is None else (made.oil_ml / 1000 * price, flow / 1000 * price)
        fresh = exchange.flow_exchange(total, flow)
        drained, drains = given["drained_ml"], given["drains"]
        planned = None
        if drains is not None:
            after = exchange.drain_refill(total, [(drained, drained)] * drains)[-1]
            planned = ExchangePlanned(drains, drains * drained, after.fresh)
        return answer(ExchangeAnswer(made.count, made.oil_ml, made.fresh, made.fresh_before, flow, fresh, *costs, working, planned))


class ViscosityRequest(serializers.Serializer):
    kv40 = serializers.FloatField()
    kv100 = serializers.FloatField()
    temperature_c = Quantity("temperature", required=True, allow_null=False)
    wanted_kv = serializers.FloatField(required=False, allow_null=True, default=None)


@dataclasses.dataclass(frozen=True)
class ViscosityAnswer:
    """Viscosity at a temperature, mm²/s; the index (None where the standard has none); where it has the wanted one, °C."""

    kv: float
    index: float | None
    at_c: float | None
    working: Working


class Viscosity(Endpoint):
    """How thick an oil is at a temperature, and at which temperature it is as thick as wanted."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_viscosity", request=ViscosityRequest, responses=shape(ViscosityAnswer))
    def post(self, request):
        given = self.read(ViscosityRequest)
        kv40, kv100 = given["kv40"], given["kv100"]
        kv = viscosity.kinematic_viscosity(kv40, kv100, given["temperature_c"])
        try:
            index: float | None = viscosity.viscosity_index(kv40, kv100)
        except CoreError:
            index = None
        wanted = given["wanted_kv"]
        at = None if wanted is None else viscosity.temperature_for_viscosity(kv40, kv100, wanted)
        working = Working(
            "log10 log10(ν + 0.7) = A − B·log10 T",
            (("at 40 °C", f"{kv40:g} mm²/s"), ("at 100 °C", f"{kv100:g} mm²/s"), ("at", f"{given['temperature_c']:.1f} °C")),
            "ASTM D341; the index ASTM D2270",
        )
        return answer(ViscosityAnswer(kv, index, at, working))
