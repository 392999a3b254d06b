"""What follows from a service: the page promises what is written, every screen says the same, and each thing is closed by an act."""

import datetime as dt
import io

import pytest
from pypdf import PdfReader

from barodex import clock
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.demo.walk import Outcome, walk
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_reading, add_vehicle
from barodex.fleet.actions.boxes import OtherBox, fit_box
from barodex.shelf.actions import stock_container
from tests.api.test_shelf_sheets import with_variants
from tests.conftest import NOW, new_act

pytestmark = pytest.mark.django_db

GOOD = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}
CASES = {
    "fair": GOOD,
    "milky": GOOD | {"clarity": "milky"},
    "whiskers": GOOD | {"magnet": "whiskers", "particles": [{"form": "paste", "metal": "steel", "count": 9, "size_mm": 0.1}]},
    "burnt": GOOD | {"smell": "burnt"},
    "flakes": GOOD | {"particles": [{"form": "flake", "metal": "steel", "count": 5, "size_mm": 1.5}]},
    "chip": GOOD | {"particles": [{"form": "chip", "metal": "steel", "count": 1, "size_mm": 3}]},
}


def begin(api, depot, **work):
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, "work": work}
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "72 000", "jobs": [job], "at_hand": ["Light"]}
    return api.technician.post("/api/services", body, expect=201)["id"]


def box(api, depot):
    return next(c for c in api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"] if c["id"] == depot.gearbox.pk)


def paper(api, record):
    response = api.viewer.client.get(f"/api/records/{record}/paper")
    text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(response.content)).pages)
    return " ".join(text.replace("\N{NO-BREAK SPACE}", " ").split())


def open_of(api):
    return {(c["kind"], c["code"]): c for c in api.viewer.get("/api/due")["consequences"]}


@pytest.mark.parametrize("case", CASES)
@pytest.mark.parametrize("out_ml", [1820, 1500])
@pytest.mark.parametrize("work", [{}, {"kind": "correction", "wrong_oil": "Heavy 80W-90"}])
def test_what_the_page_promises_is_what_the_signature_writes(api, depot, people, case, out_ml, work):
    service = begin(api, depot, **work)
    walk(people["technician"], service, {"Gearbox": Outcome(out_ml, 20, CASES[case])}, stop_before="sign")
    promised = api.viewer.get(f"/api/services/{service}")["ledgers"][0]["promise"]
    walk(people["technician"], service, {"Gearbox": Outcome(out_ml, 20, CASES[case])})
    (record,) = [r for r in api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] if r["service"] == service]
    shape = ("kind", "code", "what", "due_on", "due_meter", "factor")
    assert [[c[k] for k in shape] for c in record["follows"]] == [[c[k] for k in shape] for c in promised["follows"]]
    due = box(api, depot)
    assert (due["on"], due["at_meter"], due["limit"]) == (promised["next"]["on"], promised["next"]["at_meter"], promised["next"]["limit"])
    signed = api.viewer.get(f"/api/services/{service}")["records"][0]["follows"]
    assert [c["what"] for c in signed] == [c["what"] for c in record["follows"] if c["kind"] != "due-cap"]


def facts(api, depot, service):
    """Every screen and paper that speaks of what follows."""
    (record,) = [r for r in api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] if r["service"] == service]
    owner = api.viewer.get(f"/api/book/vehicles/{depot.vehicle.pk}/verdict")
    return {
        "due": str([c["what"] for c in api.viewer.get("/api/due")["consequences"]]),
        "signed": str(api.viewer.get(f"/api/services/{service}")["records"]),
        "book": str(record["follows"]),
        "morning": str(api.viewer.get("/api/plan/morning")),
        "owner": str(owner),
        "paper": paper(api, record["id"]),
        "horizon": str(api.viewer.get("/api/plan/horizon")["rows"]),
        "calendar": api.lead.client.get("/api/plan/calendar/file").content.decode().replace("\r\n ", ""),
    }


def test_a_milky_gearbox_is_the_same_on_every_screen(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["milky"])})
    for where, told in facts(api, depot, service).items():
        assert "Find where the water enters" in told.replace("\\,", ","), where
        assert "nothing needs doing" not in told.lower(), where
        assert "nothing to do" not in told.lower(), where
    assert box(api, depot)["state"] == "repair"
    assert box(api, depot)["why"][-1] == "Change again soon: water was in the oil"


