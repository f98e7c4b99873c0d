"""A backup of an installation that may be at work: the database as it is at one moment, and the files
it names."""

import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

from hobrix.core.errors import HobrixError
from hobrix.web.keeping.manifest import DATABASE, SOURCES, Manifest

KEY = "secret-key"


def back_up(home: Path, to: Path) -> Manifest:
    """Write a backup into a new folder; it is there whole or not at all.

    Raises:
        HobrixError: there is something of that name already, or nothing to back up.
    """
    if to.exists():
        raise HobrixError(f"{to} is there already. A backup gets a folder of its own.")
    if not (home / DATABASE).exists():
        raise HobrixError(f"There is no database in {home}.")
    partial = to.with_name(to.name + ".partial")
    shutil.rmtree(partial, ignore_errors=True)
    partial.mkdir(parents=True)
    copy_database(home / DATABASE, partial / DATABASE)
    if (home / KEY).exists():
        shutil.copy2(home / KEY, partial / KEY)
    gone = []
    for path in files_named(partial / DATABASE):
        kept = partial / SOURCES / path
        kept.parent.mkdir(parents=True, exist_ok=True)
        try:
            shutil.copy2(home / SOURCES / path, kept)
        except FileNotFoundError:
            gone.append(path)
    made = Manifest.of(partial, gone)
    made.write(partial)
    partial.rename(to)
    return made


def copy_database(database: Path, to: Path) -> None:
    """As it is at one moment, while others may write on."""
    with (
        closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=60)) as source,
        closing(sqlite3.connect(to)) as target,
    ):
        # In one step: in several it would begin anew at every change.
        source.backup(target)
        target.execute("PRAGMA journal_mode=DELETE")


def files_named(database: Path) -> list[str]:
    """The files of data sets, and of jobs that still need theirs."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
        found = opened.execute(
            "SELECT file FROM studies_dataset WHERE file != '' UNION "
            "SELECT file FROM jobs_job WHERE file != '' AND state IN ('waiting', 'running')"
        )
        return sorted(path for (path,) in found)
