"""How many small faults in the core its tests and the reference tests notice, by room: a sample of mutmut's mutants, the same each time.

``make mutants`` (not part of ``make test``). ``EACH=3`` mutants of each module, ``SEED=14``, ``ONLY=a part of a name``,
``REUSE=1`` with the mutants of the last run and the tests of today. mutmut writes the
mutants; those that change only a sentence are left out. Each is then tried in a fork of a pytest that has collected its tests already,
against the tests of core and reference that come to its function. Ends non-zero under 90 % overall or 85 % of a room.
"""

from __future__ import annotations

import ast
import collections
import itertools
import json
import os
import random
import select
import shutil
import signal
import subprocess
import sys
from collections.abc import Iterator
from multiprocessing.pool import ThreadPool
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HERE = ROOT / "mutants"
CORE = HERE / "src" / "barodex" / "core"
OVERALL, ROOM, MOST_S, TESTS_S = 0.90, 0.85, 150, 30.0
MAKE = (
    "from mutmut.__main__ import copy_also_copy_files, copy_src_dir, create_mutants, setup_source_paths, set_mutant_under_test; "
    "import os; os.makedirs('mutants', exist_ok=True); set_mutant_under_test('mutant_generation'); "
    "copy_src_dir(); copy_also_copy_files(); setup_source_paths(); create_mutants(os.cpu_count() or 2)"
)


def _wordy(node: ast.AST) -> bool:
    """Whether an expression is a sentence or a part of one: those are read by people, and tested where they are the subject."""
    if isinstance(node, ast.Constant):
        return isinstance(node.value, str)
    if isinstance(node, ast.BinOp):
        return isinstance(node.op, (ast.Add, ast.Sub)) and (_wordy(node.left) or _wordy(node.right))
    if isinstance(node, ast.IfExp):
        return _wordy(node.body) and _wordy(node.orelse)
    return isinstance(node, ast.JoinedStr) or (isinstance(node, ast.Name) and node.id in ("COMMON_PRACTICE", "text"))


def _says_only(one: object, other: object) -> bool:
    """Whether two trees differ in sentences alone: in their words, or in that one is left out."""
    if isinstance(one, ast.AST) and _wordy(one):
        return isinstance(other, ast.AST) and (_wordy(other) or (isinstance(other, ast.Constant) and other.value is None))
    if isinstance(one, list) and isinstance(other, list):
        if one and isinstance(one[0], ast.keyword):
            there = {k.arg for k in other}
            one = [k for k in one if k.arg in there or not _wordy(k.value)]
        return len(one) == len(other) and all(_says_only(a, b) for a, b in zip(one, other, strict=True))
    if isinstance(one, ast.AST) and type(one) is type(other):
        return all(
            _says_only(value, getattr(other, name, None))
            for name, value in ast.iter_fields(one)
            if not (isinstance(one, ast.FunctionDef) and name == "name")
        )
    return one == other


def _mutants(file: Path) -> Iterator[str]:
    """The names of a module's mutants that change more than words."""
    module = ".".join(file.relative_to(HERE / "src").with_suffix("").parts)
    functions = {n.name: n for n in ast.walk(ast.parse(file.read_text())) if isinstance(n, ast.FunctionDef) and "__mutmut_" in n.name}
    for name, tree in functions.items():
        stem, _, number = name.rpartition("__mutmut_")
        if number.isdigit() and not _says_only(functions[f"{stem}__mutmut_orig"], tree):
            yield f"{module}.{name}"


class Trier:
    """A pytest that has collected its tests, and forks for each mutant (``tools/trying.py``)."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "tools" / "trying.py")],
            cwd=HERE,
            env=os.environ | {"PYTHONPATH": "src", "PYTHONDONTWRITEBYTECODE": ""},
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )

    def ask(self, *words: str, most: float = MOST_S) -> str:
        """One line answered; empty when it hangs."""
        assert self.process.stdin
        assert self.process.stdout
        self.process.stdin.write(json.dumps(words) + "\n")
        self.process.stdin.flush()
        ready, _, _ = select.select([self.process.stdout], [], [], most)
        if ready:
            return self.process.stdout.readline().strip()
        os.killpg(self.process.pid, signal.SIGKILL)
        self.__init__()
        return ""


def _hits(triers: list[Trier]) -> dict[str, list[str]]:
    """The tests that come to each function, quickest first and half a minute of them at the most; "" are the functions that run while modules load."""

    def part(k: int) -> list[tuple[str, float, list[str]]]:
        return json.loads(Path(triers[k].ask("hits", str(k), str(len(triers)), most=3600)).read_text())

    with ThreadPool(len(triers)) as pool:
        parts = pool.map(part, range(len(triers)))
    found: dict[str, list[tuple[float, str]]] = collections.defaultdict(list)
    for test, seconds, functions in itertools.chain(*parts):
        for function in functions:
            found[function].append((seconds, test))
    quick = {}
    for function, tests in found.items():
        sums = itertools.accumulate(seconds for seconds, _ in sorted(tests))
        quick[function] = [test for (_, test), so_far in zip(sorted(tests), sums, strict=True) if so_far <= TESTS_S]
    return quick


def main() -> int:
    """Make the mutants, try a sample of each module's, print the score by room."""
    if os.environ.get("REUSE"):
        shutil.copytree(ROOT / "tests", HERE / "tests", dirs_exist_ok=True)
    else:
        subprocess.run([sys.executable, "-c", MAKE], cwd=ROOT, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    pick, each = random.Random(int(os.environ.get("SEED", "14"))), int(os.environ.get("EACH", "3"))
    only = os.environ.get("ONLY", "")
    sample: list[tuple[str, str]] = []
    for file in sorted(CORE.rglob("*.py")):
        names = sorted(_mutants(file))
        sample += [(n, file.relative_to(CORE).parts[0]) for n in pick.sample(names, min(each, len(names))) if only in n]
    triers = [Trier() for _ in range(os.cpu_count() or 2)]
    hits = _hits(triers)
    left = iter(sample)

    def work(trier: Trier) -> list[tuple[str, str, bool]]:
        rows = []
        for name, room in left:
            function = name.rpartition("__mutmut_")[0]
            tests = [t for t in hits.get(function, []) if t]
            noticed = bool(tests) and trier.ask("try", name, *tests) != "0"
            if not noticed and "" in hits.get(function, []):
                noticed = trier.ask("afresh", name) != "0"
            rows.append((name, room, noticed))
            print("noticed    " if noticed else "NOT NOTICED", name, flush=True)
        return rows

    with ThreadPool(len(triers)) as pool:
        found = [row for rows in pool.map(work, triers) for row in rows]
    for trier in triers:
        trier.process.kill()
    rooms: dict[str, list[bool]] = collections.defaultdict(list)
    for _, room, noticed in found:
        rooms[room].append(noticed)
    for room, seen in [*sorted(rooms.items()), ("all", [n for _, _, n in found])]:
        print(f"{room:<10} {sum(seen):4d} of {len(seen):4d} noticed, {sum(seen) / len(seen):.0%}")
    print("Not noticed:", *(name for name, _, noticed in found if not noticed), sep="\n")
    low = [r for r, s in rooms.items() if sum(s) < ROOM * len(s)]
    return 1 if low or sum(n for _, _, n in found) < OVERALL * len(found) else 0


if __name__ == "__main__":
    sys.exit(main())
