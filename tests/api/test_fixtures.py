"""The JSON that the front-end tests read is what the API really answers: one fixture set for two languages."""

import datetime as dt
import json
import os
import re
from pathlib import Path

import pytest

from barodex import clock
from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Compartment
from barodex.shelf.models import Lubricant
from tests.api.test_kinds import AUTOMATIC
from tests.conftest import NOW, new_act

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
        ("vehicle-details", f"vehicles/{depot.vehicle.pk}"),
        ("words", "words"),
        ("declared", "sheets/declared"),
    ):
        found[name] = (api.lead if name == "session" else api.viewer).get(f"/api/{path}")
    found |= bay_answers(api, depot, people)
    found |= shelf_answers(api, depot)
    return {name: settled(answer) for name, answer in found.items()}


def bay_answers(api, depot, people):
    """An axle topped up, an automatic in its second cycle, devices as they show themselves, bolts, a slope, waste."""
    body = {
        "vehicle_id": depot.vehicle.pk,
        "jobs": [{"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk, "work": {"kind": "top-up"}}],
    }
    topped = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], topped, {}, stop_before="pour")
    act = new_act("add", f"pour.{depot.rear.pk}", volume_ml="120 mL", elsewhere=True)
    found = {"service-topup": api.technician.post(f"/api/services/{topped}/acts", act)}
    sheet = api.lead.post("/api/sheets", AUTOMATIC | {"exchange_cycles": 3, "resets": ["wear counter"]}, expect=201)["id"]
    # The axle stands open there: no engine would run beside it.
    api.technician.call("delete", f"/api/services/{topped}", {"reason": "only shown"})
    box = Compartment.objects.create(vehicle=depot.vehicle, sheet_id=sheet, name="Automatic", slot="transaxle")
    oil = Lubricant.objects.create(name="Red", family="atf", density15=850)
    for kind in ("scan tool", "scale", "meter feed"):
        api.lead.call("patch", "/api/devices", {"kind": kind, "adaptor": "simulated"})
    found["start-exchange"] = api.technician.get(f"/api/services/start/{depot.vehicle.pk}")
    work = {"kind": "exchange", "target_fresh": 0.9, "cycles": 3, "attached": ["filter"]}
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": box.pk, "lubricant_id": oil.pk, "work": work}], "at_hand": ["Red"]}
    exchange = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], exchange, {"Automatic": Outcome(3800)}, stop_before=f"measure.{box.pk}.2")
    found["service-exchange"] = api.viewer.get(f"/api/services/{exchange}")
    path = f"/api/services/{exchange}"
    api.technician.post(f"{path}/scan")
    api.technician.post(f"{path}/scale")
    seconds = next(s for s in range(3, 600) if live(api, path, s))
    with clock.at(NOW + dt.timedelta(seconds=seconds)):
        found["scan"] = api.viewer.get(f"{path}/scan?compartment={box.pk}")
        found["scan-refused"] = api.technician.post(f"{path}/scan/reset", {"name": "wear counter"})
        found["scale"] = api.viewer.get(f"{path}/scale")
        found["meter-feed"] = api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}/meter-feed")
    found |= {
        "devices": api.viewer.get("/api/devices"),
        "waste": api.viewer.get("/api/book/waste"),
        "trend": api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend?ahead=9 000 km"),
        "verdict": api.viewer.get(f"/api/book/vehicles/{depot.vehicle.pk}/verdict"),
        "audit": api.viewer.get("/api/book/audit"),
        "horizon": api.viewer.get("/api/plan/horizon?days=366"),
        "life": api.viewer.get(f"/api/due/{depot.vehicle.pk}/life"),
        "use": api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}/use"),
        "schedule": api.viewer.get("/api/plan/schedule"),
        "morning": api.viewer.get("/api/plan/morning"),
        "gaps": api.viewer.get(f"/api/services/{exchange}/gaps"),
        "tried": api.viewer.get(f"/api/book/{depot.gearbox.pk}/tried"),
        "swatches": api.viewer.get("/api/swatches?family=gear"),
        "tints": api.viewer.get("/api/swatches?family=atf"),
        "bolts": api.viewer.post("/api/bench/bolts", {"count": 8, "layout": "circle", "torque_nm": "12 N·m"}),
        "slope": api.viewer.post("/api/bench/slope", {"lift_mm": "120 mm", "wheelbase_mm": "2.4 m", "capacity_ml": 1500}),
        "torque": api.viewer.post("/api/bench/torque", {"torque_nm": "100 N·m", "wrench_mm": "300 mm", "offset_mm": "75 mm"}),
        "schools": api.viewer.post("/api/bench/exchange", {"total_ml": 9500, "drained_ml": 4000, "target": 0.7}),
    }
    return found


