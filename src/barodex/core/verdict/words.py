"""Findings and verdicts in the words of somebody who does not work on driveline oil."""

from __future__ import annotations

from barodex.core.findings.finding import Finding, Particle
from barodex.core.quantity.working import ml, percent

_MAGNET = {
    "none": "Nothing stuck to the magnet in the plug.",
    "film": "A thin grey film on the magnet.",
    "cap": "A small cap of grey paste on the magnet.",
    "whiskers": "A thick beard of metal paste on the magnet.",
    "overflowing": "More metal on the magnet than it can hold.",
}
_COLOUR = {
    "fresh": "The oil looked as new",
    "darker": "The oil was darker than new",
    "brown": "The oil was brown",
    "dark brown": "The oil was dark brown",
    "black": "The oil was black",
    "reddish": "The oil was reddish, which this oil does not turn by itself",
    "bluish": "The oil was bluish, which this oil does not turn by itself",
    "foreign": "The oil had a foreign colour: it may not be what the book says",
}
_METAL = {
    "steel": "steel, from gears or bearings",
    "yellow": "brass or bronze, from rings or bushes",
    "aluminium": "aluminium, from the housing or a pump",
    "friction lining": "lining, from a clutch",
    "seal": "seal or sealant",
    "unknown": "a material not yet known",
}
_FORM = {"paste": "fine paste", "glitter": "glitter", "sliver": "needles", "flake": "flakes", "chip": "chips", "part": "a broken-off piece"}
_MEANS = (
    "Nothing wears more than it should.",
    "It wears as it should.",
    "It wears a little more than it should. Nothing is broken; it has to be watched.",
    "It wears more than it should. Something should be opened or sampled before it breaks.",
    "Something inside is broken or about to break.",
)


def _particle(p: Particle) -> str:
    many = "a few" if p.count <= 5 else "many"
    size = f" up to {p.size_mm:g} mm" if p.size_mm >= 0.5 else ""
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
        return ("Nobody looked at what came out.",)
    said = []
    if finding.colour:
        water = ", and milky: there is water in it" if finding.clarity == "milky" else ", and hazy" if finding.clarity == "hazy" else ""
        burnt = ", and it smelt burnt" if finding.smell == "burnt" else ""
        said.append(f"{_COLOUR[finding.colour]}{water}{burnt}.")
    elif finding.clarity == "milky":
        said.append("The oil was milky: there is water in it.")
    if finding.magnet:
        said.append(_MAGNET[finding.magnet])
    if finding.particles is not None:
        parts = [_particle(p) for p in finding.particles]
        said.append("In the oil: " + ", ".join(parts) + "." if parts else "No particles in the oil.")
    if finding.covered is not None:
        said.append(f"{percent(finding.covered)} of the magnet was covered, by the photo.")
    if finding.wet and finding.wet != "dry":
        said.append(f"Oil outside: at the {finding.wet}.")
    return tuple(said) or ("Nobody looked at what came out.",)


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
    return "It is not known how it wears." if level is None else _MEANS[level]


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
        return "How much oil it loses is not known yet."
    return {
        "tight": "It loses no oil that would matter.",
        "unclear": "Whether it loses oil could not be told by what came out.",
        "weep": f"It weeps: about {ml(loss_ml)} were missing." + (" Nothing to do now." if idle else ""),
        "look again": f"About {ml(loss_ml)} were missing, after too short or an unknown run: the level should be looked at again soon.",
        "leak": f"It leaks: about {ml(loss_ml)} were missing. The seal should be planned.",
        "repair": f"It leaks much: about {ml(loss_ml)} were missing. It should be repaired before the level gets too low.",
        "stop": "Oil gets where it must not be.",
    }[band]
