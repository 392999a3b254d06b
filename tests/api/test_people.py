"""People: invited by a one-time link, given a role, let go; one's own password and sessions; an empty book begins."""

import datetime as dt
import io

import pytest
from django.core.management import CommandError, call_command
from django.test import Client
from pypdf import PdfReader
from reportlab.platypus import Paragraph

from barodex import clock
from barodex.accounts.models import AuditEntry, Person
from barodex.accounts.names import alike
from barodex.papers.printing import BODY, print_story
from tests.conftest import NOW, Api

pytestmark = pytest.mark.django_db
GOOD = "grease and gaskets"


@pytest.fixture
def anybody(db, at_noon):
    return Api(Client())


def invite(api, name="fergus", role="technician", expect=201):
    return api.lead.post("/api/people", {"username": name, "first": "Fergus", "last": "Doon", "role": role}, expect)


def joined(anybody, link, password=GOOD, expect=200):
    return anybody.post(f"/api{link['path']}", {"password": password}, expect)


def names(api):
    return {p["username"]: p for p in api.lead.get("/api/people")}


def test_somebody_is_invited_chooses_a_password_and_is_in(api, anybody):
    link = invite(api)
    assert link["until"].startswith("2026-06-22")  # a week on, by hand
    assert not names(api)["fergus"]["joined"]
    assert anybody.get(f"/api{link['path']}") == {"name": "Fergus Doon", "username": "fergus"}
    assert joined(anybody, link, "short", 422)["errors"][0]["field"] == "password"
    assert joined(anybody, link, "1234567890", 422)["errors"][0]["field"] == "password"  # everybody uses it
    session = joined(anybody, link)
    assert (session["name"], session["role"], session["unit_system"]) == ("Fergus Doon", "technician", "metric")
    anybody.get("/api/due")
    assert names(api)["fergus"]["joined"]
    assert "used already" in anybody.call("get", f"/api{link['path']}", expect=422)["detail"]
    fresh = Api(Client())
    fresh.post("/api/session", {"username": "fergus", "password": GOOD})


def test_a_link_counts_once_a_week_long_and_until_a_newer_one_is_made(api, anybody):
    first = invite(api)
    second = api.lead.post(f"/api/people/{first['person']}/link")
    joined(anybody, first, expect=422)
    with clock.at(NOW + dt.timedelta(days=7, minutes=1)):
        joined(anybody, second, expect=422)
    with clock.at(NOW + dt.timedelta(days=6, hours=23)):
        joined(anybody, second)
        joined(Api(Client()), second, expect=422)
    for nonsense in ("MQ.abc", "x", "%00", "MQ.", ".", "OTk5.abc-def"):
        assert anybody.call("get", f"/api/join/{nonsense}", expect=422)["errors"][0]["field"] == "link"


def test_a_link_for_somebody_who_left_is_none(api, anybody):
    link = invite(api)
    api.lead.call("patch", f"/api/people/{link['person']}", {"active": False})
    joined(anybody, link, expect=422)
    assert "has left" in api.lead.post(f"/api/people/{link['person']}/link", expect=422)["detail"]


@pytest.mark.parametrize("method", ["get", "post"])
def test_people_are_the_leads(api, method):
    for client in (api.viewer, api.technician):
        client.call(method, "/api/people", {"username": "a", "role": "lead"}, 403)


@pytest.mark.parametrize(
    ("name", "word"),
    [
        ("", "Say by which name"),
        ("   ", "Say by which name"),
        ("--", "Say by which name"),
        ("a" * 61, "at most 60"),
        ("Lead", "looks like “lead”"),
        ("l e a d", "looks like “lead”"),
        ("léad", "looks like “lead”"),
        ("lead", "is there already"),
        ("new\u200bname", "control character"),
        ("new\x07name", "control character"),
    ],
)
def test_a_name_that_is_empty_too_long_or_looks_like_another_is_refused(api, people, monkeypatch, name, word):
    assert word in invite(api, name, expect=422)["detail"]
    monkeypatch.setattr("sys.stdin", io.StringIO(f"{GOOD}\n"))
    if not name.startswith("-"):  # an option, to a shell
        with pytest.raises(CommandError, match=word):
            call_command("add_person", name)
    assert Person.objects.count() == 3


