"""What a drain still yields, what a suction got out, and what stays inside."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, grouped, ml, percent
from barodex.core.words import say

RECOVERED_ENOUGH = 0.7  # below it the hose was not at the bottom (common practice)


@dataclass(frozen=True)
class DripYield:
    """What more waiting yields: the rate now (mL/min), its time constant (s, None: it does not fall), mL over the wait, mL in all."""

    rate_ml_per_min: float
    tau_s: float | None
    over_wait_ml: float
    in_all_ml: float | None
    text: str
    working: Working


def drip_yield(readings: Sequence[tuple[float, float]], wait_s: float) -> DripYield:
    """Tell from drip rates what more waiting yields.

    Parameters
    ----------
    readings : (seconds, mL/min), in order of time, one or more; the last one is now
    wait_s : how much longer, s, 1 to 86 400

    Returns
    -------
    DripYield; with one reading, or a rate that does not fall, the rate as it is now: an upper bound

    Raises
    ------
    Inconsistent : no reading, or readings out of order
    OutOfRange : a rate outside 0 to 60 000 mL/min

    References
    ----------
    A film draining off a wall thins ever more slowly; an exponential decay through the readings by least squares of the
    logarithm (common practice). The yield over a wait w is r·τ·(1 − e^(−w/τ)).
    """
    wait = in_range("wait_s", wait_s, 1, 86_400, "s")
    if not readings:
        raise Inconsistent(say("Count the drops once before asking what waiting yields."), field="drops", value="")
    if any(b[0] <= a[0] for a, b in itertools.pairwise(readings)):
        raise Inconsistent(say("Drip readings must follow each other in time."), field="drops", value=readings[-1][0])
    for _, rate in readings:
        in_range("rate_ml_per_min", rate, 0, 60_000, "mL/min")
    now = readings[-1][1]
    falling = [(s, r) for s, r in readings if r > 0]
    tau: float | None = None
    if len(falling) > 1:
        slope, offset = np.polyfit([s for s, _ in falling], [math.log(r) for _, r in falling], 1)
        if slope < -1e-9:
            tau = float(-1 / slope)
            now = float(math.exp(offset + slope * readings[-1][0])) if readings[-1][1] > 0 else 0.0
    if tau is None:
        over, in_all = now * wait / 60, None
        text = say(
            "At this rate {wait:.0f} more minutes yield at most {over}; count once more and it can be told better.",
            wait=wait / 60,
            over=ml(over),
        )
    else:
        in_all = now / 60 * tau
        over = in_all * (1 - math.exp(-wait / tau))
        text = say(
            "{wait:.0f} more minutes yield about {over}, waiting for ever {in_all}.", wait=wait / 60, over=ml(over), in_all=ml(in_all)
        )
    rows = tuple((say("after {s:.0f} s", s=s), say("{r:.2f} mL/min", r=r)) for s, r in readings[-4:])
    working = Working(
        "r(t) = r·e^(−t/τ); yield = r·τ·(1 − e^(−w/τ))", (*rows, ("τ", f"{tau:.0f} s" if tau else "not known")), COMMON_PRACTICE
    )
    return DripYield(now, tau, over, in_all, text, working)


@dataclass(frozen=True)
class Recovery:
    """What a suction got: the share, what may have stayed (mL), whether it is enough, and what to do."""

    share: float
    stayed_ml: float
    enough: bool
    text: str
    working: Working


def recovery(taken_ml: float, inside_ml: float) -> Recovery:
    """Set what was sucked out against what should be inside.

    Parameters
    ----------
    taken_ml : with what is in the hose and on the rag, mL, 0 to 60 000
    inside_ml : last fill or capacity, mL, 5 to 60 000

    Returns
    -------
    Recovery

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Below 70 % the hose was not at the bottom, or much was lost: common practice.
    """
    taken = in_range("taken_ml", taken_ml, 0, 60_000, "mL")
    inside = in_range("inside_ml", inside_ml, 5, 60_000, "mL")
    share = taken / inside
    stayed = max(0.0, inside - taken)
    enough = share >= RECOVERED_ENOUGH
    if enough:
        text = say("{share} of {inside} came out.", share=percent(share), inside=ml(inside))
        if stayed > 0.5:
            text += say(" What stays after a suction is not known: it tells no loss.")
    else:
        text = say(
            "Only {share} of {inside} came out: hose to the very bottom, bend turned the other way, try again. If no "
            "more comes, put in no more than came out; the interval is halved.",
            share=percent(share),
            inside=ml(inside),
        )
    working = Working("recovered = taken / inside", (("taken", f"{ml(taken)}"), ("should be inside", f"{ml(inside)}")), COMMON_PRACTICE)
    return Recovery(share, stayed, enough, text, working)


@dataclass(frozen=True)
class Between:
    """What ends up inside after a suction and a pour: between ``low_ml`` and ``high_ml``; ``over``: more than the maximum."""

    low_ml: float
    high_ml: float
    over: bool
    text: str
    working: Working


def inside_between(put_ml: float, taken_ml: float, maximum_ml: float) -> Between:
    """Give the range of what is inside: at least what was put in, at most that and what may have stayed.

    Parameters
    ----------
    put_ml : poured, mL, 0 to 60 000
    taken_ml : sucked out before, mL, 0 to 60 000
    maximum_ml : what may be inside at most, mL, 5 to 60 000

    Returns
    -------
    Between; the ceiling is (maximum − taken) + put

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    A sum. The maximum is a limit: what the reading of a suction may be wrong by does not raise it.
    """
    put = in_range("put_ml", put_ml, 0, 60_000, "mL")
    taken = in_range("taken_ml", taken_ml, 0, 60_000, "mL")
    most = in_range("maximum_ml", maximum_ml, 5, 60_000, "mL")
    high = max(0.0, most - taken) + put
    over = high > most + 0.5
    text = say("Inside is between {put} and {high}", put=grouped(put), high=ml(high)) + (
        say(", above the {most} it may hold.", most=ml(most)) if over else "."
    )
    working = Working(
        "ceiling = (maximum − taken out) + put in",
        (("maximum", f"{ml(most)}"), ("taken out", f"{ml(taken)}"), ("put in", f"{ml(put)}")),
        COMMON_PRACTICE,
    )
    return Between(put, high, over, text, working)


def drop_rate(drops: float, seconds: float) -> float:
    """Give the rate at which a plug hole still drips: an upper bound on what waiting can yield.

    Parameters
    ----------
    drops : number of drops counted, 0 to 1000
    seconds : time over which they were counted, s, 1 to 3600

    Returns
    -------
    float, mL/min

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    0.05 mL a drop, common practice.
    """
    return in_range("drops", drops, 0, 1000) * 0.05 / in_range("seconds", seconds, 1, 3600, "s") * 60
