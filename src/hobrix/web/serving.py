"""Starting the application: database in place, a free port, a real WSGI server."""

import os
import socket
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from hobrix.web.home import CannotStart, hold, in_words, refuse_newer

# The file that holds the home, once it is taken.
_held: list[int] = []


def set_up() -> None:
    """Django ready to use."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrix.web.config.settings")
    import django

    django.setup()


def prepare() -> None:
    """Django ready to use, the database migrated.

    Raises:
        CannotStart: with the reason in words.
    """
    with _reasons_in_words():
        set_up()
        _migrate()


@contextmanager
def _reasons_in_words() -> Iterator[None]:
    import sqlite3

    from django.core.exceptions import ImproperlyConfigured
    from django.db.utils import DatabaseError

    try:
        yield
    except (OSError, DatabaseError, sqlite3.DatabaseError) as error:
        raise in_words(error, home_wanted()) from error
    except ImproperlyConfigured as error:
        raise CannotStart(str(error)) from error


def home_wanted() -> Path:
    """Also where it cannot be used."""
    project = Path(__file__).resolve().parents[3]
    return Path(os.environ.get("HOBRIX_HOME", project / "var")).resolve()


def _migrate() -> None:
    from django.conf import settings
    from django.core.management import call_command
    from django.db.migrations.loader import MigrationLoader

    known = set(MigrationLoader(None).disk_migrations)
    refuse_newer(settings.HOME, Path(str(settings.DATABASES["default"]["NAME"])), known)
    # Without the system checks, which would load the whole API a second time.
    call_command("migrate", verbosity=0, skip_checks=True)


def _collect() -> None:
    """The built front end as the server sends it, compressed."""
    from django.conf import settings
    from django.core.management import call_command

    stamp = settings.HOME / "static-collected"
    index = Path(settings.FRONTEND) / "index.html"
    built = str(index.stat().st_mtime_ns) if index.exists() else ""
    if not stamp.exists() or stamp.read_text() != built:
        ignored = ["ninja", "index.html", ".vite"]
        call_command(
            "collectstatic", interactive=False, clear=True, verbosity=0, ignore_patterns=ignored
        )
        stamp.write_text(built)


def free_port(wanted: int) -> int:
    """The wanted port on 127.0.0.1, or one that is free where it is taken."""
    for port in (wanted, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise OSError("no free port")


def take_home() -> None:
    """The home is this process's, and the server's it turns into; raises CannotStart where it is not
    free."""
    if not _held:
        _held.append(hold(home_wanted()))


def serve(port: int, host: str = "127.0.0.1") -> None:
    """Replace this process by the server, which starts the background worker beside itself.

    Raises:
        CannotStart: with the reason in words.
    """
    take_home()
    from hobrix.web.jobs.abandoned import remove_orphans

    remove_orphans()
    with _reasons_in_words():
        _collect()
    command = [sys.executable, "-m", "hobrix.web.config.server", host, str(port)]
    os.execv(sys.executable, command)
