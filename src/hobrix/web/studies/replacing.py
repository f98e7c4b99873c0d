"""Replacing the file of a data set by a newer one: steps are replayed, and a report says what
moved. The older data set is kept, so that this can be undone."""

from typing import Any
from uuid import UUID

import numpy as np
from django.core.files.base import File
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from hobrix.core.data import Variable, replay_what_fits
from hobrix.core.errors import QuestionError
from hobrix.core.formats import Codebook, Noun
from hobrix.core.questions import Question
from hobrix.web.studies.answers import headline_now
from hobrix.web.studies.frames import Workspace, steps_adapter, stored_columns, workspace_of
from hobrix.web.studies.importing import TellDoing, keep, quiet, understand
from hobrix.web.studies.models import DataSet, PreparationStep


def replace_file(
    dataset: DataSet,
    user: Any,
    file: File,
    dataset_id: UUID | None = None,
    tell: TellDoing = quiet,
) -> DataSet:
    """A data set from a newer file, with the steps and questions of the older one.

    Its ``report`` tells what changed, what could not be replayed, and how each question's
    headline moved.

    Raises:
        FormatError: the file cannot be read; nothing is changed then.
    """
    before = workspace_of(dataset)
    headlines = {saved.id: _headline(dataset, saved.question) for saved in _questions(dataset)}
    first_read = stored_columns(dataset).variables
    known = Codebook(
        noun=Noun(one=dataset.noun_one, many=dataset.noun_many),
        variables=tuple(first_read.values()),
    )
    understood = understand(file, described_by=known, tell=tell)
    steps = list(dataset.steps.filter(is_active=True))
    variables = {c.proposal.variable.name: c.proposal.variable for c in understood.columns}
    state, failures = replay_what_fits(
        variables.values(), [steps_adapter.validate_python(step.step) for step in steps]
    )
    failed = {failure.index: failure.message for failure in failures}
    with transaction.atomic():
        newer = keep(
            dataset.study,
            user,
            file,
            understood,
            dataset_id,
            name=dataset.name,
            study_design=dataset.study_design,
            case_status=dataset.case_status,
            counted_by=dataset.counted_by,
            is_draft=False,
            replaces=dataset,
        )
        PreparationStep.objects.bulk_create(
            PreparationStep(
                dataset=newer,
                step=step.step,
                words=step.words,
                effect=step.effect,
                made_by=step.made_by,
                is_active=index not in failed,
            )
            for index, step in enumerate(steps)
        )
        dataset.questions.update(dataset=newer)
        DataSet.objects.filter(pk=dataset.pk).update(deleted_at=timezone.now())
    after = Workspace(newer, state)
    newer.report = {
        "rows_before": dataset.rows,
        "rows_after": newer.rows,
        "failed": [
            *({"words": steps[i].words, "why": why} for i, why in failed.items()),
            *_cannot_be_made(after),
        ],
        **_variables_changed(first_read, variables, before, after),
        "questions": [
            _moved(newer, saved.id, saved.title, saved.question, headlines.get(saved.id))
            for saved in _questions(newer)
        ],
    }
    newer.save(update_fields=["report"])
    return newer


def put_back(newer: DataSet) -> DataSet:
    """The data set that this one replaced, with its questions; raises Http404 when there is none."""
    older = newer.replaces
    if older is None:
        raise Http404("This data set replaced no other.")
    with transaction.atomic():
        newer.questions.update(dataset=older)
        DataSet.objects.filter(pk=newer.pk).update(deleted_at=timezone.now())
        DataSet.objects.filter(pk=older.pk).update(deleted_at=None)
    older.refresh_from_db()
    return older


def _cannot_be_made(after: Workspace) -> list[dict[str, str]]:
    """Weights whose totals the newer data cannot meet."""
    troubles = {name: after.trouble(name) for name in after.state.made}
    titles = after.state.variables
    return [{"words": titles[name].title, "why": why} for name, why in troubles.items() if why]


def _questions(dataset: DataSet) -> Any:
    return dataset.questions.filter(deleted_at__isnull=True)


def _headline(dataset: DataSet, question: Any) -> str:
    try:
        return headline_now(dataset, Question.model_validate(question)) or "not worked out yet"
    except QuestionError as error:
        return error.message


def _moved(
    newer: DataSet, question_id: Any, title: str, question: Any, before: str | None
) -> dict[str, Any]:
    after = _headline(newer, question)
    return {"id": str(question_id), "title": title, "before": before, "after": after}


def _variables_changed(
    old: dict[str, Variable], new: dict[str, Variable], before: Workspace, after: Workspace
) -> dict[str, Any]:
    """Variables that came and went, answers that are new, and changed numbers of answers."""
    new_answers = []
    for name, variable in new.items():
        if name in old and variable.is_categorical:
            known = {c.value for c in old[name].categories} | {m.value for m in old[name].missing}
            added = [c.value for c in variable.categories if c.value not in known]
            if added:
                title = after.state.variables[name].title
                new_answers.append({"variable": title, "values": added})
    counts = []
    for name in after.state.variables:
        if name in before.state.variables:
            one, two = _answered(before, name), _answered(after, name)
            if one != two:
                title = after.state.variables[name].title
                counts.append({"variable": title, "before": one, "after": two})
    return {
        "vanished": [v.title for name, v in old.items() if name not in new],
        "appeared": [v.title for name, v in new.items() if name not in old],
        "new_answers": new_answers,
        "answered": counts,
    }


def _answered(workspace: Workspace, name: str) -> int:
    return int(np.count_nonzero(~workspace.column(name).is_missing))
