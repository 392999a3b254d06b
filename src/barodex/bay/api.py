"""Services over HTTP: start, acts, trial answers, pour plans."""

from __future__ import annotations

import json

from django.http import FileResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser

from barodex.book.photos import photo_file
from barodex.choose.judging import Answers, DoseChoice
from barodex.core.findings.colour import ColourReading
from barodex.core.findings.photo import Cover, Spot
from barodex.core.findings.swatches import Swatch, swatches
from barodex.core.quantity.errors import OutOfRange
from barodex.core.run.folding import ACT_KINDS
from barodex.core.run.gaps import GapReport
from barodex.core.sheet.kit import KitLine
from barodex.core.sheet.work import EXCHANGE_SCHOOLS, TARGET_FRESH, WORKS, kit_work
from barodex.core.words import say
from barodex.fleet.models import Vehicle
from barodex.http.endpoints import Endpoint, Made, Quantity, Words, answer, read_meter, shape

from . import actions, guides, oil_on_hand, overview, photo_actions, photo_reading, pouring, queries, start, views


class DoseRequest(serializers.Serializer):
    additive_id = serializers.IntegerField()
    volume_ml = Quantity("volume", required=True, allow_null=False)


class WorkRequest(serializers.Serializer):
    """The kind of service; empty is the usual one of the compartment."""

    kind = serializers.ChoiceField(choices=("", *WORKS), default="", allow_blank=True)
    cycles = serializers.IntegerField(min_value=0, max_value=12, default=0)
    target_fresh = serializers.FloatField(default=TARGET_FRESH)
    school = serializers.ChoiceField(choices=EXCHANGE_SCHOOLS, default=EXCHANGE_SCHOOLS[0])
    attached = serializers.ListField(child=serializers.CharField(max_length=60), max_length=8, default=list)
    wrong_oil = Words(80)


class JobRequest(serializers.Serializer):
    compartment_id = serializers.IntegerField()
    lubricant_id = serializers.IntegerField()
    override = Words(300)
    variant = Words(60)
    slip = serializers.ChoiceField(choices=("", "yes", "no", "unknown"), default="", allow_blank=True)
    doses = DoseRequest(many=True, default=list)
    work = WorkRequest(default=dict)
    warranty = Words(200)


class StartRequest(serializers.Serializer):
    vehicle_id = serializers.IntegerField()
    jobs = JobRequest(many=True)
    meter_value = serializers.CharField(max_length=60, allow_blank=True, allow_null=True, required=False)
    ambient_c = Quantity("temperature")
    coldest_c = Quantity("temperature")
    warmest_c = Quantity("temperature")
    at_hand = serializers.ListField(child=serializers.CharField(max_length=80), max_length=60, default=list)
    fetches = Words(60)


class ActRequest(serializers.Serializer):
    act_id = serializers.UUIDField()
    kind = serializers.ChoiceField(choices=ACT_KINDS)
    step = Words(40)
    values = serializers.DictField(default=dict)
    done_at = serializers.DateTimeField(required=False, allow_null=True, default=None)

    def validate_values(self, value):
        if len(json.dumps(value)) > 8000:
            raise serializers.ValidationError(say("That is too much for one step."))
        return value


class TrialRequest(serializers.Serializer):
    kind = serializers.ChoiceField(choices=ACT_KINDS, default="done")
    step = serializers.CharField(max_length=40)
    values = serializers.DictField(default=dict)


class DropRequest(serializers.Serializer):
    reason = serializers.CharField(max_length=300)


