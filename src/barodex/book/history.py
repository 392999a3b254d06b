"""The history of a compartment: what is inside, since when, what it ran since, what was seen last. Everybody asks here."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from functools import cached_property

from barodex.core.due.meter import BoxMeter, Meter
from barodex.core.due.use import Forecast, forecasts
from barodex.core.findings.surprises import Reset
from barodex.core.ledger.bands import Run
from barodex.core.ledger.drained import Amount
from barodex.fleet.models import Compartment
from barodex.fleet.use import line_of, meter_of, meter_of_box

from .amounts import Measured, interval_run, measured, records_of
from .ledger import density


@dataclass(frozen=True)
class History:
    """The records of a compartment, oldest first, each measured against the one before, with the meter and use of its vehicle on a day."""

    compartment: Compartment
    as_of: dt.date
    measured: tuple[Measured, ...]
    meter: Meter | BoxMeter
    use: Forecast

    @cached_property
    def changes(self) -> tuple[Measured, ...]:
        """All but tops-up."""
        return tuple(m for m in self.measured if m.record.work != "top-up")

    @property
    def last_change(self) -> Measured | None:
        return self.changes[-1] if self.changes else None

    @property
    def resets(self) -> tuple[Reset, ...]:
        """What was set back, with the values read before and after."""
        rows = ((m.values["on"], m.record.details) for m in self.measured)
        return tuple(
            Reset(
                on,
                tuple(d.get("resets") or ()),
                str(d.get("values_before") or ""),
                str(d.get("values_after") or ""),
                tuple(d.get("faults_before") or ()),
                tuple(d.get("faults_after") or ()),
                bool(d.get("faults_cleared")),
            )
            for on, d in rows
            if any(d.get(k) for k in ("values_before", "values_after", "faults_before", "faults_after"))
        )

    @property
    def noted(self) -> dict[str, str]:
        """What was noted last of parts and values, by the purpose of its step, with its day."""
        found: dict[str, str] = {}
        for m in self.measured:
            on, details = m.values["on"], m.record.details
            after = "; ".join(filter(None, (details.get("values_after"), *(details.get("faults_after") or ()))))
            values = {"values": after} if after else {}
            found |= {purpose: f"{said} ({on.day} {on:%b %Y})" for purpose, said in {**(details.get("checked") or {}), **values}.items()}
        return found

    @property
    def last_set(self) -> Measured | None:
        """The record by which the level was last set, tops-up among them."""
        return next((m for m in reversed(self.measured) if m.sums.put_in), None)

    @cached_property
    def filled(self) -> Measured | None:
        """The change by which it was last filled."""
        return next((m for m in reversed(self.changes) if m.sums.put_in), None)

    @property
    def last_fill(self) -> Amount | None:
        """What stays of the last fill, at 15 °C: the next drain is set against it. None where nobody knows, or it flowed through."""
        return self.filled.sums.net_in if self.filled else None

    @property
    def inside(self) -> Amount | None:
        """What was inside after the last fill, what was left behind included, at 15 °C."""
        return self.filled.sums.inside if self.filled else None

    @property
    def oil_density(self) -> float | None:
        """Of what is inside, kg/m³ at 15 °C."""
        return density(self.filled.record) if self.filled else None

    @property
    def topups(self) -> tuple[Amount, ...]:
        """What was topped up since the last fill, at 15 °C."""
        if self.filled is None:
            return ()
        after = self.measured[self.measured.index(self.filled) + 1 :]
        return tuple(m.sums.net_in for m in after if m.record.work == "top-up" and m.sums.net_in)

    @property
    def drained_before(self) -> bool:
        """Whether this box was drained before: what stays on its walls is in its last fill already."""
        return any(m.sums.first_out for m in self.measured)

    @property
    def looks(self) -> tuple[Measured, ...]:
        """The changes at which somebody looked at what came out, the newest first."""
        return tuple(m for m in reversed(self.changes) if m.record.level is not None)

    @property
    def depth_mm(self) -> float | None:
        """How far below the lip it stood after the last measured fill."""
        return next((d for m in reversed(self.changes) if (d := m.record.details.get("depth_mm")) is not None), None)

    def run_since(self, m: Measured) -> float | None:
        """What was run since a record, up to the day asked for, km or h: across swaps, in its season, at the present rate from the last
        reading on."""
        return self.meter.run(m.values["on"], m.values["meter_value"], self.use.ahead.run_by(self.as_of))

    @property
    def run_since_change(self) -> float | None:
        """What the oil that is inside has run, km or h."""
        return self.run_since(self.last_change) if self.last_change else None

    def run_until(self, m: Measured, meter_value: float | None) -> float | None:
        """What was run between a record and a change on the day asked for, as the book will tell it of that change: by the meter as it is read
        then, else by the readings there are; km or h."""
        return self.meter.between(m.values["on"], m.values["meter_value"], self.as_of, meter_value)

    def interval_run_until(self, m: Measured, meter_value: float | None) -> Run | None:
        """Of its interval, between a record and a change on the day asked for; None unknown."""
        return interval_run(m.record, self.run_until(m, meter_value), m.values["on"], self.as_of)


def history_of(c: Compartment, as_of: dt.date, records: list[Measured] | None = None) -> History:
    """The history of a compartment that was loaded with its sheet and vehicle; ``records`` where they were measured already."""
    here = meter_of(c.vehicle, as_of)
    use = forecasts([line_of(c.vehicle, here)], as_of)[0]
    found = measured(records_of(c)) if records is None else records
    return History(c, as_of, tuple(found), meter_of_box(c.box_id, as_of), use)
