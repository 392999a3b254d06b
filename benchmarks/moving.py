"""Moving in: the preview of ten thousand rows and taking them in, while somebody else goes on writing."""

from __future__ import annotations

import json
import threading
import time
import urllib.request
import uuid
from collections.abc import Callable
from typing import Any

from tests.api.imports.old_workshop import large

Report = Callable[[str, float, float, str, str], None]
ROWS = 10_000


def _send(person: Any, content: bytes) -> int:
    """Post a file as a form does; gives the id of what was begun."""
    mark = uuid.uuid4().hex
    body = b"".join(
        (
            f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="large.csv"\r\n'.encode(),
            b"Content-Type: text/csv\r\n\r\n",
            content,
            f"\r\n--{mark}--\r\n".encode(),
        )
    )
    request = urllib.request.Request(f"{person.base}/api/imports", data=body, headers={"X-CSRFToken": person.key})
    request.add_header("Content-Type", f"multipart/form-data; boundary={mark}")
    with person.opener.open(request) as answer:
        return json.load(answer)["id"]


def run(server: Any, person: Any, other: Any, report: Report) -> None:
    """Measure on a server with the demo fleet; ``other`` writes readings meanwhile."""
    vehicle = other.call("GET", "/api/due")["vehicles"][0]
    run_id = _send(person, large(ROWS))
    began = time.perf_counter()
    person.call("GET", f"/api/imports/{run_id}?state=open")
    report(f"preview of {ROWS} rows", time.perf_counter() - began, 5, "s", "")
    waits: list[float] = []
    done = threading.Event()

    def go_on() -> None:
        meter = vehicle["meter_now"]
        while not done.is_set():
            meter += 2
            at = time.perf_counter()
            other.call("POST", f"/api/vehicles/{vehicle['id']}/readings", {"on": today, "value": f"{meter} {vehicle['meter']}"})
            waits.append(time.perf_counter() - at)
            time.sleep(0.5)

    today = other.call("GET", "/api/due")["today"]
    writer = threading.Thread(target=go_on)
    writer.start()
    began = time.perf_counter()
    person.call("POST", f"/api/imports/{run_id}/take", {})
    took = time.perf_counter() - began
    done.set()
    writer.join()
    report(f"{ROWS} rows taken in", took, 20, "s", "")
    report("a reading written meanwhile, the longest wait", max(waits), 20, "s", f"{len(waits)} were written")
