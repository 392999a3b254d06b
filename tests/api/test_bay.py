"""A service over the API: started, guided, refused where it must be, signed in one transaction."""

import datetime as dt
import threading
import uuid

import pytest
from django.db import connection

from barodex import clock
from barodex.bay.models import Service, ServiceAct, ServiceJob
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.core.quantity.errors import GateClosed
from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Reading
from barodex.shelf.models import Container, StockMovement
from tests.conftest import NOW, TODAY, new_act


@pytest.fixture
def service(api, depot):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72 000 km",
        "ambient_c": "12",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    return api.technician.post("/api/services", body, expect=201)["id"]


def step_of(view, prefix):
    return next(s for s in view["steps"] if s["id"].startswith(prefix))


def start(api, depot, expect, **job):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, **job}],
        "at_hand": ["Heavy"],
    }
    return api.technician.post("/api/services", body, expect=expect)


def test_the_start_page_says_what_to_fetch(api, depot):
    start_view = api.technician.get(f"/api/services/start/{depot.vehicle.pk}")
    gearbox, rear = start_view["jobs"]
    assert [(o["name"], o["verdict"]) for o in gearbox["offers"]] == [("Light", "meets"), ("Heavy", "reject")]
    assert gearbox["offers"][0]["on_hand_ml"] == 2640
    assert rear["offers"][0]["buy"] == [{"size_ml": 1000, "count": 2}]  # 1 500 mL: two litres at 8 are cheaper than 5 L at 30
    assert rear["offers"][0]["buy_cost"] == 16


def test_an_oil_that_would_harm_needs_a_reason_and_stands_in_the_record(api, depot, people):
    problem = start(api, depot, 409, lubricant_id=depot.heavy.pk)
    assert problem["type"] == "/problems/needs-reason"
    assert "brass" in problem["detail"]
    made = start(api, depot, 201, lubricant_id=depot.heavy.pk, override="nothing else on the island")
    walk(people["technician"], made["id"], {})
    record = OilRecord.objects.get(service=made["id"])
    assert any("nothing else on the island" in gap for gap in record.gaps)


def test_a_second_service_on_the_same_compartment_is_refused(api, depot, service):
    assert "in service already" in start(api, depot, 409)["detail"]
    assert Service.objects.count() == 1


def test_a_start_is_refused_whole(api, depot):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "60 000 km",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    problem = api.technician.post("/api/services", body, expect=422)
    assert "lower than" in problem["detail"]
    assert "Choose at least one" in api.technician.post("/api/services", {**body, "meter_value": "", "jobs": []}, expect=422)["detail"]
    assert not Service.objects.exists()
    assert not ServiceJob.objects.exists()


def test_gates_over_http(api, service):
    view = api.technician.get(f"/api/services/{service}")
    drain = step_of(view, "drain.")
    problem = api.technician.post(f"/api/services/{service}/acts", new_act("done", drain["id"]), expect=409)
    assert problem["type"] == "/problems/gate-closed"
    assert "is locked" in problem["detail"]
    assert ServiceAct.objects.count() == 0


def test_the_same_act_twice_is_one_act(api, service):
    act = new_act("done", "ready", ticked=["Gearbox: Light"])
    first = api.technician.post(f"/api/services/{service}/acts", act)
    again = api.technician.post(f"/api/services/{service}/acts", act)
    assert ServiceAct.objects.count() == 1
    assert first["seq"] == again["seq"] == 1


def test_amounts_are_read_in_the_persons_units_and_a_problem_names_the_field(api, people, service):
    walk(people["technician"], service, {}, stop_before="measure")
    measure = step_of(api.technician.get(f"/api/services/{service}"), "measure.")["id"]
    path = f"/api/services/{service}/acts"
    problem = api.technician.post(path, new_act("done", measure, pan_ml="1.9 qt"), expect=422)
    assert (problem["type"], problem["errors"][0]["field"]) == ("/problems/ambiguous", "pan_ml")
    view = api.technician.post(path, new_act("done", measure, pan_ml="1.9 US qt", temperature_c="104 °F"))
    ledger = view["ledgers"][0]
    assert ledger["drained_ml"] == pytest.approx(1.9 * 3785.411784 / 4)
    assert ledger["drained_c"] == pytest.approx(40)
    assert ledger["loss"]["band"] in ("tight", "weep")


