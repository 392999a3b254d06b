"""The job paper of a record as PDF."""

from __future__ import annotations

import uuid
from collections.abc import Callable

from reportlab.graphics.shapes import Drawing, Rect, String
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, Paragraph, Spacer, Table, TableStyle

from barodex import clock
from barodex.book.closed import ClosedWith
from barodex.book.consequences import FollowLine
from barodex.book.models import OilRecord
from barodex.book.photos import path_of
from barodex.book.queries import RECORDS, RecordView, record_views
from barodex.core.due.interval import LIMIT_WORDS
from barodex.core.findings.finding import LEVELS
from barodex.core.quantity.quantity import format_quantity
from barodex.core.quantity.working import percent
from barodex.core.sheet.work import WORK_WORDS
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.papers.printing import AMBER, BODY, HEAD, INK, RED, SMALL, SOFT, TITLE, escape, print_story, signature
from barodex.plan.queries import CompartmentDue, VehicleDue, due_board


def _rows(lines: list[tuple[str, str]]) -> Table:
    table = Table(
        [[Paragraph(escape(k), SMALL), Paragraph(escape(v), BODY)] for k, v in lines], colWidths=[46 * mm, 119 * mm], hAlign="LEFT"
    )
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, HexColor("#CFC7B2")),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 3),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ]
        )
    )
    return table


def _level_bar(level: int | None) -> Drawing:
    drawing = Drawing(60 * mm, 6 * mm)
    for k in range(4):
        on = level is not None and k < level
        fill = (RED if level == 4 else INK) if on else HexColor("#E4DDCB")
        drawing.add(Rect(k * 15 * mm, 1 * mm, 13.5 * mm, 3.5 * mm, fillColor=fill, strokeColor=None))
    return drawing


def _in_out(view: RecordView, last_in: float | None, show: Callable[[float, str], str]) -> Drawing | None:
    """Two bars on one scale: what went in last time, what came out, what went in now."""
    bars = [
        (say("in last time"), last_in, AMBER),
        ("came out", view.first_out_15_ml, HexColor("#7A4A16")),
        (say("went in now"), view.net_in_15_ml, AMBER),
    ]
    known = [(label, value, colour) for label, value, colour in bars if value]
    if len(known) < 2:
        return None
    top = max(value for _, value, _ in known)
    drawing = Drawing(170 * mm, len(known) * 8 * mm)
    for k, (label, value, colour) in enumerate(reversed(known)):
        y = k * 8 * mm
        drawing.add(String(0, y + 5, label, fontName="Helvetica", fontSize=8.5, fillColor=SOFT))
        drawing.add(Rect(32 * mm, y + 2, 100 * mm * value / top, 12, fillColor=colour, strokeColor=INK, strokeWidth=0.5))
        drawing.add(
            String(
                32 * mm + 100 * mm * value / top + 4,
                y + 5,
                show(value, "volume").replace(" ", " "),
                fontName="Helvetica-Bold",
                fontSize=9,
                fillColor=INK,
            )
        )
    return drawing


Show = Callable[[float | None, str], str]


def _head(record: OilRecord, view: RecordView, show: Show) -> list[Flowable]:
    """Which compartment, what was done and when, with which oil."""
    vehicle = record.compartment.vehicle
    meter = show(view.meter_value, "distance" if vehicle.meter == "km" else "engine_hours")
    return [
        Paragraph(escape(f"{vehicle.name} · {record.compartment.name}"), TITLE),
        Paragraph(
            escape(
                say(
                    "{work_words} of {day} {view_on}",
                    work_words=WORK_WORDS[view.work].capitalize(),
                    day=view.on.day,
                    view_on=f"{view.on:%B %Y}",
                )
                + (f" · {vehicle.plate}" if vehicle.plate else "")
            ),
            BODY,
        ),
        Spacer(1, 6 * mm),
        _rows(
            [
                ("Meter", meter),
                ("Oil", view.oil or "not recorded"),
                (
                    "Sheet",
                    say("{sheet}, revision {revision}", sheet=record.compartment.sheet.name, revision=view.revision)
                    if view.revision
                    else "none",
                ),
                ("Done by", view.by),
            ]
        ),
    ]


