"""What keeps the shelf true and the box from standing empty: oil enough at the start, the bottle named at each pour, waste counted whole."""

import pytest

from barodex.book.models import OilRecord
from barodex.demo.walk import Outcome, walk
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_vehicle
from barodex.fleet.models import Compartment
from barodex.shelf.actions import count_item, stock_container
from tests.api.test_bay import step_of
from tests.api.test_kinds import AUTOMATIC
from tests.api.test_shelf_sheets import with_variants
from tests.conftest import new_act

pytestmark = pytest.mark.django_db


def body_of(depot, *jobs, **more):
    return {"vehicle_id": depot.vehicle.pk, "jobs": list(jobs), **more}


def gearbox(depot, **more):
    return {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, **more}


def start(api, depot, expect=201, **more):
    return api.technician.post("/api/services", body_of(depot, gearbox(depot, **more.pop("job", {})), **more), expect=expect)


def act(api, service, step, expect=200, kind="done", **values):
    return api.technician.post(f"/api/services/{service}/acts", new_act(kind, step, **values), expect=expect)


# --- oil enough -----------------------------------------------------------------------------------------------------------


def test_oil_short_of_the_need_stops_the_start_and_keeps_nothing(api, depot):
    twice = {"job": {"work": {"kind": "correction", "wrong_oil": "engine oil"}}}  # 1 850 and two rinses of 250: 2 350 of 2 640
    start(api, depot, **twice)
    rear = {"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk, "slip": "no"}
    refused = api.technician.post("/api/services", body_of(depot, rear), expect=409)
    assert "Heavy: 0 of 1\N{NO-BREAK SPACE}500 mL" in refused["detail"]
    assert refused["errors"][0]["field"] == "fetches"
    asked = {"jobs": [{"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk}]}
    assert api.viewer.post("/api/services/oil", asked) == [
        {"lubricant": depot.heavy.pk, "name": "Heavy", "need_ml": 1500.0, "on_hand_ml": 0.0}
    ]
    assert len(api.viewer.get("/api/services")) == 1


def test_what_an_open_service_has_still_to_pour_is_not_free(api, depot, people):
    other = add_vehicle(
        people["lead"], VehicleSpec("Twin", "4x4", "four-wheel", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),))
    )
    job = {"compartment_id": other.compartments.get().pk, "lubricant_id": depot.light.pk}
    first = start(api, depot)["id"]
    refused = api.technician.post("/api/services", {"vehicle_id": other.pk, "jobs": [job]}, expect=409)
    assert "Light: 790 of 1\N{NO-BREAK SPACE}850 mL" in refused["detail"]  # 2 640 on the shelf, 1 850 still to pour next door
    walk(people["technician"], first, {}, stop_before="level")
    refused = api.technician.post("/api/services", {"vehicle_id": other.pk, "jobs": [job]}, expect=409)
    assert "Light: 790 of 1\N{NO-BREAK SPACE}850 mL" in refused["detail"]  # poured now, and not counted twice


def test_who_fetches_it_locks_the_drain_until_it_is_there(api, depot, people):
    rear = {"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk, "slip": "no"}
    service = api.technician.post("/api/services", body_of(depot, rear, fetches="Ann"), expect=201)["id"]
    drain = f"drain.{depot.rear.pk}"
    view = walk(people["technician"], service, {}, stop_before="fetched")
    fetched = step_of(view_of(api, service), "fetched.")
    assert "Ann fetches 1\N{NO-BREAK SPACE}500 mL of Heavy" in fetched["title"]
    assert view.state == "open"
    assert "is it here?" in next(s for s in view_of(api, service)["steps"] if s["id"] == drain)["why_locked"] or act(
        api, service, drain, expect=409
    )
    act(api, service, fetched["id"])
    assert walk(people["technician"], service, {}).state == "signed"


def view_of(api, service):
    return api.viewer.get(f"/api/services/{service}")


def test_the_gasket_of_a_ticked_filter_stops_the_start_too(api, depot, people):
    plugs = [
        *AUTOMATIC["plugs"],
        {"role": "cover", "label": "oil pan", "drive": "six-lobe", "size_mm": "6 mm", "seal": "gasket", "torque_nm": "10 N·m"},
    ]
    sheet = api.lead.post("/api/sheets", AUTOMATIC | {"plugs": plugs}, expect=201)["id"]
    box = Compartment.objects.create(vehicle=depot.vehicle, sheet_id=sheet, name="Automatic", slot="transaxle")
    oil = api.lead.post("/api/lubricants", {"name": "Red", "family": "atf", "approvals": AUTOMATIC.get("approvals", [])}, expect=201)["id"]
    kit = {"jobs": [{"compartment_id": box.pk, "work": "change", "attached": ["filter"]}]}
    with_filter = {line["item"]["name"] for line in api.viewer.post("/api/services/kit", kit)}
    without = {line["item"]["name"] for line in api.viewer.post("/api/services/kit", {"jobs": [{**kit["jobs"][0], "attached": []}]})}
    (gasket,) = {name for name in with_filter - without if "gasket" in name}
    count_item(people["lead"], gasket, "seal", 0)  # counted, and none there
    job = {"compartment_id": box.pk, "lubricant_id": oil, "work": {"kind": "change", "attached": ["filter"]}}
    refused = api.technician.post("/api/services", body_of(depot, job, at_hand=["Red"]), expect=409)
    assert "gasket" in refused["detail"]
    assert refused["errors"][0]["field"] == "at_hand"


# --- from which bottle ----------------------------------------------------------------------------------------------------


def test_a_typed_pour_is_asked_from_which_bottle(api, depot, people):
    service = start(api, depot)["id"]
    walk(people["technician"], service, {}, stop_before="pour")
    pour = f"pour.{depot.gearbox.pk}"
    refused = act(api, service, pour, 422, "add", volume_ml="500 mL")
    assert "From which bottle? Light 0 (640 mL)" in refused["detail"]
    assert refused["errors"][0]["field"] == "container"
    act(api, service, pour, kind="add", volume_ml="500 mL", container=depot.bottles[0].pk)
    view = act(api, service, pour, kind="add", volume_ml="1350 mL", elsewhere=True)
    assert view["ledgers"][0]["elsewhere_ml"] == 1350
    walk(people["technician"], service, {})
    depot.bottles[0].refresh_from_db()
    assert depot.bottles[0].content_ml == 140


# --- additive, waste ------------------------------------------------------------------------------------------------------


def test_an_additive_is_fill(api, depot, people):
    # 100 of additive, 1 000 of oil, 30 ran out: 1 070 inside, by hand.
    tonic = api.lead.post("/api/additives", {"name": "Tonic", "kind": "other"}, expect=201)["id"]
    doses = {"doses": [{"additive_id": tonic, "volume_ml": "100 mL"}]}
    service = start(api, depot, job=doses)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1000, 20)}, stop_before="pour")
    act(api, service, f"pour.{depot.gearbox.pk}", kind="add", volume_ml="1000 mL", elsewhere=True)
    act(api, service, f"pour.{depot.gearbox.pk}", reason="that is all there is")
    level = f"level.{depot.gearbox.pk}"
    walk(people["technician"], service, {}, stop_before="level")
    outcome = next(f for f in step_of(view_of(api, service), "level.")["fields"] if f["name"] == "outcome")["choices"][0]
    act(api, service, level, outcome=outcome, run_out_ml="30 mL")
    walk(people["technician"], service, {})
    record = OilRecord.objects.get(service=service)
    shown = next(r for r in api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] if r["id"] == record.pk)
    assert (shown["poured_ml"], shown["additive_ml"], shown["run_out_ml"]) == (1000, 100, 30)
    assert shown["net_in_15_ml"] == pytest.approx(1070, rel=0.005)  # a little less at 15 °C


