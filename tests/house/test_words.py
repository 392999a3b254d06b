"""What is said is said by ``say``: one catalogue, every message in it readable, and no sentence that goes past it."""

import ast
import re
import string
from pathlib import Path

import pytest
from babel.messages.pofile import read_po

SRC = Path(__file__).resolve().parents[2] / "src" / "barodex"
POT = SRC / "locale" / "barodex.pot"
# The demo's invented history and what operators read at a terminal are no messages; tables of published figures name their sources.
APART = {"migrations", "management", "demo", "data"}
FILES = [p for p in sorted(SRC.rglob("*.py")) if not APART & set(p.relative_to(SRC).parts) and p.name not in ("words.py", "settings.py")]
ERRORS = {"CoreError", "OutOfRange", "OutOfLine", "Unreadable", "Ambiguous", "Inconsistent", "Superseded", "GateClosed", "NeedsReason"}
# A capital, small letters, another word of small letters: a sentence by its look.
SENTENCE = re.compile(r"^[A-Z][a-z]+,? (?:[a-z“(]|\x00).* .*[.?!]$", re.S)


def text_of(node: ast.AST) -> str | None:
    """A piece of text with its parameters blanked, or None."""
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value
    if isinstance(node, ast.JoinedStr):
        return "".join(str(v.value) if isinstance(v, ast.Constant) else "\x00" for v in node.values)
    return None


def unsaid(tree: ast.Module) -> list[str]:
    """Refusals that are not worded by ``say``, and sentences anywhere."""
    found: list[str] = []
    docs = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    inside: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
            if name in ERRORS and node.args and re.search(r"[A-Za-z]{2,}", text_of(node.args[0]) or ""):
                found.append(text_of(node.args[0]) or "")
            if name in ("say", "OpenApiParameter", "Working", "RuntimeError", "ImproperlyConfigured"):
                inside |= {id(n) for n in ast.walk(node)}
    for node in ast.walk(tree):
        text = text_of(node)
        if text and id(node) not in docs | inside and SENTENCE.match(text):
            found.append(text)
    return found


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(SRC)))
def test_nothing_is_said_past_the_catalogue(path):
    assert unsaid(ast.parse(path.read_text())) == []


def test_what_goes_past_it_is_found():
    assert len(unsaid(ast.parse('raise Inconsistent(f"No {kind} here", field="kind")\ntext = "That is so, as you say."'))) == 2
    assert unsaid(ast.parse('raise Inconsistent(say("No {kind} here", kind=kind))')) == []


def messages():
    with POT.open("rb") as file:
        return [m.id for m in read_po(file) if m.id]


def test_every_message_of_the_catalogue_can_be_worded():
    ids = messages()
    assert len(ids) > 1500
    for code in ids:
        names = [name for _, name, _, _ in string.Formatter().parse(code) if name is not None]
        assert all(name.isidentifier() for name in names), code


def test_every_parameter_of_a_message_is_given_and_none_is_left_over():
    for path in FILES:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "say":
                code = ast.literal_eval(node.args[0])
                given = {k.arg for k in node.keywords}
                if given:
                    assert given == {name for _, name, _, _ in string.Formatter().parse(code) if name is not None}, (path, code)
                else:
                    assert "{" not in code, (path, code)
