"""Resets after the oil: the tool's last word counts, without a tool they are ticked by hand."""

import pytest

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Step
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.run.checking import check_resets, note_reset, reset_by_tool
from barodex.core.run.state import Act, StepState

STEP = Step("reset.0", Purpose.RESET, "finish", "confirm", "reset both", "", "0", resets=("wear counter", "adaptation"))


def said(name, outcome, why=""):
    return Act("a", 1, "reset", STEP.id, {"name": name, "outcome": outcome, "why": why}, None)


def test_without_a_tool_each_is_ticked():
    here = StepState("open")
    for ticked in (None, [], ["wear counter"], "wear counter adaptation"):
        with pytest.raises(GateClosed, match=r"Not reset yet: (wear counter|adaptation)"):
            check_resets(here, STEP, {"ticked": ticked})
    check_resets(here, STEP, {"ticked": ["adaptation", "wear counter"]})
    assert not reset_by_tool(here, STEP)
    assert not reset_by_tool(here, Step("wipe", Purpose.WIPE, "finish", "confirm", "wipe", ""))


def test_the_last_word_of_the_tool_counts_whatever_is_ticked():
    here = StepState("open")
    note_reset(here, STEP, said("wear counter", "failed", "The ignition is off."))
    with pytest.raises(GateClosed, match=r"“wear counter” failed, says the tool\. The ignition is off\."):
        check_resets(here, STEP, {"ticked": ["wear counter", "adaptation"]})
    note_reset(here, STEP, said("wear counter", "done"))
    with pytest.raises(GateClosed, match="Not reset yet: adaptation"):
        check_resets(here, STEP, {})
    note_reset(here, STEP, said("adaptation", "done"))
    check_resets(here, STEP, {})
    assert reset_by_tool(here, STEP)
    assert here.results == {"wear counter": ("done", ""), "adaptation": ("done", "")}


def test_a_tool_cannot_report_what_is_not_asked():
    with pytest.raises(Inconsistent, match="No reset of “clutch fill” is asked here"):
        note_reset(StepState(), STEP, said("clutch fill", "done"))
    with pytest.raises(Inconsistent, match="A reset is one of: done, failed"):
        note_reset(StepState(), STEP, said("adaptation", "perhaps"))
