"""The whole book written as one ZIP, piece by piece, as it stood at one moment."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection, models
from django.db.migrations.recorder import MigrationRecorder

from barodex import clock
from barodex.book.photos import folder
from barodex.core.words import say
from barodex.workshop.models import Workshop

from .changes import DONE
from .kept import kept_models, line_of, rows_of
from .stands import THERE
from .tables import Table, cell, package
from .zipped import Zipped, csv_pieces, file_pieces

FORMAT, VERSION = "barodex-book", 1
MANIFEST, PACKAGE, ROWS, TABLES, PHOTOS = "book.json", "datapackage.json", "rows", "tables", "photos"
READ_ME = say(
    "The book of a workshop, as Barodex keeps it.\n\ntables/     what a spreadsheet opens: one file a table, "
    "described in datapackage.json (a Tabular Data Package);\n            amounts in mL, temperatures in °C, "
    "distances in km; cells are apart by commas, words are UTF-8\nrows/       every row as it is kept, one "
    "JSON object a line; from these a book is restored:\n            python -m barodex restore FILE\nphotos/    "
    " the photos of services\nbook.json   what the file is, when it was made, and the SHA-256 of every other "
    "member\n\nPasswords are not in it: people come back by a one-time link.\n"
)
Progress = Callable[[str, int, int], None]


@contextmanager
def one_moment() -> Iterator[None]:
    """All that is read inside is of one moment, while others go on writing."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")  # not Django's atomic: that would hold the write lock as long as somebody downloads
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("ROLLBACK")


def tables() -> tuple[Table, ...]:
    """Every table, those that others name before them."""
    return (*THERE, *DONE)


def migrations() -> list[str]:
    """How far the database was brought, by its own record."""
    return sorted(f"{app}.{name}" for app, name in MigrationRecorder(connection).applied_migrations())


def _lines(model: type[models.Model], counts: dict[str, int]) -> Iterator[bytes]:
    name = model._meta.label_lower
    counts[name] = 0
    for row in rows_of(model):
        counts[name] += 1
        yield line_of(row)


def whole_book(progress: Progress = lambda *_: None) -> Iterator[bytes]:
    """The file, in pieces; ``progress`` is told what is being written, and how much of how much."""
    with one_moment():
        yield from _pieces(progress)


def _pieces(progress: Progress) -> Iterator[bytes]:
    made = clock.now()
    out, counts = Zipped(made), {}
    models_, tables_ = kept_models(), tables()
    photos = _photos()
    steps = len(models_) + len(tables_) + len(photos)
    done = 0

    def tell(what: str) -> None:
        nonlocal done
        progress(what, done, steps)
        done += 1

    own = Workshop.objects.first()
    title = say("The book of {own}", own=own.name) if own and own.name else say("The book of a workshop")
    with_paths = [(t, f"{TABLES}/{t.name}.csv") for t in tables_]
    yield from out.add("README.txt", [READ_ME.encode()])
    yield from out.add(PACKAGE, [_json(package(with_paths, made.isoformat(), title))])
    for t, path in with_paths:
        tell(t.title)
        yield from out.add(path, csv_pieces(t.headings, t.rows(), cell))
    for model in models_:
        tell(str(model._meta.verbose_name))
        yield from out.add(f"{ROWS}/{model._meta.label_lower}.jsonl", _lines(model, counts))
    for path in photos:
        tell("photo")
        yield from out.add(f"{PHOTOS}/{path.parent.name}/{path.name}", file_pieces(path), packed=False)
    manifest = {
        "format": FORMAT,
        "version": VERSION,
        "made": made.isoformat(),
        "migrations": migrations(),
        "counts": counts,
        "members": dict(sorted(out.digests.items())),
    }
    yield from out.add(MANIFEST, [_json(manifest)])
    yield out.end()
    progress("done", steps, steps)


def _photos() -> list[Path]:
    """The photos as files; beside the database, so none of them is newer than a moment that matters: a row names each."""
    return sorted(p for p in folder().glob("*/*.jpg")) if Path(settings.VAR, PHOTOS).is_dir() else []


def _json(made: dict[str, Any]) -> bytes:
    return json.dumps(made, ensure_ascii=False, indent=1).encode() + b"\n"
