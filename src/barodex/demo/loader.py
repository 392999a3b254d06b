"""Loads the demo fleet through the actions that real work uses, with the clock held at each past day."""

from __future__ import annotations

import datetime as dt
import math
import uuid
from dataclasses import replace

from django.db import transaction
from django.utils import timezone

from barodex import clock
from barodex.accounts.actions import add_person
from barodex.accounts.models import Person
from barodex.bay import guides
from barodex.bay.actions import JobSpec, NewAct, Weather, post_act, start_service
from barodex.bay.photo_actions import add_photo
from barodex.book.actions import PaperRecord, enter_record
from barodex.core.due.schedule import OwnRule
from barodex.core.due.season import days_run, parse_season, season_share
from barodex.core.due.visits import is_open
from barodex.core.run.seen import finding_from
from barodex.devices.actions import choose_device
from barodex.devices.protocol import DEVICE_KINDS
from barodex.fleet.actions import CompartmentSpec, Use, VehicleSpec, add_reading, add_vehicle, carry, read_counter, set_rule, set_use
from barodex.fleet.models import Compartment, Vehicle
from barodex.plan.actions import plan_visit
from barodex.shelf.actions import add_additive, add_claim, add_lubricant, count_item, revise_sheet, stock_container, write_sheet
from barodex.shelf.models import Container, Lubricant, SpecSheet
from barodex.workshop.actions import set_workshop
from barodex.workshop.bay import bay_policy
from barodex.workshop.own import Details

from .fleet import Demo, Machine, read
from .scenes import magnet_on_paper, oil_on_paper
from .walk import Outcome, walk

PASSWORD = "tarbert-oil-can"  # for the demo on this machine only
PEOPLE = (("isla", "lead", "Isla", "Marran"), ("fergus", "technician", "Fergus", "Doon"), ("una", "viewer", "Una", "Sker"))
HISTORY_DAYS = 1460


def _moment(day: dt.date, hour: int = 10) -> dt.datetime:
    return timezone.make_aware(dt.datetime.combine(day, dt.time(hour)))


def meter_at(machine: Machine, today: dt.date, days_ago: int) -> float:
    """The meter some days ago: in its season only, or steady use with a swing over the year (km or h)."""
    season = parse_season(*machine.season)
    if season is not None:
        ran = machine.per_day / season_share(season) * days_run(season, today - dt.timedelta(days=days_ago), today)
        return round(max(0.0, machine.today - ran), 1 if machine.meter == "h" else 0)
    swing = 0.8 if machine.seasonal else 0.12
    year = 365.25

    def run(day: float) -> float:
        return day - swing * year / (2 * math.pi) * math.cos(2 * math.pi * day / year)

    end = today.toordinal()
    value = machine.today - machine.per_day * (run(end) - run(end - days_ago))
    return round(max(0.0, value), 1 if machine.meter == "h" else 0)


def _readings(by: Person, machine: Machine, vehicle: Vehicle, today: dt.date) -> None:
    for days_ago in range(HISTORY_DAYS, 0, -61):
        with clock.at(_moment(today - dt.timedelta(days=days_ago))):
            if meter_at(machine, today, days_ago) == 0:
                continue  # it was not there yet
            duty = {"track": 0.4, "road": 0.6} if machine.track and days_ago % 183 < 61 else None
            add_reading(by, vehicle.pk, clock.today(), meter_at(machine, today, days_ago), duty=duty)
    with clock.at(_moment(today - dt.timedelta(days=1), 17)):
        add_reading(by, vehicle.pk, clock.today(), meter_at(machine, today, 1))


def _history(by: Person, machine: Machine, vehicle: Vehicle, today: dt.date) -> None:
    for box in machine.boxes:
        compartment = vehicle.compartments.get(name=box.name)
        for change in box.changes:
            day = today - dt.timedelta(days=change.days_ago)
            with clock.at(_moment(day, 15)):
                enter_record(
                    by,
                    compartment.pk,
                    PaperRecord(
                        on=day,
                        meter_value=meter_at(machine, today, change.days_ago),
                        lubricant_id=Lubricant.objects.get(name=change.oil).pk,
                        oil="",
                        drained_ml=change.drained_ml,
                        drained_c=change.drained_c,
                        poured_ml=change.poured_ml,
                        finding=finding_from(change.finding) if change.finding else None,
                        note=change.note,
                        factory_fill=change.factory_fill,
                        shift=change.shift,
                        noise=change.noise,
                    ),
                )


