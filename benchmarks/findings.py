"""The speed figures of findings: a verdict as it is tapped, a long trend, a photo of 12 megapixels and what it takes of memory."""

from __future__ import annotations

import io
import re
import statistics
import subprocess
import sys
import time
import urllib.request
import uuid
from pathlib import Path

import numpy as np
from PIL import Image

from barodex.core.ledger.balance import LedgerEntry, Start, balance
from barodex.core.ledger.drained import Amount
from barodex.demo.scenes import oil_on_paper

# Two hundred changes of one compartment, written as the guide writes them.
LONG_PAST = """
import datetime as dt
import django; django.setup()
from barodex.accounts.models import Person
from barodex import clock
from barodex.book.models import LedgerRow, OilRecord
from barodex.fleet.models import Compartment
box = Compartment.objects.get(pk={box})
revision, by = box.sheet.revisions.last(), Person.objects.get(username="isla")
look = {{"magnet": "film", "colour": "brown", "clarity": "clear", "smell": "none",
        "particles": [{{"form": "glitter", "metal": "steel", "count": 4, "size_mm": 0.2, "magnetic": None}}]}}
first = clock.today() - dt.timedelta(days=4000)
records = OilRecord.objects.bulk_create([
    OilRecord(compartment=box, box=box.box, revision=revision, on=first + dt.timedelta(days=20 * k), meter_value=1000.0 + 900 * k, oil="Tarn 75W-90",
              finding=look, level=2, by=by, at=clock.now())
    for k in range(200)])
LedgerRow.objects.bulk_create([
    LedgerRow(record=r, place=n, kind=kind, volume_ml=ml, temperature_c=30.0, sigma_ml=30.0)
    for k, r in enumerate(records) for n, (kind, ml) in enumerate((("drained", 1250.0 + k % 17), ("oil", 1300.0)))])
"""


def _ledger_ms() -> float:
    """Milliseconds to sum the ledger of 200 services, each on what the one before left."""
    entries = [
        (
            LedgerEntry("drained", Amount(1250.0 + k % 17, 30.0, 32.0)),
            LedgerEntry("oil", Amount(1000.0, 20.0, 14.0, 8.0), 1),
            LedgerEntry("oil", Amount(300.0, 20.0, 11.0, 8.0), 2),
            LedgerEntry("run-out", Amount(20.0, 40.0, 20.0)),
        )
        for k in range(200)
    ]
    times = []
    for _ in range(20):
        began, inside = time.perf_counter(), None
        for service in entries:
            inside = balance(service, Start(inside)).inside
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def _megapixels() -> bytes:
    """A photo of 4 000 × 3 000 with the noise of a camera."""
    small = Image.open(io.BytesIO(oil_on_paper((226, 176, 62), (104, 58, 26))))
    large = np.asarray(small.resize((4000, 3000))).astype(np.int16)
    noise = np.random.default_rng(12).integers(-6, 7, large.shape, dtype=np.int16)
    out = io.BytesIO()
    Image.fromarray((large + noise).clip(0, 255).astype(np.uint8)).save(out, "JPEG", quality=90)
    return out.getvalue()


def _upload(person, service: int, step: str, content: bytes) -> str:
    name, edge = str(uuid.uuid4()), uuid.uuid4().hex
    parts = [
        f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n'.encode() for k, v in (("photo_id", name), ("step", step))
    ]
    parts.append(f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="p.jpg"\r\nContent-Type: image/jpeg\r\n\r\n'.encode())
    body = b"".join(parts) + content + f"\r\n--{edge}--\r\n".encode()
    headers = {"Content-Type": f"multipart/form-data; boundary={edge}", "X-CSRFToken": person.key}
    with person.opener.open(urllib.request.Request(f"{person.base}/api/services/{service}/photos", body, headers), timeout=30) as answer:
        answer.read()
    return name


def _peak_mb(server) -> float:
    """The largest resident size that any process of the server has had."""
    pids = [
        server.process.pid,
        *map(int, subprocess.run(["pgrep", "-P", str(server.process.pid)], capture_output=True, text=True).stdout.split()),
    ]
    return max(int(re.search(r"^VmHWM:\s+(\d+)", Path(f"/proc/{p}/status").read_text(), re.M).group(1)) for p in pids) / 1024


def run(server, person, report) -> None:
    """Verdict, trend and photo on a running server with the demo fleet."""
    open_looks = (
        (s["id"], step["id"])
        for s in person.call("GET", "/api/services")
        for step in person.call("GET", f"/api/services/{s['id']}")["steps"]
        if step["id"].startswith("look.") and step["status"] == "open"
    )
    service, step = next(open_looks)
    levels = ("none", "film", "cap", "whiskers", "overflowing")
    times = []
    for k in range(40):
        finding = {
            "magnet": levels[k % 5],
            "colour": "brown",
            "clarity": "clear",
            "particles": [{"form": "flake", "size_mm": 0.5 + k / 50}],
        }
        body = {"step": step, "values": {"finding": finding, "reason": "only asking"}}
        began = time.perf_counter()
        person.call("POST", f"/api/services/{service}/trial", body)
        times.append((time.perf_counter() - began) * 1000)
    report("a verdict from tap to answer, median of 40", statistics.median(times), 30, "ms")

    subprocess.run(
        [sys.executable, "-c", LONG_PAST.format(box=8)], check=True, env={**server.env, "DJANGO_SETTINGS_MODULE": "barodex.config.settings"}
    )
    person.call("GET", "/api/book/8/trend")
    vehicle = next(v for v in person.call("GET", "/api/due")["vehicles"] if any(c["id"] == 8 for c in v["compartments"]))
    meter = vehicle["meter_now"]
    times, first = [], []
    for _ in range(20):
        meter += 1
        person.call("POST", f"/api/vehicles/{vehicle['id']}/readings", {"value": f"{meter:g} {vehicle['meter']}"})
        began = time.perf_counter()
        person.call("GET", "/api/book/8/trend")
        first.append((time.perf_counter() - began) * 1000)
        began = time.perf_counter()
        found = person.call("GET", "/api/book/8/trend")
        times.append((time.perf_counter() - began) * 1000)
    after, kept = statistics.median(first), statistics.median(times)
    report(
        "trend with 200 services right after a reading, median of 20",
        after / kept,
        4,
        "x",
        f"the kept answer: {after:.0f} and {kept:.0f} ms",
    )
    report("trend of a compartment with 200 services, median of 20", kept, 60, "ms", f"{len(found['points'])} points")

    report(
        "ledger of a compartment with 200 services, median of 20", _ledger_ms(), 15, "ms", "drain, two bottles, what ran out: 800 entries"
    )

    content = _megapixels()
    mark = {"paper": {"x": 0.5, "y": 0.2}, "fresh": {"x": 0.156, "y": 0.53}, "drained": [{"x": 0.844, "y": 0.54}]}
    times = []
    for _ in range(5):
        began = time.perf_counter()
        photo = _upload(person, service, step, content)
        person.call("POST", f"/api/photos/{photo}/colour", mark)
        person.call("POST", f"/api/photos/{photo}/magnet", {"x": 0.844, "y": 0.54, "r": 0.12})
        times.append((time.perf_counter() - began) * 1000)
    report("a photo of 12 MP kept, its colour and a circle read", statistics.median(times), 1500, "ms", f"{len(content) / 1e6:.1f} MB")
    report("the largest process after that", _peak_mb(server), 400, "MB")
