"""The shopping list as CSV."""

from __future__ import annotations

import csv
import io

from barodex.core.quantity.quantity import Display, display_table, format_quantity
from barodex.core.words import say
from barodex.desk.shopping import ShoppingList
from barodex.files.plain import plain_cell


def _shown(volume_ml: float, by: Display) -> float:
    """An amount as a number in a person's unit."""
    return round(volume_ml * by.factor + by.offset, by.decimals)


def as_csv(made: ShoppingList, system: str) -> str:
    """The list as CSV: what, how much, on hand, to buy, cost; amounts are numbers in the unit of their heading, the person's own."""
    by = display_table(system)["volume"]
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(
        [
            "what",
            "for",
            say("need ({by_label})", by_label=by.label),
            say("on hand ({by_label})", by_label=by.label),
            "need (count)",
            "in store (count)",
            "buy",
            "cost",
        ]
    )
    for o in made.oils:
        packs = " + ".join(f"{p.count} x {format_quantity(p.size_ml, 'volume', system)}" for p in o.buy)
        buy = packs or (say("no pack on offer") if o.no_pack else "nothing")
        amounts = (_shown(o.need_ml, by), _shown(o.on_hand_ml, by))
        cost = "" if o.cost is None else f"{o.cost:.2f}"
        rows.writerow([plain_cell(o.name), plain_cell("; ".join(o.needs)), *amounts, "", "", buy, cost])
    for k in made.kit:
        lacking = max(0, k.item.count - (k.in_store or 0)) if k.state == "missing" else ""
        held = "" if k.in_store is None else k.in_store
        name = k.item.name + ("" if k.item.mandatory else " (if wanted)")
        rows.writerow([plain_cell(name), plain_cell(k.item.use), "", "", k.item.count, held, lacking, ""])
    return out.getvalue()
