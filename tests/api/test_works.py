"""Kinds of service over the API: chosen at the start, done, and what the record, the stock and the next due make of them."""

import datetime as dt

import pytest

from barodex import clock
from barodex.book.models import ConsequenceRow, OilRecord
from barodex.demo.walk import Outcome, walk
from barodex.shelf.models import SheetRevision
from tests.conftest import NOW, new_act


def start(api, depot, expect=201, **work):
    body = {
        "vehicle_id": depot.vehicle.pk,
        "meter_value": "72000 km",
        "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk, "work": work}],
    }
    return api.technician.post("/api/services", body, expect=expect)


def due_on(api, depot):
    board = api.viewer.get(f"/api/due/{depot.vehicle.pk}")
    return next(c for v in board["vehicles"] for c in v["compartments"] if c["id"] == depot.gearbox.pk)


def test_the_start_page_offers_what_the_sheet_allows(api, depot):
    jobs = api.technician.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"]
    assert [w["value"] for w in jobs[0]["works"]] == ["change", "top-up", "correction"]
    refused = start(api, depot, 422, kind="opened")
    assert refused["errors"][0]["field"] == "jobs.0.work"
    assert "no cover or pan" in refused["detail"]
    assert start(api, depot, 422, kind="exchange")["errors"][0]["field"] == "jobs.0.work"
    assert start(api, depot, 422, target_fresh=1.4)["errors"][0]["field"] == "jobs.0.target_fresh"


def test_a_top_up_begins_no_interval_and_its_amount_counts_as_put_in(api, depot, people):
    before = due_on(api, depot)
    service = start(api, depot, kind="top-up")["id"]
    view = api.viewer.get(f"/api/services/{service}")
    assert view["words"] == "check and top-up"
    assert not any(s["id"].startswith("drain") for s in view["steps"])
    walk(people["technician"], service, {}, stop_before="pour")
    step = f"pour.{depot.gearbox.pk}"
    api.technician.post(f"/api/services/{service}/acts", new_act("add", step, volume_ml="200 mL", elsewhere=True))
    api.technician.post(f"/api/services/{service}/acts", new_act("done", step))
    walk(people["technician"], service, {})
    record = OilRecord.objects.get(service=service)
    assert [(e.kind, e.volume_ml) for e in record.entries.all()] == [("top-up", 200)]
    shown = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][-1]
    assert (record.work, shown["drained_ml"], shown["poured_ml"]) == ("top-up", None, 200)
    assert shown["loss_15_ml"] == pytest.approx(200, rel=0.01)
    assert record.details["stood"] == "at the lip: a trickle"
    assert due_on(api, depot)["on"] == before["on"]
    assert due_on(api, depot)["used"] == pytest.approx(before["used"], abs=0.02)  # the reading moved, the interval did not
    with clock.at(NOW + dt.timedelta(days=90)):
        again = start(api, depot)["id"]
        walk(people["technician"], again, {"Gearbox": Outcome(1800, 20)})
    live = api.viewer.get(f"/api/services/{again}")["ledgers"][0]["loss"]["loss_ml"]
    shown = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"]
    # Both brought to 15 °C, by ASTM D1250 at 870 kg/m³; of a first drain 2.5 % of the fill stay on the walls (common practice).
    assert live == pytest.approx((1850 + 200 - 1800 - 0.025 * 1850) * 0.9964, abs=4)
    assert [r["work"] for r in shown] == ["change", "top-up", "change"]
    assert shown[-1]["loss_15_ml"] == pytest.approx(live)  # the book says what the page said
    told = api.viewer.get(f"/api/services/{again}")["ledgers"][0]["loss"]
    assert (told["band"], told["within_ml"]) == (shown[-1]["loss_band"], pytest.approx(shown[-1]["loss_within_ml"]))


