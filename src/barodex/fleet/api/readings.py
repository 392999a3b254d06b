"""Readings of meters and counters over HTTP."""

from __future__ import annotations

import dataclasses

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.core.due.policy import DUTY_WORDS
from barodex.core.quantity.working import percent
from barodex.fleet import actions
from barodex.fleet.models import Reading, Vehicle, void_words
from barodex.http.endpoints import Endpoint, Made, answer, read_meter, shape


class VoidRequest(serializers.Serializer):
    reason = serializers.CharField(max_length=300)


class ReadingRequest(serializers.Serializer):
    on = serializers.DateField(required=False)
    value = serializers.CharField(max_length=60)
    swap = serializers.BooleanField(default=False)
    duty = serializers.DictField(child=serializers.FloatField(), required=False, allow_null=True, default=None)


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
