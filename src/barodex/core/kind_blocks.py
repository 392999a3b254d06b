"""What single kinds of compartment need beside the common blocks: cycles, temperature, flushing, chains, resets."""

from __future__ import annotations

from .level import TemperatureWindow
from .sheet import Plug
from .steps import Field, Job, Step, millilitres, torque_words

COLDEST_READING_C = -40.0
SWEEP_S = 5  # a position of the selector, 2 to 10 s each (common practice)
REST_MIN = 20.0  # a hub gear's flush fluid runs together, 15 to 60 min (common practice)

_RUNNING = (
    "Nobody under the vehicle while the selector moves",
    "Parking brake set, an assistant's foot on the brake",
    "Stands or hoist checked again; clear of shafts and exhaust",
    "Exhaust led out of the building",
)


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
    torque = Field("torque_nm", "torque", "Torque used", required=False, default=plug.torque_nm)
    by_hand = Field("started_by_hand", "bool", "Threads started by hand", default=False)
    if plug.seal in ("none", "taper thread"):
        return (torque, by_hand)
    seal = "seal renewed as found" if plug.seal == "unknown" else f"new {plug.seal}"
    return (torque, Field("seal_renewed", "bool", f"Old seal off both faces, {seal}", default=False), by_hand)


def _window_words(job: Job) -> str:
    window = job.sheet.level.window
    return f"{window.low_c:g} to {window.high_c:g} °C" if window else "the window of the maker's data: look it up"


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
                "prepare",
                "note",
                f"{job.name}: is the oil cool enough to begin?",
                f"The level is set at {_window_words(job)} with the engine off: begin warm and you wait for hours.",
                c,
                needs=("ready",),
                gate=True,
                fields=(Field("temperature_c", "temperature", "Oil temperature; air counts when it has stood in the shade"),),
                window=TemperatureWindow(COLDEST_READING_C, window.high_c),
            )
        )
    if sheet.kind == "supercharger":
        found.append(
            Step(
                f"case.{c}",
                "access",
                "confirm",
                f"{job.name}: the case level, not the car",
                "The dip of the case holds the level; a sloping case hides oil from the hose.",
                c,
                needs=("safe",),
                gate=True,
                checklist=("Engine cold", "Dust blown off, cloth under the screw", "Spirit level on the case, across and along"),
            )
        )
    if sheet.resets:
        found.append(
            Step(
                f"before.{c}",
                "prepare",
                "note",
                f"{job.name}: read values and faults before",
                "A fault that comes back afterwards is wear, not oil.",
                c,
                needs=("ready",),
                skip="reason",
                fields=(Field("before", "text", "Values and faults now"),),
            )
        )
    return found


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
    if not amount:
        return []
    return [
        Step(
            f"flushin.{c}",
            "open",
            "confirm",
            f"{job.name}: {millilitres(amount)} of flush fluid in, draw the same air back",
            "Pressure pushes seals out; the balance keeps it away.",
            c,
            needs=(f"clean.{c}",),
            gate=True,
            checklist=(f"{millilitres(amount)} in by its own syringe", f"{millilitres(amount)} of air back", "Screw in by hand"),
        ),
        Step(
            f"work.{c}",
            "open",
            "timer",
            f"{job.name}: pedal and shift through every gear",
            "The fluid has to reach every gear.",
            c,
            needs=(f"flushin.{c}",),
            timer_s=180,
            skip="reason",
        ),
        Step(
            f"rest.{c}",
            "open",
            "timer",
            f"{job.name}: hole down, let it rest",
            "What is loose sinks to the hole.",
            c,
            needs=(f"work.{c}",),
            timer_s=int(REST_MIN * 60),
            skip="reason",
        ),
    ]


