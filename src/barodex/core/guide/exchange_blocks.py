"""Exchange and level at temperature: the engine runs, the selector sweeps, oil is exchanged in cycles or by flowing through."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.flush_blocks import look_at
from barodex.core.guide.kind_blocks import amount_fields, right_oil, torque_fields, window_words
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Field, Job, Step, plug_torque_words
from barodex.core.sheet.sheet import Plug

SWEEP_S = 5  # a position of the selector, 2 to 10 s each (common practice)
SWEEP = ("P", "R", "N", "D", "lowest gear", "D", "N", "R")

_RUNNING = (
    "Nobody under the vehicle while the selector moves",
    "Parking brake set, an assistant's foot on the brake",
    "Stands or hoist checked again; clear of shafts and exhaust",
    "Exhaust led out of the building",
)


_STILL = ("Still so: nobody under it, the brake held, stands checked, exhaust led out",)


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
            f"{said}safe to run the engine",
            "It runs while somebody works near it.",
            job.key,
            needs=needs,
            gate=True,
            caution="Go under only with the selector where the sheet wants it and the brake held.",
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
            f"{said}engine on, selector through every position, {SWEEP_S} s each",
            "Every passage and the converter take their oil.",
            job.key,
            needs=(f"running.{c}",),
            timer_s=SWEEP_S * len(SWEEP),
            skip="reason",
            advice=("Call each position out loud to whoever holds the brake.",),
            calls=SWEEP,
            runs_engine=True,
            cycle=cycle,
        ),
    ]


ENGINE_OFF = ("Engine off, key out", "Selector in P, parking brake set")
OFF_AGAIN = "Again so: engine off, key out, selector in P; whoever holds the brake has been told"
TOLD = "Whoever holds the brake has been told"


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
        f"{said}engine off, selector in P",
        "The engine may have run: a pump that turns throws hot oil out of the open drain.",
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
    c, tag, said = job.key, f".{k}", f"cycle {k}: "
    return [
        engine_off(job, before, "exchange", tag, said, k),
        Step(
            f"drain.{c}{tag}",
            Purpose.DRAIN,
            "exchange",
            "confirm",
            f"{said}pan under, drain out",
            "What comes now is old oil." if k == 1 else "What comes now is a mixture of old and new.",
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
            f"{said}measure what came out",
            "As much goes in again.",
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
            f"{said}drain shut by hand, interim",
            "It opens again soon: the new seal and the torque are for the last time.",
            c,
            needs=(f"measure.{c}{tag}", *((f"look.{c}",) if k == 1 else ())),
            gate=True,
            cycle=k,
            checklist=("Snug and dry before the engine runs",),
        ),
        right_oil(job, "exchange", (f"snug.{c}{tag}",), cycle=k),
        Step(
            f"pour.{c}{tag}",
            Purpose.POUR,
            "exchange",
            "pour",
            f"{said}pour what came out",
            "Fresh oil for old, the same amount.",
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
        f"shut the {screw.label} for now: old seal, snug",
        "It opens once more when the thermostat has opened.",
        job.key,
        needs=(f"level.{job.key}",),
        gate=True,
        advice=(f"Key: {screw.key}",),
    )


def _level_fields(job: Job) -> tuple[Field, ...]:
    return (
        Field("temperature_c", "temperature", "Oil temperature as you close"),
        Field("engine", "choice", "The engine is", choices=("off", "running") if job.sheet.level.engine == "off" else ("running", "off")),
        Field("outcome", "choice", "What you see", choices=("streamed, then only drips", "still a stream", "a trickle", "nothing comes")),
        Field("run_out_ml", "volume", "Ran out", required=False),
        Field("reason", "text", "Reason", required=False),
    )


def _level_in_window(job: Job, ready: tuple[str, ...]) -> Step:
    """The level read while the oil is inside its window."""
    level = job.sheet.level
    engine = {"running": "engine running", "off": "engine off"}.get(level.engine, "engine as the maker says")
    selector = f", selector in {level.selector}" if level.selector else ""
    return Step(
        f"level.{job.key}",
        Purpose.LEVEL,
        "level",
        "level",
        f"set the level at {window_words(job)}, {engine}{selector}",
        "Above the window too little stays inside, below it too much.",
        job.key,
        needs=ready,
        gate=True,
        runs_engine=level.engine != "off",
        caution="Hot oil, hot exhaust, turning parts: sleeves closed." if level.engine != "off" else "",
        fields=_level_fields(job),
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


def _close_screw(job: Job, screw: Plug, after: str) -> Step:
    return Step(
        f"closelevel.{job.key}",
        Purpose.CLOSE_LEVEL,
        "level",
        "torque",
        f"shut the {screw.label}, {plug_torque_words(screw)}",
        "Inside the window still: what runs on now is missing later.",
        job.key,
        needs=(after,),
        gate=True,
        plug=screw.label,
        fields=(*torque_fields(screw), Field("reason", "text", "Reason", required=False)),
        advice=(f"Key: {screw.key}",),
    )


def _past_thermostat(job: Job, after: str, opens_c: float) -> Step:
    """The level read once more when the cooler behind the thermostat has filled: what is added and runs out is counted."""
    level = job.sheet.level
    runs = level.engine != "off"
    ran = ("Engine running again, nobody below while the selector moves",) if runs else ()
    return Step(
        f"thermostat.{job.key}",
        Purpose.THERMOSTAT,
        "level",
        "level",
        f"heat past {opens_c:g}\N{NO-BREAK SPACE}°C, let it cool into {window_words(job)}, set the level again",
        "Behind its thermostat the cooler takes oil only when hot.",
        job.key,
        needs=(after,),
        skip="reason",
        gate=True,
        runs_engine=runs,
        caution="Hot oil, hot exhaust, turning parts: nobody below while it heats; sleeves closed." if runs else "Hot oil: sleeves closed.",
        checklist=(f"Was past {opens_c:g}\N{NO-BREAK SPACE}°C", "Engine off while it cooled", *ran),
        fields=_level_fields(job),
        advice=(
            "Screw out inside the window: stream, trickle, drip, then close at once.",
            "Nothing comes: the cooler has taken its share; add slowly and count it in.",
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
            "cooler return off, into a measuring can",
            "The pump pushes the old oil out; nothing is drained.",
            c,
            "The oil may be hot, and the line is under pressure once the engine runs.",
            needs=proofs,
            gate=True,
            opens_oil=True,
            checklist=("It is the return line: it flows towards the gearbox", "Line tied into the can", "Somebody stands at the key"),
        ),
        right_oil(job, "exchange", (f"drain.{c}",), ("Funnel and hose clean",)),
        replace(running(job, (f"oil.{c}", job.levelled_by), "exchange", ".flow")[0], starts=""),
        Step(
            f"pour.{c}",
            Purpose.POUR,
            "exchange",
            "pour",
            "engine on; pour in as much as runs out, stop the engine every two litres",
            "A pump that runs dry is damaged: new oil goes in first, then as fast as the old runs out.",
            c,
            "Stop the engine at once when it splutters: air in the line.",
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
            "engine off; measure what came out",
            "What came out and what went in must balance.",
            c,
            needs=(f"pour.{c}",),
            skip="reason",
            fields=amount_fields("In the can"),
        ),
        Step(
            f"look.{c}",
            Purpose.LOOK,
            "exchange",
            "inspect",
            "read the oil of the first litre",
            "No magnet is seen this way: the oil alone must tell.",
            c,
            needs=(f"pour.{c}",),
            skip="reason",
            fields=(Field("finding", "finding", "What was seen"), Field("reason", "text", "Reason", required=False)),
        ),
        Step(
            f"shut.{c}",
            Purpose.SHUT,
            "exchange",
            "confirm",
            "return line back on, tight",
            "It carries pressure.",
            c,
            needs=(f"measure.{c}", f"look.{c}"),
            gate=True,
            checklist=("Line seated, clamp or nut tight", "Dry with the engine running for a moment"),
        ),
    ]
