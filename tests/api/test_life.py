"""A vehicle's life: called anew, laid up and back, deleted without a past; compartments renamed, on another sheet, another box, taken out."""

import pytest

from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Box, Compartment, Vehicle
from tests.api.test_consequences import begin

pytestmark = pytest.mark.django_db


def details(api, depot):
    return api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}")


def on_due(api):
    return {v["name"] for v in api.viewer.get("/api/due")["vehicles"]}


def edit(api, depot, expect=200, **more):
    now = details(api, depot)
    body = {k: now[k] for k in ("name", "plate", "kind", "layout", "note")} | more
    return api.lead.post(f"/api/vehicles/{depot.vehicle.pk}", body, expect)


def test_a_vehicle_is_called_anew_everywhere(api, depot):
    edit(api, depot, name="  Old   Quay 4x4 ", plate="SK 77", kind="van", layout="front-wheel", note="the grey one")
    assert on_due(api) == {"Old Quay 4x4"}
    assert details(api, depot)["note"] == "the grey one"
    assert edit(api, depot, 422, name=" ")["errors"][0]["field"] == "name"
    api.technician.post(f"/api/vehicles/{depot.vehicle.pk}", {}, 403)
    other = Vehicle.objects.create(name="Other", plate="AB-1", kind="car", layout="front-wheel")
    assert edit(api, depot, 422, name="oTHER")["errors"][0]["field"] == "name"
    assert edit(api, depot, 422, plate="a b1")["errors"][0]["field"] == "plate"
    assert other.pk


def test_a_sold_vehicle_leaves_due_and_what_hangs_on_it_and_may_come_back(api, depot, people):
    service = begin(api, depot)
    refused = api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/retire", {"how": "sold"}, 409)
    assert "is on the bench" in refused["detail"]
    walk(people["technician"], service, {"Gearbox": Outcome(1500, 20)})
    assert api.viewer.get("/api/due")["consequences"]
    visit = {"vehicle_id": depot.vehicle.pk, "on": "2026-06-24", "bay": 1, "compartments": [depot.gearbox.pk]}
    api.lead.post("/api/plan/visits", visit, 201)
    api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/retire", {"how": "sold", "note": "to the north", "on": "2027-01-01"}, 422)
    api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/retire", {"how": "sold", "note": "to the north"})
    board = api.viewer.get("/api/due")
    assert (board["vehicles"], board["consequences"]) == ([], [])
    assert api.viewer.get("/api/plan/horizon?days=300")["rows"] == []
    assert all(not s["lines"] for s in api.viewer.get("/api/plan/morning")["sections"])
    assert api.viewer.get("/api/book/audit")["items"] == []
    assert [(v["name"], v["how"], v["note"]) for v in api.viewer.get("/api/vehicles/retired")] == [
        (depot.vehicle.name, "sold", "to the north")
    ]
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}
    again = api.technician.post("/api/services", {"vehicle_id": depot.vehicle.pk, "jobs": [job], "at_hand": ["Light"]}, 422)
    assert again["detail"] == f"{depot.vehicle.name} is sold: bring it back first."
    api.lead.call("delete", f"/api/vehicles/{depot.vehicle.pk}/retire")
    assert on_due(api) == {depot.vehicle.name}
    assert api.viewer.get("/api/due")["consequences"]
    assert "was never away" in api.lead.call("delete", f"/api/vehicles/{depot.vehicle.pk}/retire", expect=422)["detail"]


def test_only_what_has_no_past_is_deleted(api, depot, people):
    body = {"name": "Slip", "kind": "car", "layout": "front-wheel", "meter": "km", "meter_value": "12 000 km"}
    boxes = [{"name": "Gearbox", "slot": "gearbox", "sheet_id": depot.box.pk}]
    made = api.lead.post("/api/vehicles", {**body, "compartments": boxes}, 201)["id"]
    held = Box.objects.count()
    api.lead.call("delete", f"/api/vehicles/{made}", expect=204)
    assert (Vehicle.objects.filter(pk=made).exists(), Box.objects.count()) == (False, held - 1)
    walk(people["technician"], begin(api, depot), {"Gearbox": Outcome(1820, 20)})
    assert "has a past in the book" in api.lead.call("delete", f"/api/vehicles/{depot.vehicle.pk}", expect=422)["detail"]
    assert depot.vehicle.readings.exists()
    assert Compartment.objects.filter(pk=depot.gearbox.pk).exists()


