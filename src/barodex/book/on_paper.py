"""Earlier changes as they stand on paper or in a spreadsheet: which amounts cannot be, and which are odd; as the Bay asks."""

from __future__ import annotations

from barodex.core.guide.steps import POUR_TOLERANCE
from barodex.core.ledger.drained import drained_sigma_ml
from barodex.core.quantity.errors import in_range
from barodex.core.quantity.working import ml
from barodex.core.sheet.plausible import less_than_it_should, more_than_it_holds
from barodex.core.sheet.sheet import Sheet, candidates_ml
from barodex.core.words import say


def odd_amounts(sheet: Sheet, drained_ml: float | None, poured_ml: float | None, filled_before: bool) -> list[tuple[str, str, float]]:
    """What is odd of the amounts of a change, each with its field and value; ``filled_before``: a fill is on record to hold it against.

    Raises OutOfRange for what cannot be.
    """
    most = max((m for m in (sheet.capacity_ml, sheet.total_ml, *candidates_ml(sheet)) if m is not None), default=None)
    odd = []
    for name, words, volume in (("drained_ml", "came out", drained_ml), ("poured_ml", "went in", poured_ml)):
        if volume is None:
            continue
        in_range(name, volume, 1, 60_000, "mL")
        sigma = drained_sigma_ml(volume, sheet.drain_method)
        over = most is not None and more_than_it_holds(name, volume, sigma, most)
        if name == "drained_ml" and _is_short(sheet, volume, sigma, filled_before):
            odd.append(
                (
                    name,
                    say("{volume} came out, the sheet says {ml}: it ran low, or the sheet is wrong.", volume=ml(volume), ml=ml(most or 0)),
                    volume,
                )
            )
        if name == "poured_ml" and _is_off(sheet, volume):
            odd.append((name, say("{volume} went in, the sheet says {ml}.", volume=ml(volume), ml=ml(sheet.capacity_ml or 0)), volume))
        elif over:
            odd.append((name, say("{volume} {words}, the sheet says {ml}.", volume=ml(volume), words=words, ml=ml(most or 0)), volume))
    return odd


def _is_short(sheet: Sheet, drained_ml: float, sigma: float, filled_before: bool) -> bool:
    """Whether far too little came out, where no fill is on record to hold it against."""
    if filled_before or len(candidates_ml(sheet)) > 1 or sheet.capacity_ml is None or sheet.keeps_some:
        return False
    return less_than_it_should(drained_ml, sigma, sheet.capacity_ml)


def _is_off(sheet: Sheet, poured_ml: float) -> bool:
    """Whether what went in is further off a capacity that is no guess than the Bay lets go without a reason."""
    if sheet.capacity_ml is None or sheet.keeps_some or len(candidates_ml(sheet)) > 1 or sheet.trust.get("capacity") == "guessed":
        return False
    return abs(poured_ml - sheet.capacity_ml) > POUR_TOLERANCE[sheet.fill_method] * sheet.capacity_ml + sheet.surplus_ml
