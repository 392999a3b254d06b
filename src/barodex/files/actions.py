"""Changes that moving in makes: a file that is begun, read anew, taken in, undone, dropped; mappings that are kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.memory.versions import SHELF, newest

from .imports.cells import ORDERS
from .imports.columns import OF_KIND, WANTED
from .imports.drafts import Row
from .imports.known import known
from .imports.progress import forget, teller
from .imports.reading import read_run
from .imports.rows import first_settings
from .imports.tables import read_tables
from .imports.undoing import everything_of, refuse_if_something_stands_on_it, take_out, vehicles_of
from .imports.writing import write_rows
from .models import ImportRun, KeptMapping


@transaction.atomic
def begin_import(by: Person, name: str, content: bytes) -> ImportRun:
    """Read a file as tables and map its headings as far as they speak for themselves; nothing of it is in the book yet."""
    require(by, "lead")
    tables = read_tables(name, content)
    run = ImportRun.objects.create(
        name=name[:120], tables=[asdict(t) for t in tables], ways=[asdict(first_settings(t)) for t in tables], by=by, at=clock.now()
    )
    audit(by, "spreadsheet read", run, (), name=run.name, rows=sum(len(t.rows) for t in tables))
    return run


def _draft(run_id: int) -> ImportRun:
    run = ImportRun.objects.select_for_update().get(pk=run_id)
    if run.state != "draft":
        raise Inconsistent(
            say("This file was taken in already.") if run.state == "taken" else say("This import was undone."), field="import", value=""
        )
    return run


def _check_settings(run: ImportRun, number: int, changes: dict[str, Any]) -> None:
    if not 0 <= number < len(run.tables):
        raise Inconsistent(say("The file has no such table."), field="table", value=number)
    headings = run.tables[number]["headings"]
    for figure, heading in changes.get("mapping", {}).items():
        if figure not in WANTED:
            raise Inconsistent(
                say("No figure “{figure}”.", figure=figure), field=f"mapping.{figure}", value=figure, allowed=", ".join(WANTED)
            )
        if heading and heading not in headings:
            raise Inconsistent(say("The table has no column “{heading}”.", heading=heading), field=f"mapping.{figure}", value=heading)
    for figure, unit in changes.get("units", {}).items():
        allowed = OF_KIND.get(WANTED[figure].kind, ()) if figure in WANTED else ()
        if unit and unit not in allowed:
            raise Inconsistent(
                say("“{unit}” is no unit of it.", unit=unit), field=f"units.{figure}", value=unit, allowed=", ".join(allowed)
            )
    if changes.get("order") and changes["order"] not in ORDERS:
        raise Inconsistent(say("Day or month first."), field="order", value=changes["order"], allowed=", ".join(ORDERS))
    if changes.get("decimal") and changes["decimal"] not in (",", "."):
        raise Inconsistent(say("A comma or a point stands before decimals."), field="decimal", value=changes["decimal"])


@transaction.atomic
def map_import(by: Person, run_id: int, number: int, changes: dict[str, Any]) -> ImportRun:
    """Say how a table is read: which heading is what, units, order of day and month, mark before decimals; or that it is left out."""
    require(by, "lead")
    run = _draft(run_id)
    _check_settings(run, number, changes)
    now = run.ways[number]
    if "mapping" in changes:
        merged = {**now["mapping"], **changes["mapping"]}
        taken = {h for h in changes["mapping"].values() if h}
        # One heading holds one figure: what is chosen now wins.
        merged = {f: h for f, h in merged.items() if h and (f in changes["mapping"] or h not in taken)}
        changes = {**changes, "mapping": merged}
    if "units" in changes:
        changes = {**changes, "units": {**now["units"], **changes["units"]}}
    run.ways[number] = {**now, **changes}
    run.save(update_fields=["ways"])
    return run


@transaction.atomic
def use_mapping(by: Person, run_id: int, number: int, name: str) -> ImportRun:
    """Read a table by a mapping that was kept."""
    require(by, "lead")
    run = _draft(run_id)
    kept = KeptMapping.objects.filter(name=name).first()
    if kept is None:
        raise Inconsistent(say("No mapping “{name}” is kept.", name=name), field="name", value=name)
    headings = {h.casefold(): h for h in run.tables[number]["headings"]}
    mapping = {f: headings[h.casefold()] for f, h in kept.mapping.items() if h.casefold() in headings}
    if not mapping:
        raise Inconsistent(say("None of the headings of “{name}” stands in this table.", name=name), field="name", value=name)
    run.ways[number] |= {"mapping": mapping, "units": kept.units, "order": kept.order, "decimal": kept.decimal}
    run.save(update_fields=["ways"])
    return run


@transaction.atomic
def keep_mapping(by: Person, run_id: int, number: int, name: str) -> KeptMapping:
    """Keep how a table is read, by a name; one of that name is written anew."""
    require(by, "lead")
    run = ImportRun.objects.get(pk=run_id)
    if len(name.strip()) < 2:
        raise Inconsistent(say("Give the mapping a name."), field="name", value=name)
    s = run.ways[number]
    values = {k: s[k] for k in ("mapping", "units", "order", "decimal")}
    kept, _ = KeptMapping.objects.update_or_create(name=name.strip()[:60], defaults={**values, "by": by, "at": clock.now()})
    audit(by, "mapping kept", kept, (), name=kept.name)
    return kept


@transaction.atomic
def repair_rows(by: Person, run_id: int, repairs: dict[str, dict[str, Any]]) -> ImportRun:
    """Put cells of rows right, skip them, or give the reason why they are so all the same; an empty repair takes one back."""
    require(by, "lead")
    run = _draft(run_id)
    lines = {f"{n}.{line}" for n, t in enumerate(run.tables) for line, _ in t["rows"]}
    for key, fix in repairs.items():
        if key not in lines:
            raise Inconsistent(say("The file has no line {key}.", key=key), field="repairs", value=key)
        for figure, cell in (fix.get("cells") or {}).items():
            if figure not in WANTED or len(str(cell)) > 500:
                raise Inconsistent(say("No figure “{figure}” is put right so.", figure=figure), field="repairs", value=figure)
        merged = {**run.repairs.get(key, {}), **fix}
        if fix.get("cells"):
            merged["cells"] = {**run.repairs.get(key, {}).get("cells", {}), **fix["cells"]}
        kept = {k: v for k, v in merged.items() if v}
        run.repairs.pop(key, None)
        if fix and kept:
            run.repairs[key] = kept
    run.save(update_fields=["repairs"])
    return run


def _counts(rows: list[Row], made: dict[str, list[int]]) -> dict[str, int]:
    counts = {label.split(".")[1].lower(): len(ids) for label, ids in made.items()}
    for row in rows:
        counts[row.state] = counts.get(row.state, 0) + 1
    return counts


def take_in(by: Person, run_id: int) -> ImportRun:
    """Take in all that counts, in one transaction; refused while a row wants repair or a reason.

    The file is read before the transaction, so that others go on meanwhile; where the book moved since, it is read again inside.
    """
    require(by, "lead")
    tell = teller(run_id)
    try:
        return _taken(by, run_id, tell)
    finally:
        forget(run_id)


def _taken(by: Person, run_id: int, tell: Callable[[float], None]) -> ImportRun:
    run = ImportRun.objects.get(pk=run_id)
    tell(0.02)
    book = known(clock.today())
    read = read_run(run, book, clock.today())
    with transaction.atomic():
        run = _draft(run_id)
        if newest() != book.version:
            book = known(clock.today())
            read = read_run(run, book, clock.today())
        open_rows = [r for r in read.rows if r.state in ("problem", "doubt")]
        if open_rows or read.asks:
            first = open_rows[0] if open_rows else None
            where = (
                say("line {line}: {message}", line=first.line, message=(first.problems or first.doubts)[0].message)
                if first
                else say("a column allows two readings.")
            )
            raise Inconsistent(
                say("{open_rows} to be answered first, {where}", open_rows=len(open_rows) or 1, where=where), field="import", value=""
            )
        rows = [r for r in read.rows if r.state == "new"]
        if not rows:
            raise Inconsistent(say("There is nothing in it that the book does not have."), field="import", value="")
        made = write_rows(by, rows, book, run.name, lambda share: tell(0.2 + 0.8 * share))
        run.state, run.taken_at, run.made, run.counts = "taken", clock.now(), made, _counts(read.rows, made)
        run.save(update_fields=["state", "taken_at", "made", "counts"])
        audit(by, "spreadsheet taken in", run, {SHELF, *{r.vehicle.id for r in rows if r.vehicle and r.vehicle.id}}, **run.counts)
    return run


@transaction.atomic
def undo_import(by: Person, run_id: int) -> ImportRun:
    """Take an import back as a whole; refused as soon as something stands on what it brought."""
    require(by, "lead")
    run = ImportRun.objects.select_for_update().get(pk=run_id)
    if run.state != "taken":
        raise Inconsistent(say("Only what was taken in can be undone."), field="import", value="")
    found = everything_of(run.made)
    refuse_if_something_stands_on_it(found, run.made, run.taken_at or run.at)
    vehicles = vehicles_of(found)
    take_out(found)
    run.state, run.undone_at, run.made = "undone", clock.now(), {}
    run.save(update_fields=["state", "undone_at", "made"])
    audit(by, "import undone", run, {SHELF, *vehicles}, name=run.name)
    return run


@transaction.atomic
def drop_import(by: Person, run_id: int) -> None:
    """Let a file go that was not taken in."""
    require(by, "lead")
    run = _draft(run_id)
    audit(by, "spreadsheet dropped", run, (), name=run.name)
    run.delete()
