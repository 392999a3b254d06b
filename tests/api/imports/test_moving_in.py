"""A workshop's old spreadsheet is moved in: read in whatever coding, repaired in place, taken in at once, taken back at once."""

import time

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile

from barodex.accounts.models import AuditEntry
from barodex.book.models import LedgerRow, OilRecord
from barodex.fleet.models import Box, Compartment, Reading, Vehicle
from barodex.shelf.models import Container, Lubricant, SheetRevision, SpecSheet
from tests.api.imports import old_workshop as old

pytestmark = pytest.mark.django_db


def begin(api, content, name="old.csv", expect=201):
    response = api.lead.client.post("/api/imports", {"file": SimpleUploadedFile(name, content)})
    assert response.status_code == expect, response.content[:500]
    return response.json()["id"] if expect == 201 else response.json()


def view(api, run, **asked):
    query = "&".join(f"{k}={v}" for k, v in asked.items())
    return api.lead.get(f"/api/imports/{run}?{query}")


def counted(rows):
    return {c["what"]: c["count"] for c in rows}


def lines(api, run, state="open"):
    found, offset = [], 0
    while True:
        page = view(api, run, state=state, offset=offset)
        found += page["rows"]
        offset += 50
        if offset >= page["matching"]:
            return found


def fix(api, run, rows, **more):
    return api.lead.post(f"/api/imports/{run}/rows", {"rows": rows, **more})


@pytest.fixture
def book(api, at_noon):
    """An empty book with its people."""
    return api


@pytest.mark.parametrize(("coding", "mark"), [("cp1252", ";"), ("utf-8-sig", ","), ("utf-16", "\t"), ("utf-16-le", ";")])
def test_the_old_spreadsheet_is_read_in_any_coding_with_any_mark(book, coding, mark):
    run = begin(book, old.as_csv(coding, mark))
    seen = view(book, run)
    (table,) = seen["tables"]
    figures = {c["heading"]: c["figure"] for c in table["columns"]}
    assert figures == {
        "Fahrzeug": "vehicle",
        "Kennzeichen": "plate",
        "Fahrzeugart": "vehicle_kind",
        "Aggregat": "compartment",
        "Inhalt (L)": "",
        "Datum": "on",
        "km-Stand": "meter",
        "Öl": "oil",
        "Abgelassen [L]": "drained_ml",
        "Eingefüllt [L]": "poured_ml",
        "Bemerkung": "note",
    }
    assert (table["units"]["drained_ml"], table["asks"]) == ("L", [])
    assert counted(seen["states"])["total"] == 1


def mended(book, run):
    """Every row that waits is answered, as a person would."""
    book.lead.call("patch", f"/api/imports/{run}", {"table": 0, "mapping": {"capacity_ml": "Inhalt (L)"}, "units": {"capacity_ml": "L"}})
    by_issue = {}
    for row in lines(book, run):
        issue = (row["problems"] or row["doubts"])[0]
        by_issue.setdefault(issue["field"], []).append((row, issue["message"]))
    return by_issue


