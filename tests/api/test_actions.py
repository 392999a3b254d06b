"""What must hold whoever asks: permissions inside the actions, the audit trail, constraints of the database, stock, commands."""

import datetime as dt
import io
import threading

import pytest
from django.core.exceptions import PermissionDenied
from django.core.management import CommandError, call_command
from django.db import IntegrityError, OperationalError, connection, transaction
from rest_framework import exceptions

from barodex import clock
from barodex.accounts.models import AuditEntry, Person
from barodex.bay.actions import JobSpec, drop_service, start_service
from barodex.bay.models import ServiceAct, ServiceJob
from barodex.book.actions import PaperRecord, enter_record, void_record
from barodex.book.correcting import correct
from barodex.book.models import ConsequenceRow, Correction, LedgerRow, OilRecord
from barodex.book.settling import settle
from barodex.book.trend import trend
from barodex.core.due.schedule import OwnRule
from barodex.core.findings.finding import Finding
from barodex.core.quantity import errors
from barodex.core.quantity.errors import CoreError, OutOfRange
from barodex.files.readings import import_readings
from barodex.fleet.actions import (
    CompartmentSpec,
    Use,
    VehicleSpec,
    add_compartment,
    add_reading,
    add_vehicle,
    carry,
    read_counter,
    set_rule,
    set_use,
    void_reading,
)
from barodex.fleet.models import Reading
from barodex.http.problems import MAPPING, problem
from barodex.memory.kept import KEPT, forget_all, kept_names, register
from barodex.memory.versions import SHELF, Changed, changed_since, newest, version_of
from barodex.papers.actions import send_morning
from barodex.plan.actions import plan_visit
from barodex.plan.horizon import whole_horizon
from barodex.plan.queries import due_board
from barodex.shelf.actions import (
    Figures,
    Oil,
    Said,
    Tonic,
    add_additive,
    add_claim,
    add_lubricant,
    change_lubricant,
    choose_claim,
    copy_sheet,
    count_item,
    draw,
    recount,
    revise_sheet,
    stock_container,
    take_out,
    trust_figure,
    write_sheet,
)
from barodex.shelf.files import Naming, keep_names
from barodex.shelf.models import Container, Lubricant, Plug, StockMovement
from barodex.workshop.actions import set_bay_policy, set_oil_policy, set_schedule_policy
from tests.conftest import NOW, TODAY

CORE = [
    getattr(errors, n) for n in dir(errors) if isinstance(getattr(errors, n), type) and issubclass(getattr(errors, n), errors.CoreError)
]


@pytest.mark.parametrize("kind", CORE)
def test_every_error_of_the_core_has_its_http_answer(kind):
    status, document = problem(kind("A sentence.", field="f", value=1, allowed="2"))
    assert status == (409 if issubclass(kind, errors.GateClosed) else 412 if kind is errors.Superseded else 422)
    assert document["detail"] == "A sentence."
    assert document["errors"] == [{"field": "f", "message": "A sentence.", "value": "1", "allowed": "2"}]


@pytest.mark.parametrize(
    ("error", "status"),
    [
        (exceptions.NotAuthenticated(), 401),
        (PermissionDenied("no"), 403),
        (OilRecord.DoesNotExist(), 404),
        (exceptions.ValidationError({"a": {"b": ["wrong"]}}), 422),
        (IntegrityError("x"), 409),
        (OperationalError("locked"), 503),
        (exceptions.MethodNotAllowed("PUT"), 405),
        (exceptions.UnsupportedMediaType("x/y"), 415),
        (RuntimeError("secret"), 500),
    ],
)
def test_other_failures_have_theirs(error, status):
    got, document = problem(error)
    assert got == status == document["status"]
    assert set(document) - {"code", "params"} == {"type", "title", "status", "detail", "errors"}
    assert "secret" not in document["detail"]
    assert "locked" not in document["detail"]


