"""Findings at the very edge of their class. Common practice, as the table has it."""

from __future__ import annotations

import pytest

from barodex.core.findings.debris import assess
from barodex.core.findings.finding import DebrisContext, Finding, Particle


def level_by(rule, finding, kind="manual gearbox"):
    judged = assess(finding, DebrisContext(kind, 20_000.0))
    return {r.rule: r.level for r in judged.reasons}.get(rule)


@pytest.mark.parametrize(
    ("size_mm", "count", "rule", "level"), [(1.9, 3, "slivers-few", 2), (2.0, 1, "slivers", 3), (1.0, 4, "slivers", 3)]
)
def test_slivers(size_mm, count, rule, level):
    finding = Finding("film", (Particle("sliver", "steel", count, size_mm),), "brown", "clear", "none")
    assert level_by(rule, finding) == level


@pytest.mark.parametrize(
    ("colour", "smell", "metal", "rule", "level"),
    [
        ("dark brown", "burnt", "friction lining", "burnt-fibres", 3),
        ("black", "burnt", "friction lining", "burnt-fibres", 3),
        ("brown", "burnt", "friction lining", "burnt", 2),
        ("black", "burnt", "steel", "burnt", 2),
        ("black", "none", "friction lining", "black", 2),
    ],
)
def test_burnt_with_fibres(colour, smell, metal, rule, level):
    finding = Finding("film", (Particle("paste", metal, 1, 0.1),), colour, "clear", smell)
    assert level_by(rule, finding, "automatic") == level