def test_every_dirt_is_found_repaired_and_the_workshop_stands_in_the_book(book):
    run = begin(book, old.as_csv())
    waits = mended(book, run)
    assert {f: len(rows) for f, rows in waits.items()} == {"on": 1, "meter": 1, "poured_ml": 1, "note": 1, "kind": 1}
    assert "no day of the calendar" in waits["on"][0][1]
    assert "formula" in waits["note"][0][1]
    assert "Which kind of compartment is “Dingsbums”?" in waits["kind"][0][1]
    assert "cannot be of a compartment of" in waits["poured_ml"][0][1].replace("\N{NO-BREAK SPACE}", " ")
    refused = book.lead.post(f"/api/imports/{run}/take", expect=422)
    assert refused["detail"].startswith("5 to be answered first")
    assert (Vehicle.objects.count(), OilRecord.objects.count(), SpecSheet.objects.count()) == (0, 0, 0)
    key = {f: rows[0][0]["key"] for f, rows in waits.items()}
    meter = next(c["text"] for c in waits["meter"][0][0]["cells"] if c["figure"] == "meter")
    fix(
        book,
        run,
        {
            key["on"]: {"cells": {"on": "28.02.2024"}},
            key["meter"]: {"cells": {"meter": meter.removesuffix(".0")}},
            key["note"]: {"cells": {"note": ""}},
            key["kind"]: {"cells": {"compartment": "Hinterachse"}},
            key["poured_ml"]: {"cells": {"poured_ml": "1,8"}},
        },
    )
    after = view(book, run)
    left = lines(book, run)
    fix(book, run, {r["key"]: {"skip": True} for r in left})
    after = view(book, run)
    states = counted(after["states"])
    assert (states["twice"], states["total"]) == (1, 1)
    done = book.lead.post(f"/api/imports/{run}/take")
    assert done["state"] == "taken"
    assert Vehicle.objects.count() == old.TRUE["vehicles"]
    assert Compartment.objects.count() == old.TRUE["compartments"]
    assert OilRecord.objects.count() == old.TRUE["changes"] - len(left)
    # One of them by hand: three of the truck's rear axle, 1.8 L each, the readings of their days.
    truck = Vehicle.objects.get(name="Wagen 02")
    assert (truck.kind, truck.plate.replace(" ", ""), truck.layout) == ("truck", "SK2Ä2", "rear-wheel")
    axle = truck.compartments.get(name="Hinterachse")
    assert (axle.slot, axle.sheet.kind, axle.sheet.name) == ("rear axle", "axle", "Axle, 1.8 L")
    last = axle.records.order_by("-on").first()
    assert (last.oil, last.gaps) == ("Plain 80W-90", ["written in from a spreadsheet"])
    assert sorted(e.volume_ml for e in last.entries.filter(kind="oil")) == [1800]
    due = book.lead.get("/api/due?limit=500")
    assert {v["name"] for v in due["vehicles"]} == {name for name, _, _ in old.VEHICLES}
    assert all(v["meter_now"] for v in due["vehicles"])
    assert "taken in already" in book.lead.post(f"/api/imports/{run}/take", expect=422)["detail"]


def taken(book, content=None, name="old.csv"):
    run = begin(book, content or old.as_csv(), name)
    mended(book, run)
    fix(book, run, {}, all_of="problem", skip=True)
    fix(book, run, {}, all_of="doubt", reason="as it stands in the old book")
    book.lead.post(f"/api/imports/{run}/take")
    return run


EVERYTHING = (Vehicle, Compartment, Box, OilRecord, LedgerRow, Reading, SpecSheet, SheetRevision, Lubricant, Container)


def test_an_import_is_undone_as_a_whole(book):
    before = {m: m.objects.count() for m in EVERYTHING}
    run = taken(book)
    assert OilRecord.objects.count() > 100
    book.lead.post(f"/api/imports/{run}/undo")
    assert {m: m.objects.count() for m in EVERYTHING} == before
    assert book.lead.get("/api/due")["vehicles"] == []
    assert AuditEntry.objects.filter(act="import undone").exists()
    assert "Only what was taken in" in book.lead.post(f"/api/imports/{run}/undo", expect=422)["detail"]
    again = begin(book, old.as_csv())  # and may come again
    assert counted(view(book, again)["brings"])["vehicle"] == 25


