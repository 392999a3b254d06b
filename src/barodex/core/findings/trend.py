"""A compartment against its own past and against its sisters: what rises, even while the level is still fair."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.findings.finding import COLOURS, LEVELS, MAGNETS, Finding
from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, grouped
from barodex.core.words import say

NEAR = 0.5  # sisters count when their oil ran between half and one and a half times as far (common practice)
FEWEST_SISTERS = 2  # looks that make "more than its sisters" (common practice)


@dataclass(frozen=True)
class Look:
    """One look into a compartment: when, the meter (km or h), what the oil had run, what was seen and judged."""

    on: dt.date
    meter: float | None
    run: float | None
    finding: Finding
    level: int | None
    where: str = ""


@dataclass(frozen=True)
class Sisters:
    """What sister compartments showed at about the same run: mean level and its range, looks and compartments."""

    mean_level: float
    low: int
    high: int
    looks: int
    places: int
    above: bool
    text: str
    working: Working


@dataclass(frozen=True)
class Rise:
    """Something that grew: an id, how it is told, and over how many looks."""

    rule: str
    text: str
    looks: int


def against_sisters(level: int | None, run: float | None, sisters: Sequence[Look], meter: str = "km") -> Sisters | None:
    """Set a level against what sister compartments showed when their oil had run about as far.

    Parameters
    ----------
    level : of this look, 0 to 4; None when it was not judged
    run : what its oil had run, km or h; None unknown
    sisters : looks into compartments on the same sheet, of other vehicles
    meter : "km" or "h"

    Returns
    -------
    Sisters, or None where no look compares

    Raises
    ------
    OutOfRange : a negative run

    References
    ----------
    Common practice: oil that ran half to one and a half times as far compares.
    """
    if run is None or in_range("run", run, 0, 10_000_000) <= 0:
        return None
    near = [s for s in sisters if s.level is not None and s.run and run * (1 - NEAR) <= s.run <= run * (1 + NEAR)]
    if not near:
        return None
    levels = [s.level for s in near if s.level is not None]
    mean, places = float(np.mean(levels)), len({s.where for s in near})
    above = len(near) >= FEWEST_SISTERS and level is not None and level - mean >= 1.0
    text = say(
        "{near} look{words} into {places} sister compartment{words_2} at about {run} {meter}: level {mean:.1f} on average.",
        near=len(near),
        words="s" if len(near) > 1 else "",
        places=places,
        words_2="s" if places > 1 else "",
        run=grouped(run),
        meter=meter,
        mean=mean,
    )
    if above:
        text += say(" This one shows more than its sisters.")
    rows = tuple(
        (s.where, say("level {level} after {grouped} {meter}", level=s.level, grouped=grouped(s.run or 0), meter=meter)) for s in near[:6]
    )
    return Sisters(
        mean, min(levels), max(levels), len(near), places, above, text, Working("mean of levels at a like run", rows, COMMON_PRACTICE)
    )


def _size(f: Finding) -> dict[tuple[str, str], tuple[float, int]]:
    return {(p.form, p.metal): (p.size_mm, p.count) for p in f.particles or () if p.form != "paste"}


def _grown(now: Finding, then: Finding) -> list[Rise]:
    found = []
    if now.magnet and then.magnet and MAGNETS.index(now.magnet) > MAGNETS.index(then.magnet):
        found.append(
            Rise(
                "cover",
                say(
                    "More on the magnet: {magnet}, {magnet_2} before.",
                    magnet=now.magnet,
                    magnet_2=then.magnet if then.magnet != "none" else "clean",
                ),
                2,
            )
        )
    if now.particles is not None and then.particles is not None:
        before = _size(then)
        for (form, metal), (size, count) in _size(now).items():
            what = form if metal == "steel" else f"{metal} {form}"
            if (form, metal) not in before:
                found.append(Rise("new-form", say("New: {what}, not seen last time.", what=what), 2))
            elif size > before[form, metal][0]:
                found.append(
                    Rise(
                        "larger",
                        say("Larger {what}: {size:g} mm, {before:g} mm before.", what=what, size=size, before=before[form, metal][0]),
                        2,
                    )
                )
            elif count > 2 * before[form, metal][1]:
                found.append(
                    Rise("more", say("More {what}: {count}, {before} before.", what=what, count=count, before=before[form, metal][1]), 2)
                )
    return found


def _darker(now: Look, then: Look) -> list[Rise]:
    a, b = now.finding.colour, then.finding.colour
    shorter = now.run is not None and then.run is not None and now.run <= then.run * 1.1
    aged = a in COLOURS and b in COLOURS
    if a and b and aged and COLOURS.index(a) > COLOURS.index(b) and shorter:
        return [Rise("darker", say("Darker ({a}, {b} before) after no longer a run.", a=a, b=b), 2)]
    return []


def rises(looks: Sequence[Look]) -> tuple[Rise, ...]:
    """Call out what grew since the look before, and what climbs over several.

    Parameters
    ----------
    looks : of one compartment, in order of time

    Returns
    -------
    tuple of Rise; empty with fewer than two looks, or when nothing grew

    References
    ----------
    Common practice: a rise matters more than a level.
    """
    if len(looks) < 2:
        return ()
    now, then = looks[-1], looks[-2]
    found: list[Rise] = []
    if now.level is not None and then.level is not None and now.level > then.level:
        fair = say(", still fair") if now.level <= 1 else ""
        found.append(
            Rise(
                "level",
                say(
                    "Up from {level} ({levels}) to {level_2} ({levels_2}){fair}.",
                    level=then.level,
                    levels=LEVELS[then.level],
                    level_2=now.level,
                    levels_2=LEVELS[now.level],
                    fair=fair,
                ),
                2,
            )
        )
    found += _grown(now.finding, then.finding) + _darker(now, then)
    levels = [k.level for k in looks if k.level is not None]
    climbing = 1
    while climbing < len(levels) and levels[-climbing] > levels[-climbing - 1]:
        climbing += 1
    if climbing >= 3:
        found.append(Rise("climbing", say("It has risen {climbing} times in a row.", climbing=climbing - 1), climbing))
    return tuple(found)
