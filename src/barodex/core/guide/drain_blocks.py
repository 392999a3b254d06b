"""The blocks that lead a compartment from its clean plugs to its closed drain, as its sheet wants them."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.exchange_blocks import cycles, engine_off, flow_through
from barodex.core.guide.flush_blocks import flush, flush_by_plug, look_at, looked_before
from barodex.core.guide.kind_blocks import amount_fields, chain, torque_fields
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import DEFAULT_DRAIN_MIN, PAN_RESERVE, Field, Job, Step, other_heads, plug_torque_words
from barodex.core.guide.variant_blocks import casing_code, which_one
from barodex.core.guide.work_blocks import attached, pan_off, pan_on, top_up
from barodex.core.kinds.kind import kind_of
from barodex.core.quantity.working import ml
from barodex.core.sheet.sheet import Plug
from barodex.core.sheet.work import rinse_ml
from barodex.core.words import say

_STUCK = {
    "magnesium": say("Magnesium case: rock gently, no impact, no flame."),
    "aluminium": say("Aluminium case: rock gently, no impact, no flame."),
    "iron": say("Iron case: penetrant and time; no flame once penetrant or degreaser was used."),
    "unknown": say("Case material unknown: treat it as aluminium, no impact, no flame."),
}

COLD_DRAIN = 2.0  # times as long where the oil is drained as it stands (common practice)
_REASON = Field("reason", "text", "Reason", required=False)


def open_and_drain(job: Job, all_proofs: tuple[str, ...]) -> list[Step]:
    """Give the steps of one compartment from cleaning to the closed drain.

    Parameters
    ----------
    job : the compartment
    all_proofs : steps that must hold before any drain is opened

    Returns
    -------
    list of Step

    References
    ----------
    Order of work and cautions: common practice.
    """
    if job.kind_of_work == "top-up":
        return [*top_up(job), *attached(job)]
    opening = _proof(job) or [_clean(job)]
    ready = (
        *dict.fromkeys((*all_proofs, job.cleaned_by)),
        *(s.id for s in casing_code(job)),
        *((f"fetched.{job.key}",) if job.fetch else ()),
    )
    if job.levelled_to_drain:
        ready = (*ready, "levelled")
    if job.flows:
        return [*opening, *flow_through(job, ready), *attached(job)]
    before = _before_the_last_drain(job, ready)
    # Cycles that are not wanted do not apply: the last drain waits for each of them.
    ready = (*ready, *(s.id for s in before if s.purpose in (Purpose.SWEEP, Purpose.REST, Purpose.TURN_OVER)))
    if job.planned_cycles > 1:
        before = [*before, engine_off(job, ready, "drain")]
        ready = (*ready, f"off.{job.key}")
    pockets = _pockets(job)
    # What comes out with a pan is measured after it is off: there the wait stands by itself.
    pan = job.opens_pan and job.sheet.drain_method != "cover"
    out = replace(_DRAINS[job.sheet.drain_method](job, ready), starts=_timed(job, pan))
    draining = [out, *pockets, *([_wait(job)] if pan else []), *_looking(job, pan)]
    steps = [*opening, *before, *draining]
    return [*steps, *_closing(job, steps, pockets)]


def _timed(job: Job, pan: bool) -> str:
    """The step whose timer the drain starts: what is sucked out drips no more."""
    if job.sheet.drain_method == "suction":
        return ""
    return f"wait.{job.key}" if pan else f"measure.{job.key}"


def _before_the_last_drain(job: Job, ready: tuple[str, ...]) -> list[Step]:
    """A flush, or the cycles of an exchange."""
    before = flush(job)
    if job.kind_of_work == "flush" and not before:
        return flush_by_plug(job, ready)
    return cycles(job, ready) if job.planned_cycles > 1 else before


def _looking(job: Job, pan: bool) -> list[Step]:
    """What is measured and seen once it is drained, and what is done while it is open."""
    opened = pan_off(job) if job.opens_pan else []
    off = [replace(s, needs=(*s.needs, f"wait.{job.key}")) if pan else s for s in opened if s.purpose == Purpose.PAN]
    inside = [s for s in opened if s.purpose != Purpose.PAN]
    # Where the old oil came out before, at a first drain or before a flush, it was read there.
    look = [] if looked_before(job) else [look_at(job, (f"drain.{job.key}", *(s.id for s in off)))]
    steps = [*off, _measure(job, off), *which_one(job), *look, *inside, *attached(job), *([_rinse(job)] if job.rinses else []), *chain(job)]
    return [*steps, *(pan_on(job) if job.opens_pan else [])]


def _closing(job: Job, steps: list[Step], pockets: list[Step]) -> list[Step]:
    """The way out shut, and each pocket after it."""
    drain = job.sheet.way_out
    before = tuple(s.id for s in steps if s.purpose in _BEFORE_SHUT)
    shut = [_shut(job, drain, (*before, *(p.id for p in pockets)))] if drain else []
    return [*shut, *(_shut_pocket(job, k, plug) for k, plug in enumerate(more_drains(job), 2))]


def _clean(job: Job) -> Step:
    return Step(
        f"clean.{job.key}",
        Purpose.CLEAN,
        "access",
        "confirm",
        say("clean round the plugs"),
        say("Nothing may fall in once it is open."),
        job.key,
        needs=("safe", "kit"),
        skip="reason",
    )


def _proof(job: Job) -> list[Step]:
    """Clean round the plugs, and the fill plug cracked loose first, where it is another one than the drain."""
    sheet = job.sheet
    fill = sheet.plug("fill", "level", "combination")
    if fill is None or fill is sheet.way_out:
        return []
    return [
        Step(
            f"prove.{job.key}",
            Purpose.PROVE,
            "open",
            "confirm",
            say("clean round the plugs, crack the {fill_label} loose, see it turn", fill_label=fill.label),
            say("Nothing may fall in. A box with tired oil still runs; an empty one that cannot be refilled does not."),
            job.key,
            needs=("safe", "kit"),
            gate=True,
            advice=(
                say("Key: {key}. Seat it fully first.", key=fill.key),
                _STUCK[sheet.case_material],
                say("If it does not come, stop here: nothing has been drained."),
            ),
        )
    ]


def _pan(job: Job) -> str:
    if not job.holds_ml:
        return say("Largest pan under it: the capacity is unknown.")
    return say("Pan for {volume} under it.", volume=ml(round(job.holds_ml * PAN_RESERVE)))


def _suck(job: Job, ready: tuple[str, ...]) -> Step:
    """Sucked out by a hose."""
    return Step(
        f"drain.{job.key}",
        Purpose.DRAIN,
        "drain",
        "confirm",
        say("hose to the very bottom, pull it out"),
        say("Far less than expected means the hose was not at the bottom."),
        job.key,
        job.oil_caution,
        needs=ready,
        gate=True,
        opens_oil=True,
        advice=(_pan(job), *((say("Hose: {hose}", hose=job.sheet.hose),) if job.sheet.hose else ())),
    )


def _take_cover_off(job: Job, ready: tuple[str, ...]) -> Step:
    """The cover is the drain."""
    drain = job.sheet.way_out
    label = drain.label if drain else "cover"
    return Step(
        f"drain.{job.key}",
        Purpose.DRAIN,
        "drain",
        "confirm",
        say("pan under, {label} off: it is the drain", label=label),
        say("Lower edge first, so that it runs where the pan stands."),
        job.key,
        job.oil_caution,
        needs=ready,
        gate=True,
        opens_oil=True,
        advice=(_pan(job), say("Key: {key}", key=drain.key) if drain else "", say("Bolts laid out in their order: some are longer.")),
    )


def _pull_plug(job: Job, ready: tuple[str, ...]) -> Step:
    """By its drain plug."""
    drain = job.sheet.way_out
    label = drain.label if drain else "drain plug"
    return Step(
        f"drain.{job.key}",
        Purpose.DRAIN,
        "drain",
        "confirm",
        say("pan under, {label} out", label=label),
        say("Last threads by hand, pressing in, then away quickly."),
        job.key,
        job.oil_caution,
        needs=ready,
        gate=True,
        opens_oil=True,
        fields=(_REASON,) if job.planned_cycles > 1 else (),
        advice=(_pan(job), say("Key: {key}", key=drain.key) if drain else ""),
    )


_BEFORE_SHUT = (Purpose.MEASURE, Purpose.PAN_SHUT, Purpose.FILTER, Purpose.WHILE_OPEN, Purpose.ATTACHED)
_DRAINS = {"suction": _suck, "cover": _take_cover_off, "plug": _pull_plug}


def more_drains(job: Job) -> tuple[Plug, ...]:
    """Give the drain plugs beside the first: hidden pockets.

    Parameters
    ----------
    job : the compartment

    Returns
    -------
    tuple of Plug, in the sheet's order

    References
    ----------
    The sheet.
    """
    return tuple(p for p in job.sheet.plugs if p.role == "drain" and p is not job.sheet.way_out and job.sheet.drain_method == "plug")


def _pockets(job: Job) -> list[Step]:
    """A step for each further drain point, in the sheet's order."""
    c, before, steps = job.key, f"drain.{job.key}", []
    for k, plug in enumerate(more_drains(job), 2):
        steps.append(
            Step(
                f"drain{k}.{c}",
                Purpose.POCKET,
                "drain",
                "confirm",
                say("{plug_label} out too", plug_label=plug.label),
                say("A pocket holds a quarter of a litre or more (common practice)."),
                c,
                needs=(before,),
                gate=True,
                advice=(say("Key: {key}", key=plug.key),),
            )
        )
        before = f"drain{k}.{c}"
    return steps


