"""A service is its acts: ``fold`` gives the state of the work from the procedure and the acts, and nothing else.

The order is the sequence number that the server gave on acceptance. Gates are tested in that order; an act that does
not fit is a conflict with its reason and changes nothing; an act id seen before changes nothing; an undo reopens what
depends on what it takes back.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from barodex.core.guide.purpose import LETS_OIL_OUT, UNLESS_STOPPED, Purpose
from barodex.core.guide.steps import Procedure, Step
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, OutOfRange, in_range
from barodex.core.run.acts import apply_done
from barodex.core.run.checking import note_reset
from barodex.core.run.exchanging import set_cycles
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.levelling import note_reading
from barodex.core.run.measuring import target_of
from barodex.core.run.pouring import note_top_up
from barodex.core.run.state import Act, Conflict, Ledger, State, StepState, drained
from barodex.core.words import say

AMENDABLE = ("measure", "inspect", "note")  # said again, the later one counts; nothing else reopens
ACT_KINDS = ("done", "skip", "add", "timer_start", "timer_stop", "note", "undo", "reading", "cycles")  # what a person does
TOOL_KINDS = ("reset",)  # what a device reports
MOST_POURED_ML = 120_000.0
UNDOABLE = ("done", "skip", "add", "cycles")


SETTLED = ("done", "skipped", "off")


def _needs(step: Step, procedure: Procedure) -> tuple[str, ...]:
    return (*step.needs, *(s.id for s in procedure.steps if s.purpose == Purpose.STOP)) if step.purpose == Purpose.SIGN else step.needs


def _why_off(step: Step, state: State) -> str | None:
    """Why a step does not apply; None where it does."""
    if step.cycle and step.cycle >= state.ledgers[step.compartment].wanted_cycles:
        return say("This cycle is not wanted.")
    if step.purpose == Purpose.WHICH and state.ledgers[step.compartment].variant_read:
        return say("The casing has told which variant it is.")
    if step.purpose in (Purpose.STOP, *UNLESS_STOPPED) and (step.purpose == Purpose.STOP) != state.stopped:
        return say("A stop verdict: do not drive.") if state.stopped else ""
    return None


def _lock_step(step: Step, state: State, procedure: Procedure) -> bool:
    """Set whether a step is open, locked and by what, or does not apply; whether that changed."""
    here = state.steps[step.id]
    before = here.status
    if before in ("done", "skipped"):
        return False
    off = _why_off(step, state)
    if off is not None:
        here.status, here.blocked_by, here.why_locked = "off", (), off
        return before != "off"
    steps = state.steps
    here.blocked_by = tuple(n for n in _needs(step, procedure) if steps[n].status not in SETTLED)
    here.status = "locked" if here.blocked_by else "open"
    here.why_locked = say("Opens when this is done: {title}.", title=procedure.by_id[here.blocked_by[0]].title) if here.blocked_by else ""
    return before != here.status


def _lock(state: State, procedure: Procedure) -> None:
    """Set which steps are open, which are locked and by what, over the whole guide."""
    state.stopped = _stops(state)
    changed = True
    while changed:  # one that no longer applies may open another that stands before it
        changed = sum(_lock_step(step, state, procedure) for step in procedure.steps) > 0


def _stops(state: State) -> bool:
    return any(a.assessment is not None and a.assessment.level == 4 for a in state.ledgers.values())


def _lock_after(step: Step, state: State, procedure: Procedure, waiting: Mapping[str, Sequence[Step]]) -> None:
    """The same after one step was settled: only those that wait for it can have changed, but for a stop and a variant that was read."""
    read = step.compartment and state.ledgers[step.compartment].variant_read
    if _stops(state) != state.stopped or (read and procedure.step(Purpose.WHICH, step.compartment) is not None):
        _lock(state, procedure)
        return
    for other in waiting.get(step.id, ()):
        _lock_step(other, state, procedure)


def _waiting(procedure: Procedure) -> dict[str, list[Step]]:
    """The steps that wait for each."""
    found: dict[str, list[Step]] = {}
    for step in procedure.steps:
        for need in _needs(step, procedure):
            found.setdefault(need, []).append(step)
    return found


def _dependents(procedure: Procedure, step_id: str) -> set[str]:
    found, frontier = {step_id}, [step_id]
    while frontier:
        here = frontier.pop()
        for step in procedure.steps:
            if here in step.needs and step.id not in found:
                found.add(step.id)
                frontier.append(step.id)
    return found


def _purpose(procedure: Procedure, act: Act) -> Purpose | None:
    """What the step of an act is for; None where the guide has no such step."""
    step = procedure.by_id.get(act.step)
    return None if step is None else step.purpose


def _reopened(procedure: Procedure, kept: list[Act], revoked: set[str], target: Act) -> set[str]:
    """The acts that fall with an undone one: what depends on its step, unless an earlier entry of it still stands."""
    if target.kind not in ("done", "skip", "add"):
        return set()  # a timer, a note, a number of cycles: what was done under it stands, or no longer applies
    live = [e for e in kept if e.id not in revoked]
    if target.kind != "add" and any(e.step == target.step and e.kind in ("done", "skip") for e in live):
        return set()
    scope = _dependents(procedure, target.step)
    if target.kind != "add":
        scope.discard(target.step)
    # Poured amounts stand unless the drain itself is open again: the oil is in there.
    drained_again = _purpose(procedure, target) in LETS_OIL_OUT
    fallen = {"done", "skip", "add"} if drained_again else {"done", "skip"}
    return {e.id for e in live if e.step in scope and e.kind in fallen}


def _undo_problem(state: State, procedure: Procedure, target: Act) -> None:
    if _purpose(procedure, target) == Purpose.PROVE and target.kind in ("done", "skip") and drained(procedure, state):
        raise GateClosed(say("Oil has been drained: that the fill plug opens cannot be taken back now."), field="act", value=target.id)


def _add(state: State, procedure: Procedure, step: Step, act: Act) -> None:
    """An amount that was poured, added to those before it."""
    if step.kind not in ("pour", "level"):
        raise Inconsistent(say("Only a pour is added up."), field="step", value=step.id)
    volume = act.values.get("volume_ml")
    if volume is None:
        raise OutOfRange(say("Say how much was poured."), field="volume_ml", value=None)
    in_range("volume_ml", volume, 0.2, 60_000, "mL")
    in_range("dead_ml", act.values.get("dead_ml") or 0.0, 0, 1000, "mL")
    ledger = state.ledgers[step.compartment]
    if ledger.poured_ml + float(volume) > MOST_POURED_ML:
        raise OutOfRange(
            say("No compartment takes that much: the amounts poured do not add up."),
            field="volume_ml",
            value=volume,
            allowed="120 L in all",
        )
    ledger.pours.append(act)
    ledger.poured_ml += float(volume)
    note_top_up(ledger, procedure.job(step.compartment))


def _act(state: State, procedure: Procedure, act: Act) -> None:
    """Apply one act to the state, or raise the error that refuses it."""
    if act.kind not in (*ACT_KINDS, *TOOL_KINDS):
        raise Inconsistent(say("No act “{kind}”.", kind=act.kind), field="kind", value=act.kind, allowed=", ".join(ACT_KINDS))
    if state.signed:
        raise GateClosed(say("This service is signed: a correction goes into the Book."), field="step", value=act.step)
    if act.kind == "note":
        state.notes.append(act)
        return
    step = procedure.by_id.get(act.step)
    if step is None:
        raise Inconsistent(say("This service has no step “{step}”.", step=act.step), field="step", value=act.step)
    here = state.steps[step.id]
    if act.kind == "reading":
        note_reading(state, procedure, step, act)
        return
    if act.kind == "reset":
        note_reset(here, step, act)
        return
    if act.kind == "cycles":
        set_cycles(state, procedure, step, act)
        _lock(state, procedure)
        return
    if here.status == "off":
        raise GateClosed(here.why_locked or say("This step does not apply here."), field="step", value=step.id)
    if here.status == "locked":
        raise GateClosed(
            say("“{title}” is locked. {why_locked}", title=step.title, why_locked=here.why_locked), field="step", value=step.id
        )
    if act.kind in ("timer_start", "timer_stop"):
        if not step.timer_s:
            raise Inconsistent(say("This step has no timer."), field="step", value=step.id)
        if act.kind == "timer_start":
            here.timer_started, here.timer_stopped = act.at, None
        elif here.timer_started and not here.timer_stopped:
            here.timer_stopped = act.at
        return
    amends = act.kind == "done" and here.status == "done" and step.kind in AMENDABLE
    if here.status in ("done", "skipped") and not amends:
        who = say(", by {by}", by=here.act.by) if here.act and here.act.by else ""
        raise GateClosed(
            say("“{title}” is done already{who}; undo it first to change it.", title=step.title, who=who), field="step", value=step.id
        )
    if act.kind == "add":
        _add(state, procedure, step, act)
        return
    if act.kind == "skip":
        if step.skip == "never":
            raise GateClosed(say("“{title}” cannot be passed.", title=step.title), field="step", value=step.id)
        if step.skip == "reason":
            note_gap(state, step, refuse_unreasoned(act.values, say("Passed: {title}.", title=step.title), "reason", ""))
        here.status = "skipped"
    else:
        gaps = list(state.gaps)
        state.gaps = [g for g in gaps if g[0] != step.id]
        try:
            apply_done(state, procedure, step, act)
        except CoreError:
            state.gaps = gaps
            raise
        here.status = "done"
        if step.kind == "sign":
            state.signed = act
    here.act = act
    if here.timer_started and not here.timer_stopped:
        here.timer_stopped = act.at
    begins = state.steps.get(step.starts)
    if begins is not None and act.kind == "done" and begins.timer_started is None and begins.status != "done":
        begins.timer_started = act.at


def _blank(procedure: Procedure) -> State:
    ledgers = {j.key: Ledger(*target_of(j), wanted_cycles=j.planned_cycles) for j in procedure.jobs}
    state = State({s.id: StepState() for s in procedure.steps}, ledgers)
    _lock(state, procedure)
    return state


def _replay(procedure: Procedure, acts: list[Act], revoked: set[str]) -> State:
    state, waiting = _blank(procedure), _waiting(procedure)
    for act in acts:
        if act.id in revoked or act.kind == "undo":
            continue
        try:
            _act(state, procedure, act)
        except CoreError as error:
            state.conflicts.append(Conflict(act, error))
        else:
            if act.kind in ("done", "skip"):
                _lock_after(procedure.by_id[act.step], state, procedure, waiting)
    return state


def fold(procedure: Procedure, acts: Iterable[Act]) -> State:
    """Give the state of a service from its acts, in the order of their sequence numbers.

    Parameters
    ----------
    procedure : from :func:`barodex.core.guide.procedure.build`
    acts : accepted acts; an id seen before is passed over

    Returns
    -------
    State; acts that did not fit stand in ``conflicts``, each with its error

    References
    ----------
    A pure left fold; the same acts give the same state whatever order they are handed over in.
    """
    kept: list[Act] = []
    seen: set[str] = set()
    revoked: set[str] = set()
    refused: list[Conflict] = []
    for act in sorted(acts, key=lambda e: e.seq):
        if act.id in seen:
            continue
        seen.add(act.id)
        if act.kind != "undo":
            kept.append(act)
            continue
        target = next((e for e in kept if e.id == act.values.get("act") and e.id not in revoked), None)
        state = _replay(procedure, kept, revoked)
        try:
            if target is None:
                raise Inconsistent(say("There is nothing to undo under that name."), field="act", value=act.values.get("act"))
            if state.signed:
                raise GateClosed(say("This service is signed: a correction goes into the Book."), field="act", value=target.id)
            _undo_problem(state, procedure, target)
            if target.kind == "cycles" and len(_replay(procedure, kept, revoked | {target.id}).conflicts) > len(state.conflicts):
                raise GateClosed(say("A cycle that was added has begun: it stands, or is undone first."), field="act", value=target.id)
        except CoreError as error:
            refused.append(Conflict(act, error))
            continue
        revoked.add(target.id)
        revoked |= _reopened(procedure, kept, revoked, target)
    state = _replay(procedure, kept, revoked)
    state.conflicts = [c for c in state.conflicts if c.act.id not in revoked] + refused
    # While one drains there is other work; a timer that calls out wants somebody who stays with it.
    running = {s for s, v in state.steps.items() if v.timer_started and not v.timer_stopped and not procedure.by_id[s].calls}
    opened = [s for s in procedure.steps if state.steps[s.id].status == "open"]
    # While something drains the vehicle is not moved to stand level.
    ahead = [s for s in opened if s.id not in running and not (running and s.purpose == Purpose.LEVELLED)] or opened
    state.current = ahead[0].id if ahead else ""
    return state


def accept(procedure: Procedure, acts: Iterable[Act], new: Act) -> State:
    """Test a new act against what was accepted before, and give the state with it.

    Parameters
    ----------
    procedure, acts : as :func:`fold`
    new : the act, with the next sequence number

    Returns
    -------
    State with the act applied

    Raises
    ------
    CoreError : the error that refuses it; nothing has changed then

    References
    ----------
    As :func:`fold`.
    """
    state = fold(procedure, [*acts, new])
    for conflict in state.conflicts:
        if conflict.act.id == new.id:
            raise conflict.error
    return state
