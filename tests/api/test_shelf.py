"""The shelf over HTTP and in its actions: sources, revisions, oils, stock, shopping, policy, files."""

import datetime as dt
import json
import threading

import pytest
from django.core.exceptions import PermissionDenied
from django.db import connection

from barodex import clock
from barodex.bay.models import Service, ServiceJob
from barodex.book.models import OilRecord
from barodex.core.errors import Inconsistent
from barodex.fleet.models import Compartment
from barodex.shelf.actions import Oil, change_lubricant, take_out
from barodex.shelf.models import Container, Lubricant, SheetRevision, SpecSheet, StockMovement, StoreItem
from tests.conftest import NOW


def claim(api, depot, figure="capacity", text="1.7 L", source="bulletin", expect=201, **more):
    return api.technician.post(
        f"/api/sheets/{depot.box.pk}/claims", {"figure": figure, "text": text, "source": source, **more}, expect=expect
    )


def figure(api, depot, name):
    return next(f for f in api.viewer.get(f"/api/sheets/{depot.box.pk}/figures") if f["figure"] == name)


# --- sheets ----------------------------------------------------------------------------------------------------------


def test_sources_stand_side_by_side_the_newest_bulletin_first(api, depot):
    claim(api, depot, text="2 L", source="forum")
    claim(api, depot, text="1.7 L", published="2019-03-01")
    claim(api, depot, text="1.75 L", published="2024-03-01")
    claim(api, depot, text="1 850 mL", source="plate")
    shown = figure(api, depot, "capacity")
    assert [(c["source"], c["shown"], c["agrees"]) for c in shown["claims"]] == [
        ("bulletin", "1\N{NO-BREAK SPACE}750\N{NO-BREAK SPACE}mL", False),
        ("bulletin", "1\N{NO-BREAK SPACE}700\N{NO-BREAK SPACE}mL", False),
        ("plate", "1\N{NO-BREAK SPACE}850\N{NO-BREAK SPACE}mL", True),
        ("forum", "2\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}mL", False),
    ]
    assert shown["conflict"]
    assert shown["better"] == shown["claims"][0]["id"]


def test_a_chosen_source_becomes_a_revision_with_its_reason_and_the_old_one_stays(api, depot):
    made = claim(api, depot)
    number = api.lead.post(f"/api/claims/{made['id']}/choose", {"reason": "shifted hard when cold"}, expect=201)["id"]
    sheet = api.viewer.get(f"/api/sheets/{depot.box.pk}")
    assert [r["capacity_ml"] for r in sheet["revisions"]] == [1700, 1850]
    assert number == 2
    source = next(s for s in sheet["revisions"][0]["sources"] if s["figure"] == "capacity")
    assert source["source"] == "bulletin"
    assert "shifted hard when cold" in source["note"]
    assert source["by"] == "Lead"
    assert len(sheet["revisions"][0]["plugs"]) == 2  # everything else goes on as it was
    assert "Say why" in api.lead.post(f"/api/claims/{made['id']}/choose", {"reason": "x"}, expect=422)["detail"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"text": "43 N·m (50 lb ft)", "figure": "torque, drain plug"}, "contradict each other"),
        ({"text": "2 qt"}, "US or imperial"),
        ({"text": "-2 L"}, "outside what is possible"),
        ({"text": "900 L"}, "allowed is 5 to 60000"),
        ({"text": "75W-95", "figure": "grade"}, "Near"),
        ({"text": "GL-9", "figure": "categories"}, "not an API gear category"),
        ({"text": "often", "figure": "interval by months"}, "whole number"),
        ({"figure": "colour"}, "no figure"),
        ({"source": "rumour"}, "not a valid choice"),
        ({"published": "2031-01-01"}, "future"),
    ],
)
def test_a_claim_that_cannot_be_is_refused_at_its_field(api, depot, change, words):
    problem = claim(api, depot, expect=422, **{"figure": "capacity", "text": "1.7 L", "source": "manual", **change})
    assert words in problem["errors"][0]["message"]
    assert figure(api, depot, "capacity")["claims"] == []


