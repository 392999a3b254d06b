"""Made-up compartments whose true loss is known: what a technician would read off at each service; seeded.

The model is not the core's own: a residue by how it is emptied, a temperature that differs from what is assumed, readings with their own
errors. All common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from barodex.core.ledger.bands import Run
from barodex.core.ledger.drained import RESIDUE, Amount, Loss, drained_amount, loss_since_last_fill, poured_amount, poured_sigma_ml
from barodex.core.ledger.leak import LossPoint

GROWS = 0.00072  # per K, of gear oil: about 0.7 % for 10 K (common practice)


@dataclass(frozen=True)
class Workshop:
    """One that takes temperatures or not: then its drains are ``warm_by`` K off what is assumed, the same at each service."""

    takes_temperature: bool = True
    warm_by: float = 0.0


def service(
    rng: np.random.Generator,
    fill_ml: float,
    lost_ml: float,
    left_ml: float,
    method: str = "plug",
    shop: Workshop = Workshop(),
    first: bool = False,
    some_stays: bool = False,
    share: float = 1.0,
    level_ml: float = 0.0,
) -> Loss | None:
    """What the core says of a drain: ``fill_ml`` at 15 °C was inside, ``lost_ml`` of it is gone, ``left_ml`` stays on the walls."""
    poured = fill_ml * (1 + GROWS * 5) + rng.normal(0, poured_sigma_ml(fill_ml)) + rng.normal(0, level_ml)
    warm = 50.0 + shop.warm_by
    out = max(0.0, fill_ml - lost_ml - left_ml) * (1 + GROWS * (warm - 15))
    sigma = 5.0 if method == "syringe" and out < 300 else (0.1 * out if method == "suction" else float(np.hypot(0.02 * out, 20)))
    read = max(0.0, out + rng.normal(0, sigma))
    drained = drained_amount(read, method, warm if shop.takes_temperature else None, "warm")
    into = Amount(poured, 20.0, poured_sigma_ml(fill_ml)) if shop.takes_temperature else poured_amount(poured)
    return loss_since_last_fill(
        into,
        (),
        drained,
        fill_ml,
        distance_km=20_000 * share,
        run=Run(share, 1 / 60),
        some_stays=some_stays,
        first_drain=first,
        method=method,
    )


def rate_points(rng: np.random.Generator, fill_ml: float, per_1000km: float, shop: Workshop, services: int = 8) -> list[LossPoint]:
    """The losses of a box over some services 20 000 km apart; as much stays on its walls each time."""
    points = []
    for _ in range(services):
        told = service(rng, fill_ml, per_1000km * 20, 0.0, shop=shop)
        assert told is not None
        points.append(LossPoint(20_000, told.loss_ml, told.sigma_ml, told.shared_ml))
    return points


def suction_points(rng: np.random.Generator, fill_ml: float, per_1000km: float, own: float = 1.0, services: int = 8) -> list[LossPoint]:
    """The losses of a box that is sucked out and filled to its level, 20 000 km apart: a twentieth to three tenths of it stay inside, another
    share each time, by ``own`` times as much from time to time as is usual."""

    def left() -> float:
        return fill_ml * (0.175 + own * rng.uniform(-0.125, 0.125))

    points, before = [], left()
    for k in range(services):
        after = left()
        lost = per_1000km * 20
        out = fill_ml - lost - after
        sigma_in, sigma_out = poured_sigma_ml(fill_ml), 0.1 * out
        missing = fill_ml - before + rng.normal(0, sigma_in) - out - rng.normal(0, sigma_out)
        points.append(LossPoint(20_000, missing, float(np.hypot(sigma_in, sigma_out)), 0.0, RESIDUE["suction"][1] * fill_ml, k > 0))
        before = after
    return points