def other_sheet(api, kind="manual gearbox"):
    plugs = [{"role": "fill", "label": "fill plug"}, {"role": "drain", "label": "drain plug"}]
    body = {"name": f"Other {kind}", "kind": kind, "family": "gear", "fill_method": "to the lip", "drain_method": "plug", "plugs": plugs}
    return api.lead.post("/api/sheets", {**body, "capacity_ml": "2.2 L", "sources": []}, 201)["id"]


def test_a_compartment_is_renamed_and_put_on_another_sheet_of_its_kind(api, depot, people):
    path = f"/api/compartments/{depot.gearbox.pk}"
    sheet = other_sheet(api, depot.box.kind)
    api.lead.call("patch", path, {"name": "Five-speed box", "sheet_id": sheet})
    row = next(c for c in api.viewer.get("/api/due")["vehicles"][0]["compartments"] if c["id"] == depot.gearbox.pk)
    assert (row["name"], row["sheet_id"], row["capacity_ml"]) == ("Five-speed box", sheet, 2200)
    assert api.lead.call("patch", path, {"name": ""}, 422)["errors"][0]["field"] == "name"
    walk(people["technician"], begin(api, depot), {"Five-speed box": Outcome(2150, 20)})
    axle = other_sheet(api, "axle")
    assert "has a past as" in api.lead.call("patch", path, {"sheet_id": axle}, 422)["detail"]


def test_another_box_is_fitted_and_the_old_one_waits_in_the_store_with_its_past(api, depot, people):
    walk(people["technician"], begin(api, depot), {"Gearbox": Outcome(1820, 20)})
    path = f"/api/compartments/{depot.gearbox.pk}"
    assert api.lead.post(f"{path}/box", {"number": "G2"}, 422)["errors"][0]["field"] == "why"
    api.lead.post(f"{path}/box", {"number": "G2", "note": "rebuilt", "meter_value": "72 500 km", "why": "third gear whined"}, 201)
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] == []
    (stored,) = api.viewer.get("/api/boxes")
    assert (stored["changes"], stored["last_fitted"]) == (
        len(Box.objects.get(pk=stored["id"]).records.all()),
        f"{depot.vehicle.name}, Gearbox",
    )
    fitted = api.viewer.get(f"{path}/fittings")
    assert [(f["number"], f["here"], f["why"]) for f in fitted] == [("G2", True, "third gear whined"), ("", False, "")]
    api.lead.post(f"{path}/box", {"box_id": stored["id"], "why": "back in, mended"}, 201)
    assert len(api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]) == stored["changes"]
    assert [b["number"] for b in api.viewer.get("/api/boxes")] == ["G2"]


def test_a_compartment_is_taken_out_deleted_without_a_past_kept_with_one(api, depot, people):
    fresh = api.lead.post(
        f"/api/vehicles/{depot.vehicle.pk}/compartments", {"name": "Slip", "slot": "rear axle", "sheet_id": depot.box.pk}, 201
    )["id"]
    api.lead.call("delete", f"/api/compartments/{fresh}", {"why": ""}, 204)
    assert not Compartment.objects.filter(pk=fresh).exists()
    walk(people["technician"], begin(api, depot), {"Gearbox": Outcome(1820, 20)})
    path = f"/api/compartments/{depot.gearbox.pk}"
    assert api.lead.call("delete", path, {"why": ""}, 422)["errors"][0]["field"] == "why"
    api.lead.call("delete", path, {"why": "electric drive now"}, 204)
    assert depot.gearbox.pk not in {c["id"] for v in api.viewer.get("/api/due")["vehicles"] for c in v["compartments"]}
    assert (
        next(c for c in details(api, depot)["compartments"] if c["id"] == depot.gearbox.pk)["removed"] == "15 Jun 2026: electric drive now"
    )
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    assert depot.gearbox.pk not in {j["compartment"] for j in api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"]}
