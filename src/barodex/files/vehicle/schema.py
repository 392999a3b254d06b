"""The published schema of a vehicle's file, made from the tables that it carries."""

from __future__ import annotations

import functools
from typing import Any

from django.apps import apps
from django.db import models

from barodex.core.words import say

from .gather import FORMAT, TABLES, VERSION, names_of

_TYPES: tuple[tuple[type[models.Field], dict[str, Any]], ...] = (
    (models.BooleanField, {"type": "boolean"}),
    (models.JSONField, {}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.DateField, {"type": "string", "format": "date"}),
    (models.UUIDField, {"type": "string", "format": "uuid"}),
    (models.DecimalField, {"type": "string", "pattern": r"^-?\d+(\.\d+)?$"}),
    (models.FloatField, {"type": "number"}),
    (models.IntegerField, {"type": "integer"}),
    (models.CharField, {"type": "string"}),
    (models.TextField, {"type": "string"}),
)


def _property(field: Any) -> dict[str, Any]:
    if isinstance(field, models.ForeignKey):
        said: dict[str, Any] = {
            "type": "integer",
            "description": say("id of a row of {label_lower}", label_lower=field.related_model._meta.label_lower),
        }
    else:
        said = dict(next(s for kind, s in _TYPES if isinstance(field, kind)))
        if isinstance(field, models.CharField) and field.max_length:
            said["maxLength"] = field.max_length
    if field.null and "type" in said:
        said["type"] = [said["type"], "null"]
    return said


def _table(label: str) -> dict[str, Any]:
    model = apps.get_model(label)
    fields = {f.attname: f for f in model._meta.local_concrete_fields}
    names = names_of(label)
    must = [n for n in names if not fields[n].null and not fields[n].has_default() and not fields[n].blank]
    return {
        "type": "array",
        "items": {
            "type": "object",
            "properties": {n: _property(fields[n]) for n in names},
            "required": sorted({"id", *must}),
            "additionalProperties": False,
        },
    }


@functools.cache
def schema() -> dict[str, Any]:
    """JSON Schema of ``vehicle.json``; amounts in mL, temperatures in °C, run in km or h as the vehicle counts."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": say("A vehicle's file"),
        "type": "object",
        "required": ["format", "version", "made", "vehicle", "members", "rows"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "made": {"type": "string", "format": "date-time"},
            "workshop": {"type": "string", "maxLength": 80, "description": say("where it was written")},
            "vehicle": {"type": "string"},
            "plate": {"type": "string"},
            "left_behind": {"type": "integer", "description": say("changes of its boxes that were written at other vehicles")},
            "members": {"type": "object", "additionalProperties": {"type": "string"}, "description": say("SHA-256 of every other member")},
            "rows": {
                "type": "object",
                "properties": {label: _table(label) for label in TABLES},
                "required": list(TABLES),
                "additionalProperties": False,
            },
        },
    }
