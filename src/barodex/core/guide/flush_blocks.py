"""The blocks of a flush: through the one hole of a hub, or through fill and drain plug."""

from __future__ import annotations

from barodex.core.guide.kind_blocks import amount_fields
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step
from barodex.core.quantity.working import ml
from barodex.core.words import say

REST_MIN = 20.0  # a hub gear's flush fluid runs together, 15 to 60 min (common practice)


def looked_before(job: Job) -> bool:
    """Whether the old oil is read before the last drain: at the first one of an exchange, or before a flush thins it.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    bool

    References
    ----------
    Common practice: the first drain is the old oil with its debris; what comes later is a mixture.
    """
    return job.planned_cycles > 1 or (job.kind_of_work == "flush" and not job.sheet.flush_ml)


def look_at(job: Job, needs: tuple[str, ...], phase: str = "inspect") -> Step:
    """Give the step at which oil and magnet are read.

    Parameters
    ----------
    job : the compartment
    needs, phase : of the guide, and what opens it

    Returns
    -------
    Step

    References
    ----------
    Common practice.
    """
    first = say("This is the old oil: later drains are mixtures.") if looked_before(job) else ""
    yellow = say("A wrong oil takes brass first: look for yellow flecks.") if job.kind_of_work == "correction" else ""
    return Step(
        f"look.{job.key}",
        Purpose.LOOK,
        phase,
        "inspect",
        say("read oil and magnet"),
        say("A paste is wear, a chunk is a break. A rise matters more than a level."),
        job.key,
        needs=needs,
        skip="reason",
        fields=(Field("finding", "finding", say("What was seen")), Field("reason", "text", "Reason", required=False)),
        advice=tuple(line for line in (first, yellow) if line),
    )


def flush(job: Job) -> list[Step]:
    """Give the flush of a compartment whose sheet states a flush fluid.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty without a flush; its last step opens the drain

    References
    ----------
    Common practice: in by syringe, the same amount of air drawn back, worked through every gear, rested hole down.
    """
    c, amount = job.key, job.sheet.flush_ml
    if not amount or job.kind_of_work != "flush":
        return []
    return [
        Step(
            f"flushin.{c}",
            Purpose.FLUSH_IN,
            "open",
            "confirm",
            say("{amount} of flush fluid in, draw the same air back", amount=ml(amount)),
            say("Pressure pushes seals out; the balance keeps it away."),
            c,
            needs=(job.cleaned_by,),
            gate=True,
            checklist=(
                say("{amount} in by its own syringe", amount=ml(amount)),
                say("{amount} of air back", amount=ml(amount)),
                say("Screw in by hand"),
            ),
            starts=f"work.{c}",
        ),
        Step(
            f"work.{c}",
            Purpose.TURN_OVER,
            "open",
            "timer",
            say("pedal and shift through every gear"),
            say("The fluid has to reach every gear."),
            c,
            needs=(f"flushin.{c}",),
            timer_s=180,
            skip="reason",
            calls=("lowest gear", say("up through every gear"), say("down through every gear")) * 2,
        ),
        Step(
            f"hose.{c}",
            Purpose.HOSE,
            "open",
            "confirm",
            say("turn the hole up, screw out, hose on"),
            say("With the hole down it runs out beside the hose."),
            c,
            needs=(f"work.{c}",),
            gate=True,
            starts=f"rest.{c}",
        ),
        Step(
            f"rest.{c}",
            Purpose.REST,
            "open",
            "timer",
            say("hose on, turn the hole down, let it rest"),
            say("What is loose sinks to the hole."),
            c,
            needs=(f"hose.{c}",),
            timer_s=int(REST_MIN * 60),
            skip="reason",
        ),
    ]


def flush_by_plug(job: Job, proofs: tuple[str, ...]) -> list[Step]:
    """Give the flush of a compartment with a drain plug: old oil out, flush fluid in, worked through; the last drain follows.

    Parameters
    ----------
    job : the compartment
    proofs : what must hold before any drain is opened

    Returns
    -------
    list of Step; its last one opens the last drain

    References
    ----------
    Common practice; the flush fluid's maker says how long and how fast.
    """
    c = job.key
    return [
        Step(
            f"drain.{c}.1",
            Purpose.DRAIN,
            "exchange",
            "confirm",
            say("pan under, old oil out"),
            say("It is read and measured before the flush thins it."),
            c,
            job.oil_caution,
            needs=proofs,
            gate=True,
            opens_oil=True,
        ),
        Step(
            f"measure.{c}.1",
            Purpose.MEASURE,
            "exchange",
            "measure",
            say("measure the old oil"),
            say("Before flush fluid mixes with it."),
            c,
            needs=(f"drain.{c}.1",),
            skip="reason",
            fields=amount_fields(),
        ),
        look_at(job, (f"drain.{c}.1",), "exchange"),
        Step(
            f"snug.{c}.1",
            Purpose.SNUG,
            "exchange",
            "confirm",
            say("drain shut by hand, interim"),
            say("It opens again soon: the new seal and the torque are for the last time."),
            c,
            needs=(f"measure.{c}.1", f"look.{c}"),
            gate=True,
            checklist=("Magnet wiped", say("Snug and dry")),
        ),
        *_flushed(job),
    ]


def _flushed(job: Job) -> list[Step]:
    """Flush fluid in, and worked through."""
    c, amount = job.key, job.sheet.flush_ml or job.sheet.capacity_ml
    dose = ml(amount) if amount else say("as much as came out")
    return [
        Step(
            f"flushin.{c}",
            Purpose.FLUSH_IN,
            "exchange",
            "measure",
            say("flush fluid in, {dose}", dose=dose),
            say("Through the fill plug; its own can and funnel."),
            c,
            needs=(f"snug.{c}.1",),
            gate=True,
            fields=amount_fields(),
            advice=(say("It is flush fluid, not the new oil: read the label."),),
        ),
        Step(
            f"work.{c}",
            Purpose.TURN_OVER,
            "exchange",
            "timer",
            say("turn it over through every gear, wheels free"),
            say("The fluid has to reach every gear. By hand or by the starter, and by the engine only where the fluid's maker allows it."),
            c,
            say("Wheels and shafts turn: nobody under it, nothing loose near them."),
            needs=(f"flushin.{c}",),
            timer_s=300,
            skip="reason",
            calls=("neutral", say("up through every gear"), say("down through every gear"), "reverse", "neutral"),
        ),
    ]
