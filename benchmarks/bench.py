"""The speed and size figures: one line a figure (name, median, limit, ok or over); ends non-zero when one is over.

Everything runs against a real server with the demo fleet on this machine. QUICK=1 leaves out the clean clone.
"""

from __future__ import annotations

import gzip
import http.cookiejar
import json
import os
import re
import shutil
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
import uuid
from pathlib import Path

import findings
import moving
import plan
import shelf
from playwright.sync_api import sync_playwright

ROOT = Path(__file__).resolve().parents[1]
OVER: list[str] = []


def report(name: str, value: float, limit: float, unit: str, extra: str = "") -> None:
    """Print a figure and remember when it is over."""
    state = "ok" if value <= limit else "over"
    if state == "over":
        OVER.append(name)
    print(f"{name:<58} {value:9.1f} {unit:<4} limit {limit:>7.0f}  {state}  {extra}".rstrip(), flush=True)


class Server:
    """gunicorn as ``make demo`` starts it, on a database of its own; ``fill`` puts something else than the demo fleet into it."""

    def __init__(self, fill: tuple[str, ...] = ("-m", "barodex", "load_demo"), workers: int = 2) -> None:
        self.folder = tempfile.mkdtemp(prefix="barodex-bench-")
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.env = {**os.environ, "BARODEX_VAR": self.folder, "BARODEX_DEMO": "1", "PYTHONPATH": str(ROOT / "src")}
        for command in (("-m", "barodex", "migrate", "-v0"), fill):
            subprocess.run([sys.executable, *command], check=True, env=self.env, stdout=subprocess.DEVNULL)
        options = [
            "--no-control-socket",
            "--log-level",
            "error",
            "--preload",
            "-w",
            str(workers),
            "--threads",
            "4",
            "-b",
            f"127.0.0.1:{self.port}",
        ]
        self.process = subprocess.Popen([sys.executable, "-m", "gunicorn", *options, "barodex.config.wsgi"], env=self.env, cwd=ROOT)
        wait_for(self.port)

    def memory_mb(self) -> float:
        """Proportional set size of the master and its workers: shared pages counted once."""
        pids = [
            self.process.pid,
            *map(int, subprocess.run(["pgrep", "-P", str(self.process.pid)], capture_output=True, text=True).stdout.split()),
        ]
        total = 0
        for pid in pids:
            rollup = Path(f"/proc/{pid}/smaps_rollup").read_text()
            total += int(re.search(r"^Pss:\s+(\d+)", rollup, re.M).group(1))
        return total / 1024

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(15)
        shutil.rmtree(self.folder, ignore_errors=True)


def wait_for(port: int, seconds: float = 60) -> float:
    """Seconds until the server answers."""
    began = time.perf_counter()
    while time.perf_counter() - began < seconds:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=2).close()
            return time.perf_counter() - began
        except OSError:
            time.sleep(0.05)
    raise RuntimeError("the server did not answer")


class Person:
    """A signed-in technician."""

    def __init__(self, port: int, name: str = "fergus") -> None:
        self.base = f"http://127.0.0.1:{port}"
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.key = self.call("GET", "/api/session")["csrf"]
        self.key = self.call("POST", "/api/session/demo", {"username": name})["csrf"]

    def call(self, method: str, path: str, body: object = None) -> dict:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            self.base + path, data, {"Content-Type": "application/json", "X-CSRFToken": getattr(self, "key", "")}, method=method
        )
        with self.opener.open(request, timeout=30) as response:
            return json.loads(response.read())


def timed(act) -> float:
    began = time.perf_counter()
    act()
    return (time.perf_counter() - began) * 1000


def note(text: str) -> dict:
    return {"act_id": str(uuid.uuid4()), "kind": "note", "step": "", "values": {"text": text}}


def start_more(person: Person, wanted: int) -> list[int]:
    """Start services on further compartments of the demo fleet, one each."""
    made: list[int] = []
    for vehicle in person.call("GET", "/api/due")["vehicles"]:
        for job in person.call("GET", f"/api/services/start/{vehicle['id']}")["jobs"]:
            if len(made) < wanted and not job["in_service"] and job["offers"][0]["verdict"] != "reject":
                jobs = [
                    {
                        "compartment_id": job["compartment"],
                        "lubricant_id": job["offers"][0]["lubricant"],
                        "slip": "unknown",
                        "warranty": "for the bench",
                    }
                ]
                kit = person.call("POST", "/api/services/kit", {"jobs": [{"compartment_id": job["compartment"]}]})
                there = [line["item"]["name"] for line in kit]
                made.append(
                    person.call(
                        "POST", "/api/services", {"vehicle_id": vehicle["id"], "jobs": jobs, "at_hand": there, "fetches": "the bench"}
                    )["id"]
                )
    return made


