"""Everything that is kept in memory between requests, and what makes each stale. A test compares every kept answer with a fresh one."""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

KEPT = {
    "board": "the board of Due: a vehicle or the policy moves, or the day changes",
    "horizon": "the horizon: anything moves, or the day changes",
    "visits": "visits of one vehicle, by their tasks and costs: never, the same tasks give the same visits",
    "looks": "what the records of a sheet's compartments say: one is written, voided or corrected, one of them renamed, the shelf or the policy moves",
    "words": "every word by which something of the book is called: anything moves, or somebody is added",
    "trend": "the trend of a compartment: its vehicle or one with a sister box, the shelf or the policy moves, or the day changes",
    "refusal": "why an oil was wrong by a revision: the shelf or the policy moves",
    "jobs": "the jobs of a service: never, they stay as they were at its start",
    "guide": "the guide of a service: never, it is kept with the service",
    "acts": "the acts of a service: acts are only added, and what is newer than those kept is read each time",
    "photos": "the photos of a service: its photo version is raised",
}


@dataclass(frozen=True)
class Memory:
    """Something kept: its name in :data:`KEPT`, and how to forget it."""

    name: str
    forget: Callable[[], None]


_memories: dict[str, Memory] = {}


def register(name: str, forget: Callable[[], None]) -> None:
    """Say that something is kept under a name of :data:`KEPT`; each name once."""
    if name not in KEPT:
        raise ValueError(f"“{name}” is not in the list of what is kept.")
    if name in _memories:
        raise ValueError(f"“{name}” is kept already.")
    _memories[name] = Memory(name, forget)


def keep(name: str, most: int) -> Callable[[Callable[..., Any]], Any]:
    """Keep the latest results of a function; its arguments carry the versions that make them stale."""

    def around(function: Callable[..., Any]) -> Any:
        kept = functools.lru_cache(maxsize=most)(function)
        register(name, kept.cache_clear)
        return kept

    return around


def kept_names() -> frozenset[str]:
    """What is kept in this process."""
    return frozenset(_memories)


def forget_all() -> None:
    """Begin afresh, as a process that has just started."""
    for memory in _memories.values():
        memory.forget()
