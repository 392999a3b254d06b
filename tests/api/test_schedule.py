"""Schools, duty, seasons, links, counters and the pages of Due over HTTP: what is set moves the due, what cannot be is refused."""

import datetime as dt

import pytest

from barodex import clock
from barodex.book.actions import PaperRecord, enter_record
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_reading, add_vehicle
from barodex.fleet.models import CompartmentRule, Reading, Vehicle
from barodex.plan.facts import due_of, dues_of, fleet_facts
from barodex.shelf.models import SheetRevision
from barodex.workshop.schedule import schedule_policy
from tests.conftest import NOW

TODAY = NOW.date()


@pytest.fixture
def worn(depot, people):
    """The rear axle changed 10 000 km and 400 days ago; its sheet says 40 000 km."""
    tech = people["technician"]
    with clock.at(NOW - dt.timedelta(days=400)):
        enter_record(tech, depot.rear.pk, PaperRecord(clock.today(), 60_000, depot.heavy.pk, "", None, None, 1500))
    return depot


def life(api, depot, box="rear"):
    return next(x for x in api.viewer.get(f"/api/due/{depot.vehicle.pk}/life") if x["id"] == getattr(depot, box).pk)


def due(api, depot, box="rear"):
    (vehicle,) = api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"]
    return next(c for c in vehicle["compartments"] if c["id"] == getattr(depot, box).pk)


def rule(api, depot, expect=200, box="rear", **more):
    body = {"why": "asked by the lead", **more}
    return api.lead.post(f"/api/compartments/{getattr(depot, box).pk}/rule", body, expect=expect)


def use(api, depot, expect=200, **more):
    return api.lead.post(f"/api/vehicles/{depot.vehicle.pk}/use", {"duty_split": {}, **more}, expect=expect)


def test_life_shows_its_limits_its_working_and_the_other_school(api, worn):
    told = life(api, worn)
    ran = dict(told["working"]["inputs"])["road"]
    assert "of 40\N{NO-BREAK SPACE}000 km" in ran
    assert told["limits"][0]["limit"] == "distance"
    assert told["limits"][0]["used"] == pytest.approx(due(api, worn)["used"])
    assert told["school"] == "preventive"
    assert told["other"]["school"] == "maker"
    assert told["other"]["used"] == pytest.approx(told["limits"][0]["used"]), "on the road both schools say the same"
    api.viewer.get("/api/due/999/life", expect=404)


def test_severe_use_parts_the_schools(api, worn):
    before = due(api, worn)["used"]
    use(api, worn, duty_split={"off_road": 0.5})
    told = life(api, worn)
    # Half of it off the road at 0.6 of the interval: (0.5 + 0.5/0.6) times the life (common practice).
    assert told["limits"][0]["used"] == pytest.approx(before * (0.5 + 0.5 / 0.6))
    assert told["other"]["used"] == pytest.approx(before)
    api.lead.post("/api/plan/schedule", {"school": "maker", "why": "the lease says so"})
    told = life(api, worn)
    assert (told["school"], told["limits"][0]["used"]) == ("maker", pytest.approx(before))
    assert api.viewer.get("/api/plan/schedule")["history"][0]["why"] == "the lease says so"
    rule(api, worn, school="preventive")
    assert life(api, worn)["limits"][0]["used"] > before
    assert life(api, worn)["rule"]["why"] == "asked by the lead"


