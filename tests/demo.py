"""The demo fleet, loaded once for a whole run of tests."""

from __future__ import annotations

import fcntl
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def demo_snapshot() -> Path:
    """The demo fleet, loaded once for all browser tests of a run, whichever worker comes first; each server gets a copy."""
    place = Path(tempfile.gettempdir(), f"barodex-demo-{os.environ.get('PYTEST_XDIST_TESTRUNUID', os.getpid())}")
    with open(f"{place}.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)  # the others wait until it is whole
        if not place.exists():
            made = place.with_suffix(".part")
            env = {**os.environ, "BARODEX_VAR": str(made), "BARODEX_DEMO": "1", "PYTHONPATH": str(ROOT / "src")}
            env.pop("DJANGO_SETTINGS_MODULE", None)
            for command in (["migrate", "-v0"], ["load_demo"]):
                subprocess.run([sys.executable, "-m", "barodex", *command], check=True, env=env, stdout=subprocess.DEVNULL)
            made.rename(place)
    return place
