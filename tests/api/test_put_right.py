"""A mistyped reading is set right, and with it the record of its visit; a record in the wrong place is moved with all that it says."""

import datetime as dt

import pytest

from barodex.book.models import OilRecord, ServicePhoto
from barodex.book.queries import history
from barodex.fleet.actions import CompartmentSpec, OtherBox, VehicleSpec, add_compartment, add_vehicle, fit_box
from barodex.fleet.models import Reading
from tests.conftest import NOW

pytestmark = pytest.mark.django_db


def reading_of(depot, **only):
    return Reading.objects.get(vehicle=depot.vehicle, **only)


def put_right(api, reading, expect=201, **said):
    return api.technician.post(
        f"/api/readings/{reading.pk}/correct", {"on": str(reading.on), "reason": "a digit slipped", **said}, expect=expect
    )


@pytest.fixture
def twin_box(people, depot):
    """A second vehicle with a gearbox of the same sheet."""
    made = add_vehicle(
        people["lead"],
        VehicleSpec("Newer 4x4", "4x4", "four-wheel", plate="SKR 2", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),)),
    )
    return made.compartments.get()


def test_a_reading_is_set_right_and_the_old_one_stays_struck_out(api, depot):
    wrong = reading_of(depot, value=71_700)
    put_right(api, wrong, value="71 070 km")
    rows = api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}/readings")
    said = {r["value"]: r["void"] for r in rows}
    assert said[71_070] == ""
    assert said[71_700].endswith("Technician: a digit slipped")
    assert api.viewer.get("/api/due")["vehicles"][0]["meter_now"] == 71_070


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"value": "40 000 km"}, "value"),  # below the one before
        ({"value": "71 700 km"}, "value"),  # as it is
        ({"value": "much"}, "value"),
        ({"value": "71 800 km", "on": "2027-01-01"}, "on"),
        ({"value": "71 800 km", "reason": " "}, "reason"),
    ],
)
def test_what_cannot_be_is_refused_and_the_old_one_stands(api, depot, said, field):
    wrong = reading_of(depot, value=71_700)
    problem = put_right(api, wrong, 422, **said)
    assert problem["errors"][0]["field"] == field
    assert reading_of(depot, value=71_700).pk == wrong.pk


def test_the_record_of_a_visit_follows_its_reading(api, depot):
    wrong = reading_of(depot, value=61_000)
    put_right(api, wrong, value="60 100 km", on="2025-06-14")
    (record,) = history(depot.gearbox.pk).records
    assert (record.on, record.meter_value) == (dt.date(2025, 6, 14), 60_100)
    assert {c.field for c in record.corrections} == {"meter_value", "on"}


def test_the_reading_follows_its_record(api, depot):
    (record,) = OilRecord.objects.all()
    body = {"field": "meter_value", "value": "60 100 km", "reason": "a digit slipped"}
    api.technician.post(f"/api/records/{record.pk}/corrections", body, expect=201)
    assert reading_of(depot, value=60_100).on == dt.date(2025, 6, 15)
    assert not Reading.objects.filter(vehicle=depot.vehicle, value=61_000).exists()
    refused = api.technician.post(f"/api/records/{record.pk}/corrections", {**body, "value": "40 100 km"}, expect=422)
    assert "50\N{NO-BREAK SPACE}000 km" in refused["detail"]  # below the reading of the year before


def test_a_record_is_moved_to_the_right_vehicle_with_all_that_it_says(api, depot, record, twin_box):
    before = next(r for r in history(depot.gearbox.pk).records if r.id == record.pk)
    body = {"compartment_id": twin_box.pk, "meter_value": "12 400 km", "reason": "the wrong one was tapped"}
    made = api.lead.post(f"/api/records/{record.pk}/move", body, expect=201)["id"]
    (after,) = history(twin_box.pk).records
    assert after.id == made
    assert [(e.kind, e.volume_ml, e.container) for e in after.entries] == [(e.kind, e.volume_ml, e.container) for e in before.entries]
    assert (after.oil, after.level, after.magnet, after.torques, after.meter_value) == (
        before.oil,
        before.level,
        before.magnet,
        before.torques,
        12_400,
    )
    assert f"moved from {depot.vehicle.name}, Gearbox: the wrong one was tapped" in after.gaps
    assert record.pk not in [r.id for r in history(depot.gearbox.pk).records]
    assert "moved to Newer 4x4, Gearbox" in history(depot.gearbox.pk).voided[0].void
    # the reading that came with it was of the other vehicle too
    assert not Reading.objects.filter(vehicle=depot.vehicle, value=72_000).exists()
    assert Reading.objects.get(vehicle=twin_box.vehicle).value == 12_400
    due = {v["name"]: v for v in api.viewer.get("/api/due")["vehicles"]}
    assert due["Newer 4x4"]["compartments"][0]["last_on"] == str(NOW.date())
    assert next(c for c in due["Old 4x4"]["compartments"] if c["name"] == "Gearbox")["last_on"] == "2025-06-15"
    assert api.viewer.get("/api/book/waste")["total_ml"] == pytest.approx(1640, abs=60)  # once, not twice


def test_photos_go_with_a_moved_record(api, people, depot, record, twin_box):
    photo = ServicePhoto.objects.create(
        id="11111111-1111-4111-8111-111111111111",
        service=record.service,
        step="look",
        task="Look at the oil",
        compartment=depot.gearbox,
        width=10,
        height=10,
        sha256="0" * 64,
        by=people["technician"],
        at=NOW,
    )
    api.lead.post(
        f"/api/records/{record.pk}/move", {"compartment_id": twin_box.pk, "meter_value": "12 400 km", "reason": "wrong one"}, expect=201
    )
    (after,) = history(twin_box.pk).records
    assert [p.id for p in after.photos] == [str(photo.pk)]


def test_a_record_is_moved_to_the_box_that_was_fitted_that_day(api, people, depot, record, twin_box):
    old = twin_box.box_id
    fit_box(people["lead"], twin_box.pk, NOW.date(), None, OtherBox(number="B 2"), "the old one broke")
    first = OilRecord.objects.exclude(pk=record.pk).get()
    api.lead.post(
        f"/api/records/{first.pk}/move", {"compartment_id": twin_box.pk, "meter_value": "9 000 km", "reason": "wrong one"}, expect=201
    )
    assert OilRecord.objects.get(compartment=twin_box).box_id == old


def test_what_cannot_be_moved_is_refused(api, people, depot, record, twin_box):
    def move(expect=422, **said):
        return api.lead.post(f"/api/records/{record.pk}/move", {"reason": "wrong one", **said}, expect=expect)["errors"][0]["field"]

    assert move(compartment_id=depot.gearbox.pk) == "compartment_id"
    assert move(compartment_id=depot.rear.pk) == "compartment_id"  # its plugs are those of a gearbox
    assert move(compartment_id=twin_box.pk, meter_value="12 000 km", reason=" ") == "reason"
    assert move(compartment_id=twin_box.pk, meter_value="much") == "meter_value"
    beside = add_compartment(people["lead"], depot.vehicle.pk, CompartmentSpec("Second box", "transaxle", depot.box.pk))
    assert move(compartment_id=beside.pk, meter_value="71 000 km") == "meter_value"  # the same vehicle has one reading that day
    api.technician.post(f"/api/records/{record.pk}/move", {"compartment_id": twin_box.pk, "reason": "wrong one"}, expect=403)
    assert OilRecord.objects.get(pk=record.pk).compartment_id == depot.gearbox.pk
