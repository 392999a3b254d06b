"""Spreadsheets that are moved in, over HTTP."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, OpenApiTypes, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.response import Response

from barodex import clock
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.words import say
from barodex.files import actions, queries
from barodex.files.imports import example, progress
from barodex.files.imports.tables import MOST_BYTES
from barodex.http.endpoints import Endpoint, Made, Words, answer, shape

MOST_TABLES = 99


class ImportFileRequest(serializers.Serializer):
    file = serializers.FileField()


class WayRequest(serializers.Serializer):
    """How a table is read; what is left out stays."""

    table = serializers.IntegerField(min_value=0, max_value=MOST_TABLES)
    use = serializers.BooleanField(required=False)
    mapping = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=80), required=False)
    units = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=12), required=False)
    order = serializers.CharField(max_length=12, allow_blank=True, required=False)
    decimal = serializers.CharField(max_length=1, allow_blank=True, required=False)
    kept = Words(60)


class FixRequest(serializers.Serializer):
    cells = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=500), required=False)
    skip = serializers.BooleanField(required=False)
    reason = serializers.CharField(max_length=200, allow_blank=True, required=False)


class RepairRequest(serializers.Serializer):
    """By the key of a row; or for all rows of a state at once."""

    rows = serializers.DictField(child=FixRequest(), required=False, default=dict)
    all_of = serializers.ChoiceField(choices=("problem", "doubt"), required=False, allow_null=True, default=None)
    skip = serializers.BooleanField(default=False)
    reason = Words(200)


class KeepRequest(serializers.Serializer):
    table = serializers.IntegerField(min_value=0, max_value=MOST_TABLES)
    name = serializers.CharField(max_length=60, allow_blank=True)


def _page(request) -> dict[str, object]:
    asked = request.query_params
    offset = asked.get("offset", "0")
    return {
        "state": asked.get("state", ""),
        "offset": int(offset) if offset.isdigit() and len(offset) < 9 else 0,
        "search": asked.get("search", "")[:60],
    }


PAGED = [OpenApiParameter("state", str), OpenApiParameter("offset", int), OpenApiParameter("search", str)]


class Imports(Endpoint):
    """Files that are moved in; begin one."""

    roles = {"GET": "lead", "POST": "lead"}
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="imports", responses=shape(queries.ImportLine, many=True))
    def get(self, request):
        return answer(queries.imports())

    @extend_schema(operation_id="begin_import", request={"multipart/form-data": ImportFileRequest}, responses={201: shape(Made)})
    def post(self, request):
        file = request.FILES.get("file")
        if file is None:
            raise Inconsistent(say("Choose a file first."), field="file")
        if file.size > MOST_BYTES:
            raise OutOfRange(
                say(
                    "The file is {size:.0f} MB; at most {most_bytes:.0f} MB are read at once.",
                    size=file.size / 1000000.0,
                    most_bytes=MOST_BYTES / 1000000.0,
                ),
                field="file",
                value="",
            )
        return answer(Made(actions.begin_import(request.user, file.name or "file", file.read()).pk), 201)


class Import(Endpoint):
    """A file as it stands; say how a table of it is read; let it go."""

    roles = {"GET": "lead", "PATCH": "lead", "DELETE": "lead"}

    @extend_schema(operation_id="import_view", responses=shape(queries.ImportView), parameters=PAGED)
    def get(self, request, run: int):
        return answer(queries.import_view(run, **_page(request)))

    @extend_schema(operation_id="map_import", request=WayRequest, responses=shape(queries.ImportView), parameters=PAGED)
    def patch(self, request, run: int):
        given = self.read(WayRequest)
        table, kept = given.pop("table"), given.pop("kept")
        if kept:
            actions.use_mapping(request.user, run, table, kept)
        else:
            actions.map_import(request.user, run, table, given)
        return answer(queries.import_view(run, **_page(request)))

    @extend_schema(operation_id="drop_import", responses={204: None})
    def delete(self, request, run: int):
        actions.drop_import(request.user, run)
        return Response(status=204)


class ImportRows(Endpoint):
    """Put rows right, skip them, or say why they are so."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="repair_import", request=RepairRequest, responses=shape(queries.ImportView), parameters=PAGED)
    def post(self, request, run: int):
        given = self.read(RepairRequest)
        fixes = {key: dict(fix) for key, fix in given["rows"].items()}
        if given["all_of"]:
            fix = {"skip": True} if given["skip"] else {"reason": given["reason"]}
            fixes |= dict.fromkeys(queries.keys_of(run, given["all_of"]), fix)
        actions.repair_rows(request.user, run, fixes)
        return answer(queries.import_view(run, **_page(request)))


class ImportMapping(Endpoint):
    """Keep how a table is read, by a name."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="keep_mapping", request=KeepRequest, responses=shape(Made))
    def post(self, request, run: int):
        given = self.read(KeepRequest)
        return answer(Made(actions.keep_mapping(request.user, run, given["table"], given["name"]).pk))


@dataclass(frozen=True)
class Share:
    """How much of something is done, 0 to 1."""

    share: float


class ImportProgress(Endpoint):
    """How far a file is that is being taken in."""

    roles = {"GET": "lead"}

    @extend_schema(operation_id="import_progress", responses=shape(Share))
    def get(self, request, run: int):
        return answer(Share(progress.told(run)))


class TakeIn(Endpoint):
    """Take a file in."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="take_in", request=None, responses=shape(queries.ImportView))
    def post(self, request, run: int):
        actions.take_in(request.user, run)
        return answer(queries.import_view(run))


class UndoImport(Endpoint):
    """Take an import back as a whole."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="undo_import", request=None, responses=shape(queries.ImportView))
    def post(self, request, run: int):
        actions.undo_import(request.user, run)
        return answer(queries.import_view(run))


class ImportExample(Endpoint):
    """A spreadsheet to begin from, as CSV or as a workbook."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="import_example", responses={(200, "text/csv"): OpenApiTypes.STR}, parameters=[OpenApiParameter("kind", str)]
    )
    def get(self, request):
        book = request.query_params.get("kind") == "xlsx"
        kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet" if book else "text/csv; charset=utf-8"
        content = (example.as_workbook if book else example.as_csv)(clock.today())
        name = f"barodex-example.{'xlsx' if book else 'csv'}"
        return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
