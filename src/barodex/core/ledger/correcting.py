"""By how many drains a wrong fluid comes out."""

from __future__ import annotations

from barodex.core.kinds.kind import kind_of
from barodex.core.ledger.exchange import cycles_needed
from barodex.core.sheet.sheet import Sheet

CORRECTED = 0.95  # fresh share to which a wrong fluid is exchanged out (common practice)


FIVE_HALF_DRAINS = 5  # give 96.9 % fresh, where the sheet does not say how much is inside in all (common practice)


def correction_cycles(sheet: Sheet) -> int:
    """Give by how many drains a wrong fluid comes out of a box that keeps much of its oil at each.

    Parameters
    ----------
    sheet : the compartment's

    Returns
    -------
    int; 1 where one drain empties it, or where it is not drained by a plug

    References
    ----------
    Common practice: an automatic is not drained once and rinsed; as :func:`barodex.core.ledger.exchange.cycles_needed`.
    """
    if not kind_of(sheet.kind).keeps_oil or sheet.drain_method != "plug":
        return 1
    if sheet.total_ml is None or sheet.capacity_ml is None or sheet.capacity_ml >= sheet.total_ml:
        return FIVE_HALF_DRAINS if sheet.total_ml is None or sheet.capacity_ml is None else 1
    return cycles_needed(sheet.total_ml, sheet.capacity_ml, CORRECTED).count
