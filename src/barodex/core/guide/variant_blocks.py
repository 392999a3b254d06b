"""Which variant a compartment is, where its sheet leaves that open: asked before an exact fill, offered for adoption after the drain."""

from __future__ import annotations

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step
from barodex.core.quantity.working import ml
from barodex.core.words import say

UNREADABLE = "unreadable"
_REASON = Field("reason", "text", "Reason", required=False)


def casing_code(job: Job) -> list[Step]:
    """Give the gate before a drain whose fill is measured out: its casing code, or that it cannot be read.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty where no variant was open or a level tells the amount

    References
    ----------
    Common practice: an exact fill of the wrong variant shows itself at no plug.
    """
    sheet = job.open_sheet
    if sheet is None or not job.by_amount or job.kind_of_work == "top-up":
        return []
    marks = tuple(say("{v}: marked {mark}", v=v.name, mark=v.mark) for v in sheet.variants if v.mark)
    takes = tuple(
        say("{v}: takes {capacity_ml}", v=v.name, capacity_ml=ml(v.capacity_ml)) for v in sheet.variants if v.capacity_ml is not None
    )
    return [
        Step(
            f"variant.{job.key}",
            Purpose.VARIANT,
            "prepare",
            "note",
            say("read its casing code"),
            say("Its fill is measured out and no plug tells: the variant must be known before the oil is out."),
            job.key,
            needs=("ready",),
            gate=True,
            fields=(Field("variant", "choice", "It is", choices=(*(v.name for v in sheet.variants), UNREADABLE)), _REASON),
            advice=(*takes, *marks, *(f"{m.where}: {m.reads} {m.tells}".strip() for m in sheet.casing_marks)),
        )
    ]


def which_one(job: Job) -> list[Step]:
    """Give the step that takes a variant over once the drained amount has spoken.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty where no variant was open; an exact fill waits for it, a fill to a level may leave it

    References
    ----------
    Common practice.
    """
    sheet = job.open_sheet
    if sheet is None or job.kind_of_work == "top-up" or job.planned_cycles > 1 or job.flows:
        return []
    return [
        Step(
            f"which.{job.key}",
            Purpose.WHICH,
            "inspect",
            "note",
            say("which variant is it?"),
            say("What came out speaks for one: taken over, it sets amount, torque and keys from here on, and is not asked again."),
            job.key,
            needs=(f"measure.{job.key}",),
            gate=job.by_amount,
            required=job.by_amount,
            skip="never" if job.by_amount else "free",
            fields=(Field("variant", "choice", say("It is the"), choices=tuple(v.name for v in sheet.variants)), _REASON),
        )
    ]
