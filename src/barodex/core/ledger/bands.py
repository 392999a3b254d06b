"""What a loss is called: by what it would be over a whole interval, and how sure it is that none matters."""

from __future__ import annotations

import math
from dataclasses import dataclass

from barodex.core.quantity.errors import in_range
from barodex.core.sheet.plausible import LOW_SHARE

BANDS = ("tight", "unclear", "weep", "look again", "leak", "repair")
LEAST_KM, LEAST_DAYS = 1000.0, 30  # run since the level was set: sooner a loss says nothing of a whole interval (common practice)
WEEP_SHARE = 0.05  # of the capacity over a whole interval (common practice)
LEAST_SHARE = 0.02  # of an interval, where its length is not known (common practice)
MATTERS, SURE = 0.10, 0.9  # of the capacity: a smaller loss does not matter before the next change; how sure "tight" is (common practice)


@dataclass(frozen=True)
class Run:
    """What a compartment ran since its level was set: ``share`` of its interval, and ``least``, the share that a loss wants to say something
    of a whole one (:data:`LEAST_KM` or :data:`LEAST_DAYS`)."""

    share: float
    least: float = LEAST_SHARE


def loss_band(loss_ml: float, sigma_ml: float, capacity_ml: float, run: Run | None = None) -> str:
    """Name the band of a loss by what it would be over a whole interval.

    Parameters
    ----------
    loss_ml, sigma_ml : loss since the level was set and its σ, mL at 15 °C
    capacity_ml : service capacity, mL, above 0
    run : what was run meanwhile; None where it is not known: then nothing is told of a whole interval

    Returns
    -------
    str: within 2σ tight, where it is 90 % sure that less than 10 % of the capacity was lost, else unclear; beyond, by (loss − 2σ) / share /
    capacity leak (5 to 15 %) or repair (> 15 %), weep where loss / share / capacity is below 5 %; look again where the run is not known,
    or too short to say leak or repair

    Raises
    ------
    OutOfRange : a capacity or a share of zero or less

    References
    ----------
    Common practice.
    """
    in_range("capacity_ml", capacity_ml, 1, 1_000_000, "mL")
    if loss_ml <= 2 * sigma_ml:
        return "tight" if tight_odds(loss_ml, sigma_ml, capacity_ml) >= SURE else "unclear"
    if run is None:
        return "look again"
    whole = max(in_range("share", run.share, 0, 10_000), in_range("least", run.least, 1e-4, 10_000)) * capacity_ml
    part = (loss_ml - 2 * sigma_ml) / whole
    if loss_ml / whole < WEEP_SHARE:
        return "weep"
    if run.share < run.least:
        return "look again"
    return "leak" if part <= LOW_SHARE else "repair"


def tight_odds(loss_ml: float, sigma_ml: float, capacity_ml: float) -> float:
    """Give the probability that less was lost than would matter.

    Parameters
    ----------
    loss_ml, sigma_ml : as measured and its σ, mL
    capacity_ml : service capacity, mL

    Returns
    -------
    float, 0 to 1

    References
    ----------
    A Gaussian reading, JCGM 100 (GUM); 10 % of the capacity is common practice.
    """
    if sigma_ml <= 0:
        return float(loss_ml < MATTERS * capacity_ml)
    return 0.5 * (1 + math.erf((MATTERS * capacity_ml - loss_ml) / sigma_ml / math.sqrt(2)))
