"""Lines of questions and their answers."""

from typing import Any

import pytest
from django.test import Client

from hobrix.web.demo.load import LINE, OUTBREAK, load_demo
from hobrix.web.studies import answers as answering
from hobrix.web.studies.models import CodebookEntry, DataSet, SavedQuestion, Study
from web.conftest import QUESTION

JSON = {"content_type": "application/json"}


@pytest.fixture
def ask(owner: Client, study: Study, dataset: DataSet) -> Any:
    def run(question: Any = QUESTION, **changes: Any) -> Any:
        body = {"dataset": str(dataset.id), "question": {**question, **changes}}
        return owner.post(f"/api/studies/{study.id}/answer", body, **JSON)

    return run


def lines(client: Client, study: Study) -> list[Any]:
    return client.get(f"/api/studies/{study.id}/questions").json()


def test_an_answer_with_its_picture(ask: Any) -> None:
    given = ask().json()
    whole = given["answer"]["results"]["whole"]
    assert whole["counts"] == [[40, 8], [20, 18]]
    assert whole["odds_ratio"]["estimate"] == pytest.approx(18 * 40 / (20 * 8))
    tiles = given["figures"]["mosaic"]["layer"][0]["data"]["values"]
    assert len(tiles) == 4
    assert tiles[0]["column"] == 1  # the event stands first
    assert tiles[0]["x1"] == pytest.approx(8 / 48)


def test_an_impossible_question_names_the_slot(ask: Any) -> None:
    response = ask(vary_with=[{"variable": "ill"}])
    assert response.status_code == 422
    assert response.json()["where"] == {"slot": "vary_with"}
    assert "cannot vary with itself" in response.json()["detail"]


def test_a_malformed_question_is_explained(ask: Any) -> None:
    response = ask(confidence=3)
    assert response.status_code == 422
    assert "confidence" in response.json()["detail"]


def test_answers_are_remembered_until_the_codebook_changes(
    ask: Any, owner: Client, study: Study, dataset: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[Any] = []
    real = answering.answer
    monkeypatch.setattr(answering, "answer", lambda *a: asked.append(a) or real(*a))
    first = ask().content
    assert ask().content == first
    assert len(asked) == 1
    url = f"/api/studies/{study.id}/datasets/{dataset.id}/steps"
    labels = [{"value": "piped", "label": "From the tap"}, {"value": "river", "label": "River"}]
    step = {"step": "describe", "variable": "source", "categories": labels}
    assert owner.post(url, {"step": step, "seen": {}}, **JSON).status_code == 201
    assert "From the tap" in ask().content.decode()
    assert len(asked) == 2


def test_a_code_that_becomes_missing_leaves_the_answer(
    ask: Any, owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/datasets/{dataset.id}/steps"
    assert ask().json()["answer"]["counted"]["counted"] == 86
    step = {"step": "count_as_answer", "variables": ["ill"], "values": ["refused"]}
    owner.post(url, {"step": step, "seen": {}}, **JSON)
    assert ask().json()["answer"]["counted"]["counted"] == 88


def test_keep_change_order_delete_and_bring_back(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/questions"
    body = {"dataset": str(dataset.id), "question": QUESTION}
    first = owner.post(url, body, **JSON).json()
    assert first["headline"].startswith("V 0.")
    last = owner.post(url, {**body, "title": "Last"}, **JSON).json()
    follow = {**body, "title": "Follow-up", "parent": first["id"], "after": first["id"]}
    second = owner.post(url, follow, **JSON).json()
    assert [line["id"] for line in lines(owner, study)] == [first["id"], second["id"], last["id"]]
    assert lines(owner, study)[1]["parent"] == first["id"]

    moved = owner.post(f"{url}/{last['id']}/move", {"before": first["id"]}, **JSON).json()
    assert [line["id"] for line in moved] == [last["id"], first["id"], second["id"]]
    moved = owner.post(f"{url}/{last['id']}/move", {"before": None}, **JSON).json()
    assert [line["id"] for line in moved] == [first["id"], second["id"], last["id"]]

    changed = owner.patch(f"{url}/{first['id']}", {"version": 1, "note": "look again"}, **JSON)
    assert changed.json()["version"] == 2
    assert changed.json()["note"] == "look again"
    stale = owner.patch(f"{url}/{first['id']}", {"version": 1, "title": "Mine"}, **JSON)
    assert stale.status_code == 409
    assert stale.json()["current"]["note"] == "look again"

    assert owner.delete(f"{url}/{second['id']}").status_code == 204
    assert len(lines(owner, study)) == 2
    assert owner.post(f"{url}/{second['id']}/restore").status_code == 200
    assert [line["id"] for line in lines(owner, study)][1] == second["id"]


def test_an_unfinished_question_is_kept_without_a_headline(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    body = {"dataset": str(dataset.id), "question": {"version": 1, "lens": "crosstab"}}
    made = owner.post(f"/api/studies/{study.id}/questions", body, **JSON).json()
    assert made["headline"] is None
    assert made["question"]["outcome"] is None


def test_questions_of_a_deleted_data_set_go_and_come_back_with_it(
    owner: Client, saved: SavedQuestion, study: Study
) -> None:
    url = f"/api/studies/{study.id}/datasets/{saved.dataset_id}"
    owner.delete(url)
    assert lines(owner, study) == []
    owner.post(f"{url}/restore")
    assert len(lines(owner, study)) == 1


def test_the_demo_study_is_brought_in_once(db: None) -> None:
    study = load_demo()
    assert load_demo() == study
    survey, outbreak = study.datasets.order_by("imported_at")
    assert (survey.rows, outbreak.rows) == (2412, 444)
    assert outbreak.study_design == "case_control"
    assert study.questions.count() == len(LINE) + len(OUTBREAK)
    assert 33 <= CodebookEntry.objects.filter(dataset=survey).count() <= 40


def test_the_demo_line_tells_its_story(db: None) -> None:
    """A strong relation; one that is hidden by another variable; one that is not there."""
    study = load_demo()
    client = Client()
    client.force_login(study.memberships.get().user)
    headlines = {line["title"]: line["headline"] for line in lines(client, study)}
    assert "p < 0.001" in headlines["Does illness vary with water source?"]
    assert "p < 0.001" in headlines["…weighted, villages as clusters"]
    titles = "Does a filter help?", "…in flooded homes", "…in homes not flooded"
    whole, flooded, dry = (headlines[title].split("p ")[1] for title in titles)
    assert whole.startswith("= 0.1")
    assert flooded.startswith("<")
    assert dry.startswith("= 0.00")
    assert headlines["Do trust and boiling go together?"].endswith("p = 0.14")
