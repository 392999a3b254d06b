"""Fixtures for the API tests: people, a small fleet through the real actions, and a client that carries its key."""

from __future__ import annotations

import datetime as dt
import uuid
from dataclasses import dataclass
from types import SimpleNamespace

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import HealthCheck, settings

from barodex import clock

# A busy machine is slow, not wrong.
settings.register_profile("house", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("house")

NOW = dt.datetime(2026, 6, 15, 10, 0, tzinfo=dt.UTC)
TODAY = NOW.date()


@pytest.fixture
def at_noon():
    """Hold the clock at NOW."""
    with clock.at(NOW):
        yield NOW


@pytest.fixture(autouse=True)
def nothing_kept():
    """Each test has a database of its own, so what a process keeps in memory of it is forgotten."""
    from barodex.memory.kept import forget_all

    forget_all()


@dataclass
class Api:
    """A signed-in client: JSON in, JSON out, and the status it expects."""

    client: Client

    def call(self, method: str, path: str, body=None, expect: int = 200):
        response = getattr(self.client, method)(path, data=body if body is not None else None, content_type="application/json")
        assert response.status_code == expect, response.content[:600]
        return response.json() if response.content else None

    def get(self, path, expect=200):
        response = self.client.get(path)
        assert response.status_code == expect, response.content[:600]
        return response.json()

    def post(self, path, body=None, expect=200):
        return self.call("post", path, body or {}, expect)


@pytest.fixture
def people(db, at_noon):
    from barodex.accounts.actions import add_person

    return {role: add_person(None, role, None, role, role.capitalize()) for role in ("viewer", "technician", "lead")}


@pytest.fixture
def password(people):
    """The lead's password, hashed as the application does; most tests need none, and Argon2 is slow on purpose."""
    people["lead"].set_password("a long enough one")
    people["lead"].save()
    return "a long enough one"


@pytest.fixture
def api(people):
    """Clients by role."""

    def sign_in(role):
        client = Client()
        client.force_login(people[role], backend="django.contrib.auth.backends.ModelBackend")
        return Api(client)

    return SimpleNamespace(**{role: sign_in(role) for role in people})


@pytest.fixture
def depot(people):
    """A 4x4 with a brass-synchro gearbox and a rear axle, oil on the shelf, readings, and one earlier change."""
    from decimal import Decimal

    from barodex.book.actions import PaperRecord, enter_record
    from barodex.core.sheet.sheet import Plug
    from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_reading, add_vehicle
    from barodex.shelf.actions import Figures, Oil, Source, add_lubricant, stock_container, write_sheet

    lead, tech = people["lead"], people["technician"]
    plugs = (
        Plug("fill", "fill plug", "hex socket", 12, "crush washer", 37),
        Plug("drain", "drain plug", "hex socket", 12, "crush washer", 43, True),
    )
    sources = tuple(Source(f, "manual", "verified") for f in ("capacity", "oil", "interval", "torque"))
    light = add_lubricant(lead, Oil("Light", "gear", "75W-80", "GL-4", 870, packs=((1000, Decimal("10.00")),)))
    heavy = add_lubricant(lead, Oil("Heavy", "gear", "80W-90", "GL-5", 890, packs=((1000, Decimal("8.00")), (5000, Decimal("30.00")))))
    box = write_sheet(
        lead,
        "Brass box",
        "manual gearbox",
        Figures(
            "gear",
            1850,
            "75W-80",
            "GL-4",
            yellow_metal=True,
            case_material="aluminium",
            interval_km=60_000,
            interval_months=48,
            plugs=plugs,
            sources=sources,
        ),
    )
    axle = write_sheet(
        lead,
        "Plain axle",
        "axle",
        Figures(
            "gear",
            1500,
            "80W-90",
            "GL-5",
            hypoid=True,
            yellow_metal=False,
            limited_slip=False,
            interval_km=40_000,
            plugs=plugs,
            sources=sources,
        ),
    )
    bottles = [stock_container(tech, light.pk, 1000, size, f"Light {k}") for k, size in enumerate((640, 1000, 1000))]
    vehicle = add_vehicle(
        lead,
        VehicleSpec(
            "Old 4x4",
            "4x4",
            "four-wheel",
            plate="SKR 1",
            compartments=(CompartmentSpec("Gearbox", "gearbox", box.pk), CompartmentSpec("Rear axle", "rear axle", axle.pk)),
        ),
    )
    gearbox, rear = vehicle.compartments.order_by("id")
    for days, km in ((730, 50_000), (365, 61_000), (10, 71_700)):
        with clock.at(NOW - dt.timedelta(days=days)):
            add_reading(tech, vehicle.pk, clock.today(), km)
    with clock.at(NOW - dt.timedelta(days=365)):
        enter_record(tech, gearbox.pk, PaperRecord(clock.today(), 61_000, light.pk, "", None, None, 1850))
    return SimpleNamespace(vehicle=vehicle, gearbox=gearbox, rear=rear, light=light, heavy=heavy, box=box, axle=axle, bottles=bottles)


def new_act(kind: str, step: str, **values):
    """The body of an act with an id of its own."""
    return {"act_id": str(uuid.uuid4()), "kind": kind, "step": step, "values": values}


def local_today():
    return timezone.localtime(NOW).date()


@pytest.fixture
def record(api, depot, people):
    """A change of the gearbox led and signed, of which 1 640 mL came out at 38 °C."""
    from barodex.book.models import OilRecord
    from barodex.demo.walk import Outcome, walk

    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72 000",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}],
    }
    service = api.technician.post("/api/services", body, expect=201)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1640, 38)})
    return OilRecord.objects.get(service=service)
