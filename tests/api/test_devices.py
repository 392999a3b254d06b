"""Devices: the simulated stand-ins follow their physics, fail as real ones do, and the Bay copes and says so."""

import datetime as dt
import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex import clock
from barodex.devices.models import DeviceChoice, DeviceLink
from barodex.devices.simulated import PAN_G, SimulatedFeed, SimulatedScale, SimulatedScanTool, SimulatedVehicle
from tests.api.test_kinds import automatic  # noqa: F401  (a fixture)
from tests.conftest import NOW

AT = dt.datetime(2026, 6, 15, 12, 0, tzinfo=dt.UTC)


def later(seconds):
    return AT + dt.timedelta(seconds=seconds)


def vehicle(**changes):
    return SimulatedVehicle(SimulatedVehicle.fresh(AT, 20.0, 12.0, ("wear counter",), 1.0, 3) | changes)


def test_the_oil_warms_by_newtons_law_and_cools_by_it():
    # T = T∞ − (T∞ − T₀)·e^(−t/τ): after one time constant 63.2 % of the way, any textbook of heat transfer.
    running = vehicle()
    running.turn(AT, True, None, None)
    assert running.oil_c(later(1100)) == pytest.approx(88 - (88 - 20) / math.e)
    running.turn(later(1100), False, None, None)
    here = running.oil_c(later(1100))
    assert running.oil_c(later(1100 + 3600)) == pytest.approx(12 + (here - 12) / math.e)


@given(st.floats(0, 5000), st.floats(1, 2000))
def test_a_running_engine_never_cools_the_oil(start, more):
    running = vehicle()
    running.turn(AT, True, None, None)
    assert running.oil_c(later(start)) <= running.oil_c(later(start + more)) <= 88


def test_the_battery_sinks_with_the_ignition_on_and_a_supply_holds_it():
    still = vehicle()
    still.turn(AT, None, True, None)
    assert still.battery_v(later(1800)) == pytest.approx(12.5 - 0.6)  # 1.2 V an hour
    still.turn(later(1800), None, None, True)
    assert still.battery_v(later(9000)) == 13.4


def live_second(tool, start=5):
    return next(later(k) for k in range(start, 600) if tool.read(later(k)).status == "live")


@pytest.mark.parametrize(
    ("turns", "words"),
    [
        ({"engine_on": True}, "engine runs"),
        ({}, "switch the ignition on"),
        ({"ignition_on": True, "low": True}, "connect a supply"),
        ({"ignition_on": True}, ""),
    ],
)
def test_a_reset_fails_with_what_stands_against_it(turns, words):
    tool = SimulatedScanTool(vehicle(**({"battery_v": 11.6} if turns.pop("low", False) else {})).state)
    tool.vehicle.turn(AT, turns.get("engine_on"), turns.get("ignition_on"), None)
    at = live_second(tool)
    tool.start_reset("wear counter", at)
    state = tool.resets(at)[0]
    if words:
        assert state.state == "failed"
        assert words in state.why
    else:
        assert state.state == "running"
        done = tool.resets(at + dt.timedelta(seconds=5))[0]
        assert (done.state, done.value) == ("done", "0")


def test_the_link_drops_out_and_comes_back():
    tool = SimulatedScanTool(vehicle().state)
    seen = [tool.read(later(k)).status for k in range(1200)]
    assert seen[0] == "connecting"
    assert seen.count("lost") > 10
    assert seen.count("live") > 900
    gone = next(k for k, s in enumerate(seen) if s == "lost")
    assert "live" in seen[gone:]


def test_a_faulty_sensor_is_dead_or_jumps():
    tool = SimulatedScanTool(vehicle().state, faulty=True)
    values = {tool.read(later(k)).temperature_c for k in range(0, 900, 10)}
    assert -60.0 in values
    assert any(v is not None and v > 60 for v in values)


def test_the_scale_settles_drifts_and_wants_its_tare():
    scale = SimulatedScale(SimulatedScale.fresh(AT, 1600.0, 2))
    scale.put(AT, "empty pan")
    assert not scale.read(later(0.3)).steady
    rested = scale.read(later(20))
    assert rested.steady
    assert rested.mass_g == pytest.approx(PAN_G, abs=2)
    scale.tare(later(20))
    scale.put(later(20), "full pan")
    assert scale.read(later(40)).mass_g == pytest.approx(1600, abs=2)
    scale.put(later(40), "nothing")
    assert scale.read(later(60)).mass_g < -800
    assert scale.read(later(3700)).mass_g > scale.read(later(100)).mass_g  # it drifts


def test_the_feed_runs_on_from_the_last_reading_and_a_faulty_one_backwards():
    day = AT.date()
    good = next(r for k in range(100) if (r := SimulatedFeed(50_000, day - dt.timedelta(days=10), 40, 1).read(later(k))).status == "live")
    assert 50_000 + 10 * 40 * 0.8 <= good.value <= 50_000 + 10 * 40 * 1.2
    bad = next(r for k in range(300) if (r := SimulatedFeed(50_000, day, 40, 1, faulty=True).read(later(k))).status == "live")
    assert bad.value < 50_000


def choose(api, kind, adaptor="simulated", speed=1.0, faulty=False):
    return api.lead.call("patch", "/api/devices", {"kind": kind, "adaptor": adaptor, "speed": speed, "faulty": faulty})


