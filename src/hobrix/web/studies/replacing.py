"""Replacing the file of a data set by a newer one: steps are replayed, and a report says what
moved. The older data set is kept, so that this can be undone."""

from typing import Any
from uuid import UUID

from django.core.files.base import File
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from hobrix.core.data import replay_what_fits
from hobrix.core.errors import HobrixError
from hobrix.core.formats import Codebook, Noun
from hobrix.web.studies.answers import keep_known_headlines
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
            matched_on=dataset.matched_on,
            counted_by=dataset.counted_by,
            cases=dataset.cases,
            is_draft=False,
            replaces=dataset,
            # Not there for anybody until all of it is.
            deleted_at=timezone.now(),
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
    failures_told = [(steps[i].words, why) for i, why in failed.items()]
    newer.report = report_of(before, Workspace(newer, state), failures_told, dataset)
    _put_in_place(newer, dataset)
    return newer


def _put_in_place(newer: DataSet, older: DataSet) -> None:
    """All at once: a kill before this leaves the older one, a kill after it the newer, with its
    report."""
    with transaction.atomic():
        taken = DataSet.objects.filter(
            pk=older.pk, version=older.version, deleted_at__isnull=True
        ).update(deleted_at=timezone.now())
        if not taken:
            raise HobrixError(
                f"“{older.name}” was changed while the newer file was read, so nothing was replaced. "
                "Bring the file again."
            )
        newer.deleted_at = None
        newer.save(update_fields=["report", "deleted_at"])
        older.questions.update(dataset=newer)
        older.rests_on_it.update(source=newer)
    # Their headlines go with them; what is known of the answers is remembered.
    keep_known_headlines(newer)


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
    keep_known_headlines(older)
    return older
