"""Puts the demo study in place: its data through the same import as anybody's, and its line of
questions."""

import json
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.files import File
from django.db import transaction

from hobrix.core.bringing import recipes
from hobrix.core.formats import read_codebook
from hobrix.core.questions import Question
from hobrix.web.demo import later, lending, matched, outbreak
from hobrix.web.demo.generate import CODEBOOK_FILE, CSV_FILE
from hobrix.web.demo.report import write_report
from hobrix.web.lending.service import version_of
from hobrix.web.studies.answers import fingerprint_of, keep_headline
from hobrix.web.studies.bringing import make
from hobrix.web.studies.importing import import_file
from hobrix.web.studies.models import DataSet, Membership, Role, SavedQuestion, Study
from hobrix.web.studies.terms import accept, bind

USER = "demo"
STUDY = "Ostra Basin household water survey"
QUESTIONS = Path(__file__).with_name("questions.json")
MADE = Path(__file__).with_name("made.json")

# How the survey was sampled: villages within districts.
DESIGN = {"kind": "design", "weights": "weight", "strata": "district", "clusters": "village"}

VELL = "Visits in Vell valley"
FEVER = "Fever in Norrin Harbour, matched"
LATER: tuple[tuple[Path, str, dict[str, Any]], ...] = (
    (
        later.ROUND_TWO,
        "Round two",
        {
            "study_design": "cross_sectional",
            "counted_by": {
                "kind": "design",
                "weights": "wt",
                "strata": "area",
                "clusters": "village",
            },
        },
    ),
    (
        later.VISITS,
        "Visits in the Ostra",
        {
            "study_design": "cohort",
            "cases": {"rows": "several", "case": "household", "order": "visit"},
        },
    ),
    (
        later.VELL,
        VELL,
        {"study_design": "cohort", "cases": {"rows": "several", "case": "hh", "order": "round"}},
    ),
    (later.VILLAGES, "Villages", {}),
    (
        matched.MATCHED,
        FEVER,
        {"study_design": "case_control", "case_status": "status", "matched_on": "set"},
    ),
)


def demo_user() -> Any:
    """The demo user, made where missing. It has no password: it signs in by link."""
    user, made = get_user_model().objects.get_or_create(username=USER)
    if made:
        user.set_unusable_password()
        user.save()
    return user


def load_demo(*, whole: bool = True) -> Study:
    """The demo study of the demo user, made where missing; not ``whole``: the first survey and the
    outbreak only."""
    user = demo_user()
    study = Study.objects.filter(name=STUDY, memberships__user=user).first()
    if study is not None:
        return study
    # All of it or nothing: a start that is broken off leaves no half of a demo.
    with transaction.atomic():
        return _load(user, whole=whole)


def _load(user: Any, *, whole: bool) -> Study:
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
    if whole:
        bring_later(study, user)
        fever = study.datasets.get(name=FEVER)
        _ask(study, fever, lines["matched"], 120)
        _make_of_several(study, user, lines)
        write_report(study, user)
    return study


def bring_later(study: Study, user: Any, *names: str) -> None:
    """The data sets that came later: all of them, or those named."""
    for path, name, changes in LATER:
        if names and name not in names:
            continue
        files = path.with_suffix(".csv"), path.with_suffix(".codebook.json")
        brought = _bring(study, user, *files, name, "")
        for field, value in changes.items():
            setattr(brought, field, value)
        brought.save()
        if name == VELL:
            _lent(brought, user)


def _lent(dataset: DataSet, user: Any) -> None:
    """As if the demo user had brought it in from its lender and accepted the terms."""
    dataset.lender, dataset.offer = lending.VELL_OFFICE, lending.VELL_VISITS
    dataset.offer_version = version_of(lending.vell_visits())
    dataset.terms, dataset.note = lending.TERMS, lending.NOTE
    dataset.save()
    accept(user, [dataset])
    bind(dataset)


def _make_of_several(study: Study, user: Any, lines: dict[str, list[dict[str, Any]]]) -> None:
    """What is made of several data sets, with its questions."""
    for at, each in enumerate(json.loads(MADE.read_text())):
        known = {dataset.name: dataset for dataset in study.datasets.all()}
        sources = [known[name] for name in each["sources"]]
        recipe = recipes.validate_python(each["recipe"])
        made = make(study, user, each["name"], recipe, sources)
        made.noun_one, made.noun_many = each.get("noun", (made.noun_one, made.noun_many))
        made.save()
        _ask(study, made, lines.get(made.name, []), 200 + 10 * at)


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
        keep_headline(dataset, asked)
        if not each["depth"]:
            parent = saved
