"""Changes of sheets, oils and stock: one function a change, with its permission, check, change and audit entry."""

from barodex.shelf.actions.stock import count_item, draw, recount, stock_container, take_out, use_item

from .oils import Oil, Tonic, add_additive, add_lubricant, change_lubricant
from .sheets import (
    FIGURES_WITH_SOURCE,
    Figures,
    Said,
    Source,
    add_claim,
    choose_claim,
    copy_sheet,
    figures_of,
    revise_sheet,
    trust_figure,
    write_sheet,
)

__all__ = [
    "FIGURES_WITH_SOURCE",
    "Figures",
    "Oil",
    "Said",
    "Source",
    "Tonic",
    "add_additive",
    "add_claim",
    "add_lubricant",
    "change_lubricant",
    "choose_claim",
    "copy_sheet",
    "count_item",
    "draw",
    "figures_of",
    "recount",
    "revise_sheet",
    "stock_container",
    "take_out",
    "trust_figure",
    "use_item",
    "write_sheet",
]
