"""A vehicle that is twice in the book is made one: nothing is lost, and it comes apart again as it was."""

import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile

from barodex.book.models import OilRecord
from barodex.book.queries import history
from barodex.files.whole.kept import kept_models, line_of, rows_of
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_vehicle, retire
from barodex.fleet.codes import code_of
from barodex.fleet.models import Compartment, Reading, Vehicle
from tests.conftest import NOW

pytestmark = pytest.mark.django_db
APART = {"accounts.auditentry", "fleet.merge"}


@pytest.fixture
def twin(people, depot, api):
    """The same 4x4, typed in a second time by somebody else: its own readings, one change that the first has too, one that it has not."""
    made = add_vehicle(
        people["lead"],
        VehicleSpec(
            "4x4 old",
            "4x4",
            "four-wheel",
            note="found in the other folder",
            compartments=(
                CompartmentSpec("Gear box", "gearbox", depot.box.pk),
                CompartmentSpec("Back axle", "rear axle", depot.axle.pk),
                CompartmentSpec("Winch gear", "front axle", depot.axle.pk),
            ),
        ),
    )
    box, axle, _ = made.compartments.order_by("id")
    for on, value in (("2025-01-10", "54 000 km"), ("2025-06-15", "61 000 km"), ("2024-01-01", "70 000 km")):
        Reading.objects.create(
            vehicle=made, on=on, value=float(value.split(" km")[0].replace(" ", "")), by=people["lead"], at="2026-06-15T08:00Z"
        )
    paper = {"on": "2025-06-15", "meter_value": "61 000 km", "lubricant_id": depot.light.pk, "poured_ml": "1850 mL"}
    api.technician.post(f"/api/book/{box.pk}", paper, expect=201)
    api.technician.post(
        f"/api/book/{axle.pk}",
        {"on": "2025-01-10", "meter_value": "54 000 km", "lubricant_id": depot.heavy.pk, "poured_ml": "1500 mL"},
        expect=201,
    )
    return made


def everything() -> dict[str, list[bytes]]:
    """Every row of the book as a file would hold it."""
    return {m._meta.label_lower: [line_of(r) for r in rows_of(m)] for m in kept_models() if m._meta.label_lower not in APART}


def pairs_of(seen, **other):
    return {"pairs": [{"other_id": p["other_id"], "kept_id": p["kept_id"]} for p in seen["pairs"]]} | other


def test_side_by_side_says_what_becomes_of_each(api, depot, twin):
    seen = api.lead.get(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}")
    assert [(p["other"], p["kept"], p["changes"]) for p in seen["pairs"]] == [
        ("Gear box", "Gearbox", 1),
        ("Back axle", "Rear axle", 1),
        ("Winch gear", "", 0),
    ]
    assert (seen["readings"], seen["twice"], seen["contrary"], seen["changes"]) == (1, 1, 1, 1)
    assert seen["twins"] == ["Gear box, 15 Jun 2025: Light"]
    rows = {r["what"]: (r["kept"], r["other"], r["after"]) for r in seen["rows"]}
    assert rows["Called"] == ("Old 4x4", "4x4 old", "Old 4x4")
    assert rows["Note"] == ("", "found in the other folder", "found in the other folder")
    assert seen["doubts"] == []
    Vehicle.objects.filter(pk=twin.pk).update(plate="OTH 1", kind="van")
    doubts = api.lead.get(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}")["doubts"]
    assert doubts == ["They have two plates, SKR 1 and OTH 1.", "One is a 4x4, the other a van."]
    assert api.technician.client.get(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}").status_code == 403


def test_both_are_one_and_nothing_is_lost(api, depot, twin):
    records, readings = OilRecord.everything.count(), Reading.everything.count()
    seen = api.lead.get(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}")
    api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}", pairs_of(seen), expect=201)
    assert [v["name"] for v in api.viewer.get("/api/due")["vehicles"]] == ["Old 4x4"]
    assert (OilRecord.everything.count(), Reading.everything.count()) == (records, readings)
    axle = history(depot.rear.pk)
    assert [(r.on.isoformat(), r.poured_ml) for r in axle.records] == [("2025-01-10", 1500)]
    gearbox = history(depot.gearbox.pk)
    assert len(gearbox.records) == 1
    assert "it has this change" in gearbox.voided[0].void
    values = list(Reading.objects.filter(vehicle=depot.vehicle).order_by("on").values_list("value", flat=True))
    assert values == sorted(values)
    assert 54_000 in values
    assert Compartment.objects.get(name="Winch gear").vehicle == depot.vehicle
    assert Vehicle.objects.get(pk=depot.vehicle.pk).note == "found in the other folder"
    retired = api.viewer.get("/api/vehicles/retired")
    assert [(v["name"], v["how"], v["note"]) for v in retired] == [("4x4 old", "merged", "into Old 4x4")]
    assert [m["other"] for m in api.lead.get(f"/api/vehicles/{depot.vehicle.pk}/merges")] == ["4x4 old"]


def test_taken_back_every_row_is_what_it_was(api, depot, twin):
    before = everything()
    seen = api.lead.get(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}")
    made = api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}", pairs_of(seen), expect=201)["id"]
    assert everything() != before
    api.lead.call("delete", f"/api/merges/{made}")
    assert everything() == before
    assert "taken back already" in api.lead.call("delete", f"/api/merges/{made}", expect=422)["detail"]


