"""The plan over HTTP: horizon, visits agreed, moved, dropped and done, bay hours and closed days."""

import datetime as dt

import pytest
from django.test import Client
from icalendar import Calendar

from barodex import clock
from barodex.book.actions import PaperRecord, enter_record
from barodex.demo.walk import Outcome, walk
from barodex.plan.horizon import horizon
from barodex.plan.models import CalendarLink, PlannedVisit
from tests.conftest import NOW

TODAY = NOW.date()


@pytest.fixture
def due_soon(depot, people):
    """Gearbox and axle whose time and distance run out a few weeks apart."""
    tech = people["technician"]
    with clock.at(NOW - dt.timedelta(days=900)):
        enter_record(tech, depot.rear.pk, PaperRecord(clock.today(), 34_000, depot.heavy.pk, "", None, None, 1500))
    return depot


def plan(api, depot, on, boxes=None, expect=201):
    body = {"vehicle_id": depot.vehicle.pk, "on": str(on), "compartments": boxes or [depot.rear.pk]}
    return api.lead.post("/api/plan/visits", body, expect=expect)


def monday(weeks=2):
    return TODAY + dt.timedelta(days=7 * weeks - TODAY.weekday())


def test_the_horizon_draws_due_days_with_their_spread(api, due_soon):
    found = api.viewer.get("/api/plan/horizon?days=400")
    assert found["today"] == str(TODAY)
    (row,) = found["rows"]
    marks = {m["name"]: m for m in row["marks"]}
    assert marks["Rear axle"]["earliest"] <= marks["Rear axle"]["on"] <= marks["Rear axle"]["latest"]
    assert row["proposed"], "what falls due is proposed"
    assert found["savings"]["visits"] <= found["savings"]["alone_visits"]
    closed = [day for day in found["loads"] if day["hours"] == 0]
    assert {dt.date.fromisoformat(d["on"]).weekday() for d in closed} == {5, 6}
    assert len(found["loads"]) == 401


@pytest.mark.parametrize("days", ["0", "9000", "soon", "-5"])
def test_a_horizon_that_cannot_be_is_refused(api, depot, days):
    assert api.viewer.get(f"/api/plan/horizon?days={days}", expect=422)["errors"][0]["field"] == "days"


def test_a_day_says_what_it_throws_away_or_overruns(api, due_soon):
    due = dt.date.fromisoformat(
        next(m for m in api.viewer.get("/api/plan/horizon?days=400")["rows"][0]["marks"] if m["name"] == "Rear axle")["on"]
    )
    body = {"vehicle_id": due_soon.vehicle.pk, "compartments": [due_soon.rear.pk], "note": ""}

    def effect(day):
        return api.viewer.post("/api/plan/visits/trial", {**body, "on": str(day)})["effects"][0]

    early = effect(due - dt.timedelta(days=20))
    assert early["early_days"] == 20
    assert not early["over"]
    # Twenty days of the days from the last change to the next are thrown away, and so much of 1 500 mL.
    span = (due - (TODAY - dt.timedelta(days=900))).days
    assert early["thrown_share"] == pytest.approx(20 / span)
    assert early["thrown_ml"] == pytest.approx(1500 * 20 / span)
    late = effect(due + dt.timedelta(days=3))
    assert late["over"]
    assert (late["early_days"], late["thrown_ml"]) == (-3, 0)


def test_a_visit_is_agreed_moved_and_dropped(api, due_soon):
    made = plan(api, due_soon, monday())["id"]
    (row,) = api.viewer.get("/api/plan/horizon?days=400")["rows"]
    assert [v["id"] for v in row["planned"]] == [made]
    assert all(due_soon.rear.pk not in v["compartments"] for v in row["proposed"]), "what is agreed is not proposed again"
    api.lead.call("patch", f"/api/plan/visits/{made}", {"on": str(monday(3))})
    assert PlannedVisit.objects.get(pk=made).on == monday(3)
    api.lead.call("delete", f"/api/plan/visits/{made}")
    assert PlannedVisit.objects.get(pk=made).dropped_at is not None
    assert api.viewer.get("/api/plan/horizon?days=400")["rows"][0]["planned"] == []
    api.lead.call("delete", f"/api/plan/visits/{made}", expect=404)


