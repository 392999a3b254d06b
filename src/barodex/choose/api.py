"""Which oil, over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers

from barodex.choose import judging
from barodex.choose.judging import oil_places
from barodex.core.oil import charts
from barodex.core.oil.grades import read_grade
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.http.endpoints import Endpoint, Quantity, Words, answer, shape
from barodex.shelf.queries import oils
from barodex.workshop.policy import oil_policy


class PlacesRequest(serializers.Serializer):
    coldest_c = Quantity("temperature")


class Places(Endpoint):
    """Where an oil may go and where it must not."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="oil_places", request=PlacesRequest, responses=shape(oils.PlaceVerdict, many=True))
    def post(self, request, lubricant: int):
        return answer(oil_places(lubricant, self.read(PlacesRequest).get("coldest_c")))


class ChartRequest(serializers.Serializer):
    oils = serializers.ListField(child=serializers.IntegerField(), max_length=4, default=list)
    compartment = serializers.IntegerField(required=False, allow_null=True, default=None)
    grade = Words(40)
    coldest_c = Quantity("temperature", default=None)
    warmest_c = Quantity("temperature", default=None)


class Chart(Endpoint):
    """Up to four oils on the axes of ASTM D341, with the asked grade's band and the weather."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="viscosity_chart", request=ChartRequest, responses=shape(charts.ViscosityChart))
    def post(self, request):
        given = self.read(ChartRequest)
        edition = oil_policy().j306_edition
        shown = [o for o in oils.lubricants() if o.id in given["oils"]]
        if len(shown) != len(set(given["oils"])):
            raise Inconsistent(say("There is no such oil on the list."), field="oils", value=str(given["oils"]))
        asked = judging.asked_grade(given["compartment"], given["coldest_c"], given["warmest_c"]) if given["compartment"] else None
        if given["grade"]:
            asked = read_grade(given["grade"], "gear", edition)
        lines = [(o.name, o.thickness) for o in shown if o.thickness is not None]
        return answer(charts.viscosity_chart(lines, asked, given["coldest_c"], given["warmest_c"], edition))
