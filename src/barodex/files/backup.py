"""A backup of everything that an installation keeps, in one file, made while it serves; and its way back into an empty one.

Copying the database file alone loses what was acknowledged last: it lies in the write-ahead log beside it. SQLite's own backup sees both.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import uuid
import zipfile
from dataclasses import dataclass
from pathlib import Path

from django.db.migrations.loader import MigrationLoader

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

FORM = 1  # of a backup; raised when an older program could not read it
DATABASE, MANIFEST, KEY, PHOTOS = "barodex.sqlite3", "manifest.json", "secret-key", "photos"
PREFIX, PART = "barodex-", ".part-"
PIECE = 1 << 20


@dataclass(frozen=True)
class Made:
    """A backup: its file, how many bytes, how many photos."""

    path: Path
    size: int
    photos: int


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _sound(database: Path) -> list[str]:
    """The migrations of a database; raises Inconsistent where it is damaged."""
    try:
        with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as db:
            if db.execute("PRAGMA integrity_check").fetchone() != ("ok",):
                raise Inconsistent(say("The database in it is damaged."), field="file", value=str(database))
            return [f"{app}.{name}" for app, name in db.execute("SELECT app, name FROM django_migrations ORDER BY id")]
    except sqlite3.DatabaseError as error:
        raise Inconsistent(say("The database in it is damaged, or is none of Barodex."), field="file", value=str(database)) from error


def _copy_database(source: Path, to: Path) -> None:
    """SQLite's own backup: it waits for nobody and sees all that was acknowledged."""
    with sqlite3.connect(f"file:{source}?mode=ro", uri=True, timeout=60) as live, sqlite3.connect(to) as copy:
        live.backup(copy, pages=4096)
        copy.execute("PRAGMA journal_mode=DELETE")


def backup(var: Path, database: Path, folder: Path, keep: int = 0) -> Made:
    """Write a backup into a folder, read it again, and only then give it its name; of the older ones ``keep`` stay (0: all).

    Raises Inconsistent where there is nothing to back up, or what was written does not read back.
    """
    if not database.exists():
        raise Inconsistent(say("There is no database at {database}.", database=database), field="database", value=str(database))
    folder.mkdir(parents=True, exist_ok=True)
    for left in folder.glob(f"{PART}*"):  # of one that was cut off
        shutil.rmtree(left, ignore_errors=True)
    work = folder / f"{PART}{uuid.uuid4().hex}"
    work.mkdir()
    try:
        copy, packed = work / DATABASE, work / "backup.zip"
        _copy_database(database, copy)
        pictures = sorted(p for p in (var / PHOTOS).rglob("*") if p.is_file()) if (var / PHOTOS).is_dir() else []
        parts = [(DATABASE, copy), *((str(p.relative_to(var)), p) for p in pictures)]
        if (var / KEY).exists():
            parts.append((KEY, var / KEY))
        digests = {name: _digest(path) for name, path in parts}
        manifest = {"form": FORM, "made": clock.now().isoformat(), "migrations": _sound(copy), "parts": digests}
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as file:
            for name, path in parts:
                file.write(path, name, zipfile.ZIP_STORED if name.startswith(PHOTOS) else zipfile.ZIP_DEFLATED)
            file.writestr(MANIFEST, json.dumps(manifest))
        _unpack(packed, work / "read-again")
        made = folder / f"{PREFIX}{clock.now():%Y%m%d-%H%M%S-%f}.zip"
        with packed.open("rb") as file:
            os.fsync(file.fileno())
        packed.rename(made)
    finally:
        shutil.rmtree(work, ignore_errors=True)
    if keep > 0:
        for old in sorted(folder.glob(f"{PREFIX}*.zip"))[:-keep]:
            old.unlink()
    return Made(made, made.stat().st_size, len(pictures))


def _unpack(file: Path, to: Path) -> dict[str, object]:
    """Unpack a backup and hold every part against what it was; raises Inconsistent for one that is damaged, foreign or newer."""
    to.mkdir()
    try:
        with zipfile.ZipFile(file) as packed:
            manifest = json.loads(packed.read(MANIFEST))
            parts: dict[str, str] = manifest["parts"]
            form = manifest["form"]
            if form > FORM:
                raise Inconsistent(say("This backup was made by a newer Barodex: upgrade first."), field="file", value=str(file))
            for name, digest in parts.items():
                target = (to / name).resolve()
                if not target.is_relative_to(to.resolve()):
                    raise Inconsistent(say("This is no backup of Barodex: it would write elsewhere."), field="file", value=name)
                target.parent.mkdir(parents=True, exist_ok=True)
                with packed.open(name) as source, target.open("wb") as out:
                    shutil.copyfileobj(source, out, PIECE)
                if _digest(target) != digest:
                    raise Inconsistent(say("The backup is damaged: {name} is not what it was.", name=name), field="file", value=name)
    except (zipfile.BadZipFile, KeyError, ValueError, EOFError, OSError, TypeError) as error:
        if isinstance(error, Inconsistent):
            raise
        raise Inconsistent(say("This is no backup of Barodex, or it is damaged."), field="file", value=str(file)) from error
    _sound(to / DATABASE)
    return manifest


def restore_backup(file: Path, var: Path, database: Path) -> dict[str, object]:
    """Put a backup into an installation that has no database yet; nothing is in its place before all of it was read and held to be sound.

    Raises Inconsistent where there is a database already, and for a backup that is damaged, foreign or newer.
    """
    if database.exists():
        raise Inconsistent(
            say("There is a database already at {database}: give an empty folder.", database=database),
            field="database",
            value=str(database),
        )
    var.mkdir(parents=True, exist_ok=True)
    work = var / f"{PART}{uuid.uuid4().hex}"
    try:
        manifest = _unpack(file, work)
        known = {f"{app}.{name}" for app, name in MigrationLoader(None).disk_migrations}
        newer = [m for m in manifest["migrations"] if m.startswith(OURS) and m not in known]  # type: ignore[attr-defined]
        if newer:
            raise Inconsistent(say("This backup was made by a newer Barodex: upgrade first."), field="file", value=newer[0])
        if (work / KEY).exists():
            (work / KEY).chmod(0o600)
            (work / KEY).replace(var / KEY)
        if (work / PHOTOS).is_dir():
            shutil.rmtree(var / PHOTOS, ignore_errors=True)
            (work / PHOTOS).rename(var / PHOTOS)
        (work / DATABASE).rename(database)  # last: without it the installation is still an empty one
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return manifest


OURS = ("memory.", "accounts.", "workshop.", "shelf.", "fleet.", "book.", "plan.", "bay.", "devices.", "files.", "demo.")
