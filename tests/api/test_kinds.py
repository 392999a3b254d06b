"""Guides of other kinds over the API: an exchange with its level at temperature, readings, and the demo fleet's special compartments."""

import pytest

from barodex.bay.models import Service
from barodex.book.models import OilRecord
from barodex.demo.walk import Outcome, walk
from barodex.fleet.models import Compartment, Vehicle
from barodex.shelf.models import Container, Lubricant
from tests.conftest import new_act

PLUGS = [
    {"role": "fill", "label": "filler plug", "drive": "hex socket", "size_mm": "8", "torque_nm": "35"},
    {"role": "drain", "label": "drain plug", "drive": "hex socket", "size_mm": "8", "torque_nm": "20", "magnet": True},
    {"role": "level", "label": "level screw", "drive": "hex socket", "size_mm": "5", "torque_nm": "8"},
]
AUTOMATIC = {
    "name": "Six-speed",
    "kind": "automatic",
    "family": "atf",
    "capacity_ml": "4 L",
    "total_ml": "9.5 L",
    "surplus_ml": "500 mL",
    "exchange_cycles": 2,
    "fill_method": "overflow",
    "drain_method": "plug",
    "warm_up": False,
    "window_low_c": "40 °C",
    "window_high_c": "113 °F",
    "level_engine": "running",
    "selector": "P",
    "plugs": PLUGS,
    "sources": [],
}


@pytest.fixture
def automatic(api, depot):
    """The 4x4 with an automatic, its fluid on the shelf."""
    sheet = api.lead.post("/api/sheets", AUTOMATIC, expect=201)["id"]
    box = Compartment.objects.create(vehicle=depot.vehicle, sheet_id=sheet, name="Automatic", slot="transaxle")
    oil = Lubricant.objects.create(name="Red", family="atf", density15=850)
    can = api.technician.post(
        "/api/containers", {"lubricant_id": oil.pk, "label": "Red drum", "size_ml": "20 L", "content_ml": "20 L"}, expect=201
    )
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": box.pk, "lubricant_id": oil.pk}]}
    depot.service = api.technician.post("/api/services", body, expect=201)["id"]
    depot.automatic, depot.red, depot.can = box, oil, can["id"]
    return depot


def act(api, depot, kind, step, expect=200, **values):
    body = new_act(kind, f"{step}.{depot.automatic.pk}" if step else "", **values)
    return api.technician.post(f"/api/services/{depot.service}/acts", body, expect=expect)


def test_a_window_is_read_in_any_unit_and_refused_upside_down(api, depot):
    made = api.lead.post("/api/sheets", AUTOMATIC, expect=201)["id"]
    shown = api.viewer.get(f"/api/sheets/{made}")["revisions"][0]
    assert (shown["window_low_c"], shown["window_high_c"]) == (40, pytest.approx(45))  # 113 °F, by definition
    for change, field in (
        ({"window_low_c": "60"}, "window_low_c"),
        ({"window_high_c": None}, "window_high_c"),
        ({"level_engine": "humming"}, "level_engine"),
        ({"thermostat_c": "400"}, "thermostat_c"),
        ({"fill_method": "overflow", "plugs": [PLUGS[1] | {"role": "cover"}], "drain_method": "cover"}, "plugs"),
    ):
        problem = api.lead.post("/api/sheets", {**AUTOMATIC, "name": "Odd", **change}, expect=422)
        assert problem["errors"][0]["field"] == field


