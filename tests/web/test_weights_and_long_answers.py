"""Steps that make weights, what newer data do to them, and long answers that can be stopped."""

import threading
import time
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from hobrix.core.progress import Stopped
from hobrix.core.questions.sampling import drawn
from hobrix.web import beside
from hobrix.web.studies.models import DataSet, Study
from web.conftest import bring

JSON: dict[str, Any] = {"content_type": "application/json"}
RAKE: dict[str, Any] = {
    "step": "rake",
    "name": "fitted",
    "margins": [{"variable": "source", "totals": {"piped": 70, "river": 30}}],
}


def url(dataset: DataSet, rest: str = "") -> str:
    return f"/api/studies/{dataset.study_id}/datasets/{dataset.id}{rest}"


def test_weights_are_looked_at_then_made_and_used(owner: Client, dataset: DataSet) -> None:
    look = owner.post(url(dataset, "/steps/weights"), {"step": RAKE}, **JSON).json()
    shares = {row["label"]: row["after"] for row in look["margins"][0]["rows"]}
    assert shares == pytest.approx({"piped": 0.7, "river": 0.3})
    assert owner.get(url(dataset, "/steps")).json() == []
    made = owner.post(url(dataset, "/steps"), {"step": RAKE, "seen": {}}, **JSON)
    assert made.status_code == 201, made.content
    assert (
        made.json()["words"] == "Weights fitted from equal weights, fitted to the totals of source"
    )
    body = {"version": dataset.version + 1, "counted_by": {"kind": "design", "weights": "fitted"}}
    assert owner.patch(url(dataset), body, **JSON).status_code == 200
    question = {"lens": "distribution", "outcome": {"variable": "source"}, **body}
    del question["version"]
    body = {"dataset": str(dataset.id), "question": question}
    given = owner.post(f"/api/studies/{dataset.study_id}/answer", body, **JSON).json()["answer"]
    table = given["results"]["variables"][0]["table"]
    shares = {row["value"]: row["percent_of_answered"] for row in table}
    assert shares == pytest.approx({"piped": 70, "river": 30})


@pytest.mark.parametrize(
    ("step", "field", "message"),
    [
        (
            {**RAKE, "margins": [{"variable": "source", "totals": {"piped": 1}}]},
            "margins",
            "no total",
        ),
        ({**RAKE, "variable": "ill"}, "variable", "does not hold numbers"),
        ({"step": "network_weights", "name": "w", "variable": "none"}, "variable", "no variable"),
    ],
)
def test_weights_that_cannot_be_made(
    owner: Client, dataset: DataSet, step: Any, field: str, message: str
) -> None:
    for path in ("/steps/weights", "/steps"):
        body = {"step": step, "seen": {}} if path == "/steps" else {"step": step}
        response = owner.post(url(dataset, path), body, **JSON)
        assert response.status_code == 422
        assert response.json()["where"]["field"] == field
        assert message in response.json()["detail"]
    assert owner.get(url(dataset, "/steps")).json() == []


def test_newer_data_that_cannot_meet_the_totals_are_told(owner: Client, dataset: DataSet) -> None:
    owner.post(url(dataset, "/steps"), {"step": RAKE, "seen": {}}, **JSON)
    text = "source,ill,age,n\n" + "piped,no,30,1\n" * 20 + "tanker,yes,40,1\n" * 5
    newer = owner.post(
        url(dataset, "/replace"), {"file": SimpleUploadedFile("newer.csv", text.encode())}
    ).json()
    assert [failed["words"] for failed in newer["report"]["failed"]] == ["Fitted weight"]
    assert "Nobody in the sample is “river”" in newer["report"]["failed"][0]["why"]
    codebook = owner.get(f"/api/studies/{dataset.study_id}/datasets/{newer['id']}/codebook").json()
    entry = next(entry for entry in codebook if entry["variable"]["name"] == "fitted")
    assert "cannot be made of these data" in entry["to_look_at"][0]["text"]
    question = {
        "lens": "distribution",
        "outcome": {"variable": "ill"},
        "counted_by": {"kind": "design", "weights": "fitted"},
    }
    body = {"dataset": newer["id"], "question": question}
    refused = owner.post(f"/api/studies/{dataset.study_id}/answer", body, **JSON)
    assert refused.status_code == 422
    assert refused.json()["where"]["slot"] == "counted_by"


