"""A compartment's history as CSV."""

from __future__ import annotations

import csv
import io

from barodex.book.queries import history
from barodex.files.plain import plain_cell

CSV_FIELDS = (
    "on",
    "meter_value",
    "oil",
    "revision",
    "drained_ml",
    "drained_c",
    "drained_15_ml",
    "poured_ml",
    "run_out_ml",
    "additive_ml",
    "net_in_15_ml",
    "inside_15_ml",
    "used_ml",
    "loss_15_ml",
    "loss_within_ml",
    "loss_band",
    "level",
    "colour",
    "clarity",
    "magnet",
    "interval_factor",
    "note",
    "work",
    "by",
)


def history_csv(compartment_id: int) -> str:
    """Give a compartment's history as CSV; a text that a spreadsheet would run is kept a text."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(CSV_FIELDS)
    for view in history(compartment_id).records:
        cells = [getattr(view, f) for f in CSV_FIELDS]
        writer.writerow([plain_cell(c) if isinstance(c, str) else c for c in cells])
    return out.getvalue()
