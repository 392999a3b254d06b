"""``python -m barodex restore FILE.zip``: puts a whole book into an empty installation."""

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

from barodex.accounts.actions import links_of_leads
from barodex.core.quantity.errors import CoreError
from barodex.files.whole.restoring import restore


class Command(BaseCommand):
    """Put a whole book back."""

    help = "Put a whole book into an installation whose book is empty; nothing is half in."
    requires_system_checks = ()

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path)

    def handle(self, *args, **options):
        try:
            made = restore(options["file"], settings.VAR, Path(settings.DATABASES["default"]["NAME"]))
        except (CoreError, OSError) as error:
            raise CommandError(str(getattr(error, "message", error))) from error
        connection.close()
        call_command("migrate", verbosity=0)
        self.stdout.write(f"The book of {made.made}: {made.rows} rows and {made.photos} photos are in {settings.VAR}.")
        self.stdout.write("Passwords are in no file. Each lead chooses one by a link, and then makes links for the others:")
        for name, link, until in links_of_leads():
            self.stdout.write(f"  {name}: {link}   until {until:%d %b %Y %H:%M}")
