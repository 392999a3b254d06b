"""The schools of scheduling: the maker's figure as printed, or shortened by severe duty and load, with a cap on "filled for life"."""

from __future__ import annotations

import datetime as dt
import functools
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

from .errors import Inconsistent, in_range
from .interval import Ahead, Due, Event, Limits, next_due
from .policy import DUTY_WORDS, IntervalDefault, default_interval
from .season import Season, in_season, season_start
from .working import COMMON_PRACTICE, Working, grouped, percent

LINKS = ("", "engine oil", "season")
SCHOOLS = ("preventive", "maker")
SCHEDULE_SWITCHES: dict[str, tuple[str, ...]] = {
    "school": SCHOOLS,
    "severe": ("shorten", "as printed"),
    "load": ("shorten", "as printed"),
    "warranty": ("leave closed", "as usual"),
}
SCHOOL_WORDS = {"maker": "the maker's figure", "preventive": "preventive"}
LOAD_FREE, LOAD_LEAST = 0.75, 0.55  # engine torque over the rating up to which nothing is shortened; the factor at the rating
STATES = ("fine", "soon", "due", "overdue")


@dataclass(frozen=True)
class SchedulePolicy:
    """The workshop's school: whose interval, and whether severe duty, load near the rating and a warranty change it."""

    school: str = "preventive"
    severe: str = "shorten"
    load: str = "shorten"
    warranty: str = "leave closed"


@dataclass(frozen=True)
class SheetInterval:
    """What a sheet says: km, h, months, each None where silent; ``for_life`` when its maker never asks for a change."""

    distance_km: float | None = None
    hours: float | None = None
    months: int | None = None
    for_life: bool = False

    @property
    def silent(self) -> bool:
        return self.distance_km is None and self.hours is None and self.months is None


@dataclass(frozen=True)
class Rule:
    """What the workshop has set for one compartment; empty and None: as the policy and the sheet say.

    ``load_share``: engine torque over the box's rating; ``severe_factor``: of the interval at every severe duty; ``linked``:
    the event that it goes with; an interval of its own takes the sheet's place.
    """

    school: str = ""
    interval: SheetInterval | None = None
    load_share: float | None = None
    severe_factor: float | None = None
    linked: str = ""


@dataclass(frozen=True)
class Plan:
    """The limits by which a compartment is judged, whose they are in words, and each step that led there."""

    school: str
    limits: Limits
    basis: str
    steps: tuple[str, ...]


def check_schedule(policy: SchedulePolicy) -> None:
    """Refuse a policy with a switch that does not exist.

    Parameters
    ----------
    policy : the policy

    Raises
    ------
    Inconsistent : a value that is none of its switch's

    References
    ----------
    :data:`SCHEDULE_SWITCHES`.
    """
    for f in fields(policy):
        value, allowed = getattr(policy, f.name), SCHEDULE_SWITCHES[f.name]
        if value not in allowed:
            raise Inconsistent(f"{f.name} is one of: {', '.join(allowed)}.", field=f.name, value=value, allowed=", ".join(allowed))


def check_rule(rule: Rule) -> None:
    """Refuse a rule that cannot be.

    Parameters
    ----------
    rule : what is set for one compartment; intervals in km, h, months

    Raises
    ------
    OutOfRange : an interval of zero, a share or factor outside its range
    Inconsistent : an unknown school or link

    References
    ----------
    The ranges of this module.
    """
    if rule.school and rule.school not in SCHOOLS:
        raise Inconsistent(f"A school is one of: {', '.join(SCHOOLS)}.", field="school", value=rule.school, allowed=", ".join(SCHOOLS))
    if rule.linked not in LINKS:
        raise Inconsistent(f"It goes with one of: {', '.join(LINKS[1:])}.", field="linked", value=rule.linked)
    if rule.load_share is not None:
        load_factor(rule.load_share)
    if rule.severe_factor is not None:
        in_range("severe_factor", rule.severe_factor, 0.05, 1.0)
    if rule.interval is not None:
        for name, value, least, most in (
            ("distance_km", rule.interval.distance_km, 100, 1_000_000),
            ("hours", rule.interval.hours, 1, 20_000),
            ("months", rule.interval.months, 1, 240),
        ):
            if value is not None:
                in_range(name, value, least, most)


