"""The blocks that each compartment of a visit has: open and drain, fill and level, as its sheet wants them."""

from __future__ import annotations

from barodex.core.guide.exchange_blocks import at_temperature, cycles, engine_off, flow_through
from barodex.core.guide.kind_blocks import amount_fields, chain, flush, right_oil, torque_fields
from barodex.core.guide.steps import (
    DEFAULT_DRAIN_MIN,
    HOT,
    PAN_RESERVE,
    Conditions,
    Field,
    Job,
    Step,
    millilitres,
    plug_torque_words,
    torque_words,
)
from barodex.core.guide.variant_blocks import casing_code, which_one
from barodex.core.guide.work_blocks import attached, flush_by_plug, pan_off, pan_on, top_up
from barodex.core.quantity.working import figure
from barodex.core.sheet.sheet import Plug, key_size

_OWN_FUNNEL = "A funnel of its own: another oil is in this visit"
_STUCK = {
    "magnesium": "Magnesium case: rock gently, no impact, no flame.",
    "aluminium": "Aluminium case: rock gently, no impact, no flame.",
    "iron": "Iron case: penetrant and time; no flame once penetrant or degreaser was used.",
    "unknown": "Case material unknown: treat it as aluminium, no impact, no flame.",
}


COLD_DRAIN = 2.0  # times as long where the oil is drained as it stands (common practice)


def _other_heads(plug: Plug) -> tuple[str, ...]:
    """The torques of the heads that this plug is also found with."""
    return tuple(
        f"By the head really fitted: {key_size(h.size_mm)} {h.drive}, {torque_words(h.torque_nm)}"
        if h.size_mm is not None
        else f"By the head really fitted: {h.drive}, {torque_words(h.torque_nm)}"
        for h in plug.heads
    )