def _wait(job: Job) -> Step:
    """Until it only drips, before a pan comes off."""
    return Step(
        f"wait.{job.key}",
        Purpose.WAIT,
        "drain",
        "timer",
        say("wait until it only drips"),
        say("The last of it carries the most debris."),
        job.key,
        needs=(f"drain.{job.key}",),
        timer_s=_drain_s(job),
        required=False,
        skip="free",
        fields=_DROPS,
        advice=_while_it_drains(job),
    )


_DROPS = (Field("drops", "number", "Drops counted", required=False), Field("seconds", "number", "in seconds", required=False))


def _drain_s(job: Job) -> int:
    """How long it drains, s: an oil that was not driven warm runs out slowly."""
    minutes = (job.sheet.drain_minutes or DEFAULT_DRAIN_MIN[job.sheet.drain_method]) * (COLD_DRAIN if job.no_warm else 1)
    return int(minutes * 60)


def _while_it_drains(job: Job) -> tuple[str, ...]:
    return (
        say("Drained as it stands, so longer: {no_warm}", no_warm=job.no_warm)
        if job.no_warm
        else say("Less when it has stood cold overnight: it has run together."),
        say("Meanwhile: does the breather move freely? Are seals and flanges dry?"),
    )


def _measure(job: Job, off: list[Step]) -> Step:
    """What came out, once it only drips; behind a pan after that is off, and without a wait where it was sucked out."""
    first = job.planned_cycles == 1 and not (job.kind_of_work == "flush" and looked_before(job))
    why = (
        say("It is a mixture by now: with what went in it tells how fresh the rest is.")
        if job.planned_cycles > 1
        else say("It tells how much of the flush fluid came out again.")
        if not first
        else say("It tells what was lost since {on}.", on=f"{job.last_filled_on.day} {job.last_filled_on:%B %Y}")
        if job.last_filled_on
        else say("No earlier fill is on record: this is the first figure for it.")
    )
    timed = not off and job.sheet.drain_method != "suction"
    drips = (Field("drips", "bool", say("It only drips"), default=False), *_DROPS) if timed else ()
    return Step(
        f"measure.{job.key}",
        Purpose.MEASURE,
        "inspect" if off else "drain",
        "measure",
        say(
            "{words}measure what came out{words_2}",
            words=say("let it drip, ") if timed else "",
            words_2=say(", with what the pan held") if off else "",
        ),
        why,
        job.key,
        job.oil_caution,
        needs=(f"drain.{job.key}", *(s.id for s in off)),
        skip="reason",
        timer_s=_drain_s(job) if timed else 0,
        fields=(*drips, *amount_fields(parts=True)),
        advice=_while_it_drains(job) if timed else (),
    )


