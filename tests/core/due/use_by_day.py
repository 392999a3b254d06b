"""Made-up vehicles with a known future: a day's use at a time, by models that are not the forecast's own; seeded.

Each scenario gives readings up to a day, and what is run on each day after it. Days, km; what is usual of people and machines: common practice.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from barodex.core.due.meter import Meter, MeterReading
from barodex.core.due.season import Season
from barodex.core.due.use import Line

TODAY = dt.date(2026, 5, 31)
AHEAD = 1500  # days of future


@dataclass(frozen=True)
class Made:
    """A vehicle: what Barodex knows of it on ``as_of``, and the running total of the days after its last reading."""

    line: Line
    as_of: dt.date
    future: np.ndarray

    def day_of(self, run: float) -> int | None:
        """Days after the last reading on which so much is run; None beyond what was made."""
        at = int(np.searchsorted(self.future, run))
        return at + 1 if at < len(self.future) else None


def _noise(rng: np.random.Generator, days: int, daily: float, weekly: float) -> np.ndarray:
    """Factors around 1: each day a gamma, each week a log-normal."""
    day = rng.gamma(1 / daily**2, daily**2, days)
    week = np.repeat(rng.lognormal(-(weekly**2) / 2, weekly, days // 7 + 1), 7)[:days]
    return day * week


def _months(start: dt.date, days: int) -> np.ndarray:
    return np.array([(start + dt.timedelta(days=k)).month for k in range(days)])


def _readings(
    rng: np.random.Generator, day: np.ndarray, start: dt.date, past: int, every: float, jitter: float
) -> tuple[list[MeterReading], int]:
    """Readings at intervals around ``every`` days, the last of them less than one interval ago; gives them and the place of the last."""
    gaps = np.clip(rng.normal(every, jitter * every, 4 * past // max(1, int(every)) + 8), 2, None)
    back = past - np.cumsum(gaps) + rng.uniform(0, every)
    at = sorted({int(b) for b in back if 0 <= b < past} | {0})
    total = 10_000 + np.cumsum(day)
    return [MeterReading(start + dt.timedelta(days=k), round(float(total[k]))) for k in at], at[-1]


def _made(
    rng: np.random.Generator,
    day: np.ndarray,
    past: int,
    every: float,
    jitter: float = 0.3,
    kind: str = "4x4",
    season: Season | None = None,
    keep: int | None = None,
    as_of: dt.date = TODAY,
) -> Made:
    start = as_of - dt.timedelta(days=past)
    readings, last = _readings(rng, day, start, past, every, jitter)
    if keep is not None:
        readings = readings[-keep:]
    return Made(Line(Meter.of(readings, as_of), kind, "km", season), as_of, np.cumsum(day[last + 1 :]))


def _base(rng: np.random.Generator) -> float:
    return float(rng.lognormal(np.log(35), 0.5))


def weekly_noise(rng: np.random.Generator) -> Made:
    """The same use for years, each week a little other."""
    past = int(rng.uniform(500, 1400))
    return _made(rng, _base(rng) * _noise(rng, past + AHEAD, 0.6, 0.3), past, rng.uniform(10, 45))


def commuter(rng: np.random.Generator) -> Made:
    """Weeks of holiday, at home or on a long tour, and a use that drifts over the years."""
    past = int(rng.uniform(500, 1400))
    days = past + AHEAD
    drift = np.exp(np.cumsum(rng.normal(0, 0.15 / 365**0.5, days)))
    use = _base(rng) * _noise(rng, days, 0.5, 0.15) * drift
    start = TODAY - dt.timedelta(days=past)
    for year in range(start.year, start.year + days // 365 + 2):
        for month, longest in ((7, 21), (8, 21), (12, 14)):
            first = (dt.date(year, month, int(rng.integers(1, 20))) - start).days
            length = int(rng.uniform(7, longest))
            if 0 <= first < days:
                use[first : first + length] *= rng.choice([0.1, 0.4, 2.5])
    return _made(rng, use, past, rng.uniform(15, 60))


def irregular(rng: np.random.Generator) -> Made:
    """Read whenever somebody thinks of it."""
    past = int(rng.uniform(400, 1200))
    return _made(rng, _base(rng) * _noise(rng, past + AHEAD, 0.8, 0.4), past, rng.uniform(40, 110), jitter=0.8)


def two_readings(rng: np.random.Generator) -> Made:
    """Two readings, 20 to 90 days apart."""
    past = int(rng.uniform(20, 90))
    use = _base(rng) * _noise(rng, past + AHEAD, 0.7, 0.35)
    start = TODAY - dt.timedelta(days=past)
    total = 10_000 + np.cumsum(use)
    readings = [MeterReading(start, round(float(total[0]))), MeterReading(TODAY, round(float(total[past])))]
    return Made(Line(Meter.of(readings, TODAY), "4x4", "km", None), TODAY, np.cumsum(use[past + 1 :]))


SUMMER = Season((4, 1), (10, 31))


def _summer(rng: np.random.Generator, past: int, years: float, as_of: dt.date) -> np.ndarray:
    start = as_of - dt.timedelta(days=past)
    days = past + AHEAD
    by_year = {y: float(rng.lognormal(-(years**2) / 2, years)) for y in range(start.year, start.year + days // 365 + 2)}
    dates = [start + dt.timedelta(days=k) for k in range(days)]
    runs = np.array([4 <= d.month <= 10 for d in dates])
    return 2 * _base(rng) * _noise(rng, days, 1.0, 0.4) * runs * np.array([by_year[d.year] for d in dates])


def _some_day(rng: np.random.Generator) -> dt.date:
    return TODAY + dt.timedelta(days=int(rng.integers(0, 365)))


def uneven_season(rng: np.random.Generator) -> Made:
    """April to October, as its sheet says, a quarter more or less from year to year."""
    past, as_of = int(rng.uniform(500, 1400)), _some_day(rng)
    return _made(rng, _summer(rng, past, 0.25, as_of), past, rng.uniform(20, 50), kind="motorcycle", season=SUMMER, as_of=as_of)


def season_nobody_set(rng: np.random.Generator) -> Made:
    """A motorcycle from April to October, and nobody said so."""
    past, as_of = int(rng.uniform(550, 1400)), _some_day(rng)
    return _made(rng, _summer(rng, past, 0.1, as_of), past, rng.uniform(20, 50), kind="motorcycle", as_of=as_of)


def parked_spells(rng: np.random.Generator) -> Made:
    """Now and then it stands for some months, whenever."""
    past = int(rng.uniform(600, 1400))
    days = past + AHEAD
    use = _base(rng) * _noise(rng, days, 0.6, 0.25)
    at = rng.exponential(500)
    while at < days:
        length = rng.uniform(50, 140)
        use[int(at) : int(at + length)] = 0
        at += length + rng.exponential(500)
    return _made(rng, use, past, rng.uniform(15, 40))


def winters(rng: np.random.Generator) -> Made:
    """It stands three months each winter, and nobody said so."""
    past, as_of = int(rng.uniform(800, 1400)), _some_day(rng)
    days = past + AHEAD
    start = as_of - dt.timedelta(days=past)
    first = int(rng.choice([11, 12, 1]))
    stands = np.isin(_months(start, days), [(first - 1 + k) % 12 + 1 for k in range(3)])
    return _made(rng, _base(rng) * _noise(rng, days, 0.6, 0.25) * ~stands, past, rng.uniform(15, 35), as_of=as_of)


def changed_use(rng: np.random.Generator) -> Made:
    """Another driver or another round some months ago: 0.4 or 2 times as much."""
    past = int(rng.uniform(500, 1400))
    use = _base(rng) * _noise(rng, past + AHEAD, 0.6, 0.25)
    use[past - int(rng.uniform(75, 240)) :] *= rng.choice([0.4, 2.0])
    return _made(rng, use, past, rng.uniform(12, 30))


def just_changed(rng: np.random.Generator) -> Made:
    """The same, with exactly three readings since."""
    past = int(rng.uniform(500, 1400))
    every = rng.uniform(12, 40)
    use = _base(rng) * _noise(rng, past + AHEAD, 0.6, 0.25)
    start = TODAY - dt.timedelta(days=past)
    at = [past - round(every * k) for k in range(int(past / every) + 1)][::-1]
    use[at[-4] + 1 :] *= rng.choice([0.4, 2.0])
    total = 10_000 + np.cumsum(use)
    readings = [MeterReading(start + dt.timedelta(days=k), round(float(total[k]))) for k in at]
    return Made(Line(Meter.of(readings, TODAY), "4x4", "km", None), TODAY, np.cumsum(use[past + 1 :]))


SCENARIOS: tuple[Callable[[np.random.Generator], Made], ...] = (
    weekly_noise,
    commuter,
    irregular,
    two_readings,
    uneven_season,
    season_nobody_set,
    parked_spells,
    winters,
    changed_use,
    just_changed,
)


@dataclass(frozen=True)
class Hits:
    """Shares of true days before P10, inside, and after P90; the median of P50's error as a share of the time to go (late is above 0)."""

    below: float
    inside: float
    above: float
    bias: float


def hits(scenario: Callable[[np.random.Generator], Made], count: int, seed: int) -> Hits:
    """How the forecasts of a scenario come out, for what is run by a day 40 to 500 days on."""
    from barodex.core.due.use import forecasts

    rng = np.random.default_rng(seed)
    below = inside = above = 0
    errors = []
    for _ in range(count):
        made = scenario(rng)
        (told,) = forecasts([made.line], made.as_of)
        run = float(made.future[int(rng.uniform(40, 500))]) * rng.uniform(0.98, 1.02) + 1
        truth = made.day_of(run)
        assert truth is not None
        early, middle, late = told.date_at(run)
        days = (told.since + dt.timedelta(days=truth)).toordinal()
        before = early is not None and days < early.toordinal()
        after = late is not None and days > late.toordinal()
        below, above, inside = below + before, above + after, inside + (not before and not after)
        errors.append(np.inf if middle is None else (middle.toordinal() - days) / truth)
    n = below + inside + above
    return Hits(below / n, inside / n, above / n, float(np.median(errors)))