def test_a_leak_is_a_repair_on_every_screen_until_it_is_mended(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1450, 20, CASES["fair"])})
    told = facts(api, depot, service)
    for where in ("due", "signed", "book", "morning", "owner", "paper"):  # the plan shows what falls within it
        assert "It leaks: repair before" in told[where], where
    assert box(api, depot)["state"] == "repair"
    leak = open_of(api)["repair", "leak"]
    holds = api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["holds"]
    assert leak["due_meter"] == pytest.approx(72_000 + holds["run"][0], abs=1)  # the trend has its earliest low mark there too
    path = f"/api/consequences/{leak['id']}"
    assert api.technician.post(path, {"outcome": "x"}, expect=422)["errors"][0]["field"] == "outcome"
    api.viewer.post(path, {"outcome": "output seal renewed"}, expect=403)
    api.technician.post(path, {"outcome": "output seal renewed", "again": True})
    assert box(api, depot)["state"] == "fine"
    ahead = open_of(api)
    assert ("repair", "leak") not in ahead
    again = ahead["look-again", "mended"]
    assert again["what"] == "Look again after it was mended: It leaks: repair before the level falls below its low mark"
    assert again["due_on"] == "2026-09-15"  # three months on
    assert again["due_meter"] == 77_000
    (record,) = [r for r in api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] if r["service"] == service]
    closed = next(c for c in record["follows"] if (c["kind"], c["code"]) == ("repair", "leak"))
    assert closed["closed"] == "15 Jun 2026, Technician: output seal renewed"
    assert "output seal renewed" in paper(api, record["id"])


def test_a_stop_that_is_mended_gives_back_a_part_of_the_interval(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["chip"])})
    assert box(api, depot)["state"] == "stop"
    stop = open_of(api)["stop", "finding"]
    api.technician.post(f"/api/consequences/{stop['id']}", {"outcome": "bearing renewed"}, expect=403)
    api.lead.post(f"/api/consequences/{stop['id']}", {"outcome": "bearing renewed, case washed"})
    assert box(api, depot)["state"] == "fine"
    cap = ConsequenceRow.objects.get(record__service=service, kind="due-cap", done_at=None)
    assert (cap.code, cap.factor) == ("mended", 0.5)  # what a first fair look after a stop gives back


def test_a_repair_is_not_closed_by_a_change_of_oil_but_by_its_own_measurement(api, depot, people):
    first = begin(api, depot)
    walk(people["technician"], first, {"Gearbox": Outcome(1820, 20, CASES["milky"])})
    with clock.at(NOW + dt.timedelta(days=20)):
        walk(people["technician"], begin(api, depot), {"Gearbox": Outcome(1840, 20, CASES["fair"])})
        assert ("repair", "water") in open_of(api)  # nobody has found the entry yet
        assert box(api, depot)["why"] != []  # a fair look after level 3 gives back half
    assert ConsequenceRow.objects.filter(code="first-drives", done_at=None).count() == 1  # the look of the first was answered


def test_a_day_put_right_moves_what_follows_with_it(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["whiskers"])})
    record = OilRecord.objects.get(service=service)
    before = open_of(api)["look-again", "finding"]
    body = {"field": "on", "value": "2026-06-10", "reason": "written up late"}
    api.technician.post(f"/api/records/{record.pk}/corrections", body, expect=201)
    after = open_of(api)["look-again", "finding"]
    assert (before["due_on"], after["due_on"]) == ("2026-09-15", "2026-09-10")


def test_by_the_makers_figure_is_uncut(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["whiskers"])})
    life = next(x for x in api.viewer.get(f"/api/due/{depot.vehicle.pk}/life") if x["id"] == depot.gearbox.pk)
    assert (life["other"]["school"], life["other"]["on"], box(api, depot)["on"]) == (
        "maker",
        "2030-06-15",
        "2028-06-15",
    )  # 48 months, and half


def test_closing_twice_or_what_is_not_there_is_refused(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["whiskers"])})
    look = open_of(api)["look-again", "finding"]
    api.technician.post(f"/api/consequences/{look['id']}", {"outcome": "clean now"})
    assert "closed already" in api.technician.post(f"/api/consequences/{look['id']}", {"outcome": "clean now"}, expect=422)["detail"]
    api.technician.post("/api/consequences/99999", {"outcome": "clean now"}, expect=404)


