"""Stock and shopping over HTTP: containers and their movements, the store, the shopping list."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex.config.api import Endpoint, Made, Quantity, Words, answer, shape
from barodex.core.sheet.kit import KIT_KINDS

from .. import actions
from ..models import CONTAINER_KINDS
from ..queries import stock
from ..shopping import MOST_WEEKS, ShoppingList, Wish, as_csv, shopping_list


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


class CarryRequest(serializers.Serializer):
    vehicle_id = serializers.IntegerField(allow_null=True)


class Carry(Endpoint):
    """Put a container into a vehicle as its top-up bottle, or back on the shelf."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="carry", request=CarryRequest, responses=shape(stock.ContainerView))
    def post(self, request, container: int):
        return answer(stock.container_view(actions.carry(request.user, container, self.read(CarryRequest)["vehicle_id"])))


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


class ChosenOilRequest(serializers.Serializer):
    compartment = serializers.IntegerField()
    lubricant_id = serializers.IntegerField()


class EstimateRequest(serializers.Serializer):
    compartment = serializers.IntegerField()
    volume_ml = Quantity("volume", required=True, allow_null=False)


class WishRequest(serializers.Serializer):
    compartments = serializers.ListField(child=serializers.IntegerField(), max_length=200, default=list)
    weeks = serializers.IntegerField(min_value=0, max_value=MOST_WEEKS, required=False, allow_null=True, default=None)
    pump_ml = Quantity("volume", default=None)
    coldest_c = Quantity("temperature", default=None)
    oils = ChosenOilRequest(many=True, default=list)
    estimates = EstimateRequest(many=True, default=list)


def _wish(given: dict) -> Wish:
    return Wish(
        tuple(given["compartments"]),
        given["weeks"],
        given["pump_ml"] or 0.0,
        given["coldest_c"],
        tuple((o["compartment"], o["lubricant_id"]) for o in given["oils"]),
        tuple((e["compartment"], e["volume_ml"]) for e in given["estimates"]),
    )


class Shopping(Endpoint):
    """What to fetch or buy for chosen compartments or the next weeks."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="shopping_list", request=WishRequest, responses=shape(ShoppingList))
    def post(self, request):
        return answer(shopping_list(_wish(self.read(WishRequest))))


class ShoppingFile(Endpoint):
    """The shopping list as CSV."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="shopping_file", request=WishRequest, responses={(200, "text/csv"): OpenApiTypes.STR})
    def post(self, request):
        text = as_csv(shopping_list(_wish(self.read(WishRequest))), request.user.unit_system)
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="shopping.csv"'
        return response
