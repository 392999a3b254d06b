"""Everything round the main job: adding, importing, refusing, two tabs, night, small screens, and what axe finds."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from .conftest import ROOT
from .walk import have_it_all

pytestmark = pytest.mark.browser
AXE = Path(ROOT, "web/node_modules/axe-core/axe.min.js").read_text()
PAGES = [
    "/due",
    "/due/vehicle/2",
    "/due/add",
    "/due/readings",
    "/due/morning",
    "/due/horizon",
    "/bay",
    "/bay/2",
    "/bay/start/2?c=7",
    "/book",
    "/book/7",
    "/book/5",
    "/book/vehicle/1",
    "/book/audit",
    "/book/files",
    "/due/vehicle/1/merge/2",
    "/shelf",
    "/shelf/sheets/4",
    "/shelf/sheets/10",
    "/shelf/sheets/10/revise",
    "/shelf/new",
    "/shelf/oils/3",
    "/shelf/choose?c=7",
    "/shelf/shopping",
    "/shelf/store",
    "/shelf/scales",
    "/shelf/policy",
    "/shelf/file",
    "/bench",
    "/settings",
]


def serious(page: Page) -> list[str]:
    page.evaluate(AXE)
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [f"{v['id']}: {v['nodes'][0]['html'][:120]}" for v in found["violations"] if v["impact"] in ("serious", "critical")]


@pytest.mark.parametrize("path", PAGES)
def test_axe_finds_nothing_serious_and_nothing_scrolls_sideways(signed_in: Page, path):
    signed_in.goto(path)
    signed_in.get_by_role("heading", level=1).wait_for()
    signed_in.wait_for_load_state("networkidle")
    assert serious(signed_in) == []
    assert signed_in.evaluate(
        "document.documentElement.scrollWidth <= innerWidth && document.querySelector('main').scrollWidth <= document.querySelector('main').clientWidth"
    )


@pytest.mark.parametrize(("width", "height"), [(820, 1180), (390, 844)])
@pytest.mark.parametrize("path", ["/due", "/bay/2"])
def test_due_and_bay_on_a_tablet_and_a_phone(signed_in: Page, path, width, height):
    signed_in.set_viewport_size({"width": width, "height": height})
    signed_in.goto(path)
    signed_in.get_by_role("heading", level=1).wait_for()
    signed_in.wait_for_load_state("networkidle")
    assert signed_in.evaluate("document.querySelector('main').scrollWidth <= document.querySelector('main').clientWidth")


def test_night_is_readable_too(signed_in: Page):
    signed_in.goto("/settings")
    signed_in.get_by_text("Night", exact=True).click()
    for path in ("/due", "/bay/2", "/book/7", "/bench", "/bay/start/2?c=7", "/shelf/choose?c=7", "/shelf/scales", "/shelf/shopping"):
        signed_in.goto(path)
        signed_in.get_by_role("heading", level=1).wait_for()
        signed_in.wait_for_load_state("networkidle")
        assert serious(signed_in) == [], path
    signed_in.goto("/settings")
    signed_in.get_by_text("Day", exact=True).click()
    expect(signed_in.get_by_role("radio", name="Day")).to_be_checked()


def test_a_sheet_and_a_vehicle_are_written_and_a_reading_beside_them(signed_in: Page):
    page = signed_in
    page.goto("/shelf/new")
    page.get_by_label("Name of the sheet").fill("Test box")
    page.get_by_label("Service capacity").fill("2 qt")
    page.get_by_label("Grade").fill("75W-95")
    page.get_by_label("API categories").fill("GL-4")
    page.get_by_role("button", name="Write the sheet").click()
    expect(page.get_by_text("US or imperial").first).to_be_visible()
    page.get_by_label("Service capacity").fill("2 US qt")
    page.get_by_role("button", name="Write the sheet").click()
    expect(page.get_by_text(re.compile("Near: .*75W-90")).first).to_be_visible()
    page.reload()
    expect(page.get_by_label("Service capacity")).to_have_value("2 US qt")  # what was typed stays
    page.get_by_label("Grade").fill("75W-90")
    page.get_by_role("button", name="Write the sheet").click()
    expect(page.get_by_role("heading", level=1, name="Test box")).to_be_visible()
    expect(page.get_by_role("table").first).to_contain_text(re.compile(r"1\s893\smL"))  # 2 × 946.353, NIST SP 811

    page.goto("/due/add")
    page.get_by_label("What people call it").fill("Test car")
    page.get_by_label("Compartment", exact=True).fill("Gearbox")
    page.get_by_role("button", name="Add the vehicle").click()
    expect(page.get_by_role("alert").or_(page.get_by_text("Something has to stand here")).first).to_be_visible()
    page.get_by_label("Spec sheet").select_option(label="Test box (manual gearbox)")
    page.get_by_role("button", name="Add the vehicle").click()
    expect(page.get_by_role("heading", level=1, name="Test car")).to_be_visible()
    expect(page.get_by_text("No trace of an oil change")).to_be_visible()

    page.get_by_label("Odometer").fill("50 000 km")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("cell", name=re.compile(r"^50\s000\skm$"))).to_be_visible()
    page.get_by_label("Odometer").fill("40 000 km")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("alert")).to_contain_text("was the meter swapped?")
    page.get_by_role("checkbox", name=re.compile("The meter was swapped")).check()
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("cell", name="meter swapped")).to_be_visible()

    page.get_by_role("link", name="Gearbox", exact=True).last.click()
    page.get_by_role("button", name="Write in an earlier change").click()
    page.get_by_role("group", name="Date").get_by_role("spinbutton", name="Day").click()
    page.keyboard.type("01032025")
    page.get_by_label("Went in").fill("1.9 L")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("article")).to_contain_text("written in from paper")
    page.get_by_role("button", name="Correct").click()
    page.get_by_label("What was wrong").select_option("poured_ml")
    page.get_by_label("What is right").fill("1.85 L")
    page.get_by_label("Why").fill("the jug was misread")
    page.get_by_role("button", name="Correct it").click()
    expect(page.get_by_role("article")).to_contain_text(re.compile("Corrected .* the jug was misread"))


def test_a_file_with_bad_rows_is_refused_with_the_rows_and_a_good_one_taken(signed_in: Page):
    page = signed_in
    page.goto("/due/readings")
    choose = page.locator("input[type=file]")
    choose.set_input_files(
        {"name": "r.csv", "mimeType": "text/csv", "buffer": b"vehicle,date,reading,unit\nGhost,2026-01-01,5,km\nRelief van,soon,5,km\n"}
    )
    page.get_by_role("button", name="Take them in").click()
    table = page.get_by_role("table")
    expect(table.get_by_role("row").nth(1)).to_contain_text("No vehicle of that name")
    expect(table.get_by_role("row").nth(2)).to_contain_text("year-month-day")
    sample = page.request.get("/api/readings/file").body()
    choose.set_input_files({"name": "r.csv", "mimeType": "text/csv", "buffer": sample})
    page.get_by_role("button", name="Take them in").click()
    expect(page.get_by_role("status")).to_contain_text("added")
    choose.set_input_files({"name": "big.csv", "mimeType": "text/csv", "buffer": b"x" * 1_000_001})
    page.get_by_role("button", name="Take them in").click()
    expect(page.get_by_role("alert")).to_contain_text("at most 1 MB")


def test_two_tabs_see_each_other(signed_in: Page):
    page = signed_in
    page.goto("/bay/start/4?c=14")
    have_it_all(page)
    page.get_by_role("button", name=re.compile("Start on")).click()
    page.get_by_role("heading", level=2, name="Right vehicle").or_(
        page.get_by_role("heading", name=re.compile("Right vehicle"))
    ).first.wait_for()
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_role("heading", name=re.compile("Right vehicle")).wait_for()
    page.get_by_role("button", name=re.compile("go on$")).dblclick()
    expect(other.get_by_role("heading", name=re.compile("Tools and seals|casing code"))).to_be_visible()
    # The other tab is a step behind in its head: its act is refused with the reason, nothing is lost.
    expect(other.get_by_role("navigation", name="Steps").get_by_text("Right vehicle", exact=False)).to_be_visible()
    page.get_by_role("button", name="Give this service up").click()
    page.get_by_label("Why is it given up?").fill("only a test")
    page.get_by_role("button", name="Give it up", exact=True).click()
    expect(page.get_by_role("heading", level=1, name="Bay")).to_be_visible()


def test_a_viewer_reads_and_changes_nothing(watched: Page, server):
    page = watched
    page.goto("/")
    page.get_by_label("Name").fill("una")
    page.get_by_label("Password").fill("tarbert-oil-can")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("article", name="Depot 4x4").wait_for()
    expect(page.get_by_role("link", name="Start in the Bay")).to_have_count(0)
    expect(page.get_by_role("link", name="Add a vehicle")).to_have_count(0)
    page.goto("/bay/2")
    page.get_by_role("heading", level=1).wait_for()
    expect(page.get_by_role("button", name="Note it, go on")).to_have_count(0)


def test_the_bench_answers_as_it_is_typed(signed_in: Page):
    page = signed_in
    page.goto("/bench")
    expect(page.get_by_text("bottle 3 down to the")).to_contain_text(re.compile(r"700\smL mark"))
    page.get_by_label("Needed").fill("700 mL")
    expect(page.get_by_text("bottle 1 down to the")).to_contain_text(re.compile(r"300\smL mark"))
    page.get_by_label("Wanted at the plug").fill("50 ft-lb")
    expect(page.get_by_text(re.compile("^Set"))).to_contain_text("40.0 lbf·ft")  # 50 × 300 / 375
    page.get_by_label("Amount, as you would say it").fill("80 km")
    expect(page.get_by_role("alert").first).to_contain_text("not a unit of volume")


def test_the_keys_that_work_here_are_listed(signed_in: Page):
    page = signed_in
    page.goto("/bay/2")
    page.get_by_role("heading", level=1).wait_for()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("undo the last act")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("2")  # while a finding is read, digits answer
    expect(page.get_by_role("button", name="magnet: thin film")).to_have_attribute("aria-pressed", "true")
    page.goto("/shelf")
    page.get_by_role("heading", level=1).wait_for()
    page.keyboard.press("5")
    expect(page.get_by_role("heading", level=1, name="Bench")).to_be_visible()
