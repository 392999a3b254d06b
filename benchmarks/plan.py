"""The plan's speed figures: visits grouped exactly, and a fleet of 5 000 vehicles told, paged, read and planned."""

from __future__ import annotations

import json
import random
import statistics
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

from barodex.core.due.visits import Task, VisitCosts, group_visits

Report = Callable[[str, float, float, str, str], None]
FLEET = str(Path(__file__).with_name("fleet.py"))
LIMITS_MS = {
    "Due's first page": 150,
    "counts by state": 150,
    "a new reading shows": 200,
    "horizon, from nothing": 250,
    "horizon, after a reading": 250,
}


TIMES_SQL = {"every due and forecast": 2.0}  # a machine's speed falls out of it


def tasks_of(pick: random.Random) -> list[Task]:
    """A vehicle's tasks as a year ahead has them: mostly one to five, now and then many."""
    count = pick.choice((1, 2, 3, 3, 4, 4, 5, 5, 6, 7))
    made = []
    for k in range(count):
        due = pick.randrange(0, 360)
        made.append(
            Task(f"t{k}", max(0, due - pick.randrange(10, 110)), due, due + 14, 0.002 + pick.random() / 200, 0.05, pick.choice("abc"))
        )
    return made


def run(report: Report) -> None:
    """Group the visits of 500 vehicles."""
    pick = random.Random(6)
    fleet = [tasks_of(pick) for _ in range(500)]
    began = time.perf_counter()
    visits = sum(len(group_visits(tasks, VisitCosts(0.75, 0.1)).visits) for tasks in fleet)
    taken = (time.perf_counter() - began) * 1000
    report("visits of 500 vehicles, optimal each", taken, 2000, "ms", f"{visits} visits for {sum(map(len, fleet))} tasks")


def _figures(env: dict[str, str]) -> list[dict[str, Any]]:
    done = subprocess.run([sys.executable, FLEET, "measure"], check=True, env=env, stdout=subprocess.PIPE, text=True)
    return [json.loads(line) for line in done.stdout.splitlines()]


def _tell(report: Report, figures: list[dict[str, Any]], names: tuple[str, ...]) -> None:
    for f in figures:
        if f["name"] in names:
            ratio = f"{f['ms'] / f['sql_ms']:.1f} x bare SQL ({f['sql_ms']:.0f} ms), in the process"
            title = f"{f['name']}, {f['vehicles']} vehicles"
            if f["name"] in TIMES_SQL:
                report(
                    title,
                    f["ms"] / f["sql_ms"],
                    TIMES_SQL[f["name"]],
                    "x",
                    f"bare SQL on the same rows: {f['ms']:.0f} and {f['sql_ms']:.0f} ms",
                )
            else:
                report(title, f["ms"], LIMITS_MS[f["name"]], "ms", ratio)


def _whole_book(report: Report, person: Any, large: Any) -> None:
    """The whole book out, while the memory of the worker is looked at."""
    before, began, size, most = large.memory_mb(), time.perf_counter(), 0, 0.0
    request = urllib.request.Request(f"{person.base}/api/whole-book")
    with person.opener.open(request) as answer:
        while piece := answer.read(1 << 20):
            size += len(piece)
            most = max(most, large.memory_mb())
    rows = person.call("GET", "/api/whole-book/size")["rows"]
    spent = time.perf_counter() - began
    report(f"the whole book out, {rows} rows, {size / 1e6:.0f} MB", spent, 600, "s", f"{rows / spent:.0f} rows a second")
    report("memory that it took", most - before, 200, "MB")


def large_fleet(report: Report, server_of: Any, person_of: Any) -> None:
    """The whole fleet in one process on one core, then through the server; the horizon for 200 vehicles."""
    large = server_of((FLEET, "generate", "5000"), workers=1)
    try:
        person = person_of(large.port, "isla")
        person.call("GET", "/api/due")  # the worker tells the board once
        figures = _figures(large.env)
        _tell(report, figures, ("every due and forecast",))
        sql = {f["name"]: f["sql_ms"] for f in figures}
        person.call("GET", "/api/due")

        def timed(act: Callable[[], Any], times: int) -> float:
            spent = []
            for _ in range(times):
                began = time.perf_counter()
                act()
                spent.append((time.perf_counter() - began) * 1000)
            return statistics.median(spent)

        for name, path in (("Due's first page", "/api/due"), ("counts by state", "/api/due?limit=0")):
            ms = timed(lambda path=path: person.call("GET", path), 15)
            report(f"{name}, 5000 vehicles, over HTTP", ms, LIMITS_MS[name], "ms", f"{ms / sql[name]:.2f} x bare SQL ({sql[name]:.0f} ms)")
        vehicle = person.call("GET", "/api/due?state=fine&limit=1")["vehicles"][0]
        unit, values = vehicle["meter"], iter(range(1, 99))

        def read_and_look() -> None:
            value = f"{vehicle['meter_now'] + next(values)} {unit}"
            person.call("POST", f"/api/vehicles/{vehicle['id']}/readings", {"value": value})
            person.call("GET", "/api/due")

        ms, bare = timed(read_and_look, 9), sql["a new reading shows"]
        report(
            "a new reading written and shown, over HTTP",
            ms,
            LIMITS_MS["a new reading shows"],
            "ms",
            f"{ms / bare:.0f} x bare SQL ({bare:.1f} ms)",
        )
        for title, words in (("a name", "machine 03120"), ("a kind", "gearbox"), ("a slip", "gaerbxo 41")):
            ms = timed(lambda words=words: person.call("GET", f"/api/search?find={words.replace(' ', '+')}"), 15)
            report(f"search for {title}, 5000 vehicles, over HTTP", ms, 100, "ms")
        _whole_book(report, person, large)
        report("memory of a worker with 5000 vehicles", large.memory_mb(), 600, "MB")
    finally:
        large.stop()
    small = server_of((FLEET, "generate", "200"), workers=1)
    try:
        _tell(report, _figures(small.env), ("horizon, from nothing", "horizon, after a reading"))
    finally:
        small.stop()
