"""What single kinds of compartment need beside the common blocks: cool oil, level cases, flushing, chains, resets; what is laid out for a visit."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step, head_words, torques_found
from barodex.core.kinds.kind import kind_of
from barodex.core.ledger.drained import WARMTHS
from barodex.core.quantity.window import TemperatureWindow
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import Plug
from barodex.core.sheet.work import rinse_ml, touched_plugs
from barodex.core.words import say

# What is worn and stays as it is, by what the step is for.
STAYS = {Purpose.TENSION: say("at the end of its adjustment"), Purpose.ATTACHED: say("worn or torn, and it stays in")}
CANNOT_TELL = say("cannot be told: the lowest of them")
COLDEST_READING_C = -40.0
FAULTS = say("Fault codes, one a line: code and text")


def last_time(job: Job, purpose: Purpose) -> tuple[str, ...]:
    """Give what was noted last time at a step for a purpose.

    Parameters
    ----------
    job : with what is known of its past
    purpose : of the step

    Returns
    -------
    tuple of one sentence; empty where nothing is on record

    References
    ----------
    Common practice: what is measured is compared.
    """
    said = job.last_time.get(purpose.value, "")
    return (say("Last time: {said}", said=said),) if said else ()


def torque_fields(plug: Plug) -> tuple[Field, ...]:
    """Give what is noted when a plug is closed.

    Parameters
    ----------
    plug : with its seal, and its torque in N·m

    Returns
    -------
    tuple of Field

    References
    ----------
    Common practice: old seal off, new one on, threads started by hand, torque.
    """
    several = torques_found(plug)
    torque = Field("torque_nm", "torque", "Torque used", required=False, default=None if several else plug.torque_nm)
    by_hand = Field("started_by_hand", "bool", say("Threads started by hand"), default=False)
    heads = tuple(head_words(h) for h in plug.heads if h.torque_nm is not None)
    fitted = (Field("head", "choice", say("Which plug is fitted?"), required=False, choices=(*heads, CANNOT_TELL)),) if several else ()
    if plug.seal in ("none", "taper thread"):
        return (*fitted, torque, by_hand)
    seal = say("seal renewed as found") if plug.seal == "unknown" else say("new {seal}", seal=plug.seal)
    return (*fitted, torque, Field("seal_renewed", "bool", say("Old seal off both faces, {seal}", seal=seal), default=False), by_hand)


def amount_fields(where: str = "In the pan", parts: bool = False) -> tuple[Field, ...]:
    """Give what is noted when an amount is measured.

    Parameters
    ----------
    where : what it is measured in
    parts : whether what is in a hose and on a rag counts too

    Returns
    -------
    tuple of Field, as :func:`barodex.core.run.measuring.measured_amount` reads them

    References
    ----------
    Common practice.
    """
    more = (Field("hose_ml", "volume", say("In the hose"), required=False), Field("rag_ml", "volume", say("On the rag"), required=False))
    return (
        Field("pan_ml", "volume", where, required=False),
        Field("mass_g", "mass", say("or weighed, oil alone"), required=False),
        *(more if parts else ()),
        Field("temperature_c", "temperature", "Oil temperature", required=False),
        Field("warmth", "choice", say("Not taken? The oil was"), required=False, choices=WARMTHS),
        Field("reason", "text", "Reason", required=False),
    )


def right_oil(job: Job, phase: str, needs: tuple[str, ...], ticks: tuple[str, ...] = (), cycle: int = 0, why: str = "") -> Step:
    """Give the gate before a pour: the label of the container in the hand.

    Parameters
    ----------
    job : the compartment
    phase, needs : of the guide, and what opens it
    ticks : what is ticked beside the label
    cycle : the exchange cycle that it belongs to, 0 for none
    why : said behind the usual words

    Returns
    -------
    Step

    References
    ----------
    Common practice: never two oils in hand without it.
    """
    tag, said = (f".{cycle}", say("cycle {cycle}: ", cycle=cycle)) if cycle else ("", "")
    return Step(
        f"oil.{job.key}{tag}",
        Purpose.OIL,
        phase,
        "confirm",
        say("{said}right oil in your hand? {oil}", said=said, oil=job.oil),
        say("Read the label of this container, now.") + (f" {why}" if why else ""),
        job.key,
        needs=needs,
        gate=True,
        cycle=cycle,
        checklist=(say("Label reads {oil}", oil=job.oil), *ticks),
    )


def window_words(job: Job) -> str:
    """Give the window of a level in words.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    str

    References
    ----------
    The sheet.
    """
    window = job.sheet.level.window
    return (
        say("{low_c:g} to {high_c:g}\N{NO-BREAK SPACE}°C", low_c=window.low_c, high_c=window.high_c)
        if window
        else say("the window of the maker's data: look it up")
    )


def before_opening(job: Job) -> list[Step]:
    """Give the steps that a kind wants before its first plug is touched.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step: cool oil where the level is set cool, a level case for a supercharger, values read before a reset

    References
    ----------
    Common practice of each kind; the window is the sheet's.
    """
    c, sheet, found = job.key, job.sheet, []
    window = sheet.level.window
    if window and sheet.level.engine == "off":
        found.append(
            Step(
                f"cool.{c}",
                Purpose.COOL,
                "prepare",
                "note",
                say("is the oil cool enough to begin?"),
                say("The level is set at {job} with the engine off: begin warm and you wait for hours.", job=window_words(job)),
                c,
                needs=("ready",),
                gate=True,
                fields=(Field("temperature_c", "temperature", say("Oil temperature; air counts when it has stood in the shade")),),
                window=TemperatureWindow(COLDEST_READING_C, window.high_c),
            )
        )
    if kind_of(sheet.kind).own_level:
        found.append(
            Step(
                f"case.{c}",
                Purpose.CASE,
                "access",
                "confirm",
                say("the case level, not the car"),
                say("The dip of the case holds the level; a sloping case hides oil from the hose."),
                c,
                needs=("safe",),
                gate=True,
                checklist=("Engine cold", say("Dust blown off, cloth under the screw"), say("Spirit level on the case, across and along")),
                fields=(
                    Field("lean_deg", "number", say("The case leans by, degrees"), required=False),
                    Field("wheelbase_mm", "length", "Wheelbase", required=False),
                ),
            )
        )
    if sheet.resets:
        found.append(
            Step(
                f"before.{c}",
                Purpose.BEFORE,
                "prepare",
                "note",
                say("read values and faults before"),
                say("A fault that comes back afterwards is wear, not oil."),
                c,
                needs=("ready",),
                skip="reason",
                fields=(Field("before", "text", "Values now"), Field("faults", "lines", FAULTS, required=False)),
                advice=(*last_time(job, Purpose.VALUES), *(say("Limit: {w}", w=w) for w in sheet.wear_limits)),
            )
        )
    return found


def resets(job: Job) -> list[Step]:
    """Give the resets that a vehicle wants after the oil: counters, adaptations, stored faults.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty where the sheet lists none

    References
    ----------
    Common practice: ignition on with the engine off and a battery supply; with the engine running it fails.
    """
    c = job.key
    if not job.sheet.resets:
        return []
    return [
        Step(
            f"reset.{c}",
            Purpose.RESET,
            "finish",
            "confirm",
            say("reset {resets}", resets=", ".join(job.sheet.resets)),
            say("With the engine running the reset fails."),
            c,
            needs=(f"closefill.{c}",),
            skip="reason",
            gate=True,
            checklist=(say("Battery supply connected"), say("Ignition on, engine off")),
            resets=job.sheet.resets,
            fields=(Field("cleared", "bool", say("Stored faults cleared, off and on, none left"), default=False),),
        ),
        Step(
            f"values.{c}",
            Purpose.VALUES,
            "after",
            "note",
            say("values and faults after the drive"),
            say("A fault that returns is wear, not oil."),
            c,
            needs=(f"reset.{c}", "drive"),
            skip="reason",
            fields=(Field("after", "text", "Values now"), Field("faults", "lines", FAULTS, required=False)),
            advice=(say("Ignition off, wait a minute, on again: then read."), *(say("Limit: {w}", w=w) for w in job.sheet.wear_limits)),
        ),
    ]


def chain(job: Job) -> list[Step]:
    """Give the look at a chain case while its cover is off, and the tension.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    list of Step, empty for another kind

    References
    ----------
    Common practice: screw in by hand, back to the nearest clip.
    """
    if not kind_of(job.sheet.kind).chain:
        return []
    c = job.key
    return [
        Step(
            f"chain.{c}",
            Purpose.CHAIN,
            "inspect",
            "confirm",
            "chain, sprockets, bearings",
            say("Now they can be seen."),
            c,
            needs=(f"drain.{c}",),
            skip="reason",
            checklist=(
                say("Chain: no stiff link, no cracked plate"),
                say("Sprockets: teeth not hooked"),
                say("Bearings: no play, no noise"),
            ),
            checks=True,
            advice=last_time(job, Purpose.CHAIN),
        ),
        Step(
            f"tension.{c}",
            Purpose.TENSION,
            "inspect",
            "note",
            say("set the tension, write it down"),
            say("A chain that has stretched shows itself by where the screw ends."),
            c,
            needs=(f"chain.{c}",),
            skip="reason",
            fields=(
                Field("turns", "number", say("Turns back to the nearest clip")),
                Field("state", "choice", say("The screw ends"), required=False, choices=("with room to go", STAYS[Purpose.TENSION])),
                Field("stretch", "text", "Stretch, play", required=False),
            ),
            advice=(say("Screw in by hand until the chain stops it, then back to the nearest clip."), *last_time(job, Purpose.TENSION)),
        ),
    ]


def whose(jobs: tuple[Job, ...], job: Job) -> str:
    """Return the compartment's name before what belongs to it, where there are several.

    Parameters
    ----------
    jobs : of the visit
    job : the one

    Returns
    -------
    str, ending in a blank where it is not empty

    References
    ----------
    Common practice.
    """
    return f"{job.name} " if len(jobs) > 1 else ""


def keys_and_seals(jobs: tuple[Job, ...]) -> list[str]:
    """Return keys and tools, then seals, each once with all that it is for.

    Parameters
    ----------
    jobs : of the visit

    Returns
    -------
    list of lines to tick

    References
    ----------
    Common practice.
    """
    keys: dict[str, list[str]] = {}
    seals: list[str] = []
    for job in jobs:
        # What is fetched and confirmed at the start does not change when the variant is found out on the way.
        for plug in touched_plugs(job.open_sheet or job.sheet, "opened" if job.opens_pan else job.kind_of_work):
            if plug.role != "dipstick":
                heads = [replace(plug, drive=h.drive, size_mm=h.size_mm) for h in plug.heads] or [plug]
                for fitted in heads:
                    keys.setdefault(fitted.key, []).append(f"{whose(jobs, job)}{plug.label}")
            if plug.seal not in ("none", "unknown", "taper thread") and plug.role != "dipstick":
                seals.append(say("{seal} for {jobs}{plug_label}", seal=plug.seal, jobs=whose(jobs, job), plug_label=plug.label))
        if job.sheet.drain_method == "suction" and job.kind_of_work != "top-up":
            keys.setdefault("suction pump and hose", []).append(job.name)
    return [*(f"{key} ({', '.join(uses)})" for key, uses in keys.items()), *seals]


def for_the_work(jobs: tuple[Job, ...]) -> list[str]:
    """Return what single kinds of work want on the tray beside keys and seals.

    Parameters
    ----------
    jobs : of the visit

    Returns
    -------
    list of lines to tick

    References
    ----------
    Common practice.
    """
    found: list[str] = []
    for job in jobs:
        if job.kind_of_work == "top-up":
            continue
        if job.sheet.resets:
            found += ["scan tool", "battery supply"]
        if job.rinses:
            found.append(
                say(
                    "{ml} of {oil} more, to rinse {job} with",
                    ml=ml(rinse_ml(job.sheet) * (2 if job.kind_of_work == "correction" else 1)),
                    oil=job.oil,
                    job=job.name,
                )
            )
        if job.opens_pan:
            what = say(", filter and its seal") if kind_of(job.sheet.kind).filtered else ""
            found.append(say("gasket and new bolts for the pan or cover{what} ({job})", what=what, job=job.name))
        if job.sheet.fill_method == "syringe":
            found.append(say("a clean dry syringe for the new oil ({job})", job=job.name))
    return found
