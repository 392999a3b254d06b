"""The tables of a whole book: what a spreadsheet opens, described as a Tabular Data Package."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from barodex.core.quantity.working import is_fine
from barodex.files.plain import plain_cell

Rows = Callable[[], Iterator[tuple[Any, ...]]]


@dataclass(frozen=True)
class Column:
    """A column: its heading, which carries its unit (``_ml``, ``_km``, ``_c``), its type by Table Schema, and what it says."""

    heading: str
    kind: str = "string"
    says: str = ""


@dataclass(frozen=True)
class Refers:
    """Columns that name a row of another table."""

    columns: tuple[str, ...]
    table: str
    theirs: tuple[str, ...]


@dataclass(frozen=True)
class Table:
    """A table of the package: its rows are made when they are asked for, a few at a time."""

    name: str
    title: str
    columns: tuple[Column, ...]
    rows: Rows
    key: tuple[str, ...]
    refers: tuple[Refers, ...] = ()

    @property
    def headings(self) -> tuple[str, ...]:
        """The heading row."""
        return tuple(c.heading for c in self.columns)

    def resource(self, path: str) -> dict[str, Any]:
        """Its description in ``datapackage.json``."""
        fields = [
            {"name": c.heading, "type": c.kind}
            | ({"description": c.says} if c.says else {})
            | ({"format": "default"} if c.kind == "date" else {})
            for c in self.columns
        ]
        schema: dict[str, Any] = {"fields": fields, "primaryKey": list(self.key), "missingValues": [""]}
        if self.refers:
            schema["foreignKeys"] = [
                {"fields": list(r.columns), "reference": {"resource": r.table, "fields": list(r.theirs)}} for r in self.refers
            ]
        return {
            "name": self.name,
            "title": self.title,
            "path": path,
            "profile": "tabular-data-resource",
            "format": "csv",
            "mediatype": "text/csv",
            "encoding": "utf-8-sig",
            "schema": schema,
        }


def text(*headings: str) -> tuple[Column, ...]:
    """Columns of words."""
    return tuple(Column(h) for h in headings)


def number(heading: str, says: str = "") -> Column:
    """A column of numbers in the unit of its heading."""
    return Column(heading, "number", says)


def shown_ml(volume_ml: float | None) -> float | int | None:
    """An amount as the screens show it: whole millilitres, a small one that was measured finer with its tenth."""
    if volume_ml is None:
        return None
    return round(volume_ml, 1) if is_fine(volume_ml) else round(volume_ml)


def by_meter(meter: str, value: float | None) -> tuple[float | None, float | None]:
    """A meter value as km and as h, of which one is empty."""
    shown = None if value is None else round(value, 1)
    shown = int(shown) if shown is not None and shown == int(shown) else shown
    return (shown, None) if meter == "km" else (None, shown)


def cell(value: Any) -> Any:
    """A cell as CSV writes it: no words that a spreadsheet would run, yes and no as Table Schema has them."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float) and value.is_integer():
        return int(value)
    if isinstance(value, str):
        return plain_cell(" ".join(value.split()))
    if isinstance(value, (list, tuple)):
        return plain_cell("; ".join(str(v) for v in value))
    if hasattr(value, "isoformat"):
        return value.isoformat()
    return value


def package(tables: Iterable[tuple[Table, str]], made: str, title: str) -> dict[str, Any]:
    """The description of the whole package, each table with its path."""
    return {
        "profile": "tabular-data-package",
        "name": "barodex-book",
        "title": title,
        "created": made,
        "resources": [t.resource(path) for t, path in tables],
    }
