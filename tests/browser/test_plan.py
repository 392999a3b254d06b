"""The horizon: read, a visit agreed by the keys, moved by dragging, done, and the horizon moves."""

import re

import pytest
from playwright.sync_api import Page, expect

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
        page.wait_for_timeout(250)
        if "closed" not in chosen.inner_text():
            break
    expect(chosen).to_contain_text("early")
    page.get_by_role("button", name="Agree this visit").click()
    agreed = page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback"))
    expect(agreed).to_be_visible()
    before = agreed.get_attribute("aria-label")

    box = agreed.locator("path").last.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 140, box["y"] + 4, steps=6)
    page.mouse.up()
    expect(chosen).to_contain_text(re.compile("over|falls due|early"))
    assert page.get_by_role("button", name=re.compile("Agreed visit, Nurse's hatchback")).get_attribute("aria-label") != before
    while "closed" in chosen.inner_text():
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(250)
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