@pytest.mark.parametrize("what", ["reading", "record", "void", "sheet"])
def test_an_import_stays_as_soon_as_something_stands_on_it(book, what):
    run = taken(book)
    box = Compartment.objects.order_by("pk").first()
    if what == "reading":
        book.technician.post(f"/api/vehicles/{box.vehicle_id}/readings", {"on": "2026-06-15", "value": "400 000 km"}, 201)
    elif what == "record":
        book.technician.post(f"/api/book/{box.pk}", {"on": "2026-06-10"}, 201)
    elif what == "void":
        record = OilRecord.objects.order_by("pk").first()
        book.lead.post(f"/api/records/{record.pk}/corrections", {"field": "note", "value": "as told", "reason": "said by phone"}, 201)
    else:
        sheet = api_sheet(book, box.sheet_id)
        book.lead.post(f"/api/sheets/{box.sheet_id}", {**sheet, "reason": "looked up"}, 201)
    assert "stays" in book.lead.post(f"/api/imports/{run}/undo", expect=422)["detail"]
    assert Vehicle.objects.count() == 25


def api_sheet(book, sheet):
    r = book.lead.get(f"/api/sheets/{sheet}")["revisions"][0]
    wanted = ("family", "grade", "categories", "fill_method", "drain_method")
    return {
        **{k: r[k] for k in wanted},
        "capacity_ml": "1.9 L",
        "plugs": [{"role": p["role"], "label": p["label"]} for p in r["plugs"]],
        "sources": [],
    }


def test_the_same_file_again_brings_nothing(book):
    taken(book)
    again = begin(book, old.as_csv())
    mended(book, again)
    seen = view(book, again)
    assert "vehicle" not in counted(seen["brings"])
    assert counted(seen["states"])["known"] > 130
    fix(book, again, {}, all_of="problem", skip=True)
    fix(book, again, {}, all_of="doubt", skip=True)
    assert "nothing in it that the book does not have" in book.lead.post(f"/api/imports/{again}/take", expect=422)["detail"]


def test_a_workbook_with_dates_merged_cells_and_a_second_sheet(book):
    run = taken(book, old.as_workbook(), "old.xlsx")
    assert Vehicle.objects.count() == 25
    assert {(c.label, c.size_ml, c.content_ml) for c in Container.objects.all()} == {("drum 1", 60_000, 41_500), ("can", 5_000, 5_000)}
    oil = Lubricant.objects.get(name="Plain 80W-90")
    assert (oil.grade, oil.categories, oil.family) == ("80W-90", "GL-5", "gear")
    assert OilRecord.objects.filter(lubricant=oil).exists()
    book.lead.post(f"/api/imports/{run}/undo")
    assert (Vehicle.objects.count(), Container.objects.count()) == (0, 0)


US = "Vehicle,Compartment,Date,Odometer (mi),Filled (qt)\nPickup,Rear axle,{first},41000,2\nPickup,Rear axle,{second},62000,2\n"


def test_a_column_of_days_that_allows_both_orders_is_asked(book):
    run = begin(book, US.format(first="3/4/2023", second="5/6/2025").encode())
    assert view(book, run)["tables"][0]["asks"] == ["order"]
    assert "Day or month first" in lines(book, run)[0]["problems"][0]["message"]
    book.lead.call("patch", f"/api/imports/{run}", {"table": 0, "order": "month first"})
    book.lead.post(f"/api/imports/{run}/take")
    assert [str(r.on) for r in OilRecord.objects.order_by("on")] == ["2023-03-04", "2025-05-06"]
    assert [round(r.value, 1) for r in Reading.objects.order_by("on")] == [65_983.1, 99_779.3]  # 1.609344 km a mile (NIST SP 811)
    assert LedgerRow.objects.first().volume_ml == pytest.approx(1892.706, abs=0.001)  # 2 US qt


def test_a_column_of_days_that_can_be_read_one_way_alone_is_not_asked(book):
    run = begin(book, US.format(first="3/4/2023", second="5/26/2025").encode())
    assert view(book, run)["tables"][0]["asks"] == []
    book.lead.post(f"/api/imports/{run}/take")
    assert [str(r.on) for r in OilRecord.objects.order_by("on")] == ["2023-03-04", "2025-05-26"]


