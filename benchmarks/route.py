"""The answer route over HTTP: a server of its own, new questions each time, then the same again."""

import http.client
import itertools
import json
import os
import random
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

ROWS, COLUMNS = 1_000_000, 40
QUESTIONS = 120


def run() -> None:
    with tempfile.TemporaryDirectory(prefix="hobrix-bench-") as home:
        os.environ.update(HOBRIX_HOME=home, DJANGO_SETTINGS_MODULE="hobrix.web.config.settings")
        from hobrix.web import serving

        serving.prepare()
        cookie, studies = _studies(Path(home))
        port = serving.free_port(0)
        command = f"from hobrix.web import serving; serving.prepare(); serving.serve({port})"
        server = subprocess.Popen([sys.executable, "-c", command])
        try:
            _wait(port)
            print("\nAnswer route over HTTP (median and 95th percentile)")
            for name, study, dataset, variables in studies:
                times = _ask(port, cookie, study, dataset, variables)
                for kind, seconds in times.items():
                    median = 1000 * statistics.median(seconds)
                    high = 1000 * statistics.quantiles(seconds, n=20)[-1]
                    print(f"  {name:28} {kind:22} {median:6.1f} ms {high:6.1f} ms")
            print("  (aim: under 50 ms and 120 ms)")
        finally:
            server.terminate()
            server.wait()


def _studies(home: Path) -> tuple[str, list[tuple[str, str, str, list[str]]]]:
    """The demo study and a large one, both brought in by the same import as anybody's."""
    import polars as pl
    from django.conf import settings
    from django.core.files import File
    from django.test import Client

    from hobrix.web.demo.load import demo_user, load_demo
    from hobrix.web.studies.importing import import_file
    from hobrix.web.studies.models import Membership, Study

    demo = load_demo()
    user = demo_user()
    file = home / "large.csv"
    chooser = random.Random(2)
    columns = {}
    for i in range(COLUMNS):
        answers = [f"answer {k}" for k in range(2 + i % 6)]
        sample = chooser.choices(answers, k=10_000)
        columns[f"v{i}"] = (sample * (ROWS // len(sample)))[i:] + sample[:i]
    pl.DataFrame(columns).write_csv(file)
    large = Study.objects.create(name="Large")
    Membership.objects.create(study=large, user=user, role="owner")
    start = time.perf_counter()
    with file.open("rb") as opened:
        dataset = import_file(large, user, File(opened, file.name))
    seconds = time.perf_counter() - start
    size = file.stat().st_size / 1e6
    print(f"\nImport of {ROWS:,} x {COLUMNS} ({size:.0f} MB): {seconds:.1f} s")
    client = Client()
    client.force_login(user)
    cookie = f"sessionid={client.cookies[settings.SESSION_COOKIE_NAME].value}; csrftoken={'a' * 32}"
    named = ["source", "boil", "flooded", "trust", "schooling", "income_third", "toilet", "soap"]
    return cookie, [
        (f"demo ({2412:,} rows)", str(demo.id), str(demo.datasets.get().id), ["ill", *named]),
        (f"large ({ROWS:,} x {COLUMNS})", str(large.id), str(dataset.id), list(columns)),
    ]


def _wait(port: int) -> None:
    for _ in range(100):
        try:
            connection = http.client.HTTPConnection("127.0.0.1", port)
            connection.request("GET", "/api/session")
            connection.getresponse().read()
            return
        except OSError:
            time.sleep(0.1)
    raise TimeoutError("the server did not start")


def _ask(port: int, cookie: str, study: str, dataset: str, variables: list[str]) -> dict[str, Any]:
    pairs = list(itertools.permutations(variables, 2))
    random.Random(3).shuffle(pairs)
    bodies = [
        json.dumps(
            {
                "dataset": dataset,
                "question": {
                    "outcome": {"variable": outcome},
                    "vary_with": [{"variable": explanatory}],
                    # Another level makes another question once the pairs run out.
                    "confidence": 0.95 - 0.001 * (i // len(pairs)),
                },
            }
        )
        for i, (outcome, explanatory) in zip(range(QUESTIONS), itertools.cycle(pairs), strict=False)
    ]
    headers = {"Cookie": cookie, "X-CSRFToken": "a" * 32, "Content-Type": "application/json"}
    connection = http.client.HTTPConnection("127.0.0.1", port)

    def once(body: str) -> float:
        start = time.perf_counter()
        connection.request("POST", f"/api/studies/{study}/answer", body, headers)
        response = connection.getresponse()
        response.read()
        assert response.status == 200, response.status
        return time.perf_counter() - start

    return {
        "first time asked": [once(body) for body in bodies],
        "asked again": [once(body) for body in bodies],
    }
