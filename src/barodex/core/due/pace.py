"""How fast vehicles run by their readings, many at once: the present rate, what it may be off by, and whether it has changed."""

from __future__ import annotations

import functools
import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import in_range

# All shares and variances are of the rate itself (common practice, checked by simulation: the tests under core/due).
NOISE, NOISE_LEGS = 1.5, 4.0  # days: variance of what is run, per day, as usual of vehicles; it counts as so many pairs of legs
DRIFT, SEASON_DRIFT, DRIFT_SPANS = 0.003, 0.05, 3.0  # variance of a rate from one span to the next; it counts as so many spans
SHORT_SEASON = 245  # days: what runs no longer a year runs a quarter more or less from one season to the next
MANY = 24  # readings of a vehicle
SPAN = 120.0  # days of use over which a rate is compared with the one before
CHANGE_Z, CHANGE_LEAST, CHANGE_GONE = 2.7, 1.35, 0.15  # σ and factor of a changed use; below the last it stands, and is not changed
CHANGE_LOOK = 400  # days: of a change before, what was run since outweighs what was run until then by ten to one
CHANGE_WITHIN = 365.0  # days of use before, with which it is compared
AFTER_LEAST, BEFORE_LEAST = 18.0, 60.0  # days of use after and before a change
AFTER_SHARE, BEFORE_SHARE = 0.8, 0.7  # of the days on either side, so many on its own side of the middle


@dataclass(frozen=True)
class Legs:
    """The readings of many vehicles, one after the other: ``x`` days of use and ``y`` km or h since the first of each, ``days`` as
    ordinals, shape (n,); ``starts``: index of the first reading of each, shape (vehicles,)."""

    days: np.ndarray
    x: np.ndarray
    y: np.ndarray
    starts: np.ndarray

    @functools.cached_property
    def owner(self) -> np.ndarray:
        """Which vehicle each reading is of, shape (n,)."""
        return np.repeat(np.arange(len(self.starts)), self.counts)

    @functools.cached_property
    def dx(self) -> np.ndarray:
        """Days of use of the leg that ends at each reading, 0 at the first of each vehicle, shape (n,)."""
        return self._between(self.x)

    @functools.cached_property
    def dy(self) -> np.ndarray:
        """What was run in the leg that ends at each reading, km or h, shape (n,)."""
        return self._between(self.y)

    def _between(self, values: np.ndarray) -> np.ndarray:
        found = np.diff(values, prepend=0.0)
        found[self.starts] = 0.0
        return found

    @functools.cached_property
    def counts(self) -> np.ndarray:
        """Readings of each vehicle, shape (vehicles,)."""
        return np.diff(np.append(self.starts, len(self.days)))

    def since(self, first: Mapping[int, int]) -> Legs:
        """Some of the vehicles, each from a reading on: its place, and the index of the reading."""
        ends = self.starts + self.counts
        rows = [np.arange(k, ends[mine]) for mine, k in first.items()]
        starts = np.cumsum([0, *(len(r) for r in rows[:-1])])
        kept = np.concatenate(rows)
        counts = np.diff(np.append(starts, len(kept)))
        x, y = self.x[kept], self.y[kept]
        return Legs(self.days[kept], x - np.repeat(x[starts], counts), y - np.repeat(y[starts], counts), starts)


@dataclass(frozen=True)
class Paces:
    """Of each vehicle, shape (vehicles,): ``rate`` per day of use, km or h; ``days``: of how many days of use it is worth;
    ``noise``: variance of what is run, days; ``drift``: variance of the rate from one span to the next, a share."""

    rate: np.ndarray
    days: np.ndarray
    noise: np.ndarray
    drift: np.ndarray


def _weights(legs: Legs, half_life_days: float) -> np.ndarray:
    """2^(−age/half-life) of the middle of the leg that ends at each reading, of its vehicle's newest; ages above ten half-lives count as
    ten."""
    middle = legs.days - np.diff(legs.days, prepend=legs.days[0]) / 2
    middle[legs.starts] = legs.days[legs.starts]
    newest = np.repeat(np.maximum.reduceat(legs.days, legs.starts), legs.counts)
    weights: np.ndarray = np.exp2(np.maximum((middle - newest) / half_life_days, -10.0))
    return weights


