"""Quantities as people type and read them: one canonical unit per kind, three systems for the eye.

Canonical units: volume mL, mass g, distance km, duration d, engine hours h, torque N·m, temperature °C, length mm,
pressure kPa.
"""

from __future__ import annotations

import functools
import math
import re
from dataclasses import dataclass
from typing import Any

import pint

from barodex.core.quantity.errors import Ambiguous, Inconsistent, OutOfRange, Unreadable
from barodex.core.quantity.working import FINE_BELOW_ML, figure, grouped, is_fine, ml
from barodex.core.words import say

SYSTEMS = ("metric", "imperial", "us")

# kind: (canonical unit as shown, pint unit, lowest, highest in the canonical unit)
_KINDS: dict[str, tuple[str, str, float, float]] = {
    "volume": ("mL", "milliliter", 0, 1_000_000),
    "mass": ("g", "gram", 0, 1_000_000),
    "distance": ("km", "kilometer", 0, 9_999_999),
    "duration": ("d", "day", 0, 36_525),
    "engine_hours": ("h", "hour", 0, 999_999),
    "torque": ("N·m", "newton*meter", 0, 5_000),
    "temperature": ("°C", "degC", -90, 400),
    "length": ("mm", "millimeter", 0, 100_000),
    "pressure": ("kPa", "kilopascal", 0, 100_000),
}

# what is shown: kind -> system -> (label, pint unit, decimals at the most)
_SHOWN: dict[str, dict[str, tuple[str, str, int]]] = {
    "volume": {"metric": ("mL", "milliliter", 0), "imperial": ("imp pt", "imperial_pint", 2), "us": ("US qt", "quart", 2)},
    "mass": {"metric": ("g", "gram", 0), "imperial": ("oz", "ounce", 1), "us": ("oz", "ounce", 1)},
    "distance": {"metric": ("km", "kilometer", 0), "imperial": ("mi", "mile", 0), "us": ("mi", "mile", 0)},
    "duration": dict.fromkeys(SYSTEMS, ("d", "day", 0)),
    "engine_hours": dict.fromkeys(SYSTEMS, ("h", "hour", 1)),
    "torque": {
        "metric": ("N·m", "newton*meter", 1),
        "imperial": ("lbf·ft", "foot*pound_force", 1),
        "us": ("lbf·ft", "foot*pound_force", 1),
    },
    "temperature": {"metric": ("°C", "degC", 1), "imperial": ("°C", "degC", 1), "us": ("°F", "degF", 1)},
    "length": {"metric": ("mm", "millimeter", 1), "imperial": ("mm", "millimeter", 1), "us": ("in", "inch", 3)},
    "pressure": {"metric": ("kPa", "kilopascal", 0), "imperial": ("psi", "psi", 1), "us": ("psi", "psi", 1)},
}

# set to the decimal that the source gives: an even figure is shown without one, 1.5 is never 2
_TRIMMED = ("torque", "temperature", "length")

# volumes that are one thing in the US and another in Britain; an ounce of a volume is a fluid one
_BARE = {
    **dict.fromkeys(("gal", "gals", "gallon", "gallons"), "gallon"),
    **dict.fromkeys(("qt", "qts", "quart", "quarts"), "quart"),
    **dict.fromkeys(("pt", "pts", "pint", "pints"), "pint"),
    **dict.fromkeys(("floz", "flozs", "fluidounce", "fluidounces", "oz", "ozs", "ounce", "ounces"), "fluid_ounce"),
}

