"""A file that is kept, read as it stands."""

from __future__ import annotations

import datetime as dt

from barodex.files.models import ImportRun

from .known import Known
from .rows import Read, Settings, read_file
from .tables import Table


def tables_of(run: ImportRun) -> tuple[Table, ...]:
    """The tables of a file as they were read."""
    return tuple(Table(t["name"], tuple(t["headings"]), tuple((line, tuple(cells)) for line, cells in t["rows"])) for t in run.tables)


def settings_of(run: ImportRun) -> list[Settings]:
    """How its tables are read."""
    return [Settings(**s) for s in run.ways]


def read_run(run: ImportRun, book: Known, today: dt.date) -> Read:
    """Its rows, held against the book."""
    return read_file(tables_of(run), settings_of(run), run.repairs, book, today)
