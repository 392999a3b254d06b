"""What a record says wrong is set right, field by field: ledger, loss, due and what must be looked at again follow; the stock does not drift."""

import random

import pytest

from barodex.book.models import ConsequenceRow, Correction, LedgerRow
from barodex.core.ledger.balance import INTO, OUT_OF
from barodex.core.quantity.errors import CoreError
from barodex.shelf.models import Container, StockMovement

CHIP = {"magnet": "cap", "colour": "dark brown", "clarity": "clear", "smell": "none"} | {
    "particles": [{"form": "chip", "metal": "steel", "count": 1, "size_mm": 3.0, "magnetic": None}]
}
GOOD = {"magnet": "film", "colour": "brown", "clarity": "clear", "smell": "none", "particles": []}


def newest(api, depot):
    return api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][-1]


def due(api, depot):
    found = api.viewer.get(f"/api/due/{depot.vehicle.pk}")["vehicles"][0]["compartments"]
    return next(c for c in found if c["id"] == depot.gearbox.pk)


def put_right(api, record, expect=201, **more):
    return api.technician.post(f"/api/records/{record.pk}/corrections", {"reason": "misread the pan"} | more, expect=expect)


def stock_is_its_movements():
    for c in Container.objects.all():
        assert c.content_ml == pytest.approx(sum(m.change_ml for m in StockMovement.objects.filter(container=c)))


def test_an_amount_put_right_takes_its_loss_and_what_follows_with_it(api, depot, record):
    assert newest(api, depot)["loss_band"] == "leak"
    told = newest(api, depot)["loss_text"]
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["lost"] == told  # what stands out says what the record says
    assert ConsequenceRow.objects.filter(record=record, code="leak", done_at=None).count() == 1
    put_right(api, record, field="drained_ml", value="1840 mL")
    assert newest(api, depot)["loss_band"] == "tight"
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["lost"] == ""
    assert not ConsequenceRow.objects.filter(record=record, code="leak", done_at=None).exists()
    gone = ConsequenceRow.everything.get(record=record, code="leak")
    assert "misread the pan" in gone.void_reason
    assert ConsequenceRow.objects.filter(record=record, code="first-drives", done_at=None).exists()  # the look after the drive stays
    put_right(api, record, field="drained_ml", value="1600 mL")
    assert ConsequenceRow.objects.filter(record=record, code="leak", done_at=None).count() == 1


def test_what_was_seen_put_right_is_judged_anew(api, depot, record):
    before = due(api, depot)
    assert before["level"] == 1
    put_right(api, record, field="finding", finding=CHIP)
    shown = newest(api, depot)
    assert (shown["level"], shown["magnet"]) == (4, "cap")
    assert shown["interval_factor"] < 1
    (told,) = shown["corrections"]
    assert told["field"] == "finding"
    assert "magnet film" in told["before"]
    assert "chip, steel (level 4)" in told["after"]
    assert due(api, depot)["state"] == "stop"
    assert ConsequenceRow.objects.filter(record=record, kind="stop", code="finding", done_at=None).count() == 1
    assert api.viewer.get("/api/book")[0]["level"] == 4
    assert api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["points"][-1]["level"] == 4
    body = {"reason": "a shaving of the drill, not a chip", "field": "finding", "finding": GOOD}
    api.technician.post(f"/api/records/{record.pk}/corrections", body, expect=403)  # it would lift a stop
    assert due(api, depot)["state"] == "stop"
    api.lead.post(f"/api/records/{record.pk}/corrections", body, expect=201)
    assert due(api, depot)["state"] == before["state"]
    assert due(api, depot)["on"] == before["on"]
    assert not ConsequenceRow.objects.filter(record=record, kind="stop", done_at=None).exists()
    record.refresh_from_db()
    assert record.level == 1  # the record itself is not touched
    assert Correction.objects.filter(record=record).count() == 2


def test_a_torque_put_right_stands_on_book_and_paper(api, depot, record):
    put_right(api, record, field="torque", plug="drain plug", value="37 ft-lb")
    shown = {t["plug"]: t["torque_nm"] for t in newest(api, depot)["torques"]}
    assert shown["drain plug"] == pytest.approx(50.2, abs=0.05)  # 37 · 1.3558 by NIST SP 811
    assert shown["fill plug"] == 37.0
    put_right(api, record, field="torque", plug="drain plug", value="")
    assert newest(api, depot)["torques"][0]["torque_nm"] is None


