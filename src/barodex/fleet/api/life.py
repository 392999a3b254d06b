"""A vehicle's life over HTTP: called anew, laid up, sold, back; compartments renamed, another box fitted, taken out."""

from __future__ import annotations

import datetime as dt
from dataclasses import asdict, dataclass

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.response import Response

from barodex import clock
from barodex.accounts.since import version_of
from barodex.fleet import actions
from barodex.fleet.models import LAYOUTS, LEFT_BY, SLOTS, VEHICLE_KINDS, Box, Compartment, Fitting, Vehicle
from barodex.http.endpoints import FROM_VERSION, Endpoint, Made, Words, answer, read_meter, shape, started_from


@dataclass(frozen=True)
class CompartmentOfVehicle:
    """A compartment as it is called; ``removed``: since when it is gone and why, empty where it is there."""

    id: int
    name: str
    slot: str
    sheet_id: int
    sheet: str
    kind: str
    box: str
    removed: str


@dataclass(frozen=True)
class VehicleDetails:
    """What a vehicle is called, its compartments, and whether it is in use (``retired_on`` empty) or how it left."""

    id: int
    name: str
    plate: str
    kind: str
    layout: str
    note: str
    meter: str
    retired_on: dt.date | None
    retired_how: str
    retired_note: str
    compartments: tuple[CompartmentOfVehicle, ...]
    left_by: tuple[str, ...]
    version: int
    depot: str = ""
    driver: str = ""


def details_of(v: Vehicle) -> VehicleDetails:
    """What a vehicle is called as it stands."""
    rows = v.compartments.select_related("sheet", "box").order_by("id")
    return VehicleDetails(
        id=v.pk,
        name=v.name,
        plate=v.plate,
        kind=v.kind,
        layout=v.layout,
        note=v.note,
        meter=v.meter,
        retired_on=v.retired_on,
        retired_how=v.retired_how,
        retired_note=v.retired_note,
        compartments=tuple(
            CompartmentOfVehicle(
                id=c.pk,
                name=c.name,
                slot=c.slot,
                sheet_id=c.sheet_id,
                sheet=c.sheet.name,
                kind=c.sheet.kind,
                box=c.box.number,
                removed=f"{c.removed_on:%d %b %Y}: {c.removed_why}" if c.removed_on else "",
            )
            for c in rows
        ),
        left_by=LEFT_BY,
        version=version_of(asdict(actions.called(v))),
        depot=v.depot,
        driver=v.driver,
    )


class CalledRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60, allow_blank=True)
    plate = Words(20)
    kind = serializers.ChoiceField(choices=VEHICLE_KINDS)
    layout = serializers.ChoiceField(choices=LAYOUTS)
    note = Words(300)
    depot = Words(60)
    driver = Words(60)


class OneVehicle(Endpoint):
    """What a vehicle is called; call it anew; delete one that has no past."""

    roles = {"GET": "viewer", "POST": "lead", "DELETE": "lead"}

    @extend_schema(operation_id="vehicle_details", responses=shape(VehicleDetails))
    def get(self, request, vehicle: int):
        return answer(details_of(Vehicle.objects.get(pk=vehicle)))

    @extend_schema(operation_id="edit_vehicle", request=CalledRequest, responses=shape(VehicleDetails), parameters=[FROM_VERSION])
    def post(self, request, vehicle: int):
        made = actions.edit_vehicle(request.user, vehicle, actions.Called(**self.read(CalledRequest)), started_from(request))
        return answer(details_of(made))

    @extend_schema(operation_id="delete_vehicle", responses={204: None})
    def delete(self, request, vehicle: int):
        actions.delete_vehicle(request.user, vehicle)
        return Response(status=204)


class RetireRequest(serializers.Serializer):
    on = serializers.DateField(required=False, allow_null=True, default=None)
    how = serializers.ChoiceField(choices=LEFT_BY)
    note = Words(200)


class Retire(Endpoint):
    """Lay a vehicle up, sell or scrap it; or bring it back."""

    roles = {"POST": "lead", "DELETE": "lead"}

    @extend_schema(operation_id="retire_vehicle", request=RetireRequest, responses=shape(VehicleDetails))
    def post(self, request, vehicle: int):
        given = self.read(RetireRequest)
        return answer(details_of(actions.retire(request.user, vehicle, given["on"] or clock.today(), given["how"], given["note"])))

    @extend_schema(operation_id="bring_back", responses=shape(VehicleDetails))
    def delete(self, request, vehicle: int):
        return answer(details_of(actions.bring_back(request.user, vehicle)))


