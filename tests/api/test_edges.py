"""What reaches the server from outside: text and numbers that nothing can keep, edits that were overtaken, a book that cannot be written."""

import json

import pytest
from django.db import OperationalError
from django.urls import get_resolver
from django.urls.converters import IntConverter

from barodex.bay.models import Service
from barodex.core.quantity.errors import CoreError
from barodex.http.parsers import MOST, check_given
from barodex.http.problems import handle, problem
from barodex.shelf.actions import Oil, change_lubricant
from barodex.shelf.models import Lubricant, SheetRevision

HALF = "\ud83d"  # the first half of a pair of UTF-16: no character (Unicode 15, section 3.9)


def start(api, depot):
    made = api.technician.post(
        "/api/services",
        {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]},
        expect=201,
    )
    return made["id"]


def test_a_note_with_half_a_character_is_refused_and_the_service_can_still_be_read(api, depot):
    service = start(api, depot)
    body = json.dumps({"id": "a" * 32, "kind": "note", "compartment_id": None, "values": {"text": f"seen {HALF} here"}})
    answer = api.technician.client.post(f"/api/services/{service}/acts", body, content_type="application/json")
    assert answer.status_code == 422, answer.content
    problem = answer.json()
    assert "none: paste it again" in problem["detail"]
    said = {"field": "values.text", "message": problem["detail"], "value": "seen ? here", "code": problem["detail"]}
    assert problem["errors"][0] == said
    assert api.technician.get(f"/api/services/{service}")["id"] == service


@pytest.mark.parametrize(
    "given", [HALF, "a\x00b", [1, {"deep": [HALF]}], {HALF: 1}, MOST + 1, -MOST - 1, float("inf"), {"x": [float("nan")]}]
)
def test_what_nothing_can_keep_is_refused_wherever_it_stands(given):
    with pytest.raises(CoreError):
        check_given(given)


@pytest.mark.parametrize("given", ["naïve 😀 line\nnext\t·", MOST, -MOST, 1.5, True, None, {"a": [1, "b"]}])
def test_what_can_be_kept_passes(given):
    check_given(given)


def test_a_number_beyond_the_database_is_a_refusal_by_field(api, depot):
    for n in (2**63, 10**40):
        body = {"vehicle_id": depot.vehicle.pk, "on": "2026-07-01", "compartments": [n]}
        answer = api.lead.post("/api/plan/visits", body, expect=422)
        assert answer["errors"][0]["field"] == "compartments.0"
    raw = '{"vehicle_id": 1e999, "jobs": []}'
    assert api.technician.client.post("/api/services", raw, content_type="application/json").status_code == 422


def patterns():
    found = []

    def walk(resolver, before):
        for p in resolver.url_patterns:
            path = before + str(p.pattern)
            if hasattr(p, "url_patterns"):
                walk(p, path)
            elif any(isinstance(c, IntConverter) for c in p.pattern.converters.values()):
                found.append((path, p.pattern.converters))

    walk(get_resolver(), "/")
    return found


def test_no_address_with_a_huge_number_is_a_fault_of_ours(api, depot):
    import re

    paths = {
        re.sub(r"<(\w+:)?\w+>", lambda m: str(10**30) if m[0].startswith("<int") else "x", path).replace("^", "") for path, _ in patterns()
    }
    assert len(paths) > 30
    faults = {}
    for path in sorted(paths):
        for method in ("get", "post", "put", "delete"):
            sent = {} if method == "get" else {"data": "{}", "content_type": "application/json"}
            status = getattr(api.lead.client, method)(path, **sent).status_code
            if status >= 500:
                faults[f"{method} {path}"] = status
    assert faults == {}
    for query in (
        "/api/due?offset=1000000000000000000000",
        "/api/due?limit=-9",
        "/api/plan/horizon?days=99999999999999999999",
        "/api/plan/horizon?offset=9999999999999999999999",
    ):
        assert api.viewer.client.get(query).status_code < 500, query


@pytest.mark.parametrize(
    ("said", "told"),
    [
        ("attempt to write a readonly database", "can only be read"),
        ("database or disk is full", "disk that holds the book is full"),
        ("unable to open database file", "its folder and its rights"),
        ("disk I/O error", "the last backup"),
    ],
)
def test_a_book_that_cannot_be_written_says_what_it_is_and_is_logged(said, told, caplog):
    status, document = problem(OperationalError(said))
    assert status == 503
    assert told in document["detail"]
    assert "others" not in document["detail"]
    handle(OperationalError(said), {})
    assert said in caplog.text


