"""The shopping list: what chosen compartments need, what is on hand, the cheapest packs for the rest, a drum or not, and the kit."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from barodex import clock
from barodex.bay.pouring import reserved_ml
from barodex.choose.judging import COMPARTMENTS, Answers, compartment_oils, last_oil, need_of, revision_of, variant_of
from barodex.core.due.schedule import OwnRule, plan_for
from barodex.core.ledger.purchase import Drum, Need, Pack, drum_offer, purchase_plan
from barodex.core.oil.lubricant import VERDICTS
from barodex.core.quantity.errors import CoreError, Inconsistent, in_range
from barodex.core.sheet.kit import KitLine, join_kits, readiness
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.fleet.rules import rules_of, sheet_interval
from barodex.plan.queries import CompartmentDue, due_board
from barodex.shelf.models import Lubricant
from barodex.shelf.queries import kit_for, store_counts
from barodex.shelf.queries.oils import OilOffer, PackCount
from barodex.shelf.queries.stock import held_ml
from barodex.workshop.schedule import schedule_policy

MOST_WEEKS = 104
DUE_NOW = ("stop", "overdue", "due", "unknown")


@dataclass(frozen=True)
class Wish:
    """What to shop for: compartments, or everything due within some weeks; the pump's dead volume in mL; oils chosen otherwise.

    ``oils`` and ``estimates_ml`` by compartment.
    """

    compartments: tuple[int, ...] = ()
    weeks: int | None = None
    pump_ml: float = 0.0
    coldest_c: float | None = None
    oils: tuple[tuple[int, int], ...] = ()
    estimates_ml: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class OilChoice:
    """An oil that may be chosen for a compartment."""

    lubricant: int
    name: str
    verdict: str


@dataclass(frozen=True)
class NeedLine:
    """What one compartment takes, of which oil and with which verdict; no ``need`` when nothing is known of its amount."""

    compartment: int
    name: str
    vehicle_id: int
    state: str
    on: dt.date | None
    oil: str
    lubricant: int | None
    verdict: str
    why: str
    choices: tuple[OilChoice, ...]
    need: Need | None


@dataclass(frozen=True)
class OilToBuy:
    """One oil: the needs summed, on hand, short, the cheapest packs, and a drum against them."""

    lubricant: int
    name: str
    need_ml: float
    needs: tuple[str, ...]
    on_hand_ml: float
    short_ml: float
    buy: tuple[PackCount, ...]
    cost: float | None
    leftover_ml: float
    no_pack: bool
    drum: Drum | None


@dataclass(frozen=True)
class ToolLine:
    """A key or tool with what it is for."""

    name: str
    use: str


@dataclass(frozen=True)
class ShoppingList:
    """Everything to fetch or buy."""

    made_on: dt.date
    needs: tuple[NeedLine, ...]
    oils: tuple[OilToBuy, ...]
    cost: float
    kit: tuple[KitLine, ...]
    missing: tuple[str, ...]
    unknown: tuple[str, ...]


def _chosen(wish: Wish) -> tuple[list[int], dict[int, CompartmentDue]]:
    board = due_board(clock.today())
    due = {c.id: c for v in board.vehicles for c in v.compartments}
    if wish.weeks is None:
        missing = [pk for pk in wish.compartments if pk not in due]
        if missing:
            raise Inconsistent(say("There is no such compartment."), field="compartments", value=missing[0])
        return list(dict.fromkeys(wish.compartments)), due
    in_range("weeks", wish.weeks, 0, MOST_WEEKS, "weeks")
    until = board.today + dt.timedelta(weeks=wish.weeks)
    soon = [pk for pk, c in due.items() if c.in_service is None and (c.state in DUE_NOW or (c.on is not None and c.on <= until))]
    return list(dict.fromkeys([*wish.compartments, *soon])), due


def _best(offers: tuple[OilOffer, ...], wanted: int | None, last: str) -> OilOffer | None:
    """The oil asked for; else the one used last where it is as good as the best; else the best, an oil on hand before others."""
    if wanted is not None:
        found = next((o for o in offers if o.lubricant == wanted), None)
        if found is None:
            raise Inconsistent(say("There is no such oil on the list."), field="oils", value=wanted)
        return found
    fit = [o for o in offers if o.verdict != "reject"]
    if not fit:
        return None
    equals = [o for o in fit if VERDICTS.index(o.verdict) <= max(1, VERDICTS.index(fit[0].verdict))]
    return next(
        (o for o in equals if o.name == last), next((o for o in equals if o.verdict == fit[0].verdict and o.on_hand_ml > 0), fit[0])
    )


def shopping_list(wish: Wish) -> ShoppingList:
    """Make the list; raises OutOfRange or Inconsistent for a wish that cannot be."""
    in_range("pump_ml", wish.pump_ml, 0, 1000, "mL")
    chosen, due = _chosen(wish)
    boxes = {c.pk: c for c in COMPARTMENTS.filter(pk__in=chosen)}
    asked_oils, estimates = dict(wish.oils), dict(wish.estimates_ml)
    lines, kits = [], []
    taken = reserved_ml()
    pumped: set[int] = set()
    for pk in chosen:
        c = boxes[pk]
        revision = revision_of(c)
        variant = variant_of(c, revision, Answers())
        found = compartment_oils(pk, taken, Answers(coldest_c=wish.coldest_c)).offers
        oil = _best(found, asked_oils.get(pk), last_oil(c)[0])
        pump = wish.pump_ml if oil and oil.lubricant not in pumped else 0.0
        need = need_of(revision, variant, (), pump, estimates.get(pk))
        if oil and need and pump:
            pumped.add(oil.lubricant)
        name = f"{c.vehicle.name}, {c.name}"
        kits.append((name, kit_for(revision, variant)))
        choices = tuple(OilChoice(o.lubricant, o.name, o.verdict) for o in found)
        lines.append(
            NeedLine(
                compartment=pk,
                name=name,
                vehicle_id=c.vehicle_id,
                state=due[pk].state,
                on=due[pk].on,
                oil=oil.name if oil else "",
                lubricant=oil.lubricant if oil else None,
                verdict=oil.verdict if oil else "reject",
                why=oil.reasons[0].text if oil and oil.reasons else say("No oil on the list fits.") if oil is None else "",
                choices=choices,
                need=need,
            )
        )
    oils = _oil_lines(lines, taken)
    kit = readiness(join_kits(kits), store_counts())
    return ShoppingList(
        clock.today(),
        tuple(lines),
        oils,
        round(sum(o.cost or 0.0 for o in oils), 2),
        kit,
        tuple(k.item.name for k in kit if k.state == "missing" and k.item.mandatory),
        tuple(x.name for x in lines if x.need is None or x.lubricant is None),
    )


def _oil_lines(lines: list[NeedLine], taken: Mapping[int, float]) -> tuple[OilToBuy, ...]:
    """The needs by oil, what is on hand first, and the cheapest packs for the rest."""
    by_oil: dict[int, list[NeedLine]] = defaultdict(list)
    for x in lines:
        if x.lubricant is not None and x.need is not None:
            by_oil[x.lubricant].append(x)
    rows = {o.pk: o for o in Lubricant.objects.filter(pk__in=by_oil).prefetch_related("packs", "containers")}
    needs = {rows[pk].name: sum(x.need.total_ml for x in found if x.need) for pk, found in by_oil.items()}
    packs = {o.name: [Pack(p.size_ml, None if p.price is None else float(p.price)) for p in o.packs.all()] for o in rows.values()}
    held = {o.name: held_ml(o, taken) for o in rows.values()}
    plans = {p.lubricant: p for p in purchase_plan(needs, packs, held)}
    a_year = _services_a_year()
    found = []
    for pk, wanted in by_oil.items():
        name, plan = rows[pk].name, plans.get(rows[pk].name)
        times = sum(a_year.get(x.compartment, 0.0) for x in wanted)
        mean_ml = needs[name] / len(wanted)
        try:
            drum = drum_offer(mean_ml, times, packs[name], 15_000)
        except CoreError:
            drum = None
        found.append(
            OilToBuy(
                lubricant=pk,
                name=name,
                need_ml=needs[name],
                needs=tuple(x.name for x in wanted),
                on_hand_ml=held[name],
                short_ml=plan.short_ml if plan else 0.0,
                buy=tuple(PackCount(p.size_ml, n) for p, n in plan.packs) if plan else (),
                cost=0.0 if plan is None else None if plan.cost is None else round(plan.cost, 2),
                leftover_ml=plan.leftover_ml if plan else held[name] - needs[name],
                no_pack=bool(plan and not plan.packs),
                drum=drum,
            )
        )
    return tuple(sorted(found, key=lambda o: o.name))


def _services_a_year() -> dict[int, float]:
    """How often each compartment falls due in a year, by its use and its interval; the limit that comes round most often counts."""
    found: dict[int, float] = {}
    rates = {v.id: (v.per_day, v.meter) for v in due_board(clock.today()).vehicles}
    rules, policy = rules_of(), schedule_policy()
    for c in (
        Compartment.objects.filter(removed_on=None, vehicle__retired_on=None)
        .select_related("sheet", "vehicle")
        .prefetch_related("sheet__revisions")
    ):
        revision = revision_of(c)
        limits = plan_for(c.sheet.kind, sheet_interval(revision), rules.get(c.pk, OwnRule()), policy).limits
        per_day, meter = rates.get(c.vehicle_id, (0.0, "km"))
        road, hours = limits.distance_km.get("road"), limits.hours
        by_meter = per_day * 365.25 / road if meter == "km" and road else per_day * 365.25 / hours if meter == "h" and hours else 0.0
        found[c.pk] = max(by_meter, 12 / limits.months if limits.months else 0.0)
    return found
