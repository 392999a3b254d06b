"""A vehicle's file over HTTP: out, held against this book, taken in."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import StreamingHttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.accounts.names import alike
from barodex.core.words import say
from barodex.files.vehicle.gather import vehicle_file
from barodex.files.vehicle.plan import CONFLICT, NEW, SAME, Part, plan_for
from barodex.files.vehicle.reading import read_vehicle_file
from barodex.files.vehicle.schema import schema
from barodex.files.vehicle.taking import take_vehicle
from barodex.fleet.models import Vehicle
from barodex.http.endpoints import Endpoint, answer, shape

from .uploaded import Uploaded

SHOWN = 60  # of what is new or the same; what is in conflict is shown whole


@dataclass(frozen=True)
class PartCount:
    """How many of what are new, the same, in conflict."""

    what: str
    new: int
    same: int
    conflict: int


@dataclass(frozen=True)
class VehiclePreview:
    """A vehicle's file held against this book: where and when it was written, how many of what stand how, and what is to be known."""

    vehicle: str
    plate: str
    workshop: str
    made: str
    left_behind: int
    counts: tuple[PartCount, ...]
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class VehicleTaken:
    """What was made of a file: the vehicle, and the import by which it can be undone."""

    vehicle: int
    run: int


class VehicleFileRequest(serializers.Serializer):
    file = serializers.FileField()


class VehicleFile(Endpoint):
    """One vehicle with its compartments, sheets, oils, history and photos as a ZIP."""

    roles = {"GET": "technician"}

    @extend_schema(operation_id="vehicle_file", responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request, vehicle: int):
        name = alike(Vehicle.objects.get(pk=vehicle).name).encode("ascii", "ignore").decode() or str(vehicle)
        response = StreamingHttpResponse(vehicle_file(request.user, vehicle), content_type="application/zip")
        response["Content-Disposition"] = say(
            'attachment; filename="vehicle-{name}-{today}.zip"', name=name, today=f"{clock.today():%Y-%m-%d}"
        )
        return response


class VehicleFileSchema(Endpoint):
    """The JSON Schema of a vehicle's file."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_file_schema", responses=OpenApiTypes.OBJECT)
    def get(self, request):
        return answer(schema())


class VehiclePreviewed(Uploaded):
    """Hold a vehicle's file against this book; nothing is written."""

    roles = {"POST": "lead"}

    @extend_schema(
        operation_id="preview_vehicle_file", request={"multipart/form-data": VehicleFileRequest}, responses=shape(VehiclePreview)
    )
    def post(self, request):
        path, _ = self.uploaded()
        plan = plan_for(read_vehicle_file(path))
        counts = plan.counts()
        row = plan.file.rows["fleet.vehicle"][0]
        said = [p for p in plan.parts if p.note] + [p for p in plan.parts if not p.note and p.what in ("change", "sheet", "oil")][:SHOWN]
        whats = dict.fromkeys(p.what for p in plan.parts)
        return answer(
            VehiclePreview(
                vehicle=row["name"],
                plate=row["plate"],
                workshop=plan.file.workshop,
                made=plan.file.made,
                left_behind=plan.file.left_behind,
                counts=tuple(PartCount(w, counts[w, NEW], counts[w, SAME], counts[w, CONFLICT]) for w in whats),
                parts=tuple(said),
            )
        )


class VehicleTake(Uploaded):
    """Take a vehicle's file in: what is new comes, what is here stays."""

    roles = {"POST": "lead"}

    @extend_schema(
        operation_id="take_vehicle_file", request={"multipart/form-data": VehicleFileRequest}, responses={201: shape(VehicleTaken)}
    )
    def post(self, request):
        run, vehicle = take_vehicle(request.user, *self.uploaded())
        return answer(VehicleTaken(vehicle, run.pk), 201)
