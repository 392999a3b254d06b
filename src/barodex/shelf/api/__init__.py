"""Sheets, oils and stock over HTTP."""

from barodex.shelf.api.oils import Additives, Lubricant, Lubricants, Scales
from barodex.shelf.api.sheets import (
    ChooseClaim,
    Claims,
    Compare,
    CopySheet,
    DeclaredSheet,
    Figures,
    Guide,
    Sheet,
    SheetFile,
    SheetNames,
    SheetReading,
    Sheets,
    SheetSchema,
    Trust,
)
from barodex.shelf.api.stock import Container, Containers, Recount, Store, TakeOut

__all__ = [
    "Additives",
    "ChooseClaim",
    "Claims",
    "Compare",
    "Container",
    "Containers",
    "CopySheet",
    "DeclaredSheet",
    "Figures",
    "Guide",
    "Lubricant",
    "Lubricants",
    "Recount",
    "Scales",
    "Sheet",
    "SheetFile",
    "SheetNames",
    "SheetReading",
    "SheetSchema",
    "Sheets",
    "Store",
    "TakeOut",
    "Trust",
]
