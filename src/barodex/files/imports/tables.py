"""A file as rows of text: CSV in whatever coding and with whatever marks between the cells, or a workbook."""

from __future__ import annotations

import csv
import datetime as dt
import io
import zipfile
from dataclasses import dataclass
from typing import Any

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.words import say

MOST_BYTES = 8_000_000
MOST_UNPACKED = 120_000_000  # of a workbook, which is packed
MOST_ROWS, MOST_COLUMNS, MOST_CELL = 20_000, 80, 500
HEAD_WITHIN = 12  # the line with the headings stands among the first so many
DELIMITERS = ",;\t|"


@dataclass(frozen=True)
class Table:
    """A sheet of a file: its headings, and rows of text with the line where each stands; ``formula``: cells that hold one, by line and column."""

    name: str
    headings: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


def read_tables(name: str, content: bytes) -> tuple[Table, ...]:
    """Read a file as tables.

    Parameters
    ----------
    name, content : of the file

    Returns
    -------
    tuple of Table, those with nothing in them left out; an empty line is no row

    Raises
    ------
    OutOfRange : too large, too many rows or columns
    Inconsistent : no spreadsheet, damaged, or nothing in it
    """
    if not content.strip(b"\x00 \r\n\t\xff\xfe\xef\xbb\xbf"):
        raise Inconsistent(say("The file is empty."), field="file", value=name)
    if len(content) > MOST_BYTES:
        raise OutOfRange(
            say(
                "The file is {content:.0f} MB; at most {most_bytes:.0f} MB are read at once.",
                content=len(content) / 1000000.0,
                most_bytes=MOST_BYTES / 1000000.0,
            ),
            field="file",
            value=name,
        )
    sheets = _workbook(name, content) if content[:2] == b"PK" else [(name, _text_rows(name, content))]
    found = tuple(t for t in (_table(title, rows) for title, rows in sheets) if t is not None)
    if not found:
        raise Inconsistent(say("There is no row below a line of headings."), field="file", value=name)
    return found


def decoded(content: bytes) -> str:
    """The text of a file: UTF-8, UTF-16 with or without its mark, else Windows-1252."""
    if content[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return content.decode("utf-16")
    if content[:400].count(b"\x00") > len(content[:400]) // 4:
        return content.decode("utf-16-be" if content[:1] == b"\x00" else "utf-16-le")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


def _delimiter(text: str) -> str:
    """The mark that cuts the first lines into the same number of cells, as many as may be."""
    lines = [line for line in text.splitlines()[:40] if line.strip()]

    def fits(mark: str) -> tuple[int, int]:
        counts = [len(cells) for cells in csv.reader(lines, delimiter=mark)]
        usual = max(set(counts), key=counts.count) if counts else 1
        return (counts.count(usual) * (usual > 1), usual)

    return max(DELIMITERS, key=fits)


def _text_rows(name: str, content: bytes) -> list[tuple[int, list[str]]]:
    if content[:8] in (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", b"%PDF-1.4", b"%PDF-1.7"):
        raise Inconsistent(say("This is no CSV and no XLSX file: save it as one of them."), field="file", value=name)
    try:
        text = decoded(content)
        if "\x00" in text:
            raise Inconsistent(say("This is no text and no workbook: save it as CSV or XLSX."), field="file", value=name)
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=_delimiter(text))
        return [(reader.line_num, cells) for cells in reader]
    except (csv.Error, UnicodeDecodeError) as error:
        raise Inconsistent(say("This is not a CSV file: {error}.", error=error), field="file", value=name) from error


def _as_text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, dt.datetime):
        return value.date().isoformat()
    if isinstance(value, dt.date):
        return value.isoformat()
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)


def _workbook(name: str, content: bytes) -> list[tuple[str, list[tuple[int, list[str]]]]]:
    """The sheets of a workbook; what stands in a merged field counts for each of its cells. A formula is its own text."""
    try:
        packed = zipfile.ZipFile(io.BytesIO(content))
        if sum(i.file_size for i in packed.infolist()) > MOST_UNPACKED:
            raise OutOfRange(say("The workbook is too large once unpacked: split it."), field="file", value=name)
        book = load_workbook(io.BytesIO(content), data_only=False)
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, OSError, TypeError, EOFError) as error:
        raise Inconsistent(say("The workbook cannot be read: it is damaged, or no XLSX."), field="file", value=name) from error
    found = []
    for sheet in book.worksheets:
        if sheet.sheet_state != "visible":
            continue
        merged: dict[tuple[int, int], Any] = {}
        for area in sheet.merged_cells.ranges:
            first = sheet.cell(area.min_row, area.min_col).value
            if area.size["rows"] <= 1:
                continue  # a title over several columns is no value of each
            merged |= dict.fromkeys(((r, c) for row in area.rows for r, c in row), first)
        rows = []
        for r, cells in enumerate(sheet.iter_rows(values_only=True, max_col=MOST_COLUMNS + 1), 1):
            rows.append((r, [_as_text(merged.get((r, c), v)) for c, v in enumerate(cells, 1)]))
            if r > MOST_ROWS + HEAD_WITHIN:
                break
        found.append((sheet.title, rows))
    return found


def _is_value(text: str) -> bool:
    """Whether a cell holds a figure or a day, as headings seldom do."""
    return any(c.isdigit() for c in text) and sum(c.isalpha() for c in text) <= 3


def _table(name: str, rows: list[tuple[int, list[str]]]) -> Table | None:
    """A sheet below its headings: the first line that has the most words and no figures; a title above it is no row."""
    plain = [(line, [" ".join(c.split())[:MOST_CELL] for c in cells]) for line, cells in rows]
    filled = [(line, cells) for line, cells in plain if any(cells)]
    heads = [(k, sum(bool(c) for c in cells)) for k, (_, cells) in enumerate(filled[:HEAD_WITHIN]) if not any(_is_value(c) for c in cells)]
    if not heads:
        return None
    widest = max(n for _, n in heads)
    at = next(k for k, n in heads if n == widest)
    headings = [h or say("column {k}", k=k) for k, h in enumerate(filled[at][1], 1)]
    while (
        headings
        and headings[-1].startswith("column ")
        and not any(len(c) >= len(headings) and c[len(headings) - 1] for _, c in filled[at + 1 :])
    ):
        headings.pop()
    if len(headings) > MOST_COLUMNS:
        raise OutOfRange(
            say("More than {most_columns} columns: take out those that are not wanted.", most_columns=MOST_COLUMNS),
            field="file",
            value=name,
        )
    body = filled[at + 1 :]
    if len(body) > MOST_ROWS:
        raise OutOfRange(
            say("{body} rows; at most {most_rows} are read at once: split the file.", body=len(body), most_rows=MOST_ROWS),
            field="file",
            value=name,
        )
    width = len(headings)
    cut = tuple((line, tuple((cells + [""] * width)[:width])) for line, cells in body)
    return Table(name[:80], tuple(h[:80] for h in headings), cut) if cut and width else None
