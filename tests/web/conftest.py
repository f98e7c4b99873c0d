"""People, a study and a client for each of them."""

from collections.abc import Callable
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from hobrix.core.questions import Question
from hobrix.web.studies.answers import fingerprint_of
from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study

CSV = "source,ill,age,n\n" + "".join(
    f"{source},{ill},{age},1\n"
    for source, ill, times in (
        ("piped", "no", 40),
        ("piped", "yes", 8),
        ("river", "no", 20),
        ("river", "yes", 18),
        ("river", "refused", 2),
    )
    for age in range(20, 20 + times)
)


@pytest.fixture(autouse=True)
def _fresh_cache(settings: Any, tmp_path: Any) -> None:
    cache.clear()
    settings.MEDIA_ROOT = tmp_path / "sources"


@pytest.fixture
def person(db: None) -> Callable[[str], Any]:
    def make(name: str) -> Any:
        return get_user_model().objects.create_user(name, password="a long password")

    return make


@pytest.fixture
def signed_in() -> Callable[[Any], Client]:
    def make(user: Any) -> Client:
        client = Client()
        client.force_login(user)
        return client

    return make


@pytest.fixture
def study(db: None) -> Study:
    return Study.objects.create(name="Ostra Basin")


@pytest.fixture
def members(study: Study, person: Any, signed_in: Any) -> dict[str, Client]:
    """Clients of an owner, an analyst and a reader of the study, and of a stranger to it."""
    clients = {}
    for role in Role.values:
        user = person(role)
        Membership.objects.create(study=study, user=user, role=role)
        clients[role] = signed_in(user)
    clients["stranger"] = signed_in(person("stranger"))
    return clients


@pytest.fixture
def owner(members: dict[str, Client]) -> Client:
    return members["owner"]


def bring(client: Client, study: Study, text: str | bytes, name: str = "survey.csv") -> Any:
    data = text if isinstance(text, bytes) else text.encode()
    return client.post(
        f"/api/studies/{study.id}/datasets", {"file": SimpleUploadedFile(name, data)}
    )


@pytest.fixture
def dataset(owner: Client, study: Study) -> DataSet:
    response = bring(owner, study, CSV)
    assert response.status_code == 201, response.content
    dataset = DataSet.objects.get(id=response.json()["id"])
    dataset.is_draft = False
    dataset.save()
    return dataset


QUESTION: dict[str, Any] = {
    "version": 2,
    "lens": "crosstab",
    "outcome": {"variable": "ill", "event": ["yes"]},
    "vary_with": [{"variable": "source", "reference": "piped"}],
}


@pytest.fixture
def saved(study: Study, dataset: DataSet) -> SavedQuestion:
    asked = fingerprint_of(Question.model_validate(QUESTION))
    return SavedQuestion.objects.create(
        study=study, dataset=dataset, position=1, question=QUESTION, fingerprint=asked
    )
