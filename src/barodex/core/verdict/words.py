"""Findings and verdicts in the words of somebody who does not work on driveline oil."""

from __future__ import annotations

from barodex.core.findings.finding import Finding, Particle
from barodex.core.quantity.working import ml, percent
from barodex.core.words import say

_MAGNET = {
    "none": say("Nothing stuck to the magnet in the plug."),
    "film": say("A thin grey film on the magnet."),
    "cap": say("A small cap of grey paste on the magnet."),
    "whiskers": say("A thick beard of metal paste on the magnet."),
    "overflowing": say("More metal on the magnet than it can hold."),
}
_COLOUR = {
    "fresh": say("The oil looked as new"),
    "darker": say("The oil was darker than new"),
    "brown": say("The oil was brown"),
    "dark brown": say("The oil was dark brown"),
    "black": say("The oil was black"),
    "reddish": say("The oil was reddish, which this oil does not turn by itself"),
    "bluish": say("The oil was bluish, which this oil does not turn by itself"),
    "foreign": say("The oil had a foreign colour: it may not be what the book says"),
}
_METAL = {
    "steel": say("steel, from gears or bearings"),
    "yellow": say("brass or bronze, from rings or bushes"),
    "aluminium": say("aluminium, from the housing or a pump"),
    "friction lining": say("lining, from a clutch"),
    "seal": say("seal or sealant"),
    "unknown": say("a material not yet known"),
}
_FORM = {
    "paste": "fine paste",
    "glitter": "glitter",
    "sliver": "needles",
    "flake": "flakes",
    "chip": "chips",
    "part": say("a broken-off piece"),
}
_MEANS = (
    say("Nothing wears more than it should."),
    say("It wears as it should."),
    say("It wears a little more than it should. Nothing is broken; it has to be watched."),
    say("It wears more than it should. Something should be opened or sampled before it breaks."),
    say("Something inside is broken or about to break."),
)


def _particle(p: Particle) -> str:
    many = "a few" if p.count <= 5 else "many"
    size = say(" up to {size_mm:g} mm", size_mm=p.size_mm) if p.size_mm >= 0.5 else ""
    if p.form in ("paste", "glitter", "part"):
        many = ""
    return f"{many} {_FORM[p.form]}{size} ({_METAL[p.metal]})".strip()


def seen_in_words(finding: Finding | None) -> tuple[str, ...]:
    """Say what was seen.

    Parameters
    ----------
    finding : as noted; None when nothing was looked at

    Returns
    -------
    tuple of sentences

    References
    ----------
    Common practice.
    """
    if finding is None:
        return (say("Nobody looked at what came out."),)
    said = []
    if finding.colour:
        water = (
            say(", and milky: there is water in it")
            if finding.clarity == "milky"
            else say(", and hazy")
            if finding.clarity == "hazy"
            else ""
        )
        burnt = say(", and it smelt burnt") if finding.smell == "burnt" else ""
        said.append(f"{_COLOUR[finding.colour]}{water}{burnt}.")
    elif finding.clarity == "milky":
        said.append(say("The oil was milky: there is water in it."))
    if finding.magnet:
        said.append(_MAGNET[finding.magnet])
    if finding.particles is not None:
        parts = [_particle(p) for p in finding.particles]
        said.append(say("In the oil: ") + ", ".join(parts) + "." if parts else say("No particles in the oil."))
    if finding.covered is not None:
        said.append(say("{covered} of the magnet was covered, by the photo.", covered=percent(finding.covered)))
    if finding.wet and finding.wet != "dry":
        said.append(say("Oil outside: at the {wet}.", wet=finding.wet))
    return tuple(said) or (say("Nobody looked at what came out."),)


def meaning(level: int | None) -> str:
    """Say what a debris level means.

    Parameters
    ----------
    level : 0 to 4; None when nothing was looked at

    Returns
    -------
    str

    References
    ----------
    The levels of :mod:`barodex.core.findings.debris`.
    """
    return say("It is not known how it wears.") if level is None else _MEANS[level]


def loss_in_words(band: str, loss_ml: float | None, idle: bool = True) -> str:
    """Say what a loss means.

    Parameters
    ----------
    band : tight, unclear, weep, look again, leak, repair, stop; empty when nothing was measured
    loss_ml : mL; None when not measured
    idle : whether nothing else is open: then a weep is called nothing to do

    Returns
    -------
    str

    References
    ----------
    The bands of :mod:`barodex.core.ledger.drained`.
    """
    if not band or loss_ml is None:
        return say("How much oil it loses is not known yet.")
    return {
        "tight": say("It loses no oil that would matter."),
        "unclear": say("Whether it loses oil could not be told by what came out."),
        "weep": say("It weeps: about {loss_ml} were missing.", loss_ml=ml(loss_ml)) + (say(" Nothing to do now.") if idle else ""),
        "look again": say(
            "About {loss_ml} were missing, after too short or an unknown run: the level should be looked at again soon.",
            loss_ml=ml(loss_ml),
        ),
        "leak": say("It leaks: about {loss_ml} were missing. The seal should be planned.", loss_ml=ml(loss_ml)),
        "repair": say(
            "It leaks much: about {loss_ml} were missing. It should be repaired before the level gets too low.", loss_ml=ml(loss_ml)
        ),
        "stop": say("Oil gets where it must not be."),
    }[band]
