"""Shows whether the API's description, the client's types, the schema of a sheet file or the migrations have drifted; ``--write`` renews all but these."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DESCRIPTION = ROOT / "docs" / "openapi.json"
TYPES = ROOT / "web" / "src" / "app" / "schema.ts"
SHEET = ROOT / "docs" / "sheet.schema.json"


def make(description: Path, types: Path, sheet: Path) -> None:
    """Write the description and the types to these files."""
    env = {**os.environ, "BARODEX_VAR": tempfile.mkdtemp(), "PYTHONPATH": str(ROOT / "src")}
    command = [
        sys.executable,
        "-m",
        "barodex",
        "spectacular",
        "--file",
        str(description),
        "--format",
        "openapi-json",
        "--validate",
        "--fail-on-warn",
    ]
    subprocess.run(command, check=True, env=env)
    subprocess.run(
        ["npx", "openapi-typescript", str(description), "-o", str(types)],
        check=True,
        cwd=ROOT / "web",
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    said = "import json; from barodex.shelf.files import schema; print(json.dumps(schema(), indent=1, ensure_ascii=False))"
    found = subprocess.run(
        [sys.executable, "-m", "barodex", "shell", "-v0", "-c", said], check=True, env=env, capture_output=True, text=True
    )
    sheet.write_text(found.stdout)
    subprocess.run(
        [sys.executable, "-m", "barodex", "makemigrations", "--check", "--dry-run"], check=True, env=env, stdout=subprocess.DEVNULL
    )


def main() -> int:
    """Compare, or write."""
    if "--write" in sys.argv:
        make(DESCRIPTION, TYPES, SHEET)
        return 0
    with tempfile.TemporaryDirectory() as folder:
        description, types, sheet = Path(folder, "openapi.json"), Path(folder, "schema.ts"), Path(folder, "sheet.schema.json")
        make(description, types, sheet)
        drifted = [p.name for p, q in ((DESCRIPTION, description), (TYPES, types), (SHEET, sheet)) if p.read_text() != q.read_text()]
    if drifted:
        print(f"Drifted: {', '.join(drifted)}. Run make api.")
        return 1
    print("The API's description, the client's types and the migrations are current.")
    return 0


if __name__ == "__main__":
    sys.exit(main())
