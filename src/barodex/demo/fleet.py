"""The demo fleet of the Skerrow Island depot, read from ``fleet.json``: every name, plate, oil and story in it is invented."""

from __future__ import annotations

import importlib.resources
import json
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from barodex.core.oil.lubricant import AmbientGrade
from barodex.core.sheet.kit import KitItem
from barodex.core.sheet.sheet import CasingMark, Head, Plug, Variant
from barodex.shelf.actions import Figures, Oil, Said, Source, Tonic


@dataclass(frozen=True)
class Change:
    """An earlier change: days ago, oil, what came out (mL at °C), what went in (mL), what was seen."""

    days_ago: int
    oil: str
    drained_ml: float | None = None
    drained_c: float = 20.0
    poured_ml: float | None = None
    finding: dict[str, Any] | None = None
    note: str = ""
    factory_fill: bool = False
    shift: int | None = None
    noise: int | None = None


@dataclass(frozen=True)
class DemoRule:
    """What the depot set for one compartment, and why."""

    why: str
    linked: str = ""
    load_share: float | None = None


@dataclass(frozen=True)
class Box:
    """A compartment of a demo vehicle with its past."""

    name: str
    slot: str
    sheet: str
    changes: tuple[Change, ...] = ()
    rule: DemoRule | None = None
    counter: float | None = None  # share of life used, as the vehicle's own counter said three weeks ago


@dataclass(frozen=True)
class Machine:
    """A demo vehicle: meter today (km or h), use per day, share off the road."""

    name: str
    plate: str
    kind: str
    layout: str
    meter: str
    today: float
    per_day: float
    boxes: tuple[Box, ...]
    off_road: float = 0.0
    note: str = ""
    warranty_days: int | None = None
    seasonal: bool = False
    track: float = 0.0
    season: tuple[str, str] = ("", "")
    engine_oil: tuple[float, int, int] | None = None  # km or h, months, days since it was changed
    depot: str = ""
    driver: str = ""


@dataclass(frozen=True)
class SheetStory:
    """A sheet with its figures, and the ones that a bulletin superseded ``revised_days_ago``, with the reason."""

    name: str
    kind: str
    figures: Figures
    superseded: Figures | None = None
    revised_days_ago: int = 0
    reason: str = ""


@dataclass(frozen=True)
class Vessel:
    """A container of the shelf, or one that a vehicle carries."""

    oil: str
    label: str
    size_ml: float
    content_ml: float
    graduated: bool
    kind: str = "bottle"
    carried_in: str = ""


@dataclass(frozen=True)
class Counted:
    """A seal, part or tool of the store."""

    name: str
    kind: str
    count: int
    place: str = ""


@dataclass(frozen=True)
class Demo:
    """Everything that the demo has; ``claims`` as (sheet, what is said, years since it was published)."""

    oils: tuple[Oil, ...]
    additives: tuple[Tonic, ...]
    shelf: tuple[Vessel, ...]
    store: tuple[Counted, ...]
    sheets: tuple[SheetStory, ...]
    claims: tuple[tuple[str, Said, int | None], ...]
    fleet: tuple[Machine, ...]


def _figures(raw: dict[str, Any]) -> Figures:
    sources = tuple(Source(figure, *where) for figure, where in raw.pop("sources").items())
    plugs = tuple(Plug(**p) for p in raw.pop("plugs"))
    lists = {name: tuple(raw.get(name, ())) for name in ("cautions", "also", "approvals", "resets")}
    rows = {
        "variants": tuple(Variant(**{**v, "heads": tuple(Head(**h) for h in v.get("heads", ()))}) for v in raw.get("variants", ())),
        "casing_marks": tuple(CasingMark(**m) for m in raw.get("casing_marks", ())),
        "ambient": tuple(AmbientGrade(**a) for a in raw.get("ambient", ())),
        "kit": tuple(KitItem(**k) for k in raw.get("kit", ())),
    }
    return Figures(**{**raw, **lists, **rows}, plugs=plugs, sources=sources)


def _sheet(raw: dict[str, Any], superseded: dict[str, Any]) -> SheetStory:
    figures = _figures(raw["figures"])
    if raw["name"] != superseded["sheet"]:
        return SheetStory(raw["name"], raw["kind"], figures)
    first = Source("capacity", *superseded["capacity_source"])
    before = replace(figures, **superseded["figures"], sources=(first, *(s for s in figures.sources if s.figure != "capacity")))
    return SheetStory(raw["name"], raw["kind"], figures, before, superseded["days_ago"], superseded["reason"])


def _machine(raw: dict[str, Any]) -> Machine:
    boxes = tuple(
        Box(
            b["name"],
            b["slot"],
            b["sheet"],
            tuple(Change(**c) for c in b["changes"]),
            DemoRule(**b["rule"]) if "rule" in b else None,
            b.get("counter"),
        )
        for b in raw.pop("boxes")
    )
    for name in ("season", "engine_oil"):
        if name in raw:
            raw[name] = tuple(raw[name])
    return Machine(**raw, boxes=boxes)


def _oil(raw: dict[str, Any]) -> Oil:
    packs = tuple((size, Decimal(str(price))) for size, price in raw.pop("packs"))
    return Oil(**{**raw, "approvals": tuple(raw.get("approvals", ()))}, packs=packs)


def _claim(raw: dict[str, Any]) -> tuple[str, Said, int | None]:
    sheet, years = raw.pop("sheet"), raw.pop("published_years_ago", None)
    return sheet, Said(**raw), years


def read() -> Demo:
    """The demo as it stands in its file."""
    raw = json.loads(importlib.resources.files(__package__).joinpath("fleet.json").read_text("utf-8"))
    return Demo(
        tuple(_oil(o) for o in raw["oils"]),
        tuple(Tonic(**a) for a in raw["additives"]),
        tuple(Vessel(**c) for c in raw["shelf"]),
        tuple(Counted(**i) for i in raw["store"]),
        tuple(_sheet(s, raw["superseded"]) for s in raw["sheets"]),
        tuple(_claim(c) for c in raw["claims"]),
        tuple(_machine(m) for m in raw["fleet"]),
    )
