"""Backup and its way back, as an installation does it: by the commands, in folders of their own, also cut off half-way."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]


def run(var: Path, *command: str, typed: str = "", fine: bool = True, **more: str):
    env = {**os.environ, "BARODEX_VAR": str(var), "PYTHONPATH": str(ROOT / "src"), **more}
    env.pop("DJANGO_SETTINGS_MODULE", None)
    done = subprocess.run([sys.executable, "-m", "barodex", *command], env=env, input=typed, capture_output=True, text=True, check=False)
    assert (done.returncode == 0) is fine, done.stdout + done.stderr
    return done.stdout + done.stderr


def names(var: Path) -> list[str]:
    with sqlite3.connect(var / "barodex.sqlite3") as db:
        return [name for (name,) in db.execute("SELECT username FROM accounts_person ORDER BY username")]


@pytest.fixture(scope="module")
def kept(tmp_path_factory):
    """An installation with two people and a photo, and a backup of it."""
    var, folder = tmp_path_factory.mktemp("var"), tmp_path_factory.mktemp("backups")
    run(var, "migrate", "-v0")
    for name in ("isla", "fergus"):
        run(var, "add_person", name, "--role", "lead", typed="grease and gaskets\n")
    (var / "photos").mkdir()
    (var / "photos" / "a.jpg").write_bytes(b"not really a picture" * 1000)
    said = run(var, "backup", str(folder))
    (file,) = folder.glob("barodex-*.zip")
    assert f"{file}: " in said
    assert "1 photos, read again and sound" in said
    return var, file


def test_what_was_acknowledged_last_is_in_the_backup(kept, tmp_path):
    """It lies in the write-ahead log while somebody holds the database open: a copy of the file alone would lose it."""
    var, _ = kept
    held = sqlite3.connect(var / "barodex.sqlite3", isolation_level=None)
    held.execute("PRAGMA wal_autocheckpoint=0")
    held.execute("UPDATE accounts_person SET first_name = 'Late' WHERE username = 'isla'")
    run(var, "backup", str(tmp_path))
    (file,) = tmp_path.glob("barodex-*.zip")
    with zipfile.ZipFile(file) as packed:
        packed.extract("barodex.sqlite3", tmp_path)
    with sqlite3.connect(tmp_path / "barodex.sqlite3") as copy:
        assert copy.execute("SELECT first_name FROM accounts_person WHERE username = 'isla'").fetchone() == ("Late",)
    held.close()


def test_a_backup_comes_back_into_an_empty_folder_with_photos_and_key(kept, tmp_path):
    var, file = kept
    new = tmp_path / "new"
    said = run(new, "restore-backup", str(file), BARODEX_SECRET_KEY="")
    assert str(new) in said
    assert names(new) == ["fergus", "isla"]
    assert (new / "photos" / "a.jpg").read_bytes() == (var / "photos" / "a.jpg").read_bytes()
    assert (new / "secret-key").read_text() == (var / "secret-key").read_text()
    assert "There is a database already" in run(new, "restore-backup", str(file), fine=False)


@pytest.mark.parametrize(
    ("spoil", "word"),
    [
        (lambda d: d[: len(d) // 2], "no backup of Barodex, or it is damaged"),
        (lambda _: b"PK nothing", "no backup of Barodex, or it is damaged"),
        (lambda d: d.replace(b"not really a picture", b"not really A picture", 1), "damaged"),
    ],
)
def test_a_damaged_backup_is_refused_and_nothing_is_half_in(kept, tmp_path, spoil, word):
    broken, new = tmp_path / "broken.zip", tmp_path / "new"
    broken.write_bytes(spoil(kept[1].read_bytes()))
    assert word in run(new, "restore-backup", str(broken), fine=False)
    assert not (new / "barodex.sqlite3").exists()
    assert list(new.glob(".part-*")) == []


@pytest.mark.parametrize("change", [{"form": 99}, {"migrations": ["fleet.9999_later"]}])
def test_a_newer_backup_is_refused(kept, tmp_path, change):
    newer = tmp_path / "newer.zip"
    with zipfile.ZipFile(kept[1]) as old, zipfile.ZipFile(newer, "w") as out:
        for name in old.namelist():
            content = old.read(name)
            out.writestr(name, json.dumps({**json.loads(content), **change}) if name == "manifest.json" else content)
    assert "made by a newer Barodex" in run(tmp_path / "new", "restore-backup", str(newer), fine=False)
    assert not (tmp_path / "new" / "barodex.sqlite3").exists()


def test_the_newest_stay_and_what_was_cut_off_is_cleared(kept, tmp_path):
    (tmp_path / ".part-old").mkdir()
    for _ in range(3):
        run(kept[0], "backup", str(tmp_path), "--keep", "2")
    assert len(list(tmp_path.glob("barodex-*.zip"))) == 2
    assert list(tmp_path.glob(".part-*")) == []


@pytest.mark.parametrize("after_s", [0.1, 0.4, 0.8])
def test_a_backup_that_is_killed_leaves_none_by_its_name(kept, tmp_path, after_s):
    env = {**os.environ, "BARODEX_VAR": str(kept[0]), "PYTHONPATH": str(ROOT / "src")}
    process = subprocess.Popen([sys.executable, "-m", "barodex", "backup", str(tmp_path)], env=env, stdout=subprocess.DEVNULL)
    time.sleep(after_s)
    process.send_signal(signal.SIGKILL)
    process.wait()
    for file in tmp_path.glob("barodex-*.zip"):
        with zipfile.ZipFile(file) as whole:
            assert whole.testzip() is None
    run(kept[0], "backup", str(tmp_path))
    assert list(tmp_path.glob(".part-*")) == []


def test_serving_backs_up_before_it_changes_the_database(tmp_path):
    page = tmp_path / "dist"
    page.mkdir()
    assert "The page is not built" in run(tmp_path / "var", "serve", "--only-prepare", fine=False, BARODEX_WEB_DIST=str(page))
    (page / "index.html").write_text("<html></html>")
    var = tmp_path / "var"
    said = run(var, "serve", "--only-prepare", BARODEX_WEB_DIST=str(page))
    assert f"keeps its data in {var}" in said
    assert not (var / "backups").exists()  # there was nothing yet
    with sqlite3.connect(var / "barodex.sqlite3") as db:
        db.execute("DELETE FROM django_migrations WHERE app = 'files'")
        for table in ("files_importrun", "files_keptmapping"):
            db.execute(f"DROP TABLE {table}")
    run(var, "serve", "--only-prepare", BARODEX_WEB_DIST=str(page))
    assert len(list((var / "backups").glob("barodex-*.zip"))) == 1
    with sqlite3.connect(var / "barodex.sqlite3") as db:
        assert db.execute("SELECT count(*) FROM django_migrations WHERE app = 'files'").fetchone() != (0,)
