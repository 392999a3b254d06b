"""The scalar figures of a sheet, each declared once. Columns, requests, files, the form, comparison and checks walk this list.

A new figure is one line of :class:`Figures`, a migration and a test. Plugs, variants, casing marks, kit and grades by air temperature
are rows and stand apart.
"""

from __future__ import annotations

import dataclasses
import functools
from dataclasses import dataclass
from typing import Any

from barodex.core.kinds.kind import KIND_TABLE
from barodex.core.oil.lubricant import ASKED_BASES, FAMILIES
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.window import TemperatureWindow, check_window
from barodex.core.quantity.working import ml
from barodex.core.words import say

FILL_METHODS = ("to the lip", "measured", "dipstick", "overflow", "dribble", "syringe", "below the lip")
FINDS_LEVEL = ("to the lip", "overflow", "dribble", "dipstick")  # ways to fill that find the level themselves
DRAIN_METHODS = ("plug", "suction", "cover")
ENGINES = ("", "running", "off")
CASES = ("iron", "aluminium", "magnesium", "unknown")

QUANTITIES = {"volume": "mL", "distance": "km", "engine_hours": "h", "temperature": "°C", "length": "mm", "torque": "N·m"}
FIGURES_WITH_SOURCE = ("capacity", "oil", "interval", "torque")  # groups of figures of which a sheet says where they are from
GROUPS = ("amount", "oil", "ways", "oil more", "inside", "level", "interval", "kit", "cautions")


@dataclass(frozen=True)
class Meaning:
    """What a figure is.

    ``kind``: a kind of quantity (:data:`QUANTITIES`; kept in its unit), ``minutes``, ``months``, ``count``, ``flag`` (yes or no),
    ``three`` (yes, no, unknown), ``choice``, ``text``, ``names`` (several, set apart by commas) or ``lines`` (several sentences).
    ``group``: where it stands in the form. ``said``: how it is summed up in a line, with ``{}`` for its value. ``low`` to ``high``:
    what is accepted, in ``unit``. ``longest``: characters of a text, or of one of several, of which ``most`` are accepted.
    ``in_file``: its name in a sheet's file, where that is not its own. ``claim``: how sources speak of it; ``backed``: the group of
    figures whose source stands for it. ``only``: properties of a kind without one of which a compartment has no such figure.
    """

    kind: str
    group: str
    label: str
    said: str = "{}"
    low: float = 0.0
    high: float = 0.0
    choices: tuple[str, ...] = ()
    longest: int = 0
    most: int = 0
    in_file: str = ""
    hint: str = ""
    about: str = ""
    claim: str = ""
    backed: str = ""
    only: tuple[str, ...] = ()

    @property
    def unit(self) -> str:
        """The unit that it is kept in; empty for what has none."""
        return {**QUANTITIES, "minutes": "min", "months": "months"}.get(self.kind, "")

    @property
    def several(self) -> bool:
        """Whether it is a list."""
        return self.kind in ("names", "lines")

    @property
    def kinds(self) -> tuple[str, ...]:
        """The kinds of compartment that have it."""
        return tuple(k.name for k in KIND_TABLE if not self.only or any(getattr(k, flag) for flag in self.only))


_MISSING: Any = dataclasses.MISSING


def _figure(default: Any, kind: str, group: str, label: str, said: str = "{}", **more: Any) -> Any:
    return dataclasses.field(default=default, metadata={"meaning": Meaning(kind, group, label, said, **more)})


