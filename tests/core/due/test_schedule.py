"""The schools: the maker's figure, the preventive one, load, warranty, links, counters. Factors are common practice."""

import datetime as dt
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.due.ahead import Ahead, Rate, Spread
from barodex.core.due.oil_life import (
    Facts,
    cap_occasions,
    counter_occasion,
    due_by,
    life_working,
    linked_occasions,
    schooled_due,
    warranty_hold,
)
from barodex.core.due.schedule import (
    SCHEDULE_SWITCHES,
    OwnRule,
    SchedulePolicy,
    SheetInterval,
    check_rule,
    check_schedule,
    load_factor,
    plan_for,
)
from barodex.core.due.season import parse_season
from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.quantity.errors import Inconsistent, OutOfRange

TODAY = dt.date(2026, 6, 15)
HOUSE = SchedulePolicy()
PLAIN = OwnRule()
LIFE = SheetInterval(for_life=True)


def facts(ran=20_000.0, years=2, **more):
    use = Ahead(Rate(40, 30, 50), TODAY)
    since = TODAY.replace(year=TODAY.year - years)
    return replace(Facts("km", since, {"road": ran}, {"road": 1.0}, use, 90_000.0), **more)


def test_for_life_never_falls_due_by_its_maker_and_is_capped_by_the_preventive_school():
    maker = plan_for("automatic", LIFE, PLAIN, HOUSE, "maker")
    preventive = plan_for("automatic", LIFE, PLAIN, HOUSE)
    assert due_by(maker, facts(), TODAY).limit == "none"
    # 100 000 km or 6 years for an automatic: common practice, 8-judgement.
    assert (preventive.limits.distance_km["road"], preventive.limits.months) == (100_000, 72)
    assert due_by(preventive, facts(101_000), TODAY).state == "overdue"


def test_the_maker_s_school_takes_the_figure_as_printed():
    sheet = SheetInterval(60_000)
    off = {"off_road": 20_000.0}
    by_maker = due_by(plan_for("axle", sheet, PLAIN, HOUSE, "maker"), facts(legs=off), TODAY)
    preventive = due_by(plan_for("axle", sheet, PLAIN, HOUSE), facts(legs=off), TODAY)
    assert by_maker.used == pytest.approx(20_000 / 60_000)
    assert preventive.used == pytest.approx(20_000 / (60_000 * 0.6))  # off-road 0.6: common practice


@pytest.mark.parametrize(("share", "factor"), [(0.0, 1.0), (0.75, 1.0), (0.875, 0.775), (1.0, 0.55)])
def test_load_near_the_rating(share, factor):
    # 1.0 up to 75 %, falling linearly to 0.55 at 100 % (common practice, 8-judgement).
    assert load_factor(share) == pytest.approx(factor)
    plan = plan_for("manual gearbox", SheetInterval(80_000), OwnRule(load_share=share), HOUSE)
    assert plan.limits.distance_km["road"] == pytest.approx(80_000 * factor)
    printed = plan_for("manual gearbox", SheetInterval(80_000), OwnRule(load_share=share), replace(HOUSE, load="as printed"))
    assert printed.limits.distance_km["road"] == 80_000


@given(st.floats(0, 1), st.floats(0, 1))
def test_more_load_never_gives_a_longer_interval(a, b):
    low, high = sorted((a, b))
    assert load_factor(low) >= load_factor(high)


def test_hours_at_load_wear_faster_where_the_workshop_says_so():
    plan = plan_for("marine gearbox", SheetInterval(None, 200), OwnRule(severe_factor=0.5), HOUSE)
    hours = replace(facts(), meter="h", legs={"road": 60.0, "load": 40.0}, ahead=Ahead(Rate(0.4, 0.3, 0.5), TODAY), meter_now=800.0)
    due = due_by(plan, hours, TODAY)
    assert due.used == pytest.approx(60 / 200 + 40 / 100)
    assert due.at_h == pytest.approx(800 + 0.3 * 200)


