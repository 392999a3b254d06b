"""Takes the pictures of docs/screenshots from a freshly loaded demo, or those that ONLY names; look at each before it is committed."""

from __future__ import annotations

import os
import re
import shutil
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
FOLDER = ROOT / "docs" / "screenshots"

from tests.browser.walk import finish, have_it_all  # noqa: E402


def steps(page: Page, words: str) -> None:
    page.get_by_role("navigation", name="Steps").get_by_text(words).click()


def measure(page: Page) -> None:
    steps(page, "Let it drip, measure what came out")
    page.get_by_label("In the pan").fill("5.9 L")
    page.get_by_label("Oil temperature").fill("38")


def findings(page: Page) -> None:
    steps(page, "Read oil and magnet")
    for name in ("magnet: cap", "paste", "colour: dark brown, ASTM D1500 5"):
        page.get_by_role("button", name=name).first.click()
    page.get_by_role("button", name="flakes: picked up").click()
    page.get_by_role("button", name="as wide as the 1.5 mm key").click()
    page.get_by_text("Clear", exact=True).click()
    page.get_by_text("No smell", exact=True).click()


def to_the_pour(page: Page) -> None:
    """Do the open service up to the pour, through the page."""
    findings(page)
    page.get_by_role("button", name="Note it, go on").click()
    measure(page)
    page.get_by_role("button", name=re.compile("note it, go on$", re.I)).click()
    for heading in ("Shut the drain", "Level: floor", "Right oil"):
        page.get_by_role("heading", name=heading).wait_for()
        page.get_by_role("button", name=re.compile("go on$")).click()
    page.get_by_role("heading", name="Pour by the plan").wait_for()


def weather(page: Page) -> None:
    page.get_by_label("Coldest air expected").fill("-12 °C")
    page.get_by_label("Warmest").fill("28 °C")
    page.wait_for_timeout(1200)


def wrong_oil(page: Page) -> None:
    page.get_by_label("Oil for Gearbox").select_option(label="Corrie 75W-80 HD: must not go in")


def at_the_level_of_the_same(page: Page) -> None:
    """The exchange of before, led to its level, the scan tool live."""
    service = next(s["id"] for s in page.request.get("/api/services").json() if s["vehicle"] == "Warden 4x4")
    finish(page, service, "level.11", "3.8 L")
    page.goto(f"/bay/{service}")
    page.get_by_role("button", name="Connect the scan tool").click()
    page.get_by_role("button", name="Start the engine").click(timeout=60_000)
    page.get_by_text(re.compile("Inside 40 to 45")).wait_for(timeout=120_000)
    page.get_by_text("streamed, then only drips").click()


def in_the_exchange(page: Page) -> None:
    """An exchange that does not reach its target: it takes another drain."""
    page.goto("/bay/start/3?c=11")
    page.get_by_label("Fresh share wanted").select_option("0.9")
    page.get_by_label("Drains", exact=True).select_option("3")
    have_it_all(page)
    page.get_by_role("button", name="Start on automatic").click()
    page.wait_for_url(re.compile(r"/bay/\d+$"))
    finish(page, int(page.url.rsplit("/", 1)[1]), "measure.11.2", "3.8 L")
    page.get_by_role("heading", level=2, name="Cycle 2").wait_for()


def drag(page: Page, mark: str, x: float, y: float) -> None:
    """Drag a mark to a place on the photo, as shares of its width and height."""
    frame = page.get_by_role("group", name="Marks on the photo").bounding_box()
    grip = page.get_by_role("button", name=re.compile(f"^{mark}")).locator("circle").first.bounding_box()
    page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
    page.mouse.down()
    page.mouse.move(frame["x"] + x * frame["width"], frame["y"] + y * frame["height"], steps=5)
    page.mouse.up()


def chosen_visit(page: Page) -> None:
    visit = page.get_by_role("button", name=re.compile("Proposed visit, Depot 4x4"))
    visit.focus()
    for k in range(6):  # to the third earlier day, and past closed ones
        page.keyboard.press("ArrowLeft")
        page.wait_for_timeout(500)
        if k > 1 and "closed" not in page.get_by_role("status", name="The chosen visit").inner_text():
            break


def found(page: Page) -> None:
    """Something mistyped is found all the same."""
    page.get_by_role("button", name="Find", exact=True).click()
    page.get_by_role("combobox").fill("gaerbox")
    page.get_by_role("option").first.wait_for()


