"""Gaps: what was not done as it should be, each with its reason."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.guide.steps import Step
from barodex.core.quantity.errors import NeedsReason
from barodex.core.run.state import State


def note_gap(state: State, step: Step, text: str) -> None:
    """Add an explained gap of a step to the report.

    Parameters
    ----------
    state, step : where it happened
    text : what and why

    References
    ----------
    As :func:`refuse_unreasoned`.
    """
    state.gaps.append((step.id, text))


def refuse_unreasoned(values: Mapping[str, Any], message: str, field_name: str, value: object) -> str:
    """Give the gap's text when a reason is written, else refuse.

    Parameters
    ----------
    values : what the act carries; ``reason`` counts from four letters on
    message, field_name, value : what is out of line, where, and how much

    Returns
    -------
    str, for the gap report

    Raises
    ------
    NeedsReason : no reason is given

    References
    ----------
    A gap is explained or the signature waits: common practice of the paper record.
    """
    reason = str(values.get("reason") or "").strip()
    if len(reason) < 4:
        raise NeedsReason(message + " Write the reason to go on.", field=field_name, value=value)
    return f"{message} Reason: {reason[:300]}"
