"""The morning summary on screen, on paper and by mail; looks that ride along, bays, the gap report, oils tried."""

import datetime as dt
import email
import io
from email import policy

import pytest
from django.core.management import CommandError, call_command
from pypdf import PdfReader

from barodex import clock
from barodex.book.actions import PaperRecord, enter_record
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.demo.loader import load
from barodex.demo.walk import Outcome, walk
from tests.conftest import NOW

TODAY = NOW.date()


@pytest.fixture
def outbox(tmp_path, settings):
    settings.EMAIL_FILE_PATH = tmp_path
    settings.EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
    return tmp_path


def look(record, **when):
    ConsequenceRow.objects.create(record=record, kind="look-again", code="finding", params={"because": "whiskers"}, **when)


@pytest.fixture
def overdue(depot, people):
    """The rear axle changed long ago, a look again that is due next week."""
    with clock.at(NOW - dt.timedelta(days=900)):
        record = enter_record(people["technician"], depot.rear.pk, PaperRecord(clock.today(), 29_000, depot.heavy.pk, "", None, None, 1500))
    look(record, days=905)
    with clock.at(NOW - dt.timedelta(days=1)):
        enter_record(people["technician"], depot.gearbox.pk, PaperRecord(clock.today(), 71_900, depot.light.pk, "", None, None, 1800))
    return depot


def monday(weeks=0):
    return TODAY + dt.timedelta(days=7 * weeks - TODAY.weekday())


def sections(api):
    return {s["key"]: s for s in api.viewer.get("/api/plan/morning")["sections"]}


def test_the_morning_tells_what_presses(api, overdue):
    made = api.viewer.get("/api/plan/morning")
    assert made["text"].startswith("0 stopped")
    told = {s["key"]: s for s in made["sections"]}
    assert told["overdue"]["lines"][0]["what"].startswith("Rear axle: ")
    assert "over" in told["overdue"]["lines"][0]["what"]
    assert any("whiskers" in line["what"] for line in told["looks"]["lines"])
    assert told["parts"]["lines"], "a heavy oil and seals are missing"


def test_an_agreed_visit_stands_in_it_with_its_bay_and_looks(api, overdue):
    on = TODAY if TODAY.weekday() < 5 else monday(1)
    api.lead.post("/api/plan/visits", {"vehicle_id": overdue.vehicle.pk, "on": str(on), "compartments": [overdue.rear.pk]}, expect=201)
    (line,) = sections(api)["visits"]["lines"]
    assert line["what"].startswith("today, bay 1: rear axle")
    assert "looks along: 1" in line["what"]
    assert line["path"] == f"/bay/start/{overdue.vehicle.pk}?c={overdue.rear.pk}"
    (row,) = api.viewer.get("/api/plan/horizon")["rows"]
    assert [x["what"] for x in row["planned"][0]["looks"]] == ["Look again: whiskers"]


def test_a_look_far_from_any_visit_stands_alone(api, overdue):
    ConsequenceRow.objects.filter(kind="look-again").update(days=900 + 150)
    (row,) = api.viewer.get("/api/plan/horizon")["rows"]
    assert [x["what"] for x in row["looks"]] == ["Look again: whiskers"]


def test_a_look_by_the_meter_falls_on_the_day_that_use_gives(api, overdue):
    vehicle = api.viewer.get(f"/api/due/{overdue.vehicle.pk}")["vehicles"][0]
    ConsequenceRow.objects.filter(kind="look-again").update(days=None, run=vehicle["meter_now"] - 29_000 + 100 * vehicle["per_day"])
    (row,) = api.viewer.get("/api/plan/horizon")["rows"]
    expected = dt.date.fromisoformat(vehicle["meter_on"]) + dt.timedelta(days=100)
    looks = row["looks"] + [x for v in row["proposed"] for x in v["looks"]]
    assert [x["on"] for x in looks] == [str(expected)]


def test_it_prints_as_a_list_to_tick(api, overdue):
    response = api.viewer.client.get("/api/plan/morning/paper")
    assert response["Content-Type"] == "application/pdf"
    text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(response.content)).pages)
    assert "Monday 15 June 2026" in text
    assert "whiskers" in text
    assert "qualified practice" in text


def test_it_goes_into_the_outbox_as_a_mail_that_others_can_read(api, overdue, outbox):
    sent = api.lead.post("/api/plan/morning", {"to": "lead@skerrow.example, depot@skerrow.example"})
    assert sent == {"to": ["lead@skerrow.example", "depot@skerrow.example"], "outbox": str(outbox)}
    (file,) = outbox.iterdir()
    mail = email.message_from_bytes(file.read_bytes().split(b"\n-------")[0], policy=policy.default)
    assert mail["To"] == "lead@skerrow.example, depot@skerrow.example"
    assert mail["Subject"].startswith("Barodex: 0 stopped")
    body, paper = mail.iter_parts()
    assert "whiskers" in body.get_content()
    assert paper.get_content()[:5] == b"%PDF-"


@pytest.mark.parametrize("to", ["", "nobody", "a@b", "good@skerrow.example, bad", "x@y.example\nBcc: z@y.example"])
def test_an_address_that_is_none_is_refused_and_nothing_is_sent(api, overdue, outbox, to):
    assert api.lead.post("/api/plan/morning", {"to": to}, expect=422)["errors"][0]["field"] == "to"
    assert list(outbox.iterdir()) == []


