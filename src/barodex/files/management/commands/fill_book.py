"""``python -m barodex fill_book FILE``: fills the new database of this process from a whole book; ``restore`` calls it."""

from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from barodex.core.quantity.errors import CoreError
from barodex.files.whole.restoring import fill


class Command(BaseCommand):
    """Fill a new database."""

    help = "Used by restore: fill the database of this process, which must be a new one, from a whole book."
    requires_system_checks = ()

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path)

    def handle(self, *args, **options):
        try:
            rows = fill(options["file"])
        except CoreError as error:
            raise CommandError(error.message) from error
        self.stdout.write(str(rows))