def test_a_rule_is_a_row_of_its_own_and_the_newest_counts(api, worn):
    rule(api, worn, interval_km="20 000 km")
    first = due(api, worn)["used"]
    rule(api, worn, interval_km="10 000 km", load_share=0.9)
    assert due(api, worn)["used"] == pytest.approx(first * 2 / (1 - 0.15 / 0.25 * 0.45))
    assert CompartmentRule.objects.filter(compartment=worn.rear).count() == 2
    rule(api, worn)
    assert "the sheet" in due(api, worn)["basis"]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"interval_months": 0}, "months"),
        ({"interval_km": "0 km"}, "distance_km"),
        ({"interval_km": "80.000 km"}, "interval_km"),
        ({"load_share": 1.3}, "load_share"),
        ({"severe_factor": 0}, "severe_factor"),
        ({"school": "mine"}, "school"),
        ({"linked": "season"}, "linked"),
        ({"linked": "engine oil"}, "linked"),
        ({"why": "x"}, "why"),
    ],
)
def test_a_rule_that_cannot_be_is_refused_at_its_field(api, worn, more, field):
    before = due(api, worn)
    assert field in {e["field"] for e in rule(api, worn, expect=422, **more)["errors"]}
    assert due(api, worn) == before
    assert not CompartmentRule.objects.exists()


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"duty_split": {"track": 1.2}}, "track"),
        ({"duty_split": {"track": 0.7, "towing": 0.6}}, "duty_split"),
        ({"duty_split": {"flying": 0.2}}, "duty_split"),
        ({"duty_split": {"road": 0.9, "track": 0.3}}, "duty_split"),
        ({"season_from": "05-01", "season_to": "04-30"}, "season_to"),
        ({"season_from": "02-30", "season_to": "04-30"}, "season_from"),
        ({"season_from": "12-01"}, "season_to"),
        ({"engine_oil_run": "0 km"}, "engine_oil_run"),
        ({"engine_oil_months": 0}, "engine_oil_months"),
        ({"engine_oil_run": "10 000 km"}, "engine_oil_on"),
        ({"engine_oil_on": "2031-01-01"}, "engine_oil_on"),
    ],
)
def test_use_that_cannot_be_is_refused_at_its_field(api, worn, more, field):
    before = api.viewer.get(f"/api/vehicles/{worn.vehicle.pk}/use")
    assert field in {e["field"] for e in use(api, worn, expect=422, **more)["errors"]}
    assert api.viewer.get(f"/api/vehicles/{worn.vehicle.pk}/use") == before


def test_a_season_from_the_twenty_ninth_of_february(api, worn):
    told = use(api, worn, season_from="02-29", season_to="09-30")
    assert told["season_days"] == (dt.date(2025, 9, 30) - dt.date(2025, 2, 28)).days + 1
    rule(api, worn, linked="season")
    # Changed in May, in season: due before the season of the year after.
    assert due(api, worn)["limit"] in ("season", "distance")


def test_with_the_engine_oil_and_before_the_season(api, worn):
    use(api, worn, season_from="07-01", season_to="10-31", engine_oil_months=6, engine_oil_on="2026-01-15")
    rule(api, worn, linked="engine oil")
    told = due(api, worn)
    assert (told["limit"], told["on"]) == ("engine oil", "2026-07-15")
    assert told["state"] == "soon"
    rule(api, worn, linked="season")
    told = due(api, worn)
    # Changed on 11 May 2025, out of season, for the one of July 2025; the next begins in July 2026.
    assert (told["limit"], told["on"]) == ("season", "2026-07-01")


def test_a_counter_brings_it_forward(api, worn):
    api.technician.post(f"/api/compartments/{worn.rear.pk}/counter", {"used": 0.96}, expect=201)
    told = due(api, worn)
    # 96 % in 400 days: the rest in 400 · 0.04 / 0.96 = 17 days.
    assert (told["limit"], told["on"]) == ("counter", str(TODAY + dt.timedelta(days=17)))
    assert life(api, worn)["counter"] == 0.96
    for body in ({"used": 3}, {"used": "much"}, {"used": 0.5, "on": "2031-01-01"}, {}):
        api.technician.post(f"/api/compartments/{worn.rear.pk}/counter", body, expect=422)


def test_under_warranty_it_is_left_closed(api, worn):
    SheetRevision.objects.filter(sheet=worn.axle).update(interval_km=None, for_life=True)
    rule(api, worn, interval_km="9 000 km")
    assert due(api, worn)["state"] == "overdue"
    use(api, worn, warranty_until="2027-03-01")
    told = due(api, worn)
    assert (told["limit"], told["state"], told["held_until"], told["on"]) == ("warranty", "fine", "2027-03-01", "2027-03-02")
    api.lead.post("/api/plan/schedule", {"warranty": "as usual", "why": "the depot owns it"})
    assert due(api, worn)["state"] == "overdue"


