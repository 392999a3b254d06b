"""A vehicle goes with its file: out of one book, held against another, taken in, taken back."""

import csv
import io
import json
import zipfile

import jsonschema
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from barodex.book.models import LedgerRow, OilRecord
from barodex.book.queries import history
from barodex.files.vehicle.gather import rows_of_vehicle, vehicle_file
from barodex.files.vehicle.schema import schema
from barodex.fleet.models import Reading, Vehicle
from barodex.shelf.models import Lubricant, SpecSheet
from barodex.workshop.models import Workshop


def written(by, vehicle) -> bytes:
    return b"".join(vehicle_file(by, vehicle.pk))


def send(api, path, content: bytes, expect=200, name="vehicle.zip"):
    response = api.lead.client.post(path, {"file": SimpleUploadedFile(name, content, "application/zip")})
    assert response.status_code == expect, response.content[:800]
    return response.json()


def content_of(file: bytes) -> dict:
    with zipfile.ZipFile(io.BytesIO(file)) as packed:
        return json.loads(packed.read("vehicle.json"))


def with_content(file: bytes, change) -> bytes:
    """The file with another content."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(file)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            said = old.read(name)
            if name == "vehicle.json":
                made = json.loads(said)
                change(made)
                said = json.dumps(made).encode()
            new.writestr(name, said)
    return out.getvalue()


@pytest.fixture
def file(people, depot, record):
    Workshop.objects.create(name="Skerrow depot")
    return written(people["technician"], depot.vehicle)


@pytest.fixture
def elsewhere(file):
    """As if the file were read in another workshop: nothing there is called as it was here."""
    Workshop.objects.update(name="Quay garage")
    Vehicle.objects.update(name="Something else", plate="OTH 1")
    for model in (SpecSheet, Lubricant):
        for row in model.objects.all():
            model.objects.filter(pk=row.pk).update(name=f"Ours {row.pk}")
    return file


def told(compartment_id: int) -> list[tuple]:
    """What a history says, but for the ids of this book."""
    return [
        (
            r.on,
            r.meter_value,
            r.oil,
            r.drained_ml,
            r.poured_ml,
            r.net_in_15_ml,
            r.loss_15_ml,
            r.level,
            r.magnet,
            r.note,
            len(r.follows),
            r.by,
        )
        for r in history(compartment_id).records
    ]


def test_the_file_fits_its_published_schema_and_opens_elsewhere(api, file, depot):
    published = api.viewer.get("/api/vehicle-file/schema")
    jsonschema.Draft202012Validator.check_schema(published)
    jsonschema.validate(content_of(file), published)
    with zipfile.ZipFile(io.BytesIO(file)) as packed:
        assert packed.testzip() is None
        rows = list(csv.DictReader(io.TextIOWrapper(packed.open("changes.csv"), "utf-8-sig")))
    assert [(r["plate"], r["vehicle"], r["compartment"]) for r in rows] == [("SKR 1", "Old 4x4", "Gearbox")] * 2
    assert "password" not in json.dumps(content_of(file))


def test_a_sold_vehicle_comes_into_another_book_with_its_whole_past(api, elsewhere, depot):
    before = told(depot.gearbox.pk)
    seen = send(api, "/api/vehicle-file", elsewhere)
    assert {c["what"]: c["new"] for c in seen["counts"]} == {
        **{"vehicle": 1, "compartment": 2, "change": 2, "sheet": 2, "oil": 1},
        **{"reading": Reading.objects.filter(vehicle=depot.vehicle).count(), "person": 2},
    }
    assert all(c["same"] == c["conflict"] == 0 for c in seen["counts"])
    assert Vehicle.objects.count() == 1  # held against, not taken in
    taken = send(api, "/api/vehicle-file/take", elsewhere, 201)
    new = Vehicle.objects.get(pk=taken["vehicle"])
    assert (new.name, new.plate) == ("Old 4x4", "SKR 1")
    gearbox, _ = new.compartments.order_by("id")
    mine = told(gearbox.pk)
    assert [row[:-1] for row in mine] == [row[:-1] for row in before]
    assert {row[-1] for row in mine} == {"Technician"}
    people = {p["username"]: p for p in api.lead.get("/api/people")}
    assert not people["technician (Skerrow depot)"]["active"]
    assert [v["name"] for v in api.viewer.get("/api/due")["vehicles"]].count("Old 4x4") == 1


def test_its_rows_are_the_same_when_they_go_out_again(api, people, elsewhere, depot):
    def plain(rows):
        """Without the ids, which are each book's own."""
        keep = {
            label: [{k: v for k, v in r.items() if k != "id" and not k.endswith("_id")} for r in some]
            for label, some in rows.items()
            if label != "accounts.person"
        }
        return json.loads(json.dumps(keep))

    taken = send(api, "/api/vehicle-file/take", elsewhere, 201)
    assert plain(rows_of_vehicle(taken["vehicle"])) == plain(content_of(elsewhere)["rows"])


def test_an_import_of_a_vehicle_is_taken_back_until_something_stands_on_it(api, elsewhere, depot):
    counts = [m.objects.count() for m in (Vehicle, SpecSheet, Lubricant, OilRecord, LedgerRow, Reading)]
    taken = send(api, "/api/vehicle-file/take", elsewhere, 201)
    api.lead.post(f"/api/imports/{taken['run']}/undo")
    assert [m.objects.count() for m in (Vehicle, SpecSheet, Lubricant, OilRecord, LedgerRow, Reading)] == counts
    taken = send(api, "/api/vehicle-file/take", elsewhere, 201)
    api.technician.post(f"/api/vehicles/{taken['vehicle']}/readings", {"on": "2026-06-15", "value": "72100 km"}, expect=201)
    problem = api.lead.post(f"/api/imports/{taken['run']}/undo", expect=422)
    assert "reading" in problem["detail"]
    assert Vehicle.objects.filter(pk=taken["vehicle"]).exists()