@dataclass(frozen=True)
class Figures:
    """The scalar figures of a revision. Amounts in mL, temperatures in °C, lengths in mm, intervals in km, h, months; None is unknown."""

    family: str = _figure(_MISSING, "choice", "oil", "Family", choices=FAMILIES, longest=20)
    capacity_ml: float | None = _figure(
        None,
        "volume",
        "amount",
        "Service capacity",
        low=5,
        high=60_000,
        in_file="capacity",
        hint="empty: unknown",
        claim="capacity",
        backed="capacity",
    )
    grade: str = _figure("", "text", "oil", "Grade", longest=40, hint="75W-80, SAE 90", claim="grade", backed="oil")
    categories: str = _figure(
        "",
        "text",
        "oil",
        "API categories",
        longest=40,
        hint=say("“GL-4, GL-5” is either, “GL-4 and GL-5” one oil that is both; empty where none is named"),
        claim="categories",
        backed="oil",
    )
    hypoid: bool = _figure(False, "flag", "oil more", "Hypoid gears", "hypoid")
    yellow_metal: bool | None = _figure(None, "three", "oil more", say("Brass or bronze inside"), "brass: {}")
    limited_slip: bool | None = _figure(None, "three", "oil more", say("Clutch-type limited slip"), "limited slip: {}")
    fill_method: str = _figure("to the lip", "choice", "ways", "Filled", "filled: {}", choices=FILL_METHODS, longest=20)
    drain_method: str = _figure("plug", "choice", "ways", "Drained by", "drained by {}", choices=DRAIN_METHODS, longest=20)
    case_material: str = _figure("unknown", "choice", "level", "Case", "case: {}", choices=CASES, longest=20)
    drain_minutes: float | None = _figure(
        None, "minutes", "level", say("Minutes until it drips"), "drips for {}", low=1, high=1440, hint=say("empty: common practice")
    )
    warm_up: bool = _figure(True, "flag", "level", "Drained warm", "drained warm")
    level_note: str = _figure("", "text", "level", say("Note on the level"), longest=200)
    cautions: tuple[str, ...] = _figure((), "lines", "cautions", say("Cautions, one a line"), longest=200, most=12)
    interval_km: float | None = _figure(
        None,
        "distance",
        "interval",
        "Distance",
        low=1,
        high=1_000_000,
        in_file="interval_distance",
        hint=say("all three empty: common practice counts"),
        claim=say("interval by distance"),
        backed="interval",
    )
    interval_h: float | None = _figure(
        None,
        "engine_hours",
        "interval",
        "Engine hours",
        low=1,
        high=20_000,
        in_file="interval_hours",
        claim=say("interval by hours"),
        backed="interval",
    )
    interval_months: int | None = _figure(
        None, "months", "interval", "Months", low=1, high=240, claim=say("interval by months"), backed="interval"
    )
    for_life: bool = _figure(
        False,
        "flag",
        "interval",
        say("Filled for life, says its maker"),
        say("filled for life"),
        about=say("its maker never asks for a change"),
    )
    total_ml: float | None = _figure(None, "volume", "inside", "Dry capacity", "dry {}", low=5, high=120_000, in_file="dry_capacity")
    residual_ml: float | None = _figure(
        None, "volume", "inside", say("Stays inside after draining"), "stays inside {}", low=0, high=60_000, in_file="stays_inside"
    )
    rinse_ml: float | None = _figure(None, "volume", "inside", say("Rinse poured through"), "rinse {}", low=0, high=20_000, in_file="rinse")
    trays_nm: float | None = _figure(
        None,
        "torque",
        "kit",
        say("Bolts of trays and plates"),
        "trays {}",
        low=0.2,
        high=200,
        in_file="trays_torque",
        hint=say("that come off to reach it"),
    )
    surplus_ml: float | None = _figure(
        None,
        "volume",
        "inside",
        "Planned surplus",
        "surplus {}",
        low=0,
        high=20_000,
        in_file="surplus",
        hint=say("for a cooler or an overflow"),
    )
    exchange_cycles: int = _figure(1, "count", "inside", "Drain-and-refill cycles", "{} cycles", low=1, high=12)
    modifier_ml: float | None = _figure(
        None, "volume", "oil more", say("Friction modifier dose"), "modifier {}", low=1, high=2_000, in_file="friction_modifier_dose"
    )
    also: tuple[str, ...] = _figure(
        (), "names", "oil more", say("Other families that it lists"), "or {}", choices=FAMILIES, most=8, hint="atf, engine"
    )
    approvals: tuple[str, ...] = _figure(
        (),
        "names",
        "oil more",
        say("Approvals and fluids it asks for"),
        longest=40,
        most=12,
        hint=say("set apart by commas; any one of them will do"),
    )
    base: str = _figure("", "choice", "oil more", say("Base that it insists on"), "base: {}", choices=ASKED_BASES, longest=16)
    no_ep: bool = _figure(False, "flag", "oil more", say("Forbids extreme-pressure oil"), say("no extreme pressure"))
    wet_clutch: bool = _figure(False, "flag", "oil more", say("Wet clutches run in the oil"), "wet clutches")
    synchro: bool = _figure(False, "flag", "oil more", "Synchroniser rings", "synchronisers")
    non_detergent: bool = _figure(False, "flag", "oil more", say("Asks non-detergent oil"), "non-detergent")
    hose: str = _figure(
        "", "text", "kit", "Hose", "hose {}", longest=60, hint=say("largest outside diameter and length: 10 mm outside, 60 cm long")
    )
    window_low_c: float | None = _figure(
        None, "temperature", "level", say("Level window from"), "from {}", low=0, high=120, in_file="window_from"
    )
    window_high_c: float | None = _figure(None, "temperature", "level", "to", "to {}", low=0, high=120, in_file="window_to")
    level_engine: str = _figure("", "choice", "level", say("Engine for the level"), "engine {}", choices=ENGINES, longest=8)
    selector: str = _figure("", "text", "level", say("Selector for the level"), "selector in {}", longest=20, hint="P, N")
    thermostat_c: float | None = _figure(
        None,
        "temperature",
        "level",
        say("Cooler thermostat opens at"),
        "cooler opens at {}",
        low=20,
        high=120,
        in_file="thermostat",
        hint=say("empty: no cooler behind one"),
    )
    below_lip_mm: float | None = _figure(
        None, "length", "level", say("Stands below the hole by"), "{} below the hole", low=1, high=200, in_file="below_lip"
    )
    flush_ml: float | None = _figure(
        None, "volume", "inside", "Flush fluid", "flush {}", low=1, high=20_000, in_file="flush", only=("flushed",)
    )
    resets: tuple[str, ...] = _figure((), "names", "level", "Resets", "resets: {}", longest=60, most=12, hint=say("set apart by commas"))
    wear_limits: tuple[str, ...] = _figure(
        (),
        "names",
        "level",
        "Wear limits",
        "wear limits: {}",
        longest=60,
        most=12,
        hint=say("name and figure, set apart by commas: wear counter 20"),
    )


