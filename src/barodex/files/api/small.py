"""Small files over HTTP: the shopping list, a compartment's history, readings."""

from __future__ import annotations

import csv
import dataclasses
import io

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.response import Response

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.desk.api import WishRequest, wish_from
from barodex.desk.shopping import shopping_list
from barodex.files import history, readings
from barodex.files.plain import plain_cell
from barodex.files.shopping import as_csv
from barodex.fleet.models import Vehicle
from barodex.http.endpoints import Endpoint, shape


class ShoppingFile(Endpoint):
    """The shopping list as CSV."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="shopping_file", request=WishRequest, responses={(200, "text/csv"): OpenApiTypes.STR})
    def post(self, request):
        text = as_csv(shopping_list(wish_from(self.read(WishRequest))), request.user.unit_system)
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="shopping.csv"'
        return response


class HistoryFile(Endpoint):
    """A compartment's history as CSV; amounts canonical, one line a record."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="history_file", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request, compartment: int):
        return HttpResponse(
            history.history_csv(compartment),
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": f'attachment; filename="history-{compartment}.csv"'},
        )


@dataclasses.dataclass(frozen=True)
class CsvResult:
    """How many readings were added and how many were known already."""

    added: int
    known: int


class CsvRequest(serializers.Serializer):
    file = serializers.FileField()


class ReadingsFile(Endpoint):
    """Take a CSV file of readings (columns vehicle, date, reading, unit, duty), all of it or nothing; GET gives a sample."""

    roles = {"GET": "viewer", "POST": "technician"}
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="sample_readings_file", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request):
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\n")
        rows.writerow(readings.CSV_COLUMNS)
        for v in Vehicle.objects.all()[:3]:
            newest = v.readings.last()
            base = newest.value if newest else 0
            rows.writerow([plain_cell(v.name), clock.today().isoformat(), f"{base + (1 if v.meter == 'h' else 10):.0f}", v.meter, ""])
        return HttpResponse(
            out.getvalue(),
            content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": 'attachment; filename="readings-sample.csv"'},
        )

    @extend_schema(operation_id="import_readings", request={"multipart/form-data": CsvRequest}, responses=shape(CsvResult))
    def post(self, request):
        file = request.FILES.get("file")
        if file is None:
            raise Inconsistent(say("Choose a file first."), field="file")
        if file.size > readings.CSV_MOST_BYTES:
            raise readings.CsvRefused(say("The file is {size:.0f} MB; at most 1 MB is read at once.", size=file.size / 1000000.0))
        taken = readings.import_readings(request.user, file.read())
        return Response({"added": taken.added, "known": taken.known})