def test_what_is_wrong_with_a_first_name_stands_at_it(api):
    body = {"username": "una", "first": "U\u200bna", "last": "", "role": "viewer"}
    assert api.lead.post("/api/people", body, 422)["errors"][0]["field"] == "first"


def test_names_that_look_alike_are_told_by_letters_and_digits():
    assert alike("Müller 2") == alike("muller2") == alike("MU-LLER_2")
    assert alike("muller3") != alike("muller2")


def test_the_last_lead_stays(api, people):
    me = people["lead"].pk
    for change in ({"role": "viewer"}, {"active": False}):
        assert "the only lead" in api.lead.call("patch", f"/api/people/{me}", change, 422)["detail"]
    assert names(api)["lead"]["only_lead"]
    api.lead.call("patch", f"/api/people/{people['viewer'].pk}", {"role": "lead"})
    assert not names(api)["lead"]["only_lead"]
    api.lead.call("patch", f"/api/people/{me}", {"active": False})
    api.lead.get("/api/people", expect=401)  # signed out at once
    assert AuditEntry.objects.filter(act="person left").exists()


def test_who_leaves_is_out_and_may_come_back(api, people):
    pk = people["technician"].pk
    api.technician.get("/api/due")
    api.lead.call("patch", f"/api/people/{pk}", {"active": False})
    api.technician.get("/api/due", expect=401)
    assert names(api)["technician"]["active"] is False
    api.lead.call("patch", f"/api/people/{pk}", {"active": True})
    assert names(api)["technician"]["active"] is True


def test_one_changes_ones_own_password_and_the_other_devices_are_out(people, password):
    def signed_in():
        client = Api(Client(HTTP_USER_AGENT="Mozilla/5.0 (iPad)"))
        client.post("/api/session", {"username": "lead", "password": password})
        return client

    here, there = signed_in(), signed_in()
    assert [(s["device"], s["here"]) for s in here.get("/api/sessions")] in (
        [("tablet", True), ("tablet", False)],
        [("tablet", False), ("tablet", True)],
    )
    assert here.post("/api/password", {"old": "wrong", "password": GOOD}, 422)["errors"][0]["field"] == "old"
    assert here.post("/api/password", {"old": password, "password": "short"}, 422)["errors"][0]["field"] == "password"
    assert here.post("/api/password", {"old": password, "password": password}, 422)["errors"][0]["field"] == "password"
    here.post("/api/password", {"old": password, "password": GOOD}, 204)
    here.get("/api/due")
    there.get("/api/due", expect=401)
    assert len(here.get("/api/sessions")) == 1


def test_sessions_are_ended_by_oneself_and_by_the_lead(api, people, password):
    one, two = Api(Client()), Api(Client())
    for client in (one, two):
        client.post("/api/session", {"username": "lead", "password": password})
    assert one.call("delete", "/api/sessions")["ended"] == 2  # the other, and the fixture's
    one.get("/api/due")
    two.get("/api/due", expect=401)
    assert one.call("delete", f"/api/people/{people['technician'].pk}/sessions")["ended"] == 1
    api.technician.get("/api/due", expect=401)
    api.viewer.call("delete", f"/api/people/{people['lead'].pk}/sessions", expect=403)


SETUP = {
    "username": "isla",
    "password": GOOD,
    "first": "Isla",
    "last": "Marran",
    "name": "Skerrow depot",
    "address": "Pier road\n\n Skerrow ",
    "reached": "channel 8",
    "unit_system": "imperial",
    "dates": "year first",
}


