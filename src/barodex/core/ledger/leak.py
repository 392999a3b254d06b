"""Loss over the road: a rate from several services, whether it rises, and until when the level holds."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, grouped, ml
from barodex.core.sheet.plausible import LOW_SHARE
from barodex.core.words import say

Z90 = 1.2815515655446004  # P10 and P90 of a Gaussian


@dataclass(frozen=True)
class LossPoint:
    """A loss between two services: run (km or h), lost (mL at 15 °C) and its σ; ``shared_ml``: the part of σ that errs alike at every one.

    ``stays_ml``: σ of an unknown share that stays inside each time, as by suction: what was left at one service comes along at the next
    (``follows``: the point of this kind before this one is of that service), so that over several it cancels but for the first and the last.
    """

    run: float
    loss_ml: float
    sigma_ml: float
    shared_ml: float = 0.0
    stays_ml: float = 0.0
    follows: bool = True


@dataclass(frozen=True)
class LossRate:
    """Loss per 1 000 km (or 100 h) with its σ over all points; ``real`` beyond 2σ; ``rising`` when the latest lies beyond 2σ above the earlier
    ones: then ``rate_now`` with its σ is that of the latest alone, else that of all."""

    rate: float
    sigma: float
    rate_now: float
    sigma_now: float
    points: int
    real: bool
    rising: bool
    text: str
    working: Working


def per_run(meter: str) -> tuple[float, str]:
    """Give the run over which a loss is told.

    Parameters
    ----------
    meter : "km" or "h"

    Returns
    -------
    (run in km or h, in words)

    References
    ----------
    Common practice: mL per 1 000 km, or per 100 h.
    """
    return (100.0, "100 h") if meter == "h" else (1000.0, say("{grouped} km", grouped=grouped(1000)))


PRIOR_SERVICES = 4  # for how many services of its own common practice counts when a box teaches what stays in it (common practice)


def stays_learnt(points: Sequence[LossPoint]) -> float:
    """Give how much what stays inside differs from service to service, σ, as this box teaches it.

    Parameters
    ----------
    points : in order of time, each with the σ of common practice as ``stays_ml``

    Returns
    -------
    σ in mL: common practice at first, the box's own scatter the more services there are; 0 where nothing stays

    References
    ----------
    A scaled inverse χ² prior on a variance, any textbook of Bayesian statistics (Gelman et al., Bayesian Data Analysis, 2.6); a difference
    of two independent amounts has twice the variance of one.
    """
    points = [p for p in points if p.stays_ml]
    usual = math.sqrt(sum(p.stays_ml**2 for p in points) / len(points)) if points else 0.0
    if len(points) < 2:
        return usual
    x, y = np.array([p.run for p in points]), np.array([p.loss_ml for p in points])
    own = np.array([p.sigma_ml**2 for p in points])
    rest = y - x * float(x @ y) / float(x @ x)
    seen = max(0.0, float((rest**2 - own).sum()) / (2 * (len(points) - 1)))
    return math.sqrt((PRIOR_SERVICES * usual**2 + (len(points) - 1) * seen) / (PRIOR_SERVICES + len(points) - 1))


def _fit_staying(points: Sequence[LossPoint], per: float) -> tuple[float, float]:
    """The rate where a share stays inside: what one service left too much the next one finds, so that neighbours err against each other."""
    x, y = np.array([p.run / per for p in points]), np.array([p.loss_ml for p in points])
    stays = stays_learnt(points) ** 2
    shared = np.array([p.shared_ml for p in points])
    cov = np.diag([p.sigma_ml**2 - p.shared_ml**2 + (2 * stays if p.stays_ml else 0.0) for p in points]) + np.outer(shared, shared)
    for before, here in itertools.pairwise(k for k, p in enumerate(points) if p.stays_ml):  # top-ups may stand between
        if points[here].follows:
            cov[here, before] -= stays
            cov[before, here] -= stays
    weights = np.linalg.solve(cov, x)
    return float(weights @ y / (weights @ x)), float(1 / math.sqrt(weights @ x))


def _fit(points: Sequence[LossPoint], per: float) -> tuple[float, float]:
    if any(p.stays_ml for p in points):
        return _fit_staying(points, per)
    x = np.array([p.run / per for p in points])
    y = np.array([p.loss_ml for p in points])
    own = np.array([p.sigma_ml**2 - p.shared_ml**2 for p in points])
    w = 1 / np.maximum(own, 1e-3)
    swxx = float((w * x * x).sum())
    shared = float((w * x * np.array([p.shared_ml for p in points])).sum()) / swxx
    return float((w * x * y).sum()) / swxx, math.hypot(1 / math.sqrt(swxx), shared)


def loss_rate(points: Sequence[LossPoint], meter: str = "km") -> LossRate:
    """Give the rate of loss over several services, each weighing by its σ.

    Parameters
    ----------
    points : in order of time, one or more; run above 0 (km or h), σ above 0 (mL)
    meter : "km" or "h"

    Returns
    -------
    LossRate, per 1 000 km or per 100 h

    Raises
    ------
    Inconsistent : no point
    OutOfRange : a run or a σ of zero or less

    References
    ----------
    Weighted least squares through the origin (no road, no loss), σ from the weights: JCGM 100 (GUM), H.3; what errs alike is fully
    correlated, 5.2.2; where a share stays inside, generalized least squares (Aitken) with neighbours that err against each other.
    """
    if not points:
        raise Inconsistent(say("No loss is on record yet."), field="points", value=0)
    for p in points:
        in_range("run", p.run, 0.1, 10_000_000)
        in_range("sigma_ml", p.sigma_ml, 0.01, 60_000, "mL")
    per, words = per_run(meter)
    rate, sigma = _fit(points, per)
    rising, now = False, (rate, sigma)
    stays = any(p.stays_ml for p in points)
    if len(points) > 1 and not stays:
        before, before_sigma = _fit(points[:-1], per)
        last, last_sigma = _fit(points[-1:], per)
        rising = last - before > 2 * math.hypot(before_sigma, last_sigma)
        now = (last, last_sigma) if rising else now
    real = abs(rate) > 2 * sigma
    text = say("{rate:.1f} ± {sigma:.1f} mL (2σ) per {words}", rate=rate, sigma=2 * sigma, words=words) + (
        "" if real else ": not to be told from none"
    )
    if real and rate < 0:
        text += ": more came out than went in"
    if rising:
        text += say("; rising, {now:.1f} ± {now_2:.1f} mL last", now=now[0], now_2=2 * now[1])
    rows = tuple(
        (say("over {run} {meter}", run=grouped(p.run), meter=meter), f"{grouped(p.loss_ml)} ± {ml(2 * p.sigma_ml)} (2σ)")
        for p in points[-5:]
    )
    if stays:
        rows = (*rows, (say("what stays inside differs by, σ"), f"{ml(stays_learnt(points))}"))
    formula = (
        "rate = xᵀC⁻¹y / xᵀC⁻¹x; what stays at one service comes along at the next"
        if stays
        else "rate = Σwxy / Σwx², w = 1/σ²; σ = 1/√Σwx²"
    )
    working = Working(formula, rows, f"{'generalized' if stays else 'weighted'} least squares, JCGM 100 (GUM)")
    return LossRate(rate, sigma, *now, len(points), real, rising, text, working)


@dataclass(frozen=True)
class Holds:
    """Until when the level holds: run (km or h) and days until the low mark, P10, P50, P90; None where it is not reached."""

    margin_ml: float
    run: tuple[float | None, float | None, float | None]
    days: tuple[float | None, float | None, float | None]
    text: str
    working: Working


MOST_DAYS = 36_525.0


def days_until_low(
    capacity_ml: float, rate: float, sigma: float, per_day: float, run_since: float = 0.0, meter: str = "km", low_ml: float | None = None
) -> Holds:
    """Give when the level would reach its low mark.

    Parameters
    ----------
    capacity_ml : service capacity, mL, 1 to 60 000
    rate, sigma : loss per 1 000 km or 100 h and its σ, mL
    per_day : use, km or h a day, 0 or more
    run_since : run since the level was last set, km or h
    meter : "km" or "h"
    low_ml : what may be missing at the low mark, mL; 15 % of the capacity when None

    Returns
    -------
    Holds; a quantile at which nothing is lost is None

    Raises
    ------
    OutOfRange : an amount, rate or use outside its range

    References
    ----------
    Arithmetic with the Gaussian rate at its 90, 50 and 10 % quantiles; the low mark is common practice.
    """
    capacity = in_range("capacity_ml", capacity_ml, 1, 60_000, "mL")
    in_range("sigma", sigma, 0, 1e6)
    in_range("per_day", per_day, 0, 10_000)
    since = in_range("run_since", run_since, 0, 10_000_000)
    low = LOW_SHARE * capacity if low_ml is None else in_range("low_ml", low_ml, 0.1, capacity, "mL")
    per, words = per_run(meter)
    runs: list[float | None] = []
    days: list[float | None] = []
    for z in (Z90, 0.0, -Z90):
        speed = (rate + z * sigma) / per
        run = max(0.0, low / speed - since) if speed > 1e-9 else None
        runs.append(run)
        span = None if run is None or per_day <= 0 else run / per_day
        days.append(None if span is None or span > MOST_DAYS else span)
    margin = low - max(0.0, rate) / per * since
    if abs(rate) <= 2 * sigma:
        soon = (
            say(" If it is one, the low mark comes no earlier than after {runs} {meter}.", runs=grouped(runs[0]), meter=meter)
            if runs[0]
            else ""
        )
        text = say("A loss is not to be told from none.{soon}", soon=soon)
    elif runs[1] is None:
        text = say("Nothing is lost: the level holds.")
    elif runs[1] == 0:
        text = say("By this rate the level is below its low mark now: {low} are missing. Look, and top up.", low=ml(low))
    else:
        text = say("{low} may be missing: the low mark comes after about {runs} {meter}", low=ml(low), runs=grouped(runs[1]), meter=meter)
        text += (
            say(", at the earliest after {grouped} {meter}.", grouped=grouped(runs[0] or 0), meter=meter) if runs[0] is not None else "."
        )
    working = Working(
        "run = missing at the low mark / rate − run since",
        (
            ("may be missing", f"{ml(low)}"),
            ("rate", f"{rate:.2f} ± {2 * sigma:.2f} mL (2σ) per {words}"),
            ("use", f"{per_day:.1f} {meter} a day"),
        ),
        f"arithmetic; the low mark at 15 % of the capacity is {COMMON_PRACTICE}",
    )
    return Holds(max(0.0, margin), (runs[0], runs[1], runs[2]), (days[0], days[1], days[2]), text, working)


@dataclass(frozen=True)
class Trip:
    """What is lost by the end of a season or trip: mL P10, P50, P90, whether the low mark is passed ("no", "perhaps", "yes"), what to
    carry (mL)."""

    run: float
    lost_ml: tuple[float, float, float]
    passes: str
    carry_ml: float
    text: str


def loss_by(capacity_ml: float, rate: float, sigma: float, run: float, run_since: float = 0.0, meter: str = "km") -> Trip:
    """Give what will be lost over a distance still to run, and whether the level stays above its low mark.

    Parameters
    ----------
    capacity_ml : service capacity, mL, 1 to 60 000
    rate, sigma : loss per 1 000 km or 100 h and its σ, mL
    run, run_since : still to run, and run since the level was last set, km or h, 0 or more
    meter : "km" or "h"

    Returns
    -------
    Trip

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Arithmetic as :func:`days_until_low`; no more is lost than was inside.
    """
    capacity = in_range("capacity_ml", capacity_ml, 1, 60_000, "mL")
    ahead = in_range("run", run, 0, 10_000_000)
    since = in_range("run_since", run_since, 0, 10_000_000)
    in_range("sigma", sigma, 0, 1e6)
    per, _ = per_run(meter)
    low = LOW_SHARE * capacity
    lost = [min(capacity, max(0.0, rate + z * sigma) * (ahead + since) / per) for z in (-Z90, 0.0, Z90)]
    passes = "yes" if lost[0] > low else "perhaps" if lost[2] > low else "no"
    carry = lost[2] if passes != "no" else 0.0
    if abs(rate) <= 2 * sigma:
        words = "" if passes == "no" else say(" To be sure, look at the level once on the way.")
        return Trip(ahead, (lost[0], lost[1], lost[2]), passes, carry, say("A loss is not to be told from none.{words}", words=words))
    said = {
        "no": say("The level stays above its low mark."),
        "perhaps": say("The level may fall below its low mark: carry {ml} and look half-way.", ml=ml(math.ceil(carry / 50) * 50)),
        "yes": say(
            "The level falls below its low mark on the way: repair first, or carry {ml} and look often.", ml=ml(math.ceil(carry / 50) * 50)
        ),
    }
    text = say("By then about {lost} are missing, at most {lost_2}. {said}", lost=ml(lost[1]), lost_2=ml(lost[2]), said=said[passes])
    return Trip(ahead, (lost[0], lost[1], lost[2]), passes, carry, text)
