"""The due of a compartment by a school: what it ran, what it hangs on, what a warranty holds back, and the working of it all."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, replace

from barodex.core.due.ahead import Ahead
from barodex.core.due.interval import LIMIT_WORDS, Due, Occasion, next_due
from barodex.core.due.policy import DUTY_WORDS
from barodex.core.due.schedule import SCHOOL_WORDS, OwnRule, Plan, SchedulePolicy, SheetInterval, plan_for
from barodex.core.due.season import Season, in_season, season_start
from barodex.core.quantity.errors import OutOfRange
from barodex.core.quantity.working import COMMON_PRACTICE, Working, grouped, percent
from barodex.core.words import say


@dataclass(frozen=True)
class Facts:
    """What is known of a compartment's oil: last change, what it ran since by duty, the use to come.

    ``legs`` in km or h as ``meter`` says, None without a reading; ``meter_now`` likewise. ``factor`` from the last finding;
    ``warranty_until`` a day; ``occasions`` that it hangs on; ``caps`` by when a finding wants it changed again.
    """

    meter: str
    since: dt.date | None
    legs: Mapping[str, float] | None
    split: Mapping[str, float]
    ahead: Ahead | None
    meter_now: float | None
    factor: float = 1.0
    warranty_until: dt.date | None = None
    occasions: tuple[Occasion, ...] = ()
    caps: tuple[Occasion, ...] = ()

    @property
    def shortened(self) -> bool:
        """Whether what was found says that the oil must not stay in for its whole interval, whatever school or warranty says."""
        return self.factor < 1 or bool(self.caps)


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
    OutOfRange, Inconsistent : as :func:`barodex.core.due.interval.next_due`

    References
    ----------
    As :func:`barodex.core.due.interval.next_due`.
    """
    by_km, limits = facts.meter == "km", plan.limits
    if by_km and facts.legs is None and limits.distance_km:
        limits = replace(limits, distance_km={})
    ahead, legs = facts.ahead, facts.legs
    return next_due(
        legs=legs or {} if by_km else {},
        hours=None if by_km else legs,
        since=facts.since,
        as_of=as_of,
        limits=limits,
        split=facts.split,
        ahead_km=ahead if by_km else None,
        ahead_h=None if by_km else ahead,
        meter_km=facts.meter_now if by_km else None,
        meter_h=None if by_km else facts.meter_now,
        factor=facts.factor,
        occasions=(*facts.occasions, *facts.caps),
    )


@dataclass(frozen=True)
class Schooled:
    """A due by the school that counts: the limits by which it was told, and whether a warranty holds it back until a day."""

    due: Due
    plan: Plan
    held_until: dt.date | None


def schooled_due(kind: str, sheet: SheetInterval, rule: OwnRule, policy: SchedulePolicy, facts: Facts, as_of: dt.date) -> Schooled:
    """Give the due by the school in force, under warranty by its maker's figure.

    Parameters
    ----------
    kind, sheet, rule, policy : as :func:`plan_for`
    facts : as :func:`due_by`, km or h
    as_of : today

    Returns
    -------
    Schooled. Under a warranty that is to be left closed, only its maker's own figure, and what a finding asks, fall due before it ends

    Raises
    ------
    OutOfRange, Inconsistent : as :func:`due_by`

    References
    ----------
    Common practice: under warranty it is left closed unless the sheet's own interval falls due.
    """
    plan = plan_for(kind, sheet, rule, policy, "", facts.factor < 1)
    due = due_by(plan, facts, as_of)
    until = facts.warranty_until
    holds = policy.warranty == "leave closed" and until is not None and until >= as_of and due.state != "unknown" and not facts.shortened
    if not holds or until is None or plan.school == "maker" or due.on is None or due.on > until:
        return Schooled(due, plan, None)
    by_maker = plan_for(kind, sheet, rule, policy, "maker")
    strict = due_by(by_maker, replace(facts, occasions=()), as_of)
    if strict.on is not None and strict.on <= until and not sheet.silent:
        return Schooled(strict, replace(by_maker, basis=f"{by_maker.basis}, under warranty"), None)
    held = until + dt.timedelta(days=1)
    left = (held - as_of).days
    state = "due" if left <= 7 else "soon" if left <= 30 else "fine"
    used = min(due.used, 0.97 if left > 7 else 1.0)
    shown = Due(state=state, limit="warranty", used=used, on=held, earliest=held, latest=held, left=float(left), at_km=None, at_h=None)
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
    if policy.warranty != "leave closed" or until is None or until < as_of or facts.since is None or facts.shortened:
        return ""
    if sheet.for_life and sheet.silent:
        why = say("its maker never asks for a change")
    elif sheet.silent:
        why = say("its sheet names no interval of its maker")
    else:
        due = due_by(plan_for(kind, sheet, OwnRule(), policy, "maker"), replace(facts, occasions=()), as_of)
        if due.state != "fine":
            return ""
        why = (
            say("its maker's figure falls due {due_on}", due_on=f"{due.on:%d %b %Y}")
            if due.on
            else say("its maker's figure is not reached")
        )
    return say("Under warranty until {until}: {why}.", until=f"{until:%d %b %Y}", why=why)


def linked_occasions(
    rule: OwnRule, since: dt.date | None, season: Season | None, engine: Due | None, as_of: dt.date
) -> tuple[Occasion, ...]:
    """Give the occasions that a compartment hangs on.

    Parameters
    ----------
    rule : says which
    since : last change; None when unknown
    season : when the machine runs; None for all year
    engine : when the engine's oil falls due; None when that is not known
    as_of : today

    Returns
    -------
    tuple of Occasion. Before the season: a change made out of season serves the season ahead, one made in season ends with it

    References
    ----------
    Common practice: the chain case each season, the marine gearbox with the engine oil.
    """
    if since is None or not rule.linked:
        return ()
    if rule.linked == "engine oil":
        if engine is None or engine.on is None:
            return ()
        return (Occasion("engine oil", engine.used, engine.on, engine.earliest or engine.on, engine.latest or engine.on),)
    if season is None:
        return ()
    start = season_start(season, since)
    if not in_season(season, since):
        start = season_start(season, start)
    return (Occasion("season", (as_of - since).days / max(1, (start - since).days), start, start, start),)


