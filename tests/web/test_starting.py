"""Starting: one server per home, and whatever stands in the way is said in words."""

import os
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from django.db.utils import OperationalError
from django.test import Client

from hobrix.web import home as homes
from hobrix.web.studies.models import Study


def start(home: Path, *command: str) -> subprocess.CompletedProcess[str]:
    environment = {k: v for k, v in os.environ.items() if not k.startswith("DJANGO")}
    return subprocess.run(
        [
            sys.executable,
            "-m",
            "hobrix.cli",
            *(command or ("user", "add", "ann", "--password", "x")),
        ],
        env=environment | {"HOBRIX_HOME": str(home)},
        capture_output=True,
        text=True,
        timeout=120,
    )


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A home with a database in place."""
    home = tmp_path_factory.mktemp("home")
    assert "too short" in start(home).stderr
    return home


def test_two_servers_do_not_share_a_home(made: Path) -> None:
    held = homes.hold(made)
    try:
        assert homes.is_held(made)
        refused = start(made, "serve", "--port", "0")
        assert refused.returncode == 2
        assert f"runs already on {made} (process {os.getpid()})" in refused.stderr
        # What is under way stays: only who holds the home tidies it.
        assert "Traceback" not in refused.stderr
    finally:
        os.close(held)
    assert not homes.is_held(made)


def damaged(home: Path) -> None:
    (home / "hobrix.sqlite3").write_bytes(b"not a database at all" * 1000)


def from_a_newer_version(home: Path) -> None:
    with sqlite3.connect(home / "hobrix.sqlite3") as database:
        database.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('studies', '9999_later', '')"
        )


@pytest.mark.parametrize(
    ("break_it", "said"),
    [
        (damaged, "is damaged"),
        (from_a_newer_version, "was made by a newer Hobrix (it knows 9999_later)"),
    ],
)
def test_a_database_that_cannot_be_used_is_left_alone(
    tmp_path: Path, made: Path, break_it: Callable[[Path], None], said: str
) -> None:
    home = tmp_path / "home"
    home.mkdir()
    (home / "hobrix.sqlite3").write_bytes((made / "hobrix.sqlite3").read_bytes())
    break_it(home)
    before = (home / "hobrix.sqlite3").read_bytes()
    refused = start(home)
    assert refused.returncode == 2
    assert said in refused.stderr
    assert "Traceback" not in refused.stderr
    assert (home / "hobrix.sqlite3").read_bytes() == before


def test_a_home_that_is_no_folder_is_named(tmp_path: Path) -> None:
    file = tmp_path / "file"
    file.write_text("")
    refused = start(file / "home")
    assert refused.returncode == 2
    assert f"Hobrix cannot use its home, {file / 'home'}" in refused.stderr
    assert "Traceback" not in refused.stderr


def test_an_empty_key_was_never_used_and_is_made_again(tmp_path: Path) -> None:
    (tmp_path / "secret-key").write_text("")
    assert "too short" in start(tmp_path).stderr
    assert len((tmp_path / "secret-key").read_text()) > 40
    assert (tmp_path / "secret-key").stat().st_mode & 0o077 == 0


@pytest.mark.parametrize(
    ("error", "status", "said"),
    [
        (OperationalError("database or disk is full"), 507, "disk of the server is full"),
        (OSError(28, "No space left on device"), 507, "disk of the server is full"),
        (OSError(30, "Read-only file system"), 507, "may not write"),
        (OperationalError("attempt to write a readonly database"), 507, "may not write"),
        (OperationalError("database is locked"), 503, "try again"),
    ],
)
def test_a_disk_that_refuses_is_said_on_the_screen(
    owner: Client,
    study: Study,
    monkeypatch: pytest.MonkeyPatch,
    error: Exception,
    status: int,
    said: str,
) -> None:
    def refuse(*_args: object, **_fields: object) -> None:
        raise error

    monkeypatch.setattr(Study.objects, "create", refuse)
    response = owner.post("/api/studies", {"name": "One more"}, content_type="application/json")
    assert response.status_code == status
    assert said in response.json()["detail"]
