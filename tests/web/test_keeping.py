"""Backup beside a server at work, restore, checks, and letting go of what was deleted."""

import json
import os
import sqlite3
import subprocess
import sys
import threading
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
import zstandard
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.test import Client
from django.utils import timezone

from hobrix.core.errors import HobrixError
from hobrix.web.home import CannotStart, refuse_newer
from hobrix.web.keeping.backup import back_up
from hobrix.web.keeping.checking import check
from hobrix.web.keeping.manifest import DATABASE, SOURCES, read_manifest
from hobrix.web.keeping.purging import purge
from hobrix.web.keeping.restore import newer_than, put_back
from hobrix.web.people.happenings import write_down
from hobrix.web.studies.models import Blob, DataSet, SavedQuestion, Study
from web.conftest import CSV, bring


@pytest.fixture
def home(
    transactional_db: None, tmp_path: Path, owner: Client, study: Study, settings: Any
) -> Path:
    """A home with a study that has a file, as it is on disk."""
    made = tmp_path / "home"
    settings.MEDIA_ROOT = made / SOURCES
    assert bring(owner, study, CSV).status_code == 201
    write_down(study.id, study.memberships.get(role="owner").user, "did something")
    with closing(sqlite3.connect(made / DATABASE)) as target:
        connection.connection.backup(target)
    (made / "secret-key").write_text("a key")
    return made


def rows(database: Path, table: str) -> list[Any]:
    with closing(sqlite3.connect(database)) as opened:
        return sorted(opened.execute(f"SELECT * FROM {table}").fetchall(), key=repr)


def words(home: Path) -> str:
    return " ".join(trouble.words for trouble in check(home))


def test_a_backup_put_back_is_what_was_there(home: Path, tmp_path: Path) -> None:
    backup = tmp_path / "backup"
    made = back_up(home, backup)
    assert set(made.files) >= {DATABASE, "secret-key"}
    assert len(made.files) == 3
    other = tmp_path / "other"
    other.mkdir()
    assert put_back(backup, other) is None
    for table in ("studies_study", "studies_dataset", "studies_blob", "people_happening"):
        assert rows(other / DATABASE, table) == rows(home / DATABASE, table)
    assert list(check(other)) == []
    with pytest.raises(HobrixError, match="there already"):
        back_up(home, backup)


def test_a_backup_beside_writers_is_of_one_moment(home: Path, tmp_path: Path) -> None:
    """Two tables that are always changed together are equal in every backup."""
    database = home / DATABASE
    with closing(sqlite3.connect(database)) as opened:
        opened.execute("PRAGMA journal_mode=WAL")
        opened.executescript("CREATE TABLE one (n); CREATE TABLE other (n);")
    done = threading.Event()

    def write() -> None:
        with closing(sqlite3.connect(database, timeout=30)) as writer:
            number = 0
            while not done.is_set():
                with writer:
                    writer.execute("INSERT INTO one VALUES (?)", (number,))
                    writer.execute("INSERT INTO other VALUES (?)", (number,))
                number += 1

    writers = [threading.Thread(target=write) for _ in range(3)]
    for writer in writers:
        writer.start()
    try:
        for number in range(5):
            backup = tmp_path / f"backup {number}"
            back_up(home, backup)
            assert rows(backup / DATABASE, "one") == rows(backup / DATABASE, "other")
            read_manifest(backup)
    finally:
        done.set()
        for writer in writers:
            writer.join()
    assert len(rows(tmp_path / "backup 4" / DATABASE, "one")) > 0


@pytest.mark.parametrize(
    ("harm", "says"),
    [
        (lambda b: (b / DATABASE).write_bytes(b"x"), "is not what was put into it"),
        (lambda b: (b / DATABASE).unlink(), "is missing"),
        (lambda b: (b / "hobrix-backup.json").write_text("{}"), "is no backup"),
        (lambda b: _name_outside(b), "names files outside"),
    ],
)
def test_a_backup_that_is_not_whole_is_refused_and_nothing_is_changed(
    home: Path, tmp_path: Path, harm: Any, says: str
) -> None:
    backup = tmp_path / "backup"
    back_up(home, backup)
    harm(backup)
    before = (home / DATABASE).read_bytes()
    with pytest.raises(HobrixError, match=says):
        put_back(backup, home)
    assert (home / DATABASE).read_bytes() == before
    assert not list(home.glob("before-restore-*"))


def _name_outside(backup: Path) -> None:
    told = json.loads((backup / "hobrix-backup.json").read_text())
    told["files"]["../outside"] = "0"
    (backup / "hobrix-backup.json").write_text(json.dumps(told))


