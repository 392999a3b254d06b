"""Papers over HTTP: the morning, the job paper, labels."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.desk import morning
from barodex.devices.protocol import PrintedLabels
from barodex.devices.queries import choice_of
from barodex.devices.registry import NONE
from barodex.http.endpoints import Endpoint, answer, shape
from barodex.papers import actions, job, label
from barodex.papers.history import history_paper
from barodex.papers.morning import morning_paper
from barodex.workshop.own import details


class MorningRequest(serializers.Serializer):
    to = serializers.CharField(max_length=2000, allow_blank=True, default="")


class Morning(Endpoint):
    """The morning summary; send it by mail."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="morning", responses=shape(morning.Morning))
    def get(self, request):
        return answer(morning.morning(clock.today(), request.user.unit_system))

    @extend_schema(operation_id="send_morning", request=MorningRequest, responses=shape(actions.Sent))
    def post(self, request):
        given = self.read(MorningRequest)["to"].replace(";", ",").split(",")
        return answer(actions.send_morning(request.user, tuple(given)))


class MorningPaper(Endpoint):
    """The morning summary as PDF, a list to tick."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="morning_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request):
        made = morning.morning(clock.today(), request.user.unit_system)
        name = f"morning-{made.today}.pdf"
        content = morning_paper(made)
        return HttpResponse(content, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


class JobPaper(Endpoint):
    """The job paper of a record, as PDF, in the reader's units."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="job_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request, record: int):
        content, name = job.job_paper(record, request.user.unit_system)
        return HttpResponse(content, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


class HistoryPaper(Endpoint):
    """A vehicle's whole history as PDF, in the reader's units."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="history_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request, vehicle: int):
        content, name = history_paper(vehicle, request.user.unit_system)
        return HttpResponse(content, content_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


def _base(request) -> str:
    """Where Barodex is reached: as the workshop says, else as the one who asks reached it."""
    return details().web or request.build_absolute_uri("/").rstrip("/")


def _records(request) -> tuple[int, ...]:
    said = request.query_params.get("records", "")
    parts = [p for p in said.split(",") if p]
    if not parts or any(not p.isdigit() or len(p) > 9 for p in parts):
        raise Inconsistent(say("Name records by their numbers, apart by commas."), field="records", value=said[:60])
    return tuple(int(p) for p in parts)


@dataclass(frozen=True)
class LabelSize:
    """A size by its name; 1 on a page: of a roll."""

    name: str
    on_a_page: int


@dataclass(frozen=True)
class LabelSizes:
    """The sizes that there are, each with how many fit on a page, and whether a label printer is chosen."""

    sizes: tuple[LabelSize, ...]
    printer: str


class Sizes(Endpoint):
    """The sizes of labels."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="label_sizes", responses=shape(LabelSizes))
    def get(self, request):
        sizes = tuple(LabelSize(s.name, s.on_a_page) for s in label.SIZES.values())
        chosen = choice_of("label printer").adaptor
        return answer(LabelSizes(sizes, "" if chosen == NONE else chosen))


LABEL_PARAMETERS = [
    OpenApiParameter("records", str, description="numbers of records, apart by commas"),
    OpenApiParameter("size", str),
    OpenApiParameter("start", int, description="the first place on a sheet that is free, from 1"),
    OpenApiParameter("as", str, description="png: a picture of the first label; else PDF of all"),
]


class LabelRequest(serializers.Serializer):
    records = serializers.ListField(child=serializers.IntegerField(min_value=1), min_length=1, max_length=label.MOST_LABELS)
    size = serializers.CharField(max_length=40)


class Labels(Endpoint):
    """Labels of records as PDF, or a picture of one; print them on the label printer."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="labels", responses={(200, "application/pdf"): OpenApiTypes.BINARY}, parameters=LABEL_PARAMETERS)
    def get(self, request):
        asked = request.query_params
        size = label.size_named(asked.get("size") or next(iter(label.SIZES)))
        start = asked.get("start") or "1"
        if not start.isdigit() or len(start) > 3:
            raise Inconsistent(say("Say the place as a number."), field="start", value=start[:20])
        drawn = label.labels_of(_records(request), size, int(start), request.user.unit_system, _base(request))
        if asked.get("as") == "png":
            return HttpResponse(label.as_png(drawn[0], size.width, size.height), content_type="image/png")
        headers = {"Content-Disposition": 'inline; filename="labels.pdf"'}
        return HttpResponse(label.as_pdf(drawn, size, int(start)), content_type="application/pdf", headers=headers)

    @extend_schema(operation_id="print_labels", request=LabelRequest, responses=shape(PrintedLabels))
    def post(self, request):
        given = self.read(LabelRequest)
        return answer(actions.print_labels(request.user, tuple(given["records"]), given["size"], _base(request)))