def running(job: Job, needs: tuple[str, ...], phase: str, tag: str = "", said: str = "") -> list[Step]:
    """Give the gate before an engine-running step, and the sweep through the selector.

    Parameters
    ----------
    job : the compartment
    needs : what must be done before the engine runs
    phase : of the guide
    tag : set behind the step ids, for a cycle
    said : set before the words of the steps, for a cycle

    Returns
    -------
    list of Step

    References
    ----------
    Cautions and the 2 to 10 s a position: common practice.
    """
    c = job.key + tag
    return [
        Step(
            f"running.{c}",
            phase,
            "confirm",
            f"{job.name}: {said}safe to run the engine",
            "It runs while somebody works near it.",
            job.key,
            needs=needs,
            gate=True,
            caution="Go under only with the selector where the sheet wants it and the brake held.",
            checklist=_RUNNING,
        ),
        Step(
            f"sweep.{c}",
            phase,
            "timer",
            f"{job.name}: {said}engine on, selector through every position, {SWEEP_S} s each",
            "Every passage and the converter take their oil.",
            job.key,
            needs=(f"running.{c}",),
            timer_s=SWEEP_S * 8,
            skip="reason",
            advice=("Call each position out loud to whoever holds the brake.",),
        ),
    ]


def cycles(job: Job, proofs: tuple[str, ...]) -> list[Step]:
    """Give the drain-and-refill cycles that come before the last, final one.

    Parameters
    ----------
    job : the compartment; its sheet says how many cycles
    proofs : what must hold before any drain is opened

    Returns
    -------
    list of Step; between cycles the drain is closed by hand only, the last one gets its seal and torque

    References
    ----------
    Common practice: more fresh oil by several small changes than by one.
    """
    found: list[Step] = []
    c, before = job.key, proofs
    count = job.sheet.exchange_cycles
    for k in range(1, count):
        tag = f".{k}"
        said = f"{job.name}: cycle {k} of {count}"
        hot = "The oil may be hot, and used oil harms skin: gloves stay on."
        found += [
            Step(
                f"drain.{c}{tag}",
                "exchange",
                "confirm",
                f"{said}: pan under, drain out",
                "What comes now is old oil.",
                c,
                hot,
                before,
                gate=True,
            ),
            Step(
                f"measure.{c}{tag}",
                "exchange",
                "measure",
                f"{said}: measure what came out",
                "As much goes in again.",
                c,
                needs=(f"drain.{c}{tag}",),
                gate=True,
                fields=(
                    Field("pan_ml", "volume", "In the pan", required=False),
                    Field("mass_g", "mass", "or weighed, oil alone", required=False),
                    Field("temperature_c", "temperature", "Oil temperature", required=False),
                    Field("reason", "text", "Reason", required=False),
                ),
            ),
            Step(
                f"snug.{c}{tag}",
                "exchange",
                "confirm",
                f"{said}: drain shut by hand, interim",
                "It opens again soon: the new seal and the torque are for the last time.",
                c,
                needs=(f"measure.{c}{tag}",),
                gate=True,
                checklist=("Snug and dry before the engine runs",),
            ),
            Step(
                f"oil.{c}{tag}",
                "exchange",
                "confirm",
                f"{said}: right oil in your hand? {job.oil}",
                "Read the label of this container, now.",
                c,
                needs=(f"snug.{c}{tag}",),
                gate=True,
                checklist=(f"Label reads {job.oil}",),
            ),
            Step(
                f"pour.{c}{tag}",
                "exchange",
                "pour",
                f"{said}: pour what came out",
                "Fresh oil for old, the same amount.",
                c,
                needs=(f"oil.{c}{tag}",),
                gate=True,
                fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False)),
            ),
            *running(job, (f"pour.{c}{tag}", "levelled"), "exchange", tag, f"cycle {k} of {count}: "),
        ]
        before = (f"sweep.{c}{tag}",)
    return found


