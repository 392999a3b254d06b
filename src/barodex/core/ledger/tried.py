"""Oils that were tried in one compartment, side by side: how far they ran, how it shifted, how quiet, what they left, what was lost."""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass

from barodex.core.ledger.leak import LossPoint, loss_rate
from barodex.core.quantity.errors import in_range
from barodex.core.words import say

BETTER_BY = 0.5  # of the five steps of an impression, from which one oil is called better (common practice)


@dataclass(frozen=True)
class Fill:
    """One fill of an oil: since when, what it ran (km or h), whether it is inside still, what was said and found.

    Impressions 1 bad to 5 very good, None when nobody said: before it went in, and after. ``level`` and ``colour`` of what came
    out in the end; ``loss`` where one was told.
    """

    oil: str
    on: dt.date
    days: int
    run: float | None
    inside: bool
    shift_before: int | None = None
    shift_after: int | None = None
    noise_before: int | None = None
    noise_after: int | None = None
    level: int | None = None
    colour: str = ""
    loss: LossPoint | None = None


@dataclass(frozen=True)
class Tried:
    """An oil over all its fills; means of impressions, their change, debris levels of each drain, the rate of loss with its 2σ."""

    oil: str
    fills: int
    inside: bool
    first: dt.date
    run: float
    days: int
    shift: float | None
    shift_gain: float | None
    noise: float | None
    noise_gain: float | None
    levels: tuple[int, ...]
    colours: tuple[str, ...]
    loss_rate: float | None
    loss_within: float | None


@dataclass(frozen=True)
class SideBySide:
    """Oils in the order in which they were first used, and what the comparison says, with how little it rests on."""

    oils: tuple[Tried, ...]
    says: tuple[str, ...]


def _mean(values: Sequence[float | None]) -> float | None:
    known = [v for v in values if v is not None]
    return sum(known) / len(known) if known else None


def _one(oil: str, fills: Sequence[Fill], meter: str) -> Tried:
    points = [f.loss for f in fills if f.loss is not None]
    rate = loss_rate(points, meter) if points else None

    def gain(before: int | None, after: int | None) -> float | None:
        return None if before is None or after is None else float(after - before)

    return Tried(
        oil=oil,
        fills=len(fills),
        inside=any(f.inside for f in fills),
        first=fills[0].on,
        run=sum(f.run or 0.0 for f in fills),
        days=sum(f.days for f in fills),
        shift=_mean([f.shift_after for f in fills]),
        shift_gain=_mean([gain(f.shift_before, f.shift_after) for f in fills]),
        noise=_mean([f.noise_after for f in fills]),
        noise_gain=_mean([gain(f.noise_before, f.noise_after) for f in fills]),
        levels=tuple(f.level for f in fills if f.level is not None),
        colours=tuple(f.colour for f in fills if f.colour),
        loss_rate=rate.rate if rate else None,
        loss_within=2 * rate.sigma if rate else None,
    )


def _better(oils: Sequence[Tried], what: str, words: str) -> list[str]:
    rated = sorted(((getattr(t, what), t) for t in oils if getattr(t, what) is not None), key=lambda x: -x[0])
    if len(rated) < 2:
        return []
    (best, first), (next_best, second) = rated[0], rated[1]
    if best - next_best < BETTER_BY:
        return [say("{words}: no difference worth a name between {oil} and {oil_2}.", words=words, oil=first.oil, oil_2=second.oil)]
    return [
        say(
            "{words}: {oil} ({best:.1f} of 5) before {oil_2} ({next_best:.1f}).",
            words=words,
            oil=first.oil,
            best=best,
            oil_2=second.oil,
            next_best=next_best,
        )
    ]


def compare_oils(fills: Sequence[Fill], meter: str = "km") -> SideBySide:
    """Set the oils of one compartment side by side.

    Parameters
    ----------
    fills : in order of date; run in km or h as ``meter`` says, losses in mL
    meter : "km" or "h"

    Returns
    -------
    SideBySide; an oil is called better only by half a step of an impression, by a whole level of debris, or by a loss that lies
    beyond twice the combined σ

    Raises
    ------
    OutOfRange : an impression outside 1 to 5, a level outside 0 to 4

    References
    ----------
    Losses: JCGM 100 (GUM), combined standard uncertainty. The rest: common practice.
    """
    by_oil: dict[str, list[Fill]] = {}
    for f in fills:
        for name in ("shift_before", "shift_after", "noise_before", "noise_after"):
            if getattr(f, name) is not None:
                in_range(name, getattr(f, name), 1, 5)
        if f.level is not None:
            in_range("level", f.level, 0, 4)
        by_oil.setdefault(f.oil, []).append(f)
    oils = [_one(oil, mine, meter) for oil, mine in by_oil.items()]
    says: list[str] = []
    if len(oils) > 1:
        says += _better(oils, "shift", "Shifting") + _better(oils, "noise", "Quietness")
        looked = sorted(((sum(t.levels) / len(t.levels), t) for t in oils if t.levels), key=lambda x: x[0])
        if len(looked) > 1 and looked[-1][0] - looked[0][0] >= 1:
            says.append(
                say(
                    "Debris: {oil} left less (level {looked:.1f}) than {oil_2} ({looked_2:.1f}).",
                    oil=looked[0][1].oil,
                    looked=looked[0][0],
                    oil_2=looked[-1][1].oil,
                    looked_2=looked[-1][0],
                )
            )
        lost = sorted(((t.loss_rate, t.loss_within or 0.0, t) for t in oils if t.loss_rate is not None), key=lambda x: x[0])
        if len(lost) > 1:
            (low, low_within, less), (high, high_within, more) = lost[0], lost[-1]
            real = high - low > math.hypot(low_within, high_within)
            says.append(say("Loss: {oil} less than {oil_2}.", oil=less.oil, oil_2=more.oil) if real else say("Loss: not to be told apart."))
        if any(t.fills == 1 for t in oils):
            says.append(say("One fill of an oil proves little: weather, load and the age of the box change too."))
    return SideBySide(tuple(oils), tuple(says))
