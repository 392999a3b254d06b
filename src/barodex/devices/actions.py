"""Changes of devices: which is chosen, connected to a service, turned, asked to reset; samples kept."""

from __future__ import annotations

import uuid

from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.bay import guides
from barodex.bay.models import Service
from barodex.core.quantity.errors import GateClosed, Inconsistent, in_range
from barodex.core.words import say

from . import queries
from .checks import report_resets
from .models import DeviceChoice, DeviceLink
from .protocol import DEVICE_KINDS, ScaleSetup, ScanSetup
from .registry import NONE, adaptor_for, is_simulated

SAMPLE_EVERY_S = 5.0
DEFAULT_AIR_C = 15.0


@transaction.atomic
def choose_device(by: Person, kind: str, adaptor: str, speed: float | None = None, faulty: bool | None = None) -> DeviceChoice:
    """Choose the adaptor of a kind of device for the workshop."""
    require(by, "lead")
    if kind not in DEVICE_KINDS:
        raise Inconsistent(say("“{kind}” is no device.", kind=kind), field="kind", value=kind, allowed=", ".join(DEVICE_KINDS))
    if adaptor != NONE:
        adaptor_for(kind, adaptor)
    made, _ = DeviceChoice.objects.get_or_create(kind=kind, defaults={"adaptor": adaptor})
    made.adaptor = adaptor
    if speed is not None:
        made.speed = in_range("speed", speed, 1, 60)
    if faulty is not None:
        made.faulty = faulty
    made.save()
    audit(by, "device chosen", made, (), kind=kind, adaptor=adaptor, faulty=made.faulty)
    return made


def _open_service(service_id: int) -> Service:
    service = guides.load(service_id)
    if service.state != "open":
        raise GateClosed(say("This service is closed."), field="service", value=service.state)
    return service


@transaction.atomic
def connect(by: Person, service_id: int, kind: str) -> DeviceLink:
    """Connect the chosen device to a service; connecting again keeps what it knows."""
    require(by, "technician")
    service = _open_service(service_id)
    choice = queries.choice_of(kind)
    if choice.adaptor == NONE:
        raise GateClosed(say("No {kind} is chosen: settings, devices. Type the values instead.", kind=kind), field="kind", value=kind)
    known = DeviceLink.objects.filter(service=service, kind=kind).first()
    now = clock.now()
    if known is not None and known.adaptor == choice.adaptor and known.state.get("faulty", False) == choice.faulty:
        return known
    jobs = guides.procedure_of(service).jobs
    if kind == "scan tool":
        air = service.ambient_c if service.ambient_c is not None else DEFAULT_AIR_C
        resets = tuple(dict.fromkeys(r for j in jobs for r in j.sheet.resets))
        state = adaptor_for(kind, choice.adaptor).connect(ScanSetup(now, air + 8, air, resets, service.pk, choice.speed, choice.faulty))
    else:
        held = sum((j.sheet.capacity_ml or 1000.0) * j.density15 / 1000 for j in jobs[:1])
        state = adaptor_for(kind, choice.adaptor).connect(ScaleSetup(now, held * 0.96, service.pk, choice.faulty))
    made, _ = DeviceLink.objects.update_or_create(
        service=service, kind=kind, defaults={"adaptor": choice.adaptor, "state": state, "samples": known.samples if known else []}
    )
    return made


@transaction.atomic
def turn(by: Person, service_id: int, engine_on: bool | None, ignition_on: bool | None, supply: bool | None) -> DeviceLink:
    """Turn the key of the simulated vehicle, or connect its supply."""
    require(by, "technician")
    link = _linked(service_id, "scan tool")
    _moved_from_the_page(link)
    queries.scan_tool(link).turn(clock.now(), engine_on, ignition_on, supply)
    link.save(update_fields=["state"])
    return link


@transaction.atomic
def reset(by: Person, service_id: int, name: str) -> DeviceLink:
    """Ask the scan tool for a reset; it takes a moment, and may fail with its reason."""
    require(by, "technician")
    link = _linked(service_id, "scan tool")
    tool, now = queries.scan_tool(link), clock.now()
    kept = [r.name for r in tool.resets(now)]
    if name not in kept:
        raise Inconsistent(say("The control unit keeps no “{name}”.", name=name), field="name", value=name, allowed=", ".join(kept))
    tool.start_reset(name, now)
    link.asked = {**link.asked, name: {"by": by.pk, "act": str(uuid.uuid4())}}
    link.save(update_fields=["state", "asked"])
    audit(by, "reset asked", link.service, (), name=name)
    return link


@transaction.atomic
def put_on_scale(by: Person, service_id: int, what: str) -> DeviceLink:
    """Put something on the simulated scale, or tare it."""
    require(by, "technician")
    link = _linked(service_id, "scale")
    if what == "tare":
        shown = queries.scale(link).read(clock.now())
        if shown.status != "live":
            raise GateClosed(say("The scale does not answer just now: try again in a moment."), field="put", value=what)
        if not shown.steady:
            raise GateClosed(say("It swings: wait until it has come to rest, then tare."), field="put", value=what)
        queries.scale(link).tare(clock.now())
    else:
        _moved_from_the_page(link)
        queries.scale(link).put(clock.now(), what)
    link.save(update_fields=["state"])
    return link


def _moved_from_the_page(link: DeviceLink) -> None:
    """Only what is simulated is moved from the page."""
    if not is_simulated(link.kind, link.adaptor):
        raise GateClosed(
            say("The {kind} is a real one: turn the key, or put the pan on, by hand.", kind=link.kind), field="kind", value=link.kind
        )


def _linked(service_id: int, kind: str) -> DeviceLink:
    _open_service(service_id)
    link = DeviceLink.objects.select_related("service").filter(service_id=service_id, kind=kind).first()
    if link is None:
        raise GateClosed(say("Connect the {kind} first.", kind=kind), field="kind", value=kind)
    return link


def poll_scan(service_id: int, compartment: str) -> queries.ScanView:
    """What the scan tool shows now; a value that counts is kept every few seconds for the fit."""
    service, now = guides.load(service_id), clock.now()
    link = DeviceLink.objects.select_related("service").filter(service_id=service_id, kind="scan tool").first()
    if link is not None:
        report_resets(link)
    view = queries.scan_view(service, link, compartment, now)
    reading = view.reading
    if (
        link is None
        or service.state != "open"
        or view.doubt
        or reading is None
        or reading.temperature_c is None
        or reading.taken_at is None
    ):
        return view
    last = link.samples[-1][0] if link.samples else 0.0
    if reading.taken_at.timestamp() - last >= SAMPLE_EVERY_S:
        kept = [*link.samples, [reading.taken_at.timestamp(), reading.temperature_c]][-queries.MOST_SAMPLES :]
        # Two pages may ask in the same second: the later list holds both within a sample.
        DeviceLink.objects.filter(pk=link.pk).update(samples=kept)
    return view


def poll_scale(service_id: int) -> queries.ScaleView:
    """What the scale shows now."""
    guides.load(service_id)
    return queries.scale_view(DeviceLink.objects.filter(service_id=service_id, kind="scale").first(), clock.now())


def poll_feed(vehicle_id: int) -> queries.FeedView:
    """What the meter feed delivers now."""
    return queries.feed_view(vehicle_id, clock.now())
