"""The rules of an oil's thickness: is its grade, or what its data sheet measured, near what the sheet asks, warm and in the cold?

First values of all limits are common practice unless the basis names a standard; the workshop changes them by its policy.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator
from dataclasses import dataclass, replace

from barodex.core.oil.ambient import AmbientChoice, grade_for_ambient
from barodex.core.oil.grades import Grade, class_at, cold_limit_c, edition_of, kv100_band, read_grade
from barodex.core.oil.lubricant import VERDICTS, Lubricant, OilConditions, OilPolicy, OilReason, Requirement
from barodex.core.oil.viscosity import ASSUMED_VI, Thickness, kv40_for_index, open_band, thickness_of_grade
from barodex.core.quantity.errors import Unreadable
from barodex.core.quantity.working import COMMON_PRACTICE, Working
from barodex.core.words import say

MATCH_C = 80.0  # the temperature at which thickness is compared: a driveline at work (common practice)

HYPOID_LOW = 0.15  # a hypoid takes no oil thinner than this share below what is asked (common practice)
FAR_CLASSES = 2  # so many classes away at the hot end is another oil, with or without a data sheet
STANDARDS = "SAE J306, J300, ISO 3448"


def listed(oil: Lubricant, asked: Requirement) -> bool:
    """Say whether a sheet lists an oil's family.

    Parameters
    ----------
    oil, asked : as :func:`barodex.core.oil.judge.judge`

    Returns
    -------
    bool

    References
    ----------
    The sheet.
    """
    return oil.family == asked.family or oil.family in asked.also


@functools.lru_cache(maxsize=4096)
def label_grade(text: str, family: str, edition: str) -> Grade | None:
    if not text:
        return None
    try:
        return read_grade(text, "engine" if family == "engine" else "gear", edition)
    except Unreadable:
        return None


@functools.lru_cache(maxsize=4096)
def _thickness(kv40: float | None, kv100: float | None, grade: Grade | None, edition: str) -> Thickness | None:
    if kv40 is not None and kv100 is not None:
        return Thickness(kv40, kv100, False, "data sheet")
    try:
        typical = thickness_of_grade(grade, edition) if grade else None
    except Unreadable:
        typical = None
    if kv100 is not None:
        vi = ASSUMED_VI["multigrade" if grade and grade.winter and grade.summer else "straight"]
        return Thickness(
            kv40_for_index(kv100, vi), kv100, True, say("{kv100:g} mm²/s at 100 °C, viscosity index {vi:.0f} assumed", kv100=kv100, vi=vi)
        )
    if kv40 is not None and typical is not None and kv40 > typical.kv100:
        return Thickness(kv40, typical.kv100, True, say("{kv40:g} mm²/s at 40 °C, {basis}", kv40=kv40, basis=typical.basis))
    return typical


def thickness_of(oil: Lubricant, edition: str = "2005") -> Thickness | None:
    """Give the two points of an oil's line: measured where the data sheet states them, else estimated from the grade.

    Parameters
    ----------
    oil : kv40, kv100 in mm²/s where stated
    edition : of SAE J306

    Returns
    -------
    Thickness, marked when estimated; None where neither is known

    References
    ----------
    As :func:`barodex.core.oil.viscosity.thickness_of_grade`.
    """
    return _thickness(oil.kv40, oil.kv100, label_grade(oil.grade, oil.family, edition), edition)


def asked_edition(asked: Requirement, policy: OilPolicy) -> str:
    """Give the edition of SAE J306 by which a sheet's grade is read: its own time's, else the workshop's.

    Parameters
    ----------
    asked : what the sheet asks
    policy : the workshop's

    Returns
    -------
    str, one of :data:`barodex.core.oil.grades.EDITIONS`

    References
    ----------
    SAE J306: before 2005 grade 90 reached to 24 mm²/s and 140 came next.
    """
    return asked.edition or policy.j306_edition


@functools.lru_cache(maxsize=4096)
def _choice(asked: tuple[str, tuple[object, ...]], low: float | None, high: float | None) -> AmbientChoice:
    grade, ambient = asked
    return grade_for_ambient(Requirement("gear", grade, ambient=ambient), low, high)  # type: ignore[arg-type]


def _choice_of(asked: Requirement, day: OilConditions) -> AmbientChoice:
    """The grade asked on this day, and all that the sheet itself names for it."""
    return _choice((asked.grade, asked.ambient), day.ambient_min_c, day.ambient_max_c)


def asked_thickness(asked: Requirement, day: OilConditions, policy: OilPolicy) -> Thickness | None:
    """Give the middle of the asked grade's band as an oil's line.

    Parameters
    ----------
    asked : what the sheet asks
    day : air temperature in °C, for sheets that give grades by it
    policy : for the edition of SAE J306

    Returns
    -------
    Thickness; None where the sheet names no grade that has a band

    References
    ----------
    As :func:`barodex.core.oil.viscosity.thickness_of_grade`.
    """
    edition = asked_edition(asked, policy)
    return _thickness(None, None, label_grade(_choice_of(asked, day).grade or asked.grade, asked.family, edition), edition)


def viscosity_off(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> float | None:
    """Give how far an oil's viscosity at 80 °C lies from the middle of the asked band.

    Parameters
    ----------
    oil, asked, day, policy : as :func:`barodex.core.oil.judge.judge`

    Returns
    -------
    float, a share: 0.2 is a fifth thicker; None where one of the two is unknown

    References
    ----------
    ASTM D341 at 80 °C; that temperature is common practice.
    """
    want, have = asked_thickness(asked, day, policy), thickness_of(oil, policy.j306_edition)
    if want is None or have is None:
        return None
    return at_match(have) / at_match(want) - 1.0


@functools.lru_cache(maxsize=4096)
def at_match(t: Thickness) -> float:
    """Give an oil's viscosity at the temperature of comparison, 80 °C.

    Parameters
    ----------
    t : two points of its line

    Returns
    -------
    float, mm²/s

    References
    ----------
    ASTM D341; 80 °C is common practice.
    """
    return t.at(MATCH_C)


def signed_share(share: float) -> str:
    """Write a share with its sign.

    Parameters
    ----------
    share : 0.2 is a fifth more

    Returns
    -------
    str, such as ``+20 %``

    References
    ----------
    ISO 80000-1: a space before the sign of the per cent.
    """
    return f"{'−' if round(share * 100) < 0 else '+'}{abs(share) * 100:.0f} %"


@dataclass(frozen=True)
class _Pair:
    """An asked grade and an offered oil side by side. ``inside``: measured, and within the asked band; ``classes``: how many grades
    the oil lies above (below: negative) the asked one at the hot end, None where they cannot be counted."""

    text: str
    want: Grade | None
    have: Grade | None
    label_true: bool
    inside: bool
    classes: int | None


def _band(grade: Grade | None, edition: str) -> tuple[float, float] | None:
    try:
        return open_band(grade, edition) if grade else None
    except Unreadable:
        return None


def _in_label(kv100: float | None, have: Grade | None, edition: str) -> bool:
    """Whether a data sheet, where there is one, lies within the band of its own label."""
    if kv100 is None or have is None or have.scale == "industrial":
        return True
    low, high = kv100_band(have, edition)
    return low <= kv100 and (high is None or kv100 < high)


@functools.lru_cache(maxsize=8192)
def _pair(kv40: float | None, kv100: float | None, grade: str, family: str, text: str, asked_family: str, edition: str, own: str) -> _Pair:
    want, have = label_grade(text, asked_family, edition), label_grade(grade, family, own)
    band, got = _band(want, edition), _thickness(kv40, kv100, have, own)
    inside = kv100 is not None and band is not None and band[0] <= kv100 < band[1]
    classes = None
    if want is not None and got is not None:
        scale = "engine" if want.scale == "engine" else "gear"
        table_edition = edition_of(want, edition)
        low, high = band or (thickness_of_grade(want, edition).kv100,) * 2
        at = class_at(got.kv100, scale, table_edition)
        first, last = class_at(low, scale, table_edition), class_at(high * (1 - 1e-9), scale, table_edition)
        classes = max(0, at - last) or min(0, at - first)
    return _Pair(text, want, have, _in_label(kv100, have, own), inside, classes)


def _side_by_side(oil: Lubricant, asked: Requirement, text: str, policy: OilPolicy) -> _Pair:
    edition = asked_edition(asked, policy)
    return _pair(oil.kv40, oil.kv100, oil.grade, oil.family, text, asked.family, edition, policy.j306_edition)


def grade_rule(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    """Yield what an oil's grade, or its data sheet, is worth against the grade that a sheet asks.

    Parameters
    ----------
    oil, asked, day, policy : as :func:`barodex.core.oil.judge.judge`

    Returns
    -------
    Iterator of OilReason

    References
    ----------
    SAE J306, SAE J300, ISO 3448; ASTM D341 at 80 °C; the limits are common practice.
    """
    if not listed(oil, asked) or not (asked.grade or asked.ambient):
        return
    choice = _choice_of(asked, day)
    text = choice.grade or asked.grade
    pair = _side_by_side(oil, asked, text, policy)
    compared = f"{text} / {oil.grade or 'not stated'}"
    if oil.grade and pair.label_true:
        edition = asked_edition(asked, policy)
        if asked.ambient and day.ambient_min_c is not None and not choice.covers:
            yield _by_season(oil, asked, day, policy)
            return
        if text.strip().casefold() == oil.grade.strip().casefold() or (pair.have is not None and pair.have == pair.want):
            yield OilReason("grade-same", "meets", say("Grade {grade} as asked.", grade=oil.grade), compared, STANDARDS)
            return
        if pair.have is not None and any(label_grade(f, asked.family, edition) == pair.have for f in choice.fits):
            yield OilReason(
                "grade-same", "meets", say("Grade {grade}: the sheet gives it for this weather.", grade=oil.grade), compared, "the sheet"
            )
            return
        if pair.have is not None and any(label_grade(a.grade, asked.family, edition) == pair.have for a in asked.ambient):
            known = day.ambient_min_c is not None
            why = (
                say("The sheet gives this grade for other weather.")
                if known
                else say("The sheet gives it for some weather: say how cold it gets.")
            )
            yield OilReason("grade-season", "caution", why, compared, "the sheet")
            return
    yield _thickness_reason(oil, asked, day, policy, pair)


def _by_season(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> OilReason:
    """No grade of the sheet spans the weather: a multigrade that covers both ends does, anything else is chosen by season."""
    low = day.ambient_min_c or 0.0
    high = low if day.ambient_max_c is None else day.ambient_max_c
    cold, hot = (_choice((asked.grade, asked.ambient), t, t).grade for t in (low, high))
    at_cold, at_hot = (_side_by_side(oil, asked, text, policy) for text in (cold, hot))
    limit = cold_limit_c(at_hot.have, policy.j306_edition) if at_hot.have else None
    compared = say(
        "{cold} at {low:g} °C, {hot} at {high:g} °C / {grade}", cold=cold, low=low, hot=hot, high=high, grade=oil.grade or "not stated"
    )
    if at_hot.classes == 0 and limit is not None and limit <= low:
        return OilReason(
            "grade-same",
            "meets",
            say("Grade {grade} covers {low:g} to {high:g} °C, both ends of the sheet.", grade=oil.grade, low=low, high=high),
            compared,
            STANDARDS,
        )
    near = min((_thickness_reason(oil, asked, day, policy, p) for p in (at_cold, at_hot)), key=lambda r: VERDICTS.index(r.verdict))
    text = say(
        "No grade of the sheet spans {low:g} to {high:g} °C: choose by season, {cold} for the cold and {hot} for the heat.",
        low=low,
        high=high,
        cold=cold,
        hot=hot,
    )
    if near.verdict == "reject":
        return replace(near, text=f"{near.text} {text}", compared=compared)
    return OilReason("grade-season", "caution", text, compared, "the sheet")


def _thickness_reason(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy, pair: _Pair) -> OilReason:
    """By viscosity: measured where there is a data sheet, else from the middle of the grades' bands."""
    edition = policy.j306_edition
    compared = f"{pair.text} / {oil.grade or 'not stated'}"
    ask, got = _thickness(None, None, pair.want, asked_edition(asked, policy)), thickness_of(oil, edition)
    if ask is None or got is None:
        missing = (
            say("The label states no grade and no viscosity.")
            if got is None
            else say("Another name than the sheet's: compare the data sheets.")
        )
        return OilReason("grade-unknown", "caution", missing, compared, COMMON_PRACTICE)
    share = at_match(got) / at_match(ask) - 1.0
    lowest = min(policy.near_low, HYPOID_LOW) if asked.hypoid else policy.near_low
    working = Working(
        "ν at 80 °C by log10 log10(ν + 0.7) = A − B·log10 T; offered ÷ asked − 1",
        (
            (f"asked {pair.text}", f"{at_match(ask):.1f} mm²/s ({ask.basis})"),
            (f"offered {oil.grade or oil.name}", f"{at_match(got):.1f} mm²/s ({got.basis})"),
            ("difference", signed_share(share)),
            ("near", f"{signed_share(-lowest)} to {signed_share(policy.near_high)}; off to ±{policy.off * 100:.0f} %"),
        ),
        "ASTM D341; the limits are common practice",
    )
    compared = say(
        "{compared}: {got:.1f} against {ask:.1f} mm²/s at 80 °C, {share}",
        compared=compared,
        got=at_match(got),
        ask=at_match(ask),
        share=signed_share(share),
    ) + (", estimated" if got.estimated else "")
    label = (
        ""
        if pair.label_true
        else say(
            " Its data sheet ({kv100:g} mm²/s at 100 °C) does not fit its own label {grade}: ask its maker.",
            kv100=oil.kv100,
            grade=oil.grade,
        )
    )
    want = pair.want
    reading = say(" A winter grade alone sets only a lower limit; the upper one is our reading.") if want and not want.summer else ""
    tail, thicker = label + reading, "thicker" if share > 0 else "thinner"

    def judged(rule: str, verdict: str, text: str, school: str = "") -> OilReason:
        return OilReason(rule, verdict, text + tail, compared, COMMON_PRACTICE, school, working)

    by_grade = policy.substitution == "by viscosity"
    if pair.inside:
        if not by_grade and (pair.have is None or pair.have != want):
            text = say("Its data sheet lies in the asked band, but it is another grade than the sheet's.")
            return judged("grade-near", "caution", text, say("only the sheet's own grade is used here"))
        return judged("grade-near", "equivalent", say("Its data sheet lies in the band of {pair_text} when warm.", pair_text=pair.text))
    if pair.classes is not None and abs(pair.classes) >= FAR_CLASSES:
        away = "thicker" if pair.classes > 0 else "thinner"
        return judged(
            "grade-off", "reject", say("{classes} grades {away} than asked when warm: another oil.", classes=abs(pair.classes), away=away)
        )
    if -lowest <= share <= policy.near_high:
        if asked.hypoid and pair.classes is not None and pair.classes < 0:
            return judged("grade-near", "caution", say("A grade thinner than asked, under sliding hypoid teeth."))
        verdict, text, school = _near(want, pair.have, day, policy)
        return judged("grade-near", verdict, text, school)
    if abs(share) <= policy.off or got.estimated:
        guess = say(" Its viscosity is estimated: fetch the data sheet.") if got.estimated and abs(share) > policy.off else ""
        much = "Much " if abs(share) > policy.near_low else ""
        text = f"{much}{thicker} than asked when warm".strip()
        where = say(", under sliding hypoid teeth") if asked.hypoid and share < 0 else ""
        return judged("grade-off", "caution", f"{text[0].upper()}{text[1:]}{where}.{guess}")
    return judged("grade-off", "reject", say("Far {thicker} than asked when warm.", thicker=thicker))


def _near(want: Grade | None, have: Grade | None, day: OilConditions, policy: OilPolicy) -> tuple[str, str, str]:
    """Near enough when warm: is it also near enough in the cold, and does this workshop substitute? Verdict, sentence, school."""
    if policy.substitution != "by viscosity":
        return (
            "caution",
            say("Near enough by viscosity, but another grade than the sheet's."),
            say("only the sheet's own grade is used here"),
        )
    limit = cold_limit_c(have, policy.j306_edition) if have else None
    asked_limit = cold_limit_c(want, policy.j306_edition) if want else None
    school = "" if policy == OilPolicy() else say("substitution by viscosity is accepted here")
    if day.ambient_min_c is None:
        if asked_limit is not None and (limit is None or limit > asked_limit):
            return "caution", say("Near enough when warm, but stiffer in the cold than asked: say how cold it gets."), school
    elif (limit is None or limit > day.ambient_min_c) and (asked_limit is not None or day.ambient_min_c < 0):
        return "caution", say("Near enough when warm; see what the cold does to it."), school
    return "equivalent", say("Near enough by viscosity."), school
