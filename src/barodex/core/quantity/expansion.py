"""Oil grows when warm: volumes compared at one temperature."""

from __future__ import annotations

import functools
import math
from typing import Any, overload

import numpy as np
from numpy.typing import NDArray

from barodex.core.quantity.errors import all_in_range, in_range
from barodex.core.words import say

Array = NDArray[np.float64]

K1_LUBRICANT = 0.6278
DEFAULT_DENSITY15 = 880.0
_SOURCE = say("ASTM D1250 / API MPMS chapter 11.1, generalised lubricating oils (K0 = 0, K1 = 0.6278)")


@functools.lru_cache(maxsize=4096)
def _factor(density15: float, temperature_c: float) -> float:
    """The factor of one oil at one temperature: a long history asks for the same few again and again."""
    delta = in_range("temperature_c", temperature_c, -20, 150, "°C") - 15.0
    growth = K1_LUBRICANT / in_range("density15", density15, 800, 1164, "kg/m³") * delta
    return math.exp(-growth * (1 + 0.8 * growth))


@overload
def volume_correction_factor(density15: float, temperature_c: float) -> float: ...
@overload
def volume_correction_factor(density15: float | Array, temperature_c: float | Array) -> float | Array: ...
def volume_correction_factor(density15: Any, temperature_c: Any) -> Any:
    """Give the factor that brings a volume measured at ``temperature_c`` to 15 °C.

    VCF = exp(−αΔt(1 + 0.8αΔt)), α = K1/ρ15, Δt = t − 15.

    Parameters
    ----------
    density15 : density at 15 °C, kg/m³, 800 to 1164; a number or an array
    temperature_c : oil temperature, °C, −20 to 150; a number or an array

    Returns
    -------
    float, without unit; below 1 above 15 °C; an array where an array was given

    Raises
    ------
    OutOfRange : outside either range

    References
    ----------
    ASTM D1250 / API MPMS chapter 11.1, generalised lubricating oils.
    """
    if isinstance(density15, float) and isinstance(temperature_c, float):
        return _factor(density15, temperature_c)
    density15 = all_in_range("density15", density15, 800, 1164, "kg/m³")
    delta = all_in_range("temperature_c", temperature_c, -20, 150, "°C") - 15.0
    growth = K1_LUBRICANT / density15 * delta
    factor = np.exp(-growth * (1 + 0.8 * growth))
    return factor if factor.ndim else float(factor)


def volume_at(volume_ml: float, from_c: float, to_c: float, density15: float = DEFAULT_DENSITY15) -> float:
    """Give the volume that the same oil takes at another temperature.

    Parameters
    ----------
    volume_ml : volume, mL, as measured at ``from_c``
    from_c, to_c : temperatures, °C, −20 to 150
    density15 : density at 15 °C, kg/m³

    Returns
    -------
    float, mL at ``to_c``

    Raises
    ------
    OutOfRange : a negative volume, or as :func:`volume_correction_factor`

    References
    ----------
    As :func:`volume_correction_factor`.
    """
    volume_ml = in_range("volume_ml", volume_ml, 0, 1_000_000, "mL")
    return volume_ml * volume_correction_factor(density15, from_c) / volume_correction_factor(density15, to_c)


def volume_from_mass(mass_g: float, temperature_c: float, density15: float = DEFAULT_DENSITY15) -> float:
    """Give the volume of weighed oil at its temperature.

    Parameters
    ----------
    mass_g : mass, g, of the oil alone (the pan taken off)
    temperature_c : oil temperature, °C, −20 to 150
    density15 : density at 15 °C, kg/m³

    Returns
    -------
    float, mL at ``temperature_c``

    Raises
    ------
    OutOfRange : a negative mass, or as :func:`volume_correction_factor`

    References
    ----------
    ρ(t) = ρ15·VCF(t), ASTM D1250; 1 kg/m³ = 1 g/L.
    """
    mass_g = in_range("mass_g", mass_g, 0, 1_000_000, "g")
    return mass_g / (density15 * volume_correction_factor(density15, temperature_c)) * 1000.0
