"""The book over HTTP: history, corrections, earlier records, follow-ups, job papers."""

from __future__ import annotations

import datetime as dt

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.book import actions, audit, correcting, merging, moving, queries, settling, superseded, tried, waste
from barodex.book import trend as trends
from barodex.core.ledger.tried import SideBySide
from barodex.core.quantity.errors import OutOfRange
from barodex.core.run.seen import finding_from
from barodex.core.words import say
from barodex.fleet.models import Compartment, Reading
from barodex.http.endpoints import Endpoint, Made, Quantity, Words, answer, read_meter, shape


class Book(Endpoint):
    """The latest records of all vehicles."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="recent_records", responses=shape(queries.BookLine, many=True))
    def get(self, request):
        return answer(queries.recent())


class Waste(Endpoint):
    """Used oil handed in over the last twelve months."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="waste_log", responses=shape(waste.WasteLog))
    def get(self, request):
        return answer(waste.waste_log(clock.today() - dt.timedelta(days=365)))


class RecordRequest(serializers.Serializer):
    on = serializers.DateField()
    meter_value = serializers.CharField(max_length=60, allow_blank=True, required=False)
    lubricant_id = serializers.IntegerField(required=False, allow_null=True, default=None)
    oil = Words(80)
    drained_ml = Quantity("volume")
    drained_c = Quantity("temperature")
    poured_ml = Quantity("volume")
    finding = serializers.DictField(required=False, allow_null=True, default=None)
    note = Words(500)
    factory_fill = serializers.BooleanField(default=False)
    shift = serializers.IntegerField(required=False, allow_null=True, default=None)
    noise = serializers.IntegerField(required=False, allow_null=True, default=None)
    reason = Words(200)


class History(Endpoint):
    """A compartment's history; write in an earlier change."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="history", responses=shape(queries.HistoryView))
    def get(self, request, compartment: int):
        return answer(queries.history(compartment))

    @extend_schema(operation_id="enter_record", request=RecordRequest, responses={201: shape(Made)})
    def post(self, request, compartment: int):
        box = Compartment.objects.select_related("vehicle", "sheet").get(pk=compartment)
        given = self.read(RecordRequest, actions.usual_ml(box))
        meter = given.pop("meter_value", "")
        vehicle = box.vehicle
        value = read_meter(request, vehicle.meter, meter, "meter_value") if meter else None
        finding = given.pop("finding")
        record = actions.enter_record(
            request.user, compartment, actions.PaperRecord(**given, meter_value=value, finding=finding_from(finding) if finding else None)
        )
        return answer(Made(record.pk), 201)


class CorrectionRequest(serializers.Serializer):
    field = serializers.ChoiceField(choices=[*queries.CORRECTABLE, "finding", "torque"])
    value = serializers.CharField(max_length=80, allow_blank=True, default="")
    plug = Words(40)
    finding = serializers.DictField(required=False, allow_null=True, default=None)
    reason = serializers.CharField(max_length=300)


class Corrections(Endpoint):
    """Set a figure of a record right."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="correct_record", request=CorrectionRequest, responses={201: shape(Made)})
    def post(self, request, record: int):
        given = self.read(CorrectionRequest)
        if given["field"] == "finding":
            made = correcting.correct_finding(request.user, record, finding_from(given["finding"] or {}), given["reason"])
        elif given["field"] == "torque":
            made = correcting.correct_torque(request.user, record, given["plug"], given["value"], given["reason"])
        else:
            made = correcting.correct(request.user, record, given["field"], given["value"], given["reason"])
        return answer(Made(made.pk), 201)


class VoidRecordRequest(serializers.Serializer):
    reason = serializers.CharField(max_length=300)


class VoidRecord(Endpoint):
    """Declare a record void."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="void_record", request=VoidRecordRequest, responses=shape(Made))
    def post(self, request, record: int):
        return answer(Made(actions.void_record(request.user, record, self.read(VoidRecordRequest)["reason"]).pk))


class MoveRequest(serializers.Serializer):
    compartment_id = serializers.IntegerField(min_value=1)
    meter_value = Words(60)
    reason = serializers.CharField(max_length=200)


class MoveRecord(Endpoint):
    """Move a record to the compartment that it is of."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="move_record", request=MoveRequest, responses={201: shape(Made)})
    def post(self, request, record: int):
        given = self.read(MoveRequest)
        target = Compartment.objects.select_related("vehicle").get(pk=given["compartment_id"])
        typed = given["meter_value"].strip()
        meter = read_meter(request, target.vehicle.meter, typed, "meter_value") if typed else None
        return answer(Made(moving.move_record(request.user, record, target.pk, meter, given["reason"]).pk), 201)


class ReadingRightRequest(serializers.Serializer):
    on = serializers.DateField()
    value = serializers.CharField(max_length=60)
    swap = serializers.BooleanField(default=False)
    reason = serializers.CharField(max_length=300)


