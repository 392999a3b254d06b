"""What came out, summed, brought to one temperature, and set against what went in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from barodex.core.ledger.bands import MATTERS, Run, loss_band, tight_odds
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.expansion import DEFAULT_DENSITY15, K1_LUBRICANT, volume_correction_factor
from barodex.core.quantity.working import Working, ml, percent
from barodex.core.words import say

REFERENCE_C = 15.0
# What a first drain leaves inside that was not there before, of a fill: mean and σ, by how it is emptied; the walls were dry, or wet from a
# drain that nobody wrote down (common practice). Once drained, as much stays each time.
RESIDUE = {"plug": (0.025, 0.022), "cover": (0.025, 0.022), "syringe": (0.03, 0.03), "suction": (0.17, 0.10)}


WARMTHS = ("cold", "warm", "hot")  # what is said of an oil whose temperature was not taken
# °C and its σ in K, common practice; cold and poured oil have the air's temperature where it is known
_ASSUMED = {"hot": (70.0, 15.0), "warm": (50.0, 15.0), "cold": (15.0, 10.0), "poured": (20.0, 10.0)}
_AS_AIR = {"cold": 5.0, "poured": 8.0}


@dataclass(frozen=True)
class Amount:
    """A measured amount: volume in mL, the temperature at which it was measured (°C), its σ (mL), and the σ of that temperature (K):
    above 0 where it was not taken."""

    volume_ml: float
    temperature_c: float = 20.0
    sigma_ml: float = 0.0
    temperature_sigma_k: float = 0.0


def assumed_temperature(state: str, ambient_c: float | None = None) -> tuple[float, float]:
    """Give the temperature of an oil that nobody measured, with its uncertainty.

    Parameters
    ----------
    state : one of :data:`WARMTHS`, or ``poured`` for fresh oil
    ambient_c : the air, °C; None unknown

    Returns
    -------
    (°C, σ in K)

    Raises
    ------
    Inconsistent : another word

    References
    ----------
    Common practice: a hot drain 70 ± 15 °C, a warm one 50 ± 15 °C, a cold one the air ± 5 K, poured oil the air ± 8 K.
    """
    if state not in _ASSUMED:
        raise Inconsistent(
            say("The oil was {warmths}.", warmths=", ".join(WARMTHS)), field="warmth", value=state, allowed=", ".join(WARMTHS)
        )
    if ambient_c is not None and state in _AS_AIR:
        return max(-20.0, in_range("ambient_c", ambient_c, -60, 60, "°C")), _AS_AIR[state]  # ASTM D1250 holds from −20 °C on
    return _ASSUMED[state]


def usual_warmth(warm_up: bool, drain_method: str) -> str:
    """Give how warm an oil usually is when it comes out.

    Parameters
    ----------
    warm_up : whether the sheet wants it driven warm
    drain_method : plug, suction or cover

    Returns
    -------
    str, one of :data:`WARMTHS`

    References
    ----------
    Common practice: an oil that is drained by a plug is driven warm, one that is sucked out or dropped with a cover is cold.
    """
    return "warm" if warm_up and drain_method == "plug" else "cold"


def poured_amount(volume_ml: float, ambient_c: float | None = None) -> Amount:
    """Give an amount that went in, read off bottle marks at the temperature of the air.

    Parameters
    ----------
    volume_ml : mL, 0 to 1 000 000
    ambient_c : the air, °C; None unknown

    Returns
    -------
    Amount

    Raises
    ------
    OutOfRange : a negative amount

    References
    ----------
    As :func:`poured_sigma_ml` and :func:`assumed_temperature`.
    """
    at, sigma_k = assumed_temperature("poured", ambient_c)
    return Amount(volume_ml, at, poured_sigma_ml(volume_ml), sigma_k)


def drained_amount(volume_ml: float, method: str, temperature_c: float | None, warmth: str, ambient_c: float | None = None) -> Amount:
    """Give an amount that came out, at the temperature that was taken, or at the one that its state suggests.

    Parameters
    ----------
    volume_ml : mL, 0 to 1 000 000
    method : as :func:`drained_sigma_ml`
    temperature_c : as taken, °C; None: not taken
    warmth : one of :data:`WARMTHS`, for an oil whose temperature was not taken
    ambient_c : the air, °C; None unknown

    Returns
    -------
    Amount; its temperature has a σ where it was not taken

    Raises
    ------
    OutOfRange : a negative amount

    References
    ----------
    As :func:`drained_sigma_ml` and :func:`assumed_temperature`.
    """
    sigma = drained_sigma_ml(volume_ml, method)
    if temperature_c is not None:
        return Amount(volume_ml, temperature_c, sigma)
    at, sigma_k = assumed_temperature(warmth, ambient_c)
    return Amount(volume_ml, at, sigma, sigma_k)


@dataclass(frozen=True)
class Loss:
    """Loss since the last fill, all at 15 °C.

    ``loss_ml`` (negative: more came out than went in) with ``sigma_ml``, and ``within_ml`` = 2σ, as it is shown; ``per_1000km_ml`` and
    its 2σ where a distance is known; ``told_from_zero`` when beyond 2σ; ``band`` one of :data:`BANDS`. ``shared_ml``: the part of σ from
    temperatures that were not taken, which errs alike at every service; ``bound``: some stayed inside, it is no loss but what it is at most.
    """

    loss_ml: float
    sigma_ml: float
    within_ml: float
    per_1000km_ml: float | None
    per_1000km_within_ml: float | None
    told_from_zero: bool
    band: str
    text: str
    working: Working
    shared_ml: float = 0.0
    bound: bool = False


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
    Amount at 15 °C; a temperature that was not taken widens its σ by V·α·σ_T

    Raises
    ------
    OutOfRange : as :func:`barodex.core.quantity.expansion.volume_at`

    References
    ----------
    ASTM D1250.
    """
    if amount.temperature_c == REFERENCE_C and not amount.temperature_sigma_k:
        return amount
    factor = volume_correction_factor(density15, amount.temperature_c)
    volume = in_range("volume_ml", amount.volume_ml, 0, 1_000_000, "mL") * factor  # the factor at 15 °C is 1
    return Amount(volume, REFERENCE_C, math.hypot(amount.sigma_ml * factor, shared_sigma_ml(amount, density15)))