def test_a_correction_keeps_the_exposure_shortens_the_interval_and_asks_for_a_sample(api, depot, people):
    service = start(api, depot, kind="correction", wrong_oil="Heavy 80W-90")["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1820)})
    record = OilRecord.objects.get(service=service)
    assert record.details["wrong_oil"] == "Heavy 80W-90"
    assert record.details["ran"] > 10_000
    follows = {(c.kind, c.code): c for c in ConsequenceRow.objects.filter(record=record)}
    assert follows["due-cap", "wrong-oil"].factor == pytest.approx(0.5)
    assert "yellow flecks" in follows["look-again", "wrong-oil"].text


def test_jobs_ride_along_and_second_looks_appear_in_due(api, depot, people):
    service = start(api, depot, attached=["output seal", "breather"])["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1820)})
    record = OilRecord.objects.get(service=service)
    assert record.details["attached"] == ["output seal: as before", "breather: as before"]
    assert set(record.details["minutes"]) >= {"prepare", "drain", "fill"}
    ahead = api.viewer.get("/api/due")["consequences"]
    look = next(f for f in ahead if "after the first drives" in f["what"])
    assert look["due_on"] == (NOW.date() + dt.timedelta(days=7)).isoformat()
    assert look["due_meter"] == 72_200


def test_a_top_up_needs_only_its_own_plugs_seal(api, depot):
    job = {"compartment_id": depot.gearbox.pk}
    whole = api.viewer.post("/api/services/kit", {"jobs": [job]})
    little = api.viewer.post("/api/services/kit", {"jobs": [{**job, "work": "top-up"}]})
    assert len(little) < len(whole)
    assert not any("drain" in x["item"]["use"] for x in little)


def test_the_guide_of_a_sheet_is_read_by_kind_of_service(api, depot):
    path = f"/api/sheets/{depot.box.pk}/guide"
    whole, little = api.viewer.get(path), api.viewer.get(f"{path}?work=top-up")
    assert [w["value"] for w in whole["works"]] == ["change", "top-up", "correction"]
    assert little["work"] == "top-up"
    assert 0 < little["minutes"] < whole["minutes"]
    assert "no cover" in api.viewer.get(f"{path}?work=opened", expect=422)["detail"]


def test_an_act_from_the_future_is_refused_and_one_that_waited_keeps_its_time(api, depot):
    service = start(api, depot)["id"]
    path = f"/api/services/{service}/acts"
    ahead = new_act("note", "", text="from tomorrow") | {"done_at": (NOW + dt.timedelta(hours=5)).isoformat()}
    refused = api.technician.post(path, ahead, expect=422)
    assert refused["errors"][0]["field"] == "done_at"
    assert "future" in refused["detail"]
    with clock.at(NOW + dt.timedelta(minutes=40)):
        waited = new_act("note", "", text="while the server was away") | {"done_at": (NOW + dt.timedelta(minutes=10)).isoformat()}
        view = api.technician.post(path, waited)
        early = new_act("note", "", text="before it began") | {"done_at": (NOW - dt.timedelta(days=3)).isoformat()}
        view = api.technician.post(path, early)
    assert [n["at"][:16] for n in view["notes"]] == ["2026-06-15T10:10", "2026-06-15T10:00"]


def test_a_depth_that_was_cut_is_read_at_the_next_check(api, depot, people):
    SheetRevision.objects.filter(sheet=depot.box).update(fill_method="measured")
    assert "no depth gauge was cut" in start(api, depot, 422, kind="top-up")["detail"]
    service = start(api, depot)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1820)}, stop_before="closefill")
    step = f"gauge.{depot.gearbox.pk}"
    path = f"/api/services/{service}/acts"
    skipped = next(s["act"] for s in api.viewer.get(f"/api/services/{service}")["steps"] if s["id"] == step)
    api.technician.post(path, new_act("undo", "", act=skipped))
    api.technician.post(path, new_act("done", step, depth_mm="2.1 cm"))
    walk(people["technician"], service, {"Gearbox": Outcome(1820)})
    assert OilRecord.objects.get(service=service).details["depth_mm"] == pytest.approx(21)
    assert "top-up" in [w["value"] for w in api.technician.get(f"/api/services/start/{depot.vehicle.pk}")["jobs"][0]["works"]]
    again = start(api, depot, kind="top-up")["id"]
    stood = next(s for s in api.viewer.get(f"/api/services/{again}")["steps"] if s["id"].startswith("stood"))
    assert any("21 mm below the lip" in a for a in stood["advice"])


def test_what_to_fetch_follows_the_kind_of_service(api, depot):
    path = f"/api/compartments/{depot.gearbox.pk}/oils"

    def short(**work):
        return next(o for o in api.viewer.post(path, work)["offers"] if o["lubricant"] == depot.light.pk)["short_ml"]

    # 2 640 mL are on the shelf; a change takes 1 850, a correction two rinses of a quarter litre more, by hand.
    assert short() == 0
    for bottle in depot.bottles[1:]:
        bottle.content_ml = 100
        bottle.save()
    assert short() == pytest.approx(1850 - 840)
    assert short(work="correction") == pytest.approx(1850 + 500 - 840)
    assert short(work="top-up") == 0


def test_a_poor_suction_halves_the_interval(api, depot, people):
    SheetRevision.objects.filter(sheet=depot.box).update(drain_method="suction")
    service = start(api, depot)["id"]
    walk(people["technician"], service, {"Gearbox": Outcome(1000)}, stop_before="oil")
    ledger = api.viewer.get(f"/api/services/{service}")["ledgers"][0]
    assert ledger["recovery"]["enough"] is False
    assert ledger["target_ml"] == pytest.approx(1000)
    walk(people["technician"], service, {"Gearbox": Outcome(1000)})
    assert ConsequenceRow.objects.get(record__service=service, code="old-oil-stayed").factor == pytest.approx(0.5)


def test_drops_and_dips_are_read_in_any_unit(api, depot, people):
    SheetRevision.objects.filter(sheet=depot.box).update(fill_method="dipstick")
    depot.box.revisions.first().plugs.create(role="dipstick", label="dipstick", drive="by hand", seal="O-ring")
    service = start(api, depot)["id"]
    path = f"/api/services/{service}/acts"
    walk(people["technician"], service, {}, stop_before="measure")
    wait = f"measure.{depot.gearbox.pk}"
    api.technician.post(path, new_act("reading", wait, drops="60", seconds="60"))
    with clock.at(NOW + dt.timedelta(minutes=5)):
        view = api.technician.post(path, new_act("reading", wait, drops=30, seconds=60))
    assert view["ledgers"][0]["drip"]["tau_s"] == pytest.approx(300 / 0.6931, rel=0.01)  # halved in five minutes
    walk(people["technician"], service, {"Gearbox": Outcome(1800)}, stop_before="pour")
    pour = f"pour.{depot.gearbox.pk}"
    api.technician.post(path, new_act("add", pour, volume_ml="1 L", elsewhere=True))
    assert "upper mark" in api.technician.post(path, new_act("reading", pour, dip_mm="10 mm"), expect=422)["detail"]
    api.technician.post(path, new_act("reading", pour, dip_mm="1 cm", mark_mm="1 in"))
    api.technician.post(path, new_act("add", pour, volume_ml="500 mL", elsewhere=True))
    ledger = api.technician.post(path, new_act("reading", pour, dip_mm="20"))["ledgers"][0]
    assert ledger["mark_mm"] == pytest.approx(25.4)
    assert ledger["dip"]["ml_per_mm"] == pytest.approx(50)  # 500 mL raised it by 10 mm
    assert ledger["dip"]["missing_ml"] == pytest.approx(270)  # 5.4 mm