class CorrectReading(Endpoint):
    """Set a mistyped reading right, and the records that were written with it."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="correct_reading", request=ReadingRightRequest, responses={201: shape(Made)})
    def post(self, request, reading: int):
        given = self.read(ReadingRightRequest)
        meter = Reading.objects.select_related("vehicle").get(pk=reading).vehicle.meter
        value = read_meter(request, meter, given["value"], "value")
        made = correcting.correct_reading(request.user, reading, given["on"], value, given["swap"], given["reason"])
        return answer(Made(made.pk), 201)


class PairRequest(serializers.Serializer):
    other_id = serializers.IntegerField(min_value=1)
    kept_id = serializers.IntegerField(min_value=1, allow_null=True)


class MergeRequest(serializers.Serializer):
    pairs = PairRequest(many=True, allow_empty=True)


class MergeTwo(Endpoint):
    """Two vehicles side by side; make them one."""

    roles = {"GET": "lead", "POST": "lead"}

    @extend_schema(operation_id="side_by_side", responses=shape(merging.MergeView))
    def get(self, request, vehicle: int, other: int):
        return answer(merging.side_by_side(vehicle, other))

    @extend_schema(operation_id="merge_vehicles", request=MergeRequest, responses={201: shape(Made)})
    def post(self, request, vehicle: int, other: int):
        pairs = {p["other_id"]: p["kept_id"] for p in self.read(MergeRequest)["pairs"]}
        return answer(Made(merging.merge_vehicles(request.user, vehicle, other, pairs).pk), 201)


class Merges(Endpoint):
    """The merges of a vehicle that stand."""

    roles = {"GET": "lead"}

    @extend_schema(operation_id="merges", responses=shape(merging.MergedView, many=True))
    def get(self, request, vehicle: int):
        return answer(list(merging.merges_of(vehicle)))


class Unmerge(Endpoint):
    """Take a merge back."""

    roles = {"DELETE": "lead"}

    @extend_schema(operation_id="unmerge", responses={200: shape(Made)})
    def delete(self, request, merge: int):
        return answer(Made(merging.unmerge(request.user, merge).pk))


class OutcomeRequest(serializers.Serializer):
    """What was found or mended, and whether it is looked at again."""

    outcome = serializers.CharField(max_length=300)
    again = serializers.BooleanField(default=False)


class Consequences(Endpoint):
    """Close what follows from a record: what was found, or mended."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="settle_consequence", request=OutcomeRequest, responses=shape(Made))
    def post(self, request, consequence: int):
        given = self.read(OutcomeRequest)
        return answer(Made(settling.settle(request.user, consequence, given["outcome"], given["again"]).pk))


class TakeOverRequest(serializers.Serializer):
    """How one knows: the casing code, where a variant is taken over."""

    outcome = serializers.CharField(max_length=300, allow_blank=True, default="")


class TakeOver(Endpoint):
    """Take over what a record offers: a variant, or a capacity."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="take_over", request=TakeOverRequest, responses=shape(Made))
    def post(self, request, consequence: int):
        return answer(Made(settling.take_over(request.user, consequence, self.read(TakeOverRequest)["outcome"]).pk))


class AheadRequest(serializers.Serializer):
    """A trip still to run, as typed, or the day on which the season ends; given in the address."""

    ahead = serializers.CharField(max_length=40, allow_blank=True, default="")
    until = serializers.DateField(required=False, allow_null=True, default=None)


class Trend(Endpoint):
    """A compartment over the years, against its past and its sisters; with what a trip or a season will cost in oil."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="trend",
        responses=shape(trends.TrendView),
        parameters=[
            OpenApiParameter("ahead", str, description="a trip still to run, as typed"),
            OpenApiParameter("until", str, description="the day on which the season ends"),
        ],
    )
    def get(self, request, compartment: int):
        bound = AheadRequest(data={k: request.query_params[k] for k in ("ahead", "until") if request.query_params.get(k)})
        bound.is_valid(raise_exception=True)
        given = bound.validated_data
        today, until = clock.today(), given.get("until")
        if until is not None and until < today:
            raise OutOfRange(
                say("{until} has passed.", until=f"{until:%d %b %Y}"),
                field="until",
                value=str(until),
                allowed=say("from {today} on", today=f"{today:%d %b %Y}"),
            )
        ahead = None
        if given.get("ahead"):
            meter = Compartment.objects.select_related("vehicle").get(pk=compartment).vehicle.meter
            ahead = read_meter(request, meter, given["ahead"], "ahead")
        return answer(trends.trend(compartment, today, ahead, until))


class TakeLearnt(Endpoint):
    """Make what the fills to a level say the capacity of the sheet, as a revision."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="take_learnt", request=None, responses=shape(Made))
    def post(self, request, compartment: int):
        return answer(Made(actions.take_learnt(request.user, compartment).pk))


class Audit(Endpoint):
    """What the book does not know or cannot be trusted with, and how it is mended."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="history_audit", responses=shape(audit.HistoryAudit))
    def get(self, request):
        return answer(audit.history_audit(clock.today()))


class Tried(Endpoint):
    """The oils that were tried in a compartment, side by side."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="oils_tried", responses=shape(SideBySide))
    def get(self, request, compartment: int):
        return answer(tried.oils_tried(compartment, clock.today()))


class Superseded(Endpoint):
    """Compartments whose last fill followed a superseded capacity."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="superseded_fills", responses=shape(superseded.SupersededFill, many=True))
    def get(self, request, sheet: int):
        return answer(superseded.superseded_fills(sheet, clock.today()))
