"""Reads of oils: what is on the list, where each may go, and the shelf ordered for a compartment."""

from __future__ import annotations

from dataclasses import dataclass

from barodex.core.ledger.purchase import Pack as CorePack
from barodex.core.ledger.purchase import purchase_plan
from barodex.core.oil.grade_rules import thickness_of
from barodex.core.oil.judge import judge, rank
from barodex.core.oil.lubricant import VERDICTS, Dose, OilConditions, OilPolicy, OilReason, Requirement, Residue
from barodex.core.oil.lubricant import Lubricant as CoreLubricant
from barodex.core.oil.viscosity import Thickness

from ..models import Lubricant
from .stock import ContainerView, container_view, held_ml, on_the_shelf


def core_lubricant(oil: Lubricant) -> CoreLubricant:
    """The core's view of an oil."""
    return CoreLubricant(
        name=oil.name,
        family=oil.family,
        grade=oil.grade,
        categories=oil.categories,
        friction_modifier=oil.friction_modifier,
        declared_safe_for_yellow_metal=oil.safe_for_yellow_metal,
        copper_strip=oil.copper_strip,
        kv40=oil.kv40,
        kv100=oil.kv100,
        density15=oil.density15,
        base=oil.base,
        approvals=tuple(oil.approvals),
        detergent=oil.detergent,
    )


@dataclass(frozen=True)
class PackView:
    size_ml: float
    price: float | None


@dataclass(frozen=True)
class LubricantView:
    """An oil with what is on the shelf of it; ``thickness`` measured, or estimated from its grade and marked so."""

    id: int
    name: str
    family: str
    grade: str
    categories: str
    density15: float | None
    friction_modifier: bool
    safe_for_yellow_metal: bool
    settles: bool
    kv40: float | None
    kv100: float | None
    base: str
    copper_strip: str
    approvals: tuple[str, ...]
    detergent: bool | None
    version: int
    thickness: Thickness | None
    viscosity_index: float | None
    packs: tuple[PackView, ...]
    containers: tuple[ContainerView, ...]
    on_hand_ml: float


def _index(thickness: Thickness | None) -> float | None:
    from barodex.core.oil.viscosity import viscosity_index
    from barodex.core.quantity.errors import CoreError

    if thickness is None or thickness.estimated:
        return None
    try:
        return viscosity_index(thickness.kv40, thickness.kv100)
    except CoreError:
        return None


_PLAIN = tuple(LubricantView.__dataclass_fields__)[:13]


def lubricants() -> list[LubricantView]:
    """Every oil by name, with its packs and containers that are not empty."""
    views = []
    for oil in Lubricant.objects.prefetch_related("packs", "containers__vehicle"):
        held = [c for c in oil.containers.all() if c.content_ml > 0]
        thickness = thickness_of(core_lubricant(oil))
        views.append(
            LubricantView(
                *(getattr(oil, f) for f in _PLAIN),
                approvals=tuple(oil.approvals),
                detergent=oil.detergent,
                version=oil.version,
                thickness=thickness,
                viscosity_index=_index(thickness),
                packs=tuple(PackView(p.size_ml, None if p.price is None else float(p.price)) for p in oil.packs.all()),
                containers=tuple(container_view(c) for c in held),
                on_hand_ml=sum(c.content_ml for c in on_the_shelf(held)),
            )
        )
    return views


@dataclass(frozen=True)
class PackCount:
    size_ml: float
    count: int


@dataclass(frozen=True)
class OilOffer:
    """An oil held against a compartment: verdict and reasons, its distance in viscosity, what is on hand, what to buy for the need.

    ``off``: share by which it is thicker or thinner than asked at 80 °C. ``locked``: a value of its data sheet must be entered first.
    """

    lubricant: int
    name: str
    label: str
    verdict: str
    reasons: tuple[OilReason, ...]
    locked: bool
    rinse: bool
    off: float | None
    on_hand_ml: float
    short_ml: float
    buy: tuple[PackCount, ...]
    buy_cost: float
    litre_price: float | None


def offers(
    asked: Requirement, need_ml: float | None, conditions: OilConditions, policy: OilPolicy, reserved: dict[int, float] | None = None
) -> list[OilOffer]:
    """Every oil judged for what a compartment asks, best first, with what must be bought to pour ``need_ml``."""
    rows = {o.name: o for o in Lubricant.objects.prefetch_related("packs", "containers")}
    taken = reserved or {}
    found = []
    for place in rank([core_lubricant(o) for o in rows.values()], asked, conditions, policy):
        oil = rows[place.lubricant.name]
        held = held_ml(oil, taken)
        packs = [CorePack(p.size_ml, None if p.price is None else float(p.price)) for p in oil.packs.all()]
        plan = purchase_plan({oil.name: need_ml or 0}, {oil.name: packs}, {oil.name: held})
        buy = plan[0] if plan else None
        verdict = place.judgement
        found.append(
            OilOffer(
                lubricant=oil.pk,
                name=oil.name,
                label=" ".join(filter(None, (oil.grade, oil.categories))) or oil.family,
                verdict=verdict.verdict,
                reasons=verdict.reasons,
                locked=verdict.locked,
                rinse=verdict.rinse,
                off=place.off,
                on_hand_ml=held,
                short_ml=buy.short_ml if buy else 0.0,
                buy=tuple(PackCount(p.size_ml, n) for p, n in buy.packs) if buy else (),
                buy_cost=buy.cost if buy else 0.0,
                litre_price=min((p.price / p.size_ml * 1000 for p in packs if p.price is not None), default=None),
            )
        )
    return found


@dataclass(frozen=True)
class CompartmentOils:
    """The shelf ordered for a compartment, with what it asks and what stays inside."""

    compartment: int
    name: str
    sheet: str
    asks: str
    asked_basis: str
    limited_slip: bool | None
    ask_limited_slip: bool
    offers: tuple[OilOffer, ...]


@dataclass(frozen=True)
class PlaceVerdict:
    """A compartment that an oil was held against."""

    compartment: int
    name: str
    vehicle_id: int
    asks: str
    verdict: str
    reasons: tuple[OilReason, ...]


def conditions_for(
    ambient_min_c: float | None = None,
    ambient_max_c: float | None = None,
    fill_ml: float | None = None,
    doses: tuple[Dose, ...] = (),
    residue: Residue | None = None,
) -> OilConditions:
    """The day and the job as the rules want them; refuses a temperature that no place has."""
    from barodex.core.quantity.errors import in_range

    for name, value in (("ambient_min_c", ambient_min_c), ("ambient_max_c", ambient_max_c)):
        if value is not None:
            in_range(name, value, -60, 60, "°C")
    return OilConditions(ambient_min_c, ambient_max_c, fill_ml, doses, residue)


def residue_of(asked: Requirement, last_oil: Lubricant | None) -> Residue | None:
    """What stays inside after draining, as the record of the last fill tells."""
    if not asked.residual_ml:
        return None
    return Residue(asked.residual_ml, core_lubricant(last_oil) if last_oil else None)


def places(
    oil: CoreLubricant, boxes: list[tuple[int, str, int, str, Requirement]], day: OilConditions, policy: OilPolicy
) -> list[PlaceVerdict]:
    """Hold one oil against many compartments, given as (id, name, vehicle, what it asks in words, requirement); where it may go first."""
    found = []
    for pk, name, vehicle, words, asked in boxes:
        verdict = judge(oil, asked, day, policy)
        found.append(PlaceVerdict(pk, name, vehicle, words, verdict.verdict, verdict.reasons))
    return sorted(found, key=lambda p: (VERDICTS.index(p.verdict), p.name))
