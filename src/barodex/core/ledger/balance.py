"""One list of entries a service and a compartment: what went in, what came out; every amount that is told is a sum over it."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from barodex.core.ledger.drained import Amount, at_reference
from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.expansion import DEFAULT_DENSITY15
from barodex.core.sheet.sheet import keeps_some
from barodex.core.words import say

INTO = ("oil", "additive", "top-up", "flush", "rinse")
OUT_OF = ("drained", "sucked", "run-out", "spilled", "flush-out", "rinse-out", "flowed-out")
PART_OF_A_DRAIN = ("sample", "cloth")  # taken from what was drained: never more than it
BESIDE = ("pump",)  # drawn from a container and never inside: the dead volume of a pump
ENTRY_KINDS = (*INTO, *OUT_OF, *PART_OF_A_DRAIN, *BESIDE)
EMPTIES = ("drained", "sucked")
USED = ("drained", "sucked", "run-out", "flush-out", "rinse-out", "flowed-out", "pump")  # what goes into the can for used oil
ENTRY_WORDS = {
    "oil": "oil in",
    "additive": "additive in",
    "top-up": "topped up",
    "flush": say("flush fluid in"),
    "rinse": "rinse in",
    "drained": "drained",
    "sucked": "sucked out",
    "run-out": "ran out",
    "spilled": "spilled",
    "flush-out": say("flush fluid out"),
    "rinse-out": "rinse out",
    "flowed-out": say("flowed out while new oil flowed in"),
    "sample": say("sample, of what came out"),
    "cloth": say("on the cloth, of what came out"),
    "pump": say("stayed in the pump"),
}


@dataclass(frozen=True)
class LedgerEntry:
    """One amount, in the order of the work: one of :data:`ENTRY_KINDS`, mL as measured with its temperature and σ.

    ``container``: the number of the one that it came from, None from elsewhere; ``cycle``: of an exchange, from 1 on, 0 the last or only one;
    ``assumed``: nobody measured it.
    """

    kind: str
    amount: Amount
    container: int | None = None
    cycle: int = 0
    assumed: bool = False


@dataclass(frozen=True)
class Start:
    """What a compartment was before a service.

    ``inside``: what was in it, None unknown. ``empties``: whether a drain lets all out but ``residual_ml``; where it does not, what was
    inside less what came out stays.
    """

    inside: Amount | None = None
    empties: bool = True
    residual_ml: float = 0.0


STATED_C = 20.0  # a capacity is stated for a workshop's temperature (common practice)
TOTAL_SIGMA = 0.03  # of a dry capacity as a sheet states it (common practice)


def start_of(
    drain_method: str, capacity_ml: float | None, total_ml: float | None, residual_ml: float | None, inside: Amount | None = None
) -> Start:
    """Give what a compartment was before a service, as far as its sheet and its past say.

    Parameters
    ----------
    drain_method : plug, suction or cover
    capacity_ml, total_ml, residual_ml : what a change takes, what the dry box holds, what a drain leaves, mL; None unknown
    inside : what was inside by its last service; None unknown

    Returns
    -------
    Start

    References
    ----------
    A drain of a box that keeps a part leaves the rest; any other lets all out but what the sheet says stays. Common practice.
    """
    if not keeps_some(drain_method, capacity_ml, total_ml):
        return Start(inside, True, residual_ml or 0.0)
    sucked = drain_method == "suction"
    if sucked and inside is not None:
        return Start(inside, False)
    held = capacity_ml if sucked else total_ml
    return Start(None if held is None else Amount(held, STATED_C, TOTAL_SIGMA * held), False)


@dataclass(frozen=True)
class Balance:
    """The sums of a service at a compartment, each at 15 °C with its σ; None where nothing says it.

    ``net_in``: what stays of what went in since the last drain or suction, None where it flowed through; ``put_in`` over the whole service; ``inside`` with what was
    left behind; ``drained`` all drains; ``first_out``: the old oil, which is set against the fill before; ``old_out_ml``: of all that
    came out, what was old; ``used_ml``: for the can. ``drawn_ml`` by container, as poured. Shares are of what is inside.
    """

    net_in: Amount | None
    put_in: Amount | None
    inside: Amount | None
    drained: Amount | None
    first_out: Amount | None
    old_out_ml: float
    used_ml: float
    drawn_ml: Mapping[int, float]
    fresh_share: float | None
    additive_share: float | None


def _sum(amounts: Sequence[Amount], signs: Sequence[int] | None = None) -> Amount | None:
    """A sum with its σ in quadrature; None of nothing."""
    if not amounts:
        return None
    total = sum(a.volume_ml * s for a, s in zip(amounts, signs or (1,) * len(amounts), strict=True))
    return Amount(total, 15.0, math.sqrt(sum(a.sigma_ml**2 for a in amounts)))


def _stays(kind: str) -> int:
    """What an entry adds to what is inside: in 1, out −1, a part of a drain or what never was inside 0."""
    return 1 if kind in INTO else -1 if kind in OUT_OF else 0


def balance(
    entries: Iterable[LedgerEntry], start: Start = Start(), density15: float = DEFAULT_DENSITY15, density15_before: float | None = None
) -> Balance:
    """Sum the entries of a service at a compartment.

    Parameters
    ----------
    entries : in the order of the work; volumes 0 to 1 000 000 mL
    start : what the compartment was before
    density15 : of what goes in, kg/m³ at 15 °C
    density15_before : of the oil that was inside; as the new one when None

    Returns
    -------
    Balance

    Raises
    ------
    Inconsistent : an entry of another kind
    OutOfRange : an amount or a density outside its range

    References
    ----------
    Conservation of volume at 15 °C, ASTM D1250 for the temperature; σ in quadrature, JCGM 100 (GUM) 5.1.2. Perfect mixing at each fill,
    as :func:`barodex.core.ledger.exchange.drain_refill`; what flows through as :func:`barodex.core.ledger.exchange.flow_exchange`.
    """
    rows = []
    for e in entries:
        if e.kind not in ENTRY_KINDS:
            raise Inconsistent(
                say("“{kind}” is no entry of a ledger.", kind=e.kind), field="kind", value=e.kind, allowed=", ".join(ENTRY_KINDS)
            )
        in_range("volume_ml", e.amount.volume_ml, 0, 1_000_000, "mL")
        rows.append(e)
    first_in = next((k for k, e in enumerate(rows) if e.kind in INTO), len(rows))
    before = density15_before or density15
    at_15 = [at_reference(e.amount, before if k < first_in else density15) for k, e in enumerate(rows)]
    last_drain = max((k for k, e in enumerate(rows) if e.kind in EMPTIES), default=-1)

    def of(kinds: Sequence[str], since: int = 0, until: int | None = None) -> list[int]:
        return [k for k, e in enumerate(rows) if e.kind in kinds and since <= k < (len(rows) if until is None else until)]

    def summed(places: Sequence[int]) -> Amount | None:
        return _sum([at_15[k] for k in places], [_stays(rows[k].kind) for k in places])

    went_in = of(INTO)
    stayed = of((*INTO, *OUT_OF), last_drain + 1)
    drawn: dict[int, float] = defaultdict(float)
    for e in rows:
        if e.container is not None and e.kind not in OUT_OF:
            drawn[e.container] += e.amount.volume_ml
    inside, fresh, additive, old_out = _mixed(rows, at_15, start, None if start.inside is None else at_reference(start.inside, before))
    return Balance(
        net_in=summed(stayed) if of(INTO, last_drain + 1) and not of(("flowed-out",)) else None,
        put_in=summed(went_in),
        inside=inside,
        drained=_sum([at_15[k] for k in of(EMPTIES)]),
        first_out=_sum([at_15[k] for k in of((*EMPTIES, "run-out"), 0, first_in)]) if of(EMPTIES, 0, first_in) else None,
        old_out_ml=old_out,
        used_ml=sum(e.amount.volume_ml for e in rows if e.kind in USED),
        drawn_ml=dict(drawn),
        fresh_share=fresh,
        additive_share=additive,
    )


def _mixed(
    rows: Sequence[LedgerEntry], at_15: Sequence[Amount], start: Start, inside: Amount | None
) -> tuple[Amount | None, float | None, float | None, float]:
    """What is inside in the end, the fresh share and the additive's share of it, and what was old of all that came out."""
    # A fill of which nobody measured what came out before it says nothing of what is inside in all.
    measured = start.empties or any(e.kind in (*EMPTIES, "flowed-out") for e in rows) or not any(e.kind == "oil" for e in rows)
    known = inside is not None and measured
    volume = inside.volume_ml if inside else 0.0
    variance = inside.sigma_ml**2 if inside else 0.0
    fresh = additive = old_out = 0.0
    for e, a in zip(rows, at_15, strict=True):
        if e.kind in INTO:
            volume += a.volume_ml
            fresh += a.volume_ml
            additive += a.volume_ml if e.kind == "additive" else 0.0
            variance += a.sigma_ml**2
        elif e.kind in OUT_OF:
            share = min(1.0, fresh / volume) if volume > 0 else 0.0
            old_out += a.volume_ml * (1.0 - share)
            left = max(0.0, volume - a.volume_ml)
            if e.kind in EMPTIES and start.empties:
                left, variance, known = start.residual_ml, 0.0, True
            else:
                variance += a.sigma_ml**2
            kept = min(1.0, left / volume) if volume > 0 else 0.0
            if e.kind == "flowed-out" and left > 0:  # mixed all the while, as a stirred vessel
                kept = left * (1.0 - math.exp(-fresh / left)) / fresh if fresh > 0 else 0.0
            volume, fresh, additive = left, fresh * kept, additive * kept
    if not known or volume <= 0:
        return None, None, None, old_out
    return Amount(volume, 15.0, math.sqrt(variance)), min(1.0, fresh / volume), additive / volume, old_out
