"""What is printed: a vehicle's whole history, a line to sign on, no heading alone at the foot of a page."""

import io

import pytest
from pypdf import PdfReader

from barodex.fleet.actions import OtherBox, fit_box, retire
from barodex.papers.printing import BODY, HEAD, print_story
from barodex.workshop.models import Workshop
from tests.conftest import NOW

pytestmark = pytest.mark.django_db


def pages(content: bytes) -> list[str]:
    return [p.extract_text().replace("\N{NO-BREAK SPACE}", " ") for p in PdfReader(io.BytesIO(content)).pages]


def history(api, depot, expect=200) -> str:
    response = api.viewer.client.get(f"/api/vehicles/{depot.vehicle.pk}/history/paper")
    assert response.status_code == expect
    return "\n".join(pages(response.content))


def test_a_history_holds_every_change_with_the_workshop_at_its_head(api, depot, record):
    Workshop.objects.create(name="Skerrow depot", address="1 Quay Road")
    said = history(api, depot)
    for words in (
        "Skerrow depot",
        "1 Quay Road",
        "Old 4x4: what was done",
        "15 Jun 2025",
        "15 Jun 2026",
        "1 640 mL",
        "1 850 mL",
        "Seen by the owner",
    ):
        assert words in said, words
    assert said.index("15 Jun 2025") < said.rindex("15 Jun 2026")
    assert "Rear axle" in said
    assert "No change is on record." in said


def test_what_is_void_is_not_in_it_and_a_box_that_left_is(api, people, depot, record):
    fit_box(people["lead"], depot.gearbox.pk, NOW.date(), None, OtherBox(number="B 2"), "the old one broke")
    assert "to 15 Jun 2026" in history(api, depot)
    assert "1 640 mL" in history(api, depot)
    api.lead.post(f"/api/records/{record.pk}/void", {"reason": "the wrong vehicle"})
    assert "1 640 mL" not in history(api, depot)


def test_a_vehicle_that_left_still_has_its_papers(api, people, depot, record):
    retire(people["lead"], depot.vehicle.pk, NOW.date(), "sold")
    assert "1 640 mL" in history(api, depot)
    assert api.viewer.client.get(f"/api/records/{record.pk}/paper").status_code == 200
    assert api.viewer.client.get(f"/api/labels?records={record.pk}").status_code == 200


def test_the_job_paper_has_a_line_to_sign_on(api, depot, record):
    said = "\n".join(pages(api.viewer.client.get(f"/api/records/{record.pk}/paper").content))
    assert "Done by" in said
    assert "Seen by the owner" in said


def test_no_heading_stands_alone_at_the_foot_of_a_page():
    from reportlab.platypus import Paragraph

    for lines in range(30, 60):
        story = [Paragraph(f"line {k}", BODY) for k in range(lines)] + [Paragraph("A heading", HEAD), Paragraph("what it is about", BODY)]
        for text in pages(print_story(story, "t", "foot")):
            if "A heading" in text:
                assert "what it is about" in text, lines
