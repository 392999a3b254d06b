"""Findings in the words of an owner: each word said once, and what is bad never beside what is fine."""

import pytest

from barodex.core.findings.finding import Finding, Particle
from barodex.core.verdict.words import loss_in_words, meaning, seen_in_words


@pytest.mark.parametrize(
    ("finding", "said"),
    [
        (None, ("Nobody looked at what came out.",)),
        (Finding(), ("Nobody looked at what came out.",)),
        (Finding(colour="black", clarity="clear", smell="burnt"), ("The oil was black, and it smelt burnt.",)),
        (Finding(colour="black", clarity="clear", smell="none"), ("The oil was black.",)),
        (Finding(colour="fresh", clarity="milky"), ("The oil looked as new, and milky: there is water in it.",)),
        (Finding(colour="brown", clarity="hazy"), ("The oil was brown, and hazy.",)),
        (Finding(clarity="milky"), ("The oil was milky: there is water in it.",)),
        (Finding(magnet="cap"), ("A small cap of grey paste on the magnet.",)),
        (Finding(particles=()), ("No particles in the oil.",)),
        (Finding(wet="dry"), ("Nobody looked at what came out.",)),
        (Finding(wet="drain plug"), ("Oil outside: at the drain plug.",)),
        (Finding(covered=0.253), ("25\N{NO-BREAK SPACE}% of the magnet was covered, by the photo.",)),
    ],
)
def test_what_was_seen(finding, said):
    assert seen_in_words(finding) == said


@pytest.mark.parametrize(
    ("particle", "said"),
    [
        (Particle("chip", "steel", 5, 3.0), "a few chips up to 3 mm (steel, from gears or bearings)"),
        (Particle("chip", "steel", 6, 3.0), "many chips up to 3 mm (steel, from gears or bearings)"),
        (Particle("flake", "yellow", 40, 0.4), "many flakes (brass or bronze, from rings or bushes)"),
        (Particle("flake", "yellow", 40, 0.5), "many flakes up to 0.5 mm (brass or bronze, from rings or bushes)"),
        (Particle("paste", "aluminium", 1, 0.1), "fine paste (aluminium, from the housing or a pump)"),
        (Particle("part", "steel", 1, 12.0), "a broken-off piece up to 12 mm (steel, from gears or bearings)"),
        (Particle("sliver", "unknown", 1, 2.0), "a few needles up to 2 mm (a material not yet known)"),
    ],
)
def test_a_particle(particle, said):
    assert seen_in_words(Finding(particles=(particle,))) == (f"In the oil: {said}.",)


def test_several_particles_stand_in_one_sentence():
    (said,) = seen_in_words(Finding(particles=(Particle("glitter", "steel", 3, 0.2), Particle("flake", "seal", 2, 1.0))))
    assert said == "In the oil: glitter (steel, from gears or bearings), a few flakes up to 1 mm (seal or sealant)."


@pytest.mark.parametrize(
    ("level", "words"),
    [(None, "not known"), (0, "Nothing wears"), (1, "as it should"), (2, "a little more"), (3, "opened or sampled"), (4, "broken")],
)
def test_what_a_level_means(level, words):
    assert words in meaning(level)


@pytest.mark.parametrize(
    ("band", "loss", "words"),
    [
        ("", 120.0, "not known yet"),
        ("leak", None, "not known yet"),
        ("tight", 12.0, "loses no oil"),
        ("weep", 61.4, "about 61 mL were missing. Nothing to do now."),
        ("leak", 180.0, "about 180 mL were missing. The seal should be planned"),
        ("repair", 400.0, "should be repaired"),
        ("stop", 400.0, "where it must not be"),
    ],
)
def test_what_a_loss_means(band, loss, words):
    assert words in loss_in_words(band, loss)


def test_a_weep_is_not_nothing_to_do_while_something_else_is_open():
    assert loss_in_words("weep", 61.4, idle=False) == "It weeps: about 61 mL were missing."