_BAND_TEXT = {
    "unclear": say(
        "It cannot be told: this way of measuring is too coarse for what would matter here. The level before, a "
        "scale or a syringe can tell."
    ),
    "weep": say("A weep: note it, and look at the seals next time."),
    "look again": say(
        "Lost, but over too short or an unknown run to tell a rate: look at the level again within 1\N{NO-BREAK SPACE}000 km or a month."
    ),
    "leak": say("A leak: plan the seal, and look at the level half-way to the next change."),
    "repair": say("Repair before the next interval: the level would fall below its low mark."),
}
REACHES = say("Oil reaches a brake or a clutch: it no longer holds as it must.")
NO_FILL = say("No earlier fill is on record: nothing to compare with.")
SOME_STAYS = say("An unknown share stays inside: what comes out tells no loss. The level before it is taken out can.")
DRY = say("Nothing is wet outside: a gasket to a neighbour, the breather, an overfill last time, or a first drain that left some inside?")


def loss_since_last_fill(
    last_net_in: Amount,
    topups: Sequence[Amount],
    drained: Amount,
    capacity_ml: float,
    distance_km: float | None = None,
    density15: float = DEFAULT_DENSITY15,
    run: Run | None = None,
    some_stays: bool = False,
    first_drain: bool = False,
    method: str = "plug",
) -> Loss | None:
    """Set what came out against what went in at the last fill and at top-ups since.

    Parameters
    ----------
    last_net_in : poured minus what ran out at the plug and was spilled
    topups : amounts added since
    drained : what came out now
    capacity_ml : service capacity, mL, for the band
    distance_km : run since the last fill, km; None or 0 when unknown
    density15 : kg/m³ at 15 °C
    run : of the interval, for the band; None unknown
    some_stays : an unknown share stays inside, as after a suction: what came out is then a lower bound of what was there
    first_drain : of this box: what stays on its walls is taken off the loss by its mean, and widens σ
    method : plug, cover, syringe or suction

    Returns
    -------
    Loss, at 15 °C; σ of all readings combined in quadrature. None where some stayed and less came out than went in: that tells no loss

    Raises
    ------
    OutOfRange : as :func:`at_reference`

    References
    ----------
    ASTM D1250 for the temperature; propagation of uncertainty, JCGM 100 (GUM) 5.1.2; bands and :data:`RESIDUE` common practice.
    """
    into = [at_reference(a, density15) for a in (last_net_in, *topups)]
    out = at_reference(drained, density15)
    mean, spread = RESIDUE[method] if first_drain and not some_stays else (0.0, 0.0)
    stays, walls = mean * into[0].volume_ml, spread * into[0].volume_ml
    missing = sum(a.volume_ml for a in into) - out.volume_ml
    stays = min(stays, max(0.0, missing))  # what stays on the walls explains what is missing, and never makes it a surplus
    loss = missing - stays
    sigma = math.sqrt(sum(a.sigma_ml**2 for a in into) + out.sigma_ml**2 + walls**2)
    shared = math.hypot(*(shared_sigma_ml(a, density15) for a in (last_net_in, *topups, drained)))
    if some_stays and loss > 2 * sigma:
        return None
    rows = (
        ("in at 15 °C", f"{ml(into[0].volume_ml)}"),
        (say("top-ups at 15 °C"), f"{ml(sum(a.volume_ml for a in into[1:]))}"),
        (say("out at 15 °C"), f"{ml(out.volume_ml)}"),
        ("σ", f"{ml(sigma)}"),
        *(((say("taken to be on the walls after a first drain"), f"{ml(stays)}, σ {ml(walls)}"),) if walls else ()),
    )
    formula = "loss = (in + top-ups) − out" + (" − what stays on the walls" if walls else "") + ", each × VCF(t)"
    working = Working(formula, rows, "ASTM D1250; JCGM 100 (GUM); bands common practice")
    return replace(_told(loss, sigma, capacity_ml, distance_km, run, working), shared_ml=shared, bound=some_stays)