def live(api, path, seconds):
    """Whether scan tool and scale both answer at a moment; the stand-ins drop out now and then."""
    with clock.at(NOW + dt.timedelta(seconds=seconds)):
        return api.viewer.get(f"{path}/scan")["status"] == "live" and api.viewer.get(f"{path}/scale")["reading"]["status"] == "live"


def shelf_answers(api, depot):
    """The shelf with several sources for a figure, a capacity that was superseded, a store, an additive."""
    api.technician.post(f"/api/sheets/{depot.box.pk}/claims", {"figure": "capacity", "text": "1.7 L", "source": "bulletin"}, expect=201)
    api.technician.post(f"/api/sheets/{depot.box.pk}/claims", {"figure": "capacity", "text": "2 L", "source": "forum"}, expect=201)
    for name, kind, count in (("crush washer for 12 mm drain plug", "seal", 0), ("torque wrench", "tool", 1)):
        api.technician.post("/api/store", {"name": name, "kind": kind, "count": count}, expect=201)
    api.lead.post("/api/additives", {"name": "Glide", "kind": "friction modifier", "max_share": 0.06}, expect=201)
    found = {"figures": api.viewer.get(f"/api/sheets/{depot.box.pk}/figures")}
    claim = found["figures"][0]["claims"][0]["id"]
    api.lead.post(f"/api/claims/{claim}/choose", {"reason": "newest bulletin"}, expect=201)
    oils = [depot.light.pk, depot.heavy.pk]
    found |= {
        "sheet-revised": api.viewer.get(f"/api/sheets/{depot.box.pk}"),
        "compare": api.viewer.get(f"/api/sheets/{depot.box.pk}/compare/1/2"),
        "superseded": api.viewer.get(f"/api/sheets/{depot.box.pk}/superseded"),
        "compartment-oils": api.viewer.post(f"/api/compartments/{depot.gearbox.pk}/oils", {"coldest_c": "-12 °C"}),
        "places": api.viewer.post(f"/api/lubricants/{depot.heavy.pk}/places", {}),
        "chart": api.viewer.post(
            "/api/lubricants/chart", {"oils": oils, "compartment": depot.gearbox.pk, "coldest_c": -10, "warmest_c": 30}
        ),
        "scales": api.viewer.get("/api/lubricants/scales"),
        "shopping": api.viewer.post("/api/shopping", {"compartments": [depot.gearbox.pk, depot.rear.pk], "pump_ml": "50 mL"}),
        "store": api.viewer.get("/api/store"),
        "additives": api.viewer.get("/api/additives"),
        "policy": api.viewer.get("/api/policy"),
        "movements": api.viewer.get(f"/api/containers/{depot.bottles[0].pk}"),
        "guide": api.viewer.get(f"/api/sheets/{depot.box.pk}/guide"),
        "sheet-file": api.viewer.get(f"/api/sheets/{depot.box.pk}/file"),
        "file-report": api.lead.post("/api/sheets/file", {"text": FOREIGN}),
    }
    return found


# A file in another language: field names that are not ours, an amount in pints, a torque that cannot be, no capacity.
FOREIGN = json.dumps(
    {"name": "Getriebe", "kind": "manual gearbox", "family": "gear", "fill_method": "to the lip", "drain_method": "plug", "menge": "2.3 L"}
    | {"rinse": "1 US pt", "plugs": [{"role": "drain", "label": "Ablass", "torque": -30, "weite": "12 mm"}]}
)


def test_the_fixtures_are_what_the_api_answers(answers):
    if os.environ.get("WRITE_FIXTURES"):
        FOLDER.mkdir(exist_ok=True)
        for name, answer in answers.items():
            (FOLDER / f"{name}.json").write_text(json.dumps(answer, indent=1, ensure_ascii=False) + "\n")
    kept = {file.stem: json.loads(file.read_text()) for file in FOLDER.glob("*.json")}
    assert kept == answers, "run make fixtures and look at what changed"
