"""The plan's speed figures: visits of a large fleet, grouped exactly, each vehicle by itself."""

from __future__ import annotations

import random
import time
from collections.abc import Callable

from barodex.core.visits import Task, VisitCosts, group_visits

Report = Callable[[str, float, float, str, str], None]


def tasks_of(pick: random.Random) -> list[Task]:
    """A vehicle's tasks as a year ahead has them: mostly one to five, now and then many."""
    count = pick.choice((1, 2, 3, 3, 4, 4, 5, 5, 6, 7))
    made = []
    for k in range(count):
        due = pick.randrange(0, 360)
        made.append(
            Task(f"t{k}", max(0, due - pick.randrange(10, 110)), due, due + 14, 0.002 + pick.random() / 200, 0.05, pick.choice("abc"))
        )
    return made


def run(report: Report) -> None:
    """Group the visits of 500 vehicles."""
    pick = random.Random(6)
    fleet = [tasks_of(pick) for _ in range(500)]
    began = time.perf_counter()
    visits = sum(len(group_visits(tasks, VisitCosts(0.75, 0.1)).visits) for tasks in fleet)
    taken = (time.perf_counter() - began) * 1000
    report("visits of 500 vehicles, optimal each", taken, 2000, "ms", f"{visits} visits for {sum(map(len, fleet))} tasks")
