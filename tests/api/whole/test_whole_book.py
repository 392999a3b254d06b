"""The whole book out and in: a package that others can open, restored to the same bytes, and nothing half in."""

import csv
import io
import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import pandas
import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from frictionless import Package, system

from barodex.accounts.models import Person
from barodex.book.queries import history
from barodex.files.whole.kept import FIELDS_LEFT_OUT, LEFT_OUT, OURS, kept_models, rows_of
from barodex.files.whole.writing import tables, whole_book
from barodex.fleet.models import Compartment, Vehicle
from tests.demo import demo_snapshot

ROOT = Path(__file__).resolve().parents[3]


def run(var: Path, *command: str, fine: bool = True, **more: str) -> str:
    env = {**os.environ, "BARODEX_VAR": str(var), "PYTHONPATH": str(ROOT / "src"), **more}
    env.pop("DJANGO_SETTINGS_MODULE", None)
    done = subprocess.run([sys.executable, "-m", "barodex", *command], env=env, capture_output=True, text=True, check=False)
    assert (done.returncode == 0) is fine, done.stdout + done.stderr
    return done.stdout + done.stderr


def members(file: Path) -> dict[str, bytes]:
    """What a file holds, but for the time of its making."""
    with zipfile.ZipFile(file) as packed:
        assert packed.testzip() is None
        found = {name: packed.read(name) for name in packed.namelist()}
    book, package = json.loads(found.pop("book.json")), json.loads(found.pop("datapackage.json"))
    assert book.pop("made") == package.pop("created")
    book["members"].pop("datapackage.json")
    return {**found, "book.json": json.dumps(book).encode(), "datapackage.json": json.dumps(package).encode()}


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    """The whole book of the demo fleet, written by the command."""
    file = tmp_path_factory.mktemp("out") / "book.zip"
    said = run(demo_snapshot(), "export", str(file))
    assert f"{file}: " in said
    return file


@pytest.fixture
def unpacked(demo, tmp_path):
    with zipfile.ZipFile(demo) as packed:
        packed.extractall(tmp_path)
    return tmp_path


def test_the_package_is_valid_by_an_independent_reader(unpacked):
    """Tabular Data Package, checked by frictionless: types, primary keys, foreign keys."""
    with system.use_context(trusted=True):
        report = Package(str(unpacked / "datapackage.json")).validate()
    assert report.valid, report.flatten(["title", "message"])[:10]
    assert report.stats["tasks"] == len(tables())


def test_a_spreadsheet_reads_the_same_sums_as_the_book_shows(unpacked):
    """pandas reads the tables without help; the amounts of a change add up to what its row says."""
    changes = pandas.read_csv(unpacked / "tables" / "changes.csv", parse_dates=["on"])
    amounts = pandas.read_csv(unpacked / "tables" / "amounts.csv")
    assert len(changes) > 30
    assert changes[["plate", "vehicle", "compartment"]].isna().sum().sum() == changes["plate"].isna().sum()  # some have no plate
    poured = amounts[amounts["what"].isin(["oil in", "topped up"])].groupby("change")["amount_ml"].sum()
    both = changes.set_index("change")["poured_ml"].dropna()
    assert len(both) > 20
    assert (both - poured.reindex(both.index)).abs().max() < 1
    assert changes["meter_km"].notna().sum() + changes["meter_h"].notna().sum() <= len(changes)


def test_every_photo_that_is_named_is_in_the_file(unpacked):
    rows = list(csv.DictReader(io.StringIO((unpacked / "tables" / "photos.csv").read_text("utf-8-sig"))))
    assert rows
    for row in rows:
        assert (unpacked / row["file"]).read_bytes()[:2] == b"\xff\xd8", row  # JPEG, ISO/IEC 10918-1: SOI


@pytest.fixture(scope="module")
def back(demo, tmp_path_factory):
    """An installation into which the book was put."""
    var = tmp_path_factory.mktemp("back")
    return var, run(var, "restore", str(demo))


def test_out_in_and_out_again_gives_the_same_bytes_but_for_the_time(demo, back, tmp_path):
    run(back[0], "export", str(tmp_path / "again.zip"))
    assert members(tmp_path / "again.zip") == members(demo)