def test_work_under_way_tells_how_far_it_is_and_ends_when_stopped() -> None:
    one, other = beside.Asker(1, "a"), beside.Asker(2, "a")

    def work(tell: Any) -> None:
        tell(0.25)
        assert beside.look(one) == beside.UnderWay(0.25)
        assert beside.look(other) is None
        beside.stop(other)
        tell(0.5)
        beside.stop(one)
        tell(0.75)

    with pytest.raises(Stopped):
        beside.run(one, beside.Piece("key", "home", work, ()))
    assert beside.look(one) is None


@pytest.mark.django_db(transaction=True)
def test_a_long_answer_is_stopped_from_another_request(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    design = {"kind": "design", "weights": "n", "errors": "bootstrap", "draws": 2000}
    question = {
        "lens": "odds",
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "source"}],
        "allowing_for": [{"variable": "age", "bend": "spline"}],
        "counted_by": design,
    }
    base = f"/api/studies/{study.id}"
    body = {"dataset": str(dataset.id), "question": question}
    responses: list[Any] = []
    mine = {"Hobrix-Work": "mine"}
    work = threading.Thread(
        target=lambda: responses.append(owner.post(f"{base}/answer", body, headers=mine, **JSON))
    )
    work.start()
    for _ in range(400):
        if owner.get(f"{base}/answer/under-way/mine").json()["done"]:
            break
        time.sleep(0.01)
    assert owner.delete(f"{base}/answer/under-way/mine").status_code == 204
    work.join(30)
    assert responses[0].status_code == 409
    assert responses[0].json()["title"] == "Stopped"
    # What takes long is not worked out for the line of questions.
    made = owner.post(
        f"{base}/questions", {"dataset": str(dataset.id), "question": question}, **JSON
    )
    assert made.json()["headline"] is None


def test_replicates_that_would_take_too_long_are_refused_beside_the_design(
    owner: Client, study: Study
) -> None:
    rows = "\n".join(f"{'yes' if i % 3 else 'no'},{1 + i % 5}.5" for i in range(4000))
    made = bring(owner, study, f"ill,w\n{rows}\n").json()
    at = f"/api/studies/{study.id}/datasets/{made['id']}"
    for errors, status in (("jackknife", 422), ("bootstrap", 200)):
        design = {"kind": "design", "weights": "w", "errors": errors, "draws": 100}
        body = {"version": made["version"], "counted_by": design}
        response = owner.patch(at, body, **JSON)
        assert response.status_code == status, response.content
        if status == 422:
            assert response.json()["where"]["slot"] == "counted_by"
            assert "4,000 clusters takes too long" in response.json()["detail"]


def test_a_design_is_worked_out_once_for_all_questions_of_a_version(
    owner: Client, dataset: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    made: list[int] = []
    original = drawn.SampleDesign.of

    def counting(*args: Any, **kwargs: Any) -> Any:
        made.append(1)
        return original(*args, **kwargs)

    monkeypatch.setattr(drawn.SampleDesign, "of", counting)
    at = f"/api/studies/{dataset.study_id}/answer"
    design = {"kind": "design", "weights": "age", "clusters": "source"}

    def ask(outcome: str) -> None:
        question = {
            "lens": "distribution",
            "outcome": {"variable": outcome},
            "counted_by": design,
        }
        body = {"dataset": str(dataset.id), "question": question}
        assert owner.post(at, body, **JSON).status_code == 200

    ask("ill")
    ask("source")
    assert len(made) == 1
    step = {"step": "describe", "variable": "age", "label": "Years"}
    owner.post(url(dataset, "/steps"), {"step": step, "seen": {}}, **JSON)
    ask("ill")
    assert len(made) == 2
