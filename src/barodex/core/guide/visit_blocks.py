"""The blocks that a visit has once: its start and its end."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.level import warming_minutes
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import PAN_RESERVE, Conditions, Field, Job, Step
from barodex.core.guide.variant_blocks import casing_code
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import figure, ml
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.sheet.work import rinse_ml, touched_plugs

_SAFE = {
    "motorcycle": (
        "On its centre stand or a lift with a strap",
        "Upright, and cannot tip when a plug is pulled",
        "Key out until it is needed",
    ),
    "boat": ("Moored, engine stopped, ignition isolated", "Bilge kept clean: absorbent below", "Nobody near the shaft"),
    "bicycle": ("On its stand",),
    "snow machine": ("On its stand, track clear of the floor", "Key out until it is needed"),
}
_SAFE_DEFAULT = (
    "Wheels chocked, parking brake on",
    "On stands or a hoist rated for the load, never on a jack alone",
    "Key out until it is needed",
)
_SAFE_ALL = ("Gloves and eye protection on",)
_BRAKES_CLEAN = "Tyre, rim and brake clean and dry of oil"
_HOT_PARTS = "Exhaust and oil: what is hot is known"
_NO_EXHAUST = ("bicycle",)


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
    warm = _warm(jobs, drained, conditions)
    return [
        _right_vehicle(jobs, conditions),
        *(step for job in jobs for step in (*casing_code(job), *_fetched(job))),
        _tray(jobs, drained),
        *warm,
        *_feel(jobs, drained, conditions, bool(warm)),
        _safe(conditions),
        _access(),
    ]


def _right_vehicle(jobs: tuple[Job, ...], conditions: Conditions) -> Step:
    """The one gate at the start: vehicle, compartments, oils, and what of their sheets somebody must stand up for."""
    doubtful = any(_doubts(j) for j in jobs)
    several = len(jobs) > 1
    return Step(
        "ready",
        Purpose.READY,
        "prepare",
        "confirm",
        f"Right vehicle: {conditions.vehicle}",
        "The commonest wrong oil is the right oil in the wrong box."
        + (" Makers revise: a guessed figure is confirmed before it is used." if doubtful else ""),
        checklist=tuple(line for j in jobs for line in (f"{j.name}: {j.oil}", *(f"{j.name}, {d}" for d in _doubts(j)))),
        gate=True,
        advice=tuple(f"{j.name}: {line}" if several else line for j in jobs for line in _sheet_says(j)),
    )


def _doubts(job: Job) -> list[str]:
    """What of its sheet has to be confirmed before it is used."""
    doubtful = [
        f"{name.replace('_', ' ')} of the sheet: {trust}"
        for name, trust in job.sheet.trust.items()
        if trust in ("guessed", "remembered", "unknown")
    ]
    if job.sheet.capacity_ml is None:
        doubtful.append("capacity unknown: what comes out is measured")
    return doubtful


def _sheet_says(job: Job) -> list[str]:
    """What its sheet says of it before anything is touched: how much it takes, what it may be, what to beware of."""
    found = [f"{_takes(job)}; sheet revision {job.sheet.number}"]
    as_started = job.open_sheet or job.sheet
    if as_started.variants and not as_started.variant:
        found += [f"Variant open: {v.name}" + (f", marked {v.mark}" if v.mark else "") for v in as_started.variants]
        found += [f"Casing, {m.where}: {m.reads} {m.tells}".strip() for m in as_started.casing_marks]
    return [*found, *job.sheet.cautions]


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
    """The pan that holds what may come out of all of them, and how two boxes are kept apart in it."""
    if not drained:
        return "rag below"
    if len(drained) > 1:
        sizes = [f"{j.name} {ml(round((_most(j) or 0) * PAN_RESERVE))}" if _most(j) else f"{j.name} the largest" for j in drained]
        return f"a measuring pan for each, or one that is emptied and read between: {', '.join(sizes)}"
    if not all(_most(j) for j in drained):
        return "the largest measuring pan: a capacity is unknown"
    return f"measuring pan for {ml(round(sum(_most(j) or 0 for j in drained) * PAN_RESERVE))}"


def _keys_and_seals(jobs: tuple[Job, ...]) -> list[str]:
    """Keys and tools, then seals, each once with all that it is for."""
    keys: dict[str, list[str]] = {}
    seals: list[str] = []
    for job in jobs:
        # What is fetched and confirmed at the start does not change when the variant is found out on the way.
        for plug in touched_plugs(job.open_sheet or job.sheet, "opened" if job.opens_pan else job.kind_of_work):
            if plug.role != "dipstick":
                heads = [replace(plug, drive=h.drive, size_mm=h.size_mm) for h in plug.heads] or [plug]
                for fitted in heads:
                    keys.setdefault(fitted.key, []).append(f"{_whose(jobs, job)}{plug.label}")
            if plug.seal not in ("none", "unknown", "taper thread") and plug.role != "dipstick":
                seals.append(f"{plug.seal} for {_whose(jobs, job)}{plug.label}")
        if job.sheet.drain_method == "suction" and job.kind_of_work != "top-up":
            keys.setdefault("suction pump and hose", []).append(job.name)
    return [*(f"{key} ({', '.join(uses)})" for key, uses in keys.items()), *seals]


def _whose(jobs: tuple[Job, ...], job: Job) -> str:
    """The compartment before what belongs to it, where there are several."""
    return f"{job.name} " if len(jobs) > 1 else ""


def _for_the_work(jobs: tuple[Job, ...]) -> list[str]:
    """What single kinds of work want on the tray beside keys and seals."""
    found: list[str] = []
    for job in jobs:
        if job.kind_of_work == "top-up":
            continue
        if job.sheet.resets:
            found += ["scan tool", "battery supply"]
        if job.rinses:
            found.append(
                f"{ml(rinse_ml(job.sheet) * (2 if job.kind_of_work == 'correction' else 1))} of {job.oil} more, to rinse {job.name} with"
            )
        if job.opens_pan:
            what = ", filter and its seal" if kind_of(job.sheet.kind).filtered else ""
            found.append(f"gasket and new bolts for the pan or cover{what} ({job.name})")
        if job.sheet.fill_method == "syringe":
            found.append(f"a clean dry syringe for the new oil ({job.name})")
    return found


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
        checklist=tuple(dict.fromkeys([*_keys_and_seals(jobs), *_for_the_work(jobs), _pan(drained), "clean cloth, brush, waste can"])),
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
                fields=_impressions(jobs),
                advice=(
                    f"About {minutes:.0f} minutes"
                    + (f" at {conditions.ambient_c:g}\N{NO-BREAK SPACE}°C." if conditions.ambient_c is not None else "."),
                    FEEL,
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


FEEL = "How it shifts and sounds now is compared with afterwards: an oil that does not suit a box shows itself there."


def _feel(jobs: tuple[Job, ...], drained: list[Job], conditions: Conditions, warmed: bool) -> list[Step]:
    """How it was before: noted on the drive that warms it, else asked where somebody shifts what is drained."""
    if warmed or conditions.vehicle_kind in ("boat", "bicycle") or not any(_shifts(j) for j in drained):
        return []
    return [
        Step(
            "feel",
            Purpose.FEEL,
            "prepare",
            "note",
            "How does it shift and sound now?",
            FEEL,
            needs=("ready",),
            skip="free",
            required=False,
            fields=_impressions(jobs),
        )
    ]


def _shifts(job: Job) -> bool:
    return kind_of(job.sheet.kind).shifts


def _safe(conditions: Conditions) -> Step:
    hot = () if conditions.vehicle_kind in _NO_EXHAUST else (_HOT_PARTS,)
    safe = (*_SAFE.get(conditions.vehicle_kind, _SAFE_DEFAULT), *_SAFE_ALL, *hot)
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


def _impressions(jobs: tuple[Job, ...]) -> tuple[Field, ...]:
    shifts = any(_shifts(j) for j in jobs)
    return (
        *((Field("shift", "choice", "How it shifts", required=False, choices=RATED),) if shifts else ()),
        Field("noise", "choice", "How quiet it is", required=False, choices=RATED),
        Field("feel", "text", "Which gear, what noise" if shifts else "What noise, and when", required=False),
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
    drained = any(j.kind_of_work != "top-up" for j in jobs)
    return [
        _wipe(jobs, closed, drained),
        *((_stop(closed), _drive(jobs, closed, conditions)) if drained else ()),
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


def _wipe(jobs: tuple[Job, ...], closed: tuple[str, ...], drained: bool) -> Step:
    """Clean, everything back on, and where the used oil went."""
    waste = (
        Field("waste_ml", "volume", "Used oil, if it is not what was measured", required=False),
        Field("container", "text", "In which can", required=False),
        Field("where_to", "text", "Where to", required=False),
    )
    trays = dict.fromkeys(
        f"{_whose(jobs, j)}trays and plates back on, {figure(j.sheet.trays_nm, 1)} N·m" for j in jobs if j.sheet.trays_nm is not None
    )
    return Step(
        "wipe",
        Purpose.WIPE,
        "finish",
        "confirm",
        f"Wipe clean, look for leaks; everything back on{', used oil into its can' if drained else ''}",
        "Clean, so that a leak shows later." + (" Used oil is never mixed with solvents or coolant." if drained else ""),
        needs=closed,
        skip="reason",
        checklist=(*trays, *((_BRAKES_CLEAN,) if any(kind_of(j.sheet.kind).near_brake for j in jobs) else ())),
        fields=(Field("tools_back", "number", "Tools counted back", required=False), *(waste if drained else ())),
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
    drive = "Drive, shift through everything" if any(_shifts(j) for j in jobs) else "Drive until it is warm"
    words = {"boat": "Run ahead and astern at the mooring", "bicycle": "Ride through all gears"}.get(conditions.vehicle_kind, drive)
    slips = any(kind_of(j.sheet.kind).differential and j.sheet.requirement.limited_slip for j in jobs)
    return f"{words}{'; figure-eights for the limited slip' if slips else ''}; look again for leaks and level"


_BEFORE_MOVING = {
    "boat": "Lines doubled, nobody near the shaft; look for leaks first.",
    "motorcycle": "Off its stand, strap undone; look for leaks before you move off.",
    "bicycle": "Look for leaks before you ride.",
    "snow machine": "Down on its track; look for leaks before you move off.",
}


def _drive(jobs: tuple[Job, ...], closed: tuple[str, ...], conditions: Conditions) -> Step:
    return Step(
        "drive",
        Purpose.DRIVE,
        "finish",
        "confirm",
        _run_words(jobs, conditions),
        "How it shifts and sounds is compared with before; a seal that weeps shows itself warm.",
        needs=(*closed, "wipe"),
        skip="reason",
        fields=_impressions(jobs),
        moves_vehicle=True,
        caution=_BEFORE_MOVING.get(conditions.vehicle_kind, "Down on its wheels, chocks away; look for leaks before you move off."),
    )
