"""A server of its own with a study to ask about, and somebody signed in to ask."""

import http.client
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path
from typing import Any, Protocol


class Asker(Protocol):
    def send(self, path: str, body: Any = None) -> tuple[float, bytes]:
        """Seconds until the whole reply was read, and the reply; POST where there is a body."""


# Somebody who asks, as a user, for as long as it lasts.
Serving = Callable[[Any], AbstractContextManager[Asker]]


class OverHttp:
    """Sends requests over one connection that stays open."""

    def __init__(self, port: int, cookie: str) -> None:
        self._connection = http.client.HTTPConnection("127.0.0.1", port)
        self._headers = {
            "Cookie": cookie,
            "X-CSRFToken": "a" * 32,
            "Content-Type": "application/json",
        }

    def send(self, path: str, body: Any = None) -> tuple[float, bytes]:
        text = None if body is None else json.dumps(body)
        start = time.perf_counter()
        try:
            self._connection.request("POST" if body else "GET", f"/api{path}", text, self._headers)
            response = self._connection.getresponse()
            content = response.read()
        except OSError:
            self._connection.close()
            raise
        seconds = time.perf_counter() - start
        assert response.status in (200, 201), content[:500]
        return seconds, content


@contextmanager
def home() -> Iterator[Path]:
    """A database of its own, with Django at work on it."""
    with tempfile.TemporaryDirectory(prefix="hobrix-bench-") as folder:
        os.environ.update(HOBRIX_HOME=folder, DJANGO_SETTINGS_MODULE="hobrix.web.config.settings")
        from hobrix.web import serving

        serving.prepare()
        yield Path(folder)


@contextmanager
def serving_as(user: Any) -> Iterator[Asker]:
    """A server on the database in use, and an asker who is that user."""
    from django.conf import settings
    from django.test import Client

    from hobrix.web import serving

    client = Client()
    client.force_login(user)
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    port = serving.free_port(0)
    command = f"from hobrix.web import serving; serving.set_up(); serving.serve({port})"
    server = subprocess.Popen([sys.executable, "-c", command])
    try:
        asker = OverHttp(port, f"sessionid={session}; csrftoken={'a' * 32}")
        _wait(lambda: asker.send("/session"))
        yield asker
    finally:
        server.terminate()
        server.wait()


def _wait(knock: Callable[[], Any]) -> None:
    for _ in range(600):
        try:
            knock()
            return
        except OSError:
            time.sleep(0.1)
    raise TimeoutError("the server did not start")


def bring(user: Any, name: str, columns: dict[str, Any]) -> tuple[str, Any]:
    """A study with one data set, brought in by the same import as anybody's: its id and the data
    set."""
    import polars as pl
    from django.conf import settings
    from django.core.files import File

    from hobrix.web.studies.importing import import_file
    from hobrix.web.studies.models import Membership, Study

    file = Path(settings.HOME) / f"{name}.csv"
    pl.DataFrame(columns).write_csv(file)
    study = Study.objects.create(name=name)
    Membership.objects.create(study=study, user=user, role="owner")
    start = time.perf_counter()
    with file.open("rb") as opened:
        dataset = import_file(study, user, File(opened, file.name))
    seconds = time.perf_counter() - start
    size = file.stat().st_size / 1e6
    shape = f"{dataset.rows:,} x {len(columns)}"
    print(f"\nImport of {shape} ({size:.0f} MB): {seconds:.1f} s")
    return str(study.id), dataset
