"""Papers over HTTP: the morning, the job paper."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.desk import morning
from barodex.http.endpoints import Endpoint, answer, shape
from barodex.papers import actions, job
from barodex.papers.morning import morning_paper


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
