"""``python -m barodex restore-backup FILE``: puts a backup into an installation that has no database yet."""

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from barodex.core.quantity.errors import CoreError
from barodex.files.backup import restore_backup


class Command(BaseCommand):
    """Put a backup back."""

    help = "Put a backup into an installation that has no database yet, and bring it up to this version."
    requires_system_checks = ()

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path)

    def handle(self, *args, **options):
        try:
            made = restore_backup(options["file"], settings.VAR, Path(settings.DATABASES["default"]["NAME"]))
        except (CoreError, OSError) as error:
            raise CommandError(str(getattr(error, "message", error))) from error
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Back in {settings.VAR}: the backup of {made['made']}. Whoever is signed in stays so.")
