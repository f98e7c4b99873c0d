"""Lenders: what they offer is brought in under terms; those that misbehave are refused in words."""

import http.server
import json
import socket
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from django.test import Client

from hobrix.core.data import Coded, Variable, propose
from hobrix.core.formats import Codebook, Noun, Table, read_file, write_file
from hobrix.web.lending import asking
from hobrix.web.lending.service import lender_server
from hobrix.web.studies.models import DataSet, Lender, Study

TABLE = b"household,visit,ill\na,1,yes\na,2,no\nb,1,no\n"


def put_package(folder: Path, text: bytes = TABLE, **said: Any) -> None:
    """A Data Package as a lender keeps it."""
    import io
    import zipfile

    table = read_file("visits.csv", text).table
    variables = tuple(propose(name, source).variable for name, source in table.columns.items())
    noun = Noun(one="visit", many="visits")
    codebook = Codebook(noun=noun, note="preliminary", variables=variables)
    plain = write_file("zip", Table(table.columns, table.rows), codebook, "Visits")
    with zipfile.ZipFile(io.BytesIO(plain)) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    descriptor = json.loads(parts["datapackage.json"]) | {
        "title": "Visits in the valley",
        "years": "2031",
        "case": "household",
        "order": "visit",
        "terms": "Only for the study.",
        **said,
    }
    parts["datapackage.json"] = json.dumps(descriptor).encode()
    with zipfile.ZipFile(folder / "visits.zip", "w") as archive:
        for name, content in parts.items():
            archive.writestr(name, content)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    folder = tmp_path / "lent"
    folder.mkdir()
    put_package(folder)
    (folder / "broken.zip").write_bytes(b"not a package")
    return folder


@pytest.fixture
def lender(db: None, folder: Path) -> Iterator[Lender]:
    server = lender_server(folder, "Valley office")
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield Lender.objects.create(name="Valley", url=f"http://127.0.0.1:{server.server_port}")
    server.shutdown()
    server.server_close()


def test_what_is_offered_is_told_and_brought_in_under_terms(
    owner: Client, study: Study, lender: Lender
) -> None:
    told = owner.get(f"/api/studies/{study.id}/lenders").json()
    assert [(each["name"], each["why_not"]) for each in told] == [("Valley", "")]
    (offer,) = told[0]["offers"]
    assert (offer["title"], offer["rows"], offer["case"]) == (
        "Visits in the valley",
        3,
        "household",
    )
    assert "ill" in [each["name"] for each in offer["variables"]]
    brought = owner.post(f"/api/studies/{study.id}/lenders/{lender.pk}/visits")
    assert brought.status_code == 201, brought.content
    made = brought.json()
    assert [each["terms"] for each in made["terms_asked"]] == ["Only for the study."]
    assert made["cases"] == {"rows": "several", "case": "household", "order": "visit"}
    assert (made["noun_many"], made["note"]) == ("visits", "preliminary")
    url = f"/api/studies/{study.id}/datasets/{made['id']}"
    assert owner.get(f"{url}/rows").status_code == 403
    body = {"texts": ["Only for the study."]}
    assert owner.post(f"{url}/terms", body, content_type="application/json").status_code == 200
    assert owner.get(f"{url}/rows").json()["total"] == 3


def test_a_newer_version_is_looked_for_and_takes_the_place_of_the_older(
    owner: Client, study: Study, lender: Lender, folder: Path
) -> None:
    made = owner.post(f"/api/studies/{study.id}/lenders/{lender.pk}/visits").json()
    url = f"/api/studies/{study.id}/datasets/{made['id']}/newer"
    assert owner.get(url).json() == {"offer": None}
    assert owner.post(url).status_code == 422
    put_package(folder, TABLE + b"b,2,yes\n", terms="Other terms.")
    assert owner.get(url).json()["offer"]["rows"] == 4
    replaced = owner.post(url).json()
    assert (replaced["rows"], replaced["name"]) == (4, "Visits in the valley")
    assert [each["terms"] for each in replaced["terms_asked"]] == ["Other terms."]


def test_a_lender_that_is_away_is_said_to_be_and_the_others_answer(
    owner: Client, study: Study, lender: Lender
) -> None:
    with socket.socket() as unused:
        unused.bind(("127.0.0.1", 0))
        port = unused.getsockname()[1]
    Lender.objects.create(name="Away", url=f"http://127.0.0.1:{port}")
    told = {each["name"]: each for each in owner.get(f"/api/studies/{study.id}/lenders").json()}
    assert told["Away"]["why_not"] == "Away does not answer."
    assert len(told["Valley"]["offers"]) == 1


OFFER: dict[str, Any] = {"name": "visits", "title": "Visits", "rows": 3, "version": "1", "size": 10}


