"""Runs the tests: Python's beside the page's and the browser's, on as many cores as there are; what each said stands together at the end.

``python tools/test.py``; with ``REPEAT=3 BUSY=2`` three times with two busy loops beside it, to see that load turns nothing red.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORES = os.cpu_count() or 2
# Playwright's event loop trips Django's guard in whatever shares a process with it: the browser has processes of its own.
SUITES = {
    "the page": (["npx", "vitest", "run"], ROOT / "web"),
    "core, API, files": ([sys.executable, "-m", "pytest", "-n", str(CORES), "-m", "not apart", "--ignore", "tests/browser"], ROOT),
    "real transactions": ([sys.executable, "-m", "pytest", "-m", "apart", "tests/api"], ROOT),
    "the browser": ([sys.executable, "-m", "pytest", "-n", str(min(4, CORES)), "--dist", "loadfile", "tests/browser"], ROOT),
}


def run_all() -> int:
    """Run every suite at once; the output of each is shown whole when all have ended."""
    began, used = time.monotonic(), resource.getrusage(resource.RUSAGE_CHILDREN)
    with tempfile.TemporaryDirectory() as folder:
        running = {}
        env = os.environ | {"PYTHONDONTWRITEBYTECODE": ""}  # each of many processes would compile everything anew
        for name, (command, where) in SUITES.items():
            said = Path(folder, name.replace(" ", "-").replace(",", ""))
            running[name] = (subprocess.Popen(command, cwd=where, env=env, stdout=said.open("w"), stderr=subprocess.STDOUT), said)
        codes = {name: process.wait() for name, (process, _) in running.items()}
        for name, (_, said) in sorted(running.items(), key=lambda r: codes[r[0]] != 0):  # what failed stands last, where a log is cut off
            print(f"--- {name} ---", said.read_text(), sep="\n")
    now = resource.getrusage(resource.RUSAGE_CHILDREN)
    user, system = now.ru_utime - used.ru_utime, now.ru_stime - used.ru_stime
    print(
        f"{time.monotonic() - began:.0f} s, user {user:.0f} s, sys {system:.0f} s",
        {n: "passed" if c == 0 else "FAILED" for n, c in codes.items()},
    )
    return max(abs(c) for c in codes.values())


def main() -> int:
    """Once, or as often as REPEAT says, with BUSY loops beside it."""
    loops = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(int(os.environ.get("BUSY", "0")))]
    try:
        return max(run_all() for _ in range(int(os.environ.get("REPEAT", "1"))))
    finally:
        for loop in loops:
            loop.kill()


if __name__ == "__main__":
    sys.exit(main())
