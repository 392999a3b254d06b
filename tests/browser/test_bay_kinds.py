"""Other kinds of compartment in the real page: an exchange with its level at temperature, a hub gear, acts that outlive a closed page."""

import re

import pytest
from playwright.sync_api import Page, expect

from .walk import finish, have_it_all

pytestmark = pytest.mark.browser


def started(page: Page) -> int:
    page.wait_for_url(re.compile(r"/bay/\d+$"))
    return int(page.url.rsplit("/", 1)[1])


def test_an_automatic_by_exchange_with_its_level_at_temperature(signed_in: Page):
    page = signed_in
    page.goto("/bay/start/3?c=11")
    expect(page.get_by_label("Oil for Automatic").locator("option:checked")).to_contain_text("Burn ATF: meets the sheet")
    have_it_all(page)
    page.get_by_role("button", name="Start on automatic").click()
    service = started(page)
    finish(page, service, "measure.11.1", "3.8 L")
    page.get_by_label("In the pan").fill("3.8 L")
    page.get_by_role("button", name="Note it, go on").click()
    expect(page.get_by_role("heading", level=2, name="Read oil and magnet")).to_be_visible()  # the first drain is the old oil
    finish(page, service, "pour.11.1", "3.8 L")
    expect(page.get_by_role("heading", level=2, name=re.compile("cycle 1: pour what came out", re.I))).to_be_visible()
    finish(page, service, "level.", "3.8 L")
    expect(page.get_by_role("heading", level=2, name=re.compile("Set the level at 40 to 45 °C"))).to_be_visible()
    page.get_by_label("The thermometer shows").fill("31")
    page.get_by_role("button", name="Note the reading").click()
    expect(page.get_by_role("img", name=re.compile(r"Oil temperature: 31\s°C, outside"))).to_be_visible()
    page.get_by_label("The thermometer shows").fill("400 °C")
    page.get_by_role("button", name="Note the reading").click()
    expect(page.get_by_role("alert")).to_contain_text("allowed is -40 to 200")
    page.get_by_label("Oil temperature as you close").fill("53")
    page.get_by_text("running", exact=True).click()
    page.get_by_text("streamed, then only drips").click()
    page.get_by_role("button", name="Level is set, go on").click()
    expect(page.get_by_role("alert")).to_contain_text("too little would stay inside")
    page.get_by_label("Oil temperature as you close").fill("43")
    page.get_by_role("button", name="Level is set, go on").click()
    expect(page.get_by_role("heading", level=2, name=re.compile("Shut the level screw"))).to_be_visible()
    finish(page, service)
    page.goto("/book/11")
    expect(page.get_by_role("article").first).to_contain_text(re.compile(r"Exchange: .*\d\d\s% fresh.*drains: 3"))


def test_a_hub_gear_is_flushed_and_filled_by_its_dose(signed_in: Page):
    page = signed_in
    page.goto("/shelf/sheets/15/guide")
    expect(page.get_by_role("heading", level=1, name="Guide: Eight-speed hub gear")).to_be_visible()
    page.get_by_label("On a").select_option("bicycle")
    expect(page.get_by_text("☐ On its stand")).to_be_visible()
    page.goto("/bay/start/8?c=19")
    page.get_by_role("button", name="Start on hub gear").click()
    service = started(page)
    finish(page, service, "flushin.", "24 mL")
    expect(page.get_by_role("heading", level=2, name=re.compile("25 mL of flush fluid in"))).to_be_visible()
    page.get_by_role("button", name=re.compile("of air back, tap")).click()
    page.get_by_role("button", name="Is it so now? Go on").click()
    expect(page.get_by_role("alert")).to_contain_text("Not so yet")
    finish(page, service, drained="24 mL")
    page.goto("/book/19")
    expect(page.get_by_role("article").first).to_contain_text(re.compile(r"25\smL"))


def test_an_act_outlives_a_closed_page_and_a_lost_server(signed_in: Page, server):
    page = signed_in
    page.goto("/bay/2")
    page.get_by_role("heading", level=1, name="Timber truck").wait_for()
    server.stop()
    page.get_by_role("button", name="Note", exact=True).click()
    page.get_by_label("Note", exact=True).fill("hose clip missing")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_text(re.compile("one act waits"))).to_be_visible()
    page.get_by_label("Note", exact=True).fill("clip found under the bench")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_text(re.compile("2 acts wait"))).to_be_visible()
    page.close()
    server.start()
    again = signed_in.context.new_page()
    again.goto("/bay/2")
    again.get_by_role("heading", level=1, name="Timber truck").wait_for()
    expect(again.get_by_role("status").filter(has_text="saved")).to_be_visible()
    again.get_by_role("button", name="Note", exact=True).click()
    expect(again.get_by_text(re.compile("hose clip missing"))).to_have_count(1)
    expect(again.get_by_text(re.compile("clip found under the bench"))).to_have_count(1)
