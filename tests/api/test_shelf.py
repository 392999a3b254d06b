"""The shelf over HTTP and in its actions: oils, policy, what stops a start, stock, shopping."""

import datetime as dt
import threading

import pytest
from django.core.exceptions import PermissionDenied
from django.db import connection

from barodex import clock
from barodex.bay.models import Service, ServiceJob
from barodex.book.models import OilRecord
from barodex.core.quantity.errors import Inconsistent
from barodex.fleet.models import Compartment
from barodex.shelf.actions import Oil, change_lubricant, take_out
from barodex.shelf.models import Container, Lubricant, SheetRevision, StockMovement, StoreItem
from tests.api.test_shelf_sheets import with_variants
from tests.conftest import NOW

# --- oils ------------------------------------------------------------------------------------------------------------


def oils(api, compartment, **answers):
    return api.viewer.post(f"/api/compartments/{compartment.pk}/oils", answers)


def test_the_shelf_is_ordered_for_a_compartment_and_an_oil_shows_its_places(api, depot):
    shown = oils(api, depot.gearbox)
    assert [(o["name"], o["verdict"]) for o in shown["offers"]] == [("Light", "meets"), ("Heavy", "reject")]
    assert "brass" in shown["asks"]
    cold = oils(api, depot.rear, coldest_c="-35 °C")["offers"][0]
    assert (cold["name"], cold["verdict"]) == ("Heavy", "caution")  # the sheet's own grade: never worse
    places = api.viewer.post(f"/api/lubricants/{depot.heavy.pk}/places", {})
    assert [(p["name"], p["verdict"]) for p in places] == [("Old 4x4, Rear axle", "meets"), ("Old 4x4, Gearbox", "reject")]
    assert api.viewer.post(f"/api/compartments/{depot.rear.pk}/oils", {"coldest_c": "-99"}, expect=422)["errors"]


def test_policy_chooses_the_school_and_the_reason_says_which(api, depot):
    dual = {"name": "Dual", "family": "gear", "grade": "75W-80", "categories": "GL-4 GL-5", "copper_strip": "1b"}
    api.lead.post("/api/lubricants", dual, expect=201)

    def verdict():
        offer = next(o for o in oils(api, depot.gearbox)["offers"] if o["name"] == "Dual")
        return offer["verdict"], next(r["school"] for r in offer["reasons"] if r["rule"] == "dual-claim")

    assert verdict()[0] == "caution"
    assert "copper strip" in verdict()[1]
    api.lead.post("/api/policy", {"dual_claim": "never", "why": "lost a set of rings"})
    assert verdict() == ("reject", "dual-category oils never go onto brass here")
    assert api.viewer.get("/api/policy")["history"][0]["why"] == "lost a set of rings"
    assert "why" in str(api.lead.post("/api/policy", {"dual_claim": "never", "why": "x"}, expect=422))
    assert "outer limit" in api.lead.post("/api/policy", {"off": 0.1, "why": "stricter"}, expect=422)["detail"]


def test_a_technician_fills_in_what_is_missing_and_no_more(depot, people):
    tech, light = people["technician"], depot.light
    full = Oil("Light", "gear", "75W-80", "GL-4", 870, kv40=55, kv100=9.6, packs=tuple((p.size_ml, p.price) for p in light.packs.all()))
    change_lubricant(tech, light.pk, full)
    assert Lubricant.objects.get(pk=light.pk).kv100 == 9.6
    with pytest.raises(PermissionDenied, match="for the lead"):
        change_lubricant(tech, light.pk, Oil("Light", "gear", "75W-90", "GL-4", 870, kv40=55, kv100=9.6, packs=full.packs))


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kv40": 9, "kv100": 55}, "kv100"),
        ({"kv40": -1}, "kv40"),
        ({"density15": 0.88}, "density15"),
        ({"copper_strip": "9z"}, "copper_strip"),
        ({"grade": "75W-95"}, "grade"),
        ({"packs": [{"size_ml": "0.5 mL", "price": "3"}]}, "packs.0.size_ml"),
        ({"packs": [{"size_ml": "1 L", "price": "-3"}]}, "packs.0.price"),
    ],
)
def test_a_data_sheet_that_cannot_be_is_refused_at_its_field(api, depot, body, field):
    problem = api.lead.post("/api/lubricants", {"name": "Odd", "family": "gear", **body}, expect=422)
    assert problem["errors"][0]["field"] == field


