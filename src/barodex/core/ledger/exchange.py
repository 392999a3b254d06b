"""How much fresh oil is inside after draining and refilling again and again, and what it takes in litres."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import ml
from barodex.core.words import say

MOST_CYCLES = 100


@dataclass(frozen=True)
class Filled:
    """After a step: what is inside, mL, and the share of it that is fresh, 0 to 1."""

    volume_ml: float
    fresh: float


def drain_refill(
    capacity_ml: float,
    steps: Sequence[tuple[float, float]],
    initial_fresh: float = 0.0,
    initial_volume_ml: float | None = None,
    mixing: float = 1.0,
) -> tuple[Filled, ...]:
    """Follow the fresh share through drains and refills.

    Parameters
    ----------
    capacity_ml : what the compartment holds when full, mL, 5 to 60 000
    steps : (drained, filled) in mL each; filling above capacity is allowed, it may be let down by a later step
    initial_fresh : share that is fresh at the start, 0 to 1
    initial_volume_ml : what is inside at the start, mL; None for full
    mixing : 0 to 1; (1 − mixing) of the initial volume is old oil that neither drains nor mixes

    Returns
    -------
    tuple of :class:`Filled`, one for each step; the share is fresh over all that is inside

    Raises
    ------
    OutOfRange : outside the ranges
    Inconsistent : a drain of more than can drain

    References
    ----------
    Perfect mixing at each refill: with equal drain d and fill, fresh = 1 − (1 − d/C)ⁿ (common practice).
    """
    in_range("capacity_ml", capacity_ml, 5, 60_000, "mL")
    start = capacity_ml if initial_volume_ml is None else in_range("initial_volume_ml", initial_volume_ml, 0, 120_000, "mL")
    stagnant = (1.0 - in_range("mixing", mixing, 0, 1)) * start
    moving = start - stagnant
    # The stagnant part keeps the share it had at the start.
    stagnant_fresh = stagnant * in_range("initial_fresh", initial_fresh, 0, 1)
    fresh = moving * initial_fresh
    after = []
    for drained_ml, filled_ml in steps:
        in_range("drained_ml", drained_ml, 0, 120_000, "mL")
        in_range("filled_ml", filled_ml, 0, 120_000, "mL")
        if drained_ml > moving + 1e-6:
            raise Inconsistent(
                say("{drained_ml} cannot drain: only {moving} inside can move.", drained_ml=ml(drained_ml), moving=ml(moving)),
                field="drained_ml",
                value=drained_ml,
                allowed=say("up to {moving}", moving=ml(moving)),
            )
        fresh = (fresh * (moving - drained_ml) / moving if moving > 0 else 0.0) + filled_ml
        moving = moving - drained_ml + filled_ml
        inside = moving + stagnant
        after.append(Filled(inside, (fresh + stagnant_fresh) / inside if inside > 0 else 0.0))
    return tuple(after)


@dataclass(frozen=True)
class Cycles:
    """The smallest number of cycles that reaches the target, the share then, the share one cycle earlier, and the oil it takes, mL."""

    count: int
    fresh: float
    fresh_before: float
    oil_ml: float


def cycles_needed(capacity_ml: float, drained_ml: float, target: float, mixing: float = 1.0) -> Cycles:
    """Give how many equal drain-and-refill cycles reach a fresh share.

    Parameters
    ----------
    capacity_ml : what is inside when full, mL
    drained_ml : what one drain lets out, mL, above 0
    target : fresh share wanted, 0 to 0.99
    mixing : as :func:`drain_refill`

    Returns
    -------
    Cycles

    Raises
    ------
    OutOfRange : outside the ranges, or a target that no number of cycles up to 100 reaches

    References
    ----------
    As :func:`drain_refill`.
    """
    in_range("drained_ml", drained_ml, 1, 60_000, "mL")
    in_range("target", target, 0, 0.99)
    before = 0.0
    states = drain_refill(capacity_ml, [(drained_ml, drained_ml)] * MOST_CYCLES, mixing=mixing)
    for n, state in enumerate(states, 1):
        if state.fresh >= target - 1e-12:
            return Cycles(n, state.fresh, before, n * drained_ml)
        before = state.fresh
    raise OutOfRange(
        say("{target:.0%} fresh is never reached: old oil that does not drain stays inside.", target=target),
        field="target",
        value=target,
        allowed=say("up to {fresh:.0%}", fresh=states[-1].fresh),
    )


def flow_exchange(capacity_ml: float, volume_ml: float) -> float:
    """Give the fresh share after oil flowed through a full compartment that mixes all the while.

    Parameters
    ----------
    capacity_ml : what is inside, mL
    volume_ml : what flowed through, mL

    Returns
    -------
    float, 0 to 1

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Ideal stirred vessel: 1 − exp(−V/C).
    """
    in_range("capacity_ml", capacity_ml, 5, 60_000, "mL")
    return 1.0 - math.exp(-in_range("volume_ml", volume_ml, 0, 1_000_000, "mL") / capacity_ml)


def flow_needed_ml(capacity_ml: float, target: float) -> float:
    """Give the oil that must flow through to reach a fresh share: the inverse of :func:`flow_exchange`.

    Parameters
    ----------
    capacity_ml : what is inside, mL
    target : fresh share wanted, 0 to 0.99

    Returns
    -------
    float, mL

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    As :func:`flow_exchange`.
    """
    in_range("capacity_ml", capacity_ml, 5, 60_000, "mL")
    return -capacity_ml * math.log(1.0 - in_range("target", target, 0, 0.99))
