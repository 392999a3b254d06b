"""The book, the papers, what is due, the bench, and the demo fleet."""

import csv
import io

import pytest
from pypdf import PdfReader

from barodex import clock
from barodex.book.models import Correction, LedgerRow, OilRecord
from tests.conftest import NOW, TODAY


def test_the_history_draws_in_against_out(api, depot, record):
    history = api.viewer.get(f"/api/book/{depot.gearbox.pk}")
    first, second = history["records"]
    assert first["drained_ml"] is None
    # Nobody saw it drained before: 2.5 % of the fill are taken to be on its walls (common practice).
    assert second["loss_15_ml"] == pytest.approx(0.975 * first["net_in_15_ml"] - second["drained_15_ml"])
    # 185 ± 121 mL of 1 850 after 12 of 48 months: at least 64 mL in a quarter of an interval are 14 % in a whole one.
    assert second["loss_band"] == "leak"
    assert history["capacity_ml"] == 1850
    assert any("leaks" in f["what"] for f in api.viewer.get("/api/due")["consequences"])


def test_a_correction_says_who_when_why_and_the_loss_follows(api, depot, record):
    path = f"/api/records/{record.pk}/corrections"
    api.technician.post(path, {"field": "drained_ml", "value": "1.84 L", "reason": "read the wrong mark"}, expect=201)
    view = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][1]
    assert view["drained_ml"] == 1840
    assert view["loss_band"] == "tight"
    (entry,) = view["corrections"]
    assert (entry["before"], entry["after"], entry["reason"], entry["by"]) == ("1640.0", "1840.0", "read the wrong mark", "Technician")
    rows = LedgerRow.everything.filter(record=record, kind="drained").order_by("id")
    assert [(r.volume_ml, r.void_reason) for r in rows] == [(1640, "read the wrong mark"), (1840, "")]  # what was written stays, void


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"field": "drained_ml", "value": "1.84 L", "reason": "x"}, "Say why"),
        ({"field": "drained_ml", "value": "2 qt", "reason": "typo in it"}, "US or imperial"),
        ({"field": "drained_ml", "value": "1640 mL", "reason": "typo in it"}, "says already"),
        ({"field": "on", "value": "2031-01-01", "reason": "typo in it"}, "in the future"),
        ({"field": "on", "value": "soon", "reason": "typo in it"}, "year-month-day"),
        ({"field": "level", "value": "0", "reason": "typo in it"}, "not a valid choice"),
        ({"field": "poured_ml", "value": "0", "reason": "typo in it"}, "allowed is"),
    ],
)
def test_a_bad_correction_is_refused(api, record, body, words):
    assert words in api.technician.post(f"/api/records/{record.pk}/corrections", body, expect=422)["detail"]
    assert not Correction.objects.exists()


def test_an_earlier_change_is_written_in_and_counts(api, depot):
    path = f"/api/book/{depot.rear.pk}"
    assert api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"][1]["state"] == "unknown"
    body = {
        "on": "2025-06-15",
        "meter_value": "61 000 km",
        "lubricant_id": depot.heavy.pk,
        "poured_ml": "1.5 L",
        "finding": {"magnet": "whiskers", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"},
    }
    api.technician.post(path, body, expect=201)
    due = api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"][1]
    assert due["limit"] == "distance"
    # 10 700 km to the last reading and ten days at the present rate, of a 40 000 km interval halved by the finding
    assert due["used"] == pytest.approx((10_700 + 10 * 30) / 20_000, abs=0.02)
    assert "50\N{NO-BREAK SPACE}%" in due["basis"]


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"on": "2031-01-01"}, "in the future"),
        ({"on": "2025-06-10", "meter_value": "80 000"}, "higher than"),
        ({"on": "2025-06-15", "poured_ml": "-1"}, "outside"),
        ({"on": "2025-06-15", "poured_ml": "0"}, "allowed is"),
        ({"on": "2025-06-15", "finding": {"magnet": "hairy"}}, "not one of"),
        ({}, "Something has to stand here"),
    ],
)
def test_a_bad_earlier_change_is_refused(api, depot, body, words):
    problem = api.technician.post(f"/api/book/{depot.rear.pk}", body, expect=422)
    assert words in str(problem["errors"])
    assert not OilRecord.objects.filter(compartment=depot.rear).exists()


def text_of(content):
    return " ".join(page.extract_text() for page in PdfReader(io.BytesIO(content)).pages).replace("\N{NO-BREAK SPACE}", " ")


def test_the_job_paper_says_what_was_done(api, depot, record):
    response = api.viewer.client.get(f"/api/records/{record.pk}/paper")
    assert response["Content-Type"] == "application/pdf"
    text = text_of(response.content)
    for words in (
        "Old 4x4 · Gearbox",
        "15 June 2026",
        "72 000 km",
        "1 640 mL at 38 °C",
        "1 850 mL",
        "A leak: plan the seal",
        "1 · normal wear",
        "43 N·m",
        "Technician",
        "maker's current data",
        "Next due",
        "15 June 2030 by time",
    ):
        assert words in text, words


