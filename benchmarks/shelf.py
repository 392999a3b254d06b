"""The shelf's speed figures, each beside a plain-Python baseline as a ratio: how many times longer the baseline takes."""

from __future__ import annotations

import math
import random
import statistics
import time
from collections.abc import Callable

import numpy as np

from barodex.core.ledger.purchase import Pack, purchase_plan
from barodex.core.oil.judge import judge, rank, verdict_matrix
from barodex.core.oil.lubricant import COPPER_STRIPS, Lubricant, OilConditions, Requirement
from barodex.core.oil.viscosity import kinematic_viscosity
from barodex.core.quantity.expansion import K1_LUBRICANT, volume_correction_factor

Report = Callable[[str, float, float, str, str], None]
GRADES = ("75W", "75W-80", "75W-85", "75W-90", "75W-140", "80W-90", "85W-90", "85W-140", "SAE 80", "SAE 90", "SAE 140")
CATEGORIES = ("", "GL-1", "GL-3", "GL-4", "GL-5", "GL-4 GL-5", "MT-1")
APPROVALS = tuple(f"A {k}" for k in range(30))


def oils(count: int, pick: random.Random) -> list[Lubricant]:
    """Oils as a large shelf would have them, most with a data sheet of their own."""
    made = []
    for k in range(count):
        kv100 = round(pick.uniform(6, 30), 1)
        measured = pick.random() < 0.8
        made.append(
            Lubricant(
                f"oil {k}",
                "gear" if pick.random() < 0.8 else pick.choice(("atf", "engine", "clutch fluid")),
                pick.choice(GRADES),
                pick.choice(CATEGORIES),
                pick.random() < 0.1,
                pick.random() < 0.2,
                pick.choice(COPPER_STRIPS),
                round(kv100 * pick.uniform(6, 12), 1) if measured else None,
                kv100 if measured else None,
                approvals=tuple(pick.sample(APPROVALS, pick.randrange(3))),
            )
        )
    return made


def requirements(count: int, pick: random.Random) -> list[Requirement]:
    """Compartments of a large fleet."""
    return [
        Requirement(
            "gear" if pick.random() < 0.85 else pick.choice(("atf", "clutch fluid")),
            pick.choice(GRADES),
            pick.choice(CATEGORIES),
            pick.random() < 0.4,
            pick.choice((True, False, None)),
            pick.choice((True, False, None)),
            wet_clutch=pick.random() < 0.05,
            synchro=pick.random() < 0.3,
            approvals=tuple(pick.sample(APPROVALS, pick.randrange(2))),
        )
        for _ in range(count)
    ]


def ms(act: Callable[[], object], times: int = 5) -> float:
    """Median of some runs, milliseconds."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        act()
        found.append((time.perf_counter() - began) * 1000)
    return statistics.median(found)


def plain_packs(short: int, packs: list[Pack]) -> float:
    """The covering knapsack as a textbook writes it: one step a millilitre."""
    best = [0.0] + [math.inf] * short
    for need in range(1, short + 1):
        best[need] = min(best[max(0, need - int(p.size_ml))] + p.price for p in packs)
    return best[short]


def plain_viscosity(kv40: float, kv100: float, celsius: float) -> float:
    w40, w100 = (math.log10(math.log10(v + 0.7)) for v in (kv40, kv100))
    t40, t100, t = (math.log10(c + 273.15) for c in (40, 100, celsius))
    return 10**10 ** (w40 + (w100 - w40) * (t - t40) / (t100 - t40)) - 0.7


def plain_factor(density15: float, celsius: float) -> float:
    growth = K1_LUBRICANT / density15 * (celsius - 15)
    return math.exp(-growth * (1 + 0.8 * growth))


def run(report: Report) -> None:
    """Measure and report everything of the shelf."""
    pick = random.Random(11)
    shelf, fleet = oils(500, pick), requirements(500, pick)
    day = OilConditions(ambient_min_c=-15)
    matrix = ms(lambda: verdict_matrix(shelf, fleet, day), 3)
    loop = ms(lambda: [judge(o, a, day) for o in shelf[:50] for a in fleet[:50]], 3) * 100
    words = f"{matrix:.0f} ms; judge in a loop {loop:.0f} ms"
    report("verdict_matrix, 500 oils × 500 compartments, of a loop", 100 * matrix / loop, 17, "%", words)

    ranked = ms(lambda: rank(shelf, fleet[0], day))
    apart = ms(lambda: sorted((judge(o, fleet[0], day).verdict, o.name) for o in shelf))
    report("rank of 500 oils for one compartment", ranked, 100, "ms", f"judge and sort alone: {apart / ranked:.2f} of it")

    packs = [Pack(250, 4.1), Pack(500, 6.9), Pack(946, 10.9), Pack(1000, 11.2), Pack(5000, 48.0), Pack(20_000, 172.0)]
    needs = {f"oil {k}": float(pick.randrange(300, 12_000)) for k in range(40)}
    offer = dict.fromkeys(needs, packs)
    exact = ms(lambda: purchase_plan(needs, offer, {}))
    textbook = ms(lambda: [plain_packs(int(n), packs) for n in needs.values()], 3)
    report("purchase_plan, 40 needs × 6 pack sizes", exact, 100, "ms", f"textbook dynamic programme: {textbook / exact:.0f} times as long")
    costs = {p.lubricant: p.cost for p in purchase_plan(needs, offer, {})}
    if any(abs(costs[name] - plain_packs(int(n), packs)) > 1e-6 for name, n in needs.items()):
        raise AssertionError("the plan is not the cheapest one")

    celsius = np.linspace(-30, 120, 1_000_000)
    many = ms(lambda: kinematic_viscosity(100.0, 14.0, celsius), 3)
    plain = ms(lambda: [plain_viscosity(100.0, 14.0, c) for c in celsius[::100]], 3) * 100
    report("kinematic_viscosity, 10⁶ values", many, 300, "ms", f"plain Python: {plain / many:.0f} times as long")
    celsius = np.maximum(celsius, -20.0)
    factor = ms(lambda: volume_correction_factor(880.0, celsius), 3)
    plain = ms(lambda: [plain_factor(880.0, c) for c in celsius[::100]], 3) * 100
    report("volume_correction_factor, 10⁶ values", factor, 300, "ms", f"plain Python: {plain / factor:.0f} times as long")
