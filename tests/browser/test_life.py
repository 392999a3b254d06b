"""Mistakes and changes of life: another box, a void, a moved record, two that are one; everything out, and in elsewhere; search, labels."""

import io
import re
import zipfile

import pytest
import zxingcpp
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import HANG_MS, Server

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def board(page: Page) -> dict[str, dict]:
    return {v["name"]: v for v in page.request.get("/api/due?limit=500").json()["vehicles"]}


def place(page: Page, vehicle: str, compartment: str) -> dict:
    return next(c for c in board(page)[vehicle]["compartments"] if c["name"] == compartment)


def history(page: Page, compartment: int) -> dict:
    return page.request.get(f"/api/book/{compartment}").json()


def test_another_box_is_fitted_and_the_old_one_goes_to_the_store_with_its_past(signed_in: Page):
    van = board(signed_in)["Relief van"]
    gearbox = van["compartments"][0]
    signed_in.goto(f"/due/vehicle/{van['id']}")
    signed_in.get_by_role("button", name=f"Another box fitted: {gearbox['name']}").click()
    signed_in.get_by_label("Its number").fill("G 77")
    signed_in.get_by_label("What is known of it").fill("from a wreck, 60 000 km")
    signed_in.get_by_label("Why", exact=True).fill("third gear whined")
    signed_in.get_by_role("button", name="It is fitted").click()
    expect(signed_in.get_by_role("list", name=f"Boxes fitted: {gearbox['name']}")).to_contain_text("G 77, fitted now")
    assert place(signed_in, "Relief van", gearbox["name"])["state"] == "unknown"  # of its oil nothing is known
    (stored,) = signed_in.request.get("/api/boxes").json()
    assert stored["changes"] > 0


def test_a_record_in_the_wrong_place_is_moved_and_another_declared_void(signed_in: Page):
    front, rear = (place(signed_in, "Depot 4x4", name) for name in ("Front axle", "Rear axle"))
    before = len(history(signed_in, rear["id"])["records"])
    signed_in.goto(f"/book/{front['id']}")
    card = signed_in.get_by_role("article").first
    card.get_by_role("button", name=re.compile("^It belongs elsewhere")).click()
    card.get_by_role("combobox", name="It is of").fill("depot 4x4, rear")
    signed_in.get_by_role("option", name="Depot 4x4, rear axle").click()
    card.get_by_label("Why it was in the wrong place").fill("the wrong axle was tapped")
    card.get_by_role("button", name="Move it there").click()
    expect(signed_in.get_by_text("moved to Depot 4x4, Rear axle")).to_be_visible()
    assert len(history(signed_in, rear["id"])["records"]) == before + 1
    signed_in.goto(f"/book/{rear['id']}")
    expect(signed_in.get_by_text("moved from Depot 4x4, Front axle: the wrong axle was tapped")).to_be_visible()
    moved = signed_in.get_by_role("article").filter(has_text="moved from Depot 4x4")
    moved.get_by_role("button", name=re.compile("^Declare it void")).click()
    signed_in.get_by_label("Why it is void").fill("it was never done")
    moved.get_by_role("button", name="Declare it void", exact=True).click()
    expect(signed_in.get_by_role("heading", name="Declared void")).to_be_visible()
    assert len(history(signed_in, rear["id"])["records"]) == before


def test_a_reading_is_set_right(signed_in: Page):
    van = board(signed_in)["Warden 4x4"]
    signed_in.goto(f"/due/vehicle/{van['id']}")
    signed_in.get_by_role("button", name=re.compile("^Set it right")).first.click()
    right = f"{van['meter_now'] - 7:.0f} km"
    signed_in.get_by_label("It was").fill(right)
    signed_in.get_by_label("What was wrong").fill("a digit slipped")
    signed_in.get_by_role("button", name="Set it right", exact=True).click()
    expect(signed_in.get_by_text(re.compile("a digit slipped"))).to_be_visible()
    assert board(signed_in)["Warden 4x4"]["meter_now"] == van["meter_now"] - 7


