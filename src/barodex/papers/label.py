"""Labels for cases: which oil, how much, when, when again, to what torque, and a code that leads to the box wherever it is fitted.

A label is laid out once, in millimetres, and drawn as PDF and as PNG from that.
"""

from __future__ import annotations

import functools
import io
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

import reportlab
import segno
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from barodex.book.models import OilRecord
from barodex.book.queries import RECORDS, record_views
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.quantity.quantity import format_quantity
from barodex.core.words import say
from barodex.fleet.codes import code_of
from barodex.papers.job import due_of, is_newest

FONTS = Path(reportlab.__file__).parent / "fonts"  # Bitstream Vera, free, ships with reportlab
PLAIN, BOLD = "Vera", "VeraBd"
DPI = 300
MARGIN = 1.5  # mm
QUIET = 4  # modules kept white round a code, ISO/IEC 18004
LEAST_PT, MOST_PT = 4.5, 13.0
MOST_LABELS = 40


@dataclass(frozen=True)
class Size:
    """A size of label in mm; of a sheet: how many across and down, and what is left free at the left and the top."""

    name: str
    width: float
    height: float
    across: int = 1
    down: int = 1
    left: float = 0.0
    top: float = 0.0

    @property
    def on_a_page(self) -> int:
        """How many fit on a page."""
        return self.across * self.down

    @property
    def page(self) -> tuple[float, float]:
        """The page in points."""
        return (self.width * mm, self.height * mm) if self.on_a_page == 1 else A4


SIZES = {
    s.name: s
    for s in (
        Size("roll 62 x 29 mm", 62, 29),
        Size("roll 50 x 30 mm", 50, 30),
        Size("roll 89 x 36 mm", 89, 36),
        Size("roll 100 x 50 mm", 100, 50),
        Size("A4, 21 of 70 x 42.4 mm", 70, 42.4, 3, 7),
        Size("A4, 24 of 70 x 37 mm", 70, 37, 3, 8, 0, 0.5),
        Size("A4, 8 of 105 x 74 mm", 105, 74, 2, 4),
    )
}


@dataclass(frozen=True)
class Content:
    """What stands on a label: its lines, each of parts and bold or not, the code of the box, and the address that the picture of it holds.

    Parts stand beside each other where they fit, else below: a figure is never cut.
    """

    lines: tuple[tuple[tuple[str, ...], bool], ...]
    code: str
    address: str


@dataclass(frozen=True)
class Text:
    """A line of words: mm from the left and the top to its baseline, size in points."""

    x: float
    y: float
    size: float
    bold: bool
    words: str


@dataclass(frozen=True)
class Black:
    """A black rectangle, mm from the left and the top."""

    x: float
    y: float
    width: float
    height: float


Drawn = tuple[Text | Black, ...]


@functools.cache
def _registered() -> bool:
    for name in (PLAIN, BOLD):
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{name}.ttf")))
    return True


def _wide(words: str, size: float, bold: bool) -> float:
    """How wide words are, mm."""
    _registered()
    return pdfmetrics.stringWidth(words, BOLD if bold else PLAIN, size) / mm


def content_of(record: OilRecord, system: str, base: str) -> Content:
    """What the label of a record says; ``base``: where Barodex is reached."""
    views = record_views(RECORDS.filter(box=record.box_id))
    view = next(v for v in views if v.id == record.pk)
    vehicle, code = record.compartment.vehicle, code_of(record.box_id)
    kind = "distance" if vehicle.meter == "km" else "engine_hours"
    amount = "" if view.poured_ml is None else format_quantity(view.poured_ml, "volume", system)
    torques = [f"{t.plug.removesuffix(' plug')} {format_quantity(t.torque_nm, 'torque', system)}" for t in view.torques if t.torque_nm]
    when = [f"{view.on.day} {view.on:%b %Y}"] + ([] if view.meter_value is None else [format_quantity(view.meter_value, kind, system)])
    there, due = due_of(record)
    again = []
    if there is not None and due is not None and is_newest(views, record.pk) and due.state != "stop":
        again = [f"{due.on.day} {due.on:%b %Y}"] if due.on is not None else []
        again += (
            [format_quantity(due.at_meter, "distance" if there.meter == "km" else "engine_hours", system)]
            if due.at_meter is not None
            else []
        )
    lines: list[tuple[list[str], bool]] = [
        ([record.compartment.name], True),
        ([vehicle.name, vehicle.plate], False),
        ([view.oil or "oil not recorded"], True),
        ([amount], False),
        (torques, False),
        (when, False),
        ([f"next {' or '.join(again)}"] if again else [], True),
    ]
    plain = tuple((tuple(_plain(p) for p in parts if p), bold) for parts, bold in lines)
    return Content(tuple((parts, bold) for parts, bold in plain if parts), code, f"{base}/b/{code}")


def _plain(words: str) -> str:
    """Words with spaces that the font draws as wide as they are."""
    return words.replace("\N{NO-BREAK SPACE}", " ").replace("\N{MINUS SIGN}", "-")


READABLE_PT = 6.5


