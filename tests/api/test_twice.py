"""Every change sent twice counts once: the addresses that change something are enumerated from the description of the API."""

import datetime as dt
import re
import uuid
from functools import cached_property
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from drf_spectacular.generators import SchemaGenerator

from barodex.book.models import ConsequenceRow
from barodex.config.urls import api_patterns
from barodex.demo.walk import Outcome, walk
from barodex.files.vehicle.gather import vehicle_file
from barodex.fleet.actions import CompartmentSpec, VehicleSpec, add_vehicle
from barodex.fleet.models import Reading, Vehicle
from barodex.shelf.models import Container
from barodex.workshop.models import Workshop
from tests.api.imports import old_workshop
from tests.api.test_consequences import begin
from tests.api.test_edges import revision_body
from tests.api.test_findings import fleet  # noqa: F401  (a fixture)
from tests.api.test_kinds import AUTOMATIC
from tests.api.test_photos import picture
from tests.api.test_put_right import twin_box  # noqa: F401  (a fixture)
from tests.api.test_shelf_sheets import claim
from tests.api.test_use_found import rider  # noqa: F401  (a fixture)
from tests.conftest import NOW

pytestmark = pytest.mark.django_db
WHY = "agreed on Monday"


def of_api() -> dict[str, tuple[str, str]]:
    """Every operation that is not a plain reading: its method and address."""
    schema = SchemaGenerator(patterns=api_patterns).get_schema(public=True)
    return {
        op["operationId"]: (method, path)
        for path, of_path in schema["paths"].items()
        for method, op in of_path.items()
        if method in ("post", "put", "patch", "delete")
    }


# What is asked with a body: it changes nothing, however often it is sent.
ASKS = {
    "bench_bolts", "bench_dip", "bench_drip", "bench_exchange", "bench_next_due", "bench_pour", "bench_raise", "bench_slope", "bench_tilt",
    "bench_torque", "bench_viscosity", "read_quantity", "compartment_oils", "oil_places", "viscosity_chart", "visit_trial", "photo_colour",
    "photo_magnet", "trial", "visit_kit", "visit_oil", "read_sheet_file", "shopping_list", "shopping_file", "preview_vehicle_file",
}  # fmt: skip
# Acts of the Bay and photos carry an id in what they say; devices stand on the bench as they were last put, and say so themselves.
OF_THE_BAY = {"post_act", "add_photo", "connect_scale", "put_on_scale", "connect_scan", "turn_key", "scan_reset"}
# Before anybody is signed in, or of the session alone; and what by its state is done once: tests of their own.
BY_STATE = {"sign_in", "sign_out", "change_settings", "enter_demo", "join", "set_up", "restore_whole_book", "take_in"}


class Made(SimpleNamespace):
    """What the changes below are made on: a bottle, and a signed change for those that need one."""

    @cached_property
    def record(self):
        return self.request.getfixturevalue("record")


@pytest.fixture
def s(request, api, depot, people, tmp_path, monkeypatch):
    monkeypatch.setattr(settings, "VAR", tmp_path)
    can = Container.objects.create(lubricant=depot.light, label="opened litre", size_ml=1000, content_ml=800)
    made = {"depot": depot, "people": people, "can": can, "box": depot.gearbox.pk, "car": depot.vehicle.pk}
    return Made(request=request, api=api, lead=api.lead, **made)


def visit(s):
    body = {"vehicle_id": s.car, "on": "2026-06-24", "bay": 1, "compartments": [s.box]}
    return body, lambda: s.lead.post("/api/plan/visits", body, 201)["id"]


def imported(s):
    return s.lead.client.post("/api/imports", {"file": SimpleUploadedFile("old.csv", old_workshop.as_csv("utf-8", ","))}).json()["id"]


def taken_in(s):
    run = imported(s)
    s.lead.post(f"/api/imports/{run}/rows", {"rows": {}, "all_of": "problem", "skip": True})
    s.lead.post(f"/api/imports/{run}/rows", {"rows": {}, "all_of": "doubt", "reason": WHY})
    s.lead.post(f"/api/imports/{run}/take")
    return run


def follow_up(s):
    service = begin(s.api, s.depot)
    walk(s.people["technician"], service, {"Gearbox": Outcome(1450, 20)})
    return ConsequenceRow.objects.filter(done_at=None).latest("id").pk


