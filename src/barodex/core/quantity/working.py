"""The working behind a number: what every computed figure can show when asked "how?"."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal


@dataclass(frozen=True)
class Working:
    """How a figure came about.

    ``formula`` in symbols, ``inputs`` as name and value with unit, ``source`` the publication, or "common practice".
    """

    formula: str
    inputs: tuple[tuple[str, str], ...]
    source: str


COMMON_PRACTICE = "common practice"


def grouped(value: float, decimals: int = 0) -> str:
    """Write a number with its thousands set apart by a space that does not break.

    Parameters
    ----------
    value : any finite number
    decimals : decimals shown, 0 to 6

    Returns
    -------
    str

    References
    ----------
    ISO 80000-1, 7.3.1: digits in groups of three, set apart by a small space.
    """
    if not math.isfinite(value):
        return f"{value:.0f}"
    # Half away from zero, as people and the page round; the float's shortest form, so that 0.125 is not taken for 0.12499.
    exact = Decimal(repr(float(value))).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP)
    return f"{exact:,f}".replace(",", "\N{NO-BREAK SPACE}")


FINE_BELOW_ML = 20.0  # below it a millilitre is too coarse: a hub gear takes 12.5 (common practice)


def ml(volume_ml: float) -> str:
    """Write an amount in millilitres, small ones with a decimal where they have one.

    Parameters
    ----------
    volume_ml : mL

    Returns
    -------
    str, such as ``2 300 mL`` or ``12.5 mL``

    References
    ----------
    ISO 80000-1, 7.3.
    """
    return f"{figure(volume_ml, 1 if is_fine(volume_ml) else 0)}\N{NO-BREAK SPACE}mL"


def is_fine(volume_ml: float) -> bool:
    """Say whether an amount is shown with a decimal: a small one that was measured to a tenth, not one that was computed.

    Parameters
    ----------
    volume_ml : mL

    Returns
    -------
    bool

    References
    ----------
    As many digits as its source has: common practice.
    """
    return abs(volume_ml) < FINE_BELOW_ML and abs(volume_ml * 10 - round(volume_ml * 10)) < 1e-6


def percent(share: float) -> str:
    """Write a share in per cent, the sign set apart by a space that does not break.

    Parameters
    ----------
    share : 0 to 1, or beyond

    Returns
    -------
    str

    References
    ----------
    ISO 80000-1, 7.3.4: a space between number and sign.
    """
    return f"{share * 100:.0f}\N{NO-BREAK SPACE}%"


def figure(value: float, decimals: int, trim: bool = True) -> str:
    """Write a figure with as many decimals as it needs, up to a number of them.

    Parameters
    ----------
    value : any finite number, in the unit in which it is shown
    decimals : decimals at the most
    trim : leave out zeros at the end

    Returns
    -------
    str, thousands set apart

    References
    ----------
    ISO 80000-1, 7.3.
    """
    text = grouped(value, decimals)
    text = text.rstrip("0").rstrip(".") if trim and "." in text else text
    return "0" if text == "-0" else text
