"""What is said goes out with its code and parameters, and is stored by them; what was stored as text before stays as written."""

import json

import pytest
from django.db import connection

from barodex.bay.models import SignedPage
from barodex.book.models import OilRecord
from barodex.core.words import JOINED, Message, said
from barodex.demo.walk import Outcome, walk
from barodex.files.whole.kept import line_of, row_back, rows_of
from tests.api.test_consequences import begin
from tests.api.test_vehicle_state import act, step_of
from tests.conftest import new_act

pytestmark = pytest.mark.django_db


def stored(model, column: str, pk: int):
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {column} FROM {model._meta.db_table} WHERE {model._meta.pk.column} = %s", [pk])
        return json.loads(cursor.fetchone()[0])


def test_a_refusal_carries_its_code_beside_its_words(api, depot):
    problem = api.technician.post(f"/api/vehicles/{depot.vehicle.pk}/readings", {"value": "60 000 km"}, expect=422)
    (first,) = problem["errors"]
    assert first["message"] == problem["detail"]
    first = first["params"]["first"] if first["code"] == JOINED else {"say": first["code"], "with": first["params"]}
    assert first["say"].startswith("{new_value} {unit} is {word} than")
    assert first["with"]["unit"] == "km"
    assert said(first) in problem["detail"]
    missing = api.viewer.get("/api/vehicles/99999", expect=404)
    assert missing["code"] == missing["detail"]


@pytest.fixture
def explained(api, depot, people):
    """A signed change of which one step was passed with a reason."""
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20)}, stop_before="wipe")
    shown = api.viewer.get(f"/api/services/{service}")["steps"]
    step = next(s["id"] for s in shown if s["purpose"] == "wipe")
    assert step_of(api, service, step)["skip"] == "reason"
    api.technician.post(f"/api/services/{service}/acts", new_act("skip", step, reason="laid out by Isla"))
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20)})
    return OilRecord.objects.get(service=service)


def test_the_gaps_of_a_record_are_stored_by_code_and_read_as_before(api, depot, explained):
    kept = stored(OilRecord, "gaps", explained.pk)
    assert {"say", "with"} == set(next(g for g in kept if isinstance(g, dict)))
    again = OilRecord.objects.get(pk=explained.pk).gaps
    said = [g for g in again if isinstance(g, Message)]
    assert said
    assert any("laid out by Isla" in g for g in again)
    shown = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    assert list(again) == next(r["gaps"] for r in shown if r["id"] == explained.pk)


def test_the_gap_report_of_a_signed_service_too(explained):
    kept = json.dumps(stored(SignedPage, "gaps", explained.service_id))
    assert '"say"' in kept
    assert "laid out by Isla" in kept


def test_gaps_from_before_stay_as_they_were_written(api, depot, explained):
    with connection.cursor() as cursor:
        cursor.execute(
            f"UPDATE {OilRecord._meta.db_table} SET gaps = %s WHERE id = %s", [json.dumps(["Seal not renewed, none at hand"]), explained.pk]
        )
    shown = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    assert next(r["gaps"] for r in shown if r["id"] == explained.pk) == ["Seal not renewed, none at hand"]


def test_a_whole_book_carries_the_codes_out_and_in(explained):
    row = next(r for r in rows_of(OilRecord) if r["id"] == explained.pk)
    back = row_back(OilRecord, json.loads(line_of(row)))
    assert any(isinstance(g, dict) and "say" in g for g in row["gaps"])
    OilRecord.objects.filter(pk=explained.pk).update(gaps=[])
    back.save()
    again = OilRecord.objects.get(pk=back.pk)
    assert any(isinstance(g, Message) for g in again.gaps)


def test_what_a_person_writes_is_never_taken_for_a_message(api, depot, people):
    service = begin(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820, 20)}, stop_before="wipe")
    shown = api.viewer.get(f"/api/services/{service}")["steps"]
    step = next(s["id"] for s in shown if s["purpose"] == "wipe")
    act(api.technician, service, step, kind="skip", reason="{job.__class__} {0}")
    gaps = api.viewer.get(f"/api/services/{service}")["gaps"]
    assert any("{job.__class__} {0}" in g for g in gaps)
