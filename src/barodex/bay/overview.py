"""Which services are open, and where each stands."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from .models import Service, ServiceAct
from .queries import view


@dataclass(frozen=True)
class OpenService:
    """An open service in the tray and in the Bay's list, with its running timer if there is one; ``step`` is ``task`` with its compartment."""

    id: int
    vehicle: str
    compartments: tuple[str, ...]
    started_at: dt.datetime
    started_by: str
    step: str
    task: str
    done: int
    total: int
    timer_title: str
    timer_task: str
    timer_s: int
    timer_started: dt.datetime | None
    now: dt.datetime


REASONS_READ, REASONS_SHOWN = 300, 4  # acts with a reason that are looked through, the newest first; reasons offered of each kind


@dataclass(frozen=True)
class LastReasons:
    """Reasons as they were written last, the newest first: for a torque, for a step that was passed, for everything else."""

    torque: tuple[str, ...]
    passed: tuple[str, ...]
    other: tuple[str, ...]


def last_reasons() -> LastReasons:
    """What was written last as a reason, offered so that it need not be typed again."""
    found: dict[str, dict[str, None]] = {"torque": {}, "passed": {}, "other": {}}
    for kind, values in ServiceAct.objects.filter(values__has_key="reason").order_by("-id").values_list("kind", "values")[:REASONS_READ]:
        said = str(values.get("reason") or "").strip()
        if len(said) >= 4:
            found["torque" if "started_by_hand" in values else "passed" if kind == "skip" else "other"].setdefault(said)
    return LastReasons(*(tuple(texts)[:REASONS_SHOWN] for texts in found.values()))


def open_services() -> list[OpenService]:
    """Every open service, the latest first."""
    views = [view(pk) for pk in Service.objects.filter(state="open").values_list("pk", flat=True)]
    found = []
    for v in views:
        needed = [s for s in v.steps if s.required and s.status != "off"]
        current = next((s for s in v.steps if s.id == v.current), None)
        timer = next((s for s in v.steps if s.timer_started and not s.timer_stopped), None)
        found.append(
            OpenService(
                id=v.id,
                vehicle=v.vehicle,
                compartments=tuple(x.name for x in v.ledgers),
                started_at=v.started_at,
                started_by=v.started_by,
                step=current.title if current else "",
                task=current.task if current else "",
                done=sum(s.status in ("done", "skipped") for s in needed),
                total=len(needed),
                timer_title=timer.title if timer else "",
                timer_task=timer.task if timer else "",
                timer_s=timer.timer_s if timer else 0,
                timer_started=timer.timer_started if timer else None,
                now=v.now,
            )
        )
    return found
