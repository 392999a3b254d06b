"""How many small faults in the core its tests and the reference tests notice, by room: a sample of mutmut's mutants, the same each time.

``make mutants`` (not part of ``make test``). ``EACH=2`` mutants of each module, ``SEED=14``. mutmut writes the mutants; those that change
only a sentence are left out. Each is then tried in a fork that has loaded the libraries already, against the tests of its room and the
reference tests. Ends non-zero under 90 % overall or 85 % of a room.
"""

from __future__ import annotations

import ast
import collections
import contextlib
import os
import random
import signal
import subprocess
import sys
from collections.abc import Iterator
from multiprocessing.pool import ThreadPool
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HERE = ROOT / "mutants"
CORE = HERE / "src" / "barodex" / "core"
OVERALL, ROOM, MOST_S = 0.90, 0.85, 240
MAKE = (
    "from mutmut.__main__ import copy_also_copy_files, copy_src_dir, create_mutants, setup_source_paths, set_mutant_under_test; "
    "import os; os.makedirs('mutants', exist_ok=True); set_mutant_under_test('mutant_generation'); "
    "copy_src_dir(); copy_also_copy_files(); setup_source_paths(); create_mutants(os.cpu_count() or 2)"
)
TRY = (
    "import colour, django, numpy, pint, pytest, scipy.optimize, scipy.stats, skimage, os, sys\n"
    "for line in sys.stdin:\n"
    "    name, *tests = line.split()\n"
    "    child = os.fork()\n"
    "    if not child:\n"
    "        os.environ['MUTANT_UNDER_TEST'] = '' if name == 'none' else name\n"
    "        os.dup2(os.open(os.devnull, os.O_WRONLY), 2)\n"
    "        out = os.dup(1); os.dup2(os.open(os.devnull, os.O_WRONLY), 1)\n"
    "        os._exit(int(pytest.main(['-x', '-q', '-p', 'no:xdist', *tests])))\n"
    "    _, status = os.waitpid(child, 0)\n"
    "    print(os.waitstatus_to_exitcode(status), flush=True)\n"
)


def _says_only(one: ast.AST, other: ast.AST) -> bool:
    """Whether two trees differ in the words of sentences alone."""
    for a, b in zip(ast.walk(one), ast.walk(other), strict=False):
        if type(a) is not type(b):
            return False
        if isinstance(a, ast.Constant) and a.value != b.value and not (isinstance(a.value, str) and isinstance(b.value, str)):
            return False
    return ast.dump(_without_words(one)) == ast.dump(_without_words(other))


def _without_words(tree: ast.AST) -> ast.AST:
    copy = ast.parse(ast.unparse(tree))
    for node in ast.walk(copy):
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            node.value = ""
        if isinstance(node, ast.FunctionDef):
            node.name = ""
    return copy


def _mutants(file: Path) -> Iterator[str]:
    """The names of a module's mutants that change more than words."""
    module = ".".join(file.relative_to(HERE / "src").with_suffix("").parts)
    functions = {n.name: n for n in ast.walk(ast.parse(file.read_text())) if isinstance(n, ast.FunctionDef) and "__mutmut_" in n.name}
    for name, tree in functions.items():
        stem, _, number = name.rpartition("__mutmut_")
        if number.isdigit() and not _says_only(functions[f"{stem}__mutmut_orig"], tree):
            yield f"{module}.{name}"


def _tests_of(room: str) -> list[str]:
    own = HERE / "tests" / "core" / room
    rooms = [f"tests/core/{room}"] if own.exists() else ["tests/core/guide", "tests/core/oil", "tests/core/findings"]
    return [*rooms, "tests/reference"]


class Trier:
    """A process that has loaded what the tests need, and forks for each mutant."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-c", TRY], cwd=HERE, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, start_new_session=True
        )

    def noticed(self, name: str, room: str) -> bool:
        """Whether a test fails, or hangs, with a mutant at work."""
        assert self.process.stdin
        assert self.process.stdout
        self.process.stdin.write(" ".join([name, *_tests_of(room)]) + "\n")
        self.process.stdin.flush()
        with contextlib.suppress(subprocess.TimeoutExpired):
            line = self._line()
            return line.strip() not in ("0", "4", "5", "")
        os.killpg(self.process.pid, signal.SIGKILL)
        self.__init__()
        return True

    def _line(self) -> str:
        import select

        ready, _, _ = select.select([self.process.stdout], [], [], MOST_S)
        if not ready:
            raise subprocess.TimeoutExpired("pytest", MOST_S)
        return self.process.stdout.readline()


def main() -> int:
    """Make the mutants, try a sample of each module's, print the score by room."""
    subprocess.run([sys.executable, "-c", MAKE], cwd=ROOT, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    pick, each = random.Random(int(os.environ.get("SEED", "14"))), int(os.environ.get("EACH", "2"))
    sample = []
    for file in sorted(CORE.rglob("*.py")):
        names = sorted(_mutants(file))
        sample += [(n, file.relative_to(CORE).parts[0]) for n in pick.sample(names, min(each, len(names)))]
    triers = [Trier() for _ in range(os.cpu_count() or 2)]
    for room in sorted({room for _, room in sample}):
        if triers[0].noticed("none", room):
            raise SystemExit(f"The tests of {room} fail with no mutant at work.")

    def work(k: int) -> list[tuple[str, str, bool]]:
        rows = []
        for name, room in sample[k :: len(triers)]:
            rows.append((name, room, triers[k].noticed(name, room)))
            print("noticed    " if rows[-1][2] else "NOT NOTICED", name, flush=True)
        return rows

    with ThreadPool(len(triers)) as pool:
        found = [row for rows in pool.map(work, range(len(triers))) for row in rows]
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
