"""What was mistyped is declared void with its reason, and what is written in from paper is as plausible and as unique as the Bay's."""

import datetime as dt

import pytest

from barodex.book.models import ConsequenceRow, OilRecord
from barodex.fleet.models import Reading
from tests.conftest import NOW

pytestmark = pytest.mark.django_db
BOX = "/api/book/{}"


def readings(api, depot):
    return api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}/readings")


def add(api, depot, value, expect=201, **more):
    return api.technician.post(f"/api/vehicles/{depot.vehicle.pk}/readings", {"value": value, **more}, expect=expect)


def meter(api):
    """What the vehicle shows now and how much it runs a day."""
    (v,) = api.viewer.get("/api/due")["vehicles"]
    return v["meter_now"], v["per_day"]


def due(api, depot):
    return next(c for v in api.viewer.get("/api/due")["vehicles"] for c in v["compartments"] if c["id"] == depot.gearbox.pk)


# --- readings -------------------------------------------------------------------------------------------------------------


def test_a_mistyped_reading_is_void_and_due_goes_on_without_it(api, depot):
    before = meter(api)
    wrong = add(api, depot, "73 900 km")["id"]
    assert meter(api) != before
    add(api, depot, "71 950 km", expect=422)  # lower than the slip
    refused = api.technician.post(f"/api/readings/{wrong}/void", {"reason": " "}, expect=422)
    assert refused["errors"][0]["field"] == "reason"
    api.viewer.post(f"/api/readings/{wrong}/void", {"reason": "a nine for a one"}, expect=403)
    api.technician.post(f"/api/readings/{wrong}/void", {"reason": "a nine for a one"})
    assert meter(api) == before
    (shown,) = [r for r in readings(api, depot) if r["id"] == wrong]
    assert shown["void"] == "void 15 Jun 2026, Technician: a nine for a one"
    add(api, depot, "71 950 km")
    api.technician.post(f"/api/readings/{wrong}/void", {"reason": "once more"}, expect=404)


def test_a_void_reading_can_be_written_in_again(api, depot):
    first = add(api, depot, "72 100 km")["id"]
    api.technician.post(f"/api/readings/{first}/void", {"reason": "another day"})
    again = add(api, depot, "72 100 km")["id"]
    assert again != first
    assert Reading.everything.filter(vehicle=depot.vehicle, value=72_100).count() == 2


def test_a_reading_is_never_lower_than_itself(api, depot):
    api.technician.call("patch", "/api/session", {"unit_system": "us"})
    first = add(api, depot, "100000 mi", swap=True)["id"]
    assert add(api, depot, "100000 mi")["id"] == first  # twice is one, though miles are no whole km
    assert add(api, depot, "100,000 mi", on=str(NOW.date()))["id"] == first
    assert "lower than" in add(api, depot, "99990 mi", expect=422)["detail"]


# --- records --------------------------------------------------------------------------------------------------------------


def paper(api, depot, expect=201, **more):
    body = {"on": "2026-06-01", "meter_value": "71 600 km", "lubricant_id": depot.light.pk, "poured_ml": "1850 mL", **more}
    return api.technician.post(BOX.format(depot.gearbox.pk), body, expect=expect)


def test_a_void_record_stays_and_counts_for_nothing(api, depot, people):
    before = due(api, depot)
    old = OilRecord.objects.get(compartment=depot.gearbox)
    ask = ConsequenceRow.objects.create(record=old, kind="look-again", code="as-written", params={"what": "Look at the seal"}, days=0)
    chip = {"magnet": "film", "particles": [{"form": "chip", "metal": "steel", "size_mm": 3}]}
    made = paper(api, depot, finding=chip)["id"]
    assert due(api, depot)["state"] == "stop"
    ask.refresh_from_db()
    assert ask.done_at is not None  # looked at with that change
    assert api.technician.post(f"/api/records/{made}/void", {"reason": "wrong vehicle"}, expect=403)
    api.lead.post(f"/api/records/{made}/void", {"reason": "it was the sister's gearbox"})
    # Without the record, as before but for its reading, which stands on its own.
    after = due(api, depot)
    assert (after["state"], after["colour"]) == (before["state"], before["colour"])
    ask.refresh_from_db()
    assert ask.done_at is None
    history = api.viewer.get(BOX.format(depot.gearbox.pk))
    assert [r["id"] for r in history["records"]] == [old.pk]
    assert history["voided"][0]["void"] == "void 15 Jun 2026, Lead: it was the sister's gearbox"
    assert all("sister" not in f["what"] for f in api.viewer.get("/api/due")["consequences"])


