"""Whether the figures of an oil can be."""

from __future__ import annotations

from barodex.core.oil.grades import parse_category, read_grade
from barodex.core.oil.lubricant import BASES, COPPER_STRIPS, FAMILIES, Lubricant
from barodex.core.oil.viscosity import kinematic_viscosity
from barodex.core.quantity.errors import Ambiguous, Inconsistent, in_range
from barodex.core.words import say


def check_lubricant(oil: Lubricant) -> None:
    """Refuse an oil whose figures cannot be.

    Parameters
    ----------
    oil : viscosities in mm²/s, density in kg/m³

    Raises
    ------
    OutOfRange : a viscosity or density outside what oils of the trade have
    Inconsistent : kv100 not below kv40, or a word that is not in the lists
    Unreadable : a category or grade that does not exist
    Ambiguous : a density that looks like g/mL

    References
    ----------
    Ranges: ASTM D341 (2 mm²/s), ASTM D1250 (800 to 1164 kg/m³); D130 classes as its table lists them.
    """

    for name, value, allowed in (
        ("family", oil.family, FAMILIES),
        ("base", oil.base, BASES),
        ("copper_strip", oil.copper_strip, COPPER_STRIPS),
    ):
        if value not in allowed:
            raise Inconsistent(
                say("“{value}” is not one of: {allowed}.", value=value, allowed=", ".join(a for a in allowed if a)), field=name, value=value
            )
    parse_category(oil.categories)
    if oil.grade and oil.family in ("gear", "engine"):
        read_grade(oil.grade, "engine" if oil.family == "engine" else "gear")
    if oil.density15 is not None:
        if 0.7 <= oil.density15 <= 1.3:
            raise Ambiguous(
                say(
                    "{density15:g} looks like g/mL: is it {density15_2:.0f} kg/m³? Type it so.",
                    density15=oil.density15,
                    density15_2=oil.density15 * 1000,
                ),
                field="density15",
                value=oil.density15,
                allowed="800 to 1164 kg/m³",
            )
        in_range("density15", oil.density15, 800, 1164, "kg/m³")
    for name, kv in (("kv40", oil.kv40), ("kv100", oil.kv100)):
        if kv is not None:
            in_range(name, kv, 2, 5000, "mm²/s")
    if oil.kv40 is not None and oil.kv100 is not None:
        kinematic_viscosity(oil.kv40, oil.kv100, 40)