def test_a_clock_behind_a_record_is_said_and_takes_nothing_down(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["fair"])})
    with clock.at(NOW - dt.timedelta(days=30)):
        board = api.viewer.get("/api/due")
        assert board["clock"] == "A change of 15 June 2026 lies after today: the clock of this server is behind, or that date is wrong."
        gearbox = next(c for v in board["vehicles"] for c in v["compartments"] if c["id"] == depot.gearbox.pk)
        assert (gearbox["state"], gearbox["last_on"]) == ("fine", "2026-06-15")
        for path in ("/api/plan/horizon", "/api/plan/morning", f"/api/due/{depot.vehicle.pk}/life", f"/api/book/{depot.gearbox.pk}/trend"):
            api.viewer.get(path)
    assert api.viewer.get("/api/due")["clock"] == ""


def test_an_oil_that_was_taken_on_purpose_is_not_to_be_taken_out_now(api, depot, people):
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.heavy.pk, "override": "nothing else within 300 km"}
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "72 000", "jobs": [job], "at_hand": ["Heavy"]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["fair"])})
    look = open_of(api)["look-again", "oil-override"]
    assert look["what"] == "Heavy is inside against the rules (nothing else within 300 km): look how it does"
    assert look["due_meter"] == 72_000 + 30_000  # half of 60 000 km
    (exposed,) = api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["exposures"]
    assert exposed["follow_up"] == "It is inside on purpose (nothing else within 300 km): look how it does at half of the interval."


def test_oil_too_clean_for_its_run_is_a_question_until_somebody_answers_it(api, depot, people):
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "86 000", "reason": "a long tour", "at_hand": ["Light"]}
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}
    with clock.at(NOW + dt.timedelta(days=400)):  # 25 000 km since the change
        service = api.technician.post("/api/services", body | {"jobs": [job]}, expect=201)["id"]
        walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, GOOD | {"colour": "fresh"})})
        asked = open_of(api)["ask", "clean-too-long"]
        assert asked["what"] == "As fresh after 25\N{NO-BREAK SPACE}000 km. Ask who worked on it; look at the amounts"
        trend = f"/api/book/{depot.gearbox.pk}/trend"
        assert [s["rule"] for s in api.viewer.get(trend)["surprises"]] == ["clean-too-long"]
        api.technician.post(f"/api/consequences/{asked['id']}", {"outcome": "changed on the tour, the driver says"})
        assert ("ask", "clean-too-long") not in open_of(api)
        assert api.viewer.get(trend)["surprises"] == []


def test_a_colour_put_right_asks_no_more(api, depot, people):
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "86 000", "reason": "a long tour", "at_hand": ["Light"]}
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}
    with clock.at(NOW + dt.timedelta(days=400)):
        service = api.technician.post("/api/services", body | {"jobs": [job]}, expect=201)["id"]
        walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, GOOD | {"colour": "fresh"})})
        record = OilRecord.objects.get(service=service)
        right = {"field": "finding", "finding": GOOD | {"colour": "dark brown"}, "reason": "tapped beside it"}
        api.technician.post(f"/api/records/{record.pk}/corrections", right, expect=201)
        assert ("ask", "clean-too-long") not in open_of(api)


def test_a_first_drain_below_what_the_sheet_lets_it_be_is_asked(api, depot, people):
    body = {"vehicle_id": depot.vehicle.pk, "meter_value": "72 000"}
    job = {"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk}
    for k in range(2):
        stock_container(people["technician"], depot.heavy.pk, 1000, 1000, f"Heavy {k}")
    service = api.technician.post("/api/services", body | {"jobs": [job]}, expect=201)["id"]
    walk(people["technician"], service, {"Rear axle": Outcome(900, 20)}, stop_before="measure")
    step = f"measure.{depot.rear.pk}"
    values = {"pan_ml": "900 mL", "temperature_c": "20", "reason": "it was that low"}
    api.technician.post(f"/api/services/{service}/acts", new_act("done", step, **values))
    walk(people["technician"], service, {"Rear axle": Outcome(900, 20)})
    assert open_of(api)["ask", "ran-low"]["what"].startswith("It ran low, or the sheet is wrong")


def test_a_fill_to_the_level_offers_the_capacity_of_a_sheet_that_guesses(api, depot, people):
    """1 850 mL by the sheet, 1 700 in to the lip: 8 % less, where less than 2 % would be no news (common practice)."""
    guess = next(s for s in depot.box.revisions.get().sources.all() if s.figure == "capacity")
    guess.trust = "guessed"
    guess.save()
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1700, 20)}, stop_before="pour")
    pour = next(s for s in api.viewer.get(f"/api/services/{service}")["steps"] if s["kind"] == "pour")["id"]
    acts = f"/api/services/{service}/acts"
    api.technician.post(acts, new_act("add", pour, volume_ml="1700 mL", elsewhere=True))
    before = api.viewer.get(f"/api/services/{service}")["ledgers"][0]["promise"]
    assert before is None or all(f["code"] != "capacity" for f in before["follows"])  # it may not be full yet
    api.technician.post(acts, new_act("done", pour, reason="to the lip"))
    walk(people["technician"], service, {"Gearbox": Outcome(1700, 20)})
    offer = open_of(api)["adopt", "capacity"]
    took = offer["offer_ml"]
    assert took == pytest.approx(1700, abs=3)
    take = f"/api/consequences/{offer['id']}/take"
    api.technician.post(take, expect=403)
    api.lead.post(take)
    newest = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    assert newest["capacity_ml"] == took
    assert ("adopt", "capacity") not in open_of(api)
    assert "closed already" in api.lead.post(take, expect=422)["detail"]