def test_a_mapping_is_kept_by_name_and_used_again(book):
    run = begin(book, old.as_csv())
    book.lead.call("patch", f"/api/imports/{run}", {"table": 0, "mapping": {"capacity_ml": "Inhalt (L)", "note": ""}})
    assert book.lead.post(f"/api/imports/{run}/mapping", {"table": 0, "name": " "}, 422)["errors"][0]["field"] == "name"
    book.lead.post(f"/api/imports/{run}/mapping", {"table": 0, "name": "Nord"})
    again = begin(book, old.as_csv())
    assert view(book, again)["mappings"] == ["Nord"]
    seen = book.lead.call("patch", f"/api/imports/{again}", {"table": 0, "kept": "Nord"})
    figures = {c["heading"]: c["figure"] for c in seen["tables"][0]["columns"]}
    assert (figures["Inhalt (L)"], figures["Bemerkung"]) == ("capacity_ml", "")
    other = begin(book, US.format(first="2023-01-01", second="2024-01-01").encode())
    assert "None of the headings" in book.lead.call("patch", f"/api/imports/{other}", {"table": 0, "kept": "Nord"}, 422)["detail"]


def test_what_is_odd_wants_a_reason_as_on_paper(book):
    text = "Vehicle,Compartment,Capacity (L),Date,Filled (L)\nVan,Gearbox,2.0,2024-05-01,1.2\n"
    run = begin(book, text.encode())
    (row,) = lines(book, run)
    assert "1 200 mL went in, the sheet says 2 000 mL" in row["doubts"][0]["message"].replace("\N{NO-BREAK SPACE}", " ")
    fix(book, run, {row["key"]: {"reason": "topped up to the old mark"}})
    book.lead.post(f"/api/imports/{run}/take")
    assert "topped up to the old mark" in OilRecord.objects.get().gaps[1]


