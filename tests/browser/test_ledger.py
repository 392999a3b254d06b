"""One amount, told alike wherever it is told: signed page, Book, shelf, waste log, paper and file, for every kind of pour and drain."""

import csv
import io
import re

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from .walk import finish

pytestmark = pytest.mark.browser


def get(page: Page, path: str):
    answer = page.request.get(path)
    assert answer.ok, answer.text()
    return answer.json()


def places(page: Page) -> dict[tuple[str, str], tuple[int, int]]:
    """By vehicle and compartment: their numbers."""
    return {(v["name"], c["name"]): (v["id"], c["id"]) for v in get(page, "/api/due")["vehicles"] for c in v["compartments"]}


def start(page: Page, vehicle: int, compartment: int, **job) -> int:
    """Start on a compartment with the oil that suits it best; what the store lacks is in the hand, and somebody fetches what is short."""
    key = get(page, "/api/session")["csrf"]
    offered = next(j for j in get(page, f"/api/services/start/{vehicle}")["jobs"] if j["compartment"] == compartment)
    work = job.get("work", {}).get("kind", "")
    kit = page.request.post(
        "/api/services/kit", data={"jobs": [{"compartment_id": compartment, "work": work}]}, headers={"X-CSRFToken": key}
    ).json()
    body = {
        "vehicle_id": vehicle,
        "jobs": [{"compartment_id": compartment, "lubricant_id": offered["offers"][0]["lubricant"], "slip": "yes", **job}],
        "ambient_c": "20 °C",
        "at_hand": [k["item"]["name"] for k in kit],
        "fetches": "Fergus",
    }
    if not offered["ask_limited_slip"]:
        body["jobs"][0].pop("slip")
    answer = page.request.post("/api/services", data=body, headers={"X-CSRFToken": key})
    assert answer.ok, answer.text()
    return answer.json()["id"]


def on_the_shelf(page: Page) -> dict[str, float]:
    """By label: what is in each container."""
    return {c["label"]: c["content_ml"] for oil in get(page, "/api/lubricants") for c in oil["containers"]}


@pytest.fixture
def shelf_restored(signed_in: Page):
    """The oil that a test draws is there again afterwards: the server is shared with other tests."""
    before = [c for oil in get(signed_in, "/api/lubricants") for c in oil["containers"]]
    yield
    key = get(signed_in, "/api/session")["csrf"]
    after = {c["id"]: c["content_ml"] for oil in get(signed_in, "/api/lubricants") for c in oil["containers"]}
    for c in before:
        if after.get(c["id"], 0.0) != c["content_ml"]:
            body = {"content_ml": f"{c['content_ml']} mL", "why": "put back for the next test"}
            answer = signed_in.request.post(f"/api/containers/{c['id']}/count", data=body, headers={"X-CSRFToken": key})
            assert answer.ok, answer.text()


def shown(ml: float) -> re.Pattern[str]:
    """An amount as the page writes it."""
    tenth = abs(ml) < 20 and abs(ml * 10 - round(ml * 10)) < 1e-6
    text = f"{ml:.1f}".rstrip("0").rstrip(".") if tenth else f"{int(ml + 0.5):,}".replace(",", r"\s")
    return re.compile(rf"{text}\smL")


@pytest.mark.parametrize(
    ("vehicle", "box", "job", "kinds"),
    [
        ("Warden 4x4", "Automatic", {"work": {"kind": "exchange"}}, {"drained", "oil", "run-out"}),
        ("Launch Petrel", "Marine gearbox", {}, {"sucked", "oil"}),
        ("Depot 4x4", "Gearbox", {"work": {"kind": "top-up"}}, {"top-up"}),
        (
            "Nurse's hatchback",
            "Gearbox",
            {"work": {"kind": "correction", "wrong_oil": "engine oil"}, "warranty": "the maker asked for it"},
            {"drained", "rinse", "rinse-out", "oil"},
        ),
        ("Warden 4x4", "Rear axle", {"doses": [{"additive_id": 1, "volume_ml": "60 mL"}]}, {"drained", "oil", "additive"}),
    ],
    ids=["exchange", "suction", "top-up", "rinse", "additive"],
)
def test_every_place_tells_the_same_amounts(signed_in: Page, shelf_restored, vehicle, box, job, kinds):
    page = signed_in
    owner, compartment = places(page)[vehicle, box]
    before = on_the_shelf(page)
    service = start(page, owner, compartment, **job)
    finish(page, service, pour_from_the_shelf=True)
    record = get(page, f"/api/book/{compartment}")["records"][-1]
    assert record["service"] == service
    assert kinds <= {e["kind"] for e in record["entries"]}
    assert record["poured_ml"] == pytest.approx(sum(e["volume_ml"] for e in record["entries"] if e["kind"] in ("oil", "top-up")))

    # The loss that was told under the vehicle is the one that the book tells.
    live = get(page, f"/api/services/{service}")["ledgers"][0]["loss"]
    assert (live is None) == (record["loss_15_ml"] is None)
    if live is not None:
        assert live["loss_ml"] == pytest.approx(record["loss_15_ml"])
        assert live["within_ml"] == pytest.approx(record["loss_within_ml"])
        assert live["band"] == record["loss_band"]

    # What was drawn is gone from the shelf, to the millilitre.
    after = on_the_shelf(page)
    gone = {c: before[c] - after.get(c, 0.0) for c in before if before[c] - after.get(c, 0.0) > 1e-6}  # an empty one is no longer listed
    named = [e for e in record["entries"] if e["container"]]
    assert sum(gone.values()) == pytest.approx(sum(e["volume_ml"] for e in named))
    assert set(gone) == {e["container"] for e in named}

    page.goto(f"/bay/{service}")
    signed = page.get_by_role("main")
    expect(signed).to_contain_text(shown(record["poured_ml"]))
    if record["inside_15_ml"] is not None:
        expect(signed).to_contain_text(shown(record["inside_15_ml"]))
    page.goto(f"/book/{compartment}")
    card = page.get_by_role("article").first
    card.get_by_role("button", name="Entry by entry").click()
    for told in (record["poured_ml"], record["net_in_15_ml"], *(e["volume_ml"] for e in record["entries"])):
        expect(card).to_contain_text(shown(told))
    log = next((w for w in get(page, "/api/book/waste")["lines"] if w["record"] == record["id"]), None)
    assert (log["waste_ml"] if log else 0) == pytest.approx(record["used_ml"])
    paper = page.request.get(f"/api/records/{record['id']}/paper").body()
    text = " ".join(p.extract_text() for p in PdfReader(io.BytesIO(paper)).pages)
    for told in (record["poured_ml"], record["net_in_15_ml"], *(e["volume_ml"] for e in record["entries"])):
        assert shown(told).search(text), (told, text)
    rows = list(csv.DictReader(io.StringIO(page.request.get(f"/api/book/{compartment}/file").text())))
    for name in ("poured_ml", "net_in_15_ml", "used_ml"):
        assert float(rows[-1][name] or 0) == pytest.approx(record[name] or 0, abs=0.5)  # as measured: whole millilitres
