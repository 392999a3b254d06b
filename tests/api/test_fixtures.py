"""The JSON that the front-end tests read is what the API really answers: one fixture set for two languages."""

import json
import os
import re
from pathlib import Path

import pytest

from barodex.demo.walk import Outcome, walk

FOLDER = Path(__file__).resolve().parents[1] / "fixtures"
UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}")


def settled(answer):
    """The answer with what is random in it, the ids of acts and the session's key, named in order."""
    names: dict[str, str] = {}
    text = UUID.sub(lambda m: names.setdefault(m.group(), f"act-{len(names) + 1}"), json.dumps(answer))
    plain = json.loads(text)
    if isinstance(plain, dict) and "csrf" in plain:
        plain["csrf"] = "key"
    return plain


@pytest.fixture
def answers(api, depot, people):
    """The depot at three moments: a service about to measure, about to pour, and signed."""
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72 000",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    found = {"start": api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    outcomes = {"Gearbox": Outcome(1640, 38)}
    walk(people["technician"], service, outcomes, stop_before="measure")
    found["service-measure"] = api.viewer.get(f"/api/services/{service}")
    walk(people["technician"], service, outcomes, stop_before="pour")
    found["service-pour"] = api.viewer.get(f"/api/services/{service}")
    found["pour"] = api.viewer.get(f"/api/services/{service}/pour/{depot.gearbox.pk}")
    found["open"] = api.viewer.get("/api/services")
    walk(people["technician"], service, outcomes)
    found["service-signed"] = api.viewer.get(f"/api/services/{service}")
    for name, path in (
        ("session", "session"),
        ("due", "due"),
        ("history", f"book/{depot.gearbox.pk}"),
        ("book", "book"),
        ("sheets", "sheets"),
        ("lubricants", "lubricants"),
        ("readings", f"vehicles/{depot.vehicle.pk}/readings"),
        ("words", "words"),
    ):
        found[name] = (api.lead if name == "session" else api.viewer).get(f"/api/{path}")
    return {name: settled(answer) for name, answer in found.items()}


def test_the_fixtures_are_what_the_api_answers(answers):
    if os.environ.get("WRITE_FIXTURES"):
        FOLDER.mkdir(exist_ok=True)
        for name, answer in answers.items():
            (FOLDER / f"{name}.json").write_text(json.dumps(answer, indent=1, ensure_ascii=False) + "\n")
    kept = {file.stem: json.loads(file.read_text()) for file in FOLDER.glob("*.json")}
    assert kept == answers, "run make fixtures and look at what changed"
