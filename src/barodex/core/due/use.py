"""Use per day from meter readings: recent ones weigh more, parked months and seasons are understood."""

from __future__ import annotations

import datetime as dt
import functools
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain

import numpy as np

from barodex.core.due.ahead import Ahead, Rate, Spread, spread_factors
from barodex.core.due.meter import Meter, MeterReading
from barodex.core.due.pace import DRIFT, SEASON_DRIFT, SHORT_SEASON, SPAN, Legs, Paces, paces_of
from barodex.core.due.season import Season, days_run_up_to, season_length, season_share
from barodex.core.due.standing import STILL_DAYS, STILL_SHARE, found_season
from barodex.core.quantity.errors import OutOfRange
from barodex.core.words import say

# Use when there is only one reading, per day (common practice): vehicle kind to (km, h).
DEFAULT_PER_DAY = {
    "car": (35.0, 0.0),
    "van": (35.0, 0.0),
    "4x4": (35.0, 0.0),
    "truck": (90.0, 0.0),
    "motorcycle": (12.0, 0.0),
    "bicycle": (8.0, 0.0),
    "boat": (0.0, 0.4),
    "snow machine": (15.0, 0.0),
    "bus": (20.0, 0.0),
}
PARKED_DAYS, PARKED_SHARE = 28, 0.05  # so long at less than this share of its mean rate, it stood parked (common practice)
SPELLS = 2.5  # times the mean square of how long it stands, of the square of its mean (common practice)
MIDDLE = 0.85  # of the standing that is to be expected lies before the middle of what comes: spells are few and long (simulated)
STALE_DAYS = 92  # without a reading for so long, the vehicle is asked for one (common practice)
KIND_WITHIN = 1.0  # the logarithm of a vehicle's rate lies so far from the usual of its kind (common practice)
UNKNOWN_WITHIN = 2.0  # a rate that is only that of its kind is known within this factor (common practice)


@dataclass(frozen=True)
class Change:
    """Use that has changed: since the reading of a day, by a factor."""

    since: dt.date
    factor: float


@dataclass(frozen=True)
class Forecast:
    """Use of a vehicle, in km or h.

    ``rate`` per calendar day, the mean over a year; ``in_use`` per day of its season, both with P10 and P90 of a year's mean.
    ``readings`` carry it, ``is_default`` when it is only that of its kind. ``since``: the last reading; ``stale_days`` ago;
    ``wants_reading``: too long. ``parked_days`` stood still; that it will stand again is counted. ``season``: as it was set, or as it
    was ``found`` in the readings and is to be asked; ``change`` of its use, after which only what was run since counts.
    """

    rate: Rate
    readings: int
    is_default: bool
    in_use: Rate
    spread: Spread
    season: Season | None
    since: dt.date
    stale_days: int
    wants_reading: bool
    parked_days: int
    found: bool = False
    change: Change | None = None

    @functools.cached_property
    def ahead(self) -> Ahead:
        return Ahead(self.in_use, self.since, self.season, self.spread)

    def date_at(self, run: float) -> tuple[dt.date | None, dt.date | None, dt.date | None]:
        """P10, P50, P90 of the day by which ``run`` (km or h from the last reading) is done."""
        return self.ahead.date_at(run)


@dataclass(frozen=True)
class Line:
    """The meter of a vehicle with its kind, the unit it counts (km or h) and its season; ``all_year``: somebody said that it has none."""

    meter: Meter
    kind: str
    unit: str = "km"
    season: Season | None = None
    all_year: bool = False


