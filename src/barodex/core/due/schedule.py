"""The schools of scheduling: the maker's figure as printed, or shortened by severe duty and load, with a cap on "filled for life"."""

from __future__ import annotations

import functools
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

from barodex.core.due.interval import Limits
from barodex.core.kinds.kind import Kind, kind_of
from barodex.core.quantity.errors import Inconsistent, OutOfRange, in_range
from barodex.core.quantity.working import percent
from barodex.core.words import say

LINKS = ("", "engine oil", "season")
SCHEDULE_SCHOOLS = ("preventive", "maker")
SCHEDULE_SWITCHES: dict[str, tuple[str, ...]] = {
    "school": SCHEDULE_SCHOOLS,
    "severe": ("shorten", "as printed"),
    "load": ("shorten", "as printed"),
    "warranty": ("leave closed", "as usual"),
}
SCHOOL_WORDS = {"maker": say("the maker's figure"), "preventive": "preventive"}
LOAD_FREE, LOAD_LEAST = 0.75, 0.55  # engine torque over the rating up to which nothing is shortened; the factor at the rating


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
class OwnRule:
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
            raise Inconsistent(
                say("{f} is one of: {allowed}.", f=f.name, allowed=", ".join(allowed)),
                field=f.name,
                value=value,
                allowed=", ".join(allowed),
            )


def check_rule(rule: OwnRule) -> None:
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
    if rule.school and rule.school not in SCHEDULE_SCHOOLS:
        raise Inconsistent(
            say("A school is one of: {schedule_schools}.", schedule_schools=", ".join(SCHEDULE_SCHOOLS)),
            field="school",
            value=rule.school,
            allowed=", ".join(SCHEDULE_SCHOOLS),
        )
    if rule.linked not in LINKS:
        raise Inconsistent(say("It goes with one of: {links}.", links=", ".join(LINKS[1:])), field="linked", value=rule.linked)
    if rule.load_share is not None:
        load_factor(rule.load_share)
    if rule.severe_factor is not None and not 0.05 <= rule.severe_factor <= 1.0:
        text = say("{severe_factor} of the interval: it counts 5 to 100 %.", severe_factor=percent(rule.severe_factor))
        raise OutOfRange(text, field="severe_factor", value=rule.severe_factor, allowed="5 to 100 %")
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
    if not 0 <= share <= 1:
        raise OutOfRange(
            say("{share} of its rated torque: above its rating a box is no matter of intervals, ask its maker.", share=percent(share)),
            field="load_share",
            value=share,
            allowed="0 to 100 %",
        )
    if share <= LOAD_FREE:
        return 1.0
    return 1.0 - (share - LOAD_FREE) / (1 - LOAD_FREE) * (1 - LOAD_LEAST)


@functools.lru_cache(maxsize=8192)
def plan_for(kind: str, sheet: SheetInterval, rule: OwnRule, policy: SchedulePolicy, school: str = "", shortened: bool = False) -> Plan:
    """Give the limits of a compartment by a school.

    Parameters
    ----------
    kind : compartment kind
    sheet : what its sheet says, km, h, months
    rule : what is set for this one
    policy : the workshop's
    school : asks one school whatever rule and policy say, its figure uncut
    shortened : a finding shortens the interval: then "filled for life" is no answer, and the interval of its kind is what is shortened

    Returns
    -------
    Plan. The maker's school takes the figure as printed and never changes what is filled for life; the preventive one shortens
    it for severe duty and load, and caps what is filled for life at the interval of its kind. Where no time is stated, the time of its
    kind is the cap of a distance in either school: oil ages standing

    Raises
    ------
    Inconsistent : an unknown kind or school

    References
    ----------
    :data:`barodex.core.kinds.kind.KIND_TABLE`, common practice.
    """
    row = kind_of(kind)
    chosen = school or rule.school or policy.school
    if chosen not in SCHEDULE_SCHOOLS:
        raise Inconsistent(
            say("A school is one of: {schedule_schools}.", schedule_schools=", ".join(SCHEDULE_SCHOOLS)), field="school", value=chosen
        )
    interval, whose = (sheet, "the sheet") if rule.interval is None or school == "maker" else (rule.interval, say("set for this one"))
    steps = []
    if interval.for_life and interval.silent:
        if chosen == "maker" and not shortened:
            return Plan(chosen, Limits({}), say("the sheet: filled for life"), (say("filled for life: its maker never asks for a change"),))
        if chosen == "maker":
            interval, whose = _of(row), say("filled for life by its maker, but a finding shortens it")
            steps.append(say("filled for life, and a finding shortens it: counted from the interval of its kind, common practice"))
        else:
            interval, whose = _of(row), say("preventive cap: filled for life by its maker")
            steps.append(say("filled for life: capped at the interval of its kind, common practice"))
    elif interval.silent:
        interval, whose = _of(row), say("common practice: the sheet is silent")
        steps.append(say("the sheet is silent: the interval of its kind, common practice"))
    if interval.months is None and interval.distance_km is not None and row.months is not None and school != "maker":
        interval = replace(interval, months=row.months)
        steps.append(say("no time is stated: {months} months at the most, common practice", months=row.months))
    if chosen == "maker":
        flat = {} if interval.distance_km is None else {"road": interval.distance_km}
        return Plan(chosen, Limits(flat, interval.hours, interval.months), whose, tuple(steps))
    factors = _severe(row, rule, policy)
    if policy.load == "shorten" and rule.load_share is not None and (load := load_factor(rule.load_share)) < 1:
        steps.append(
            say("{load_share} of its rated torque: {load} of the interval", load_share=percent(rule.load_share), load=percent(load))
        )
        interval = replace(
            interval,
            distance_km=interval.distance_km and interval.distance_km * load,
            hours=interval.hours and interval.hours * load,
            months=interval.months and max(1, round(interval.months * load)),
        )
        whose += say(", shortened for load")
    by_duty = {} if interval.distance_km is None else {"road": interval.distance_km}
    if interval.distance_km is not None:
        by_duty |= {d: interval.distance_km * f for d, f in factors.items()}
    return Plan(chosen, Limits(by_duty, interval.hours, interval.months, factors), whose, tuple(steps))


def _of(row: Kind) -> SheetInterval:
    return SheetInterval(row.distance_km, row.hours, row.months)


def _severe(row: Kind, rule: OwnRule, policy: SchedulePolicy) -> Mapping[str, float]:
    if policy.severe != "shorten":
        return {}
    if rule.severe_factor is not None:
        return dict.fromkeys(row.factors, rule.severe_factor)
    return row.factors
