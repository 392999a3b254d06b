"""The blocks that lead a compartment from the right oil to its closed filler, as its sheet wants them."""

from __future__ import annotations

from barodex.core.guide.drain_blocks import more_drains
from barodex.core.guide.exchange_blocks import at_temperature
from barodex.core.guide.kind_blocks import right_oil, torque_fields
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step, other_heads, plug_torque_words
from barodex.core.guide.variant_blocks import which_one
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import figure, ml
from barodex.core.sheet.sheet import Plug
from barodex.core.words import say

_OWN_FUNNEL = say("A funnel of its own: another oil is in this visit")
_LEVEL_WORDS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "to the lip": (
        say("trickle, then drips: it stands at the lip"),
        say("The lip sets the level; the poured amount is the cross-check."),
        (say("trickled, then only drips"), say("stands at the lip by finger or torch")),
    ),
    "measured": (say("the amount is the level"), say("No plug tells you here: the counter does."), (say("the full amount is in"),)),
    "dipstick": (
        say("wait, dip, read between the marks"),
        say("Oil needs time to settle before the stick tells the truth."),
        ("between the marks", "at the upper mark"),
    ),
    "dribble": (
        say("until it dribbles at the hole"),
        say("This one is filled to the hole, slowly: the case breathes through it."),
        (say("dribbles, then only drips"),),
    ),
    "syringe": (
        say("the dose is the level; draw the same air back"),
        say("Too much pushes the seals out, and no plug tells you."),
        (say("the full dose is in, the air is back"),),
    ),
    "below the lip": (
        say("stands below the hole as deep as the sheet says"),
        say("Filled to the lip it would be overfull."),
        (say("stands at the stated depth by the gauge"), say("stands at the stated depth by finger")),
    ),
}


_GAUGE_WORDS = (
    say("read the gauge again"),
    say("It was cut when the amount was known to be right."),
    (say("stands as deep as the gauge says"),),
)


def _level_step(job: Job) -> Step:
    """The reading of a level that needs no temperature."""
    c, sheet = job.key, job.sheet
    words, why, outcomes = _LEVEL_WORDS[sheet.fill_method]
    if sheet.fill_method == "measured" and job.kind_of_work == "top-up":
        words, why, outcomes = _GAUGE_WORDS
    fields: tuple[Field, ...] = (Field("outcome", "choice", say("What you see"), choices=outcomes),)
    if sheet.fill_method in ("to the lip", "dribble", "below the lip"):
        fields += (Field("run_out_ml", "volume", say("Ran out at the plug"), required=False),)
    depth = sheet.level.below_lip_mm
    advice = (
        (say("{depth} mm below the lower lip.", depth=figure(depth, 1)),)
        if depth is not None and sheet.fill_method == "below the lip"
        else ()
    )
    return Step(
        f"level.{c}",
        Purpose.LEVEL,
        "level",
        "level",
        f"{words}",
        why,
        c,
        needs=(
            f"pour.{c}",
            *(() if job.levelled_to_drain or not (job.wants_floor or kind_of(sheet.kind).own_level) else (job.levelled_by,)),
        ),
        gate=True,
        fields=fields,
        advice=(*advice, *((sheet.level_note,) if sheet.level_note else ())),
    )


_POUR_WHY = {
    "below the lip": say("Slowly, and never to the lip: it stands below the hole, and what trickles out is too much already."),
    "measured": say("The exact amount: no plug tells you when it is enough."),
    "syringe": say("The exact dose: too much pushes the seals out."),
    "dipstick": say("In small pours: the stick tells, once the oil has settled."),
}


