"""Which variant a compartment is, as far as the drained amount can tell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy  # its parts are loaded when they are first used

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import Working, ml, percent
from barodex.core.words import say

NAMED_ABOVE = 0.9
STILL_POSSIBLE = 0.02
LOSS_SHARE = 0.03  # of the capacity, mean of the prior on loss (common practice)
MUCH_SHARE, MUCH_ODDS = 0.15, 0.15  # the mean of those that leak much, and how many do (common practice)
NONE_ODDS = 0.10  # that it is a variant that the sheet does not list (common practice)
NONE_SPAN = (0.3, 1.5)  # of the smallest and the largest listed: what an unlisted one may hold (common practice)


@dataclass(frozen=True)
class Candidate:
    """A variant that it may be: service capacity (mL), its prior, what stays inside after draining (mL) with its σ, and the last fill (mL,
    None when it was filled to a level: then it held its capacity)."""

    name: str
    capacity_ml: float
    prior: float = 1.0
    residual_ml: float = 0.0
    residual_sigma_ml: float = 0.0
    last_fill_ml: float | None = None

    @property
    def expected_ml(self) -> float:
        """What would come out without any loss, mL."""
        return (self.capacity_ml if self.last_fill_ml is None else self.last_fill_ml) - self.residual_ml


@dataclass(frozen=True)
class VariantShare:
    """A candidate with its posterior probability, and the loss (mL) that it would mean."""

    name: str
    share: float
    expected_ml: float
    loss_ml: float


@dataclass(frozen=True)
class VariantVerdict:
    """Posterior per candidate, likeliest first; ``none``: that it is none of them; ``named`` is empty unless one is above 0.9; a proposal
    that ``settle`` confirms."""

    shares: tuple[VariantShare, ...]
    named: str
    circular: bool
    settle: tuple[str, ...]
    text: str
    working: Working
    none: float = 0.0


def identify_variant(
    measured_ml: float,
    candidates: Sequence[Candidate],
    sigma_ml: float,
    loss_ml_prior: float | None = None,
    casing_marks: Sequence[str] = (),
) -> VariantVerdict:
    """Tell which variant a drained amount speaks for.

    Parameters
    ----------
    measured_ml : what came out, at the temperature of the fill, mL, 0 to 60 000
    candidates : two or more, priors above 0 (they need not add up to 1)
    sigma_ml : σ of the measurement, mL, above 0
    loss_ml_prior : mean of the exponential prior on loss, mL, above 0; 3 % of the mean capacity when None. Some leak five times as much
    casing_marks : where a code tells the variants apart, in words

    Returns
    -------
    VariantVerdict

    Raises
    ------
    Inconsistent : fewer than two candidates
    OutOfRange : an amount, σ or prior outside its range

    References
    ----------
    Bayes; what comes out is the fill less the residue, less an exponential loss, plus a Gaussian reading: an exponentially
    modified Gaussian, in logarithms by SciPy's ``log_ndtr``; of two such losses a mixture, and beside the candidates an unlisted one of any
    size. The priors are common practice.
    """
    m = in_range("measured_ml", measured_ml, 0, 60_000, "mL")
    sigma = in_range("sigma_ml", sigma_ml, 0.1, 60_000, "mL")
    if len(candidates) < 2:
        raise Inconsistent(say("One variant alone needs no telling apart."), field="candidates", value=len(candidates))
    for c in candidates:
        in_range("prior", c.prior, 1e-6, 1e6)
        in_range("capacity_ml", c.capacity_ml, 1, 60_000, "mL")
        in_range("residual_ml", c.residual_ml, 0, c.capacity_ml, "mL")
    mean_loss = LOSS_SHARE * float(np.mean([c.capacity_ml for c in candidates])) if loss_ml_prior is None else loss_ml_prior
    loss = in_range("loss_ml_prior", mean_loss, 0.1, 60_000, "mL")
    expected = np.array([c.expected_ml for c in candidates])
    missing = expected - m
    wide = np.hypot(sigma, [c.residual_sigma_ml for c in candidates])
    much = loss * MUCH_SHARE / LOSS_SHARE
    emg = np.logaddexp(np.log(1 - MUCH_ODDS) + _emg(missing, wide, loss), np.log(MUCH_ODDS) + _emg(missing, wide, much))
    priors = np.array([c.prior for c in candidates])
    capacities = [c.capacity_ml for c in candidates]
    low, high = NONE_SPAN[0] * min(capacities), NONE_SPAN[1] * max(capacities)
    unlisted = np.log(NONE_ODDS / (high - low)) if low <= m <= high else -np.inf
    logs = np.append(emg + np.log((1 - NONE_ODDS) * priors / priors.sum()), unlisted)
    logs = np.where(np.isfinite(logs), logs, -1e12)
    shares = np.exp(logs - logs.max())
    shares /= shares.sum()
    none, shares = float(shares[-1]), shares[:-1]
    order = np.argsort(-shares, kind="stable")
    rows = tuple(VariantShare(candidates[k].name, float(shares[k]), float(expected[k]), float(expected[k] - m)) for k in order)
    same = float(np.ptp(expected)) < 2 * float(wide.max())
    poor = bool((np.abs(expected - m) > 5 * sigma).all() and (expected < m).all())
    named = rows[0].name if rows[0].share > NAMED_ABOVE and not same and not poor else ""
    # The other one would fit as well if it had lost oil: a loss reckoned from the named one would prove itself.
    rivals = [r for r in rows[1:] if r.loss_ml > 2 * sigma and r.loss_ml < 0.3 * r.expected_ml]
    circular = bool(rivals)
    settle = (*(say("Read the casing: {mark}", mark=mark) for mark in casing_marks), say("Fill to the level and count what it takes"))
    text = _said(m, rows, none, poor=poor, same=same, named=named, rivals=rivals)
    inputs = tuple((say("{c}: holds less residue", c=c.name), f"{ml(c.expected_ml)}") for c in candidates)
    working = Working(
        "p(variant | drained) ∝ prior · EMG(fill − residue − drained; σ, mean loss), beside one that is not listed",
        (*inputs, ("σ of the reading", f"{ml(sigma)}"), ("mean loss before", f"{ml(loss)}")),
        "Bayes; exponentially modified Gaussian; the priors are common practice",
    )
    return VariantVerdict(rows, named, circular, settle, text, working, none)


def _emg(missing: np.ndarray, sigma: np.ndarray, loss: float) -> np.ndarray:
    """Log density of a Gaussian reading of an exponential loss, up to nothing: the whole of it."""
    found: np.ndarray = -np.log(loss) + sigma**2 / (2 * loss**2) - missing / loss + scipy.special.log_ndtr(missing / sigma - sigma / loss)
    return found


def _said(
    measured_ml: float, rows: Sequence[VariantShare], none: float, *, poor: bool, same: bool, named: str, rivals: Sequence[VariantShare]
) -> str:
    """What a drained amount says of the variant, in words."""
    out = say("{measured_ml} came out. ", measured_ml=ml(measured_ml))
    if poor:
        text = out + say("That is more than any variant holds: measure again, or an earlier overfill.")
    elif same:
        text = out + say("What comes out is what went in last time: it does not tell the variants apart.")
    elif named:
        text = out + say("It is the {named} ({share}).", named=named, share=percent(rows[0].share))
        if rivals:
            rival = rivals[0]
            text += say(
                " Or the {rival} that lost {loss_ml}: then no loss can be reckoned from it.", rival=rival.name, loss_ml=ml(rival.loss_ml)
            )
    else:
        text = out + say("It does not say which: ") + ", ".join(f"{r.name} {percent(r.share)}" for r in rows if r.share > STILL_POSSIBLE)
        text += say(", none of them {none}.", none=percent(none)) if none > STILL_POSSIBLE else "."
    return text