def test_more_than_a_compartment_holds_is_refused_from_paper_too(api, depot):
    refused = paper(api, depot, 422, drained_ml="25 L")
    assert refused["errors"][0]["field"] == "drained_ml"
    assert "cannot be of a compartment of 1" in refused["detail"]
    asked = paper(api, depot, 409, poured_ml="2.4 L")
    assert asked["type"].endswith("needs-reason")
    assert asked["errors"][0]["field"] == "poured_ml"
    made = paper(api, depot, poured_ml="2.4 L", reason="half a litre ran out beside the funnel")["id"]
    assert any("half a litre ran out" in g for g in OilRecord.objects.get(pk=made).gaps)


def test_the_same_record_twice_is_one(api, depot):
    paper(api, depot)
    assert "stands in the book already" in paper(api, depot, 422)["detail"]
    asked = paper(api, depot, 409, poured_ml="1800 mL")
    assert "Another change of 01 Jun 2026" in asked["detail"]
    paper(api, depot, poured_ml="1800 mL", reason="the first oil was the wrong one")


def test_a_void_record_does_not_stand_in_the_way_of_the_right_one(api, depot):
    made = paper(api, depot)["id"]
    api.lead.post(f"/api/records/{made}/void", {"reason": "amount guessed"})
    assert paper(api, depot)["id"] != made
    assert OilRecord.objects.filter(compartment=depot.gearbox, on=dt.date(2026, 6, 1)).count() == 1


# --- litres or millilitres ------------------------------------------------------------------------------------------------


def test_a_bare_figure_that_fits_only_as_litres_is_asked_about_and_not_taken(api, depot):
    asked = paper(api, depot, 422, poured_ml="1.7")
    assert asked["errors"][0]["field"] == "poured_ml"
    assert "1.7 L?" in asked["detail"]
    made = paper(api, depot, poured_ml="1.7 L")["id"]
    assert OilRecord.objects.get(pk=made).entries.get(kind="oil").volume_ml == 1700
    wrong = api.technician.post(f"/api/records/{made}/corrections", {"field": "poured_ml", "value": "1.8", "reason": "misread"}, expect=422)
    assert "1.8 L?" in wrong["detail"]
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    trial = {"step": f"measure.{depot.gearbox.pk}", "values": {"pan_ml": "1.7"}}
    assert "1.7 L?" in api.technician.post(f"/api/services/{service}/trial", trial, expect=422)["detail"]


def test_a_sheet_asks_about_litres_by_the_usual_fill_of_its_kind(api, depot):
    body = {"name": "Blower", "family": "gear", "fill_method": "measured", "drain_method": "suction", "kind": "axle", "capacity_ml": "2.1"}
    body |= {"plugs": [], "sources": []}
    asked = api.lead.post("/api/sheets", body, expect=422)
    assert asked["errors"][0]["field"] == "capacity_ml"
    assert "2.1 L?" in asked["detail"]
    api.lead.post("/api/sheets", {**body, "kind": "hub gear", "capacity_ml": "25"}, expect=201)


# --- earlier changes are questioned as in the Bay -----------------------------------------------------------------------


@pytest.mark.parametrize(
    ("amounts", "field", "words"),
    [
        ({"poured_ml": "1.5 L"}, "poured_ml", "1 500 mL went in, the sheet says 1 850 mL"),  # 19 %, beyond the 12 that a lip lets go
        ({"poured_ml": "2.2 L"}, "poured_ml", "2 200 mL went in"),
        ({"drained_ml": "2.2 L"}, "drained_ml", "2 200 mL came out"),
    ],
)
def test_an_odd_amount_wants_its_reason_on_paper_too(api, depot, amounts, field, words):
    asked = paper(api, depot, 409, **amounts)
    assert asked["errors"][0]["field"] == field
    assert words in asked["detail"].replace("\N{NO-BREAK SPACE}", " ")
    made = paper(api, depot, reason="as the invoice says", **amounts)["id"]
    assert any("as the invoice says" in g for g in OilRecord.objects.get(pk=made).gaps)


def test_far_too_little_without_a_history_is_asked_on_paper_too(api, depot):
    path = f"/api/book/{depot.rear.pk}"
    body = {"on": "2026-06-01", "drained_ml": "900 mL", "lubricant_id": depot.heavy.pk}
    asked = api.technician.post(path, body, expect=409)
    assert "it ran low, or the sheet is wrong" in asked["detail"]
    api.technician.post(path, body | {"reason": "it dripped for years"}, expect=201)
