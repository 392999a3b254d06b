"""``python -m barodex add_person NAME --role lead``: adds somebody; the password is asked for, or read from standard input."""

import getpass
import sys

from django.core.management.base import BaseCommand, CommandError

from barodex.accounts.actions import add_person
from barodex.accounts.models import ROLES
from barodex.core.quantity.errors import CoreError


class Command(BaseCommand):
    """Add a person who can sign in."""

    help = "Add a person who can sign in; the password is asked for, or read from standard input."

    def add_arguments(self, parser):
        parser.add_argument("username")
        parser.add_argument("--role", choices=ROLES, default="technician")

    def handle(self, *args, **options):
        password = getpass.getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
        try:
            add_person(None, options["username"], password, options["role"])
        except CoreError as error:
            raise CommandError(error.message) from error
        self.stdout.write(f"{options['username']} can sign in as {options['role']}.")
