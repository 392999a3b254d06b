"""The way back of a whole book into an empty one: a new database is filled beside the old, brought up to date, proved, and copied over at once."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import subprocess
import sys
import uuid
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError, connection, transaction
from django.db.migrations.executor import MigrationExecutor

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.files.backup import OURS
from barodex.memory.models import Version
from barodex.memory.versions import SCOPES

from .kept import AT_ONCE, row_back
from .writing import FORMAT, MANIFEST, PHOTOS, ROWS, VERSION
from .zipped import BROKEN, PIECE, prove

PART = ".restoring-"
FOREIGN = say("This is no book of Barodex, or it is damaged.")
NEWER = say("This book was written by a newer Barodex: upgrade first.")
MOST_LINE = 64 * 1024 * 1024  # bytes of one row: a service's guide is the longest
EMPTY = ("shelf_specsheet", "shelf_lubricant", "fleet_vehicle", "book_oilrecord")  # where one has a row, the book is not empty


@dataclass(frozen=True)
class Restored:
    """What came back: when the file was made, how many rows and photos."""

    made: str
    rows: int
    photos: int


def _refuse(sentence: str, value: object = "") -> Inconsistent:
    return Inconsistent(sentence, field="file", value=str(value))


def manifest_of(file: Path) -> dict[str, Any]:
    """What a file says of itself, once each member was read and is what it was; raises Inconsistent for a broken, foreign or newer one."""
    try:
        with zipfile.ZipFile(file) as packed:
            said = json.loads(packed.read(MANIFEST))
            if said["format"] != FORMAT:
                raise _refuse(FOREIGN, said["format"])
            if said["version"] > VERSION:
                raise _refuse(NEWER, said["version"])
            members: dict[str, str] = said["members"]
            prove(packed, members)
            if not all(isinstance(said[k], kind) for k, kind in (("migrations", list), ("counts", dict), ("made", str))):
                raise _refuse(FOREIGN)
            missing = [name for name in said["counts"] if f"{ROWS}/{name}.jsonl" not in members]
            if missing:
                raise _refuse(say("The file is damaged: {missing} is missing.", missing=missing[0]), missing[0])
            return said
    except Inconsistent:
        raise
    except BROKEN as error:
        raise _refuse(FOREIGN, file.name) from error


def _targets(executor: MigrationExecutor, applied: list[str]) -> list[tuple[str, str]]:
    """The last migration of each app by which a file was written; raises Inconsistent for one that is not known here."""
    ours = {(app, name) for app, _, name in (m.partition(".") for m in applied) if f"{app}." in OURS}
    unknown = ours - set(executor.loader.disk_migrations)
    if unknown:
        raise _refuse(NEWER, ".".join(min(unknown)))
    graph = executor.loader.graph
    return [key for key in sorted(ours) if not any(child.key in ours and child.key[0] == key[0] for child in graph.node_map[key].children)]


def _rows(packed: zipfile.ZipFile, name: str) -> Iterator[dict[str, Any]]:
    with packed.open(f"{ROWS}/{name}.jsonl") as member:
        while line := member.readline(MOST_LINE):
            yield json.loads(line)


def fill(file: Path) -> int:
    """Fill the database of this process, which is a new one: as it was when the file was written, then brought up to date. Gives the rows.

    Raises Inconsistent where a row cannot be.
    """
    said = manifest_of(file)
    executor = MigrationExecutor(connection)
    targets = _targets(executor, said["migrations"])
    executor.migrate([*targets, *(key for key in executor.loader.graph.leaf_nodes() if f"{key[0]}." not in OURS)])
    state = MigrationExecutor(connection).loader.project_state(targets).apps
    rows = 0
    at = ""
    try:
        with transaction.atomic(), zipfile.ZipFile(file) as packed:
            for name in said["counts"]:
                at = name
                model = state.get_model(*name.split("."))
                model._base_manager.all().delete()  # what a migration puts into a new database is in the file too
                batch = []
                for row in _rows(packed, name):
                    batch.append(row_back(model, row))
                    rows += 1
                    if len(batch) == AT_ONCE:
                        model._base_manager.bulk_create(batch)
                        batch = []
                model._base_manager.bulk_create(batch)
            at = ""
            connection.check_constraints()
    except (IntegrityError, ValidationError, ValueError, TypeError, LookupError, AttributeError) as error:
        raise _refuse(say("The file is damaged: {at} does not fit the others ({error}).", at=at or "a row", error=error), at) from error
    if rows != sum(said["counts"].values()):
        raise _refuse(say("The file is damaged: it has not as many rows as it says."), rows)
    MigrationExecutor(connection).migrate(executor.loader.graph.leaf_nodes())
    moved = int(clock.now().timestamp())  # above any version that the empty book had: what was kept of it is stale
    Version.objects.bulk_create(Version(what=scope, number=moved) for scope in SCOPES)
    return rows


def is_empty(database: sqlite3.Connection) -> bool:
    """Whether nothing of a workshop is in a database: no vehicle, sheet, oil or record."""
    there = {name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    return all(table not in there or database.execute(f"SELECT 1 FROM {table} LIMIT 1").fetchone() is None for table in EMPTY)


def _refuse_full(database: Path) -> None:
    if database.exists():
        with sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=20) as there:
            if not is_empty(there):
                raise _refuse(say("There is a book here already: a whole book goes only into an empty one."), database.name)


def _fill_beside(file: Path, work: Path) -> int:
    """Fill a new database in a process of its own, so that nothing of it can touch the one that is served."""
    env = {**os.environ, "BARODEX_VAR": str(work), "BARODEX_DB": "new.sqlite3", "BARODEX_DEMO": ""}
    env["PYTHONPATH"] = os.pathsep.join(filter(None, (str(Path(__file__).resolve().parents[3]), env.get("PYTHONPATH", ""))))
    done = subprocess.run(
        [sys.executable, "-m", "barodex", "fill_book", str(file.resolve())], env=env, capture_output=True, text=True, check=False
    )
    if done.returncode:
        said = done.stderr.strip().splitlines()
        raise _refuse(said[-1].removeprefix("CommandError: ") if said else FOREIGN, file.name)
    return int(done.stdout.split()[-1])


def _photos(file: Path, to: Path) -> int:
    found = 0
    with zipfile.ZipFile(file) as packed:
        for name in packed.namelist():
            if name.startswith(f"{PHOTOS}/") and name.endswith(".jpg"):
                target = to / name
                target.parent.mkdir(parents=True, exist_ok=True)
                with packed.open(name) as source, target.open("wb") as out:
                    shutil.copyfileobj(source, out, PIECE)
                found += 0 if name.endswith("-small.jpg") else 1
    return found


def restore(file: Path, var: Path, database: Path) -> Restored:
    """Put a whole book into an installation whose book is empty. Nothing is half in: until all of it was read and proved the old one stands.

    People who could sign in to the empty one are gone with it; those of the file come back without passwords.

    Raises Inconsistent where there is a book already, and for a file that is broken, foreign or newer.
    """
    _refuse_full(database)
    said = manifest_of(file)
    var.mkdir(parents=True, exist_ok=True)
    for left in var.glob(f"{PART}*"):  # of one that was cut off
        shutil.rmtree(left, ignore_errors=True)
    work = var / f"{PART}{uuid.uuid4().hex}"
    work.mkdir()
    try:
        rows = _fill_beside(file, work)
        photos = _photos(file, work)
        new = work / "new.sqlite3"
        if database.exists():
            _refuse_full(database)  # somebody may have begun meanwhile
        if (work / PHOTOS).is_dir():  # first: a photo without its row is none, a row without its photo is half a book
            for path in sorted((work / PHOTOS).rglob("*.jpg")):
                target = var / path.relative_to(work)
                target.parent.mkdir(parents=True, exist_ok=True)
                path.replace(target)
        with sqlite3.connect(new) as filled, sqlite3.connect(database, timeout=60) as live:
            filled.backup(live)  # one transaction of SQLite's own
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return Restored(str(said["made"]), rows, photos)