@dataclass(frozen=True)
class Declared:
    """A figure: its name (with the suffix of its unit), what it is, and its value where a sheet says nothing; ``asked``: it has none."""

    name: str
    meaning: Meaning
    default: Any
    asked: bool = False

    @property
    def in_file(self) -> str:
        """Its name in a sheet's file."""
        return self.meaning.in_file or self.name


@functools.cache
def declared() -> dict[str, Declared]:
    """Give every figure by its name, in the order of the sheet.

    Returns
    -------
    dict of name to Declared

    References
    ----------
    :class:`Figures`.
    """
    found = {}
    for f in dataclasses.fields(Figures):
        asked = f.default is _MISSING
        found[f.name] = Declared(f.name, f.metadata["meaning"], "" if asked else f.default, asked)
    return found


def _alone(of: Declared, value: Any, at: str) -> None:
    """Refuse one value, or one of several, that the figure does not allow."""
    choices, longest = of.meaning.choices, of.meaning.longest
    if choices and value not in choices:
        allowed = ", ".join(c for c in choices if c)
        raise Inconsistent(say("“{value}” is not one of: {allowed}.", value=value, allowed=allowed), field=at, value=value, allowed=allowed)
    if longest and len(value) > longest:
        raise OutOfRange(
            say("At most {longest} characters; these are {value}.", longest=longest, value=len(value)),
            field=at,
            value=value[:40],
            allowed=say("{longest} characters", longest=longest),
        )


def check_figures(figures: Figures) -> None:
    """Refuse a figure outside what its declaration allows, and figures that contradict each other.

    Parameters
    ----------
    figures : in the units of their names

    Raises
    ------
    OutOfRange : an amount outside its bounds, a text too long, too many of a list
    Inconsistent : a word that is not in its list, a dry capacity below the service fill, half a window or one that is upside down

    References
    ----------
    Bounds: common practice.
    """
    for name, of in declared().items():
        value, meaning = getattr(figures, name), of.meaning
        if value is None or meaning.kind in ("flag", "three"):
            continue
        if meaning.several:
            if len(value) > meaning.most:
                raise OutOfRange(
                    say("At most {most} of them.", most=meaning.most),
                    field=name,
                    value=len(value),
                    allowed=say("up to {most}", most=meaning.most),
                )
            for k, one in enumerate(value):
                _alone(of, one, f"{name}.{k}")
        elif isinstance(value, str):
            _alone(of, value, name)
        else:
            in_range(name, value, meaning.low, meaning.high, meaning.unit)
    if figures.total_ml is not None and figures.capacity_ml is not None and figures.total_ml < figures.capacity_ml:
        raise Inconsistent(
            say("The dry capacity cannot be less than the service fill."),
            field="total_ml",
            value=figures.total_ml,
            allowed=say("from {capacity_ml}", capacity_ml=ml(figures.capacity_ml)),
        )
    low, high = figures.window_low_c, figures.window_high_c
    if (low is None) != (high is None):
        raise Inconsistent(say("A window has two ends."), field="window_low_c" if low is None else "window_high_c", value="")
    if low is not None and high is not None:
        check_window(TemperatureWindow(low, high))