def misbehaving(handle: Callable[[http.server.BaseHTTPRequestHandler], None]) -> Any:
    class Handler(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            handle(self)

        def log_message(self, *_: object) -> None:
            pass

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server


def reply(
    of: http.server.BaseHTTPRequestHandler, body: bytes, status: int = 200, **heads: str
) -> None:
    of.send_response(status)
    for name, value in heads.items():
        of.send_header(name, value)
    of.end_headers()
    of.wfile.write(body)


def catalogue(**changes: Any) -> bytes:
    return json.dumps({"title": "x", "offers": [{**OFFER, **changes}]}).encode()


def hangs(of: http.server.BaseHTTPRequestHandler) -> None:
    time.sleep(1.5)


def trickles(of: http.server.BaseHTTPRequestHandler) -> None:
    of.send_response(200)
    of.end_headers()
    for _ in range(40):
        of.wfile.write(b" ")
        of.wfile.flush()
        time.sleep(0.1)


def endless(of: http.server.BaseHTTPRequestHandler) -> None:
    of.send_response(200)
    of.end_headers()
    for _ in range(200):
        of.wfile.write(b" " * 10_000)


def sends_elsewhere(of: http.server.BaseHTTPRequestHandler) -> None:
    reply(of, b"", 302, Location="http://127.0.0.1:1/catalogue.json")


def nonsense(of: http.server.BaseHTTPRequestHandler) -> None:
    reply(of, b"<html>hello</html>")


def bad_name(of: http.server.BaseHTTPRequestHandler) -> None:
    reply(of, catalogue(name="../../secret"))


def fails(of: http.server.BaseHTTPRequestHandler) -> None:
    reply(of, b"", 500)


@pytest.mark.parametrize(
    ("handle", "says"),
    [
        (hangs, "does not answer"),
        (trickles, "is too slow"),
        (endless, "sends more than it said"),
        (sends_elsewhere, "sends elsewhere"),
        (nonsense, "no catalogue"),
        (bad_name, "no catalogue"),
        (fails, "answers with error 500"),
    ],
)
def test_a_lender_that_misbehaves_is_refused_in_words(
    owner: Client, study: Study, monkeypatch: Any, handle: Any, says: str
) -> None:
    monkeypatch.setattr(asking, "PATIENCE", 0.5)
    monkeypatch.setattr(asking, "CATALOGUE_SECONDS", 1.0)
    monkeypatch.setattr(asking, "CATALOGUE_BYTES", 100_000)
    server = misbehaving(handle)
    Lender.objects.create(name="Odd", url=f"http://127.0.0.1:{server.server_port}")
    (told,) = owner.get(f"/api/studies/{study.id}/lenders").json()
    server.shutdown()
    assert says in told["why_not"]
    assert told["offers"] == []


@pytest.mark.parametrize(
    ("body", "size", "says"),
    [
        (b"x" * 10, 10, "cannot be read"),
        (b"x" * 7, 10, "sent 7 bytes of Visits instead of 10"),
        (b"x" * 30, 10, "sends more than it said"),
    ],
)
def test_packages_that_are_broken_or_lie_about_their_size_leave_nothing(
    owner: Client, study: Study, body: bytes, size: int, says: str
) -> None:
    def handle(of: http.server.BaseHTTPRequestHandler) -> None:
        reply(of, catalogue(size=size) if of.path == "/catalogue.json" else body)

    server = misbehaving(handle)
    odd = Lender.objects.create(name="Odd", url=f"http://127.0.0.1:{server.server_port}")
    refused = owner.post(f"/api/studies/{study.id}/lenders/{odd.pk}/visits")
    server.shutdown()
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert not DataSet.objects.exists()


def test_only_the_operator_names_lenders(db: None) -> None:
    from hobrix.cli import main

    runner = CliRunner()
    assert runner.invoke(main, ["lender", "add", "Valley", "http://127.0.0.1:9"]).exit_code == 0
    assert "Valley\thttp://127.0.0.1:9" in runner.invoke(main, ["lender", "list"]).output
    refused = runner.invoke(main, ["lender", "add", "File", "file:///etc/passwd"])
    assert refused.exit_code == 2
    assert runner.invoke(main, ["lender", "remove", "Valley"]).exit_code == 0
    assert not Lender.objects.exists()


def test_a_package_of_another_address_is_not_served(lender: Lender) -> None:
    import urllib.error
    import urllib.request

    for path in ("/packages/../broken.zip", "/packages/none.zip", "/etc/passwd"):
        with pytest.raises(urllib.error.HTTPError):
            urllib.request.urlopen(f"{lender.url}{path}", timeout=5)


def test_kinds_that_packages_describe_are_kept() -> None:
    source = Coded(propose_codes(), ("2024-01-01", "2024-02-01"))
    variable = Variable(name="when", kind="date", date_form="ymd")
    table = Table({"when": source}, 2)
    again = read_file("x.zip", write_file("zip", table, Codebook(variables=(variable,)), "x"))
    assert again.codebook is not None
    assert again.codebook.variables[0] == variable


def propose_codes() -> Any:
    import numpy as np

    return np.array([0, 1], np.int8)
