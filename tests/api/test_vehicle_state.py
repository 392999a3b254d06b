"""A vehicle as a whole: nothing moves, runs or opens that another open job or a stop forbids; what mends it stays allowed."""

import datetime as dt
import threading
import uuid

import pytest
from django.db import connection

from barodex import clock
from barodex.bay.actions import post_act
from barodex.bay.actions.reading_acts import NewAct
from barodex.bay.models import ServiceAct
from barodex.book.models import ConsequenceRow
from barodex.core.quantity.errors import CoreError
from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Compartment
from tests.api.test_kinds import AUTOMATIC
from tests.conftest import NOW, new_act

pytestmark = pytest.mark.django_db
CHIP = {
    "magnet": "film",
    "particles": [{"form": "chip", "metal": "steel", "count": 1, "size_mm": 3}],
    "colour": "brown",
    "clarity": "clear",
    "smell": "none",
}


def start(api, depot, compartment, oil, **more):
    job = {"compartment_id": compartment.pk, "lubricant_id": oil.pk, "slip": "no"}
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [job], "at_hand": ["Heavy", "Red"], **more}
    return api.technician.post("/api/services", body, expect=201)["id"]


def act(client, service, step, expect=200, kind="done", **values):
    return client.post(f"/api/services/{service}/acts", new_act(kind, step, **values), expect=expect)


def step_of(api, service, step):
    return next(s for s in api.viewer.get(f"/api/services/{service}")["steps"] if s["id"] == step)


@pytest.fixture
def automatic(api, depot):
    from barodex.shelf.models import Lubricant

    sheet = api.lead.post("/api/sheets", AUTOMATIC | {"exchange_cycles": 3}, expect=201)["id"]
    depot.automatic = Compartment.objects.create(vehicle=depot.vehicle, sheet_id=sheet, name="Automatic", slot="transaxle")
    depot.red = Lubricant.objects.create(name="Red", family="atf", density15=850)
    return depot


def test_a_vehicle_with_another_axle_drained_is_not_driven(api, depot, people):
    rear = start(api, depot, depot.rear, depot.heavy)
    walk(people["technician"], rear, {"Rear axle": Outcome(1400)}, stop_before="shut")
    gearbox = start(api, depot, depot.gearbox, depot.light)
    says = api.viewer.get(f"/api/services/start/{depot.vehicle.pk}")["vehicle_says"]
    assert says == ["Rear axle is without its oil or open: not driven, and no engine, until it is filled and closed."]
    act(api.technician, gearbox, "ready", ticked=step_of(api, gearbox, "ready")["checklist"])
    refused = act(api.technician, gearbox, "warm", 409)
    assert "Not driven while Rear axle is without its oil" in refused["detail"]
    assert act(api.technician, gearbox, "warm", 409, kind="timer_start")["type"].endswith("gate-closed")
    assert "Rear axle" in step_of(api, gearbox, "warm")["forbidden"]
    walk(people["technician"], rear, {})
    assert step_of(api, gearbox, "warm")["forbidden"] == ""
    act(api.technician, gearbox, "warm", kind="timer_start")


def test_a_stop_forbids_every_step_that_moves_the_vehicle_and_nothing_that_mends_it(api, depot, people):
    rear = start(api, depot, depot.rear, depot.heavy)
    gearbox = start(api, depot, depot.gearbox, depot.light)
    walk(people["technician"], rear, {"Rear axle": Outcome(1400, finding=CHIP)}, stop_before="shut")
    assert any("Must not be driven. Rear axle" in s for s in api.viewer.get(f"/api/services/{gearbox}")["vehicle_says"])
    act(api.technician, gearbox, "ready", ticked=step_of(api, gearbox, "ready")["checklist"])
    refused = act(api.technician, gearbox, "warm", 409)  # the verdict holds at once, not only once it is signed
    assert "must not be driven" in refused["detail"]
    walk(people["technician"], rear, {})  # closed, filled, signed: the stop stands on record
    assert ConsequenceRow.objects.get(kind="stop").done_at is None
    assert "must not be driven" in act(api.lead, gearbox, "warm", 409)["detail"]
    act(api.technician, gearbox, "warm", kind="skip")
    walk(people["technician"], gearbox, {"Gearbox": Outcome(1820)}, stop_before="drive")  # opened, drained, closed: all allowed
    assert "must not be driven" in act(api.technician, gearbox, "drive", 409)["detail"]
    stop = ConsequenceRow.objects.get(kind="stop")
    api.lead.post(f"/api/consequences/{stop.pk}", {"outcome": "bearing renewed, test run"})
    act(api.technician, gearbox, "drive")