def speed(server: Server) -> None:
    """Due, an act in the Bay, and twenty technicians at once."""
    person = Person(server.port)
    for _ in range(5):
        person.call("GET", "/api/due")
    report(
        "Due's API, demo fleet, median of 40", statistics.median(timed(lambda: person.call("GET", "/api/due")) for _ in range(40)), 60, "ms"
    )

    moved = person.call("GET", "/api/due")["vehicles"][0]

    def after_a_change() -> float:
        moved["meter_now"] += 1
        reading = {"value": f"{moved['meter_now']:g} {moved['meter']}", "on": time.strftime("%Y-%m-%d")}
        person.call("POST", f"/api/vehicles/{moved['id']}/readings", reading)
        return timed(lambda: person.call("GET", "/api/due"))

    report("Due's API right after a change, median of 20", statistics.median(after_a_change() for _ in range(20)), 60, "ms")
    service = person.call("GET", "/api/services")[0]["id"]
    path = f"/api/services/{service}/acts"
    report(
        "an act in the Bay acknowledged, median of 40",
        statistics.median(timed(lambda: person.call("POST", path, note("bench"))) for _ in range(40)),
        40,
        "ms",
    )

    times: list[float] = []
    lost: list[str] = []
    sent: set[str] = set()
    lock = threading.Lock()

    services = [service, *start_more(person, 9)]

    def technician(k: int) -> None:
        me = Person(server.port)
        path = f"/api/services/{services[k % len(services)]}/acts"
        for n in range(12):  # an act a second, as fast as anybody works with gloves on
            text = f"technician {k}, act {n}"
            began = time.perf_counter()
            try:
                me.call("POST", path, note(text))
            except OSError as error:
                with lock:
                    lost.append(f"{text}: {error}")
                continue
            with lock:
                times.append((time.perf_counter() - began) * 1000)
                sent.add(text)
            time.sleep(max(0.0, 1.0 - (time.perf_counter() - began)))

    threads = [threading.Thread(target=technician, args=(k,)) for k in range(20)]
    for k, thread in enumerate(threads):
        thread.start()
        time.sleep(0.05 if k else 0)
    for thread in threads:
        thread.join()
    kept = {n["text"] for one in services for n in person.call("GET", f"/api/services/{one}")["notes"]}
    missing = len(sent - kept) + len(lost)
    p95 = statistics.quantiles(times, n=20)[18]
    report(
        "an act with 20 technicians at once (1 a second each), p95",
        p95,
        100,
        "ms",
        f"median {statistics.median(times):.0f} ms, {len(times)} acts on {len(services)} services",
    )
    report("acts lost among them", missing, 0, "")


def long_service(server: Server) -> None:
    """A service that has gone on for 500 acts: one more is folded and answered, beside one on a service that has just begun."""
    person = Person(server.port)
    service, fresh = start_more(person, 2)
    path = f"/api/services/{service}/acts"
    for k in range(500):
        person.call("POST", path, note(f"act {k}"))
    long, short = [], []
    for _ in range(20):  # in turn: what slows the machine slows both
        long.append(timed(lambda: person.call("POST", path, note("one more"))))
        short.append(timed(lambda: person.call("POST", f"/api/services/{fresh}/acts", note("one more"))))
    more = statistics.median(long) - statistics.median(short)
    extra = f"{statistics.median(long):.0f} ms in all, {statistics.median(short):.0f} ms on a service that has just begun"
    report("what 500 acts add to the answer to one more, median of 20", more, 15, "ms", extra)


