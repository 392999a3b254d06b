"""When a finding wants another look. Common practice, shown as such."""

from __future__ import annotations

from barodex.core.due.interval import Limits
from barodex.core.words import say

DUTIES = ("road", "off_road", "towing", "track", "load")
DUTY_WORDS = {"road": "road", "off_road": say("off-road or wading"), "towing": "towing", "track": "track", "load": "at load"}


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
