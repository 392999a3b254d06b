"""Services from before: what they lack is written once, by the code of the day on which the database is brought up to date."""

from __future__ import annotations

from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from barodex import clock

from .guides import keep_guide, procedure_of
from .keeping import keep_page
from .models import Service
from .queries import folded_page


def keep_all(**_: object) -> None:
    """Give every service from before what it lacks: run after the last migration, by the code of that day, once for each service."""
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return  # only some of the migrations were asked for
    lacking = Service.objects.select_related("vehicle", "started_by")
    for service in lacking.filter(guide=None):
        keep_guide(service)
        tasks = {s.id: s.task for s in procedure_of(service).steps}
        for photo in service.photos.filter(task=""):
            photo.task = tasks.get(photo.step, "")[:200]
            photo.save(update_fields=["task"])
    for service in lacking.filter(state="signed", page=None):
        with clock.at(service.ended_at or service.started_at):
            keep_page(service, *folded_page(service))
