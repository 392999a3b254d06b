"""Exchange and level at temperature: the engine runs, the selector sweeps, oil is exchanged in cycles or by flowing through."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.flush_blocks import look_at
from barodex.core.guide.kind_blocks import amount_fields, right_oil, torque_fields, window_words
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step, plug_torque_words
from barodex.core.sheet.sheet import Plug
from barodex.core.words import say

SWEEP_S = 5  # a position of the selector, 2 to 10 s each (common practice)
SWEEP = ("P", "R", "N", "D", "lowest gear", "D", "N", "R")

_RUNNING = (
    say("Nobody under the vehicle while the selector moves"),
    say("Parking brake set, an assistant's foot on the brake"),
    say("Stands or hoist checked again; clear of shafts and exhaust"),
    say("Exhaust led out of the building"),
)


_STILL = (say("Still so: nobody under it, the brake held, stands checked, exhaust led out"),)


def running(job: Job, needs: tuple[str, ...], phase: str, tag: str = "", said: str = "", cycle: int = 0) -> list[Step]:
    """Give the gate before an engine-running step, and the sweep through the selector.

    Parameters
    ----------
    job : the compartment
    needs : what must be done before the engine runs
    phase : of the guide
    tag : set behind the step ids, for a cycle
    said : set before the words of the steps, for a cycle
    cycle : the exchange cycle that they belong to, 0 for none

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
            Purpose.RUNNING,
            phase,
            "confirm",
            say("{said}safe to run the engine", said=said),
            say("It runs while somebody works near it."),
            job.key,
            needs=needs,
            gate=True,
            caution=say("Go under only with the selector where the sheet wants it and the brake held."),
            checklist=_RUNNING if cycle < 2 else _STILL,
            starts=f"sweep.{c}",
            runs_engine=True,
            cycle=cycle,
        ),
        Step(
            f"sweep.{c}",
            Purpose.SWEEP,
            phase,
            "timer",
            say("{said}engine on, selector through every position, {sweep_s} s each", said=said, sweep_s=SWEEP_S),
            say("Every passage and the converter take their oil."),
            job.key,
            needs=(f"running.{c}",),
            timer_s=SWEEP_S * len(SWEEP),
            skip="reason",
            advice=(say("Call each position out loud to whoever holds the brake."),),
            calls=SWEEP,
            runs_engine=True,
            cycle=cycle,
        ),
    ]


ENGINE_OFF = (say("Engine off, key out"), say("Selector in P, parking brake set"))
OFF_AGAIN = say("Again so: engine off, key out, selector in P; whoever holds the brake has been told")
TOLD = say("Whoever holds the brake has been told")


def engine_off(job: Job, needs: tuple[str, ...], phase: str, tag: str = "", said: str = "", cycle: int = 0) -> Step:
    """Give the gate before each drain of an exchange: nothing turns while somebody opens it.

    Parameters
    ----------
    job : the compartment
    needs : what must be done before
    phase : of the guide
    tag : set behind the step's id, for a cycle
    said : set before its words, for a cycle
    cycle : the exchange cycle that it belongs to, 0 for the last drain

    Returns
    -------
    Step

    References
    ----------
    Common practice.
    """
    return Step(
        f"off.{job.key}{tag}",
        Purpose.OFF,
        phase,
        "confirm",
        say("{said}engine off, selector in P", said=said),
        say("The engine may have run: a pump that turns throws hot oil out of the open drain."),
        job.key,
        needs=needs,
        gate=True,
        cycle=cycle,
        checklist=(*ENGINE_OFF, TOLD) if cycle == 1 else (OFF_AGAIN,),
    )


def cycles(job: Job, proofs: tuple[str, ...]) -> list[Step]:
    """Give the drain-and-refill cycles that come before the last, final one.

    Parameters
    ----------
    job : the compartment; with room for more cycles than planned
    proofs : what must hold before any drain is opened

    Returns
    -------
    list of Step, each with its cycle: those beyond what is wanted do not apply; between cycles the drain is closed by hand only, the last one gets its seal and torque

    References
    ----------
    Common practice: more fresh oil by several small changes than by one.
    """
    found: list[Step] = []
    before = proofs
    for k in range(1, job.most_cycles):
        found += _one_cycle(job, k, before)
        before = (f"sweep.{job.key}.{k}",)
    return found


