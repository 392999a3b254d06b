"""How many taps a service takes from Due to signed, and as many keys: each job against what it may take."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.hands import Hands

pytestmark = pytest.mark.browser


def from_due(page: Page, vehicle: str, glass: str) -> Hands:
    """On Due, its row: the compartment, and its start."""
    page.goto("/due")
    hands = Hands(page)
    hands.tap(page.get_by_role("article", name=vehicle).get_by_role("img", name=re.compile(f"^{glass}")))
    hands.tap(page.get_by_role("link", name="Start a service"))
    page.locator("form[aria-busy=false]").wait_for()
    return hands


def signed(page: Page) -> None:
    expect(page.get_by_role("heading", name="Signed")).to_be_visible()
    print("signed")


def read_it(hands: Hands) -> None:
    hands.at("Read oil and magnet")
    hands.button("^magnet: thin film")
    hands.button("^colour: brown")
    hands.button("^Note it, go on")


def test_a_plain_change_of_one_axle(signed_in: Page):
    page = signed_in
    hands = from_due(page, "Depot 4x4", "Rear axle")
    hands.type("Odometer now", "91900")
    hands.button("^Start on rear axle")
    for step in ("Right vehicle", "Tools and seals"):
        hands.at(step)
        hands.button("go on$")
    hands.at("hand-warm")
    hands.button("^Not this time")
    for step in ("Make it safe", "Take off", "crack the", "Pan under"):
        hands.at(step)
        hands.button("go on$")
    read_it(hands)
    hands.at("measure what came out")
    hands.type("In the pan", "1960")
    hands.tap(page.get_by_text("warm", exact=True))
    hands.button("^It only drips")
    for step in ("Shut the drain plug", "Level: floor", "Right oil in your hand", "Pour by the plan"):
        hands.at(step)
        hands.button("go on$")
    hands.at("Trickle")
    hands.tap(page.get_by_text("trickled, then only drips"))
    hands.button("^Level is set")
    for step in ("Close the fill plug", "Wipe clean", "Drive"):
        hands.at(step)
        hands.button("go on$")
    hands.at("Sign it off")
    hands.button("^Sign$")
    signed(page)
    assert hands.taps <= 26, hands.done
    assert hands.numbers <= 3
