"""Every edit outside the Bay knows what it started from: begun from what somebody changed since, it is shown both sides and writes nothing."""

import datetime as dt

import pytest

from barodex.accounts.models import AuditEntry
from barodex.accounts.since import shown, version_of
from barodex.config.urls import api_patterns
from barodex.plan.models import PlannedVisit
from barodex.shelf.models import Lubricant
from tests.api.test_edges import revision_body

WHY = "agreed on Monday"


def edits(api, depot):
    """Each edit: where it stands (and in what), how it is sent, what one person and another would write, and a word of the refusal."""
    box, vehicle = depot.gearbox.pk, depot.vehicle.pk
    oil = Lubricant.objects.get(pk=depot.light.pk)
    body = {"name": oil.name, "family": oil.family, "grade": oil.grade, "categories": oil.categories, "packs": []}
    use = {"duty_split": {"road": 1.0}, "season_from": "", "season_to": ""}
    return {
        "a sheet": (
            f"/api/sheets/{depot.box.pk}",
            lambda view: view["revisions"][0]["number"],
            "post",
            f"/api/sheets/{depot.box.pk}",
            revision_body(api, depot, capacity_ml="1.9 L", reason=WHY),
            revision_body(api, depot, capacity_ml="1.7 L", reason=WHY),
            "Service capacity",
        ),
        "an oil": (
            "/api/lubricants",
            lambda views: next(v["version"] for v in views if v["id"] == oil.pk),
            "put",
            f"/api/lubricants/{oil.pk}",
            {**body, "kv40": 60},
            {**body, "kv40": 65},
            "kv40",
        ),
        "the policy": (
            "/api/policy",
            lambda view: view["version"],
            "post",
            "/api/policy",
            {"additives": "never", "why": WHY},
            {"off": 0.6, "additives": "with dose", "why": WHY},
            "additives",
        ),
        "the school": (
            "/api/plan/schedule",
            lambda view: view["version"],
            "post",
            "/api/plan/schedule",
            {"school": "maker", "why": WHY},
            {"school": "preventive", "why": WHY},
            "school",
        ),
        "the bay hours": (
            "/api/plan/bay",
            lambda view: view["version"],
            "post",
            "/api/plan/bay",
            {"hours_per_day": 6, "why": WHY},
            {"hours_per_day": 4, "why": WHY},
            "hours_per_day",
        ),
        "how a vehicle is used": (
            f"/api/vehicles/{vehicle}/use",
            lambda view: view["version"],
            "post",
            f"/api/vehicles/{vehicle}/use",
            {**use, "warranty_until": "2027-01-01"},
            {**use, "warranty_until": "2028-01-01"},
            "warranty_until",
        ),
        "what is set for a compartment": (
            f"/api/due/{vehicle}/life",
            lambda view: next(c for c in view if c["id"] == box)["rule"]["version"],
            "post",
            f"/api/compartments/{box}/rule",
            {"interval_km": "40 000 km", "why": WHY},
            {"interval_km": "30 000 km", "why": WHY},
            "interval_km",
        ),
        "what a vehicle is called": (
            f"/api/vehicles/{vehicle}",
            lambda view: view["version"],
            "post",
            f"/api/vehicles/{vehicle}",
            {"name": "North", "plate": "", "kind": "4x4", "layout": "four-wheel"},
            {"name": "South", "plate": "", "kind": "4x4", "layout": "four-wheel"},
            "name",
        ),
        "the workshop": (
            "/api/workshop",
            lambda view: view["version"],
            "post",
            "/api/workshop",
            {"name": "North depot"},
            {"name": "South depot"},
            "name",
        ),
        "a visit": (
            "/api/plan/horizon?days=60",
            lambda view: next(v["version"] for row in view["rows"] for v in row["planned"]),
            "patch",
            f"/api/plan/visits/{PlannedVisit.objects.values_list('pk', flat=True).first()}",
            {"on": "2026-06-25"},
            {"on": "2026-06-26"},
            "on",
        ),
    }