def test_a_nested_field_is_named_by_its_path():
    assert problem(exceptions.ValidationError({"plugs": [{}, {"torque_nm": ["bad"]}]}))[1]["errors"] == [
        {"field": "plugs.1.torque_nm", "message": "bad"}
    ]


def test_the_mapping_names_each_class_once_and_the_narrow_before_the_wide():
    classes = [entry[0] for entry in MAPPING]
    assert len(classes) == len(set(classes))
    for k, narrow in enumerate(classes):
        assert not any(issubclass(narrow, wide) for wide in classes[:k]), narrow


def next_monday():
    return TODAY + dt.timedelta(days=14 - TODAY.weekday())


ACTS = {
    "add_vehicle": (
        "lead",
        lambda by, d: add_vehicle(
            by, VehicleSpec("New", "car", "front-wheel", compartments=(CompartmentSpec("Gearbox", "transaxle", d.box.pk),))
        ),
    ),
    "add_compartment": ("lead", lambda by, d: add_compartment(by, d.vehicle.pk, CompartmentSpec("Front axle", "front axle", d.axle.pk))),
    "add_reading": ("technician", lambda by, d: add_reading(by, d.vehicle.pk, TODAY, 71_900)),
    "void_reading": ("technician", lambda by, d: void_reading(by, Reading.objects.filter(vehicle=d.vehicle).last().pk, "a slip")),
    "void_record": ("lead", lambda by, d: void_record(by, OilRecord.objects.get(compartment=d.gearbox).pk, "another box")),
    "import_readings": ("technician", lambda by, d: import_readings(by, f"vehicle,date,reading,unit\nOld 4x4,{TODAY},71950,km\n".encode())),
    "write_sheet": (
        "lead",
        lambda by, d: write_sheet(by, "Another", "axle", Figures("gear", 900, fill_method="measured", drain_method="suction")),
    ),
    "revise_sheet": (
        "lead",
        lambda by, d: revise_sheet(by, d.box.pk, Figures("gear", 1800, fill_method="measured", drain_method="suction"), "bulletin"),
    ),
    "add_lubricant": ("lead", lambda by, d: add_lubricant(by, Oil("Third", "gear", "80W-90", "GL-5"))),
    "change_lubricant": ("technician", lambda by, d: change_lubricant(by, d.bare.pk, Oil("Bare", "gear", "75W-80", "GL-4"))),
    "add_additive": ("lead", lambda by, d: add_additive(by, Tonic("Glide", "friction modifier", 0.05))),
    "copy_sheet": ("lead", lambda by, d: copy_sheet(by, d.box.pk, "Brass box, other make")),
    "add_claim": ("technician", lambda by, d: add_claim(by, d.box.pk, Said("capacity", "1.9 L", "plate"))),
    "choose_claim": ("lead", lambda by, d: choose_claim(by, d.claim.pk, "the plate was read again")),
    "trust_figure": ("technician", lambda by, d: trust_figure(by, d.box.pk, "capacity", "guessed", "plate is worn off")),
    "take_out": ("technician", lambda by, d: take_out(by, d.bottles[0].pk, 100, "top-up")),
    "recount": ("technician", lambda by, d: recount(by, d.bottles[0].pk, 500, "looked")),
    "carry": ("technician", lambda by, d: carry(by, d.bottles[0].pk, d.vehicle.pk)),
    "count_item": ("technician", lambda by, d: count_item(by, "torque wrench", "tool", 1)),
    "set_oil_policy": ("lead", lambda by, d: set_oil_policy(by, {"dual_claim": "never"}, "burnt once")),
    "plan_visit": ("lead", lambda by, d: plan_visit(by, d.vehicle.pk, next_monday(), (d.gearbox.pk,))),
    "set_schedule_policy": ("lead", lambda by, d: set_schedule_policy(by, {"school": "maker"}, "lease ends")),
    "set_rule": ("lead", lambda by, d: set_rule(by, d.gearbox.pk, OwnRule(load_share=0.9), "the new engine pulls")),
    "set_use": ("lead", lambda by, d: set_use(by, d.vehicle.pk, Use({"off_road": 0.4}, "04-01", "10-31"))),
    "read_counter": ("technician", lambda by, d: read_counter(by, d.gearbox.pk, 0.4)),
    "send_morning": ("lead", lambda by, d: send_morning(by, ("depot@skerrow.example",))),
    "set_bay_policy": ("lead", lambda by, d: set_bay_policy(by, {"hours_per_day": 6.0}, "one is away")),
    "keep_names": ("lead", lambda by, d: keep_names(by, (Naming("menge", "sheet", "capacity"),))),
    "stock_container": ("technician", lambda by, d: stock_container(by, d.light.pk, 1000, 1000, "L9")),
    "start_service": ("technician", lambda by, d: start_service(by, d.vehicle.pk, (JobSpec(d.gearbox.pk, d.light.pk),), 72_000)),
    "enter_record": ("technician", lambda by, d: enter_record(by, d.rear.pk, PaperRecord(TODAY, 71_960, d.heavy.pk, "", None, None, 1500))),
    "correct": (
        "technician",
        lambda by, d: correct(by, OilRecord.objects.get(compartment=d.gearbox).pk, "poured_ml", "1.8 L", "jug misread"),
    ),
}


