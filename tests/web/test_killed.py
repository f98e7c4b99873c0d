"""A server that is killed in the middle of things: started again, the study is consistent."""

import json
import os
import random
import re
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

import pytest


class Server:
    """A real server with the demo study in a home of its own."""

    def __init__(self, home: Path) -> None:
        self.home = home
        self.start()

    def start(self) -> None:
        environment = os.environ | {
            "HOBRIX_HOME": str(self.home),
            "DJANGO_SETTINGS_MODULE": "web.settings_served",
            "PYTHONPATH": str(Path(__file__).parents[1]),
            "PYTHONUNBUFFERED": "1",
        }
        self.process = subprocess.Popen(
            [sys.executable, "-m", "hobrix.cli", "demo", "--port", "0"],
            stdout=subprocess.PIPE,
            text=True,
            env=environment,
            start_new_session=True,
        )
        assert self.process.stdout
        link = None
        while link is None:
            link = re.search(r"(http://\S+)/enter/\S+", self.process.stdout.readline())
        self.base = link[1]
        self.cookies = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))
        wait_for(lambda: self._answers(link[0]))

    def _answers(self, link: str) -> bool:
        try:
            self.opener.open(link, timeout=20).read()
        except urllib.error.HTTPError:
            return True  # without a built front end there is no page; the cookie is set
        except OSError:
            return False
        return True

    def kill(self) -> None:
        """End all of it at once, as a power cut would."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def call(self, method: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        return self._send(method, path, data, "application/json")

    def send_file(self, path: str, name: str, content: bytes) -> Any:
        head = f'--x\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
        data = head.encode() + content + b"\r\n--x--\r\n"
        return self._send("POST", path, data, "multipart/form-data; boundary=x")

    def _send(self, method: str, path: str, data: bytes | None, kind: str) -> Any:
        if not any(cookie.name == "csrftoken" for cookie in self.cookies):
            self.opener.open(f"{self.base}/api/session").read()
        token = next(cookie.value for cookie in self.cookies if cookie.name == "csrftoken")
        request = urllib.request.Request(
            self.base + path,
            data=data,
            method=method,
            headers={"Content-Type": kind, "X-CSRFToken": token or ""},
        )
        return json.loads(self.opener.open(request, timeout=60).read())

    def database(self, query: str) -> list[Any]:
        with sqlite3.connect(self.home / "hobrix.sqlite3", timeout=20) as connection:
            return connection.execute(query).fetchall()


def wait_for(condition: Callable[[], Any], seconds: float = 60, every: float = 0.05) -> Any:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if found := condition():
            return found
        time.sleep(every)
    raise AssertionError("waited in vain")


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "home")
    yield server
    server.kill()


def large_csv(rows: int) -> bytes:
    chooser = random.Random(3)
    part = "".join(
        f"{i},{chooser.choice('abc')},{chooser.random():.9f},{chooser.choice(['yes', 'no'])}\n"
        for i in range(10_000)
    )
    return ("id,group,x,ill\n" + part * (rows // 10_000)).encode()


def made_once(server: Server, datasets: str, large: dict[str, Any]) -> None:
    """Killed while a data set is made of another, started again: it is made once, and whole."""
    cases = {"rows": "several", "case": "group", "order": None}
    change = {"version": large["version"], "confirmed": True, "cases": cases}
    server.call("PATCH", f"{datasets}/{large['id']}", change)
    recipe = {"recipe": "one_per_case", "row": "first"}
    body = {"sources": [large["id"]], "name": "one each", "recipe": recipe}
    job = server.call("POST", f"{datasets.removesuffix('/datasets')}/bring", body)
    key = job["id"].replace("-", "")
    running = f"SELECT state FROM jobs_job WHERE state = 'running' AND id = '{key}'"
    wait_for(lambda: server.database(running), every=0.005)
    server.kill()
    assert server.database("PRAGMA integrity_check") == [("ok",)]
    assert server.database(f"SELECT id FROM studies_dataset WHERE id = '{key}'") == []
    server.start()
    job_path = f"{datasets.removesuffix('/datasets')}/jobs/{job['id']}"
    wait_for(lambda: server.call("GET", job_path)["state"] == "done", every=0.2)
    made = [each for each in server.call("GET", datasets) if each["name"] == "one each"]
    assert [(each["id"], each["rows"]) for each in made] == [(job["id"], 3)]


def test_killed_during_an_import_and_during_preparation(server: Server) -> None:
    study = server.call("GET", "/api/studies")[0]["id"]
    datasets = f"/api/studies/{study}/datasets"
    before = server.call("GET", datasets)

    # During an import: the job is seen running, then everything is killed.
    job = server.send_file(datasets, "large.csv", large_csv(800_000))
    running = f"SELECT state FROM jobs_job WHERE state = 'running' AND id = '{job['id'].replace('-', '')}'"
    wait_for(lambda: server.database(running), every=0.005)
    server.kill()
    assert server.database("PRAGMA integrity_check") == [("ok",)]
    assert len(server.database("SELECT id FROM studies_dataset")) == len(before)

    # Started again, it is taken up and done once, with nothing left lying about.
    server.start()
    assert [d["id"] for d in server.call("GET", datasets)][: len(before)] == [
        d["id"] for d in before
    ]
    job_path = f"/api/studies/{study}/jobs/{job['id']}"
    wait_for(lambda: server.call("GET", job_path)["state"] == "done", every=0.2)
    after = server.call("GET", datasets)
    assert [(d["id"], d["rows"]) for d in after if d not in before] == [(job["id"], 800_000)]
    files = server.database("SELECT file FROM studies_dataset WHERE file != ''")
    kept = {path for (path,) in files}
    sources = server.home / "sources"
    wait_for(
        lambda: {str(f.relative_to(sources)) for f in sources.rglob("*") if f.is_file()} == kept
    )
    assert list((server.home / "uploads").iterdir()) == []

    # While it is made into another: the first of the many rows of each group.
    made_once(server, datasets, next(each for each in after if each["id"] == job["id"]))

    # During preparation: steps are made one after another until the server dies under them.
    dataset = before[0]["id"]
    steps = f"{datasets}/{dataset}/steps"
    acknowledged = 0

    def keep_labelling() -> None:
        nonlocal acknowledged
        while True:
            label = {"step": "describe", "variable": "ill", "label": f"Illness {acknowledged}"}
            server.call("POST", steps, {"step": label, "seen": {}})
            acknowledged += 1

    def kill_under_them() -> None:
        # However slow the machine: when some were acknowledged, and in the middle of another.
        wait_for(lambda: acknowledged >= 3)
        time.sleep(0.2)
        os.killpg(server.process.pid, signal.SIGKILL)

    threading.Thread(target=kill_under_them, daemon=True).start()
    with pytest.raises((OSError, HTTPException)):
        keep_labelling()
    server.process.wait()
    assert acknowledged >= 3
    server.start()
    made = [s["words"] for s in server.call("GET", steps) if "Illness " in s["words"]]
    # All that were acknowledged, and at most the one that was on its way.
    assert len(made) in (acknowledged, acknowledged + 1)
    codebook = server.call("GET", f"{datasets}/{dataset}/codebook")
    ill = next(e["variable"] for e in codebook if e["variable"]["name"] == "ill")
    assert ill["label"] == f"Illness {len(made) - 1}"
