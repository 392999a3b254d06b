"""Stock and shopping over HTTP: containers and their movements, the store, the shopping list."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.core.sheet.kit import KIT_KINDS
from barodex.http.endpoints import Endpoint, Made, Quantity, Words, answer, shape
from barodex.shelf import actions
from barodex.shelf.models import CONTAINER_KINDS
from barodex.shelf.queries import stock


class ContainerRequest(serializers.Serializer):
    lubricant_id = serializers.IntegerField()
    label = serializers.CharField(max_length=40)
    size_ml = Quantity("volume", required=True, allow_null=False)
    content_ml = Quantity("volume", required=True, allow_null=False)
    graduated = serializers.BooleanField(default=True)
    kind = serializers.ChoiceField(choices=CONTAINER_KINDS, default="bottle")


class Containers(Endpoint):
    """Put a container on the shelf."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="stock_container", request=ContainerRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(actions.stock_container(request.user, **self.read(ContainerRequest)).pk), 201)


class Container(Endpoint):
    """The movements of a container."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="movements", responses=shape(stock.MovementView, many=True))
    def get(self, request, container: int):
        return answer(stock.movements(container))


class TakeOutRequest(serializers.Serializer):
    volume_ml = Quantity("volume", required=True, allow_null=False)
    why = serializers.CharField(max_length=80)


class TakeOut(Endpoint):
    """Take oil out of a container by hand."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="take_out", request=TakeOutRequest, responses=shape(stock.ContainerView))
    def post(self, request, container: int):
        return answer(stock.container_view(actions.take_out(request.user, container, **self.read(TakeOutRequest))))


class RecountRequest(serializers.Serializer):
    content_ml = Quantity("volume", required=True, allow_null=False)
    why = serializers.CharField(max_length=60)


class Recount(Endpoint):
    """Set the book right after looking."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="recount", request=RecountRequest, responses=shape(stock.ContainerView))
    def post(self, request, container: int):
        return answer(stock.container_view(actions.recount(request.user, container, **self.read(RecountRequest))))


class ItemRequest(serializers.Serializer):
    name = serializers.CharField(max_length=80)
    kind = serializers.ChoiceField(choices=KIT_KINDS)
    count = serializers.IntegerField(min_value=0, max_value=10_000)
    place = Words(60)


class Store(Endpoint):
    """Seals, parts and tools that the workshop counts; count one."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="store", responses=shape(stock.StoreView, many=True))
    def get(self, request):
        return answer(stock.store())

    @extend_schema(operation_id="count_item", request=ItemRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(actions.count_item(request.user, **self.read(ItemRequest)).pk), 201)
