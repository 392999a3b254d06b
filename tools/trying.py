"""A pytest that collects once, then forks for each mutant that ``tools/mutants.py`` names on its standard input, one JSON list a line.

``["hits", k, n]`` runs each n-th test, beginning with the k-th, and answers with a file of ``[test, seconds, [functions it comes to]]``;
a test "" stands for what runs while modules load. ``["try", mutant, test, …]`` runs tests with a mutant at work, ``["afresh", mutant]`` all
of them in a process that loads the modules with it; both answer 0 when no test notices.
"""

from __future__ import annotations

import functools
import gc
import json
import os
import subprocess
import sys
import tempfile
import time

import pytest
from mutmut.mutation import trampoline
from mutmut.mutation.trampoline import set_mutant_under_test

TESTS = [
    "-x",
    "-q",
    "-p",
    "no:xdist",
    "-p",
    "no:cacheprovider",
    "--deselect",
    "tests/core/test_docstrings.py",
    "tests/core",
    "tests/reference",
]

HIT: set[str] = set()


def _hit(name: str, caller: str | None = None) -> None:
    HIT.add(name)


class Trying:
    """The plugin: what pytest would run once, it runs as asked."""

    def pytest_runtestloop(self, session: pytest.Session) -> bool:
        """Answer until the input ends."""
        items = {item.nodeid: item for item in session.items}
        loading = sorted(HIT)
        with os.fdopen(3, "w", buffering=1) as out, os.fdopen(4) as asked:
            for line in asked:
                what, *words = json.loads(line)
                if what == "hits":
                    answer = self._hits(list(items.values()), loading, int(words[0]), int(words[1]))
                elif what == "try":
                    answer = str(_forked(lambda words=words: _run(session, [items[w] for w in words[1:]], words[0])))
                else:
                    env = os.environ | {"MUTANT_UNDER_TEST": words[0]}
                    answer = str(subprocess.run([sys.executable, "-m", "pytest", *TESTS], env=env, capture_output=True).returncode)
                out.write(answer + "\n")
        return True

    def _hits(self, items: list[pytest.Item], loading: list[str], k: int, n: int) -> str:
        with tempfile.NamedTemporaryFile("w", suffix=".json", delete=False) as file:
            name = file.name

        def run() -> int:
            set_mutant_under_test("stats")
            rows: list[tuple[str, float, list[str]]] = [("", 0.0, loading)]
            kept = [
                o for o in gc.get_objects() if isinstance(o, functools._lru_cache_wrapper) and o.__module__.startswith(("barodex", "tests"))
            ]
            for item in items[k::n]:
                for cache in kept:
                    cache.cache_clear()
                HIT.clear()
                begun = time.perf_counter()
                item.config.hook.pytest_runtest_protocol(item=item, nextitem=None)
                rows.append((item.nodeid, time.perf_counter() - begun, sorted(HIT)))
            with open(name, "w") as file:
                json.dump(rows, file)
            return 0

        _forked(run)
        return name


def _run(session: pytest.Session, items: list[pytest.Item], mutant: str) -> int:
    set_mutant_under_test(mutant)
    for item in items:
        item.config.hook.pytest_runtest_protocol(item=item, nextitem=None)
        if session.testsfailed:
            return 1
    return 0


def _forked(run) -> int:
    child = os.fork()
    if not child:
        code = 1
        try:
            code = run()
        finally:
            os._exit(code)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])


if __name__ == "__main__":
    trampoline.record_trampoline_hit = _hit
    # pytest takes standard input and output for itself: the questions and answers have numbers of their own.
    os.dup2(os.dup(1), 3)
    os.dup2(os.dup(0), 4)
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    set_mutant_under_test("stats")
    sys.exit(pytest.main([*TESTS, "-s"], plugins=[Trying()]))
