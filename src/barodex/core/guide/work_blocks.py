"""What single kinds of service need: check and top-up, correction of a wrong oil, flush through a drain plug, opened service, attached jobs."""

from __future__ import annotations

from barodex.core.guide.kind_blocks import STAYS, last_time, right_oil, torque_fields
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step, plug_torque_words
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import figure, grouped
from barodex.core.sheet.sheet import Plug
from barodex.core.words import say

STOOD = (say("at the lip: a trickle"), say("over: it ran out"), "below the lip")
GAUGED = (say("as deep as the gauge says"), "deeper: oil is missing", say("higher: too much is inside"))
BELOW = (say("at the stated depth"), "deeper: oil is missing", say("higher: too much is inside"))
MISSING = ("below the lip", "deeper: oil is missing", "below the lower mark")  # what "it was full" contradicts
DIPPED = ("between the marks", "at the upper mark", "below the lower mark", "above the upper mark")


def _cleaned_and_opened(job: Job, round_what: str, opening: str, why: str, plug: Plug | None) -> Step:
    """The step that a top-up begins with; ``plug`` brings its key."""
    return Step(
        f"open.{job.key}",
        Purpose.OPEN,
        "open",
        "confirm",
        say("clean round the {round_what}, twice; {opening}", round_what=round_what, opening=opening),
        say("Dirt that falls in here undoes the good. {why}", why=why),
        job.key,
        needs=("safe", "kit", job.levelled_by),
        gate=True,
        opens_oil=True,
        advice=(say("Key: {key}. Seat it fully first.", key=plug.key),) if plug else (),
    )


def top_up(job: Job) -> list[Step]:
    """Give the whole of a check and top-up: nothing is drained, and the drain plug is not touched.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, up to the oil in the hand; pour, level and closing follow as for every fill

    References
    ----------
    Common practice: what it takes is the measurement.
    """
    c = job.key
    if job.sheet.fill_method == "overflow":
        return _top_up_at_temperature(job)
    stick = job.sheet.fill_method == "dipstick"
    fill = job.sheet.plug("dipstick") if stick else job.sheet.plug("fill", "level", "combination")
    what = fill.label if fill else "filler"
    gauged = job.sheet.fill_method == "measured" and job.depth_mm is not None
    choices = DIPPED if stick else GAUGED if gauged else BELOW if job.sheet.fill_method == "below the lip" else STOOD
    gauge = say("After the last measured fill it stood {figure} mm below the lip: read the gauge.", figure=figure(job.depth_mm or 0.0, 1))
    since = say(" since {last_filled_on}", last_filled_on=f"{job.last_filled_on:%d %B %Y}") if job.last_filled_on else ""
    return [
        _cleaned_and_opened(
            job,
            what,
            say("open the {what} gently, a rag below", what=what),
            say("It may be full, or over: then it runs at once."),
            fill if not stick else None,
        ),
        Step(
            f"stood.{c}",
            Purpose.STOOD,
            "open",
            "note",
            say("where does it stand now, and where is it wet?"),
            say("What is missing is what was lost{since}.", since=since),
            c,
            needs=(f"open.{c}",),
            gate=True,
            fields=(
                Field("stood", "choice", "It stands", choices=choices),
                Field("below_mm", "length", say("On the stick") if stick else say("Below the lip, by dip gauge"), required=False),
                Field("ran_ml", "volume", say("Ran out on opening"), required=False),
                Field("leak", "text", say("Where it is wet"), required=False),
            ),
            advice=(*((gauge,) if gauged else ()), say("Oil that is gone went somewhere: seals, breather, flange, cover.")),
        ),
        right_oil(
            job,
            "fill",
            (f"stood.{c}",),
            (say("The same oil as inside, or one that mixes with it"),),
            why=say("It mixes with what is inside."),
        ),
        Step(
            f"pour.{c}",
            Purpose.POUR,
            "fill",
            "pour",
            say("pour until it stands where it should"),
            say("Little by little: what goes in is the measurement."),
            c,
            needs=(f"oil.{c}",),
            gate=True,
            fields=(
                Field("volume_ml", "volume", "Poured", required=False),
                Field("full", "bool", say("It was full: nothing went in"), default=False),
                Field("reason", "text", "Reason", required=False),
            ),
        ),
    ]


def _top_up_at_temperature(job: Job) -> list[Step]:
    """The level of a box that overflows at temperature is its whole procedure: never an engine-off lip."""
    c = job.key
    fill = job.sheet.plug("fill", "combination") or job.sheet.plug("level")
    what = fill.label if fill else "filler"
    return [
        _cleaned_and_opened(
            job,
            say("{what} and the level screw", what=what),
            say("open the {what}; the level screw stays shut", what=what),
            say("What runs out cold and with the engine off says nothing of the level."),
            fill,
        ),
        Step(
            f"leak.{c}",
            Purpose.LEAK,
            "inspect",
            "note",
            say("look for the leak"),
            say("Oil that is gone went somewhere: seals, breather, flange, cooler lines."),
            c,
            needs=(f"open.{c}",),
            skip="free",
            required=False,
            fields=(Field("leak", "text", say("Where it is wet"), required=False),),
        ),
        right_oil(job, "fill", (f"open.{c}",), (say("The same fluid as inside"),), why=say("It mixes with what is inside.")),
    ]