def load_factor(share: float) -> float:
    """Give what is left of an interval when the engine's torque comes near the box's rating.

    Parameters
    ----------
    share : engine torque over the rating, 0 to 1

    Returns
    -------
    float, 1 up to 0.75, falling in a straight line to 0.55 at 1

    Raises
    ------
    OutOfRange : outside 0 to 1: above its rating a box is not a matter of intervals

    References
    ----------
    Common practice: torque near the rating halves the life of the oil, by degrees.
    """
    in_range("load_share", share, 0, 1)
    if share <= LOAD_FREE:
        return 1.0
    return 1.0 - (share - LOAD_FREE) / (1 - LOAD_FREE) * (1 - LOAD_LEAST)


@functools.lru_cache(maxsize=8192)
def plan_for(kind: str, sheet: SheetInterval, rule: Rule, policy: SchedulePolicy, school: str = "") -> Plan:
    """Give the limits of a compartment by a school.

    Parameters
    ----------
    kind : compartment kind
    sheet : what its sheet says, km, h, months
    rule : what is set for this one
    policy : the workshop's
    school : asks one school whatever rule and policy say

    Returns
    -------
    Plan. The maker's school takes the figure as printed and never changes what is filled for life; the preventive one shortens
    it for severe duty and load, and caps what is filled for life at the interval of its kind

    Raises
    ------
    Inconsistent : an unknown kind or school

    References
    ----------
    :data:`barodex.core.policy.INTERVALS`, common practice.
    """
    row = default_interval(kind)
    chosen = school or rule.school or policy.school
    if chosen not in SCHOOLS:
        raise Inconsistent(f"A school is one of: {', '.join(SCHOOLS)}.", field="school", value=chosen)
    interval, whose = (sheet, "the sheet") if rule.interval is None or school == "maker" else (rule.interval, "set for this one")
    steps = []
    if interval.for_life and interval.silent:
        if chosen == "maker":
            return Plan(chosen, Limits({}), "the sheet: filled for life", ("filled for life: its maker never asks for a change",))
        interval, whose = _of(row), "preventive cap: filled for life by its maker"
        steps.append("filled for life: capped at the interval of its kind, common practice")
    elif interval.silent:
        interval, whose = _of(row), "common practice: the sheet is silent"
        steps.append("the sheet is silent: the interval of its kind, common practice")
    if chosen == "maker":
        flat = {} if interval.distance_km is None else {"road": interval.distance_km}
        return Plan(chosen, Limits(flat, interval.hours, interval.months), whose, tuple(steps))
    factors = _severe(row, rule, policy)
    if policy.load == "shorten" and rule.load_share is not None and (load := load_factor(rule.load_share)) < 1:
        steps.append(f"{percent(rule.load_share)} of its rated torque: {percent(load)} of the interval")
        interval = replace(
            interval,
            distance_km=interval.distance_km and interval.distance_km * load,
            hours=interval.hours and interval.hours * load,
            months=interval.months and max(1, round(interval.months * load)),
        )
        whose += ", shortened for load"
    by_duty = {} if interval.distance_km is None else {"road": interval.distance_km}
    if interval.distance_km is not None:
        by_duty |= {d: interval.distance_km * f for d, f in factors.items()}
    return Plan(chosen, Limits(by_duty, interval.hours, interval.months, factors), whose, tuple(steps))


def _of(row: IntervalDefault) -> SheetInterval:
    return SheetInterval(row.distance_km, row.hours, row.months)


def _severe(row: IntervalDefault, rule: Rule, policy: SchedulePolicy) -> Mapping[str, float]:
    if policy.severe != "shorten":
        return {}
    if rule.severe_factor is not None:
        return dict.fromkeys(row.factors, rule.severe_factor)
    return row.factors


@dataclass(frozen=True)
class Facts:
    """What is known of a compartment's oil: last change, what it ran since by duty, the use to come.

    ``legs`` in km or h as ``meter`` says, None without a reading; ``meter_now`` likewise. ``factor`` from the last finding;
    ``warranty_until`` a day; ``events`` that it hangs on.
    """

    meter: str
    since: dt.date | None
    legs: Mapping[str, float] | None
    split: Mapping[str, float]
    ahead: Ahead | None
    meter_now: float | None
    factor: float = 1.0
    warranty_until: dt.date | None = None
    events: tuple[Event, ...] = ()


