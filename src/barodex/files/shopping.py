"""The shopping list as CSV."""

from __future__ import annotations

import csv
import io

from barodex.core.quantity.quantity import format_quantity
from barodex.desk.shopping import ShoppingList
from barodex.files.plain import plain_cell


def as_csv(made: ShoppingList, system: str) -> str:
    """The list as CSV: what, how much, on hand, to buy, cost."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["what", "for", "need", "on hand", "buy", "cost"])
    for o in made.oils:
        packs = " + ".join(f"{p.count} x {format_quantity(p.size_ml, 'volume', system)}" for p in o.buy)
        buy = packs or ("no pack on offer" if o.no_pack else "nothing")
        amounts = (format_quantity(o.need_ml, "volume", system), format_quantity(o.on_hand_ml, "volume", system))
        rows.writerow([plain_cell(o.name), plain_cell("; ".join(o.needs)), *amounts, buy, "" if o.cost is None else f"{o.cost:.2f}"])
    for k in made.kit:
        held = "not counted" if k.in_store is None else str(k.in_store)
        lacking = max(0, k.item.count - (k.in_store or 0)) if k.state == "missing" else ""
        name = k.item.name + ("" if k.item.mandatory else " (if wanted)")
        rows.writerow([plain_cell(name), plain_cell(k.item.use), str(k.item.count), held, str(lacking), ""])
    return out.getvalue()