class Services(Endpoint):
    """Open services; start one."""

    roles = {"GET": "viewer", "POST": "technician"}

    @extend_schema(operation_id="open_services", responses=shape(overview.OpenService, many=True))
    def get(self, request):
        return answer(overview.open_services())

    @extend_schema(operation_id="start_service", request=StartRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(StartRequest)
        meter = None
        if given.get("meter_value"):
            vehicle = Vehicle.objects.get(pk=given["vehicle_id"])
            meter = read_meter(request, vehicle.meter, given["meter_value"], "meter_value")
        jobs = tuple(
            actions.JobSpec(
                **{
                    **j,
                    "doses": tuple(DoseChoice(**d) for d in j["doses"]),
                    "work": actions.WorkSpec(**{**j["work"], "attached": tuple(j["work"].get("attached", ()))}),
                }
            )
            for j in given["jobs"]
        )
        weather = actions.Weather(given.get("ambient_c"), given.get("coldest_c"), given.get("warmest_c"))
        made = actions.start_service(request.user, given["vehicle_id"], jobs, meter, weather, tuple(given["at_hand"]), given["fetches"])
        return answer(Made(made.pk), 201)


class Reasons(Endpoint):
    """Reasons as they were written last."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="last_reasons", responses=shape(overview.LastReasons))
    def get(self, request):
        return answer(overview.last_reasons())


class PlannedRequest(serializers.Serializer):
    compartment_id = serializers.IntegerField()
    variant = Words(60)
    work = Words(12)
    attached = serializers.ListField(child=serializers.CharField(max_length=60), max_length=8, default=list)


class VisitKitRequest(serializers.Serializer):
    jobs = PlannedRequest(many=True)


class Kit(Endpoint):
    """The seals, parts and tools of a visit that is being planned, against the store."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="visit_kit", request=VisitKitRequest, responses=shape(KitLine, many=True))
    def post(self, request):
        given = self.read(VisitKitRequest)
        planned = {j["compartment_id"]: (j["variant"], kit_work(j["work"], j["attached"])) for j in given["jobs"]}
        return answer(list(start.visit_kit(planned)))


class OilWantedRequest(serializers.Serializer):
    compartment_id = serializers.IntegerField()
    lubricant_id = serializers.IntegerField()
    variant = Words(60)
    work = WorkRequest(default=dict)


class VisitOilRequest(serializers.Serializer):
    jobs = OilWantedRequest(many=True)


class VisitOil(Endpoint):
    """The oils of which the shelf holds too little for a visit that is being planned."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="visit_oil", request=VisitOilRequest, responses=shape(oil_on_hand.OilShort, many=True))
    def post(self, request):
        planned = []
        for j in self.read(VisitOilRequest)["jobs"]:
            w = j["work"]
            chosen = {"work": w.get("kind", ""), "cycles": w.get("cycles", 0)}
            chosen |= {k: w[k] for k in ("school", "target_fresh") if k in w}
            planned.append(oil_on_hand.OilWanted(j["compartment_id"], j["lubricant_id"], Answers(j["variant"], **chosen)))
        return answer(list(oil_on_hand.shortages(planned)))


class Start(Endpoint):
    """What must be known before a service on a vehicle starts."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="start_view", responses=shape(start.StartView))
    def get(self, request, vehicle: int):
        return answer(start.start_view(vehicle))


class Service(Endpoint):
    """A service; drop it."""

    roles = {"GET": "viewer", "DELETE": "technician"}

    @extend_schema(operation_id="service", responses=shape(views.ServiceView))
    def get(self, request, service: int):
        return answer(queries.view(service))

    @extend_schema(operation_id="drop_service", request=DropRequest, responses=shape(Made))
    def delete(self, request, service: int):
        return answer(Made(actions.drop_service(request.user, service, self.read(DropRequest)["reason"]).pk))


class Acts(Endpoint):
    """Post an act; the same act id twice is one act."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="post_act", request=ActRequest, responses=shape(views.ServiceView))
    def post(self, request, service: int):
        return answer(actions.post_act(request.user, service, actions.NewAct(**self.read(ActRequest))))


class Gaps(Endpoint):
    """What a service leaves open: shortfalls, steps passed, values not measured, reasons given."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="service_gaps", responses=shape(GapReport))
    def get(self, request, service: int):
        return answer(queries.service_gaps(service))


class Trial(Endpoint):
    """What a step would answer to these values; nothing is stored."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="trial", request=TrialRequest, responses=shape(views.LedgerView))
    def post(self, request, service: int):
        given = self.read(TrialRequest)
        procedure = guides.procedure_of(guides.load(service))
        values = actions.read_values(procedure, given["step"], given["values"], request.user.unit_system)
        return answer(queries.trial(service, given["kind"], given["step"], values))


class PumpRequest(serializers.Serializer):
    """What is poured with; given in the address."""

    pump_ml = Quantity("volume")
    stroke_ml = Quantity("volume")


class Pour(Endpoint):
    """The plan of what is still to pour into a compartment, with a pump that keeps some, or by strokes of a syringe."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="pour_plan",
        responses=shape(pouring.ServicePourPlan),
        parameters=[
            OpenApiParameter("pump_ml", str, description="what stays in the pump, as typed"),
            OpenApiParameter("stroke_ml", str, description="one stroke, as typed"),
        ],
    )
    def get(self, request, service: int, compartment: str):
        bound = PumpRequest(data={k: request.query_params.get(k) or None for k in ("pump_ml", "stroke_ml")}, context={"request": request})
        bound.is_valid(raise_exception=True)
        given = bound.validated_data
        return answer(pouring.service_pour_plan(service, compartment, given.get("pump_ml") or 0.0, given.get("stroke_ml")))


