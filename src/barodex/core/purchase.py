"""Packs to buy: the cheapest whole packs that cover what is needed and not on hand."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .errors import in_range


@dataclass(frozen=True)
class Pack:
    """A pack on offer: size in mL and price in the workshop's currency."""

    size_ml: float
    price: float


@dataclass(frozen=True)
class Purchase:
    """What to buy for one lubricant: ``packs`` as (pack, count), with cost, the shortfall met and what is left over."""

    lubricant: str
    short_ml: float
    packs: tuple[tuple[Pack, int], ...]
    cost: float
    leftover_ml: float


def _cheapest(short_ml: float, packs: Sequence[Pack]) -> tuple[tuple[Pack, int], ...]:
    # Unbounded covering knapsack, exact: state is the volume covered so far, in steps of the packs' common divisor.
    step = math.gcd(*(round(p.size_ml) for p in packs))
    target = math.ceil(short_ml / step - 1e-9)
    sizes = [round(p.size_ml) // step for p in packs]
    best: list[tuple[float, int, int]] = [(0.0, 0, 0)]  # (cost, volume in steps, containers) that cover i steps
    choice = [-1]
    for need in range(1, target + 1):
        options = [
            (best[max(0, need - size)][0] + pack.price, best[max(0, need - size)][1] + size, best[max(0, need - size)][2] + 1, k)
            for k, (size, pack) in enumerate(zip(sizes, packs, strict=True))
        ]
        cost, volume, count, k = min(options)
        best.append((cost, volume, count))
        choice.append(k)
    counts = [0] * len(packs)
    need = target
    while need > 0:
        counts[choice[need]] += 1
        need -= sizes[choice[need]]
    return tuple((p, c) for p, c in zip(packs, counts, strict=True) if c)


def purchase_plan(needs: Mapping[str, float], packs: Mapping[str, Sequence[Pack]], on_hand: Mapping[str, float]) -> tuple[Purchase, ...]:
    """Give the cheapest whole packs per lubricant; ties by least left over, then by fewest containers.

    Parameters
    ----------
    needs : lubricant to amount needed, mL, 0 to 200 000
    packs : lubricant to the packs on offer, sizes in whole mL
    on_hand : lubricant to what is in stock, mL

    Returns
    -------
    tuple of :class:`Purchase`, one for each lubricant that runs short; empty ``packs`` when none is on offer

    Raises
    ------
    OutOfRange : a negative or absurd amount, size or price

    References
    ----------
    Exact dynamic programme over the covered volume (unbounded covering knapsack).
    """
    plans = []
    for lubricant, need in needs.items():
        in_range("need_ml", need, 0, 200_000, "mL")
        short = need - in_range("on_hand_ml", on_hand.get(lubricant, 0.0), 0, 10_000_000, "mL")
        if short <= 1e-9:
            continue
        offers = sorted(packs.get(lubricant, ()), key=lambda p: (p.size_ml, p.price))
        for pack in offers:
            in_range("size_ml", pack.size_ml, 10, 1_000_000, "mL")
            in_range("price", pack.price, 0, 1_000_000)
        chosen = _cheapest(short, offers) if offers else ()
        bought = sum(p.size_ml * c for p, c in chosen)
        plans.append(Purchase(lubricant, short, chosen, sum(p.price * c for p, c in chosen), bought - short if chosen else 0.0))
    return tuple(plans)
