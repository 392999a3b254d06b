"""How many taps a service takes from Due to signed, and as many keys: each job against what it may take."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.hands import Hands

pytestmark = pytest.mark.browser
FOLDED = ("kit", "warm", "feel", "safe", "access", "levelled", "drive", "sign")  # behind the first of their page


def state(page: Page) -> dict:
    return page.request.get(f"/api/services/{page.url.rsplit('/', 1)[1]}").json()


def from_due(page: Page, vehicle: str, *glasses: str) -> Hands:
    """On Due: one compartment through its glass, several that go together through their vehicle."""
    page.goto("/due")
    hands = Hands(page)
    row = page.get_by_role("article", name=vehicle)
    if len(glasses) == 1:
        hands.tap(row.get_by_role("img", name=re.compile(f"^{glasses[0]}")))
        hands.tap(page.get_by_role("link", name="Start a service"))
    else:
        hands.tap(row.get_by_role("link", name=re.compile("^Start in the Bay")))
        page.get_by_role("button", name=re.compile("^Start on")).wait_for()
    page.locator("form[aria-busy=false]").wait_for()
    return hands


def begin(hands: Hands, odometer: str, work: str = "") -> None:
    """Its kind of service, the meter, what the store lacks, and off."""
    if odometer:
        hands.type("Odometer now", odometer)
    if work:
        hands.tap(hands.page.get_by_text(work, exact=True))
    hands.page.locator("form[aria-busy=false]").wait_for()
    for box in hands.page.get_by_role("checkbox", name=re.compile("all the same$")).all():
        hands.tap(box)
    hands.button("^Start on")
    hands.page.wait_for_url(re.compile(r"/bay/\d+$"))


def do_step(hands: Hands, step: dict) -> None:
    """One step as somebody does it who finds everything as it should be."""
    page, kind, purpose = hands.page, step["kind"], step["purpose"]
    if kind == "inspect":
        hands.button("^magnet: thin film")
        hands.button("^colour: (brown|darker)")
    elif kind == "measure":
        ledger = next(x for x in state(page)["ledgers"] if x["compartment"] == step["compartment"])
        hands.type("In the pan", str(round(0.98 * (ledger["last_in_ml"] or ledger["capacity_ml"]))) if not step["cycle"] else "3900")
        hands.tap(page.get_by_text("warm", exact=True))
    elif kind == "level" and step["window_high_c"] is not None:
        hands.type("Oil temperature as you close", str(round(step["window_high_c"]) - 2))
        hands.tap(page.get_by_text("running", exact=True))
        hands.tap(page.get_by_text("streamed, then only drips"))
    elif kind == "level" and len(step["fields"][0]["choices"]) > 1:
        hands.tap(page.get_by_text(step["fields"][0]["choices"][0], exact=True))
    elif purpose == "stood":
        hands.tap(page.get_by_text("below the lip", exact=True))
    elif purpose == "pour" and any(f["name"] == "full" for f in step["fields"]):
        hands.type("Poured", "60")
    if purpose == "access" or step["skip"] != "free":
        hands.button("go on$|^Note it|^Sign$|^Pass$")
    else:
        hands.button("^Not this time")


def do_all(hands: Hands, do: Callable[[Hands, dict], None] = do_step) -> None:
    """Every step at hand, until it is signed; in the short guide a whole page of them."""
    page = hands.page
    before = ""
    for _ in range(90):
        now = state(page)
        if now["state"] == "signed" or not now["current"]:
            break
        at = now["current"]
        assert at != before, f"{at} did not go on: {page.get_by_role('alert').all_inner_texts()}"
        before = at
        step = next(s for s in now["steps"] if s["id"] == at)
        title = r"\s+".join(re.escape(word) for word in step["task"].split())
        page_of_all = do is in_short and step["purpose"] == "wipe"
        expect(page.get_by_role("heading", level=2, name=re.compile("Tidy up" if page_of_all else title, re.I))).to_be_visible()
        do(hands, step)
        for _ in range(100):
            later = state(page)
            at_once = do is in_short and any(x["id"] == later["current"] and x["purpose"] in FOLDED for x in later["steps"])
            if later["state"] == "signed" or (later["current"] != at and not at_once):
                break
            page.wait_for_timeout(200)
    expect(page.get_by_role("heading", name="Signed")).to_be_visible()


def within(hands: Hands, taps: int, numbers: int = 3) -> None:
    assert hands.taps <= taps, "\n".join(hands.done)
    assert hands.numbers <= numbers


def on_the_shelf(page: Page, oil: str, size: str) -> None:
    """A container of an oil, so that the plan has something to pour from."""
    key = page.request.get("/api/session").json()["csrf"]
    found = next(x["id"] for x in page.request.get("/api/lubricants").json() if x["name"] == oil)
    body = {"lubricant_id": found, "label": f"{oil} more", "size_ml": size, "content_ml": size}
    assert page.request.post("/api/containers", data=body, headers={"X-CSRFToken": key}).ok


@pytest.fixture(autouse=True)
def _seals_enough(signed_in: Page):
    """A store that was counted full: what one test fits is not lacking in the next."""
    key = signed_in.request.get("/api/session").json()["csrf"]
    for item in signed_in.request.get("/api/store").json():
        body = {"name": item["name"], "kind": item["kind"], "count": 50}
        assert signed_in.request.post("/api/store", data=body, headers={"X-CSRFToken": key}).ok


def test_a_visit_of_three_compartments(signed_in: Page):
    on_the_shelf(signed_in, "Tarn 75W-90", "2 L")
    hands = from_due(signed_in, "Depot 4x4", "Gearbox", "Transfer case", "Rear axle")
    begin(hands, "91900")
    do_all(hands)
    within(hands, 60, 4)


def post(page: Page, path: str, body: dict) -> dict:
    key = page.request.get("/api/session").json()["csrf"]
    answer = page.request.post(path, data=body, headers={"X-CSRFToken": key})
    assert answer.ok, answer.text()
    return answer.json()


def with_one_axle(page: Page, name: str) -> int:
    """A vehicle with one axle, whose oil was last changed long ago."""
    sheet = next(s["id"] for s in page.request.get("/api/sheets").json() if s["name"] == "Light 4x4 front axle")
    axle = {"name": "Axle", "sheet_id": sheet, "slot": "rear axle", "limited_slip": "no"}
    made = post(page, "/api/vehicles", {"name": name, "kind": "van", "meter": "km", "layout": "rear-wheel", "compartments": [axle]})["id"]
    (box,) = page.request.get(f"/api/due/{made}").json()["vehicles"][0]["compartments"]
    oil = next(x["id"] for x in page.request.get("/api/lubricants").json() if x["name"] == "Corrie 80W-90")
    past = {"on": "2012-05-01", "lubricant_id": oil, "oil": "Corrie 80W-90", "poured_ml": "1.5 L"}
    post(page, f"/api/book/{box['id']}", past)
    return made


def start_on(page: Page, name: str) -> Hands:
    page.goto("/due")
    hands = Hands(page)
    hands.tap(page.get_by_role("article", name=name).get_by_role("link", name="Start in the Bay"))
    page.get_by_role("button", name=re.compile("^Start on axle")).wait_for()
    page.locator("form[aria-busy=false]").wait_for()
    return hands


def test_a_plain_change_of_one_axle(signed_in: Page):
    with_one_axle(signed_in, "Yard van")
    hands = start_on(signed_in, "Yard van")
    begin(hands, "120500")
    do_all(hands)
    within(hands, 26)


def by_key(hands: Hands, step: dict) -> None:
    """One step without a mouse: digits answer, Enter goes on."""
    page, kind = hands.page, step["kind"]
    if kind == "inspect":
        page.get_by_role("button", name=re.compile("^colour: brown")).first.wait_for()
        for digit in "25":  # a thin film; the fifth swatch
            hands.key(digit)
    elif kind == "measure":
        expect(page.get_by_label("In the pan", exact=True)).to_be_focused()
        hands.type("In the pan", "1470")
        hands.key("Tab")
        page.keyboard.type("35")
        hands.characters += 2
    elif kind == "level" and len(step["fields"][0]["choices"]) > 1:
        hands.key("1")
    elif kind == "pour":
        expect(page.get_by_role("button", name="All in by the plan, go on")).to_be_enabled()
    hands.key("s" if step["skip"] == "free" and step["purpose"] != "access" else "Enter")


def test_the_same_by_keyboard_with_no_more_keys(signed_in: Page):
    page = signed_in
    with_one_axle(page, "Ferry van")
    page.goto("/due")
    page.get_by_role("article", name="Ferry van").wait_for()
    rows = [a.get_attribute("aria-label") for a in page.get_by_role("article").all()]
    hands = Hands(page)
    for _ in range(rows.index("Ferry van") + 1 if rows.index("Ferry van") else 0):
        hands.key("j")
    hands.key("s")
    expect(page.get_by_label("Odometer now", exact=True)).to_be_focused()
    page.locator("form[aria-busy=false]").wait_for()
    hands.type("Odometer now", "88100")
    hands.key("Enter")
    page.wait_for_url(re.compile(r"/bay/\d+$"))
    do_all(hands, by_key)
    typed = hands.characters
    assert hands.keys + typed <= 26 + typed, "\n".join(hands.done)
    assert hands.taps == 0


def test_the_short_guide_of_one_axle(signed_in: Page):
    page = signed_in
    with_one_axle(page, "Post van")
    key = page.request.get("/api/session").json()["csrf"]
    assert page.request.patch("/api/session", data={"short_guide": True}, headers={"X-CSRFToken": key}).ok
    try:
        hands = start_on(page, "Post van")
        begin(hands, "66200")
        do_all(hands, in_short)
        within(hands, 16)
    finally:
        page.request.patch("/api/session", data={"short_guide": False}, headers={"X-CSRFToken": key})


def in_short(hands: Hands, step: dict) -> None:
    """The first step of a page stands for all of it; what is seen of a level is the whole answer."""
    if step["purpose"] in ("ready", "wipe"):
        hands.button("^All so")
    elif step["kind"] == "level":
        hands.tap(hands.page.get_by_text(step["fields"][0]["choices"][0], exact=True))
    else:
        do_step(hands, step)


def test_a_top_up(signed_in: Page):
    hands = from_due(signed_in, "Depot 4x4", "Front axle")
    begin(hands, "91950", work="check and top-up")
    do_all(hands)
    within(hands, 20)


def test_an_exchange_of_three_cycles(signed_in: Page):
    on_the_shelf(signed_in, "Burn ATF", "60 L")
    hands = from_due(signed_in, "Warden 4x4", "Automatic")
    begin(hands, "")
    do_all(hands)
    within(hands, 60, 6)