def _one_cycle(job: Job, k: int, before: tuple[str, ...]) -> list[Step]:
    """Engine off, drained, measured, shut by hand, as much poured again, engine run through."""
    c, tag, said = job.key, f".{k}", say("cycle {k}: ", k=k)
    return [
        engine_off(job, before, "exchange", tag, said, k),
        Step(
            f"drain.{c}{tag}",
            Purpose.DRAIN,
            "exchange",
            "confirm",
            say("{said}pan under, drain out", said=said),
            say("What comes now is old oil.") if k == 1 else say("What comes now is a mixture of old and new."),
            c,
            caution=job.oil_caution,
            needs=(f"off.{c}{tag}",),
            gate=True,
            opens_oil=True,
            cycle=k,
        ),
        Step(
            f"measure.{c}{tag}",
            Purpose.MEASURE,
            "exchange",
            "measure",
            say("{said}measure what came out", said=said),
            say("As much goes in again."),
            c,
            needs=(f"drain.{c}{tag}",),
            gate=True,
            cycle=k,
            fields=amount_fields(),
        ),
        *([look_at(job, (f"drain.{c}{tag}",), "exchange")] if k == 1 else []),
        Step(
            f"snug.{c}{tag}",
            Purpose.SNUG,
            "exchange",
            "confirm",
            say("{said}drain shut by hand, interim", said=said),
            say("It opens again soon: the new seal and the torque are for the last time."),
            c,
            needs=(f"measure.{c}{tag}", *((f"look.{c}",) if k == 1 else ())),
            gate=True,
            cycle=k,
            checklist=(say("Snug and dry before the engine runs"),),
        ),
        right_oil(job, "exchange", (f"snug.{c}{tag}",), cycle=k),
        Step(
            f"pour.{c}{tag}",
            Purpose.POUR,
            "exchange",
            "pour",
            say("{said}pour what came out", said=said),
            say("Fresh oil for old, the same amount."),
            c,
            needs=(f"oil.{c}{tag}",),
            gate=True,
            cycle=k,
            fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False)),
        ),
        *running(job, (f"pour.{c}{tag}", job.levelled_by), "exchange", tag, said, k),
    ]


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
    level, screw = job.sheet.level, job.sheet.plug("level")
    topped = job.kind_of_work == "top-up"
    filled = (f"oil.{job.key}" if topped else f"pour.{job.key}", job.levelled_by, *((f"shut.{job.key}",) if job.flows else ()))
    ran = running(job, filled, "level") if level.engine != "off" else []
    found = [*ran, _level_in_window(job, (f"sweep.{job.key}",) if ran else filled)]
    if level.thermostat_c is not None:
        # The screw is opened again behind the thermostat: its new seal and its torque are for the last time.
        found += [_screw_for_now(job, screw)] if screw else []
        found.append(_past_thermostat(job, found[-1].id, level.thermostat_c))
    return [*found, *([_close_screw(job, screw, found[-1].id)] if screw else [])]


def _screw_for_now(job: Job, screw: Plug) -> Step:
    return Step(
        f"snuglevel.{job.key}",
        Purpose.SNUG,
        "level",
        "confirm",
        say("shut the {screw_label} for now: old seal, snug", screw_label=screw.label),
        say("It opens once more when the thermostat has opened."),
        job.key,
        needs=(f"level.{job.key}",),
        gate=True,
        advice=(say("Key: {key}", key=screw.key),),
    )


def _level_fields(job: Job) -> tuple[Field, ...]:
    return (
        Field("temperature_c", "temperature", say("Oil temperature as you close")),
        Field(
            "engine", "choice", say("The engine is"), choices=("off", "running") if job.sheet.level.engine == "off" else ("running", "off")
        ),
        Field(
            "outcome", "choice", say("What you see"), choices=("streamed, then only drips", "still a stream", "a trickle", "nothing comes")
        ),
        Field("run_out_ml", "volume", "Ran out", required=False),
        Field("reason", "text", "Reason", required=False),
    )


def _level_in_window(job: Job, ready: tuple[str, ...]) -> Step:
    """The level read while the oil is inside its window."""
    level = job.sheet.level
    engine = {"running": "engine running", "off": "engine off"}.get(level.engine, "engine as the maker says")
    selector = say(", selector in {selector}", selector=level.selector) if level.selector else ""
    return Step(
        f"level.{job.key}",
        Purpose.LEVEL,
        "level",
        "level",
        say("set the level at {job}, {engine}{selector}", job=window_words(job), engine=engine, selector=selector),
        say("Above the window too little stays inside, below it too much."),
        job.key,
        needs=ready,
        gate=True,
        runs_engine=level.engine != "off",
        caution=say("Hot oil, hot exhaust, turning parts: sleeves closed.") if level.engine != "off" else "",
        fields=_level_fields(job),
        advice=tuple(
            a
            for a in (
                job.sheet.level_note,
                say("Level screw out: stream, trickle, drip, then close at once."),
                say("Nothing comes: add oil slowly through the filler; cold oil cools it."),
            )
            if a
        ),
        window=level.window,
    )


