"""Findings over HTTP: verdicts with dates, questions, photos measured, variants, trend, learnt capacity, a vehicle's sheet."""

import datetime as dt
import io
import uuid

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageFilter

from barodex import clock
from barodex.book.actions import Entry, PaperRecord, enter_record, write_record
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.core.ledger.balance import LedgerEntry
from barodex.core.ledger.drained import Amount
from barodex.core.run.seen import finding_from
from barodex.demo.scenes import magnet_on_paper, oil_on_paper
from barodex.demo.walk import GOOD_LOOK, Outcome, walk
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_reading, add_vehicle
from barodex.shelf.models import SheetRevision
from tests.api.test_photos import picture, send
from tests.api.test_shelf_sheets import with_variants
from tests.conftest import NOW, new_act

PASTE = {"form": "paste", "metal": "steel", "count": 1, "size_mm": 0.1, "magnetic": None}
FLAKE = {"form": "flake", "metal": "steel", "count": 2, "size_mm": 0.8, "magnetic": None}
CHIP = {"form": "chip", "metal": "steel", "count": 1, "size_mm": 3.0, "magnetic": None}


def past(by, compartment, vehicle, days, km, drained=None, poured=1850, oil=None, **finding):
    """An earlier change, written in from paper with its reading."""
    with clock.at(NOW - dt.timedelta(days=days)):
        seen = finding_from(GOOD_LOOK | finding) if finding else None
        return enter_record(by, compartment.pk, PaperRecord(clock.today(), km, oil and oil.pk, "", drained, 20, poured, seen))


@pytest.fixture
def service(api, depot, people, settings, tmp_path):
    """A service on the gearbox, drained and measured, about to be looked at."""
    settings.VAR = tmp_path
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72 000",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    made = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], made, {"Gearbox": Outcome(1820, 20)}, stop_before="look")
    return made


def look(depot):
    return f"look.{depot.gearbox.pk}"


def trial(api, service, depot, expect=200, **finding):
    body = {"step": look(depot), "values": {"finding": finding, "reason": "only asking"}}
    return api.technician.post(f"/api/services/{service}/trial", body, expect=expect)


# --- the verdict ---------------------------------------------------------------------------------------------------------


def test_the_verdict_says_by_when_to_look_again(api, depot, service):
    found = trial(api, service, depot, magnet="film", particles=[FLAKE], colour="brown", clarity="clear")
    assert found["assessment"]["level"] == 2
    # The lesser of 5 000 km and a quarter of 60 000 km; or three months, whichever comes first.
    look_again = next(c for c in found["promise"]["follows"] if (c["kind"], c["code"]) == ("look-again", "finding"))
    assert (look_again["due_meter"], look_again["due_on"]) == (77_000, "2026-09-15")
    assert (found["promise"]["follows"][0]["kind"], found["promise"]["follows"][0]["factor"]) == ("due-cap", 0.5)
    fair = trial(api, service, depot, magnet="film", particles=[], colour="brown", clarity="clear")["promise"]
    assert not [c for c in fair["follows"] if c["code"] == "finding"]
    assert fair["next"]["on"] > found["promise"]["next"]["on"]
    stop = trial(api, service, depot, magnet="film", particles=[CHIP])
    assert stop["assessment"]["level"] == 4
    assert stop["promise"]["follows"][0]["kind"] == "stop"


def test_milky_is_due_again_when_the_sentence_says_so_before_and_after_the_signature(api, depot, service, people):
    milky = GOOD_LOOK | {"clarity": "milky"}
    shown = trial(api, service, depot, **milky)
    promised = shown["promise"]["next"]
    assert promised["at_meter"] == 72_500
    assert promised["on"] <= "2026-07-15"
    by = {(c["kind"], c["code"]): (c["due_meter"], c["due_on"]) for c in shown["promise"]["follows"]}
    assert by["due-cap", "water"] == by["repair", "water"] == (72_500, "2026-07-15")
    assert ("look-again", "finding") not in by  # the change is the look
    api.technician.post(f"/api/services/{service}/acts", new_act("done", look(depot), finding=milky))
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20)})
    (box,) = [c for v in api.viewer.get("/api/due")["vehicles"] for c in v["compartments"] if c["id"] == depot.gearbox.pk]
    assert (box["at_meter"], box["on"]) == (72_500, promised["on"])
    assert box["state"] == "repair"  # never fine while its water is not found
    looks = api.viewer.get("/api/due")["consequences"]
    assert looks[0]["what"] == "Find where the water enters, and close it"
    for look_again in looks:
        assert look_again["due_meter"] is None or look_again["due_meter"] <= 72_500
        assert look_again["due_on"] <= "2026-07-15"