def test_a_trial_answers_and_stores_nothing(api, people, service):
    walk(people["technician"], service, {}, stop_before="look")
    before = ServiceAct.objects.count()
    look = step_of(api.technician.get(f"/api/services/{service}"), "look.")["id"]
    finding = {
        "magnet": "cap",
        "particles": [{"form": "glitter", "metal": "yellow", "count": 4, "size_mm": 0.2}],
        "colour": "brown",
        "clarity": "clear",
        "smell": "none",
    }
    answer = api.technician.post(f"/api/services/{service}/trial", {"step": look, "values": {"finding": finding}})
    assert answer["assessment"]["level"] == 2
    assert "brass" in answer["assessment"]["reasons"][0]["text"]
    assert ServiceAct.objects.count() == before


def test_more_out_than_the_sheet_is_asked_about_then_taken_with_a_reason(api, people, service):
    walk(people["technician"], service, {}, stop_before="measure")
    measure = step_of(api.technician.get(f"/api/services/{service}"), "measure.")["id"]
    path = f"/api/services/{service}/acts"
    assert api.technician.post(path, new_act("done", measure, pan_ml="2.4 L"), expect=409)["type"] == "/problems/needs-reason"
    view = api.technician.post(path, new_act("done", measure, pan_ml="2.4 L", reason="overfilled by the last owner"))
    assert "overfilled" in view["gaps"][0]


@pytest.mark.parametrize(
    "finding",
    [
        {"magnet": "hairy"},
        {"particles": [{"form": "chip", "size_mm": -2}]},
        {"particles": [{"form": "chip", "size_mm": 2000}]},
        {"particles": "many"},
        {},
    ],
)
def test_a_finding_that_is_none_is_refused(api, people, service, finding):
    walk(people["technician"], service, {}, stop_before="look")
    look = step_of(api.technician.get(f"/api/services/{service}"), "look.")["id"]
    response = api.technician.client.post(
        f"/api/services/{service}/acts", new_act("done", look, finding=finding), content_type="application/json"
    )
    assert response.status_code in (409, 422)


def test_the_pour_plan_names_bottles_and_marks(api, people, service):
    walk(people["technician"], service, {}, stop_before="pour")
    view = api.technician.get(f"/api/services/{service}")
    compartment = view["ledgers"][0]["compartment"]
    plan = api.technician.get(f"/api/services/{service}/pour/{compartment}")
    texts = [a["text"].replace("\N{NO-BREAK SPACE}", " ") for a in plan["plan"]["actions"]]
    assert texts == [
        "Light 0 empty (640 mL)",
        "Light 1 empty (1 000 mL)",
        "Light 2 down to the 790 mL mark",
    ]  # 1 850 − 640 − 1 000 = 210 from a full litre


def test_the_wrong_container_and_an_empty_one_are_refused(api, depot, people, service):
    from barodex.shelf.actions import stock_container

    heavy = stock_container(people["technician"], depot.heavy.pk, 1000, 1000, "Heavy 1")
    walk(people["technician"], service, {}, stop_before="pour")
    pour = step_of(api.technician.get(f"/api/services/{service}"), "pour.")["id"]
    path = f"/api/services/{service}/acts"
    assert "wrong container" in api.technician.post(path, new_act("add", pour, volume_ml=500, container=heavy.pk), expect=409)["detail"]
    assert (
        "holds only 640"
        in api.technician.post(path, new_act("add", pour, volume_ml=900, container=depot.bottles[0].pk), expect=422)["detail"]
    )
    assert "allowed is" in api.technician.post(path, new_act("add", pour, volume_ml=0), expect=422)["detail"]