def due_by(plan: Plan, facts: Facts, as_of: dt.date) -> Due:
    """Give the next due of a compartment by a plan.

    Parameters
    ----------
    plan : whose limits
    facts : last change, what it ran since (km or h), use to come
    as_of : today

    Returns
    -------
    Due

    Raises
    ------
    OutOfRange, Inconsistent : as :func:`barodex.core.interval.next_due`

    References
    ----------
    As :func:`barodex.core.interval.next_due`.
    """
    by_km, limits = facts.meter == "km", plan.limits
    if by_km and facts.legs is None and limits.distance_km:
        limits = replace(limits, distance_km={})
    ahead, legs = facts.ahead, facts.legs
    return next_due(
        legs or {} if by_km else {},
        None if by_km else legs,
        facts.since,
        as_of,
        limits,
        facts.split,
        ahead if by_km else None,
        None if by_km else ahead,
        facts.meter_now if by_km else None,
        None if by_km else facts.meter_now,
        facts.factor,
        facts.events,
    )


@dataclass(frozen=True)
class Schooled:
    """A due by the school that counts: the limits by which it was told, and whether a warranty holds it back until a day."""

    due: Due
    plan: Plan
    held_until: dt.date | None


def schooled_due(kind: str, sheet: SheetInterval, rule: Rule, policy: SchedulePolicy, facts: Facts, as_of: dt.date) -> Schooled:
    """Give the due by the school in force, under warranty by its maker's figure.

    Parameters
    ----------
    kind, sheet, rule, policy : as :func:`plan_for`
    facts : as :func:`due_by`, km or h
    as_of : today

    Returns
    -------
    Schooled. Under a warranty that is to be left closed, only its maker's own figure falls due before the warranty ends

    Raises
    ------
    OutOfRange, Inconsistent : as :func:`due_by`

    References
    ----------
    Common practice: under warranty it is left closed unless the sheet's own interval falls due.
    """
    plan = plan_for(kind, sheet, rule, policy)
    due = due_by(plan, facts, as_of)
    until = facts.warranty_until
    holds = policy.warranty == "leave closed" and until is not None and until >= as_of and due.state != "unknown"
    if not holds or until is None or plan.school == "maker" or due.on is None or due.on > until:
        return Schooled(due, plan, None)
    by_maker = plan_for(kind, sheet, rule, policy, "maker")
    strict = due_by(by_maker, replace(facts, events=()), as_of)
    if strict.on is not None and strict.on <= until and not sheet.silent:
        return Schooled(strict, replace(by_maker, basis=f"{by_maker.basis}, under warranty"), None)
    held = until + dt.timedelta(days=1)
    left = (held - as_of).days
    state = "due" if left <= 7 else "soon" if left <= 30 else "fine"
    used = min(due.used, 0.97 if left > 7 else 1.0)
    shown = Due(state, "warranty", used, held, held, held, float(left), None, None)
    return Schooled(shown, replace(plan, basis=f"{plan.basis}; left closed under warranty"), until)


def warranty_hold(kind: str, sheet: SheetInterval, policy: SchedulePolicy, facts: Facts, as_of: dt.date) -> str:
    """Say why a compartment under warranty is better left closed.

    Parameters
    ----------
    kind, sheet, policy : as :func:`plan_for`
    facts : as :func:`due_by`, km or h
    as_of : today

    Returns
    -------
    str; empty without a warranty, without any record, where the policy does not hold it, and where its maker's own figure falls due

    References
    ----------
    Common practice: under warranty it is left closed unless the sheet's own interval falls due.
    """
    until = facts.warranty_until
    if policy.warranty != "leave closed" or until is None or until < as_of or facts.since is None:
        return ""
    if sheet.for_life and sheet.silent:
        why = "its maker never asks for a change"
    elif sheet.silent:
        why = "its sheet names no interval of its maker"
    else:
        due = due_by(plan_for(kind, sheet, Rule(), policy, "maker"), replace(facts, events=()), as_of)
        if due.state != "fine":
            return ""
        why = f"its maker's figure falls due {due.on:%d %b %Y}" if due.on else "its maker's figure is not reached"
    return f"Under warranty until {until:%d %b %Y}: {why}."