def test_without_a_device_the_values_are_typed(api, automatic):  # noqa: F811
    assert [d["adaptor"] for d in api.viewer.get("/api/devices")] == ["none"] * 4
    path = f"/api/services/{automatic.service}/scan"
    assert api.viewer.get(path)["connected"] is False
    assert "Type the values instead" in api.technician.post(path, expect=409)["detail"]
    assert "Connect the scan tool first" in api.technician.call("patch", path, {"engine_on": True}, 409)["detail"]
    assert "settings, devices" in api.viewer.get(f"/api/vehicles/{automatic.vehicle.pk}/meter-feed")["text"]
    assert api.technician.call("patch", "/api/devices", {"kind": "scale", "adaptor": "simulated"}, 403)
    assert (
        api.lead.call("patch", "/api/devices", {"kind": "scan tool", "adaptor": "simulated", "speed": 400}, 422)["errors"][0]["field"]
        == "speed"
    )


def test_live_temperature_is_sampled_fitted_and_told(api, automatic):  # noqa: F811
    choose(api, "scan tool")
    path = f"/api/services/{automatic.service}/scan"
    query = f"{path}?compartment={automatic.automatic.pk}"
    assert api.technician.post(query)["status"] == "connecting"
    with clock.at(NOW + dt.timedelta(seconds=3)):
        api.technician.call("patch", path, {"engine_on": True})
    views = []
    for k in range(6, 300, 3):
        with clock.at(NOW + dt.timedelta(seconds=k)):
            views.append(api.viewer.get(query))
    last = next(v for v in reversed(views) if v["status"] == "live")
    assert last["reading"]["engine_on"] is True
    assert last["warmup"]["reaches"] is True
    assert last["warmup"]["opens_in_s"] > 0
    # From 23 °C towards 88 with τ 1 100 s: 40 °C after 1100·ln(65/48) = 333 s of running, by hand.
    assert last["warmup"]["opens_in_s"] == pytest.approx(333 - (297 - 3), abs=60)
    samples = DeviceLink.objects.get().samples
    assert all(b[0] - a[0] >= 5 for a, b in itertools.pairwise(samples))
    assert all("timer runs on" in v["text"] for v in views if v["status"] == "lost")


def test_a_jump_of_a_sensor_is_doubted_and_not_used(api, automatic):  # noqa: F811
    choose(api, "scan tool", faulty=True)
    path = f"/api/services/{automatic.service}/scan?compartment={automatic.automatic.pk}"
    api.technician.post(path)
    doubts = []
    for k in range(3, 400, 4):
        with clock.at(NOW + dt.timedelta(seconds=k)):
            doubts.append(api.viewer.get(path)["doubt"])
    assert any("not used" in d for d in doubts)
    assert all(0 < c < 60 for _, c in DeviceLink.objects.get().samples)


def test_a_reset_over_http_and_a_closed_service(api, depot, people):
    from barodex.bay.models import Service
    from barodex.shelf.models import SheetRevision

    SheetRevision.objects.filter(sheet=depot.box).update(resets=["wear counter"])
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    service = api.technician.post("/api/services", body, expect=201)["id"]
    choose(api, "scan tool")
    path = f"/api/services/{service}/scan"
    api.technician.post(path)
    for k in range(3, 200):
        with clock.at(NOW + dt.timedelta(seconds=k)):
            if api.viewer.get(path)["status"] == "live":
                break
    with clock.at(NOW + dt.timedelta(seconds=k)):
        failed = api.technician.post(f"{path}/reset", {"name": "wear counter"})
        assert failed["resets"][0]["state"] == "failed"
        api.technician.call("patch", path, {"ignition_on": True, "supply": True})
        assert api.technician.post(f"{path}/reset", {"name": "wear counter"})["resets"][0]["state"] == "running"
        assert "keeps no" in api.technician.post(f"{path}/reset", {"name": "coffee"}, expect=422)["detail"]
    with clock.at(NOW + dt.timedelta(seconds=k + 6)):
        assert api.viewer.get(path)["resets"][0]["state"] == "done"
    Service.objects.filter(pk=service).update(state="dropped")
    assert "closed" in api.technician.call("patch", path, {"engine_on": True}, 409)["detail"]


def test_a_scale_that_is_below_zero_or_swings_is_not_used(api, automatic):  # noqa: F811
    choose(api, "scale")
    path = f"/api/services/{automatic.service}/scale"
    assert "Connect" not in api.technician.post(path)["text"]

    def at(seconds, put=""):
        with clock.at(NOW + dt.timedelta(seconds=seconds)):
            return api.technician.call("patch", path, {"put": put}) if put else api.viewer.get(path)

    start = next(s for s in range(0, 900, 75) if all(at(s + k)["reading"]["status"] == "live" for k in range(0, 75, 5)))
    at(start, "empty pan")
    with clock.at(NOW + dt.timedelta(seconds=start)):
        assert "It swings" in api.technician.call("patch", path, {"put": "tare"}, 409)["detail"]
    assert "tare it first" in at(start + 10)["text"]
    at(start + 10, "tare")
    at(start + 11, "full pan")
    assert at(start + 11)["usable_g"] is None
    assert at(start + 30)["usable_g"] == pytest.approx(4000 * 0.85 * 0.96, abs=3)  # the red oil weighs 850 g a litre
    at(start + 30, "nothing")
    gone = at(start + 45)
    assert gone["usable_g"] is None
    assert "Below zero" in gone["text"]


def test_the_meter_feed_delivers_and_stores_nothing(api, depot):
    choose(api, "meter feed")
    for k in range(40):
        with clock.at(NOW + dt.timedelta(seconds=k)):
            view = api.viewer.get(f"/api/vehicles/{depot.vehicle.pk}/meter-feed")
        if view["reading"]["status"] == "live":
            break
    assert view["reading"]["value"] > 71_700
    assert view["simulated"]
    assert depot.vehicle.readings.count() == 3
    assert DeviceChoice.objects.count() == 1
