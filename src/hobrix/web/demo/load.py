"""Puts the demo study in place: its data through the same import as anybody's, and its line of
questions."""

from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.files import File
from django.db import transaction

from hobrix.core.formats import read_codebook
from hobrix.core.questions import Question
from hobrix.web.demo import outbreak
from hobrix.web.demo.generate import CODEBOOK_FILE, CSV_FILE
from hobrix.web.studies.importing import import_file
from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study

USER = "demo"
STUDY = "Ostra Basin household water survey"

# How the survey was sampled: villages within districts.
DESIGN = {"kind": "design", "weights": "weight", "strata": "district", "clusters": "village"}

# (title, depth, question): each question at depth 1 follows from the last one at depth 0.
Line = tuple[tuple[str, int, dict[str, Any]], ...]
LINE: Line = (
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
        "…weighted, villages as clusters",
        1,
        {
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "source"}],
            "counted_by": DESIGN,
        },
    ),
    (
        "How common is illness in the basin?",
        0,
        {"lens": "distribution", "outcome": {"variable": "ill"}, "counted_by": DESIGN},
    ),
    (
        "…and where homes were flooded?",
        1,
        {
            "lens": "proportions",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "flooded"}],
            "counted_by": DESIGN,
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
    (
        "Does schooling matter, allowing for source and income?",
        0,
        {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "schooling"}],
            "allowing_for": [
                {"variable": "source"},
                {"variable": "income", "per": 100},
                {"variable": "age", "per": 10},
            ],
        },
    ),
    (
        "…with the design of the sample",
        1,
        {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "schooling"}],
            "allowing_for": [
                {"variable": "source"},
                {"variable": "income", "per": 100},
                {"variable": "age", "per": 10},
            ],
            "counted_by": DESIGN,
        },
    ),
    (
        "Does the flood matter alike in every district?",
        0,
        {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [
                {"variable": "flooded"},
                {"variable": "flooded", "with": "district"},
            ],
            "allowing_for": [{"variable": "district"}, {"variable": "source"}],
        },
    ),
)


OUTBREAK: Line = (
    (
        "Outbreak: the harbour pump?",
        0,
        {"outcome": {"variable": "status"}, "vary_with": [{"variable": "pump"}]},
    ),
    (
        "…or the market, among those alike in the pump?",
        1,
        {
            "outcome": {"variable": "status"},
            "vary_with": [{"variable": "market"}],
            "within": ["pump"],
        },
    ),
    (
        "…or the market, allowing for pump and age?",
        1,
        {
            "lens": "odds",
            "outcome": {"variable": "status"},
            "vary_with": [{"variable": "market"}],
            "allowing_for": [{"variable": "pump"}, {"variable": "age", "per": 10}],
        },
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
    survey = _bring(study, user, CSV_FILE, CODEBOOK_FILE, "Round one", "cross_sectional")
    survey.counted_by = DESIGN
    survey.save()
    _ask(study, survey, LINE, 1)
    files = outbreak.CSV_FILE, outbreak.CODEBOOK_FILE
    cases = _bring(study, user, *files, "Outbreak in Norrin Harbour", "case_control")
    _ask(study, cases, OUTBREAK, 100)
    return study


def _bring(study: Study, user: Any, csv: Path, codebook: Path, name: str, design: str) -> DataSet:
    with csv.open("rb") as file:
        known = read_codebook(codebook.read_bytes())
        dataset = import_file(study, user, File(file, csv.name), known)
    dataset.name, dataset.study_design, dataset.is_draft = name, design, False
    dataset.save()
    return dataset


def _ask(study: Study, dataset: DataSet, line: Line, first: int) -> None:
    parent: SavedQuestion | None = None
    for position, (title, depth, question) in enumerate(line):
        asked = Question.model_validate(question)
        saved = SavedQuestion.objects.create(
            study=study,
            dataset=dataset,
            parent=parent if depth else None,
            position=position + first,
            title=title,
            question=asked.model_dump(mode="json", by_alias=True),
        )
        if depth == 0:
            parent = saved