def other_file(s):
    Workshop.objects.create(name="Skerrow depot")
    content = b"".join(vehicle_file(s.people["technician"], s.car))
    Workshop.objects.update(name="Quay garage")
    Vehicle.objects.update(name="Something else", plate="OTH 1")
    return SimpleUploadedFile("v.zip", content)


def second(s):
    spec = (CompartmentSpec("Gear box", "gearbox", s.depot.box.pk),)
    return add_vehicle(s.people["lead"], VehicleSpec("4x4 old", "4x4", "four-wheel", compartments=spec)).pk


def merged(s):
    other = second(s)
    pairs = s.lead.get(f"/api/vehicles/{s.car}/merge/{other}")["pairs"]
    body = {"pairs": [{"other_id": p["other_id"], "kept_id": p["kept_id"]} for p in pairs]}
    return other, body


def invited(s):
    return s.lead.post("/api/people", {"username": "fergus", "first": "Fergus", "last": "Doon", "role": "technician"}, 201)["person"]


def a_photo(s):
    service, photo = begin(s.api, s.depot), str(uuid.uuid4())
    body = {"file": SimpleUploadedFile("p.jpg", picture()), "photo_id": photo, "step": "ready"}
    assert s.api.technician.client.post(f"/api/services/{service}/photos", body).status_code == 201
    return photo


def called(s, **more):
    now = s.lead.get(f"/api/vehicles/{s.car}")
    return {k: now[k] for k in ("name", "plate", "kind", "layout", "note")} | more


USE = {"duty_split": {"road": 1.0}, "season_from": "", "season_to": ""}
OIL = {"name": "Marram 75W-90", "family": "gear", "grade": "75W-90", "categories": "GL-5", "packs": []}
CAR = {"name": "Slip", "kind": "car", "layout": "front-wheel", "meter": "km"}

