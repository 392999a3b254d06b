"""``python -m barodex COMMAND``: Django's management commands with Barodex's settings."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "barodex.config.settings")
name, *rest = sys.argv[1:] or ["help"]
execute_from_command_line(["barodex", name if name.startswith("-") else name.replace("-", "_"), *rest])