MOVES_NOTHING = {"add_person", "change_settings", "send_morning", "keep_names", "choose_device", "make_link", "revoke_link", "add_photo"}


@pytest.mark.parametrize("name", ACTS)
def test_an_action_asks_who_acts_writes_the_trail_and_renews_the_board(depot, people, name, tmp_path, settings):
    settings.EMAIL_FILE_PATH = tmp_path
    role, act = ACTS[name]
    depot.bare = Lubricant.objects.create(name="Bare", family="gear")
    depot.claim = add_claim(people["lead"], depot.box.pk, Said("capacity", "1.9 L", "bulletin"))
    below = "viewer" if role == "technician" else "technician"
    trail = AuditEntry.objects.count()
    due_board(TODAY)
    with pytest.raises(PermissionDenied, match=f"for the {role}"):
        act(people[below], depot)
    assert AuditEntry.objects.count() == trail
    before = newest()
    act(people[role], depot)
    assert AuditEntry.objects.filter(by=people[role]).count() > 0
    assert AuditEntry.objects.count() > trail
    assert (newest() > before) is (name not in MOVES_NOTHING)


@pytest.mark.parametrize("name", ACTS)
def test_what_is_told_anew_after_an_action_is_what_the_whole_would_say(depot, people, name, tmp_path, settings):
    """An action says which vehicles it may move; were one forgotten, the board kept would differ from one told from nothing."""
    settings.EMAIL_FILE_PATH = tmp_path
    role, act = ACTS[name]
    depot.bare = Lubricant.objects.create(name="Bare", family="gear")
    depot.claim = add_claim(people["lead"], depot.box.pk, Said("capacity", "1.9 L", "bulletin"))
    add_vehicle(
        people["lead"], VehicleSpec("Other", "van", "front-wheel", compartments=(CompartmentSpec("Gearbox", "transaxle", depot.box.pk),))
    )

    def answers():
        return due_board(TODAY), whole_horizon(TODAY, 366), trend(depot.gearbox.pk, TODAY), trend(depot.rear.pk, TODAY)

    answers()
    act(people[role], depot)
    kept = answers()
    forget_all()
    assert kept == answers()


def test_everything_that_is_kept_says_what_makes_it_stale():
    from barodex.config import urls  # noqa: F401  (whoever keeps something is there by then)

    assert kept_names() == set(KEPT)
    with pytest.raises(ValueError, match="not in the list"):
        register("something", forget_all)
    with pytest.raises(ValueError, match="kept already"):
        register("board", forget_all)


