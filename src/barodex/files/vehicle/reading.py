"""A vehicle's file, opened and proved against its schema; nothing of it is believed before."""

from __future__ import annotations

import json
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import jsonschema
from django.apps import apps
from django.db.models import ForeignKey

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.files.whole.zipped import BROKEN, prove

from .gather import CONTENT, FORMAT, NOT_HERE, TABLES, VERSION
from .schema import schema

FOREIGN = say("This is no vehicle's file of Barodex, or it is damaged.")
MOST_CONTENT = 200 * 1024 * 1024  # bytes of vehicle.json, unpacked
Row = dict[str, Any]


@dataclass(frozen=True)
class VehicleFile:
    """What stands in a file: where and when it was written, its rows by table, and which photos it brings."""

    path: Path
    made: str
    workshop: str
    left_behind: int
    rows: dict[str, list[Row]]
    photos: frozenset[str]

    def by_id(self, label: str) -> dict[Any, Row]:
        """The rows of a table by their id in the file."""
        return {r["id"]: r for r in self.rows[label]}


def _refuse(sentence: str, value: object = "") -> Inconsistent:
    return Inconsistent(sentence, field="file", value=str(value))


def read_vehicle_file(path: Path) -> VehicleFile:
    """Open a file; raises Inconsistent for one that is broken, foreign or newer, with where it is wrong."""
    try:
        with zipfile.ZipFile(path) as packed:
            if packed.getinfo(CONTENT).file_size > MOST_CONTENT:
                raise _refuse(say("The file is too large for one vehicle."), packed.getinfo(CONTENT).file_size)
            content = json.loads(packed.read(CONTENT))
            if content["format"] != FORMAT:
                raise _refuse(FOREIGN, content["format"])
            if content["version"] > VERSION:
                raise _refuse(say("This file was written by a newer Barodex: upgrade first."), content["version"])
            _validate(content)
            prove(packed, content["members"])
    except Inconsistent:
        raise
    except BROKEN as error:
        raise _refuse(FOREIGN) from error
    made = VehicleFile(
        path=path,
        made=content["made"],
        workshop=content.get("workshop", ""),
        left_behind=content.get("left_behind", 0),
        rows=content["rows"],
        photos=frozenset(n for n in content["members"] if n.startswith("photos/")),
    )
    _whole(made)
    return made


def _validate(content: dict[str, Any]) -> None:
    checker = jsonschema.Draft202012Validator(schema(), format_checker=jsonschema.FormatChecker(("date",)))
    worst = jsonschema.exceptions.best_match(checker.iter_errors(content))
    if worst is not None:
        where = ".".join(str(p) for p in worst.absolute_path)
        raise _refuse(
            say("The file does not fit its schema at {where}: {message}.", where=where or "its head", message=worst.message[:160]), where
        )


def _whole(file: VehicleFile) -> None:
    """Refuse a row that names another which is not in the file, or two vehicles."""
    if len(file.rows["fleet.vehicle"]) != 1:
        raise _refuse(say("A vehicle's file holds one vehicle."), len(file.rows["fleet.vehicle"]))
    ids = {label: set(file.by_id(label)) for label in TABLES}
    for label in TABLES:
        for field in apps.get_model(label)._meta.local_fields:
            other = field.related_model._meta.label_lower if isinstance(field, ForeignKey) and field.related_model else ""
            if not other or field.attname in NOT_HERE.get(label, ()):
                continue
            for row in file.rows[label]:
                named = row.get(field.attname)
                if named is not None and named not in ids[other]:
                    raise _refuse(
                        say(
                            "The file is damaged: {label} {row} names a {other} that is not in it.", label=label, row=row["id"], other=other
                        ),
                        named,
                    )
