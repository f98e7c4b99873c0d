"""Half characters are refused at the edge; a damaged column spoils what needs it, and nothing else."""

import json
from typing import Any

import pytest
from django.test import Client

from hobrix.core.errors import FormatError
from hobrix.core.formats import read_codebook
from hobrix.web.studies import frames
from hobrix.web.studies.models import Blob, DataSet, SavedQuestion, Study
from web.conftest import QUESTION

HALF = "\ud83d"


def post(client: Client, study: Study, path: str, body: Any) -> Any:
    url = f"/api/studies/{study.id}/{path}"
    return client.generic("POST", url, data=json.dumps(body), content_type="application/json")


@pytest.mark.parametrize("where", ["outcome", "title", "key"])
def test_half_of_a_character_is_refused_and_nothing_is_kept(
    owner: Client, study: Study, dataset: DataSet, where: str
) -> None:
    question: dict[str, Any] = {"version": 2, "outcome": {"variable": "ill"}}
    if where == "outcome":
        question["outcome"]["variable"] += HALF
    body: dict[str, Any] = {"dataset": str(dataset.id), "question": question, "title": "x"}
    body |= {"title": f"x{HALF}"} if where == "title" else {HALF: 1} if where == "key" else {}
    refused = post(owner, study, "questions", body)
    assert refused.status_code == 422
    assert "half of a character" in refused.json()["detail"]
    assert not SavedQuestion.objects.exists()
    assert owner.get(f"/api/studies/{study.id}/questions").json() == []


def test_whole_characters_beyond_the_basic_plane_are_kept(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    body: dict[str, Any] = {"dataset": str(dataset.id), "question": QUESTION, "title": "flood 🌊"}
    assert post(owner, study, "questions", body).json()["title"] == "flood 🌊"


def test_a_codebook_with_half_a_character_is_refused() -> None:
    text = '{"variables": [{"name": "ill", "kind": "text", "label": "x\\ud83d"}]}'
    with pytest.raises(FormatError):
        read_codebook(text.encode())


@pytest.mark.parametrize("bytes_are", ["others", "no archive"])
def test_a_damaged_column_is_said_to_be_and_the_rest_goes_on(
    owner: Client, study: Study, dataset: DataSet, saved: SavedQuestion, bytes_are: str
) -> None:
    frames._columns.clear()
    blobs = {blob.entry.name: blob for blob in Blob.objects.select_related("entry")}
    other = blobs["age"].data if bytes_are == "others" else b"nothing"
    Blob.objects.filter(pk=blobs["ill"].pk).update(data=other)
    body: dict[str, Any] = {"dataset": str(dataset.id), "question": QUESTION}
    refused = post(owner, study, "answer", body)
    assert refused.status_code == 422
    assert "damaged where they are kept" in refused.json()["detail"]
    assert len(owner.get(f"/api/studies/{study.id}/questions").json()) == 1
    by_itself = {"version": 2, "lens": "distribution", "outcome": {"variable": "age"}}
    other_question = {"dataset": str(dataset.id), "question": by_itself}
    assert post(owner, study, "answer", other_question).status_code == 200
