"""The morning summary on paper: a list to tick, one box a line."""

from __future__ import annotations

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, Spacer, Table, TableStyle

from barodex.core.words import say
from barodex.desk.morning import Morning
from barodex.papers.printing import BODY, HEAD, SMALL, SOFT, TITLE, escape, print_story


def morning_paper(made: Morning) -> bytes:
    """The summary as PDF."""
    story: list[Flowable] = [
        Paragraph(escape(f"{made.today:%A} {made.today.day} {made.today:%B %Y}"), TITLE),
        Paragraph(escape(made.text), BODY),
        Spacer(1, 3 * mm),
    ]
    for section in made.sections:
        story.append(Paragraph(escape(section.title), HEAD))
        rows = [["", Paragraph(f"<b>{escape(x.vehicle)}</b>", BODY), Paragraph(escape(x.what), BODY)] for x in section.lines]
        table = Table(rows, colWidths=[7 * mm, 50 * mm, 113 * mm], hAlign="LEFT")
        box = [("BOX", (0, k), (0, k), 0.8, SOFT) for k in range(len(rows))]
        table.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("BOTTOMPADDING", (0, 0), (-1, -1), 3), *box]))
        story.append(table)
        if section.more:
            story.append(Paragraph(escape(say("and {more} more", more=section.more)), SMALL))
    story += [
        Spacer(1, 6 * mm),
        Paragraph(say("Barodex is an aid: the maker's current data, local rules and qualified practice come first."), SMALL),
    ]
    return print_story(story, say("Morning summary, {today}", today=made.today), "Morning summary")