def linked_events(rule: Rule, since: dt.date | None, season: Season | None, engine: Due | None, as_of: dt.date) -> tuple[Event, ...]:
    """Give the events that a compartment hangs on.

    Parameters
    ----------
    rule : says which
    since : last change; None when unknown
    season : when the machine runs; None for all year
    engine : when the engine's oil falls due; None when that is not known
    as_of : today

    Returns
    -------
    tuple of Event. Before the season: a change made out of season serves the season ahead, one made in season ends with it

    References
    ----------
    Common practice: the chain case each season, the marine gearbox with the engine oil.
    """
    if since is None or not rule.linked:
        return ()
    if rule.linked == "engine oil":
        if engine is None or engine.on is None:
            return ()
        return (Event("engine oil", engine.used, engine.on, engine.earliest or engine.on, engine.latest or engine.on),)
    if season is None:
        return ()
    start = season_start(season, since)
    if not in_season(season, since):
        start = season_start(season, start)
    return (Event("season", (as_of - since).days / max(1, (start - since).days), start, start, start),)


def counter_event(used: float, read_on: dt.date, since: dt.date | None, as_of: dt.date) -> Event | None:
    """Give the day on which a vehicle's own oil-life counter runs out, at its pace since the last change.

    Parameters
    ----------
    used : share of life that the counter says is used, 0 to 2
    read_on : day of reading
    since : last change; None when unknown
    as_of : today

    Returns
    -------
    Event; None when it was read before the last change, or says nothing yet

    Raises
    ------
    OutOfRange : a share outside 0 to 2

    References
    ----------
    Proportion; ±20 % on the pace, common practice.
    """
    in_range("used", used, 0, 2)
    if since is None or read_on <= since or used <= 0:
        return None
    per_day = used / (read_on - since).days

    def at(pace: float) -> dt.date:
        return read_on + dt.timedelta(days=round(min(36_500.0, max(-36_500.0, (1 - used) / pace))))

    return Event("counter", used + per_day * (as_of - read_on).days, at(per_day), at(per_day * 1.2), at(per_day * 0.8))


def life_working(plan: Plan, facts: Facts, as_of: dt.date) -> Working:
    """Give the working of a compartment's oil life.

    Parameters
    ----------
    plan : whose limits, km, h, months
    facts : what it ran since, km or h
    as_of : today

    Returns
    -------
    Working

    References
    ----------
    As :func:`barodex.core.interval.life_used`.
    """
    limits, unit = plan.limits, facts.meter
    inputs: list[tuple[str, str]] = [("school", f"{SCHOOL_WORDS[plan.school]}; {plan.basis}")]
    inputs += [("step", step) for step in plan.steps]
    if facts.since is not None:
        inputs.append(("last change", f"{facts.since:%d %b %Y}, {grouped((as_of - facts.since).days)} days ago"))
    for duty, leg in (facts.legs or {}).items():
        if leg < 0.05:
            continue
        interval = (limits.of_duty(duty) if limits.distance_km else 0.0) if unit == "km" else limits.hours_of(duty)
        of = f" of {grouped(interval)} {unit} = {percent(leg / interval / facts.factor)}" if interval else ", no limit by it"
        inputs.append((DUTY_WORDS.get(duty, duty), f"{grouped(leg)} {unit}{of}"))
    if limits.months is not None:
        inputs.append(("time", f"{limits.months} months"))
    if facts.factor < 1:
        inputs.append(("finding", f"the interval counts {percent(facts.factor)} after what the last change showed"))
    for event in facts.events:
        inputs.append((event.limit, f"{event.on:%d %b %Y}"))
    if facts.ahead is not None:
        r = facts.ahead.rate
        inputs.append(("use", f"{r.per_day:.1f} {unit} a day ({r.low:.1f} to {r.high:.1f}, P10 to P90), from {facts.ahead.since:%d %b %Y}"))
    return Working(
        "life = the largest of: Σ leg / interval by duty, days / days of the interval, linked events",
        tuple(inputs),
        f"linear damage: Palmgren 1924, Miner 1945; intervals where the sheet is silent, factors: {COMMON_PRACTICE}",
    )