def test_what_is_newer_is_asked_about_and_moved_aside(home: Path, tmp_path: Path) -> None:
    backup = tmp_path / "backup"
    back_up(home, backup)
    assert newer_than(home, backup) is None
    with closing(sqlite3.connect(home / DATABASE)) as opened, opened:
        opened.execute(
            "INSERT INTO people_happening (study_id, at, who, words) VALUES ('x', ?, 'ann', 'later')",
            (f"{timezone.now() + timedelta(minutes=1):%Y-%m-%d %H:%M:%S}",),
        )
    assert newer_than(home, backup)
    command = [sys.executable, "-m", "hobrix.cli", "restore", str(backup)]
    environment = {k: v for k, v in os.environ.items() if not k.startswith("DJANGO")}
    environment["HOBRIX_HOME"] = str(home)
    asked = subprocess.run(command, env=environment, input="n\n", capture_output=True, text=True)
    assert asked.returncode == 1
    assert "was last changed" in asked.stdout
    assert len(rows(home / DATABASE, "people_happening")) == 3
    done = subprocess.run([*command, "--yes"], env=environment, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert len(rows(home / DATABASE, "people_happening")) == 2
    (aside,) = home.glob("before-restore-*")
    assert len(rows(aside / DATABASE, "people_happening")) == 3
    assert list((aside / SOURCES).rglob("*"))


def test_check_finds_what_is_damaged_missing_or_belongs_to_nothing(home: Path) -> None:
    assert words(home) == ""
    (home / SOURCES / "stray").write_text("x")
    assert words(home) == "stray belongs to nothing."
    assert all(trouble.is_harmless for trouble in check(home))
    (home / SOURCES / "stray").unlink()
    with closing(sqlite3.connect(home / DATABASE)) as opened, opened:
        opened.execute("UPDATE studies_blob SET data = x'00' WHERE entry_id = 1 OR 1")
        (path,) = opened.execute("SELECT file FROM studies_dataset").fetchone()
    assert "The values of ill in survey (Ostra Basin) are damaged." in words(home)
    (home / SOURCES / path).write_text("others")
    assert "is not what was brought in" in words(home)
    (home / SOURCES / path).unlink()
    assert "is missing. Its data are there." in words(home)
    (home / DATABASE).write_bytes((home / DATABASE).read_bytes()[:20_000] + b"\xff" * 5_000)
    assert "damaged" in words(home) or "cannot be read" in words(home)


def test_what_was_deleted_long_ago_is_let_go_of_and_nothing_else(
    owner: Client, study: Study, saved: SavedQuestion, dataset: DataSet
) -> None:
    long_ago = timezone.now() - timedelta(days=40)
    newer = DataSet.objects.get(id=bring(owner, study, CSV).json()["id"])
    gone = DataSet.objects.get(id=bring(owner, study, CSV).json()["id"])
    newer.replaces = dataset
    newer.save()
    # The older file can still be put back; the third belongs to nobody.
    DataSet.objects.filter(pk__in=[dataset.pk, gone.pk]).update(deleted_at=long_ago)
    file = Path(gone.file.path)
    assert file.exists()
    assert purge() == {"questions": 0, "reports": 0, "data sets": 1, "studies": 0}
    assert set(DataSet.objects.all()) == {dataset, newer}
    assert not file.exists()
    Study.objects.filter(pk=study.pk).update(deleted_at=timezone.now() - timedelta(days=20))
    assert purge()["studies"] == 0
    assert purge(days=10)["studies"] == 1
    assert [kind.objects.count() for kind in (Study, DataSet, Blob)] == [0, 0, 0]


LOOK = """
import json
from hobrix.web import serving
serving.prepare()
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
settings.BESIDE = False
client = Client(headers={"host": "localhost"})
client.force_login(get_user_model().objects.get(username="ann"))
study = client.get("/api/studies").json()[0]
at = f"/api/studies/{study['id']}"
question = client.get(f"{at}/questions").json()[0]
asked = {"dataset": question["dataset"], "question": question["question"]}
answer = client.post(f"{at}/answer", asked, content_type="application/json").json()
report = client.get(f"{at}/reports").json()[0]
page = client.get(f"{at}/reports/{report['id']}/page")
print(json.dumps({
    "study": study["name"],
    "title": question["title"],
    "headline": question["headline"],
    "lead": answer["answer"]["reading"]["headline"],
    "rows": answer["answer"]["counted"]["counted"],
    "page": page.status_code,
}))
"""


def test_a_home_of_the_version_before_goes_on_and_is_not_touched_by_that_version_again(
    tmp_path: Path,
) -> None:
    """A home that was made before there were people, a log and backups."""
    home = tmp_path / "home"
    home.mkdir()
    kept = (Path(__file__).parent / "homes/before-people.sqlite3.zst").read_bytes()
    (home / DATABASE).write_bytes(zstandard.ZstdDecompressor().decompress(kept))
    back_up(home, tmp_path / "before")
    environment = {k: v for k, v in os.environ.items() if not k.startswith("DJANGO")}
    environment["HOBRIX_HOME"] = str(home)
    command = [sys.executable, "-c", LOOK]
    done = subprocess.run(command, env=environment, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout.splitlines()[-1]) == {
        "study": "Ostra Basin",
        "title": "Does it vary?",
        "headline": "V 0.00 · p > 0.99",
        "lead": "V 0.00 · p > 0.99",
        "rows": 120,
        "page": 200,
    }
    # The version before does not know the schema any more, says so, and the backup leads back to it.
    known = set(MigrationLoader(None).disk_migrations)
    refuse_newer(home, home / DATABASE, known)
    before = {(app, name) for app, name in known if app != "people"} | {("people", "0000")}
    with pytest.raises(CannotStart, match="made by a newer Hobrix"):
        refuse_newer(home, home / DATABASE, before)
    put_back(tmp_path / "before", home)
    refuse_newer(home, home / DATABASE, before)