def _beside(parts: tuple[str, ...], bold: bool, room: float) -> tuple[str, ...]:
    """Parts in one line where that can still be read, else each in its own."""
    whole = " · ".join(parts)
    return (whole,) if _wide(whole, READABLE_PT, bold) <= room else parts


def layout(said: Content, width: float, height: float) -> Drawn:
    """Lay a label out: the code at the right with its letters below, the lines at the left as large as they fit."""
    modules = [list(row) for row in segno.make_qr(said.address, error="m").matrix]
    below = 3.4  # mm for the letters of the code
    square = min(height - 2 * MARGIN - below, 0.42 * width)
    step = square / (len(modules) + 2 * QUIET)
    left, top = width - MARGIN - square, MARGIN
    found: list[Text | Black] = []
    for r, row in enumerate(modules):
        start = None
        for c, on in enumerate([*row, 0]):
            if on and start is None:
                start = c
            elif not on and start is not None:
                found.append(Black(left + (QUIET + start) * step, top + (QUIET + r) * step, (c - start) * step, step))
                start = None
    size = 8.0
    found.append(Text(left + (square - _wide(said.code, size, True)) / 2, top + square + 2.6, size, True, said.code))
    room = left - 2 * MARGIN
    lines = [(shown, bold) for parts, bold in said.lines for shown in _beside(parts, bold, room)]
    line = (height - 2 * MARGIN) / max(1, len(lines))
    y = MARGIN
    for words, bold in lines:
        size = min(line / 1.25 * mm, MOST_PT if bold else MOST_PT - 2)
        while size > LEAST_PT and _wide(words, size, bold) > room:
            size -= 0.25
        shown = words
        while _wide(shown, size, bold) > room and len(shown) > 1:
            shown = shown[:-2].rstrip() + "…"
        found.append(Text(MARGIN, y + line * 0.72, size, bold, shown))
        y += line
    return tuple(found)


def as_png(drawn: Drawn, width: float, height: float) -> bytes:
    """A label as PNG, black on white, 300 to the inch."""
    dots = DPI / 25.4
    picture = Image.new("L", (round(width * dots), round(height * dots)), 255)
    pen = ImageDraw.Draw(picture)
    for d in drawn:
        if isinstance(d, Black):
            box = (round(d.x * dots), round(d.y * dots), round((d.x + d.width) * dots) - 1, round((d.y + d.height) * dots) - 1)
            pen.rectangle(box, fill=0)
        else:
            font = ImageFont.truetype(str(FONTS / f"{BOLD if d.bold else PLAIN}.ttf"), round(d.size * DPI / 72))
            pen.text((d.x * dots, d.y * dots), d.words, font=font, fill=0, anchor="ls")
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(DPI, DPI))
    return out.getvalue()


def as_pdf(labels: Iterable[Drawn], size: Size, start: int = 1) -> bytes:
    """Labels as PDF: on a roll a page each, on sheets from the ``start``-th place on, so that a begun sheet is used up."""
    _registered()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=size.page)
    canvas.setTitle("Labels")
    page_height = size.page[1]
    place = start - 1
    for k, drawn in enumerate(labels):
        if k and place % size.on_a_page == 0:
            canvas.showPage()
        here = place % size.on_a_page
        x0, y0 = size.left + here % size.across * size.width, size.top + here // size.across * size.height
        for d in drawn:
            if isinstance(d, Black):
                canvas.rect((x0 + d.x) * mm, page_height - (y0 + d.y + d.height) * mm, d.width * mm, d.height * mm, stroke=0, fill=1)
            else:
                canvas.setFont(BOLD if d.bold else PLAIN, d.size)
                canvas.drawString((x0 + d.x) * mm, page_height - (y0 + d.y) * mm, d.words)
        place += 1
    canvas.save()
    return out.getvalue()


def size_named(name: str) -> Size:
    """A size by its name; raises Inconsistent."""
    if name not in SIZES:
        raise Inconsistent(say("No label is “{name}”.", name=name[:40]), field="size", value=name[:40], allowed=", ".join(SIZES))
    return SIZES[name]


def labels_of(records: Iterable[int], size: Size, start: int, system: str, base: str) -> tuple[Drawn, ...]:
    """The labels of records; raises OilRecord.DoesNotExist, OutOfRange for a place that the sheet does not have."""
    ids = list(dict.fromkeys(records))
    if not 1 <= len(ids) <= MOST_LABELS:
        raise OutOfRange(say("From one to {most} labels at once.", most=MOST_LABELS), field="records", value=len(ids))
    if not 1 <= start <= size.on_a_page:
        raise OutOfRange(
            say("The sheet has {count} labels.", count=size.on_a_page), field="start", value=start, allowed=f"1 to {size.on_a_page}"
        )
    rows = {r.pk: r for r in OilRecord.objects.filter(pk__in=ids).select_related("compartment__vehicle", "compartment__sheet")}
    if len(rows) < len(ids):
        raise OilRecord.DoesNotExist
    return tuple(layout(content_of(rows[pk], system, base), size.width, size.height) for pk in ids)