def open_and_drain(job: Job, all_proofs: tuple[str, ...], conditions: Conditions) -> list[Step]:
    """Give the steps of one compartment from cleaning to the closed drain.

    Parameters
    ----------
    job : the compartment
    all_proofs : steps that must hold before any drain is opened
    conditions : vehicle and ambient °C

    Returns
    -------
    list of Step

    References
    ----------
    Order of work and cautions: common practice.
    """
    c, sheet, work = job.key, job.sheet, job.kind_of_work
    if work == "top-up":
        return [*top_up(job), *attached(job)]
    fill = sheet.plug("fill", "level", "combination")
    drain = sheet.way_out
    pan = (
        f"Pan for {millilitres(job.holds_ml * PAN_RESERVE)} under it." if job.holds_ml else "Largest pan under it: the capacity is unknown."
    )
    steps = [
        Step(
            f"clean.{c}",
            "access",
            "confirm",
            f"{job.name}: clean round the plugs",
            "Nothing may fall in once it is open.",
            c,
            needs=("safe", f"sheet.{c}", "kit"),
            skip="reason",
        )
    ]
    if fill and fill is not drain:
        steps.append(
            Step(
                f"prove.{c}",
                "open",
                "confirm",
                f"{job.name}: crack the {fill.label} loose, see it turn",
                "A box with tired oil still runs; an empty one that cannot be refilled does not.",
                c,
                needs=(f"clean.{c}",),
                gate=True,
                advice=(
                    f"Key: {fill.key}. Seat it fully first.",
                    _STUCK[sheet.case_material],
                    "If it does not come, stop here: nothing has been drained.",
                ),
            )
        )
    ready = (*all_proofs, f"clean.{c}", *(s.id for s in casing_code(job)), *((f"fetched.{c}",) if job.fetch else ()))
    if job.flows:
        return [*steps, *flow_through(job, ready), *attached(job)]
    before = flush(job)
    if work == "flush" and not before:
        before = flush_by_plug(job, ready)
    elif job.planned_cycles > 1:
        before = cycles(job, ready)
    steps += before
    if before:
        # Cycles that are not wanted do not apply: the last drain waits for each of them.
        ready = (*ready, *(s.id for s in before if s.id.startswith(("sweep.", "rest.", "work."))))
    if job.planned_cycles > 1:
        steps.append(engine_off(job, ready, "drain"))
        ready = (*ready, f"off.{c}")
    if sheet.drain_method == "suction":
        steps.append(
            Step(
                f"drain.{c}",
                "drain",
                "confirm",
                f"{job.name}: hose to the very bottom, pull it out",
                "Far less than expected means the hose was not at the bottom.",
                c,
                HOT,
                needs=ready,
                gate=True,
                opens_oil=True,
                advice=(pan, *((f"Hose: {sheet.hose}",) if sheet.hose else ())),
            )
        )
    elif sheet.drain_method == "cover":
        label = drain.label if drain else "cover"
        steps.append(
            Step(
                f"drain.{c}",
                "drain",
                "confirm",
                f"{job.name}: pan under, {label} off: it is the drain",
                "Lower edge first, so that it runs where the pan stands.",
                c,
                HOT,
                needs=ready,
                gate=True,
                opens_oil=True,
                advice=(pan, f"Key: {drain.key}" if drain else "", "Bolts laid out in their order: some are longer."),
            )
        )
    else:
        label = drain.label if drain else "drain plug"
        steps.append(
            Step(
                f"drain.{c}",
                "drain",
                "confirm",
                f"{job.name}: pan under, {label} out",
                "Last threads by hand, pressing in, then away quickly.",
                c,
                HOT,
                needs=ready,
                gate=True,
                opens_oil=True,
                fields=(Field("reason", "text", "Reason", required=False),) if job.planned_cycles > 1 else (),
                advice=(pan, f"Key: {drain.key}" if drain else ""),
            )
        )
    pockets = _pockets(job, drain)
    steps += pockets
    # An oil that was not driven warm runs out slowly.
    minutes = (sheet.drain_minutes or DEFAULT_DRAIN_MIN[sheet.drain_method]) * (COLD_DRAIN if job.no_warm else 1)
    steps.append(
        Step(
            f"wait.{c}",
            "drain",
            "timer",
            f"{job.name}: wait until it only drips",
            "The last of it carries the most debris.",
            c,
            needs=(f"drain.{c}",),
            timer_s=int(minutes * 60),
            required=False,
            skip="free",
            fields=(Field("drops", "number", "Drops counted", required=False), Field("seconds", "number", "in seconds", required=False)),
            advice=(
                f"Drained as it stands, so longer: {job.no_warm}"
                if job.no_warm
                else "Less when it has stood cold overnight: it has run together.",
                "Meanwhile: does the breather move freely? Are seals and flanges dry?",
            ),
        )
    )
    why = (
        f"It tells what was lost since {job.last_filled_on:%d %B %Y}.".replace("since 0", "since ")
        if job.last_filled_on
        else "No earlier fill is on record: this is the first figure for it."
    )
    steps.append(
        Step(
            f"measure.{c}",
            "drain",
            "measure",
            f"{job.name}: measure what came out",
            why,
            c,
            HOT,
            needs=(f"drain.{c}",),
            skip="reason",
            fields=amount_fields(parts=True),
        )
    )
    steps += which_one(job)
    opened = pan_off(job) if work == "opened" else []
    steps += [s for s in opened if s.id.startswith("pan.")]
    steps.append(
        Step(
            f"look.{c}",
            "inspect",
            "inspect",
            f"{job.name}: read oil and magnet",
            "A paste is wear, a chunk is a break. A rise matters more than a level.",
            c,
            needs=(f"drain.{c}", *(s.id for s in opened if s.id.startswith("pan."))),
            skip="reason",
            fields=(Field("finding", "finding", "What was seen"), Field("reason", "text", "Reason", required=False)),
            advice=("A wrong oil takes brass first: look for yellow flecks.",) if work == "correction" else (),
        )
    )
    steps += [s for s in opened if not s.id.startswith("pan.")]
    steps += attached(job)
    if job.rinses:
        steps.append(_rinse(job))
    steps += chain(job)
    if work == "opened":
        steps += pan_on(job)
    closing = tuple(s.id for s in steps if s.id.startswith(("panshut.", "filter.", "whileopen.", "attached.")))
    if drain:
        cover = sheet.drain_method == "cover"
        pattern = ("Cross pattern, in three rounds: by hand, half, full torque.",) if cover else ()
        steps.append(
            Step(
                f"shut.{c}",
                "close",
                "torque",
                f"{job.name}: shut the {drain.label}, {plug_torque_words(drain)}",
                "Filling with the drain still open is a real and repeated mistake.",
                c,
                needs=(
                    f"drain.{c}",
                    f"look.{c}",
                    *((f"rinse.{c}",) if job.rinses else ()),
                    *((f"tension.{c}",) if sheet.kind == "chain case" else ()),
                    *closing,
                    *(p.id for p in pockets),
                ),
                gate=True,
                caution="Never by feel into aluminium or magnesium when a figure exists." if sheet.case_material != "iron" else "",
                fields=(
                    *((Field("bolts", "number", "How many bolts", required=False),) if cover else ()),
                    *torque_fields(drain),
                    Field("reason", "text", "Reason", required=False),
                ),
                advice=(f"Key: {drain.key}", *pattern, *_other_heads(drain)),
            )
        )
    for k, plug in enumerate(_more_drains(job, drain), 2):
        steps.append(
            Step(
                f"shut{k}.{c}",
                "close",
                "torque",
                f"{job.name}: shut the {plug.label}, {plug_torque_words(plug)}",
                "The pocket's plug is the one that is forgotten.",
                c,
                needs=(f"shut.{c}",),
                gate=True,
                fields=(*torque_fields(plug), Field("reason", "text", "Reason", required=False)),
                advice=(f"Key: {plug.key}", *_other_heads(plug)),
            )
        )
    return steps


