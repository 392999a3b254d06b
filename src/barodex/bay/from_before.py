"""Services from before: what they lack is written once, by the code of the day on which the database is brought up to date."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from barodex import clock
from barodex.core import run
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import DEFAULT_DRAIN_MIN, PHASES
from barodex.core.words import say

from .guides import acts_of, keep_guide, procedure_of
from .keeping import keep_page
from .models import Service
from .queries import folded_page

# Steps of earlier guides that are parts of others now: phase, kind, what was to be done, what they recorded.
_GONE: dict[Purpose, tuple[str, str, str, tuple[str, ...]]] = {
    Purpose.SHEET: ("prepare", "confirm", say("look at the sheet"), ()),
    Purpose.FEEL: ("prepare", "note", say("How does it shift and sound now?"), ("shift", "noise", "feel")),
    Purpose.CLEAN: ("access", "confirm", say("clean round the plugs"), ()),
    Purpose.WAIT: ("drain", "timer", say("wait until it only drips"), ("drops", "seconds")),
    Purpose.LEAK: ("inspect", "note", say("look for the leak"), ("leak",)),
    Purpose.RECHECK: ("after", "confirm", say("Look again for leaks and level"), ()),
    Purpose.WASTE: ("after", "confirm", say("Used oil to the collection point"), ("waste_ml", "container", "where_to")),
}


def _settled(acts: list[run.Act]) -> dict[str, run.Act]:
    """The act that settled each step, those that were undone left out."""
    undone = {str(a.values.get("act")) for a in acts if a.kind == "undo"}
    return {a.step: a for a in acts if a.kind in ("done", "skip") and a.id not in undone}


def _as_it_was_done(step: dict[str, Any], by: Mapping[str, run.Act], waited: bool) -> dict[str, Any]:
    """A step as it was settled: after what was settled before it, with the ticks and the answers that were given."""
    act = by.get(step["id"])
    if act is None:
        return step
    step = {**step, "needs": [n for n in step["needs"] if n in by and by[n].seq < act.seq]}
    if isinstance(act.values.get("ticked"), (list, tuple)):
        step["checklist"] = [t for t in act.values["ticked"] if t not in step["resets"]]
    elif step["checklist"]:
        step["checklist"] = []
    if step["purpose"] == Purpose.THERMOSTAT and "temperature_c" not in act.values:
        step |= {"kind": "confirm", "fields": [], "window": None}
    step["fields"] = [{**f, "required": f["required"] and f["name"] in act.values} for f in step["fields"]]
    return step | {"timer_s": 0} if step["purpose"] == Purpose.MEASURE and waited else step


def _part_of_another_now(purpose: Purpose, act: run.Act, key: str, name: str, drain_s: int) -> dict[str, Any]:
    """A step of an earlier guide that today's does not have, from the act that settled it; ``drain_s``: of its compartment."""
    phase, kind, task, fields = _GONE[purpose]
    blank = {"label": "", "required": False, "choices": [], "default": None}
    return {
        "id": act.step,
        "purpose": purpose.value,
        "phase": phase,
        "kind": kind,
        "task": task,
        "why": "",
        "compartment": key,
        "box": name,
        "fields": [blank | {"name": name, "kind": "text"} for name in fields],
        "checklist": list(act.values.get("ticked") or ()),
        "skip": "free",
        "required": kind == "confirm",
        "timer_s": drain_s if kind == "timer" else 0,
    }


def fitted(kept: dict[str, Any], acts: list[run.Act]) -> dict[str, Any]:
    """A guide of today, fitted to what was done by one of earlier: its acts still hold, and what is left is done as it is today."""
    by = _settled(acts)
    names = {"": ""} | {j["key"]: j["name"] for j in kept["jobs"]}
    # As the ids of those steps were made: of what they were for and the compartment.
    once = {f"{purpose}.{key}" if key else purpose.value: (purpose, key) for purpose in _GONE for key in names}
    waited = {key for a in acts for purpose, key in [once.get(a.step, (None, ""))] if purpose == Purpose.WAIT}
    drains = {s["compartment"]: s["timer_s"] for s in kept["steps"] if s["purpose"] == Purpose.MEASURE and not s["cycle"]}
    sucked = round(60 * DEFAULT_DRAIN_MIN["suction"])

    def fit(steps: list[dict[str, Any]]) -> list[dict[str, Any]]:
        return [_as_it_was_done(s, by, s["compartment"] in waited) for s in steps]

    have = {s["id"] for s in kept["steps"]}
    began = {a.step: a for a in acts if a.step in once.keys() - have} | {k: a for k, a in by.items() if k in once.keys() - have}
    gone = []
    for act in began.values():
        purpose, key = once[act.step]
        gone.append(_part_of_another_now(purpose, act, key, names[key], drains.get(key) or sucked))
    steps = sorted([*fit(kept["steps"]), *gone], key=lambda s: PHASES.index(s["phase"]))
    last = [s for s in steps if s["purpose"] == Purpose.SIGN]
    return {
        **kept,
        "steps": [*(s for s in steps if s not in last), *last],
        "variants": {
            key: {name: {**taken, "steps": fit(taken["steps"])} for name, taken in of_one.items()}
            for key, of_one in kept["variants"].items()
        },
    }


def keep_all(**_: object) -> None:
    """Give every service from before what it lacks: run after the last migration, by the code of that day, once for each service."""
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return  # only some of the migrations were asked for
    lacking = Service.objects.select_related("vehicle", "started_by")
    for service in lacking.filter(guide=None):
        acts = acts_of(service)
        keep_guide(service, lambda kept, acts=acts: fitted(kept, acts))
        tasks = {s.id: s.task for s in procedure_of(service).steps}
        for photo in service.photos.filter(task=""):
            photo.task = tasks.get(photo.step, "")[:200]
            photo.save(update_fields=["task"])
    for service in lacking.filter(state="signed", page=None):
        with clock.at(service.ended_at or service.started_at):
            keep_page(service, *folded_page(service))
