"""``python -m barodex send_morning LEAD --to ADDRESS``: sends the morning summary, for a timer of the machine to call."""

from django.core.exceptions import PermissionDenied
from django.core.management.base import BaseCommand, CommandError

from barodex.accounts.models import Person
from barodex.core.quantity.errors import CoreError
from barodex.papers.actions import send_morning


class Command(BaseCommand):
    """Send the morning summary."""

    help = "Send the morning summary by mail; without a mail server it goes into the outbox folder."

    def add_arguments(self, parser):
        parser.add_argument("username", help="the lead in whose name it goes")
        parser.add_argument("--to", action="append", default=[], help="an address; may be given again")

    def handle(self, *args, **options):
        person = Person.objects.filter(username=options["username"]).first()
        if person is None:
            raise CommandError(f"There is no “{options['username']}”.")
        try:
            sent = send_morning(person, tuple(options["to"]))
        except (CoreError, PermissionDenied) as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"To {', '.join(sent.to)}" + (f", in {sent.outbox}" if sent.outbox else ""))
