"""A guide as it is kept with its service: written once when the service starts, read ever after, never built anew.

Beside the guide as it began stands, for each compartment whose variant was open, what the guide says once that variant is taken
over: the job and those of its steps that differ. Steps of the whole visit stay as they began, and step ids are the same for every variant.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from cattrs.preconf.json import make_converter

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job, Procedure, Step
from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.sheet import resolve
from barodex.core.words import say

FORM = 2  # of what is written; raised when a field changes its meaning
CONVERTER = make_converter()


def guide_to_keep(jobs: tuple[Job, ...], conditions: Conditions) -> dict[str, Any]:
    """Build the guide of a visit in the form in which it is kept.

    Parameters
    ----------
    jobs : one a compartment; one with an ``open_sheet`` may find its variant on the way
    conditions : where the work is done

    Returns
    -------
    dict of plain values: ``form``, ``ambient_c`` (°C), ``jobs``, ``steps``, and ``variants`` by compartment and name

    Raises
    ------
    Inconsistent : a variant that would change which steps there are; and what :func:`barodex.core.guide.procedure.build` raises

    References
    ----------
    None needed.
    """
    begun = build(jobs, conditions)
    variants: dict[str, dict[str, Any]] = {}
    for job in begun.jobs:
        for variant in job.open_sheet.variants if job.open_sheet is not None else ():
            taken = tuple(replace(j, sheet=resolve(_plain(job), variant.name)) if j.key == job.key else j for j in jobs)
            variants.setdefault(job.key, {})[variant.name] = _difference(begun, build(taken, conditions), job.key)
    return {
        "form": FORM,
        "ambient_c": begun.ambient_c,
        "jobs": CONVERTER.unstructure(begun.jobs),
        "steps": CONVERTER.unstructure(begun.steps),
        "variants": variants,
    }


def _plain(job: Job) -> Any:
    """The open sheet with its plugs as they are written, whatever heads they are found with."""
    sheet = job.open_sheet
    assert sheet is not None
    return replace(sheet, plugs=tuple(replace(p, heads=()) for p in sheet.plugs))


def _difference(begun: Procedure, taken: Procedure, key: str) -> dict[str, Any]:
    if [s.id for s in begun.steps] != [s.id for s in taken.steps]:
        raise Inconsistent(say("A variant may change what a step says, never which steps there are."), field="variant", value=key)
    changed = [new for old, new in zip(begun.steps, taken.steps, strict=True) if old != new and new.compartment == key]
    return {"job": CONVERTER.unstructure(taken.job(key)), "steps": CONVERTER.unstructure(changed)}


def kept_guide(kept: Mapping[str, Any], adopted: Iterable[tuple[str, str]] = ()) -> Procedure:
    """Read a guide that was kept, with the variants that were taken over.

    Parameters
    ----------
    kept : from :func:`guide_to_keep`
    adopted : compartment key and variant

    Returns
    -------
    Procedure

    Raises
    ------
    Inconsistent : a variant that the guide does not know

    References
    ----------
    None needed.
    """
    jobs = {j.key: j for j in CONVERTER.structure(kept["jobs"], tuple[Job, ...])}
    steps = {s.id: s for s in CONVERTER.structure(kept["steps"], tuple[Step, ...])}
    for key, name in adopted:
        taken = kept["variants"].get(key, {}).get(name)
        if taken is None:
            raise Inconsistent(say("The sheet lists no variant “{name}”.", name=name), field="variant", value=name)
        jobs[key] = CONVERTER.structure(taken["job"], Job)
        steps |= {s.id: s for s in CONVERTER.structure(taken["steps"], tuple[Step, ...])}
    return Procedure(tuple(jobs.values()), tuple(steps.values()), steps, kept["ambient_c"])
