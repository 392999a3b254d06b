"""Oils held against the compartments of the fleet: the shelf ordered for one compartment, and where one oil may go."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from barodex import clock
from barodex.book.models import OilRecord
from barodex.book.queries import corrected
from barodex.core.kinds.kind import kind_of
from barodex.core.ledger.correcting import correction_cycles
from barodex.core.ledger.exchange import flow_needed_ml
from barodex.core.ledger.purchase import Need, service_need
from barodex.core.oil.ambient import grade_for_ambient
from barodex.core.oil.grades import Grade, read_grade
from barodex.core.oil.lubricant import Dose, OilConditions, Requirement, limited_slip_open
from barodex.core.quantity.errors import Inconsistent, Unreadable, in_range
from barodex.core.sheet.sheet import candidates_ml
from barodex.core.sheet.work import EXCHANGE_SCHOOLS, TARGET_FRESH, rinse_ml, usual_work
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.shelf.models import Additive, Lubricant, SheetRevision
from barodex.shelf.queries import conditions_for, core_lubricant, core_sheet, current_revision, offers, requirement, residue_of
from barodex.shelf.queries.oils import CompartmentOils, PlaceVerdict, places
from barodex.workshop.policy import oil_policy

COMPARTMENTS = Compartment.objects.select_related("vehicle", "sheet").prefetch_related(
    "sheet__revisions__plugs", "sheet__revisions__sources", "sheet__revisions__sheet"
)


@dataclass(frozen=True)
class DoseChoice:
    """An additive chosen from the list, and its dose in mL."""

    additive_id: int
    volume_ml: float


@dataclass(frozen=True)
class Answers:
    """What is known or asked before an oil is chosen: variant, limited slip, air temperatures in °C, additives.

    ``slip``: yes, no, unknown, or empty when it has not been asked.
    """

    variant: str = ""
    slip: str = ""
    coldest_c: float | None = None
    warmest_c: float | None = None
    doses: tuple[DoseChoice, ...] = ()
    work: str = ""  # the kind of service, empty for the usual one
    cycles: int = 0
    school: str = EXCHANGE_SCHOOLS[0]
    target_fresh: float = TARGET_FRESH

    @property
    def limited_slip(self) -> bool | None:
        return {"yes": True, "no": False}.get(self.slip)


def revision_of(c: Compartment) -> SheetRevision:
    """The revision in force today."""
    return current_revision(c.sheet.revisions.all(), clock.today())


def variant_of(c: Compartment, revision: SheetRevision, answers: Answers) -> str:
    """The variant that a compartment is: as answered, or as found out before; refuses one that the sheet does not list."""
    names = [v["name"] for v in revision.variants]
    if answers.variant and answers.variant not in names:
        raise Inconsistent(say("The sheet lists no such variant."), field="variant", value=answers.variant, allowed=", ".join(names))
    return answers.variant or (c.variant if c.variant in names else "")


def asked_of(c: Compartment, revision: SheetRevision, answers: Answers) -> Requirement:
    """What a compartment asks of an oil, with what was found out about this very one."""
    slip = answers.limited_slip if answers.slip else c.limited_slip
    return requirement(revision, variant_of(c, revision, answers), slip)


def core_doses(choices: tuple[DoseChoice, ...]) -> tuple[Dose, ...]:
    """The chosen additives as the core sees them."""
    rows = Additive.objects.in_bulk([d.additive_id for d in choices])
    found = []
    for k, d in enumerate(choices):
        if d.additive_id not in rows:
            raise Inconsistent(say("Choose the additive from the list."), field=f"doses.{k}.additive_id", value=d.additive_id)
        volume_ml = in_range("volume_ml", d.volume_ml, 1, 5000, "mL")
        found.append(Dose(rows[d.additive_id].name, rows[d.additive_id].kind, volume_ml, rows[d.additive_id].max_share))
    return tuple(found)


def last_oil(c: Compartment) -> tuple[str, Lubricant | None]:
    """The oil of the last record: its name as corrected, and the oil of the list that it is."""
    last = OilRecord.objects.filter(box=c.box_id).select_related("lubricant").prefetch_related("corrections").order_by("on", "id").last()
    if last is None:
        return "", None
    name = corrected(last)["oil"]
    return name, last.lubricant if last.lubricant and last.lubricant.name == name else Lubricant.objects.filter(name=name).first()


def day_of(c: Compartment, revision: SheetRevision, answers: Answers) -> OilConditions:
    """The conditions by which an oil is judged for a compartment."""
    asked = asked_of(c, revision, answers)
    capacity = core_sheet(revision, variant_of(c, revision, answers)).capacity_ml
    residue = residue_of(asked, last_oil(c)[1]) if asked.residual_ml else None
    return conditions_for(answers.coldest_c, answers.warmest_c, capacity, core_doses(answers.doses), residue)


def need_of(
    revision: SheetRevision,
    variant: str,
    doses: tuple[Dose, ...] = (),
    pump_ml: float = 0.0,
    estimate_ml: float | None = None,
    drains: int | None = None,
    rinse_ml: float = 0.0,
) -> Need | None:
    """What a service of a compartment takes from the shelf; None when there is nothing to go by."""
    sheet = core_sheet(revision, variant)
    candidates = candidates_ml(sheet)
    if sheet.capacity_ml is None and not candidates and estimate_ml is None:
        return None
    fill = sheet.capacity_ml or max(candidates, default=estimate_ml or 0.0)
    return service_need(
        sheet.capacity_ml,
        candidates,
        max(revision.rinse_ml or 0.0, rinse_ml),
        (fill,) * ((drains or revision.exchange_cycles) - 1),
        pump_ml,
        revision.surplus_ml or 0.0,
        sum(d.volume_ml for d in doses),
        estimate_ml,
    )


def asks_in_words(asked: Requirement) -> str:
    """What a compartment asks, in one line."""
    parts = [asked.family, asked.grade, asked.categories, ", ".join(asked.approvals)]
    flags = [
        "brass inside" if asked.yellow_metal else "",
        say("clutch-type limited slip") if asked.limited_slip else "",
        "wet clutches" if asked.wet_clutch else "",
        say("no extreme pressure") if asked.no_ep else "",
    ]
    return " · ".join(filter(None, (" ".join(filter(None, parts)), *flags)))


def need_for(revision: SheetRevision, variant: str, doses: tuple[Dose, ...], answers: Answers) -> Need | None:
    """What the chosen kind of service takes from the shelf; None where nobody can say, as for a top-up."""
    sheet = core_sheet(revision, variant)
    work = answers.work or usual_work(sheet)
    if work == "top-up":
        return None
    if work == "exchange" and answers.school == EXCHANGE_SCHOOLS[1] and sheet.total_ml is not None:
        return service_need(flow_needed_ml(sheet.total_ml, answers.target_fresh))
    drains = max(1, answers.cycles or revision.exchange_cycles) if work == "exchange" else 1
    rinse = 0.0
    if work == "correction":
        drains = correction_cycles(sheet)
        rinse = 2 * rinse_ml(sheet) if drains == 1 else 0.0
    return need_of(revision, variant, doses, drains=drains, rinse_ml=rinse)


def compartment_oils(compartment_id: int, taken: Mapping[int, float], answers: Answers = Answers()) -> CompartmentOils:
    """The shelf ordered for a compartment, best first; ``taken`` is what open services poured from each container, mL.

    Raises Compartment.DoesNotExist.
    """
    c = COMPARTMENTS.get(pk=compartment_id)
    revision = revision_of(c)
    asked, day = asked_of(c, revision, answers), day_of(c, revision, answers)
    need = need_for(revision, variant_of(c, revision, answers), day.doses, answers)
    choice = grade_for_ambient(asked, day.ambient_min_c, day.ambient_max_c)
    shown = offers(asked, need.total_ml if need else None, day, oil_policy(), taken)
    ask = limited_slip_open(asked, kind_of(c.sheet.kind).differential) and not answers.slip
    name = f"{c.vehicle.name}, {c.name}"
    return CompartmentOils(c.pk, name, c.sheet.name, asks_in_words(asked), choice.text, asked.limited_slip, ask, tuple(shown))


def oil_places(lubricant_id: int, coldest_c: float | None = None) -> list[PlaceVerdict]:
    """Where an oil may go and where it must not, over the whole fleet; raises Lubricant.DoesNotExist."""
    oil = core_lubricant(Lubricant.objects.get(pk=lubricant_id))
    boxes = []
    for c in COMPARTMENTS.filter(removed_on=None, vehicle__retired_on=None):
        asked = replace(asked_of(c, revision_of(c), Answers()), residual_ml=None)
        boxes.append((c.pk, f"{c.vehicle.name}, {c.name}", c.vehicle_id, asks_in_words(asked), asked))
    return places(oil, boxes, conditions_for(coldest_c), oil_policy())


def asked_grade(compartment_id: int, coldest_c: float | None = None, warmest_c: float | None = None) -> Grade | None:
    """The grade that a compartment asks for on such days; None where its sheet names none that has a band."""
    c = COMPARTMENTS.get(pk=compartment_id)
    asked = asked_of(c, revision_of(c), Answers(coldest_c=coldest_c, warmest_c=warmest_c))
    text = grade_for_ambient(asked, coldest_c, warmest_c).grade
    try:
        return read_grade(text, "engine" if asked.family == "engine" else "gear", oil_policy().j306_edition) if text else None
    except Unreadable:
        return None