def test_the_engine_runs_against_a_stop_only_by_the_lead_with_a_reason(api, automatic, people):
    rear = start(api, automatic, automatic.rear, automatic.heavy)
    walk(people["technician"], rear, {"Rear axle": Outcome(1400, finding=CHIP)})
    service = start(api, automatic, automatic.automatic, automatic.red)
    running = f"running.{automatic.automatic.pk}.1"
    walk(people["technician"], service, {"Automatic": Outcome(4000)}, stop_before="running")
    ticked = step_of(api, service, running)["checklist"]
    refused = act(api.technician, service, running, 409, ticked=ticked, reason="it is on stands")
    assert refused["type"].endswith("needs-reason")
    assert "The lead alone" in refused["detail"]
    assert act(api.lead, service, running, 409, ticked=ticked)["type"].endswith("needs-reason")
    act(api.lead, service, running, ticked=ticked, reason="on stands, shaft to the rear axle is out")


def test_no_engine_over_another_open_compartment_and_no_drain_under_a_running_engine(api, automatic, people):
    rear = start(api, automatic, automatic.rear, automatic.heavy)
    service = start(api, automatic, automatic.automatic, automatic.red)
    box = automatic.automatic.pk
    walk(people["technician"], service, {"Automatic": Outcome(4000)}, stop_before="running")
    walk(people["technician"], rear, {"Rear axle": Outcome(1400)}, stop_before="shut")
    running = f"running.{box}.1"
    ticked = step_of(api, service, running)["checklist"]
    assert "No engine while Rear axle" in act(api.technician, service, running, 409, ticked=ticked)["detail"]
    walk(people["technician"], rear, {})
    act(api.technician, service, running, ticked=ticked)
    gearbox = start(api, automatic, automatic.gearbox, automatic.light)
    walk(people["technician"], gearbox, {"Gearbox": Outcome(1820)}, stop_before="drain")
    drain = f"drain.{automatic.gearbox.pk}"
    refused = act(api.technician, gearbox, drain, 409)
    assert refused["type"].endswith("needs-reason")
    assert "no drain is opened with it running" in refused["detail"]
    act(api.technician, gearbox, drain, reason="the engine is off, the sweep was broken off")


def test_before_each_drain_of_an_exchange_the_engine_is_off_and_the_selector_in_p(api, automatic, people):
    service = start(api, automatic, automatic.automatic, automatic.red)
    box = automatic.automatic.pk
    steps = [s["id"] for s in api.viewer.get(f"/api/services/{service}")["steps"]]
    for tag in (".1", ".2", ""):
        assert steps.index(f"off.{box}{tag}") < steps.index(f"drain.{box}{tag}")
    walk(people["technician"], service, {"Automatic": Outcome(4000)}, stop_before="off")
    assert act(api.technician, service, f"drain.{box}.1", 409)["type"].endswith("gate-closed")
    assert "Selector in P, parking brake set" in step_of(api, service, f"off.{box}.1")["checklist"]