def test_a_vehicle_that_was_typed_twice_is_made_one_and_apart_again(signed_in: Page):
    """By the keyboard where a list is long: the other one is found by typing."""
    signed_in.goto("/due/add")
    signed_in.get_by_label("What people call it").fill("Warden four by four")
    signed_in.get_by_label("Kind", exact=True).select_option("4x4")
    signed_in.get_by_label("Compartment", exact=True).fill("Front axle")
    signed_in.get_by_label("Spec sheet", exact=True).select_option(label="Truck axle, double reduction (axle)")
    signed_in.get_by_role("button", name="Add the vehicle").click()
    signed_in.wait_for_url(re.compile(r"/due/vehicle/\d+$"))
    ids = {name: v["id"] for name, v in board(signed_in).items()}
    signed_in.goto(f"/due/vehicle/{ids['Warden 4x4']}")
    signed_in.get_by_role("button", name="It is twice in the book").click()
    other = signed_in.get_by_role("combobox", name="The other one")
    other.fill("four by")
    other.press("ArrowDown")
    other.press("Enter")
    expect(signed_in.get_by_role("heading", name="Two that are one")).to_be_visible()
    signed_in.get_by_role("button", name="Make them one").click()
    signed_in.wait_for_url(re.compile(rf"/due/vehicle/{ids['Warden 4x4']}$"))
    assert "Warden four by four" not in board(signed_in)
    signed_in.get_by_role("button", name="Take them apart again").click()
    expect(signed_in.get_by_role("button", name="Take them apart again")).to_be_hidden()
    assert "Warden four by four" in board(signed_in)


def test_anything_is_found_on_a_phone_by_touch(signed_in: Page):
    signed_in.set_viewport_size(PHONE)
    signed_in.goto("/bench")
    signed_in.get_by_role("button", name="Find", exact=True).click()
    field = signed_in.get_by_role("dialog", name="Find").get_by_role("combobox")
    field.fill("trasnaxle")  # a slip
    expect(signed_in.get_by_role("status")).to_contain_text("Read as transaxle")
    signed_in.get_by_role("option", name=re.compile("Harbour bus, Transaxle")).click()
    signed_in.wait_for_url(re.compile(r"/book/\d+$"))
    signed_in.get_by_role("button", name="Find", exact=True).click()
    field.fill("corrie")
    expect(signed_in.get_by_role("option", name=re.compile("Corrie 80W-90")).first).to_be_visible()
    wide = signed_in.evaluate("document.documentElement.scrollWidth")
    assert wide <= PHONE["width"]


def test_a_label_is_printed_and_its_code_leads_back(signed_in: Page, server: Server):
    axle = place(signed_in, "Timber truck", "Front axle")
    signed_in.goto(f"/book/{axle['id']}")
    signed_in.get_by_role("button", name="Case label").first.click()
    signed_in.get_by_label("Size").select_option("roll 62 x 29 mm")
    picture = signed_in.get_by_role("img", name="The first label as it is printed")
    expect(picture).to_have_js_property("complete", True)
    assert picture.evaluate("i => i.naturalWidth") > 500
    (read,) = zxingcpp.read_barcodes(Image.open(io.BytesIO(signed_in.request.get(picture.get_attribute("src")).body())))
    assert read.text.startswith(f"{server.url}/b/")
    signed_in.get_by_role("button", name="Print on the label printer").click()
    expect(signed_in.get_by_text("One label is printed")).to_be_visible()
    signed_in.goto(read.text.removeprefix(server.url))
    signed_in.wait_for_url(re.compile(rf"/book/{axle['id']}$"))
    code = read.text.rsplit("/", 1)[1]
    signed_in.keyboard.press("/")
    signed_in.get_by_role("dialog", name="Find").get_by_role("combobox").fill(code)
    expect(signed_in.get_by_role("option", name=re.compile(f"the box of label {code}"))).to_be_visible()