def test_people_come_back_without_passwords_and_leads_by_links(demo, back):
    var, said = back
    assert "/join/" in said
    assert "Isla Marran" in said
    with sqlite3.connect(var / "barodex.sqlite3") as db:
        assert {p for (p,) in db.execute("SELECT password FROM accounts_person")} == {"!"}
        assert db.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert db.execute("PRAGMA foreign_key_check").fetchall() == []
    with zipfile.ZipFile(demo) as packed:
        assert b"argon2" not in packed.read("rows/accounts.person.jsonl")


def test_a_book_goes_into_no_book(demo, back, tmp_path):
    assert "There is a book here already" in run(back[0], "restore", str(demo), fine=False)


def spoilt(file: Path, to: Path, change) -> Path:
    """The file with its members changed."""
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(to, "w") as new:
        for name in old.namelist():
            content = change(name, old.read(name))
            if content is not None:
                new.writestr(name, content)
    return to


def resealed(file: Path, to: Path, change) -> Path:
    """The file with members changed and its digests and counts made to fit."""
    import hashlib

    found: dict[str, bytes] = {}

    def through(name, content):
        if name == "book.json":
            said = json.loads(content)
            said["members"] |= {n: hashlib.sha256(c).hexdigest() for n, c in found.items()}
            return json.dumps(change(name, said))
        found[name] = change(name, content)
        return found[name]

    return spoilt(file, to, through)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda n, c: None if n == "book.json" else c, "no book of Barodex"),
        (lambda n, c: c.replace(b'"barodex-book"', b'"other-book"') if n == "book.json" else c, "no book of Barodex"),
        (lambda n, c: c.replace(b'"version": 1', b'"version": 9') if n == "book.json" else c, "newer Barodex"),
        (lambda n, c: c.replace(b'"fleet.0001_initial"', b'"fleet.9999_later"') if n == "book.json" else c, "newer Barodex"),
        (lambda n, c: c[:-40] if n == "rows/fleet.reading.jsonl" else c, "is not what it was"),
        (lambda n, c: None if n == "rows/fleet.reading.jsonl" else c, "no book of Barodex"),
    ],
)
def test_a_broken_foreign_or_newer_file_is_refused_and_nothing_is_half_in(demo, tmp_path, change, words):
    bad = spoilt(demo, tmp_path / "bad.zip", change)
    assert words in run(tmp_path / "new", "restore", str(bad), fine=False)
    assert not (tmp_path / "new" / "barodex.sqlite3").exists()
    assert not list((tmp_path / "new").glob(".restoring-*"))


def test_rows_that_contradict_each_other_are_refused(demo, tmp_path):
    """Its digests fit, but a compartment names a vehicle that is not in it."""

    def without_vehicles(name, content):
        if name == "book.json":
            content["counts"]["fleet.vehicle"] = 0
        return b"" if name == "rows/fleet.vehicle.jsonl" else content

    bad = resealed(demo, tmp_path / "bad.zip", without_vehicles)
    assert "does not fit the others" in run(tmp_path / "new", "restore", str(bad), fine=False)
    assert not (tmp_path / "new" / "barodex.sqlite3").exists()


def test_a_file_of_an_older_version_is_brought_up_to_date(demo, tmp_path):
    """As if written before vehicles could leave: its rows have no such columns, its list of migrations ends before."""
    later = ("fleet.0009_life", "fleet.0010_depot_driver_merge", "book.0015_records_by_day")  # the last ones stand on the first
    newer = ("depot", "driver", "retired_on", "retired_how", "retired_note", "removed_on", "removed_why")

    def older(name, content):
        if name == "book.json":
            del content["counts"]["fleet.merge"]
            content["migrations"] = [m for m in content["migrations"] if m not in later]
            return content
        if name in ("rows/fleet.vehicle.jsonl", "rows/fleet.compartment.jsonl"):
            rows = [json.loads(line) for line in content.splitlines()]
            return b"".join(json.dumps({k: v for k, v in r.items() if k not in newer}).encode() + b"\n" for r in rows)
        return content

    run(tmp_path / "new", "restore", str(resealed(demo, tmp_path / "old.zip", older)))
    with sqlite3.connect(tmp_path / "new" / "barodex.sqlite3") as db:
        assert db.execute("SELECT COUNT(*), SUM(retired_how = '') FROM fleet_vehicle").fetchone() == (11, 11)


