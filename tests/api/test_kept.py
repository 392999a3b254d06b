"""A service keeps the guide by which it is led, and a signed one what it showed: later code and later figures change neither."""

from __future__ import annotations

import datetime as dt
from dataclasses import replace

import pytest

from barodex import clock
from barodex.bay.from_before import keep_all
from barodex.bay.models import ServiceGuide, SignedPage
from barodex.core.guide import stored
from barodex.demo.walk import Outcome, walk
from barodex.memory.kept import forget_all
from barodex.shelf.actions.sheets import figures_of, revise_sheet
from barodex.shelf.queries import current_revision
from tests.conftest import NOW, new_act


def start(api, depot):
    job = {"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}
    return api.technician.post("/api/services", {"vehicle_id": depot.vehicle.pk, "meter_value": "72000 km", "jobs": [job]}, 201)["id"]


def test_later_code_does_not_build_the_guide_anew(api, depot, people, monkeypatch):
    service = start(api, depot)
    before = api.viewer.get(f"/api/services/{service}")

    def other(*_):
        raise AssertionError("built anew")

    monkeypatch.setattr(stored, "build", other)
    forget_all()
    assert api.viewer.get(f"/api/services/{service}") == before
    assert walk(people["technician"], service, {"Gearbox": Outcome(1820)}).state == "signed"


def test_a_signed_page_says_what_it_said(api, depot, people):
    service = start(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1500)})
    page, gaps = api.viewer.get(f"/api/services/{service}"), api.viewer.get(f"/api/services/{service}/gaps")
    assert page["ledgers"][0]["assessment"]["level"] is not None
    revision = current_revision(depot.box.revisions.all(), NOW.date())
    revise_sheet(people["lead"], depot.box.pk, replace(figures_of(revision), capacity_ml=2400.0, interval_months=12), "newer plate")
    depot.vehicle.name = "Older 4x4"
    depot.vehicle.save()
    with clock.at(NOW + dt.timedelta(days=200)):
        later = api.viewer.get(f"/api/services/{service}")
        assert api.viewer.get(f"/api/services/{service}/gaps") == gaps
    assert later.pop("now") != page.pop("now")
    assert (later.pop("vehicle"), page.pop("vehicle")) == ("Older 4x4", "Old 4x4")
    assert later == page


@pytest.mark.parametrize("signed", [False, True])
def test_services_from_before_get_what_they_lack_once(api, depot, people, signed):
    service = start(api, depot)
    walk(people["technician"], service, {"Gearbox": Outcome(1820)}, stop_before="" if signed else "look")
    before = api.viewer.get(f"/api/services/{service}"), api.viewer.get(f"/api/services/{service}/gaps")
    ServiceGuide.objects.all().delete()
    SignedPage.objects.all().delete()
    forget_all()
    keep_all()
    keep_all()
    assert (api.viewer.get(f"/api/services/{service}"), api.viewer.get(f"/api/services/{service}/gaps")) == before
    assert SignedPage.objects.count() == int(signed)
    refused = api.technician.post(f"/api/services/{service}/acts", new_act("done", "no-such-step"), 409 if signed else 422)
    assert ("signed" if signed else "no step") in refused["detail"]
