"""Setting a level: by temperature, on a slope, by dipstick; and how long the oil takes to get there."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.expansion import DEFAULT_DENSITY15, volume_correction_factor
from barodex.core.quantity.window import TemperatureWindow, check_window
from barodex.core.quantity.working import Working
from barodex.core.words import say

FEWEST_SAMPLES = 4


COOLING_TAU_MIN = 60.0  # a case in still air (common practice)


@dataclass(frozen=True)
class WarmUp:
    """When the window opens and closes, seconds from the last reading (below 0: it has; None: never), each with its σ.

    ``rate_c_per_min`` is the present rate of change, ``settles_at_c`` where it would end; ``reaches``: whether the window is ever reached.
    """

    temperature_c: float
    rate_c_per_min: float
    settles_at_c: float
    tau_s: float
    reaches: bool
    opens_in_s: float | None
    opens_sigma_s: float | None
    closes_in_s: float | None
    closes_sigma_s: float | None
    text: str
    working: Working


def _fit(t: np.ndarray, temperature: np.ndarray) -> tuple[float, float, float, np.ndarray]:
    """T∞, A, τ of T = T∞ + A·e^(−t/τ) by least squares: linear in T∞ and A, a golden-section search over log τ."""

    def solve(log_tau: float) -> tuple[float, np.ndarray]:
        design = np.column_stack([np.ones_like(t), np.exp(-t / math.exp(log_tau))])
        found, *_ = np.linalg.lstsq(design, temperature, rcond=None)
        return float(((design @ found - temperature) ** 2).sum()), found

    span = max(float(t[-1] - t[0]), 1.0)
    grid = np.linspace(math.log(span / 20), math.log(span * 30), 60)
    k = int(np.argmin([solve(float(g))[0] for g in grid]))
    low, high = float(grid[max(0, k - 1)]), float(grid[min(len(grid) - 1, k + 1)])
    golden = (math.sqrt(5) - 1) / 2
    for _ in range(60):
        a, b = high - golden * (high - low), low + golden * (high - low)
        low, high = (low, b) if solve(a)[0] < solve(b)[0] else (a, high)
    log_tau = (low + high) / 2
    _, (settles, amplitude) = solve(log_tau)
    tau = math.exp(log_tau)
    decay = np.exp(-t / tau)
    jacobian = np.column_stack([np.ones_like(t), decay, amplitude * decay * t / tau**2])
    residual = settles + amplitude * decay - temperature
    variance = max(float((residual**2).sum()) / max(1, len(t) - 3), 0.05**2)  # no thermometer is better than 0.05 K
    covariance = np.linalg.pinv(jacobian.T @ jacobian) * variance
    return float(settles), float(amplitude), tau, covariance


def check_reading(before: tuple[float, float] | None, temperature_c: float, at_s: float) -> None:
    """Refuse a temperature that no oil has, or a jump that none makes.

    Parameters
    ----------
    before : the reading before it as (seconds, °C); None for the first
    temperature_c : °C
    at_s : seconds, on the same clock

    Raises
    ------
    OutOfRange : outside −40 to 200 °C: the sensor is dead
    Inconsistent : 40 K or more within 5 s

    References
    ----------
    Common practice: litres of oil in a case of metal change by a few kelvin a minute.
    """
    in_range("temperature_c", temperature_c, -40, 200, "°C")
    if before is not None and abs(temperature_c - before[1]) >= 40 and at_s - before[0] <= 5:
        raise Inconsistent(
            say(
                "From {before:g} to {temperature_c:g} °C in {at_s:g} s: no oil does that. Check the sensor.",
                before=before[1],
                temperature_c=temperature_c,
                at_s=at_s - before[0],
            ),
            field="temperature_c",
            value=temperature_c,
        )


def _check(samples: Sequence[tuple[float, float]]) -> None:
    in_range("samples", len(samples), 0, 5000)
    if len(samples) < FEWEST_SAMPLES:
        raise Inconsistent(
            say("{fewest_samples} readings are needed to tell how it warms.", fewest_samples=FEWEST_SAMPLES),
            field="samples",
            value=len(samples),
        )
    for (s0, t0), (s1, t1) in itertools.pairwise(samples):
        if s1 <= s0:
            raise Inconsistent(say("Readings must follow each other in time."), field="samples", value=s1)
        check_reading((s0, t0), t1, s1)
    check_reading(None, samples[0][1], samples[0][0])


def warmup_eta(samples: Sequence[tuple[float, float]], window: TemperatureWindow) -> WarmUp:
    """Tell from temperature readings when the level window opens and closes.

    T(t) = T∞ − (T∞ − T₀)·e^(−t/τ), fitted by least squares; cooling follows the same law.

    Parameters
    ----------
    samples : (seconds, °C), in order of time, 4 to 5000 of them; the last one is now
    window : °C

    Returns
    -------
    WarmUp

    Raises
    ------
    Inconsistent : fewer than four readings, readings out of order, or a jump that no oil makes (more than 40 K in 5 s)
    OutOfRange : a reading outside −40 to 200 °C: the sensor is dead

    References
    ----------
    Newton's law of heating with one time constant, any textbook of heat transfer; σ by the delta method from the fit.
    """
    check_window(window)
    _check(samples)
    seconds = np.array([s for s, _ in samples], dtype=float)
    temperature = np.array([t for _, t in samples], dtype=float)
    seconds = seconds - seconds[0]
    now = float(seconds[-1])
    settles, amplitude, tau, covariance = _fit(seconds, temperature)
    here = settles + amplitude * math.exp(-now / tau)
    rate = -amplitude / tau * math.exp(-now / tau)

    def crossing(level_c: float) -> tuple[float | None, float | None]:
        if abs(amplitude) < 1e-9 or (level_c - settles) / amplitude <= 0:
            return None, None
        at = -tau * math.log((level_c - settles) / amplitude)
        decay = math.exp(-at / tau)
        gradient = np.array([1.0, decay, amplitude * decay * at / tau**2]) / (amplitude / tau * decay)
        return at - now, float(math.sqrt(max(0.0, gradient @ covariance @ gradient)))

    rising = rate >= 0
    opens, opens_sigma = crossing(window.low_c if rising else window.high_c)
    closes, closes_sigma = crossing(window.high_c if rising else window.low_c)
    inside = window.holds(here)
    reaches = inside or (opens is not None and opens > 0) or (opens is not None and closes is not None and opens < 0 < closes)
    text = _told(window, here, settles, inside, reaches, opens, closes)
    working = Working(
        "T(t) = T∞ − (T∞ − T₀)·e^(−t/τ), least squares",
        (
            ("readings", f"{len(samples)} over {now:.0f} s"),
            ("T∞", f"{settles:.1f} °C"),
            ("τ", f"{tau:.0f} s"),
            ("now", f"{here:.1f} °C, {rate * 60:+.1f} K a minute"),
        ),
        "one time constant, any textbook of heat transfer",
    )
    return WarmUp(
        temperature_c=here,
        rate_c_per_min=rate * 60,
        settles_at_c=settles,
        tau_s=tau,
        reaches=reaches,
        opens_in_s=opens,
        opens_sigma_s=opens_sigma,
        closes_in_s=closes,
        closes_sigma_s=closes_sigma,
        text=text,
        working=working,
    )


def _told(
    window: TemperatureWindow, here: float, settles: float, inside: bool, reaches: bool, opens: float | None, closes: float | None
) -> str:
    span = say("{low_c:g} to {high_c:g} °C", low_c=window.low_c, high_c=window.high_c)
    if inside:
        left = "" if closes is None or closes < 0 else say(", {closes} left", closes=_span(closes))
        return say("Inside {span}{left}.", span=span, left=left)
    if not reaches:
        side = "stays below" if settles < window.low_c else "stays above" if settles > window.high_c else "has left"
        return say("It {side} {span}: at this rate it ends at {settles:.0f} °C.", side=side, span=span, settles=settles)
    return say("{here:.0f} °C: {span} opens in {span_2}.", here=here, span=span, span_2=_span(opens or 0.0))


def _span(seconds: float) -> str:
    """A time as somebody under a vehicle says it."""
    return f"{max(0.0, seconds):.0f} s" if seconds < 60 else say("{seconds:.1f} minutes", seconds=seconds / 60)


def level_shift_ml(volume_ml: float, set_c: float, reference_c: float, density15: float = DEFAULT_DENSITY15) -> float:
    """Give how much more or less oil stays inside when a level is set at another temperature than the sheet's.

    Parameters
    ----------
    volume_ml : what is inside, mL, at the reference temperature
    set_c : oil temperature at which the level is set, °C
    reference_c : the sheet's temperature, °C
    density15 : kg/m³

    Returns
    -------
    float, mL at the reference temperature; below 0: too little stays inside (set too warm)

    Raises
    ------
    OutOfRange : outside the ranges of :func:`barodex.core.quantity.expansion.volume_correction_factor`

    References
    ----------
    ASTM D1250 / API MPMS chapter 11.1, generalised lubricating oils.
    """
    in_range("volume_ml", volume_ml, 1, 60_000, "mL")
    return volume_ml * (volume_correction_factor(density15, set_c) / volume_correction_factor(density15, reference_c) - 1.0)


def tilt_deg(lift_mm: float, wheelbase_mm: float) -> float:
    """Give the tilt of a vehicle that is lifted at one end.

    Parameters
    ----------
    lift_mm : how much higher one axle stands than the other, mm, −1500 to 1500
    wheelbase_mm : distance between the axles, mm, 500 to 12 000

    Returns
    -------
    float, degrees; the sign is that of the lift

    Raises
    ------
    OutOfRange : outside the ranges, or lifted by more than the wheelbase

    References
    ----------
    Trigonometry: sin of the tilt is lift over wheelbase.
    """
    lift = in_range("lift_mm", lift_mm, -1500, 1500, "mm")
    base = in_range("wheelbase_mm", wheelbase_mm, 500, 12_000, "mm")
    if abs(lift) > base:
        raise OutOfRange(
            say("It cannot be lifted by more than its wheelbase."), field="lift_mm", value=lift, allowed=say("up to {base:g} mm", base=base)
        )
    return math.degrees(math.asin(lift / base))


def tilt_error_ml(area_mm2: float, offset_mm: float, tilt_deg: float) -> float:
    """Give what a sloping floor does to a level that is set at a plug.

    Parameters
    ----------
    area_mm2 : surface of the oil inside, mm², 100 to 1 000 000
    offset_mm : distance of the plug from the middle of that surface, along the slope, mm
    tilt_deg : slope, degrees, −45 to 45

    Returns
    -------
    float, mL too much (above 0) or too little; the oil's surface turns about its middle

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    A plane surface turned by a small angle: area × offset × tan of the tilt.
    """
    in_range("area_mm2", area_mm2, 100, 1_000_000, "mm²")
    in_range("offset_mm", offset_mm, -2000, 2000, "mm")
    in_range("tilt_deg", tilt_deg, -45, 45, "°")
    return area_mm2 * offset_mm * math.tan(math.radians(tilt_deg)) / 1000.0


def raise_to_level_mm(tilt_deg: float, wheelbase_mm: float) -> float:
    """Give by how much one axle is raised so that a case that leans by an angle stands level.

    Parameters
    ----------
    tilt_deg : by how much the case leans along the vehicle, degrees, −30 to 30
    wheelbase_mm : distance between the axles, mm, 500 to 12 000

    Returns
    -------
    float, mm; below 0: the other axle

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Trigonometry, the inverse of :func:`tilt_deg`: lift = wheelbase × sin of the tilt.
    """
    lean = in_range("tilt_deg", tilt_deg, -30, 30, "°")
    return in_range("wheelbase_mm", wheelbase_mm, 500, 12_000, "mm") * math.sin(math.radians(lean))


def cooling_minutes(temperature_c: float, wanted_c: float, ambient_c: float) -> float | None:
    """Give how long a case stands until its oil has cooled to a temperature.

    Parameters
    ----------
    temperature_c, wanted_c : oil now and wanted, °C, −40 to 200
    ambient_c : air, °C, −60 to 60

    Returns
    -------
    float, minutes, 0 where it is cool enough; None: the air is too warm for it

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Newton's law of cooling with a time constant of an hour for a case of metal in still air (common practice).
    """
    now = in_range("temperature_c", temperature_c, -40, 200, "°C")
    wanted = in_range("wanted_c", wanted_c, -40, 200, "°C")
    air = in_range("ambient_c", ambient_c, -60, 60, "°C")
    if now <= wanted:
        return 0.0
    if wanted <= air + 0.5:
        return None
    return COOLING_TAU_MIN * math.log((now - air) / (wanted - air))


def warming_minutes(capacity_ml: float, ambient_c: float | None, heavy: bool) -> float:
    """Give how long a drive makes the oil of a compartment hand-warm.

    Parameters
    ----------
    capacity_ml : what it holds, mL, 5 to 60 000
    ambient_c : air, °C, −60 to 60; None unknown
    heavy : whether the oil is thicker than an 80W-90

    Returns
    -------
    float, minutes

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    Common practice: ten minutes; half as long again for heavy oil; a minute more for each litre above three and for each
    two kelvin below 10 °C.
    """
    litres = in_range("capacity_ml", capacity_ml, 5, 60_000, "mL") / 1000
    minutes = 10.0 + max(0.0, litres - 3.0)
    if ambient_c is not None:
        minutes += max(0.0, (10.0 - in_range("ambient_c", ambient_c, -60, 60, "°C")) / 2)
    return minutes * (1.5 if heavy else 1.0)


def lip_tilt_error_ml(capacity_ml: float, tilt_deg: float) -> float:
    """Give about what a slope does to a plug level when nothing but the capacity is known.

    Parameters
    ----------
    capacity_ml : what the compartment holds, mL, 1 to 60 000
    tilt_deg : slope, degrees, −45 to 45

    Returns
    -------
    float, mL, as :func:`tilt_error_ml`

    Raises
    ------
    OutOfRange : outside the ranges

    References
    ----------
    The oil taken as a cube with its plug in a face, an estimate of ours (common practice has none): area = V^(2/3), offset = V^(1/3) / 2.
    """
    side = in_range("capacity_ml", capacity_ml, 1, 60_000, "mL") ** (1 / 3) * 10.0
    return tilt_error_ml(max(100.0, side * side), side / 2, tilt_deg)
