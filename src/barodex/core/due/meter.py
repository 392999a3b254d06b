"""The meter of a vehicle: its readings, what was run between them across swaps, and what a reading cannot be."""

from __future__ import annotations

import datetime as dt
from bisect import bisect_right
from collections.abc import Collection, Mapping, Sequence
from typing import NamedTuple

from barodex.core.due.interval import leg_mix
from barodex.core.quantity.errors import OutOfLine, OutOfRange
from barodex.core.quantity.working import grouped
from barodex.core.words import say

READ_TO = {"km": 0.9, "h": 0.06}  # how finely a meter is read: half of a mile, half of a tenth of an hour (common practice)
MOST_PER_DAY = {"km": 2000.0, "h": 24.0}
ALL_ROAD = {"road": 1.0}
KM_PER_MILE = 1.609344  # NIST SP 811, appendix B


class MeterReading(NamedTuple):
    """A meter value on a day; ``swap``: the first of a new or reset meter. ``duty``: shares of the leg that ends here; None: as usual."""

    on: dt.date
    value: float
    swap: bool = False
    duty: Mapping[str, float] | None = None


class Meter:
    """The readings of a vehicle up to a day, ready to be asked many times what was run since an event.

    By columns: ``days`` as ordinals in rising order, ``values`` in km or h; ``swaps`` are the places of readings that begin a
    new meter, ``duties`` the shares of the legs that end at a place, where they were noted.
    """

    def __init__(
        self,
        days: Sequence[int],
        values: Sequence[float],
        as_of: dt.date,
        swaps: Collection[int] = (),
        duties: Mapping[int, Mapping[str, float]] | None = None,
    ) -> None:
        known = bisect_right(days, as_of.toordinal())
        self.days, self.values = (days, values) if known == len(days) else (days[:known], values[:known])
        self.totals = _across_swaps(self.values, swaps) if swaps else self.values
        self.swaps = swaps
        self.duties = {k: d for k, d in (duties or {}).items() if k < known}
        # Few legs have a duty of their own: place, what was run in it, and its shares.
        self.noted = [(k, max(0.0, self.totals[k] - self.totals[k - 1]), d) for k, d in sorted(self.duties.items()) if k]

    @classmethod
    def of(cls, readings: Sequence[MeterReading], as_of: dt.date) -> Meter:
        """From readings in order of date."""
        return cls(
            [r.on.toordinal() for r in readings],
            [r.value for r in readings],
            as_of,
            [k for k, r in enumerate(readings) if r.swap],
            {k: r.duty for k, r in enumerate(readings) if r.duty},
        )

    def until(self, as_of: dt.date) -> Meter:
        """The same as it was known on a day."""
        return Meter(self.days, self.values, as_of, self.swaps, self.duties)

    @property
    def count(self) -> int:
        return len(self.days)

    @property
    def last_on(self) -> dt.date | None:
        return dt.date.fromordinal(self.days[-1]) if self.days else None

    @property
    def last_value(self) -> float | None:
        return self.values[-1] if self.days else None

    def then(self, on: dt.date, value: float | None) -> float:
        """The running total at an event: by its own meter value, else read between the neighbouring readings."""
        k = bisect_right(self.days, on.toordinal()) - 1
        if value is not None:
            anchor = max(k, 0)
            while (
                anchor
                and self.days[anchor - 1] == self.days[anchor]
                and abs(self.values[anchor - 1] - value) < abs(self.values[anchor] - value)
            ):
                anchor -= 1  # on the day of a swap the value is of the meter that it lies next to
            return value + self.totals[anchor] - self.values[anchor]
        if k < 0:
            return self.totals[0]
        total = self.totals[k]
        if k + 1 < len(self.days) and self.days[k + 1] > self.days[k]:
            share = (on.toordinal() - self.days[k]) / (self.days[k + 1] - self.days[k])
            total += share * (self.totals[k + 1] - self.totals[k])
        return total

    def between(self, on: dt.date, value: float | None, until: dt.date, value_then: float | None) -> float | None:
        """What was run between two events, across swaps; below 0 where they contradict each other. Without a reading by their own values,
        None where one has none."""
        if self.days:
            return self.then(until, value_then) - self.then(on, value)
        return None if value is None or value_then is None else value_then - value

    def run(self, on: dt.date, value: float | None, beyond: float = 0.0) -> float | None:
        """What was run since an event; ``beyond`` is what was run since the last reading. None without a reading."""
        if not self.days:
            return None
        return max(0.0, self.totals[-1] + beyond - self.then(on, value))

    def legs(self, on: dt.date, value: float | None, beyond: float, split: Mapping[str, float]) -> dict[str, float] | None:
        """What was run since an event by duty: as each leg was noted, else by the usual split."""
        if not self.days:
            return None
        start = self.then(on, value)
        ran = max(0.0, self.totals[-1] + beyond - start)
        if not self.noted:
            return {"road": ran} if split == ALL_ROAD else leg_mix(split, ran)
        k = min(bisect_right(self.totals, start), len(self.totals) - 1)  # the leg in which it happened ends at reading k
        whole = self.totals[k] - self.totals[k - 1] if k else 0.0
        past = min(1.0, max(0.0, (start - self.totals[k - 1]) / whole)) if whole > 0 else 0.0
        since = [(leg * (1.0 - past) if place == k else leg, duty) for place, leg, duty in self.noted if place >= k]
        found = leg_mix(split, max(0.0, ran - sum(leg for leg, _ in since)))
        for leg, duty in since:
            for name, share in duty.items():
                found[name] = found.get(name, 0.0) + leg * share
        return found


