"""An old spreadsheet as a workshop keeps one: 25 vehicles, about 60 compartments, 150 past changes, with every kind of dirt. All invented.

It is written by hand of a plan, so that what it holds is known without asking the code under test: ``TRUE`` counts it.
"""

from __future__ import annotations

import datetime as dt
import io

from openpyxl import Workbook

TODAY = dt.date(2026, 6, 15)
KINDS = ("car", "van", "LKW", "4x4", "Motorrad")
BOXES = {
    "car": ("Getriebe", "Hinterachse"),
    "van": ("Gearbox", "Rear axle"),
    "LKW": ("Schaltgetriebe", "Verteilergetriebe", "Vorderachse", "Hinterachse"),
    "4x4": ("Gearbox", "Transfer case", "Front axle"),
    "Motorrad": ("Kardan",),
}
LITRES = {
    "Getriebe": 2.0,
    "Gearbox": 2.0,
    "Schaltgetriebe": 9.0,
    "Hinterachse": 1.8,
    "Rear axle": 1.8,
    "Vorderachse": 3.0,
    "Front axle": 1.5,
    "Verteilergetriebe": 3.0,
    "Transfer case": 1.4,
    "Kardan": 0.2,
}
HEADINGS = (
    "Fahrzeug",
    "Kennzeichen",
    "Fahrzeugart",
    "Aggregat",
    "Inhalt (L)",
    "Datum",
    "km-Stand",
    "Öl",
    "Abgelassen [L]",
    "Eingefüllt [L]",
    "Bemerkung",
)
VEHICLES = [(f"Wagen {k:02}", f"SK {k} Ä{k % 7}", KINDS[k % len(KINDS)]) for k in range(1, 26)]
PLACES = [(k, name, plate, kind, box) for k, (name, plate, kind) in enumerate(VEHICLES, 1) for box in BOXES[kind]]


def _comma(value: float) -> str:
    return f"{value:g}".replace(".", ",")


def _thousands(value: int) -> str:
    return f"{value:,}".replace(",", ".")


def changes() -> list[list[str]]:
    """The changes, row by row, vehicle after vehicle: three of every second compartment, two of the others."""
    rows = []
    for n, (k, name, plate, kind, box) in enumerate(PLACES):
        for turn in range(3 if n % 2 else 2):
            day = TODAY - dt.timedelta(days=1500 - 480 * turn + 3 * k)
            meter = 20_000 + 2_000 * k + 25_000 * turn
            litres = LITRES[box]
            said = day.strftime("%d.%m.%Y") if (k + turn) % 3 else day.isoformat()
            drained = "" if (n + turn) % 4 == 0 else _comma(round(litres * 0.97, 3))
            unit = " L" if n % 5 == 0 else ""
            rows.append(
                [
                    name,
                    plate,
                    kind,
                    box,
                    _comma(litres),
                    said,
                    _thousands(meter),
                    f"Plain {'80W-90' if litres != 2.0 else '75W-80'}",
                    drained,
                    _comma(litres) + unit,
                    "",
                ]
            )
    return rows


TRUE = {"vehicles": len(VEHICLES), "compartments": len(PLACES), "changes": len(changes())}


def dirty() -> list[list[str]]:
    """The rows as they stand: a title, an empty line, headings, changes with their dirt, a total."""
    rows = changes()
    for k in range(1, len(rows)):  # written once, meant for the rows below
        if rows[k][0] == PLACES[3][1] and rows[k - 1][0] in (rows[k][0], ""):
            rows[k][0] = rows[k][1] = ""
    rows[5][1] = rows[5][1].replace(" ", "")  # a plate without its spaces
    rows[7][1] = rows[7][1].lower()
    twice = list(rows[10])
    rows.insert(11, twice)  # the same again
    rows[20][5] = "31.02.2024"  # no such day
    early = next(k for k in range(30, 40) if rows[k + 1][3] == rows[k][3])
    rows[early][6] = rows[early][6] + ".0"  # a digit too many: ten times as far, and less again at the next change
    rows[40][9] = "19,0"  # far more than it holds
    rows[50][10] = "=SUMME(J2:J9)"  # a formula
    rows.insert(60, [""] * len(HEADINGS))
    rows[70][3] = "Dingsbums"  # nobody knows what that is
    title = [["Werkstatt Nord, Ölwechsel seit 2020"] + [""] * 10, [""] * 11]
    total = [["Summe", "", "", "", "", "", "", "", "", _comma(312.5), ""]]
    return [*title, list(HEADINGS), *rows, *total]


def as_csv(coding: str = "cp1252", mark: str = ";") -> bytes:
    """As a program of old wrote it."""
    lines = [mark.join(f'"{c}"' if mark in c else c for c in row) for row in dirty()]
    return "\r\n".join(lines).encode(coding)


def as_workbook() -> bytes:
    """As a workbook, with true dates and figures here and there, merged cells, and a second sheet of oils."""
    book = Workbook()
    sheet = book.active
    sheet.title = "Wechsel"
    for row in dirty():
        sheet.append(row)
    sheet.merge_cells("A1:K1")
    for r in range(4, sheet.max_row + 1):
        cell = sheet.cell(r, 6)
        if isinstance(cell.value, str) and len(cell.value) == 10 and cell.value[4] == "-":
            cell.value = dt.datetime.fromisoformat(cell.value)
    oils = book.create_sheet("Lager")
    for row in (
        ("Oil", "Family", "SAE", "API", "Container", "Size", "Left"),
        ("Plain 80W-90", "gear", "80W-90", "GL-5", "drum 1", "60 L", "41,5 L"),
        ("Plain 75W-80", "gear", "75W-80", "GL-4", "can", "5 L", ""),
    ):
        oils.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def large(rows: int = 10_000) -> bytes:
    """Many rows without dirt: a hundred vehicles, four compartments each."""
    lines = ["Vehicle,Vehicle type,Compartment,Capacity (L),Date,Odometer (km),Oil,Drained (L),Filled (L)"]
    boxes = ("Gearbox", "Transfer case", "Front axle", "Rear axle")
    for n in range(rows):
        vehicle, turn = n % 100, n // 400
        day = dt.date(2010, 1, 1) + dt.timedelta(days=turn * 200)
        lines.append(f"Fleet {vehicle:03},4x4,{boxes[n // 100 % 4]},2,{day.isoformat()},{10_000 + turn * 6_000},Plain 80W-90,1.95,2")
    return "\n".join(lines).encode()
