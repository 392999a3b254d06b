"""The guide that a sheet leads to, to be read and printed before anything is started."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.core.errors import Inconsistent
from barodex.core.procedure import Conditions, Job, build
from barodex.core.usage import DEFAULT_PER_DAY

from ..models import SpecSheet
from .sheets import core_sheet, current_revision


@dataclass(frozen=True)
class GuideStep:
    """A step as it stands on paper; ``opens_after`` are the titles of the steps that it waits for, ``notes`` what it asks for."""

    id: str
    phase: str
    title: str
    why: str
    caution: str
    advice: tuple[str, ...]
    checklist: tuple[str, ...]
    notes: tuple[str, ...]
    gate: bool
    minutes: float
    opens_after: tuple[str, ...]


@dataclass(frozen=True)
class GuideView:
    """A sheet's guide for one compartment of a kind of vehicle."""

    sheet: str
    kind: str
    revision: int
    vehicle_kind: str
    vehicle_kinds: tuple[str, ...]
    steps: tuple[GuideStep, ...]


def guide_of(sheet_id: int, vehicle_kind: str, as_of: dt.date) -> GuideView:
    """The guide of a sheet; raises SpecSheet.DoesNotExist, or Inconsistent for a vehicle of no known kind."""
    kinds = tuple(DEFAULT_PER_DAY)
    if vehicle_kind not in kinds:
        raise Inconsistent(
            f"“{vehicle_kind}” is not a kind of vehicle.", field="vehicle_kind", value=vehicle_kind, allowed=", ".join(kinds)
        )
    sheet = SpecSheet.objects.prefetch_related("revisions__plugs", "revisions__sources").get(pk=sheet_id)
    revision = current_revision(sheet.revisions.all(), as_of)
    oil = " ".join(filter(None, (revision.family, revision.grade, revision.categories)))
    made = build((Job("0", sheet.kind.capitalize(), core_sheet(revision), oil),), Conditions("the vehicle", vehicle_kind))
    steps = tuple(
        GuideStep(
            s.id,
            s.phase,
            s.title,
            s.why,
            s.caution,
            tuple(a for a in s.advice if a),
            s.checklist,
            tuple(f.label for f in s.fields if f.name != "reason"),
            s.gate,
            s.timer_s / 60,
            () if s.id == "sign" else tuple(made.by_id[n].title for n in s.needs),
        )
        for s in made.steps
    )
    return GuideView(sheet.name, sheet.kind, revision.number, vehicle_kind, kinds, steps)
