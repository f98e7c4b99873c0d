"""An answer stays while nothing changes that it rests on, and nothing else is looked at for it."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest
from django.test import Client

from hobrix.core.data import EachRow, Variable
from hobrix.core.questions import Question, begin, finish, panel
from hobrix.web.demo.load import load_demo
from hobrix.web.studies import answers as answering
from hobrix.web.studies.dependence import mark_of, named_by_all, named_in
from hobrix.web.studies.frames import frame_of
from hobrix.web.studies.models import DataSet, SavedQuestion, Study
from web.conftest import QUESTION

JSON: dict[str, Any] = {"content_type": "application/json"}


def prepare(client: Client, dataset: DataSet, **step: Any) -> None:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/steps"
    assert client.post(url, {"step": step, "seen": {}}, **JSON).status_code == 201


def is_current(client: Client, study: Study) -> bool:
    return bool(client.get(f"/api/studies/{study.id}/questions").json()[0]["is_current"])


def ask(client: Client, dataset: DataSet) -> Any:
    body = {"dataset": str(dataset.id), "question": QUESTION}
    return client.post(f"/api/studies/{dataset.study_id}/answer", body, **JSON).json()


def test_what_a_question_does_not_name_leaves_its_answer(
    owner: Client,
    study: Study,
    dataset: DataSet,
    saved: SavedQuestion,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    first = ask(owner, dataset)
    prepare(owner, dataset, step="describe", variable="age", label="Age in years")
    assert is_current(owner, study)
    with monkeypatch.context() as patched:
        patched.setattr(answering, "begin", None)
        assert ask(owner, dataset) == first
    prepare(owner, dataset, step="describe", variable="source", label="Water source")
    assert not is_current(owner, study)
    assert ask(owner, dataset) != first
    assert is_current(owner, study)
    # What is undone is as it was, and so is the answer to it.
    owner.post(f"/api/studies/{study.id}/datasets/{dataset.id}/steps/undo")
    assert not is_current(owner, study)
    with monkeypatch.context() as patched:
        patched.setattr(answering, "begin", None)
        assert ask(owner, dataset) == first


@pytest.mark.parametrize(
    "change",
    [
        {"noun_one": "household", "noun_many": "households"},
        {"study_design": "case_control"},
        {"counted_by": {"kind": "design", "weights": "age"}},
        {"note": "preliminary"},
    ],
)
def test_what_is_said_of_the_whole_data_set_is_of_every_answer(
    dataset: DataSet, change: dict[str, Any]
) -> None:
    question = Question.model_validate(QUESTION)
    before = mark_of(dataset, question)
    for field, value in change.items():
        setattr(dataset, field, value)
    dataset.version += 1
    assert mark_of(dataset, question) != before


class Watched(dict[str, Variable]):
    """Notes which variables were looked at."""

    def __init__(self, variables: Any) -> None:
        super().__init__(variables)
        self.seen: set[str] = set()
        self.all_were_seen = False

    def __getitem__(self, name: str) -> Variable:
        self.seen.add(name)
        return super().__getitem__(name)

    def get(self, name: str, default: Any = None) -> Any:
        self.seen.add(name)
        return super().get(name, default)

    def items(self) -> Any:
        self.all_were_seen = True
        return super().items()

    def values(self) -> Any:
        self.all_were_seen = True
        return super().values()


def everything_asked(study: Study) -> Iterator[tuple[DataSet, Question]]:
    for saved in study.questions.select_related("dataset"):
        question = Question.model_validate(saved.question)
        yield saved.dataset, question
        yield saved.dataset, question.changed(counted_by=EachRow())


@pytest.mark.django_db
def test_no_answer_or_panel_looks_at_variables_that_are_not_named(
    settings: Any, tmp_path: Any
) -> None:
    settings.MEDIA_ROOT = tmp_path
    tried = 0
    for dataset, question in everything_asked(load_demo(whole=True)):
        frame = frame_of(dataset)
        watched = Watched(frame.variables)
        begun = begin(question, replace(frame, variables=watched, _columns={}))
        for head in finish(begun).panels:
            if head.finds:
                panel(begun, head.name)
        known = named_in(question, frame.variables) | named_by_all(dataset)
        assert watched.seen - known == set(), question
        assert not watched.all_were_seen or question.counted_by.kind == "counts", question
        tried += 1
    assert tried > 40


def test_a_panel_that_is_refused_leaves_the_headline(
    owner: Client, study: Study, dataset: DataSet, saved: SavedQuestion
) -> None:
    ask(owner, dataset)
    before = owner.get(f"/api/studies/{study.id}/questions").json()[0]["headline"]
    assert before
    body = {"dataset": str(dataset.id), "question": QUESTION}
    refused = owner.post(f"/api/studies/{study.id}/answer/panels/nothing", body, **JSON)
    assert refused.status_code == 422
    assert owner.get(f"/api/studies/{study.id}/questions").json()[0]["headline"] == before