def test_an_action_that_fails_raises_no_version(depot, people):
    before = newest()
    with pytest.raises(CoreError):
        add_reading(people["technician"], depot.vehicle.pk, TODAY, 71_100)
    assert newest() == before
    add_reading(people["technician"], depot.vehicle.pk, TODAY, 71_900)
    assert changed_since(before) == Changed(frozenset({depot.vehicle.pk}), frozenset())
    assert version_of(depot.vehicle.pk) == newest() > version_of(SHELF)


def test_the_board_is_kept_while_nothing_happens(depot, people):
    assert due_board(TODAY) is due_board(TODAY)
    before = due_board(TODAY)
    add_lubricant(people["lead"], Oil("Later", "gear", "75W-90", "GL-5"))
    assert due_board(TODAY) is before  # an oil moves nothing that is due
    assert due_board(TODAY + dt.timedelta(days=1)) is not due_board(TODAY)


def refused_by_the_database(write):
    with pytest.raises(IntegrityError), transaction.atomic():
        write()


def test_what_must_never_be_is_refused_by_the_database_too(depot, people):
    tech = people["technician"]
    reading = {"vehicle": depot.vehicle, "on": TODAY, "by": tech, "at": NOW}
    refused_by_the_database(lambda: Reading.objects.create(**reading, value=-1))
    Reading.objects.create(**reading, value=71_800)
    refused_by_the_database(lambda: Reading.objects.create(**reading, value=71_800))
    refused_by_the_database(lambda: Container.objects.filter(pk=depot.bottles[0].pk).update(content_ml=-1))
    refused_by_the_database(lambda: Container.objects.filter(pk=depot.bottles[0].pk).update(content_ml=1001))
    refused_by_the_database(lambda: Plug.objects.update(torque_nm=0))
    refused_by_the_database(
        lambda: LedgerRow.objects.create(record=OilRecord.objects.first(), place=0, kind="oil", volume_ml=-5, temperature_c=20, sigma_ml=1)
    )
    refused_by_the_database(lambda: OilRecord.objects.update(level=5))
    refused_by_the_database(lambda: Correction.objects.create(record=OilRecord.objects.first(), field="oil", reason="", by=tech, at=NOW))
    refused_by_the_database(lambda: Person.objects.update(role="king"))
    service = start_service(tech, depot.vehicle.pk, (JobSpec(depot.gearbox.pk, depot.light.pk),), None)
    job = ServiceJob.objects.get(service=service)
    refused_by_the_database(
        lambda: ServiceJob.objects.create(service=service, compartment=depot.gearbox, revision=job.revision, lubricant=depot.light)
    )
    act = {"service": service, "kind": "note", "at": NOW, "by": tech, "act_id": "6f0f3f3e-3a57-4a43-9a59-6f7a6f4f7c11"}
    ServiceAct.objects.create(**act, seq=1)
    refused_by_the_database(lambda: ServiceAct.objects.create(**act, seq=2))
    refused_by_the_database(lambda: ServiceAct.objects.create(**{**act, "act_id": "6f0f3f3e-3a57-4a43-9a59-6f7a6f4f7c12"}, seq=1))


def test_a_row_that_hangs_in_the_air_is_refused(depot, people):
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA foreign_keys")
        assert cursor.fetchone() == (1,)
        cursor.execute("PRAGMA synchronous")
        assert cursor.fetchone() == (2,)  # FULL: what is acknowledged is on the disk
        cursor.execute("PRAGMA journal_mode")
        assert cursor.fetchone() == ("wal",)


def test_a_container_is_never_drawn_below_empty(depot, people):
    assert draw(people["technician"], depot.bottles[0].pk, 500, "test") == 500
    assert draw(people["technician"], depot.bottles[0].pk, 500, "test") == 140
    assert Container.objects.get(pk=depot.bottles[0].pk).content_ml == 0
    assert sum(m.change_ml for m in StockMovement.objects.filter(container=depot.bottles[0])) == 0
    with pytest.raises(OutOfRange):
        draw(people["technician"], depot.bottles[1].pk, -5, "test")


