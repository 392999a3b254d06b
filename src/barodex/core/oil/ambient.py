"""The grade that a sheet gives for the weather."""

from __future__ import annotations

from dataclasses import dataclass, field

from barodex.core.oil.lubricant import AmbientGrade, Requirement
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.words import say


@dataclass(frozen=True)
class AmbientChoice:
    """The grade that a sheet gives for a range of air temperature; ``covers``: its range holds the whole of it."""

    grade: str
    covers: bool
    text: str
    fits: tuple[str, ...] = field(default=())


def grade_for_ambient(requirement: Requirement, t_min: float | None, t_max: float | None = None) -> AmbientChoice:
    """Choose the grade of a sheet that gives grades by air temperature.

    Parameters
    ----------
    requirement : with ``ambient`` filled; without it the sheet's one grade is the answer
    t_min, t_max : coldest and warmest air expected, °C, −60 to 60; None for not known

    Returns
    -------
    AmbientChoice; where no grade covers the range, the one that covers the coldest day best, and ``covers`` is False

    Raises
    ------
    OutOfRange : a temperature outside −60 to 60 °C
    Inconsistent : t_min above t_max

    References
    ----------
    The sheet's own table; where two grades would do, the thicker one when warm is the first listed (common practice).
    """
    for name, value in (("t_min", t_min), ("t_max", t_max)):
        if value is not None:
            in_range(name, value, -60, 60, "°C")
    if t_min is not None and t_max is not None and t_min > t_max:
        raise Inconsistent(
            say("The coldest day cannot be warmer than the warmest."),
            field="t_min",
            value=t_min,
            allowed=say("up to {t_max:g} °C", t_max=t_max),
        )
    if not requirement.ambient:
        return AmbientChoice(
            requirement.grade, True, say("The sheet gives one grade for all weathers."), (requirement.grade,) if requirement.grade else ()
        )
    if t_min is None:
        return AmbientChoice(
            requirement.grade or requirement.ambient[0].grade,
            False,
            say("The sheet gives grades by air temperature: say how cold it gets."),
        )
    high = t_min if t_max is None else t_max

    def miss(a: AmbientGrade) -> float:
        below = max(0.0, a.min_c - t_min) if a.min_c is not None else 0.0
        above = max(0.0, high - a.max_c) if a.max_c is not None else 0.0
        return below + above

    fits = tuple(a.grade for a in requirement.ambient if miss(a) == 0)
    best = min(requirement.ambient, key=miss)
    span = f"{t_min:g} °C" if high == t_min else say("{t_min:g} to {high:g} °C", t_min=t_min, high=high)
    if fits:
        return AmbientChoice(best.grade, True, say("The sheet gives {grade} for {span}.", grade=best.grade, span=span), fits)
    return AmbientChoice(
        best.grade, False, say("No grade of the sheet covers {span}; {grade} comes nearest.", span=span, grade=best.grade), ()
    )
