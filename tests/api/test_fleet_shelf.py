"""Vehicles, sheets, readings: entered, refused, imported."""

import datetime as dt

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from barodex.fleet.models import Reading, Vehicle
from barodex.shelf.models import SheetRevision, SpecSheet
from tests.conftest import TODAY

SHEET = {
    "name": "New box",
    "kind": "manual gearbox",
    "capacity_ml": "2.3 L",
    "family": "gear",
    "grade": "75W-80",
    "categories": "GL-4",
    "yellow_metal": True,
    "fill_method": "to the lip",
    "drain_method": "plug",
    "interval_km": "80 000 km",
    "interval_months": 60,
    "plugs": [
        {"role": "fill", "label": "fill plug", "drive": "hex socket", "size_mm": "12", "torque_nm": "27 lb ft"},
        {"role": "drain", "label": "drain plug", "torque_nm": ""},
    ],
    "sources": [
        {"figure": "capacity", "source": "plate", "trust": "verified"},
        {"figure": "torque", "source": "guess", "trust": "guessed"},
    ],
}


def test_a_sheet_is_written_canonically_with_its_sources(api, people):
    made = api.lead.post("/api/sheets", SHEET, expect=201)
    revision = SheetRevision.objects.get(sheet=made["id"])
    assert revision.capacity_ml == 2300
    assert revision.plugs.get(role="fill").torque_nm == pytest.approx(36.607, abs=1e-3)  # 27 × 1.35582, NIST SP 811
    assert revision.plugs.get(role="drain").torque_nm is None  # unknown is a state
    shown = api.viewer.get(f"/api/sheets/{made['id']}")
    assert {s["figure"]: s["trust"] for s in shown["revisions"][0]["sources"]} == {"capacity": "verified", "torque": "guessed"}


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"capacity_ml": "-3 L"}, "capacity_ml", "outside what is possible"),
        ({"capacity_ml": "2 qt"}, "capacity_ml", "US or imperial"),
        ({"capacity_ml": "2,300 mL"}, "capacity_ml", "can mean"),
        ({"capacity_ml": "nan"}, "capacity_ml", "no number"),
        ({"capacity_ml": "900 L"}, "capacity_ml", "allowed is 5 to 60000"),
        ({"grade": "75W-95"}, "grade", "Near"),
        ({"categories": "GL-9"}, "category", "not an API gear category"),
        ({"interval_km": "0"}, "interval_km", "allowed is"),
        ({"plugs": []}, "plugs", "no drain plug"),
        ({"name": "x" * 81}, "name", "no more than 80"),
        ({"family": "soup"}, "family", "not a valid choice"),
        ({"interval_months": 0}, "interval_months", "greater than or equal to 1"),
    ],
)
def test_a_bad_sheet_is_refused_at_its_field_and_nothing_is_written(api, people, change, field, words):
    problem = api.lead.post("/api/sheets", {**SHEET, **change}, expect=422)
    assert problem["errors"][0]["field"] == field
    assert words in problem["errors"][0]["message"]
    assert SpecSheet.objects.count() == 0


def test_a_revision_keeps_the_superseded_one(api, depot):
    body = {**SHEET, "capacity_ml": "1 800 mL", "reason": "bulletin"}
    api.lead.post(f"/api/sheets/{depot.box.pk}", body, expect=201)
    shown = api.viewer.get(f"/api/sheets/{depot.box.pk}")
    assert [r["capacity_ml"] for r in shown["revisions"]] == [1800, 1850]
    assert shown["revisions"][0]["reason"] == "bulletin"
    assert "Say why" in api.lead.post(f"/api/sheets/{depot.box.pk}", {**body, "reason": "x"}, expect=422)["detail"]


def test_a_vehicle_is_added_with_its_compartments(api, depot):
    body = {
        "name": "New van",
        "plate": "SKR 9",
        "kind": "van",
        "layout": "front-wheel",
        "meter": "km",
        "off_road_share": 0.25,
        "compartments": [{"name": "Gearbox", "slot": "transaxle", "sheet_id": depot.box.pk}],
    }
    made = api.lead.post("/api/vehicles", body, expect=201)
    vehicle = Vehicle.objects.get(pk=made["id"])
    assert vehicle.duty_split == {"road": 0.75, "off_road": 0.25}
    due = api.viewer.get(f"/api/due/{vehicle.pk}")["vehicles"][0]
    assert due["compartments"][0]["state"] == "unknown"  # no trace of a change counts as due
    assert due["per_day_is_default"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"name": "Old 4x4"}, "already"),
        ({"plate": "SKR 1"}, "on another vehicle"),
        ({"compartments": []}, "at least one"),
        ({"kind": "hovercraft"}, "not a valid choice"),
        ({"compartments": [{"name": "Gearbox", "slot": "transaxle", "sheet_id": 999}]}, "Choose the sheet"),
        ({"off_road_share": 1.4}, "less than or equal to 1"),
    ],
)
def test_a_bad_vehicle_is_refused_whole(api, depot, change, words):
    body = {
        "name": "New van",
        "kind": "van",
        "layout": "front-wheel",
        "meter": "km",
        "compartments": [{"name": "Gearbox", "slot": "transaxle", "sheet_id": depot.box.pk}],
    }
    problem = api.lead.post("/api/vehicles", {**body, **change}, expect=422)
    assert words in str(problem["errors"])
    assert Vehicle.objects.count() == 1