def test_an_interval_set_for_one_takes_the_sheet_s_place():
    rule = OwnRule(interval=SheetInterval(30_000))
    assert plan_for("axle", SheetInterval(60_000), rule, HOUSE).limits.distance_km["road"] == 30_000
    assert plan_for("axle", SheetInterval(60_000), rule, HOUSE, "maker").limits.distance_km["road"] == 60_000


def test_the_workshop_may_take_severe_duty_as_printed():
    plan = plan_for("axle", SheetInterval(60_000), PLAIN, replace(HOUSE, severe="as printed"))
    assert plan.limits.of_duty("off_road") == 60_000


def test_under_warranty_only_the_maker_s_figure_opens_it():
    until = TODAY + dt.timedelta(days=200)
    worn = facts(70_000, warranty_until=until)
    held = schooled_due("automatic", SheetInterval(200_000), OwnRule(interval=SheetInterval(60_000)), HOUSE, worn, TODAY)
    assert (held.due.limit, held.due.on, held.held_until) == ("warranty", until + dt.timedelta(days=1), until)
    assert held.due.state == "fine"
    by_maker = schooled_due("automatic", SheetInterval(65_000), OwnRule(interval=SheetInterval(60_000)), HOUSE, worn, TODAY)
    assert (by_maker.due.state, by_maker.held_until) == ("overdue", None)
    assert "under warranty" in by_maker.plan.basis
    as_usual = replace(HOUSE, warranty="as usual")
    usual = schooled_due("automatic", SheetInterval(200_000), OwnRule(interval=SheetInterval(60_000)), as_usual, worn, TODAY)
    assert usual.due.state == "overdue"
    over = replace(worn, warranty_until=TODAY - dt.timedelta(days=1))
    assert schooled_due("automatic", LIFE, OwnRule(interval=SheetInterval(60_000)), HOUSE, over, TODAY).due.state == "overdue"


def test_before_the_season():
    winter = parse_season("12-01", "04-15")
    rule = OwnRule(linked="season")
    in_winter = linked_occasions(rule, dt.date(2026, 1, 10), winter, None, TODAY)
    assert in_winter[0].on == dt.date(2026, 12, 1)
    # Changed in October for the winter ahead: the next one is that of the year after.
    before = linked_occasions(rule, dt.date(2025, 10, 20), winter, None, TODAY)
    assert before[0].on == dt.date(2026, 12, 1)
    assert linked_occasions(rule, dt.date(2026, 5, 1), winter, None, TODAY)[0].on == dt.date(2027, 12, 1)
    assert linked_occasions(rule, None, winter, None, TODAY) == ()
    assert linked_occasions(rule, TODAY, None, None, TODAY) == ()


def test_with_the_engine_oil():
    engine = due_by(plan_for("marine gearbox", SheetInterval(None, None, 12), PLAIN, HOUSE), facts(years=0), TODAY)
    occasion = linked_occasions(OwnRule(linked="engine oil"), TODAY - dt.timedelta(days=100), None, engine, TODAY)[0]
    assert (occasion.on, occasion.limit) == (dt.date(2027, 6, 15), "engine oil")
    due = due_by(plan_for("marine gearbox", SheetInterval(None, 500), PLAIN, HOUSE), facts(occasions=(occasion,)), TODAY)
    assert (due.limit, due.on) == ("engine oil", dt.date(2027, 6, 15))
    assert linked_occasions(OwnRule(linked="engine oil"), TODAY, None, None, TODAY) == ()


def test_a_counter_runs_on_at_its_pace():
    since = TODAY - dt.timedelta(days=100)
    occasion = counter_occasion(0.5, TODAY - dt.timedelta(days=20), since, TODAY)  # half in 80 days: the other half in 80 more
    assert occasion.on == TODAY + dt.timedelta(days=60)
    assert occasion.used == pytest.approx(0.5 + 20 * 0.5 / 80)
    assert occasion.earliest < occasion.on < occasion.latest
    assert counter_occasion(0.5, since, since, TODAY) is None  # read before the reset
    assert counter_occasion(0.0, TODAY, since, TODAY) is None
    with pytest.raises(OutOfRange):
        counter_occasion(2.5, TODAY, since, TODAY)