@pytest.mark.apart
@pytest.mark.django_db(transaction=True)
def test_two_people_draw_from_one_bottle_at_once(request):
    depot, people = request.getfixturevalue("depot"), request.getfixturevalue("people")
    taken = []

    def person():
        with clock.at(NOW):
            taken.append(draw(people["technician"], depot.bottles[1].pk, 300, "test"))
        connection.close()

    threads = [threading.Thread(target=person) for _ in range(5)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sum(taken) == 1000
    assert Container.objects.get(pk=depot.bottles[1].pk).content_ml == 0


def test_a_new_change_settles_what_was_to_be_looked_at_but_never_a_stop(depot, people):
    tech = people["technician"]

    def change(days_ago, magnet, km, *particles):
        from barodex.core.findings.finding import Particle

        finding = Finding(magnet, tuple(Particle(*p) for p in particles), "brown", "clear", "none")
        with clock.at(NOW - dt.timedelta(days=days_ago)):
            return enter_record(tech, depot.rear.pk, PaperRecord(clock.today(), km, depot.heavy.pk, "", None, None, 1500, finding))

    change(300, "whiskers", 63_000)
    watch = ConsequenceRow.objects.get(kind="look-again")
    assert watch.run == 5_000  # a quarter of 40 000 km being more
    change(200, "overflowing", 66_000, ("part", "steel", 1, 5.0))
    watch.refresh_from_db()
    assert watch.done_at is not None
    stop = ConsequenceRow.objects.get(kind="stop")
    change(20, "film", 71_000)
    stop.refresh_from_db()
    assert stop.done_at is None
    with pytest.raises(PermissionDenied):
        settle(tech, stop.pk, "looks fine to me")
    settle(people["lead"], stop.pk, "rebuilt, clean at 50 km")


def test_a_dropped_service_can_be_started_again_but_not_dropped_twice(depot, people):
    tech = people["technician"]
    service = start_service(tech, depot.vehicle.pk, (JobSpec(depot.gearbox.pk, depot.light.pk),), None)
    drop_service(tech, service.pk, "called away")
    with pytest.raises(errors.GateClosed, match="closed already"):
        drop_service(tech, service.pk, "called away")
    assert start_service(tech, depot.vehicle.pk, (JobSpec(depot.gearbox.pk, depot.light.pk),), None).pk != service.pk


def test_a_person_is_added_from_the_command_line(db, monkeypatch):
    monkeypatch.setattr("sys.stdin", io.StringIO("a long enough one\n"))
    call_command("add_person", "maren", role="lead", stdout=io.StringIO())
    assert Person.objects.get(username="maren").check_password("a long enough one")
    monkeypatch.setattr("sys.stdin", io.StringIO("short\n"))
    with pytest.raises(CommandError, match="too short"):
        call_command("add_person", "other", stdout=io.StringIO())


def test_the_demo_is_loaded_once_and_kept(people):
    said = io.StringIO()
    call_command("load_demo", stdout=said)
    assert "kept as it is" in said.getvalue()
    assert Person.objects.count() == 3


def test_the_clock_can_be_held_and_set_from_outside(monkeypatch):
    with clock.at(NOW):
        assert clock.now() == NOW
    monkeypatch.setenv("BARODEX_NOW", "2030-01-02T03:04:05+00:00")
    assert clock.now() == dt.datetime(2030, 1, 2, 3, 4, 5, tzinfo=dt.UTC)
    assert clock.today() == dt.date(2030, 1, 2)
    monkeypatch.delenv("BARODEX_NOW")
    assert abs((clock.now() - dt.datetime.now(dt.UTC)).total_seconds()) < 5
