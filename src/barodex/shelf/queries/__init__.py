"""Reads of sheets, oils and stock."""

from .oils import LubricantView, OilOffer, conditions_for, core_lubricant, lubricants, offers, residue_of
from .sheets import (
    ambient_of,
    core_sheet,
    current_revision,
    kit_for,
    kit_items_of,
    marks_of,
    plugs_of,
    requirement,
    scalars_of,
    variants_of,
)
from .stock import additives, bottles, store, store_counts

__all__ = [
    "LubricantView",
    "OilOffer",
    "additives",
    "ambient_of",
    "bottles",
    "conditions_for",
    "core_lubricant",
    "core_sheet",
    "current_revision",
    "kit_for",
    "kit_items_of",
    "lubricants",
    "marks_of",
    "offers",
    "plugs_of",
    "requirement",
    "residue_of",
    "scalars_of",
    "store",
    "store_counts",
    "variants_of",
]
