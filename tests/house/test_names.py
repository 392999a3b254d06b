"""The glossary's words that were given up are given up; a name that says only "kinds" or "states" says nothing."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

SRC = Path(__file__).resolve().parents[2] / "src" / "barodex"
FILES = sorted(p for p in SRC.rglob("*.py") if "migrations" not in p.parts)
GIVEN_UP = {
    "KINDS",
    "STATES",
    "SCHOOLS",
    "Event",
    "NewEvent",
    "ServiceEvent",
    "post_event",
    "events_of",
    "event_id",
    "last_event",
    "new_event",
    "Rule",
    "touches",
}
MOST_LINES, MOST_OF_A_FUNCTION, MEDIAN_LINES, MOST_UNNAMED = 450, 80, 140, 8


def defined(tree: ast.Module) -> set[str]:
    names: set[str] = set()
    for node in ast.walk(tree):
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)):
            names.add(node.name)
        elif isinstance(node, ast.Assign):
            names |= {t.id for t in node.targets if isinstance(t, ast.Name)}
        elif isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
            names.add(node.target.id)
    return names


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SRC)))
def test_no_word_that_was_given_up_is_defined_again(path):
    assert defined(ast.parse(path.read_text())) & GIVEN_UP == set()


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SRC)))
def test_a_file_and_its_functions_can_be_read_at_a_sitting(path):
    text = path.read_text()
    assert len(text.splitlines()) <= MOST_LINES
    long = [n.name for n in ast.walk(ast.parse(text)) if isinstance(n, ast.FunctionDef) and n.end_lineno - n.lineno >= MOST_OF_A_FUNCTION]
    assert long == []


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SRC)))
def test_no_call_hands_over_a_row_of_arguments_without_their_names(path):
    calls = [
        n for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Call) and not any(isinstance(a, ast.Starred) for a in n.args)
    ]
    assert [f"{ast.unparse(n.func)}, line {n.lineno}" for n in calls if len(n.args) > MOST_UNNAMED] == []


def test_half_of_the_files_are_short():
    lengths = sorted(n for p in FILES if (n := len(p.read_text().splitlines())) > 20)
    assert lengths[len(lengths) // 2] <= MEDIAN_LINES


def test_the_glossary_names_what_the_code_names():
    words = (SRC.parents[1] / "docs" / "glossary.md").read_text()
    named = set(re.findall(r"`(?:[a-z_.]+\.)?([A-Z][A-Za-z]+|[A-Z_]+_[A-Z]+)`", words))
    known = set().union(*(defined(ast.parse(p.read_text())) for p in FILES))
    assert named - known - {"KINDS", "ROLES"} == set()
    assert len(named) > 12
