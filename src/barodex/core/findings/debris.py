"""What came out with the oil, judged: level 0 clean, 1 normal wear, 2 watch, 3 investigate, 4 stop.

The thresholds are the table :data:`RULES`, each with its basis; the page shows the same table.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from barodex.core.findings.asked import questions
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
)
from barodex.core.kinds.kind import clutches_inside, kind_of
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import grouped, percent
from barodex.core.words import say

FACTORS = (1.0, 1.0, 0.5, 0.25, 0.0)
FACTORS_WITH_RISE = (1.0, 0.75, 0.35, 0.25, 0.0)
CAP_TOO_SOON_KM = 10_000.0
LARGEST_MM = 200.0  # nothing larger comes out of a plug hole
BROKEN_OFF_MM = 10.0  # metal or lining of this size has broken off, whatever its form

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
        return DebrisReason("magnet", 0, say("Nothing on the magnet."))
    if f.magnet == "film":
        return DebrisReason("magnet", 1, say("A thin film on the magnet: wear as expected."))
    if f.magnet == "cap":
        if not c.first_change and c.distance_km is not None and c.distance_km < CAP_TOO_SOON_KM:
            return DebrisReason(
                "magnet-soon", 2, say("A cap of paste after only {distance_km} km: more than expected.", distance_km=grouped(c.distance_km))
            )
        if c.first_change:
            return DebrisReason("magnet", 1, say("A cap of fine paste: running-in, as expected."))
        if c.distance_km is None:
            return DebrisReason("magnet", 1, say("A cap of fine paste: after how far is not known."))
        return DebrisReason("magnet", 1, say("A cap of fine paste: wear as expected at this distance."))
    if f.magnet == "whiskers":
        return DebrisReason("magnet-much", 2, say("Whiskers on the magnet: more paste than expected."))
    return DebrisReason("magnet-much", 2, say("The magnet overflows: more than it can hold."))


def _form(name: str) -> Callable[[Finding], list[Particle]]:
    # A crumb of seal or tape is no break, whatever its form and length: it has a row of its own.
    return lambda f: [p for p in f.particles or () if p.form == name and p.metal != "seal"]


def _glitter(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in _form("glitter")(f) if p.metal != "yellow"]
    if not seen:
        return None
    if c.previous is not None and _form("glitter")(c.previous):
        return DebrisReason("glitter-again", 3, say("Glitter in the oil, and last time too: wear is going on."))
    return DebrisReason("glitter", 2, say("Glitter in the oil by lamp: wear worth watching."))


def _slivers(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = _form("sliver")(f)
    if not seen:
        return None
    count, size = sum(p.count for p in seen), max(p.size_mm for p in seen)
    if count > 3 or size >= 2.0:
        return DebrisReason(
            "slivers", 3, say("Needles or slivers ({count}, up to {size:g} mm): a surface is breaking up.", count=count, size=size)
        )
    return DebrisReason(
        "slivers-few",
        2,
        (say("{count} small slivers, under 2 mm.", count=count) if count > 1 else say("{count} small sliver, under 2 mm.", count=count)),
    )


def _flakes(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = _form("flake")(f)
    if not seen:
        return None
    count, size = sum(p.count for p in seen), max(p.size_mm for p in seen)
    if count > 2 or size >= 1.0:
        return DebrisReason(
            "flakes",
            3,
            say("Flakes that can be picked up ({count}, up to {size:g} mm): a hardened face is shedding.", count=count, size=size),
        )
    return DebrisReason(
        "flakes-few",
        2,
        (
            say("{count} small flakes, up to {size:g} mm.", count=count, size=size)
            if count > 1
            else say("{count} small flake, up to {size:g} mm.", count=count, size=size)
        ),
    )


def _chips(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if _form("part")(f):
        return DebrisReason("part", 4, say("A fractured face, tooth, roller or clip: something has broken."))
    seen = _form("chip")(f)
    if not seen:
        return None
    size = max(p.size_mm for p in seen)
    if size >= 2.0:
        return DebrisReason("chip", 4, say("A chip of {size:g} mm: something has broken.", size=size))
    return DebrisReason("chip-small", 3, say("A chip of {size:g} mm: open or sample before long duty.", size=size))


def _yellow(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in f.particles or () if p.metal == "yellow"]
    if not seen:
        return None
    count = sum(p.count for p in seen)
    before = sum(p.count for p in (c.previous.particles or ()) if p.metal == "yellow") if c.previous else None
    odd = c.yellow_metal is False
    if count > 10 or (before is not None and 0 < before < count):
        from_what = (
            say("a bearing cage is wearing, for no brass should be here") if odd else say("synchroniser rings or bushes are wearing")
        )
        return DebrisReason("yellow-many", 3, say("Yellow flecks, many or growing: {from_what}.", from_what=from_what))
    if odd:
        return DebrisReason("yellow-odd", 2, say("Yellow flecks where no yellow metal should be: a bearing cage?"))
    return DebrisReason("yellow-few", 2, say("A few yellow flecks: brass rings or bushes wear there first."))


def _broken_off(f: Finding, c: DebrisContext) -> DebrisReason | None:
    size = max((p.size_mm for p in f.particles or () if p.metal != "seal"), default=0.0)
    if size < BROKEN_OFF_MM:
        return None
    return DebrisReason("broken-off", 4, say("A piece of {size:g} mm: something has broken off, whatever its form.", size=size))


def _aluminium(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if any(p.metal == "aluminium" for p in f.particles or ()):
        return DebrisReason("aluminium", 3, say("Silver and not magnetic: aluminium from the case or a pump."))
    return None


def _fibres(f: Finding, c: DebrisContext) -> DebrisReason | None:
    seen = [p for p in f.particles or () if p.metal == "friction lining"]
    if not seen:
        return None
    if clutches_inside(c.kind, c.clutches):
        size = max(p.size_mm for p in seen)
        if size < 0.5:
            return DebrisReason("fibres-haze", 1, say("A haze of friction fibres: as clutches wear."))
        return DebrisReason("fibres", 2, say("Visible clumps of friction fibres."))
    return DebrisReason("fibres-odd", 3, say("Friction fibres where there is no clutch in the oil: where from?"))


def _water(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.clarity == "hazy":
        if c.previous is not None and c.previous.clarity in ("hazy", "milky"):
            return DebrisReason("hazy", 1, say("Hazy, as last time: keep watching it."))
        return DebrisReason("hazy-new", 2, say("Hazy, and it was not before: air goes in a quarter of an hour, water stays."))
    if f.clarity != "milky":
        return None
    if kind_of(c.kind).clutches:
        return DebrisReason("milky-clutch", 4, say("Milky: water in an oil that runs linings, until the entry is found."))
    return DebrisReason("milky", 3, say("Milky: water is in the oil."))


def _burnt(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.smell != "burnt" and not (f.colour == "black" and f.clarity is not None):
        return None
    if f.smell == "burnt" and f.colour in ("dark brown", "black") and any(p.metal == "friction lining" for p in f.particles or ()):
        return DebrisReason("burnt-fibres", 3, say("Burnt, dark and full of fibres: a clutch has slipped hot."))
    if f.smell == "burnt":
        return DebrisReason("burnt", 2, say("It smells burnt: the oil has been too hot."))
    return DebrisReason("black", 2, say("Black oil: it has been too hot, or too long inside."))


def _seal(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if any(p.metal == "seal" for p in f.particles or ()):
        return DebrisReason("seal", 2, say("Crumbs of seal or sealant: a joint is giving up, or too much was used."))
    return None


def _outside(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.wet in ("brake", "clutch"):
        return DebrisReason(
            "reaches", 4, say("Oil reaches the {wet}: it no longer holds as it must. Do not drive until it is dry and mended.", wet=f.wet)
        )
    return None


def _colour(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.colour is None:
        return None
    if f.colour == "fresh":
        return DebrisReason("colour", 0, say("The oil looks as fresh."))
    if f.colour in FOREIGN:
        what = say("of a foreign colour") if f.colour == "foreign" else f.colour
        return DebrisReason("odd-colour", 2, say("The oil is {what}: not what this oil turns to by itself.", what=what))
    return DebrisReason("colour", 1, say("The oil is {colour}: used, as expected.", colour=f.colour))


def _paste(f: Finding, c: DebrisContext) -> DebrisReason | None:
    if f.particles is None:
        return None
    if any(p.form == "paste" and p.metal != "yellow" for p in f.particles):
        return DebrisReason("paste", 1, say("Fine paste that cannot be felt between the fingers: wear as expected."))
    if not f.particles:
        return DebrisReason("no-particles", 0, say("No particles seen."))
    return None


RULES: tuple[DebrisTest, ...] = (
    DebrisTest("part", say("a fractured or machined face, tooth, roller, clip; chips of 2 mm or more"), "4; a smaller chip 3", _chips),
    DebrisTest("broken-off", say("metal or lining of 10 mm or more"), "4; seal, sealant or tape of any length 2", _broken_off),
    DebrisTest("reaches", say("oil that reaches a brake or a clutch"), "4", _outside),
    DebrisTest(
        "water",
        say("milky, or water beads; hazy after a quarter of an hour"),
        "3; automatic, dual-clutch, clutch-type or marine 4; hazy 2 when new, else 1",
        _water,
    ),
    DebrisTest("slivers", say("needles or slivers: up to 3, shorter than 2 mm"), "2; more or longer 3", _slivers),
    DebrisTest("flakes", say("flakes you can pick up: one or two under 1 mm"), "2; several or larger 3", _flakes),
    DebrisTest("yellow", say("yellow flecks: a few"), "2; many or growing 3; where none should exist the same", _yellow),
    DebrisTest("aluminium", say("silver and not magnetic"), "3", _aluminium),
    DebrisTest("fibres", say("friction fibres in a clutch compartment: a haze"), "1; clumps 2; in a gear-only box 3", _fibres),
    DebrisTest("glitter", say("glitter seen in the oil by lamp"), "2; again 3", _glitter),
    DebrisTest("burnt", say("burnt smell, or black"), "2; burnt and dark with fibres 3", _burnt),
    DebrisTest("seal", say("seal or sealant crumbs"), "2", _seal),
    DebrisTest(
        "magnet",
        say("the magnet: film or cap up to about 2 mm"),
        "1; whiskers, overflowing, or (but at the first change) a cap before 10 000 km 2",
        _magnet,
    ),
    DebrisTest("paste", say("fine paste that cannot be felt"), "1", _paste),
    DebrisTest("colour", say("oil darker than fresh"), "1; reddish, bluish or of another foreign colour 2", _colour),
)

_ACTIONS: dict[int, tuple[str, ...]] = {
    0: (say("Clean: go on as planned."),),
    1: (say("Note it, and compare next time."),),
    2: (),
    3: (say("Open or sample before long duty."),),
    4: (
        say("Do not drive."),
        say("Leave it where it stands, or close it with oil and move it only by trailer or winch, driven wheels off the ground."),
    ),
}

_LOOK: dict[int, str] = {
    2: say(
        "Look again after the lesser of 5\N{NO-BREAK SPACE}000\N{NO-BREAK SPACE}km / 50\N{NO-BREAK SPACE}h, a quarter of the interval, or three months."
    ),
    3: say("Look again at a fifth of the shortened interval."),
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
            raise Inconsistent(
                say("{name} “{value}” is not one of {allowed}.", name=name, value=value, allowed=", ".join(allowed)),
                field=name,
                value=value,
                allowed=", ".join(allowed),
            )
    for p in f.particles or ():
        if p.form not in FORMS or p.metal not in METALS:
            raise Inconsistent(
                say("A particle is one of {forms}, of {metals}.", forms=", ".join(FORMS), metals=", ".join(METALS)),
                field="particles",
                value=p.form,
            )
        in_range("size_mm", p.size_mm, 0.01, LARGEST_MM, "mm")
        in_range("count", p.count, 1, 1000)
    if c.distance_km is not None:
        in_range("distance_km", c.distance_km, 0, 10_000_000, "km")
    for measure, number, low, high in (("d1500", f.d1500, 0.5, 8), ("delta_e", f.delta_e, 0, 200), ("covered", f.covered, 0, 1)):
        if number is not None:
            in_range(measure, number, low, high)


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
        return Assessment(None, "not looked at", (say("Look at the oil and the magnet before you close."),), (), 1.0, False, missing, asked)
    level = max(r.level for r in reasons)
    if level == 2 and max(context.past[:1], default=0) >= 2 and rise:
        reasons.append(DebrisReason("second-watch", 3, say("Watched last time, and it has risen since.")))
        level = 3
    elif rise:
        further = ": the interval is shortened one step further" if FACTORS_WITH_RISE[level] < FACTORS[level] else ""
        reasons.append(DebrisReason("rise", min(level, 2), say("More than last time{further}.", further=further)))
    reasons.sort(key=lambda r: -r.level)
    factor = (FACTORS_WITH_RISE if rise else FACTORS)[level]
    held, worst = _held(level, context.past)
    if held < factor and level <= 1:
        text = say("A fair look after level {worst}: {held} of the interval this time.", worst=worst, held=percent(held))
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