def _rules(lead: Person, tech: Person, machine: Machine, vehicle: Vehicle, today: dt.date) -> None:
    """Season and engine oil of a machine, what the depot set for single compartments, and counters that were read."""
    if machine.season[0] or machine.engine_oil:
        run, months, days_ago = machine.engine_oil or (None, None, None)
        changed = None if days_ago is None else today - dt.timedelta(days=days_ago)
        at = None if days_ago is None else meter_at(machine, today, days_ago)
        set_use(lead, vehicle.pk, Use(vehicle.duty_split, *machine.season, run, months, changed, at, vehicle.warranty_until))
    for box in machine.boxes:
        compartment = vehicle.compartments.get(name=box.name)
        if box.rule:
            set_rule(lead, compartment.pk, OwnRule(load_share=box.rule.load_share, linked=box.rule.linked), box.rule.why)
        if box.counter is not None:
            with clock.at(_moment(today - dt.timedelta(days=21))):
                read_counter(tech, compartment.pk, box.counter)


def _shelf(lead: Person, demo: Demo, today: dt.date) -> None:
    with clock.at(_moment(today - dt.timedelta(days=HISTORY_DAYS + 40))):
        for oil in demo.oils:
            add_lubricant(lead, oil)
        for tonic in demo.additives:
            add_additive(lead, tonic)
        for sheet in demo.sheets:
            write_sheet(lead, sheet.name, sheet.kind, replace(sheet.superseded or sheet.figures, effective_on=clock.today()))
    for sheet in (s for s in demo.sheets if s.superseded):
        with clock.at(_moment(today - dt.timedelta(days=sheet.revised_days_ago))):
            revise_sheet(lead, SpecSheet.objects.get(name=sheet.name).pk, replace(sheet.figures, effective_on=clock.today()), sheet.reason)
    with clock.at(_moment(today - dt.timedelta(days=60))):
        for v in demo.shelf:
            kind = "bottle" if v.carried_in else v.kind
            stock_container(lead, Lubricant.objects.get(name=v.oil).pk, v.size_ml, v.content_ml, v.label, v.graduated, kind)
        for item in demo.store:
            count_item(lead, item.name, item.kind, item.count, item.place)
        for name, said, years in demo.claims:
            published = today.replace(year=today.year - years, day=1) if years else None
            add_claim(lead, SpecSheet.objects.get(name=name).pk, replace(said, published=published))


def _photograph(tech: Person, service: int, step: str, *pictures: bytes) -> None:
    """Add photos to a step, as the page would."""
    procedure = guides.procedure_of(guides.load(service))
    for picture in pictures:
        add_photo(tech, service, uuid.uuid4(), step, picture, procedure)


def _signed_service(tech: Person, demo: Demo, today: dt.date) -> None:
    """The bus, done by the guide eighteen days ago."""
    machine = next(m for m in demo.fleet if m.name == "Harbour bus")
    box = Compartment.objects.get(vehicle__name="Harbour bus", name="Transaxle")
    with clock.at(_moment(today - dt.timedelta(days=18), 9)):
        service = start_service(
            tech,
            box.vehicle_id,
            (JobSpec(box.pk, Lubricant.objects.get(name="Tarn 75W-90").pk, "80W-90 is out of stock; this one was used before"),),
            meter_at(machine, today, 18),
            Weather(11),
            ("Tarn 75W-90",),  # half a litre more lay in the bus
        )
        walk(
            tech,
            service.pk,
            {
                "Transaxle": Outcome(
                    3150,
                    34,
                    {
                        "magnet": "cap",
                        "particles": [{"form": "paste", "metal": "steel", "count": 1, "size_mm": 0.1}],
                        "colour": "dark brown",
                        "clarity": "clear",
                        "smell": "none",
                    },
                )
            },
            stop_before="sign",
        )
        _photograph(tech, service.pk, f"look.{box.pk}", oil_on_paper((226, 176, 62), (104, 58, 26)), magnet_on_paper(0.55))
        post_act(tech, service.pk, NewAct(uuid.uuid4(), "note", "", {"text": "output flange still weeps, cloth left under it"}))
        walk(tech, service.pk, {})


