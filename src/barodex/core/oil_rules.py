"""The rules by which an oil is judged. Each is a function that reads a few properties; ``RULES`` lists them with what they read.

First values of all limits are common practice unless the basis names a standard; the workshop changes them by its policy.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from .errors import Unreadable
from .grades import Grade, cold_limit_c, parse_category, parse_grade
from .lubricant import AmbientGrade, Lubricant, OilConditions, OilPolicy, OilReason, Requirement, grade_for_ambient
from .viscosity import Thickness, blend_viscosity, kv40_for_index, thickness_of_grade
from .working import COMMON_PRACTICE, Working

MATCH_C = 80.0  # the temperature at which thickness is compared: a driveline at work (common practice)
COLD_REJECT_K = 15.0
MOST_ADDITIVE = 0.10
DUAL_SAFE = ("1a", "1b")
LOCKING = ("category-unknown", "approval-unknown")

Act = Callable[[Lubricant, Requirement, OilConditions, OilPolicy], Iterator[OilReason]]


@dataclass(frozen=True)
class OilRule:
    """A rule: what it does, and which properties of the oil and of the requirement it reads (it may read no other)."""

    run: Act
    oil_reads: tuple[str, ...]
    asked_reads: tuple[str, ...]

    def act(self, oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> tuple[OilReason, ...]:
        return tuple(self.run(oil, asked, day, policy))


def _listed(oil: Lubricant, asked: Requirement) -> bool:
    return oil.family == asked.family or oil.family in asked.also


def _claims(oil: Lubricant, asked: Requirement) -> tuple[str, ...]:
    have = {a.casefold() for a in oil.approvals}
    return tuple(a for a in asked.approvals if a.casefold() in have)


def _family(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if _listed(oil, asked):
        return
    compared = f"{asked.family} / {oil.family}"
    if asked.wet_clutch:
        text = f"Wet clutches run in this: they slip, grab and burn in {oil.family} oil. Only {asked.family}."
        yield OilReason("wet-clutch", "reject", text, compared, COMMON_PRACTICE)
    elif asked.family == "ester turbine":
        text = f"Its bearings turn many times faster than a gearbox: {oil.family} oil foams and they fail. Ester turbine oil only."
        yield OilReason("turbine", "reject", text, compared, "MIL-PRF-23699 class; common practice")
    else:
        text = f"This compartment takes {asked.family} oil; this is {oil.family} oil."
        yield OilReason("family", "reject", text, compared, COMMON_PRACTICE)


def _wet_clutch(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not asked.wet_clutch or not _listed(oil, asked):
        return
    compared = f"{', '.join(asked.approvals) or 'no fluid listed'} / {', '.join(oil.approvals) or 'none on the label'}"
    if not asked.approvals:
        yield OilReason("wet-clutch", "caution", "The sheet lists no fluid for these clutches: ask the maker.", compared, COMMON_PRACTICE)
    elif claimed := _claims(oil, asked):
        yield OilReason("approval", "meets", f"Claims {claimed[0]}, which the sheet lists for its clutches.", compared, "the sheet")
    elif not oil.approvals:
        text = "Its label names no fluid or approval, and clutches run in it: fetch the data sheet."
        yield OilReason("approval-unknown", "caution", text, compared, COMMON_PRACTICE)
    else:
        text = "Wet clutches run in this, and the oil claims none of the fluids that the sheet lists."
        yield OilReason("wet-clutch", "reject", text, compared, COMMON_PRACTICE)


def _approval(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if asked.wet_clutch or not asked.approvals or not _listed(oil, asked):
        return
    compared = f"{', '.join(asked.approvals)} / {', '.join(oil.approvals) or 'none'}"
    if claimed := _claims(oil, asked):
        yield OilReason("approval", "meets", f"Claims {claimed[0]} as asked.", compared, "the sheet")
    elif policy.approval == "equivalent":
        text = "Does not claim the approval: right only by its properties."
        yield OilReason("approval", "equivalent", text, compared, COMMON_PRACTICE, "equivalents are accepted here")
    else:
        text = "Does not claim the approval that the sheet asks for."
        yield OilReason("approval", "caution", text, compared, COMMON_PRACTICE, "the maker's bottle is wanted here")


def _yellow_metal(have: tuple[str, ...], asked: Requirement, oil: Lubricant, policy: OilPolicy, compared: str) -> Iterator[OilReason]:
    """GL-5 into a box that does not ask for it and may hold brass."""
    strip = f"D130 {oil.copper_strip}" if oil.copper_strip else "no copper strip class stated"
    if "GL-4" not in have:
        if asked.yellow_metal is None:
            text = "Is there brass inside? If so, the film of a GL-5 oil takes it along: ask first."
            yield OilReason("yellow-metal", "caution", text, compared, COMMON_PRACTICE)
        else:
            text = "Brass rings inside: the film of a GL-5 oil bonds to brass and takes it along. Not into this box."
            yield OilReason("yellow-metal", "reject", text, compared, COMMON_PRACTICE)
    elif asked.yellow_metal is None:
        yield OilReason("dual-claim", "caution", "Claims GL-4 and GL-5. Is there brass inside? Ask first.", compared, COMMON_PRACTICE)
    elif policy.dual_claim == "never":
        text = "Claims GL-4 and GL-5, and brass is inside."
        yield OilReason(
            "dual-claim", "reject", text, f"{compared}; {strip}", COMMON_PRACTICE, "dual-category oils never go onto brass here"
        )
    elif oil.copper_strip in DUAL_SAFE or (oil.declared_safe_for_yellow_metal and not oil.copper_strip):
        text = "Claims GL-4 and GL-5, and its maker declares it safe for brass."
        school = "dual-category oils are accepted here with a copper strip of 1a or 1b"
        yield OilReason("dual-claim", "caution", text, f"{compared}; {strip}", "ASTM D130; common practice", school)
    else:
        text = "Claims GL-4 and GL-5 but shows no copper strip of 1a or 1b: not into a box with brass."
        school = "dual-category oils are accepted here only with a copper strip of 1a or 1b"
        yield OilReason("dual-claim", "reject", text, f"{compared}; {strip}", "ASTM D130; common practice", school)


def _category(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if oil.family != "gear" or not _listed(oil, asked) or asked.wet_clutch:
        return
    want, have = parse_category(asked.categories), parse_category(oil.categories)
    compared = f"{'/'.join(want) or 'none named'} / {'/'.join(have) or 'none on the label'}"
    if asked.no_ep and {"GL-4", "GL-5", "MT-1"} & set(have):
        text = "The sheet forbids extreme-pressure oil, and this is one."
        yield OilReason("no-ep", "reject", text, compared, COMMON_PRACTICE)
        return
    if asked.no_ep and "GL-3" in have:
        text = "The sheet forbids extreme-pressure oil; GL-3 carries a little of it."
        yield OilReason("no-ep", "caution", text, compared, COMMON_PRACTICE)
        return
    if not have and (want or asked.no_ep or asked.yellow_metal):
        text = "The label carries no category: fetch the data sheet before it is poured."
        yield OilReason("category-unknown", "caution", text, compared, COMMON_PRACTICE)
        return
    if not want and not asked.no_ep:
        text = "The sheet names no category: ask, and look at what its sisters use."
        yield OilReason("sheet-unknown", "caution", text, compared, COMMON_PRACTICE)
    if "GL-5" in have and "GL-5" not in want and asked.yellow_metal is not False:
        yield from _yellow_metal(have, asked, oil, policy, compared)
        return
    if want and have:
        yield _claimed(want, have, asked, policy, compared)


def _claimed(want: tuple[str, ...], have: tuple[str, ...], asked: Requirement, policy: OilPolicy, compared: str) -> OilReason:
    """Both name categories, and brass is no matter."""
    if both := [c for c in want if c in have]:
        return OilReason("category", "meets", f"Category {'/'.join(both)} as asked.", compared, "API 1560")
    if "GL-5" in want and "GL-4" not in want:
        text = "Hypoid gears slide under load: they need GL-5, and this oil claims less."
        return OilReason("hypoid-weak", "reject", text, compared, COMMON_PRACTICE)
    if "GL-3" in want and "GL-4" in have:
        return OilReason("older", "equivalent", "GL-4 in place of the older GL-3.", compared, COMMON_PRACTICE)
    if {"GL-1", "GL-2"} & set(want) and have:
        if asked.yellow_metal:
            text = "The sheet asks a plain oil and brass is inside: an extreme-pressure oil may take it along."
            return OilReason("older", "reject", text, compared, COMMON_PRACTICE)
        return OilReason("older", "caution", "A stronger oil than the plain one that was asked.", compared, COMMON_PRACTICE)
    if "GL-5" in have and {"GL-3", "GL-4"} & set(want):
        text = "GL-5 in place of a milder one; the sheet says that no brass is inside."
        return OilReason("category-other", "caution", text, compared, COMMON_PRACTICE)
    if policy.category_weak != "reject" and not asked.hypoid:
        text = "The asked category is not claimed; no hypoid gear runs in it."
        school = "a weaker category is accepted here where no hypoid gear runs"
        return OilReason("category-weak", "caution", text, compared, COMMON_PRACTICE, school)
    return OilReason("category-weak", "reject", "The category that the sheet asks for is not claimed.", compared, COMMON_PRACTICE)


# --- grade, viscosity, cold ------------------------------------------------------------------------------------------


@functools.lru_cache(maxsize=4096)
def _grade_of(text: str, family: str, edition: str) -> Grade | None:
    if not text:
        return None
    try:
        return parse_grade(text, "engine" if family == "engine" else "gear", edition)
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
        vi = 150.0 if grade and grade.winter and grade.summer else 95.0
        return Thickness(kv40_for_index(kv100, vi), kv100, True, f"{kv100:g} mm²/s at 100 °C, viscosity index {vi:.0f} assumed")
    if kv40 is not None and typical is not None and kv40 > typical.kv100:
        return Thickness(kv40, typical.kv100, True, f"{kv40:g} mm²/s at 40 °C, {typical.basis}")
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
    As :func:`barodex.core.viscosity.thickness_of_grade`.
    """
    return _thickness(oil.kv40, oil.kv100, _grade_of(oil.grade, oil.family, edition), edition)