def cap_occasions(
    run_cap: float | None, day_cap: int | None, since: dt.date, run: float | None, ahead: Ahead | None, as_of: dt.date
) -> tuple[Occasion, ...]:
    """Give the occasions by which a finding wants the oil changed again: by the meter and by the day, whichever comes first.

    Parameters
    ----------
    run_cap : km or h from the change on; None: not by the meter
    day_cap : days from the change on; None: not by the day
    since : last change
    run : run since, km or h; None when not known
    ahead : use to come; None when not known
    as_of : today

    Returns
    -------
    tuple of Occasion, limit ``finding`` by the day and ``finding-run`` by the meter

    References
    ----------
    :data:`barodex.core.findings.debris.MILKY_CAP`, common practice.
    """
    found = []
    if day_cap is not None:
        on = since + dt.timedelta(days=day_cap)
        found.append(Occasion("finding", (as_of - since).days / max(1, day_cap), on, on, on))
    if run_cap is not None and run is not None:
        left = run_cap - run
        early, on_meter, late = (None, None, None) if ahead is None else ahead.date_at(ahead.run_by(as_of) + left)
        if left <= 0:
            early = on_meter = late = on_meter or as_of
        if on_meter is not None:
            found.append(Occasion("finding-run", run / run_cap, on_meter, early or on_meter, late or on_meter, left))
    return tuple(found)


def counter_occasion(used: float, read_on: dt.date, since: dt.date | None, as_of: dt.date) -> Occasion | None:
    """Give the day on which a vehicle's own oil-life counter runs out, at its pace since the last change.

    Parameters
    ----------
    used : share of life that the counter says is used, 0 to 2
    read_on : day of reading
    since : last change; None when unknown
    as_of : today

    Returns
    -------
    Occasion; None when it was read before the last change, or says nothing yet

    Raises
    ------
    OutOfRange : a share outside 0 to 2

    References
    ----------
    Proportion; ±20 % on the pace, common practice.
    """
    if not 0 <= used <= 2:
        raise OutOfRange(say("{used} used: a counter says 0 to 200 %.", used=percent(used)), field="used", value=used, allowed="0 to 200 %")
    if since is None or read_on <= since or used <= 0:
        return None
    per_day = used / (read_on - since).days

    def at(pace: float) -> dt.date:
        return read_on + dt.timedelta(days=round(min(36_500.0, max(-36_500.0, (1 - used) / pace))))

    return Occasion("counter", used + per_day * (as_of - read_on).days, at(per_day), at(per_day * 1.2), at(per_day * 0.8))


def life_working(plan: Plan, facts: Facts, as_of: dt.date, due: Due | None = None) -> Working:
    """Give the working of a compartment's oil life.

    Parameters
    ----------
    plan : whose limits, km, h, months
    facts : what it ran since, km or h
    as_of : today
    due : as it was told, for the limit that decides

    Returns
    -------
    Working

    References
    ----------
    As :func:`barodex.core.due.interval.life_used`.
    """
    limits, unit = plan.limits, facts.meter
    inputs: list[tuple[str, str]] = [("school", f"{SCHOOL_WORDS[plan.school]}; {plan.basis}")]
    inputs += [("step", step) for step in plan.steps]
    if facts.since is not None:
        inputs.append(
            ("last change", say("{since}, {days} days ago", since=f"{facts.since:%d %b %Y}", days=grouped((as_of - facts.since).days)))
        )
    for duty, leg in (facts.legs or {}).items():
        if leg < 0.05:
            continue
        interval = (limits.of_duty(duty) if limits.distance_km else 0.0) if unit == "km" else limits.hours_of(duty)
        of = (
            say(" of {interval} {unit} = {percent}", interval=grouped(interval), unit=unit, percent=percent(leg / interval / facts.factor))
            if interval
            else say(", no limit by it")
        )
        inputs.append((DUTY_WORDS.get(duty, duty), f"{grouped(leg)} {unit}{of}"))
    if limits.months is not None:
        inputs.append(("time", say("{months} months", months=limits.months)))
    if facts.factor < 1:
        inputs.append(("finding", say("the interval counts {factor} after what the last change showed", factor=percent(facts.factor))))
    for occasion in (*facts.occasions, *facts.caps):
        inputs.append((occasion.limit, f"{occasion.on:%d %b %Y}"))
    if due is not None and due.on is not None:
        inputs.append(("decides", f"{LIMIT_WORDS.get(due.limit, due.limit)}: {due.on:%d %b %Y}"))
    if facts.ahead is not None:
        r = facts.ahead.rate
        inputs.append(
            (
                "use",
                say(
                    "{per_day:.1f} {unit} a day ({low:.1f} to {high:.1f}, P10 to P90), from {since}",
                    per_day=r.per_day,
                    unit=unit,
                    low=r.low,
                    high=r.high,
                    since=f"{facts.ahead.since:%d %b %Y}",
                ),
            )
        )
    return Working(
        "life = the largest of: Σ leg / interval by duty, days / days of the interval, linked events",
        tuple(inputs),
        f"linear damage: Palmgren 1924, Miner 1945; intervals where the sheet is silent, factors: {COMMON_PRACTICE}",
    )
