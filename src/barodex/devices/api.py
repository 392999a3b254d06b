"""Devices over HTTP: which are chosen, and what they show for a service or a vehicle."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers

from barodex.http.endpoints import Endpoint, answer, shape

from . import actions, queries
from .protocol import DEVICE_KINDS


class ChooseRequest(serializers.Serializer):
    kind = serializers.ChoiceField(choices=DEVICE_KINDS)
    adaptor = serializers.CharField(max_length=20)
    speed = serializers.FloatField(required=False, allow_null=True, default=None)
    faulty = serializers.BooleanField(required=False, allow_null=True, default=None)


class Devices(Endpoint):
    """The devices of this workshop; choose one."""

    roles = {"GET": "viewer", "PATCH": "lead"}

    @extend_schema(operation_id="devices", responses=shape(queries.DeviceView, many=True))
    def get(self, request):
        return answer(queries.devices())

    @extend_schema(operation_id="choose_device", request=ChooseRequest, responses=shape(queries.DeviceView, many=True))
    def patch(self, request):
        actions.choose_device(request.user, **self.read(ChooseRequest))
        return answer(queries.devices())


class TurnRequest(serializers.Serializer):
    engine_on = serializers.BooleanField(required=False, allow_null=True, default=None)
    ignition_on = serializers.BooleanField(required=False, allow_null=True, default=None)
    supply = serializers.BooleanField(required=False, allow_null=True, default=None)


COMPARTMENT = OpenApiParameter("compartment", str, description="whose window the warm-up is fitted to")


class Scan(Endpoint):
    """The scan tool of a service: what it shows; connect it; turn the key of the simulated vehicle."""

    roles = {"GET": "viewer", "POST": "technician", "PATCH": "technician"}

    @extend_schema(operation_id="scan", responses=shape(queries.ScanView), parameters=[COMPARTMENT])
    def get(self, request, service: int):
        return answer(actions.poll_scan(service, request.query_params.get("compartment") or ""))

    @extend_schema(operation_id="connect_scan", request=None, responses=shape(queries.ScanView), parameters=[COMPARTMENT])
    def post(self, request, service: int):
        actions.connect(request.user, service, "scan tool")
        return self.get(request, service)

    @extend_schema(operation_id="turn_key", request=TurnRequest, responses=shape(queries.ScanView), parameters=[COMPARTMENT])
    def patch(self, request, service: int):
        actions.turn(request.user, service, **self.read(TurnRequest))
        return self.get(request, service)


class ResetRequest(serializers.Serializer):
    name = serializers.CharField(max_length=80)


class Reset(Endpoint):
    """Ask the scan tool for a reset."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="scan_reset", request=ResetRequest, responses=shape(queries.ScanView))
    def post(self, request, service: int):
        actions.reset(request.user, service, self.read(ResetRequest)["name"])
        return answer(actions.poll_scan(service, ""))


class ScaleRequest(serializers.Serializer):
    put = serializers.ChoiceField(choices=("tare", "nothing", "empty pan", "full pan"))


class Scale(Endpoint):
    """The scale of a service: what it shows; connect it; tare it, or put something on the simulated one."""

    roles = {"GET": "viewer", "POST": "technician", "PATCH": "technician"}

    @extend_schema(operation_id="scale", responses=shape(queries.ScaleView))
    def get(self, request, service: int):
        return answer(actions.poll_scale(service))

    @extend_schema(operation_id="connect_scale", request=None, responses=shape(queries.ScaleView))
    def post(self, request, service: int):
        actions.connect(request.user, service, "scale")
        return self.get(request, service)

    @extend_schema(operation_id="put_on_scale", request=ScaleRequest, responses=shape(queries.ScaleView))
    def patch(self, request, service: int):
        actions.put_on_scale(request.user, service, self.read(ScaleRequest)["put"])
        return self.get(request, service)


class Feed(Endpoint):
    """The meter of a vehicle by its feed; nothing is stored."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="meter_feed", responses=shape(queries.FeedView))
    def get(self, request, vehicle: int):
        return answer(actions.poll_feed(vehicle))