def test_the_chart_and_the_scales(api, depot):
    body = {"oils": [depot.light.pk, depot.heavy.pk], "compartment": depot.gearbox.pk, "coldest_c": "-10", "warmest_c": "30"}
    chart = api.viewer.post("/api/lubricants/chart", body)
    assert [x["estimated"] for x in chart["lines"]] == [True, True]
    assert chart["band"]["name"] == "75W-80"
    for line in chart["lines"]:  # straight on these axes: ASTM D341
        (a, b, c) = (line["points"][k] for k in (0, 10, -1))
        assert (b["y"] - a["y"]) * (c["x"] - a["x"]) == pytest.approx((c["y"] - a["y"]) * (b["x"] - a["x"]), abs=1e-9)
    assert "no such oil" in api.viewer.post("/api/lubricants/chart", {**body, "oils": [999]}, expect=422)["detail"]
    assert "cannot be warmer" in api.viewer.post("/api/lubricants/chart", {**body, "coldest_c": "40"}, expect=422)["detail"]
    assert api.viewer.get("/api/lubricants/scales?edition=2019")["scales"][0]["bands"][0]["name"] == "SAE 65"
    assert "No edition" in api.viewer.get("/api/lubricants/scales?edition=1907", expect=422)["detail"]


# --- before a service ------------------------------------------------------------------------------------------------


def start(api, depot, compartment, oil, expect=201, **more):
    job = {"compartment_id": compartment.pk, "lubricant_id": oil.pk, **more.pop("job", {})}
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [job], **more}
    return api.technician.post("/api/services", {**body, "at_hand": ["Heavy", "Bare", *body.get("at_hand", ())]}, expect=expect)


def test_a_wrong_oil_stops_the_start_and_an_override_is_on_the_record(api, depot, people):
    from barodex.demo.walk import walk

    stopped = start(api, depot, depot.gearbox, depot.heavy, expect=409)
    assert stopped["type"] == "/problems/needs-reason"
    assert "must not go into Gearbox: Brass rings inside" in stopped["detail"]
    service = start(api, depot, depot.gearbox, depot.heavy, job={"override": "only oil on the island"})["id"]
    assert ServiceJob.objects.get(service=service).verdict == "reject"
    walk(people["technician"], service, {})
    assert "Oil against the rules: only oil on the island" in OilRecord.objects.get(service=service).gaps


def test_limited_slip_is_asked_before_an_axle_oil_and_remembered(api, depot):
    SheetRevision.objects.filter(sheet=depot.axle).update(limited_slip=None)
    assert oils(api, depot.rear)["ask_limited_slip"]
    asked = start(api, depot, depot.rear, depot.heavy, expect=422)
    assert asked["errors"][0]["field"] == "jobs.0.slip"
    service = start(api, depot, depot.rear, depot.heavy, job={"slip": "yes"})["id"]
    assert ServiceJob.objects.get(service=service).limited_slip is True
    assert Compartment.objects.get(pk=depot.rear.pk).limited_slip is True
    reasons = {r["rule"] for o in oils(api, depot.rear)["offers"] for r in o["reasons"]}
    assert "friction" in reasons
    assert not oils(api, depot.rear)["ask_limited_slip"]


