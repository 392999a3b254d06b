"""The working behind a number: what every computed figure can show when asked "how?"."""

from __future__ import annotations

from dataclasses import dataclass


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
    return f"{value:,.{decimals}f}".replace(",", "\N{NO-BREAK SPACE}")


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