def exposure(job: Job) -> list[Step]:
    """Give what is written down of a wrong oil before it comes out.

    Parameters
    ----------
    job : the compartment with the name of the wrong oil; distance km

    Returns
    -------
    list of Step

    References
    ----------
    Common practice.
    """
    c = job.key
    ran = (
        say("About {distance_km} km since the last fill on record.", distance_km=grouped(job.distance_km))
        if job.distance_km
        else say("The last fill on record has no meter.")
    )
    return [
        Step(
            f"exposure.{c}",
            Purpose.EXPOSURE,
            "prepare",
            "note",
            say("what went in, and how far did it run?"),
            say("How long brass or linings lived in the wrong oil decides what to look for."),
            c,
            needs=("ready",),
            gate=True,
            fields=(
                Field("wrong_oil", "text", say("What went in"), default=job.wrong_oil or None),
                Field("ran", "distance", say("How far it ran"), required=False, default=job.distance_km),
                Field("hours", "engine_hours", say("or for how long"), required=False),
                Field("how", "text", say("How it came about"), required=False),
            ),
            advice=(
                ran,
                *(
                    (
                        say("Not run since: the engine stays off until the first drain is done."),
                        say("Another family inside: by the maker's word, or by flowing through; drains alone leave a share of it."),
                    )
                    if job.planned_cycles > 1
                    else ()
                ),
            ),
        )
    ]


def pan_of(job: Job) -> Plug:
    """Give the pan that comes off, as its sheet lists it, or one of which nothing is known.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    Plug

    References
    ----------
    The sheet.
    """
    return job.sheet.plug("cover") or Plug("cover", "pan", seal="gasket")


def pan_off(job: Job) -> list[Step]:
    """Give the opened service: cover or pan off, filter, magnets, gasket; and what can be reached only now.

    Parameters
    ----------
    job : the compartment; its sheet lists a cover

    Returns
    -------
    list of Step

    References
    ----------
    Common practice.
    """
    c = job.key
    by_cover = job.sheet.drain_method == "cover"
    filtered = kind_of(job.sheet.kind).filtered
    steps = []
    if not by_cover:
        pan = pan_of(job)
        label = pan.label
        steps.append(
            Step(
                f"pan.{c}",
                Purpose.PAN,
                "inspect",
                "confirm",
                say("{label} off, held level", label=label),
                say("Oil still stands in it: it counts as drained."),
                c,
                say("A pan full of hot oil tips: two hands, lower one edge first."),
                needs=(f"drain.{c}",),
                gate=True,
                advice=(say("Key: {key}", key=pan.key), say("Bolts laid out in their order: some are longer.")),
            )
        )
    steps.append(
        Step(
            f"filter.{c}",
            Purpose.FILTER,
            "inspect",
            "confirm",
            say("{words}magnets, faces", words="filter, " if filtered else ""),
            say("What lies in the pan tells more than the oil does."),
            c,
            needs=(f"drain.{c}" if by_cover else f"pan.{c}",),
            skip="reason",
            checklist=(
                say("Magnets read and wiped"),
                *((say("Filter new, its seal oiled, seated"),) if filtered else ()),
                say("Both faces clean and dry, new gasket"),
            ),
            fields=(Field("part", "text", say("What was fitted"), required=False),),
        )
    )
    steps.append(
        Step(
            f"whileopen.{c}",
            Purpose.WHILE_OPEN,
            "inspect",
            "confirm",
            say("what can be reached only now"),
            say("It will be years until it is open again."),
            c,
            needs=(f"filter.{c}",),
            skip="reason",
            checklist=(say("Breather moves freely"), say("Seals and connector sleeve dry, or renewed"), say("Nothing loose inside")),
            checks=True,
            advice=last_time(job, Purpose.WHILE_OPEN),
            fields=(Field("seen", "text", say("What was seen"), required=False),),
        )
    )
    return steps


def pan_on(job: Job) -> list[Step]:
    """Give the closing of a pan that is not the drain itself: its bolts in their order, in rounds.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty where the cover is the drain

    References
    ----------
    As :func:`barodex.core.guide.torque.bolt_sequence`.
    """
    if job.sheet.drain_method == "cover":
        return []
    c, pan = job.key, pan_of(job)
    return [
        Step(
            f"panshut.{c}",
            Purpose.PAN_SHUT,
            "close",
            "torque",
            say("{pan_label} back on, {pan}", pan_label=pan.label, pan=plug_torque_words(pan)),
            say("Unevenly drawn, a pan warps and weeps."),
            c,
            needs=(f"filter.{c}", f"whileopen.{c}", f"look.{c}"),
            gate=True,
            plug=pan.label,
            fields=(
                Field("bolts", "number", say("How many bolts"), required=False),
                *torque_fields(pan),
                Field("reason", "text", "Reason", required=False),
            ),
            advice=(say("Key: {key}", key=pan.key), say("In their order, in three rounds: by hand, half, full torque.")),
        )
    ]


def attached(job: Job) -> list[Step]:
    """Give a step for each job that rides along: belt, filter, seal, breather, sleeve.

    Parameters
    ----------
    job : the compartment with its attached jobs

    Returns
    -------
    list of Step

    References
    ----------
    None needed: they belong to the same record.
    """
    c = job.key
    opened = f"open.{c}" if job.sheet.fill_method == "overflow" else f"stood.{c}"
    before = opened if job.kind_of_work == "top-up" else f"drain.{c}"
    return [
        Step(
            f"attached.{c}.{k}",
            Purpose.ATTACHED,
            "inspect",
            "note",
            f"{what}",
            say("It rides along and stands in the same record."),
            c,
            needs=(before,),
            skip="reason",
            fields=(
                Field("state", "choice", "It is", required=False, choices=("good, or renewed", STAYS[Purpose.ATTACHED])),
                Field("done", "text", say("What was done, which part")),
            ),
        )
        for k, what in enumerate(job.rides_along)
    ]
