"""``python -m barodex serve``: the one command of an installation: backs up before it changes the database, brings it up to date, serves."""

import os
import sys
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from barodex.files.backup import backup


class Command(BaseCommand):
    """Serve an installation."""

    help = "Back up before a change of the database, migrate, say where the data is, and serve."

    def add_arguments(self, parser):
        parser.add_argument("--bind", default="127.0.0.1:8470")
        parser.add_argument("--workers", type=int, default=2)
        parser.add_argument("--only-prepare", action="store_true", help="migrate, and do not serve")

    def handle(self, *args, **options):
        if not (settings.WEB_DIST / "index.html").exists():
            raise CommandError(f"The page is not built at {settings.WEB_DIST}: make setup builds it.")
        database = Path(settings.DATABASES["default"]["NAME"])
        there = database.exists() and database.stat().st_size > 0
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            if there:
                made = backup(settings.VAR, database, settings.VAR / "backups", keep=10)
                self.stdout.write(f"Before the database is brought up to date: {made.path}")
            call_command("migrate", verbosity=0)
        connection.close()
        self.stdout.write(f"Barodex keeps its data in {settings.VAR} and serves on http://{options['bind']}.")
        self.stdout.flush()
        if options["only_prepare"]:
            return
        command = ["-m", "gunicorn", "--no-control-socket", "--log-level", "warning", "--preload", "-w", str(options["workers"])]
        os.execv(sys.executable, [sys.executable, *command, "--threads", "4", "-b", options["bind"], "barodex.config.wsgi"])
