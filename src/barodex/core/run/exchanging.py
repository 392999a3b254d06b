"""An exchange while it runs: the fresh share so far, where it ends, and how many drains it takes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Job, Procedure, Step
from barodex.core.ledger.balance import STATED_C
from barodex.core.ledger.exchange import drain_refill
from barodex.core.quantity.errors import CoreError, GateClosed, Inconsistent, in_range
from barodex.core.quantity.expansion import volume_at
from barodex.core.quantity.working import percent
from barodex.core.run.gaps import note_gap, refuse_unreasoned
from barodex.core.run.ledgering import balance_of, cycles_ml, measured_anew
from barodex.core.run.state import Act, Ledger, State, StepState
from barodex.core.words import say

MOST_LOOKED_AHEAD = 12  # cycles


def fresh_share(job: Job, ledger: Ledger) -> float | None:
    """Give the share of fresh oil inside, from what was really drained and poured.

    Parameters
    ----------
    job : the compartment; its sheet states the total amount, mL
    ledger : what is known of it so far

    Returns
    -------
    float, 0 to 1; None where the total is not stated, or nothing was done yet

    References
    ----------
    As :func:`barodex.core.ledger.balance.balance`.
    """
    if job.sheet.total_ml is None or not (ledger.cycles or ledger.poured_ml > 0):
        return None
    return balance_of(job, ledger).fresh_share


def _share_after(total_ml: float, done: list[tuple[float, float]]) -> float | None:
    if not done:
        return None
    try:
        return drain_refill(total_ml, done)[-1].fresh
    except CoreError:
        return None


def drain_shares(job: Job, ledger: Ledger) -> tuple[float, ...]:
    """Give the computed fresh share of each drained oil of an exchange, the first one old.

    Parameters
    ----------
    job : the compartment; its sheet states the total amount, mL
    ledger : what is known of it so far

    Returns
    -------
    tuple of float, 0 to 1: of drain 1, 2 …; empty where the total is not stated or nothing was drained

    References
    ----------
    As :func:`barodex.core.ledger.exchange.drain_refill`: what comes out is what was mixed inside.
    """
    total = job.sheet.total_ml
    if total is None or (not ledger.cycles and ledger.drained is None):
        return ()
    shares, done = [0.0], cycles_ml(job, ledger)
    for k in range(1, len(ledger.cycles) + 1):
        after = _share_after(total, done[:k])
        if after is None:
            return tuple(shares)
        shares.append(after)
    if ledger.drained is None and not measured_anew(ledger):
        shares.pop()  # the last fill is still inside
    return tuple(shares)


@dataclass(frozen=True)
class Outlook:
    """What an exchange will come to: the share after the drains still wanted, how many the target takes, and that in words."""

    fresh: float
    wanted: int
    needed: int
    target: float
    text: str


def exchange_outlook(job: Job, ledger: Ledger) -> Outlook | None:
    """Tell where an exchange ends if the rest goes as the cycles so far, and how many the target takes.

    Parameters
    ----------
    job : the compartment; its sheet states the total amount, mL
    ledger : what is known of it so far

    Returns
    -------
    Outlook, or None where this is no exchange in cycles

    References
    ----------
    As :func:`barodex.core.ledger.exchange.drain_refill`; a cycle to come takes what those before it took on average.
    """
    total = job.sheet.total_ml
    if job.planned_cycles < 2 or total is None:
        return None
    done = cycles_ml(job, ledger)
    last = ledger.drained is not None
    if ledger.drained is not None:
        out = volume_at(ledger.drained.volume_ml, ledger.drained.temperature_c, STATED_C, job.density15)
        net = balance_of(job, ledger).net_in
        into = volume_at(net.volume_ml, 15.0, STATED_C, job.density15) if net and net.volume_ml > 0 else out
        done.append((out, into))
    each = sum(d for d, _ in done) / len(done) if done else (job.sheet.capacity_ml or total / 3)
    each = min(each, total)
    wanted = ledger.wanted_cycles
    shares = [_share_after(total, [*done, *[(each, each)] * k]) or 0.0 for k in range(MOST_LOOKED_AHEAD)]
    here = len(done)
    needed = next((here + k for k, s in enumerate(shares) if s >= job.aim_fresh - 0.005 and here + k > 0), here + MOST_LOOKED_AHEAD)
    fresh = shares[max(0, min(wanted - here, MOST_LOOKED_AHEAD - 1))]
    if last or needed == wanted:
        text = say(
            "{wanted} drains give {fresh} fresh; the target is {aim_fresh}.",
            wanted=wanted,
            fresh=percent(fresh),
            aim_fresh=percent(job.aim_fresh),
        )
    elif needed > wanted:
        text = say(
            "{wanted} drains give only {fresh} fresh; {needed} would reach the {aim_fresh}.",
            wanted=wanted,
            fresh=percent(fresh),
            needed=needed,
            aim_fresh=percent(job.aim_fresh),
        )
    else:
        text = say(
            "{wanted} drains give {fresh} fresh; {needed} are enough for the {aim_fresh}.",
            wanted=wanted,
            fresh=percent(fresh),
            needed=needed,
            aim_fresh=percent(job.aim_fresh),
        )
    return Outlook(fresh, wanted, needed, job.aim_fresh, text)


def set_cycles(state: State, procedure: Procedure, step: Step, act: Act) -> None:
    """Say that an exchange takes more drains than planned, or fewer.

    Parameters
    ----------
    state : changed in place
    procedure : with room for some more
    step : any step of the compartment
    act : with ``count``, the number of drains in all

    Raises
    ------
    Inconsistent : no exchange in cycles
    OutOfRange : fewer than have begun, or more than there is room for
    GateClosed : the last drain is open already

    References
    ----------
    None needed.
    """
    job = procedure.job(step.compartment) if step.compartment else None
    if job is None or job.planned_cycles < 2:
        raise Inconsistent(say("This is no exchange in cycles."), field="count", value=step.id)
    last, off = procedure.step(Purpose.DRAIN, job.key), procedure.step(Purpose.OFF, job.key)
    if last is not None and state.steps[last.id].status == "done":
        raise GateClosed(say("The last drain is open already."), field="count", value=act.values.get("count"))
    begun = sum(
        state.steps[s.id].status == "done" for s in procedure.steps if s.purpose == Purpose.DRAIN and s.compartment == job.key and s.cycle
    )
    count = act.values.get("count")
    if not isinstance(count, (int, float)) or isinstance(count, bool) or count != int(count):
        raise Inconsistent(say("Say how many drains in all."), field="count", value=count)
    in_range("count", count, begun + 1, job.most_cycles)
    state.ledgers[job.key].wanted_cycles = int(count)
    # The engine runs again before the last drain: that it is off is asked anew.
    if off is not None:
        state.steps[off.id] = StepState()


def check_target(state: State, step: Step, job: Job, values: Mapping[str, Any]) -> None:
    """Ask before the last drain whether the target of the exchange is reached with it.

    Parameters
    ----------
    state : its gaps are added to
    step, job : the last drain of a compartment
    values : what the act carries

    Raises
    ------
    NeedsReason : the target is not reached, and no reason is given

    References
    ----------
    As :func:`exchange_outlook`.
    """
    outlook = exchange_outlook(job, state.ledgers[job.key])
    if outlook and outlook.fresh < outlook.target - 0.005:
        note_gap(
            state,
            step,
            refuse_unreasoned(
                values,
                say("{job}: {outlook_text} Add a cycle first.", job=job.name, outlook_text=outlook.text),
                "reason",
                round(outlook.fresh, 2),
            ),
        )
