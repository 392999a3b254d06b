"""A change that is sent twice counts once, whatever it changes: by the id that the page made for it."""

import uuid

import pytest
from django.db import OperationalError, connection

from barodex.accounts.models import AuditEntry, SentChange
from barodex.fleet.models import Reading
from barodex.shelf.models import Container

OIL = {"name": "Marram 75W-90", "family": "gear", "grade": "75W-90", "categories": "GL-5", "packs": []}


def rows() -> dict[str, int]:
    """How many rows every table has but those that say what was sent and who is signed in."""
    names = [t for t in connection.introspection.table_names() if t not in ("accounts_sentchange", "django_session")]
    with connection.cursor() as cursor:
        found = {}
        for name in names:
            cursor.execute(f'SELECT COUNT(*) FROM "{name}"')
            found[name] = cursor.fetchone()[0]
    return found


def changes(depot) -> dict[str, tuple[str, str, dict]]:
    """One of each change outside the Bay that would count twice: method, address, body."""
    box, vehicle = depot.gearbox.pk, depot.vehicle.pk
    can = Container.objects.create(lubricant=depot.light, label="opened litre", size_ml=1000, content_ml=800)
    return {
        "a reading": ("post", f"/api/vehicles/{vehicle}/readings", {"value": "72 234 km"}),
        "a change on paper": (
            "post",
            f"/api/book/{box}",
            {"on": "2026-01-10", "meter_value": "70 500 km", "oil": "Dunlin 75W-80", "poured_ml": "1.8 L"},
        ),
        "oil taken out": ("post", f"/api/containers/{can.pk}/take", {"volume_ml": "100 mL", "why": "rinsed a funnel"}),
        "a count": ("post", f"/api/containers/{can.pk}/count", {"content_ml": "650 mL", "why": "counted on Friday"}),
        "an oil": ("post", "/api/lubricants", OIL),
        "a visit": ("post", "/api/plan/visits", {"vehicle_id": vehicle, "on": "2026-06-30", "bay": 1, "compartments": [box]}),
        "a counter": ("post", f"/api/compartments/{box}/counter", {"used": 0.4}),
    }


def send(api, change, key):
    method, path, body = change
    return getattr(api.client, method)(path, data=body, content_type="application/json", headers={"Idempotency-Key": str(key)})


@pytest.mark.parametrize("name", ["a reading", "a change on paper", "oil taken out", "a count", "an oil", "a visit", "a counter"])
def test_what_is_sent_twice_counts_once(api, depot, name):
    change, key = changes(depot)[name], uuid.uuid4()
    before = rows()
    first = send(api.lead, change, key)
    assert first.status_code < 400, first.content
    once = rows()
    assert once != before
    again = send(api.lead, change, key)
    assert (again.status_code, again.content, again["Content-Type"]) == (first.status_code, first.content, first["Content-Type"])
    assert rows() == once


def test_a_refusal_is_not_kept_and_can_be_sent_again(api, depot):
    key, path = uuid.uuid4(), f"/api/vehicles/{depot.vehicle.pk}/readings"
    assert send(api.lead, ("post", path, {"value": "12 km"}), key).status_code == 422
    assert not SentChange.objects.exists()
    assert send(api.lead, ("post", path, {"value": "72 234 km"}), key).status_code < 400
    assert Reading.objects.filter(value=72_234).count() == 1


def test_an_id_is_of_one_change_and_one_person(api, depot):
    change, key = changes(depot)["a reading"], uuid.uuid4()
    send(api.lead, change, key)
    other = send(api.lead, (change[0], change[1], {"value": "72 300 km"}), key)
    assert (other.status_code, other.json()["detail"]) == (422, "Another change was sent under this id before.")
    assert send(api.technician, (change[0], change[1], {"value": "72 300 km"}), key).status_code < 400
    assert SentChange.objects.filter(key=key).count() == 2


def test_a_book_that_cannot_be_written_just_now_says_so(api, depot, monkeypatch):
    def busy(*_, **__):
        raise OperationalError("database is locked")

    change, key = changes(depot)["a reading"], uuid.uuid4()
    monkeypatch.setattr(SentChange.objects, "filter", busy)
    refused = send(api.lead, change, key)
    assert (refused.status_code, refused["Content-Type"]) == (503, "application/problem+json")
    assert "Nothing was changed" in refused.json()["detail"]
    monkeypatch.undo()
    assert send(api.lead, change, key).status_code < 400


def test_no_id_is_no_id_and_what_is_none_is_refused(api, depot):
    path = f"/api/vehicles/{depot.vehicle.pk}/readings"
    assert send(api.lead, ("post", path, {"value": "72 234 km"}), "not an id").json()["errors"][0]["field"] == "Idempotency-Key"
    acts = AuditEntry.objects.count()
    api.lead.call("post", path, {"value": "72 234 km"}, expect=201)
    assert (AuditEntry.objects.count() > acts, SentChange.objects.count()) == (True, 0)
