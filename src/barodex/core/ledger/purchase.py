"""Packs to buy: the cheapest whole packs that cover what is needed and not on hand."""

from __future__ import annotations

import functools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, ml
from barodex.core.words import say

YEAR_DAYS = 365.25


@dataclass(frozen=True)
class Pack:
    """A pack on offer: size in mL and price in the workshop's currency, None where nobody knows it."""

    size_ml: float
    price: float | None


@dataclass(frozen=True)
class Purchase:
    """What to buy for one lubricant: ``packs`` as (pack, count), with cost (None where no price is known), the shortfall met and what is
    left over."""

    lubricant: str
    short_ml: float
    packs: tuple[tuple[Pack, int], ...]
    cost: float | None
    leftover_ml: float


def _cheapest(short_ml: float, packs: Sequence[Pack]) -> tuple[tuple[Pack, int], ...]:
    """The cheapest cover, exact: least cost, then least volume, then fewest containers.

    Unbounded covering knapsack. The state is the volume still to cover, in steps of the packs' common divisor; cost, volume and
    count are one integer, so that the order among them is the order of integers. A block as long as the smallest pack depends
    only on what lies before it, so each block is computed at once.
    """
    step = math.gcd(*(round(p.size_ml) for p in packs))
    target = math.ceil(short_ml / step - 1e-9)
    sizes = [round(p.size_ml) // step for p in packs]
    most_volume, most_count = target + max(sizes) + 1, target // min(sizes) + 3
    keys = [(round((p.price or 0.0) * 100) * most_volume + size) * most_count + 1 for p, size in zip(packs, sizes, strict=True)]
    fits = max(keys) * (target // min(sizes) + 2) < 2**62
    block, lead = min(sizes), max(sizes)
    best = np.zeros(lead + target + 1, dtype=np.int64 if fits else object)  # best[lead + i] covers i steps; what lies before covers nothing
    for start in range(1, target + 1, block):
        stop = min(start + block, target + 1)
        options = [best[lead + start - size : lead + stop - size] + key for size, key in zip(sizes, keys, strict=True)]
        best[lead + start : lead + stop] = functools.reduce(np.minimum, options)
    counts = [0] * len(packs)
    need = target
    while need > 0:
        k = next(k for k, (size, key) in enumerate(zip(sizes, keys, strict=True)) if best[lead + need - size] + key == best[lead + need])
        counts[k] += 1
        need -= sizes[k]
    return tuple((p, c) for p, c in zip(packs, counts, strict=True) if c)


def _cost(chosen: Sequence[tuple[Pack, int]]) -> float:
    return sum((p.price or 0.0) * c for p, c in chosen)


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
    Inconsistent : a pack size that is not in whole mL

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
        offers = sorted(packs.get(lubricant, ()), key=lambda p: (p.size_ml, p.price or 0.0))
        for pack in offers:
            in_range("size_ml", pack.size_ml, 10, 1_000_000, "mL")
            in_range("price", pack.price or 0.0, 0, 1_000_000)
            if pack.size_ml != round(pack.size_ml):
                raise Inconsistent(say("A pack's size is in whole mL."), field="size_ml", value=pack.size_ml)
        priced = [p for p in offers if p.price is not None]
        chosen = _cheapest(short, priced or offers) if offers else ()  # where no price is known, the least left over decides
        bought = sum(p.size_ml * c for p, c in chosen)
        cost = _cost(chosen) if priced or not chosen else None
        plans.append(Purchase(lubricant, short, chosen, cost, bought - short if chosen else 0.0))
    return tuple(plans)


@dataclass(frozen=True)
class NeedPart:
    """A part of a need: what for, and how much, mL (below 0: less is needed)."""

    name: str
    volume_ml: float


@dataclass(frozen=True)
class Need:
    """What one compartment takes from the shelf: the parts add up to ``total_ml``; ``uncertain`` when a part is a margin or a guess."""

    total_ml: float
    parts: tuple[NeedPart, ...]
    uncertain: bool
    working: Working


def service_need(
    capacity_ml: float | None,
    candidates_ml: Sequence[float] = (),
    rinse_ml: float = 0.0,
    cycle_ml: Sequence[float] = (),
    dead_volume_ml: float = 0.0,
    surplus_ml: float = 0.0,
    displaced_ml: float = 0.0,
    estimate_ml: float | None = None,
) -> Need:
    """Sum what a service of a compartment takes: the fill and its margins.

    Parameters
    ----------
    capacity_ml : service capacity, mL; None when unknown
    candidates_ml : capacities of the variants that it may be, mL; the largest one counts for buying
    rinse_ml : fresh oil poured through with the drain open, mL
    cycle_ml : fills of the exchange cycles before the last one, mL each
    dead_volume_ml : what stays in a pump, mL
    surplus_ml : planned surplus, for a cooler or an overflow, mL
    displaced_ml : additive that takes the place of oil, mL
    estimate_ml : used when the capacity is unknown and no variant is listed, mL

    Returns
    -------
    Need

    Raises
    ------
    OutOfRange : a negative or absurd amount
    Inconsistent : nothing to go by: no capacity, no variant and no estimate

    References
    ----------
    Common practice: buy for the largest variant that it may be.
    """
    known = [*candidates_ml, *([capacity_ml] if capacity_ml is not None else [])]
    for value in known:
        in_range("capacity_ml", value, 5, 60_000, "mL")
    if not known and estimate_ml is None:
        raise Inconsistent(say("The capacity is unknown: give an estimate to buy for."), field="estimate_ml", value=None)
    parts: list[tuple[str, float]] = []
    if known:
        base = capacity_ml if capacity_ml is not None else min(known)
        parts.append(("fill", base))
        parts.append((say("margin for the variant"), max(known) - base))
    else:
        parts.append(("fill, estimated", in_range("estimate_ml", estimate_ml or 0, 5, 60_000, "mL")))
    extra = (
        ("rinse", rinse_ml),
        ("exchange cycles", sum(cycle_ml)),
        (say("stays in the pump"), dead_volume_ml),
        ("planned surplus", surplus_ml),
    )
    for name, value in extra:
        parts.append((name, in_range(name.replace(" ", "_") + "_ml", value, 0, 200_000, "mL")))
    parts.append((say("displaced by additive"), -in_range("displaced_ml", displaced_ml, 0, parts[0][1], "mL")))
    shown = tuple(NeedPart(name, value) for name, value in parts if value)
    working = Working("need = sum of the parts", tuple((p.name, f"{ml(p.volume_ml)}") for p in shown), COMMON_PRACTICE)
    return Need(sum(p.volume_ml for p in shown), shown, not known or max(known) != known[-1] or capacity_ml is None, working)


@dataclass(frozen=True)
class Drum:
    """A drum against packs: its cost and theirs for a year's need, the services after which it pays, whether a year reaches that."""

    pack: Pack
    year_ml: float
    drum_cost: float
    packs_cost: float
    break_even_services: int
    pays: bool
    working: Working


def drum_offer(service_ml: float, services_a_year: float, packs: Sequence[Pack], drum_from_ml: float = 50_000) -> Drum | None:
    """Weigh a drum against the cheapest smaller packs, over a year of services.

    Parameters
    ----------
    service_ml : what one service takes of this oil, mL, above 0
    services_a_year : forecast number of such services in a year
    packs : all packs on offer; those without a price are left out
    drum_from_ml : a pack of at least this size counts as a drum, mL

    Returns
    -------
    Drum; None when no drum or no smaller pack is on offer. The break-even is the first number of services whose oil, bought in
    the cheapest smaller packs for all of them together, costs as much as the drum

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Both sides by :func:`purchase_plan`, exact.
    """
    in_range("service_ml", service_ml, 1, 200_000, "mL")
    in_range("services_a_year", services_a_year, 0, 10_000)
    drums = [(p, p.price) for p in packs if p.size_ml >= drum_from_ml and p.price is not None]
    small = [p for p in packs if p.size_ml < drum_from_ml and p.price is not None]
    if not drums or not small:
        return None
    drum, price = min(drums, key=lambda d: (d[1] / d[0].size_ml, d[0].size_ml))

    def packs_cost(volume_ml: float) -> float:
        return _cost(_cheapest(volume_ml, small))

    holds = max(1, math.floor(drum.size_ml / service_ml + 1e-9))
    low, high = 1, holds
    if packs_cost(holds * service_ml) < price:
        even = holds + 1  # not even a drum used to the last drop pays
    else:
        while low < high:
            middle = (low + high) // 2
            low, high = (low, middle) if packs_cost(middle * service_ml) >= price else (middle + 1, high)
        even = low
    year_ml = in_range("year_ml", services_a_year * service_ml, 0, 2_000_000, "mL")
    working = Working(
        "break-even: the first n with cost of packs for n services ≥ price of the drum",
        (
            ("a service", f"{ml(service_ml)}"),
            ("services a year", f"{services_a_year:.1f}"),
            ("drum", f"{ml(drum.size_ml)} for {price:.2f}, enough for {holds}"),
            ("break-even", f"{even} services" if even <= holds else "never: packs are cheaper"),
        ),
        COMMON_PRACTICE,
    )
    year_cost = packs_cost(year_ml) if year_ml > 0 else 0.0
    return Drum(drum, year_ml, price, year_cost, even, even <= holds and services_a_year >= even, working)
