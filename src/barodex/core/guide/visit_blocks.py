"""The blocks that a visit has once: its start and its end."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.kind_blocks import for_the_work, keys_and_seals, whose
from barodex.core.guide.level import warming_minutes
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import PAN_RESERVE, Conditions, Field, Job, Step
from barodex.core.guide.variant_blocks import casing_code
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import figure, ml
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.words import say

_SAFE = {
    "motorcycle": (
        say("On its centre stand or a lift with a strap"),
        say("Upright, and cannot tip when a plug is pulled"),
        say("Key out until it is needed"),
    ),
    "boat": (say("Moored, engine stopped, ignition isolated"), say("Bilge kept clean: absorbent below"), say("Nobody near the shaft")),
    "bicycle": (say("On its stand"),),
    "snow machine": (say("On its stand, track clear of the floor"), say("Key out until it is needed")),
}
_SAFE_DEFAULT = (
    say("Wheels chocked, parking brake on"),
    say("On stands or a hoist rated for the load, never on a jack alone"),
    say("Key out until it is needed"),
)
_SAFE_ALL = (say("Gloves and eye protection on"),)
_BRAKES_CLEAN = say("Tyre, rim and brake clean and dry of oil")
_HOT_PARTS = say("Exhaust and oil: what is hot is known")
_NO_EXHAUST = ("bicycle",)


def _heavy(job: Job) -> bool:
    """Whether the oil that is asked is thicker than an 80W-90."""
    return any(number in job.sheet.requirement.grade for number in ("110", "140", "190", "250"))


def _most(job: Job) -> float | None:
    """What may come out at most, mL, whichever variant it turns out to be."""
    return replace(job, sheet=job.open_sheet).holds_ml if job.open_sheet else job.sheet.capacity_ml


def _pan(drained: list[Job]) -> str:
    """The pan that holds what may come out of all of them, and how two boxes are kept apart in it."""
    if not drained:
        return "rag below"
    if len(drained) > 1:
        sizes = [f"{j.name} {ml(round((_most(j) or 0) * PAN_RESERVE))}" if _most(j) else say("{j} the largest", j=j.name) for j in drained]
        return say("a measuring pan for each, or one that is emptied and read between: {sizes}", sizes=", ".join(sizes))
    if not all(_most(j) for j in drained):
        return say("the largest measuring pan: a capacity is unknown")
    return say("measuring pan for {volume}", volume=ml(round(sum(_most(j) or 0 for j in drained) * PAN_RESERVE)))


def _tray(jobs: tuple[Job, ...], drained: list[Job]) -> Step:
    return Step(
        "kit",
        Purpose.KIT,
        "prepare",
        "confirm",
        say("Tools and seals on the tray"),
        say("A missing washer stops the start, not the middle."),
        needs=("ready",),
        gate=True,
        checklist=tuple(dict.fromkeys([*keys_and_seals(jobs), *for_the_work(jobs), _pan(drained), say("clean cloth, brush, waste can")])),
        fields=(Field("tools", "number", say("Tools laid out, counted"), required=False),),
    )


def _takes(job: Job) -> str:
    sizes = candidates_ml(job.sheet)
    if len(sizes) > 1:
        return say("Takes {sizes}, by its variant", sizes=" or ".join(ml(s) for s in sizes))
    return say("Takes {capacity_ml}", capacity_ml=ml(job.sheet.capacity_ml)) if job.sheet.capacity_ml else "Takes: unknown"


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
        say("Right vehicle: {vehicle}", vehicle=conditions.vehicle),
        say("The commonest wrong oil is the right oil in the wrong box.")
        + (say(" Makers revise: a guessed figure is confirmed before it is used.") if doubtful else ""),
        checklist=tuple(line for j in jobs for line in (f"{j.name}: {j.oil}", *(f"{j.name}, {d}" for d in _doubts(j)))),
        gate=True,
        advice=tuple(f"{j.name}: {line}" if several else line for j in jobs for line in _sheet_says(j)),
    )


def _doubts(job: Job) -> list[str]:
    """What of its sheet has to be confirmed before it is used."""
    doubtful = [
        say("{name} of the sheet: {trust}", name=name.replace("_", " "), trust=trust)
        for name, trust in job.sheet.trust.items()
        if trust in ("guessed", "remembered", "unknown")
    ]
    if job.sheet.capacity_ml is None:
        doubtful.append(say("capacity unknown: what comes out is measured"))
    return doubtful


def _sheet_says(job: Job) -> list[str]:
    """What its sheet says of it before anything is touched: how much it takes, what it may be, what to beware of."""
    found = [say("{job}; sheet revision {sheet_number}", job=_takes(job), sheet_number=job.sheet.number)]
    as_started = job.open_sheet or job.sheet
    if as_started.variants and not as_started.variant:
        found += [say("Variant open: {v}", v=v.name) + (say(", marked {mark}", mark=v.mark) if v.mark else "") for v in as_started.variants]
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
            say("{fetch}: is it here?", fetch=job.fetch),
            say("A box that is drained and cannot be filled stands where it is."),
            job.key,
            needs=("ready",),
            gate=True,
        )
    ]


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
                say("Drive until the oil is hand-warm"),
                say("Warm oil drains fast and brings the debris with it. Idling does not warm an axle."),
                needs=("ready",),
                skip="free",
                required=False,
                moves_vehicle=True,
                timer_s=round(minutes) * 60,
                fields=_impressions(jobs),
                advice=(
                    say("About {minutes:.0f} minutes", minutes=minutes)
                    + (
                        say(" at {ambient_c:g}\N{NO-BREAK SPACE}°C.", ambient_c=conditions.ambient_c)
                        if conditions.ambient_c is not None
                        else "."
                    ),
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
                say("Run it at the mooring until hand-warm"),
                say("Warm oil comes up the hose."),
                needs=("ready",),
                skip="free",
                required=False,
                moves_vehicle=True,
                runs_engine=True,
                timer_s=600,
                caution=say("Lines doubled, nobody near the shaft; then stop and isolate."),
            )
        )
    return steps


FEEL = say("How it shifts and sounds now is compared with afterwards: an oil that does not suit a box shows itself there.")


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
            say("How does it shift and sound now?"),
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
        say("Make it safe to work on"),
        say("What can roll, fall or burn is dealt with before a plug is touched."),
        needs=("ready",),
        gate=True,
        checklist=safe,
        caution=say("The maker's manual, local rules and qualified practice come first."),
    )


def _access() -> Step:
    return Step(
        "access",
        Purpose.ACCESS,
        "access",
        "note",
        say("Take off what is in the way"),
        say("A photo first: what comes off is listed here and goes back on at the end."),
        needs=("safe",),
        required=False,
        skip="free",
        fields=(Field("came_off", "lines", say("What came off, one a line"), required=False),),
    )


RATED = ("1 bad", "2 poor", "3 fair", "4 good", "5 very good")


def _impressions(jobs: tuple[Job, ...]) -> tuple[Field, ...]:
    shifts = any(_shifts(j) for j in jobs)
    return (
        *((Field("shift", "choice", say("How it shifts"), required=False, choices=RATED),) if shifts else ()),
        Field("noise", "choice", say("How quiet it is"), required=False, choices=RATED),
        Field("feel", "text", say("Which gear, what noise") if shifts else say("What noise, and when"), required=False),
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
            say("Sign it off"),
            say("The record, the stock, the reading and the next due are written at once."),
            gate=True,
        ),
    ]


def _wipe(jobs: tuple[Job, ...], closed: tuple[str, ...], drained: bool) -> Step:
    """Clean, everything back on, and where the used oil went."""
    waste = (
        Field("waste_ml", "volume", say("Used oil, if it is not what was measured"), required=False),
        Field("container", "text", say("In which can"), required=False),
        Field("where_to", "text", "Where to", required=False),
    )
    trays = dict.fromkeys(
        say("{jobs}trays and plates back on, {trays_nm} N·m", jobs=whose(jobs, j), trays_nm=figure(j.sheet.trays_nm, 1))
        for j in jobs
        if j.sheet.trays_nm is not None
    )
    return Step(
        "wipe",
        Purpose.WIPE,
        "finish",
        "confirm",
        say("Wipe clean, look for leaks; everything back on{words}", words=say(", used oil into its can") if drained else ""),
        say("Clean, so that a leak shows later.") + (say(" Used oil is never mixed with solvents or coolant.") if drained else ""),
        needs=closed,
        skip="reason",
        checklist=(*trays, *((_BRAKES_CLEAN,) if any(kind_of(j.sheet.kind).near_brake for j in jobs) else ())),
        fields=(Field("tools_back", "number", say("Tools counted back"), required=False), *(waste if drained else ())),
    )


def _stop(closed: tuple[str, ...]) -> Step:
    return Step(
        "stop",
        Purpose.STOP,
        "finish",
        "note",
        say("Stop verdict: what happens to the vehicle?"),
        say("Something has broken: running it does more harm."),
        needs=closed,
        branch=say("If something has broken"),
        caution=say("Do not drive."),
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
    drive = say("Drive, shift through everything") if any(_shifts(j) for j in jobs) else say("Drive until it is warm")
    words = {"boat": "Run ahead and astern at the mooring", "bicycle": "Ride through all gears"}.get(conditions.vehicle_kind, drive)
    slips = any(kind_of(j.sheet.kind).differential and j.sheet.requirement.limited_slip for j in jobs)
    return say(
        "{words}{words_2}; look again for leaks and level",
        words=words,
        words_2=say("; figure-eights for the limited slip") if slips else "",
    )


_BEFORE_MOVING = {
    "boat": say("Lines doubled, nobody near the shaft; look for leaks first."),
    "motorcycle": say("Off its stand, strap undone; look for leaks before you move off."),
    "bicycle": say("Look for leaks before you ride."),
    "snow machine": say("Down on its track; look for leaks before you move off."),
}


def _drive(jobs: tuple[Job, ...], closed: tuple[str, ...], conditions: Conditions) -> Step:
    return Step(
        "drive",
        Purpose.DRIVE,
        "finish",
        "confirm",
        _run_words(jobs, conditions),
        say("How it shifts and sounds is compared with before; a seal that weeps shows itself warm."),
        needs=(*closed, "wipe"),
        skip="reason",
        fields=_impressions(jobs),
        moves_vehicle=True,
        caution=_BEFORE_MOVING.get(conditions.vehicle_kind, say("Down on its wheels, chocks away; look for leaks before you move off.")),
    )