def test_a_label_without_a_class_locks_the_pour_until_it_is_entered(api, depot):
    bare = Lubricant.objects.create(name="Bare", family="gear", grade="80W-90")
    locked = start(api, depot, depot.rear, bare, expect=409)
    assert "Enter it on the shelf" in locked["detail"]
    assert Service.objects.count() == 0
    full = {"name": "Bare", "family": "gear", "grade": "80W-90", "categories": "GL-5"}
    response = api.technician.client.put(f"/api/lubricants/{bare.pk}", full, content_type="application/json")
    assert response.status_code == 200
    start(api, depot, depot.rear, bare)


def test_a_missing_seal_stops_the_start_not_the_middle(api, depot, people):
    from barodex.demo.walk import walk

    name = "crush washer for 12 mm drain plug"
    api.technician.post("/api/store", {"name": name, "kind": "seal", "count": 0}, expect=201)
    lines = api.viewer.post("/api/services/kit", {"jobs": [{"compartment_id": b.pk} for b in (depot.gearbox, depot.rear)]})
    washer = next(x for x in lines if x["item"]["name"] == name)
    assert (washer["item"]["count"], washer["in_store"], washer["state"]) == (2, 0, "missing")  # one for each drain plug
    assert next(x for x in lines if x["item"]["name"] == "12 mm hex socket")["item"]["count"] == 1  # a tool is needed once
    stopped = start(api, depot, depot.gearbox, depot.light, expect=409)
    assert name in stopped["detail"]
    assert Service.objects.count() == 0
    api.technician.post("/api/store", {"name": name, "kind": "seal", "count": 3}, expect=201)
    service = start(api, depot, depot.gearbox, depot.light)["id"]
    walk(people["technician"], service, {})
    assert StoreItem.objects.get(name=name).count == 2  # used up at the signature
    api.technician.post("/api/store", {"name": name, "kind": "seal", "count": 0}, expect=201)
    start(api, depot, depot.rear, depot.heavy, at_hand=[name])  # there all the same


def test_an_additive_displaces_oil_and_goes_on_the_record(api, depot, people):
    from barodex.demo.walk import walk

    tonic = api.lead.post("/api/additives", {"name": "Moly", "kind": "solid lubricant", "max_share": 0.08}, expect=201)["id"]
    doses = [{"additive_id": tonic, "volume_ml": "60 mL"}]
    assert oils(api, depot.gearbox, doses=doses)["offers"][0]["verdict"] == "equivalent"
    service = start(api, depot, depot.gearbox, depot.light, job={"doses": doses})["id"]
    view = api.viewer.get(f"/api/services/{service}")
    assert view["ledgers"][0]["target_ml"] == 1790
    assert "less 60 mL Moly" in view["ledgers"][0]["target_basis"]
    walk(people["technician"], service, {})
    assert "Additive: 60 mL Moly (solid lubricant)" in OilRecord.objects.get(service=service).gaps
    wrong = start(api, depot, depot.rear, depot.heavy, expect=422, job={"doses": [{"additive_id": 999, "volume_ml": "10 mL"}]})
    assert wrong["errors"][0]["field"] == "jobs.0.doses.0.additive_id"


def test_another_family_that_stays_inside_adds_a_rinse_before_the_final_fill(api, depot):
    SheetRevision.objects.filter(sheet=depot.box).update(residual_ml=200)
    OilRecord.objects.filter(compartment=depot.gearbox).update(lubricant=Lubricant.objects.create(name="Red", family="atf"), oil="Red")
    assert oils(api, depot.gearbox)["offers"][0]["rinse"]
    view = api.viewer.get(f"/api/services/{start(api, depot, depot.gearbox, depot.light)['id']}")
    rinse = next(s for s in view["steps"] if s["id"].startswith("rinse."))
    assert rinse["gate"]
    assert "200 mL of atf oil stay inside" in rinse["why"]


# --- stock and shopping ----------------------------------------------------------------------------------------------


