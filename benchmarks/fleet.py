"""A large fleet for the speed figures, made at random with a fixed seed: nothing in it is anybody's.

``python benchmarks/fleet.py generate VEHICLES`` fills the database of BARODEX_VAR; ``measure`` prints figures as JSON lines.
"""

from __future__ import annotations

import datetime as dt
import json
import os
import random
import sqlite3
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

KINDS = (("van", "front-wheel", "km"), ("truck", "six-by-six", "km"), ("4x4", "four-wheel", "km"), ("boat", "boat", "h"))
BOXES = {
    "van": (("Transaxle", "transaxle", "transaxle"), ("Front differential", "front axle", "electronic differential")),
    "truck": (
        ("Gearbox", "gearbox", "manual gearbox"),
        ("Transfer case", "transfer case", "transfer case"),
        ("Front axle", "front axle", "axle"),
        ("Middle axle", "middle axle", "axle"),
        ("Rear axle", "rear axle", "axle"),
    ),
    "4x4": (
        ("Gearbox", "gearbox", "automatic"),
        ("Transfer case", "transfer case", "clutch transfer case"),
        ("Front axle", "front axle", "axle"),
        ("Rear axle", "rear axle", "axle"),
        ("Supercharger", "supercharger", "supercharger"),
    ),
    "boat": (
        ("Marine gearbox", "marine gearbox", "marine gearbox"),
        ("Port gearbox", "marine gearbox", "marine gearbox"),
        ("Starboard gearbox", "marine gearbox", "marine gearbox"),
        ("Winch", "marine gearbox", "marine gearbox"),
    ),
}
READINGS, CHANGES = 50, 5
DAYS = 1500


