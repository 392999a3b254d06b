"""What came out: a whole finding by tapping, colour and magnet off photos, the trend, and the sheet for the owner."""

import io
import re

import pypdf
import pytest
from playwright.sync_api import Page, expect

from barodex.demo.scenes import magnet_on_paper, oil_on_paper

from .walk import finish

pytestmark = pytest.mark.browser


def heading(page: Page, words: str) -> None:
    expect(page.get_by_role("heading", level=2, name=re.compile(words))).to_be_visible()


def at_the_look(page: Page, vehicle: int, compartment: int) -> int:
    """Start a service through the API and do it up to the look at what came out."""
    page.goto("/due")
    page.get_by_role("navigation", name="Places").wait_for()
    headers = {"X-CSRFToken": page.request.get("/api/session").json()["csrf"]}
    job = next(j for j in page.request.get(f"/api/services/start/{vehicle}").json()["jobs"] if j["compartment"] == compartment)
    kit = page.request.post("/api/services/kit", data={"jobs": [{"compartment_id": compartment}]}, headers=headers).json()
    spec = {"compartment_id": compartment, "lubricant_id": job["offers"][0]["lubricant"], "slip": "no"}
    body = {"vehicle_id": vehicle, "jobs": [spec], "at_hand": [line["item"]["name"] for line in kit], "fetches": "Fergus"}
    made = page.request.post("/api/services", data=body, headers=headers)
    assert made.ok, made.text()
    service = made.json()["id"]
    finish(page, service, stop="look")
    page.goto(f"/bay/{service}")
    heading(page, "Read oil and magnet")
    return service


def add_photo(page: Page, content: bytes) -> None:
    before = page.get_by_role("button", name=re.compile("^Photo, ")).count()
    page.get_by_label("Photo file").set_input_files({"name": "p.jpg", "mimeType": "image/jpeg", "buffer": content})
    expect(page.get_by_role("button", name=re.compile("^Photo, "))).to_have_count(before + 1)


def place(page: Page, mark: str, x: float, y: float) -> None:
    """Drag a mark to a place on the photo, as shares of its width and height, until it lies there: a page that still moves moves it too."""
    wanted = f"{mark}: {round(x * 100)} % across, {round(y * 100)} % down"
    button = page.get_by_role("button", name=re.compile(f"^{mark}"))
    for _ in range(20):
        frame = page.get_by_role("group", name="Marks on the photo").bounding_box()
        grip = button.locator("circle").first.bounding_box()
        page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
        page.mouse.down()
        page.mouse.move(frame["x"] + x * frame["width"], frame["y"] + y * frame["height"], steps=5)
        page.mouse.up()
        if (button.get_attribute("aria-label") or "").startswith(wanted):
            return
    raise AssertionError(f"{button.get_attribute('aria-label')}, not {wanted}")