def test_the_job_paper_is_in_the_readers_units(api, record):
    api.viewer.call("patch", "/api/session", {"unit_system": "us"})
    text = text_of(api.viewer.client.get(f"/api/records/{record.pk}/paper").content)
    assert "1.73 US qt" in text  # 1 640 / 946.353
    assert "44 739 mi" in text  # 72 000 / 1.609344


def test_a_paper_that_is_not_there(api, record):
    assert api.viewer.get("/api/records/9999/paper", expect=404)["title"] == "Not found"


def test_the_history_goes_out_as_csv_and_runs_no_formula(api, depot, record):
    api.technician.post(
        f"/api/records/{record.pk}/corrections", {"field": "note", "value": "=1+1", "reason": "somebody's joke"}, expect=201
    )
    rows = list(csv.DictReader(io.StringIO(api.viewer.client.get(f"/api/book/{depot.gearbox.pk}/file").content.decode("utf-8-sig"))))
    assert [r["on"] for r in rows] == ["2025-06-15", TODAY.isoformat()]
    assert (rows[1]["plate"], rows[1]["vehicle"], rows[1]["compartment"]) == (depot.vehicle.plate, depot.vehicle.name, "Gearbox")
    assert rows[1]["drained_ml"] == "1640"
    assert rows[1]["note"] == "'=1+1"


def test_the_latest_records(api, record):
    lines = api.viewer.get("/api/book")
    assert [line["compartment"] for line in lines] == ["Gearbox", "Gearbox"]
    assert lines[0]["poured_ml"] == 1850


def test_due_stands_worst_first_and_says_by_which_limit(api, depot):
    board = api.viewer.get("/api/due")
    gearbox, rear = board["vehicles"][0]["compartments"]
    assert (rear["state"], rear["limit"]) == ("unknown", "unknown")
    assert gearbox["limit"] == "time"  # a year of 48 months is more than 11 000 of 60 000 km
    assert gearbox["on"] == "2029-06-15"
    assert {c["state"]: c["count"] for c in board["counts"]}["unknown"] == 1
    assert board["vehicles"][0]["together"] == [rear["id"]]


def test_the_bench_shows_its_working(api, people):
    pour = api.viewer.post("/api/bench/pour", {"need_ml": "700 mL", "containers": [{"label": "b", "size_ml": "1 L", "content_ml": "1 L"}]})
    assert "300" in pour["actions"][0]["text"]
    assert pour["working"]["source"] == "common practice"
    torque = api.viewer.post("/api/bench/torque", {"torque_nm": "100", "wrench_mm": "300", "offset_mm": "75"})
    assert torque["setting_nm"] == pytest.approx(80)  # FAA AC 43.13-1B chapter 7
    drip = api.viewer.post("/api/bench/drip", {"drops": 1, "seconds": 9})
    assert drip["at_most_ml"] == pytest.approx(10 * 60 / 9 * 0.05)
    body = {
        "last_on": "2025-06-15",
        "road_km": "7500 km",
        "off_road_km": "2500",
        "interval_km": "20 000 km",
        "off_road_interval_km": "5000",
        "per_day_km": "20",
    }
    due = api.viewer.post("/api/bench/next-due", body)["due"]
    assert due["used"] == pytest.approx(7500 / 20_000 + 2500 / 5000)


@pytest.mark.parametrize(
    ("path", "body", "words"),
    [
        ("read", {"text": "soup", "kind": "volume"}, "no number"),
        ("pour", {"need_ml": "-1", "containers": []}, "outside"),
        ("torque", {"torque_nm": "0", "wrench_mm": "300"}, "allowed is"),
        ("torque", {"torque_nm": "40", "wrench_mm": "3 mm"}, "allowed is"),
        ("drip", {"drops": 1, "seconds": 0}, "greater than or equal"),
        ("next-due", {"last_on": "2031-01-01", "interval_months": 12}, "before the last change"),
    ],
)
def test_the_bench_refuses_nonsense(api, people, path, body, words):
    assert words in api.viewer.post(f"/api/bench/{path}", body, expect=422)["detail"]


def test_the_demo_fleet_is_alive(db):
    from barodex.bay.overview import open_services
    from barodex.demo.loader import load
    from barodex.plan.queries import due_board

    with clock.at(NOW):
        load(NOW)
        board = due_board(TODAY)
        (waiting,) = open_services()
    assert len(board.vehicles) >= 6
    assert sum(len(v.compartments) for v in board.vehicles) >= 18
    assert len({v.layout for v in board.vehicles}) >= 4
    counts = {c.state: c.count for c in board.counts}
    assert all(counts[s] for s in ("stop", "overdue", "unknown", "soon", "fine"))
    assert board.vehicles[0].state == "stop"
    assert waiting.timer_started is not None
    assert OilRecord.objects.exclude(service=None).exists()


@pytest.mark.parametrize("day", [(2028, 2, 29), (2027, 7, 1)])
def test_the_demo_fleet_loads_on_any_day(db, day):
    import datetime as dt

    from barodex.demo.loader import load
    from barodex.plan.queries import due_board

    now = dt.datetime(*day, 11, 0, tzinfo=dt.UTC)
    with clock.at(now):
        load(now)
        assert due_board(now.date()).vehicles[0].state == "stop"
