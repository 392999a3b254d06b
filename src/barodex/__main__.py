"""``python -m barodex COMMAND``: Django's management commands with Barodex's settings."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "barodex.config.settings")
execute_from_command_line(["barodex", *sys.argv[1:]])