def test_nothing_noted_is_not_clean(api, depot, service):
    assert "Nothing was looked at" in trial(api, service, depot, expect=409)["detail"]


def test_a_contradiction_is_questioned_and_goes_on_record_with_its_reason(api, depot, service, people):
    odd = GOOD_LOOK | {"magnet": "none", "particles": [CHIP | {"size_mm": 1.5}]}
    path = f"/api/services/{service}/acts"
    refused = api.technician.post(path, new_act("done", look(depot), finding=odd), expect=409)
    assert refused["type"].endswith("needs-reason")
    assert "second magnet" in refused["detail"]
    view = api.technician.post(path, new_act("done", look(depot), finding=odd, reason="wiped before I looked"))
    assert any("wiped before I looked" in g for g in view["gaps"])
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20)})
    assert any("wiped before I looked" in g for g in OilRecord.objects.get(service=service).gaps)


@pytest.mark.parametrize(
    ("wrong", "word"),
    [
        ({"particles": [CHIP | {"size_mm": -2}]}, "size_mm"),
        ({"particles": [CHIP | {"size_mm": 2000}]}, "size_mm"),
        ({"particles": [CHIP | {"count": 0}]}, "count"),
        ({"particles": [{"metal": "steel"}]}, "not a finding"),
        ({"particles": "many"}, "not a finding"),
        ({"colour": "puce"}, "colour"),
        ({"d1500": 11}, "d1500"),
        ({"d1500": "dark"}, "not a finding"),
        ({"wet": "everywhere"}, "wet"),
    ],
)
def test_what_cannot_be_is_refused_and_changes_nothing(api, depot, service, wrong, word):
    before = api.viewer.get(f"/api/services/{service}")["seq"]
    act = new_act("done", look(depot), finding=GOOD_LOOK | wrong)
    problem = api.technician.post(f"/api/services/{service}/acts", act, expect=422)
    assert word in problem["detail"]
    assert api.viewer.get(f"/api/services/{service}")["seq"] == before


def test_oil_on_a_brake_is_a_stop(api, depot, service, people):
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, GOOD_LOOK | {"wet": "brake"})})
    record = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][-1]
    assert record["level"] == 4
    assert record["loss_band"] == "stop"
    assert ConsequenceRow.objects.get(kind="stop").text.startswith("Stop, do not drive: Oil reaches the brake")
    sheet = api.viewer.get(f"/api/book/vehicles/{depot.vehicle.pk}/verdict")
    assert sheet["sentence"] == "Do not drive this vehicle: gearbox."


def test_twice_the_capacity_needs_a_reason_and_five_times_cannot_be(api, depot, service):
    step = f"measure.{depot.gearbox.pk}"
    path = f"/api/services/{service}/acts"
    assert "reason" in api.technician.post(path, new_act("done", step, pan_ml="3.7 L"), expect=409)["detail"].lower()
    assert "cannot be of a compartment" in api.technician.post(path, new_act("done", step, pan_ml="10 L"), expect=422)["detail"]


# --- photos ----------------------------------------------------------------------------------------------------------------

PAPER, FRESH, USED = (
    {"x": 0.5, "y": 0.12, "r": 0.03},
    {"x": 250 / 1600, "y": 620 / 1200, "r": 0.03},
    {"x": 1350 / 1600, "y": 638 / 1200, "r": 0.03},
)


def photo(api, service, depot, content):
    return photo_of(api, service, depot.gearbox, content)


