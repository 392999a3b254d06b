"""Labels for cases: what they say, the code that a phone reads, sizes, sheets begun, the printer of the bench."""

import io
from pathlib import Path

import pytest
import zxingcpp
from django.conf import settings
from PIL import Image
from pypdf import PdfReader

from barodex.fleet.actions import OtherBox, fit_box
from barodex.fleet.codes import code_of
from barodex.papers.label import SIZES, Black, Content, Text, layout
from barodex.workshop.models import Workshop
from tests.conftest import NOW

pytestmark = pytest.mark.django_db
ROLL = "roll 62 x 29 mm"


def get(api, expect=200, **asked):
    response = api.viewer.client.get("/api/labels", asked)
    assert response.status_code == expect, response.content[:400]
    return response


def text_of(response) -> str:
    return "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(response.content)).pages)


def test_a_label_says_what_went_in_when_and_when_again(api, depot, record):
    said = text_of(get(api, records=record.pk))
    code = code_of(depot.gearbox.box_id)
    for words in ("Gearbox", "Old 4x4 · SKR 1", "Light", "1 850 mL", "fill 37 N·m", "drain 43 N·m", "15 Jun 2026", "72 000 km", code):
        assert words in said, words
    due = next(c for v in api.viewer.get("/api/due")["vehicles"] for c in v["compartments"] if c["id"] == depot.gearbox.pk)
    assert due["on"] == "2030-06-15"
    assert "next 15 Jun 2030" in said


def test_a_label_is_in_the_units_of_whoever_prints_it(api, people, depot, record):
    people["viewer"].unit_system = "us"
    people["viewer"].save()
    assert "1.95 US qt" in text_of(get(api, records=record.pk))


@pytest.mark.parametrize("size", SIZES)
def test_a_phone_reads_the_code_in_every_size(api, depot, record, size):
    """QR by ISO/IEC 18004, read by ZXing, an independent reader; it leads to the address that the workshop set."""
    Workshop.objects.update_or_create(pk=1, defaults={"name": "Skerrow depot", "web": "https://oil.skerrow.lan"})
    picture = Image.open(io.BytesIO(get(api, records=record.pk, size=size, **{"as": "png"}).content))
    chosen = SIZES[size]
    assert picture.size == (round(chosen.width / 25.4 * 300), round(chosen.height / 25.4 * 300))
    (read,) = zxingcpp.read_barcodes(picture)
    code = code_of(depot.gearbox.box_id)
    assert read.text == f"https://oil.skerrow.lan/b/{code}"
    assert read.format == zxingcpp.BarcodeFormat.QRCode
    assert api.viewer.get(f"/api/codes/{read.text.rsplit('/', 1)[1]}")["compartment"] == depot.gearbox.pk


@pytest.mark.parametrize("size", SIZES.values(), ids=lambda s: s.name)
def test_nothing_runs_over_the_edge_or_into_the_code(size):
    long = tuple(((f"{'A very long name of an oil and of a compartment ' * 3}{k}", "20 N·m"), k % 2 == 0) for k in range(4))
    drawn = layout(Content(long, "00S7", "https://a-rather-long-name.of.a.workshop.example.net/oil/b/00S7"), size.width, size.height)
    code = min(d.x for d in drawn if isinstance(d, Black))
    from barodex.papers.label import _wide

    for d in drawn:
        if isinstance(d, Text):
            assert d.x >= 0
            assert d.x + _wide(d.words, d.size, d.bold) <= (size.width if d.words == "00S7" else code)
            assert 0 < d.y <= size.height
        else:
            assert d.x + d.width <= size.width
            assert d.y + d.height <= size.height


@pytest.mark.parametrize("size", SIZES)
def test_no_figure_is_cut(api, depot, record, size):
    said = text_of(get(api, records=record.pk, size=size))
    for figure in ("1 850 mL", "37 N·m", "43 N·m", "72 000 km", "15 Jun 2026", "15 Jun 2030"):
        assert figure in said, figure
    assert "…" not in said