def fill_and_level(job: Job) -> list[Step]:
    """Give the steps of one compartment from the right oil to the closed fill plug.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step

    References
    ----------
    Order of work and cautions: common practice.
    """
    c, sheet, work = job.key, job.sheet, job.kind_of_work
    fill = sheet.plug("fill", "level", "combination", "dipstick")
    if work == "top-up" or job.flows:
        return [*_level_block(job), _close_fill(job, fill)]  # what a top-up pours stands with its level
    closed = (f"shut.{c}",) if sheet.way_out else (f"measure.{c}", f"look.{c}")
    closed = (*closed, *(f"shut{k}.{c}" for k, _ in enumerate(more_drains(job), 2)))
    if job.opens_pan and not sheet.way_out:
        closed = (*closed, f"panshut.{c}")
    closed = (*closed, *(s.id for s in which_one(job) if s.required))
    if job.rinses:
        closed = (*closed, f"rinse.{c}")
    if not sheet.way_out:
        closed = (*closed, *(f"attached.{c}.{k}" for k, _ in enumerate(job.rides_along)))
    flushed = say(", never the flush one") if work == "flush" else ""
    funnel = say("A clean dry syringe{flushed}", flushed=flushed) if sheet.fill_method == "syringe" else say("Funnel and hose clean")
    steps = [
        right_oil(job, "fill", closed, (say("Shaken, if it settles"), funnel, *((_OWN_FUNNEL,) if job.shared_visit else ()))),
        Step(
            f"pour.{c}",
            Purpose.POUR,
            "fill",
            "pour",
            say("pour by the plan"),
            _POUR_WHY.get(sheet.fill_method, "Slowly: a plug that overflows early is a false full."),
            c,
            needs=(*closed, f"oil.{c}"),
            gate=True,
            advice=tuple(
                say(
                    "First {volume_ml} of {d} ({kind}): it takes the place of as much oil.",
                    volume_ml=ml(d.volume_ml),
                    d=d.name,
                    kind=d.kind,
                )
                for d in job.doses
            ),
            fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False)),
        ),
    ]
    return [*steps, *_level_block(job), _close_fill(job, fill)]


def _level_block(job: Job) -> list[Step]:
    """The reading of the level, and the depth gauge where the amount alone sets it."""
    if job.sheet.fill_method == "overflow":
        return at_temperature(job)
    steps = [_level_step(job)]
    if job.sheet.fill_method == "measured" and not kind_of(job.sheet.kind).own_level and job.sheet.plug("fill", "level", "combination"):
        last = (
            say("After the last measured fill it stood {depth_mm} mm below the lip.", depth_mm=figure(job.depth_mm, 1))
            if job.depth_mm is not None
            else ""
        )
        steps.append(
            Step(
                f"gauge.{job.key}",
                Purpose.GAUGE,
                "level",
                "note",
                say("cut or read the depth gauge"),
                say("The amount is known to be right now: what the gauge reads is the level for every later check."),
                job.key,
                needs=(f"level.{job.key}",),
                skip="free",
                required=False,
                fields=(Field("depth_mm", "length", say("Below the lower lip")),),
                advice=(last,) if last else (say("A bent wire with a mark at the lip will do."),),
            )
        )
    return steps


def _close_fill(job: Job, fill: Plug | None) -> Step:
    """The last step of a fill: its plug, stick or filler closed."""
    c = job.key
    closed_before = [f"level.{c}"]
    if job.sheet.fill_method == "overflow":
        closed_before = [at_temperature(job)[-1].id]
    if fill and fill.role != "dipstick":
        return Step(
            f"closefill.{c}",
            Purpose.CLOSE_FILL,
            "level",
            "torque",
            say("close the {fill_label}, {fill}", fill_label=fill.label, fill=plug_torque_words(fill)),
            say("Some makers want this plug itself renewed."),
            c,
            needs=tuple(closed_before),
            gate=True,
            plug=fill.label,
            fields=(*torque_fields(fill), Field("reason", "text", "Reason", required=False)),
            advice=(say("Key: {key}", key=fill.key), *other_heads(fill)),
        )
    return Step(
        f"closefill.{c}",
        Purpose.CLOSE_FILL,
        "level",
        "confirm",
        say("dipstick in and seated") if fill else "filler closed",
        say("An open hole breathes dirt and water."),
        c,
        needs=tuple(closed_before),
        gate=True,
    )