def _rinse(job: Job) -> Step:
    """What stays inside is washed out: through the open way out, or where there is none by filling and sucking out again."""
    c, twice = job.key, job.kind_of_work == "correction"
    through = job.sheet.way_out is not None
    words = (
        f"rinse {'twice ' if twice else ''}with a quarter litre of the new oil, the way out open"
        if through
        else f"fill with the new oil and suck it out again{', twice' if twice else ''}"
    )
    rounds = ("First rinse through", "Second rinse through") if through else ("Filled and sucked out once", "Filled and sucked out again")
    told = "poured through until it comes out as it went in" if through else "each time a part of the old goes with the new"
    return Step(
        f"rinse.{c}",
        "close",
        "confirm",
        f"{job.name}: {words}",
        job.rinse or "What stays of the wrong oil goes on working in the right one.",
        c,
        needs=(f"drain.{c}", f"look.{c}"),
        gate=True,
        skip="reason",
        checklist=rounds if twice else (),
        advice=(f"Common practice: {told}. It counts as used oil.",),
    )


def _more_drains(job: Job, first: Plug | None) -> tuple[Plug, ...]:
    """The drain plugs beside the first: hidden pockets."""
    return tuple(p for p in job.sheet.plugs if p.role == "drain" and p is not first and job.sheet.drain_method == "plug")


def _pockets(job: Job, first: Plug | None) -> list[Step]:
    """A step for each further drain point, in the sheet's order."""
    c, before, steps = job.key, f"drain.{job.key}", []
    for k, plug in enumerate(_more_drains(job, first), 2):
        steps.append(
            Step(
                f"drain{k}.{c}",
                "drain",
                "confirm",
                f"{job.name}: {plug.label} out too",
                "A pocket holds a quarter of a litre or more (common practice).",
                c,
                needs=(before,),
                gate=True,
                advice=(f"Key: {plug.key}",),
            )
        )
        before = f"drain{k}.{c}"
    return steps


_LEVEL_WORDS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "to the lip": (
        "trickle, then drips: it stands at the lip",
        "The lip sets the level; the poured amount is the cross-check.",
        ("trickled, then only drips", "stands at the lip by finger or torch"),
    ),
    "measured": ("the amount is the level", "No plug tells you here: the counter does.", ("the full amount is in",)),
    "dipstick": (
        "wait, dip, read between the marks",
        "Oil needs time to settle before the stick tells the truth.",
        ("between the marks", "at the upper mark"),
    ),
    "dribble": (
        "until it dribbles at the hole",
        "This one is filled to the hole, slowly: the case breathes through it.",
        ("dribbles, then only drips",),
    ),
    "syringe": (
        "the dose is the level; draw the same air back",
        "Too much pushes the seals out, and no plug tells you.",
        ("the full dose is in, the air is back",),
    ),
    "below the lip": (
        "stands below the hole as deep as the sheet says",
        "Filled to the lip it would be overfull.",
        ("stands at the stated depth by the gauge", "stands at the stated depth by finger"),
    ),
}


_GAUGE_WORDS = ("read the gauge again", "It was cut when the amount was known to be right.", ("stands as deep as the gauge says",))


