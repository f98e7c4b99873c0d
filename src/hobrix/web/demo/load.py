"""Puts the demo study in place: its data through the same import as anybody's, and its line of
questions."""

import json
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.files import File
from django.db import transaction

from hobrix.core.formats import read_codebook
from hobrix.core.questions import Question
from hobrix.web.demo import outbreak
from hobrix.web.demo.generate import CODEBOOK_FILE, CSV_FILE
from hobrix.web.studies.answers import answered, fingerprint_of
from hobrix.web.studies.importing import import_file
from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study

USER = "demo"
STUDY = "Ostra Basin household water survey"
QUESTIONS = Path(__file__).with_name("questions.json")

# How the survey was sampled: villages within districts.
DESIGN = {"kind": "design", "weights": "weight", "strata": "district", "clusters": "village"}


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
    lines = json.loads(QUESTIONS.read_text())
    _ask(study, survey, lines["survey"], 1)
    files = outbreak.CSV_FILE, outbreak.CODEBOOK_FILE
    cases = _bring(study, user, *files, "Outbreak in Norrin Harbour", "case_control")
    cases.case_status = "status"
    cases.save()
    _ask(study, cases, lines["outbreak"], 100)
    return study


def _bring(study: Study, user: Any, csv: Path, codebook: Path, name: str, design: str) -> DataSet:
    with csv.open("rb") as file:
        known = read_codebook(codebook.read_bytes())
        dataset = import_file(study, user, File(file, csv.name), known)
    dataset.name, dataset.study_design, dataset.is_draft = name, design, False
    dataset.save()
    return dataset


def _ask(study: Study, dataset: DataSet, line: list[dict[str, Any]], first: int) -> None:
    """Save and answer the questions of a line; each of depth 1 follows from the last of depth 0."""
    parent: SavedQuestion | None = None
    for position, each in enumerate(line):
        asked = Question.model_validate(each["question"])
        saved = SavedQuestion.objects.create(
            study=study,
            dataset=dataset,
            parent=parent if each["depth"] else None,
            position=position + first,
            title=each["title"],
            question=asked.model_dump(mode="json", by_alias=True),
            fingerprint=fingerprint_of(asked),
        )
        answered(dataset, asked)
        if not each["depth"]:
            parent = saved