def _amounts(view: RecordView, last_in: float | None, show: Show) -> list[Flowable]:
    bars = _in_out(view, last_in, show)
    return [
        Paragraph("Amounts", HEAD),
        _rows(
            [
                *_entry_lines(view, show),
                (say("Poured in all"), show(view.poured_ml, "volume")),
                (say("Came out in all, at 15 °C"), show(view.drained_15_ml, "volume")),
                (say("Went in and stays, at 15 °C"), show(view.net_in_15_ml, "volume")),
                *([(say("Inside now, at 15 °C"), show(view.inside_15_ml, "volume"))] if view.inside_15_ml is not None else []),
                *([(say("Fresh of it"), percent(view.fresh_share))] if view.fresh_share is not None else []),
                *([(say("Used oil for the can"), show(view.used_ml, "volume"))] if view.used_ml else []),
                (
                    say("Lost since the last fill"),
                    (view.loss_text or "not told")
                    if view.loss_15_ml is None
                    else f"{show(view.loss_15_ml, 'volume')} ± {show(view.loss_within_ml, 'volume')} (2σ): {view.loss_band}. {view.loss_text}",
                ),
            ]
        ),
        *([Spacer(1, 3 * mm), bars] if bars is not None else []),
    ]


def _entry_lines(view: RecordView, show: Show) -> list[tuple[str, str]]:
    """What went in and came out, entry by entry in the order of the work."""
    lines = []
    for e in view.entries:
        where = say("Drain {cycle}: ", cycle=e.cycle) if e.cycle else ""
        at = say(" at {temperature_c}", temperature_c=show(e.temperature_c, "temperature")) if e.temperature_c is not None else ""
        source = say(", from {container}", container=e.container) if e.container else ""
        lines.append((f"{where}{e.words}".capitalize(), f"{show(e.volume_ml, 'volume')}{at}{source}"))
    return lines or [("Amounts", "not recorded")]


def _seen(view: RecordView) -> list[Flowable]:
    level = "not looked at" if view.level is None else f"{view.level} · {LEVELS[view.level]}"
    seen = [
        ("Verdict", level),
        ("Oil", ", ".join(w for w in (view.colour, view.clarity) if w) or "not looked at"),
        ("Magnet", view.magnet or "not looked at"),
        ("Particles", "; ".join(view.particles) or "none noted"),
        ("Why", " ".join(view.reasons) or "-"),
    ]
    return [KeepTogether([Paragraph(say("What came out with the oil"), HEAD), _level_bar(view.level), _rows(seen)])]


def job_paper(record_id: int, system: str) -> tuple[bytes, str]:
    """Give the job paper of a record and its file name; raises OilRecord.DoesNotExist."""
    record = RECORDS.select_related("compartment__vehicle", "compartment__sheet").get(pk=record_id)
    views = record_views(RECORDS.filter(box=record.box_id))
    position = next(k for k, v in enumerate(views) if v.id == record_id)
    view = views[position]
    last_in = next((v.net_in_15_ml for v in reversed(views[:position]) if v.net_in_15_ml is not None), None)
    vehicle = record.compartment.vehicle

    def show(value: float | None, kind: str) -> str:
        return "not recorded" if value is None else format_quantity(value, kind, system)

    story = [*_head(record, view, show), *_amounts(view, last_in, show), *_seen(view)]
    if view.follows:
        story.append(KeepTogether([Paragraph("What follows", HEAD), _rows([_follows(f, vehicle.meter, show) for f in view.follows])]))
    if view.torques:
        story += [Paragraph("Closed with", HEAD), _rows([_closed(t, show) for t in view.torques])]
    if view.details:
        rows = [(d.label, d.words if d.value is None else show(d.value, d.kind)) for d in view.details]
        story += [Paragraph(say("How it was done"), HEAD), _rows(rows)]
    story += _pictures(view)
    if view.gaps or view.note:
        story += [
            Paragraph(say("Gaps and notes"), HEAD),
            _rows([("Explained gap", g) for g in view.gaps] + ([("Note", view.note)] if view.note else [])),
        ]
    if view.corrections:
        story += [
            Paragraph("Corrected afterwards", HEAD),
            _rows(
                [(f"{c.at:%d %b %Y}, {c.by}", f"{c.field.replace('_', ' ')}: {c.before} → {c.after}. {c.reason}") for c in view.corrections]
            ),
        ]
    due = _next_due(record, is_newest(views, record_id), system)
    if due:
        story += [Paragraph("Next due", HEAD), Paragraph(escape(due), BODY)]
    story += [
        Spacer(1, 4 * mm),
        *signature(),
        Paragraph(say("Barodex is an aid: the maker's current data, local rules and qualified practice come first."), SMALL),
    ]
    title = say(
        "Job paper: {vehicle}, {compartment}, {view_on}", vehicle=vehicle.name, compartment=record.compartment.name, view_on=view.on
    )
    return print_story(story, title, say("Record {record_id}", record_id=record_id)), f"job-{view.on}-{record_id}.pdf"