def test_a_torque_by_another_source_is_chosen_for_its_plug_alone(api, depot):
    made = claim(api, depot, "torque, drain plug", "28 lb ft", "manual")
    api.lead.post(f"/api/claims/{made['id']}/choose", {"reason": "later print"}, expect=201)
    newest = SheetRevision.objects.filter(sheet=depot.box).latest("number")
    assert newest.plugs.get(role="drain").torque_nm == pytest.approx(37.963, abs=1e-3)  # 28 × 1.35582, NIST SP 811
    assert newest.plugs.get(role="fill").torque_nm == 37


def test_a_figure_is_doubted_and_verified_by_somebody_on_a_day(api, depot):
    body = {"figure": "torque", "trust": "guessed", "how": "page is torn"}
    api.technician.post(f"/api/sheets/{depot.box.pk}/trust", body, expect=201)
    source = next(s for s in api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]["sources"] if s["figure"] == "torque")
    assert (source["trust"], source["by"], source["note"]) == ("guessed", "Technician", "page is torn")
    start = api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"][0]
    assert "torque: guessed" in start["doubtful"]
    assert "how you know" in api.technician.post(f"/api/sheets/{depot.box.pk}/trust", {**body, "how": "x"}, expect=422)["detail"]


def test_a_service_keeps_the_revision_that_it_used_and_a_superseded_fill_is_listed(api, depot, people):
    from barodex.demo.walk import walk

    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    made = claim(api, depot)
    api.lead.post(f"/api/claims/{made['id']}/choose", {"reason": "bulletin"}, expect=201)
    walk(people["technician"], service, {})
    record = OilRecord.objects.filter(service=service).get()
    assert record.revision.number == 1
    (fill,) = api.viewer.get(f"/api/sheets/{depot.box.pk}/superseded")
    assert (fill["old_ml"], fill["new_ml"], fill["difference_ml"]) == (1850, 1700, 150)
    changes = api.viewer.get(f"/api/sheets/{depot.box.pk}/compare/1/2")["changes"]
    assert {
        "figure": "service capacity",
        "before": "1\N{NO-BREAK SPACE}850\N{NO-BREAK SPACE}mL",
        "after": "1\N{NO-BREAK SPACE}700\N{NO-BREAK SPACE}mL",
    } in changes
    api.viewer.get(f"/api/sheets/{depot.box.pk}/compare/1/9", expect=404)


def test_a_copy_counts_as_remembered_until_somebody_verifies_it(api, depot):
    made = api.lead.post(f"/api/sheets/{depot.box.pk}/copy", {"name": "Brass box, sister"}, expect=201)
    copy = api.viewer.get(f"/api/sheets/{made['id']}")["revisions"][0]
    assert copy["capacity_ml"] == 1850
    assert {s["trust"] for s in copy["sources"]} == {"remembered"}
    assert "already" in api.lead.post(f"/api/sheets/{depot.box.pk}/copy", {"name": "Brass box"}, expect=422)["detail"]


VARIANTS = [
    {"name": "short", "mark": "R2", "capacity_ml": "1.7 L"},
    {
        "name": "long",
        "mark": "R1",
        "capacity_ml": "2.1 L",
        "heads": [{"plug": "drain plug", "drive": "square", "size_mm": "17", "torque_nm": "28"}],
    },
]


def with_variants(api, depot, **more):
    shown = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    body = {k: v for k, v in shown.items() if k not in ("id", "number", "written_by", "written_at", "effective_on")}
    body["sources"] = [{k: s[k] for k in ("figure", "source", "trust", "note")} for s in shown["sources"]]
    return api.lead.post(f"/api/sheets/{depot.box.pk}", {**body, "reason": "two cases exist", "variants": VARIANTS, **more}, expect=201)


def test_variants_are_bought_for_at_their_largest_until_one_is_known(api, depot):
    with_variants(api, depot, casing_marks=[{"where": "pad", "reads": "R1 or R2"}])
    job = api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"][0]
    assert job["need_ml"] == 2100
    spec = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, "variant": "long"}
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [spec]}
    wrong = api.technician.post("/api/services", {**body, "jobs": [{**spec, "variant": "tall"}]}, expect=422)
    assert wrong["errors"][0]["field"] == "jobs.0.variant"
    service = api.technician.post("/api/services", body, expect=201)["id"]
    view = api.viewer.get(f"/api/services/{service}")
    assert view["ledgers"][0]["target_ml"] == 2100
    shut = next(s for s in view["steps"] if s["id"].startswith("shut."))
    assert "28" in shut["title"]
    assert any("17 mm square" in a for a in shut["advice"])
    depot.gearbox.refresh_from_db()
    assert depot.gearbox.variant == "long"  # not asked again