def test_the_colour_of_a_photo_is_the_same_under_two_lights(api, depot, service):
    body = {"paper": PAPER, "fresh": FRESH, "drained": [USED]}
    oils = ((226, 176, 62), (104, 58, 26))
    day, lamp = (
        api.viewer.post(f"/api/photos/{photo(api, service, depot, oil_on_paper(*oils, light=light))}/colour", body)
        for light in ((0.92, 0.92, 0.92), (0.94, 0.86, 0.72))
    )
    assert day["light"] == "near daylight"
    assert lamp["light"] == "warm, as of a lamp"
    assert lamp["drained"][0]["delta_e"] == pytest.approx(day["drained"][0]["delta_e"], abs=3)
    assert lamp["drained"][0]["word"] == day["drained"][0]["word"] == "dark brown"
    assert 0.5 < day["drained"][0]["sure"] <= 1


def test_a_photo_that_cannot_be_read_says_why(api, depot, service):
    def refused(picture_id, body):
        return api.viewer.post(f"/api/photos/{picture_id}/colour", body, expect=422)

    good = photo(api, service, depot, oil_on_paper((226, 176, 62), (104, 58, 26)))
    outside = refused(good, {"paper": PAPER, "fresh": FRESH, "drained": [{"x": 1.4, "y": 0.5}]})
    assert outside["errors"][0]["field"] == "drained oil.x"
    assert "outside the photo" in outside["detail"]
    assert "no white" in refused(good, {"paper": FRESH, "fresh": FRESH, "drained": [USED]})["detail"]
    dark = photo(api, service, depot, oil_on_paper((226, 176, 62), (104, 58, 26), light=(0.12, 0.12, 0.12)))
    assert "too dark" in refused(dark, {"paper": PAPER, "fresh": FRESH, "drained": [USED]})["detail"]
    blown = photo(api, service, depot, oil_on_paper((226, 176, 62), (104, 58, 26), light=(1.4, 1.4, 1.4)))
    assert "blown out" in refused(blown, {"paper": PAPER, "fresh": FRESH, "drained": [USED]})["detail"]
    sharp = Image.open(io.BytesIO(oil_on_paper((226, 176, 62), (104, 58, 26))))
    out = io.BytesIO()
    sharp.filter(ImageFilter.GaussianBlur(24)).save(out, "JPEG")
    body = {"paper": PAPER, "fresh": FRESH, "drained": [USED]}
    read = api.viewer.post(f"/api/photos/{photo(api, service, depot, out.getvalue())}/colour", body)
    assert any("blurred" in d for d in read["doubts"])
    assert not any("blurred" in d for d in api.viewer.post(f"/api/photos/{good}/colour", body)["doubts"])
    api.viewer.post(f"/api/photos/{good}/colour", {"paper": PAPER, "fresh": FRESH, "drained": []}, expect=422)
    api.viewer.post(f"/api/photos/{uuid.uuid4()}/colour", {"paper": PAPER, "fresh": FRESH, "drained": [USED]}, expect=404)
    api.technician.call("delete", f"/api/photos/{good}")
    api.viewer.post(f"/api/photos/{good}/colour", {"paper": PAPER, "fresh": FRESH, "drained": [USED]}, expect=404)


def test_a_magnet_on_a_photo_is_suggested_not_noted(api, depot, service):
    circle = {"x": 0.5, "y": 0.5, "r": 290 / 1200}
    found = api.viewer.post(f"/api/photos/{photo(api, service, depot, magnet_on_paper(0.55))}/magnet", circle)
    assert found["share"] == pytest.approx(0.55, abs=0.06)
    assert found["suggests"] == "cap"
    bristles = api.viewer.post(f"/api/photos/{photo(api, service, depot, magnet_on_paper(0.9, 14))}/magnet", circle)
    assert bristles["suggests"] in ("whiskers", "overflowing")
    assert api.viewer.get(f"/api/services/{service}")["ledgers"][0]["assessment"] is None
    flat = photo(api, service, depot, picture((600, 600)))
    assert "not told apart" in api.viewer.post(f"/api/photos/{flat}/magnet", circle, expect=422)["detail"]


@pytest.mark.parametrize(
    "content",
    [b"this is a text", b"\0\0\0\x18ftypheic\0\0\0\0heicmif1" + b"\0" * 400, picture((1, 1), "PNG"), picture((20_000, 10_000), "PNG")],
    ids=["text named jpg", "heic", "one pixel", "200 megapixels"],
)
def test_what_is_no_photo_to_read_is_refused_at_the_door(api, depot, service, content):
    body = {"file": SimpleUploadedFile("oil.jpg", content), "photo_id": str(uuid.uuid4()), "step": look(depot)}
    response = api.technician.client.post(f"/api/services/{service}/photos", body)
    assert response.status_code == 422
    assert response.json()["errors"][0]["field"] == "file"