def test_the_waste_of_an_exchange_is_every_drain_under_the_old_oil_s_name(api, depot, people):
    sheet = api.lead.post("/api/sheets", AUTOMATIC | {"exchange_cycles": 3}, expect=201)["id"]
    vehicle = add_vehicle(
        people["lead"], VehicleSpec("Auto", "car", "front-wheel", compartments=(CompartmentSpec("Automatic", "transaxle", sheet),))
    )
    box = vehicle.compartments.get()
    oil = api.lead.post("/api/lubricants", {"name": "Red", "family": "atf", "density15": 850}, expect=201)["id"]
    paper = {"on": "2024-06-01", "oil": "Old cherry", "poured_ml": "4 L"}
    api.technician.post(f"/api/book/{box.pk}", paper, expect=201)
    job = {"compartment_id": box.pk, "lubricant_id": oil, "work": {"kind": "exchange", "cycles": 3}}
    service = api.technician.post("/api/services", {"vehicle_id": vehicle.pk, "jobs": [job], "at_hand": ["Red"]}, expect=201)["id"]
    walk(people["technician"], service, {"Automatic": Outcome(4000)})
    (line,) = [x for x in api.viewer.get("/api/book/waste")["lines"] if x["compartment"] == "Automatic"]
    assert line["oil"] == "Old cherry"
    assert line["waste_ml"] >= 3 * 4000


# --- which variant --------------------------------------------------------------------------------------------------------


@pytest.fixture
def two_cases(api, depot, people):
    """The gearbox in two cases, filled by amount, nothing known; oil enough for the larger."""
    with_variants(api, depot, fill_method="measured", casing_marks=[{"where": "pad", "reads": "R1 or R2"}])
    stock_container(people["technician"], depot.light.pk, 5000, 5000, "Light can")
    revision = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    depot.cases = {v["name"]: v["capacity_ml"] for v in revision["variants"]}
    depot.short, depot.long = sorted(depot.cases, key=depot.cases.get)
    return depot