def generate(vehicles: int) -> None:
    """Vehicles with four compartments on average, fifty readings each, five changes a compartment."""
    from barodex import clock
    from barodex.accounts.actions import add_person, audit
    from barodex.accounts.models import Person
    from barodex.book.models import ConsequenceRow, Correction, LedgerRow, OilRecord
    from barodex.fleet.models import Box, Compartment, Reading, Vehicle
    from barodex.memory.versions import POLICY
    from barodex.shelf.models import SheetRevision, SpecSheet
    from barodex.workshop.models import BayRevision

    pick = random.Random(1606)
    now, today = clock.now(), clock.today()
    for name, role in (("isla", "lead"), ("fergus", "technician"), ("una", "viewer")):
        add_person(None, name, "tarbert-oil-can", role)
    by = Person.objects.get(username="isla")
    BayRevision.objects.create(bay={"hours_per_day": 8.0, "bays": min(40, max(1, vehicles // 60))}, why="a large yard", by=by, at=now)
    sheets: dict[str, list[int]] = {}
    for kind in sorted({k for boxes in BOXES.values() for _, _, k in boxes}):
        for n in range(25):
            sheet = SpecSheet.objects.create(name=f"{kind} {n + 1}", kind=kind)
            SheetRevision.objects.create(
                sheet=sheet,
                number=1,
                effective_on=today - dt.timedelta(days=3000),
                capacity_ml=1000 + 100 * n,
                family="gear",
                grade="75W-90",
                categories="GL-5",
                fill_method="to the lip",
                drain_method="plug",
                interval_km=None if "marine" in kind or n % 5 == 0 else 20_000 + 2_000 * n,
                interval_h=150 if "marine" in kind else None,
                interval_months=24 + n if n % 5 else None,
                for_life=n % 10 == 0 and "marine" not in kind,
                by=by,
                at=now,
            )
            sheets.setdefault(kind, []).append(sheet.pk)
    made, boxes, readings, records, looks = [], [], [], [], []
    for n in range(vehicles):
        kind, layout, meter = KINDS[n % len(KINDS)]
        split = {"road": 0.7, "off_road": 0.3} if n % 3 == 0 and meter == "km" else {"road": 1.0}
        season = ("04-01", "10-15") if kind == "boat" and n % 2 else ("", "")
        made.append(Vehicle(name=f"Machine {n:05d}", plate=f"BX {n:05d}", kind=kind, layout=layout, meter=meter, duty_split=split))
        made[-1].season_from, made[-1].season_to = season
    Vehicle.objects.bulk_create(made, batch_size=500)
    for v in made:
        boxes += [Compartment(vehicle=v, sheet_id=pick.choice(sheets[k]), name=name, slot=slot) for name, slot, k in BOXES[v.kind]]
        per_day = pick.uniform(20, 90) if v.meter == "km" else pick.uniform(0.3, 1.5)
        value = pick.uniform(5_000, 90_000) if v.meter == "km" else pick.uniform(100, 2000)
        days = sorted(pick.sample(range(2, DAYS), READINGS), reverse=True)
        before = days[0]
        for k, d in enumerate(days):
            value += per_day * (before - d) * pick.uniform(0.7, 1.3)
            before = d
            duty = {"track": 0.25, "road": 0.75} if k % 17 == 5 and v.meter == "km" else None
            readings.append(
                Reading(vehicle=v, on=today - dt.timedelta(days=d), value=round(value, 1), duty=duty, source="csv", by=by, at=now)
            )
    for place, box in zip(boxes, Box.objects.bulk_create([Box() for _ in boxes], batch_size=500), strict=True):
        place.box = box
    Compartment.objects.bulk_create(boxes, batch_size=500)
    Reading.objects.bulk_create(readings, batch_size=500)
    by_vehicle: dict[int, list[Reading]] = {}
    for r in readings:
        by_vehicle.setdefault(r.vehicle_id, []).append(r)
    for c in boxes:
        mine = by_vehicle[c.vehicle_id]
        for k, r in enumerate(sorted(pick.sample(mine, CHANGES), key=lambda r: r.on)):
            finding = {"magnet": "film", "particles": [], "colour": pick.choice(("fresh", "darker", "brown", "dark brown"))}
            records.append(
                OilRecord(
                    compartment=c,
                    on=r.on,
                    meter_value=r.value,
                    oil=pick.choice(("Tarn 75W-90", "Corrie 80W-90")),
                    box=c.box,
                    finding=finding,
                    level=1 if k % 9 else 2,
                    by=by,
                    at=now,
                )
            )
    OilRecord.objects.bulk_create(records, batch_size=500)
    amounts = [(r, k, kind, ml) for r in records for k, (kind, ml) in enumerate((("drained", 1500.0), ("oil", 1550.0)))]
    rows = (LedgerRow(record=r, place=k, kind=kind, volume_ml=ml, temperature_c=20.0, sigma_ml=30.0) for r, k, kind, ml in amounts)
    LedgerRow.objects.bulk_create(rows, batch_size=2000)
    for r in records[::97]:
        Correction.objects.create(
            record=r, field="on", before=str(r.on), after=str(r.on - dt.timedelta(days=1)), reason="misread", by=by, at=now
        )
        days = (today - r.on).days + pick.randrange(200)
        looks.append(ConsequenceRow(record=r, kind="look-again", code="finding", params={"because": "whiskers"}, days=days))
    looks += [
        ConsequenceRow(record=r, kind="due-cap", code="finding", params={"because": "whiskers"}, factor=0.5)
        for r in records
        if r.level == 2
    ]
    ConsequenceRow.objects.bulk_create(looks, batch_size=2000)
    audit(by, "bench fleet made", by, (POLICY,))
    counts = {"vehicles": len(made), "compartments": len(boxes), "readings": len(readings), "services": len(records)}
    print(json.dumps(counts))


def _timed(act: Callable[[], Any], times: int = 1, best: bool = False) -> float:
    """Milliseconds, the median or (as timeit advises where other work on the machine only adds) the best of several."""
    spent = []
    for _ in range(times):
        began = time.perf_counter()
        act()
        spent.append((time.perf_counter() - began) * 1000)
    return min(spent) if best else statistics.median(spent)


# The bare SQL that reads the rows that a figure needs, and no more.
ALL_ROWS = (
    'SELECT vehicle_id, "on", value, swap, duty FROM fleet_reading ORDER BY "on", id',
    "SELECT id, box_id, vehicle_id, sheet_id, name, slot FROM fleet_compartment ORDER BY id",
    "SELECT * FROM fleet_vehicle ORDER BY id",
    "SELECT * FROM shelf_sheetrevision",
    'SELECT * FROM (SELECT box_id, "on", meter_value, oil, finding, level, '
    'ROW_NUMBER() OVER (PARTITION BY box_id ORDER BY "on" DESC, id DESC) place FROM book_oilrecord '
    "WHERE work <> 'top-up') WHERE place = 1",
    "SELECT id, record_id FROM book_consequencerow WHERE kind = 'due-cap' AND done_at IS NULL AND voided_at IS NULL",
)


def bare_sql(connection: sqlite3.Connection, where: str = "") -> int:
    """Read the rows with sqlite3 alone; ``where`` narrows the vehicles."""
    rows = 0
    for query in ALL_ROWS:
        if where:
            table = "vehicle_id" if "fleet_reading" in query or "fleet_compartment" in query else "id"
            if "fleet_vehicle" in query or table == "vehicle_id":
                query = query.replace(" ORDER BY", f" WHERE {table} {where} ORDER BY")
            elif "book_oilrecord" in query:
                chosen = f"box_id IN (SELECT box_id FROM fleet_compartment WHERE vehicle_id {where}) AND "
                query = query.replace("WHERE work", f"WHERE {chosen}work")
            elif "book_consequencerow" in query:
                records = "SELECT r.id FROM book_oilrecord r JOIN fleet_compartment c ON c.box_id = r.box_id"
                query = query.replace("WHERE kind", f"WHERE record_id IN ({records} WHERE c.vehicle_id {where}) AND kind")
        rows += len(connection.execute(query).fetchall())
    return rows


def measure() -> None:
    """Time each figure in this process, on one core, beside the bare SQL."""
    from django.db import connection

    from barodex import clock
    from barodex.accounts.models import Person
    from barodex.fleet.actions import add_reading
    from barodex.fleet.models import Vehicle
    from barodex.plan import horizon as plan
    from barodex.plan.queries import BOARD, due_board, due_page

    today = clock.today()
    bare = sqlite3.connect(connection.settings_dict["NAME"])
    vehicles = Vehicle.objects.count()

    def tell(name: str, spent: float, sql: float, **more: Any) -> None:
        print(json.dumps({"name": name, "ms": spent, "sql_ms": sql, "vehicles": vehicles, **more}), flush=True)

    def anew() -> None:
        BOARD.forget()
        due_board(today)

    anew()
    both = [(_timed(anew), _timed(lambda: bare_sql(bare))) for _ in range(7)]  # in turn: what slows the machine slows both
    all_rows = min(rows for _, rows in both)
    board = due_board(today)
    spent = min(anew_ms for anew_ms, _ in both)
    tell("every due and forecast", spent, all_rows, compartments=sum(len(v.compartments) for v in board.vehicles))
    page = [v.id for v in due_page(today).vehicles]
    narrowed = f"IN ({', '.join(map(str, page))})"
    page_rows = _timed(lambda: bare_sql(bare, narrowed), 9)
    tell("Due's first page", _timed(lambda: due_page(today), 9), page_rows)
    tell("counts by state", _timed(lambda: due_page(today, limit=0), 9), all_rows)
    lead = Person.objects.get(username="isla")
    some = list(Vehicle.objects.filter(meter="km")[:9])

    def read_and_look(v: Vehicle) -> None:
        newest = v.readings.last()
        add_reading(lead, v.pk, today, newest.value + 100 if newest else 100.0)
        assert any(x.id == v.pk and x.meter_on == today for x in due_board(today).vehicles)

    one = _timed(lambda: bare_sql(bare, f"IN ({some[0].pk})"), 9)
    tell("a new reading shows", statistics.median(_timed(lambda v=v: read_and_look(v)) for v in some), one)

    def horizon_anew() -> None:
        plan._horizon_at.cache_clear()
        plan._grouped.cache_clear()
        plan.horizon(today, 366)

    tell("horizon, from nothing", _timed(horizon_anew, 3), all_rows)
    plan.horizon(today, 366)
    add_reading(lead, some[0].pk, today, some[0].readings.last().value + 1)
    tell("horizon, after a reading", _timed(lambda: plan.horizon(today, 366)), all_rows)


if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "src"))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "barodex.config.settings")
    import django

    django.setup()
    if sys.argv[1] == "generate":
        generate(int(sys.argv[2]))
    else:
        measure()