def test_another_oil_is_the_oil_from_then_on(api, depot, record):
    put_right(api, record, field="oil", value=depot.heavy.name)
    assert newest(api, depot)["oil"] == depot.heavy.name
    exposed = api.viewer.get(f"/api/book/{depot.gearbox.pk}/trend")["exposures"]
    assert any(e["oil"] == depot.heavy.name for e in exposed)  # the rules refuse it for this box


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        ({"field": "finding", "finding": {}}, "finding", "Nothing was looked at"),
        ({"field": "finding", "finding": GOOD, "reason": "x"}, "reason", "Say why"),
        ({"field": "torque", "plug": "sump plug", "value": "20 N·m"}, "plug", "No such plug"),
        ({"field": "torque", "plug": "drain plug", "value": "43 N·m"}, "value", "says already"),
        ({"field": "torque", "plug": "drain plug", "value": "4300 N·m"}, "value", "allowed is"),
        ({"field": "torque", "plug": "drain plug", "value": "tight"}, "value", ""),
    ],
)
def test_what_cannot_be_put_right_is_refused_and_changes_nothing(api, depot, record, body, field, words):
    before = newest(api, depot)
    problem = put_right(api, record, 422, **body)
    assert problem["errors"][0]["field"] == field
    assert words in problem["detail"]
    assert newest(api, depot) == before


def test_volume_is_conserved_and_stock_does_not_drift_over_corrections_and_voids(api, depot, people, record):
    """Forty seeded corrections in any order: what stands always sums to the figure that was put right, what was written stays, void; no
    container moves. Then the record is void: it counts nowhere, its oil stays drawn."""
    pick = random.Random(16)
    drawn = {c.pk: c.content_ml for c in Container.objects.all()}
    figures = {"drained_ml": 1640.0, "poured_ml": 1850.0, "run_out_ml": None, "additive_ml": None}
    for _ in range(40):
        name = pick.choice(list(figures))
        value = pick.randrange(20, 1900)
        if value == figures[name]:
            continue
        rows = LedgerRow.everything.filter(record=record).count()
        put_right(api, record, field=name, value=f"{value} mL")
        figures[name] = value
        shown = newest(api, depot)
        assert {n: shown[n] for n in figures} == figures
        assert LedgerRow.everything.filter(record=record).count() > rows
        standing = LedgerRow.objects.filter(record=record)
        into = sum(r.volume_ml for r in standing if r.kind in INTO)
        out = sum(r.volume_ml for r in standing if r.kind in OUT_OF)
        assert into == pytest.approx((figures["poured_ml"] or 0) + (figures["additive_ml"] or 0))
        assert out == pytest.approx(figures["drained_ml"] + (figures["run_out_ml"] or 0))
        stock_is_its_movements()
    assert {c.pk: c.content_ml for c in Container.objects.all()} == drawn
    api.lead.post(f"/api/records/{record.pk}/void", {"reason": "another vehicle"})
    history = api.viewer.get(f"/api/book/{depot.gearbox.pk}")
    assert record.pk not in [r["id"] for r in history["records"]]
    assert history["voided"][0]["drained_ml"] == figures["drained_ml"]
    assert record.pk not in [w["record"] for w in api.viewer.get("/api/book/waste")["lines"]]
    assert {c.pk: c.content_ml for c in Container.objects.all()} == drawn


def test_a_correction_that_fails_half_way_leaves_the_ledger_whole(api, depot, record, monkeypatch):
    from barodex.book import correcting

    def broken(*_):
        raise CoreError("no")

    monkeypatch.setattr(correcting, "_loss_again", broken)
    before = list(LedgerRow.objects.filter(record=record).values_list("pk", flat=True))
    put_right(api, record, 422, field="drained_ml", value="1700 mL")
    assert list(LedgerRow.objects.filter(record=record).values_list("pk", flat=True)) == before
    assert not Correction.objects.filter(record=record).exists()