def forecasts(lines: Sequence[Line], as_of: dt.date, half_life_days: float = 120.0) -> list[Forecast]:
    """Give the use of many vehicles at once; the batch form of :func:`forecast`.

    Parameters
    ----------
    lines : a vehicle each; values in km or h
    as_of : today
    half_life_days : age at which a reading weighs half, days, 1 to 10 000

    Returns
    -------
    list of Forecast, in the order of the lines

    Raises
    ------
    OutOfRange : an unknown kind or a half-life outside its range

    References
    ----------
    As :func:`forecast`.
    """
    today = as_of.toordinal()
    found: list[Forecast | None] = [None] * len(lines)
    at: list[int] = []
    known = [line.meter.days for line in lines]
    for k, line in enumerate(lines):
        if line.kind not in DEFAULT_PER_DAY:
            raise OutOfRange(
                say("No default use for “{kind}”.", kind=line.kind), field="kind", value=line.kind, allowed=", ".join(DEFAULT_PER_DAY)
            )
        mine = known[k]
        if len(mine) > 1 and mine[0] < mine[-1]:
            at.append(k)
        else:
            found[k] = _by_default(line, as_of)
    if not at:
        return [f for f in found if f is not None]
    starts = np.cumsum([0, *(len(known[k]) for k in at[:-1])])
    days = np.fromiter(chain.from_iterable(known[k] for k in at), dtype=np.float64)
    totals = np.fromiter(chain.from_iterable(lines[k].meter.totals for k in at), dtype=np.float64)
    ends = np.append(starts[1:], len(days))
    seasons = [lines[k].season for k in at]
    sought: list[Season | None] = [None] * len(at)
    for n in _may_stand(days, totals, starts, ends):
        line, part = lines[at[n]], slice(starts[n], ends[n])
        if seasons[n] is None and not line.all_year:
            seasons[n] = sought[n] = found_season(days[part], totals[part], line.kind)
    legs, stands = _in_use(days, totals, starts, seasons)
    usual = np.array([SEASON_DRIFT if s is not None and season_length(s) <= SHORT_SEASON else DRIFT for s in seasons])
    paces, changed = paces_of(legs, usual, half_life_days)
    kinds = [DEFAULT_PER_DAY[lines[k].kind][lines[k].unit != "km"] for k in at]
    rates, spreads, widths = _told(paces, stands, np.array(kinds), np.array([season_share(s) for s in seasons]))
    parked = stands.days.tolist()
    for n, k in enumerate(at):
        change = changed.get(n)
        made = Change(dt.date.fromordinal(int(days[change[0]])), change[1]) if change else None
        found[k] = _fitted(
            lines[k],
            rates[n],
            Spread(*spreads[n]),
            widths[n],
            today,
            parked=int(parked[n]),
            season=seasons[n],
            is_found=sought[n] is not None,
            change=made,
        )
    return [f for f in found if f is not None]


def _may_stand(days: np.ndarray, totals: np.ndarray, starts: np.ndarray, ends: np.ndarray) -> list[int]:
    """The vehicles that stood still for some weeks of their readings: only those are worth a search for their season."""
    gap, ran = np.diff(days, prepend=days[0]), np.diff(totals, prepend=totals[0])
    gap[starts] = ran[starts] = 0.0
    mean = (totals[ends - 1] - totals[starts]) / (days[ends - 1] - days[starts])
    still = np.where(ran < STILL_SHARE * np.repeat(mean, ends - starts) * gap, gap, 0.0)
    return np.flatnonzero(np.add.reduceat(still, starts) >= STILL_DAYS).tolist()


@dataclass(frozen=True)
class _Stands:
    """How vehicles stood still out of any season: days in all, of so many, at so many times; whether each stands now, shape (vehicles,)."""

    days: np.ndarray
    of: np.ndarray
    times: np.ndarray
    now: np.ndarray


def _in_use(days: np.ndarray, totals: np.ndarray, starts: np.ndarray, seasons: Sequence[Season | None]) -> tuple[Legs, _Stands]:
    """The readings by days of use: those of the season, without the legs in which a vehicle without one stood parked."""
    counts = np.diff(np.append(starts, len(days)))
    ends = starts + counts - 1
    gap, ran = np.diff(days, prepend=days[0]), np.diff(totals, prepend=totals[0])
    gap[starts] = ran[starts] = 0.0
    span = days[ends] - days[starts]
    usual = np.repeat((totals[ends] - totals[starts]) / span, counts)
    still = (gap > 0) & (ran < PARKED_SHARE * usual * gap)
    spell = np.cumsum(~still)  # of one number: a leg that ran, and the still ones after it; those of the next vehicle begin with none
    parked = still & (np.bincount(spell, np.where(still, gap, 0.0))[spell] >= PARKED_DAYS)
    used = np.where(parked, 0.0, gap)
    rows: dict[Season, list[int]] = {}
    for n, season in enumerate(seasons):
        if season is not None:
            rows.setdefault(season, []).append(n)
    for season, mine in rows.items():
        part = np.concatenate([np.arange(starts[n], ends[n] + 1) for n in mine])
        runs = days_run_up_to(season, dt.date.fromordinal(int(days[part].min())), days[part].astype(int))
        used[part], parked[part] = np.diff(runs, prepend=0), False
    used[starts] = 0.0
    x = np.cumsum(used)
    x -= np.repeat(x[starts], counts)
    begins = parked & ~np.append(False, parked[:-1])
    stood, times = np.add.reduceat(np.where(parked, gap, 0.0), starts), np.add.reduceat(begins.astype(int), starts)
    return Legs(days, x, totals - np.repeat(totals[starts], counts), starts), _Stands(stood, span, times, parked[ends])


