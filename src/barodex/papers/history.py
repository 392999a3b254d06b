"""A vehicle's whole history on paper: each compartment with every change that stands, oldest first."""

from __future__ import annotations

from collections.abc import Callable

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, Paragraph, Spacer, Table, TableStyle

from barodex.book.queries import RECORDS, RecordView, record_views_by_box
from barodex.core.findings.finding import LEVELS
from barodex.core.quantity.quantity import format_quantity
from barodex.core.words import say
from barodex.fleet.codes import code_of
from barodex.fleet.models import Compartment, Fitting, Vehicle
from barodex.papers.printing import BODY, HEAD, SMALL, TITLE, escape, print_story, signature

Show = Callable[[float | None, str], str]
WIDTHS = [20 * mm, 22 * mm, 33 * mm, 20 * mm, 20 * mm, 22 * mm, 33 * mm]


def _row(v: RecordView, meter: str, show: Show) -> list[Paragraph]:
    level = "" if v.level is None else f"{v.level}, {LEVELS[v.level]}"
    loss = "" if v.loss_15_ml is None or not v.loss_band else v.loss_band
    cells = (
        f"{v.on.day} {v.on:%b %Y}",
        show(v.meter_value, "distance" if meter == "km" else "engine_hours"),
        v.oil + ("" if v.work == "change" else f" ({v.work})"),
        show(v.drained_ml, "volume"),
        show(v.poured_ml, "volume"),
        loss,
        "; ".join(filter(None, (level, v.note))),
    )
    return [Paragraph(escape(c), SMALL) for c in cells]


def _table(views: list[RecordView], meter: str, show: Show) -> Table:
    head = [Paragraph(f"<b>{escape(h)}</b>", SMALL) for h in ("Day", "Meter", "Oil", "Out", "In", "Loss", "Found, noted")]
    table = Table([head, *(_row(v, meter, show) for v in views)], colWidths=WIDTHS, hAlign="LEFT", repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, HexColor("#CFC7B2")),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return table


def _boxes(place: Compartment) -> list[tuple[int, str]]:
    """The boxes that were at a place, the first one first, and from when to when."""
    rows = Fitting.objects.filter(compartment=place).order_by("id")
    found = {f.box_id: _span(f) for f in rows}
    found.setdefault(place.box_id, "")
    return list(found.items())


def _span(f: Fitting) -> str:
    since = say("from {f_on} ", f_on=f"{f.on:%d %b %Y}") if f.on else ""
    return f"{since}{f'to {f.off:%d %b %Y}' if f.off else ''}".strip()


def history_paper(vehicle_id: int, system: str) -> tuple[bytes, str]:
    """The history of a vehicle as PDF and its file name, in the reader's units; raises Vehicle.DoesNotExist."""

    def show(value: float | None, kind: str) -> str:
        return "" if value is None else format_quantity(value, kind, system)

    vehicle = Vehicle.objects.get(pk=vehicle_id)
    said = ", ".join(filter(None, (vehicle.plate, vehicle.kind, vehicle.depot)))
    story: list[Flowable] = [
        Paragraph(escape(say("{vehicle}: what was done", vehicle=vehicle.name)), TITLE),
        Paragraph(escape(said), BODY),
        Spacer(1, 4 * mm),
    ]
    for place in vehicle.compartments.select_related("sheet", "box").order_by("id"):
        for box, span in _boxes(place):
            records = RECORDS.filter(box=box, compartment__vehicle=vehicle)
            views = record_views_by_box(records).get(box, [])
            title = say(
                "{place}, {kind}, box {box}{words}",
                place=place.name,
                kind=place.sheet.kind,
                box=code_of(box),
                words=f" ({span})" if span else "",
            )
            gone = say(" · taken out {removed_on}", removed_on=f"{place.removed_on:%d %b %Y}") if place.removed_on else ""
            if not views:
                story += [KeepTogether([Paragraph(escape(title + gone), HEAD), Paragraph(say("No change is on record."), SMALL)])]
                continue
            table = _table(views, vehicle.meter, show)
            head = Paragraph(escape(title + gone), HEAD)
            story += [KeepTogether([head, table])] if len(views) < 12 else [head, table]
    story += [Spacer(1, 6 * mm), *signature()]
    story.append(Paragraph(say("Barodex is an aid: the maker's current data, local rules and qualified practice come first."), SMALL))
    return print_story(
        story, say("History of {vehicle}", vehicle=vehicle.name), say("History of {vehicle}", vehicle=vehicle.name)
    ), f"history-{vehicle_id}.pdf"
