"""The guide: steps built from the sheets of a visit. What a sheet has decides which steps there are.

``build`` puts the blocks of a visit and of its compartments in order. A step that must hold before others can go on is a
gate; ``needs`` names what opens a step.
"""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.drain_blocks import open_and_drain
from barodex.core.guide.fill_blocks import fill_and_level
from barodex.core.guide.kind_blocks import before_opening, resets
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import DEFAULT_DRAIN_MIN, PHASES, Conditions, Field, Job, Procedure, Step
from barodex.core.guide.visit_blocks import common_end, common_start
from barodex.core.guide.work_blocks import exposure
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

_ON_LEVEL = {
    "motorcycle": say("Upright on level ground, not on its side stand"),
    "bicycle": say("Upright on its stand"),
    "boat": say("On an even keel, nobody moving about"),
    "snow machine": say("Level on its stand"),
}


# Drains open together, so that waiting for one is not idle.
_WITHIN = {("drain", Purpose.WAIT): 1, ("drain", Purpose.MEASURE): 1, ("open", Purpose.LEVELLED): -1, ("fill", Purpose.LEVELLED): -1}


def build(jobs: tuple[Job, ...], conditions: Conditions) -> Procedure:
    """Build the guide of a visit from the sheets of its compartments.

    Parameters
    ----------
    jobs : one for each compartment, at most 12, each key once
    conditions : the vehicle and the day

    Returns
    -------
    Procedure; steps stand in the order of the phases; within one, the compartment that drains longest comes first

    Raises
    ------
    Inconsistent : no job, or a key twice

    References
    ----------
    The order of work: common practice (fill plug first, drain closed before filling, level on level ground).
    """
    if not jobs or len(jobs) > 12 or len({j.key for j in jobs}) != len(jobs):
        raise Inconsistent(say("A visit has one to twelve compartments, each once."), field="jobs", value=len(jobs))
    several = len({j.oil for j in jobs}) > 1
    jobs = tuple(replace(j, shared_visit=several) for j in jobs)
    jobs = tuple(sorted(jobs, key=lambda j: -(j.sheet.drain_minutes or DEFAULT_DRAIN_MIN[j.sheet.drain_method])))
    fill_plugs = {j.key: j.sheet.plug("fill", "level", "combination") for j in jobs}
    proofs = tuple(f"prove.{j.key}" for j in jobs if (p := fill_plugs[j.key]) and p is not j.sheet.way_out and j.kind_of_work != "top-up")
    steps = common_start(jobs, conditions)
    for job in jobs:
        early = before_opening(job) + (exposure(job) if job.kind_of_work == "correction" else [])
        steps += early
        proofs += tuple(s.id for s in early if s.gate)
    for job in jobs:
        steps += open_and_drain(job, (*proofs, "safe", "ready", "kit"))
        steps += fill_and_level(job)
        if job.kind_of_work != "top-up":
            steps += resets(job)
    levelled_early = any(j.kind_of_work == "top-up" or j.planned_cycles > 1 or j.flows or j.levelled_to_drain for j in jobs)
    on_level = _ON_LEVEL.get(conditions.vehicle_kind, "Level: floor or hoist, checked with a spirit level")
    floor = [
        Step(
            "levelled",
            Purpose.LEVELLED,
            "open" if levelled_early else "fill",
            "confirm",
            on_level,
            say("Only then does it drain fully, and what is measured in is right.")
            if all(j.levelled_to_drain for j in jobs if j.wants_floor)
            else say("A level is read only on a level vehicle. Ramps are fine for draining, not for this."),
            needs=("safe",),
            gate=True,
            fields=(
                Field("lift_mm", "length", say("One end stands higher by"), required=False),
                Field("wheelbase_mm", "length", "Wheelbase", required=False),
                Field("reason", "text", "Reason", required=False),
            ),
        )
    ]
    steps += floor if any(j.wants_floor for j in jobs) else []
    steps += common_end(jobs, conditions)
    steps.sort(key=lambda s: (PHASES.index(s.phase), _WITHIN.get((s.phase, s.purpose), 0)))
    required = tuple(s.id for s in steps if s.required and s.purpose not in (Purpose.SIGN, Purpose.STOP))
    names = {j.key: j.name for j in jobs} | {"": ""}
    steps = [replace(s, box=names[s.compartment], needs=required if s.purpose == Purpose.SIGN else s.needs) for s in steps]
    return Procedure(jobs, tuple(steps), {s.id: s for s in steps}, conditions.ambient_c)
