"""What a tool sets back after the oil: its last word on each counts, without a tool it is ticked by hand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.guide.steps import Step
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.run.state import Act, StepState

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
        raise Inconsistent(f"No reset of “{name}” is asked here.", field="name", value=name, allowed=", ".join(step.resets) or "none")
    if outcome not in OUTCOMES:
        raise Inconsistent(f"A reset is one of: {', '.join(OUTCOMES)}.", field="outcome", value=outcome, allowed=", ".join(OUTCOMES))
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
            raise GateClosed(f"“{name}” failed, says the tool.{because} Or pass the step with the reason.", field="ticked", value=name)
        if not outcome and (not isinstance(ticked, (list, tuple)) or name not in ticked):
            raise GateClosed(f"Not reset yet: {name}.", field="ticked", value=name)
