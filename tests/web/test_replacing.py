"""A newer file in the place of an older one: steps replay, questions move, and it can be undone."""

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from hobrix.web.jobs import running
from hobrix.web.studies import replacing
from hobrix.web.studies.models import DataSet, SavedQuestion, Study
from web.conftest import CSV

JSON: dict[str, Any] = {"content_type": "application/json"}


def newer() -> str:
    """Without the variable n, with another variable, a new water source and fewer rows."""
    lines = CSV.splitlines()
    kept = [lines[0].replace(",n", ",visit"), *lines[10:]]
    return "\n".join([*kept, "tanker,yes,30,2", "tanker,no,31,2"]) + "\n"


def replaced(client: Client, dataset: DataSet, text: str) -> Any:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/replace"
    return client.post(url, {"file": SimpleUploadedFile("round-2.csv", text.encode())})


@pytest.fixture
def prepared(owner: Client, dataset: DataSet, saved: SavedQuestion) -> DataSet:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/steps"
    for step in (
        {"step": "describe", "variable": "source", "label": "Water source"},
        {"step": "band", "variable": "age", "name": "age_band", "cuts": [30]},
        {"step": "describe", "variable": "n", "label": "Number"},
    ):
        assert owner.post(url, {"step": step, "seen": {}}, **JSON).status_code == 201
    asked = {"dataset": str(dataset.id), "question": saved.question}
    assert owner.post(f"/api/studies/{dataset.study_id}/answer", asked, **JSON).status_code == 200
    return dataset


def test_steps_are_replayed_and_the_report_says_what_moved(
    owner: Client, study: Study, prepared: DataSet
) -> None:
    response = replaced(owner, prepared, newer())
    assert response.status_code == 201, response.content
    made = response.json()
    report = made["report"]
    assert (report["rows_before"], report["rows_after"]) == (88, 81)
    assert (report["vanished"], report["appeared"]) == (["n"], ["visit"])
    assert report["new_answers"] == [{"variable": "Water source", "values": ["tanker"]}]
    assert [failed["words"] for failed in report["failed"]] == ["n: called “Number”"]
    assert {"variable": "Water source", "before": 88, "after": 81} in report["answered"]
    moved = report["questions"][0]
    assert moved["before"].startswith("V 0.")
    assert moved["after"] != moved["before"]

    codebook = owner.get(f"/api/studies/{study.id}/datasets/{made['id']}/codebook").json()
    labels = {entry["variable"]["name"]: entry["variable"]["label"] for entry in codebook}
    assert labels["source"] == "Water source"
    assert "age_band" in labels
    lines = owner.get(f"/api/studies/{study.id}/questions").json()
    assert [line["dataset"] for line in lines] == [made["id"]]


def test_the_older_data_can_be_put_back(owner: Client, study: Study, prepared: DataSet) -> None:
    before = owner.get(f"/api/studies/{study.id}/questions").json()
    made = replaced(owner, prepared, newer()).json()
    back = owner.post(f"/api/studies/{study.id}/datasets/{made['id']}/put-back").json()
    assert back["id"] == str(prepared.id)
    assert owner.get(f"/api/studies/{study.id}/questions").json() == before
    names = [each["id"] for each in owner.get(f"/api/studies/{study.id}/datasets").json()]
    assert names == [str(prepared.id)]


def test_a_newer_file_that_cannot_be_read_changes_nothing(
    owner: Client, study: Study, prepared: DataSet
) -> None:
    before = owner.get(f"/api/studies/{study.id}/questions").json()
    assert replaced(owner, prepared, "a,b\n1\n").status_code == 422
    assert owner.get(f"/api/studies/{study.id}/questions").json() == before
    assert DataSet.objects.count() == 1


def test_a_data_set_that_replaced_nothing_has_nothing_to_put_back(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/datasets/{dataset.id}/put-back"
    assert owner.post(url).status_code == 404


def test_an_answer_that_loses_its_variable_says_so(
    owner: Client, study: Study, prepared: DataSet
) -> None:
    text = newer().replace("source,", "spring,", 1)
    report = replaced(owner, prepared, text).json()["report"]
    assert "no variable called “source”" in report["questions"][0]["after"]


def test_where_a_value_stands(owner: Client, study: Study, dataset: DataSet) -> None:
    url = f"/api/studies/{study.id}/datasets/{dataset.id}/values"
    assert owner.get(f"{url}?value=refused").json() == [
        {"variable": "ill", "n": 2, "is_missing": True}
    ]
    assert owner.get(f"{url}?value=20").json() == [{"variable": "age", "n": 5, "is_missing": False}]
    assert owner.get(f"{url}?value=nothing").json() == []


def test_one_step_declares_a_code_missing_in_many(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/datasets/{dataset.id}"
    codes = [{"value": "20", "label": "typed wrongly"}]
    step = {"step": "declare_missing", "variables": ["age", "n"], "codes": codes}
    made = owner.post(f"{url}/steps", {"step": step, "seen": {}}, **JSON).json()
    assert made["words"] == "“20” is not an answer, in 2 variables"
    assert made["effect"]["after"]["answered"] == made["effect"]["before"]["answered"] - 5


def test_killed_before_its_end_a_replacement_is_not_there_and_is_then_done_once_with_its_report(
    owner: Client, study: Study, prepared: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = SimpleUploadedFile("round-2.csv", newer().encode())
    person = study.memberships.get(role="owner").user
    prepared.refresh_from_db()
    job = running.start_import(study, person, file, prepared)

    class Killed(BaseException):
        pass

    def kill(*_: Any) -> None:
        raise Killed

    with monkeypatch.context() as patched:
        patched.setattr(replacing, "_put_in_place", kill)
        with pytest.raises(Killed):
            running._do(job)
    url = f"/api/studies/{study.id}/datasets"
    assert [each["id"] for each in owner.get(url).json()] == [str(prepared.id)]
    assert SavedQuestion.objects.get().dataset_id == prepared.id

    running._do(job)
    running._do(job)  # killed once more, before it could say that it was done
    (made,) = owner.get(url).json()
    assert made["id"] == str(job.id)
    assert made["report"]["rows_after"] == 81
    assert SavedQuestion.objects.get().headline
    assert DataSet.objects.count() == 2


def test_what_changed_while_the_newer_file_was_read_is_not_lost(
    owner: Client, study: Study, prepared: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    put = replacing._put_in_place

    def change_first(made: DataSet, older: DataSet) -> None:
        DataSet.objects.filter(pk=older.pk).update(version=older.version + 1)
        put(made, older)

    monkeypatch.setattr(replacing, "_put_in_place", change_first)
    refused = replaced(owner, prepared, newer())
    assert refused.status_code == 422
    assert "was changed while the newer file was read" in refused.json()["detail"]
    (kept,) = owner.get(f"/api/studies/{study.id}/datasets").json()
    assert kept["id"] == str(prepared.id)
