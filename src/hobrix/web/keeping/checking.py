"""Whether what is kept is whole: the database, every column against its hash, every file, and what
belongs to nothing."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from hobrix.core.errors import HobrixError
from hobrix.web.keeping.manifest import DATABASE, SOURCES, sha256_of
from hobrix.web.studies.blobs import unpack

_COLUMNS = """
    SELECT study.name, dataset.name, entry.name, blob.sha256, blob.data
    FROM studies_blob AS blob JOIN studies_codebookentry AS entry ON entry.id = blob.entry_id
    JOIN studies_dataset AS dataset ON dataset.id = entry.dataset_id
    JOIN studies_study AS study ON study.id = dataset.study_id
"""


@dataclass(frozen=True)
class Trouble:
    """What is wrong, in words. What belongs to nothing harms nobody (``is_harmless``)."""

    words: str
    is_harmless: bool = False


def check(home: Path) -> Iterator[Trouble]:
    """Everything that is not as it should be."""
    database = home / DATABASE
    if not database.exists():
        yield Trouble(f"There is no database in {home}.")
        return
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=60)) as opened:
            yield from _of_database(opened)
            yield from _of_columns(opened)
            yield from _of_files(opened, home / SOURCES)
    except sqlite3.DatabaseError as error:
        yield Trouble(f"The database cannot be read any further: {error}.")


def _of_database(opened: sqlite3.Connection) -> Iterator[Trouble]:
    for (said,) in opened.execute("PRAGMA integrity_check(20)"):
        if said != "ok":
            yield Trouble(f"The database is damaged: {said}.")
    for table, row, parent, _ in opened.execute("PRAGMA foreign_key_check"):
        yield Trouble(f"Row {row} of {table} belongs to a row of {parent} that is not there.")


def _of_columns(opened: sqlite3.Connection) -> Iterator[Trouble]:
    for study, dataset, variable, sha256, data in opened.execute(_COLUMNS):
        try:
            unpack(data, sha256)
        except HobrixError:
            yield Trouble(f"The values of {variable} in {dataset} ({study}) are damaged.")


def _of_files(opened: sqlite3.Connection, sources: Path) -> Iterator[Trouble]:
    known = set()
    named = "SELECT file, sha256, name FROM studies_dataset WHERE file != ''"
    for path, sha256, name in opened.execute(named):
        known.add(path)
        if not (sources / path).is_file():
            yield Trouble(f"The file of {name}, {path}, is missing. Its data are there.")
        elif sha256_of(sources / path) != sha256:
            yield Trouble(f"The file of {name}, {path}, is not what was brought in.")
    known |= {path for (path,) in opened.execute("SELECT file FROM jobs_job WHERE file != ''")}
    if sources.is_dir():
        for file in sorted(sources.rglob("*")):
            path = file.relative_to(sources).as_posix()
            if file.is_file() and path not in known:
                yield Trouble(f"{path} belongs to nothing.", is_harmless=True)