def test_signing_writes_everything_at_once(api, depot, people, service):
    view = walk(people["technician"], service, {"Gearbox": Outcome(1800, 38)})
    assert view.state == "signed"
    record = OilRecord.objects.get(service=service)
    assert (record.on, record.meter_value, record.level) == (TODAY, 72_000, 1)
    assert [(e.kind, e.volume_ml, e.container and e.container.label) for e in record.entries.order_by("place")] == [
        ("drained", 1800, None),
        ("oil", 640, "Light 0"),
        ("oil", 1000, "Light 1"),
        ("oil", 210, "Light 2"),
    ]
    shown = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][-1]
    assert (shown["poured_ml"], shown["used_ml"], shown["loss_band"]) == (1850, 1800, "tight")
    assert [(t["plug"], t["torque_nm"]) for t in record.torques] == [("drain plug", 43.0), ("fill plug", 37.0)]
    assert Reading.objects.get(vehicle=depot.vehicle, value=72_000).source == "service"
    left = {c.label: c.content_ml for c in Container.objects.filter(lubricant=depot.light)}
    assert left == {"Light 0": 0, "Light 1": 0, "Light 2": 790}
    assert sum(m.change_ml for m in StockMovement.objects.filter(container=depot.bottles[2])) == 790
    due = api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"][0]
    assert (due["state"], due["used"], due["last_on"]) == ("fine", 0.0, TODAY.isoformat())


def test_a_signature_that_fails_writes_nothing(api, depot, people, service, monkeypatch):
    from barodex.bay.actions import signing

    walk(people["technician"], service, {}, stop_before="sign")
    monkeypatch.setattr(signing, "write_record", lambda *a, **k: (_ for _ in ()).throw(GateClosed("the disk is full")))
    assert "disk is full" in api.technician.post(f"/api/services/{service}/acts", new_act("done", "sign"), expect=409)["detail"]
    assert Service.objects.get(pk=service).state == "open"
    assert not OilRecord.objects.filter(service=service).exists()
    assert Container.objects.get(pk=depot.bottles[0].pk).content_ml == 640
    assert not ServiceAct.objects.filter(step="sign").exists()


def test_after_the_signature_an_act_is_refused(api, people, service):
    walk(people["technician"], service, {})
    problem = api.technician.post(f"/api/services/{service}/acts", new_act("done", "sign"), expect=409)
    assert "correction goes into the Book" in problem["detail"]


def test_a_stop_verdict_stops_the_vehicle_until_the_lead_clears_it(api, depot, people, service):
    broken = {
        "magnet": "overflowing",
        "particles": [{"form": "part", "metal": "steel", "count": 1, "size_mm": 6}],
        "colour": "black",
        "clarity": "clear",
        "smell": "none",
    }
    walk(people["technician"], service, {"Gearbox": Outcome(1800, 38, broken)})
    board = api.viewer.get("/api/due")
    assert board["vehicles"][0]["state"] == "stop"
    owner = f"/api/book/vehicles/{depot.vehicle.pk}/verdict"
    assert "must not be driven" in str(api.viewer.get(owner))
    follow_up = ConsequenceRow.objects.get(kind="stop")
    body = {"outcome": "gearbox rebuilt, clean at 50 km"}
    api.technician.post(f"/api/consequences/{follow_up.pk}", body, expect=403)
    api.lead.post(f"/api/consequences/{follow_up.pk}", body)
    assert api.viewer.get("/api/due")["vehicles"][0]["state"] != "stop"
    for cleared in (owner, f"/api/book/{depot.gearbox.pk}", f"/api/due/{depot.vehicle.pk}", f"/api/services/start/{depot.vehicle.pk}"):
        said = str(api.viewer.get(cleared)).lower()
        assert "be driven" not in said, cleared
        assert "not drive" not in said, cleared
    assert "already" in api.lead.post(f"/api/consequences/{follow_up.pk}", body, expect=422)["detail"]


def test_timers_run_by_the_servers_clock(api, people, service):
    walk(people["technician"], service, {}, stop_before="measure")  # the drain has started it
    with clock.at(NOW + dt.timedelta(minutes=7)):
        (tray,) = api.viewer.get("/api/services")
    assert dt.datetime.fromisoformat(tray["now"]) - dt.datetime.fromisoformat(tray["timer_started"]) == dt.timedelta(minutes=7)
    assert tray["timer_title"].endswith("let it drip, measure what came out")