def test_an_exchange_shows_its_drains_beside_the_sums(api, depot, people, settings, tmp_path):
    from tests.api.test_kinds import AUTOMATIC

    settings.VAR = tmp_path
    sheet = api.lead.post("/api/sheets", AUTOMATIC | {"exchange_cycles": 3}, expect=201)["id"]
    with clock.at(NOW):
        vehicle = add_vehicle(
            people["lead"], VehicleSpec("Auto", "car", "front-wheel", compartments=(CompartmentSpec("Automatic", "transaxle", sheet),))
        )
    box = vehicle.compartments.get()
    oil = api.lead.post("/api/lubricants", {"name": "Red", "family": "atf", "density15": 850}, expect=201)["id"]
    body = {"vehicle_id": vehicle.pk, "jobs": [{"compartment_id": box.pk, "lubricant_id": oil, "work": {"kind": "exchange", "cycles": 3}}]}
    body |= {"at_hand": ["Red"]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Automatic": Outcome(4000)}, stop_before=f"shut.{box.pk}")
    view = api.viewer.get(f"/api/services/{service}")
    shares = view["ledgers"][0]["drain_shares"]
    total = view["ledgers"][0]["capacity_ml"] and AUTOMATIC["total_ml"]
    assert shares[0] == 0
    assert shares == sorted(shares)
    assert total
    oils = ((198, 56, 76), (89, 41, 29), (130, 48, 46), (160, 52, 60))
    place = [{"x": (250 + k * 1100 / 3) / 1600, "y": (620 + 18 * (k % 2)) / 1200, "r": 0.03} for k in range(4)]
    strip = photo_of(api, service, box, oil_on_paper(*oils))
    found = api.viewer.post(f"/api/photos/{strip}/colour", {"paper": PAPER, "fresh": place[0], "drained": place[1:]})
    deltas = [d["delta_e"] for d in found["drained"]]
    assert deltas == sorted(deltas, reverse=True)
    assert [d["fresh_share"] for d in found["drained"]][: len(shares)] == pytest.approx(shares)
    assert found["drained"][0]["d1500"] is None, "a dyed oil has no D1500 number"


def photo_of(api, service, box, content):
    name = str(uuid.uuid4())
    send(api.technician, service, content, step=f"look.{box.pk}", photo=name)
    return name


def test_swatches_by_family(api):
    gear = api.viewer.get("/api/swatches?family=gear")
    assert [s["d1500"] for s in gear][:3] == [0.5, 1.0, 1.5]
    assert len(gear) == 16
    assert all(s["d1500"] is None for s in api.viewer.get("/api/swatches?family=atf"))


def test_white_points_round_the_oil_are_read_together(api, depot, service):
    name = photo(api, service, depot, oil_on_paper((226, 176, 62), (104, 58, 26)))
    asked = {"paper": PAPER, "fresh": FRESH, "drained": [USED]}
    one = api.viewer.post(f"/api/photos/{name}/colour", asked)
    more = [{"x": 0.05, "y": 0.9, "r": 0.02}, {"x": 0.95, "y": 0.9, "r": 0.02}]
    three = api.viewer.post(f"/api/photos/{name}/colour", {**asked, "more_paper": more})
    assert three["drained"][0]["sigma"] < one["drained"][0]["sigma"]
    assert three["drained"][0]["word"] == one["drained"][0]["word"]
    on_oil = {**asked, "more_paper": [USED]}
    assert "no white" in api.viewer.post(f"/api/photos/{name}/colour", on_oil, expect=422)["detail"]
    api.viewer.post(f"/api/photos/{name}/colour", {**asked, "more_paper": more * 3}, expect=422)


def test_a_box_that_is_sucked_out_tells_its_loss_over_several_services(api, depot, people):
    """One comparison tells none, as an unknown share stays; four in a row do, with what stays learnt of the box."""
    SheetRevision.objects.filter(sheet=depot.axle).update(drain_method="suction")
    for days, km, out in ((800, 45_000, 1200), (600, 52_000, 1330), (400, 60_000, 1290), (200, 66_000, 1350), (20, 71_500, 1310)):
        past(people["technician"], depot.rear, depot.vehicle, days, km, drained=out, poured=1320, oil=depot.heavy)
    told = api.viewer.get(f"/api/book/{depot.rear.pk}/trend")["loss"]
    assert told["points"] == 4  # the first has no fill before it
    assert any("stays inside" in name for name, _ in told["working"]["inputs"])
    assert abs(told["rate"]) < 2 * told["sigma"]
    assert not told["real"]


# --- amounts ---------------------------------------------------------------------------------------------------------------


def test_the_drained_amount_proposes_a_variant(api, depot, people):
    with_variants(api, depot, casing_marks=[{"where": "pad", "reads": "R1 or R2"}])
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {}, stop_before="measure")
    capacities = sorted(v["capacity_ml"] for v in api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]["variants"])
    step = f"measure.{depot.gearbox.pk}"
    path = f"/api/services/{service}/trial"
    largest = api.technician.post(path, {"step": step, "values": {"pan_ml": f"{capacities[-1] - 20} mL", "reason": "asking"}})["variant"]
    assert largest["named"]
    assert largest["shares"][0]["share"] > 0.9
    assert "pad" in largest["settle"][0]
    odd = api.technician.post(path, {"step": step, "values": {"pan_ml": f"{capacities[0] + 60} mL", "reason": "asking"}})["variant"]
    assert sum(s["share"] for s in odd["shares"]) + odd["none"] == pytest.approx(1)