# By operation: what it needs is made, then its body is given; with an address where it is of something that was made.
CHANGES = {
    "add_additive": lambda s: {"name": "Moly", "kind": "solid lubricant", "max_share": 0.08},
    "enter_record": lambda s: {"on": "2026-01-10", "meter_value": "70 500 km", "oil": "Dunlin 75W-80", "poured_ml": "1.8 L"},
    "choose_claim": lambda s: ({"reason": "shifted hard when cold"}, {"claim": claim(s.api, s.depot)["id"]}),
    "edit_compartment": lambda s: {"name": "Five-speed box"},
    "remove_compartment": lambda s: {"why": "electric drive now"},
    "fit_box": lambda s: {"number": "G2", "meter_value": "72 500 km", "why": "third gear whined"},
    "read_counter": lambda s: {"used": 0.4},
    "set_rule": lambda s: {"interval_km": "40 000 km", "why": WHY},
    "settle_consequence": lambda s: ({"outcome": "mended"}, {"consequence": follow_up(s)}),
    "stock_container": lambda s: {"lubricant_id": s.depot.light.pk, "label": "new", "size_ml": "1 L", "content_ml": "1 L"},
    "carry": lambda s: {"vehicle_id": s.car},
    "recount": lambda s: {"content_ml": "650 mL", "why": "counted on Friday"},
    "take_out": lambda s: {"volume_ml": "100 mL", "why": "rinsed a funnel"},
    "choose_device": lambda s: {"kind": "scale", "adaptor": "simulated"},
    "begin_import": lambda s: {"file": SimpleUploadedFile("old.csv", old_workshop.as_csv("utf-8", ","))},
    "map_import": lambda s: ({"table": 0, "order": "day first"}, {"run": imported(s)}),
    "drop_import": lambda s: ({}, {"run": imported(s)}),
    "keep_mapping": lambda s: ({"table": 0, "name": "the old one"}, {"run": imported(s)}),
    "repair_import": lambda s: ({"rows": {}, "all_of": "problem", "skip": True}, {"run": imported(s)}),
    "undo_import": lambda s: ({}, {"run": taken_in(s)}),
    "add_lubricant": lambda s: OIL,
    "change_lubricant": lambda s: ({**OIL, "kv40": 60}, {"lubricant": s.depot.light.pk}),
    "invite": lambda s: {"username": "fergus", "first": "Fergus", "last": "Doon", "role": "technician"},
    "change_person": lambda s: ({"role": "viewer"}, {"person": s.people["technician"].pk}),
    "new_link": lambda s: ({}, {"person": invited(s)}),
    "end_their_sessions": lambda s: ({}, {"person": s.people["technician"].pk}),
    "end_other_sessions": lambda s: {},
    "remove_photo": lambda s: ({}, {"photo": a_photo(s)}),
    "set_bay_policy": lambda s: {"hours_per_day": 6, "why": WHY},
    "make_calendar_link": lambda s: {},
    "revoke_calendar_link": lambda s: (s.lead.post("/api/plan/calendar", expect=201), {})[1],
    "send_morning": lambda s: {"to": "depot@skerrow.example"},
    "set_schedule_policy": lambda s: {"school": "maker", "why": WHY},
    "plan_visit": lambda s: visit(s)[0],
    "move_visit": lambda s: ({"on": "2026-06-25"}, {"visit": visit(s)[1]()}),
    "drop_visit": lambda s: ({}, {"visit": visit(s)[1]()}),
    "set_policy": lambda s: {"additives": "never", "why": WHY},
    "correct_reading": lambda s: (
        {"on": str(NOW.date() - dt.timedelta(days=10)), "value": "71 070 km", "reason": "a digit slipped"},
        {"reading": Reading.objects.get(value=71_700).pk},
    ),
    "void_reading": lambda s: ({"reason": "of another"}, {"reading": Reading.objects.get(value=71_700).pk}),
    "import_readings": lambda s: {"file": SimpleUploadedFile("r.csv", b"vehicle,date,reading,unit\nOld 4x4,2026-06-15,72234,km\n")},
    "correct_record": lambda s: {"field": "drained_ml", "value": "1.7 L", "reason": "misread the pan"},
    "void_record": lambda s: {"reason": "of another vehicle"},
    "start_service": lambda s: {"vehicle_id": s.car, "jobs": [{"compartment_id": s.box, "lubricant_id": s.depot.light.pk}], "at_hand": ["Light"]},
    "drop_service": lambda s: ({"reason": "the wrong one"}, {"service": begin(s.api, s.depot)}),
    "write_sheet": lambda s: AUTOMATIC,
    "revise_sheet": lambda s: (revision_body(s.api, s.depot, capacity_ml="1.9 L", reason=WHY), {"sheet": s.depot.box.pk}),
    "add_claim": lambda s: {"figure": "capacity", "text": "1.7 L", "source": "bulletin"},
    "copy_sheet": lambda s: {"name": "Brass box, sister"},
    "trust_figure": lambda s: {"figure": "torque", "trust": "guessed", "how": "page is torn"},
    "keep_field_names": lambda s: {"names": [{"name": "menge", "place": "sheet", "ours": "capacity"}]},
    "count_item": lambda s: {"name": "crush washer 22", "kind": "seal", "count": 4},
    "take_vehicle_file": lambda s: {"file": other_file(s)},
    "add_vehicle": lambda s: {**CAR, "compartments": [{"name": "Gearbox", "slot": "gearbox", "sheet_id": s.depot.box.pk}]},
    "edit_vehicle": lambda s: called(s, note="the grey one"),
    "delete_vehicle": lambda s: ({}, {"vehicle": Vehicle.objects.create(name="Slip", kind="car", layout="front-wheel").pk}),
    "add_compartment": lambda s: {"name": "Front axle", "slot": "front axle", "sheet_id": s.depot.axle.pk},
    "merge_vehicles": lambda s: (lambda other, body: (body, {"other": other}))(*merged(s)),
    "unmerge": lambda s: (lambda other, body: ({}, {"merge": s.lead.post(f"/api/vehicles/{s.car}/merge/{other}", body, 201)["id"]}))(*merged(s)),
    "add_reading": lambda s: {"value": "72 234 km"},
    "retire_vehicle": lambda s: {"how": "sold", "note": "to the north"},
    "bring_back": lambda s: (s.lead.post(f"/api/vehicles/{s.car}/retire", {"how": "sold"}), {})[1],
    "set_use": lambda s: {**USE, "warranty_until": "2027-01-01"},
    "set_workshop": lambda s: {"name": "North depot"},
    "print_labels": lambda s: (
        s.lead.call("patch", "/api/devices", {"kind": "label printer", "adaptor": "simulated"}),
        {"records": [s.record.pk], "size": "roll 62 x 29 mm"},
    )[1],
}  # fmt: skip
# Those that need a vehicle or a service of their own are below, each in a test of its name.
APART = {"move_record", "answer_season", "take_learnt", "take_over", "change_password"}