def test_opening_it_under_warranty_wants_a_reason_that_stays_on_the_record(api, worn, people):
    from barodex.book.models import OilRecord
    from barodex.demo.walk import Outcome, walk

    assert [j["warranty"] for j in api.technician.get(f"/api/services/start/{worn.vehicle.pk}")["jobs"]] == ["", ""]
    use(api, worn, warranty_until="2027-03-01")
    (shown,) = [j for j in api.technician.get(f"/api/services/start/{worn.vehicle.pk}")["jobs"] if j["compartment"] == worn.rear.pk]
    assert "its maker's figure falls due" in shown["warranty"]
    job = {"compartment_id": worn.rear.pk, "lubricant_id": worn.heavy.pk, "slip": "no"}
    body = {"vehicle_id": worn.vehicle.pk, "jobs": [job], "at_hand": ["Heavy"]}
    refused = api.technician.post("/api/services", body, expect=409)
    assert refused["errors"][0]["field"] == "jobs.0.warranty"
    assert "Under warranty until 01 Mar 2027" in refused["detail"]
    service = api.technician.post("/api/services", {**body, "jobs": [{**job, "warranty": "the maker's dealer asked"}]}, expect=201)["id"]
    walk(people["technician"], service, {"Rear axle": Outcome(1400)})
    assert "Opened under warranty: the maker's dealer asked" in OilRecord.objects.get(service=service).gaps
    # Its maker's own figure falls due: nothing holds it any more.
    SheetRevision.objects.filter(sheet=worn.axle).update(interval_months=1)
    with clock.at(NOW + dt.timedelta(days=40)):
        jobs = api.technician.get(f"/api/services/start/{worn.vehicle.pk}")["jobs"]
    assert [j["warranty"] for j in jobs if j["compartment"] == worn.rear.pk] == [""]


def test_no_history_lists_why(api, depot):
    told = life(api, depot)
    assert told["unknown_why"][0].startswith("No change of this compartment is on record")
    assert any("readings begin on" in w for w in told["unknown_why"])
    assert told["limits"] == []
    assert told["other"] is None


def test_a_reading_carries_the_duty_of_its_leg(api, worn):
    before = due(api, worn)["used"]
    made = api.technician.post(f"/api/vehicles/{worn.vehicle.pk}/readings", {"value": "73 000 km", "duty": {"towing": 0.5}}, expect=201)
    assert made["duty"].replace("\N{NO-BREAK SPACE}", " ") == "50 % towing, 50 % road"
    reading = Reading.objects.get(pk=made["id"])
    assert reading.duty == {"towing": 0.5, "road": 0.5}
    leg = 73_000 - worn.vehicle.readings.order_by("on", "id").filter(value__lt=73_000).last().value
    # Half of the leg counts 1/0.6 (common practice); the rest of the run is road.
    assert due(api, worn)["used"] == pytest.approx((13_000 + leg * 0.5 * (1 / 0.6 - 1)) / 40_000, rel=1e-3)
    assert due(api, worn)["used"] > before
    over = api.technician.post(f"/api/vehicles/{worn.vehicle.pk}/readings", {"value": "73 100 km", "duty": {"track": 1.5}}, expect=422)
    assert over["errors"][0]["field"] == "track"


def test_a_file_carries_duty_too(api, worn, people):
    from barodex.files.readings import CsvRefused, import_readings

    rows = f"vehicle,date,reading,unit,duty\nOld 4x4,{TODAY},73000,km,track 25 %\n"
    import_readings(people["technician"], rows.encode())
    assert Reading.objects.get(value=73_000).duty == {"track": 0.25, "road": 0.75}
    for bad, words in (
        ("track 140 %", "140 % track: a share lies from 0 to 100 %"),
        ("flying", "A duty is one of"),
        ("track much", "no share"),
    ):
        with pytest.raises(CsvRefused) as refused:
            import_readings(people["technician"], f"vehicle,date,reading,unit,duty\nOld 4x4,{TODAY},73500,km,{bad}\n".encode())
        assert words in refused.value.rows[0].message


def test_an_odometer_in_miles_on_a_km_vehicle(api, worn):
    path = f"/api/vehicles/{worn.vehicle.pk}/readings"
    # 45 000 mi are 72 420 km: in line, where 45 000 km are not.
    refused = api.technician.post(path, {"value": "45 000"}, expect=422)
    assert "write mi behind it" in refused["detail"]
    made = api.technician.post(path, {"value": "45 000 mi"}, expect=201)
    assert made["value"] == pytest.approx(45_000 * 1.609344)


