"""Changes of readings."""

from __future__ import annotations

import datetime as dt

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.due.meter import READ_TO, MeterReading, check_reading
from barodex.core.due.policy import DUTIES, DUTY_WORDS
from barodex.core.quantity.errors import Inconsistent, OutOfRange, Unreadable
from barodex.core.words import say
from barodex.fleet.models import OLDEST, Reading, Vehicle, Voidable


def check_duty(split: dict[str, float], field: str = "duty") -> dict[str, float]:
    """Duty shares as they are kept: known duties, each 0 to 1; what they leave over of the whole is road. Raises over 100 %."""
    if set(split) - set(DUTIES):
        raise Inconsistent(
            say("A duty is one of: {duties}.", duties=", ".join(DUTIES)), field=field, value=", ".join(split), allowed=", ".join(DUTIES)
        )
    for duty, share in split.items():
        if not 0 <= share <= 1:
            raise OutOfRange(
                say("{share:.0f} % {duty_words}: a share lies from 0 to 100 %.", share=share * 100, duty_words=DUTY_WORDS[duty]),
                field=duty,
                value=share,
                allowed="0 to 100 %",
            )
    others = sum(share for duty, share in split.items() if duty != "road")
    whole = others + split.get("road", max(0.0, 1 - others))
    if abs(whole - 1) > 1e-6:
        raise Inconsistent(
            say("The duty shares add up to {whole:.0f} %, not 100 %.", whole=whole * 100), field=field, value=whole, allowed="100 %"
        )
    kept = {**split, "road": 1 - others}
    return {duty: share for duty, share in kept.items() if share > 1e-9}


def parse_duty(text: str) -> dict[str, float] | None:
    """Read the duty of a leg: "track", or shares such as "track 25 %, off_road 10 %", the rest road; empty: as usual."""
    split: dict[str, float] = {}
    for part in filter(None, (p.strip() for p in text.replace(";", ",").split(","))):
        words = part.lower().replace("%", " ").split()
        name = words[0].replace("-", "_")
        try:
            split[name] = float(words[1]) / 100 if len(words) > 1 else 1.0
        except ValueError as error:
            raise Unreadable(say("“{part}” is no share: write such as track 25 %.", part=part), field="duty", value=part) from error
    return check_duty(split) if split else None


def neighbours(vehicle: Vehicle, on: dt.date) -> tuple[MeterReading | None, MeterReading | None]:
    """The readings before (or on) and after a day."""
    earlier = vehicle.readings.filter(on__lte=on).order_by("-on", "-id").first()
    later = vehicle.readings.filter(on__gt=on).order_by("on", "id").first()
    return tuple(MeterReading(r.on, r.value, r.swap) if r else None for r in (earlier, later))


def check_new_reading(vehicle: Vehicle, on: dt.date, value: float, swap: bool = False) -> None:
    """Refuse a reading that cannot be true: in the future, in the far past, or out of line with its neighbours."""
    if on > clock.today():
        raise OutOfRange(
            say("{on} lies in the future.", on=f"{on:%d %b %Y}"),
            field="on",
            value=str(on),
            allowed=say("up to {today}", today=f"{clock.today():%d %b %Y}"),
        )
    if on < OLDEST:
        raise OutOfRange(say("{on} is too long ago.", on=f"{on:%d %b %Y}"), field="on", value=str(on), allowed="from 1950 on")
    earlier, later = neighbours(vehicle, on)
    check_reading(earlier, MeterReading(on, value, swap), later, vehicle.meter)


@transaction.atomic
def add_reading(
    by: Person, vehicle_id: int, on: dt.date, value: float, swap: bool = False, source: str = "typed", duty: dict[str, float] | None = None
) -> Reading:
    """Write a meter reading; the same one twice is one. ``swap`` says that a new or reset meter begins with it.

    ``duty``: shares of what was run since the reading before; None: as the vehicle usually does.
    """
    require(by, "technician")
    split = check_duty(duty) if duty else None
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    within = READ_TO[vehicle.meter]
    known = vehicle.readings.filter(on=on, value__gte=value - within, value__lte=value + within).first()
    if known and not swap:
        return known
    check_new_reading(vehicle, on, value, swap)
    reading = Reading.objects.create(vehicle=vehicle, on=on, value=value, swap=swap, duty=split, source=source, by=by, at=clock.now())
    audit(by, "reading written", reading, (vehicle.pk,), value=value, swap=swap)
    return reading


@transaction.atomic
def void_reading(by: Person, reading_id: int, reason: str) -> Reading:
    """Declare a mistyped reading void: it stays with who, when and why, and counts for nothing."""
    require(by, "technician")
    reading = Reading.objects.get(pk=reading_id)
    mark_void(reading, by, reason)
    audit(by, "reading voided", reading, (reading.vehicle_id,), value=reading.value, reason=reason)
    return reading


@transaction.atomic
def replace_reading(by: Person, reading_id: int, on: dt.date, value: float, swap: bool, reason: str) -> Reading:
    """Set a mistyped reading right: the old one is void with its reason, the right one stands in its place, as plausible as any other."""
    require(by, "technician")
    old = Reading.objects.select_related("vehicle").get(pk=reading_id)
    if (on, value, swap) == (old.on, old.value, old.swap):
        raise Inconsistent(say("That is what it says already."), field="value", value=value)
    mark_void(old, by, reason)
    check_new_reading(old.vehicle, on, value, swap)
    if old.vehicle.readings.filter(on=on, value=value).exists():
        raise Inconsistent(say("This reading stands in the list already: declare the other one void."), field="value", value=value)
    made = Reading.objects.create(
        vehicle=old.vehicle, on=on, value=value, swap=swap, duty=old.duty, source=old.source, by=by, at=clock.now()
    )
    audit(by, "reading corrected", made, (old.vehicle_id,), was=old.value, was_on=str(old.on), value=value, on=str(on), reason=reason)
    return made


def mark_void(row: Voidable, by: Person, reason: str) -> None:
    """Set who, when and why on a row that is declared void; called inside the caller's transaction."""
    if len(reason.strip()) < 4:
        raise Inconsistent(say("Say why it is void."), field="reason", value=reason)
    row.voided_at, row.voided_by, row.void_reason = clock.now(), by, reason.strip()[:300]
    row.save(update_fields=["voided_at", "voided_by", "void_reason"])
