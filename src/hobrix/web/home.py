"""The home of an installation: whether one may start on it, and that only one does."""

import fcntl
import os
import sqlite3
from pathlib import Path

import click


class CannotStart(click.ClickException):
    """Why Hobrix cannot start, in words for whoever runs it."""

    exit_code = 2


def hold(home: Path) -> int:
    """Take the home for this process and what it turns into; the open file that holds it.

    Raises:
        CannotStart: another process has it.
    """
    file = os.open(home / "in-use", os.O_RDWR | os.O_CREAT, 0o600)
    os.set_inheritable(file, True)
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        holder = os.read(file, 20).decode() or "unknown"
        os.close(file)
        raise CannotStart(
            f"Hobrix runs already on {home} (process {holder}). Stop that one first, or choose another "
            "home with HOBRIX_HOME."
        ) from None
    os.ftruncate(file, 0)
    os.write(file, str(os.getpid()).encode())
    return file


def is_held(home: Path) -> bool:
    """Whether Hobrix runs on it."""
    try:
        os.close(hold(home))
    except CannotStart:
        return True
    return False


def in_words(error: Exception, home: Path) -> CannotStart:
    """What went wrong at the start."""
    if isinstance(error, OSError):
        return CannotStart(
            f"Hobrix cannot use its home, {home}: {error.strerror or error}. It needs a folder it may "
            "write to, with room left; HOBRIX_HOME names another."
        )
    said = str(error)
    if "full" in said:
        return CannotStart(f"The disk that holds {home} is full. Make room, then start again.")
    if "readonly" in said or "unable to open" in said:
        return CannotStart(f"Hobrix may not write to its database in {home} ({said}).")
    return CannotStart(
        f"The database in {home} is damaged ({said}). Nothing was changed. `hobrix check` says what is "
        "wrong; `hobrix restore` brings back a backup."
    )


def refuse_newer(home: Path, database: Path, known: set[tuple[str, str]]) -> None:
    """A database that a newer Hobrix made is left alone. ``known`` are the migrations of this one.

    Raises:
        CannotStart: it is from a newer version.
        sqlite3.DatabaseError: it is damaged.
    """
    if not database.exists():
        return
    with sqlite3.connect(f"file:{database}?mode=ro", uri=True) as connection:
        tables = connection.execute("SELECT name FROM sqlite_master WHERE name='django_migrations'")
        if tables.fetchone() is None:
            return
        applied = set(connection.execute("SELECT app, name FROM django_migrations"))
    ours = {app for app, _ in known}
    newer = sorted(name for app, name in applied - known if app in ours)
    if newer:
        raise CannotStart(
            f"The database in {home} was made by a newer Hobrix (it knows {newer[-1]}). Start that "
            "version; nothing was changed."
        )
