"""A guide while it is led: acts, the state that they fold to, gaps, time taken, and the state of the vehicle.

Nothing here builds a step.
"""

from barodex.core.run.exchanging import exchange_outlook, fresh_share
from barodex.core.run.folding import ACT_KINDS, UNDOABLE, accept, fold
from barodex.core.run.ledgering import balance_of, entries_of
from barodex.core.run.measuring import drained_loss, measured_amount
from barodex.core.run.seen import assess_finding, finding_from
from barodex.core.run.state import Act, Ledger, State, StepState

__all__ = [
    "ACT_KINDS",
    "UNDOABLE",
    "Act",
    "Ledger",
    "State",
    "StepState",
    "accept",
    "assess_finding",
    "balance_of",
    "drained_loss",
    "entries_of",
    "exchange_outlook",
    "finding_from",
    "fold",
    "fresh_share",
    "measured_amount",
]