def test_a_shortened_interval_is_given_back_by_the_lead_alone(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["whiskers"])})
    short = box(api, depot)["on"]
    row = ConsequenceRow.objects.get(record__service=service, kind="due-cap")
    path = f"/api/consequences/{row.pk}"
    api.technician.post(path, {"outcome": "swarf of the new gears"}, expect=403)
    api.lead.post(path, {"outcome": "swarf of the new gears"})
    assert (short, box(api, depot)["on"]) == ("2028-06-15", "2030-06-15")  # 24 of 48 months, and all 48


def test_a_variant_that_the_amount_shows_is_taken_over_with_its_casing_code(api, depot, people):
    with_variants(api, depot)
    service = begin(api, depot)
    named = max(api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]["variants"], key=lambda v: v["capacity_ml"])
    out = {"Gearbox": Outcome(named["capacity_ml"] - 15, 20)}
    walk(people["technician"], service, out, stop_before="level")
    level = next(s for s in api.viewer.get(f"/api/services/{service}")["steps"] if s["purpose"] == "level")
    said = {f["name"]: f["choices"][0] for f in level["fields"] if f["kind"] == "choice"}
    values = {"ticked": level["checklist"], "reason": "the large case, by what came out", **said}
    api.technician.post(f"/api/services/{service}/acts", new_act("done", level["id"], **values))
    walk(people["technician"], service, out)
    offer = open_of(api)["adopt", "variant"]
    assert offer["offer"] == named["name"]
    take = f"/api/consequences/{offer['id']}/take"
    assert api.technician.post(take, expect=422)["errors"][0]["field"] == "outcome"
    depot.gearbox.refresh_from_db()
    depot.gearbox.in_service_id = service
    depot.gearbox.save(update_fields=["in_service"])
    assert "on the bench" in api.technician.post(take, {"outcome": "R2 on the pad"}, expect=409)["detail"]  # its guide asks there
    depot.gearbox.in_service_id = None
    depot.gearbox.save(update_fields=["in_service"])
    api.technician.post(take, {"outcome": "R2 on the pad"})
    depot.gearbox.refresh_from_db()
    assert depot.gearbox.variant == named["name"]
    assert ("adopt", "variant") not in open_of(api)


def test_a_look_goes_with_its_box_to_another_vehicle(api, depot, people):
    """Whiskers at 72 000 km: look after 5 000 km. Taken out at 74 000 and put in at 20 000 on the other's odometer: at 23 000 there."""
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20, CASES["whiskers"])})
    assert open_of(api)["look-again", "finding"]["due_meter"] == 77_000
    spec = VehicleSpec("Young 4x4", "4x4", "four-wheel", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),))
    other = add_vehicle(people["lead"], spec)
    place = other.compartments.get()
    with clock.at(NOW + dt.timedelta(days=40)):
        add_reading(people["technician"], depot.vehicle.pk, clock.today(), 74_000)
        add_reading(people["technician"], other.pk, clock.today(), 20_000)
        mine = OilRecord.objects.get(service=service).box_id
        fit_box(people["lead"], depot.gearbox.pk, clock.today(), 74_000, OtherBox(number="spare"), "rebuilt one in")
        fit_box(people["lead"], place.pk, clock.today(), 20_000, OtherBox(box_id=mine), "it came free")
        look = next(c for c in api.viewer.get("/api/due")["consequences"] if (c["kind"], c["code"]) == ("look-again", "finding"))
        assert (look["vehicle"], look["due_meter"]) == ("Young 4x4", 23_000)