@pytest.fixture
def fleet(depot, people):
    """Three vehicles with the depot's gearbox: looks at like runs, fills to the lip that agree on less than the sheet says."""
    tech = people["technician"]
    boxes = []
    for k in range(2):
        with clock.at(NOW - dt.timedelta(days=900)):
            spec = VehicleSpec(f"Sister {k}", "4x4", "four-wheel", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),))
            vehicle = add_vehicle(people["lead"], spec)
            add_reading(tech, vehicle.pk, clock.today(), 20_000)
        box = vehicle.compartments.get()
        past(tech, box, vehicle, 800, 22_000, None, 1700 + 8 * k, depot.light)
        past(tech, box, vehicle, 300, 33_000, 1690, 1704 + 8 * k, depot.light, magnet="film", colour="brown", particles=[PASTE])
        boxes.append(box)
    return boxes


def test_a_trend_calls_out_a_rise_its_sisters_and_a_wrong_oil(api, depot, people, fleet):
    tech = people["technician"]
    past(tech, depot.gearbox, depot.vehicle, 200, 65_000, 1700, 1850, depot.heavy, magnet="film", colour="brown", particles=[PASTE])
    past(
        tech,
        depot.gearbox,
        depot.vehicle,
        30,
        71_000,
        1650,
        1850,
        depot.light,
        magnet="cap",
        colour="dark brown",
        particles=[PASTE, FLAKE | {"count": 5}],
    )
    found = api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")
    rules = {r["rule"] for r in found["rises"]}
    assert {"level", "cover", "new-form"} <= rules
    assert len(found["sisters"]) == 2
    assert found["sisters"][0]["run"] == 11_000
    assert found["against"] is None, "6 000 km do not compare with 11 000 km by more than half again"
    (wrong,) = found["exposures"]
    assert (wrong["oil"], wrong["run"]) == ("Heavy", 6_000)
    assert wrong["look_for"][0].startswith("Yellow flecks")
    assert found["loss"]["points"] == 2
    # 150 mL over 4 000 km, of which a first drain left 46 on the walls, and 200 mL over 6 000 km, at 15 °C: with a like σ about
    # (4·104 + 6·200) / (4² + 6²) = 31 mL per 1 000 km.
    assert found["loss"]["rate"] == pytest.approx(31, abs=1.5)
    assert found["loss"]["real"]
    assert found["holds"]["run"][0] < found["holds"]["run"][1]
    assert found["points"][-1]["seen"] == ["flake"]


def test_sisters_at_a_like_run(api, depot, people, fleet):
    past(
        people["technician"],
        depot.gearbox,
        depot.vehicle,
        20,
        71_400,
        1830,
        1850,
        depot.light,
        magnet="overflowing",
        colour="black",
        particles=[FLAKE],
    )
    found = api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")
    assert found["against"]["looks"] == 2
    assert found["against"]["places"] == 2
    assert found["against"]["above"], found["against"]["text"]


