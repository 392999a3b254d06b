"""Makes a database of today: the demo, and a service of every kind of compartment and work, signed or left half-way.

``python -m tests.net.make NAME`` writes NAME.sqlite3.xz and NAME.json.xz beside this file. It refuses to overwrite: what an
earlier version said stays what it said.
"""

from __future__ import annotations

import datetime as dt
import json
import lzma
import os
import sqlite3
import subprocess
import sys
import tempfile
import uuid
from pathlib import Path

from tests.net.answers import HELD_AT

HERE = Path(__file__).parent
STOPS = ("", "sign", "", "look", "", "pour", "", "wait", "", "close")  # before which a service is left; empty: signed
MOST_OF_A_WORK = {"opened": 4, "exchange": 4, "flush": 2, "correction": 6, "top-up": 5, "change": 22}


def _start_all() -> None:
    """A service of each kind of work on the demo's compartments, the rarer kinds first; two in three signed, the others left half-way."""
    from barodex.accounts.models import Person
    from barodex.bay.models import ServiceJob
    from barodex.core.sheet.work import WORKS
    from barodex.fleet.models import Compartment

    tech = Person.objects.get(username="fergus")
    now = dt.datetime.fromisoformat(HELD_AT)
    hours = 400
    for work in sorted(WORKS, key=("opened", "exchange", "flush", "correction", "top-up", "change").index):
        count = 0
        for box in Compartment.objects.select_related("sheet", "vehicle").order_by("pk"):
            if count == MOST_OF_A_WORK[work] or ServiceJob.objects.filter(compartment=box, open=True).exists():
                continue
            service = _start(tech, box, work, now - dt.timedelta(hours=hours))
            if service is not None:
                hours -= 3
                state = _lead_through(tech, service, box, work, STOPS[count % len(STOPS)])
                print(f"{box.sheet.kind}: {work}: {state.state} {state.current}")
                count += 1


def _start(tech, box, work: str, moment: dt.datetime):
    """A service with the first oil that may go in; None where this work does not fit the compartment."""
    from django.db import transaction

    from barodex import clock
    from barodex.bay.actions import JobSpec, Weather, WorkSpec, start_service
    from barodex.core.quantity.errors import CoreError
    from barodex.shelf.models import Lubricant

    spec = WorkSpec(work, wrong_oil="Tarn 75W-90" if work == "correction" else "", attached=("breather",) if work == "change" else ())
    for oil in Lubricant.objects.order_by("pk"):
        job = JobSpec(box.pk, oil.pk, slip="no", work=spec, warranty="the owner asked for it")
        try:
            with clock.at(moment), transaction.atomic():
                return start_service(tech, box.vehicle_id, (job,), None, Weather(12, -5, 28), _missing(box, oil, work), "Una")
        except CoreError as error:
            if error.field != "jobs.0.lubricant_id":
                return None
    return None


def _lead_through(tech, service, box, work: str, stop: str):
    """Walk the guide until the signature or the stop; a top-up takes 120 mL."""
    from barodex import clock
    from barodex.bay.actions import NewAct, post_act
    from barodex.demo.walk import Outcome, walk

    drained = Outcome((box.sheet.revisions.last().capacity_ml or 1000) * 0.93, 30.0)
    with clock.at(service.started_at + dt.timedelta(minutes=40)):
        state = walk(tech, service.pk, {box.name: drained}, stop_before="pour" if work == "top-up" else stop or "nothing")
        if work == "top-up" and stop != "pour":
            step = state.current
            post_act(tech, service.pk, NewAct(uuid.uuid4(), "add", step, {"volume_ml": 120, "elsewhere": True}))
            post_act(tech, service.pk, NewAct(uuid.uuid4(), "done", step, {}))
            state = walk(tech, service.pk, {box.name: drained}, stop_before=stop or "nothing")
    return state


def _missing(box, oil, work: str) -> tuple[str, ...]:
    """Everything that the store might lack: it is there all the same."""
    from barodex.bay.start import kit_lines
    from barodex.choose.judging import revision_of
    from barodex.core.sheet.work import kit_work

    lines = kit_lines([(box.name, revision_of(box), "", kit_work(work, ()))])
    return (oil.name, *(line.item.name for line in lines))


def main(name: str) -> None:
    """Write the database and its answers."""
    files = [HERE / f"{name}.sqlite3.xz", HERE / f"{name}.json.xz"]
    if any(f.exists() for f in files):
        raise SystemExit(f"{name} is there already.")
    with tempfile.TemporaryDirectory() as folder:
        env = {**os.environ, "BARODEX_VAR": folder, "BARODEX_NOW": HELD_AT}
        for command in (["-m", "barodex", "migrate", "-v0"], ["-m", "barodex", "load_demo"], ["-m", "tests.net.make", "--services"]):
            subprocess.run([sys.executable, *command], check=True, env=env)
        alone = Path(folder, "alone")  # without the photo files, as the test will have it
        alone.mkdir()
        with sqlite3.connect(Path(folder, "barodex.sqlite3")) as db:
            db.execute("DELETE FROM django_session")
            db.commit()
            db.execute(f"VACUUM INTO '{alone / 'barodex.sqlite3'}'")
        packed = Path(alone, "barodex.sqlite3").read_bytes()
        command = [sys.executable, "-m", "tests.net.answers"]
        said = subprocess.run(command, check=True, env={**env, "BARODEX_VAR": str(alone)}, stdout=subprocess.PIPE).stdout
        files[0].write_bytes(lzma.compress(packed, preset=9))
        files[1].write_bytes(lzma.compress(json.dumps(json.loads(said), indent=1, sort_keys=True).encode(), preset=9))
    print(*(f"{f.name} {f.stat().st_size // 1024} KiB" for f in files), sep="\n")


if __name__ == "__main__":
    if sys.argv[1:] == ["--services"]:
        import django

        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "barodex.config.settings")
        django.setup()
        _start_all()
    else:
        main(sys.argv[1])