_FOLLOWS = {"stop": "Stop", "repair": "Mend", "due-cap": "Next change", "look-again": "Look again", "ask": "Ask", "adopt": "Take over"}


def _follows(f: FollowLine, meter: str, show: Show) -> tuple[str, str]:
    """One thing that follows: by when, and how it was closed."""
    by = (
        [say("at {due_meter}", due_meter=show(f.due_meter, "distance" if meter == "km" else "engine_hours"))]
        if f.due_meter is not None and f.kind != "stop"
        else []
    )
    by += [say("by {day} {due_on}", day=f.due_on.day, due_on=f"{f.due_on:%B %Y}")] if f.due_on is not None and f.kind != "stop" else []
    share = say(" ({factor} of the usual interval)", factor=percent(f.factor)) if f.factor is not None else ""
    closed = say(" Closed {closed}", closed=f.closed) if f.closed else ""
    return _FOLLOWS[f.kind], f"{f.what}{share}{', ' + ' or '.join(by) if by else ''}.{closed}"


def _closed(c: ClosedWith, show: Callable[[float | None, str], str]) -> tuple[str, str]:
    return (c.plug, c.as_written or ("no figure" if c.torque_nm is None else show(c.torque_nm, "torque")))


MOST_PICTURES = 4


def _pictures(view: RecordView) -> list[Flowable]:
    """The first photos of a record side by side; those whose file is gone are left out."""
    kept = [(p, path) for p in view.photos[:MOST_PICTURES] if (path := path_of(uuid.UUID(p.id))).exists()]
    if not kept:
        return []
    cells = [Image(path, width=40 * mm, height=40 * mm * p.height / p.width) for p, path in kept]
    return [KeepTogether([Paragraph("Photos", HEAD), Table([cells], hAlign="LEFT")])]


def due_of(record: OilRecord) -> tuple[VehicleDue | None, CompartmentDue | None]:
    """The vehicle and the compartment in which the box of a record is fitted, as Due shows them today; None where it is no more in use."""
    place = Compartment.objects.filter(box=record.box_id).first()  # wherever its box is fitted now
    vehicle = next(iter(due_board(clock.today(), place.vehicle_id).vehicles), None) if place is not None else None
    due = next((c for c in vehicle.compartments if place is not None and c.id == place.pk), None) if vehicle is not None else None
    return vehicle, due


def is_newest(views: list[RecordView], record_id: int) -> bool:
    """Whether the next due is counted from a record, or from one that only topped it up since."""
    later = [v.id for v in views].index(record_id) + 1
    return all(v.work == "top-up" for v in views[later:])


def _next_due(record: OilRecord, newest: bool, system: str) -> str:
    """When the next change falls, as reckoned on the day of printing; only the newest record can say it."""
    if not newest:
        return ""
    vehicle, due = due_of(record)
    if vehicle is None or due is None:
        return ""
    if due.state == "stop":
        return say("Stop: do not drive until the lead has cleared it.")
    if due.on is None:
        return say("No interval is set.")
    meter = (
        ""
        if due.at_meter is None
        else say(", at {at_meter}", at_meter=format_quantity(due.at_meter, "distance" if vehicle.meter == "km" else "engine_hours", system))
    )
    return say(
        "{day} {due_on} by {limit_words}{meter}, at the present rate of use. Interval from {basis}.",
        day=due.on.day,
        due_on=f"{due.on:%B %Y}",
        limit_words=LIMIT_WORDS.get(due.limit, due.limit),
        meter=meter,
        basis=due.basis,
    )
