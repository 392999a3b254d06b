"""The oil temperatures between which a level is set."""

from __future__ import annotations

from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.words import say


@dataclass(frozen=True)
class TemperatureWindow:
    """The oil temperatures between which a level is set, °C."""

    low_c: float
    high_c: float

    def holds(self, temperature_c: float) -> bool:
        """Whether a temperature lies inside, both ends included."""
        return self.low_c <= temperature_c <= self.high_c


def check_window(window: TemperatureWindow) -> None:
    """Refuse a window that cannot be.

    Parameters
    ----------
    window : °C

    Raises
    ------
    OutOfRange : an end outside 0 to 120 °C
    Inconsistent : upside down

    References
    ----------
    Windows in use lie between 20 and 100 °C: common practice.
    """
    in_range("low_c", window.low_c, 0, 120, "°C")
    in_range("high_c", window.high_c, 0, 120, "°C")
    if window.low_c >= window.high_c:
        raise Inconsistent(say("The window's lower end must lie below its upper one."), field="window_low_c", value=window.low_c)