def at_temperature(job: Job) -> list[Step]:
    """Give the steps that set a level at an oil temperature: run, sweep, read in the window, look again behind a thermostat.

    Parameters
    ----------
    job : the compartment, filled by overflow

    Returns
    -------
    list of Step

    References
    ----------
    Common practice; window, engine and selector are the sheet's.
    """
    c, level = job.key, job.sheet.level
    found = running(job, (f"pour.{c}", "levelled"), "level") if level.engine != "off" else []
    opened = (f"sweep.{c}",) if found else (f"pour.{c}", "levelled")
    engine = {"running": "engine running", "off": "engine off"}.get(level.engine, "engine as the maker says")
    selector = f", selector in {level.selector}" if level.selector else ""
    found.append(
        Step(
            f"level.{c}",
            "level",
            "level",
            f"{job.name}: set the level at {_window_words(job)}, {engine}{selector}",
            "Above the window too little stays inside, below it too much.",
            c,
            needs=opened,
            gate=True,
            caution="Hot oil, hot exhaust, turning parts: sleeves closed." if level.engine != "off" else "",
            fields=(
                Field("temperature_c", "temperature", "Oil temperature as you close"),
                Field("engine", "choice", "The engine is", choices=("off", "running") if level.engine == "off" else ("running", "off")),
                Field("outcome", "choice", "What you see", choices=("streamed, then only drips", "nothing comes", "still a stream")),
                Field("run_out_ml", "volume", "Ran out", required=False),
                Field("reason", "text", "Reason", required=False),
            ),
            advice=tuple(
                a
                for a in (
                    job.sheet.level_note,
                    "Level screw out: stream, trickle, drip, then close at once.",
                    "Nothing comes: add oil slowly through the filler; cold oil cools it.",
                )
                if a
            ),
            window=level.window,
        )
    )
    screw = job.sheet.plug("level")
    if screw:
        found.append(
            Step(
                f"closelevel.{c}",
                "level",
                "torque",
                f"{job.name}: shut the {screw.label}, {torque_words(screw.torque_nm)}",
                "Inside the window still: what runs on now is missing later.",
                c,
                needs=(f"level.{c}",),
                gate=True,
                fields=(*torque_fields(screw), Field("reason", "text", "Reason", required=False)),
                advice=(f"Key: {screw.key}",),
            )
        )
    if level.thermostat_c is not None:
        found.append(
            Step(
                f"thermostat.{c}",
                "level",
                "confirm",
                f"{job.name}: heat past {level.thermostat_c:g} °C, let it cool into the window, look again",
                "Behind its thermostat the cooler takes oil only when hot.",
                c,
                needs=(found[-1].id,),
                skip="reason",
                checklist=(f"Was past {level.thermostat_c:g} °C", "Looked again inside the window"),
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
            "finish",
            "confirm",
            f"{job.name}: reset {', '.join(job.sheet.resets)}",
            "With the engine running the reset fails.",
            c,
            needs=(f"closefill.{c}",),
            skip="reason",
            gate=True,
            checklist=("Battery supply connected", "Ignition on, engine off", *(f"Done: {r}" for r in job.sheet.resets)),
        ),
        Step(
            f"values.{c}",
            "after",
            "note",
            f"{job.name}: values and faults after the drive",
            "A fault that returns is wear, not oil.",
            c,
            needs=(f"reset.{c}", "drive"),
            skip="reason",
            fields=(Field("after", "text", "Values and faults now"),),
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
    if job.sheet.kind != "chain case":
        return []
    c = job.key
    return [
        Step(
            f"chain.{c}",
            "inspect",
            "confirm",
            f"{job.name}: chain, sprockets, bearings",
            "Now they can be seen.",
            c,
            needs=(f"drain.{c}",),
            skip="reason",
            checklist=("Chain: no stiff link, no cracked plate", "Sprockets: teeth not hooked", "Bearings: no play, no noise"),
        ),
        Step(
            f"tension.{c}",
            "inspect",
            "note",
            f"{job.name}: set the tension, write it down",
            "A chain that has stretched shows itself by where the screw ends.",
            c,
            needs=(f"chain.{c}",),
            skip="reason",
            fields=(Field("turns", "number", "Turns back to the nearest clip"), Field("stretch", "text", "Stretch, play", required=False)),
        ),
    ]
