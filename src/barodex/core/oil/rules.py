"""The rules by which an oil is judged. Each is a function that reads a few properties; ``RULES`` lists them with what they read.

First values of all limits are common practice unless the basis names a standard; the workshop changes them by its policy.
"""

from __future__ import annotations

import functools
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from barodex.core.oil.cold_rule import cold_rule
from barodex.core.oil.grade_rules import at_match, grade_rule, listed, thickness_of
from barodex.core.oil.grades import asks_all, parse_category
from barodex.core.oil.lubricant import FORBIDS, Lubricant, OilConditions, OilPolicy, OilReason, Requirement, limited_slip_open
from barodex.core.oil.viscosity import blend_viscosity
from barodex.core.quantity.working import COMMON_PRACTICE, Working, ml
from barodex.core.words import say

MOST_ADDITIVE = 0.10
DUAL_SAFE = ("1a", "1b")
STRICT_BASES = ("ester", "PAG")
HARMS_RUNNING = ("family", "turbine", "wet-clutch", "hypoid-weak")  # an oil inside with which nothing is driven, not even to warm it
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


_ROMAN = {"i": 1, "v": 5, "x": 10}


def _arabic(token: str) -> str:
    """A whole token of I, V, X as a number; anything else as it is."""
    if not token or set(token) - set(_ROMAN):
        return token
    values = [_ROMAN[c] for c in token]
    return str(sum(-v if v < after else v for v, after in zip(values, [*values[1:], 0], strict=True)))


@functools.lru_cache(maxsize=4096)
def _approval_keys(text: str) -> frozenset[str]:
    """An approval without case, spaces, dots and hyphens, and the same with roman numerals written in arabic ones."""
    plain = text.casefold().replace(".", "")
    tokens = re.findall(r"[^\W\d_]+|\d+", plain)
    return frozenset({re.sub(r"[\W_]+", "", plain), "\0".join(_arabic(t) for t in tokens)})


def _claims(oil: Lubricant, asked: Requirement) -> tuple[str, ...]:
    have = frozenset().union(*(_approval_keys(a) for a in oil.approvals))
    return tuple(a for a in asked.approvals if _approval_keys(a) & have)