def _level_step(job: Job) -> Step:
    """The reading of a level that needs no temperature."""
    c, sheet = job.key, job.sheet
    words, why, outcomes = _LEVEL_WORDS[sheet.fill_method]
    if sheet.fill_method == "measured" and job.kind_of_work == "top-up":
        words, why, outcomes = _GAUGE_WORDS
    fields: tuple[Field, ...] = (Field("outcome", "choice", "What you see", choices=outcomes),)
    if sheet.fill_method in ("to the lip", "dribble", "below the lip"):
        fields += (Field("run_out_ml", "volume", "Ran out at the plug", required=False),)
    depth = sheet.level.below_lip_mm
    advice = (f"{figure(depth, 1)} mm below the lower lip.",) if depth is not None and sheet.fill_method == "below the lip" else ()
    return Step(
        f"level.{c}",
        "level",
        "level",
        f"{job.name}: {words}",
        why,
        c,
        needs=(f"pour.{c}",) if sheet.kind == "supercharger" else (f"pour.{c}", "levelled"),
        gate=True,
        fields=fields,
        advice=(*advice, *((sheet.level_note,) if sheet.level_note else ())),
    )


_POUR_WHY = {
    "below the lip": "Slowly, and never to the lip: it stands below the hole, and what trickles out is too much already.",
    "measured": "The exact amount: no plug tells you when it is enough.",
    "syringe": "The exact dose: too much pushes the seals out.",
    "dipstick": "In small pours: the stick tells, once the oil has settled.",
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
    closed = (*closed, *(f"shut{k}.{c}" for k, _ in enumerate(_more_drains(job, sheet.way_out), 2)))
    closed = (*closed, *(s.id for s in which_one(job) if s.required))
    if job.rinses:
        closed = (*closed, f"rinse.{c}")
    if not sheet.way_out:
        closed = (*closed, *(f"attached.{c}.{k}" for k, _ in enumerate(job.attached)))
    funnel = "A clean dry syringe, never the flush one" if work == "flush" and sheet.fill_method == "syringe" else "Funnel and hose clean"
    steps = [
        right_oil(job, "fill", closed, ("Shaken, if it settles", funnel, *((_OWN_FUNNEL,) if job.shared_visit else ()))),
        Step(
            f"pour.{c}",
            "fill",
            "pour",
            f"{job.name}: pour by the plan",
            _POUR_WHY.get(sheet.fill_method, "Slowly: a plug that overflows early is a false full."),
            c,
            needs=(*closed, f"oil.{c}"),
            gate=True,
            advice=tuple(f"First {d.volume_ml:g} mL of {d.name} ({d.kind}): it takes the place of as much oil." for d in job.doses),
            fields=(Field("volume_ml", "volume", "Poured", required=False), Field("reason", "text", "Reason", required=False)),
        ),
    ]
    return [*steps, *_level_block(job), _close_fill(job, fill)]


def _level_block(job: Job) -> list[Step]:
    """The reading of the level, and the depth gauge where the amount alone sets it."""
    if job.sheet.fill_method == "overflow":
        return at_temperature(job)
    steps = [_level_step(job)]
    if job.sheet.fill_method == "measured" and job.sheet.kind != "supercharger" and job.sheet.plug("fill", "level", "combination"):
        last = f"After the last measured fill it stood {figure(job.depth_mm, 1)} mm below the lip." if job.depth_mm is not None else ""
        steps.append(
            Step(
                f"gauge.{job.key}",
                "level",
                "note",
                f"{job.name}: cut or read the depth gauge",
                "The amount is known to be right now: what the gauge reads is the level for every later check.",
                job.key,
                needs=(f"level.{job.key}",),
                skip="free",
                required=False,
                fields=(Field("depth_mm", "length", "Below the lower lip"),),
                advice=(last,) if last else ("A bent wire with a mark at the lip will do.",),
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
            "level",
            "torque",
            f"{job.name}: close the {fill.label}, {plug_torque_words(fill)}",
            "Some makers want this plug itself renewed.",
            c,
            needs=tuple(closed_before),
            gate=True,
            fields=(*torque_fields(fill), Field("reason", "text", "Reason", required=False)),
            advice=(f"Key: {fill.key}", *_other_heads(fill)),
        )
    return Step(
        f"closefill.{c}",
        "level",
        "confirm",
        f"{job.name}: dipstick in and seated" if fill else f"{job.name}: filler closed",
        "An open hole breathes dirt and water.",
        c,
        needs=tuple(closed_before),
        gate=True,
    )
