"""Whatever is tried in whatever order: no drain opens with the engine running, nothing is driven or run while oil is out, nothing short is signed."""

import random

import pytest

from barodex.core.guide.purpose import Purpose
from barodex.core.quantity.errors import CoreError
from barodex.core.run.vehicle import forbidden, vehicle_state
from tests.core.guides import AUTOMATIC, BOX, CLUTCH_CASE, COUPLING, DUAL, TRUCK, Walk

CASES = {
    "an exchange": ((AUTOMATIC,), {"work": "exchange", "cycles": 2}),
    "two boxes": ((BOX, TRUCK), {}),
    "an automatic beside a gearbox": ((DUAL, BOX), {}),
    "measured, with resets": ((CLUTCH_CASE,), {}),
    "read with the engine off": ((COUPLING,), {}),
}


class Anyhow(Walk):
    """Tries steps as they come into somebody's head, and keeps what was taken in order."""

    def __init__(self, seed, sheets, job):
        super().__init__(*sheets, **job)
        self.random, self.taken = random.Random(seed), []

    def plain(self, step, **more):
        lengths = {f.name: 5.0 for f in step.fields if f.kind == "length" and f.required}
        return super().plain(step, **lengths, **more)

    def try_one(self):
        state = self.state
        opened = [s for s in self.made.steps if state.steps[s.id].status == "open"]
        step = self.random.choice(opened if self.random.random() < 0.8 and opened else list(self.made.steps))
        if forbidden(vehicle_state([(1, self.made, state)]), step, 1) is not None:
            return
        values = self.plain(step)
        if self.random.random() < 0.15:
            values = {k: v for k, v in values.items() if k != "ticked"}
        try:
            if step.kind == "pour":
                ledger = state.ledgers[step.compartment]
                left = (ledger.target_ml or 1000) - ledger.poured_ml
                if left > 1:
                    self.act(step.id, "add", volume_ml=left * self.random.choice((0.5, 1.0)))
            kind = "skip" if self.random.random() < 0.1 or step.kind == "timer" else "done"
            self.act(step.id, kind, **({"reason": "no time to wait here"} if kind == "skip" else values))
        except CoreError:
            return
        self.taken.append((step, kind))


def holds(walk):
    """What must hold at each step that was taken, by what was taken before it."""
    out, closed, running = set(), set(), set()
    for step, kind in walk.taken:
        where = step.compartment
        if step.purpose in (Purpose.RUNNING, Purpose.SWEEP):
            assert where not in out, f"{step.id}: the engine runs with the drain open"
            running.add(where)
        if step.purpose == Purpose.OFF:
            running.discard(where)
        if step.purpose == Purpose.DRAIN:
            assert where not in running, f"{step.id}: opened with the engine running"
            out.add(where)
        if step.purpose in (Purpose.SNUG, Purpose.SHUT):
            out.discard(where)
        if step.purpose == Purpose.CLOSE_FILL:
            closed.add(where)
        if step.purpose == Purpose.DRIVE and kind == "done":
            assert closed == {j.key for j in walk.made.jobs}, "driven with something open"
            assert not out, "driven with a drain open"
        if step.purpose == Purpose.SIGN:
            for job in walk.made.jobs:
                ledger = walk.state.ledgers[job.key]
                least = 0.5 * (job.sheet.capacity_ml or 0)
                assert ledger.poured_ml - ledger.run_out_ml >= least or any(s.startswith("pour") for s, _ in walk.state.gaps)


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("case", CASES)
def test_any_order(case, seed):
    sheets, job = CASES[case]
    walk = Anyhow(seed, sheets, job)
    for _ in range(120):
        walk.try_one()
        if walk.state.signed:
            break
    assert len(walk.taken) > 8  # it got somewhere
    holds(walk)


def test_one_of_them_ends_with_a_signature():
    walk = Anyhow(1, *CASES["measured, with resets"])
    for _ in range(160):
        walk.try_one()
        if walk.state.signed:
            break
    holds(walk)
    assert walk.state.signed