EMPTIED = say("Pan emptied and back under: what was measured is the old oil alone")


def _rinse(job: Job) -> Step:
    """What stays inside is washed out: through the open way out, or where there is none by filling and sucking out again."""
    c, twice = job.key, job.kind_of_work == "correction"
    through = job.sheet.way_out is not None
    words = (
        say("rinse {words}with {sheet} of the new oil, the way out open", words="twice " if twice else "", sheet=ml(rinse_ml(job.sheet)))
        if through
        else say("fill with the new oil and suck it out again{words}", words=say(", twice") if twice else "")
    )
    rounds = (
        (say("First rinse through"), say("Second rinse through"))
        if through
        else (say("Filled and sucked out once"), say("Filled and sucked out again"))
    )
    how = say("poured through until it comes out as it went in") if through else say("each time a part of the old goes with the new")
    return Step(
        f"rinse.{c}",
        Purpose.RINSE,
        "close",
        "confirm",
        f"{words}",
        job.rinse
        or (
            say("What stays of the wrong oil goes on working in the right one.")
            if twice
            else say("The sheet asks for it: it carries out what the drain leaves in pockets.")
        ),
        c,
        needs=(f"drain.{c}", f"look.{c}"),
        gate=True,
        skip="reason",
        checklist=(say("Label reads {oil}", oil=job.oil), *((EMPTIED,) if through else ()), *(rounds if twice else ())),
        rounds=2 if twice else 1,
        advice=(say("Common practice: {how}. It counts as used oil.", how=how),),
    )


