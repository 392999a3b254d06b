"""What a compartment really takes, learnt from what went in and came out of it and of its sisters on the same sheet."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when they are first used

from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import Working, grouped, ml
from barodex.core.words import say

LEAST_FILLS = 3
LEAST_SHARE = 0.02  # of the capacity: a smaller difference is not worth a revision (common practice)


@dataclass(frozen=True)
class Fill:
    """An amount at 20 °C: what went in until the level was right, or what came out; where it was measured."""

    volume_ml: float
    where: str
    to_level: bool = True


@dataclass(frozen=True)
class Spread:
    """Mean and standard deviation of amounts, mL, how many, of how many compartments, and half the width of the 95 % interval of the mean."""

    mean_ml: float
    sd_ml: float
    half_ml: float
    count: int
    places: int


@dataclass(frozen=True)
class Learnt:
    """What went in to the level, what came out, and the capacity that the evidence proposes (None: none, or the sheet is right)."""

    went_in: Spread | None
    came_out: Spread | None
    copies: int
    proposes_ml: float | None
    text: str
    working: Working | None


def capacity_offered(took_ml: float, sheet_ml: float | None, trust: str, to_level: bool) -> float | None:
    """Give what one fill offers as the capacity of a sheet that states none, or only guesses.

    Parameters
    ----------
    took_ml : what went in, mL at a workshop's temperature
    sheet_ml : what the sheet says, mL; None when unknown
    trust : of the sheet's figure: "verified", "copied", "remembered", "guessed" or empty
    to_level : whether the fill found its level by itself

    Returns
    -------
    whole mL, or None where the fill says nothing new

    References
    ----------
    Common practice.
    """
    took = float(round(took_ml))
    if sheet_ml is None:
        return took
    if trust not in ("guessed", "remembered") or not to_level or abs(took - sheet_ml) <= LEAST_SHARE * sheet_ml:
        return None
    return took


def _spread(fills: Sequence[Fill]) -> Spread | None:
    if not fills:
        return None
    values = np.array([f.volume_ml for f in fills])
    n = len(values)
    sd = float(values.std(ddof=1)) if n > 1 else 0.0
    half = float(scipy.special.stdtrit(n - 1, 0.975)) * sd / math.sqrt(n) if n > 1 else math.inf
    return Spread(float(values.mean()), sd, half if math.isfinite(half) else 0.0, n, len({f.where for f in fills}))


def learn_capacity(went_in: Sequence[Fill], came_out: Sequence[Fill], sheet_ml: float | None, reading_ml: float = 20.0) -> Learnt:
    """Give what a compartment takes by the evidence, and whether the sheet should say so.

    Parameters
    ----------
    went_in, came_out : amounts at 20 °C, mL, 1 to 60 000; a fill that only copies the sheet's figure (not to a level) proves nothing
    sheet_ml : what the sheet says, mL; None when unknown
    reading_ml : σ of one reading, mL, below which a spread is not believed

    Returns
    -------
    Learnt

    Raises
    ------
    OutOfRange : an amount outside its range

    References
    ----------
    Mean and Student's 95 % interval (NIST/SEMATECH e-Handbook, 1.3.5.2); a proposal wants three fills to a level, a difference
    beyond the interval and above 2 % of the capacity (common practice).
    """
    for f in (*went_in, *came_out):
        in_range("volume_ml", f.volume_ml, 1, 60_000, "mL")
    real = [f for f in went_in if f.to_level]
    copies = len(went_in) - len(real)
    into, out = _spread(real), _spread(came_out)
    if into is None:
        text = (
            say("Every fill on record was measured by the sheet's figure: it says nothing of what the compartment takes.") if copies else ""
        )
        return Learnt(None, out, copies, None, text or say("No fill to a level is on record yet."), None)
    error = max(into.half_ml, 2 * reading_ml / math.sqrt(into.count))
    where = (say("{count} fills", count=into.count) if into.count > 1 else say("{count} fill", count=into.count)) + (
        say(" of {places} sister compartments", places=into.places) if into.places > 1 else ""
    )
    text = say("{mean_ml} ± {error} went in, by {where}", mean_ml=grouped(into.mean_ml), error=ml(error), where=where)
    proposes = None
    if into.count < LEAST_FILLS:
        text += say(": {least_fills} more to tell.", least_fills=LEAST_FILLS - into.count)
    elif sheet_ml is None:
        proposes = round(into.mean_ml / 10) * 10.0
        text += ": the sheet states none, this could be it."
    elif abs(into.mean_ml - sheet_ml) > max(error, LEAST_SHARE * sheet_ml):
        proposes = round(into.mean_ml / 10) * 10.0
        text += say("; the sheet says {sheet_ml}: it should be revised.", sheet_ml=ml(sheet_ml))
    else:
        text += say(": the sheet's {sheet_ml} stand.", sheet_ml=ml(sheet_ml))
    inputs = [(say("went in, mean and s"), f"{ml(into.mean_ml)}, {ml(into.sd_ml)}"), ("fills", str(into.count))]
    if out:
        inputs.append((say("came out, mean and s"), f"{ml(out.mean_ml)}, {ml(out.sd_ml)}"))
    if copies:
        inputs.append((say("left out: poured by the sheet's figure"), str(copies)))
    working = Working("mean ± t₀.₉₇₅·s/√n, at least 2σ of a reading/√n", tuple(inputs), "NIST/SEMATECH e-Handbook 1.3.5.2; common practice")
    return Learnt(into, out, copies, proposes, text, working)
