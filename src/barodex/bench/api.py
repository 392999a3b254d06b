"""The sums over HTTP."""

from __future__ import annotations

import dataclasses
import datetime as dt

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.core.due import ahead, interval
from barodex.core.guide import torque
from barodex.core.ledger import pour
from barodex.core.ledger.draining import drop_rate
from barodex.core.quantity.quantity import SYSTEMS, format_quantity, parse_quantity
from barodex.core.quantity.working import COMMON_PRACTICE, Working
from barodex.http.endpoints import Endpoint, Quantity, answer, shape

QUANTITY_KINDS = ("volume", "mass", "distance", "duration", "engine_hours", "torque", "temperature", "length", "pressure")


class ReadRequest(serializers.Serializer):
    text = serializers.CharField(max_length=80, allow_blank=True)
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)


@dataclasses.dataclass(frozen=True)
class ReadAnswer:
    """What was understood: the canonical value, and how each system shows it."""

    value: float
    shown: str
    systems: tuple[str, ...]
    working: Working


class Read(Endpoint):
    """Read a typed quantity."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="read_quantity", request=ReadRequest, responses=shape(ReadAnswer))
    def post(self, request):
        given = self.read(ReadRequest)
        system = request.user.unit_system
        value = parse_quantity(given["text"], given["kind"], system)
        shown = tuple(dict.fromkeys(format_quantity(value, given["kind"], s) for s in SYSTEMS))
        working = Working("value × unit", (("typed", given["text"]), ("canonical", f"{value:.6g}")), "NIST SP 811 (2008) appendix B")
        return answer(ReadAnswer(value, format_quantity(value, given["kind"], system), shown, working))


class BottleRequest(serializers.Serializer):
    label = serializers.CharField(max_length=40)
    size_ml = Quantity("volume", required=True, allow_null=False)
    content_ml = Quantity("volume", required=True, allow_null=False)
    graduated = serializers.BooleanField(default=True)


class PourRequest(serializers.Serializer):
    need_ml = Quantity("volume", required=True, allow_null=False)
    dead_volume_ml = Quantity("volume")
    stroke_ml = Quantity("volume")
    containers = BottleRequest(many=True)


class Pour(Endpoint):
    """Plan a pour."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_pour", request=PourRequest, responses=shape(pour.PourPlan))
    def post(self, request):
        given = self.read(PourRequest)
        bottles = [pour.Bottle(b["size_ml"], b["content_ml"], b["label"], b["graduated"]) for b in given["containers"]]
        return answer(pour.pour_plan(given["need_ml"], bottles, given.get("dead_volume_ml") or 0.0, given.get("stroke_ml")))


class TorqueRequest(serializers.Serializer):
    torque_nm = Quantity("torque", required=True, allow_null=False)
    wrench_mm = Quantity("length", required=True, allow_null=False)
    offset_mm = Quantity("length")
    angle_deg = serializers.FloatField(default=0, min_value=0, max_value=180)
    wrench_max_nm = Quantity("torque")


class Torque(Endpoint):
    """What to set on the wrench."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_torque", request=TorqueRequest, responses=shape(torque.WrenchSetting))
    def post(self, request):
        given = self.read(TorqueRequest)
        return answer(
            torque.wrench_setting(
                given["torque_nm"], given["wrench_mm"], given.get("offset_mm") or 0.0, given["angle_deg"], given.get("wrench_max_nm")
            )
        )


class BoltsRequest(serializers.Serializer):
    count = serializers.IntegerField()
    layout = serializers.ChoiceField(choices=torque.LAYOUTS, default="pan")
    torque_nm = Quantity("torque")


class Bolts(Endpoint):
    """In which order to draw the bolts of a cover or pan."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_bolts", request=BoltsRequest, responses=shape(torque.BoltSequence))
    def post(self, request):
        given = self.read(BoltsRequest)
        return answer(torque.bolt_sequence(given["count"], given["layout"], given.get("torque_nm")))


class DripRequest(serializers.Serializer):
    drops = serializers.FloatField(min_value=0, max_value=1000)
    seconds = serializers.FloatField(min_value=1, max_value=3600)
    wait_minutes = serializers.FloatField(min_value=0, max_value=240, default=10)


@dataclasses.dataclass(frozen=True)
class DripAnswer:
    """How fast it drips, and the most that waiting can yield."""

    rate_ml_min: float
    at_most_ml: float
    working: Working


class Drip(Endpoint):
    """What more waiting would yield."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_drip", request=DripRequest, responses=shape(DripAnswer))
    def post(self, request):
        given = self.read(DripRequest)
        rate = drop_rate(given["drops"], given["seconds"])
        working = Working(
            "rate = drops × 0.05 mL × 60 / seconds; at most rate × wait",
            (("drops", f"{given['drops']:g}"), ("in", f"{given['seconds']:g} s"), ("wait", f"{given['wait_minutes']:g} min")),
            COMMON_PRACTICE,
        )
        return answer(DripAnswer(rate, rate * given["wait_minutes"], working))


class NextDueRequest(serializers.Serializer):
    last_on = serializers.DateField()
    road_km = Quantity("distance")
    off_road_km = Quantity("distance")
    per_day_km = Quantity("distance")
    interval_km = Quantity("distance")
    off_road_interval_km = Quantity("distance")
    interval_months = serializers.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=240)


@dataclasses.dataclass(frozen=True)
class NextDueAnswer:
    """The next due with its working."""

    due: interval.Due
    working: Working


class NextDue(Endpoint):
    """When the next change falls."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="bench_next_due", request=NextDueRequest, responses=shape(NextDueAnswer))
    def post(self, request):
        given = self.read(NextDueRequest)
        legs = {"road": given.get("road_km") or 0.0, "off_road": given.get("off_road_km") or 0.0}
        by_duty = {d: v for d, v in (("road", given.get("interval_km")), ("off_road", given.get("off_road_interval_km"))) if v}
        limits = interval.Limits(by_duty, None, given["interval_months"])
        total = sum(legs.values())
        split = {d: v / total for d, v in legs.items()} if total else {"road": 1.0}
        rate = given.get("per_day_km")
        today: dt.date = clock.today()
        due = interval.next_due(
            legs,
            None,
            given["last_on"],
            today,
            limits,
            split,
            ahead_km=ahead.Ahead(ahead.Rate(rate, rate / 1.2, rate * 1.2), today, spread=ahead.Spread.within(1.2)) if rate else None,
        )
        working = Working(
            "life = max(Σ leg / interval by duty, days / days of the interval)",
            (
                ("legs", ", ".join(f"{d.replace('_', '-')} {v:.0f} km" for d, v in legs.items() if v) or "none"),
                ("intervals", ", ".join(f"{d.replace('_', '-')} {v:.0f} km" for d, v in by_duty.items()) or "none"),
                ("months", str(given["interval_months"] or "none")),
                ("today", today.isoformat()),
            ),
            f"linear damage (Palmgren, Miner); ±20 % on the rate: {COMMON_PRACTICE}",
        )
        return answer(NextDueAnswer(due, working))
