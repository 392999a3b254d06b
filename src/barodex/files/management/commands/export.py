"""``python -m barodex export FILE.zip``: the whole book as one file, while it serves."""

import os
from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from barodex.files.whole.writing import whole_book


class Command(BaseCommand):
    """Write the whole book."""

    help = "Write the whole book into one ZIP: tables for a spreadsheet, every row as JSON, the photos."

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path)

    def handle(self, *args, **options):
        file: Path = options["file"]
        part = file.with_name(f".part-{file.name}")  # it gets its name when it is whole
        loud = self.stderr.isatty()

        def told(what: str, done: int, of: int) -> None:
            if loud:
                self.stderr.write(f"\r{100 * done // max(of, 1):3d} %  {what[:60]:60}", ending="")

        try:
            with part.open("wb") as out:
                for piece in whole_book(told):
                    out.write(piece)
                out.flush()
                os.fsync(out.fileno())
            part.replace(file)
        except OSError as error:
            part.unlink(missing_ok=True)
            raise CommandError(str(error)) from error
        if loud:
            self.stderr.write("")
        self.stdout.write(f"{file}: {file.stat().st_size / 1e6:.1f} MB.")