# spellings, lower case without dots and spaces -> pint unit; None: needs the system, or the question "US or imperial?"
_UNITS: dict[str, dict[str, str | None]] = {
    "volume": {
        **dict.fromkeys(("ml", "cc", "cm3", "cm³", "millilitre", "millilitres", "milliliter", "milliliters"), "milliliter"),
        **dict.fromkeys(("cl",), "centiliter"),
        **dict.fromkeys(("l", "lt", "ltr", "litre", "litres", "liter", "liters", "dm3", "dm³"), "liter"),
        **dict.fromkeys(_BARE, None),
    },
    "mass": {
        **dict.fromkeys(("g", "gram", "grams", "gramme"), "gram"),
        **dict.fromkeys(("kg", "kilo", "kilos", "kilogram", "kilograms"), "kilogram"),
        **dict.fromkeys(("lb", "lbs", "pound", "pounds"), "pound"),
        **dict.fromkeys(("oz", "ounce", "ounces"), "ounce"),
    },
    "distance": {
        **dict.fromkeys(("km", "kms", "kilometre", "kilometres", "kilometer", "kilometers"), "kilometer"),
        **dict.fromkeys(("mi", "mile", "miles"), "mile"),
    },
    "duration": {
        **dict.fromkeys(("d", "day", "days"), "day"),
        **dict.fromkeys(("wk", "week", "weeks"), "week"),
        **dict.fromkeys(("mo", "month", "months"), "month"),
        **dict.fromkeys(("y", "yr", "yrs", "year", "years"), "year"),
    },
    "engine_hours": dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), "hour"),
    "torque": {
        **dict.fromkeys(("nm", "n·m", "n*m", "newtonmetre", "newtonmeter", "newton-metre"), "newton*meter"),
        **dict.fromkeys(
            (
                "lbft",
                "lb-ft",
                "lb·ft",
                "ftlb",
                "ft-lb",
                "ft·lb",
                "ftlbs",
                "ft-lbs",
                "lbsft",
                "lbfft",
                "lbf-ft",
                "lbf·ft",
                "ft-lbf",
                "ftlbf",
                "ft·lbf",
            ),
            "foot*pound_force",
        ),
        **dict.fromkeys(("inlb", "in-lb", "in·lb", "lbin", "lb-in", "inlbs", "in-lbs", "lbfin", "lbf·in"), "inch*pound_force"),
        **dict.fromkeys(("kgm", "kg-m", "kgf·m", "kgfm", "kgf-m", "mkg"), "kilogram_force*meter"),
    },
    "temperature": {
        **dict.fromkeys(("c", "°c", "degc", "celsius"), "degC"),
        **dict.fromkeys(("f", "°f", "degf", "fahrenheit"), "degF"),
        **dict.fromkeys(("k", "kelvin"), "kelvin"),
    },
    "length": {
        **dict.fromkeys(("mm",), "millimeter"),
        **dict.fromkeys(("cm",), "centimeter"),
        **dict.fromkeys(("m",), "meter"),
        **dict.fromkeys(("in", "inch", "inches", '"', "″"), "inch"),
    },
    "pressure": {**dict.fromkeys(("kpa",), "kilopascal"), **dict.fromkeys(("bar",), "bar"), **dict.fromkeys(("psi",), "psi")},
}
_GIVEN_TWICE = re.compile(r"^(?P<one>[^(=]+?)\s*(?:\((?P<two>[^()]+)\)|=\s*(?P<three>.+))$")
_FRACTIONS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_WORDS = {"half a ": "1/2 ", "half ": "1/2 ", "quarter of a ": "1/4 ", "a quarter ": "1/4 ", "quarter ": "1/4 "}
_SUMMED = ("volume", "mass")  # what is caught in two goes is typed as a sum
ROUNDED = 0.03  # a round figure is printed within this share of what it converts to (common practice)
_NUMBER = re.compile(
    r"^(?P<sign>[-+−]?)\s*(?:(?P<whole>\d+)\s+(?P<n>\d+)/(?P<d>\d+)|(?P<n2>\d+)/(?P<d2>\d+)|(?P<num>[\d.,\s'’  ]*\d|\d*[.,]\d+))"
    r"\s*(?P<thousand>k(?=[\s]|mi|$))?(?P<rest>.*)$"
)


@functools.cache
def _registry() -> Any:
    return pint.UnitRegistry()


def _to_canonical(value: float, unit: str, kind: str) -> float:
    ureg = _registry()
    if unit == "month":  # a Gregorian mean month: only for typed durations, never for calendar arithmetic
        value, unit = value * 30.436875, "day"
    elif unit == "year":
        value, unit = value * 365.2425, "day"
    return float(ureg.Quantity(value, unit).to(_KINDS[kind][1]).magnitude)