def test_an_exchange_draws_every_cycle_from_stock_and_says_what_it_came_to(api, automatic, people):
    walk(people["technician"], automatic.service, {"Automatic": Outcome(3800)}, stop_before="sign")
    ledger = api.viewer.get(f"/api/services/{automatic.service}")["ledgers"][0]
    assert ledger["cycles"] == [{"drained_ml": 3800, "poured_ml": 3800}]
    assert ledger["cycles_planned"] == 2
    assert 0.4 < ledger["fresh"] < 0.8
    walk(people["technician"], automatic.service, {})
    record = OilRecord.objects.get(service=automatic.service)
    assert record.work == "exchange"
    assert record.details["cycles"] == "2"
    shown = api.viewer.get(f"/api/book/{automatic.automatic.pk}")["records"][-1]
    assert [(e["kind"], e["volume_ml"], e["cycle"]) for e in shown["entries"]][:4] == [
        ("drained", 3800, 1),
        ("oil", 3800, 1),
        ("drained", 3800, 2),
        ("oil", 4500, 2),
    ]
    assert (shown["drained_ml"], shown["poured_ml"]) == (7600, 8300)
    less = {"field": "drained_ml", "value": "3 L", "reason": "misread"}
    asked = api.technician.post(f"/api/records/{record.pk}/corrections", less, expect=422)
    assert asked["errors"][0]["field"] == "value"
    assert "alone make" in asked["detail"]
    assert shown["inside_15_ml"] == pytest.approx((9500 - 7600 + 8300 - (shown["run_out_ml"] or 0)) * 0.996, rel=0.02)  # the whole box
    assert shown["fresh_share"] == pytest.approx(api.viewer.get(f"/api/services/{automatic.service}")["ledgers"][0]["fresh"])
    assert any("would reach the 70\N{NO-BREAK SPACE}%" in g for g in record.gaps)  # two drains are not enough, and the reason stands
    assert Container.objects.get(pk=automatic.can).content_ml == pytest.approx(20_000 - 3800 - 4500)


def test_the_level_is_refused_outside_its_window_and_readings_tell_when_it_opens(api, automatic, people):
    from barodex import clock
    from tests.conftest import NOW

    walk(people["technician"], automatic.service, {"Automatic": Outcome(3800)}, stop_before="level")
    step = next(s for s in api.viewer.get(f"/api/services/{automatic.service}")["steps"] if s["id"].startswith("level."))
    assert (step["window_low_c"], step["window_high_c"]) == (40, pytest.approx(45))
    values = {"engine": "running", "outcome": "streamed, then only drips"}
    refused = act(api, automatic, "done", "level", 409, temperature_c="52 °C", **values)
    assert "too little would stay inside" in refused["detail"]
    assert refused["errors"][0]["field"] == "temperature_c"
    assert "pump holds no oil" in act(api, automatic, "done", "level", 409, temperature_c="42", **{**values, "engine": "off"})["detail"]
    for k, reading in enumerate(("24", "27.5", "30.6", "33.4", "35.9")):
        with clock.at(NOW.replace(minute=10 + k)):
            view = act(api, automatic, "reading", "level", temperature_c=reading)
    ledger = view["ledgers"][0]
    assert [r["temperature_c"] for r in ledger["readings"]] == [24, 27.5, 30.6, 33.4, 35.9]
    assert ledger["warmup"]["reaches"]
    assert ledger["warmup"]["opens_in_s"] > 0
    with clock.at(NOW.replace(minute=15)):
        assert "temperature_c is 400" in act(api, automatic, "reading", "level", 422, temperature_c="400 °C")["detail"]
        assert "thermometer" in act(api, automatic, "reading", "level", 422)["detail"]
    act(api, automatic, "done", "level", temperature_c="42", **values)


@pytest.mark.django_db
def test_every_compartment_of_the_demo_fleet_is_guided_to_its_record(at_noon):
    from barodex.accounts.models import Person
    from barodex.bay.actions import JobSpec, start_service
    from barodex.choose.judging import compartment_oils
    from barodex.demo.loader import load
    from barodex.shelf.models import Lubricant, StoreItem

    load()
    fergus = Person.objects.get(username="fergus")
    there = (*StoreItem.objects.values_list("name", flat=True), *Lubricant.objects.values_list("name", flat=True))
    busy = set(Service.objects.filter(state="open").values_list("jobs__compartment_id", flat=True))
    done = []
    for vehicle in Vehicle.objects.all():
        for c in vehicle.compartments.exclude(pk__in=busy):
            oil = compartment_oils(c.pk, {}).offers[0]
            service = start_service(
                fergus, vehicle.pk, (JobSpec(c.pk, oil.lubricant, slip="unknown", warranty="the depot wants it done"),), None, at_hand=there
            )
            assert walk(fergus, service.pk, {}).state == "signed", f"{vehicle.name}, {c.name}"
            done.append(c.sheet.kind)
    assert {"automatic", "clutch transfer case", "electronic differential", "supercharger", "hub gear", "chain case"} <= set(done)
