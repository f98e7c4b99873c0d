"""What small mistakes at the edge must not do: no mistake of the server, nothing lost in silence."""

import json
import logging
import sys
from typing import Any

import pytest
from django.test import Client

from hobrix.web.config.logs import AsJson
from hobrix.web.studies.models import DataSet, NamedSubset, Study
from web.conftest import QUESTION


def test_two_variables_at_a_glance_are_two(owner: Client, study: Study, dataset: DataSet) -> None:
    body = {"dataset": str(dataset.id), "question": QUESTION, "variables": ["ill", "source"]}
    url = f"/api/studies/{study.id}/answer/at-a-glance"
    found = owner.post(url, body, content_type="application/json")
    assert found.status_code == 200
    assert [each["variable"] for each in found.json()] == ["ill", "source"]


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_numbers_that_are_none_are_refused(
    owner: Client, study: Study, dataset: DataSet, number: str
) -> None:
    question = f'{{"version": 2, "outcome": {{"variable": "ill"}}, "confidence": {number}}}'
    body = f'{{"dataset": "{dataset.id}", "question": {question}}}'
    url = f"/api/studies/{study.id}/answer"
    refused = owner.generic("POST", url, data=body, content_type="application/json")
    assert refused.status_code == 422
    assert "no number" in refused.json()["detail"]


def table(**changes: Any) -> dict[str, Any]:
    return {
        "name": "x",
        "row_title": "Group",
        "column_title": "Ill",
        "rows": ["a", "b"],
        "columns": ["yes", "no"],
        "counts": [[1, 2], [3, 4]],
        **changes,
    }


@pytest.mark.parametrize(
    ("counts", "says"),
    [
        ([[1, 2], [3]], "Row “b” has 1 counts, and there are 2 columns"),
        ([[1, 2], [3, 4, 5]], "Row “b” has 3 counts"),
        ([[1, 2]], "There are 2 labels of rows, and counts of 1"),
        ([[1, 2], [3, 1e300]], "is not a count"),
        ([[1, 2], [3, 2.5]], "2.5 in row “b” is not a count"),
    ],
)
def test_ragged_or_huge_counts_are_not_dropped_in_silence(
    owner: Client, study: Study, counts: Any, says: str
) -> None:
    url = f"/api/studies/{study.id}/datasets/typed"
    refused = owner.post(url, table(counts=counts), content_type="application/json")
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert not DataSet.objects.exists()


def test_a_subset_of_another_study_is_not_there(owner: Client, study: Study) -> None:
    other = Study.objects.create(name="Other")
    rule = {"all": [{"variable": "ill", "missing": True}]}
    kept = NamedSubset.objects.create(study=other, name="kept", rule=rule)
    url = f"/api/studies/{study.id}/subsets/{kept.id}"
    assert owner.delete(url).status_code == 404
    assert NamedSubset.objects.filter(id=kept.id).exists()


def test_nothing_of_a_study_is_stored_on_the_way(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    base = f"/api/studies/{study.id}"
    for path in (
        "",
        "/datasets",
        f"/datasets/{dataset.id}/rows",
        f"/datasets/{dataset.id}/export/csv",
    ):
        assert owner.get(f"{base}{path}")["Cache-Control"] == "no-store", path


def test_looking_at_a_sign_in_link_does_not_use_it(person: Any) -> None:
    from hobrix.web.sign_in_link import sign_in_link

    user = person("mira")
    link = f"/enter/mira/{sign_in_link.make_token(user)}"
    client = Client()
    assert client.head(link).status_code == 405
    assert client.get(link)["Location"] == "/"


@pytest.mark.parametrize(
    ("body", "kind"),
    [
        (b"", "multipart/form-data"),
        (b"--x\r\n", "multipart/form-data; boundary=x"),
        (b'--x\r\nContent-Disposition: form-data; name="file"', "multipart/form-data; boundary=x"),
        (b"{}", "multipart/form-data; boundary=\xff"),
        (b"{}", "application/json"),
    ],
)
def test_uploads_that_are_broken_are_refused(
    owner: Client, study: Study, body: bytes, kind: str
) -> None:
    response = owner.generic("POST", f"/api/studies/{study.id}/datasets", body, content_type=kind)
    assert response.status_code in (400, 422), response.content
    assert response.json()["detail"]


def test_json_routes_sent_as_forms_are_refused(owner: Client, study: Study) -> None:
    response = owner.post(f"/api/studies/{study.id}/answer", {"dataset": "x"})
    assert response.status_code in (400, 422)


@pytest.mark.parametrize(
    "name", ["", "a\0b", "ann\ud83d".encode("utf-8", "ignore").decode(), "x" * 5000]
)
def test_odd_names_do_not_sign_in(client: Client, db: None, name: str) -> None:
    body = {"username": name, "password": "a long password"}
    response = client.post("/api/session", body, content_type="application/json")
    assert response.status_code in (401, 422)


def test_logs_as_json_tell_where_and_not_what() -> None:
    def line(**record: Any) -> dict[str, Any]:
        made = logging.makeLogRecord({"name": "hobrix", "levelname": "ERROR", **record})
        told: dict[str, Any] = json.loads(AsJson().format(made))
        return told

    try:
        raise ValueError("Stomach illness of H0001")
    except ValueError:
        told = line(msg="unforeseen", exc_info=sys.exc_info())
    assert told["mistake"] == "ValueError"
    assert "test_edge.py" in told["where"][-1]
    assert "H0001" not in json.dumps(told)
    assert "H0001" not in json.dumps(line(msg="at %s", args=("H0001",)))
    request = line(msg="request", args={"route": "api/studies/<study_id>", "status": 200})
    assert request["route"] == "api/studies/<study_id>"
