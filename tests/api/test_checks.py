"""Checks that are answered bad, faults that come back, values over their limit: each follows, stays on record, and is compared next time."""

import datetime as dt

import pytest

from barodex import clock
from barodex.book.models import OilRecord
from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Compartment
from barodex.shelf.models import Lubricant
from tests.api.test_consequences import open_of, paper
from tests.conftest import NOW, new_act

pytestmark = pytest.mark.django_db

CHAIN = {
    "name": "Chain case",
    "kind": "chain case",
    "family": "chain case",
    "capacity_ml": "250 mL",
    "fill_method": "dipstick",
    "drain_method": "cover",
    "plugs": [
        {"role": "dipstick", "label": "dipstick", "drive": "by hand"},
        {"role": "cover", "label": "case cover", "drive": "hex socket", "size_mm": 6, "seal": "gasket", "torque_nm": 12},
    ],
    "sources": [],
}
CLUTCH = {
    "name": "Clutch case",
    "kind": "clutch transfer case",
    "family": "clutch fluid",
    "capacity_ml": "650 mL",
    "fill_method": "measured",
    "drain_method": "plug",
    "resets": ["wear counter"],
    "wear_limits": ["wear counter 10"],
    "plugs": [
        {"role": "fill", "label": "filler plug", "drive": "hex socket", "size_mm": 8, "seal": "crush washer", "torque_nm": 35},
        {"role": "drain", "label": "drain plug", "drive": "hex socket", "size_mm": 8, "seal": "crush washer", "torque_nm": 20},
    ],
    "sources": [],
}


def fitted(api, depot, sheet, oil, family):
    made = api.lead.post("/api/sheets", sheet, expect=201)["id"]
    depot.box = Compartment.objects.create(vehicle=depot.vehicle, sheet_id=made, name=sheet["name"], slot="transfer")
    depot.oil = Lubricant.objects.create(name=oil, family=family, density15=850)
    return depot


def begin(api, depot):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "jobs": [{"compartment_id": depot.box.pk, "lubricant_id": depot.oil.pk, "override": "its maker knows no other"}],
        "at_hand": [depot.oil.name],
    }
    return api.technician.post("/api/services", body, expect=201)["id"]


def done(api, service, step, expect=200, **values):
    return api.technician.post(f"/api/services/{service}/acts", new_act("done", step, **values), expect=expect)


def step_for(api, service, purpose):
    return next(s for s in api.viewer.get(f"/api/services/{service}")["steps"] if s["purpose"] == purpose)


def record_of(api, depot, service):
    return next(r for r in api.viewer.get(f"/api/book/{depot.box.pk}")["records"] if r["service"] == service)


def test_a_chain_that_is_bad_is_mended_stays_on_record_and_is_compared(api, depot, people):
    fitted(api, depot, CHAIN, "Case oil", "chain case")
    service = begin(api, depot)
    walk(people["technician"], service, {"Chain case": Outcome(240, 20)}, stop_before="chain")
    step = step_for(api, service, "chain")
    assert step["checks"]
    names = step["checklist"]
    assert done(api, service, step["id"], 409, ticked=names[:2])["detail"] == f"Good or bad? {names[2]}."
    assert done(api, service, step["id"], 422, ticked=names[:2], bad=[names[2]])["errors"][0]["field"] == "bad_seen"
    assert done(api, service, step["id"], 422, ticked=names, bad=["the paint"])["errors"][0]["field"] == "bad"
    done(api, service, step["id"], ticked=names[:2], bad=[names[2]], bad_seen="upper bearing rattles")
    tension = step_for(api, service, "tension")
    done(api, service, tension["id"], turns=1, state="at the end of its adjustment", stretch="12 mm over ten links")
    walk(people["technician"], service, {"Chain case": Outcome(240, 20)})
    told = sorted(c["what"] for c in api.viewer.get("/api/due")["consequences"] if c["code"] == "check-bad")
    assert told == [
        "Bearings: no play, no noise: bad. upper bearing rattles",
        "The chain: bad. at the end of its adjustment: 12 mm over ten links",
    ]
    record = record_of(api, depot, service)
    assert "upper bearing rattles" in paper(api, record["id"])
    assert any("1 turns back to the nearest clip" in d["words"] for d in record["details"])
    with clock.at(NOW + dt.timedelta(days=300)):
        again = begin(api, depot)
        advice = {s["purpose"]: s["advice"] for s in api.viewer.get(f"/api/services/{again}")["steps"]}
        assert advice["chain"] == ["Last time: Bearings: no play, no noise: bad, upper bearing rattles (15 Jun 2026)"]
        assert any("12 mm over ten links (15 Jun 2026)" in a for a in advice["tension"])
        walk(people["technician"], again, {"Chain case": Outcome(240, 20)})
        assert not [c for c in api.viewer.get("/api/due")["consequences"] if "Bearings" in c["what"]]  # good now


