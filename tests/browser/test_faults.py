"""The server is killed while technicians post: nothing that was acknowledged is lost, nothing is counted twice."""

import http.client
import http.cookiejar
import json
import os
import signal
import threading
import time
import urllib.error
import urllib.request
import uuid

import pytest

from .conftest import Server
from .walk import plain_values

pytestmark = pytest.mark.browser
KILLS = int(os.environ.get("KILLS", "8"))  # KILLS=100 for the long run
DROP_ML = 5


class Refused(Exception):
    """An answer that is not a success, with what it says."""


class Device:
    """A technician's device that sends an act until it is answered, always with the same id."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.key = self.call("GET", "/api/session")["csrf"]
        self.key = self.call("POST", "/api/session/demo", {"username": "fergus"})["csrf"]

    def call(self, method: str, path: str, body: object = None):
        headers = {"Content-Type": "application/json", "X-CSRFToken": getattr(self, "key", "")}
        request = urllib.request.Request(self.url + path, None if body is None else json.dumps(body).encode(), headers, method=method)
        try:
            with self.opener.open(request, timeout=60) as response:
                return json.loads(response.read())
        except urllib.error.HTTPError as refused:
            raise Refused(f"{refused.code} {refused.read().decode()[:400]}") from refused

    def until_answered(self, path: str, body: object) -> int:
        """Send it again while the server is away; gives how often it was sent."""
        for sent in range(1, 400):
            try:
                self.call("POST", path, body)
                return sent
            except (OSError, http.client.HTTPException):  # away, or cut off in the middle of its answer
                time.sleep(0.05)
        raise AssertionError("never answered")


def at_the_pour(device: Device) -> tuple[int, str]:
    """The open service of the demo, led to its pour."""
    service = device.call("GET", "/api/services")[0]["id"]
    state = device.call("GET", f"/api/services/{service}")
    for _ in range(60):
        step = next(s for s in state["steps"] if s["status"] == "open")
        if step["kind"] == "pour":
            return service, step["id"]
        values = plain_values(step)
        if step["kind"] == "measure":
            values |= {"pan_ml": "5.9 L", "temperature_c": "30"}
        free = step["skip"] == "free"
        body = {"act_id": str(uuid.uuid4()), "kind": "skip" if free else "done", "step": step["id"], "values": values}
        state = device.call("POST", f"/api/services/{service}/acts", body)
    raise AssertionError("the guide does not come to a pour")


def test_nothing_acknowledged_is_lost_and_nothing_counts_twice(tmp_path):
    server = Server(tmp_path)
    try:
        first = Device(server.url)
        service, pour = at_the_pour(first)
        path = f"/api/services/{service}/acts"
        acknowledged: list[str] = []
        poured: list[str] = []
        repeated: list[str] = []
        failures: list[Exception] = []
        over = threading.Event()

        def technician(k: int, device: Device) -> None:
            try:
                n = 0
                while not over.is_set():
                    text = f"{k}-{n}"
                    # Notes can be told apart afterwards; pours show in their sum when one is lost or counts twice.
                    act = ("note", "", {"text": text}) if n % 2 else ("add", pour, {"volume_ml": DROP_ML, "elsewhere": True})
                    sent = device.until_answered(path, {"act_id": str(uuid.uuid4()), "kind": act[0], "step": act[1], "values": act[2]})
                    (acknowledged if n % 2 else poured).append(text)
                    if sent > 1:
                        repeated.append(text)
                    n += 1
                    time.sleep(0.03)
            except Exception as error:
                failures.append(error)

        # All are signed in before the first kill: a sign-in is not sent again.
        threads = [threading.Thread(target=technician, args=(k, Device(server.url))) for k in range(3)]
        for t in threads:
            t.start()
        for _ in range(KILLS):
            time.sleep(0.5)
            # The master and its worker, at once, as when the plug is pulled.
            os.killpg(server.process.pid, signal.SIGKILL)
            server.process.wait(120)
            server.start()
        time.sleep(0.5)
        over.set()
        for t in threads:
            t.join(120)
        assert failures == []
        state = Device(server.url).call("GET", f"/api/services/{service}")
        kept = [n["text"] for n in state["notes"]]
        assert state["ledgers"][0]["poured_ml"] == DROP_ML * len(poured)
        print(f"{KILLS} kills: {len(acknowledged)} notes and {len(poured)} pours acknowledged, {len(repeated)} sent again")
        assert len(acknowledged) > KILLS
        assert repeated, "no act was cut off: the test proves nothing"
        assert set(acknowledged) <= set(kept)
        assert len(kept) == len(set(kept))
    finally:
        server.stop()


def test_a_service_in_us_units_from_the_pan_to_the_record(server):
    """What is typed in one system is read in it, shown in it, and stored canonically."""
    device = Device(server.url)
    device.call("PATCH", "/api/session", {"unit_system": "us"})
    try:
        vehicle = next(v for v in device.call("GET", "/api/due")["vehicles"] if v["name"] == "Warden 4x4")
        job = next(j for j in device.call("GET", f"/api/services/start/{vehicle['id']}")["jobs"] if j["name"] == "Front axle")
        body = {
            "vehicle_id": vehicle["id"],
            "meter_value": "40000 mi",
            "jobs": [{"compartment_id": job["compartment"], "lubricant_id": job["offers"][0]["lubricant"]}],
        }
        service = device.call("POST", "/api/services", body)["id"]
        view = device.call("GET", f"/api/services/{service}")
        assert view["meter_value"] == pytest.approx(40_000 * 1.609344, abs=0.01)  # NIST SP 811
        for _ in range(40):
            step = next(s for s in view["steps"] if s["id"] == view["current"])
            values: dict = {"ticked": [*step["checklist"], *(r["name"] for r in step["resets"])]}
            for f in step["fields"]:
                if f["kind"] == "choice":
                    values[f["name"]] = f["choices"][0]
                elif f["kind"] == "bool":
                    values[f["name"]] = True
                elif f["kind"] == "finding":
                    values[f["name"]] = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}
                elif f["name"] == "torque_nm":
                    values[f["name"]] = "36"  # a bare number is lbf·ft here: 48.8 N·m beside the sheet's 49
            if step["kind"] == "measure":
                values |= {"pan_ml": "1.5", "temperature_c": "95"}  # US quarts, °F
            if step["kind"] == "pour":
                add = {
                    "act_id": str(uuid.uuid4()),
                    "kind": "add",
                    "step": step["id"],
                    "values": {"volume_ml": "1.59 qt", "elsewhere": True},
                }
                device.call("POST", f"/api/services/{service}/acts", add)
            act = {"act_id": str(uuid.uuid4()), "kind": "skip" if step["kind"] == "timer" else "done", "step": step["id"], "values": values}
            view = device.call("POST", f"/api/services/{service}/acts", act)
            if view["state"] == "signed":
                break
        assert view["state"] == "signed"
        record = device.call("GET", f"/api/book/{job['compartment']}")["records"][-1]
        assert record["drained_ml"] == pytest.approx(1.5 * 946.352946)
        assert record["drained_c"] == pytest.approx(35)
        assert record["poured_ml"] == pytest.approx(1.59 * 946.352946)
        assert record["torques"][0]["torque_nm"] == pytest.approx(48.8, abs=0.05)
    finally:
        device.call("PATCH", "/api/session", {"unit_system": "metric"})
