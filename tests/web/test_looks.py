"""What to look at in a variable, and that it goes once it is decided."""

from importlib import import_module
from typing import Any

import pytest
from django.apps import apps
from django.test import Client

from hobrix.web.studies.models import CodebookEntry, Study
from web.conftest import bring

# Ages with codes for no answer; towns in two spellings; a word that may be no answer.
AGES = [*range(20, 60), 98, 99]
ROWS = "age,town,heard\n" + "".join(
    f"{age},{('Vale', 'Port', 'vale')[i % 3]},{('yes', 'no', 'DK')[i % 3]}\n"
    for i, age in enumerate(AGES * 4)
)

pytestmark = pytest.mark.django_db


@pytest.fixture
def data(owner: Client, study: Study) -> str:
    return f"/api/studies/{study.id}/datasets/{bring(owner, study, ROWS).json()['id']}"


def looks(owner: Client, data: str) -> dict[str, list[tuple[str, ...]]]:
    """By variable, the values that are to be looked at."""
    return {
        entry["variable"]["name"]: [tuple(look["values"]) for look in entry["to_look_at"]]
        for entry in owner.get(f"{data}/codebook").json()
    }


def step(owner: Client, data: str, **body: Any) -> None:
    sent = owner.post(f"{data}/steps", {"step": body, "seen": {}}, content_type="application/json")
    assert sent.status_code in (200, 201), sent.content


def test_what_is_decided_is_not_to_be_looked_at_until_it_is_undone(
    owner: Client, data: str
) -> None:
    assert looks(owner, data) == {
        "age": [("98",), ("99",)],
        "town": [("vale",)],
        "heard": [("DK",)],
    }
    step(
        owner,
        data,
        step="declare_missing",
        variables=["age"],
        codes=[{"value": "99", "label": ""}],
    )
    step(owner, data, step="count_as_answer", variables=["age", "heard"], values=["98", "DK"])
    step(owner, data, step="one_spelling", variable="town")
    assert looks(owner, data) == {"age": [], "town": [], "heard": []}
    owner.post(f"{data}/steps/undo")
    assert looks(owner, data)["town"] == [("vale",)]
    owner.post(f"{data}/steps/undo")
    assert looks(owner, data)["age"] == [("98",)]


def test_spellings_may_be_two_answers(owner: Client, data: str) -> None:
    step(owner, data, step="count_as_answer", variables=["town"], values=["vale"])
    assert looks(owner, data)["town"] == []
    entries = owner.get(f"{data}/codebook").json()
    town = next(entry for entry in entries if entry["variable"]["name"] == "town")
    assert [each["value"] for each in town["variable"]["categories"]] == ["Vale", "Port", "vale"]


@pytest.mark.parametrize(
    ("text", "values", "asks"),
    [
        ("“dk” is counted as an answer. Is it one?", ["dk"], "is_answer"),
        ("“9” stands among words and is counted as an answer. Is it one?", ["9"], "is_answer"),
        ("-99 lies outside the other numbers. Is it an answer?", ["-99"], "is_answer"),
        ("“Vale” and “vale” differ only in capitals or spaces.", ["vale"], "is_same"),
        ("No row has an answer.", [], None),
    ],
)
def test_sentences_kept_by_earlier_versions_say_which_values_they_are_about(
    text: str, values: list[str], asks: str | None, owner: Client, data: str
) -> None:
    migration = import_module("hobrix.web.studies.migrations.0014_looks_with_values")
    entry = CodebookEntry.objects.get(name="age")
    entry.to_look_at = [text]
    entry.save()
    CodebookEntry.objects.exclude(pk=entry.pk).update(to_look_at=[])
    migration.with_values(apps, None)
    (found,) = owner.get(f"{data}/codebook").json()[0]["to_look_at"]
    assert found == {"text": text, "values": values, "asks": asks}
    migration.as_texts(apps, None)
    entry.refresh_from_db()
    assert entry.to_look_at == [text]