def test_the_one_that_went_in_comes_back_only_by_taking_them_apart(api, people, depot, twin):
    address = f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}"
    made = api.lead.post(address, pairs_of(api.lead.get(address)), expect=201)["id"]
    assert "take them apart" in api.lead.call("delete", f"/api/vehicles/{twin.pk}/retire", expect=422)["detail"]
    assert "take them apart" in api.lead.post(f"/api/vehicles/{twin.pk}/retire", {"how": "sold"}, expect=422)["detail"]
    third = add_vehicle(people["lead"], VehicleSpec("A third", "4x4", "four-wheel", plate="THR 3"))
    again = f"/api/vehicles/{third.pk}/merge/{depot.vehicle.pk}"
    second = api.lead.post(again, pairs_of(api.lead.get(again)), expect=201)["id"]
    assert "take that apart first" in api.lead.call("delete", f"/api/merges/{made}", expect=409)["detail"]
    api.lead.call("delete", f"/api/merges/{second}")
    api.lead.call("delete", f"/api/merges/{made}")
    assert Vehicle.objects.filter(retired_on=None).count() == 3


def test_one_that_is_in_use_does_not_vanish_into_one_that_is_not(api, people, depot, twin):
    retire(people["lead"], depot.vehicle.pk, NOW.date(), "sold")
    address = f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}"
    assert "no more in use" in api.lead.get(address)["problem"]
    assert "no more in use" in api.lead.post(address, pairs_of(api.lead.get(address)), expect=409)["detail"]


def test_a_file_that_names_the_one_that_went_in_means_the_one_that_stands(api, depot, twin):
    address = f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}"
    api.lead.post(address, pairs_of(api.lead.get(address)), expect=201)
    file = SimpleUploadedFile("r.csv", b"vehicle,date,reading,unit,duty\n4x4 old,2026-06-14,71900,km,\n")
    assert api.technician.client.post("/api/readings/file", {"file": file}).json() == {"added": 1, "known": 0}
    assert Reading.objects.get(value=71_900).vehicle == depot.vehicle


def test_a_label_of_the_one_that_went_in_leads_to_the_one_that_stands(api, depot, twin):
    code = code_of(twin.compartments.get(name="Back axle").box_id)
    address = f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}"
    api.lead.post(address, pairs_of(api.lead.get(address)), expect=201)
    assert api.viewer.get(f"/api/codes/{code}")["compartment"] == depot.rear.pk


def test_what_hangs_on_the_other_comes_along(api, people, depot, twin, record):
    """A service, a visit, a bottle on board: by the ties of the tables themselves, also those that nobody listed."""
    api.lead.post("/api/plan/visits", {"vehicle_id": depot.vehicle.pk, "on": "2026-06-22", "compartments": [depot.rear.pk]}, expect=201)
    api.technician.post(f"/api/containers/{depot.bottles[1].pk}/carry", {"vehicle_id": depot.vehicle.pk})
    seen = api.lead.get(f"/api/vehicles/{twin.pk}/merge/{depot.vehicle.pk}")  # the other way round: the one with the past goes in
    api.lead.post(f"/api/vehicles/{twin.pk}/merge/{depot.vehicle.pk}", pairs_of(seen), expect=201)
    for label, name in (("bay.service", "vehicle"), ("plan.plannedvisit", "vehicle"), ("shelf.container", "vehicle")):
        model = apps.get_model(label)
        assert model.objects.filter(**{name: twin}).exists(), label
        assert not model.objects.filter(**{name: depot.vehicle}).exists(), label
    assert Vehicle.objects.get(pk=twin.pk).plate == "SKR 1"
    box = Compartment.objects.get(vehicle=twin, name="Gear box")
    assert record.pk in [r.id for r in history(box.pk).records]
    (visit,) = apps.get_model("plan.plannedvisit").objects.all()
    assert [c.vehicle_id for c in visit.compartments.all()] == [twin.pk]


def test_what_cannot_be_one_is_refused(api, people, depot, twin):
    address = f"/api/vehicles/{depot.vehicle.pk}/merge/{twin.pk}"
    seen = api.lead.get(address)
    assert "Say of every compartment" in api.lead.post(address, {"pairs": []}, expect=422)["detail"]
    both = [{"other_id": p["other_id"], "kept_id": depot.rear.pk} for p in seen["pairs"]]
    assert "into one" in api.lead.post(address, {"pairs": both}, expect=422)["detail"]
    crossed = [{**p, "kept_id": depot.rear.pk if p["kept_id"] == depot.gearbox.pk else None} for p in pairs_of(seen)["pairs"]]
    assert "cannot be one" in api.lead.post(address, {"pairs": crossed}, expect=422)["detail"]
    assert "the same one" in api.lead.get(f"/api/vehicles/{twin.pk}/merge/{twin.pk}", expect=422)["detail"]
    Vehicle.objects.filter(pk=twin.pk).update(meter="h")
    assert "they cannot be the same" in api.lead.get(address)["problem"]
    assert "they cannot be the same" in api.lead.post(address, pairs_of(seen), expect=409)["detail"]
    Vehicle.objects.filter(pk=twin.pk).update(meter="km")
    api.technician.post(
        "/api/services",
        {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]},
        expect=201,
    )
    assert "on the bench" in api.lead.post(address, pairs_of(seen), expect=409)["detail"]
    assert Vehicle.objects.filter(retired_on=None).count() == 2
