"""Who may call what: every address is enumerated, and each says so."""

import pytest
from django.test import Client
from django.urls import reverse

from barodex.accounts.models import ROLES
from barodex.config.urls import api_patterns
from barodex.http.permissions import ANYONE

NAMES = (
    "vehicle",
    "sheet",
    "service",
    "compartment",
    "record",
    "consequence",
    "older",
    "newer",
    "claim",
    "lubricant",
    "container",
    "visit",
    "reading",
    "person",
    "run",
    "other",
    "merge",
)
ARGUMENTS = {**dict.fromkeys(NAMES, 1), "link": "x", "code": "0013", "photo": "11111111-1111-4111-8111-111111111111"}
CALLS = [(pattern.name, method, least) for pattern in api_patterns for method, least in pattern.callback.view_class.roles.items()]

# Signing out ends the client's session: it has a test of its own below.
BY_ROLE = [c for c in CALLS if c[2] != ANYONE and c[:2] != ("session", "DELETE")]


def address(name):
    pattern = next(p for p in api_patterns if p.name == name)
    return reverse(name, kwargs={k: ARGUMENTS[k] for k in pattern.pattern.converters})


def test_every_address_says_who_may_call_it():
    for pattern in api_patterns:
        view = pattern.callback.view_class
        handlers = {m.upper() for m in ("get", "post", "put", "patch", "delete") if hasattr(view, m) and m in view.http_method_names}
        declared = set(view.roles)
        assert declared <= handlers, pattern.name
        assert all(least == ANYONE or least in ROLES for least in view.roles.values()), pattern.name
        for undeclared in handlers - declared:
            assert pattern.name == "demo", f"{pattern.name} {undeclared} has no role"


@pytest.mark.django_db
@pytest.mark.parametrize(("name", "method", "least"), CALLS, ids=[f"{m} {n}" for n, m, _ in CALLS])
def test_nobody_gets_in_without_a_sign_in(name, method, least):
    response = getattr(Client(), method.lower())(address(name), data={}, content_type="application/json")
    if least == ANYONE:
        assert response.status_code != 401 or name == "session"
    else:
        assert response.status_code == 401
        assert response.json()["type"] == "/problems/sign-in"


@pytest.mark.parametrize(
    ("name", "method", "least"), [c for c in CALLS if c[2] != ANYONE], ids=[f"{m} {n}" for n, m, a in CALLS if a != ANYONE]
)
def test_a_lower_role_is_refused_and_the_named_one_is_not(api, name, method, least):
    for role in ROLES:
        client = getattr(api, role).client
        response = getattr(client, method.lower())(address(name), data={}, content_type="application/json")
        refused = response.status_code == 403
        assert refused == (ROLES.index(role) < ROLES.index(least)), (role, response.content[:200])


def test_an_unknown_address_below_api_is_a_problem_document(api):
    assert api.viewer.get("/api/nowhere", expect=404)["title"] == "Not found"


@pytest.mark.django_db
def test_sign_in_sign_out_and_a_wrong_password(people, password):
    client = Client()
    wrong = client.post("/api/session", {"username": "lead", "password": "guess"}, content_type="application/json")
    assert wrong.status_code == 401
    assert "do not fit" in wrong.json()["detail"]
    right = client.post("/api/session", {"username": "lead", "password": password}, content_type="application/json")
    assert right.json()["role"] == "lead"
    assert client.get("/api/session").json()["name"] == "Lead"
    assert client.delete("/api/session").status_code == 204
    assert client.get("/api/session").json()["name"] == ""


@pytest.mark.django_db
def test_sign_in_is_throttled(people, password):
    client = Client()
    for _ in range(5):
        client.post("/api/session", {"username": "lead", "password": "guess"}, content_type="application/json")
    locked = client.post("/api/session", {"username": "lead", "password": password}, content_type="application/json")
    assert locked.status_code in (401, 403, 429)
    assert client.get("/api/session").json()["name"] == ""


@pytest.mark.django_db
def test_changes_need_the_csrf_key(people, password):
    strict = Client(enforce_csrf_checks=True)
    body = {"username": "lead", "password": password}
    assert strict.post("/api/session", body, content_type="application/json").status_code == 403
    key = strict.get("/api/session").json()["csrf"]
    assert strict.post("/api/session", body, content_type="application/json", headers={"X-CSRFToken": key}).status_code == 200
    assert strict.patch("/api/session", {"theme": "night"}, content_type="application/json").status_code == 403


@pytest.mark.django_db
def test_the_demo_door_exists_only_in_the_demo(people, settings):
    from barodex.accounts.actions import add_person

    add_person(None, "isla", None, "lead")
    client = Client()
    assert client.post("/api/session/demo", {}, content_type="application/json").status_code == 404
    settings.DEMO = True
    assert client.post("/api/session/demo", {}, content_type="application/json").json()["username"] == "isla"


def test_passwords_are_argon2_and_weak_ones_refused(people, password):
    from barodex.accounts.actions import add_person
    from barodex.core.quantity.errors import Inconsistent

    assert people["lead"].password.startswith("argon2")
    with pytest.raises(Inconsistent, match="too short"):
        add_person(None, "x", "short", "viewer")


@pytest.mark.django_db
def test_the_page_has_a_strict_policy(tmp_path, settings):
    from barodex.config import page

    (tmp_path / "index.html").write_text('<meta name="csp-nonce" content="__NONCE__">')
    settings.WEB_DIST = tmp_path
    page._index.cache_clear()
    response = Client().get("/due")
    page._index.cache_clear()
    policy = response.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert response.headers["Cache-Control"] == "no-store"
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert nonce in response.content.decode()
