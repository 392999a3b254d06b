"""The demo fleet of the Skerrow Island depot, read from ``fleet.json``: every name, plate, oil and story in it is invented."""

from __future__ import annotations

import importlib.resources
import json
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from barodex.core.sheet import Plug
from barodex.shelf.actions import Figures, Oil, Source


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


@dataclass(frozen=True)
class Box:
    """A compartment of a demo vehicle with its past."""

    name: str
    slot: str
    sheet: str
    changes: tuple[Change, ...] = ()


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
class Demo:
    """Everything that the demo has; ``shelf`` as (oil, label, size mL, content mL, graduated)."""

    oils: tuple[Oil, ...]
    shelf: tuple[tuple[str, str, float, float, bool], ...]
    sheets: tuple[SheetStory, ...]
    fleet: tuple[Machine, ...]


def _figures(raw: dict[str, Any]) -> Figures:
    sources = tuple(Source(figure, *where) for figure, where in raw.pop("sources").items())
    plugs = tuple(Plug(**p) for p in raw.pop("plugs"))
    return Figures(**{**raw, "cautions": tuple(raw.get("cautions", ()))}, plugs=plugs, sources=sources)


def _sheet(raw: dict[str, Any], superseded: dict[str, Any]) -> SheetStory:
    figures = _figures(raw["figures"])
    if raw["name"] != superseded["sheet"]:
        return SheetStory(raw["name"], raw["kind"], figures)
    first = Source("capacity", *superseded["capacity_source"])
    before = replace(figures, **superseded["figures"], sources=(first, *(s for s in figures.sources if s.figure != "capacity")))
    return SheetStory(raw["name"], raw["kind"], figures, before, superseded["days_ago"], superseded["reason"])


def _machine(raw: dict[str, Any]) -> Machine:
    boxes = tuple(Box(b["name"], b["slot"], b["sheet"], tuple(Change(**c) for c in b["changes"])) for b in raw.pop("boxes"))
    return Machine(**raw, boxes=boxes)


def read() -> Demo:
    """The demo as it stands in its file."""
    raw = json.loads(importlib.resources.files(__package__).joinpath("fleet.json").read_text("utf-8"))
    oils = tuple(Oil(**{**o, "packs": tuple((size, Decimal(str(price))) for size, price in o["packs"])}) for o in raw["oils"])
    shelf = tuple((c["oil"], c["label"], c["size_ml"], c["content_ml"], c["graduated"]) for c in raw["shelf"])
    return Demo(oils, shelf, tuple(_sheet(s, raw["superseded"]) for s in raw["sheets"]), tuple(_machine(m) for m in raw["fleet"]))
