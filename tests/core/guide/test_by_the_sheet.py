"""What a sheet names is in the guide: its rinse, the torque of its trays, what drips near a brake."""

from dataclasses import replace

import pytest

from barodex.core.guide.procedure import build
from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Conditions, Job
from barodex.core.sheet.work import rinse_ml
from tests.core.guides import AUTOMATIC, BLOWER, BOX, HUB

RINSED = replace(BOX, rinse_ml=300.0)


def guide(*sheets, vehicle="car", work=""):
    return build(tuple(Job(str(k), f"Box {k}", s, "Oil", work=work) for k, s in enumerate(sheets)), Conditions("V", vehicle, 12.0))


def test_a_rinse_that_the_sheet_names_is_led_before_the_drain_is_shut():
    made = guide(RINSED)
    rinse = made.step(Purpose.RINSE, "0")
    assert (rinse.checklist[0], rinse.rounds, "300 mL" in rinse.task.replace("\N{NO-BREAK SPACE}", " ")) == ("Label reads Oil", 1, True)
    assert rinse.id in made.step(Purpose.SHUT, "0").needs
    assert rinse_ml(RINSED) == 300


@pytest.mark.parametrize(
    ("sheet", "work"),
    [(BOX, ""), (RINSED, "top-up"), (replace(BLOWER, rinse_ml=50.0), ""), (replace(AUTOMATIC, rinse_ml=300.0), "exchange")],
)
def test_no_rinse_where_none_is_named_or_none_can_run_out(sheet, work):
    assert guide(sheet, work=work).step(Purpose.RINSE, "0") is None


def test_trays_have_their_torque_where_the_sheet_has_one():
    made = guide(BOX, replace(BOX, trays_nm=24.0))
    assert made.step(Purpose.WIPE).checklist == ("Box 1 trays and plates back on, 24 N·m",)
    assert guide(BOX).step(Purpose.WIPE).checklist == ()


def test_what_drips_near_a_brake_says_so_and_a_cold_job_is_not_hot():
    hub, blower, box = (guide(s, vehicle=v).step(Purpose.DRAIN, "0").caution for s, v in ((HUB, "bicycle"), (BLOWER, "car"), (BOX, "car")))
    assert ("brake" in hub, "hot" in hub) == (True, False)
    assert ("brake" in blower, "hot" in blower) == (False, False)
    assert ("brake" in box, "hot" in box) == (False, True)
    assert guide(HUB, vehicle="bicycle").step(Purpose.WIPE).checklist == ("Tyre, rim and brake clean and dry of oil",)
