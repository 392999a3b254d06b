"""What a spreadsheet would add: vehicles, compartments, oils, containers, changes and readings, each gathered from its rows."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, field

from barodex.core.kinds.kind import kind_of
from barodex.core.sheet.figures import Figures, Meaning, declared
from barodex.core.sheet.sheet import Plug, Sheet, asked_by, sheet_of
from barodex.core.words import say

ROW_STATES = ("new", "known", "twice", "problem", "doubt", "skipped", "total", "nothing")


@dataclass
class VehicleDraft:
    """A vehicle that a row names; ``id`` where the book has it. Its meter counts km or h."""

    name: str
    plate: str = ""
    kind: str = ""
    meter: str = ""
    id: int | None = None


@dataclass
class BoxDraft:
    """A compartment that a row names; ``id`` where the book has it. Amounts in mL, km, months."""

    vehicle: VehicleDraft
    name: str
    kind: str = ""
    slot: str = ""
    capacity_ml: float | None = None
    grade: str = ""
    interval_km: float | None = None
    interval_months: int | None = None
    id: int | None = None
    sheet: Sheet | None = None

    @property
    def sheet_name(self) -> str:
        """What its sheet would be called: compartments of one kind that take the same share one."""
        parts = [self.kind.capitalize(), f"{self.capacity_ml / 1000:g} L" if self.capacity_ml else "capacity unknown", self.grade]
        every = [
            say("{interval_km:g} km", interval_km=self.interval_km) if self.interval_km else "",
            say("{interval_months} months", interval_months=self.interval_months) if self.interval_months else "",
        ]
        return ", ".join(filter(None, [*parts, *every]))[:80]

    @property
    def as_kind(self) -> str:
        """Its kind, of the book or of the file; empty while it is not known."""
        return self.sheet.kind if self.sheet is not None else self.kind

    def figures(self) -> Figures:
        """The figures of its sheet: what the file says, else what is usual for its kind."""
        kind = kind_of(self.kind)
        return Figures(
            family=kind.family,
            capacity_ml=self.capacity_ml,
            grade=self.grade,
            fill_method=kind.fill_method,
            drain_method=kind.drain_method,
            warm_up=kind.warm_up,
            wet_clutch=kind.clutches,
            interval_km=self.interval_km,
            interval_months=self.interval_months,
        )

    def plugs(self) -> tuple[Plug, ...]:
        """The plugs that its kind usually has."""
        return tuple(Plug(p.role, p.label, seal=p.seal, magnet=p.magnet) for p in kind_of(self.kind).plugs)

    def as_sheet(self) -> Sheet | None:
        """Its sheet, of the book or as it would be written; None while its kind is not known."""
        if self.sheet is None and self.kind:
            figures = self.figures()
            self.sheet = sheet_of(self.kind, figures, asked_by(self.kind, figures), self.plugs(), trust={"capacity": "remembered"})
        return self.sheet


@dataclass
class OilDraft:
    """An oil that a row names with what its label says; ``id`` where the book has it."""

    name: str
    family: str = ""
    grade: str = ""
    categories: str = ""
    id: int | None = None


@dataclass
class ContainerDraft:
    """A container of an oil, mL."""

    oil: OilDraft
    label: str
    size_ml: float
    content_ml: float


@dataclass
class ChangeDraft:
    """A past change of a compartment: day, meter (km or h), mL."""

    box: BoxDraft
    on: dt.date
    meter: float | None = None
    oil: OilDraft | None = None
    drained_ml: float | None = None
    poured_ml: float | None = None
    note: str = ""
    gaps: list[str] = field(default_factory=list)


@dataclass
class ReadingDraft:
    """A reading of a vehicle, km or h."""

    vehicle: VehicleDraft
    on: dt.date
    value: float


@dataclass(frozen=True)
class Issue:
    """Something about a row: at which figure (empty: the whole row), and a sentence."""

    field: str
    message: str


@dataclass
class Row:
    """A row with what it becomes: ``adds`` in words, ``problems`` that must be repaired, ``doubts`` that want a reason.

    ``state`` is one of :data:`ROW_STATES`; ``cells`` are its texts by figure, as repaired.
    """

    table: int
    line: int
    cells: Mapping[str, str]
    state: str = "new"
    adds: list[str] = field(default_factory=list)
    problems: list[Issue] = field(default_factory=list)
    doubts: list[Issue] = field(default_factory=list)
    reason: str = ""
    change: ChangeDraft | None = None
    reading: ReadingDraft | None = None
    box: BoxDraft | None = None
    vehicle: VehicleDraft | None = None
    oil: OilDraft | None = None
    container: ContainerDraft | None = None

    @property
    def key(self) -> str:
        """By which it is repaired."""
        return f"{self.table}.{self.line}"

    @property
    def counts(self) -> bool:
        """Whether it would be taken in."""
        return self.state in ("new", "doubt") and not self.problems


def longest(figure: str, usual: int) -> int:
    """How many characters a figure of a sheet may have."""
    meaning: Meaning | None = declared()[figure].meaning if figure in declared() else None
    return meaning.longest if meaning and meaning.longest else usual