NAMES = (
    "a sheet",
    "an oil",
    "the policy",
    "the school",
    "the bay hours",
    "how a vehicle is used",
    "what is set for a compartment",
    "what a vehicle is called",
    "the workshop",
    "a visit",
)


@pytest.fixture
def agreed(api, depot):
    made = {"vehicle_id": depot.vehicle.pk, "on": "2026-06-24", "bay": 1, "compartments": [depot.gearbox.pk]}
    return api.lead.post("/api/plan/visits", made, expect=201)


@pytest.mark.parametrize("name", NAMES)
def test_an_edit_that_was_overtaken_writes_nothing_and_shows_both_sides(api, depot, agreed, name):
    where, version_in, method, path, theirs, mine, word = edits(api, depot)[name]
    began = version_in(api.viewer.get(where))

    def write(body, version):
        send = getattr(api.lead.client, method)
        return send(path, data=body, content_type="application/json", headers={"If-Match": str(version)})

    assert write(theirs, began).status_code < 300
    entries = AuditEntry.objects.count()
    refused = write(mine, began)
    assert refused.status_code == 412, refused.content
    problem = refused.json()
    assert problem["type"].endswith("superseded")
    assert "since you opened" in problem["detail"]
    assert AuditEntry.objects.count() == entries
    stands = problem["errors"][0]
    assert (stands["field"], int(stands["allowed"])) == ("version", version_in(api.viewer.get(where)))
    both = {e["field"]: e["message"] for e in problem["errors"][1:]}
    assert word in both
    assert write(mine, stands["allowed"]).status_code < 300  # written over theirs, knowingly
    assert write(theirs, "two").json()["errors"][0]["field"] == "If-Match"


def test_every_address_that_takes_an_edit_is_among_them():
    """An endpoint that describes an If-Match is an edit of the list above; a new one has to be added there."""
    from drf_spectacular.generators import SchemaGenerator

    schema = SchemaGenerator(patterns=api_patterns).get_schema(public=True)
    described = {
        op["operationId"]
        for path in schema["paths"].values()
        for op in path.values()
        if any(p["name"] == "If-Match" for p in op.get("parameters", ()))
    }
    assert described == {
        "revise_sheet", "change_lubricant", "set_policy", "set_schedule_policy", "set_bay_policy", "set_use", "set_rule", "move_visit", "set_workshop", "edit_vehicle",
    }  # fmt: skip
    assert len(described) == len(NAMES)


def test_the_same_values_are_the_same_version_and_others_another():
    one = {"a": 1.0, "b": ("x",), "on": dt.date(2026, 5, 1)}
    assert version_of(one) == version_of(dict(reversed(one.items())))
    assert version_of(one) != version_of({**one, "a": 2.0})


@pytest.mark.parametrize(
    ("value", "words"),
    [
        (None, "not stated"),
        ([], "not stated"),
        (True, "yes"),
        (2.50, "2.5"),
        ({"road": 0.7}, "road 0.7"),
        ((0, 6), "0, 6"),
        (dt.date(2026, 5, 1), "1 May 2026"),
    ],
)
def test_a_side_is_shown_as_a_person_reads_it(value, words):
    assert shown(value) == words


def test_a_limit_of_the_policy_is_shown_in_per_cent_as_it_is_typed(api, depot):
    began = api.viewer.get("/api/policy")["version"]
    api.lead.post("/api/policy", {"additives": "never", "why": WHY})
    mine = {"off": 0.6, "additives": "with dose", "why": WHY}
    refused = api.lead.client.post("/api/policy", data=mine, content_type="application/json", headers={"If-Match": str(began)}).json()
    assert {e["field"]: e["message"] for e in refused["errors"][1:]} == {
        "off": "there 50, here 60",
        "additives": "there never, here with dose",
    }
