"""When a finding wants another look. Common practice, shown as such."""

from __future__ import annotations

import datetime as dt

from barodex.core.due.interval import Limits, add_months
from barodex.core.findings.finding import DueCap

DUTIES = ("road", "off_road", "towing", "track", "load")
DUTY_WORDS = {"road": "road", "off_road": "off-road or wading", "towing": "towing", "track": "track", "load": "at load"}


def look_by(on: dt.date, level: int, limits: Limits, cap: DueCap | None = None) -> tuple[float | None, float | None, dt.date | None]:
    """Give by when a finding wants another look, never after the change that it asks for.

    Parameters
    ----------
    on : day of the finding
    level, limits : as :func:`look_again`
    cap : by when the oil must be changed again; None where the interval alone says

    Returns
    -------
    (km, h) from now and the day, each None where it does not apply

    References
    ----------
    As :func:`look_again`.
    """
    km, hours, months = look_again(level, limits)
    day = None if months is None else add_months(on, months)
    return bounded(on, km, hours, day, cap)


def bounded(
    on: dt.date, km: float | None, hours: float | None, day: dt.date | None, cap: DueCap | None
) -> tuple[float | None, float | None, dt.date | None]:
    """Bring a look before the change that a finding asks for.

    Parameters
    ----------
    on : day of the finding
    km, hours, day : by when it would be looked at, km and h from now
    cap : by when the oil must be changed again; None leaves the look as it is

    Returns
    -------
    (km, h, day)

    References
    ----------
    Common practice.
    """
    if cap is None:
        return km, hours, day
    last = on + dt.timedelta(days=cap.days)
    return (
        cap.km if km is None else min(km, cap.km),
        cap.hours if hours is None else min(hours, cap.hours),
        last if day is None else min(day, last),
    )


def look_again(level: int, limits: Limits) -> tuple[float | None, float | None, int | None]:
    """Give by when a finding wants another look.

    Parameters
    ----------
    level : debris level 0 to 4
    limits : the compartment's limits

    Returns
    -------
    (km, h, months) from now, each None where it does not apply; all None below level 2

    References
    ----------
    Common practice: level 2, the lesser of 5 000 km / 50 h and a quarter of the interval, or three months; level 3, a
    fifth of the shortened interval; level 4, at once.
    """
    if level < 2:
        return None, None, None
    road = limits.distance_km.get("road")
    if level >= 4:
        return (0.0 if road else None), (0.0 if limits.hours else None), 0
    if level == 3:
        return (road * 0.25 * 0.2 if road else None), (limits.hours * 0.25 * 0.2 if limits.hours else None), 1
    return (min(5000.0, road / 4) if road else None), (min(50.0, limits.hours / 4) if limits.hours else None), 3