def _close_screw(job: Job, screw: Plug, after: str) -> Step:
    return Step(
        f"closelevel.{job.key}",
        Purpose.CLOSE_LEVEL,
        "level",
        "torque",
        say("shut the {screw_label}, {screw}", screw_label=screw.label, screw=plug_torque_words(screw)),
        say("Inside the window still: what runs on now is missing later."),
        job.key,
        needs=(after,),
        gate=True,
        plug=screw.label,
        fields=(*torque_fields(screw), Field("reason", "text", "Reason", required=False)),
        advice=(say("Key: {key}", key=screw.key),),
    )


def _past_thermostat(job: Job, after: str, opens_c: float) -> Step:
    """The level read once more when the cooler behind the thermostat has filled: what is added and runs out is counted."""
    level = job.sheet.level
    runs = level.engine != "off"
    ran = (say("Engine running again, nobody below while the selector moves"),) if runs else ()
    return Step(
        f"thermostat.{job.key}",
        Purpose.THERMOSTAT,
        "level",
        "level",
        say(
            "heat past {opens_c:g}\N{NO-BREAK SPACE}°C, let it cool into {job}, set the level again", opens_c=opens_c, job=window_words(job)
        ),
        say("Behind its thermostat the cooler takes oil only when hot."),
        job.key,
        needs=(after,),
        skip="reason",
        gate=True,
        runs_engine=runs,
        caution=say("Hot oil, hot exhaust, turning parts: nobody below while it heats; sleeves closed.")
        if runs
        else say("Hot oil: sleeves closed."),
        checklist=(say("Was past {opens_c:g}\N{NO-BREAK SPACE}°C", opens_c=opens_c), say("Engine off while it cooled"), *ran),
        fields=_level_fields(job),
        advice=(
            say("Screw out inside the window: stream, trickle, drip, then close at once."),
            say("Nothing comes: the cooler has taken its share; add slowly and count it in."),
        ),
        window=level.window,
    )


def flow_through(job: Job, proofs: tuple[str, ...]) -> list[Step]:
    """Give the exchange by flowing through: the cooler's return runs into a can while as much new oil goes in.

    Parameters
    ----------
    job : the compartment; its sheet states the total amount, mL
    proofs : what must hold before a line is opened

    Returns
    -------
    list of Step, up to the line that is back on

    References
    ----------
    Common practice of the flow-through school; the amount as :func:`barodex.core.ledger.exchange.flow_needed_ml`.
    """
    c = job.key
    return [
        Step(
            f"drain.{c}",
            Purpose.DRAIN,
            "exchange",
            "confirm",
            say("cooler return off, into a measuring can"),
            say("The pump pushes the old oil out; nothing is drained."),
            c,
            say("The oil may be hot, and the line is under pressure once the engine runs."),
            needs=proofs,
            gate=True,
            opens_oil=True,
            checklist=(
                say("It is the return line: it flows towards the gearbox"),
                say("Line tied into the can"),
                say("Somebody stands at the key"),
            ),
        ),
        right_oil(job, "exchange", (f"drain.{c}",), (say("Funnel and hose clean"),)),
        replace(running(job, (f"oil.{c}", job.levelled_by), "exchange", ".flow")[0], starts=""),
        Step(
            f"pour.{c}",
            Purpose.POUR,
            "exchange",
            "pour",
            say("engine on; pour in as much as runs out, stop the engine every two litres"),
            say("A pump that runs dry is damaged: new oil goes in first, then as fast as the old runs out."),
            c,
            say("Stop the engine at once when it splutters: air in the line."),
            needs=(f"running.{c}.flow",),
            gate=True,
            runs_engine=True,
            fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False)),
        ),
        *_flow_balanced(job),
    ]


def _flow_balanced(job: Job) -> list[Step]:
    """What came out is measured and read, and the line is back on."""
    c = job.key
    return [
        Step(
            f"measure.{c}",
            Purpose.MEASURE,
            "exchange",
            "measure",
            say("engine off; measure what came out"),
            say("What came out and what went in must balance."),
            c,
            needs=(f"pour.{c}",),
            skip="reason",
            fields=amount_fields(say("In the can")),
        ),
        Step(
            f"look.{c}",
            Purpose.LOOK,
            "exchange",
            "inspect",
            say("read the oil of the first litre"),
            say("No magnet is seen this way: the oil alone must tell."),
            c,
            needs=(f"pour.{c}",),
            skip="reason",
            fields=(Field("finding", "finding", say("What was seen")), Field("reason", "text", "Reason", required=False)),
        ),
        Step(
            f"shut.{c}",
            Purpose.SHUT,
            "exchange",
            "confirm",
            say("return line back on, tight"),
            say("It carries pressure."),
            c,
            needs=(f"measure.{c}", f"look.{c}"),
            gate=True,
            checklist=(say("Line seated, clamp or nut tight"), say("Dry with the engine running for a moment")),
        ),
    ]
