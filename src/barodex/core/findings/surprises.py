"""Surprises, with what may lie behind them: oil too clean, a hole that runs over, a fault that returns, a wrong oil run on."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Sequence
from dataclasses import dataclass

from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import grouped, ml
from barodex.core.words import say

CLEAN_AFTER = {"km": 20_000.0, "h": 100.0}  # a run after which oil is never as fresh (common practice)


@dataclass(frozen=True)
class Surprise:
    """What is odd, what may lie behind it (likeliest first), and what to do."""

    rule: str
    text: str
    causes: tuple[str, ...]
    do: str
    basis: str = "common practice"


@dataclass(frozen=True)
class Reset:
    """A reset on a day: what was reset, the values read before and after it in words, fault codes read before and after (code and text,
    one each), and whether those before were cleared."""

    on: dt.date
    what: tuple[str, ...]
    before: str
    after: str
    faults_before: tuple[str, ...] = ()
    faults_after: tuple[str, ...] = ()
    cleared: bool = False


def too_clean(colour: str | None, run: float | None, recorded: bool, meter: str = "km") -> Surprise | None:
    """Explain oil that looks as fresh when it should not.

    Parameters
    ----------
    colour : as seen; None when it was not looked at
    run : what this oil has run by the book, km or h; None when there is no record
    recorded : whether the book knows of any change of it
    meter : "km" or "h"

    Returns
    -------
    Surprise or None

    Raises
    ------
    OutOfRange : a negative run

    References
    ----------
    Common practice.
    """
    if colour != "fresh":
        return None
    if not recorded:
        causes = (
            say("Somebody changed it and wrote nothing down"),
            say("It was never run: a spare unit, a new box"),
            say("A tint that hides its age"),
        )
        return Surprise(
            "clean-no-record",
            say("As fresh, and no change is on record."),
            causes,
            say("Ask, look for paint or a tag on the case; its age stays unknown."),
        )
    if run is not None and in_range("run", run, 0, 10_000_000) > CLEAN_AFTER[meter]:
        causes = (
            say("Changed in between, without a record"),
            say("Topped up much, so that most of it is new"),
            say("The reading is of another vehicle"),
        )
        return Surprise(
            "clean-too-long",
            say("As fresh after {run} {meter}.", run=grouped(run), meter=meter),
            causes,
            say("Ask who worked on it; look at the amounts."),
        )
    return None


_TINGED = {
    "reddish": (say("A red transmission or hydraulic fluid was topped up"), say("It came through a seal from a neighbouring compartment")),
    "bluish": (
        say("Another oil with a blue dye was topped up"),
        say("Coolant or screen wash got in: look for haze, taste nothing, smell it"),
    ),
    "foreign": (say("Another oil than the book says is inside"), say("A flush fluid, fuel or coolant got in")),
}


def odd_colour(colour: str | None, oil: str) -> Surprise | None:
    """Explain a colour that an oil does not take on by ageing.

    Parameters
    ----------
    colour : as seen; None when it was not looked at
    oil : what is inside by the book; empty where nobody knows

    Returns
    -------
    Surprise or None

    References
    ----------
    Common practice.
    """
    if colour not in _TINGED:
        return None
    what = say("Of a foreign colour") if colour == "foreign" else colour.capitalize()
    against = say(", while {oil} is inside by the book", oil=oil) if oil else ""
    causes = (*_TINGED[colour], say("The oil itself is dyed: compare it with what is left in its bottle"))
    return Surprise(
        "odd-colour", f"{what}{against}.", causes, say("Compare with fresh oil on white paper; ask who topped it up, and with what.")
    )


def ran_over(stood: str, ran_ml: float | None, reset_level: bool = False) -> Surprise | None:
    """Explain oil that ran out when the fill plug was opened.

    Parameters
    ----------
    stood : how it stood, in words of the guide
    ran_ml : what ran out, mL; None not measured
    reset_level : whether the level was set by the guide last time

    Returns
    -------
    Surprise or None

    Raises
    ------
    OutOfRange : a negative amount

    References
    ----------
    Common practice.
    """
    over = "over" in stood.lower() or "ran out" in stood.lower()
    if not over and (ran_ml is None or in_range("ran_ml", ran_ml, 0, 60_000, "mL") < 20):
        return None
    causes = (
        say("The vehicle does not stand level"),
        say("The oil is warm: it has grown by about 0.7 % for each 10 K"),
        say("It was overfilled last time") if not reset_level else say("It was set on a slope, or cold, last time"),
        say("Water, or oil from a neighbouring compartment through a seal"),
    )
    amount = f" {ml(ran_ml)}" if ran_ml else ""
    return Surprise(
        "over-the-plug",
        say("Oil{amount} ran out on opening.", amount=amount),
        causes,
        say("Check the slope, then milky oil, then the seal to the neighbour."),
    )


NO_FAULT = ("none", "no fault", "no faults", "0", "-")
LONGEST_FAULT = 120  # characters of a code with its text
_NUMBER = re.compile(r"-?\d+(?:[.,]\d+)?")


def values_in(words: str) -> dict[str, float]:
    """Read name and number of every value in a text.

    Parameters
    ----------
    words : such as “wear counter 12, clutch adaptation 0”

    Returns
    -------
    dict of number by name in small letters

    References
    ----------
    None needed.
    """
    found = {}
    for part in re.split(r"[,;]\s+|\n", words):
        number = _NUMBER.search(part)
        if number:
            found[part[: number.start()].strip(" :=").lower()] = float(number.group().replace(",", "."))
    return found


def over_limits(words: str, limits: Sequence[str]) -> tuple[tuple[str, float, float], ...]:
    """Give the values that a tool reads above what the sheet allows.

    Parameters
    ----------
    words : as read, such as “wear counter 12”
    limits : of the sheet, such as “wear counter 10”

    Returns
    -------
    tuple of (name, value, limit)

    References
    ----------
    The maker's figure, as the sheet gives it.
    """
    allowed = {name: most for line in limits for name, most in values_in(line).items()}
    return tuple((name, value, allowed[name]) for name, value in values_in(words).items() if name in allowed and value > allowed[name])


def came_back(resets: Sequence[Reset]) -> tuple[tuple[str, float, Reset, Reset], ...]:
    """Give what was set back once and stands above nothing again.

    Parameters
    ----------
    resets : of one compartment, in order of time

    Returns
    -------
    tuple of (name, value, the reset, when it was read again), the earliest first

    References
    ----------
    Common practice: a fault that returns is wear, not oil.
    """
    found: list[tuple[str, float, Reset, Reset]] = []
    for k, r in enumerate(resets):
        zeroed = [n for n, v in values_in(r.after).items() if v == 0]
        for later in resets[k + 1 :]:
            read = values_in(later.before)
            found += [(n, read[n], r, later) for n in zeroed if read.get(n, 0) > 0 and all(n != f[0] for f in found)]
    return tuple(found)


def fault_lines(text: str) -> tuple[str, ...]:
    """Read fault codes as they were typed, one a line: code and text.

    Parameters
    ----------
    text : as typed; empty lines and lines that say that there is none do not count

    Returns
    -------
    tuple of str, each code once

    References
    ----------
    None needed.
    """
    lines = (" ".join(line.split())[:LONGEST_FAULT] for line in text.splitlines())
    found = {
        line.split()[0].rstrip(":").upper(): line for line in reversed([x for x in lines if x and x.lower().rstrip(".") not in NO_FAULT])
    }
    return tuple(reversed(found.values()))


def code_of(line: str) -> str:
    """Give the code of a fault that was read: the first word of its line.

    Parameters
    ----------
    line : from :func:`fault_lines`

    Returns
    -------
    str in capitals

    References
    ----------
    None needed.
    """
    return line.split()[0].rstrip(":").upper()


def faults_back(resets: Sequence[Reset]) -> tuple[tuple[str, Reset, Reset], ...]:
    """Give fault codes that were cleared once and were read again: after the drive, or at a later service.

    Parameters
    ----------
    resets : of one compartment, in order of time

    Returns
    -------
    tuple of (line as read again, the reset, when it was read again), each code once

    References
    ----------
    Common practice: a fault that returns is wear, not oil.
    """
    found: dict[str, tuple[str, Reset, Reset]] = {}
    for k, r in enumerate(resets):
        for fault in r.faults_before if r.cleared else ():
            code = code_of(fault)
            again = [(line, r) for line in r.faults_after] + [
                (line, x) for x in resets[k + 1 :] for line in (*x.faults_before, *x.faults_after)
            ]
            for line, when in again:
                if code_of(line) == code:
                    found.setdefault(code, (line, r, when))
    return tuple(found.values())


def returned_fault(resets: Sequence[Reset]) -> Surprise | None:
    """Explain a value that is back after it was reset.

    Parameters
    ----------
    resets : of one compartment, in order of time

    Returns
    -------
    Surprise or None

    References
    ----------
    Common practice: a fault that returns is wear, not oil.
    """
    causes = (
        say("Wear of linings, chain or bearings: oil does not mend it"),
        say("The reset was done with the engine running, or without its precondition"),
        say("A wrong fluid, or too little of it"),
        say("A sensor or its plug"),
    )
    do = say("Do not reset it a third time: measure the wear, look at the linings.")
    for k, r in enumerate(resets):
        after = values_in(r.after)
        stuck = [n for n, v in after.items() if v > 0 and v >= values_in(r.before).get(n, v + 1)]
        if stuck and k == len(resets) - 1:
            return Surprise(
                "reset-without-effect",
                say("{stuck} is {after:g} after the reset, as before.", stuck=stuck[0], after=after[stuck[0]]),
                causes[1:],
                say("Look at its preconditions."),
            )
    for line, r, later in faults_back(resets)[:1]:
        text = say(
            "{line} was cleared on {day} {r_on} and was read again on {day_2} {later_on}.",
            line=line,
            day=r.on.day,
            r_on=f"{r.on:%B %Y}",
            day_2=later.on.day,
            later_on=f"{later.on:%B %Y}",
        )
        return Surprise("fault-returned", text, causes, do)
    for name, value, r, later in came_back(resets)[:1]:
        text = say(
            "{name} was reset on {day} {r_on} and stood at {value:g} on {day_2} {later_on}.",
            name=name.capitalize(),
            day=r.on.day,
            r_on=f"{r.on:%B %Y}",
            value=value,
            day_2=later.on.day,
            later_on=f"{later.on:%B %Y}",
        )
        return Surprise("fault-returned", text, causes, do)
    return None


@dataclass(frozen=True)
class Exposure:
    """A time on a wrong oil: from, to (None: still inside), what it ran (km or h), why it was wrong, what to look for, when to look."""

    oil: str
    since: dt.date
    until: dt.date | None
    run: float | None
    why: str
    look_for: tuple[str, ...]
    follow_up: str


_LOOK_FOR = {
    "yellow-metal": (say("Yellow flecks: brass rings and bushes go first"), say("Notchy shifting, rings that no longer hold")),
    "hypoid-weak": (say("Flakes and glitter of steel: hypoid faces scuff"), say("A whine under load that was not there")),
    "wet-clutch": (say("Dark fibres: linings come loose"), say("Judder when the clutch closes")),
    "turbine": (say("Darkened, thick oil; noise of the drive gears"),),
    "friction": (say("Chatter in tight turns"), say("Dark fibres of the plates")),
    "cold": (say("Stiff shifting when cold, starved bearings"),),
}


def exposure_of(
    oil: str,
    since: dt.date,
    until: dt.date | None,
    run: float | None,
    rules: Sequence[str],
    why: str,
    meter: str = "km",
    on_purpose: str = "",
) -> Exposure:
    """Describe a time on a wrong oil and what to look for afterwards.

    Parameters
    ----------
    oil : its name
    since, until : from and to; None: it is still inside
    run : what it ran on it, km or h; None unknown
    rules : ids of the oil rules that refused it
    why : the worst reason in words
    meter : "km" or "h"
    on_purpose : why it was taken all the same; empty where it was not

    Returns
    -------
    Exposure

    Raises
    ------
    OutOfRange : a negative run

    References
    ----------
    Common practice: two changes later the wear of a wrong oil has come out, or is there to stay.
    """
    if run is not None:
        in_range("run", run, 0, 10_000_000)
    signs = tuple(sign for r in rules for sign in _LOOK_FOR.get(r, ())) or (say("More paste than before, darker oil"),)
    soon = "2 000 km" if meter == "km" else "40 h"
    if until is not None:
        text = say("Sample after {soon} on the right oil, and at the two changes after.", soon=soon)
    elif on_purpose:
        text = say("It is inside on purpose ({on_purpose}): look how it does at half of the interval.", on_purpose=on_purpose)
    else:
        text = say("Take it out now, rinse, and halve the interval.")
    return Exposure(oil, since, until, run, why, signs, text)