def test_movements_are_written_and_never_below_zero(api, depot):
    bottle = depot.bottles[0]
    assert api.technician.post(f"/api/containers/{bottle.pk}/take", {"volume_ml": "140 mL", "why": "top-up"})["content_ml"] == 500
    refused = api.technician.post(f"/api/containers/{bottle.pk}/take", {"volume_ml": "501 mL", "why": "top-up"}, expect=422)
    assert "holds 500 mL by the book" in refused["detail"].replace("\N{NO-BREAK SPACE}", " ")
    assert api.technician.post(f"/api/containers/{bottle.pk}/count", {"content_ml": "450 mL", "why": "looked"})["content_ml"] == 450
    api.technician.post(f"/api/containers/{bottle.pk}/count", {"content_ml": "1.2 L", "why": "looked"}, expect=422)
    api.technician.post(f"/api/containers/{bottle.pk}/take", {"volume_ml": "0", "why": "nothing"}, expect=422)
    moves = api.viewer.get(f"/api/containers/{bottle.pk}")
    assert [(m["change_ml"], m["left_ml"]) for m in moves] == [(-50, 450), (-140, 500), (640, 640)]
    assert sum(m.change_ml for m in StockMovement.objects.filter(container=bottle)) == Container.objects.get(pk=bottle.pk).content_ml


def test_a_top_up_bottle_travels_and_is_not_poured_from(api, depot):
    bottle = depot.bottles[1]
    moved = api.technician.post(f"/api/containers/{bottle.pk}/carry", {"vehicle_id": depot.vehicle.pk})
    assert (moved["kind"], moved["carried_in"]) == ("top-up bottle", "Old 4x4")
    light = next(o for o in api.viewer.get("/api/lubricants") if o["name"] == "Light")
    assert light["on_hand_ml"] == 1640
    assert api.technician.post(f"/api/containers/{bottle.pk}/carry", {"vehicle_id": None})["kind"] == "bottle"
    assert "no such vehicle" in api.technician.post(f"/api/containers/{bottle.pk}/carry", {"vehicle_id": 999}, expect=422)["detail"]


@pytest.mark.apart
@pytest.mark.django_db(transaction=True)
def test_two_people_drawing_from_one_bottle_at_once_cannot_both_take_the_last(depot, people):
    bottle = depot.bottles[0]  # 640 mL
    outcomes: list[str] = []

    def pull():
        try:
            with clock.at(NOW):
                take_out(people["technician"], bottle.pk, 400, "top-up")
            outcomes.append("taken")
        except ValueError as refused:
            outcomes.append(type(refused).__name__)
        finally:
            connection.close()

    pullers = [threading.Thread(target=pull) for _ in range(4)]
    for thread in pullers:
        thread.start()
    for thread in pullers:
        thread.join()
    assert sorted(outcomes) == ["OutOfRange", "OutOfRange", "OutOfRange", "taken"]
    assert Container.objects.get(pk=bottle.pk).content_ml == 240


def shop(api, expect=200, **wish):
    return api.viewer.post("/api/shopping", wish, expect=expect)


def test_shared_oils_are_summed_and_what_is_on_hand_comes_first(api, depot):
    twin = Compartment.objects.create(vehicle=depot.vehicle, sheet=depot.box, name="Second box", slot="transfer case")
    made = shop(api, compartments=[depot.gearbox.pk, twin.pk, depot.rear.pk], pump_ml="50 mL")
    light = next(o for o in made["oils"] if o["name"] == "Light")
    # Two fills of 1 850 mL and 50 mL in the pump, once; 2 640 mL stand there: 1 110 mL short, two litres to buy. By hand.
    assert (light["need_ml"], light["on_hand_ml"], light["short_ml"]) == (3750, 2640, 1110)
    assert light["buy"] == [{"size_ml": 1000, "count": 2}]
    heavy = next(o for o in made["oils"] if o["name"] == "Heavy")
    assert (heavy["short_ml"], heavy["cost"]) == (1550, 16.0)
    assert made["cost"] == 36.0


