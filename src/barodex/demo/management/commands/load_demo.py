"""``python -m barodex load_demo``: loads the demo fleet unless the database has people in it already."""

from django.core.management.base import BaseCommand

from barodex.accounts.models import Person
from barodex.demo.loader import load


class Command(BaseCommand):
    """Load the demo fleet into an empty database."""

    help = "Load the demo fleet into an empty database; a database in use is left as it is."

    def handle(self, *args, **options):
        if Person.objects.exists():
            self.stdout.write("The demo database is there already: kept as it is.")
            return
        load()
        self.stdout.write("The demo fleet is loaded.")