class PhotoRequest(serializers.Serializer):
    file = serializers.FileField()
    photo_id = serializers.UUIDField()
    step = serializers.CharField(max_length=40)


class Photos(Endpoint):
    """Keep a photo with a step; the same photo id twice is one photo."""

    roles = {"POST": "technician"}
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="add_photo", request={"multipart/form-data": PhotoRequest}, responses={201: shape(views.ServiceView)})
    def post(self, request, service: int):
        given = self.read(PhotoRequest)
        file = given["file"]
        if file.size > photo_actions.MOST_BYTES:
            raise OutOfRange(
                say("The photo has {size:.0f} MB: too large.", size=file.size / 1000000.0),
                field="file",
                value=file.size,
                allowed="up to 15 MB",
            )
        procedure = guides.procedure_of(guides.load(service))
        photo_actions.add_photo(request.user, service, given["photo_id"], given["step"], file.read(), procedure)
        return answer(queries.view(service), 201)


class Photo(Endpoint):
    """A photo as it is kept; take it out of an open service."""

    roles = {"GET": "viewer", "DELETE": "technician"}

    @extend_schema(operation_id="photo", responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request, photo: str):
        path = photo_file(photo, small=False)
        headers = {"Cache-Control": "private, max-age=86400", "X-Content-Type-Options": "nosniff"}
        return FileResponse(path.open("rb"), content_type="image/jpeg", headers=headers)

    @extend_schema(operation_id="remove_photo", responses={200: shape(views.ServiceView)})
    def delete(self, request, photo: str):
        return answer(queries.view(photo_actions.remove_photo(request.user, photo).service_id))


class SpotRequest(serializers.Serializer):
    """A round mark: centre as shares of width and height, radius as a share of the smaller side."""

    x = serializers.FloatField()
    y = serializers.FloatField()
    r = serializers.FloatField(default=0.02)


class ColourRequest(serializers.Serializer):
    paper = SpotRequest()
    more_paper = SpotRequest(many=True, required=False, max_length=photo_reading.MOST_WHITES - 1, default=list)
    fresh = SpotRequest()
    drained = SpotRequest(many=True, min_length=1, max_length=photo_reading.MOST_DRAINS)
    compartment = serializers.CharField(max_length=20, allow_blank=True, default="")


class PhotoColour(Endpoint):
    """Read the oil's colour off a photo, from marks on paper, fresh and drained oil; nothing is stored."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="photo_colour", request=ColourRequest, responses=shape(ColourReading))
    def post(self, request, photo: str):
        given = self.read(ColourRequest)
        papers = [Spot(**s) for s in (given["paper"], *given["more_paper"])]
        fresh, *drained = (Spot(**s) for s in (given["fresh"], *given["drained"]))
        return answer(photo_reading.read_oil_colour(photo, papers, fresh, drained, given["compartment"]))


class PhotoMagnet(Endpoint):
    """Read how much of a marked magnet is covered; a suggestion, nothing is stored."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="photo_magnet", request=SpotRequest, responses=shape(Cover))
    def post(self, request, photo: str):
        return answer(photo_reading.read_magnet(photo, Spot(**self.read(SpotRequest))))


class Swatches(Endpoint):
    """The colours that an oil of a family is compared with."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="swatches", responses=shape(Swatch, many=True), parameters=[OpenApiParameter("family", str)])
    def get(self, request):
        return answer(list(swatches(request.query_params.get("family", "gear"))))


class SmallPhoto(Endpoint):
    """A photo, small."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="small_photo", responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request, photo: str):
        headers = {"Cache-Control": "private, max-age=86400", "X-Content-Type-Options": "nosniff"}
        return FileResponse(photo_file(photo, small=True).open("rb"), content_type="image/jpeg", headers=headers)


class Debris(Endpoint):
    """The table by which findings are judged."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="debris_table", responses=shape(queries.DebrisRule, many=True))
    def get(self, request):
        return answer(queries.debris_table())
