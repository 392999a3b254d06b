"""The audit of the book: what is missing, guessed, superseded or set wrongly, each with its way to mend it."""

import datetime as dt

from barodex import clock
from barodex.book.actions import Entry, PaperRecord, enter_record, write_record
from barodex.core.ledger.balance import LedgerEntry
from barodex.core.ledger.drained import Amount
from barodex.shelf.models import FigureSource
from tests.api.test_kinds import AUTOMATIC
from tests.conftest import NOW


def kinds(api, compartment):
    found = api.viewer.get("/api/book/audit")
    return {i["kind"]: i for i in found["items"] if i["compartment_id"] == compartment.pk}


def test_a_compartment_without_a_trace_is_first(api, depot):
    found = api.viewer.get("/api/book/audit")
    assert found["items"][0]["kind"] == "no evidence"
    assert found["items"][0]["compartment"] == "Rear axle"
    assert found["items"][0]["path"] == f"/book/{depot.rear.pk}"
    assert sum(c["count"] for c in found["counts"]) == len(found["items"])
    assert found["sound"] <= found["compartments"] == 2


def test_amounts_findings_and_gaps(api, depot, people):
    enter_record(people["technician"], depot.rear.pk, PaperRecord(NOW.date() - dt.timedelta(days=9), 71_700, depot.heavy.pk))
    found = kinds(api, depot.rear)
    assert {"amount", "not looked at"} <= set(found)
    assert "gap" not in found, "written in from paper is no gap"
    entry = Entry(
        NOW.date(),
        71_800,
        "Heavy",
        depot.heavy,
        depot.axle.revisions.get(),
        (LedgerEntry("oil", Amount(1500)),),
        gaps=("Closed without a torque figure. Reason: x",),
    )
    write_record(people["technician"], depot.rear, entry)
    found = kinds(api, depot.rear)
    assert "torque" in found["gap"]["text"]
    assert "amount" not in found


def test_a_capacity_that_no_longer_stands(api, depot):
    assert "superseded" not in kinds(api, depot.gearbox)
    shown = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    body = {k: v for k, v in shown.items() if k not in ("id", "number", "written_by", "written_at", "effective_on")}
    body["sources"] = [{k: s[k] for k in ("figure", "source", "trust", "note")} for s in shown["sources"]]
    api.lead.post(f"/api/sheets/{depot.box.pk}", {**body, "capacity_ml": "1.7 L", "reason": "bulletin: it foamed"}, expect=201)
    text = kinds(api, depot.gearbox)["superseded"]["text"].replace("\N{NO-BREAK SPACE}", " ")
    assert "by 1 850 mL; revision 2 says 1 700 mL" in text


def test_guesses_are_named(api, depot):
    FigureSource.objects.filter(revision__sheet=depot.box, figure="torque").update(trust="guessed")
    found = kinds(api, depot.gearbox)["guess"]
    assert found["text"] == "Guessed on its sheet: torque."
    assert found["path"] == f"/shelf/sheets/{depot.box.pk}"


def test_a_level_closed_outside_its_window(api, depot, people):
    sheet = api.lead.post("/api/sheets", AUTOMATIC, expect=201)["id"]
    box = depot.vehicle.compartments.create(sheet_id=sheet, name="Automatic", slot="transaxle")
    revision = box.sheet.revisions.get()
    for closed, against in ((revision.window_high_c + 9, True), (revision.window_high_c, False)):
        with clock.at(NOW):
            entry = Entry(
                clock.today(), 71_900, "Red", None, revision, (LedgerEntry("oil", Amount(4000)),), details={"closed_at_c": closed}
            )
            write_record(people["technician"], box, entry)
        assert ("level" in kinds(api, box)) == against


def test_a_vehicle_that_was_not_read_for_long_is_asked_for(api, depot):
    assert not [i for i in api.viewer.get("/api/book/audit")["items"] if i["kind"] == "reading"]
    with clock.at(NOW + dt.timedelta(days=120)):
        (item,) = [i for i in api.viewer.get("/api/book/audit")["items"] if i["kind"] == "reading"]
    assert item["vehicle"] == "Old 4x4"
    assert item["path"] == f"/due/vehicle/{depot.vehicle.pk}"