def weighted_rates(legs: Legs, half_life_days: float) -> tuple[np.ndarray, np.ndarray]:
    """Give the rate of each vehicle, recent legs weighing more.

    Parameters
    ----------
    legs : of many vehicles; days, km or h
    half_life_days : age at which a leg weighs half, days, 1 to 10 000

    Returns
    -------
    (rates in km or h per day of use, days of use that they are worth), shape (vehicles,). NaN where a vehicle has no day of use

    Raises
    ------
    OutOfRange : a half-life outside its range

    References
    ----------
    Weighted least squares through the origin of what each leg ran on its days, the variance of a leg growing with its days (a random
    walk): Draper and Smith, Applied Regression Analysis, chapter 9. Worth: (Σwx)²/Σw²x, Kish (1965).
    """
    in_range("half_life_days", half_life_days, 1, 10_000, "d")
    dx, dy, w = legs.dx, legs.dy, _weights(legs, half_life_days)
    total = np.add.reduceat(w * dx, legs.starts)
    with np.errstate(divide="ignore", invalid="ignore"):
        rates = np.where(total > 0, np.add.reduceat(w * dy, legs.starts) / total, np.nan)
        return rates, np.where(total > 0, total**2 / np.add.reduceat(w**2 * dx, legs.starts), np.nan)


def noise_of(legs: Legs, rates: np.ndarray) -> np.ndarray:
    """Give how unsteadily each vehicle runs: the variance of what it runs, per day, as a share of its rate squared.

    Parameters
    ----------
    legs : of many vehicles; days, km or h
    rates : km or h per day of use, shape (vehicles,)

    Returns
    -------
    numpy array of float, days, shape (vehicles,)

    References
    ----------
    Mean square successive difference, von Neumann (1941), of the legs' rates, whose variance is that of a random walk over their days;
    with few legs the usual of vehicles counts (common practice).
    """
    dx, dy = legs.dx, legs.dy
    good = dx > 0
    d, owner = dx[good], legs.owner[good]
    rho = dy[good] / d
    pair = owner[1:] == owner[:-1]
    square = (np.diff(rho)[pair] / np.maximum(rates[owner[1:][pair]], 1e-9)) ** 2 / (1 / d[1:][pair] + 1 / d[:-1][pair])
    n = np.bincount(owner[1:][pair], minlength=len(rates))
    return (NOISE_LEGS * NOISE + np.bincount(owner[1:][pair], square, minlength=len(rates))) / (NOISE_LEGS + n)


def drift_of(legs: Legs, noise: np.ndarray, usual: np.ndarray, half_life_days: float) -> np.ndarray:
    """Give how much each vehicle's rate moves from one span to the next, beyond its noise: told from how its own rate, as it stood at
    each past reading, came out over the span that followed.

    Parameters
    ----------
    legs : of many vehicles; days, km or h
    noise : days, shape (vehicles,)
    usual : variance that is usual of its kind, a share, shape (vehicles,)
    half_life_days : as :func:`weighted_rates`

    Returns
    -------
    numpy array of float, variance as a share of the rate squared, shape (vehicles,)

    References
    ----------
    Method of moments; common practice.
    """
    dx, dy, w, owner = legs.dx, legs.dy, _weights(legs, half_life_days), legs.owner
    cx, cy, c2 = (_running(v, legs) for v in (w * dx, w * dy, w**2 * dx))
    ends = np.append(legs.starts[1:], len(dx))
    key = legs.x + owner * (float(legs.x.max(initial=0.0)) + 2 * SPAN)
    much = legs.counts > MANY  # of many readings each second tells as much
    some = np.flatnonzero(~much[owner] | ((np.arange(len(key)) - legs.starts[owner]) % 2 == 0))
    after = np.searchsorted(key, key[some] + SPAN)
    told = (after < ends[owner[some]]) & (dx[some] > 0) & (cy[some] > 0)
    j, k = some[told], after[told]
    o = owner[j]
    days = legs.x[k] - legs.x[j]
    error = np.minimum((legs.y[k] - legs.y[j]) / days / (cy[j] / cx[j]) - 1, 2.0)
    beyond = error**2 - noise[o] * (c2[j] / cx[j] ** 2 + 1 / days)
    n = len(legs.starts)
    days = dx[j] * np.where(much[o], 2, 1)
    spans = np.bincount(o, days, minlength=n) / SPAN
    return np.maximum(0.0, (DRIFT_SPANS * usual + np.bincount(o, days * beyond, minlength=n) / SPAN) / (DRIFT_SPANS + spans))


def _running(values: np.ndarray, legs: Legs) -> np.ndarray:
    """Sums from the first reading of each vehicle on."""
    total = np.cumsum(values)
    since: np.ndarray = total - np.repeat(total[legs.starts] - values[legs.starts], legs.counts)
    return since


