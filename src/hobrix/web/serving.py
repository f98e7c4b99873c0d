"""Starting the application: database in place, a free port, a real WSGI server."""

import os
import socket
import sys
from pathlib import Path


def set_up() -> None:
    """Django ready to use."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrix.web.config.settings")
    import django

    django.setup()


def prepare() -> None:
    """Django ready to use, the database migrated, the built front end collected."""
    set_up()
    from django.conf import settings
    from django.core.management import call_command

    # Without the system checks, which would load the whole API a second time.
    call_command("migrate", verbosity=0, skip_checks=True)
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


def serve(port: int) -> None:
    """Replace this process by the server, which starts the background worker beside itself."""
    from hobrix.web.jobs.abandoned import remove_orphans

    remove_orphans()
    arguments = ["gunicorn", "--config", "python:hobrix.web.config.gunicorn"]
    arguments += ["--bind", f"127.0.0.1:{port}"]
    os.execv(sys.executable, [sys.executable, "-m", *arguments])