class Fitted(NamedTuple):
    """A box in a vehicle: its meter, and from when and at what it was fitted, up to when; None: from before the book, or still."""

    meter: Meter
    on: dt.date | None
    value: float | None
    off: dt.date | None
    off_value: float | None


class BoxMeter:
    """What a box ran over all vehicles that it was fitted in, in order of time."""

    def __init__(self, fittings: Sequence[Fitted]) -> None:
        self.fittings = fittings

    def between(self, on: dt.date, value: float | None, until: dt.date, value_then: float | None) -> float | None:
        """What was run between two events; a value counts on the meter of the vehicle in which the box was then. None where no vehicle
        says it."""
        parts = []
        for f in self.fittings:
            if (f.off is not None and f.off < on) or (f.on is not None and f.on > until):
                continue
            begun = (f.on, f.value) if f.on is not None and f.on > on else (on, value)
            ended = (f.off, f.off_value) if f.off is not None and f.off <= until else (until, value_then)
            parts.append(f.meter.between(*begun, *ended))
        known = [p for p in parts if p is not None]
        return sum(known) if known else None

    def run(self, on: dt.date, value: float | None, beyond: float = 0.0) -> float | None:
        """What was run since an event; ``beyond`` is what was run since the last reading of the vehicle that it is in now."""
        if not self.fittings:
            return None
        here = self.fittings[-1]
        if here.off is not None:
            return self.between(on, value, here.off, here.off_value)
        if here.on is None or here.on <= on:
            return here.meter.run(on, value, beyond)
        before = BoxMeter(self.fittings[:-1]).between(on, value, here.on, None)
        now = here.meter.run(here.on, here.value, beyond)
        return now if before is None else before if now is None else before + now


def running_total(readings: Sequence[MeterReading]) -> list[float]:
    """Give the distance or hours run up to each reading, across meter swaps.

    Parameters
    ----------
    readings : in order of date; values in km or h

    Returns
    -------
    list of float, same length and unit; equals the meter where it was never swapped. What ran between the last
    reading of the old meter and the first of the new one is not known and counts as nothing.

    References
    ----------
    Arithmetic.
    """
    return list(_across_swaps([r.value for r in readings], [k for k, r in enumerate(readings) if r.swap]))


def _across_swaps(values: Sequence[float], swaps: Collection[int]) -> Sequence[float]:
    offset = 0.0
    totals: list[float] = []
    for k, value in enumerate(values):
        if k and k in swaps:
            offset = totals[-1] - value
        totals.append(value + offset)
    return totals


def check_reading(earlier: MeterReading | None, new: MeterReading, later: MeterReading | None, unit: str) -> None:
    """Refuse a reading that cannot be true beside its neighbours.

    Parameters
    ----------
    earlier, later : the readings next to it in time, or None
    new : the reading to check; value in ``unit``
    unit : km or h

    Raises
    ------
    OutOfLine : lower than the earlier one, or higher than the later one, by more than it can be read to
    OutOfRange : an impossible rate of use

    References
    ----------
    Common practice: at most 2 000 km or 24 h a day.
    """
    most = MOST_PER_DAY[unit]
    for before, after, other in ((earlier, new, earlier), (new, later, later)):
        if before is None or after is None or other is None or after.swap:
            continue
        ran, days = after.value - before.value, (after.on - before.on).days
        if ran < -READ_TO[unit]:
            word = "lower" if other is earlier else "higher"
            in_miles = new.value * KM_PER_MILE
            as_miles = (
                say(" Read in miles it would be {in_miles} km: write mi behind it if the dial shows miles.", in_miles=grouped(in_miles))
                if unit == "km" and other is earlier and 0 <= in_miles - before.value <= most * max(days, 1)
                else ""
            )
            raise OutOfLine(
                say(
                    "{new_value} {unit} is {word} than the {other_value} {unit} of {other_on}: a slip, or was the meter swapped?",
                    new_value=grouped(new.value),
                    unit=unit,
                    word=word,
                    other_value=grouped(other.value),
                    other_on=f"{other.on:%d %b %Y}",
                )
                + as_miles,
                field="value",
                value=new.value,
                allowed=say("a reading in line with {other_on}", other_on=other.on),
            )
        if ran > most * max(days, 1):
            raise OutOfRange(
                say(
                    "{ran} {unit} in {words} is not possible: a digit too many?",
                    ran=grouped(ran),
                    unit=unit,
                    words="a day" if days <= 1 else say("{days} days", days=days),
                ),
                field="value",
                value=new.value,
                allowed=say("at most {most:g} {unit} a day", most=most, unit=unit),
            )