def test_one_s_own_address_is_taken_when_none_is_named(api, overdue, outbox, people):
    people["lead"].email = "isla@skerrow.example"
    people["lead"].save()
    assert api.lead.post("/api/plan/morning", {"to": ""})["to"] == ["isla@skerrow.example"]


def test_the_command_sends_it_for_a_timer(overdue, people, outbox):
    out = io.StringIO()
    call_command("send_morning", "lead", "--to", "depot@skerrow.example", stdout=out)
    assert "depot@skerrow.example" in out.getvalue()
    assert len(list(outbox.iterdir())) == 1
    for args in (["nobody", "--to", "a@skerrow.example"], ["lead"], ["technician", "--to", "a@skerrow.example"]):
        with pytest.raises(CommandError):
            call_command("send_morning", *args)


def test_two_bays_hold_what_one_does_not(api, overdue):
    api.lead.post("/api/plan/bay", {"hours_per_day": 2.0, "bays": 2, "why": "a second lift"})
    body = {"vehicle_id": overdue.vehicle.pk, "on": str(monday(2))}
    api.lead.post("/api/plan/visits", {**body, "compartments": [overdue.gearbox.pk]}, expect=201)
    trial = api.viewer.post("/api/plan/visits/trial", {**body, "compartments": [overdue.rear.pk]})
    assert (trial["bay"], trial["problem"]) == (2, "")
    refused = api.lead.post("/api/plan/visits", {**body, "compartments": [overdue.rear.pk], "bay": 1}, expect=409)["detail"]
    assert "left in bay 1 on that day beside Old 4x4" in refused
    api.lead.post("/api/plan/visits", {**body, "compartments": [overdue.rear.pk], "bay": 3}, expect=422)
    made = api.lead.post("/api/plan/visits", {**body, "compartments": [overdue.rear.pk], "bay": 2}, expect=201)["id"]
    (row,) = api.viewer.get("/api/plan/horizon")["rows"]
    assert {v["id"]: v["bay"] for v in row["planned"]}[made] == 2
    for bad in ({"bays": 0}, {"bays": 99}, {"hours_per_day": 30}):
        api.lead.post("/api/plan/bay", {**bad, "why": "a slip"}, expect=422)


def test_savings_count_what_was_agreed(api, overdue):
    before = api.viewer.get("/api/plan/horizon?days=400")["savings"]
    visit = api.viewer.get("/api/plan/horizon?days=400")["rows"][0]["proposed"][0]
    body = {"vehicle_id": overdue.vehicle.pk, "on": visit["on"], "compartments": visit["compartments"]}
    api.lead.post("/api/plan/visits", body, expect=201)
    after = api.viewer.get("/api/plan/horizon?days=400")["savings"]
    assert (after["visits"], after["alone_visits"]) == (before["visits"], before["alone_visits"])
    assert after["hours"] == pytest.approx(before["hours"])


def test_the_gap_report_of_a_signed_service(api, depot, people):
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1700)})
    told = api.viewer.get(f"/api/services/{service}/gaps")
    assert told["done"] <= told["steps"]
    assert {"The meter was not read.", "The air's temperature was not noted."} <= {g["text"] for g in told["lines"]}
    assert str(told["done"]) in told["text"]
    api.viewer.get("/api/services/999/gaps", expect=404)


def test_oils_tried_side_by_side(api, depot, people):
    tech = people["technician"]
    fills = ((1000, 30_000, depot.heavy, None, 2), (600, 54_000, depot.light, 1480, 4), (200, 66_000, depot.light, 1495, 5))
    for days, meter, oil, out, shift in fills:
        with clock.at(NOW - dt.timedelta(days=days)):
            paper = PaperRecord(clock.today(), meter, oil.pk, "", out, 20.0, 1500, shift=shift)
            enter_record(tech, depot.rear.pk, paper)
    told = api.viewer.get(f"/api/book/{depot.rear.pk}/tried")
    by_oil = {o["oil"]: o for o in told["oils"]}
    assert by_oil["Heavy"]["run"] == 24_000
    assert by_oil["Heavy"]["shift"] == 2
    assert by_oil["Light"]["shift"] == 4.5
    assert by_oil["Heavy"]["loss_within"] < 20, "millilitres per 1 000 km, not thousands"
    assert any("before Heavy" in s for s in told["says"])
    api.viewer.get("/api/book/999/tried", expect=404)
    bad = {"on": str(TODAY), "lubricant_id": depot.light.pk, "shift": 9}
    assert api.technician.post(f"/api/book/{depot.gearbox.pk}", bad, expect=422)["errors"][0]["field"] == "shift"


def test_the_demo_s_morning_has_something_of_each(db):
    from barodex.desk.morning import morning

    with clock.at(NOW):
        load(NOW)
        keys = {s.key for s in morning(TODAY).sections}
    assert {"stop", "overdue", "unknown", "visits", "open", "parts", "looks"} <= keys
    assert OilRecord.objects.filter(details__rated__after__shift__isnull=False).exists()
