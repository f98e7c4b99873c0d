"""The benchmarks over HTTP run to their end, here without a server of their own."""

import json
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from benchmarks import panels, route
from django.test import Client

from hobrix.web.demo.load import demo_user, load_demo


class InProcess:
    def __init__(self, user: Any) -> None:
        self._client = Client()
        self._client.force_login(user)

    def send(self, path: str, body: Any = None) -> tuple[float, bytes]:
        start = time.perf_counter()
        url = f"/api{path}"
        if body is None:
            response = self._client.get(url)
        else:
            response = self._client.post(url, json.dumps(body), content_type="application/json")
        assert response.status_code in (200, 201), response.content[:500]
        return time.perf_counter() - start, response.content


@contextmanager
def serving(user: Any) -> Iterator[InProcess]:
    yield InProcess(user)


def test_the_route(db: None, capsys: pytest.CaptureFixture[str]) -> None:
    route.measure(load_demo(), demo_user(), serving, rows=500, questions=5)
    told = capsys.readouterr().out
    assert "demo (2,412 rows)" in told
    assert "large (500 x 40)" in told


def test_sheets_panels_and_a_line_of_questions(
    db: None, capsys: pytest.CaptureFixture[str]
) -> None:
    load_demo()
    panels.measure(demo_user(), serving, sizes=(300,), rounds=2, line=3)
    told = capsys.readouterr().out
    assert "300 rows: sheet" in told
    assert "Coefficients" in told
    assert "3 questions listed" in told
