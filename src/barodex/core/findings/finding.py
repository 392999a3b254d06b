"""What may be seen in and on a compartment, and what a judgement of it is made of."""

from __future__ import annotations

from dataclasses import dataclass, field

LEVELS = ("clean", "normal wear", "watch", "investigate", "stop")


MAGNETS = ("none", "film", "cap", "whiskers", "overflowing")  # what covers it, in rising order


FORMS = ("paste", "glitter", "sliver", "flake", "chip", "part")


METALS = ("steel", "yellow", "aluminium", "friction lining", "seal", "unknown")


COLOURS = ("fresh", "darker", "brown", "dark brown", "black")  # as an oil ages
FOREIGN = ("reddish", "bluish", "foreign")  # none that this oil takes on by ageing


CLARITIES = ("clear", "hazy", "milky")


SMELLS = ("none", "burnt")


WET = ("dry", "breather", "seal or flange", "cover or gasket", "brake", "clutch")  # where oil stands on the outside


@dataclass(frozen=True)
class DueCap:
    """By when the oil must be changed again at the latest, from the day of the finding: km, h, days, whichever comes first."""

    km: float
    hours: float
    days: int


@dataclass(frozen=True)
class Particle:
    """Particles of one form: metal, how many (1000 = uncounted many), the largest size in mm, and whether a magnet takes them
    (None: not tried)."""

    form: str
    metal: str = "steel"
    count: int = 1
    size_mm: float = 0.1
    magnetic: bool | None = None


@dataclass(frozen=True)
class Finding:
    """What was seen. None means not looked at, which is never the same as clean."""

    magnet: str | None = None
    particles: tuple[Particle, ...] | None = None
    colour: str | None = None
    clarity: str | None = None
    smell: str | None = None
    d1500: float | None = None  # colour by number, beside the word
    delta_e: float | None = None  # ΔE₀₀ to fresh oil, from a photo
    covered: float | None = None  # share of the magnet, from a photo
    wet: str | None = None  # where it is wet on the outside


@dataclass(frozen=True)
class DebrisContext:
    """Where it was seen: compartment kind, distance since the last change (km, None unknown), and the past."""

    kind: str
    distance_km: float | None = None
    first_change: bool = False
    yellow_metal: bool | None = None
    magnet_fitted: bool | None = None
    previous: Finding | None = None
    previous_level: int | None = None
    older_levels: tuple[int, ...] = ()  # of the looks before the previous one, newest first
    clutches: bool = False  # what the sheet says of linings in this oil, beside what the kind says

    @property
    def past(self) -> tuple[int, ...]:
        """The levels of all looks before, newest first."""
        return self.older_levels if self.previous_level is None else (self.previous_level, *self.older_levels)


@dataclass(frozen=True)
class DebrisReason:
    """One row of the table that spoke: rule id, level, a sentence, and its basis."""

    rule: str
    level: int
    text: str
    basis: str = "common practice"


@dataclass(frozen=True)
class Question:
    """Two things in a finding that do not go together: what they are, and what usually explains it."""

    rule: str
    text: str
    ask: str


@dataclass(frozen=True)
class Assessment:
    """Level 0 to 4 (None: nothing was looked at), what to do, why (worst first), what it does to the interval, and what to ask.

    ``cap``: by when the oil must be changed again whatever the interval says; ``look``: when to look again, in general, where it must be.
    """

    level: int | None
    name: str
    actions: tuple[str, ...]
    reasons: tuple[DebrisReason, ...]
    interval_factor: float
    rise: bool
    not_looked_at: tuple[str, ...] = field(default=())
    questions: tuple[Question, ...] = field(default=())
    cap: DueCap | None = None
    look: str = ""