def test_a_quarter_of_the_distance_on_track_halves_ten_thousand(api, depot, people):
    # An electronic differential: 16 000 km on the road, a fifth of that on track (common practice): a quarter on track halves it.
    from barodex.shelf.actions import Figures, write_sheet

    sheet = write_sheet(
        people["lead"],
        "Coupling",
        "electronic differential",
        Figures("clutch fluid", 550, fill_method="measured", drain_method="suction", interval_km=10_000),
    )
    spec = VehicleSpec(
        "Racer",
        "car",
        "front-wheel",
        compartments=(CompartmentSpec("Differential", "front axle", sheet.pk),),
        duty_split={"track": 0.25, "road": 0.75},
    )
    racer = add_vehicle(people["lead"], spec)
    box = racer.compartments.get()
    with clock.at(NOW - dt.timedelta(days=100)):
        add_reading(people["technician"], racer.pk, clock.today(), 20_000)
        enter_record(people["technician"], box.pk, PaperRecord(clock.today(), 20_000, None, "Fluid", None, None, 550))
    add_reading(people["technician"], racer.pk, TODAY, 25_000)
    (told,) = api.viewer.get(f"/api/due/{racer.pk}/life")
    assert told["limits"][0]["used"] == pytest.approx(1.0)
    assert told["other"]["used"] == pytest.approx(0.5)


def test_the_board_is_paged_filtered_and_searched(api, worn, people):
    for n in range(7):
        add_vehicle(
            people["lead"],
            VehicleSpec(f"Van {n}", "van", "front-wheel", compartments=(CompartmentSpec("Gearbox", "transaxle", worn.box.pk),)),
        )
    first = api.viewer.get("/api/due?limit=3")
    second = api.viewer.get("/api/due?limit=3&offset=3")
    assert (first["matching"], len(first["vehicles"]), len(second["vehicles"])) == (8, 3, 3)
    assert not {v["id"] for v in first["vehicles"]} & {v["id"] for v in second["vehicles"]}
    fine = api.viewer.get("/api/due?state=fine")
    assert [v["name"] for v in fine["vehicles"]] == ["Old 4x4"]
    assert sum(c["count"] for c in fine["counts"]) == 9, "the counts are those of all"
    assert [v["name"] for v in api.viewer.get("/api/due?find=van 4")["vehicles"]] == ["Van 4"]
    assert api.viewer.get("/api/due?find=nothing of it")["matching"] == 0
    for bad in ("limit=many", "limit=9000", "offset=-1"):
        api.viewer.get(f"/api/due?{bad}", expect=422)


def test_a_vehicle_without_readings_for_long_asks_for_one(api, worn):
    rule(api, worn, interval_km="18 000 km")
    assert not api.viewer.get(f"/api/due/{worn.vehicle.pk}")["vehicles"][0]["wants_reading"]
    near = due(api, worn)
    with clock.at(NOW + dt.timedelta(days=150)):
        later = api.viewer.get(f"/api/due/{worn.vehicle.pk}")["vehicles"][0]
        assert later["wants_reading"]
        (row,) = [r for r in api.viewer.get("/api/plan/horizon?days=400")["rows"] if r["vehicle_id"] == worn.vehicle.pk]
        assert row["wants_reading"]
        far = next(c for c in later["compartments"] if c["id"] == worn.rear.pk)
    assert (far["on"], far["latest"]) == (near["on"], near["latest"])  # nothing was read since: what is known of it is the same
    assert Vehicle.objects.get(pk=worn.vehicle.pk).readings.count() == worn.vehicle.readings.count()


def test_a_fleet_is_told_what_each_of_its_compartments_is_told(depot, people):
    """The batch and the single form, for plain compartments and for those with a cap, a warranty, a season, a link, a counter."""
    vehicle, today = depot.vehicle, NOW.date()
    for changed in (
        {},
        {"warranty_until": today + dt.timedelta(days=90)},
        {"warranty_until": None, "season_from": "04-01", "season_to": "10-31"},
    ):
        Vehicle.objects.filter(pk=vehicle.pk).update(**changed)
        for cap in ({"days": None, "run": None, "factor": 0.5}, {"days": 30, "run": 500.0, "factor": None}):
            for record in OilRecord.objects.all():
                ConsequenceRow.objects.update_or_create(record=record, kind="due-cap", code="water", defaults=cap)
            facts, policy = fleet_facts(today), schedule_policy()
            assert dues_of(facts, policy, today) == [[due_of(v, box, policy, today)[0] for box in v.boxes] for v in facts]
            assert any(box.last for v in facts for box in v.boxes)