def test_a_begun_sheet_is_used_up_and_the_next_one_follows(api, depot, record):
    sheet = "A4, 21 of 70 x 42.4 mm"
    first, other = sorted(r["id"] for r in api.viewer.get("/api/book"))
    both = PdfReader(io.BytesIO(get(api, records=f"{first},{other}", size=sheet, start=21).content))
    assert len(both.pages) == 2
    assert len(PdfReader(io.BytesIO(get(api, records=f"{first},{other}", size=sheet, start=20).content)).pages) == 1
    assert [round(float(x)) for x in both.pages[0].mediabox[2:]] == [595, 842]  # A4, ISO 216


def test_the_next_due_stands_only_on_the_newest(api, depot, record):
    old = min(r["id"] for r in api.viewer.get("/api/book"))
    assert "next" not in text_of(get(api, records=old))


def test_the_next_due_is_of_the_box_and_the_paper_says_the_same(api, people, depot, record):
    """A top-up begins no interval; a box that was taken out is due nowhere, whatever is fitted in its place."""
    both = f"/api/records/{record.pk}/paper", f"/api/labels?records={record.pk}"

    def said(path):
        return "2030" in text_of(api.viewer.client.get(path))

    assert [said(p) for p in both] == [True, True]
    fit_box(people["lead"], depot.gearbox.pk, NOW.date(), None, OtherBox(number="B 2"), "the old one broke")
    assert [said(p) for p in both] == [False, False]


def test_the_code_is_of_the_box_and_goes_with_it(api, people, depot, record):
    before = code_of(depot.gearbox.box_id)
    fit_box(people["lead"], depot.gearbox.pk, NOW.date(), None, OtherBox(number="B 2"), "the old one broke")
    assert before in text_of(get(api, records=record.pk))


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"records": ""}, "records"),
        ({"records": "x"}, "records"),
        ({"records": ",".join(map(str, range(1, 60)))}, "records"),
        ({"records": "1", "size": "poster"}, "size"),
        ({"records": "1", "start": "2"}, "start"),
        ({"records": "1", "start": "x"}, "start"),
    ],
)
def test_what_cannot_be_printed_is_refused(api, depot, record, asked, field):
    assert get(api, 422, **asked).json()["errors"][0]["field"] == field


def test_a_record_that_is_not_there(api, depot, record):
    assert get(api, 404, records=99_999).json()["title"] == "Not found"


def test_the_printer_of_the_bench_lays_pictures_and_a_paper_into_its_outbox(api, depot, record, tmp_path, monkeypatch):
    monkeypatch.setattr(settings, "VAR", tmp_path)
    body = {"records": [record.pk], "size": ROLL}
    assert "No label printer is chosen" in api.technician.post("/api/labels", body, expect=409)["detail"]
    api.lead.call("patch", "/api/devices", {"kind": "label printer", "adaptor": "simulated"})
    assert api.viewer.get("/api/labels/sizes")["printer"] == "simulated"
    made = api.technician.post("/api/labels", body)
    assert (made["done"], made["count"]) == (True, 1)
    kinds = sorted(p.suffix for p in Path(tmp_path, "outbox", "labels").iterdir())
    assert kinds == [".pdf", ".png"]
    (png,) = Path(tmp_path, "outbox", "labels").glob("*.png")
    assert zxingcpp.read_barcodes(Image.open(png))[0].text.endswith(code_of(depot.gearbox.box_id))
    assert api.technician.post("/api/labels", {**body, "size": "A4, 21 of 70 x 42.4 mm"}, expect=422)["errors"][0]["field"] == "size"
    api.viewer.post("/api/labels", body, expect=403)


def test_a_printer_without_labels_says_so(api, depot, record, monkeypatch, tmp_path):
    monkeypatch.setattr(settings, "VAR", tmp_path)
    monkeypatch.setattr("barodex.devices.simulated._chance", lambda *_: 0.0)
    api.lead.call("patch", "/api/devices", {"kind": "label printer", "adaptor": "simulated", "faulty": True})
    assert "No labels are left" in api.technician.post("/api/labels", {"records": [record.pk], "size": ROLL}, expect=409)["detail"]
    assert not Path(tmp_path, "outbox", "labels").exists()