def live_temperature(server: Server) -> None:
    """Twenty open services, each with its temperature asked for once a second, while acts are posted on them."""
    lead = Person(server.port, "isla")
    lead.call("PATCH", "/api/devices", {"kind": "scan tool", "adaptor": "simulated", "speed": 1})
    person = Person(server.port)
    services = [s["id"] for s in person.call("GET", "/api/services")]
    services = (services + start_more(person, 20 - len(services)))[:20]
    over = threading.Event()
    polls: list[float] = []
    for one in services:
        person.call("POST", f"/api/services/{one}/scan")
        person.call("PATCH", f"/api/services/{one}/scan", {"engine_on": True})

    def tablet(one: int) -> None:
        me = Person(server.port)
        key = me.call("GET", f"/api/services/{one}")["ledgers"][0]["compartment"]
        while not over.is_set():
            began = time.perf_counter()
            polls.append(timed(lambda: me.call("GET", f"/api/services/{one}/scan?compartment={key}")))
            time.sleep(max(0.0, 1.0 - (time.perf_counter() - began)))

    threads = [threading.Thread(target=tablet, args=(one,)) for one in services]
    for t in threads:
        t.start()
        time.sleep(0.05)
    time.sleep(8)  # until the fits have readings
    polls.clear()
    acts = []
    for k in range(60):
        acts.append(timed(lambda: person.call("POST", f"/api/services/{services[k % len(services)]}/acts", note("live"))))  # noqa: B023
        time.sleep(0.15)
    over.set()
    for t in threads:
        t.join()
    extra = f"{len(services)} services, {len(polls)} readings, their p95 {statistics.quantiles(polls, n=20)[18]:.0f} ms"
    report("an act in the Bay with live temperature on 20, p95", statistics.quantiles(acts, n=20)[18], 100, "ms", extra)


def route_ready(server: Server) -> None:
    """The Bay's page from a warm server: until the step at hand stands on the screen, in a real browser."""
    service = Person(server.port).call("GET", "/api/services")[0]["id"]
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"), chromium_sandbox=False)
        page = browser.new_context(base_url=f"http://127.0.0.1:{server.port}", reduced_motion="reduce").new_page()
        page.goto("/")
        page.get_by_role("button", name="Look round as the lead").click()
        page.get_by_role("navigation", name="Places").wait_for()

        def ready() -> None:
            page.goto(f"/bay/{service}", wait_until="commit")
            page.locator("form h2").first.wait_for()

        ready()
        report("the Bay's route ready, warm, median of 7", statistics.median(timed(ready) for _ in range(7)), 800, "ms")
        browser.close()


def page_size() -> None:
    """JavaScript that the first route needs, as it goes over the wire."""
    manifest = json.loads((ROOT / "web/dist/.vite/manifest.json").read_text())
    needed: set[str] = set()

    def add(key: str) -> None:
        entry = manifest[key]
        if entry["file"] in needed:
            return
        needed.add(entry["file"])
        for other in entry.get("imports", []):
            add(other)

    add("index.html")
    add("src/features/due/index.tsx")
    size = sum(len(gzip.compress((ROOT / "web/dist" / f).read_bytes())) for f in needed if f.endswith(".js"))
    report("first route's JavaScript, gzipped", size / 1000, 300, "kB")


def demo_start(folder: Path, name: str, limit: float, began: float) -> None:
    """Seconds until ``make demo`` answers in a folder."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    env = {k: v for k, v in os.environ.items() if not k.startswith("BARODEX")}
    process = subprocess.Popen(
        ["make", "demo", f"PORT={port}"], cwd=folder, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True
    )
    try:
        wait_for(port, 600)
        report(name, time.perf_counter() - began, limit, "s")
    finally:
        os.killpg(process.pid, 15)
        process.wait(20)


def main() -> int:
    """Run everything."""
    server = Server()
    try:
        speed(server)
        long_service(server)
        live_temperature(server)
        route_ready(server)
        report("server memory after that (master and 2 workers)", server.memory_mb(), 250, "MB")
        findings.run(server, Person(server.port), report)
        moving.run(server, Person(server.port, "isla"), Person(server.port), report)
    finally:
        server.stop()
    page_size()
    shelf.run(report)
    plan.run(report)
    plan.large_fleet(report, Server, Person)
    began = time.perf_counter()
    if os.environ.get("QUICK") != "1":
        with tempfile.TemporaryDirectory(prefix="barodex-clone-") as folder:
            began = time.perf_counter()
            subprocess.run(["git", "clone", "-q", str(ROOT), folder + "/barodex"], check=True)
            demo_start(Path(folder, "barodex"), "make demo from a clean clone", 360, began)
            demo_start(Path(folder, "barodex"), "make demo, warm", 10, time.perf_counter())
    return 1 if OVER else 0


if __name__ == "__main__":
    sys.exit(main())