def test_the_working_names_school_legs_and_source():
    plan = plan_for("axle", SheetInterval(60_000), PLAIN, HOUSE)
    working = life_working(plan, facts(legs={"road": 9_000.0, "off_road": 3_600.0}, factor=0.5), TODAY)
    said = dict(working.inputs)
    assert said["road"].replace("\N{NO-BREAK SPACE}", " ") == "9 000 km of 60 000 km = 30 %"
    assert said["off-road or wading"].replace("\N{NO-BREAK SPACE}", " ") == "3 600 km of 36 000 km = 20 %"
    assert "50" in said["finding"]
    assert "Miner" in working.source


@pytest.mark.parametrize(
    ("act", "error", "field"),
    [
        (lambda: check_rule(OwnRule(interval=SheetInterval(0))), OutOfRange, "distance_km"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(None, 0))), OutOfRange, "hours"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(None, None, 0))), OutOfRange, "months"),
        (lambda: check_rule(OwnRule(load_share=1.2)), OutOfRange, "load_share"),
        (lambda: check_rule(OwnRule(severe_factor=0)), OutOfRange, "severe_factor"),
        (lambda: check_rule(OwnRule(severe_factor=0.049)), OutOfRange, "severe_factor"),
        (lambda: check_rule(OwnRule(severe_factor=1.01)), OutOfRange, "severe_factor"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(99))), OutOfRange, "distance_km"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(1_000_001))), OutOfRange, "distance_km"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(None, 20_001))), OutOfRange, "hours"),
        (lambda: check_rule(OwnRule(interval=SheetInterval(None, None, 241))), OutOfRange, "months"),
        (lambda: check_rule(OwnRule(school="mine")), Inconsistent, "school"),
        (lambda: check_rule(OwnRule(linked="moon")), Inconsistent, "linked"),
        (lambda: check_schedule(SchedulePolicy("never")), Inconsistent, "school"),
        (lambda: plan_for("axle", LIFE, PLAIN, SchedulePolicy("never")), Inconsistent, "school"),
        (lambda: plan_for("clock", LIFE, PLAIN, HOUSE), Inconsistent, "kind"),
    ],
)
def test_what_cannot_be_is_refused(act, error, field):
    with pytest.raises(error) as refused:
        act()
    assert refused.value.field == field


@pytest.mark.parametrize("interval", [SheetInterval(100, 1, 1), SheetInterval(1_000_000, 20_000, 240)])
@pytest.mark.parametrize("factor", [0.05, 1.0])
def test_the_ends_of_each_range_are_accepted(interval, factor):
    check_rule(OwnRule(interval=interval, severe_factor=factor))


def test_without_a_reading_the_distance_says_nothing_and_the_months_decide():
    plan = plan_for("axle", SheetInterval(40_000, None, 48), PLAIN, HOUSE)
    due = due_by(plan, facts(legs=None, meter_now=None), TODAY)
    assert (due.limit, due.on, due.at_km) == ("time", dt.date(2028, 6, 15), None)  # four years after June 2024
    by_hours = plan_for("marine gearbox", SheetInterval(None, 500, 12), PLAIN, HOUSE)
    assert due_by(by_hours, facts(legs=None, meter="h", meter_now=None, years=0), TODAY).limit == "time"


def test_first_values_are_what_may_be_chosen():
    check_schedule(HOUSE)
    check_rule(PLAIN)
    for name, options in SCHEDULE_SWITCHES.items():
        assert getattr(HOUSE, name) in options
    for kind in COMPARTMENT_KINDS:
        assert plan_for(kind, SheetInterval(), PLAIN, HOUSE).steps


# --- what a finding does, whatever school or warranty says ------------------------------------------------------------------


