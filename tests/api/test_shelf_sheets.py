"""Sheets over HTTP: sources, revisions, variants, files."""

import json

import pytest

from barodex.book.models import OilRecord
from barodex.shelf.models import SheetRevision, SpecSheet


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
        "figure": "Service capacity",
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
    kit = api.viewer.post("/api/services/kit", {"jobs": [{"compartment_id": depot.gearbox.pk, "variant": "long"}]})
    assert "17 mm square" in {x["item"]["name"] for x in kit}  # the key of the head that this one has
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
    ready = next(s for s in view["steps"] if s["id"] == "ready")
    assert any("Variant open: short, marked R2" in c for c in ready["advice"])


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
    assert first["draft"]["capacity_ml"] is None
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
    assert report["draft"]["plugs"][0]["torque_nm"] is None


def test_deep_nesting_is_no_fault_of_any_address(api, depot):
    client = api.lead.client
    response = client.post("/api/sheets", "[" * 100_000, content_type="application/json")
    assert response.status_code == 400
    assert response.json()["type"] == "/problems/unreadable"
