"""How every paper looks."""

from __future__ import annotations

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, SimpleDocTemplate, Spacer, Table, TableStyle

from barodex import clock
from barodex.core.words import say
from barodex.workshop.own import details

INK, SOFT, AMBER, RED = HexColor("#18221F"), HexColor("#5C625E"), HexColor("#E2A33A"), HexColor("#A51D1D")
BODY = ParagraphStyle("body", fontName="Helvetica", fontSize=10, leading=14, textColor=INK)


SMALL = ParagraphStyle("small", parent=BODY, fontSize=8.5, leading=11, textColor=SOFT)


HEAD = ParagraphStyle(
    "head", parent=BODY, fontName="Helvetica-Bold", fontSize=12, leading=16, spaceBefore=8, keepWithNext=1
)  # no heading alone at a foot


TITLE = ParagraphStyle("title", parent=BODY, fontName="Helvetica-Bold", fontSize=20, leading=24)


def signature() -> list[Flowable]:
    """A line to sign on, with the day; kept on one page."""
    line = Table(
        [["", "", ""], ["Day", "Done by", say("Seen by the owner")]], colWidths=[34 * mm, 66 * mm, 66 * mm], rowHeights=[12 * mm, 6 * mm]
    )
    line.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
                ("FONT", (0, 1), (-1, 1), "Helvetica", 8),
                ("TEXTCOLOR", (0, 1), (-1, 1), SOFT),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ]
        )
    )
    return [KeepTogether([line]), Spacer(1, 4 * mm)]


def escape(text: object) -> str:
    return str(text).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace(" ", " ").replace("−", "-")


def print_story(story: list[Flowable], title: str, foot: str) -> bytes:
    """A document of A4 pages: the workshop at the head of the first, a foot with what it is, when it was printed, and the page."""
    own = details()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=20 * mm,
        rightMargin=20 * mm,
        topMargin=(24 if own.name else 18) * mm,
        bottomMargin=18 * mm,
        title=title,
        author="Barodex",
        creator="Barodex",
    )

    def frame(canvas, doc):
        canvas.saveState()
        if doc.page == 1 and own.name:
            canvas.setFillColor(INK)
            canvas.setFont("Helvetica-Bold", 9)
            canvas.drawString(20 * mm, 283 * mm, own.name)
            canvas.setFont("Helvetica", 8)
            canvas.setFillColor(SOFT)
            canvas.drawRightString(190 * mm, 283 * mm, " · ".join([*own.address.splitlines(), *filter(None, [own.reached])])[:120])
        canvas.setFont("Helvetica", 8)
        canvas.setFillColor(SOFT)
        canvas.drawString(20 * mm, 10 * mm, say("{foot} · printed {today}", foot=foot, today=f"{clock.today():%d %b %Y}"))
        canvas.drawRightString(190 * mm, 10 * mm, say("page {page}", page=doc.page))
        canvas.restoreState()

    document.build(story, onFirstPage=frame, onLaterPages=frame)
    return out.getvalue()