def test_margins_variant_rinse_and_cycles(api, depot):
    with_variants(api, depot, rinse_ml="250 mL", exchange_cycles=2)
    (need,) = [n["need"] for n in shop(api, compartments=[depot.gearbox.pk])["needs"]]
    parts = {p["name"]: p["volume_ml"] for p in need["parts"]}
    assert parts == {"fill": 1850, "margin for the variant": 250, "rinse": 250, "exchange cycles": 1850}
    assert need["uncertain"]


def test_the_list_for_the_next_weeks_an_unknown_capacity_and_a_drum(api, depot):
    SheetRevision.objects.filter(sheet=depot.axle).update(capacity_ml=None)
    soon = shop(api, weeks=4)
    assert [n["name"] for n in soon["needs"]] == ["Old 4x4, Rear axle"]  # no record of it: counts as due
    assert soon["unknown"] == ["Old 4x4, Rear axle"]
    told = shop(api, compartments=[depot.rear.pk], estimates=[{"compartment": depot.rear.pk, "volume_ml": "1.6 L"}])
    assert told["oils"][0]["need_ml"] == 1600
    everything = shop(api, weeks=104)
    assert {n["name"] for n in everything["needs"]} >= {"Old 4x4, Rear axle"}
    heavy = {
        "name": "Bulk",
        "family": "gear",
        "grade": "80W-90",
        "categories": "GL-5",
        "packs": [{"size_ml": "1 L", "price": "9"}, {"size_ml": "20 L", "price": "90"}],
    }
    bulk = api.lead.post("/api/lubricants", heavy, expect=201)["id"]
    SheetRevision.objects.filter(sheet=depot.axle).update(capacity_ml=1500)
    chosen = shop(api, compartments=[depot.rear.pk], oils=[{"compartment": depot.rear.pk, "lubricant_id": bulk}])["oils"][0]
    assert chosen["drum"]["break_even_services"] == 7  # the seventh makes 10.5 L: eleven litres at 9 are 99 ≥ 90, six make 81
    assert not chosen["drum"]["pays"]


def test_a_wish_that_cannot_be_is_refused(api, depot):
    assert "no such compartment" in shop(api, 422, compartments=[999])["detail"]
    assert shop(api, 422, weeks=500)["errors"][0]["field"] == "weeks"
    assert shop(api, 422, compartments=[depot.rear.pk], pump_ml="9 L")["errors"][0]["field"] == "pump_ml"
    assert (
        "no such oil" in shop(api, 422, compartments=[depot.rear.pk], oils=[{"compartment": depot.rear.pk, "lubricant_id": 999}])["detail"]
    )


def test_an_oil_without_a_pack_on_offer_is_said(api, depot):
    depot.heavy.packs.all().delete()
    line = shop(api, compartments=[depot.rear.pk])["oils"][0]
    assert line["no_pack"]
    assert line["cost"] == 0


def test_the_list_as_csv_holds_no_formula(api, depot):
    Lubricant.objects.filter(pk=depot.heavy.pk).update(name="=cmd()")
    response = api.viewer.client.post("/api/shopping/file", {"compartments": [depot.rear.pk]}, content_type="application/json")
    assert response["Content-Type"].startswith("text/csv")
    text = response.content.decode()
    assert "'=cmd()" in text
    assert "2 x 1" in text
    assert "crush washer for 12 mm drain plug" in text


def test_a_superseded_sheet_in_the_future_is_not_in_force_yet(api, depot):
    with_variants(api, depot, capacity_ml="1.7 L", effective_on=str(NOW.date() + dt.timedelta(days=9)), variants=[])
    assert api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"][0]["capacity_ml"] == 1850
    assert api.viewer.get(f"/api/sheets/{depot.box.pk}/superseded") == []


def test_a_field_name_must_be_ours(people, db):
    from barodex.shelf.files import Naming, keep_names

    with pytest.raises(Inconsistent, match="not a field of a plug"):
        keep_names(people["lead"], (Naming("x", "plug", "capacity"),))