def test_a_belt_that_stays_in_worn_is_a_repair(api, depot, people):
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, "work": {"attached": ["belt"]}}
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "72 000", "jobs": [job], "at_hand": ["Light"]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1820)}, stop_before="attached")
    step = step_for(api, service, "attached")
    done(api, service, step["id"], state="worn or torn, and it stays in", done="cracked between the ribs")
    walk(people["technician"], service, {"Gearbox": Outcome(1820)})
    assert open_of(api)["repair", "check-bad"]["what"] == "belt: bad. worn or torn, and it stays in: cracked between the ribs"
    record = OilRecord.objects.get(service=service)
    assert record.details["attached"] == ["belt: worn or torn, and it stays in: cracked between the ribs"]


def test_a_counter_over_its_limit_and_one_that_comes_back_are_repairs(api, depot, people):
    fitted(api, depot, CLUTCH, "Case fluid", "clutch fluid")
    service = begin(api, depot)
    walk(people["technician"], service, {"Clutch case": Outcome(640, 20)}, stop_before="before")
    assert "Limit: wear counter 10" in step_for(api, service, "before")["advice"]
    done(api, service, step_for(api, service, "before")["id"], before="wear counter 14")
    walk(people["technician"], service, {"Clutch case": Outcome(640, 20)}, stop_before="values")
    assert open_of(api).keys().isdisjoint({("repair", "over-limit")})
    promised = {c["code"] for c in api.viewer.get(f"/api/services/{service}")["ledgers"][0]["promise"]["follows"]}
    assert "over-limit" in promised  # as it was read before: nobody has read it after
    done(api, service, step_for(api, service, "values")["id"], after="wear counter 0")
    walk(people["technician"], service, {"Clutch case": Outcome(640, 20)})
    assert ("repair", "over-limit") not in open_of(api)
    with clock.at(NOW + dt.timedelta(days=200)):
        again = begin(api, depot)
        assert any("wear counter 0 (15 Jun 2026)" in a for a in step_for(api, again, "before")["advice"])
        walk(people["technician"], again, {"Clutch case": Outcome(640, 20)}, stop_before="before")
        done(api, again, step_for(api, again, "before")["id"], before="wear counter 6")
        walk(people["technician"], again, {"Clutch case": Outcome(640, 20)}, stop_before="values")
        done(api, again, step_for(api, again, "values")["id"], after="wear counter 12")
        walk(people["technician"], again, {"Clutch case": Outcome(640, 20)})
        ahead = open_of(api)
        assert (
            ahead["repair", "fault-returned"]["what"] == "wear counter was reset and is back at 6: measure the wear, do not reset it again"
        )
        assert ahead["repair", "over-limit"]["what"] == "wear counter stands at 12, above the 10 of the sheet: measure the wear"
        stands_out = api.viewer.get(f"/api/book/{depot.box.pk}/trend")["surprises"]
        assert {"fault-returned"} & {s["rule"] for s in stands_out} or {"reset-without-effect"} & {s["rule"] for s in stands_out}
