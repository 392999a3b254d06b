"""Reads of sheets, oils and stock."""

from .oils import LubricantView, OilOffer, conditions_for, core_lubricant, lubricants, offers, residue_of
from .sheets import ambient_of, core_sheet, current_revision, kit_for, kit_items_of, marks_of, requirement, variants_of
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
    "requirement",
    "residue_of",
    "store",
    "store_counts",
    "variants_of",
]
