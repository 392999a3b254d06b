"""A new user: from an empty book to the first due, somebody invited, an old spreadsheet moved in and taken out again."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.api.imports import old_workshop as old
from tests.browser.conftest import HANG_MS, Server
from tests.browser.hands import Hands

pytestmark = pytest.mark.browser
PASSWORD = "grease and gaskets"
MOST_TAPS = 40


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    """An empty book of its own; the tests of this file go on from each other."""
    made = Server(tmp_path_factory.mktemp("empty"), empty=True)
    yield made
    made.stop()


@pytest.fixture
def lead(watched):
    """The page with the lead of the book that the first test began."""
    watched.goto("/")
    watched.get_by_label(re.compile("^Name")).fill("isla")
    watched.get_by_label("Password").fill(PASSWORD)
    watched.get_by_role("button", name="Sign in").click()
    watched.get_by_role("navigation", name="Places").wait_for()
    return watched


def choose(hands: Hands, label: str, option: str) -> None:
    """From a plain list: one tap opens it, the other takes."""
    hands.page.get_by_label(label, exact=True).select_option(label=option)
    hands.taps += 2


def steps_left(page: Page) -> list[str]:
    """What the way to the first due still asks."""
    return [s["key"] for s in page.request.get("/api/first-hour").json()["steps"] if not s["done"]]


def test_from_an_empty_book_to_the_first_due_in_forty_taps(watched):
    watched.goto("/")
    hands = Hands(watched)
    for label, text in (
        ("First name", "Isla"),
        ("Name to sign in by", "isla"),
        ("Password", PASSWORD),
        ("What it is called", "Skerrow depot"),
    ):
        hands.type(label, text)
    hands.button("Begin the book")
    watched.get_by_role("list", name="The first steps").wait_for()
    assert steps_left(watched) == ["sheet", "vehicle", "reading", "oil", "change"]

    hands.tap(watched.get_by_role("link", name="Write the first spec sheet"))
    hands.type("Name of the sheet", "Van gearbox")
    hands.type("Service capacity", "1.9 L")
    hands.type("Grade", "75W-80")
    hands.button("Write the sheet")
    watched.get_by_role("list", name="The first steps").wait_for()

    hands.tap(watched.get_by_role("link", name="Add the first vehicle"))
    hands.type("What people call it", "Yard van")
    hands.type("Odometer now", "84 000")
    hands.type("Compartment", "Gearbox")
    choose(hands, "Spec sheet", "Van gearbox (manual gearbox)")
    hands.button("Add the vehicle")
    watched.get_by_role("heading", level=1, name="Yard van").wait_for()
    hands.tap(watched.get_by_role("navigation", name="Places").get_by_role("link", name=re.compile("^Due")))

    hands.tap(watched.get_by_role("link", name="Put the first oil on the shelf"))
    hands.type("Name on the label", "Plain 75W-80")
    hands.type("Grade", "75W-80")
    hands.button("Add it")
    watched.get_by_role("list", name="The first steps").wait_for()
    hands.tap(watched.get_by_role("link", name="Put the first oil on the shelf"))
    hands.button("Put one on the shelf")
    hands.type("What it is called", "can 1")
    hands.type("Its size", "5 L")
    hands.button("Put it there")
    watched.get_by_role("list", name="The first steps").wait_for()

    hands.tap(watched.get_by_role("link", name="Enter the last change of Yard van, Gearbox"))
    day = watched.get_by_role("group", name="Date")
    day.wait_for()
    hands.tap(day)
    watched.keyboard.type("01052024")
    hands.type("Odometer then", "61 000")
    hands.button("Write it in")
    expect(watched.get_by_role("button", name="Write it in")).to_have_count(0)  # taken
    hands.tap(watched.get_by_role("navigation", name="Places").get_by_role("link", name=re.compile("^Due")))
    row = watched.get_by_role("article", name="Yard van")
    expect(row.get_by_role("img", name=re.compile("^Gearbox"))).to_be_visible()
    assert watched.request.get("/api/first-hour").json()["over"]
    assert hands.taps <= MOST_TAPS, hands.done


def test_somebody_is_invited_and_signs_in_by_the_link(lead, browser, server):
    lead.goto("/settings/people")
    lead.get_by_role("button", name="Invite somebody").click()
    lead.get_by_label("First name").fill("Fergus")
    lead.get_by_label("Name to sign in by").fill("fergus")
    lead.get_by_role("button", name="Make the link").click()
    link = lead.locator("code").inner_text()
    theirs = browser.new_context(base_url=server.url).new_page()
    theirs.set_default_timeout(HANG_MS)
    theirs.goto(link)
    theirs.get_by_label("Your password").fill("short")
    theirs.get_by_role("button", name="Choose it and come in").click()
    expect(theirs.get_by_text(re.compile("at least 10 characters")).first).to_be_visible()
    theirs.get_by_label("Your password").fill("sprockets and chains")
    theirs.get_by_role("button", name="Choose it and come in").click()
    expect(theirs.get_by_role("navigation", name="Places")).to_contain_text("Fergus")
    assert theirs.request.get("/api/session").json()["role"] == "technician"
    theirs.goto(link)
    expect(theirs.get_by_role("heading", name="This link is no good any more")).to_be_visible()
    theirs.context.close()


def test_the_old_spreadsheet_moves_in_with_repairs_and_out_again(lead, tmp_path):
    file = tmp_path / "old.csv"
    file.write_bytes(old.as_csv())
    lead.goto("/book")
    lead.get_by_role("link", name="Files, in and out").click()
    lead.get_by_role("link", name="Take in a spreadsheet").click()
    lead.get_by_label("Spreadsheet").set_input_files(file)
    lead.wait_for_url(re.compile(r"/book/import/\d+$"))
    expect(lead.get_by_role("status").first).to_contain_text(f"{old.TRUE['vehicles']} vehicles")
    lead.get_by_role("button", name=re.compile("^Repair: line")).first.click()
    lead.get_by_label("What should stand there").fill("28.02.2024")
    lead.reload()  # nothing was pressed yet: the row still waits
    waiting = lead.get_by_role("button", name=re.compile("rows wait for you"))
    expect(waiting).to_be_disabled()
    lead.get_by_role("button", name=re.compile("^Repair: line")).first.click()
    lead.get_by_label("What should stand there").fill("28.02.2024")
    lead.get_by_role("button", name="So it is").click()
    lead.get_by_role("button", name=re.compile("^Skip all")).click()
    lead.get_by_role("button", name="Take them in").click()
    expect(lead.get_by_role("status").first).to_contain_text("Taken in on")
    lead.get_by_role("link", name="To what is due").click()
    expect(lead.get_by_role("article", name="Wagen 07")).to_be_visible()
    lead.go_back()
    lead.get_by_role("button", name="Undo the whole import").click()
    expect(lead.get_by_role("status").first).to_contain_text("nothing of it is in the book")
    lead.goto("/due")
    expect(lead.get_by_role("article")).to_have_count(1)
