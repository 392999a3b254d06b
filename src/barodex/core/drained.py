"""What came out, summed, brought to one temperature, and set against what went in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .errors import in_range
from .expansion import DEFAULT_DENSITY15, volume_at, volume_correction_factor
from .working import Working

REFERENCE_C = 15.0
BANDS = ("tight", "weep", "leak", "repair")
LOW_SHARE = 0.15  # of the capacity: so much below full the level is at its low mark (common practice)
LEAST_RUN = 0.02  # of an interval: after less than that a loss says nothing of a whole one (common practice)


@dataclass(frozen=True)
class Amount:
    """A measured amount: volume in mL, the temperature at which it was measured (°C), and its σ (mL)."""

    volume_ml: float
    temperature_c: float = 20.0
    sigma_ml: float = 0.0


@dataclass(frozen=True)
class Loss:
    """Loss since the last fill, all at 15 °C.

    ``loss_ml`` (negative: more came out than went in) with ``sigma_ml``; ``per_1000km_ml`` and its sigma where a distance
    is known; ``told_from_zero`` when beyond 2σ; ``band`` one of tight, weep, leak, repair.
    """

    loss_ml: float
    sigma_ml: float
    per_1000km_ml: float | None
    per_1000km_sigma_ml: float | None
    told_from_zero: bool
    band: str
    text: str
    working: Working


def drained_sigma_ml(volume_ml: float, method: str) -> float:
    """Give the standard uncertainty of a drained amount by how it was taken out.

    Parameters
    ----------
    volume_ml : amount, mL, 0 to 1 000 000
    method : plug or cover, suction, syringe (syringe falls back to plug from 300 mL on)

    Returns
    -------
    float, mL

    Raises
    ------
    OutOfRange : a negative amount

    References
    ----------
    Common practice: √((0.02·V)² + 20²) mL by plug, 0.10·V by suction, 5 mL by syringe under 300 mL.
    """
    in_range("volume_ml", volume_ml, 0, 1_000_000, "mL")
    if method == "suction":
        return 0.10 * volume_ml
    if method == "syringe" and volume_ml < 300:
        return 5.0
    return math.hypot(0.02 * volume_ml, 20.0)


def at_reference(amount: Amount, density15: float = DEFAULT_DENSITY15) -> Amount:
    """Bring an amount, and its σ, to 15 °C.

    Parameters
    ----------
    amount : as measured
    density15 : kg/m³ at 15 °C

    Returns
    -------
    Amount at 15 °C

    Raises
    ------
    OutOfRange : as :func:`barodex.core.expansion.volume_at`

    References
    ----------
    ASTM D1250.
    """
    factor = volume_correction_factor(density15, amount.temperature_c)
    return Amount(volume_at(amount.volume_ml, amount.temperature_c, REFERENCE_C, density15), REFERENCE_C, amount.sigma_ml * factor)


def loss_band(loss_ml: float, sigma_ml: float, capacity_ml: float, share: float | None = None) -> str:
    """Name the band of a loss by what it would be over a whole interval.

    Parameters
    ----------
    loss_ml, sigma_ml : loss since the level was set and its σ, mL at 15 °C
    capacity_ml : service capacity, mL, above 0
    share : of the interval that was run meanwhile; None where it is not known: the loss counts as that of a whole one

    Returns
    -------
    str: tight (within 2σ), weep (< 5 % of capacity an interval), leak (5 to 15 %), repair (> 15 %)

    Raises
    ------
    OutOfRange : a capacity or a share of zero or less

    References
    ----------
    Common practice.
    """
    in_range("capacity_ml", capacity_ml, 1, 1_000_000, "mL")
    if loss_ml <= 2 * sigma_ml:
        return "tight"
    run = 1.0 if share is None else in_range("share", share, 1e-4, 10_000)
    part = loss_ml / run / capacity_ml
    return "weep" if part < 0.05 else "leak" if part <= LOW_SHARE else "repair"


_BAND_TEXT = {
    "tight": "Within what can be measured: tight.",
    "weep": "A weep: note it, and look at the seals next time.",
    "leak": "A leak: plan the seal, and look at the level half-way to the next change.",
    "repair": "Repair before the next interval: the level would fall below its low mark.",
}


def loss_since_last_fill(
    last_net_in: Amount,
    topups: Sequence[Amount],
    drained: Amount,
    capacity_ml: float,
    distance_km: float | None = None,
    density15: float = DEFAULT_DENSITY15,
    share: float | None = None,
) -> Loss:
    """Set what came out against what went in at the last fill and at top-ups since.

    Parameters
    ----------
    last_net_in : poured minus what ran out at the plug and was spilled
    topups : amounts added since
    drained : what came out now
    capacity_ml : service capacity, mL, for the band
    distance_km : run since the last fill, km; None or 0 when unknown
    density15 : kg/m³ at 15 °C
    share : of the interval that was run since, for the band; None unknown

    Returns
    -------
    Loss, at 15 °C; σ of all readings combined in quadrature

    Raises
    ------
    OutOfRange : as :func:`at_reference`

    References
    ----------
    ASTM D1250 for the temperature; propagation of uncertainty, JCGM 100 (GUM) 5.1.2; bands common practice.
    """
    into = [at_reference(a, density15) for a in (last_net_in, *topups)]
    out = at_reference(drained, density15)
    loss = sum(a.volume_ml for a in into) - out.volume_ml
    sigma = math.sqrt(sum(a.sigma_ml**2 for a in into) + out.sigma_ml**2)
    band = loss_band(loss, sigma, capacity_ml, share if share and share >= LEAST_RUN else None)
    told = abs(loss) > 2 * sigma
    rate = rate_sigma = None
    if distance_km:
        rate, rate_sigma = loss / distance_km * 1000, sigma / distance_km * 1000
    text = _BAND_TEXT[band]
    if told and loss < 0:
        text = "More came out than went in: an earlier overfill, water, or a slip in the last record."
    working = Working(
        "loss = (in + top-ups) − out, each × VCF(t)",
        (
            ("in at 15 °C", f"{into[0].volume_ml:.0f} mL"),
            ("top-ups at 15 °C", f"{sum(a.volume_ml for a in into[1:]):.0f} mL"),
            ("out at 15 °C", f"{out.volume_ml:.0f} mL"),
            ("σ", f"{sigma:.0f} mL"),
        ),
        "ASTM D1250; JCGM 100 (GUM); bands common practice",
    )
    return Loss(loss, sigma, rate, rate_sigma, told, band, text, working)


def topup_loss(
    added: Amount, capacity_ml: float, distance_km: float | None = None, density15: float = DEFAULT_DENSITY15, share: float | None = None
) -> Loss:
    """Read a top-up as a measurement: what it took to reach the same level is what was lost since.

    Parameters
    ----------
    added : what went in, less what ran out again
    capacity_ml : service capacity, mL, for the band
    distance_km : run since the level was last set, km; None or 0 when unknown
    density15 : kg/m³ at 15 °C
    share : of the interval that was run since, for the band; None unknown

    Returns
    -------
    Loss, at 15 °C; the σ is that of two settings of a level at a plug or stick

    Raises
    ------
    OutOfRange : as :func:`at_reference`

    References
    ----------
    Common practice; propagation of uncertainty as :func:`loss_since_last_fill`. A level at a plug repeats to about 1 % of the
    capacity and 10 mL (common practice).
    """
    at_15 = at_reference(added, density15)
    setting = math.hypot(0.01 * capacity_ml, 10.0)
    sigma = math.sqrt(added.sigma_ml**2 + 2 * setting**2)
    band = loss_band(at_15.volume_ml, sigma, capacity_ml, share if share and share >= LEAST_RUN else None)
    rate = rate_sigma = None
    if distance_km:
        rate, rate_sigma = at_15.volume_ml / distance_km * 1000, sigma / distance_km * 1000
    working = Working(
        "loss = what it took to reach the level again, × VCF(t)",
        (("added at 15 °C", f"{at_15.volume_ml:.0f} mL"), ("σ, two settings of the level", f"{sigma:.0f} mL")),
        "ASTM D1250; JCGM 100 (GUM); the repeatability of a level is common practice",
    )
    return Loss(at_15.volume_ml, sigma, rate, rate_sigma, abs(at_15.volume_ml) > 2 * sigma, band, _BAND_TEXT[band], working)


def poured_sigma_ml(volume_ml: float) -> float:
    """Give the standard uncertainty of a poured amount read off bottle marks.

    Parameters
    ----------
    volume_ml : amount, mL, 0 to 1 000 000

    Returns
    -------
    float, mL

    Raises
    ------
    OutOfRange : a negative amount

    References
    ----------
    Common practice: √((0.01·V)² + 10²) mL, half of what a drained amount carries.
    """
    return math.hypot(0.01 * in_range("volume_ml", volume_ml, 0, 1_000_000, "mL"), 10.0)
