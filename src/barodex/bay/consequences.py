"""What a finding means for the calendar: when to look again, and when the next change falls."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.core.due.interval import Ahead, Limits, Rate, next_due
from barodex.core.due.oil_life import cap_occasions
from barodex.core.due.policy import look_by
from barodex.core.findings.finding import Assessment
from barodex.fleet.rules import limits_of

from .models import Service, ServiceJob


@dataclass(frozen=True)
class Consequence:
    """Look again by a day or a meter value (km or h), whichever is first; the next change likewise, at the shortened interval."""

    look_on: dt.date | None
    look_meter: float | None
    next_on: dt.date | None
    next_meter: float | None


def consequence_of(service: Service, job: ServiceJob, judged: Assessment | None, as_of: dt.date) -> Consequence | None:
    """What a judged finding means if the service is signed today; None where nothing was judged, or the vehicle must not move."""
    if judged is None or judged.level is None or judged.level >= 4:
        return None
    revision, vehicle = job.revision, service.vehicle
    limits = limits_of(job.compartment, revision, judged.interval_factor < 1)
    by_km, now = vehicle.meter == "km", service.meter_value
    km, hours, look_on = look_by(as_of, judged.level, limits, judged.cap)
    ahead = km if by_km else hours
    per_day = job.known.per_day
    cap_run = None if judged.cap is None else (judged.cap.km if by_km else judged.cap.hours)
    cap_days = judged.cap.days if judged.cap else None
    rate = None if per_day is None else Ahead(Rate(per_day, per_day, per_day), as_of)
    if by_km and rate is None:
        limits = Limits({}, limits.hours, limits.months)
    due = next_due(
        legs={"road": 0.0} if by_km and rate else {},
        hours=None if by_km else 0.0,
        since=as_of,
        as_of=as_of,
        limits=limits,
        split=vehicle.duty_split or {"road": 1.0},
        ahead_km=rate if by_km else None,
        ahead_h=None if by_km else rate,
        meter_km=now if by_km else None,
        meter_h=None if by_km else now,
        factor=max(0.01, judged.interval_factor),
        occasions=cap_occasions(cap_run, cap_days, as_of, 0.0, rate, as_of),
    )
    next_meter = None
    if now is not None:
        share = judged.interval_factor or 0.01
        if by_km and limits.distance_km:
            per_km = sum(part / limits.of_duty(duty) for duty, part in (vehicle.duty_split or {"road": 1.0}).items())
            next_meter = now + share / per_km
        elif not by_km and limits.hours is not None:
            next_meter = now + share * limits.hours
        if cap_run is not None:
            next_meter = now + cap_run if next_meter is None else min(next_meter, now + cap_run)
    return Consequence(look_on, now + ahead if now is not None and ahead is not None else None, due.on, next_meter)
