"""What moving in shows: a file with its columns, how it is read, and a page of its rows."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from barodex import clock
from barodex.accounts.names import alike

from .imports.columns import OF_KIND, WANTED
from .imports.drafts import Row
from .imports.known import known
from .imports.reading import read_run, settings_of, tables_of
from .models import ImportRun, KeptMapping

PAGE = 50
SAMPLES = 3
OPEN = ("problem", "doubt")


@dataclass(frozen=True)
class WantedView:
    """A figure that a column may hold: its name, what it is called, of what it is said, and its units."""

    name: str
    label: str
    of: str
    units: tuple[str, ...]


@dataclass(frozen=True)
class ColumnView:
    """A column of a table with some of what stands in it, and which figure it is read as (empty: none)."""

    heading: str
    samples: tuple[str, ...]
    figure: str


@dataclass(frozen=True)
class TableView:
    """A table and how it is read; ``asks``: what of it allows two readings (order of day and month)."""

    number: int
    name: str
    rows: int
    use: bool
    columns: tuple[ColumnView, ...]
    units: dict[str, str]
    order: str
    decimal: str
    asks: tuple[str, ...]


@dataclass(frozen=True)
class IssueView:
    """Something about a row: at which figure, and a sentence."""

    field: str
    message: str


@dataclass(frozen=True)
class CellView:
    """A cell as it is read, by its figure."""

    figure: str
    label: str
    text: str


@dataclass(frozen=True)
class RowView:
    """A row with what it becomes."""

    key: str
    table: int
    line: int
    state: str
    cells: tuple[CellView, ...]
    adds: tuple[str, ...]
    problems: tuple[IssueView, ...]
    doubts: tuple[IssueView, ...]
    reason: str


@dataclass(frozen=True)
class CountView:
    """How many of what."""

    what: str
    count: int


@dataclass(frozen=True)
class ImportView:
    """A file that is moved in: its tables, what it would bring, how its rows stand, and a page of them."""

    id: int
    name: str
    state: str
    by: str
    at: dt.datetime
    taken_at: dt.datetime | None
    undone_at: dt.datetime | None
    tables: tuple[TableView, ...]
    brings: tuple[CountView, ...]
    states: tuple[CountView, ...]
    rows: tuple[RowView, ...]
    matching: int
    mappings: tuple[str, ...]
    wanted: tuple[WantedView, ...]


@dataclass(frozen=True)
class ImportLine:
    """A file of the list."""

    id: int
    name: str
    state: str
    by: str
    at: dt.datetime
    counts: tuple[CountView, ...]


_BRINGS = ("vehicle", "compartment", "oil", "container", "change", "reading")
_KEPT_WORDS = {
    "vehicle": "vehicle",
    "compartment": "compartment",
    "lubricant": "oil",
    "container": "container",
    "oilrecord": "change",
    "reading": "reading",
    "specsheet": "sheet",
}


def imports() -> list[ImportLine]:
    """Every file that was begun, the newest first."""
    rows = ImportRun.objects.select_related("by").defer("tables", "repairs", "made", "ways")
    return [ImportLine(r.pk, r.name, r.state, r.by.shown_name, r.at, _kept(r.counts)) for r in rows]


def keys_of(run_id: int, state: str) -> list[str]:
    """The keys of all rows of a file that stand so."""
    run = ImportRun.objects.get(pk=run_id)
    if run.state != "draft":
        return []
    return [r.key for r in read_run(run, known(clock.today()), clock.today()).rows if r.state == state]


def _kept(counts: dict[str, int]) -> tuple[CountView, ...]:
    return tuple(CountView(word, counts[name]) for name, word in _KEPT_WORDS.items() if counts.get(name))


def _brings(rows: Iterable[Row]) -> tuple[CountView, ...]:
    """What the rows that count would bring; a reading comes with each change that says its meter."""
    named: dict[str, set[int]] = {k: set() for k in _BRINGS}
    for row in rows:
        if row.state != "new":
            continue
        for what, draft in (("vehicle", row.vehicle), ("compartment", row.box), ("oil", row.oil)):
            if draft is not None and draft.id is None:
                named[what].add(id(draft))
        for what, draft in (("container", row.container), ("change", row.change), ("reading", row.reading)):
            if draft is not None:
                named[what].add(id(draft))
    return tuple(CountView(k, len(v)) for k, v in named.items() if v)


def _row_view(row: Row) -> RowView:
    def said(issues: Iterable) -> tuple[IssueView, ...]:
        return tuple(IssueView(i.field, i.message) for i in issues)

    cells = tuple(CellView(f, WANTED[f].label, row.cells[f]) for f in WANTED if f in row.cells)
    return RowView(
        key=row.key,
        table=row.table,
        line=row.line,
        state=row.state,
        cells=cells,
        adds=tuple(row.adds),
        problems=said(row.problems),
        doubts=said(row.doubts),
        reason=row.reason,
    )


def import_view(run_id: int, state: str = "", offset: int = 0, search: str = "") -> ImportView:
    """A file as it stands, with a page of its rows: of a state, "open" for those that wait for an answer, or all."""
    run = ImportRun.objects.select_related("by").get(pk=run_id)
    tables, ways = tables_of(run), settings_of(run)
    draft = run.state == "draft"
    read = read_run(run, known(clock.today()), clock.today()) if draft else None
    rows = read.rows if read else []
    wanted = OPEN if state == "open" else (state,) if state else ()
    chosen = [
        r for r in rows if (not wanted or r.state in wanted) and (not search or any(alike(search) in alike(c) for c in r.cells.values()))
    ]
    asks = {(number, what) for number, what in (read.asks if read else ())}
    found = []
    for number, (table, way) in enumerate(zip(tables, ways, strict=True)):
        by_heading = {h: f for f, h in way.mapping.items()}
        columns = tuple(
            ColumnView(h, tuple(dict.fromkeys(c[k] for _, c in table.rows[:200] if c[k]))[:SAMPLES], by_heading.get(h, ""))
            for k, h in enumerate(table.headings)
        )
        mine = tuple(what for n, what in sorted(asks) if n == number)
        found.append(
            TableView(
                number=number,
                name=table.name,
                rows=len(table.rows),
                use=way.use,
                columns=columns,
                units=way.units,
                order=way.order,
                decimal=way.decimal,
                asks=mine,
            )
        )
    states = Counter(r.state for r in rows)
    return ImportView(
        id=run.pk,
        name=run.name,
        state=run.state,
        by=run.by.shown_name,
        at=run.at,
        taken_at=run.taken_at,
        undone_at=run.undone_at,
        tables=tuple(found),
        brings=_brings(rows) if draft else _kept(run.counts),
        states=tuple(CountView(k, n) for k, n in sorted(states.items())),
        rows=tuple(_row_view(r) for r in chosen[offset : offset + PAGE]),
        matching=len(chosen),
        mappings=tuple(KeptMapping.objects.values_list("name", flat=True)),
        wanted=tuple(WantedView(f, w.label, w.of, OF_KIND.get(w.kind, ())) for f, w in WANTED.items()),
    )
