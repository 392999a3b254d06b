"""How many small faults in the core its tests and the reference tests notice, by room: a sample of mutmut's mutants, the same each time.

``make mutants`` (not part of ``make test``; about a quarter of an hour). ``EACH=16`` mutants of each module, ``SEED=14``. A mutant that no
test covers counts as not noticed; one that the tests hang on counts as noticed. Ends non-zero under 90 % overall or 85 % of a room.
"""

from __future__ import annotations

import collections
import json
import os
import random
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
MADE = ROOT / "mutants" / "src" / "barodex" / "core"
MUTMUT = [str(Path(sys.executable).with_name("mutmut")), "run", "--max-children", str(os.cpu_count() or 2)]
OVERALL, ROOM = 0.90, 0.85
NOTICED = {1, 3, 24, 36, 152, 255, -11, -24}  # a test failed, or hung until mutmut ended it


def _codes() -> dict[str, dict[str, int | None]]:
    """Each module's mutants, with how the tests ended."""
    return {str(f.relative_to(MADE)): json.loads(f.read_text())["exit_code_by_key"] for f in sorted(MADE.rglob("*.py.meta"))}


def main() -> int:
    """Make the mutants, run a sample of each module's, print the score by room."""
    env = {**os.environ, "PYTHONPATH": "src"}
    if not MADE.exists() or not _codes():
        subprocess.run([*MUTMUT, "barodex.core.no_such_module.*"], cwd=ROOT, env=env, check=False, stdout=subprocess.DEVNULL)
    pick = random.Random(int(os.environ.get("SEED", "14")))
    each = int(os.environ.get("EACH", "4"))
    sample: dict[str, list[str]] = {m: pick.sample(sorted(names), min(each, len(names))) for m, names in _codes().items()}
    wanted = [name for names in sample.values() for name in names]
    subprocess.run([*MUTMUT, *wanted], cwd=ROOT, env=env, check=False, stdout=subprocess.DEVNULL)
    codes = {name: code for names in _codes().values() for name, code in names.items()}
    rooms: dict[str, list[bool]] = collections.defaultdict(list)
    unnoticed = []
    for module, names in sample.items():
        for name in names:
            noticed = codes[name] in NOTICED
            rooms[module.split("/")[0]].append(noticed)
            if not noticed:
                unnoticed.append(f"{name} ({codes[name]})")
    for room, seen in sorted(rooms.items()):
        print(f"{room:<10} {sum(seen):4d} of {len(seen):4d} noticed, {sum(seen) / len(seen):.0%}")
    seen = [s for found in rooms.values() for s in found]
    print(f"{'all':<10} {sum(seen):4d} of {len(seen):4d} noticed, {sum(seen) / len(seen):.0%}", "Not noticed:", *unnoticed, sep="\n")
    low = [r for r, s in rooms.items() if sum(s) < ROOM * len(s)]
    return 1 if low or sum(seen) < OVERALL * len(seen) else 0


if __name__ == "__main__":
    sys.exit(main())
