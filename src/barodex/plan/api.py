"""Due, horizon, visits and the calendar over HTTP."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from drf_spectacular.utils import OpenApiParameter, OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.http.endpoints import FROM_VERSION, Endpoint, Made, answer, shape, started_from
from barodex.plan import actions, calendar, cameout, horizon, life, queries, visit


class Due(Endpoint):
    """The due board, worst first."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="due_board",
        responses=shape(queries.DueBoard),
        parameters=[
            OpenApiParameter("state", str, description="only vehicles with a compartment in this state"),
            OpenApiParameter("find", str, description="words of name, plate or compartment"),
            OpenApiParameter("offset", int, description="vehicles to pass over"),
            OpenApiParameter("limit", int, description="vehicles of the page, up to 500"),
        ],
    )
    def get(self, request):
        asked = request.query_params
        try:
            offset, limit = int(asked.get("offset", 0)), int(asked.get("limit", 50))
        except ValueError:
            raise Inconsistent(say("Offset and limit are whole numbers."), field="offset", value=asked.get("offset")) from None
        return answer(queries.due_page(clock.today(), asked.get("state", ""), asked.get("find", "")[:80], offset, limit))


class VehicleDue(Endpoint):
    """One vehicle of the board."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_due", responses=shape(queries.DueBoard))
    def get(self, request, vehicle: int):
        board = queries.due_board(clock.today(), vehicle)
        if not board.vehicles:
            raise Http404
        return answer(board)


class CameOut(Endpoint):
    """How past forecasts of use came out."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="forecasts_came_out", responses=shape(cameout.ForecastsView))
    def get(self, request):
        return answer(cameout.came_out(clock.today()))


class VehicleLife(Endpoint):
    """The oil life of a vehicle's compartments: school, limits, working, and what the other school says."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_life", responses=shape(life.CompartmentLife, many=True))
    def get(self, request, vehicle: int):
        return answer(list(life.vehicle_life(vehicle, clock.today())))


class Horizon(Endpoint):
    """The due horizon with proposed and agreed visits."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="horizon", responses=shape(horizon.Horizon), parameters=[OpenApiParameter(n, int) for n in ("days", "offset", "limit")]
    )
    def get(self, request):
        asked = {"days": 183, "offset": 0, "limit": 200}
        for name in asked:
            try:
                asked[name] = int(request.query_params.get(name, asked[name]))
            except ValueError:
                raise Inconsistent(say("Say it as a whole number."), field=name, value=request.query_params[name]) from None
        return answer(horizon.horizon(clock.today(), **asked))


class VisitRequest(serializers.Serializer):
    vehicle_id = serializers.IntegerField()
    on = serializers.DateField()
    compartments = serializers.ListField(child=serializers.IntegerField(), min_length=1, max_length=40)
    note = serializers.CharField(max_length=200, allow_blank=True, default="")
    visit_id = serializers.IntegerField(required=False, allow_null=True, default=None)
    bay = serializers.IntegerField(required=False, allow_null=True, default=None)
    technician_id = serializers.IntegerField(required=False, allow_null=True, default=None)


class MoveRequest(serializers.Serializer):
    on = serializers.DateField()
    bay = serializers.IntegerField(required=False, allow_null=True, default=None)
    technician_id = serializers.IntegerField(required=False, allow_null=True)


class Visits(Endpoint):
    """Agree a visit."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="plan_visit", request=VisitRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(VisitRequest)
        made = actions.plan_visit(
            request.user,
            given["vehicle_id"],
            given["on"],
            tuple(given["compartments"]),
            given["note"],
            given["bay"],
            given["technician_id"],
        )
        return answer(Made(made.pk), 201)


class Visit(Endpoint):
    """Move an agreed visit; drop it."""

    roles = {"PATCH": "lead", "DELETE": "lead"}

    @extend_schema(operation_id="move_visit", request=MoveRequest, responses=shape(Made), parameters=[FROM_VERSION])
    def patch(self, request, visit: int):
        given = self.read(MoveRequest)
        who = given.get("technician_id", actions.UNSAID)
        return answer(Made(actions.move_visit(request.user, visit, given["on"], given["bay"], started_from(request), who).pk))

    @extend_schema(operation_id="drop_visit", responses={200: shape(Made)})
    def delete(self, request, visit: int):
        return answer(Made(actions.drop_visit(request.user, visit).pk))


class VisitTrial(Endpoint):
    """What a visit on a day would throw away or overrun; nothing is stored."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="visit_trial", request=VisitRequest, responses=shape(visit.VisitView))
    def post(self, request):
        given = self.read(VisitRequest)
        chosen = tuple(given["compartments"])
        return answer(visit.trial(clock.today(), given["vehicle_id"], given["on"], chosen, given["visit_id"], given["bay"]))


class CalendarLink(Endpoint):
    """One's own secret calendar link: whether there is one; make a new one; revoke it."""

    roles = {"GET": "viewer", "POST": "viewer", "DELETE": "viewer"}

    @extend_schema(operation_id="calendar_link", responses=shape(calendar.LinkView))
    def get(self, request):
        return answer(calendar.link_of(request.user))

    @extend_schema(operation_id="make_calendar_link", request=None, responses={201: shape(calendar.LinkView)})
    def post(self, request):
        return answer(calendar.make_link(request.user), 201)

    @extend_schema(operation_id="revoke_calendar_link", responses={200: shape(calendar.LinkView)})
    def delete(self, request):
        return answer(calendar.revoke_link(request.user))


class CalendarFile(Endpoint):
    """Due dates and agreed visits of the coming year, as an iCalendar file."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="calendar_file", responses={(200, "text/calendar"): OpenApiTypes.STR})
    def get(self, request):
        headers = {"Content-Disposition": 'attachment; filename="barodex.ics"'}
        return HttpResponse(calendar.calendar_file(), content_type="text/calendar; charset=utf-8", headers=headers)


def calendar_feed(request, key: str):
    """The calendar under a secret link; a link that was guessed or revoked is not found."""
    if request.method not in ("GET", "HEAD") or calendar.person_of(key) is None:
        raise Http404
    headers = {"Cache-Control": "private, max-age=900", "X-Robots-Tag": "noindex"}
    return HttpResponse(calendar.calendar_file(), content_type="text/calendar; charset=utf-8", headers=headers)