def test_a_vehicle_that_is_here_gets_what_the_book_does_not_have(api, file, depot, record):
    readings = Reading.objects.filter(vehicle=depot.vehicle).count()
    seen = send(api, "/api/vehicle-file", file)
    assert {(c["what"], c["new"], c["conflict"]) for c in seen["counts"]} == {
        (w, 0, 0) for w in ("oil", "sheet", "vehicle", "compartment", "reading", "change")
    }
    problem = send(api, "/api/vehicle-file/take", file, 422)
    assert problem["detail"] == "There is nothing in it that the book does not have."
    # a reading was lost here, another is not what the file says, and so is what was poured in
    lost, other = Reading.objects.filter(vehicle=depot.vehicle).order_by("on")[:2]
    lost.delete()
    Reading.objects.filter(pk=other.pk).update(value=other.value + 40)
    OilRecord.objects.filter(pk=record.pk).update(oil="Another")
    seen = send(api, "/api/vehicle-file", file)
    assert {c["what"]: (c["new"], c["conflict"]) for c in seen["counts"] if c["new"] or c["conflict"]} == {
        "reading": (1, 1),
        "change": (0, 1),
    }
    assert [p["note"] for p in seen["parts"] if p["what"] == "change" and p["state"] == "conflict"] == [
        "here another stands on that day: that stays"
    ]
    taken = send(api, "/api/vehicle-file/take", file, 201)
    assert taken["vehicle"] == depot.vehicle.pk
    assert Reading.objects.filter(vehicle=depot.vehicle).count() == readings
    assert OilRecord.objects.get(pk=record.pk).oil == "Another"


def test_a_sheet_of_the_same_name_that_says_otherwise_comes_in_beside_ours(api, file, depot):
    Vehicle.objects.update(name="Something else", plate="OTH 1")
    depot.box.revisions.update(capacity_ml=1900)
    seen = send(api, "/api/vehicle-file", file)
    said = {p["name"]: p for p in seen["parts"] if p["what"] == "sheet"}
    assert said["Brass box"]["state"] == "conflict"
    assert said["Plain axle"]["state"] == "same"
    taken = send(api, "/api/vehicle-file/take", file, 201)
    sheets = {c.name: c.sheet.name for c in Vehicle.objects.get(pk=taken["vehicle"]).compartments.all()}
    assert sheets == {"Gearbox": "Brass box (Skerrow depot)", "Rear axle": "Plain axle"}


def test_a_vehicle_that_counts_otherwise_is_not_the_same(api, file, depot):
    Vehicle.objects.filter(pk=depot.vehicle.pk).update(meter="h")
    assert "counts h" in send(api, "/api/vehicle-file", file, 422)["detail"]


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda f: f[: len(f) // 2], "no vehicle's file of Barodex"),
        (lambda _: b"a,b\n1,2", "no vehicle's file of Barodex"),
        (lambda f: with_content(f, lambda c: c.update(format="other")), "no vehicle's file of Barodex"),
        (lambda f: with_content(f, lambda c: c.update(version=2)), "newer Barodex"),
        (lambda f: with_content(f, lambda c: c["rows"]["fleet.reading"][0].update(value="much")), "rows.fleet.reading.0.value"),
        (lambda f: with_content(f, lambda c: c["rows"]["fleet.reading"][0].update(secret=1)), "does not fit its schema"),
        (lambda f: with_content(f, lambda c: c["rows"]["fleet.vehicle"].clear()), "holds one vehicle"),
        (lambda f: with_content(f, lambda c: c["rows"]["fleet.box"].clear()), "that is not in it"),
        (lambda f: with_content(f, lambda c: c["members"].update({"changes.csv": "0" * 64})), "changes.csv is not what it was"),
    ],
)
def test_a_broken_foreign_or_newer_file_is_refused(api, file, depot, spoil, words):
    for path in ("/api/vehicle-file", "/api/vehicle-file/take"):
        assert words in send(api, path, spoil(file), 422)["detail"]
    assert Vehicle.objects.count() == 1


def test_rows_that_the_database_would_not_keep_are_refused_and_nothing_is_half_in(api, elsewhere):
    Lubricant.objects.all()
    sheets = SpecSheet.objects.count()
    bad = with_content(elsewhere, lambda c: c["rows"]["fleet.reading"][0].update(value=-5))
    assert "Nothing was taken in" in send(api, "/api/vehicle-file/take", bad, 422)["detail"]
    assert (Vehicle.objects.count(), SpecSheet.objects.count()) == (1, sheets)


@pytest.mark.parametrize(
    ("label", "field", "odd"),
    [("book.oilrecord", "finding", "nonsense"), ("book.oilrecord", "torques", 5), ("shelf.sheetrevision", "variants", [1])],
)
def test_what_the_pages_could_not_read_is_not_taken_in(api, elsewhere, label, field, odd):
    """A column of JSON may hold anything by the schema: it is read as the pages read it before it is kept."""
    bad = with_content(elsewhere, lambda c: [r.update({field: odd}) for r in c["rows"][label]])
    assert "Nothing was taken in" in send(api, "/api/vehicle-file/take", bad, 422)["detail"]
    assert Vehicle.objects.count() == 1


def test_only_a_lead_takes_one_in(api, file):
    for person in (api.viewer, api.technician):
        response = person.client.post("/api/vehicle-file/take", {"file": SimpleUploadedFile("v.zip", file)})
        assert response.status_code == 403


def test_every_table_of_the_file_is_described():
    assert set(schema()["properties"]["rows"]["properties"]) == set(schema()["properties"]["rows"]["required"])
