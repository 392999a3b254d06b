"""What came out with the oil, judged: level 0 clean, 1 normal wear, 2 watch, 3 investigate, 4 stop.

The thresholds are the table :data:`RULES`, each with its basis; the page shows the same table.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from barodex.core.findings.finding import (
    CLARITIES,
    COLOURS,
    FOREIGN,
    FORMS,
    LEVELS,
    MAGNETS,
    METALS,
    SMELLS,
    WET,
    Assessment,
    DebrisContext,
    DebrisReason,
    DueCap,
    Finding,
    Particle,
    Question,
)
from barodex.core.kinds.kind import clutches_inside, kind_of
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import grouped, percent

FACTORS = (1.0, 1.0, 0.5, 0.25, 0.0)
FACTORS_WITH_RISE = (1.0, 0.75, 0.35, 0.25, 0.0)
CAP_TOO_SOON_KM = 10_000.0
LARGEST_MM = 200.0  # nothing larger comes out of a plug hole
BROKEN_OFF_MM = 10.0  # metal or lining of this size has broken off, whatever its form
COARSE_MM = 2.0  # paste and glitter are finer: above, it is asked what it is
RESTORED = {2: (0.75, 1.0), 3: (0.5, 0.75, 1.0), 4: (0.5, 0.75, 1.0)}  # by the first, second, third fair look after such a level


MILKY_CAP = DueCap(500.0, 10.0, 30)


@dataclass(frozen=True)
class DebrisTest:
    """A row: id, the evidence in words, the levels it can give in words, and the test itself."""

    id: str
    evidence: str
    levels: str
    test: Callable[[Finding, DebrisContext], DebrisReason | None]


def _magnet(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.magnet is None:
        return None
    if f.magnet == "none":
        return DebrisReason("magnet", 0, "Nothing on the magnet.")
    if f.magnet == "film":
        return DebrisReason("magnet", 1, "A thin film on the magnet: wear as expected.")
    if f.magnet == "cap":
        if not c.first_change and c.distance_km is not None and c.distance_km < CAP_TOO_SOON_KM:
            return DebrisReason("magnet-soon", 2, f"A cap of paste after only {grouped(c.distance_km)} km: more than expected.")
        if c.first_change:
            return DebrisReason("magnet", 1, "A cap of fine paste: running-in, as expected.")
        if c.distance_km is None:
            return DebrisReason("magnet", 1, "A cap of fine paste: after how far is not known.")
        return DebrisReason("magnet", 1, "A cap of fine paste: wear as expected at this distance.")
    if f.magnet == "whiskers":
        return DebrisReason("magnet-much", 2, "Whiskers on the magnet: more paste than expected.")
    return DebrisReason("magnet-much", 2, "The magnet overflows: more than it can hold.")


def _form(name: str) -> Callable[[Finding], list[Particle]]:
    # A crumb of seal or tape is no break, whatever its form and length: it has a row of its own.
    return lambda f: [p for p in f.particles or () if p.form == name and p.metal != "seal"]


def _glitter(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in _form("glitter")(f) if p.metal != "yellow"]
    if not seen:
        return None
    if c.previous is not None and _form("glitter")(c.previous):
        return DebrisReason("glitter-again", 3, "Glitter in the oil, and last time too: wear is going on.")
    return DebrisReason("glitter", 2, "Glitter in the oil by lamp: wear worth watching.")


def _slivers(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = _form("sliver")(f)
    if not seen:
        return None
    count, size = sum(p.count for p in seen), max(p.size_mm for p in seen)
    if count > 3 or size >= 2.0:
        return DebrisReason("slivers", 3, f"Needles or slivers ({count}, up to {size:g} mm): a surface is breaking up.")
    return DebrisReason("slivers-few", 2, f"{count} small sliver{'s' if count > 1 else ''}, under 2 mm.")


def _flakes(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = _form("flake")(f)
    if not seen:
        return None
    count, size = sum(p.count for p in seen), max(p.size_mm for p in seen)
    if count > 2 or size >= 1.0:
        return DebrisReason("flakes", 3, f"Flakes that can be picked up ({count}, up to {size:g} mm): a hardened face is shedding.")
    return DebrisReason("flakes-few", 2, f"{count} small flake{'s' if count > 1 else ''}, up to {size:g} mm.")


def _chips(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if _form("part")(f):
        return DebrisReason("part", 4, "A fractured face, tooth, roller or clip: something has broken.")
    seen = _form("chip")(f)
    if not seen:
        return None
    size = max(p.size_mm for p in seen)
    if size >= 2.0:
        return DebrisReason("chip", 4, f"A chip of {size:g} mm: something has broken.")
    return DebrisReason("chip-small", 3, f"A chip of {size:g} mm: open or sample before long duty.")


def _yellow(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in f.particles or () if p.metal == "yellow"]
    if not seen:
        return None
    count = sum(p.count for p in seen)
    before = sum(p.count for p in (c.previous.particles or ()) if p.metal == "yellow") if c.previous else None
    odd = c.yellow_metal is False
    if count > 10 or (before is not None and 0 < before < count):
        from_what = "a bearing cage is wearing, for no brass should be here" if odd else "synchroniser rings or bushes are wearing"
        return DebrisReason("yellow-many", 3, f"Yellow flecks, many or growing: {from_what}.")
    if odd:
        return DebrisReason("yellow-odd", 2, "Yellow flecks where no yellow metal should be: a bearing cage?")
    return DebrisReason("yellow-few", 2, "A few yellow flecks: brass rings or bushes wear there first.")


def _broken_off(f: Finding, c: DebrisContext) -> DebrisReason | None:
    size = max((p.size_mm for p in f.particles or () if p.metal != "seal"), default=0.0)
    if size < BROKEN_OFF_MM:
        return None
    return DebrisReason("broken-off", 4, f"A piece of {size:g} mm: something has broken off, whatever its form.")


def _aluminium(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if any(p.metal == "aluminium" for p in f.particles or ()):
        return DebrisReason("aluminium", 3, "Silver and not magnetic: aluminium from the case or a pump.")
    return None


def _fibres(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in f.particles or () if p.metal == "friction lining"]
    if not seen:
        return None
    if clutches_inside(c.kind, c.clutches):
        size = max(p.size_mm for p in seen)
        if size < 0.5:
            return DebrisReason("fibres-haze", 1, "A haze of friction fibres: as clutches wear.")
        return DebrisReason("fibres", 2, "Visible clumps of friction fibres.")
    return DebrisReason("fibres-odd", 3, "Friction fibres where there is no clutch in the oil: where from?")


def _water(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.clarity == "hazy":
        if c.previous is not None and c.previous.clarity in ("hazy", "milky"):
            return DebrisReason("hazy", 1, "Hazy, as last time: keep watching it.")
        return DebrisReason("hazy-new", 2, "Hazy, and it was not before: air goes in a quarter of an hour, water stays.")
    if f.clarity != "milky":
        return None
    if kind_of(c.kind).clutches:
        return DebrisReason("milky-clutch", 4, "Milky: water in an oil that runs linings, until the entry is found.")
    return DebrisReason("milky", 3, "Milky: water is in the oil.")


def _burnt(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.smell != "burnt" and not (f.colour == "black" and f.clarity is not None):
        return None
    if f.smell == "burnt" and f.colour in ("dark brown", "black") and any(p.metal == "friction lining" for p in f.particles or ()):
        return DebrisReason("burnt-fibres", 3, "Burnt, dark and full of fibres: a clutch has slipped hot.")
    if f.smell == "burnt":
        return DebrisReason("burnt", 2, "It smells burnt: the oil has been too hot.")
    return DebrisReason("black", 2, "Black oil: it has been too hot, or too long inside.")


def _seal(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if any(p.metal == "seal" for p in f.particles or ()):
        return DebrisReason("seal", 2, "Crumbs of seal or sealant: a joint is giving up, or too much was used.")
    return None


def _outside(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.wet in ("brake", "clutch"):
        return DebrisReason(
            "reaches", 4, f"Oil reaches the {f.wet}: it no longer holds as it must. Do not drive until it is dry and mended."
        )
    return None


def _colour(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.colour is None:
        return None
    if f.colour == "fresh":
        return DebrisReason("colour", 0, "The oil looks as fresh.")
    if f.colour in FOREIGN:
        what = "of a foreign colour" if f.colour == "foreign" else f.colour
        return DebrisReason("odd-colour", 2, f"The oil is {what}: not what this oil turns to by itself.")
    return DebrisReason("colour", 1, f"The oil is {f.colour}: used, as expected.")


def _paste(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.particles is None:
        return None
    if any(p.form == "paste" and p.metal != "yellow" for p in f.particles):
        return DebrisReason("paste", 1, "Fine paste that cannot be felt between the fingers: wear as expected.")
    if not f.particles:
        return DebrisReason("no-particles", 0, "No particles seen.")
    return None


RULES: tuple[DebrisTest, ...] = (
    DebrisTest("part", "a fractured or machined face, tooth, roller, clip; chips of 2 mm or more", "4; a smaller chip 3", _chips),
    DebrisTest("broken-off", "metal or lining of 10 mm or more", "4; seal, sealant or tape of any length 2", _broken_off),
    DebrisTest("reaches", "oil that reaches a brake or a clutch", "4", _outside),
    DebrisTest(
        "water",
        "milky, or water beads; hazy after a quarter of an hour",
        "3; automatic, dual-clutch, clutch-type or marine 4; hazy 2 when new, else 1",
        _water,
    ),
    DebrisTest("slivers", "needles or slivers: up to 3, shorter than 2 mm", "2; more or longer 3", _slivers),
    DebrisTest("flakes", "flakes you can pick up: one or two under 1 mm", "2; several or larger 3", _flakes),
    DebrisTest("yellow", "yellow flecks: a few", "2; many or growing 3; where none should exist the same", _yellow),
    DebrisTest("aluminium", "silver and not magnetic", "3", _aluminium),
    DebrisTest("fibres", "friction fibres in a clutch compartment: a haze", "1; clumps 2; in a gear-only box 3", _fibres),
    DebrisTest("glitter", "glitter seen in the oil by lamp", "2; again 3", _glitter),
    DebrisTest("burnt", "burnt smell, or black", "2; burnt and dark with fibres 3", _burnt),
    DebrisTest("seal", "seal or sealant crumbs", "2", _seal),
    DebrisTest(
        "magnet",
        "the magnet: film or cap up to about 2 mm",
        "1; whiskers, overflowing, or (but at the first change) a cap before 10 000 km 2",
        _magnet,
    ),
    DebrisTest("paste", "fine paste that cannot be felt", "1", _paste),
    DebrisTest("colour", "oil darker than fresh", "1; reddish, bluish or of another foreign colour 2", _colour),
)

_ACTIONS: dict[int, tuple[str, ...]] = {
    0: ("Clean: go on as planned.",),
    1: ("Note it, and compare next time.",),
    2: (),
    3: ("Open or sample before long duty.",),
    4: (
        "Do not drive.",
        "Leave it where it stands, or close it with oil and move it only by trailer or winch, driven wheels off the ground.",
    ),
}

_LOOK: dict[int, str] = {
    2: "Look again after the lesser of 5 000 km / 50 h, a quarter of the interval, or three months.",
    3: "Look again at a fifth of the shortened interval.",
}


def _check(f: Finding, c: DebrisContext) -> None:
    for name, value, allowed in (
        ("magnet", f.magnet, MAGNETS),
        ("colour", f.colour, COLOURS + FOREIGN),
        ("clarity", f.clarity, CLARITIES),
        ("smell", f.smell, SMELLS),
        ("wet", f.wet, WET),
    ):
        if value is not None and value not in allowed:
            raise Inconsistent(f"{name} “{value}” is not one of {', '.join(allowed)}.", field=name, value=value, allowed=", ".join(allowed))
    for p in f.particles or ():
        if p.form not in FORMS or p.metal not in METALS:
            raise Inconsistent(f"A particle is one of {', '.join(FORMS)}, of {', '.join(METALS)}.", field="particles", value=p.form)
        in_range("size_mm", p.size_mm, 0.01, LARGEST_MM, "mm")
        in_range("count", p.count, 1, 1000)
    if c.distance_km is not None:
        in_range("distance_km", c.distance_km, 0, 10_000_000, "km")
    for measure, number, low, high in (("d1500", f.d1500, 0.5, 8), ("delta_e", f.delta_e, 0, 200), ("covered", f.covered, 0, 1)):
        if number is not None:
            in_range(measure, number, low, high)


def _cover_questions(f: Finding, c: DebrisContext) -> list[Question]:
    steel = [p for p in f.particles or () if p.metal == "steel" and p.form not in ("paste", "glitter")]
    found = []
    if f.magnet == "none" and steel and c.magnet_fitted is not False and not any(p.magnetic is False for p in steel):
        text = f"The magnet is clean, yet there are {steel[0].form}s of steel."
        found.append(Question("clean-and-chips", text, "Is it steel? Try a second magnet. Was the magnet wiped before you looked?"))
    if f.magnet in ("whiskers", "overflowing") and f.particles == ():
        text = f"The magnet is full ({f.magnet}), yet no particles were seen."
        found.append(Question("full-and-none", text, "Wipe the magnet on white paper and look again by lamp."))
    return found


def questions(finding: Finding, context: DebrisContext) -> tuple[Question, ...]:
    """Ask about what does not go together in a finding.

    Parameters
    ----------
    finding, context : as :func:`assess`

    Returns
    -------
    tuple of Question, empty when nothing contradicts

    References
    ----------
    Iron and most steels are drawn by a magnet; brass, bronze and aluminium are not. The rest is common practice.
    """
    f, found = finding, _cover_questions(finding, context)
    for p in f.particles or ():
        if p.metal == "steel" and p.magnetic is False:
            ask = "Stainless steel, aluminium or lining? File it: aluminium is soft and bright. A match: lining glows, seal smells."
            found.append(Question("steel-not-magnetic", f"A {p.form} of steel that a magnet does not take.", ask))
        if p.metal in ("yellow", "aluminium") and p.magnetic is True:
            name = "yellow metal" if p.metal == "yellow" else "aluminium"
            ask = "Plated steel, or steel dust on it? File it and try again."
            found.append(Question("soft-but-magnetic", f"A {p.form} of {name} that a magnet takes.", ask))
        if p.form in ("paste", "glitter") and p.size_mm > COARSE_MM and p.metal != "friction lining":
            found.append(
                Question("coarse-paste", f"{p.form.capitalize()} of {p.size_mm:g} mm.", "What can be picked up is a flake or a chip.")
            )
    if f.colour == "fresh" and f.smell == "burnt":
        found.append(Question("fresh-and-burnt", "As fresh, yet burnt.", "Smell the fresh oil: some additives smell so when new."))
    if f.colour == "fresh" and f.clarity == "milky":
        found.append(Question("fresh-and-milky", "As fresh, yet milky.", "Air from a pour settles in minutes; water does not."))
    return tuple(found)


def _rise(f: Finding, c: DebrisContext) -> bool:
    """More cover, a new form or metal, or a larger size since the last change (a paste is no news)."""
    if c.previous is None:
        return False
    if f.magnet and c.previous.magnet and MAGNETS.index(f.magnet) > MAGNETS.index(c.previous.magnet):
        return True
    if f.particles is None or c.previous.particles is None:
        return False
    now = {(p.form, p.metal): p.size_mm for p in f.particles if p.form != "paste"}
    then = {(p.form, p.metal): p.size_mm for p in c.previous.particles}
    return any(key not in then or size > then[key] for key, size in now.items())


def assess(finding: Finding, context: DebrisContext) -> Assessment:
    """Judge what came out. The worst row decides; a worse finding never gives a better level.

    Parameters
    ----------
    finding : what was seen; None in a field means not looked at; sizes in mm, 0.01 to 200
    context : the compartment's kind, distance (km) and past

    Returns
    -------
    Assessment; ``level`` None when nothing at all was looked at

    Raises
    ------
    Inconsistent : a word that is not in the lists
    OutOfRange : a size, count or distance outside its range

    References
    ----------
    Common practice throughout; the rows are :data:`RULES`.
    """
    _check(finding, context)
    missing = tuple(
        label
        for label, value in (
            ("magnet", finding.magnet),
            ("particles", finding.particles),
            ("colour", finding.colour),
            ("clarity", finding.clarity),
            ("smell", finding.smell),
        )
        if value is None and not (label == "magnet" and context.magnet_fitted is False)
    )
    reasons = [r for rule in RULES if (r := rule.test(finding, context))]
    rise = _rise(finding, context)
    asked = questions(finding, context)
    if not reasons:
        return Assessment(None, "not looked at", ("Look at the oil and the magnet before you close.",), (), 1.0, False, missing, asked)
    level = max(r.level for r in reasons)
    if level == 2 and max(context.past[:1], default=0) >= 2 and rise:
        reasons.append(DebrisReason("second-watch", 3, "Watched last time, and it has risen since."))
        level = 3
    elif rise:
        further = ": the interval is shortened one step further" if FACTORS_WITH_RISE[level] < FACTORS[level] else ""
        reasons.append(DebrisReason("rise", min(level, 2), f"More than last time{further}."))
    reasons.sort(key=lambda r: -r.level)
    factor = (FACTORS_WITH_RISE if rise else FACTORS)[level]
    held, worst = _held(level, context.past)
    if held < factor and level <= 1:
        text = f"A fair look after level {worst}: {percent(held)} of the interval this time."
        reasons.append(DebrisReason("after-watch", level, text))
    cap = MILKY_CAP if any(r.rule in ("milky", "milky-clutch") for r in reasons) else None
    return Assessment(
        level=level,
        name=LEVELS[level],
        actions=_ACTIONS[level],
        look=_LOOK.get(level, ""),
        reasons=tuple(reasons),
        interval_factor=min(factor, held),
        rise=rise,
        not_looked_at=missing,
        questions=asked,
        cap=cap,
    )


def _held(level: int, past: tuple[int, ...]) -> tuple[float, int]:
    """What past levels still hold the interval at, and the level that does: each fair look gives back a step."""
    held, worst, fair = 1.0, 0, 1 if level <= 1 else 0
    for before in past:
        steps = RESTORED.get(before)
        if steps is None:
            fair += 1
            continue
        step = steps[min(max(fair, 1), len(steps)) - 1]
        if step < held:
            held, worst = step, before
    return held, worst
