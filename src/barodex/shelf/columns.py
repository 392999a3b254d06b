"""The columns of a sheet's figures, made from their declaration."""

from __future__ import annotations

from django.db import models

from barodex.core.sheet.figures import QUANTITIES, Declared, declared


def column(of: Declared) -> models.Field:
    """The column that keeps a figure."""
    meaning = of.meaning
    if meaning.several:
        return models.JSONField(default=list)
    if meaning.kind in QUANTITIES or meaning.kind == "minutes":
        return models.FloatField(null=True)
    if meaning.kind == "months":
        return models.PositiveIntegerField(null=True)
    if meaning.kind == "count":
        return models.PositiveIntegerField(default=of.default)
    if meaning.kind == "three":
        return models.BooleanField(null=True)
    if meaning.kind == "flag":
        return models.BooleanField(default=of.default)
    if meaning.kind == "text":
        return models.CharField(max_length=meaning.longest, blank=True)
    unknown = {"default": of.default} if of.default == "unknown" else {}
    choices = [(c, c or "not stated") for c in meaning.choices]
    return models.CharField(max_length=meaning.longest, choices=choices, blank="" in meaning.choices, **unknown)


def _base() -> type[models.Model]:
    meta = type("Meta", (), {"abstract": True})
    return type("FigureColumns", (models.Model,), {"__module__": __name__, "Meta": meta, **{n: column(of) for n, of in declared().items()}})


FigureColumns = _base()
