"""What a finding and a warranty do to the days, by hand. Figures: common practice, as the judgement page of the design states them."""

import datetime as dt
from dataclasses import replace

import pytest

from barodex.core.due.ahead import Ahead, Rate
from barodex.core.due.interval import Limits
from barodex.core.due.oil_life import Facts, Occasion, warranty_hold
from barodex.core.due.policy import look_again
from barodex.core.due.schedule import SchedulePolicy, SheetInterval
from barodex.core.due.visits import BayPolicy, check_bay, is_open
from barodex.core.quantity.errors import OutOfRange

ON = dt.date(2026, 5, 31)
ROAD, HOURS, BOTH = Limits({"road": 40_000.0}), Limits({}, 400.0), Limits({"road": 12_000.0}, 120.0)


@pytest.mark.parametrize(
    ("level", "limits", "wanted"),
    [
        (0, BOTH, (None, None, None)),
        (1, BOTH, (None, None, None)),
        (2, ROAD, (5000, None, 3)),  # a quarter of 40 000 is more than 5 000
        (2, BOTH, (3000, 30, 3)),
        (2, HOURS, (None, 50, 3)),  # a quarter of 400 h is more than 50
        (3, ROAD, (2000, None, 1)),  # a fifth of a quarter of 40 000
        (3, HOURS, (None, 20, 1)),  # a fifth of a quarter of 400 h
        (4, BOTH, (0, 0, 0)),
        (4, ROAD, (0, None, 0)),
        (4, HOURS, (None, 0, 0)),
    ],
)
def test_by_when_a_finding_wants_another_look(level, limits, wanted):
    assert look_again(level, limits) == pytest.approx(wanted)


@pytest.mark.parametrize(
    ("day", "runs"),
    [
        (dt.date(2026, 6, 12), True),  # a Friday
        (dt.date(2026, 6, 13), False),
        (dt.date(2026, 6, 15), False),  # a Monday that is closed
        (dt.date(2026, 6, 16), True),
    ],
)
def test_the_workshop_is_shut_on_closed_weekdays_and_on_closed_days(day, runs):
    assert is_open(BayPolicy(closed_days=(dt.date(2026, 6, 15),)), day) is runs


@pytest.mark.parametrize(
    ("field", "good", "bad"), [("late_days", (0, 180), (-1, 181)), ("oil_hours", (0, 24), (-0.1, 24.1)), ("bays", (1,), (0,))]
)
def test_how_the_workshop_works_has_its_limits(field, good, bad):
    for value in good:
        check_bay(BayPolicy(**{field: value}))
    for value in bad:
        with pytest.raises(OutOfRange):
            check_bay(BayPolicy(**{field: value}))


HOUSE = SchedulePolicy()
NEW = Facts(
    "km", dt.date(2026, 1, 1), {"road": 10_000.0}, {"road": 1.0}, Ahead(Rate(50, 40, 60), ON), 30_000.0, warranty_until=dt.date(2027, 1, 1)
)


def test_under_warranty_a_box_is_left_closed_until_its_maker_s_own_figure():
    sheet = SheetInterval(60_000)
    # 50 000 km at 50 a day are 1 000 days from 31 May 2026.
    assert warranty_hold("axle", sheet, HOUSE, NEW, ON) == "Under warranty until 01 Jan 2027: its maker's figure falls due 24 Feb 2029."
    assert "never asks" in warranty_hold("axle", SheetInterval(for_life=True), HOUSE, NEW, ON)
    assert "names no interval" in warranty_hold("axle", SheetInterval(), HOUSE, NEW, ON)
    # What it hangs on besides is the workshop's, not the maker's.
    tomorrow = Occasion("engine oil", 0.99, ON, ON, ON)
    assert warranty_hold("axle", sheet, HOUSE, replace(NEW, occasions=(tomorrow,)), ON).endswith("24 Feb 2029.")


@pytest.mark.parametrize(
    ("sheet", "policy", "facts"),
    [
        (SheetInterval(60_000), SchedulePolicy(warranty="as any"), NEW),
        (SheetInterval(60_000), HOUSE, replace(NEW, warranty_until=None)),
        (SheetInterval(60_000), HOUSE, replace(NEW, warranty_until=ON - dt.timedelta(days=1))),
        (SheetInterval(60_000), HOUSE, replace(NEW, since=None)),
        (SheetInterval(60_000), HOUSE, replace(NEW, factor=0.5)),
        (SheetInterval(60_000), HOUSE, replace(NEW, caps=(Occasion("finding", 0.5, ON, ON, ON),))),
        (SheetInterval(10_500), HOUSE, NEW),  # its maker's own figure is near
    ],
)
def test_a_warranty_holds_nothing_back_otherwise(sheet, policy, facts):
    assert warranty_hold("axle", sheet, policy, facts, ON) == ""


def test_the_last_day_of_a_warranty_still_counts():
    assert warranty_hold("axle", SheetInterval(60_000), HOUSE, replace(NEW, warranty_until=ON), ON)
