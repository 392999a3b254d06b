"""What was typed once is not asked again: where a torque is from, reasons of before; and what it teaches the sheet."""

import copy

import pytest

from barodex.demo.walk import Outcome, walk
from tests.api.test_checks import CLUTCH, begin, done, fitted, record_of, step_for
from tests.api.test_consequences import open_of
from tests.conftest import new_act

pytestmark = pytest.mark.django_db

OUT = {"Clutch case": Outcome(640, 20)}


def without_torque():
    sheet = copy.deepcopy(CLUTCH)
    for plug in sheet["plugs"]:
        plug["torque_nm"] = None
    return sheet


def closed(api, service, purpose, torque, expect=200, **more):
    return done(
        api, service, step_for(api, service, purpose)["id"], expect, torque_nm=torque, started_by_hand=True, seal_renewed=True, **more
    )


def test_where_a_torque_is_from_is_asked_once_and_offered_to_the_sheet(api, depot, people):
    fitted(api, depot, without_torque(), "Case fluid", "clutch fluid")
    service = begin(api, depot)
    walk(people["technician"], service, OUT, stop_before="shut")
    assert "Clutch case, drain plug: the sheet has no torque" in closed(api, service, "shut", 25, 409)["detail"]
    closed(api, service, "shut", 25, reason="workshop table")
    walk(people["technician"], service, OUT, stop_before="closefill")
    gaps = closed(api, service, "closefill", 30)["gaps"]  # not asked again
    assert [g for g in gaps if "filler plug" in g and "workshop table" in g]
    walk(people["technician"], service, OUT)
    rows = [c for c in api.viewer.get("/api/due")["consequences"] if c["code"] == "torque"]
    assert sorted((c["what"], c["offer_nm"]) for c in rows) == [
        ("The sheet has no torque for the drain plug: take over 25 N·m (workshop table)", 25),
        ("The sheet has no torque for the filler plug: take over 30 N·m (workshop table)", 30),
    ]
    take = f"/api/consequences/{next(c['id'] for c in rows if c['offer_nm'] == 25)}/take"
    api.technician.post(take, expect=403)
    api.lead.post(take)
    newest = api.viewer.get(f"/api/sheets/{depot.box.sheet_id}")["revisions"][0]
    assert {p["label"]: p["torque_nm"] for p in newest["plugs"]} == {"filler plug": None, "drain plug": 25}
    assert [(s["figure"], s["trust"]) for s in newest["sources"]] == [("torque", "remembered")]
    assert "closed already" in api.lead.post(take, expect=422)["detail"]


def test_a_torque_that_the_sheet_has_by_now_is_not_taken_over(api, depot, people):
    fitted(api, depot, without_torque(), "Case fluid", "clutch fluid")
    service = begin(api, depot)
    walk(people["technician"], service, OUT)
    first, second = (c for c in api.viewer.get("/api/due")["consequences"] if c["code"] == "torque")
    api.lead.post(f"/api/consequences/{first['id']}/take")
    api.lead.post(f"/api/consequences/{second['id']}/take")
    again = begin(api, depot)
    walk(people["technician"], again, OUT)
    assert ("adopt", "torque") not in open_of(api)


def test_a_code_that_was_cleared_and_is_back_is_to_be_mended(api, depot, people):
    fitted(api, depot, CLUTCH, "Case fluid", "clutch fluid")
    service = begin(api, depot)
    walk(people["technician"], service, OUT, stop_before="before")
    done(api, service, step_for(api, service, "before")["id"], before="wear counter 4", faults="U1 coupling worn\nU2 supply low")
    walk(people["technician"], service, OUT, stop_before="reset")
    reset = step_for(api, service, "reset")
    done(api, service, reset["id"], ticked=[*reset["checklist"], "wear counter"], cleared=True)
    walk(people["technician"], service, OUT, stop_before="values")
    done(api, service, step_for(api, service, "values")["id"], after="wear counter 0", faults="u1: coupling worn")
    walk(people["technician"], service, OUT)
    assert open_of(api)["repair", "code-returned"]["what"] == (
        "u1: coupling worn: cleared, and read again: measure the wear, do not clear it again"
    )
    said = {d["label"]: d["words"] for d in record_of(api, depot, service)["details"]}
    assert (said["Faults read"], said["Faults read again"]) == ("U1 coupling worn, U2 supply low", "u1: coupling worn")
    assert "fault-returned" in {s["rule"] for s in api.viewer.get(f"/api/book/{depot.box.pk}/trend")["surprises"]}


def test_reasons_of_before_are_offered_by_what_they_were_for(api, depot, people):
    assert api.viewer.get("/api/reasons") == {"torque": [], "passed": [], "other": []}
    fitted(api, depot, without_torque(), "Case fluid", "clutch fluid")
    service = begin(api, depot)
    walk(people["technician"], service, OUT, stop_before="before")
    skipped = new_act("skip", step_for(api, service, "before")["id"], reason="no tool on the island")
    api.technician.post(f"/api/services/{service}/acts", skipped)
    walk(people["technician"], service, OUT, stop_before="shut")
    closed(api, service, "shut", 25, reason="workshop table")
    last = api.viewer.get("/api/reasons")
    assert (last["torque"], last["passed"]) == (["workshop table"], ["no tool on the island"])