@pytest.mark.parametrize(
    ("content", "word"),
    [
        (b"", "empty"),
        (b"PK\x03\x04 no workbook at all", "damaged"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\x00" * 600, "CSV"),
        (b"only one heading", "no row below"),
        (b"1,2,3\n4,5,6\n", "no row below"),
        (bytes(range(256)) * 40, ""),
    ],
)
def test_a_file_that_is_none_is_refused_with_a_sentence(book, content, word):
    refused = begin(book, content, expect=422)
    assert word.lower() in refused["detail"].lower()


def test_what_does_not_fit_is_refused_and_changes_nothing(book):
    run = begin(book, old.as_csv())
    before = view(book, run)["tables"]
    for body in (
        {"table": 0, "mapping": {"colour": "Öl"}},
        {"table": 0, "mapping": {"oil": "Farbe"}},
        {"table": 9, "mapping": {"oil": "Öl"}},
        {"table": 0, "units": {"meter": "mL"}},
        {"table": 0, "order": "year first"},
        {"table": 0, "decimal": "x"},
    ):
        book.lead.call("patch", f"/api/imports/{run}", body, 422)
    book.lead.post(f"/api/imports/{run}/rows", {"rows": {"0.99999": {"skip": True}}}, 422)
    assert view(book, run)["tables"] == before
    book.technician.get(f"/api/imports/{run}", expect=403)
    book.lead.call("delete", f"/api/imports/{run}", expect=204)
    book.lead.get(f"/api/imports/{run}", expect=404)


def test_a_plate_of_one_vehicle_beside_the_name_of_another_is_a_problem(book):
    rows = "Vehicle,Plate,Compartment,Date\nVan 1,AB 1,Gearbox,2024-01-01\nVan 2,AB 2,Gearbox,2024-01-01\nVan 1,ab2,Gearbox,2024-06-01\n"
    run = begin(book, rows.encode())
    (row,) = lines(book, run)
    assert row["problems"][0]["message"] == "The plate ab2 is of Van 2, not of Van 1."


def test_readings_alone_and_hours(book):
    rows = "Boat,Engine hours (h),Date\nLaunch,120.5,2024-01-01\nLaunch,180,2025-01-01\nLaunch,90,2025-06-01\n"
    run = begin(book, rows.encode())
    book.lead.call(
        "patch", f"/api/imports/{run}", {"table": 0, "mapping": {"vehicle": "Boat", "meter": "Engine hours (h)"}, "units": {"meter": "h"}}
    )
    (row,) = lines(book, run)
    assert "lower than" in row["problems"][0]["message"]
    fix(book, run, {row["key"]: {"skip": True}})
    book.lead.post(f"/api/imports/{run}/take")
    launch = Vehicle.objects.get()
    assert (launch.meter, [r.value for r in launch.readings.all()]) == ("h", [120.5, 180])


def test_the_example_is_read_as_it_is_given(book):
    for kind, name in (("csv", "e.csv"), ("xlsx", "e.xlsx")):
        content = book.viewer.client.get(f"/api/imports/example?kind={kind}").content
        run = begin(book, content, name)
        seen = view(book, run)
        assert counted(seen["states"]) == {"new": 3}
        assert counted(seen["brings"]) == {"vehicle": 2, "compartment": 2, "change": 3}


def test_ten_thousand_rows(book):
    run = begin(book, old.large(2_000))
    started = time.perf_counter()
    seen = view(book, run)
    assert counted(seen["brings"])["change"] == 2_000
    book.lead.post(f"/api/imports/{run}/take")
    assert OilRecord.objects.count() == 2_000
    assert time.perf_counter() > started


def test_an_amount_without_a_unit_is_read_as_it_is_usual_for_its_kind_and_else_asked(book):
    rows = "Vehicle,Compartment,Capacity,Date\nVan,Gearbox,2.1,2024-01-01\nBus,Gearbox,2100,2024-01-01\nBike,Hub gear,25,2024-01-01\nCar,Gearbox,0.2,2024-01-01\n"
    run = begin(book, rows.encode())
    (row,) = lines(book, run)
    assert (row["line"], "litres or millilitres" in row["problems"][0]["message"]) == (5, True)
    fix(book, run, {row["key"]: {"skip": True}})
    book.lead.post(f"/api/imports/{run}/take")
    assert {c.vehicle.name: c.sheet.revisions.get().capacity_ml for c in Compartment.objects.all()} == {
        "Van": 2100,
        "Bus": 2100,
        "Bike": 25,
    }


def test_a_capacity_that_a_later_row_names_counts_for_the_rows_before(book):
    rows = "Vehicle,Compartment,Capacity (L),Grade,Date,Filled (L)\nVan,Gearbox,,75W-80,2023-01-01,1.2\nVan,Gearbox,2.0,75W-80,2024-01-01,2.0\n"
    run = begin(book, rows.encode())
    (row,) = lines(book, run)
    assert (row["line"], row["doubts"][0]["field"]) == (2, "poured_ml")


def test_how_far_it_is_is_told_while_it_is_taken_in(book, monkeypatch, tmp_path):
    """The database shows nothing of it before it is whole: the share is told beside it, and gone afterwards."""
    from barodex.files.imports import progress

    monkeypatch.setattr(settings, "VAR", tmp_path)
    seen = []
    plain = progress.teller

    def listening(run_id):
        tell = plain(run_id)

        def both(share):
            tell(share)
            seen.append((share, progress.told(run_id)))

        return both

    monkeypatch.setattr("barodex.files.actions.teller", listening)
    run = begin(book, old.large(600))
    assert book.lead.get(f"/api/imports/{run}/progress") == {"share": 0.0}
    book.lead.post(f"/api/imports/{run}/take")
    shares = [share for share, _ in seen]
    assert shares == sorted(shares)
    assert len(shares) > 8
    assert 0 < shares[0] < 0.3
    assert 0.9 < shares[-1] <= 1
    assert all(abs(share - told) < 0.001 for share, told in seen)
    assert book.lead.get(f"/api/imports/{run}/progress") == {"share": 0.0}
    assert book.technician.client.get(f"/api/imports/{run}/progress").status_code == 403
