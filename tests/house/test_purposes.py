"""A step is known by its purpose: nothing reads an id or a sentence to find out what it is for."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
PYTHON = sorted(p for p in (ROOT / "src/barodex").rglob("*.py") if "migrations" not in p.parts)
PAGE = sorted(p for p in (ROOT / "web/src").rglob("*.ts*") if ".test." not in p.name and p.name != "schema.ts")
# A step's id cut up or held against a word; a title cut up.
READ_OUT = (
    r"step(?:_id)?(?:\.id)?\.(?:startswith|split|partition|removeprefix|startsWith)\(",
    r"\bs\.id\.(?:startswith|split|startsWith)\(",
    r"\bs(?:tep)?\.id\s*(?:===?|!==?|in)\s*[('\"]",
    r"(?:title|task|checklist)\w*\.(?:split|startswith|startsWith|partition)\(",
)


@pytest.mark.parametrize("path", [*PYTHON, *PAGE], ids=lambda p: str(p.relative_to(ROOT)))
def test_nothing_reads_what_a_step_is_for_out_of_its_name(path):
    text = path.read_text()
    assert [m.group(0) for pattern in READ_OUT for m in re.finditer(pattern, text)] == []
