"""The blocks that a visit has once: its start and its end."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.level import warming_minutes
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import PAN_RESERVE, Conditions, Field, Job, Step
from barodex.core.guide.variant_blocks import casing_code
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.sheet.work import touched_plugs

_SAFE = {
    "motorcycle": ("On its centre stand or a lift with a strap", "Upright, and cannot tip when a plug is pulled"),
    "boat": ("Moored, engine stopped, ignition isolated", "Bilge kept clean: absorbent below", "Nobody near the shaft"),
    "bicycle": ("On its stand",),
    "snow machine": ("On its stand, track clear of the floor",),
}
_SAFE_DEFAULT = (
    "Wheels chocked, parking brake on",
    "On stands or a hoist rated for the load, never on a jack alone",
    "Key out until it is needed",
)
_SAFE_ALL = ("Gloves and eye protection on", "Exhaust and oil: what is hot is known")


def _heavy(job: Job) -> bool:
    """Whether the oil that is asked is thicker than an 80W-90."""
    return any(number in job.sheet.requirement.grade for number in ("110", "140", "190", "250"))


def _most(job: Job) -> float | None:
    """What may come out at most, mL, whichever variant it turns out to be."""
    return replace(job, sheet=job.open_sheet).holds_ml if job.open_sheet else job.sheet.capacity_ml


def _takes(job: Job) -> str:
    sizes = candidates_ml(job.sheet)
    if len(sizes) > 1:
        return f"Takes {' or '.join(ml(s) for s in sizes)}, by its variant"
    return f"Takes {ml(job.sheet.capacity_ml)}" if job.sheet.capacity_ml else "Takes: unknown"


def common_start(jobs: tuple[Job, ...], conditions: Conditions) -> list[Step]:
    """Give the steps before anything is opened: right vehicle, sheets, tools and seals, warm oil, safety, access.

    Parameters
    ----------
    jobs : the compartments of the visit
    conditions : vehicle and ambient °C

    Returns
    -------
    list of Step

    References
    ----------
    Order of work and cautions: common practice.
    """
    drained = [j for j in jobs if j.kind_of_work != "top-up"]
    return [
        _right_vehicle(jobs, conditions),
        *(step for job in jobs for step in (_sheet(job), *casing_code(job), *_fetched(job))),
        _tray(jobs, drained),
        *_warm(jobs, drained, conditions),
        *_feel(drained, conditions),
        _safe(conditions),
        _access(),
    ]


def _right_vehicle(jobs: tuple[Job, ...], conditions: Conditions) -> Step:
    return Step(
        "ready",
        Purpose.READY,
        "prepare",
        "confirm",
        f"Right vehicle: {conditions.vehicle}",
        "The commonest wrong oil is the right oil in the wrong box.",
        checklist=tuple(f"{j.name}: {j.oil}" for j in jobs),
        gate=True,
    )


def _doubts(job: Job) -> list[str]:
    """What of its sheet has to be confirmed before it is used."""
    doubtful = [
        f"{name.replace('_', ' ')}: {trust}" for name, trust in job.sheet.trust.items() if trust in ("guessed", "remembered", "unknown")
    ]
    if job.sheet.capacity_ml is None:
        doubtful.append("capacity: unknown, measure what comes out")
    as_started = job.open_sheet or job.sheet
    if as_started.variants and not as_started.variant:
        doubtful += [f"variant open: {v.name}" + (f", marked {v.mark}" if v.mark else "") for v in as_started.variants]
        doubtful += [f"casing, {m.where}: {m.reads} {m.tells}".strip() for m in as_started.casing_marks]
    return doubtful


def _sheet(job: Job) -> Step:
    doubtful = _doubts(job)
    return Step(
        f"sheet.{job.key}",
        Purpose.SHEET,
        "prepare",
        "confirm",
        f"look at the sheet, revision {job.sheet.number}",
        "Makers revise. A guessed figure has to be confirmed before it is used." if doubtful else "Every figure on it is verified.",
        job.key,
        needs=("ready",),
        gate=True,
        checklist=tuple(doubtful),
        advice=(_takes(job), f"Oil: {job.oil}", *job.sheet.cautions),
    )


def _fetched(job: Job) -> list[Step]:
    """Oil that somebody fetches: the drain waits for it."""
    if not job.fetch:
        return []
    return [
        Step(
            f"fetched.{job.key}",
            Purpose.FETCHED,
            "prepare",
            "confirm",
            f"{job.fetch}: is it here?",
            "A box that is drained and cannot be filled stands where it is.",
            job.key,
            needs=("ready",),
            gate=True,
        )
    ]


def _pan(drained: list[Job]) -> str:
    """The pan that holds what may come out of all of them."""
    if not drained:
        return "rag below"
    if not all(_most(j) for j in drained):
        return "the largest measuring pan: a capacity is unknown"
    return f"measuring pan for {ml(round(sum(_most(j) or 0 for j in drained) * PAN_RESERVE))}"


def _keys_and_seals(jobs: tuple[Job, ...]) -> list[str]:
    """Keys and tools, then seals, each with what it is for."""
    keys, seals = [], []
    for job in jobs:
        # What is fetched and confirmed at the start does not change when the variant is found out on the way.
        for plug in touched_plugs(job.open_sheet or job.sheet, job.kind_of_work):
            if plug.role != "dipstick":
                heads = [replace(plug, drive=h.drive, size_mm=h.size_mm) for h in plug.heads] or [plug]
                keys += [f"{fitted.key} ({job.name}, {plug.label})" for fitted in heads]
            if plug.seal not in ("none", "unknown", "taper thread") and plug.role != "dipstick":
                seals.append(f"{plug.seal} for {plug.label} ({job.name})")
        if job.sheet.drain_method == "suction" and job.kind_of_work != "top-up":
            keys.append(f"suction pump and hose ({job.name})")
    return [*keys, *seals]


def _tray(jobs: tuple[Job, ...], drained: list[Job]) -> Step:
    return Step(
        "kit",
        Purpose.KIT,
        "prepare",
        "confirm",
        "Tools and seals on the tray",
        "A missing washer stops the start, not the middle.",
        needs=("ready",),
        gate=True,
        checklist=tuple(dict.fromkeys([*_keys_and_seals(jobs), _pan(drained), "clean cloth, brush, waste can"])),
        fields=(Field("tools", "number", "Tools laid out, counted", required=False),),
    )


def _warm(jobs: tuple[Job, ...], drained: list[Job], conditions: Conditions) -> list[Step]:
    """Driven or run warm; not with an oil inside that harms what runs in it: then it is drained as it stands."""
    if any(j.no_warm for j in jobs):
        return []
    steps = []
    warmed = [j for j in drained if j.sheet.warm_up and j.sheet.drain_method == "plug"]
    if warmed:
        minutes = max(warming_minutes(j.sheet.capacity_ml or 2000.0, conditions.ambient_c, _heavy(j)) for j in warmed)
        steps.append(
            Step(
                "warm",
                Purpose.WARM,
                "prepare",
                "timer",
                "Drive until the oil is hand-warm",
                "Warm oil drains fast and brings the debris with it. Idling does not warm an axle.",
                needs=("ready",),
                skip="free",
                required=False,
                moves_vehicle=True,
                timer_s=round(minutes) * 60,
                advice=(
                    f"About {minutes:.0f} minutes" + (f" at {conditions.ambient_c:g} °C." if conditions.ambient_c is not None else "."),
                ),
            )
        )
    if conditions.vehicle_kind == "boat" and drained:
        steps.append(
            Step(
                "warm",
                Purpose.WARM,
                "prepare",
                "timer",
                "Run it at the mooring until hand-warm",
                "Warm oil comes up the hose.",
                needs=("ready",),
                skip="free",
                required=False,
                moves_vehicle=True,
                runs_engine=True,
                timer_s=600,
                caution="Lines doubled, nobody near the shaft; then stop and isolate.",
            )
        )
    return steps


def _feel(drained: list[Job], conditions: Conditions) -> list[Step]:
    if not drained or conditions.vehicle_kind in ("boat", "bicycle"):
        return []
    return [
        Step(
            "feel",
            Purpose.FEEL,
            "prepare",
            "note",
            "How does it shift and sound now?",
            "Before and after are compared: an oil that does not suit a box shows itself in the shifting.",
            needs=("ready",),
            skip="free",
            required=False,
            fields=_impressions(),
        )
    ]


def _safe(conditions: Conditions) -> Step:
    safe = (*_SAFE.get(conditions.vehicle_kind, _SAFE_DEFAULT), *_SAFE_ALL)
    return Step(
        "safe",
        Purpose.SAFE,
        "prepare",
        "confirm",
        "Make it safe to work on",
        "What can roll, fall or burn is dealt with before a plug is touched.",
        needs=("ready",),
        gate=True,
        checklist=safe,
        caution="The maker's manual, local rules and qualified practice come first.",
    )


def _access() -> Step:
    return Step(
        "access",
        Purpose.ACCESS,
        "access",
        "note",
        "Take off what is in the way",
        "A photo first: what comes off is listed here and goes back on at the end.",
        needs=("safe",),
        required=False,
        skip="free",
        fields=(Field("came_off", "lines", "What came off, one a line", required=False),),
    )


RATED = ("1 bad", "2 poor", "3 fair", "4 good", "5 very good")


def _impressions() -> tuple[Field, ...]:
    return (
        Field("shift", "choice", "How it shifts", required=False, choices=RATED),
        Field("noise", "choice", "How quiet it is", required=False, choices=RATED),
        Field("feel", "text", "Which gear, what noise", required=False),
    )


def common_end(jobs: tuple[Job, ...], conditions: Conditions) -> list[Step]:
    """Give the steps after the last plug is closed, to the signature.

    Parameters
    ----------
    jobs : the compartments of the visit
    conditions : vehicle and ambient °C

    Returns
    -------
    list of Step

    References
    ----------
    Order of work and cautions: common practice.
    """
    closed = tuple(f"closefill.{j.key}" for j in jobs)
    drained = tuple(f"drain.{j.key}" for j in jobs if j.kind_of_work != "top-up")
    return [
        _wipe(closed),
        *((_stop(closed), _drive(closed, _run_words(jobs, conditions))) if drained else ()),
        _recheck("drive" if drained else "wipe"),
        *((_waste(drained),) if drained else ()),
        Step(
            "sign",
            Purpose.SIGN,
            "after",
            "sign",
            "Sign it off",
            "The record, the stock, the reading and the next due are written at once.",
            gate=True,
        ),
    ]


def _wipe(closed: tuple[str, ...]) -> Step:
    return Step(
        "wipe",
        Purpose.WIPE,
        "finish",
        "confirm",
        "Wipe clean; everything back on",
        "Clean, so that a leak shows later.",
        needs=closed,
        skip="reason",
        fields=(Field("tools_back", "number", "Tools counted back", required=False),),
    )


def _stop(closed: tuple[str, ...]) -> Step:
    return Step(
        "stop",
        Purpose.STOP,
        "finish",
        "note",
        "Stop verdict: what happens to the vehicle?",
        "Something has broken: running it does more harm.",
        needs=closed,
        branch="If something has broken",
        caution="Do not drive.",
        fields=(
            Field(
                "handling",
                "choice",
                "It will",
                choices=("stay where it stands", "move only by trailer or winch, driven wheels off the ground"),
            ),
        ),
    )


def _run_words(jobs: tuple[Job, ...], conditions: Conditions) -> str:
    words = {"boat": "Run ahead and astern at the mooring", "bicycle": "Ride through all gears"}.get(
        conditions.vehicle_kind, "Drive, shift through everything"
    )
    slips = any(kind_of(j.sheet.kind).differential and j.sheet.requirement.limited_slip for j in jobs)
    return f"{words}; figure-eights for the limited slip" if slips else words


def _drive(closed: tuple[str, ...], words: str) -> Step:
    return Step(
        "drive",
        Purpose.DRIVE,
        "finish",
        "confirm",
        words,
        "Note how it shifts and sounds.",
        needs=(*closed, "wipe"),
        skip="reason",
        fields=_impressions(),
        moves_vehicle=True,
        caution="Look for leaks before you move off.",
    )


def _recheck(after: str) -> Step:
    return Step(
        "recheck",
        Purpose.RECHECK,
        "after",
        "confirm",
        "Look again for leaks and level",
        "A seal that weeps shows itself warm.",
        needs=(after,),
        skip="reason",
    )


def _waste(drained: tuple[str, ...]) -> Step:
    return Step(
        "waste",
        Purpose.WASTE,
        "after",
        "confirm",
        "Used oil to the collection point",
        "Never mixed with solvents or coolant.",
        needs=drained,
        skip="reason",
        fields=(
            Field("waste_ml", "volume", "How much, if it is not what was measured", required=False),
            Field("container", "text", "In which can", required=False),
            Field("where_to", "text", "Where to", required=False),
        ),
    )