def test_only_the_lead_plans(api, due_soon):
    body = {"vehicle_id": due_soon.vehicle.pk, "on": str(monday()), "compartments": [due_soon.rear.pk]}
    api.technician.post("/api/plan/visits", body, expect=403)
    api.viewer.post("/api/plan/bay", {"hours_per_day": 6, "why": "one is away"}, expect=403)


def test_what_cannot_be_planned_says_why(api, due_soon):
    saturday = monday() + dt.timedelta(days=5)
    assert "closed on Saturday" in plan(api, due_soon, saturday, expect=409)["detail"]
    assert "has passed" in plan(api, due_soon, TODAY - dt.timedelta(days=1), expect=422)["detail"]
    assert plan(api, due_soon, monday(), [9999], expect=422)["errors"][0]["field"] == "compartments"
    plan(api, due_soon, "2026-02-30", expect=422)
    plan(api, due_soon, monday())
    assert "has it already" in plan(api, due_soon, monday(3), expect=409)["detail"]


def test_two_plans_for_one_day_must_fit_its_hours(api, due_soon):
    api.lead.post("/api/plan/bay", {"hours_per_day": 2.0, "why": "one bay, half a day"})
    plan(api, due_soon, monday(), [due_soon.gearbox.pk])
    refused = plan(api, due_soon, monday(), [due_soon.rear.pk], expect=409)["detail"]
    assert "h are left on that day beside Old 4x4" in refused
    plan(api, due_soon, monday() + dt.timedelta(days=1), [due_soon.rear.pk])


def test_a_visit_longer_than_a_day_is_said_not_to_fit(api, due_soon):
    api.lead.post("/api/plan/bay", {"hours_per_day": 1.0, "why": "a small yard"})
    found = api.viewer.get("/api/plan/horizon?days=400")
    assert any("the longest day has 1 h" in u for u in found["unfit"])


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"hours_per_day": 0}, "hours_per_day"),
        ({"closed_weekdays": [0, 1, 2, 3, 4, 5, 6]}, "Every weekday is closed"),
        ({"closed_weekdays": [9]}, "closed_weekdays"),
        ({"late_days": -1}, "late_days"),
        ({"hours_per_day": 8, "why": "x"}, "why"),
    ],
)
def test_a_bay_that_cannot_work_is_refused(api, depot, change, word):
    assert word in api.lead.post("/api/plan/bay", {"why": "because of it", **change}, expect=422)["detail"]


def test_a_closed_day_moves_the_proposals(api, due_soon):
    before = api.viewer.get("/api/plan/horizon?days=400")["rows"][0]["proposed"][0]["on"]
    api.lead.post("/api/plan/bay", {"closed_days": [before], "why": "island fair"})
    assert api.viewer.get("/api/plan/bay")["closed_days"] == [before]
    after = api.viewer.get("/api/plan/horizon?days=400")["rows"][0]["proposed"][0]["on"]
    assert after != before


def test_doing_it_moves_the_horizon(api, due_soon, people):
    made = plan(api, due_soon, monday())["id"]
    body = {
        "vehicle_id": due_soon.vehicle.pk,
        "meter_value": "72 000",
        "jobs": [{"compartment_id": due_soon.rear.pk, "lubricant_id": due_soon.heavy.pk, "slip": "no"}],
        "at_hand": ["Heavy"],
    }
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Rear axle": Outcome(1480)})
    found = api.viewer.get("/api/plan/horizon?days=400")
    visit = next(v for r in found["rows"] for v in r["planned"] if v["id"] == made)
    assert visit["done"]
    assert all(m["on"] > str(TODAY + dt.timedelta(days=300)) for r in found["rows"] for m in r["marks"] if m["name"] == "Rear axle")


