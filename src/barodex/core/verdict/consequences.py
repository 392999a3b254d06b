"""What follows from what a service showed: a shortened interval, a change by a day, a look, a repair, a stop, a question, an offer.

Due, the morning, the signed page, the book, papers and the owner's sheet read this list; nobody else draws a conclusion.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from barodex.core.due.interval import Limits, add_months
from barodex.core.due.policy import look_again
from barodex.core.findings.finding import Assessment
from barodex.core.findings.surprises import Surprise
from barodex.core.ledger.bands import LEAST_DAYS, LEAST_KM
from barodex.core.ledger.drained import Loss
from barodex.core.ledger.leak import Z90
from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import COMMON_PRACTICE
from barodex.core.sheet.plausible import LOW_SHARE
from barodex.core.words import say

CONSEQUENCE_KINDS = ("stop", "repair", "due-cap", "look-again", "ask", "adopt")  # the gravest first
LEAST_FACTOR = 0.01  # an interval is never none at all
HALVED = 0.5  # after old oil stayed inside, or a wrong oil was (common practice)
LEAST_HOURS = 20.0  # a first look after so many hours, where the meter counts them (common practice)


@dataclass(frozen=True)
class Consequence:
    """One thing that follows: its kind, what from (``code`` with ``params``), and by when, counted from the day on which it was seen.

    ``run`` in km or h as the vehicle counts, ``days``; None where it does not apply, all None at once. ``factor``: of the usual interval.
    """

    kind: str
    code: str
    params: Mapping[str, Any] = field(default_factory=dict)
    run: float | None = None
    days: int | None = None
    factor: float | None = None
    basis: str = COMMON_PRACTICE


@dataclass(frozen=True)
class Bad:
    """A check that was answered "bad": which, and what was seen."""

    check: str
    seen: str


@dataclass(frozen=True)
class Again:
    """A look that the work itself asks for: ``code``, after so many days or so much run (km or h)."""

    code: str
    days: int
    run: float


@dataclass(frozen=True)
class Seen:
    """Everything that a service showed of a compartment.

    ``on`` the day, ``meter`` km or h; ``limits`` its interval, ``limits_short`` where something shortens it; ``ran`` (km or h) and
    ``ran_days`` since the level was last set, None unknown; ``agains``: looks that the work asks for; ``old_oil_stayed`` and
    ``wrong_oil`` halve the interval; ``failed``: resets that failed, with why; ``returned``: what was reset once and is back, and at
    how much; ``codes_back``: fault codes that were cleared and are back, with their text; ``over``: values above their limit of the sheet; ``bad``: checks, ``good``
    those that were; ``override``: an oil against the rules and why it was taken; ``variant``: one that the amount shows
    and that nobody has taken over; ``odd``: surprises that want a question; ``ran_low``: the first amount that came out is less than the
    sheet lets it be; ``took_ml``: what a fill to the level took where the sheet only guesses, mL at a workshop's temperature;
    ``torques``: plugs for which the sheet has none, with the N·m that were used and where that is from.
    """

    on: dt.date
    meter: str
    limits: Limits
    limits_short: Limits
    assessment: Assessment | None = None
    loss: Loss | None = None
    capacity_ml: float | None = None
    ran: float | None = None
    ran_days: int | None = None
    agains: tuple[Again, ...] = ()
    old_oil_stayed: bool = False
    wrong_oil: bool = False
    failed: tuple[tuple[str, str], ...] = ()
    returned: tuple[tuple[str, float], ...] = ()
    codes_back: tuple[str, ...] = ()
    over: tuple[tuple[str, float, float], ...] = ()
    bad: tuple[Bad, ...] = ()
    good: tuple[str, ...] = ()
    override: tuple[str, str] | None = None
    variant: str = ""
    odd: tuple[Surprise, ...] = ()
    ran_low: bool = False
    took_ml: float | None = None
    torques: tuple[tuple[str, float, str], ...] = ()


@dataclass(frozen=True)
class Held:
    """What due caps make of an interval together: the share of it, and by when at the latest (run in km or h, days)."""

    factor: float = 1.0
    run: float | None = None
    days: int | None = None


def _by_meter(seen: Seen, km: float | None, hours: float | None) -> float | None:
    return hours if seen.meter == "h" else km


def _earlier(a: float | None, b: float | None) -> float | None:
    return b if a is None else a if b is None else min(a, b)


def held_by(caps: Iterable[Consequence]) -> Held:
    """Give what due caps make of an interval together.

    Parameters
    ----------
    caps : consequences of kind ``due-cap``; run in km or h, days

    Returns
    -------
    Held; shares multiply, of runs and days the earliest counts

    References
    ----------
    Common practice.
    """
    factor, run, days = 1.0, None, None
    for c in caps:
        factor *= 1.0 if c.factor is None else c.factor
        run = _earlier(run, c.run)
        days = c.days if days is None else days if c.days is None else min(days, c.days)
    return Held(max(LEAST_FACTOR, factor), run, days)


def _of_finding(seen: Seen) -> list[Consequence]:
    judged = seen.assessment
    if judged is None or judged.level is None:
        return []
    found: list[Consequence] = []
    level, worst = judged.level, judged.reasons[0]
    because = {"because": worst.text, "level": level, "rule": worst.rule}
    if judged.interval_factor < 1:
        said = next((r for r in judged.reasons if r.rule == "after-watch"), worst) if level <= 1 else worst
        found.append(Consequence("due-cap", "finding", {**because, "because": said.text}, factor=max(LEAST_FACTOR, judged.interval_factor)))
    if judged.cap is not None:
        run = _by_meter(seen, judged.cap.km, judged.cap.hours)
        found.append(Consequence("due-cap", "water", {}, run, judged.cap.days))
        found.append(Consequence("repair", "water", {}, run, judged.cap.days))
    if level == 4:
        found.append(Consequence("stop", "finding", because, 0.0, 0))
    elif level >= 2:
        km, hours, months = look_again(level, seen.limits_short)
        days = None if months is None else (add_months(seen.on, months) - seen.on).days
        found.append(Consequence("look-again", "finding", because, _by_meter(seen, km, hours), days))
    return found


def _of_loss(seen: Seen) -> list[Consequence]:
    loss = seen.loss
    if loss is None:
        return []
    if loss.band == "stop":
        return [Consequence("stop", "reaches", {"lost_ml": loss.loss_ml}, 0.0, 0)]
    said = {"lost_ml": loss.loss_ml, "within_ml": loss.within_ml}
    if loss.band == "look again":
        return [Consequence("look-again", "loss-short", said, _by_meter(seen, LEAST_KM, LEAST_HOURS), LEAST_DAYS)]
    if loss.band == "leak":
        road, months = seen.limits.distance_km.get("road"), seen.limits.months
        half = _by_meter(seen, road / 2 if road else None, seen.limits.hours / 2 if seen.limits.hours else None)
        days = (add_months(seen.on, months / 2) - seen.on).days if months else None
        return [Consequence("look-again", "leak", said, half, days)]
    if loss.band == "repair":
        run, days = _until_low(seen, loss)
        return [Consequence("repair", "leak", said, run, days)]
    return []


def _until_low(seen: Seen, loss: Loss) -> tuple[float | None, int | None]:
    """When the level is at its low mark at the earliest (P10), at the rate of this loss: by the run, as the trend tells it, else by days;
    at once where neither is known."""
    if seen.capacity_ml is None or (seen.ran is None and seen.ran_days is None):
        return 0.0, 0
    share = LOW_SHARE * seen.capacity_ml / (loss.loss_ml + Z90 * loss.sigma_ml)
    return (None, int((seen.ran_days or 0) * share)) if seen.ran is None else (seen.ran * share, None)


def _of_work(seen: Seen) -> list[Consequence]:
    found = [Consequence("look-again", a.code, {}, a.run, a.days) for a in seen.agains]
    if seen.old_oil_stayed:
        found.append(Consequence("due-cap", "old-oil-stayed", {}, factor=HALVED))
    if seen.wrong_oil:
        found.append(Consequence("due-cap", "wrong-oil", {}, factor=HALVED))
    found += [Consequence("repair", "reset-failed", {"name": name, "why": why}, None, 7) for name, why in seen.failed]
    found += [Consequence("repair", "fault-returned", {"name": name, "value": value}, None, 30) for name, value in seen.returned]
    found += [Consequence("repair", "code-returned", {"code": line}, None, 30) for line in seen.codes_back]
    found += [Consequence("repair", "over-limit", {"name": n, "value": v, "limit": most}, None, 30) for n, v, most in seen.over]
    found += [Consequence("repair", "check-bad", {"check": b.check, "seen": b.seen}, None, 30) for b in seen.bad]
    if seen.override is not None:
        road = seen.limits.distance_km.get("road")
        half = _by_meter(seen, road / 2 if road else None, seen.limits.hours / 2 if seen.limits.hours else None)
        days = (add_months(seen.on, seen.limits.months / 2) - seen.on).days if seen.limits.months else None
        found.append(Consequence("look-again", "oil-override", {"oil": seen.override[0], "why": seen.override[1]}, half, days))
    if seen.variant:
        found.append(Consequence("adopt", "variant", {"variant": seen.variant}))
    if seen.took_ml is not None:
        found.append(Consequence("adopt", "capacity", {"took_ml": seen.took_ml}))
    found += [Consequence("adopt", "torque", {"plug": p, "torque_nm": nm, "source": source}) for p, nm, source in seen.torques]
    found += [Consequence("ask", s.rule, {"text": s.text, "do": s.do}) for s in seen.odd]
    if seen.ran_low:
        found.append(Consequence("ask", "ran-low"))
    return found


def _bounded(c: Consequence, cap: Held) -> Consequence | None:
    """A look before the change that is asked for; None where that change is the look."""
    if c.kind not in ("look-again", "repair") or (cap.run is None and cap.days is None):
        return c
    run, days = _earlier(c.run, cap.run), _earlier(c.days, cap.days)
    if c.kind == "look-again" and run == cap.run and days == cap.days:
        return None
    return Consequence(c.kind, c.code, c.params, run, None if days is None else int(days), c.factor, c.basis)


def consequences(seen: Seen) -> tuple[Consequence, ...]:
    """Give what follows from what a service showed.

    Parameters
    ----------
    seen : of one compartment; km or h as the vehicle counts, mL

    Returns
    -------
    tuple of Consequence, the gravest kind first. No look lies after the change that a due cap asks for; one that would fall together
    with it is that change

    Raises
    ------
    OutOfRange : a negative run, or a capacity that is none

    References
    ----------
    Common practice; the tables of 8-judgement.md.
    """
    if seen.ran is not None:
        in_range("ran", seen.ran, 0, 10_000_000)
    if seen.capacity_ml is not None:
        in_range("capacity_ml", seen.capacity_ml, 1, 60_000, "mL")
    found = [*_of_finding(seen), *_of_loss(seen), *_of_work(seen)]
    if any(c.kind == "stop" for c in found):  # one stop says it; the loss that reaches a brake is the same oil
        stops = [c for c in found if c.kind == "stop"]
        found = [c for c in found if c.kind != "stop"] + stops[:1]
    cap = held_by(c for c in found if c.kind == "due-cap")
    kept = [b for c in found if (b := _bounded(c, cap)) is not None]
    return tuple(sorted(kept, key=lambda c: CONSEQUENCE_KINDS.index(c.kind)))


_WORDS: dict[tuple[str, str], str] = {
    ("stop", "as-written"): "{what}",
    ("look-again", "as-written"): "{what}",
    ("stop", "finding"): "Stop, do not drive: {because}",
    ("stop", "reaches"): say("Stop, do not drive: oil reaches a brake or a clutch"),
    ("repair", "water"): say("Find where the water enters, and close it"),
    ("repair", "leak"): say("It leaks: repair before the level falls below its low mark"),
    ("repair", "reset-failed"): "“{name}” could not be set back. {why}",
    ("repair", "fault-returned"): "{name} was reset and is back at {value:g}: measure the wear, do not reset it again",
    ("repair", "code-returned"): "{code}: cleared, and read again: measure the wear, do not clear it again",
    ("repair", "over-limit"): "{name} stands at {value:g}, above the {limit:g} of the sheet: measure the wear",
    ("repair", "check-bad"): "{check}: bad. {seen}",
    ("due-cap", "finding"): "The interval is shortened: {because}",
    ("due-cap", "water"): say("Change again soon: water was in the oil"),
    ("due-cap", "old-oil-stayed"): say("The interval is shortened: old oil stayed inside"),
    ("due-cap", "wrong-oil"): say("The interval is shortened: a wrong oil was inside"),
    ("look-again", "finding"): "Look again: {because}",
    ("due-cap", "mended"): "The interval is shortened after what was mended: {was}",
    ("look-again", "loss-short"): say("Lost oil: look at the level again"),
    ("look-again", "leak"): say("It leaks: plan the seal, and look at the level"),
    ("look-again", "topped-up"): say("Look at the level again after a top-up"),
    ("look-again", "first-drives"): say("Leaks and level, after the first drives"),
    ("look-again", "drive-passed"): say("Leaks and level: the look after the drive was passed"),
    ("look-again", "wrong-oil"): say("After a wrong oil: sample, look for yellow flecks"),
    ("look-again", "oil-override"): "{oil} is inside against the rules ({why}): look how it does",
    ("look-again", "mended"): "Look again after it was mended: {was}",
    ("ask", "clean-no-record"): "{text} {do}",
    ("ask", "clean-too-long"): "{text} {do}",
    ("ask", "over-the-plug"): "{text} {do}",
    ("ask", "odd-colour"): "{text} {do}",
    ("ask", "ran-low"): say("It ran low, or the sheet is wrong: ask who filled it last, and look up what it holds"),
    ("adopt", "capacity"): say("The sheet only guesses what it holds, and this fill went to the level: take over what it took"),
    ("adopt", "torque"): "The sheet has no torque for the {plug}: take over {torque_nm:g} N·m ({source})",
    ("adopt", "variant"): "The amount speaks for the {variant}: read the casing code and take it over",
}


_ONCE: dict[str, str] = {"finding": "It was stopped: {because}", "reaches": say("It was stopped: oil reached a brake or a clutch")}


def consequence_text(kind: str, code: str, params: Mapping[str, Any], closed: bool = False) -> str:
    """Say a consequence in words; by when stands beside it, in the reader's units.

    Parameters
    ----------
    kind, code, params : of a :class:`Consequence`
    closed : whether it is over: what was a stop forbids nothing any more

    Returns
    -------
    str, without a full stop at its end

    Raises
    ------
    KeyError : a consequence that there is not

    References
    ----------
    None needed.
    """
    words = _ONCE[code] if closed and kind == "stop" and code in _ONCE else _WORDS[kind, code]
    return words.format(**params).strip().rstrip(".")
