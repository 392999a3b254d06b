"""``python -m barodex backup FOLDER --keep 14``: everything in one file, while it serves; for a timer."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from barodex.core.quantity.errors import CoreError
from barodex.files.backup import backup


class Command(BaseCommand):
    """Back an installation up."""

    help = "Write database, photos and key into one file, read it again, and keep the newest ones."

    def add_arguments(self, parser):
        parser.add_argument("folder", type=Path)
        parser.add_argument("--keep", type=int, default=0, help="how many stay; 0: all")

    def handle(self, *args, **options):
        try:
            made = backup(settings.VAR, Path(settings.DATABASES["default"]["NAME"]), options["folder"], options["keep"])
        except (CoreError, OSError) as error:
            raise CommandError(str(getattr(error, "message", error))) from error
        self.stdout.write(f"{made.path}: {made.size / 1e6:.1f} MB with {made.photos} photos, read again and sound.")