def test_a_reading_is_typed_in_any_unit(api, depot):
    path = f"/api/vehicles/{depot.vehicle.pk}/readings"
    made = api.technician.post(path, {"value": "45k mi"}, expect=201)
    assert made["value"] == pytest.approx(45_000 * 1.609344, abs=1e-3)  # NIST SP 811
    api.technician.post(path, {"value": "45k mi"}, expect=201)
    assert Reading.objects.filter(vehicle=depot.vehicle).count() == 4  # pressed twice, written once


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"value": "71 000 km"}, "was the meter swapped"),
        ({"value": "-5"}, "outside what is possible"),
        ({"value": "999999999"}, "outside"),
        ({"value": "95 000 km"}, "a digit too many"),
        ({"value": "72 000", "on": "2026-06-16"}, "in the future"),
        ({"value": "two"}, "no number"),
        ({"value": "80.000 km"}, "can mean"),
        ({"value": "10", "on": "1890-01-01"}, "too long ago"),
        ({"value": "9" * 70}, "no more than 60"),
    ],
)
def test_a_bad_reading_is_refused(api, depot, body, words):
    problem = api.technician.post(f"/api/vehicles/{depot.vehicle.pk}/readings", body, expect=422)
    assert words in problem["errors"][0]["message"]
    assert Reading.objects.filter(vehicle=depot.vehicle).count() == 3


def test_a_swapped_meter_is_accepted_when_it_is_said(api, depot):
    api.technician.post(f"/api/vehicles/{depot.vehicle.pk}/readings", {"value": "12 km", "swap": True}, expect=201)
    due = api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]
    gearbox = next(c for c in due["compartments"] if c["name"] == "Gearbox")
    assert gearbox["used"] == pytest.approx(365 / 1461, abs=0.01)  # by time; the distance goes on counting across the swap


def send(api, content, name="readings.csv"):
    return api.technician.client.post("/api/readings/file", {"file": SimpleUploadedFile(name, content)})


def test_a_file_is_taken_once(api, depot):
    content = f"vehicle,date,reading,unit\nOld 4x4,{TODAY},71900,km\nSKR 1,{TODAY - dt.timedelta(days=3)},44600,mi\n".encode()
    assert send(api, content).json() == {"added": 2, "known": 0}
    assert send(api, content).json() == {"added": 0, "known": 2}


def test_semicolons_and_a_byte_order_mark_are_fine(api, depot):
    assert send(api, f"\ufeffvehicle;date;reading;unit\nOld 4x4;{TODAY};71900;\n".encode()).json()["added"] == 1


def test_one_bad_row_refuses_the_file_and_names_the_row(api, depot):
    content = f"vehicle,date,reading,unit\nOld 4x4,{TODAY},71900,km\nGhost,{TODAY},5,km\nOld 4x4,yesterday,5,km\nOld 4x4,{TODAY},=1+1,km\nOld 4x4,{TODAY},60000,km\n"
    response = send(api, content.encode())
    assert response.status_code == 422
    rows = [e for e in response.json()["errors"] if e["field"].startswith("row ")]
    assert [r["line"] for r in rows] == [3, 4, 5, 6]
    assert [w in r["message"] for w, r in zip(("No vehicle", "year-month-day", "formula", "lower than"), rows, strict=True)] == [True] * 4
    assert rows[0]["value"] == "Ghost"
    assert Reading.objects.filter(vehicle=depot.vehicle).count() == 3


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "must name the columns"),
        (b"just words\nand more", "must name the columns"),
        ("vehicle,date,reading\n".encode("utf-16"), "UTF-16"),
        (b"\x89PNG\x00\x00", "UTF-16 or not text"),
        (b"\xff\xfa\xfb", "not UTF-8"),
        (b"vehicle,date,reading,unit\n", "no row"),
        (b"x" * 1_000_001, "at most 1 MB"),
    ],
)
def test_what_is_not_a_file_of_readings_is_refused(api, depot, content, words):
    response = send(api, content)
    assert response.status_code == 422
    assert words in response.json()["detail"]


def test_no_file_at_all(api, depot):
    assert api.technician.client.post("/api/readings/file", {}).json()["detail"] == "Choose a file first."


def test_the_sample_is_taken_as_it_is(api, depot):
    sample = api.technician.client.get("/api/readings/file").content
    assert send(api, sample).json()["added"] == 1


def test_a_name_that_a_spreadsheet_would_run_is_a_text_there_and_read_again(api, depot):
    depot.vehicle.name = "=2+3, the van"
    depot.vehicle.save()
    sample = api.technician.client.get("/api/readings/file").content
    assert b'"\'=2+3, the van"' in sample
    assert send(api, sample).json()["added"] == 1


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"density15": 0.88}, "is it 880 kg/m³"),
        ({"density15": 500}, "allowed is 800 to 1164"),
        ({"categories": "GL-7"}, "not an API gear category"),
        ({"grade": "75W-91"}, "Near"),
        ({"name": "Light"}, "already"),
    ],
)
def test_a_bad_oil_is_refused(api, depot, body, words):
    problem = api.lead.post("/api/lubricants", {"name": "Odd", "family": "gear", **body}, expect=422)
    assert words in problem["detail"]


def test_a_container_cannot_hold_more_than_its_size(api, depot):
    body = {"lubricant_id": depot.light.pk, "label": "L", "size_ml": "1 L", "content_ml": "2 L"}
    assert "cannot hold more" in api.technician.post("/api/containers", body, expect=422)["detail"]


def test_settings_change_how_amounts_are_read_and_shown(api, depot):
    assert api.technician.call("patch", "/api/session", {"unit_system": "us"})["unit_system"] == "us"
    read = api.technician.post("/api/bench/read", {"text": "2 qt", "kind": "volume"})
    assert read["value"] == pytest.approx(2 * 3785.411784 / 4)  # NIST SP 811
    assert read["shown"].replace("\N{NO-BREAK SPACE}", " ") == "2.00 US qt"
