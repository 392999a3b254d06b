"""Visits against brute force over every partition and every day; days filled by the stated rule."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.due import visits
from barodex.core.due.visits import Task, VisitCosts, Wanted, best_day, fill_days, group_visits
from barodex.core.quantity.errors import Inconsistent, OutOfRange


def partitions(items):
    """Every way to split a list into groups."""
    if not items:
        yield []
        return
    head, *rest = items
    for split in partitions(rest):
        yield [[head], *split]
        for k in range(len(split)):
            yield [*split[:k], [head, *split[k]], *split[k + 1 :]]


def brute(tasks, costs):
    """The least cost over every partition, each group on its best of all days."""
    best = float("inf")
    for split in partitions(list(tasks)):
        total = 0.0
        for group in split:
            days = range(max(t.earliest for t in group), min(t.latest for t in group) + 1)
            if not days:
                total = float("inf")
                break
            total += min(sum(t.cost_on(d) for t in group) for d in days)
            total += (
                costs.visit + costs.oil * len({t.oil for t in group if t.oil}) + costs.access * len({t.access for t in group if t.access})
            )
        best = min(best, total)
    return best


@st.composite
def task(draw, key):
    earliest = draw(st.integers(-20, 40))
    due = earliest + draw(st.integers(0, 30))
    latest = draw(st.integers(earliest, due + 20))
    early, late = draw(st.sampled_from([0.0, 0.1, 0.5, 2.0])), draw(st.sampled_from([0.0, 0.3, 5.0]))
    return Task(key, earliest, due, latest, early, late, draw(st.sampled_from(["", "a", "b"])), draw(st.sampled_from(["", "tray"])))


tasks_of = st.integers(1, 6).flatmap(lambda n: st.tuples(*[task(f"t{k}") for k in range(n)]))
costs_of = st.builds(VisitCosts, st.sampled_from([0.0, 1.0, 4.0, 20.0]), st.sampled_from([0.0, 0.5]), st.sampled_from([0.0, 2.0]))


@settings(max_examples=150, deadline=None)
@given(tasks_of, costs_of)
def test_the_grouping_costs_what_brute_force_finds(tasks, costs):
    found = group_visits(tasks, costs)
    assert found.cost == pytest.approx(brute(tasks, costs), abs=1e-6)
    assert sorted(k for v in found.visits for k in v.keys) == sorted(t.key for t in tasks)
    by_key = {t.key: t for t in tasks}
    for v in found.visits:
        assert all(by_key[k].earliest <= v.day <= by_key[k].latest for k in v.keys)
    assert found.cost <= found.alone + 1e-9 or any(t.latest < t.due for t in tasks)


@settings(max_examples=25, deadline=None)
@given(tasks_of, costs_of)
def test_the_programme_for_many_tasks_finds_the_same_as_the_subsets(tasks, costs):
    whole = group_visits(tasks, costs).cost
    groups = visits._by_programme(tasks, costs)
    total = 0.0
    for group in groups:
        day = best_day(group)
        assert day is not None
        total += day[1] + visits._shared(group, costs)
    assert total == pytest.approx(whole, abs=1e-6)


def test_fifteen_compartments_are_grouped_by_the_programme():
    tasks = [Task(f"t{k}", k, k + 10, k + 40, 0.05, 1.0) for k in range(15)]
    found = group_visits(tasks, VisitCosts(5.0))
    assert len(found.visits) < 4
    assert sum(len(v.keys) for v in found.visits) == 15
    assert found.cost < found.alone


def test_windows_that_nest_are_not_merely_scanned_in_due_order():
    """A long window round a short one: due order would put the short one alone between them."""
    tasks = [Task("long", 0, 50, 60, 0.01), Task("short", 20, 22, 24, 1.0), Task("late", 45, 52, 60, 0.01)]
    found = group_visits(tasks, VisitCosts(3.0))
    assert {v.keys for v in found.visits} == {("short",), ("long", "late")} or {v.keys for v in found.visits} == {
        ("long", "short"),
        ("late",),
    }
    assert found.cost == pytest.approx(brute(tasks, VisitCosts(3.0)))


def test_a_shared_oil_and_an_access_draw_together():
    tasks = [Task("a", 0, 10, 30, 0.2, 0.2, "gl5", "tray"), Task("b", 0, 20, 30, 0.2, 0.2, "gl5", "tray")]
    assert len(group_visits(tasks, VisitCosts(1.0)).visits) == 2
    assert len(group_visits(tasks, VisitCosts(1.0, 1.0, 1.0)).visits) == 1


def test_nothing_due_is_no_visit():
    assert group_visits([], VisitCosts(1.0)).visits == ()


@pytest.mark.parametrize(
    ("call", "error"),
    [
        (lambda: group_visits([Task("a", 5, 3, 9, 1)], VisitCosts(1)), Inconsistent),
        (lambda: group_visits([Task("a", 5, 6, 4, 1)], VisitCosts(1)), Inconsistent),
        (lambda: group_visits([Task("a", 0, 1, 2, 1), Task("a", 0, 1, 2, 1)], VisitCosts(1)), Inconsistent),
        (lambda: group_visits([Task("a", 0, 1, 2, -1)], VisitCosts(1)), OutOfRange),
        (lambda: group_visits([Task("a", 0, 1, 2, 1)], VisitCosts(-1)), OutOfRange),
        (lambda: group_visits([Task(f"{k}", 0, 1, 2, 1) for k in range(61)], VisitCosts(1)), OutOfRange),
        (lambda: fill_days([Wanted("a", 1, 0, 3, 0)], {}, [8]), OutOfRange),
        (lambda: fill_days([], {}, [-1]), OutOfRange),
    ],
)
def test_what_cannot_be_is_refused(call, error):
    with pytest.raises(error):
        call()


# --- days ----------------------------------------------------------------------------------------------------------------


def test_days_fill_by_the_rule():
    wanted = [Wanted("a", 3, 0, 9, 5), Wanted("b", 3, 0, 4, 5), Wanted("c", 3, 3, 9, 5)]
    found = fill_days(wanted, {}, [8])
    assert found.days == {"b": 3, "a": 2, "c": 4}, "b must go first; a moves earlier; c may not, and moves later"


def test_closed_days_are_left_out_and_what_cannot_fit_is_said():
    closed = {0: [], 1: [0.0], 2: []}
    found = fill_days([Wanted("a", 1, 0, 2, 2), Wanted("b", 1, 0, 5, 2), Wanted("c", 1, 0, 30, 12)], closed, [8])
    assert found.days == {"b": 3}
    assert found.unfit["a"] == "No day within its window has room."
    assert found.unfit["c"] == "It takes 12 h; the longest day has 8 h."


@settings(max_examples=80, deadline=None)
@given(
    st.lists(st.tuples(st.integers(-5, 20), st.integers(0, 10), st.integers(0, 15), st.floats(0.5, 9)), max_size=12),
    st.dictionaries(st.integers(0, 20), st.just([]), max_size=6),
)
def test_no_day_is_filled_beyond_its_hours_and_every_visit_is_told_of(rows, closed):
    wanted = [Wanted(str(k), day, day - before, day + after, hours) for k, (day, before, after, hours) in enumerate(rows)]
    found = fill_days(wanted, closed, [8.0])
    assert set(found.days) | set(found.unfit) == {w.key for w in wanted}
    assert not set(found.days) & set(found.unfit)
    load: dict[int, float] = {}
    for w in wanted:
        if w.key in found.days:
            day = found.days[w.key]
            assert day >= max(0, w.earliest)
            assert day <= max(w.latest, max(0, w.earliest))
            load[day] = load.get(day, 0) + w.hours
    assert all(hours <= closed.get(day, 8.0) + 1e-6 for day, hours in load.items())


def test_a_visit_stands_whole_in_one_bay():
    wanted = [Wanted(k, 2, 2, 3, 5) for k in "abc"]
    found = fill_days(wanted, {}, [8, 8])  # 16 h would hold three of 5 h, two bays of 8 h hold two
    assert found.days == {"a": 2, "b": 2, "c": 3}
    assert found.bays == {"a": 0, "b": 1, "c": 0}
    taken = fill_days(wanted, {2: [1, 8]}, [8, 8])
    assert (taken.days["a"], taken.bays["a"]) == (2, 1)


def test_what_falls_due_together_is_no_saving():
    """Three due today at 0.75 h a visit and 0.1 h an oil, two oils: one visit of 0.95 h either way, not three of 0.85 (2.55 h)."""
    tasks = [Task(name, 0, 0, 14, 0.01, 0.1, oil) for name, oil in (("gearbox", "light"), ("front", "heavy"), ("rear", "heavy"))]
    found = group_visits(tasks, VisitCosts(0.75, 0.1))
    assert (found.alone_visits, found.alone) == (1, pytest.approx(0.95))
    assert found.cost == pytest.approx(0.95)
    apart = group_visits([*tasks, Task("chain", 0, 30, 44, 0.001, 0.1, "heavy")], VisitCosts(0.75, 0.1))
    assert apart.alone_visits == 2
    assert apart.alone == pytest.approx(0.95 + 0.85)
