"""What follows from a service, on every screen that speaks of it: promised, signed, in Due, in the Book, on the morning's list and the owner's
sheet; and how it is closed."""

import re

import pytest
from playwright.sync_api import Page, expect

from .test_ledger import get, places, start
from .walk import LOOK, finish

pytestmark = pytest.mark.browser


WATER = "Find where the water enters, and close it"


def test_a_milky_axle_is_told_alike_from_the_promise_to_the_owner_and_closed_by_what_was_mended(signed_in: Page):
    page = signed_in
    vehicle, axle = places(page)["Depot 4x4", "Rear axle"]
    service = start(page, vehicle, axle)
    finish(page, service, stop="sign", finding=LOOK | {"clarity": "milky"})
    promised = next(x for x in get(page, f"/api/services/{service}")["ledgers"])["promise"]
    page.goto(f"/bay/{service}")
    finish(page, service)
    told = page.get_by_text(WATER)
    for path in (f"/bay/{service}", "/", f"/due/vehicle/{vehicle}", f"/book/{axle}", "/due/morning", f"/book/vehicle/{vehicle}"):
        page.goto(path)
        expect(told.first, path).to_be_visible()
        expect(page.get_by_text(re.compile("nothing needs doing|nothing to do", re.IGNORECASE)), path).to_have_count(0)
    due = next(c for c in get(page, f"/api/due/{vehicle}")["vehicles"][0]["compartments"] if c["id"] == axle)
    assert (due["on"], due["at_meter"], due["state"]) == (promised["next"]["on"], promised["next"]["at_meter"], "repair")
    page.goto(f"/due/vehicle/{vehicle}")
    page.get_by_role("button", name=re.compile(f"^Mended.*{WATER}")).click()
    form = page.get_by_role("form", name=re.compile("^Mended"))
    form.get_by_role("button", name="Note it").click()
    expect(form.get_by_label("What was found, and what was mended?")).to_have_attribute("aria-invalid", "true")
    form.get_by_label("What was found, and what was mended?").fill("breather hose off, renewed")
    form.get_by_role("button", name="Note it").click()
    expect(page.get_by_text(f"Look again after it was mended: {WATER}")).to_be_visible()
    page.goto(f"/book/{axle}")
    expect(page.get_by_text("Isla Marran: breather hose off, renewed")).to_be_visible()


def test_a_stopped_truck_says_so_wherever_somebody_would_start_it(signed_in: Page):
    page = signed_in
    truck = places(page)["Timber truck", "Rear axle"][0]
    page.goto(f"/bay/start/{truck}")
    expect(page.get_by_text(re.compile(r"^Must not be driven\. Rear axle")).first).to_be_visible()
    service = start(page, truck, places(page)["Timber truck", "Transfer case"][1])
    key = get(page, "/api/session")["csrf"]
    steps = {s["purpose"]: s for s in get(page, f"/api/services/{service}")["steps"]}
    ready = {
        "act_id": "00000000-0000-4000-8000-000000000001",
        "kind": "done",
        "step": "ready",
        "values": {"ticked": steps["ready"]["checklist"]},
    }
    assert page.request.post(f"/api/services/{service}/acts", data=ready, headers={"X-CSRFToken": key}).ok
    drive = {"act_id": "00000000-0000-4000-8000-000000000002", "kind": "timer_start", "step": "warm", "values": {}}
    refused = page.request.post(f"/api/services/{service}/acts", data=drive, headers={"X-CSRFToken": key})
    assert refused.status == 409
    assert "must not be driven" in refused.json()["detail"]
    page.goto(f"/due/vehicle/{truck}")
    page.get_by_role("button", name=re.compile("^Clear the stop")).click()
    form = page.get_by_role("form", name=re.compile("^Clear the stop"))
    form.get_by_label("What was found, and what was mended?").fill("bearing and crown wheel renewed, case washed")
    form.get_by_role("button", name="Note it").click()
    expect(page.get_by_text(re.compile("^Look again after it was mended"))).to_be_visible()
    refused = page.request.post(f"/api/services/{service}/acts", data=drive, headers={"X-CSRFToken": key})
    assert "Not driven while Middle axle is without its oil" in refused.json()["detail"]  # that service is open still


LEAK = "It leaks: repair before the level falls below its low mark"


def test_a_leaking_axle_is_told_alike_and_its_shortened_interval_is_given_back(signed_in: Page):
    page = signed_in
    vehicle, axle = places(page)["Warden 4x4", "Rear axle"]
    service = start(page, vehicle, axle)
    last = get(page, f"/api/services/{service}")["ledgers"][0]["last_in_ml"]
    finish(
        page,
        service,
        drained=f"{last * 0.6:.0f} mL",
        finding=LOOK | {"magnet": "whiskers", "particles": [{"form": "paste", "metal": "steel", "count": 9, "size_mm": 0.1}]},
    )
    told = page.get_by_text(LEAK)
    for path in (f"/bay/{service}", "/", f"/due/vehicle/{vehicle}", f"/book/{axle}", "/due/morning", f"/book/vehicle/{vehicle}"):
        page.goto(path)
        expect(told.first, path).to_be_visible()
        expect(page.get_by_text(re.compile("nothing needs doing|nothing to do", re.IGNORECASE)), path).to_have_count(0)
    page.goto(f"/book/{axle}")
    page.get_by_role("button", name=re.compile("^Give the interval back")).click()
    form = page.get_by_role("form", name=re.compile("^Give the interval back"))
    form.get_by_label("Why is the usual interval right again?").fill("swarf of new gears, magnet cleaned")
    form.get_by_role("button", name="Note it").click()
    expect(page.get_by_text("Isla Marran: swarf of new gears, magnet cleaned")).to_be_visible()
    due = next(c for c in get(page, f"/api/due/{vehicle}")["vehicles"][0]["compartments"] if c["id"] == axle)
    assert due["state"] == "repair"
