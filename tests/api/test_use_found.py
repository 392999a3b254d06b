"""What readings say of a vehicle's use that nobody told: a season is asked and answered by one press, a changed use is followed and said."""

import datetime as dt

import pytest

from barodex import clock
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_reading, add_vehicle
from tests.conftest import NOW, TODAY

pytestmark = pytest.mark.django_db


@pytest.fixture
def rider(depot, people):
    """A motorcycle that nobody said a season of: 20 km a day from April to October, read every fortnight for two years."""
    made = add_vehicle(
        people["lead"],
        VehicleSpec("Hill rider", "motorcycle", "shaft motorcycle", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),)),
    )
    day, total = TODAY - dt.timedelta(days=756), 5000
    while day <= TODAY:
        with clock.at(dt.datetime.combine(day, NOW.timetz())):
            add_reading(people["technician"], made.pk, day, total)
        total += sum(20 for k in range(14) if 4 <= (day + dt.timedelta(days=k)).month <= 10)
        day += dt.timedelta(days=14)
    return made


def shown(api, vehicle):
    return api.viewer.get(f"/api/due/{vehicle.pk}")["vehicles"][0]


def test_a_season_that_the_readings_show_is_asked_and_set_by_one_press(api, rider):
    before = shown(api, rider)
    assert before["stands"] == "1 Nov to 31 Mar"
    assert before["season"] == "1 Apr to 31 Oct"  # counted before it is answered
    path = f"/api/vehicles/{rider.pk}/season"
    api.technician.post(path, {"stands": True}, expect=403)
    api.lead.post(path, {"stands": True})
    after = shown(api, rider)
    assert (after["stands"], after["season"]) == ("", "1 Apr to 31 Oct")
    assert api.viewer.get(f"/api/vehicles/{rider.pk}/use")["season_from"] == "04-01"
    assert "answered already" in api.lead.post(path, {"stands": True}, expect=422)["detail"]


def test_a_season_that_is_denied_is_neither_asked_nor_counted_again(api, rider):
    api.lead.post(f"/api/vehicles/{rider.pk}/season", {"stands": False})
    after = shown(api, rider)
    assert (after["stands"], after["season"]) == ("", "")
    assert after["parked_days"] > 100  # counted as standing, whenever that comes


def test_a_vehicle_that_runs_twice_as_much_says_since_when(api, depot, people):
    vehicle = add_vehicle(
        people["lead"], VehicleSpec("Round van", "van", "rear-wheel", compartments=(CompartmentSpec("Gearbox", "gearbox", depot.box.pk),))
    )
    total = 5000
    for ago in range(400, -1, -10):
        with clock.at(NOW - dt.timedelta(days=ago)):
            add_reading(people["technician"], vehicle.pk, clock.today(), total)
        total += 300 if ago > 40 else 600
    seen = shown(api, vehicle)
    assert seen["changed_since"] == str(TODAY - dt.timedelta(days=40))
    assert seen["changed_factor"] == pytest.approx(2.0)
    assert seen["per_day"] == pytest.approx(60, rel=0.05)
    assert shown(api, depot.vehicle)["changed_factor"] is None


def test_past_forecasts_are_held_against_what_was_read_since(api, rider):
    told = api.viewer.get("/api/book/forecasts")
    mine = next(v for v in told["vehicles"] if v["vehicle"] == "Hill rider")
    assert mine["tally"]["before"] + mine["tally"]["within"] + mine["tally"]["after"] > 0
    assert sum(told["tally"][k] for k in ("before", "within", "after")) == sum(
        v["tally"][k] for v in told["vehicles"] for k in ("before", "within", "after")
    )
    for miss in mine["misses"]:
        assert miss["true"] < (miss["early"] or "9999") or miss["true"] > (miss["late"] or "9999")
