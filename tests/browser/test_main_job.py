"""The whole main job, from due to next due: once by mouse with a reload and a server restart half-way, once by keyboard."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser


def steps(page: Page):
    return page.get_by_role("navigation", name="Steps")


def heading(page: Page, words: str):
    expect(page.get_by_role("heading", level=2, name=re.compile(words))).to_be_visible()


def go_on(page: Page, name: str = "go on"):
    page.get_by_role("button", name=re.compile(name, re.I)).first.click()


def test_the_whole_job_by_mouse(watched: Page, server):
    page = watched
    page.goto("/")
    page.get_by_label("Name").fill("fergus")
    page.get_by_label("Password").fill("wrong one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not fit")
    page.get_by_label("Password").fill("tarbert-oil-can")
    page.get_by_role("button", name="Sign in").click()

    # Due: the 4x4 has things due soon; start on its gearbox alone.
    row = page.get_by_role("article", name="Depot 4x4")
    expect(row.get_by_role("img", name=re.compile("Gearbox: due soon"))).to_be_visible()
    row.get_by_role("link", name="Start in the Bay").click()
    for other in ("Front axle", "Transfer case", "Rear axle"):
        page.get_by_role("checkbox", name=other).uncheck()
    expect(page.get_by_text("Category GL-4 as asked.")).to_be_visible()
    page.get_by_label("Odometer now").fill("91 000 km")
    page.get_by_role("button", name="Start on gearbox").click()
    expect(page.get_by_text(re.compile("lower than"))).to_have_count(2)  # at the field and above the list; what was typed stays
    expect(page.get_by_label("Odometer now")).to_have_value("91 000 km")
    page.get_by_label("Odometer now").fill("91 900 km")
    page.get_by_role("button", name="Start on gearbox").click()

    # Before: what is not so is tapped, and stops it there.
    heading(page, "Right vehicle")
    page.get_by_role("button", name=re.compile("^Gearbox: Tarn .*, tap")).click()
    go_on(page)
    expect(page.get_by_role("alert")).to_contain_text("Not so yet: Gearbox: Tarn")
    page.get_by_role("button", name=re.compile("^Gearbox: Tarn .*: not so")).click()
    go_on(page)
    heading(page, "Tools and seals")
    go_on(page)
    heading(page, "hand-warm")
    page.get_by_text("4 good").first.click()
    go_on(page)
    heading(page, "Make it safe")
    go_on(page)
    heading(page, "Take off")
    page.get_by_label("What came off").fill("undertray")
    go_on(page)

    # The drain is locked until the fill plug is proven open.
    heading(page, "crack the fill plug")  # the act before is answered: the page goes to no other step by itself now
    steps(page).get_by_text("Pan under, drain plug out").click()
    expect(
        page.get_by_text(re.compile("Opens when this is done: Gearbox: clean round the plugs, crack the fill plug loose"))
    ).to_have_count(2)
    page.get_by_role("button", name="Back to the step at hand").click()
    heading(page, "crack the fill plug")
    go_on(page)
    heading(page, "Pan under")
    go_on(page)

    # A reload half-way loses nothing that was noted, and keeps what was typed; the drain has started its time.
    heading(page, "Read oil and magnet")
    steps(page).get_by_text("Let it drip, measure what came out").click()
    expect(page.get_by_role("timer").first).to_have_text(re.compile(r"24:5\d|25:00"))
    page.get_by_label("In the pan").fill("1.9 qt")
    expect(page.get_by_text(re.compile("US or imperial"))).to_be_visible()
    page.get_by_label("In the pan").fill("1.8 L")
    page.get_by_label("Oil temperature").fill("38")
    expect(page.get_by_text(re.compile("at 15 °C"))).to_have_count(2)  # in words, and in the pan
    page.reload()
    steps(page).get_by_text("Let it drip, measure what came out").click()
    expect(page.get_by_label("In the pan")).to_have_value("1.8 L")

    # A server that is away: the act waits and is sent again; pressed twice, it counts once.
    server.stop()
    page.get_by_role("button", name="It only drips: note it, go on").dblclick()
    expect(page.get_by_role("status").filter(has_text="does not answer")).to_be_visible()
    server.start()
    heading(page, "Read oil and magnet")

    for name in ("magnet: cap", "paste", "glitter", "brass", "several", "colour: dark brown, ASTM D1500 6"):
        page.get_by_role("button", name=re.compile(f"^{name}")).click()
    page.get_by_text("Clear", exact=True).click()
    expect(page.get_by_role("status").filter(has_text="Watch")).to_contain_text("brass")
    go_on(page)

    heading(page, "Shut the drain plug")
    expect(page.get_by_text("43 N·m (32 lbf·ft)").last).to_be_visible()
    go_on(page)
    heading(page, "Level: floor")
    go_on(page)
    heading(page, "Right oil in your hand")
    go_on(page)
    heading(page, "Pour by the plan")
    expect(page.get_by_role("img", name="Tarn 80 bottle B: stop at 790")).to_be_visible()
    page.get_by_role("button", name=re.compile("Tarn 80 opened: all of it")).click()
    expect(page.get_by_text(re.compile(r"Pour 1\s210\smL"))).to_be_visible()
    page.get_by_role("button", name="Leave it at what is in").click()
    expect(page.get_by_role("alert")).to_contain_text("less than the")  # too little cannot pass unexplained
    page.get_by_role("button", name=re.compile("Tarn 80 bottle A: all of it")).click()
    expect(page.get_by_text(re.compile(r"Pour 210\smL"))).to_be_visible()  # a press while another is on its way counts for nothing
    page.get_by_role("button", name=re.compile("Tarn 80 bottle B: down to the 790")).click()
    expect(page.get_by_text("The whole amount is in")).to_be_visible()
    go_on(page, "All in")
    heading(page, "Trickle")
    page.get_by_text("trickled, then only drips").click()
    go_on(page, "Level is set")
    heading(page, "Close the fill plug")
    go_on(page)
    heading(page, "Wipe clean")
    go_on(page)
    heading(page, "Drive")
    go_on(page)
    heading(page, "Sign it off")
    page.get_by_role("button", name="Sign", exact=True).click()

    # Signed: record, next due, stock and paper are there without another keystroke.
    expect(page.get_by_role("heading", name="Signed")).to_be_visible()
    paper = page.get_by_role("link", name="Job paper").get_attribute("href")
    assert page.request.get(paper).body().startswith(b"%PDF")
    page.get_by_role("link", name="History").click()
    record = page.get_by_role("article").first
    expect(record).to_contain_text(re.compile(r"1\s800\smL out"))
    expect(record).to_contain_text("2, watch")
    expect(record).to_contain_text("before: shifts good")
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("img", name=re.compile(r"Tarn 80 bottle B: 790\smL"))).to_be_visible()
    page.get_by_role("link", name="Due").click()
    expect(page.get_by_role("article", name="Depot 4x4").get_by_role("img", name=re.compile("Gearbox: fine, 100 %"))).to_be_visible()


def tab_to(page: Page, target):
    """Press Tab until the wanted control has the focus, as somebody without a mouse would."""
    target.wait_for()
    for _ in range(120):
        if target.evaluate("e => e === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab never reaches {target}")


def focus_on(page: Page, role: str, **what):
    tab_to(page, page.get_by_role(role, **what).first)


def press_through(page: Page, title: str):
    """All is so: Enter."""
    heading(page, title)
    page.keyboard.press("Enter")


def test_the_whole_job_by_keyboard(signed_in: Page):
    page = signed_in
    page.keyboard.press("/")
    page.keyboard.type("ridge")
    expect(page.get_by_role("dialog", name="Find")).to_contain_text("Ridge motorcycle, Bevel drive")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1, name="Ridge motorcycle")).to_be_visible()
    focus_on(page, role="link", name="Start a service")
    page.keyboard.press("Enter")
    focus_on(page, role="checkbox", name="Gearbox")
    page.keyboard.press("Space")  # the gearbox waits; the bevel drive is done
    focus_on(page, role="button", name="Start on bevel drive")
    page.keyboard.press("Enter")
    # The store counts no washer of that size: the start is stopped, not the middle, until it is in the hand.
    expect(page.get_by_role("alert")).to_contain_text("crush washer for 6 mm drain plug")
    focus_on(page, role="checkbox", name="1 × crush washer for 6 mm drain plug")
    page.keyboard.press("Space")
    focus_on(page, role="button", name="Start on bevel drive")
    page.keyboard.press("Enter")

    press_through(page, "Right vehicle")
    press_through(page, "Tools and seals")
    heading(page, "hand-warm")
    focus_on(page, role="button", name="Not this time")
    page.keyboard.press("Enter")
    press_through(page, "Make it safe")
    press_through(page, "Take off")
    press_through(page, "Upright")  # its fill is measured out: it stands level for the drain
    heading(page, "crack the fill plug")  # it is noted: only then is there something to undo
    page.keyboard.press("u")  # undo, then do it again
    press_through(page, "Upright")
    press_through(page, "crack the fill plug")
    press_through(page, "Pan under")
    heading(page, "Read oil")
    for name in ("magnet: thin film", "nothing: none seen", "colour: darker, ASTM D1500 2"):
        focus_on(page, role="button", name=name)
        page.keyboard.press("Space")
    focus_on(page, role="button", name="Note it, go on")
    page.keyboard.press("Enter")
    heading(page, "measure what came out")
    page.keyboard.type("172")
    page.keyboard.press("Tab")
    page.keyboard.type("30 °C")
    page.keyboard.press("Enter")
    press_through(page, "Shut the drain")
    press_through(page, "Right oil")
    heading(page, "Pour by the plan")
    focus_on(page, role="button", name=re.compile("Corrie 140 opened"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("The whole amount is in")).to_be_visible()
    focus_on(page, role="button", name="All in, go on")
    page.keyboard.press("Enter")
    press_through(page, "The amount is the level")
    heading(page, "Cut or read the depth gauge")
    page.keyboard.type("18 mm")
    page.keyboard.press("Enter")
    press_through(page, "Close the fill plug")
    press_through(page, "Wipe")
    for title in ("Drive", "Sign it off"):
        heading(page, title)
        page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Signed")).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_role("heading", level=1, name="Book")).to_be_visible()
    expect(page.get_by_role("listitem").first).to_contain_text("Ridge motorcycle, bevel drive")
