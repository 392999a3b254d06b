"""The horizon: read, a visit agreed by the keys, moved by dragging, done, and the horizon moves."""

import re

import pytest
from playwright.sync_api import Page, expect

from .walk import finish, have_it_all

pytestmark = pytest.mark.browser


def test_a_visit_is_agreed_by_keys_and_moved_by_dragging(signed_in: Page):
    page = signed_in
    page.goto("/due")
    page.get_by_role("link", name="Horizon").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The next half year")
    proposed = page.get_by_role("button", name=re.compile("Proposed visit, Nurse's hatchback"))
    proposed.focus()
    chosen = page.get_by_role("status", name="The chosen visit")
    expect(chosen).to_contain_text("Nurse's hatchback")
    # Earlier by days until one that is open; closed days say so and cannot be agreed.
    for _ in range(7):
        page.keyboard.press("ArrowLeft")
        expect(page.locator("[aria-busy=false]").and_(chosen)).to_be_visible()
        if "closed" not in chosen.inner_text():
            break
    expect(chosen).to_contain_text("early")
    page.get_by_role("button", name="Agree this visit").click()
    agreed = page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback"))
    expect(agreed).to_be_visible()
    before = agreed.get_attribute("aria-label")

    expect(page.get_by_text(re.compile("A dashed bracket is a proposed visit"))).to_be_visible()  # nothing is held any more
    agreed.locator("path").last.evaluate("mark => mark.scrollIntoView({ block: 'center' })")
    box = agreed.locator("path").last.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 140, box["y"] + 4, steps=6)
    page.mouse.up()
    expect(chosen).to_contain_text(re.compile("over|falls due|early"))
    assert page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback")).get_attribute("aria-label") != before
    tried = page.locator("[aria-busy=false]").and_(chosen)
    expect(tried).to_be_visible()
    while "closed" in chosen.inner_text():
        page.keyboard.press("ArrowRight")
        expect(tried).to_be_visible()
    page.get_by_role("button", name="Move it here").click()
    expect(page.get_by_text(re.compile("A dashed bracket is a proposed visit"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback"))).to_be_visible()
    page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback")).focus()
    page.get_by_role("button", name="Drop it").click()
    expect(page.get_by_role("button", name=re.compile("Proposed visit, Nurse's hatchback"))).to_be_visible()
    for words, title in (("Week", "The next week"), ("Year", "The next year")):
        page.get_by_role("button", name=words, exact=True).click()
        expect(page.get_by_role("heading", level=1)).to_have_text(title)


def open_day(page: Page) -> str:
    """The next day on which the workshop works, today included."""
    loads = page.request.get("/api/plan/horizon?days=31").json()["loads"]
    return next(day["on"] for day in loads if day["hours"] > day["taken"] + 2)


def test_the_morning_leads_to_a_visit_which_is_done_and_moves_the_horizon(signed_in: Page):
    page = signed_in
    on = open_day(page)
    key = page.request.get("/api/session").json()["csrf"]
    body = {"vehicle_id": 2, "on": on, "compartments": [8], "note": ""}
    made = page.request.post("/api/plan/visits", data=body, headers={"X-CSRFToken": key})
    assert made.status == 201, made.text()
    page.goto("/due/horizon")
    mark = page.get_by_role("img", name=re.compile("^Depot 4x4, transfer case, "))
    before = mark.first.get_attribute("aria-label")

    page.goto("/due")
    page.get_by_role("link", name="Morning").click()
    expect(page.get_by_role("heading", name="Visits agreed, this week")).to_be_visible()
    page.get_by_role("link", name=re.compile("bay 1: transfer case")).click()
    expect(page.get_by_role("heading", level=1, name="Depot 4x4")).to_be_visible()
    have_it_all(page)
    page.get_by_role("button", name="Start on transfer case").click()
    page.wait_for_url(re.compile(r"/bay/\d+$"))
    finish(page, int(page.url.rsplit("/", 1)[1]))
    page.reload()
    expect(page.get_by_role("heading", name=re.compile("^Signed"))).to_be_visible()
    expect(page.get_by_role("heading", name="What is open")).to_be_visible()

    page.goto("/due/horizon")
    expect(page.get_by_role("button", name=re.compile("Agreed visit, Depot 4x4, transfer case"))).to_be_visible()
    expect(page.get_by_text("done", exact=True)).to_be_visible()
    expect(page.get_by_role("img", name=before)).to_have_count(0)
    page.goto("/due/morning")
    expect(page.get_by_role("link", name=re.compile("bay 1: transfer case"))).to_have_count(0)