def test_an_open_variant_shows_the_torque_of_each_head(api, depot):
    with_variants(api, depot)
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    view = api.viewer.get(f"/api/services/{api.technician.post('/api/services', body, expect=201)['id']}")
    shut = next(s for s in view["steps"] if s["id"].startswith("shut."))
    assert any("head really fitted: 17 mm square, 28" in a for a in shut["advice"])
    sheet = next(s for s in view["steps"] if s["id"].startswith("sheet."))
    assert any("variant open: short, marked R2" in c for c in sheet["checklist"])


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"variants": [VARIANTS[0], VARIANTS[0]]}, "variants.0.name"),
        ({"variants": [{**VARIANTS[1], "heads": [{"plug": "nowhere"}]}]}, "variants.0.heads.0.plug"),
        ({"variants": [{**VARIANTS[0], "capacity_ml": "900 L"}]}, "variants.0.capacity_ml"),
        ({"variants": [{**VARIANTS[0], "grade": "75W-99"}]}, "variants.0.grade"),
        ({"ambient": [{"grade": "SAE 90", "min_c": "10", "max_c": "0"}]}, "ambient.0.min_c"),
        ({"total_ml": "1 L"}, "total_ml"),
        ({"kit": [{"name": "x", "kind": "gadget"}]}, "kit.0.kind"),
        ({"exchange_cycles": 0}, "exchange_cycles"),
    ],
)
def test_a_revision_that_contradicts_itself_is_refused_at_its_field(api, depot, more, field):
    shown = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    body = {k: v for k, v in shown.items() if k not in ("id", "number", "written_by", "written_at", "effective_on", "sources")}
    problem = api.lead.post(f"/api/sheets/{depot.box.pk}", {**body, "sources": [], "reason": "more", **more}, expect=422)
    assert problem["errors"][0]["field"] == field
    assert SheetRevision.objects.filter(sheet=depot.box).count() == 1


# --- files -----------------------------------------------------------------------------------------------------------


def read(api, text, expect=200):
    return api.lead.post("/api/sheets/file", {"text": text if isinstance(text, str) else json.dumps(text)}, expect=expect)


def test_a_sheet_goes_out_by_its_schema_and_comes_back_without_losing_a_figure(api, depot):
    import jsonschema

    with_variants(api, depot, ambient=[{"grade": "SAE 80", "max_c": "0"}], kit=[{"name": "gasket", "kind": "seal"}], approvals=["A 1"])
    file = api.viewer.get(f"/api/sheets/{depot.box.pk}/file")
    jsonschema.validate(file, api.viewer.get("/api/sheets/file/schema"))
    report = read(api, file)
    assert report["problems"] == []
    assert report["foreign"] == []
    draft = {**report["draft"], "name": "Back again"}
    made = api.lead.post("/api/sheets", draft, expect=201)
    first, second = (api.viewer.get(f"/api/sheets/{pk}")["revisions"][0] for pk in (depot.box.pk, made["id"]))
    for name in (
        "capacity_ml",
        "grade",
        "plugs",
        "variants",
        "ambient",
        "kit",
        "approvals",
        "interval_km",
        "interval_months",
        "yellow_metal",
    ):
        assert second[name] == first[name], name


def test_a_file_in_another_language_is_mapped_once_and_kept(api, depot):
    file = {"name": "Kasten", "kind": "manual gearbox", "menge": "2.3 L", "plugs": [{"role": "drain", "label": "unten", "weite": "12 mm"}]}
    first = read(api, file)
    assert {(f["name"], f["place"], f["known"]) for f in first["foreign"]} == {("menge", "sheet", False), ("weite", "plug", False)}
    assert "capacity_ml" not in first["draft"]
    names = [{"name": "menge", "place": "sheet", "ours": "capacity"}, {"name": "weite", "place": "plug", "ours": "size"}]
    api.lead.post("/api/sheets/file/names", {"names": names}, expect=201)
    second = read(api, file)
    assert second["draft"]["capacity_ml"] == 2300
    assert second["draft"]["plugs"][0]["size_mm"] == 12
    assert all(f["known"] for f in second["foreign"])
    wrong = api.lead.post("/api/sheets/file/names", {"names": [{"name": "farbe", "place": "sheet", "ours": "colour"}]}, expect=422)
    assert wrong["errors"][0]["field"] == "names.0.ours"
    assert SpecSheet.objects.count() == 2  # nothing entered by reading


