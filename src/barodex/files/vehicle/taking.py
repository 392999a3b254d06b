"""A vehicle's file taken in as planned: rows get ids of this book, in one transaction that can be taken back."""

from __future__ import annotations

import shutil
import zipfile
from collections import defaultdict
from pathlib import Path
from typing import Any

from django.apps import apps
from django.db import IntegrityError, transaction
from django.db.models import ForeignKey

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.book.photos import path_of
from barodex.book.queries import history
from barodex.core.quantity.errors import CoreError, Inconsistent
from barodex.core.words import say
from barodex.files.models import ImportRun
from barodex.files.whole.kept import row_back
from barodex.files.whole.zipped import PIECE
from barodex.fleet.models import Vehicle
from barodex.memory.versions import SHELF
from barodex.plan.queries import due_board
from barodex.shelf.queries import core_sheet

from .gather import TABLES
from .plan import NEW, Plan, Row, plan_for
from .reading import read_vehicle_file

NAMED = {"accounts.person": "username", "shelf.specsheet": "name", "fleet.vehicle": "name", "fleet.compartment": "name"}


class _Taking:
    """Writes what is new; ``ids``: what each row of the file became here, by table."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self.ids: dict[str, dict[Any, Any]] = {label: dict(plan.here[label]) for label in TABLES}
        self.made: dict[str, list[int]] = defaultdict(list)

    def table(self, label: str) -> None:
        """Write the new rows of a table."""
        model: Any = apps.get_model(label)
        known = self.ids[label]
        names = {f.attname: f.related_model._meta.label_lower for f in model._meta.local_fields if isinstance(f, ForeignKey)}
        rows = self.plan.coming(label)
        built = [row_back(model, self._ours(label, row, names)) for row in rows]
        for row, made in zip(rows, model._base_manager.bulk_create(built, batch_size=500), strict=True):
            known[row["id"]] = made.pk
            self.made[model._meta.label].append(made.pk if label != "book.servicephoto" else str(made.pk))

    def _ours(self, label: str, row: Row, names: dict[str, str]) -> Row:
        """A row of the file as one of this book: its id is new, what it names is ours."""
        made = {k: (self.ids[names[k]][v] if k in names and v is not None else v) for k, v in row.items()}
        if label != "book.servicephoto":
            del made["id"]
        if label in NAMED:
            made[NAMED[label]] = self.plan.called.get((label, row["id"]), row[NAMED[label]])
        if label == "accounts.person":
            made |= {"role": "viewer", "is_active": False}
        return made


def _photos(plan: Plan, ids: list[str]) -> list[Path]:
    """Put the files of photos in their places; gives what was put there."""
    put = []
    with zipfile.ZipFile(plan.file.path) as packed:
        for photo in ids:
            for small in (False, True):
                target = path_of(apps.get_model("book.servicephoto")._meta.pk.to_python(photo), small)
                name = f"photos/{target.parent.name}/{target.name}"
                if name not in plan.file.photos:
                    continue
                target.parent.mkdir(parents=True, exist_ok=True)
                with packed.open(name) as source, target.open("wb") as out:
                    shutil.copyfileobj(source, out, PIECE)
                put.append(target)
    return put


def _read_again(vehicle: Vehicle) -> None:
    """Read what was written as the pages will; raises Inconsistent where it cannot be read, before anything of it is kept."""
    try:
        for place in vehicle.compartments.select_related("sheet"):
            history(place.pk)
            for revision in place.sheet.revisions.prefetch_related("plugs", "sources"):
                core_sheet(revision, place.variant)
        due_board(clock.today(), vehicle.pk)
    except (LookupError, TypeError, ValueError, AttributeError) as error:
        raise Inconsistent(
            say("What the file says cannot be read here ({error}). Nothing was taken in.", error=error), field="file", value=vehicle.name
        ) from error


def take_vehicle(by: Person, path: Path, name: str) -> tuple[ImportRun, int]:
    """Take a vehicle's file in: what is new comes, what is here stays. Gives the import, by which it is undone, and the vehicle.

    Raises Inconsistent for a file that cannot be taken in, or that brings nothing new.
    """
    require(by, "lead")
    put: list[Path] = []
    try:
        with transaction.atomic():
            plan = plan_for(read_vehicle_file(path))
            if not any(p.state == NEW for p in plan.parts if p.what != "person"):
                raise Inconsistent(say("There is nothing in it that the book does not have."), field="file", value=name)
            taking = _Taking(plan)
            for label in TABLES:
                taking.table(label)
            put = _photos(plan, taking.made.get("book.ServicePhoto", []))  # type: ignore[arg-type]
            vehicle = Vehicle.objects.get(pk=next(iter(taking.ids["fleet.vehicle"].values())))
            _read_again(vehicle)
            made = dict(taking.made)
            counts = {label.split(".")[1].lower(): len(ids) for label, ids in made.items()}
            run = ImportRun.objects.create(
                name=name[:120], state="taken", made=made, counts=counts, by=by, at=clock.now(), taken_at=clock.now()
            )
            audit(by, "vehicle's file taken in", run, {SHELF, vehicle.pk}, called=vehicle.name, workshop=plan.file.workshop, counts=counts)
    except (IntegrityError, KeyError, ValueError) as error:
        for file in put:
            file.unlink(missing_ok=True)
        if isinstance(error, CoreError):
            raise
        raise Inconsistent(
            say("The file contradicts itself or this book ({error}). Nothing was taken in.", error=error), field="file", value=name
        ) from error
    return run, vehicle.pk