@pytest.mark.parametrize("after_s", [0.3, 1.0])
def test_an_export_that_is_killed_leaves_none_by_its_name(tmp_path, after_s):
    file = tmp_path / "book.zip"
    env = {**os.environ, "BARODEX_VAR": str(demo_snapshot()), "PYTHONPATH": str(ROOT / "src")}
    process = subprocess.Popen([sys.executable, "-m", "barodex", "export", str(file)], env=env, stdout=subprocess.DEVNULL)
    time.sleep(after_s)
    process.send_signal(signal.SIGKILL)
    process.wait()
    if file.exists():  # it was quicker
        assert zipfile.ZipFile(file).testzip() is None


@pytest.mark.parametrize("after_s", [1.0, 6.0])
def test_a_restore_that_is_killed_leaves_an_empty_book_that_can_be_filled(demo, tmp_path, after_s):
    var = tmp_path / "new"
    env = {**os.environ, "BARODEX_VAR": str(var), "PYTHONPATH": str(ROOT / "src")}
    process = subprocess.Popen(
        [sys.executable, "-m", "barodex", "restore", str(demo)], env=env, stdout=subprocess.DEVNULL, start_new_session=True
    )
    time.sleep(after_s)
    os.killpg(process.pid, signal.SIGKILL)
    process.wait()
    database = var / "barodex.sqlite3"
    if database.exists():
        with sqlite3.connect(database) as db:
            there = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'fleet_vehicle'").fetchone()
            if there and db.execute("SELECT COUNT(*) FROM fleet_vehicle").fetchone() != (0,):  # it was quicker: then all is in
                assert db.execute("SELECT COUNT(*) FROM fleet_vehicle").fetchone() == (11,)
                return
    run(var, "restore", str(demo))
    assert not list(var.glob(".restoring-*"))


def test_a_download_is_the_same_file(api, depot, record):
    response = api.lead.client.get("/api/whole-book")
    assert response["Content-Type"] == "application/zip"
    with zipfile.ZipFile(io.BytesIO(b"".join(response.streaming_content))) as packed:
        rows = list(csv.DictReader(io.TextIOWrapper(packed.open("tables/changes.csv"), "utf-8-sig")))
    assert [float(r["poured_ml"]) for r in rows] == [r.poured_ml for r in history(depot.gearbox.pk).records]
    size = api.lead.get("/api/whole-book/size")
    assert (size["vehicles"], size["changes"]) == (1, 2)
    assert api.technician.client.get("/api/whole-book").status_code == 403


def test_a_void_record_goes_out_with_who_and_why(api, depot, record):
    api.lead.post(f"/api/records/{record.pk}/void", {"reason": "the wrong vehicle"})
    rows = {
        r["change"]: r
        for r in csv.DictReader(io.StringIO(api.viewer.client.get(f"/api/book/{depot.gearbox.pk}/file").content.decode("utf-8-sig")))
    }
    assert rows[str(record.pk)]["void"].endswith("Lead: the wrong vehicle")
    assert rows[str(record.pk)]["drained_ml"] == "1640"


def test_a_restore_over_the_page_needs_an_empty_book_and_no_people_or_a_lead(api, depot):
    file = SimpleUploadedFile("book.zip", b"PK")
    assert "a lead of this installation" in Client().post("/api/setup/restore", {"file": file}).json()["detail"]
    assert api.technician.client.post("/api/setup/restore", {"file": SimpleUploadedFile("b.zip", b"PK")}).status_code == 403


@pytest.mark.django_db
def test_every_table_is_in_the_file_or_left_out_for_a_reason():
    kept = {m._meta.label_lower for m in kept_models()}
    ours = {m._meta.label_lower for name in OURS for m in apps.get_app_config(name).get_models(include_auto_created=True)}
    assert ours - kept == set(LEFT_OUT)
    assert all(len(why) > 10 for why in LEFT_OUT.values())
    for label, fields in FIELDS_LEFT_OUT.items():
        assert {f.name for f in apps.get_model(label)._meta.local_concrete_fields} >= set(fields)


def test_the_rows_are_all_of_it_voided_ones_too(api, depot, record):
    api.lead.post(f"/api/records/{record.pk}/void", {"reason": "the wrong vehicle"})
    with zipfile.ZipFile(io.BytesIO(b"".join(whole_book()))) as packed:
        for model in kept_models():
            lines = packed.read(f"rows/{model._meta.label_lower}.jsonl").splitlines()
            assert len(lines) == model._base_manager.count() == len(list(rows_of(model))), model
    assert Person.objects.count() == 3
    assert Vehicle.objects.count() == Compartment.objects.values("vehicle").distinct().count() == 1