def test_the_horizon_is_kept_until_the_next_act(api, due_soon):
    assert horizon(clock.today(), 90) is horizon(clock.today(), 90)
    plan(api, due_soon, monday())
    assert any(r.planned for r in horizon(clock.today(), 90).rows)


# --- the calendar --------------------------------------------------------------------------------------------------------


def events(content):
    """The events of an iCalendar file, read back by the icalendar library."""
    read = Calendar.from_ical(content)
    assert read["version"] == "2.0"
    return {str(e["uid"]): e for e in read.walk("VEVENT")}


def test_the_calendar_is_read_back_with_its_due_days_and_visits(api, due_soon):
    visit = plan(api, due_soon, monday(), [due_soon.rear.pk])["id"]
    response = api.viewer.client.get("/api/plan/calendar/file")
    assert response["Content-Type"].startswith("text/calendar")
    found = events(response.content)
    made = found[f"visit-{visit}@barodex"]
    assert made["dtstart"].dt == monday()
    assert made["dtend"].dt == monday() + dt.timedelta(days=1), "a whole day, whatever the time zone"
    assert "Old 4x4" in made["summary"]
    assert f"due-{due_soon.rear.pk}@barodex" not in found, "what is agreed is not due beside it"
    marks = {m["compartment_id"]: m for r in api.viewer.get("/api/plan/horizon?days=400")["rows"] for m in r["marks"]}
    for uid, event in found.items():
        if uid.startswith("due-"):
            assert str(event["dtstart"].dt) == marks[int(uid.split("@")[0][4:])]["on"]
    assert all(len(line) <= 75 for line in response.content.split(b"\r\n")), "RFC 5545, 3.1: lines of at most 75 octets"


def test_the_secret_link_works_without_a_session_until_it_is_revoked(api, due_soon):
    stranger = Client()
    assert api.viewer.get("/api/plan/calendar")["since"] is None
    path = api.viewer.post("/api/plan/calendar", expect=201)["path"]
    answer = stranger.get(path)
    assert answer.status_code == 200
    assert events(answer.content)
    assert api.viewer.get("/api/plan/calendar")["path"] == "", "the key is shown once"
    again = api.viewer.post("/api/plan/calendar", expect=201)["path"]
    assert stranger.get(path).status_code == 404, "a new link ends the old one"
    assert stranger.post(again).status_code in (403, 404)
    api.viewer.call("delete", "/api/plan/calendar")
    assert stranger.get(again).status_code == 404
    assert stranger.get("/calendar/guessed.ics").status_code == 404
    assert CalendarLink.objects.filter(key_hash__in=[path, again]).count() == 0, "no key is kept in the clear"


def test_the_link_of_a_person_who_left_no_longer_works(api, due_soon, people):
    path = api.viewer.post("/api/plan/calendar", expect=201)["path"]
    people["viewer"].is_active = False
    people["viewer"].save()
    assert Client().get(path).status_code == 404


def test_the_months_ahead_sum_what_their_visits_take(api, due_soon):
    plan(api, due_soon, monday(), [due_soon.rear.pk])
    found = api.viewer.get("/api/plan/horizon?days=366")
    assert [m["first"][:7] for m in found["months"]][:3] == ["2026-06", "2026-07", "2026-08"]
    june = found["months"][0]
    assert (june["visits"], june["oils"]) == (1, [{"oil": "Heavy", "litres": 1.5}])
    assert june["hours"] == found["rows"][0]["planned"][0]["hours"]
    whole = [v for r in found["rows"] for v in (*r["planned"], *r["proposed"]) if v["on"] <= found["until"]]
    assert sum(m["hours"] for m in found["months"]) == pytest.approx(sum(v["hours"] for v in whole))