def test_what_is_blank_converted_and_implausible_is_listed(api, depot):
    file = {"name": "x", "kind": "hub gear", "capacity": "2 L", "interval_distance": "50000 mi", "rinse": 30}
    report = read(api, {**file, "plugs": [{"role": "drain", "label": "d", "torque": "150 lb ft"}]})
    assert "grade" in report["blank"]
    assert {c["field"] for c in report["converted"]} == {"capacity_ml", "interval_km", "plugs.0.torque_nm"}
    assert {d["field"] for d in report["implausible"]} == {"capacity_ml", "plugs.0.torque_nm"}
    assert report["draft"]["rinse_ml"] == 30


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("[" * 100_000, "not JSON, or it is nested too deep"),
        ('{"a":' * 30_000 + "1" + "}" * 30_000, "not JSON, or it is nested too deep"),
        ("not json", "not JSON"),
        ("[1]", "one sheet"),
        ('{"format": "recipe"}', "something else"),
        ('{"format": "barodex-sheet", "version": 7}', "version"),
    ],
)
def test_a_file_that_is_no_sheet_is_refused_with_a_sentence(api, depot, text, words):
    assert words in read(api, text, expect=422)["detail"]


def test_a_negative_torque_and_unknown_words_are_problems_at_their_place(api, depot):
    report = read(
        api, {"name": "x", "kind": "time machine", "plugs": [{"role": "drain", "label": "d", "torque": -30}, {"label": "no role"}]}
    )
    assert {p["field"] for p in report["problems"]} >= {"kind", "plugs.0.torque", "plugs.1.role"}
    assert "torque_nm" not in report["draft"]["plugs"][0]


def test_deep_nesting_is_no_fault_of_any_address(api, depot):
    client = api.lead.client
    response = client.post("/api/sheets", "[" * 100_000, content_type="application/json")
    assert response.status_code == 400
    assert response.json()["type"] == "/problems/unreadable"


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
    return api.technician.post("/api/services", {"vehicle_id": depot.vehicle.pk, "jobs": [job], **more}, expect=expect)


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
    assert "less 60 mL Moly" in view["ledgers"][0]["target_basis"]
    walk(people["technician"], service, {})
    assert "Additive: 60 mL Moly (solid lubricant)" in OilRecord.objects.get(service=service).gaps
    wrong = start(api, depot, depot.rear, depot.heavy, expect=422, job={"doses": [{"additive_id": 999, "volume_ml": "10 mL"}]})
    assert wrong["errors"][0]["field"] == "jobs.0.doses.0.additive_id"


def test_another_family_that_stays_inside_adds_a_rinse_before_the_final_fill(api, depot):
    SheetRevision.objects.filter(sheet=depot.box).update(residual_ml=200)
    OilRecord.objects.filter(compartment=depot.gearbox).update(lubricant=Lubricant.objects.create(name="Red", family="atf"), oil="Red")
    assert oils(api, depot.gearbox)["offers"][0]["rinse"]
    view = api.viewer.get(f"/api/services/{start(api, depot, depot.gearbox, depot.light)['id']}")
    rinse = next(s for s in view["steps"] if s["id"].startswith("rinse."))
    assert rinse["gate"]
    assert "200 mL of atf oil stay inside" in rinse["why"]


# --- stock and shopping ----------------------------------------------------------------------------------------------


def test_movements_are_written_and_never_below_zero(api, depot):
    bottle = depot.bottles[0]
    assert api.technician.post(f"/api/containers/{bottle.pk}/take", {"volume_ml": "140 mL", "why": "top-up"})["content_ml"] == 500
    refused = api.technician.post(f"/api/containers/{bottle.pk}/take", {"volume_ml": "501 mL", "why": "top-up"}, expect=422)
    assert "holds 500 mL by the book" in refused["detail"].replace("\N{NO-BREAK SPACE}", " ")
    assert api.technician.post(f"/api/containers/{bottle.pk}/count", {"content_ml": "450 mL", "why": "looked"})["content_ml"] == 450
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
