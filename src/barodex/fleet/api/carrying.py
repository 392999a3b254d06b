"""Bottles that ride in a vehicle, over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.fleet import actions
from barodex.http.endpoints import Endpoint, answer, shape
from barodex.shelf.queries import stock


class CarryRequest(serializers.Serializer):
    vehicle_id = serializers.IntegerField(allow_null=True)


class Carry(Endpoint):
    """Put a container into a vehicle as its top-up bottle, or back on the shelf."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="carry", request=CarryRequest, responses=shape(stock.ContainerView))
    def post(self, request, container: int):
        return answer(stock.container_view(actions.carry(request.user, container, self.read(CarryRequest)["vehicle_id"])))