def _decimal(text: str, whole_text: str, kind: str, system: str) -> float:
    """Read the digits of a number, refusing what could be thousands or decimals."""
    compact = re.sub(r"[\s'’  ]", "", text)
    marks = [m for m in compact if m in ".,"]
    if not marks:
        return float(compact)
    if len(set(marks)) == 2:  # 1,234.5 or 1.234,5: the last mark is the decimal one
        decimal = compact[max(compact.rfind("."), compact.rfind(","))]
        other = "," if decimal == "." else "."
        head, _, tail = compact.rpartition(decimal)
        if decimal in head or not re.fullmatch(rf"\d{{1,3}}(?:\{other}\d{{3}})+", head):
            raise Unreadable(say("“{whole_text}” is not a number that can be read.", whole_text=whole_text), field=kind, value=whole_text)
        return float(head.replace(other, "") + "." + tail)
    mark = marks[0]
    if len(marks) > 1:
        if re.fullmatch(rf"\d{{1,3}}(?:\{mark}\d{{3}})+", compact):
            return float(compact.replace(mark, ""))
        raise Unreadable(say("“{whole_text}” is not a number that can be read.", whole_text=whole_text), field=kind, value=whole_text)
    head, _, tail = compact.partition(mark)
    if mark == "," and system != "metric" and re.fullmatch(r"[1-9]\d{0,2},\d{3}", compact):
        return float(head + tail)  # no decimal comma is written in these systems: the comma groups
    if len(tail) == 3 and 1 <= len(head) <= 3 and head.strip("0"):
        plain, small = head + tail, f"{head}.{tail}".rstrip("0").rstrip(".")
        raise Ambiguous(
            say(
                "“{whole_text}” can mean {plain} or {small}: type it without the mark, or with another number of decimals.",
                whole_text=whole_text,
                plain=plain,
                small=small,
            ),
            field=kind,
            value=whole_text,
            allowed=say("{plain} or {small}", plain=plain, small=small),
        )
    return float(f"{head or '0'}.{tail}")


def _unit_of(text: str, whole_text: str, kind: str, system: str) -> str:
    raw = text.strip().lower().replace("−", "-")
    origin = ""
    trailing = re.search(r"\b(us|u\.s\.|imp|imperial|uk)\.?$", raw)
    if trailing and raw[: trailing.start()].strip():  # 1.25 gal US
        raw = f"{trailing.group(1)} {raw[: trailing.start()].strip()}"
    for pattern, name in ((r"^us\.?\s*|^u\.s\.\s*", "US"), (r"^imp(erial)?\.?\s*|^uk\.?\s*", "imperial")):
        found = re.match(pattern, raw)
        if found and found.group():
            origin, raw = name, raw[found.end() :]
            break
    compact = re.sub(r"[\s.]", "", raw)
    compact = compact.replace("--", "-")
    if not compact:
        return _SHOWN[kind][system][1]
    known = _UNITS[kind]
    if compact not in known:
        shown = {"volume": "mL, L, US qt, imp pt, fl oz, gal", "torque": "N·m, lbf·ft, lbf·in, kgf·m"}.get(
            kind, ", ".join(sorted({u for u in known if len(u) < 4}))
        )
        raise Unreadable(
            say("“{text}” is not a unit of {kind}; known are {shown}.", text=text.strip(), kind=kind.replace("_", " "), shown=shown),
            field=kind,
            value=whole_text,
            allowed=shown,
        )
    unit = known[compact]
    if unit is not None:
        return unit
    bare = _BARE[compact]
    where = origin or {"imperial": "imperial", "us": "US"}.get(system, "")
    if not where:
        raise Ambiguous(
            say("“{whole_text}”: US or imperial? Type “US {compact}” or “imp {compact}”.", whole_text=whole_text.strip(), compact=compact),
            field=kind,
            value=whole_text,
            allowed=say("US {compact} or imp {compact}", compact=compact),
        )
    if where == "US":
        return bare  # plain names are the US ones in Pint
    return f"imperial_{bare}"


def _half_a_step(text: str, kind: str, system: str) -> float:
    """Half of the last digit that was written, in the canonical unit (32 °F is good to half a degree); a round figure such as
    37 300 mi is good to half of its last digit that counts, but to no more than 3 %."""
    value = parse_quantity(text, kind, system)
    match = _NUMBER.match(text.strip())
    if not match or not match["num"]:
        return abs(value) * ROUNDED  # a fraction: halves, quarters
    digits = re.sub(r"[\s'’  ]", "", match["num"])
    tail = re.search(r"[.,](\d{1,2}|\d{4,})$", digits)
    thousand = 1000.0 if match["thousand"] else 1.0
    step = 10.0 ** -len(tail.group(1)) * thousand if tail else thousand
    unit = _unit_of(match["rest"], text, kind, system)
    half = abs(_to_canonical(100.0 + step, unit, kind) - _to_canonical(100.0, unit, kind)) / 2
    if kind != "temperature" and not tail:
        zeros = len(digits) - len(digits.rstrip("0,."))
        half = max(half, min(half * 10.0**zeros, abs(value) * ROUNDED))
    return half * (1 + 1e-9)