def test_a_distance_alone_gets_the_time_of_its_kind_as_cap():
    # 6 years for a supercharger: common practice, 8-judgement.
    plan = plan_for("supercharger", SheetInterval(100_000), PLAIN, HOUSE)
    assert plan.limits.months == 72
    assert any("72 months at the most" in step for step in plan.steps)
    slow = facts(1_000, ahead=Ahead(Rate(0.5, 0.4, 0.6), TODAY))
    due = due_by(plan, slow, TODAY)
    assert (due.limit, due.on) == ("time", dt.date(2030, 6, 15))
    assert plan_for("supercharger", SheetInterval(100_000), PLAIN, HOUSE, "maker").limits.months is None  # its maker's figure, uncut
    assert plan_for("axle", SheetInterval(50_000, None, 24), PLAIN, HOUSE).limits.months == 24
    assert plan_for("marine gearbox", SheetInterval(None, 500), PLAIN, HOUSE).limits.months is None


def test_a_finding_shortens_what_is_filled_for_life():
    by_maker = replace(HOUSE, school="maker")
    assert schooled_due("automatic", LIFE, PLAIN, by_maker, facts(), TODAY).due.limit == "none"
    shown = schooled_due("automatic", LIFE, PLAIN, by_maker, facts(50_000, factor=0.25), TODAY)
    assert shown.due.used == pytest.approx(50_000 / (100_000 * 0.25))  # of the interval of its kind
    assert shown.due.state == "overdue"


def test_a_finding_is_not_held_back_by_a_warranty():
    warranty = {"warranty_until": TODAY.replace(year=TODAY.year + 2)}
    assert schooled_due("axle", SheetInterval(), PLAIN, HOUSE, facts(81_000, **warranty), TODAY).held_until
    shown = schooled_due("axle", SheetInterval(), PLAIN, HOUSE, facts(41_000, factor=0.5, **warranty), TODAY)
    assert shown.held_until is None
    assert shown.due.state == "overdue"
    assert warranty_hold("axle", SheetInterval(), HOUSE, facts(**warranty), TODAY)
    assert warranty_hold("axle", SheetInterval(), HOUSE, facts(factor=0.5, **warranty), TODAY) == ""


def test_what_was_milky_is_due_by_the_meter_or_the_day_that_was_said():
    since = TODAY - dt.timedelta(days=10)
    use = Ahead(Rate(40, 30, 50), TODAY)
    caps = cap_occasions(500, 30, since, 100.0, use, TODAY)
    plan = plan_for("axle", SheetInterval(60_000, None, 48), PLAIN, HOUSE)
    due = due_by(plan, facts(100.0, since=since, caps=caps), TODAY)
    assert (due.limit, due.on, due.left) == ("finding-run", TODAY + dt.timedelta(days=10), 400)  # 400 km at 40 a day
    assert due.at_km == 90_000 + 400
    assert due.state == "soon"
    parked = cap_occasions(500, 30, since, 100.0, Ahead(Rate(1, 0.5, 2), TODAY, spread=Spread.within(2.0)), TODAY)
    due = due_by(plan, facts(100.0, since=since, caps=parked), TODAY)
    assert (due.limit, due.on, due.left) == ("finding", since + dt.timedelta(days=30), 20)
    over = due_by(plan, facts(600.0, since=since, caps=cap_occasions(500, 30, since, 600.0, use, TODAY)), TODAY)
    assert (over.state, over.used, over.left) == ("overdue", pytest.approx(1.2), -100)
    assert cap_occasions(None, None, since, 100.0, use, TODAY) == ()


def test_nothing_falls_due_before_the_change_from_which_it_is_counted():
    since = TODAY - dt.timedelta(days=200)
    slow = Ahead(Rate(0.5, 0.4, 0.6), TODAY)
    due = due_by(plan_for("axle", SheetInterval(40_000), PLAIN, HOUSE), facts(60_000, since=since, ahead=slow), TODAY)
    assert due.state == "overdue"
    assert since <= due.earliest <= due.on <= due.latest
