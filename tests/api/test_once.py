"""The id of a change: what is refused, what is another's, what is still under way. That each change counts once: test_twice."""

import datetime as dt
import uuid

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError

from barodex import clock
from barodex.accounts.models import AuditEntry, SentChange
from barodex.fleet.models import Reading


def reading(depot):
    return "post", f"/api/vehicles/{depot.vehicle.pk}/readings", {"value": "72 234 km"}


def send(api, change, key):
    method, path, body = change
    return getattr(api.client, method)(path, data=body, content_type="application/json", headers={"Idempotency-Key": str(key)})


def test_a_refusal_is_not_kept_and_can_be_sent_again(api, depot):
    key, path = uuid.uuid4(), f"/api/vehicles/{depot.vehicle.pk}/readings"
    assert send(api.lead, ("post", path, {"value": "12 km"}), key).status_code == 422
    assert not SentChange.objects.exists()
    assert send(api.lead, ("post", path, {"value": "72 234 km"}), key).status_code < 400
    assert Reading.objects.filter(value=72_234).count() == 1


def test_an_id_is_of_one_change_and_one_person(api, depot):
    change, key = reading(depot), uuid.uuid4()
    send(api.lead, change, key)
    other = send(api.lead, (change[0], change[1], {"value": "72 300 km"}), key)
    assert (other.status_code, other.json()["detail"]) == (422, "Another change was sent under this id before.")
    assert send(api.technician, (change[0], change[1], {"value": "72 300 km"}), key).status_code < 400
    assert SentChange.objects.filter(key=key).count() == 2


def test_a_book_that_cannot_be_written_just_now_says_so(api, depot, monkeypatch):
    def busy(*_, **__):
        raise OperationalError("database is locked")

    change, key = reading(depot), uuid.uuid4()
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


def feed(api, key, text=b"vehicle,date,reading,unit\nOld 4x4,2026-06-15,72234,km\n"):
    body = {"file": SimpleUploadedFile("feed.csv", text)}
    return api.technician.client.post("/api/readings/file", body, headers={"Idempotency-Key": str(key)})


def test_a_file_that_is_still_being_read_is_not_read_beside_itself(api, depot, people):
    """A second press meanwhile is told so; one that a stopped server left behind is read anew."""
    from barodex.config.once import GIVEN_UP, UNDER_WAY

    key = uuid.uuid4()
    feed(api, key)
    SentChange.objects.filter(key=key).update(status=UNDER_WAY, at=clock.now())
    refused = feed(api, key)
    assert (refused.status_code, refused.json()["detail"]) == (409, "This file is being read; wait for it.")
    SentChange.objects.filter(key=key).update(at=clock.now() - GIVEN_UP - dt.timedelta(seconds=1))
    assert feed(api, key).json()["known"] == 1  # read anew: the answer that was kept said 1 added
    assert SentChange.objects.filter(key=key, status=UNDER_WAY).count() == 0


def test_a_refused_file_can_be_sent_again(api, depot):
    key = uuid.uuid4()
    assert feed(api, key, b"\x00").status_code == 422
    assert not SentChange.objects.exists()
