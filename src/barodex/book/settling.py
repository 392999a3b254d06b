"""How what follows from a record is closed: who, what was found or mended, and whether it is looked at again."""

from __future__ import annotations

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.due.interval import add_months
from barodex.core.due.policy import look_again
from barodex.core.findings.debris import RESTORED
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.verdict.consequences import Consequence
from barodex.core.words import say
from barodex.fleet.models import Compartment
from barodex.fleet.use import meter_of_box

from .actions import adopt_capacity, adopt_torque
from .amounts import corrected
from .consequences import limits_both, write_consequences
from .models import ConsequenceRow

WATCHED = 2  # the level by whose table a mended thing is looked at again


@transaction.atomic
def settle(by: Person, row_id: int, outcome: str, again: bool = False) -> ConsequenceRow:
    """Close what follows from a record; a stop by the lead alone. ``again``: it is looked at once more, as after a finding to be watched."""
    require(by, "technician")
    row = _open_row(row_id, outcome)
    if len(outcome.strip()) < 4:
        raise Inconsistent(say("Say what was found, or what was mended."), field="outcome", value=outcome)
    if row.kind in ("stop", "due-cap"):
        require(by, "lead")
    row.done_at, row.done_by, row.outcome = clock.now(), by, outcome.strip()[:300]
    row.save(update_fields=["done_at", "done_by", "outcome"])
    if row.kind == "stop":
        _give_back(by, row)
    if again:
        _look_once_more(row)
    audit(by, "consequence closed", row, (row.record.compartment.vehicle_id,), outcome=outcome, again=again)
    return row


@transaction.atomic
def take_over(by: Person, row_id: int, outcome: str = "") -> ConsequenceRow:
    """Take over what a record offers: the variant that its amount shows (``outcome``: the casing code, or how one knows), or the capacity
    that its fill found or the torque that was used, as a revision of the sheet by the lead."""
    require(by, "technician")
    row = _open_row(row_id, outcome)
    if row.kind != "adopt":
        raise Inconsistent(say("This offers nothing to take over."), field="outcome", value=outcome)
    if row.code == "capacity":
        made = adopt_capacity(by, row.record_id)
        said = say("taken over: revision {made_number} of the sheet", made_number=made.number)
    elif row.code == "torque":
        made = adopt_torque(by, row.record_id, row.params["plug"], row.params["torque_nm"], row.params["source"])
        said = say("taken over: revision {made_number} of the sheet", made_number=made.number)
    else:
        if len(outcome.strip()) < 2:
            raise Inconsistent(say("Say what the casing reads, or how you know."), field="outcome", value=outcome)
        place = Compartment.objects.filter(box=row.record.box_id).first()
        if place is None:
            raise Inconsistent(say("The box is fitted nowhere."), field="outcome", value=outcome)
        if place.in_service_id is not None:
            raise GateClosed(say("{place} is on the bench: take the variant over there.", place=place.name), field="outcome", value=outcome)
        place.variant = str(row.params["variant"])
        place.save(update_fields=["variant"])
        audit(by, "variant taken over", place, (place.vehicle_id,), variant=place.variant, reason=outcome)
        said = f"{place.variant}: {outcome.strip()}"
    row.done_at, row.done_by, row.outcome = clock.now(), by, said[:300]
    row.save(update_fields=["done_at", "done_by", "outcome"])
    audit(by, "consequence closed", row, (row.record.compartment.vehicle_id,), outcome=said)
    return row


def _open_row(row_id: int, outcome: str) -> ConsequenceRow:
    row = ConsequenceRow.objects.select_related("record__compartment__vehicle", "record__compartment__sheet", "record__revision").get(
        pk=row_id
    )
    if row.done_at is not None:
        raise Inconsistent(say("This was closed already."), field="outcome", value=outcome)
    return row


def _give_back(by: Person, row: ConsequenceRow) -> None:
    """Once a stop is mended the interval is no longer none: it is what a first fair look after such a level gives back."""
    caps = ConsequenceRow.objects.filter(record=row.record_id, kind="due-cap", code="finding", done_at=None)
    shortest = [c for c in caps if c.factor is not None and c.factor < RESTORED[4][0]]
    for cap in shortest:
        cap.done_at, cap.done_by, cap.outcome = row.done_at, by, row.outcome
        cap.save(update_fields=["done_at", "done_by", "outcome"])
    if shortest:
        write_consequences(row.record, [Consequence("due-cap", "mended", {"was": row.outcome}, factor=RESTORED[4][0])])


def _look_once_more(row: ConsequenceRow) -> None:
    """A look after what was mended, counted from today."""
    record, today = row.record, clock.today()
    if record.revision is None:
        return
    said = corrected(record)
    km, hours, months = look_again(WATCHED, limits_both(record.compartment, record.revision)["limits_short"])
    ran = meter_of_box(record.box_id, today).between(said["on"], said["meter_value"], today, None)
    ahead = hours if record.compartment.vehicle.meter == "h" else km
    write_consequences(
        record,
        [
            Consequence(
                "look-again",
                "mended",
                {"was": row.text},
                None if ahead is None or ran is None else max(0.0, ran) + ahead,
                None if months is None else (add_months(today, months) - said["on"]).days,
            )
        ],
    )
