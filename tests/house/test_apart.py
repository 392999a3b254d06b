"""Tests with real transactions say so, so that they run in a process of their own."""

import re
from pathlib import Path

TESTS = Path(__file__).resolve().parents[1]


def test_every_test_with_real_transactions_is_marked():
    found = 0
    for path in (p for p in TESTS.rglob("test_*.py") if p != Path(__file__)):
        lines = path.read_text().splitlines()
        for k, line in enumerate(lines):
            if re.search(r"transaction=True\b", line):
                found += 1
                assert "pytest.mark.apart" in lines[k - 1] + lines[k + 1], f"{path.name}:{k + 1}"
    assert found >= 3