def _shut(job: Job, drain: Plug, before: tuple[str, ...]) -> Step:
    """The way out shut, with its seal and torque."""
    cover = job.sheet.drain_method == "cover"
    pattern = (say("Cross pattern, in three rounds: by hand, half, full torque."),) if cover else ()
    return Step(
        f"shut.{job.key}",
        Purpose.SHUT,
        "close",
        "torque",
        say("shut the {drain_label}, {drain}", drain_label=drain.label, drain=plug_torque_words(drain)),
        say("Filling with the drain still open is a real and repeated mistake."),
        job.key,
        needs=(
            f"drain.{job.key}",
            f"look.{job.key}",
            *((f"rinse.{job.key}",) if job.rinses else ()),
            *((f"tension.{job.key}",) if kind_of(job.sheet.kind).chain else ()),
            *before,
        ),
        gate=True,
        plug=drain.label,
        caution=say("Never by feel into aluminium or magnesium when a figure exists.") if job.sheet.case_material != "iron" else "",
        fields=(*((Field("bolts", "number", say("How many bolts"), required=False),) if cover else ()), *torque_fields(drain), _REASON),
        advice=(say("Key: {key}", key=drain.key), *pattern, *other_heads(drain)),
    )


def _shut_pocket(job: Job, k: int, plug: Plug) -> Step:
    return Step(
        f"shut{k}.{job.key}",
        Purpose.POCKET_SHUT,
        "close",
        "torque",
        say("shut the {plug_label}, {plug}", plug_label=plug.label, plug=plug_torque_words(plug)),
        say("The pocket's plug is the one that is forgotten."),
        job.key,
        needs=(f"shut.{job.key}",),
        gate=True,
        plug=plug.label,
        fields=(*torque_fields(plug), _REASON),
        advice=(say("Key: {key}", key=plug.key), *other_heads(plug)),
    )
