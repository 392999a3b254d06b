"""The guide: steps built from the sheets of a visit. What a sheet has decides which steps there are.

``build`` assembles blocks; a block is a function that gives the steps of one compartment, or of the whole visit. A step
that must hold before others can go on is a gate; ``needs`` names what opens a step.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from .debris import Finding
from .drained import Amount
from .errors import Inconsistent
from .sheet import GUIDED, Plug, Sheet
from .torque import nm_to_lbf_ft
from .working import grouped

PHASES = ("prepare", "access", "open", "drain", "inspect", "close", "fill", "level", "finish", "after")
PAN_RESERVE = 1.25  # a pan holds a quarter more than what comes (common practice)
DEFAULT_DRAIN_MIN = {"plug": 20.0, "suction": 5.0}  # common practice
POUR_TOLERANCE = {"measured": 0.05, "to the lip": 0.12, "dipstick": 0.20}  # share of the target, common practice


@dataclass(frozen=True)
class Field:
    """What a step records. ``kind``: a quantity kind, bool, text, lines, choice or finding."""

    name: str
    kind: str
    label: str
    required: bool = True
    choices: tuple[str, ...] = ()
    default: float | str | bool | None = None


@dataclass(frozen=True)
class Step:
    """One step: what to do, why, the caution, what it needs first, what it records, and how it may be passed.

    ``skip``: never, reason (only with one), free. ``required``: it must be done or passed before the signature.
    """

    id: str
    phase: str
    kind: str
    title: str
    why: str
    compartment: str = ""
    caution: str = ""
    needs: tuple[str, ...] = ()
    fields: tuple[Field, ...] = ()
    checklist: tuple[str, ...] = ()
    gate: bool = False
    skip: str = "never"
    required: bool = True
    timer_s: int = 0
    advice: tuple[str, ...] = ()


@dataclass(frozen=True)
class Job:
    """One compartment of a visit: its sheet, the oil chosen, and what is known of its past (amounts mL, distance km)."""

    key: str
    name: str
    sheet: Sheet
    oil: str
    density15: float = 880.0
    last_net_in: Amount | None = None
    distance_km: float | None = None
    first_change: bool = False
    previous: Finding | None = None
    previous_level: int | None = None
    last_filled_on: dt.date | None = None


@dataclass(frozen=True)
class Conditions:
    """Where the work is done: kind of vehicle, ambient temperature °C (None unknown)."""

    vehicle: str
    vehicle_kind: str
    ambient_c: float | None = None


@dataclass(frozen=True)
class Procedure:
    """The steps in order, with the jobs that they serve."""

    jobs: tuple[Job, ...]
    steps: tuple[Step, ...]
    by_id: Mapping[str, Step] = field(repr=False, default_factory=dict)

    def job(self, key: str) -> Job:
        return next(j for j in self.jobs if j.key == key)


def _ml(volume_ml: float) -> str:
    return f"{grouped(volume_ml)} mL"


def torque_words(torque_nm: float | None) -> str:
    """Give a torque in both units, or say that it must be looked up.

    Parameters
    ----------
    torque_nm : N·m, or None when unknown

    Returns
    -------
    str

    References
    ----------
    NIST SP 811 for the unit.
    """
    if torque_nm is None:
        return "torque unknown: look it up"
    return f"{torque_nm:g} N·m ({nm_to_lbf_ft(torque_nm):.0f} lbf·ft)"


_SAFE = {
    "motorcycle": ("On its centre stand or a lift with a strap", "Upright, and cannot tip when a plug is pulled"),
    "boat": ("Moored, engine stopped, ignition isolated", "Bilge kept clean: absorbent below", "Nobody near the shaft"),
    "bicycle": ("On its stand",),
    "snow machine": ("On its stand, track clear of the floor",),
}
_SAFE_DEFAULT = ("Wheels chocked, parking brake on", "On stands or a hoist rated for the load, never on a jack alone", "Key out until it is needed")
_SAFE_ALL = ("Gloves and eye protection on", "Exhaust and oil: what is hot is known")


def _common_start(jobs: tuple[Job, ...], conditions: Conditions) -> list[Step]:
    keys, seals = [], []
    for job in jobs:
        for plug in job.sheet.plugs:
            if plug.role != "dipstick":
                keys.append(f"{plug.key} ({job.name}, {plug.label})")
            if plug.seal not in ("none", "unknown", "taper thread") and plug.role != "dipstick":
                seals.append(f"{plug.seal} for {plug.label} ({job.name})")
        if job.sheet.drain_method == "suction":
            keys.append(f"suction pump and hose ({job.name})")
    pan = sum(j.sheet.capacity_ml or 0 for j in jobs) * PAN_RESERVE
    pan_words = f"measuring pan for {_ml(pan)}" if pan and all(j.sheet.capacity_ml for j in jobs) else "the largest measuring pan: a capacity is unknown"
    steps = [
        Step("ready", "prepare", "confirm", f"Right vehicle: {conditions.vehicle}",
             "The commonest wrong oil is the right oil in the wrong box.",
             checklist=tuple(f"{j.name}: {j.oil}" for j in jobs), gate=True),
    ]
    for job in jobs:
        doubtful = [f"{name.replace('_', ' ')}: {trust}" for name, trust in job.sheet.trust.items() if trust in ("guessed", "remembered", "unknown")]
        if job.sheet.capacity_ml is None:
            doubtful.append("capacity: unknown, measure what comes out")
        steps.append(Step(
            f"sheet.{job.key}", "prepare", "confirm", f"{job.name}: look at the sheet, revision {job.sheet.number}",
            "Makers revise. A guessed figure has to be confirmed before it is used." if doubtful else "Every figure on it is verified.",
            job.key, needs=("ready",), gate=True, checklist=tuple(doubtful),
            advice=(f"Takes {_ml(job.sheet.capacity_ml)}" if job.sheet.capacity_ml else "Takes: unknown", f"Oil: {job.oil}", *job.sheet.cautions),
        ))
    steps.append(Step("kit", "prepare", "confirm", "Tools and seals on the tray", "A missing washer stops the start, not the middle.",
                      needs=("ready",), gate=True, checklist=tuple(dict.fromkeys([*keys, *seals, pan_words, "clean cloth, brush, waste can"]))))
    if any(j.sheet.warm_up and j.sheet.drain_method == "plug" for j in jobs):
        steps.append(Step("warm", "prepare", "timer", "Drive until the oil is hand-warm",
                          "Warm oil drains fast and brings the debris with it. Idling does not warm an axle.", needs=("ready",),
                          skip="free", required=False, timer_s=600))
    if conditions.vehicle_kind == "boat":
        steps.append(Step("warm", "prepare", "timer", "Run it at the mooring until hand-warm", "Warm oil comes up the hose.",
                          needs=("ready",), skip="free", required=False, timer_s=600,
                          caution="Lines doubled, nobody near the shaft; then stop and isolate."))
    safe = (*_SAFE.get(conditions.vehicle_kind, _SAFE_DEFAULT), *_SAFE_ALL)
    steps.append(Step("safe", "prepare", "confirm", "Make it safe to work on", "What can roll, fall or burn is dealt with before a plug is touched.",
                      needs=("ready",), gate=True, checklist=safe,
                      caution="The maker's manual, local rules and qualified practice come first."))
    steps.append(Step("access", "access", "note", "Take off what is in the way", "What comes off is listed here and goes back on at the end.",
                      needs=("safe",), required=False, skip="free",
                      fields=(Field("came_off", "lines", "What came off, one a line", required=False),)))
    return steps


_STUCK = {
    "magnesium": "Magnesium case: rock gently, no impact, no flame.",
    "aluminium": "Aluminium case: rock gently, no impact, no flame.",
    "iron": "Iron case: penetrant and time; no flame once penetrant or degreaser was used.",
    "unknown": "Case material unknown: treat it as aluminium, no impact, no flame.",
}


def _plug_torque_fields(plug: Plug) -> tuple[Field, ...]:
    torque = Field("torque_nm", "torque", "Torque used", required=False, default=plug.torque_nm)
    by_hand = Field("started_by_hand", "bool", "Threads started by hand", default=False)
    if plug.seal in ("none", "taper thread"):
        return (torque, by_hand)
    seal = "seal renewed as found" if plug.seal == "unknown" else f"new {plug.seal}"
    return (torque, Field("seal_renewed", "bool", f"Old seal off both faces, {seal}", default=False), by_hand)


def _open_and_drain(job: Job, all_proofs: tuple[str, ...], conditions: Conditions) -> list[Step]:
    c, sheet = job.key, job.sheet
    fill = sheet.plug("fill", "level", "combination")
    drain = sheet.plug("drain", "combination")
    pan = f"Pan for {_ml(sheet.capacity_ml * PAN_RESERVE)} under it." if sheet.capacity_ml else "Largest pan under it: the capacity is unknown."
    hot = "Fresh from a drive the oil is hot, and used oil harms skin: gloves stay on."
    steps = [Step(f"clean.{c}", "access", "confirm", f"{job.name}: clean round the plugs", "Nothing may fall in once it is open.", c,
                  needs=("safe", f"sheet.{c}", "kit"), skip="reason")]
    if fill and fill is not drain:
        steps.append(Step(f"prove.{c}", "open", "confirm", f"{job.name}: crack the {fill.label} loose, see it turn",
                          "A box with tired oil still runs; an empty one that cannot be refilled does not.", c,
                          needs=(f"clean.{c}",), gate=True,
                          advice=(f"Key: {fill.key}. Seat it fully first.", _STUCK[sheet.case_material],
                                  "If it does not come, stop here: nothing has been drained.")))
    if sheet.drain_method == "suction":
        steps.append(Step(f"drain.{c}", "drain", "confirm", f"{job.name}: hose to the very bottom, pull it out", "Far less than expected means the hose was not at the bottom.",
                          c, hot, needs=(*all_proofs, f"clean.{c}"), gate=True, advice=(pan,)))
    else:
        label = drain.label if drain else "drain plug"
        steps.append(Step(f"drain.{c}", "drain", "confirm", f"{job.name}: pan under, {label} out", "Last threads by hand, pressing in, then away quickly.", c, hot,
                          needs=(*all_proofs, f"clean.{c}"), gate=True, advice=(pan, f"Key: {drain.key}" if drain else "")))
    minutes = sheet.drain_minutes or DEFAULT_DRAIN_MIN[sheet.drain_method]
    steps.append(Step(f"wait.{c}", "drain", "timer", f"{job.name}: wait until it only drips", "The last of it carries the most debris.", c, needs=(f"drain.{c}",),
                      timer_s=int(minutes * 60), required=False, skip="free",
                      fields=(Field("drops", "number", "Drops counted", required=False), Field("seconds", "number", "in seconds", required=False))))
    why = f"It tells what was lost since {job.last_filled_on:%d %B %Y}.".replace("since 0", "since ") if job.last_filled_on else "No earlier fill is on record: this is the first figure for it."
    steps.append(Step(f"measure.{c}", "drain", "measure", f"{job.name}: measure what came out", why, c, hot, needs=(f"drain.{c}",), skip="reason",
                      fields=(Field("pan_ml", "volume", "In the pan", required=False), Field("mass_g", "mass", "or weighed, oil alone", required=False),
                              Field("hose_ml", "volume", "In the hose", required=False), Field("rag_ml", "volume", "On the rag", required=False),
                              Field("temperature_c", "temperature", "Oil temperature", required=False),
                              Field("reason", "text", "Reason", required=False))))
    steps.append(Step(f"look.{c}", "inspect", "inspect", f"{job.name}: read oil and magnet", "A paste is wear, a chunk is a break. A rise matters more than a level.",
                      c, needs=(f"drain.{c}",), skip="reason", fields=(Field("finding", "finding", "What was seen"),)))
    if sheet.drain_method == "plug" and drain:
        steps.append(Step(f"shut.{c}", "close", "torque", f"{job.name}: shut the {drain.label}, {torque_words(drain.torque_nm)}",
                          "Filling with the drain still open is a real and repeated mistake.", c, needs=(f"drain.{c}", f"look.{c}"), gate=True,
                          caution="Never by feel into aluminium or magnesium when a figure exists." if sheet.case_material != "iron" else "",
                          fields=(*_plug_torque_fields(drain), Field("reason", "text", "Reason", required=False)), advice=(f"Key: {drain.key}",)))
    return steps


_LEVEL_WORDS = {
    "to the lip": ("trickle, then drips: it stands at the lip", "The lip sets the level; the poured amount is the cross-check.",
                   ("trickled, then only drips", "stands at the lip by finger or torch")),
    "measured": ("the amount is the level", "No plug tells you here: the counter does.", ("the full amount is in",)),
    "dipstick": ("wait, dip, read between the marks", "Oil needs time to settle before the stick tells the truth.", ("between the marks", "at the upper mark")),
}


def _fill_and_level(job: Job) -> list[Step]:
    c, sheet = job.key, job.sheet
    closed = (f"shut.{c}",) if sheet.drain_method == "plug" else (f"measure.{c}", f"look.{c}")
    fill = sheet.plug("fill", "level", "combination", "dipstick")
    steps = [
        Step(f"oil.{c}", "fill", "confirm", f"{job.name}: right oil in your hand? {job.oil}", "Read the label of this container, now.", c, needs=closed,
             gate=True, checklist=(f"Label reads {job.oil}", "Shaken, if it settles", "Funnel and hose clean")),
        Step(f"pour.{c}", "fill", "pour", f"{job.name}: pour by the plan", "Slowly: a plug that overflows early is a false full.", c,
             needs=(*closed, f"oil.{c}"), gate=True,
             fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False))),
    ]
    words, why, outcomes = _LEVEL_WORDS[sheet.fill_method]
    fields: tuple[Field, ...] = (Field("outcome", "choice", "What you see", choices=outcomes),)
    if sheet.fill_method == "to the lip":
        fields += (Field("run_out_ml", "volume", "Ran out at the plug", required=False),)
    steps.append(Step(f"level.{c}", "level", "level", f"{job.name}: {words}", why, c, needs=(f"pour.{c}", "levelled"), gate=True, fields=fields,
                      advice=(sheet.level_note,) if sheet.level_note else ()))
    if fill and fill.role != "dipstick":
        steps.append(Step(f"closefill.{c}", "level", "torque", f"{job.name}: close the {fill.label}, {torque_words(fill.torque_nm)}",
                          "Some makers want this plug itself renewed.", c, needs=(f"level.{c}",), gate=True,
                          fields=(*_plug_torque_fields(fill), Field("reason", "text", "Reason", required=False)), advice=(f"Key: {fill.key}",)))
    else:
        steps.append(Step(f"closefill.{c}", "level", "confirm", f"{job.name}: dipstick in and seated", "An open hole breathes dirt and water.", c,
                          needs=(f"level.{c}",), gate=True))
    return steps


def _common_end(jobs: tuple[Job, ...], conditions: Conditions) -> list[Step]:
    closed = tuple(f"closefill.{j.key}" for j in jobs)
    run_words = {"boat": "Run ahead and astern at the mooring", "bicycle": "Ride through all gears"}.get(conditions.vehicle_kind, "Drive, shift through everything")
    return [
        Step("wipe", "finish", "confirm", "Wipe clean; everything back on", "Clean, so that a leak shows later.", needs=closed, skip="reason"),
        Step("stop", "finish", "note", "Stop verdict: what happens to the vehicle?", "Something has broken: running it does more harm.", needs=closed,
             caution="Do not drive.",
             fields=(Field("handling", "choice", "It will", choices=("stay where it stands", "move only by trailer or winch, driven wheels off the ground")),)),
        Step("drive", "finish", "confirm", run_words, "Note how it shifts and sounds.", needs=(*closed, "wipe"), skip="reason",
             fields=(Field("feel", "text", "Feel and noise", required=False),),
             caution="Look for leaks before you move off."),
        Step("recheck", "after", "confirm", "Look again for leaks and level", "A seal that weeps shows itself warm.", needs=("drive",), skip="reason"),
        Step("waste", "after", "confirm", "Used oil to the collection point", "Never mixed with solvents or coolant.",
             needs=tuple(f"drain.{j.key}" for j in jobs), skip="reason",
             fields=(Field("where_to", "text", "Where to", required=False),)),
        Step("sign", "after", "sign", "Sign it off", "The record, the stock, the reading and the next due are written at once.", gate=True),
    ]


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
    Inconsistent : no job, a key twice, or a kind of compartment whose guide does not exist

    References
    ----------
    The order of work: common practice (fill plug first, drain closed before filling, level on level ground).
    """
    if not jobs or len(jobs) > 12 or len({j.key for j in jobs}) != len(jobs):
        raise Inconsistent("A visit has one to twelve compartments, each once.", field="jobs", value=len(jobs))
    for job in jobs:
        if job.sheet.kind not in GUIDED:
            raise Inconsistent(
                f"{job.name}: there is no guide for this kind ({job.sheet.kind}) yet. Work by the maker's manual and write the change into the Book.",
                field="jobs", value=job.sheet.kind, allowed=", ".join(GUIDED))
    jobs = tuple(sorted(jobs, key=lambda j: -(j.sheet.drain_minutes or DEFAULT_DRAIN_MIN[j.sheet.drain_method])))
    fill_plugs = {j.key: j.sheet.plug("fill", "level", "combination") for j in jobs}
    proofs = tuple(f"prove.{j.key}" for j in jobs if (p := fill_plugs[j.key]) and p is not j.sheet.plug("drain", "combination"))
    steps = _common_start(jobs, conditions)
    for job in jobs:
        steps += _open_and_drain(job, (*proofs, "safe", *(f"sheet.{j.key}" for j in jobs)), conditions)
        steps += _fill_and_level(job)
    on_level = "Upright on level ground, not on its side stand" if conditions.vehicle_kind == "motorcycle" else "Level: floor or hoist, checked with a spirit level"
    steps.append(Step("levelled", "fill", "confirm", on_level, "A level is read only on a level vehicle.", needs=("safe",), gate=True))
    steps += _common_end(jobs, conditions)
    order = {"drain": 0, "wait": 1, "measure": 1, "levelled": -1}
    steps.sort(key=lambda s: (PHASES.index(s.phase), order.get(s.id.split(".")[0], 0)))
    required = tuple(s.id for s in steps if s.required and s.id not in ("sign", "stop"))
    steps = [replace(s, needs=required) if s.id == "sign" else s for s in steps]
    return Procedure(jobs, tuple(steps), {s.id: s for s in steps})
