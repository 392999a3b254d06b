"""What looks across everything, over HTTP: shopping, the order of the shelf for a compartment, a vehicle for its owner."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.bay.pouring import reserved_ml
from barodex.choose.judging import Answers, DoseChoice, compartment_oils
from barodex.core.sheet.work import EXCHANGE_SCHOOLS, WORKS
from barodex.desk import first_hour, verdict
from barodex.desk import search as searching
from barodex.desk.shopping import MOST_WEEKS, ShoppingList, Wish, shopping_list
from barodex.fleet.codes import box_of, code_of, last_place, place_of
from barodex.http.endpoints import Endpoint, Quantity, Words, answer, shape
from barodex.shelf.queries import oils


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


def wish_from(given: dict) -> Wish:
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
        return answer(shopping_list(wish_from(self.read(WishRequest))))


class FirstHour(Endpoint):
    """Where the book stands on the way to its first due."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="first_hour", responses=shape(first_hour.FirstHour))
    def get(self, request):
        return answer(first_hour.first_hour())


class DoseOfRequest(serializers.Serializer):
    additive_id = serializers.IntegerField()
    volume_ml = Quantity("volume", required=True, allow_null=False)


class AnswersRequest(serializers.Serializer):
    variant = Words(60)
    slip = serializers.ChoiceField(choices=("", "yes", "no", "unknown"), default="", allow_blank=True)
    coldest_c = Quantity("temperature", default=None)
    warmest_c = Quantity("temperature", default=None)
    doses = DoseOfRequest(many=True, default=list)
    work = serializers.ChoiceField(choices=("", *WORKS), required=False, allow_blank=True)
    cycles = serializers.IntegerField(min_value=0, max_value=12, required=False)
    school = serializers.ChoiceField(choices=EXCHANGE_SCHOOLS, required=False)
    target_fresh = serializers.FloatField(min_value=0.2, max_value=0.98, required=False)


class CompartmentOils(Endpoint):
    """The shelf ordered for a compartment, with what is known or asked before an oil is chosen."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="compartment_oils", request=AnswersRequest, responses=shape(oils.CompartmentOils))
    def post(self, request, compartment: int):
        given = self.read(AnswersRequest)
        doses = tuple(DoseChoice(**d) for d in given.pop("doses"))
        return answer(compartment_oils(compartment, reserved_ml(), Answers(**given, doses=doses)))


class Search(Endpoint):
    """Search over everything; ``find``: words as they are typed."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="search", responses=shape(searching.Found), parameters=[OpenApiParameter("find", str)])
    def get(self, request):
        found = searching.search(request.query_params.get("find", ""), request.user.dates)
        return answer(found if request.user.may("lead") else searching.without_people(found))


@dataclass(frozen=True)
class BoxPlace:
    """Where the box of a label is: fitted at a compartment, or in the store (``fitted`` no), where it was last."""

    code: str
    compartment: int
    fitted: bool


class ByCode(Endpoint):
    """The compartment to which the code of a label leads."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="by_code", responses=shape(BoxPlace))
    def get(self, request, code: str):
        box = box_of(code)
        place = place_of(box) or last_place(box)
        if place is None:
            raise Http404
        return answer(BoxPlace(code_of(box), place.pk, place.box_id == box))


class Verdict(Endpoint):
    """A vehicle in plain words, for its owner."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_verdict", responses=shape(verdict.VehicleVerdict))
    def get(self, request, vehicle: int):
        return answer(verdict.vehicle_verdict(vehicle, clock.today()))