def test_a_whole_finding_by_tapping_with_photos_and_a_question(signed_in: Page):
    page = signed_in
    service = at_the_look(page, 9, 21)
    expect(page.get_by_text("not looked at", exact=True)).to_have_count(7)  # six groups, and the verdict
    page.get_by_role("button", name="Note it, go on").click()
    expect(page.get_by_role("alert")).to_contain_text("Nothing was looked at")

    page.get_by_role("button", name="flakes: picked up").click()
    flakes = page.get_by_role("group", name="The flakes")
    flakes.get_by_role("button", name="as wide as the 1.5 mm key").click()
    expect(flakes.get_by_role("status").or_(flakes.locator("output"))).to_have_text("1.5 mm")
    slider = flakes.get_by_role("slider")
    box = slider.locator("xpath=ancestor::span[contains(@class,'MuiSlider-root')]").bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.6, box["y"] + box["height"] / 2)
    expect(flakes.locator("output")).not_to_have_text("1.5 mm")
    verdict = page.get_by_role("status").filter(has_text="Investigate")
    expect(verdict).to_contain_text("Open or sample before long duty")
    expect(verdict).to_contain_text(re.compile(r"Look again: Flakes.*, by \d"))

    # Reload half-way: what was tapped is still there.
    page.reload()
    heading(page, "Read oil and magnet")
    expect(page.get_by_role("button", name="flakes: picked up")).to_have_attribute("aria-pressed", "true")

    add_photo(page, oil_on_paper((214, 160, 52), (92, 50, 24)))
    add_photo(page, magnet_on_paper(0.45))

    # The colour off the photo: three marks, by hand, then one by the keys.
    page.get_by_role("button", name="Measure it from a photo").click()
    page.get_by_role("button", name=re.compile("^Photo 1")).click()
    place(page, "Fresh oil", 0.156, 0.53)
    place(page, "Drained oil", 0.844, 0.54)
    expect(page.get_by_text(re.compile(r"ΔE [3-6]\d\.\d from fresh"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^White paper")).focus()
    for _ in range(14):
        page.keyboard.press("ArrowUp")
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("brighter than the paper")  # off the paper, on the dark bench
    for _ in range(5):
        page.keyboard.press("ArrowDown")
    place(page, "White paper", 0.5, 0.25)
    expect(page.get_by_text(re.compile("D1500 about"))).to_be_visible()
    page.get_by_role("button", name="Take this colour").click()
    expect(page.get_by_text(re.compile("from fresh, by photo"))).to_be_visible()

    # The magnet off the other photo; then the contradiction that is asked about.
    page.get_by_role("button", name="Read it from a photo").click()
    page.get_by_role("button", name=re.compile("^Photo 2")).click()
    expect(page.get_by_text(re.compile(r"\d+.% of the circle is covered"))).to_be_visible()
    page.get_by_role("button", name="Yes, so it is").click()
    expect(page.get_by_role("button", name="magnet: cap to 2 mm")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="magnet: clean").click()
    expect(page.get_by_role("alert").filter(has_text="Is it steel")).to_be_visible()
    page.get_by_role("button", name="Note it, go on").click()
    page.get_by_label("Reason").fill("wiped it with a cloth first")
    page.get_by_role("button", name="Note it, go on").dblclick()
    heading(page, "Shut the drain")

    finish(page, service)
    page.goto("/book/vehicle/9")
    sheet = page.get_by_role("article", name="Gearbox")
    expect(sheet).to_contain_text("flakes up to")
    expect(sheet.get_by_role("img", name=re.compile("^Photo"))).to_have_count(2)
    printed = pypdf.PdfReader(io.BytesIO(page.pdf(format="A4")))
    assert len(printed.pages) == 1, "it prints as one sheet"
    assert "what we found" in printed.pages[0].extract_text()


def test_a_file_that_is_no_photo_is_refused_and_nothing_is_lost(signed_in: Page):
    page = signed_in
    service = at_the_look(page, 3, 13)
    page.get_by_role("button", name="magnet: thin film").click()
    page.get_by_label("Photo file").set_input_files({"name": "oil.jpg", "mimeType": "image/jpeg", "buffer": b"only words"})
    expect(page.get_by_role("alert")).to_contain_text("no photo that can be read")
    expect(page.get_by_role("button", name="magnet: thin film")).to_have_attribute("aria-pressed", "true")
    finish(page, service)  # nothing on this truck may run while an axle of it stands empty


def test_the_trend_says_what_rose_what_was_wrong_and_what_a_trip_costs(signed_in: Page):
    page = signed_in
    page.goto("/book/7")
    expect(page.get_by_text("New: yellow glitter, not seen last time.")).to_be_visible()
    expect(page.get_by_text(re.compile("Wrong oil: Corrie 80W-90"))).to_contain_text(re.compile(r"3.5\d\d.km run on it"))
    expect(page.get_by_role("img", name=re.compile("Debris level over the run of the oil"))).to_be_visible()
    page.goto("/book/25")
    page.get_by_label("A trip of").fill("60 000 km")
    expect(page.get_by_text(re.compile("falls below its low mark"))).to_be_visible()
    page.get_by_label("A trip of").fill("over there")
    expect(page.get_by_text(re.compile("over there”|cannot be read|no distance", re.I)).first).to_be_visible()
    expect(page.get_by_label("A trip of")).to_have_value("over there")


def test_the_lead_revises_a_sheet_by_what_the_fills_say(signed_in: Page):
    page = signed_in
    page.goto("/book/6")
    page.get_by_role("button", name=re.compile("Revise the sheet to")).click()
    page.get_by_role("link", name="See the sheet").click()
    expect(page.get_by_text(re.compile("learnt:")).first).to_be_visible()