def label(page: Page) -> None:
    """The label of the newest change."""
    page.get_by_role("button", name="Case label").first.click()
    page.get_by_role("img", name="The first label as it is printed").wait_for()


PICTURES = [
    ("due", "/due", None),
    ("vehicle", "/due/vehicle/2", None),
    ("life", "/due/vehicle/2/merge/3", None),
    ("search", "/book", found),
    ("horizon", "/due/horizon", chosen_visit),
    ("bay-start", "/bay/start/2?c=7,9", wrong_oil),
    ("bay-findings", "/bay/2", findings),
    ("bay-pour", "/bay/2", to_the_pour),
    ("", "/bay", in_the_exchange),  # the next one goes on from it
    ("bay-level", "/bay", at_the_level_of_the_same),
    ("book", "/book/7", None),
    ("label", "/book/7", label),
    ("shelf", "/shelf", None),
    ("sheet", "/shelf/sheets/10", None),
    ("choose", "/shelf/choose?c=7", weather),
    ("bench", "/bench", None),
]


def moving_in(server: object, play: object) -> None:
    """An empty installation, where a book begins or comes back; an old spreadsheet is looked at."""
    from tests.api.imports import old_workshop

    browser = play.chromium.launch(executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"), chromium_sandbox=False)
    page = browser.new_context(
        base_url=server.url, viewport={"width": 1280, "height": 800}, reduced_motion="reduce", locale="en-GB"
    ).new_page()
    page.goto("/")
    page.get_by_text("Or there is a book already").wait_for()
    page.wait_for_timeout(600)
    page.screenshot(path=FOLDER / "restore.png")
    for name, text in (("First name", "Isla"), ("Last name", "Marran"), ("Name to sign in by", "isla"), ("Password", "grease and gaskets")):
        page.get_by_label(name).fill(text)
    page.get_by_label("What it is called").fill("Skerrow Island depot")
    page.get_by_role("button", name="Begin the book").click()
    page.get_by_role("list", name="The first steps").wait_for()
    page.wait_for_timeout(600)
    page.screenshot(path=FOLDER / "first-hour.png")
    page.goto("/settings/people")
    page.get_by_role("button", name="Invite somebody").click()
    for name, text in (("First name", "Fergus"), ("Last name", "Doon"), ("Name to sign in by", "fergus")):
        page.get_by_label(name).fill(text)
    page.get_by_role("button", name="Make the link").click()
    page.get_by_text("/join/").wait_for()
    page.wait_for_timeout(600)
    page.screenshot(path=FOLDER / "people.png")
    page.goto("/book/import")
    file = {"name": "old.csv", "mimeType": "text/csv", "buffer": old_workshop.as_csv()}
    page.get_by_label("Spreadsheet").set_input_files(file)
    page.get_by_role("list", name="Rows").wait_for()
    page.wait_for_timeout(900)
    page.screenshot(path=FOLDER / "moving-in.png")
    browser.close()


def main() -> None:
    """Take them all."""
    from tests.browser.conftest import Server

    FOLDER.mkdir(parents=True, exist_ok=True)
    folder = tempfile.mkdtemp()
    server = Server(Path(folder))
    try:
        with sync_playwright() as play:
            browser = play.chromium.launch(
                executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"),
                chromium_sandbox=False,
                args=["--disable-background-networking", "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1"],
            )
            context = browser.new_context(
                base_url=server.url, viewport={"width": 1280, "height": 800}, reduced_motion="reduce", locale="en-GB"
            )
            page = context.new_page()
            page.goto("/")
            page.get_by_role("button", name="Look round as the lead").wait_for()
            page.get_by_role("button", name="Look round as the lead").click()
            page.get_by_role("navigation", name="Places").wait_for()
            only = set(filter(None, os.environ.get("ONLY", "").split(",")))  # names of pictures; all when empty
            for name, path, act in PICTURES:
                if only and name and name not in only:
                    continue
                if name == "bay-pour":
                    page.goto("/bay/2")
                    measure(page)
                page.evaluate("sessionStorage.clear()")  # what an earlier picture typed
                page.goto(path or page.url)
                page.wait_for_load_state("networkidle")
                if act:
                    act(page)
                page.wait_for_timeout(900)
                if name:
                    page.screenshot(path=FOLDER / f"{name}.png")
            browser.close()
            if not only or "moving-in" in only:
                empty = Server(Path(tempfile.mkdtemp()), empty=True)
                try:
                    moving_in(empty, play)
                finally:
                    empty.stop()
    finally:
        server.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