@dataclass(frozen=True)
class RetiredView:
    """A vehicle that is no more in use."""

    id: int
    name: str
    plate: str
    on: dt.date
    how: str
    note: str


class Retired(Endpoint):
    """Vehicles that are no more in use; their past stays in the Book."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="retired_vehicles", responses=shape(RetiredView, many=True))
    def get(self, request):
        rows = Vehicle.objects.exclude(retired_on=None).order_by("-retired_on", "name")
        return answer([RetiredView(v.pk, v.name, v.plate, v.retired_on, v.retired_how, v.retired_note) for v in rows if v.retired_on])


class PlaceRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60, required=False, allow_blank=True)
    slot = serializers.ChoiceField(choices=SLOTS, required=False)
    sheet_id = serializers.IntegerField(required=False)


class WhyRequest(serializers.Serializer):
    why = Words(200)


class Place(Endpoint):
    """Rename a compartment, put it on another sheet, or take it out."""

    roles = {"PATCH": "lead", "DELETE": "lead"}

    @extend_schema(operation_id="edit_compartment", request=PlaceRequest, responses=shape(VehicleDetails))
    def patch(self, request, compartment: int):
        made = actions.edit_compartment(request.user, compartment, self.read(PlaceRequest))
        return answer(details_of(made.vehicle))

    @extend_schema(operation_id="remove_compartment", request=WhyRequest, responses={204: None})
    def delete(self, request, compartment: int):
        actions.remove_compartment(request.user, compartment, self.read(WhyRequest)["why"])
        return Response(status=204)


@dataclass(frozen=True)
class StoredBox:
    """A box that is fitted nowhere: what is known of it, where it was fitted last, and how many changes it has on record."""

    id: int
    number: str
    note: str
    last_fitted: str
    kind: str
    changes: int


class Boxes(Endpoint):
    """Boxes in the store."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="stored_boxes", responses=shape(StoredBox, many=True))
    def get(self, request):
        found = []
        for box in Box.objects.filter(place=None).prefetch_related("fittings__compartment__vehicle", "fittings__compartment__sheet"):
            last = max(box.fittings.all(), key=lambda f: f.pk, default=None)
            where = f"{last.compartment.vehicle.name}, {last.compartment.name}" if last else ""
            kind = last.compartment.sheet.kind if last else ""
            found.append(StoredBox(box.pk, box.number, box.note, where, kind, box.records.count()))
        return answer(found)


class OtherBoxRequest(serializers.Serializer):
    on = serializers.DateField(required=False, allow_null=True, default=None)
    meter_value = Words(60)
    box_id = serializers.IntegerField(required=False, allow_null=True, default=None)
    number = Words(40)
    note = Words(300)
    why = Words(200)


class OtherBox(Endpoint):
    """Fit another box at a place; the one that comes off takes its past along into the store."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="fit_box", request=OtherBoxRequest, responses={201: shape(Made)})
    def post(self, request, compartment: int):
        given = self.read(OtherBoxRequest)
        place = Compartment.objects.select_related("vehicle").get(pk=compartment)
        typed = given["meter_value"].strip()
        meter = read_meter(request, place.vehicle.meter, typed, "meter_value") if typed else None
        other = actions.OtherBox(given["box_id"], given["number"], given["note"])
        made = actions.fit_box(request.user, compartment, given["on"] or clock.today(), meter, other, given["why"])
        return answer(Made(made.pk), 201)


@dataclass(frozen=True)
class FittedView:
    """A box at a place, from and to which day (None: before the book began, and to this day), and why."""

    box: int
    number: str
    note: str
    on: dt.date | None
    off: dt.date | None
    why: str
    here: bool


class Fittings(Endpoint):
    """The boxes that were fitted at a place, the newest first."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="fittings", responses=shape(FittedView, many=True))
    def get(self, request, compartment: int):
        place = Compartment.objects.select_related("box").get(pk=compartment)
        rows = Fitting.objects.filter(compartment=place).select_related("box").order_by("-id")
        found = [
            FittedView(f.box_id, f.box.number, f.box.note, f.on, f.off, f.why, f.box_id == place.box_id and f.off is None) for f in rows
        ]
        if not any(f.here for f in found):
            found.insert(0, FittedView(place.box_id, place.box.number, place.box.note, None, None, "", True))
        return answer(found)