def _sum(parts: list[str], whole: str, kind: str, system: str, usual: float | None) -> float:
    """What was caught in several goes; a part without a unit has that of the last."""
    last = _NUMBER.match(parts[-1])
    unit = last["rest"].strip() if last else ""
    total = 0.0
    for part in parts:
        own = _NUMBER.match(part)
        if own is None or own["sign"]:
            raise Unreadable(say("“{whole}” is not a sum that can be read.", whole=whole), field=kind, value=whole)
        total += parse_quantity(part if own["rest"].strip() else f"{part} {unit}".strip(), kind, system, usual)
    return total


def _ask_litres(number: float, whole: str, usual_ml: float) -> None:
    """A bare figure under millilitres that fits this place only as litres is asked about, never taken."""
    if number < usual_ml / 20 and usual_ml / 5 <= number * 1000 <= usual_ml * 5:
        raise Ambiguous(
            say(
                "“{whole}”: {number:g} L? Type “{number:g} L”, or “{number_2}” if so little is meant.",
                whole=whole.strip(),
                number=number,
                number_2=ml(number),
            ),
            field="volume",
            value=whole,
            allowed=say("{number:g} L or {number_2}", number=number, number_2=ml(number)),
        )


def _cross_checked(one: str, two: str, kind: str, system: str) -> float:
    """A figure given in two units, as sheets print it: the first counts when the second says the same."""
    first, second = (parse_quantity(part, kind, system) for part in (one, two))
    if abs(first - second) > sum(_half_a_step(part, kind, system) for part in (one, two)):
        shown = ", ".join(dict.fromkeys(format_quantity(first, kind, s) for s in SYSTEMS))
        raise Inconsistent(
            say(
                "“{one}” and “{two}” contradict each other: the first is {shown}. Which one is right?",
                one=one.strip(),
                two=two.strip(),
                shown=shown,
            ),
            field=kind,
            value=f"{one} ({two})",
            allowed=say("two units that say the same"),
        )
    return first


def parse_quantity(text: str, kind: str, system: str = "metric", usual: float | None = None) -> float:
    """Read what a person typed and give it in the canonical unit of its kind.

    Parameters
    ----------
    text : for example ``2,3 L``, ``1 1/4 gal``, ``½ pt``, ``27 lb ft``, ``60k mi``, ``104 °F``; at most 60 characters
    kind : one of volume (mL), mass (g), distance (km), duration (d), engine_hours (h), torque (N·m),
        temperature (°C), length (mm), pressure (kPa)
    system : metric, imperial or us; says what a bare number and a bare pint, quart, gallon or fluid ounce mean
    usual : what is usual here, in the canonical unit, such as a capacity; a bare figure that fits only as litres is then asked about

    Returns
    -------
    float, in the canonical unit

    Raises
    ------
    Unreadable : no number, an unknown unit, or more than 60 characters
    Inconsistent : given twice, ``43 N·m (32 lb ft)`` or ``2.3 L = 2.4 US qt``, and the two differ by more than the last digits written
    Ambiguous : ``80.000 km`` (thousands or decimals?), a bare ``2 qt`` under metric (US or imperial?), a bare ``1.7`` in mL where 1 700 is usual
    OutOfRange : outside what the kind allows; negative amounts, NaN and infinity among them

    References
    ----------
    NIST SP 811 (2008) appendix B: US gal 3.785411784 L, imperial gal 4.54609 L, mile 1.609344 km,
    lbf·ft 1.3558179483314004 N·m; carried by Pint.
    """
    if kind not in _KINDS or system not in SYSTEMS:
        raise Unreadable(say("No kind “{kind}” in system “{system}”.", kind=kind, system=system), field="kind", value=kind)
    whole = str(text)
    twice = _GIVEN_TWICE.match(whole.strip()) if len(whole) <= 60 else None
    if twice:
        return _cross_checked(twice["one"], twice["two"] or twice["three"], kind, system)
    if len(whole) > 60:
        raise Unreadable(say("That is too long for an amount: at most 60 characters."), field=kind, value=whole[:60])
    cleaned = whole.strip()
    parts = re.split(r"(?<=[\w\s.])\+(?=\s*[\d½¼¾])", cleaned)
    if kind in _SUMMED and len(parts) > 1:
        return _sum([part.strip() for part in parts], whole, kind, system, usual)
    for word, plain in _WORDS.items():
        if cleaned.lower().startswith(word):
            cleaned = plain + cleaned[len(word) :]
            break
    for sign, plain in _FRACTIONS.items():
        cleaned = cleaned.replace(sign, f" {plain}")
    match = _NUMBER.match(cleaned.strip())
    if not match:
        raise Unreadable(say("“{whole}” has no number that can be read.", whole=whole), field=kind, value=whole)
    groups = match.groupdict()
    if groups["whole"] or groups["n2"]:
        top, bottom = int(groups["n"] or groups["n2"]), int(groups["d"] or groups["d2"])
        if bottom == 0:
            raise Unreadable(say("“{whole}” divides by zero.", whole=whole), field=kind, value=whole)
        number = int(groups["whole"] or 0) + top / bottom
    else:
        number = _decimal(groups["num"], whole, kind, system)
    if groups["thousand"]:
        number *= 1000
    if groups["sign"] in ("-", "−"):
        number = -number
    if kind == "volume" and system == "metric" and usual is not None and not groups["rest"].strip():
        _ask_litres(number, whole, usual)
    value = _to_canonical(number, _unit_of(groups["rest"], whole, kind, system), kind)
    label, _, low, high = _KINDS[kind]
    if not math.isfinite(value) or not low <= value <= high:
        raise OutOfRange(
            say(
                "“{whole}” is outside what is possible here: {low:g} to {high} {label}.",
                whole=whole.strip(),
                low=low,
                high=grouped(high),
                label=label,
            ),
            field=kind,
            value=whole,
            allowed=say("{low:g} to {high:g} {label}", low=low, high=high, label=label),
        )
    return value