def shared_sigma_ml(amount: Amount, density15: float = DEFAULT_DENSITY15) -> float:
    """Give the part of an amount's σ that comes from its temperature: the same guess, wrong alike, at every service.

    Parameters
    ----------
    amount : as measured
    density15 : kg/m³ at 15 °C

    Returns
    -------
    float, mL at 15 °C; 0 where the temperature was taken

    References
    ----------
    ASTM D1250.
    """
    if not amount.temperature_sigma_k:
        return 0.0
    factor = volume_correction_factor(density15, amount.temperature_c)
    return amount.volume_ml * K1_LUBRICANT / density15 * amount.temperature_sigma_k * factor


def level_sigma_ml(capacity_ml: float) -> float:
    """Give how well a level at a plug, a stick or an overflow repeats.

    Parameters
    ----------
    capacity_ml : service capacity, mL

    Returns
    -------
    float, σ in mL

    References
    ----------
    Common practice: about 1 % of the capacity and 10 mL.
    """
    return math.hypot(0.01 * capacity_ml, 10.0)


def topup_loss(
    added: Amount, capacity_ml: float, distance_km: float | None = None, density15: float = DEFAULT_DENSITY15, run: Run | None = None
) -> Loss:
    """Read a top-up as a measurement: what it took to reach the same level is what was lost since.

    Parameters
    ----------
    added : what went in, less what ran out again
    capacity_ml : service capacity, mL, for the band
    distance_km : run since the level was last set, km; None or 0 when unknown
    density15 : kg/m³ at 15 °C
    run : of the interval, for the band; None unknown

    Returns
    -------
    Loss, at 15 °C; the σ is that of two settings of a level at a plug or stick

    Raises
    ------
    OutOfRange : as :func:`at_reference`

    References
    ----------
    Common practice; propagation of uncertainty as :func:`loss_since_last_fill`. A level at a plug repeats to about 1 % of the
    capacity and 10 mL: :func:`level_sigma_ml`.
    """
    at_15 = at_reference(added, density15)
    setting = level_sigma_ml(capacity_ml)
    sigma = math.sqrt(at_15.sigma_ml**2 + 2 * setting**2)
    working = Working(
        "loss = what it took to reach the level again, × VCF(t)",
        (("added at 15 °C", f"{ml(at_15.volume_ml)}"), ("σ, two settings of the level", f"{ml(sigma)}")),
        "ASTM D1250; JCGM 100 (GUM); the repeatability of a level is common practice",
    )
    return _told(at_15.volume_ml, sigma, capacity_ml, distance_km, run, working)


def _told(loss_ml: float, sigma_ml: float, capacity_ml: float, distance_km: float | None, run: Run | None, working: Working) -> Loss:
    """A loss with its band, its rate and what it means."""
    within = 2 * sigma_ml
    band = loss_band(loss_ml, sigma_ml, capacity_ml, run)
    odds = tight_odds(loss_ml, sigma_ml, capacity_ml)
    text = (
        _BAND_TEXT[band]
        if band != "tight"
        else say("Tight: {odds} sure that less than {ml} was lost.", odds=percent(min(odds, 0.99)), ml=ml(MATTERS * capacity_ml))
    )
    if loss_ml < -within:
        text = say("More came out than went in: an earlier overfill, water, or a slip in the last record.")
    rate = rate_within = None
    if distance_km:
        rate, rate_within = loss_ml / distance_km * 1000, within / distance_km * 1000
    return Loss(
        loss_ml=loss_ml,
        sigma_ml=sigma_ml,
        within_ml=within,
        per_1000km_ml=rate,
        per_1000km_within_ml=rate_within,
        told_from_zero=abs(loss_ml) > within,
        band=band,
        text=text,
        working=working,
    )


def judged_outside(loss: Loss | None, wet: str) -> Loss | None:
    """Hold a loss against what is wet outside.

    Parameters
    ----------
    loss : as measured; None not told
    wet : where oil was seen outside; ``dry``, or empty where nobody looked

    Returns
    -------
    Loss: stop where it reaches a brake or a clutch, a question where something is lost and all is dry

    References
    ----------
    Common practice.
    """
    if loss is None:
        return None
    if "brake" in wet or "clutch" in wet:
        return replace(loss, band="stop", text=REACHES)
    if wet == "dry" and loss.band not in ("tight", "unclear", "stop"):
        return replace(loss, text=f"{loss.text} {DRY}")
    return loss


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