def test_a_trip_and_a_season(api, depot, people):
    past(people["technician"], depot.gearbox, depot.vehicle, 30, 71_000, 1500, 1850, depot.light)
    path = f"/api/book/{depot.gearbox.pk}/trend"
    near = api.viewer.get(f"{path}?ahead=500 km")["trip"]
    far = api.viewer.get(f"{path}?ahead=20 000 km")["trip"]
    assert (near["passes"], far["passes"]) == ("no", "yes")
    assert far["lost_ml"][1] > near["lost_ml"][1]
    assert far["carry_ml"] <= 1850
    season = api.viewer.get(f"{path}?until=2026-12-31")["trip"]
    assert season["run"] == pytest.approx(api.viewer.get(path)["per_day"] * 199)
    assert api.viewer.get(f"{path}?ahead=far away", expect=422)["errors"][0]["field"] == "ahead"
    assert api.viewer.get(f"{path}?until=2020-01-01", expect=422)["errors"][0]["field"] == "until"
    api.viewer.get("/api/book/9999/trend", expect=404)


def test_the_sheet_learns_from_fills_to_the_level(api, depot, fleet):
    found = api.viewer.get(f"/api/book/{fleet[0].pk}/trend")["learnt"]
    assert found["went_in"]["count"] == 4
    assert found["copies"] == 1, "the depot's own 1 850 mL is the sheet's figure"
    assert found["proposes_ml"] == 1710
    path = f"/api/book/{fleet[0].pk}/learnt"
    api.technician.post(path, expect=403)
    api.lead.post(path)
    newest = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    assert newest["capacity_ml"] == 1710
    assert newest["reason"].startswith("learnt:")
    assert "does not ask for a revision" in api.lead.post(path, expect=422)["detail"]


def test_a_fault_that_comes_back_and_oil_over_the_plug(api, depot, people):
    tech = people["technician"]
    for days, before, after in ((200, "wear counter 38", "wear counter 0"), (20, "wear counter 21", "wear counter 0")):
        with clock.at(NOW - dt.timedelta(days=days)):
            details = {
                "resets": ["wear counter"],
                "values_before": before,
                "values_after": after,
                "stood": "over: it ran out",
                "ran_ml": 90.0,
            }
            write_record(
                tech,
                depot.rear,
                Entry(
                    clock.today(),
                    60_000 + days,
                    "Heavy",
                    depot.heavy,
                    depot.axle.revisions.get(),
                    (LedgerEntry("oil", Amount(1500)),),
                    details=details,
                ),
            )
    found = {s["rule"]: s for s in api.viewer.get(f"/api/book/{depot.rear.pk}/trend")["surprises"]}
    assert "21" in found["fault-returned"]["text"]
    assert "90 mL" in found["over-the-plug"]["text"]
    assert len(found["over-the-plug"]["causes"]) == 4


# --- the vehicle's sheet ----------------------------------------------------------------------------------------------------


def test_the_vehicles_sheet_is_in_plain_words(api, depot, people, service):
    send(api.technician, service, picture(), step=look(depot))
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, GOOD_LOOK | {"particles": [FLAKE]})})
    found = api.viewer.get(f"/api/book/vehicles/{depot.vehicle.pk}/verdict")
    gearbox = next(c for c in found["compartments"] if c["compartment"] == "Gearbox")
    assert gearbox["seen"] == [
        "The oil was brown.",
        "A thin grey film on the magnet.",
        "In the oil: a few flakes up to 0.8 mm (steel, from gears or bearings).",
    ]
    assert "has to be watched" in gearbox["means"]
    assert gearbox["loss"] == "It loses no oil that would matter."
    assert len(gearbox["photos"]) == 1
    assert any(w["text"].startswith("Look again") and not w["stop"] for w in gearbox["next_words"])
    rear = next(c for c in found["compartments"] if c["compartment"] == "Rear axle")
    assert rear["seen"] == ["Nobody looked at what came out."]
    assert rear["means"] == "It is not known how it wears."
    assert found["sentence"] == "To be watched: gearbox; oil change due: rear axle."
    api.viewer.get("/api/book/vehicles/999/verdict", expect=404)
