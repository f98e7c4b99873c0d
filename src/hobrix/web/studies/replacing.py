"""Replacing the file of a data set by a newer one: steps are replayed, and a report says what
moved. The older data set is kept, so that this can be undone."""

from typing import Any
from uuid import UUID

from django.core.files.base import File
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from hobrix.core.data import replay_what_fits
from hobrix.core.formats import Codebook, Noun
from hobrix.web.studies.frames import Workspace, steps_adapter
from hobrix.web.studies.importing import TellDoing, keep, quiet, understand
from hobrix.web.studies.models import DataSet, PreparationStep
from hobrix.web.studies.reporting import report_of, seen_before


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
    before = seen_before(dataset)
    first_read = before.variables
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
            cases=dataset.cases,
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
        dataset.rests_on_it.update(source=newer)
        DataSet.objects.filter(pk=dataset.pk).update(deleted_at=timezone.now())
    failures_told = [(steps[i].words, why) for i, why in failed.items()]
    newer.report = report_of(before, Workspace(newer, state), failures_told)
    newer.save(update_fields=["report"])
    return newer


def put_back(newer: DataSet) -> DataSet:
    """The data set that this one replaced, with its questions; raises Http404 when there is none."""
    older = newer.replaces
    if older is None:
        raise Http404("This data set replaced no other.")
    with transaction.atomic():
        newer.questions.update(dataset=older)
        newer.rests_on_it.update(source=older)
        DataSet.objects.filter(pk=newer.pk).update(deleted_at=timezone.now())
        DataSet.objects.filter(pk=older.pk).update(deleted_at=None)
    older.refresh_from_db()
    return older
