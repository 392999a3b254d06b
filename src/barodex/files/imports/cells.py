"""Cells as values: days in the usual ways to write them, figures with their marks and units."""

from __future__ import annotations

import datetime as dt
import functools
import re
from collections.abc import Iterable

from barodex import clock
from barodex.core.quantity.errors import CoreError, Inconsistent, Unreadable
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.words import say

from .columns import UNIT_OF, plain

ORDERS = ("day first", "month first")
_ISO = re.compile(r"^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:[T ].*)?$")
_PARTS = re.compile(r"^(\d{1,2})\s*([./-])\s*(\d{1,2})\s*\2\s*(\d{2}|\d{4})$")
_NAMED = re.compile(r"^(\d{1,2})[. ]\s*([^\W\d]+)\.?,?\s+(\d{4})$|^([^\W\d]+)\.?\s+(\d{1,2}),?\s+(\d{4})$")
_MONTHS = {
    **{m: k for k, m in enumerate(["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"], 1)},
    **{
        "maerz": 3,
        "marz": 3,
        "mai": 5,
        "okt": 10,
        "dez": 12,
        "fev": 2,
        "avr": 4,
        "juin": 6,
        "juil": 7,
        "aou": 8,
        "ene": 1,
        "abr": 4,
        "ago": 8,
        "dic": 12,
        "mrt": 3,
        "mei": 5,
    },
}
FORMULA = say("A formula is not read: put its result there.")


def is_formula(text: str) -> bool:
    """Whether a spreadsheet would run a cell."""
    return text[:1] in ("=", "@") or (text[:1] == "+" and any(c.isalpha() for c in text))


def order_of(values: Iterable[str]) -> str:
    """How the days of a column are written: by those that can be read in one way alone; empty where all of them allow both."""
    can = set(ORDERS)
    both = False
    for value in values:
        m = _PARTS.match(value.strip())
        if m is None or m[2] == ".":
            continue
        both = True
        if int(m[1]) > 12:
            can.discard("month first")
        if int(m[3]) > 12:
            can.discard("day first")
    if not both or len(can) == 2:
        return "" if both else ORDERS[0]
    return can.pop() if can else ""


def _year(text: str) -> int:
    """A year of two digits is of this century, unless that lies ahead."""
    if len(text) == 4:
        return int(text)
    return 2000 + int(text) if int(text) <= clock.today().year % 100 + 1 else 1900 + int(text)


def read_day(text: str, order: str) -> dt.date:
    """A day as it stands in a cell: year first, with dots day first, else in the order that the column has."""
    said = text.strip()
    if is_formula(said):
        raise Unreadable(FORMULA, field="on", value=said)
    try:
        if m := _ISO.match(said):
            return dt.date(int(m[1]), int(m[2]), int(m[3]))
        if m := _PARTS.match(said):
            first, second = int(m[1]), int(m[3])
            if m[2] != "." and not order:
                raise Inconsistent(say("Day or month first? The column allows both."), field="on", value=said)
            day, month = (second, first) if m[2] != "." and order == "month first" else (first, second)
            return dt.date(_year(m[4]), month, day)
        if m := _NAMED.match(said):
            day, name, year = (m[1], m[2], m[3]) if m[1] else (m[5], m[4], m[6])
            letters = plain(name)
            month = _MONTHS.get(letters) or _MONTHS.get(letters[:4]) or _MONTHS.get(letters[:3])
            if month:
                return dt.date(int(year), month, int(day))
        if re.fullmatch(r"\d{5}(\.\d+)?", said):  # a day that a spreadsheet counts, from 30 December 1899
            return dt.date(1899, 12, 30) + dt.timedelta(days=int(float(said)))
    except CoreError:
        raise
    except ValueError as error:
        raise Unreadable(say("“{said}” is no day of the calendar.", said=said), field="on", value=said) from error
    raise Unreadable(say("“{said}” is not read as a day: write such as 2026-03-09.", said=said), field="on", value=said)


_FIGURE = re.compile(r"^([+-]?[\d.,'’ \u00a0\u202f]*\d)\s*([^\d]*)$")


def decimal_of(values: Iterable[str]) -> str:
    """The mark before the decimals of a column, by cells that can be read in one way alone; empty where none can."""
    votes = {",": 0, ".": 0}
    for value in values:
        m = _FIGURE.match(value.strip())
        if m is None:
            continue
        digits = m[1]
        comma, dot = digits.rfind(","), digits.rfind(".")
        if comma >= 0 and dot >= 0:
            votes["," if comma > dot else "."] += 3
        elif comma >= 0 or dot >= 0:
            mark, other = (",", ".") if comma >= 0 else (".", ",")
            tail = len(digits) - 1 - max(comma, dot)
            if digits.count(mark) > 1:
                votes[other] += 3
            elif tail != 3:
                votes[mark] += 2
    return max(votes, key=votes.__getitem__) if votes[","] != votes["."] else ""


@functools.lru_cache(maxsize=200)
def _factor(unit: str, kind: str) -> float:
    """What one of a unit is in the canonical unit of its kind."""
    return parse_quantity(f"1000 {unit}", kind) / 1000


def read_figure(text: str, kind: str, unit: str, decimal: str) -> float:
    """A figure with its marks: in the unit that stands in its cell, else in ``unit``; ``decimal`` is the column's mark.

    Raises Unreadable for what is none, Inconsistent where the marks allow two figures, OutOfRange below zero.
    """
    said = text.strip().lstrip("'’")
    if is_formula(said):
        raise Unreadable(FORMULA, field=kind, value=said)
    m = _FIGURE.match(said)
    if m is None:
        raise Unreadable(say("“{text}” is not read as a figure.", text=text.strip()[:40]), field=kind, value=text.strip()[:40])
    digits, behind = re.sub(r"['’ \u00a0\u202f]", "", m[1]), m[2].strip()
    written = UNIT_OF.get(plain(behind), "") if behind else unit
    if behind and not written:
        return parse_quantity(f"{digits} {behind}", kind)  # a unit of its own kind, read as anybody types it
    marks = [c for c in digits if c in ",."]
    if len(set(marks)) == 2:
        decimal = marks[-1]
    elif len(marks) > 1:
        decimal = "." if marks[0] == "," else ","
    elif marks and len(digits) - 1 - digits.index(marks[0]) == 3 and not decimal:
        if kind in ("distance", "engine_hours"):
            decimal = "." if marks[0] == "," else ","  # nobody reads a meter to a thousandth
        else:
            raise Inconsistent(
                say("“{said}”: thousands or decimals? Say which mark stands before the decimals.", said=said), field=kind, value=said
            )
    elif marks and not decimal:
        decimal = marks[0]
    if decimal:
        digits = digits.replace("." if decimal == "," else ",", "").replace(decimal, ".")
    try:
        value = float(digits) * (_factor(written, kind) if written else 1.0)
    except (ValueError, CoreError) as error:
        raise Unreadable(say("“{text}” is not read as a figure.", text=text.strip()[:40]), field=kind, value=text.strip()[:40]) from error
    if value < 0:
        raise Unreadable(say("“{text}” lies below zero.", text=text.strip()[:40]), field=kind, value=text.strip()[:40])
    return round(value, 3)
