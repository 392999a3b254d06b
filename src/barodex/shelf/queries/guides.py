"""The guide that a sheet leads to, to be read and printed before anything is started."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from barodex.core.due.use import DEFAULT_PER_DAY
from barodex.core.guide.procedure import build
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Conditions, Job
from barodex.core.quantity.errors import Inconsistent
from barodex.core.run.phases import planned_s
from barodex.core.sheet.work import WORK_WORDS, check_work, works_for
from barodex.core.words import say

from ..models import SpecSheet
from .sheets import core_sheet, current_revision


@dataclass(frozen=True)
class GuideStep:
    """A step as it stands on paper; ``opens_after`` are the titles of the steps that it waits for, ``notes`` what it asks for;
    ``branch`` names the case that it is for, where that is not the normal way."""

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
    branch: str


@dataclass(frozen=True)
class GuideWork:
    """A kind of service that the sheet allows."""

    value: str
    label: str


@dataclass(frozen=True)
class GuideView:
    """A sheet's guide for one compartment of a kind of vehicle."""

    sheet: str
    kind: str
    revision: int
    vehicle_kind: str
    vehicle_kinds: tuple[str, ...]
    work: str
    works: tuple[GuideWork, ...]
    minutes: float
    steps: tuple[GuideStep, ...]


def guide_of(sheet_id: int, vehicle_kind: str, as_of: dt.date, work: str = "") -> GuideView:
    """The guide of a sheet; raises SpecSheet.DoesNotExist, or Inconsistent for a vehicle of no known kind or a kind of service that it cannot have."""
    kinds = tuple(DEFAULT_PER_DAY)
    if vehicle_kind not in kinds:
        raise Inconsistent(
            say("“{vehicle_kind}” is not a kind of vehicle.", vehicle_kind=vehicle_kind),
            field="vehicle_kind",
            value=vehicle_kind,
            allowed=", ".join(kinds),
        )
    sheet = SpecSheet.objects.prefetch_related("revisions__plugs", "revisions__sources").get(pk=sheet_id)
    revision = current_revision(sheet.revisions.all(), as_of)
    oil = " ".join(filter(None, (revision.family, revision.grade, revision.categories)))
    core = core_sheet(revision)
    chosen = check_work(core, work)
    job = Job("0", sheet.kind.capitalize(), core, oil, work=chosen)
    made = build((job,), Conditions("the vehicle", vehicle_kind))
    shown = [s for s in made.steps if not s.cycle or s.cycle < job.planned_cycles]
    steps = tuple(
        GuideStep(
            id=s.id,
            phase=s.phase,
            title=s.title,
            why=s.why,
            caution=s.caution,
            advice=tuple(a for a in s.advice if a),
            checklist=(*s.checklist, *(say("Done: {r}", r=r) for r in s.resets)),
            notes=tuple(f.label for f in s.fields if f.name != "reason"),
            gate=s.gate,
            minutes=s.timer_s / 60,
            opens_after=() if s.purpose == Purpose.SIGN else tuple(made.by_id[n].title for n in s.needs if made.by_id[n] in shown),
            branch=s.branch,
        )
        for s in shown
    )
    minutes = sum(planned_s(s, core.capacity_ml) for s in shown if s.required) / 60
    works = tuple(GuideWork(w, WORK_WORDS[w]) for w in works_for(core))
    return GuideView(
        sheet=sheet.name,
        kind=sheet.kind,
        revision=revision.number,
        vehicle_kind=vehicle_kind,
        vehicle_kinds=kinds,
        work=chosen,
        works=works,
        minutes=minutes,
        steps=steps,
    )