def stands() -> dict[str, list[tuple]]:
    """Every row of every table but those that say what was sent and who is signed in."""
    found = {}
    with connection.cursor() as cursor:
        for name in connection.introspection.table_names():
            if name not in ("accounts_sentchange", "django_session"):
                cursor.execute(f'SELECT * FROM "{name}"')
                found[name] = sorted(cursor.fetchall(), key=repr)
    return found


def address(s, operation, more):
    method, path = of_api()[operation]
    known = {
        "vehicle": s.car, "compartment": s.box, "container": s.can.pk, "sheet": s.depot.box.pk, **more,
    }  # fmt: skip
    if "{record}" in path:
        known["record"] = s.record.pk
    return method, re.sub(r"{(\w+)}", lambda m: str(known[m[1]]), path)


def sent(client, method, path, body, key):
    headers = {"Idempotency-Key": str(key)}
    files = {name: value for name, value in body.items() if isinstance(value, SimpleUploadedFile)}
    if files:
        for file in files.values():
            file.seek(0)
        return client.post(path, body, headers=headers)
    return getattr(client, method)(path, data=body, content_type="application/json", headers=headers)


def counts_once(client, method, path, body):
    before, key = stands(), uuid.uuid4()
    first = sent(client, method, path, body, key)
    assert first.status_code < 400, first.content[:500]
    once = stands()
    assert once != before
    outbox = sorted(str(p) for p in Path(settings.VAR).rglob("outbox/**/*")) if Path(settings.VAR).exists() else []
    again = sent(client, method, path, body, key)
    assert (again.status_code, again.content, again["Content-Type"] if again.content else "") == (
        first.status_code,
        first.content,
        first["Content-Type"] if first.content else "",
    )
    assert stands() == once
    assert outbox == (sorted(str(p) for p in Path(settings.VAR).rglob("outbox/**/*")) if Path(settings.VAR).exists() else [])


@pytest.mark.parametrize("operation", CHANGES)
def test_what_is_sent_twice_counts_once(s, operation):
    given = CHANGES[operation](s)
    body, more = given if isinstance(given, tuple) else (given, {})
    counts_once(s.lead.client, *address(s, operation, more), body)


def test_a_moved_record_is_moved_once(s, twin_box):  # noqa: F811
    body = {"compartment_id": twin_box.pk, "meter_value": "12 400 km", "reason": "the wrong one was tapped"}
    counts_once(s.lead.client, *address(s, "move_record", {}), body)


def test_a_season_is_answered_once(s, rider):  # noqa: F811
    counts_once(s.lead.client, *address(s, "answer_season", {"vehicle": rider.pk}), {"stands": True})


def test_a_learnt_capacity_is_taken_once(s, fleet):  # noqa: F811
    counts_once(s.lead.client, *address(s, "take_learnt", {"compartment": fleet[0].pk}), {})


def test_a_password_is_changed_once(password, s):
    counts_once(s.lead.client, *address(s, "change_password", {}), {"old": password, "password": "grease and gaskets"})


def test_a_torque_is_taken_over_once(s):
    s.record.revision.plugs.filter(role="drain").update(torque_nm=None)
    row = ConsequenceRow.objects.create(
        kind="adopt", code="torque", params={"plug": "drain plug", "torque_nm": 25, "source": "workshop table"}, record=s.record
    )
    counts_once(s.lead.client, *address(s, "take_over", {"consequence": row.pk}), {"outcome": "as measured"})


def test_every_address_that_changes_something_is_among_them():
    """A new one has to be added above, and said to be one of these."""
    named = [set(CHANGES), APART, ASKS, OF_THE_BAY, BY_STATE]
    every = set().union(*named)
    assert every == set(of_api())
    assert sum(len(n) for n in named) == len(every)  # each is one of them


def test_the_page_sends_an_id_with_each_and_with_nothing_else():
    """The addresses that the page leaves without an id, by the expression in its own client."""
    text = Path("web/src/app/api.ts").read_text()
    (found,) = re.findall(r"const ASKED =\s+/(.+)/;", text)
    without = re.compile(found.replace("\\/", "/"))
    for operation, (_, path) in of_api().items():
        where = re.sub(r"{\w+}", "11", path)
        assert bool(without.search(where)) == (operation in ASKS | OF_THE_BAY | BY_STATE), operation