def format_quantity(value: float, kind: str, system: str = "metric") -> str:
    """Write a canonical value for the eye, in the system's unit, thousands set apart.

    Parameters
    ----------
    value : in the canonical unit of ``kind``
    kind, system : as in :func:`parse_quantity`

    Returns
    -------
    str, for example ``1 840 mL`` or ``1.94 US qt``

    Raises
    ------
    OutOfRange : not finite

    References
    ----------
    Unit definitions as in :func:`parse_quantity`; grouping as ISO 80000-1.
    """
    if not math.isfinite(value):
        raise OutOfRange(say("{value!r} cannot be shown.", value=value), field=kind, value=value)
    label, unit, decimals = _SHOWN[kind][system]
    shown = float(_registry().Quantity(value, _KINDS[kind][1]).to(unit).magnitude)
    if _fine(kind, label) and is_fine(shown):
        return f"{figure(shown, decimals + 1)}\N{NO-BREAK SPACE}{label}"
    return f"{figure(shown, decimals, kind in _TRIMMED)}\N{NO-BREAK SPACE}{label}"


def _fine(kind: str, label: str) -> bool:
    """Whether small values are shown with a decimal more: a hub gear takes 12.5 mL."""
    return kind == "volume" and label == "mL"


@dataclass(frozen=True)
class Display:
    """How a kind is shown: ``shown = value * factor + offset``, with ``label`` and ``decimals`` at the most; ``trim``: without zeros
    at the end; below ``fine_below``, as shown, a decimal more where it has one."""

    label: str
    factor: float
    offset: float
    decimals: int
    trim: bool = False
    fine_below: float = 0.0


def display_table(system: str) -> dict[str, Display]:
    """Give, for each kind, the straight line from the canonical unit to the shown one.

    Parameters
    ----------
    system : metric, imperial or us

    Returns
    -------
    dict of kind to :class:`Display`; the page formats with it, so that it holds no factor of its own

    References
    ----------
    Unit definitions as in :func:`parse_quantity`.
    """
    ureg, table = _registry(), {}
    for kind, shown in _SHOWN.items():
        label, unit, decimals = shown[system]
        at = [float(ureg.Quantity(v, _KINDS[kind][1]).to(unit).magnitude) for v in (0.0, 1.0)]
        table[kind] = Display(label, at[1] - at[0], at[0], decimals, kind in _TRIMMED, FINE_BELOW_ML if _fine(kind, label) else 0.0)
    return table