def _told(paces: Paces, stands: _Stands, usual: np.ndarray, share: np.ndarray) -> tuple[list[float], list[list[float]], list[float]]:
    """Of each vehicle: its rate per day of use, what :class:`Spread` takes, and the factor within which a year's mean lies.

    A rate that is known by few readings lies nearer to the usual of its kind, both by the inverse of their variances, in logarithms. That it
    will stand again, some time and for about as long, makes it slower and less sure. One that never ran tells nothing.
    """
    runs = np.isfinite(paces.rate) & (paces.rate > 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        known = np.where(runs, paces.noise / paces.days + paces.drift / 2, 1.0)
        own, kind = 1 / known, np.where(usual > 0, 1 / KIND_WITHIN**2, 0.0)
        rate = np.exp((own * np.log(paces.rate) + kind * np.log(np.maximum(usual, 1e-9) / share)) / (own + kind))
        still = stands.days / stands.of
        spell = stands.days / np.maximum(1, stands.times)
        rest = np.where(stands.now & runs, spell / 2, 0.0)
        noise = paces.noise / (1 - still) + still * spell * SPELLS / (1 - still) ** 2 + rest**2 / (2 * SPAN)
    rate = np.where(runs, rate * (1 - MIDDLE * still), 0.0)
    noise, drift = np.where(runs, noise, 0.0), np.where(runs, paces.drift / 2 / SPAN, 0.0)
    year = spread_factors(known, noise, drift, 365.0)
    return rate.tolist(), np.stack([known, noise, drift, rest], axis=1).tolist(), year.tolist()


def _fitted(
    line: Line,
    rate: float,
    spread: Spread,
    year: float,
    today: int,
    *,
    parked: int,
    season: Season | None,
    is_found: bool,
    change: Change | None,
) -> Forecast:
    """The forecast of one vehicle from what was told of it."""
    since, share = line.meter.days[-1], season_share(season)
    in_use = Rate(rate, rate / year, rate * year)
    return Forecast(
        rate=in_use if season is None else Rate(rate * share, in_use.low * share, in_use.high * share),
        readings=line.meter.count,
        is_default=False,
        in_use=in_use,
        spread=spread,
        season=season,
        since=dt.date.fromordinal(since),
        stale_days=today - since,
        wants_reading=today - since > STALE_DAYS,
        parked_days=parked,
        found=is_found,
        change=change,
    )


def _by_default(line: Line, as_of: dt.date) -> Forecast:
    per_day = DEFAULT_PER_DAY[line.kind][0 if line.unit == "km" else 1]
    in_use, share = Rate(per_day, per_day / UNKNOWN_WITHIN, per_day * UNKNOWN_WITHIN), season_share(line.season)
    count, since = line.meter.count, line.meter.last_on or as_of
    stale = (as_of - since).days
    rate = Rate(per_day * share, in_use.low * share, in_use.high * share)
    return Forecast(
        rate=rate,
        readings=count,
        is_default=True,
        in_use=in_use,
        spread=Spread.within(UNKNOWN_WITHIN),
        season=line.season,
        since=since,
        stale_days=stale,
        wants_reading=not count or stale > STALE_DAYS,
        parked_days=0,
    )


def forecast(
    readings: Sequence[MeterReading],
    as_of: dt.date,
    kind: str,
    unit: str = "km",
    half_life_days: float = 120.0,
    season: Season | None = None,
) -> Forecast:
    """Give the rate of use, recent readings weighing more, with what it may be off by.

    The present rate is the weighted mean of what the legs ran on their days of use, weights 2^(−age/half-life). Days out of season are no
    days of use, be it set or found; a change of use makes what was before it count no more. P10 and P90 are of a prediction: the rate
    as it is known, what each day differs by, and how the rate moves, each by this vehicle's own readings as far as they tell it.

    Parameters
    ----------
    readings : in order of date; values in ``unit``
    as_of : today
    kind : vehicle kind, whose usual rate counts where readings are few, and alone when there are fewer than two on different days
    unit : km or h
    half_life_days : age at which a leg weighs half, days, 1 to 10 000
    season : when it runs; None: nobody set one

    Returns
    -------
    Forecast; rates in ``unit`` per day

    Raises
    ------
    OutOfRange : an unknown kind or a half-life outside its range

    References
    ----------
    As :func:`barodex.core.due.pace.paces_of` and :func:`barodex.core.due.standing.found_season`. Default rates, parked legs and the usual
    spreads: common practice, checked by simulation.
    """
    return forecasts([Line(Meter.of(readings, as_of), kind, unit, season)], as_of, half_life_days)[0]