@pytest.fixture(scope="module")
def elsewhere(tmp_path_factory):
    """An installation with nothing in it."""
    made = Server(tmp_path_factory.mktemp("elsewhere"), empty=True)
    yield made
    made.stop()


def test_the_whole_book_goes_out_and_comes_back_on_another_machine(signed_in: Page, browser, elsewhere, tmp_path):
    signed_in.goto("/book/files")
    with signed_in.expect_download() as taken:
        signed_in.get_by_role("link", name="Take the whole book out").click()
    file = tmp_path / "book.zip"
    taken.value.save_as(file)
    assert zipfile.ZipFile(file).testzip() is None
    there = browser.new_context(base_url=elsewhere.url, reduced_motion="reduce").new_page()
    there.set_default_timeout(HANG_MS)
    there.goto("/")
    broken = tmp_path / "broken.zip"
    broken.write_bytes(file.read_bytes()[:-500])
    there.get_by_label("Whole book").set_input_files(broken)
    expect(there.get_by_text("This is no book of Barodex, or it is damaged.")).to_be_visible()
    there.get_by_label("Whole book").set_input_files(file)
    there.get_by_role("link", name="Isla Marran").click()
    there.get_by_label("Your password").fill("sprockets and chains")
    there.get_by_role("button", name="Choose it and come in").click()
    there.get_by_role("navigation", name="Places").wait_for()
    mine, theirs = board(signed_in), board(there)
    assert {n: [(c["name"], c["state"], c["on"]) for c in v["compartments"]] for n, v in theirs.items()} == {
        n: [(c["name"], c["state"], c["on"]) for c in v["compartments"]] for n, v in mine.items()
    }
    there.context.close()


def test_a_sold_vehicle_goes_with_its_file_into_another_book(signed_in: Page, browser, tmp_path_factory, tmp_path):
    """To a workshop that begins: what it brings is held against the book, taken in, and due there at once."""
    bus = board(signed_in)["Harbour bus"]
    signed_in.goto(f"/due/vehicle/{bus['id']}")
    with signed_in.expect_download() as taken:
        signed_in.get_by_role("link", name="Its file").click()
    file = tmp_path / "bus.zip"
    taken.value.save_as(file)
    other = Server(tmp_path_factory.mktemp("other"), empty=True)
    try:
        page = browser.new_context(base_url=other.url, reduced_motion="reduce").new_page()
        page.set_default_timeout(HANG_MS)
        page.goto("/")
        for label, text in (
            ("First name", "Una"),
            ("Name to sign in by", "una"),
            ("Password", "grease and gaskets"),
            ("What it is called", "Quay garage"),
        ):
            page.get_by_label(label, exact=True).fill(text)
        page.get_by_role("button", name="Begin the book").click()
        page.get_by_role("navigation", name="Places").wait_for()
        page.goto("/book/files")
        page.get_by_label("Vehicle's file").set_input_files(file)
        seen = page.get_by_role("group", name="The file of Harbour bus")
        expect(seen).to_contain_text("written at Skerrow Island depot")
        seen.get_by_role("button", name="Take in what is new").click()
        page.wait_for_url(re.compile(r"/due/vehicle/\d+$"))
        theirs = board(page)["Harbour bus"]
        assert [(c["name"], c["on"], c["last_on"]) for c in theirs["compartments"]] == [
            (c["name"], c["on"], c["last_on"]) for c in bus["compartments"]
        ]
        mine = history(signed_in, bus["compartments"][0]["id"])["records"]
        here = history(page, theirs["compartments"][0]["id"])["records"]
        assert [(r["on"], r["poured_ml"], r["loss_band"], len(r["photos"])) for r in here] == [
            (r["on"], r["poured_ml"], r["loss_band"], len(r["photos"])) for r in mine
        ]
        page.context.close()
    finally:
        other.stop()
