"""Terms of use: asked of each person before anything of the data is shown, and of what is made."""

import json
from typing import Any

import pytest
from django.test import Client

from hobrix.web.studies.models import Acceptance, DataSet, SavedQuestion, Study
from web.conftest import QUESTION

TEXT = "For this study only."


def patch(client: Client, dataset: DataSet, **changes: Any) -> Any:
    dataset.refresh_from_db()
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"
    body = {"version": dataset.version, **changes}
    return client.patch(url, body, content_type="application/json")


def answer(client: Client, dataset_id: Any, study: Study) -> Any:
    body = {"dataset": str(dataset_id), "question": QUESTION}
    return client.post(f"/api/studies/{study.id}/answer", body, content_type="application/json")


def accept(client: Client, dataset: DataSet, *texts: str) -> Any:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/terms"
    return client.post(url, {"texts": texts or [TEXT]}, content_type="application/json")


def listed(client: Client, study: Study) -> dict[str, Any]:
    return {each["id"]: each for each in client.get(f"/api/studies/{study.id}/datasets").json()}


@pytest.fixture
def bound(owner: Client, dataset: DataSet, saved: SavedQuestion) -> DataSet:
    assert answer(owner, dataset.id, dataset.study).status_code == 200
    assert patch(owner, dataset, terms=TEXT, note="preliminary").status_code == 200
    SavedQuestion.objects.update(headline="OR 2.0", answered_for="x")
    return dataset


def test_nothing_is_shown_before_terms_are_accepted_and_all_after(
    members: dict[str, Client], study: Study, bound: DataSet
) -> None:
    reader = members["reader"]
    base = f"/api/studies/{study.id}/datasets/{bound.id}"
    for path in ("", "/codebook", "/rows", "/export/csv", "/steps", "/counting"):
        refused = reader.get(f"{base}{path}")
        assert refused.status_code == 403, path
        assert refused.json()["type"] == "urn:hobrix:terms"
        assert "source" not in refused.content.decode()
    assert answer(reader, bound.id, study).status_code == 403
    seen = listed(reader, study)[str(bound.id)]
    assert [each["terms"] for each in seen["terms_asked"]] == [TEXT]
    assert seen["remarks"] == []
    questions = reader.get(f"/api/studies/{study.id}/questions").json()
    assert [each["headline"] for each in questions] == [None]

    assert accept(reader, bound).status_code == 200
    assert reader.get(f"{base}/rows").status_code == 200
    found = answer(reader, bound.id, study)
    assert found.json()["answer"]["write_up"].endswith("survey: preliminary.")
    assert listed(reader, study)[str(bound.id)]["terms_asked"] == []
    questions = reader.get(f"/api/studies/{study.id}/questions").json()
    assert [each["headline"] for each in questions] == ["V 0.33 · p = 0.002"]
    kept = reader.get(f"{base}/terms").json()
    assert [(each["user"], each["text"]) for each in kept] == [("owner", TEXT), ("reader", TEXT)]


def test_whoever_writes_terms_has_accepted_them_and_changed_ones_ask_again(
    owner: Client, members: dict[str, Client], study: Study, bound: DataSet
) -> None:
    assert answer(owner, bound.id, study).status_code == 200
    analyst = members["analyst"]
    accept(analyst, bound)
    assert answer(analyst, bound.id, study).status_code == 200
    patch(owner, bound, terms="Other terms.")
    assert answer(analyst, bound.id, study).status_code == 403
    # What was read before is not what is accepted now.
    assert accept(analyst, bound, TEXT).status_code == 409
    assert accept(analyst, bound, "Other terms.").status_code == 200
    assert answer(analyst, bound.id, study).status_code == 200
    patch(owner, bound, terms="")
    assert not DataSet.objects.get(id=bound.id).is_bound


def test_terms_bind_what_is_made_of_the_data_also_afterwards(
    owner: Client, members: dict[str, Client], study: Study, dataset: DataSet
) -> None:
    patch(owner, dataset, cases={"rows": "one", "case": "n"})
    recipe = {"recipe": "match", "keys": [{"here": "age", "there": "code"}], "take": ["fact"]}
    from web.conftest import bring

    facts = bring(owner, study, "code,fact\n20,x\n21,y\n", "facts.csv").json()["id"]
    patch(owner, DataSet.objects.get(id=facts), confirmed=True)
    body = {"sources": [str(dataset.id), facts], "name": "made", "recipe": recipe}
    url = f"/api/studies/{study.id}/bring"
    made = owner.post(url, body, content_type="application/json").json()
    reader = members["reader"]
    assert answer(reader, made["id"], study).status_code == 200
    patch(owner, DataSet.objects.get(id=facts), terms=TEXT, note="preliminary")
    assert answer(reader, made["id"], study).status_code == 403
    asked = listed(reader, study)[made["id"]]["terms_asked"]
    assert [each["name"] for each in asked] == ["facts"]
    assert accept(reader, DataSet.objects.get(id=made["id"])).status_code == 200
    assert (
        answer(reader, made["id"], study)
        .json()["answer"]["write_up"]
        .endswith("facts: preliminary.")
    )
    assert reader.get(f"/api/studies/{study.id}/datasets/{facts}/rows").status_code == 200
    assert Acceptance.objects.filter(user__username="reader").count() == 1


def test_a_note_goes_out_with_every_export(owner: Client, study: Study, bound: DataSet) -> None:
    for kind in ("csv", "xlsx", "parquet", "zip", "xml"):
        out = owner.get(f"/api/studies/{study.id}/datasets/{bound.id}/export/{kind}")
        assert f"survey (preliminary).{kind}" in out["Content-Disposition"]
    ddi = owner.get(f"/api/studies/{study.id}/datasets/{bound.id}/export/xml").content.decode()
    assert "<notes>survey: preliminary</notes>" in ddi


def test_a_stranger_accepts_nothing(members: dict[str, Client], bound: DataSet) -> None:
    assert accept(members["stranger"], bound).status_code == 404
    assert Acceptance.objects.count() == 1


def test_reading_terms_is_not_blocked_by_them(members: dict[str, Client], bound: DataSet) -> None:
    url = f"/api/studies/{bound.study_id}/datasets/{bound.id}/terms"
    assert json.loads(members["reader"].get(url).content)[0]["user"] == "owner"