def test_an_empty_book_begins_with_its_lead_and_only_once(anybody):
    assert anybody.get("/api/session")["empty"] is True
    assert anybody.post("/api/setup", {**SETUP, "password": "short"}, 422)["errors"][0]["field"] == "password"
    assert anybody.post("/api/setup", {**SETUP, "name": " "}, 422)["errors"][0]["field"] == "name"
    assert Person.objects.count() == 0
    session = anybody.post("/api/setup", SETUP, 201)
    assert (session["role"], session["unit_system"], session["dates"], session["empty"]) == ("lead", "imperial", "year first", False)
    assert anybody.get("/api/workshop")["address"] == "Pier road\nSkerrow"
    other = Api(Client())
    assert other.get("/api/session")["empty"] is False
    assert "its people already" in other.post("/api/setup", {**SETUP, "username": "una"}, 422)["detail"]


def test_the_workshop_stands_on_its_papers_and_is_changed_by_the_lead(api, anybody):
    now = api.viewer.get("/api/workshop")
    assert now["name"] == ""
    api.technician.post("/api/workshop", {"name": "A"}, 403)
    assert api.lead.post("/api/workshop", {"name": ""}, 422)["errors"][0]["field"] == "name"
    api.lead.post("/api/workshop", {"name": "Skerrow depot", "address": "Pier road", "reached": ""})
    page = PdfReader(io.BytesIO(print_story([Paragraph("a line", BODY)], "paper", "foot"))).pages[0].extract_text()
    assert ("Skerrow depot" in page, "Pier road" in page) == (True, True)


def test_the_first_hour_says_what_comes_next(anybody, depot_after_setup):
    api = depot_after_setup
    steps = {s["key"]: s for s in api.get("/api/first-hour")["steps"]}
    assert [k for k, s in steps.items() if s["done"]] == ["workshop"]
    plugs = [{"role": "fill", "label": "fill plug"}, {"role": "drain", "label": "drain plug"}]
    ways = {"fill_method": "to the lip", "drain_method": "plug", "plugs": plugs, "sources": []}
    sheet = api.post("/api/sheets", {"name": "Box", "kind": "manual gearbox", "family": "gear", "capacity_ml": "2 L", **ways}, 201)
    body = {"name": "Van", "kind": "van", "layout": "front-wheel", "meter": "km"}
    boxes = [{"name": "Gearbox", "slot": "gearbox", "sheet_id": sheet["id"]}]
    refused = api.post("/api/vehicles", {**body, "meter_value": "far", "compartments": boxes}, 422)
    assert refused["errors"][0]["field"] == "meter_value"
    made = api.post("/api/vehicles", {**body, "compartments": boxes}, 201)
    steps = {s["key"]: s for s in api.get("/api/first-hour")["steps"]}
    assert (steps["reading"]["id"], steps["reading"]["name"]) == (made["id"], "Van")
    api.post("/api/vehicles", {**body, "name": "Van 2", "meter_value": "30 000 mi", "compartments": boxes}, 201)
    assert next(v for v in api.get("/api/due")["vehicles"] if v["name"] == "Van 2")["meter_now"] == pytest.approx(48_280.32)
    assert steps["change"]["name"] == "Van, Gearbox"
    api.post(f"/api/book/{steps['change']['id']}", {"on": "2026-05-01", "meter_value": "29 000 mi"}, 201)
    assert api.get("/api/first-hour")["over"] is True


@pytest.fixture
def depot_after_setup(anybody):
    anybody.post("/api/setup", SETUP, 201)
    return anybody


def test_a_plate_with_and_without_spaces_is_one(api, depot):
    body = {"name": "Another", "kind": "car", "layout": "front-wheel", "meter": "km", "plate": "sk 1-2 ab"}
    boxes = [{"name": "Gearbox", "slot": "gearbox", "sheet_id": depot.box.pk}]
    api.lead.post("/api/vehicles", {**body, "compartments": boxes}, 201)
    assert (
        api.lead.post("/api/vehicles", {**body, "name": "Third", "plate": "SK12AB", "compartments": boxes}, 422)["errors"][0]["field"]
        == "plate"
    )
