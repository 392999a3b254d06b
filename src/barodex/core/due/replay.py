"""How past forecasts came out: what would have been said on a day, by the readings of that day, against the readings since."""

from __future__ import annotations

import datetime as dt
from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import sqrt

from barodex.core.due.use import Line, forecasts
from barodex.core.quantity.errors import in_range

AHEAD_DAYS = 90  # so far ahead at least: a reading sooner tells little (common practice)
WANTED = 0.8  # of the true days lie between P10 and P90
SIGMAS = 2.0


@dataclass(frozen=True)
class CameOut:
    """A forecast of a past day: of which line, said on ``as_of`` from the reading of ``since``, that ``run`` (km or h) would be done
    between ``early`` and ``late``, ``middle`` the P50; it was done on ``true``, ``side`` -1 before, 0 within, 1 after."""

    line: int
    as_of: dt.date
    since: dt.date
    run: float
    early: dt.date | None
    middle: dt.date | None
    late: dt.date | None
    true: dt.date

    @property
    def side(self) -> int:
        if self.early is not None and self.true < self.early:
            return -1
        return 1 if self.late is not None and self.true > self.late else 0

    @property
    def off(self) -> float | None:
        """P50 over the true time to go, less 1: late is above 0; None without a P50."""
        return None if self.middle is None else (self.middle - self.true).days / max(1, (self.true - self.since).days)


def replayed(lines: Sequence[Line], days: Sequence[dt.date], ahead_days: int = AHEAD_DAYS) -> list[CameOut]:
    """Give what forecasts of past days said, each of what the meter showed at the first reading so far ahead, and when that was.

    Parameters
    ----------
    lines : a vehicle each; values in km or h
    days : on which a forecast is made as it would have been then
    ahead_days : how far the reading lies ahead at least, days, 1 to 3 650

    Returns
    -------
    list of CameOut; a vehicle that had fewer than two readings then, or has none so far ahead, or did not run, tells nothing

    Raises
    ------
    OutOfRange : ``ahead_days`` outside its range

    References
    ----------
    Calibration of a forecast by its past: Dawid (1982).
    """
    in_range("ahead_days", ahead_days, 1, 3650, "d")
    found = []
    for day in days:
        then = [replace(line, meter=line.meter.until(day)) for line in lines]
        some = [k for k, line in enumerate(then) if len(set(line.meter.days)) > 1]
        for k, told in zip(some, forecasts([then[k] for k in some], day), strict=True):
            whole, last = lines[k].meter, then[k].meter.count - 1
            at = bisect_left(whole.days, whole.days[last] + ahead_days)
            while last < at < whole.count and whole.totals[at] == whole.totals[at - 1]:
                at -= 1  # it was run by the reading before already
            if not last < at < whole.count or whole.totals[at] <= whole.totals[last]:
                continue
            run = whole.totals[at] - whole.totals[last]
            found.append(CameOut(k, day, told.since, run, *told.date_at(run), true=dt.date.fromordinal(whole.days[at])))
    return found


@dataclass(frozen=True)
class Tally:
    """How many came out before P10, within, and after P90, and what that says: ``verdict`` as wanted, narrow, wide, or few."""

    before: int
    within: int
    after: int
    verdict: str

    @property
    def count(self) -> int:
        return self.before + self.within + self.after


def tally(outcomes: Sequence[CameOut]) -> Tally:
    """Count how forecasts came out, against eight out of ten within.

    Parameters
    ----------
    outcomes : from :func:`replayed`

    Returns
    -------
    Tally; "few" where even two standard errors of a binomial count could not tell 8 of 10 from 6 of 10

    References
    ----------
    Binomial standard error.
    """
    sides = [o.side for o in outcomes]
    n, within = len(sides), sides.count(0)
    if n == 0 or SIGMAS * sqrt(WANTED * (1 - WANTED) / n) > 0.2:
        verdict = "few"
    else:
        off = (within / n - WANTED) / sqrt(WANTED * (1 - WANTED) / n)
        verdict = "narrow" if off < -SIGMAS else "wide" if off > SIGMAS else "as wanted"
    return Tally(sides.count(-1), within, sides.count(1), verdict)
