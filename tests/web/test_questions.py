"""Lines of questions and their answers."""

import json
from importlib import import_module
from typing import Any

import pytest
from cachetools import LRUCache
from django.apps import apps
from django.test import Client

from hobrix.web.demo.load import QUESTIONS, load_demo
from hobrix.web.studies import answers as answering
from hobrix.web.studies.models import CodebookEntry, DataSet, SavedQuestion, Study
from web.conftest import QUESTION

JSON: dict[str, Any] = {"content_type": "application/json"}


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
    against = whole["groups"]["comparisons"][0]
    assert against["odds_ratio"]["estimate"] == pytest.approx(18 * 40 / (20 * 8))
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
    real = answering.begin

    def noted(*a: Any) -> Any:
        asked.append(a)
        return real(*a)

    monkeypatch.setattr(answering, "begin", noted)
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


def test_a_headline_is_kept_once_asked_and_says_when_the_data_changed(
    ask: Any, owner: Client, study: Study, dataset: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    url = f"/api/studies/{study.id}/questions"
    body = {"dataset": str(dataset.id), "question": QUESTION}
    made = owner.post(url, body, **JSON).json()
    assert (made["headline"], made["is_current"]) == (None, False)
    ask()
    # After a restart nothing is remembered, and listing works nothing out.
    answering._sent.clear()
    monkeypatch.setattr(answering, "begin", None)
    line = lines(owner, study)[0]
    assert line["headline"].startswith("V 0.")
    assert line["is_current"]
    monkeypatch.undo()
    step = {"step": "describe", "variable": "source", "label": "Where from"}
    steps = f"/api/studies/{study.id}/datasets/{dataset.id}/steps"
    owner.post(steps, {"step": step, "seen": {}}, **JSON)
    stale = lines(owner, study)[0]
    assert (stale["headline"], stale["is_current"]) == (line["headline"], False)
    ask()
    assert lines(owner, study)[0]["is_current"]
    # A question that is changed to one whose answer is remembered has its headline at once.
    other = {**QUESTION, "lens": "proportions"}
    ask(other)
    change = {"version": line["version"], "question": other}
    changed = owner.patch(f"{url}/{line['id']}", change, **JSON).json()
    assert changed["headline"]
    assert changed["headline"] != line["headline"]
    assert changed["is_current"]


def test_a_panel_is_worked_out_when_it_is_opened_and_once(
    ask: Any, owner: Client, study: Study, dataset: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    given = ask().json()["answer"]
    heads = {head["name"]: head for head in given["panels"]}
    assert heads["tests"]["finds"]
    assert given["opened"]["tests"] is None
    begun: list[Any] = []
    real = answering.begin

    def noted(*a: Any) -> Any:
        begun.append(a)
        return real(*a)

    monkeypatch.setattr(answering, "begin", noted)
    body = {"dataset": str(dataset.id), "question": QUESTION}
    url = f"/api/studies/{study.id}/answer/panels"
    opened = owner.post(f"{url}/tests", body, **JSON).json()["panel"]
    assert opened["opened"]["tests"]["chi_square"]["pearson"]["df"] == 1
    # Nothing was counted again for it.
    assert begun == []
    answering._begun.clear()
    owner.post(f"{url}/tests", body, **JSON)
    assert begun == []
    owner.post(f"{url}/measures", body, **JSON)
    assert len(begun) == 1
    refused = owner.post(f"{url}/nothing", body, **JSON)
    assert refused.status_code == 422
    assert refused.json()["where"] == {"slot": "panel"}


def test_what_is_remembered_is_bounded_by_bytes(ask: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    size = len(ask().content)
    small: LRUCache[str, answering.Sent] = LRUCache(
        2.5 * (size + 1000), getsizeof=answering._sent.getsizeof
    )
    monkeypatch.setattr(answering, "_sent", small)
    for confidence in (0.8, 0.9, 0.95, 0.99):
        ask(confidence=confidence)
        assert small.currsize <= small.maxsize
    assert len(small) == 2


def test_every_lens_says_why_it_cannot_answer(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/answer/lenses"

    def offered(**question: Any) -> dict[str, Any]:
        body = {"dataset": str(dataset.id), "question": question}
        return {each["name"]: each for each in owner.post(url, body, **JSON).json()}

    empty = offered()
    assert {each["slot"] for each in empty.values()} == {"outcome"}
    assert all(each["is_open"] for each in empty.values())
    numeric = offered(outcome={"variable": "age"}, vary_with=[{"variable": "source"}])
    assert numeric["distribution"]["why_not"] is None
    assert "is numeric" in numeric["crosstab"]["why_not"]
    assert not numeric["crosstab"]["is_open"]
    assert "allowing_for" in numeric["odds"]["uses"]
    assert "allowing_for" not in numeric["crosstab"]["uses"]


def test_options_that_make_no_sense_are_explained_beside_them(ask: Any) -> None:
    response = ask(version=2, lens="odds", options={"odds": {"cutoff": 1.5}})
    assert response.status_code == 422
    assert response.json()["detail"] == "The cut-off must lie between 0 and 1."
    assert response.json()["where"] == {"slot": "options.odds.cutoff"}


def test_a_question_of_version_1_is_read(ask: Any) -> None:
    old = {**QUESTION, "version": 1, "lens": "proportions", "options": {"interval": "wald"}}
    given = ask(old).json()["answer"]["question"]
    assert given["version"] == 2
    assert given["options"]["proportions"]["share_interval"] == "wald"
    assert given["options"]["distribution"]["share_interval"] == "wald"
    assert given["options"]["odds"]["limits"] == "wald"


@pytest.mark.django_db
def test_stored_questions_of_version_1_are_brought_to_version_2(
    saved: SavedQuestion, owner: Client, study: Study
) -> None:
    migration = import_module(
        "hobrix.web.studies.migrations.0006_headlines_and_questions_of_version_2"
    )
    old = {**QUESTION, "version": 1, "lens": "odds", "options": {"interval": "profile"}}
    SavedQuestion.objects.filter(id=saved.id).update(question=old, fingerprint="")
    unreadable = SavedQuestion.objects.create(
        study=study, dataset=saved.dataset, position=9, question={"version": 1, "lens": "none"}
    )
    migration.to_version_2(apps, None)
    saved.refresh_from_db()
    assert saved.question["version"] == 2
    assert saved.question["options"]["odds"]["limits"] == "profile"
    assert saved.fingerprint
    unreadable.refresh_from_db()
    assert unreadable.question == {"version": 1, "lens": "none"}


def test_keep_change_order_delete_and_bring_back(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    url = f"/api/studies/{study.id}/questions"
    body = {"dataset": str(dataset.id), "question": QUESTION}
    first = owner.post(url, body, **JSON).json()
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
    brought = {dataset.name: dataset for dataset in study.datasets.all()}
    survey, outbreak = brought["Round one"], brought["Outbreak in Norrin Harbour"]
    assert (survey.rows, outbreak.rows) == (2412, 444)
    assert {dataset.recipe for dataset in brought.values()} == {"", "stack", "match", "groups"}
    assert not any(dataset.trouble for dataset in brought.values())
    assert (outbreak.study_design, outbreak.case_status) == ("case_control", "status")
    assert study.questions.count() == sum(map(len, json.loads(QUESTIONS.read_text()).values()))
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
