"""Putting a backup back. What was there is moved aside, never deleted."""

import shutil
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from hobrix.core.errors import HobrixError
from hobrix.web.keeping.backup import KEY
from hobrix.web.keeping.manifest import DATABASE, SOURCES, read_manifest

# The database with what SQLite keeps beside it.
_OF_DATABASE = (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm")


def newer_than(home: Path, backup: Path) -> str | None:
    """When the home was last changed, where that is after the last change the backup holds."""
    there, kept = _last_change(home / DATABASE), _last_change(backup / DATABASE)
    return there if there and there > (kept or "") else None


def _last_change(database: Path) -> str | None:
    if not database.exists():
        return None
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
            (last,) = opened.execute("SELECT max(at) FROM people_happening").fetchone()
    except sqlite3.DatabaseError:
        return None  # what is damaged is what a backup is for
    return str(last) if last else None


def put_back(backup: Path, home: Path) -> Path | None:
    """Put the backup in the place of what is in the home; the folder where that is now.

    Raises:
        HobrixError: the backup is damaged or incomplete; nothing is changed then.
    """
    made = read_manifest(backup)
    with closing(sqlite3.connect(f"file:{backup / DATABASE}?mode=ro", uri=True)) as opened:
        (said,) = opened.execute("PRAGMA integrity_check(1)").fetchone()
    if said != "ok":
        raise HobrixError(f"The database of this backup is damaged: {said}.")
    coming = home / "coming-back"
    shutil.rmtree(coming, ignore_errors=True)
    for path in made.files:
        (coming / path).parent.mkdir(parents=True, exist_ok=True)
        shutil.copy2(backup / path, coming / path)
    aside = _moved_aside(home)
    for name in (DATABASE, SOURCES, KEY):
        if (coming / name).exists():
            (coming / name).rename(home / name)
    shutil.rmtree(coming)
    return aside


def _moved_aside(home: Path) -> Path | None:
    there = [home / name for name in (*_OF_DATABASE, SOURCES, KEY) if (home / name).exists()]
    if not there:
        return None
    aside = home / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    aside.mkdir()
    for each in there:
        each.rename(aside / each.name)
    return aside
