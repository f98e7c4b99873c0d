"""Answers side by side over HTTP, questions asked in every group, and what a question is worth."""

from typing import Any

import pytest
from django.test import Client

from hobrix.web.studies.models import DataSet, SavedQuestion, Study
from web.conftest import QUESTION, bring


def post(client: Client, study: Study, path: str, body: Any) -> Any:
    url = f"/api/studies/{study.id}/{path}"
    return client.post(url, body, content_type="application/json")


def item(dataset: Any, title: str, **changes: Any) -> dict[str, Any]:
    return {"dataset": str(dataset), "question": {**QUESTION, **changes}, "title": title}


def test_two_answers_stand_side_by_side_with_a_picture(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    items = [item(dataset.id, "table"), item(dataset.id, "model", lens="odds")]
    found = post(owner, study, "compare", {"questions": items}).json()
    rows = {row["measure"]: row for row in found["comparison"]["rows"]}
    cells = rows["odds ratio"]["cells"]
    assert abs(cells[0]["estimate"] - 18 * 40 / (8 * 20)) < 1e-9
    assert abs(cells[1]["estimate"] - cells[0]["estimate"]) < 1e-9
    assert rows["odds ratio"]["contrasts"][1]["says"].startswith("the same people")
    assert rows["share"]["cells"][1]["why_not"] == "no share in that lens"
    assert "odds ratio" in found["figures"]
    assert post(owner, study, "compare", {"questions": items[:1]}).status_code == 422


def test_another_data_set_with_the_same_questions_is_tested(
    owner: Client, study: Study, dataset: DataSet
) -> None:
    text = "source,ill,age\n" + "piped,no,1\npiped,yes,2\nriver,yes,3\nriver,no,4\n" * 30
    other = bring(owner, study, text, "other.csv").json()["id"]
    items = [item(dataset.id, "one"), item(other, "other")]
    found = post(owner, study, "compare", {"questions": items}).json()["comparison"]
    odds = next(row for row in found["rows"] if row["measure"] == "odds ratio")
    assert odds["contrasts"][1]["ci"] is not None
    assert found["answers"][1]["differs"] == ["other"]


def test_a_question_is_asked_in_every_group(owner: Client, study: Study, dataset: DataSet) -> None:
    asked = {**QUESTION, "lens": "distribution", "vary_with": []}
    body = {"dataset": str(dataset.id), "question": asked, "by": "source"}
    spread = post(owner, study, "compare/spread", body).json()
    assert [each["title"] for each in spread] == ["source: piped", "source: river"]
    found = post(owner, study, "compare", {"questions": spread}).json()["comparison"]
    share = next(row for row in found["rows"] if row["label"] == "yes")
    shares = [cell["estimate"] for cell in share["cells"]]
    assert shares == pytest.approx([8 / 48, 18 / 38], rel=1e-12)
    assert share["contrasts"][1]["ci"] is not None
    refused = post(owner, study, "compare/spread", {**body, "by": "age"})
    assert refused.status_code == 422
    assert refused.json()["where"] == {"slot": "by"}


def test_a_question_is_kept_or_dropped_and_has_a_note(
    owner: Client, study: Study, saved: SavedQuestion
) -> None:
    url = f"/api/studies/{study.id}/questions"
    change = {"version": 1, "standing": "kept", "note": "For **table 2**."}
    changed = owner.patch(f"{url}/{saved.id}", change, content_type="application/json").json()
    assert (changed["standing"], changed["note"]) == ("kept", "For **table 2**.")
    (listed,) = owner.get(url).json()
    assert (listed["standing"], listed["note"]) == ("kept", "For **table 2**.")
    bad = {"version": 2, "standing": "maybe"}
    refused = owner.patch(f"{url}/{saved.id}", bad, content_type="application/json")
    assert refused.status_code == 422