@functools.lru_cache(maxsize=4096)
def _asked_text(grade: str, ambient: tuple[AmbientGrade, ...], low: float | None, high: float | None) -> tuple[str, tuple[str, ...]]:
    """The grade asked on this day, and all that the sheet itself names for it."""
    choice = grade_for_ambient(Requirement("gear", grade, ambient=ambient), low, high)
    return choice.grade or grade, choice.fits


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
    As :func:`barodex.core.viscosity.thickness_of_grade`.
    """
    text, _ = _asked_text(asked.grade, asked.ambient, day.ambient_min_c, day.ambient_max_c)
    return _thickness(None, None, _grade_of(text, asked.family, policy.j306_edition), policy.j306_edition)


def viscosity_off(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> float | None:
    """Give how far an oil's viscosity at 80 °C lies from the middle of the asked band.

    Parameters
    ----------
    oil, asked, day, policy : as :func:`barodex.core.lubricant.judge`

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
    return _at80(have) / _at80(want) - 1.0


@functools.lru_cache(maxsize=4096)
def _at80(t: Thickness) -> float:
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


def _grade(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not _listed(oil, asked) or not (asked.grade or asked.ambient):
        return
    edition = policy.j306_edition
    text, fits = _asked_text(asked.grade, asked.ambient, day.ambient_min_c, day.ambient_max_c)
    want, have = _grade_of(text, asked.family, edition), _grade_of(oil.grade, oil.family, edition)
    compared = f"{text} / {oil.grade or 'not stated'}"
    if oil.grade and (text.strip().casefold() == oil.grade.strip().casefold() or (have is not None and have == want)):
        yield OilReason("grade-same", "meets", f"Grade {oil.grade} as asked.", compared, "SAE J306, J300, ISO 3448")
        return
    if have is not None and any(_grade_of(f, asked.family, edition) == have for f in fits):
        yield OilReason("grade-same", "meets", f"Grade {oil.grade}: the sheet gives it for this weather.", compared, "the sheet")
        return
    ask, got = asked_thickness(asked, day, policy), thickness_of(oil, edition)
    if ask is None or got is None:
        missing = (
            "The label states no grade and no viscosity." if got is None else "Another name than the sheet's: compare the data sheets."
        )
        yield OilReason("grade-unknown", "caution", missing, compared, COMMON_PRACTICE)
        return
    share = _at80(got) / _at80(ask) - 1.0
    reading = " A winter grade alone sets only a lower limit; the upper one is our reading." if want and not want.summer else ""
    working = Working(
        "ν at 80 °C by log10 log10(ν + 0.7) = A − B·log10 T; offered ÷ asked − 1",
        (
            (f"asked {text}", f"{_at80(ask):.1f} mm²/s ({ask.basis})"),
            (f"offered {oil.grade or oil.name}", f"{_at80(got):.1f} mm²/s ({got.basis})"),
            ("difference", signed_share(share)),
            ("near", f"{signed_share(-policy.near_low)} to {signed_share(policy.near_high)}; off to ±{policy.off * 100:.0f} %"),
        ),
        "ASTM D341; the limits are common practice",
    )
    compared = f"{compared}: {_at80(got):.1f} against {_at80(ask):.1f} mm²/s at 80 °C, {signed_share(share)}" + (
        ", estimated" if got.estimated else ""
    )
    thicker = "thicker" if share > 0 else "thinner"
    if -policy.near_low <= share <= policy.near_high:
        yield _near(oil, want, have, day, policy, compared, reading, working)
    elif abs(share) <= policy.off or got.estimated:
        guess = " Its viscosity is estimated: fetch the data sheet." if got.estimated and abs(share) > policy.off else ""
        yield OilReason(
            "grade-off", "caution", f"Much {thicker} than asked when warm.{guess}{reading}", compared, COMMON_PRACTICE, "", working
        )
    else:
        yield OilReason("grade-off", "reject", f"Far {thicker} than asked when warm.{reading}", compared, COMMON_PRACTICE, "", working)


def _near(
    oil: Lubricant,
    want: Grade | None,
    have: Grade | None,
    day: OilConditions,
    policy: OilPolicy,
    compared: str,
    reading: str,
    working: Working,
) -> OilReason:
    """Near enough when warm: is it also near enough in the cold, and does this workshop substitute?"""
    if policy.substitution != "by viscosity":
        text = "Near enough by viscosity, but another grade than the sheet's."
        return OilReason("grade-near", "caution", text, compared, COMMON_PRACTICE, "only the sheet's own grade is used here", working)
    limit = cold_limit_c(have, policy.j306_edition) if have else None
    asked_limit = cold_limit_c(want, policy.j306_edition) if want else None
    school = "" if policy == OilPolicy() else "substitution by viscosity is accepted here"
    if day.ambient_min_c is None:
        if asked_limit is not None and (limit is None or limit > asked_limit):
            text = "Near enough when warm, but stiffer in the cold than asked: say how cold it gets."
            return OilReason("grade-near", "caution", text + reading, compared, COMMON_PRACTICE, school, working)
    elif (limit is None or limit > day.ambient_min_c) and (asked_limit is not None or day.ambient_min_c < 0):
        text = "Near enough when warm; see what the cold does to it."
        return OilReason("grade-near", "caution", text + reading, compared, COMMON_PRACTICE, school, working)
    return OilReason("grade-near", "equivalent", f"Near enough by viscosity.{reading}", compared, COMMON_PRACTICE, school, working)


def _cold(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not _listed(oil, asked) or day.ambient_min_c is None:
        return
    edition, low = policy.j306_edition, day.ambient_min_c
    have = _grade_of(oil.grade, oil.family, edition)
    if have is None or have.scale != "gear":
        return
    text, fits = _asked_text(asked.grade, asked.ambient, low, day.ambient_max_c)
    own = any(_grade_of(f, asked.family, edition) == have for f in (*fits, *([] if asked.ambient else [text])))
    limit = cold_limit_c(have, edition)
    if limit is None:
        want = _grade_of(text, asked.family, edition)
        if low < 0 and want != have and not own:
            sentence = "A straight grade states no limit in the cold, and frost is expected."
            yield OilReason("cold", "caution", sentence, f"{low:g} °C / not stated", "SAE J306")
        return
    if limit > low:
        over = limit - low
        verdict = "reject" if over > COLD_REJECT_K and not own else "caution"
        sentence = f"It is too stiff for the bearings below {limit:.0f} °C, and {low:g} °C is expected."
        yield OilReason("cold", verdict, sentence, f"{low:g} °C / {limit:.0f} °C, {over:.0f} K too warm", "SAE J306, 150 000 mPa·s")


# --- friction, base, detergent, additives, residue -------------------------------------------------------------------


def _friction(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not _listed(oil, asked):
        return
    dosed = any(d.kind == "friction modifier" for d in day.doses)
    if asked.limited_slip:
        if oil.friction_modifier and dosed:
            text = "The modifier is in this oil already: no further dose, or the clutches slip."
            yield OilReason("friction", "caution", text, "modifier in it / dosed again", COMMON_PRACTICE)
        elif not oil.friction_modifier and not dosed:
            dose = (
                f"{asked.modifier_ml:g} mL of friction modifier"
                if asked.modifier_ml
                else "the friction modifier dose that its maker states"
            )
            text = f"Clutch-type limited slip: without a modifier the clutches chatter. Add {dose}."
            yield OilReason("friction", "caution", text, "modifier needed / none in it", COMMON_PRACTICE)
        else:
            yield OilReason("friction", "meets", "The clutches get their friction modifier.", "modifier needed / there", COMMON_PRACTICE)
    elif asked.limited_slip is None and asked.hypoid and not asked.synchro:
        text = "Limited slip or not? Find out before the oil goes in."
        yield OilReason("friction-ask", "caution", text, "unknown", COMMON_PRACTICE)
    elif asked.synchro and (oil.friction_modifier or dosed):
        text = "A friction modifier makes synchroniser rings slip: shifting gets worse."
        yield OilReason("friction-unwanted", "caution", text, "synchroniser / modifier", COMMON_PRACTICE)


def _detergent(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if asked.non_detergent and _listed(oil, asked) and oil.detergent is not False:
        state = "detergent" if oil.detergent else "not stated"
        text = "An old box that asks non-detergent oil: a detergent one keeps its dirt afloat."
        yield OilReason("detergent", "caution", text, f"non-detergent / {state}", COMMON_PRACTICE)


def _base(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if asked.base and _listed(oil, asked) and oil.base != asked.base:
        text = f"The sheet insists on a {asked.base} base."
        yield OilReason("base", "caution", text, f"{asked.base} / {oil.base or 'not stated'}", COMMON_PRACTICE)


def _additives(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    for dose in day.doses:
        asked_for = dose.kind == "friction modifier" and bool(asked.limited_slip)
        share = dose.volume_ml / day.fill_ml if day.fill_ml else None
        most = min(MOST_ADDITIVE, dose.max_share or MOST_ADDITIVE)
        compared = f"{dose.name}, {dose.volume_ml:g} mL" + (f", {share:.1%} of the fill; at most {most:.0%}" if share is not None else "")
        if dose.kind == "extreme pressure" and asked.yellow_metal and "GL-5" not in asked.categories:
            yield OilReason("additive", "reject", "An extreme-pressure additive onto brass takes it along.", compared, COMMON_PRACTICE)
        elif dose.kind in ("tackifier", "solid lubricant") and asked.wet_clutch:
            yield OilReason("additive", "reject", f"A {dose.kind} spoils wet clutches.", compared, COMMON_PRACTICE)
        elif policy.additives == "never" and not asked_for:
            text = "An after-market additive is never by the book."
            yield OilReason("additive", "caution", text, compared, COMMON_PRACTICE, "additives are not used here")
        elif share is not None and share > most + 1e-9:
            text = "More than the fill may carry: over a tenth, or over its own maker's dose."
            yield OilReason("additive", "caution", text, compared, COMMON_PRACTICE)
        elif share is None:
            yield OilReason("additive", "caution", "The fill is unknown: so is the share of the additive.", compared, COMMON_PRACTICE)
        else:
            school = "" if asked_for else "additives are accepted here with their dose on record"
            text = f"{dose.volume_ml:g} mL displaces as much oil."
            yield OilReason("additive", "meets" if asked_for else "equivalent", text, compared, COMMON_PRACTICE, school)


def _residue(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    rest = day.residue
    if rest is None or rest.volume_ml <= 0:
        return
    if rest.lubricant is None:
        text = f"{rest.volume_ml:.0f} mL stay inside and nobody knows of what."
        yield OilReason("residue", "caution", text, "unknown", COMMON_PRACTICE)
        return
    old = rest.lubricant
    compared = f"{old.name} stays / {oil.name} goes in"
    if old.family != oil.family:
        text = f"{rest.volume_ml:.0f} mL of {old.family} oil stay inside: rinse or flush before the final fill."
        yield OilReason("residue-family", "meets", text, compared, COMMON_PRACTICE)
        return
    before, new = thickness_of(old, policy.j306_edition), thickness_of(oil, policy.j306_edition)
    if old.name == oil.name or not before or not new or not day.fill_ml:
        return
    share = rest.volume_ml / (rest.volume_ml + day.fill_ml)
    mixed = blend_viscosity([(share, _at80(before)), (1 - share, _at80(new))])
    text = f"{rest.volume_ml:.0f} mL of {old.name} stay inside: the blend has {mixed:.1f} mm²/s at 80 °C."
    working = Working(
        "W = log10 log10(ν + 0.7); W of the blend = Σ share·W",
        (
            (f"{old.name}, {share:.0%}", f"{_at80(before):.1f} mm²/s at 80 °C ({before.basis})"),
            (f"{oil.name}, {1 - share:.0%}", f"{_at80(new):.1f} mm²/s at 80 °C ({new.basis})"),
        ),
        "ASTM D7152 by volume",
    )
    yield OilReason("residue-grade", "meets", text, compared, "ASTM D7152", "", working)


_F = ("family",)
_L = ("family", "also")
_G = ("family", "grade")
_GRADES = ("family", "also", "grade", "ambient")
RULES: tuple[OilRule, ...] = (
    OilRule(_family, _F, (*_L, "wet_clutch")),
    OilRule(_wet_clutch, ("family", "approvals"), (*_L, "wet_clutch", "approvals")),
    OilRule(
        _category,
        ("family", "categories", "copper_strip", "declared_safe_for_yellow_metal"),
        (*_L, "categories", "wet_clutch", "no_ep", "yellow_metal", "hypoid"),
    ),
    OilRule(_grade, ("family", "grade", "kv40", "kv100"), _GRADES),
    OilRule(_cold, _G, _GRADES),
    OilRule(_friction, ("family", "friction_modifier"), (*_L, "limited_slip", "hypoid", "synchro", "modifier_ml")),
    OilRule(_approval, ("family", "approvals"), (*_L, "wet_clutch", "approvals")),
    OilRule(_base, ("family", "base"), (*_L, "base")),
    OilRule(_detergent, ("family", "detergent"), (*_L, "non_detergent")),
    OilRule(_additives, (), ("yellow_metal", "limited_slip", "wet_clutch", "categories")),
    OilRule(_residue, ("name", "family", "grade", "kv40", "kv100"), ()),
)
