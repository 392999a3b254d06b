"""Search over everything, with slips forgiven; the code of a label leads to wherever its box is fitted now."""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.quantity.errors import Inconsistent
from barodex.desk.search import _days
from barodex.fleet.actions import OtherBox, fit_box, retire
from barodex.fleet.codes import ALPHABET, box_of, code_of
from barodex.fleet.models import Vehicle
from tests.conftest import NOW

pytestmark = pytest.mark.django_db


def find(api, words, who="lead"):
    found = getattr(api, who).get(f"/api/search?find={words}")
    return [(h["kind"], h["title"]) for h in found["hits"]], found["read_as"]


@pytest.mark.parametrize(
    ("words", "kind", "title"),
    [
        ("old", "vehicle", "Old 4x4"),
        ("SKR 1", "vehicle", "Old 4x4"),
        ("skr1", "vehicle", "Old 4x4"),
        ("north wood", "vehicle", "Old 4x4"),
        ("rory", "vehicle", "Old 4x4"),
        ("rear", "compartment", "Old 4x4, Rear axle"),
        ("old gear", "compartment", "Old 4x4, Gearbox"),
        ("manual gearbox", "compartment", "Old 4x4, Gearbox"),
        ("light", "oil", "Light"),
        ("75W-80", "oil", "Light"),
        ("brass", "sheet", "Brass box"),
        ("technician", "person", "Technician"),
        ("2025-06-15", "record", "Old 4x4, Gearbox"),
        ("15 jun 2025", "record", "Old 4x4, Gearbox"),
        ("15.6.2025", "record", "Old 4x4, Gearbox"),
        ("june 2025", "record", "Old 4x4, Gearbox"),
        ("gearbox 2025-06", "record", "Old 4x4, Gearbox"),
    ],
)
def test_whatever_is_called_somehow_is_found(api, depot, words, kind, title):
    Vehicle.objects.filter(pk=depot.vehicle.pk).update(depot="North wood", driver="Rory Ness")
    hits, read_as = find(api, words)
    assert (kind, title) in hits
    assert read_as == ""


@pytest.mark.parametrize(
    ("slip", "meant", "title"),
    [("gaerbox", "gearbox", "Old 4x4, Gearbox"), ("lihgt", "light", "Light"), ("reer axel", "rear axle", "Old 4x4, Rear axle")],
)
def test_a_slip_is_forgiven_and_said(api, depot, slip, meant, title):
    hits, read_as = find(api, slip)
    assert title in [t for _, t in hits]
    assert read_as == meant


def test_nonsense_finds_nothing(api, depot):
    for words in ("zeppelin", "", "   ", "%25", "x" * 400, "31.2.2025", "2025-13"):
        assert find(api, words) == ([], "")
    assert find(api, "gearbox 2024-06")[0] == []


def test_a_day_is_read_as_the_person_writes_it(api, people, depot):
    people["lead"].dates = "month first"
    people["lead"].save()
    assert ("record", "Old 4x4, Gearbox") in find(api, "6/15/2025")[0]
    assert find(api, "15/6/2025")[0] == []


def test_a_record_is_found_by_its_day_as_it_was_corrected(api, depot):
    (line,) = api.lead.get(f"/api/book/{depot.gearbox.pk}")["records"]
    api.technician.post(
        f"/api/records/{line['id']}/corrections", {"field": "on", "value": "2025-06-14", "reason": "a day late"}, expect=201
    )
    assert ("record", "Old 4x4, Gearbox") in find(api, "2025-06-14")[0]
    assert find(api, "2025-06-15")[0] == []


def test_a_vehicle_that_left_is_found_with_its_compartments_and_people_only_by_the_lead(api, people, depot):
    retire(people["lead"], depot.vehicle.pk, NOW.date(), "sold")
    hits, _ = find(api, "old")
    assert {("vehicle", "Old 4x4"), ("compartment", "Old 4x4, Gearbox")} <= set(hits)
    assert ("person", "Technician") not in find(api, "technician", "viewer")[0]


def test_a_glass_stands_beside_a_compartment(api, depot):
    found = api.viewer.get("/api/search?find=old gearbox")["hits"]
    assert [h["glass"]["state"] for h in found if h["kind"] == "compartment"] == ["fine"]


@given(st.integers(1, 10**12))
def test_a_code_is_read_back_as_it_was_written(number):
    assert box_of(code_of(number)) == number
    assert box_of(code_of(number).lower().replace("0", "o").replace("1", "l").replace("5", "s")) == number


@given(st.integers(1, 10**7), st.integers(0, 6), st.sampled_from(ALPHABET))
def test_a_letter_read_wrong_is_found_out(number, at, other):
    """A weighted sum modulo a prime sees every single error (as ISO/IEC 7064 asks of a check character system)."""
    code = code_of(number)
    at %= len(code)
    if code[at] == other:
        return
    with pytest.raises(Inconsistent):
        box_of(code[:at] + other + code[at + 1 :])


@given(st.integers(1, 10**7), st.integers(0, 6))
def test_two_neighbours_that_changed_places_are_found_out(number, at):
    """It sees every transposition of neighbours too, the second fault that ISO/IEC 7064 names."""
    code = code_of(number)
    at %= len(code) - 1
    if code[at] == code[at + 1]:
        return
    with pytest.raises(Inconsistent):
        box_of(code[:at] + code[at + 1] + code[at] + code[at + 2 :])


def test_a_code_leads_to_wherever_its_box_is(api, people, depot):
    code = code_of(depot.gearbox.box_id)
    assert api.viewer.get(f"/api/codes/{code}") == {"code": code, "compartment": depot.gearbox.pk, "fitted": True}
    assert find(api, code)[0][0] == ("compartment", "Old 4x4, Gearbox")
    fit_box(people["lead"], depot.gearbox.pk, NOW.date(), None, OtherBox(number="B 2"), "the old one broke")
    assert api.viewer.get(f"/api/codes/{code}") == {"code": code, "compartment": depot.gearbox.pk, "fitted": False}
    depot.rear.refresh_from_db()
    fit_box(people["lead"], depot.rear.pk, NOW.date(), None, OtherBox(box_id=depot.gearbox.box_id), "put to the rear")
    assert api.viewer.get(f"/api/codes/{code}")["compartment"] == depot.rear.pk
    assert api.viewer.get("/api/codes/0000", expect=422)["errors"][0]["field"] == "code"
    assert api.viewer.get("/api/codes/ZZZ", expect=422)["errors"][0]["field"] == "code"
    assert api.viewer.get(f"/api/codes/{code_of(9999)}", expect=404)["title"] == "Not found"


@given(st.lists(st.text(max_size=8), max_size=5))
def test_no_words_break_the_reading_of_days(words):
    days, rest = _days([w for w in words if w.strip()], "day first")
    assert days is None or isinstance(days.first, dt.date)
    assert len(rest) <= len(words)
