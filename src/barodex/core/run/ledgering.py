"""The entries of a service at a compartment, from what was noted, and their sums."""

from __future__ import annotations

from dataclasses import replace

from barodex.core.guide.steps import Job
from barodex.core.ledger.balance import EMPTIES, STATED_C, Balance, LedgerEntry, balance, start_of
from barodex.core.ledger.drained import drained_amount, poured_amount
from barodex.core.quantity.expansion import volume_at
from barodex.core.run.state import Act, Ledger
from barodex.core.sheet.work import rinse_ml


def _poured(job: Job, pour: Act, kind: str, cycle: int) -> list[LedgerEntry]:
    """A pour, and what its pump keeps, with the container that both came from."""
    container = pour.values.get("container")
    named = container if isinstance(container, int) else None  # one that is none is refused before it is kept
    found = [LedgerEntry(kind, poured_amount(float(pour.values["volume_ml"]), job.ambient_c), named, cycle)]
    dead = float(pour.values.get("dead_ml") or 0.0)
    if dead:
        found.append(LedgerEntry("pump", poured_amount(dead, job.ambient_c), named, cycle))
    return found


def entries_of(job: Job, ledger: Ledger) -> tuple[LedgerEntry, ...]:
    """Give the entries of a service at a compartment in the order of the work.

    Parameters
    ----------
    job : the compartment
    ledger : what was noted of it, mL

    Returns
    -------
    tuple of LedgerEntry; what flowed through comes first in and then out

    References
    ----------
    None needed.
    """
    method, air = job.sheet.drain_method, job.ambient_c
    way = "sucked" if method == "suction" else "drained"
    found: list[LedgerEntry] = []

    def measured(kind: str, volume_ml: float, temperature_c: float | None = None, cycle: int = 0) -> None:
        found.append(LedgerEntry(kind, drained_amount(volume_ml, method, temperature_c, "cold", air), None, cycle))

    if ledger.ran_ml:
        measured("run-out", ledger.ran_ml)
    together = bool(job.kind_of_work == "flush" and job.sheet.flush_ml)
    if together and ledger.flush_in_ml:
        found.append(LedgerEntry("flush", poured_amount(ledger.flush_in_ml, air)))
    past = list(ledger.past_pours)
    for number, cycle in enumerate(ledger.cycles, 1):
        if cycle.drained is not None:
            found.append(LedgerEntry(way, cycle.drained, None, number))
        left = cycle.poured_ml
        while past and left > 0.05:  # the pours of a cycle are those that sum to it
            pour = past.pop(0)
            left -= float(pour.values["volume_ml"])
            found += _poured(job, pour, "oil", number)
    if ledger.cycle_out is not None and ledger.drained is None and measured_anew(ledger):
        found.append(LedgerEntry(way, ledger.cycle_out, None, len(ledger.cycles) + 1))
    if together and ledger.flush_in_ml and ledger.drained is not None:
        measured("flush-out", ledger.flush_in_ml)  # both came out as one
    if ledger.drained is not None and not job.flows:
        found.append(LedgerEntry(way, ledger.drained))
        if ledger.cloth_ml:
            found.append(LedgerEntry("cloth", drained_amount(ledger.cloth_ml, method, None, "cold", air)))
    if not together and ledger.flush_in_ml:
        found.append(LedgerEntry("flush", poured_amount(ledger.flush_in_ml, air)))
    if not together and ledger.flush_out_ml:
        measured("flush-out", ledger.flush_out_ml)
    if ledger.rinse is not None:
        came_from = ledger.rinse.values.get("container")
        found.append(
            LedgerEntry("rinse", poured_amount(ledger.rinses * rinse_ml(job.sheet), air), came_from if isinstance(came_from, int) else None)
        )
        measured("rinse-out", ledger.rinses * rinse_ml(job.sheet))
    if ledger.full:
        found.append(LedgerEntry("top-up", poured_amount(0.0, air)))
    for pour in ledger.pours:
        found += _poured(job, pour, "top-up" if job.kind_of_work == "top-up" else "oil", 0)
    if job.doses and ledger.pours:
        found += [LedgerEntry("additive", poured_amount(d.volume_ml, air)) for d in job.doses]
    if job.flows and ledger.pours:  # while nobody measured the can, as much as flowed in
        found.append(LedgerEntry("flowed-out", ledger.drained or poured_amount(ledger.poured_ml, air)))
    if ledger.run_out_ml:
        measured("run-out", ledger.run_out_ml, ledger.run_out_c)
    elif ledger.levelled and job.sheet.fill_method == "overflow" and job.sheet.surplus_ml and job.kind_of_work != "top-up":
        surplus = min(job.sheet.surplus_ml, ledger.poured_ml)  # what is poured to run out at the level did, also where nobody measured it
        found.append(
            LedgerEntry("run-out", replace(drained_amount(surplus, method, None, "cold", air), sigma_ml=surplus / 2), assumed=True)
        )
    return tuple(found)


def measured_anew(ledger: Ledger) -> bool:
    """Say whether a drain of a cycle was measured of which nothing is poured yet.

    Parameters
    ----------
    ledger : what was noted

    Returns
    -------
    bool

    References
    ----------
    None needed.
    """
    return ledger.cycle_out is not None


def cycles_ml(job: Job, ledger: Ledger) -> list[tuple[float, float]]:
    """Give what each cycle of an exchange let out and took in.

    Parameters
    ----------
    job, ledger : as :func:`entries_of`

    Returns
    -------
    list of (drained, poured), mL at the temperature for which a sheet states what a box holds

    References
    ----------
    As :func:`barodex.core.quantity.expansion.volume_at`.
    """
    sums: dict[int, list[float]] = {}
    for e in entries_of(job, ledger):
        if 0 < e.cycle <= len(ledger.cycles) and e.kind != "pump":
            place = 0 if e.kind in EMPTIES else 1
            sums.setdefault(e.cycle, [0.0, 0.0])[place] += volume_at(e.amount.volume_ml, e.amount.temperature_c, STATED_C, job.density15)
    return [(out, into) for _, (out, into) in sorted(sums.items())]


def balance_of(job: Job, ledger: Ledger) -> Balance:
    """Give the sums of a service at a compartment so far.

    Parameters
    ----------
    job, ledger : as :func:`entries_of`

    Returns
    -------
    Balance, at 15 °C

    References
    ----------
    As :func:`barodex.core.ledger.balance.balance`.
    """
    sheet = job.sheet
    start = start_of(sheet.drain_method, sheet.capacity_ml, sheet.total_ml, sheet.requirement.residual_ml, job.last_net_in)
    return balance(entries_of(job, ledger), start, job.density15_in or job.density15, job.density15)