def test_a_service_is_given_up_only_before_the_drain(api, people, service):
    path = f"/api/services/{service}"
    assert "Say why" in api.technician.call("delete", path, {"reason": "x"}, expect=422)["detail"]
    walk(people["technician"], service, {}, stop_before="measure")
    assert "must not be forgotten" in api.technician.call("delete", path, {"reason": "called away"}, expect=409)["detail"]


def test_a_service_given_up_frees_its_compartment(api, depot, service):
    api.technician.call("delete", f"/api/services/{service}", {"reason": "called away"})
    start(api, depot, 201)


def test_too_much_for_a_step_is_refused(api, service):
    problem = api.technician.post(f"/api/services/{service}/acts", new_act("note", "", text="x" * 9000), expect=422)
    assert "too much" in problem["detail"]
    assert (
        api.technician.post(f"/api/services/{service}/acts", {"act_id": "no", "kind": "done"}, expect=422)["errors"][0]["field"] == "act_id"
    )


NONSENSE = [None, "abc", -1, 1e300, [{}], {"a": [1]}, True, "x" * 500]


@pytest.mark.parametrize("step", ["ready", "measure", "look", "shut", "pour", "level", "wipe"])
def test_nonsense_at_a_step_is_refused_never_a_fault(api, people, service, step):
    view = walk(people["technician"], service, {}, stop_before=step)
    at = next(s for s in view.steps if s.id.startswith(step))
    kinds = {"container": "add", "act": "undo", "skipped": "skip"}
    for name in ("ticked", "finding", "container", "act", "skipped", *(f.name for f in at.fields)):
        for value in NONSENSE:
            values = (
                {"reason": value} if name == "skipped" else {"volume_ml": 5, "container": value} if name == "container" else {name: value}
            )
            body = {"kind": kinds.get(name, "done"), "step": at.id, "values": values}
            response = api.technician.client.post(f"/api/services/{service}/trial", body, content_type="application/json")
            assert response.status_code in (200, 409, 422), (body, response.content[:300])


def test_an_act_of_another_service_is_not_taken(api, depot, people, service):
    act = new_act("note", "", text="which one?")
    api.technician.post(f"/api/services/{service}/acts", act)
    body = {
        "vehicle_id": depot.vehicle.pk,
        "jobs": [{"compartment_id": depot.rear.pk, "lubricant_id": depot.heavy.pk}],
        "at_hand": ["Heavy"],
    }
    other = api.technician.post("/api/services", body, expect=201)["id"]
    assert "another service" in api.technician.post(f"/api/services/{other}/acts", act, expect=422)["detail"]


@pytest.mark.apart
@pytest.mark.django_db(transaction=True)
def test_many_devices_at_once_lose_nothing_and_count_nothing_twice(request):
    """Twelve threads post the same act and a note each: one act, twelve notes."""
    api, depot = request.getfixturevalue("api"), request.getfixturevalue("depot")
    service = start(api, depot, 201)["id"]
    act = new_act("done", "ready", ticked=["Gearbox: Light"])
    failures = []

    def device(k):
        try:
            with clock.at(NOW):
                api.technician.post(f"/api/services/{service}/acts", act)
                api.technician.post(f"/api/services/{service}/acts", new_act("note", "", text=f"note {k}"))
        except AssertionError as error:
            failures.append(str(error))
        finally:
            connection.close()

    threads = [threading.Thread(target=device, args=(k,)) for k in range(12)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert failures == []
    acts = list(ServiceAct.objects.filter(service=service).order_by("seq"))
    assert [e.seq for e in acts] == list(range(1, 14))
    assert sum(e.kind == "done" for e in acts) == 1
    assert {e.values["text"] for e in acts if e.kind == "note"} == {f"note {k}" for k in range(12)}
    assert uuid.UUID(act["act_id"]) in {e.act_id for e in acts}
