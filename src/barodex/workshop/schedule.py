"""The school of scheduling that the workshop has set."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields

from barodex.accounts.since import version_of
from barodex.core.due.schedule import SCHEDULE_SWITCHES, SchedulePolicy
from barodex.core.words import say
from barodex.workshop.models import ScheduleRevision
from barodex.workshop.policy import PolicyChange, Switch

QUESTIONS = {
    "school": "Intervals",
    "severe": say("Off-road, towing, track, wading, load"),
    "load": say("Engine torque near the box's rating"),
    "warranty": "Under warranty",
}


@dataclass(frozen=True)
class ScheduleView:
    """The school in force, what may be chosen, and its changes, the latest first."""

    schedule: SchedulePolicy
    switches: tuple[Switch, ...]
    history: tuple[PolicyChange, ...]
    version: int


def schedule_policy() -> SchedulePolicy:
    """The school in force; the core's first values where the workshop has not spoken."""
    newest = ScheduleRevision.objects.order_by("-id").first()
    known = {f.name for f in fields(SchedulePolicy)}
    return SchedulePolicy(**{k: v for k, v in newest.schedule.items() if k in known}) if newest else SchedulePolicy()


def schedule_view() -> ScheduleView:
    """The schools as the page shows them."""
    switches = tuple(Switch(name, QUESTIONS[name], options) for name, options in SCHEDULE_SWITCHES.items())
    rows = ScheduleRevision.objects.select_related("by").order_by("-id")[:20]
    policy, history = schedule_policy(), tuple(PolicyChange(r.at, r.by.shown_name, r.why) for r in rows)
    return ScheduleView(policy, switches, history, version_of(asdict(policy)))
