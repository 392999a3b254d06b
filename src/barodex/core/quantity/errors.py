"""The errors that the core raises.

::

    CoreError
    ├── OutOfRange          (ValueError)   a number outside what the formula or the trade allows
    │   └── OutOfLine       (ValueError)   a reading that goes back against its neighbours
    ├── Unreadable          (ValueError)   text that cannot be understood; lists what would be
    │   └── Ambiguous       (ValueError)   text that can be understood in two ways; says which
    ├── Inconsistent        (ValueError)   values that contradict each other
    ├── Superseded          (ValueError)   somebody changed it since; says what, both side by side
    └── GateClosed          (ValueError)   a step whose gate does not hold; says what opens it
        └── NeedsReason     (ValueError)   allowed, but only with a reason written down

Every error carries ``field`` and ``value`` where they are known, and its text is one sentence for a person.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from barodex.core.words import say


class CoreError(Exception):
    """Base of all errors of the core; ``field`` and ``value`` say where and what."""

    def __init__(self, message: str, *, field: str = "", value: object = None, allowed: str = "") -> None:
        super().__init__(message)
        self.message, self.field, self.value, self.allowed = message, field, value, allowed


class OutOfRange(CoreError, ValueError):
    """A number outside its range. Names the argument, the value and the allowed range."""


class OutOfLine(OutOfRange):
    """A meter reading that goes back against its neighbours: a slip, or another meter."""


class Unreadable(CoreError, ValueError):
    """Text that cannot be understood."""


class Ambiguous(Unreadable):
    """Text that can be understood in two ways."""


class Inconsistent(CoreError, ValueError):
    """Values that contradict each other."""


class Superseded(CoreError, ValueError):
    """Somebody changed a thing since it was opened. ``changes`` lists (field, sentence with both sides)."""

    def __init__(self, message: str, changes: tuple[tuple[str, str], ...] = (), **where: Any) -> None:
        super().__init__(message, **where)
        self.changes = changes


class GateClosed(CoreError, ValueError):
    """A step that is locked. The text says what opens it."""


class NeedsReason(GateClosed):
    """Accepted only together with a reason."""


def in_range(name: str, value: float, low: float, high: float, unit: str = "") -> float:
    """Return ``value`` when it is a number within ``low…high``, both included.

    Parameters
    ----------
    name : the argument's name, with its unit suffix
    value : the number to check
    low, high : limits, in the same unit
    unit : shown after the limits

    Raises
    ------
    OutOfRange : outside the limits, not a number, or infinite

    References
    ----------
    The range policy of this package: one error for the whole core, nothing clamped.
    """
    if type(value) is float and low <= value <= high:
        return value
    if isinstance(value, (int, float)) and not isinstance(value, bool) and low <= value <= high:
        return float(value)
    allowed = f"{low:g} to {high:g} {unit}".strip()
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not math.isfinite(value):
        raise OutOfRange(
            say("{name} must be a number from {allowed}, not {value!r}.", name=name, allowed=allowed, value=value),
            field=name,
            value=value,
            allowed=allowed,
        )
    raise OutOfRange(
        say("{name} is {value:g}, allowed is {allowed}.", name=name, value=value, allowed=allowed), field=name, value=value, allowed=allowed
    )


def all_in_range(name: str, values: Any, low: float, high: float, unit: str = "") -> Any:
    """Return ``values`` as an array when each lies within ``low…high``, both included; the batch form of :func:`in_range`.

    Parameters
    ----------
    name : the argument's name, with its unit suffix
    values : a number or an array of numbers, any shape
    low, high : limits, in the same unit
    unit : shown after the limits

    Returns
    -------
    numpy array of float64, of the same shape

    Raises
    ------
    OutOfRange : the first value that lies outside, or is not a finite number

    References
    ----------
    The range policy of this package.
    """
    if isinstance(values, (bool, int, float)):
        return np.float64(in_range(name, values, low, high, unit))
    try:
        array = np.asarray(values, dtype=np.float64)
    except (TypeError, ValueError):
        raise OutOfRange(
            say("{name} must hold numbers, not {values!r}.", name=name, values=values), field=name, value=str(values)[:60]
        ) from None
    bad = ~((array >= low) & (array <= high))
    if bad.any():
        in_range(name, float(array[bad].flat[0]), low, high, unit)
    return array
