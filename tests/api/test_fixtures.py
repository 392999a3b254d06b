"""The JSON that the front-end tests read is what the API really answers: one fixture set for two languages."""

import json
import os
from pathlib import Path

import pytest

from barodex.demo.walk import Outcome, walk

FOLDER = Path(__file__).resolve().parents[1] / "fixtures"


@pytest.mark.parametrize("name", ["session", "due", "history"])
def test_the_fixture_is_what_the_api_answers(api, depot, people, name):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72 000",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1640, 38)})
    path = {"session": "/api/session", "due": "/api/due", "history": f"/api/book/{depot.gearbox.pk}"}[name]
    answer = api.viewer.get(path)
    if name == "session":
        answer["csrf"] = "key"
    file = FOLDER / f"{name}.json"
    if os.environ.get("WRITE_FIXTURES"):
        file.parent.mkdir(exist_ok=True)
        file.write_text(json.dumps(answer, indent=1, ensure_ascii=False) + "\n")
    assert json.loads(file.read_text()) == answer, "run make fixtures and look at what changed"
