"""A box takes its past along: another one fitted, the old one kept and fitted elsewhere; what it ran, over all vehicles."""

import datetime as dt

import pytest

from barodex.bay.actions import JobSpec, start_service
from barodex.book.actions import PaperRecord, enter_record
from barodex.book.history import history_of
from barodex.core.quantity.errors import CoreError
from barodex.fleet.actions import OtherBox, VehicleSpec, add_compartment, add_reading, add_vehicle, fit_box
from barodex.fleet.actions.vehicles import CompartmentSpec
from barodex.fleet.models import Compartment
from barodex.plan.facts import facts_of, facts_of_vehicle
from tests.conftest import TODAY


def place(pk):
    return Compartment.objects.select_related("vehicle", "sheet").get(pk=pk)


@pytest.fixture
def other(depot, people):
    """A second vehicle with a gearbox of the same make, at 10 000 km a month ago."""
    vehicle = add_vehicle(people["lead"], VehicleSpec("Spare van", kind="van", layout="rear-wheel"))
    made = add_compartment(people["lead"], vehicle.pk, CompartmentSpec("Gearbox", "gearbox", depot.box.pk))
    add_reading(people["technician"], vehicle.pk, TODAY - dt.timedelta(days=30), 10_000)
    return made


def test_the_new_box_begins_with_nothing_and_the_old_one_keeps_its_past(api, depot, people):
    before = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    assert before
    old = depot.gearbox.box_id
    fit_box(people["lead"], depot.gearbox.pk, TODAY, 72_000, OtherBox(number="G 17", note="from the breaker"), "bearing noise")
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"] == []
    due = next(c for c in api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"] if c["id"] == depot.gearbox.pk)
    assert due["state"] == "unknown"  # nobody knows what is in it
    fit_box(people["lead"], depot.gearbox.pk, TODAY, None, OtherBox(box_id=old), "the other was worse")
    assert [r["id"] for r in api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]] == [r["id"] for r in before]


def test_what_it_ran_goes_on_in_another_vehicle(api, depot, people, other):
    """Changed at 62 000, taken out at 71 200, fitted at 10 100 in another: at 10 600 it has run 9 700, not 500."""
    tech, lead = people["technician"], people["lead"]
    enter_record(tech, depot.gearbox.pk, PaperRecord(TODAY - dt.timedelta(days=200), 62_000, depot.light.pk, poured_ml=1850))
    fit_box(lead, depot.gearbox.pk, TODAY - dt.timedelta(days=20), 71_200, OtherBox(), "gone to the van")
    assert place(depot.gearbox.pk).box_id != depot.gearbox.box_id
    fit_box(lead, other.pk, TODAY - dt.timedelta(days=20), 10_100, OtherBox(box_id=depot.gearbox.box_id), "from the old car")
    add_reading(tech, other.vehicle_id, TODAY, 10_600)
    assert history_of(place(other.pk), TODAY).run_since_change == pytest.approx((71_200 - 62_000) + 500)
    facts = api.viewer.get(f"/api/due/{other.vehicle_id}")["vehicles"][0]["compartments"]
    mine = next(c for c in facts if c["id"] == other.pk)
    v = facts_of_vehicle(other.vehicle_id, TODAY)
    assert sum(facts_of(v, next(b for b in v.boxes if b.id == other.pk), TODAY).legs.values()) == pytest.approx(9_700)
    assert mine["last_on"] == (TODAY - dt.timedelta(days=200)).isoformat()
    assert api.viewer.get(f"/api/book/{other.pk}/trend")["run_now"] == pytest.approx(9_700)
    enter_record(tech, other.pk, PaperRecord(TODAY, 10_600, depot.light.pk, drained_ml=1800, drained_c=20.0, poured_ml=1850))
    newest = api.viewer.get(f"/api/book/{other.pk}")["records"][-1]
    assert newest["run"] == pytest.approx(9_700)
    # What was written of it in the other vehicle is put right all the same.
    first = api.viewer.get(f"/api/book/{other.pk}")["records"][-2]
    body = {"field": "finding", "finding": {"magnet": "film", "colour": "brown"}, "reason": "it stood on the tag"}
    api.technician.post(f"/api/records/{first['id']}/corrections", body, expect=201)
    api.technician.post(
        f"/api/records/{first['id']}/corrections", {"field": "poured_ml", "value": "1840 mL", "reason": "misread"}, expect=201
    )
    again = api.viewer.get(f"/api/book/{other.pk}")["records"]
    assert (again[-2]["level"], again[-2]["poured_ml"]) == (1, 1840)
    # Nobody saw it drained before: 2.5 % of the fill, 46 mL, are taken to be on its walls (common practice); of 40 that are missing all.
    assert again[-1]["loss_15_ml"] == pytest.approx(0, abs=1)
    assert newest["loss_15_ml"] == pytest.approx(50 - 46, abs=5)


def test_a_swap_to_a_used_meter_is_no_distance(api, depot, people):
    """62 000 to 71 700 on the old meter, the new one fitted at 300 000 and read at 300 500: 10 200 km were run."""
    tech = people["technician"]
    enter_record(tech, depot.rear.pk, PaperRecord(TODAY - dt.timedelta(days=200), 62_000, depot.heavy.pk, poured_ml=1500))
    add_reading(tech, depot.vehicle.pk, TODAY - dt.timedelta(days=5), 300_000, swap=True)
    add_reading(tech, depot.vehicle.pk, TODAY, 300_500)
    last = max(r.value for r in depot.vehicle.readings.all() if r.value < 100_000)
    enter_record(tech, depot.rear.pk, PaperRecord(TODAY, 300_500, depot.heavy.pk, drained_ml=1400, drained_c=20.0, poured_ml=1500))
    newest = api.viewer.get(f"/api/book/{depot.rear.pk}")["records"][-1]
    assert newest["run"] == pytest.approx(last - 62_000 + 500)


@pytest.mark.parametrize(
    ("more", "words"),
    [({"on": TODAY + dt.timedelta(days=1)}, "in the future"), ({"why": "x"}, "Say why"), ({"other": OtherBox(box_id=999)}, "no such box")],
)
def test_what_cannot_be_fitted_is_refused(depot, people, more, words):
    given = {"on": TODAY, "other": OtherBox(), "why": "bearing noise"} | more
    with pytest.raises(CoreError, match=words):
        fit_box(people["lead"], depot.gearbox.pk, given["on"], None, given["other"], given["why"])
    assert place(depot.gearbox.pk).box_id == depot.gearbox.box_id


def test_one_that_is_fitted_or_on_the_bench_stays_where_it_is(api, depot, people, other):
    start_service(people["technician"], depot.vehicle.pk, (JobSpec(depot.gearbox.pk, depot.light.pk),), None)
    with pytest.raises(CoreError, match="It is fitted: Spare van"):
        fit_box(people["lead"], depot.rear.pk, TODAY, None, OtherBox(box_id=other.box_id), "wanted here")
    with pytest.raises(CoreError, match="on the bench"):
        fit_box(people["lead"], depot.gearbox.pk, TODAY, None, OtherBox(), "bearing noise")
