"""Puts the demo study in place: its data through the same import as anybody's, and its line of
questions."""

from typing import Any

from django.contrib.auth import get_user_model
from django.core.files import File
from django.db import transaction

from hobrix.core.formats import read_codebook
from hobrix.core.questions import Question
from hobrix.web.demo.generate import CODEBOOK_FILE, CSV_FILE
from hobrix.web.studies.importing import import_file
from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study

USER = "demo"
STUDY = "Ostra Basin household water survey"

# (title, depth, question): each question at depth 1 follows from the last one at depth 0.
LINE: tuple[tuple[str, int, dict[str, Any]], ...] = (
    (
        "Does illness vary with water source?",
        0,
        {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "source"}]},
    ),
    (
        "…where the home was flooded",
        1,
        {
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "source"}],
            "among": {"all": [{"variable": "flooded", "is": ["1"]}]},
        },
    ),
    (
        "Does a filter help?",
        0,
        {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "filter"}]},
    ),
    (
        "…in flooded homes",
        1,
        {
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "filter"}],
            "among": {"all": [{"variable": "flooded", "is": ["1"]}]},
        },
    ),
    (
        "…in homes not flooded",
        1,
        {
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "filter"}],
            "among": {"all": [{"variable": "flooded", "is": ["0"]}]},
        },
    ),
    (
        "Do trust and boiling go together?",
        0,
        {"outcome": {"variable": "boil"}, "vary_with": [{"variable": "trust"}]},
    ),
    (
        "Where does the water come from?",
        0,
        {
            "lens": "distribution",
            "outcome": {"variable": "source"},
            "options": {"expected": {"kind": "equal"}},
        },
    ),
    (
        "How old are the heads, by district?",
        0,
        {"lens": "distribution", "outcome": {"variable": "age"}, "within": ["district"]},
    ),
)


def demo_user() -> Any:
    """The demo user, made where missing. It has no password: it signs in by link."""
    user, made = get_user_model().objects.get_or_create(username=USER)
    if made:
        user.set_unusable_password()
        user.save()
    return user


def load_demo() -> Study:
    """The demo study of the demo user, made where missing."""
    user = demo_user()
    study = Study.objects.filter(name=STUDY, memberships__user=user).first()
    if study is not None:
        return study
    with transaction.atomic():
        study = Study.objects.create(name=STUDY)
        Membership.objects.create(study=study, user=user, role=Role.OWNER)
    with CSV_FILE.open("rb") as file:
        dataset = import_file(
            study, user, File(file, CSV_FILE.name), read_codebook(CODEBOOK_FILE.read_bytes())
        )
    dataset.name = "Round one"
    dataset.is_draft = False
    dataset.save()
    _ask(study, dataset)
    return study


def _ask(study: Study, dataset: DataSet) -> None:
    parent: SavedQuestion | None = None
    for position, (title, depth, question) in enumerate(LINE):
        asked = Question.model_validate(question)
        saved = SavedQuestion.objects.create(
            study=study,
            dataset=dataset,
            parent=parent if depth else None,
            position=position + 1,
            title=title,
            question=asked.model_dump(mode="json", by_alias=True),
        )
        if depth == 0:
            parent = saved