def changes_of(legs: Legs, noise: np.ndarray, usual: np.ndarray) -> dict[int, tuple[int, float]]:
    """Find the vehicles whose use has changed: the last reading before it, and by which factor.

    Every split of the readings is tried: what was run since against the year of use before. A change is 2.7 σ of both and of the usual
    drift, a third more or less, and most days on either side lie on their own side of the middle, so that no single odd leg makes one;
    at the earliest two readings after; and it is none where the same weeks of the year before were like it.

    Parameters
    ----------
    legs : of many vehicles; days, km or h
    noise, usual : as :func:`drift_of`

    Returns
    -------
    dict from the vehicle's place to (index of the reading, factor)

    References
    ----------
    Likelihood-ratio scan for one change of level, Page (1955); 2.7 σ errs in about one of a hundred steady vehicles (simulated in the
    tests under core/due), the other bounds are common practice.
    """
    ends = np.append(legs.starts[1:], len(legs.days)) - 1
    dx, dy = legs.dx, legs.dy
    at = np.flatnonzero(legs.days >= np.repeat(legs.days[ends] - CHANGE_LOOK, legs.counts))
    owner = legs.owner[at]
    end = ends[owner]
    wide = float(legs.x.max(initial=0.0)) + 2 * CHANGE_WITHIN
    key = legs.x + legs.owner * wide
    low = np.maximum(np.searchsorted(key, key[at] - CHANGE_WITHIN), legs.starts[owner])
    after, before = legs.x[end] - legs.x[at], legs.x[at] - legs.x[low]
    with np.errstate(divide="ignore", invalid="ignore"):
        now, then = (legs.y[end] - legs.y[at]) / after, (legs.y[at] - legs.y[low]) / before
        size = np.log(now / then)
        z = np.abs(size) / np.sqrt(noise[owner] * (1 / before + 1 / after) + 5 * usual[owner])
        may = (after >= AFTER_LEAST) & (before >= BEFORE_LEAST) & (end - at >= 2) & (now > CHANGE_GONE * then)
        may &= (z > CHANGE_Z) & (np.abs(size) > math.log(CHANGE_LEAST))
    found: dict[int, tuple[int, float]] = {}
    for n in sorted(np.flatnonzero(may).tolist(), key=lambda n: -float(z[n])):
        mine, k = int(owner[n]), int(at[n])
        if mine in found:
            continue
        middle, up = math.sqrt(now[n] * then[n]), size[n] > 0
        since, past = slice(k + 1, end[n] + 1), slice(low[n] + 1, k + 1)
        if (
            _share_beyond(dx[since], dy[since], middle, up) >= AFTER_SHARE
            and _share_beyond(dx[past], dy[past], middle, not up) >= BEFORE_SHARE
            and not _as_last_year(legs, mine, k, float(now[n]), float(size[n]))
        ):
            found[mine] = (k, float(now[n] / then[n]))
    return found


def _as_last_year(legs: Legs, mine: int, k: int, now: float, size: float) -> bool:
    """Whether a vehicle ran as much in the same weeks of the year before as it runs since a reading: then it is the time of the year."""
    part = slice(legs.starts[mine], legs.starts[mine] + legs.counts[mine])
    days = legs.days[part]
    then = legs.days[k] - 365, days[-1] - 365
    if then[0] < days[0]:
        return False
    x, y = (np.diff(np.interp(then, days, v[part]))[0] for v in (legs.x, legs.y))
    return bool(x >= AFTER_LEAST and y > 0 and math.log(now * x / y) * np.sign(size) < abs(size) / 2)


def _share_beyond(dx: np.ndarray, dy: np.ndarray, middle: float, above: bool) -> float:
    """The share of some legs' days on which more (or less) was run than a rate."""
    side = (dy > middle * dx) if above else (dy < middle * dx)
    return float(dx[side].sum() / max(1.0, dx.sum()))


def paces_of(legs: Legs, usual: np.ndarray, half_life_days: float) -> tuple[Paces, dict[int, tuple[int, float]]]:
    """Give how fast each vehicle runs, what that may be off by, and what of it has changed; after a change only what was run since counts.

    Parameters
    ----------
    legs : of many vehicles; days, km or h
    usual : variance of a rate from one span to the next that is usual of its kind, a share, shape (vehicles,)
    half_life_days : age at which a leg weighs half, days, 1 to 10 000

    Returns
    -------
    (Paces, as :func:`changes_of`)

    Raises
    ------
    OutOfRange : a half-life outside its range

    References
    ----------
    As :func:`weighted_rates`, :func:`noise_of`, :func:`drift_of`, :func:`changes_of`.
    """
    found = _paces(legs, usual, half_life_days)
    changed = changes_of(legs, found.noise, usual)
    if changed:
        mine = list(changed)
        anew = _paces(legs.since({n: k for n, (k, _) in changed.items()}), usual[mine], half_life_days)
        for was, now in ((found.rate, anew.rate), (found.days, anew.days), (found.noise, anew.noise), (found.drift, anew.drift)):
            was[mine] = now
    return found, changed


def _paces(legs: Legs, usual: np.ndarray, half_life_days: float) -> Paces:
    rates, days = weighted_rates(legs, half_life_days)
    noise = noise_of(legs, rates)
    return Paces(rates, days, noise, drift_of(legs, noise, usual, half_life_days))