def test_a_reset_is_done_when_the_tool_says_so(api, depot, people):
    from barodex.shelf.models import SheetRevision

    SheetRevision.objects.filter(sheet=depot.box).update(resets=["wear counter"])
    service = start(api, depot, depot.gearbox, depot.light)
    api.lead.call("patch", "/api/devices", {"kind": "scan tool", "adaptor": "simulated"})
    walk(people["technician"], service, {"Gearbox": Outcome(1820)}, stop_before="reset")
    step, path = f"reset.{depot.gearbox.pk}", f"/api/services/{service}/scan"
    ticked = step_of(api, service, step)["checklist"]
    api.technician.post(path)

    def at(seconds):
        return clock.at(NOW + dt.timedelta(seconds=seconds))

    live = next(s for s in range(3, 300) if _live(api, path, at(s)))
    with at(live):
        assert "was not reset by the tool yet" in act(api.technician, service, step, 409, ticked=ticked)["detail"]
        api.technician.post(f"{path}/reset", {"name": "wear counter"})
        assert "switch the ignition on" in act(api.technician, service, step, 409, ticked=ticked)["detail"]
        failed = step_of(api, service, step)["resets"]
        assert [(r["name"], r["outcome"]) for r in failed] == [("wear counter", "failed")]
        assert "switch the ignition on" in failed[0]["why"]
        api.technician.call("patch", path, {"ignition_on": True, "supply": True})
        api.technician.post(f"{path}/reset", {"name": "wear counter"})
    with at(live + 1):
        assert "is still resetting" in act(api.technician, service, step, 409, ticked=ticked)["detail"]
    with at(live + 6):
        for _ in range(3):  # asked by several pages, it is one act
            api.viewer.get(path)
        acts = ServiceAct.objects.filter(service_id=service, kind="reset")
        assert [(a.values["outcome"], a.by, a.step) for a in acts] == [
            ("failed", people["technician"], step),
            ("done", people["technician"], step),
        ]
        assert step_of(api, service, step)["resets"] == [{"name": "wear counter", "outcome": "done", "why": ""}]
        act(api.technician, service, step)  # the tool's success shows that supply and ignition were on: nothing is left to tick


def test_what_a_tool_says_cannot_be_said_by_a_page(api, depot):
    service = start(api, depot, depot.gearbox, depot.light)
    said = {"name": "wear counter", "outcome": "done"}
    refused = api.technician.post(f"/api/services/{service}/acts", new_act("reset", "ready", **said), expect=422)
    assert "kind" in str(refused)


def _live(api, path, moment):
    with moment:
        return api.viewer.get(path)["status"] == "live"


@pytest.mark.apart
@pytest.mark.django_db(transaction=True)
def test_two_technicians_at_one_moment_never_both_drive_and_drain(api, depot, people):
    """Each is allowed alone. Asked at once over two connections, one of the two waits for the other, and is refused."""
    rear = start(api, depot, depot.rear, depot.heavy)
    gearbox = start(api, depot, depot.gearbox, depot.light)
    walk(people["technician"], rear, {"Rear axle": Outcome(1400)}, stop_before="drain")
    act(api.technician, gearbox, "ready", ticked=step_of(api, gearbox, "ready")["checklist"])
    drain = next(s for s in api.viewer.get(f"/api/services/{rear}")["steps"] if s["purpose"] == "drain")
    ready, said = threading.Barrier(2), {}

    def does(name, service, kind, step, values):
        with clock.at(NOW):
            ready.wait()
            try:
                post_act(people["technician"], service, NewAct(uuid.uuid4(), kind, step, values))
                said[name] = "done"
            except CoreError as refused:
                said[name] = str(refused)
        connection.close()

    both = [
        threading.Thread(target=does, args=("drive", gearbox, "timer_start", "warm", {})),
        threading.Thread(target=does, args=("drain", rear, "done", drain["id"], {"ticked": drain["checklist"]})),
    ]
    for t in both:
        t.start()
    for t in both:
        t.join()
    assert sorted(v == "done" for v in said.values()) == [False, True], said
    assert ServiceAct.objects.filter(kind="timer_start").exists() != ServiceAct.objects.filter(step=drain["id"], kind="done").exists()