def test_an_exact_fill_waits_for_the_casing_code(api, two_cases, people):
    service = start(api, two_cases)["id"]
    drain, code = f"drain.{two_cases.gearbox.pk}", f"variant.{two_cases.gearbox.pk}"
    walk(people["technician"], service, {}, stop_before="variant")
    assert act(api, service, drain, 409)["type"].endswith("gate-closed")
    assert view_of(api, service)["ledgers"][0]["target_ml"] is None
    view = act(api, service, code, variant=two_cases.long)
    assert view["ledgers"][0]["target_ml"] == two_cases.cases[two_cases.long]
    two_cases.gearbox.refresh_from_db()
    assert two_cases.gearbox.variant == two_cases.long
    poured = next(s for s in view["steps"] if s["id"] == code)["act"]
    undone = act(api, service, code, kind="undo", act=poured)
    assert undone["ledgers"][0]["target_ml"] is None
    two_cases.gearbox.refresh_from_db()
    assert two_cases.gearbox.variant == ""


def test_an_unreadable_code_wants_a_reason_and_the_fill_then_waits_for_what_drained(api, two_cases, people):
    # Nobody knows what went in last: what comes out then speaks for the case.
    vehicle = add_vehicle(
        people["lead"], VehicleSpec("Twin", "4x4", "four-wheel", compartments=(CompartmentSpec("Gearbox", "gearbox", two_cases.box.pk),))
    )
    box = vehicle.compartments.get()
    job = {"compartment_id": box.pk, "lubricant_id": two_cases.light.pk}
    service = api.technician.post("/api/services", {"vehicle_id": vehicle.pk, "jobs": [job]}, expect=201)["id"]
    code, which = f"variant.{box.pk}", f"which.{box.pk}"
    walk(people["technician"], service, {}, stop_before="variant")
    assert act(api, service, code, 409, variant="unreadable")["type"].endswith("needs-reason")
    act(api, service, code, variant="unreadable", reason="rusted away")
    long_ml = two_cases.cases[two_cases.long]
    walk(people["technician"], service, {"Gearbox": Outcome(long_ml - 20, 20)}, stop_before="which")
    view = view_of(api, service)
    assert view["ledgers"][0]["variant"]["named"] == two_cases.long
    assert view["ledgers"][0]["target_ml"] is None
    odd = act(api, service, which, 409, variant=two_cases.short)
    assert "speaks for long" in odd["detail"]
    view = act(api, service, which, variant=two_cases.long)
    assert view["ledgers"][0]["target_ml"] == long_ml
    assert walk(people["technician"], service, {}).state == "signed"
    record = OilRecord.objects.get(service=service)
    assert sum(e.volume_ml for e in record.entries.filter(kind="oil")) == pytest.approx(long_ml)
    box.refresh_from_db()
    assert box.variant == two_cases.long


def test_what_went_in_by_amount_last_time_does_not_tell_the_case(api, two_cases, people):
    service = start(api, two_cases)["id"]
    which = f"which.{two_cases.gearbox.pk}"
    walk(people["technician"], service, {}, stop_before="variant")
    act(api, service, f"variant.{two_cases.gearbox.pk}", variant="unreadable", reason="rusted away")
    walk(people["technician"], service, {"Gearbox": Outcome(1830, 20)}, stop_before="which")
    assert view_of(api, service)["ledgers"][0]["variant"]["named"] == ""
    assert "does not say which it is" in act(api, service, which, 409, variant=two_cases.long)["detail"]
    assert act(api, service, f"pour.{two_cases.gearbox.pk}", 409)["type"].endswith("gate-closed")
    view = act(api, service, which, variant=two_cases.long, reason="the dealer read it off the build sheet")
    assert view["ledgers"][0]["target_ml"] == two_cases.cases[two_cases.long]


def test_a_fill_to_its_level_goes_on_with_the_variant_open_and_the_torque_goes_by_the_plug_that_is_fitted(api, depot, people):
    heads = [{"plug": "drain plug", "drive": "hex socket", "size_mm": "14 mm", "torque_nm": "60 N·m"}]
    variants = [{"name": "short", "capacity_ml": "1850 mL"}, {"name": "long", "capacity_ml": "2100 mL", "heads": heads}]
    with_variants(api, depot, variants=variants)
    service = start(api, depot)["id"]
    shut = f"shut.{depot.gearbox.pk}"
    walk(people["technician"], service, {"Gearbox": Outcome(1900, 20)}, stop_before="shut")
    step = next(s for s in view_of(api, service)["steps"] if s["id"] == shut)
    assert "by the plug that is fitted: 43 or 60" in step["title"]
    choices = next(f["choices"] for f in step["fields"] if f["name"] == "head")
    ready = {"started_by_hand": True, "seal_renewed": True}
    assert act(api, service, shut, 409, **ready)["errors"][0]["field"] == "head"
    assert act(api, service, shut, 409, **ready, head=choices[1], torque_nm="43 N·m")["type"].endswith("needs-reason")
    assert act(api, service, shut, 409, **ready, head=choices[-1])["type"].endswith("needs-reason")
    act(api, service, shut, **ready, head=choices[1], torque_nm="60 N·m")
    walk(people["technician"], service, {}, stop_before="pour")
    assert "its level decides" in view_of(api, service)["ledgers"][0]["target_basis"]
    act(api, service, f"pour.{depot.gearbox.pk}", kind="add", volume_ml="1900 mL", elsewhere=True)
    act(api, service, f"pour.{depot.gearbox.pk}")  # between the two: the level decides, no reason is asked
