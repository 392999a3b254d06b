"""What is asked once more of a finding that hardly can be, before it is judged."""

from __future__ import annotations

from barodex.core.findings.finding import DebrisContext, Finding, Question
from barodex.core.words import say

COARSE_MM = 2.0  # paste and glitter are finer: above, it is asked what it is


def _cover_questions(f: Finding, c: DebrisContext) -> list[Question]:
    steel = [p for p in f.particles or () if p.metal == "steel" and p.form not in ("paste", "glitter")]
    found = []
    if f.magnet == "none" and steel and c.magnet_fitted is not False and not any(p.magnetic is False for p in steel):
        text = say("The magnet is clean, yet there are {form}s of steel.", form=steel[0].form)
        found.append(Question("clean-and-chips", text, say("Is it steel? Try a second magnet. Was the magnet wiped before you looked?")))
    if f.magnet in ("whiskers", "overflowing") and f.particles == ():
        text = say("The magnet is full ({magnet}), yet no particles were seen.", magnet=f.magnet)
        found.append(Question("full-and-none", text, say("Wipe the magnet on white paper and look again by lamp.")))
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
            ask = say("Stainless steel, aluminium or lining? File it: aluminium is soft and bright. A match: lining glows, seal smells.")
            found.append(Question("steel-not-magnetic", say("A {form} of steel that a magnet does not take.", form=p.form), ask))
        if p.metal in ("yellow", "aluminium") and p.magnetic is True:
            name = "yellow metal" if p.metal == "yellow" else "aluminium"
            ask = say("Plated steel, or steel dust on it? File it and try again.")
            found.append(Question("soft-but-magnetic", say("A {form} of {name} that a magnet takes.", form=p.form, name=name), ask))
        if p.form in ("paste", "glitter") and p.size_mm > COARSE_MM and p.metal != "friction lining":
            found.append(
                Question(
                    "coarse-paste",
                    say("{form} of {size_mm:g} mm.", form=p.form.capitalize(), size_mm=p.size_mm),
                    say("What can be picked up is a flake or a chip."),
                )
            )
    if f.colour == "fresh" and f.smell == "burnt":
        found.append(
            Question("fresh-and-burnt", say("As fresh, yet burnt."), say("Smell the fresh oil: some additives smell so when new."))
        )
    if f.colour == "fresh" and f.clarity == "milky":
        found.append(Question("fresh-and-milky", say("As fresh, yet milky."), say("Air from a pour settles in minutes; water does not.")))
    return tuple(found)
