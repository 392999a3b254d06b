"""A spreadsheet to begin from: one table with a row for each past change, every cell invented."""

from __future__ import annotations

import csv
import datetime as dt
import io

from openpyxl import Workbook

HEADINGS = (
    "Vehicle",
    "Plate",
    "Vehicle type",
    "Compartment",
    "Capacity (L)",
    "Grade",
    "Date",
    "Odometer (km)",
    "Oil",
    "Drained (L)",
    "Filled (L)",
    "Notes",
)
_ROWS = (
    ("Yard van", "SK 4 YV", "van", "Gearbox", "1.9", "75W-80", 900, "41200", "Plain 75W-80", "1.8", "1.9", "first change"),
    ("Yard van", "SK 4 YV", "van", "Gearbox", "1.9", "75W-80", 200, "78900", "Plain 75W-80", "1.85", "1.9", ""),
    (
        "Quay 4x4",
        "SK 9 QF",
        "4x4",
        "Rear axle",
        "2.1",
        "80W-90",
        400,
        "60150",
        "Plain 80W-90",
        "2.0",
        "2.1",
        "a little paste on the magnet",
    ),
)


def example_rows(today: dt.date) -> list[tuple[str, ...]]:
    """The rows, with days before today."""
    return [tuple((today - dt.timedelta(days=c)).isoformat() if isinstance(c, int) else c for c in row) for row in _ROWS]


def as_csv(today: dt.date) -> bytes:
    """As CSV, with the mark by which a spreadsheet knows UTF-8."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEADINGS)
    writer.writerows(example_rows(today))
    return out.getvalue().encode("utf-8-sig")


def as_workbook(today: dt.date) -> bytes:
    """As a workbook."""
    book = Workbook()
    sheet = book.active
    sheet.title = "Changes"
    sheet.append(HEADINGS)
    for row in example_rows(today):
        sheet.append(row)
    for k, heading in enumerate(HEADINGS, 1):
        sheet.column_dimensions[sheet.cell(1, k).column_letter].width = max(12, len(heading) + 2)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
