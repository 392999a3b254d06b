"""Checks of parts that are looked at while they can be, each good or bad; and what a tool sets back after the oil: its last word counts."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.guide.kind_blocks import STAYS
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Step
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.run.state import Act, Ledger, StepState
from barodex.core.words import say


def note_checks(ledger: Ledger, step: Step, values: Mapping[str, Any]) -> None:
    """Keep what was found bad at a step, and refuse one of which nothing is said.

    Parameters
    ----------
    ledger : of the compartment, changed in place
    step : whose list is of checks, or with a ``state`` among its fields
    values : ``ticked`` names what is good, ``bad`` what is bad, ``bad_seen`` what was seen of it

    Raises
    ------
    Inconsistent : a check that the step does not ask, or bad without a word of what was seen
    GateClosed : a check that is neither good nor bad

    References
    ----------
    A check that nobody answered is none: common practice.
    """
    ledger.bad.pop(step.id, None)
    if step.purpose in STAYS:
        if values.get("state") == STAYS[step.purpose]:
            name = "The chain" if step.purpose == Purpose.TENSION else step.task
            said = str(values.get("done") or values.get("stretch") or "").strip()
            ledger.bad[step.id] = {name: f"{values['state']}{': ' if said else ''}{said}"[:200]}
        return
    if not step.checks:
        return
    bad = [str(b) for b in values.get("bad") or ()] if isinstance(values.get("bad"), (list, tuple)) else []
    good = [str(t) for t in values.get("ticked") or ()] if isinstance(values.get("ticked"), (list, tuple)) else []
    odd = next((b for b in bad if b not in step.checklist), None)
    if odd is not None:
        raise Inconsistent(say("“{odd}” is not checked here.", odd=odd), field="bad", value=odd, allowed=", ".join(step.checklist))
    unsaid = next((c for c in step.checklist if c not in bad and c not in good), None)
    if unsaid is not None:
        raise GateClosed(say("Good or bad? {unsaid}.", unsaid=unsaid), field="ticked", value=unsaid)
    seen = str(values.get("bad_seen") or "").strip()
    if bad and len(seen) < 4:
        raise Inconsistent(say("Say what was seen of what is bad."), field="bad_seen", value=seen)
    if bad:
        ledger.bad[step.id] = dict.fromkeys(bad, seen[:200])


OUTCOMES = ("done", "failed")


def note_reset(here: StepState, step: Step, act: Act) -> None:
    """Keep what a tool reports of a reset.

    Parameters
    ----------
    here : the step's state, changed in place
    step : that asks the reset
    act : with ``name``, ``outcome`` done or failed, and ``why``

    Raises
    ------
    Inconsistent : a reset that the step does not ask, or an outcome that is none

    References
    ----------
    None needed.
    """
    name, outcome = str(act.values.get("name") or ""), act.values.get("outcome")
    if name not in step.resets:
        raise Inconsistent(
            say("No reset of “{name}” is asked here.", name=name), field="name", value=name, allowed=", ".join(step.resets) or "none"
        )
    if outcome not in OUTCOMES:
        raise Inconsistent(
            say("A reset is one of: {outcomes}.", outcomes=", ".join(OUTCOMES)), field="outcome", value=outcome, allowed=", ".join(OUTCOMES)
        )
    here.results[name] = (str(outcome), str(act.values.get("why") or ""))


def reset_by_tool(here: StepState, step: Step) -> bool:
    """Whether a tool has set back all that a step asks: then its supply was connected and the ignition on.

    Parameters
    ----------
    here, step : with what the tool said

    Returns
    -------
    bool; False for a step that asks no reset

    References
    ----------
    A control unit refuses otherwise: common practice.
    """
    return bool(step.resets) and all(here.results.get(name, ("", ""))[0] == "done" for name in step.resets)


def check_resets(here: StepState, step: Step, values: Mapping[str, Any]) -> None:
    """Refuse a step whose resets are not all done, by the tool or by hand.

    Parameters
    ----------
    here, step : with what the tool said
    values : ``ticked`` names those that were done by hand

    Raises
    ------
    GateClosed : one failed, or nobody says that it was done

    References
    ----------
    What a control unit answers counts; common practice.
    """
    ticked = values.get("ticked")
    for name in step.resets:
        outcome, why = here.results.get(name, ("", ""))
        if outcome == "failed":
            because = f" {why}" if why else ""
            raise GateClosed(
                say("“{name}” failed, says the tool.{because} Or pass the step with the reason.", name=name, because=because),
                field="ticked",
                value=name,
            )
        if not outcome and (not isinstance(ticked, (list, tuple)) or name not in ticked):
            raise GateClosed(say("Not reset yet: {name}.", name=name), field="ticked", value=name)