def _open_service(tech: Person, now: dt.datetime) -> None:
    """The truck's middle axle, interrupted while it drains."""
    box = Compartment.objects.get(vehicle__name="Timber truck", name="Middle axle")
    with clock.at(now - dt.timedelta(minutes=22)):
        meter = box.vehicle.readings.order_by("on", "id").last()
        service = start_service(
            tech,
            box.vehicle_id,
            (JobSpec(box.pk, Lubricant.objects.get(name="Corrie 80W-90").pk),),
            meter.value if meter else None,
            Weather(9),
        )
        walk(tech, service.pk, {}, stop_before="drain")
    with clock.at(now - dt.timedelta(minutes=9)):
        _photograph(tech, service.pk, f"look.{box.pk}", oil_on_paper((214, 160, 52), (92, 50, 24), seed=5), magnet_on_paper(0.42, seed=6))
        walk(tech, service.pk, {}, stop_before="measure")


def _agreed_visit(lead: Person, now: dt.datetime) -> None:
    """The motorcycle, agreed for the first day from the day after tomorrow on which the workshop works."""
    vehicle = Vehicle.objects.get(name="Ridge motorcycle")
    days = (timezone.localtime(now).date() + dt.timedelta(days=k) for k in range(2, 9))
    on = next(day for day in days if is_open(bay_policy(), day))
    with clock.at(now - dt.timedelta(hours=3)):
        plan_visit(lead, vehicle.pk, on, tuple(vehicle.compartments.values_list("pk", flat=True)), "before the ferry inspection")


@transaction.atomic
def load(now: dt.datetime | None = None) -> None:
    """Load people, shelf, fleet, four years of history, one signed and one open service. The database must be empty."""
    now = now or clock.now()
    today = timezone.localtime(now).date()
    with clock.at(_moment(today - dt.timedelta(days=HISTORY_DAYS + 45))):
        people = {name: add_person(None, name, PASSWORD, role, first, last) for name, role, first, last in PEOPLE}
    lead, tech = people["isla"], people["fergus"]
    set_workshop(lead, Details("Skerrow Island depot", "Pier road\nSkerrow Island", "radio, channel 8"))
    demo = read()
    _shelf(lead, demo, today)
    for machine in demo.fleet:
        with clock.at(_moment(today - dt.timedelta(days=HISTORY_DAYS + 30))):
            split = {"off_road": machine.off_road, "track": machine.track}
            warranty = today + dt.timedelta(days=machine.warranty_days) if machine.warranty_days else None
            vehicle = add_vehicle(
                lead,
                VehicleSpec(
                    name=machine.name,
                    kind=machine.kind,
                    layout=machine.layout,
                    meter=machine.meter,
                    plate=machine.plate,
                    duty_split=split,
                    warranty_until=warranty,
                    note=machine.note,
                    depot=machine.depot,
                    driver=machine.driver,
                    compartments=tuple(CompartmentSpec(b.name, b.slot, SpecSheet.objects.get(name=b.sheet).pk) for b in machine.boxes),
                ),
            )
        _readings(tech, machine, vehicle, today)
        _history(tech, machine, vehicle, today)
        with clock.at(_moment(today - dt.timedelta(days=1), 18)):
            _rules(lead, tech, machine, vehicle, today)
    with clock.at(_moment(today - dt.timedelta(days=30))):
        for v in (v for v in demo.shelf if v.carried_in):
            carry(tech, Container.objects.get(label=v.label).pk, Vehicle.objects.get(name=v.carried_in).pk)
    for kind in DEVICE_KINDS:
        choose_device(lead, kind, "simulated", 6.0)
    _signed_service(tech, demo, today)
    _open_service(tech, now)
    _agreed_visit(lead, now)
