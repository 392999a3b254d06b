"""Shows whether the API's description, the client's types, the schemas of files, the catalogues of what is said or the migrations have drifted; ``--write`` renews all but these."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DESCRIPTION = ROOT / "docs" / "openapi.json"
TYPES = ROOT / "web" / "src" / "app" / "schema.ts"
SHEET = ROOT / "docs" / "sheet.schema.json"
VEHICLE = ROOT / "docs" / "vehicle-file.schema.json"
WORDS = ROOT / "web" / "src" / "app" / "words" / "en.po"
SAID = ROOT / "src" / "barodex" / "locale" / "barodex.pot"

KEPT = (DESCRIPTION, TYPES, SHEET, VEHICLE, WORDS, SAID)


def page_words(catalogue: Path) -> None:
    """Gather the page's own words from its sources; what stands in the catalogue already keeps its translation."""
    if catalogue != WORDS:
        shutil.copy(WORDS, catalogue)
    env = {**os.environ, "WORDS": str(catalogue.with_name("{locale}"))}
    subprocess.run(
        ["npx", "lingui", "extract", "--clean"], check=True, cwd=ROOT / "web", env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )


def core_words(catalogue: Path) -> None:
    """Gather what the core and the apps say, by the calls of ``say``."""
    command = [sys.executable, "-m", "babel.messages.frontend", "-q", "extract", "--no-default-keywords", "-k", "say", "--no-wrap"]
    options = ["--sort-output", "--add-location=file", "--omit-header", "-o", str(catalogue), "src/barodex"]
    subprocess.run([*command, *options], check=True, cwd=ROOT, capture_output=True)  # it warns of parameters, which are no words of ours


def make(description: Path, types: Path, sheet: Path, vehicle: Path, words: Path, catalogue: Path) -> None:
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
    for module, file in (("shelf.files", sheet), ("files.vehicle.schema", vehicle)):
        said = f"import json; from barodex.{module} import schema; print(json.dumps(schema(), indent=1, ensure_ascii=False))"
        found = subprocess.run(
            [sys.executable, "-m", "barodex", "shell", "-v0", "-c", said], check=True, env=env, capture_output=True, text=True
        )
        file.write_text(found.stdout)
    page_words(words)
    core_words(catalogue)
    subprocess.run(
        [sys.executable, "-m", "barodex", "makemigrations", "--check", "--dry-run"], check=True, env=env, stdout=subprocess.DEVNULL
    )


def main() -> int:
    """Compare, or write."""
    if "--write" in sys.argv:
        make(*KEPT)
        return 0
    with tempfile.TemporaryDirectory() as folder:
        anew = [Path(folder, p.name) for p in KEPT]
        make(*anew)
        drifted = [p.name for p, q in zip(KEPT, anew, strict=True) if p.read_text() != q.read_text()]
    if drifted:
        print(f"Drifted: {', '.join(drifted)}. Run make api.")
        return 1
    print("The API's description, the client's types and the migrations are current.")
    return 0


if __name__ == "__main__":
    sys.exit(main())