def _family(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if listed(oil, asked):
        return
    compared = f"{asked.family} / {oil.family}"
    if asked.wet_clutch:
        text = say(
            "Wet clutches run in this: they slip, grab and burn in {family} oil. Only {family_2}.", family=oil.family, family_2=asked.family
        )
        yield OilReason("wet-clutch", "reject", text, compared, COMMON_PRACTICE)
    elif asked.family == "ester turbine":
        text = say(
            "Its bearings turn many times faster than a gearbox: {family} oil foams and they fail. Ester turbine oil only.",
            family=oil.family,
        )
        yield OilReason("turbine", "reject", text, compared, say("MIL-PRF-23699 class; common practice"))
    else:
        text = say("This compartment takes {family} oil; this is {family_2} oil.", family=asked.family, family_2=oil.family)
        yield OilReason("family", "reject", text, compared, COMMON_PRACTICE)


def _wet_clutch(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not asked.wet_clutch or not listed(oil, asked):
        return
    compared = f"{', '.join(asked.approvals) or 'no fluid listed'} / {', '.join(oil.approvals) or 'none on the label'}"
    if not asked.approvals:
        yield OilReason(
            "wet-clutch", "caution", say("The sheet lists no fluid for these clutches: ask the maker."), compared, COMMON_PRACTICE
        )
    elif claimed := _claims(oil, asked):
        yield OilReason(
            "approval", "meets", say("Claims {claimed}, which the sheet lists for its clutches.", claimed=claimed[0]), compared, "the sheet"
        )
    elif not oil.approvals:
        text = say("Its label names no fluid or approval, and clutches run in it: fetch the data sheet.")
        yield OilReason("approval-unknown", "caution", text, compared, COMMON_PRACTICE)
    else:
        text = say("Wet clutches run in this, and the oil claims none of the fluids that the sheet lists.")
        yield OilReason("wet-clutch", "reject", text, compared, COMMON_PRACTICE)


def _approval(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if asked.wet_clutch or not asked.approvals or not listed(oil, asked):
        return
    compared = f"{', '.join(asked.approvals)} / {', '.join(oil.approvals) or 'none'}"
    if claimed := _claims(oil, asked):
        yield OilReason("approval", "meets", say("Claims {claimed} as asked.", claimed=claimed[0]), compared, "the sheet")
    elif policy.approval == "equivalent":
        text = say("Does not claim the approval: right only by its properties.")
        yield OilReason("approval", "equivalent", text, compared, COMMON_PRACTICE, say("equivalents are accepted here"))
    else:
        text = say("Does not claim the approval that the sheet asks for.")
        yield OilReason("approval", "caution", text, compared, COMMON_PRACTICE, say("the maker's bottle is wanted here"))


def _yellow_metal(have: tuple[str, ...], asked: Requirement, oil: Lubricant, policy: OilPolicy, compared: str) -> Iterator[OilReason]:
    """GL-5 into a box that does not ask for it and may hold brass."""
    strip = f"D130 {oil.copper_strip}" if oil.copper_strip else say("no copper strip class stated")
    if "GL-4" not in have:
        if asked.yellow_metal is None:
            text = say("Is there brass inside? If so, the film of a GL-5 oil takes it along: ask first.")
            yield OilReason("yellow-metal", "caution", text, compared, COMMON_PRACTICE)
        else:
            text = say("Brass rings inside: the film of a GL-5 oil bonds to brass and takes it along. Not into this box.")
            yield OilReason("yellow-metal", "reject", text, compared, COMMON_PRACTICE)
    elif asked.yellow_metal is None:
        yield OilReason("dual-claim", "caution", say("Claims GL-4 and GL-5. Is there brass inside? Ask first."), compared, COMMON_PRACTICE)
    elif policy.dual_claim == "never":
        text = say("Claims GL-4 and GL-5, and brass is inside.")
        yield OilReason(
            "dual-claim", "reject", text, f"{compared}; {strip}", COMMON_PRACTICE, say("dual-category oils never go onto brass here")
        )
    elif oil.copper_strip in DUAL_SAFE or (oil.declared_safe_for_yellow_metal and not oil.copper_strip):
        text = say("Claims GL-4 and GL-5, and its maker declares it safe for brass.")
        school = say("dual-category oils are accepted here with a copper strip of 1a or 1b")
        yield OilReason("dual-claim", "caution", text, f"{compared}; {strip}", say("ASTM D130; common practice"), school)
    else:
        text = say("Claims GL-4 and GL-5 but shows no copper strip of 1a or 1b: not into a box with brass.")
        school = say("dual-category oils are accepted here only with a copper strip of 1a or 1b")
        yield OilReason("dual-claim", "reject", text, f"{compared}; {strip}", say("ASTM D130; common practice"), school)


def _category(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    want, have = parse_category(asked.categories), parse_category(oil.categories)
    if oil.family != "gear" or not listed(oil, asked) or (asked.wet_clutch and not want):
        return
    compared = f"{'/'.join(want) or 'none named'} / {'/'.join(have) or 'none on the label'}"
    claimed = bool(_claims(oil, asked))
    if asked.no_ep and {"GL-4", "GL-5", "MT-1"} & set(have):
        text = say("The sheet forbids extreme-pressure oil, and this is one.")
        yield OilReason("no-ep", "reject", text, compared, COMMON_PRACTICE)
        return
    if asked.no_ep and "GL-3" in have:
        text = say("The sheet forbids extreme-pressure oil; GL-3 carries a little of it.")
        yield OilReason("no-ep", "caution", text, compared, COMMON_PRACTICE)
        return
    if not have:
        if not claimed and (want or asked.no_ep or asked.yellow_metal or asked.hypoid):
            text = say("The label carries no category: fetch the data sheet before it is poured.")
            yield OilReason("category-unknown", "caution", text, compared, COMMON_PRACTICE)
        return
    if not want and not asked.no_ep and not claimed:
        yield from _sheet_silent(have, asked, compared)
    if asks_all(asked.categories):
        yield _both(want, have, asked, compared)
    elif "GL-5" in have and "GL-5" not in want and asked.yellow_metal is not False:
        if want or not asked.hypoid:
            yield from _yellow_metal(have, asked, oil, policy, compared)
    elif want:
        yield _claimed(want, have, asked, policy, compared)


def _sheet_silent(have: tuple[str, ...], asked: Requirement, compared: str) -> Iterator[OilReason]:
    """The sheet names no category: ask, but a stated hypoid axle is not served by less than GL-5."""
    if asked.hypoid and "GL-5" not in have:
        text = say("Hypoid gears slide under load and want GL-5; the sheet names no category, and this oil claims less.")
        yield OilReason("hypoid-weak", "reject", text, compared, COMMON_PRACTICE)
    elif asked.hypoid and asked.yellow_metal:
        text = say("Hypoid gears and bronze, and the sheet names no category. Is it a worm? Ask the maker before it is poured.")
        yield OilReason("sheet-unknown", "caution", text, compared, COMMON_PRACTICE)
    elif not asked.approvals:
        text = say("The sheet names no category: ask, and look at what its sisters use.")
        yield OilReason("sheet-unknown", "caution", text, compared, COMMON_PRACTICE)


def _both(want: tuple[str, ...], have: tuple[str, ...], asked: Requirement, compared: str) -> OilReason:
    """The sheet asks one oil that is all of its categories."""
    missing = [c for c in want if c not in have]
    if not missing:
        return OilReason("category", "meets", say("One oil that is {want}, as asked.", want=" and ".join(want)), compared, "API 1560")
    if "GL-5" in missing:
        text = say("The sheet asks one oil that is {want}; without GL-5 its hypoid gears scuff.", want=" and ".join(want))
        return OilReason("hypoid-weak", "reject", text, compared, COMMON_PRACTICE)
    text = say(
        "The sheet asks one oil that is {want}, not either; this one does not claim {missing}",
        want=" and ".join(want),
        missing=" and ".join(missing),
    )
    if "GL-5" in have and asked.yellow_metal:
        return OilReason("both", "reject", say("{text}, and brass is inside.", text=text), compared, COMMON_PRACTICE)
    ask = ". Is there brass inside? Ask first." if asked.yellow_metal is None else "."
    return OilReason("both", "caution", text + ask, compared, COMMON_PRACTICE)


def _claimed(want: tuple[str, ...], have: tuple[str, ...], asked: Requirement, policy: OilPolicy, compared: str) -> OilReason:
    """Both name categories, and brass is no matter."""
    if both := [c for c in want if c in have]:
        return OilReason("category", "meets", say("Category {both} as asked.", both="/".join(both)), compared, "API 1560")
    if "GL-5" in want and "GL-4" not in want:
        text = say("Hypoid gears slide under load: they need GL-5, and this oil claims less.")
        return OilReason("hypoid-weak", "reject", text, compared, COMMON_PRACTICE)
    if "GL-3" in want and "GL-4" in have:
        return OilReason("older", "equivalent", say("GL-4 in place of the older GL-3."), compared, COMMON_PRACTICE)
    if {"GL-1", "GL-2"} & set(want) and have:
        if asked.yellow_metal:
            text = say("The sheet asks a plain oil and brass is inside: an extreme-pressure oil may take it along.")
            return OilReason("older", "reject", text, compared, COMMON_PRACTICE)
        return OilReason("older", "caution", say("A stronger oil than the plain one that was asked."), compared, COMMON_PRACTICE)
    if "GL-5" in have and {"GL-3", "GL-4"} & set(want):
        text = say("GL-5 in place of a milder one; the sheet says that no brass is inside.")
        return OilReason("category-other", "caution", text, compared, COMMON_PRACTICE)
    if policy.category_weak != "reject" and not asked.hypoid:
        text = say("The asked category is not claimed; no hypoid gear runs in it.")
        school = say("a weaker category is accepted here where no hypoid gear runs")
        return OilReason("category-weak", "caution", text, compared, COMMON_PRACTICE, school)
    return OilReason("category-weak", "reject", say("The category that the sheet asks for is not claimed."), compared, COMMON_PRACTICE)


# --- friction, base, detergent, additives, residue -------------------------------------------------------------------


def _friction(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not listed(oil, asked):
        return
    dosed = any(d.kind == "friction modifier" for d in day.doses)
    if asked.limited_slip:
        if oil.friction_modifier and dosed:
            text = say("The modifier is in this oil already: no further dose, or the clutches slip.")
            yield OilReason("friction", "caution", text, say("modifier in it / dosed again"), COMMON_PRACTICE)
        elif not oil.friction_modifier and not dosed:
            dose = (
                say("{modifier_ml} of friction modifier", modifier_ml=ml(asked.modifier_ml))
                if asked.modifier_ml
                else say("the friction modifier dose that its maker states")
            )
            text = say("Clutch-type limited slip: without a modifier the clutches chatter. Add {dose}.", dose=dose)
            yield OilReason("friction", "caution", text, say("modifier needed / none in it"), COMMON_PRACTICE)
        else:
            yield OilReason(
                "friction", "meets", say("The clutches get their friction modifier."), say("modifier needed / there"), COMMON_PRACTICE
            )
    elif limited_slip_open(asked):
        text = say("Limited slip or not? Find out before the oil goes in.")
        yield OilReason("friction-ask", "caution", text, "unknown", COMMON_PRACTICE)
    elif asked.synchro and (oil.friction_modifier or dosed):
        text = say("A friction modifier makes synchroniser rings slip: shifting gets worse.")
        yield OilReason("friction-unwanted", "caution", text, "synchroniser / modifier", COMMON_PRACTICE)


def _detergent(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if asked.non_detergent and listed(oil, asked) and oil.detergent is not False:
        state = "detergent" if oil.detergent else "not stated"
        text = say("An old box that asks non-detergent oil: a detergent one keeps its dirt afloat.")
        yield OilReason("detergent", "caution", text, say("non-detergent / {state}", state=state), COMMON_PRACTICE)


def _base(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    if not asked.base or not listed(oil, asked):
        return
    forbidden = asked.base.removeprefix(FORBIDS) if asked.base.startswith(FORBIDS) else ""
    compared = f"{asked.base} / {oil.base or 'not stated'}"
    if forbidden:
        if oil.base == forbidden:
            yield OilReason("base", "reject", say("The sheet forbids a {forbidden} base.", forbidden=forbidden), compared, COMMON_PRACTICE)
        elif not oil.base:
            text = say("The sheet forbids a {forbidden} base, and the data sheet does not state this one's: ask.", forbidden=forbidden)
            yield OilReason("base", "caution", text, compared, COMMON_PRACTICE)
    elif oil.base != asked.base:
        stated = oil.base and asked.base in STRICT_BASES
        text = say("The sheet insists on {words} {base} base", words="an" if asked.base == "ester" else "a", base=asked.base) + (
            "." if oil.base else say(", and the data sheet does not state this one's.")
        )
        yield OilReason("base", "reject" if stated else "caution", text, compared, COMMON_PRACTICE)


def _additives(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    for dose in day.doses:
        asked_for = dose.kind == "friction modifier" and bool(asked.limited_slip)
        share = dose.volume_ml / day.fill_ml if day.fill_ml else None
        most = min(MOST_ADDITIVE, dose.max_share or MOST_ADDITIVE)
        compared = f"{dose.name}, {ml(dose.volume_ml)}" + (
            say(", {share:.1%} of the fill; at most {most:.0%}", share=share, most=most) if share is not None else ""
        )
        takes_ep = "GL-5" in parse_category(asked.categories) and not asks_all(asked.categories)
        if dose.kind == "extreme pressure" and asked.yellow_metal and not takes_ep:
            yield OilReason("additive", "reject", say("An extreme-pressure additive onto brass takes it along."), compared, COMMON_PRACTICE)
        elif dose.kind in ("tackifier", "solid lubricant") and asked.wet_clutch:
            yield OilReason("additive", "reject", say("A {kind} spoils wet clutches.", kind=dose.kind), compared, COMMON_PRACTICE)
        elif policy.additives == "never" and not asked_for:
            text = say("An after-market additive is never by the book.")
            yield OilReason("additive", "caution", text, compared, COMMON_PRACTICE, say("additives are not used here"))
        elif share is not None and share > most + 1e-9:
            text = say("More than the fill may carry: over a tenth, or over its own maker's dose.")
            yield OilReason("additive", "caution", text, compared, COMMON_PRACTICE)
        elif share is None:
            yield OilReason("additive", "caution", say("The fill is unknown: so is the share of the additive."), compared, COMMON_PRACTICE)
        else:
            school = "" if asked_for else say("additives are accepted here with their dose on record")
            text = say("{volume_ml} displaces as much oil.", volume_ml=ml(dose.volume_ml))
            yield OilReason("additive", "meets" if asked_for else "equivalent", text, compared, COMMON_PRACTICE, school)


def _residue(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    rest = day.residue
    if rest is None or rest.volume_ml <= 0:
        return
    if rest.lubricant is None:
        text = say("{volume_ml} stay inside and nobody knows of what.", volume_ml=ml(rest.volume_ml))
        yield OilReason("residue", "caution", text, "unknown", COMMON_PRACTICE)
        return
    old = rest.lubricant
    compared = say("{old} stays / {oil} goes in", old=old.name, oil=oil.name)
    if old.family != oil.family:
        text = say(
            "{volume_ml} of {family} oil stay inside: rinse or flush before the final fill.",
            volume_ml=ml(rest.volume_ml),
            family=old.family,
        )
        yield OilReason("residue-family", "meets", text, compared, COMMON_PRACTICE)
        return
    if old.base != oil.base and "PAG" in (old.base, oil.base):
        text = say(
            "{volume_ml} stay inside, and a PAG oil does not mix with another base: rinse or flush before the final fill.",
            volume_ml=ml(rest.volume_ml),
        )
        bases = say("{base} stays / {base_2} goes in", base=old.base or "base not stated", base_2=oil.base or "base not stated")
        yield OilReason("residue-family", "meets", text, bases, COMMON_PRACTICE)
        return
    before, new = thickness_of(old, policy.j306_edition), thickness_of(oil, policy.j306_edition)
    if old.name == oil.name or not before or not new or not day.fill_ml:
        return
    share = rest.volume_ml / (rest.volume_ml + day.fill_ml)
    mixed = blend_viscosity([(share, at_match(before)), (1 - share, at_match(new))])
    text = say(
        "{volume_ml} of {old} stay inside: the blend has {mixed:.1f} mm²/s at 80 °C.",
        volume_ml=ml(rest.volume_ml),
        old=old.name,
        mixed=mixed,
    )
    working = Working(
        "W = log10 log10(ν + 0.7); W of the blend = Σ share·W",
        (
            (f"{old.name}, {share:.0%}", f"{at_match(before):.1f} mm²/s at 80 °C ({before.basis})"),
            (f"{oil.name}, {1 - share:.0%}", f"{at_match(new):.1f} mm²/s at 80 °C ({new.basis})"),
        ),
        "ASTM D7152 by volume",
    )
    yield OilReason("residue-grade", "meets", text, compared, "ASTM D7152", "", working)


_F = ("family",)
_L = ("family", "also")
_G = ("family", "grade", "kv100")
_GRADES = ("family", "also", "grade", "ambient", "edition", "hypoid")
RULES: tuple[OilRule, ...] = (
    OilRule(_family, _F, (*_L, "wet_clutch")),
    OilRule(_wet_clutch, ("family", "approvals"), (*_L, "wet_clutch", "approvals")),
    OilRule(
        _category,
        ("family", "categories", "copper_strip", "declared_safe_for_yellow_metal", "approvals"),
        (*_L, "categories", "wet_clutch", "no_ep", "yellow_metal", "hypoid", "approvals"),
    ),
    OilRule(grade_rule, ("name", "family", "grade", "kv40", "kv100"), _GRADES),
    OilRule(cold_rule, _G, _GRADES),
    OilRule(_friction, ("family", "friction_modifier"), (*_L, "limited_slip", "hypoid", "synchro", "modifier_ml")),
    OilRule(_approval, ("family", "approvals"), (*_L, "wet_clutch", "approvals")),
    OilRule(_base, ("family", "base"), (*_L, "base")),
    OilRule(_detergent, ("family", "detergent"), (*_L, "non_detergent")),
    OilRule(_additives, (), ("yellow_metal", "limited_slip", "wet_clutch", "categories")),
    OilRule(_residue, ("name", "family", "grade", "kv40", "kv100", "base"), ()),
)