def test_a_lock_passes_and_another_failure_of_the_database_is_a_fault():
    assert "try again" in problem(OperationalError("database is locked"))[1]["detail"]
    status, document = problem(OperationalError("no such column: x"))
    assert status == 500
    assert "x" not in document["detail"].split()


def revision_body(api, depot, **more):
    shown = api.viewer.get(f"/api/sheets/{depot.box.pk}")["revisions"][0]
    keys = ("family", "grade", "categories", "fill_method", "drain_method", "plugs")
    body = {k: shown[k] for k in keys}
    return {**body, "capacity_ml": "1.85 L", "sources": [], "reason": "the plate says so", **more}


def send(api, method, path, body, since, expect):
    answer = getattr(api.lead.client, method)(path, data=body, content_type="application/json", headers={"If-Match": str(since)})
    assert answer.status_code == expect, answer.content[:500]
    return answer.json()


def test_a_revision_written_from_an_overtaken_one_is_refused_with_both_sides(api, depot):
    path = f"/api/sheets/{depot.box.pk}"
    send(api, "post", path, revision_body(api, depot, capacity_ml="1.9 L", reason="bulletin 4"), 1, 201)
    refused = send(api, "post", path, revision_body(api, depot, capacity_ml="1.7 L"), 1, 412)
    assert "wrote revision 2 since you opened revision 1: bulletin 4" in refused["detail"]
    assert refused["errors"][0]["allowed"] == "2"
    said = {
        e["field"]: e["message"].replace("\N{NO-BREAK SPACE}", " ").replace("\N{NARROW NO-BREAK SPACE}", " ") for e in refused["errors"]
    }
    assert said["Service capacity"] == "was 1 850 mL, is now 1 900 mL"
    assert SheetRevision.objects.filter(sheet=depot.box).count() == 2
    send(api, "post", path, revision_body(api, depot, capacity_ml="1.7 L"), 2, 201)
    assert send(api, "post", path, revision_body(api, depot), "two", 422)["errors"][0]["field"] == "If-Match"


def test_an_oil_written_from_an_overtaken_state_is_refused_with_both_sides(api, depot, people):
    light = depot.light
    packs = tuple((p.size_ml, p.price) for p in light.packs.all())
    since = next(o for o in api.viewer.get("/api/lubricants") if o["id"] == light.pk)["version"]
    change_lubricant(people["technician"], light.pk, Oil("Light", "gear", "75W-80", "GL-4", 870, kv100=9.6, kv40=55, packs=packs))
    mine = {"name": "Light", "family": "gear", "grade": "75W-80", "categories": "GL-4", "density15": 870, "kv40": 60, "kv100": None}
    mine["packs"] = [{"size_ml": "1 L", "price": "12.00"}]
    refused = send(api, "put", f"/api/lubricants/{light.pk}", mine, since, 412)
    assert "Technician" in refused["detail"]
    said = {e["field"]: e["message"] for e in refused["errors"]}
    assert said["kv40"] == "there 55, here 60"
    assert said["kv100"] == "there 9.6, here not stated"
    assert "differ" in said["packs"]
    assert Lubricant.objects.get(pk=light.pk).kv40 == 55
    send(api, "put", f"/api/lubricants/{light.pk}", mine, refused["errors"][0]["allowed"], 200)
    assert Lubricant.objects.get(pk=light.pk).version == since + 2


@pytest.mark.parametrize(
    ("plugs", "told"),
    [
        ([{"role": "drain", "label": "drain plug"}], "fill"),
        ([{"role": "fill", "label": "plug"}, {"role": "drain", "label": "plug"}], "Two plugs"),
    ],
)
def test_a_sheet_without_a_way_in_or_with_two_plugs_of_one_name_is_refused(api, depot, plugs, told):
    body = revision_body(api, depot, plugs=plugs)
    refused = api.lead.post(f"/api/sheets/{depot.box.pk}", body, expect=422)
    assert told in refused["detail"]
    assert refused["errors"][0]["field"].startswith("plugs")
    assert SheetRevision.objects.filter(sheet=depot.box).count() == 1


def test_months_with_a_unit_are_refused_at_their_field(api, depot):
    refused = api.lead.post(f"/api/sheets/{depot.box.pk}", revision_body(api, depot, interval_months="24 months"), expect=422)
    assert refused["errors"][0]["field"] == "interval_months"
    assert not Service.objects.exists()
