"""Starting a job, doing it, and stopping it."""

import logging
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from uuid import UUID

from django.conf import settings
from django.core.files.base import File
from django.db import connection, transaction
from django.db.models import F
from django.utils import timezone
from django_tasks import task

from hobrix.core.bringing import recipes
from hobrix.core.errors import HobrixError
from hobrix.core.progress import Stopped
from hobrix.web.jobs.models import Job, JobKind, JobState
from hobrix.web.studies.bringing import behind, change_recipe, make, make_again, resting_on
from hobrix.web.studies.importing import TellDoing, import_file
from hobrix.web.studies.linked_codebook import link, read_again
from hobrix.web.studies.models import DataSet, Study
from hobrix.web.studies.replacing import replace_file

BEAT = 2.0  # seconds between heartbeats


def start_import(study: Study, user: Any, file: File, replaces: DataSet | None = None) -> Job:
    """Keep the file and queue its import (in place of ``replaces``, when given)."""
    job = Job(
        study=study,
        kind=JobKind.REPLACE if replaces else JobKind.IMPORT,
        file_name=(file.name or "data.csv")[-255:],
        replaces=replaces,
        made_by=user,
    )
    job.file.save(str(job.id), file, save=False)
    with transaction.atomic():
        job.save(force_insert=True)
        enqueue(job)
    return job


def start_making(study: Study, user: Any, name: str, recipe: Any, sources: list[DataSet]) -> Job:
    """Queue making a data set of others."""
    work = {
        "recipe": recipe.model_dump(mode="json", by_alias=True),
        "sources": [str(source.id) for source in sources],
    }
    return _start(study, user, JobKind.MAKE, name, work)


def start_making_again(dataset: DataSet, user: Any, recipe: Any = None) -> Job:
    """Queue making a data set again of its sources as they are now, or in another way. What waits
    for that already does it."""
    work: dict[str, Any] = {"dataset": str(dataset.id)}
    if recipe is not None:
        work["recipe"] = recipe.model_dump(mode="json", by_alias=True)
    else:
        waiting = Job.objects.filter(state=JobState.WAITING, kind=JobKind.MAKE_AGAIN, work=work)
        if (job := waiting.first()) is not None:
            return job
    return _start(dataset.study, user, JobKind.MAKE_AGAIN, dataset.name, work)


def start_linking(study: Study, user: Any, place: str, table: str) -> Job:
    """Queue reading the codebook of a table whose rows stay where they are."""
    return _start(study, user, JobKind.LINK, table, {"place": place, "table": table})


def start_reading_again(dataset: DataSet, user: Any) -> Job:
    """Queue reading the codebook of a linked data set again."""
    work = {"dataset": str(dataset.id)}
    return _start(dataset.study, user, JobKind.READ_AGAIN, dataset.name, work)


def _start(study: Study, user: Any, kind: JobKind, name: str, work: dict[str, Any]) -> Job:
    job = Job(study=study, kind=kind, file_name=name, work=work, made_by=user)
    with transaction.atomic():
        job.save(force_insert=True)
        enqueue(job)
    return job


def enqueue(job: Job) -> None:
    """Queue a job that waits."""
    job.task = str(run_job.enqueue(str(job.id)).id)
    job.save(update_fields=["task"])


@task
def run_job(job_id: str) -> None:
    """Do a job that waits; one that is no longer waiting is left alone."""
    claimed = Job.objects.filter(id=job_id, state=JobState.WAITING).update(
        state=JobState.RUNNING, attempts=F("attempts") + 1, heartbeat_at=timezone.now()
    )
    if not claimed:
        return
    job = Job.objects.select_related("study", "made_by", "replaces").get(id=job_id)
    try:
        with beating(job):
            _do(job)
    except Stopped:
        _end(job, JobState.STOPPED)
    except HobrixError as error:
        _end(job, JobState.FAILED, error.message)
    except Exception as error:
        logging.getLogger("hobrix").error("job %s", job.id, exc_info=error)
        _end(job, JobState.FAILED, "Hobrix made a mistake. Nothing was kept of this file.")
    else:
        _end(job, JobState.DONE)


def request_stop(job: Job) -> None:
    """Ask a job to stop; what waits stops at once, and the message of a failed one is put away."""
    Job.objects.filter(id=job.id).update(stop_requested=True)
    if Job.objects.filter(id=job.id, state__in=[JobState.WAITING, JobState.FAILED]).update(
        state=JobState.STOPPED
    ):
        _forget_file(job)
    job.refresh_from_db()


def teller(job: Job) -> TellDoing:
    """What long work calls to say how far it is; raises Stopped when it should end."""

    def tell(progress: float, doing: str) -> None:
        Job.objects.filter(id=job.id).update(
            progress=progress, doing=doing, heartbeat_at=timezone.now()
        )
        if Job.objects.filter(id=job.id, stop_requested=True).exists():
            raise Stopped

    return tell


@contextmanager
def beating(job: Job) -> Iterator[None]:
    """Let the job's heart beat while the block runs."""
    done = threading.Event()

    def beat() -> None:
        while not done.wait(BEAT):
            Job.objects.filter(id=job.id).update(heartbeat_at=timezone.now())
        connection.close()

    heart = threading.Thread(target=beat, daemon=True)
    heart.start()
    try:
        yield
    finally:
        done.set()
        heart.join()


def _do(job: Job) -> None:
    # What was not finished when it was killed is done again.
    unfinished = {"deleted_at__isnull": False, "report__isnull": True}
    DataSet.objects.filter(id=job.id, replaces__isnull=False, **unfinished).delete()
    if DataSet.objects.filter(id=job.id).exists():
        return  # killed just before it could say that it was done
    tell = teller(job)
    if job.kind == JobKind.MAKE:
        found = DataSet.objects.filter(study=job.study).in_bulk(
            [UUID(i) for i in job.work["sources"]]
        )
        sources = [found[UUID(i)] for i in job.work["sources"]]
        recipe = recipes.validate_python(job.work["recipe"])
        make(job.study, job.made_by, job.file_name, recipe, sources, job.id, tell)
        return
    if job.kind == JobKind.LINK:
        link(job.study, job.made_by, job.work["place"], job.work["table"], job.id, tell)
        return
    if job.kind == JobKind.READ_AGAIN:
        dataset = DataSet.objects.get(id=job.work["dataset"], study=job.study)
        read_again(dataset, tell)
        follow(dataset, job.made_by)
        return
    if job.kind == JobKind.MAKE_AGAIN:
        dataset = DataSet.objects.get(id=job.work["dataset"], study=job.study)
        if "recipe" in job.work:
            change_recipe(dataset, job.made_by, recipes.validate_python(job.work["recipe"]), tell)
        else:
            make_again(dataset, tell)
        follow(dataset, job.made_by)
        return
    with job.file.open("rb") as stored:
        file = File(stored, name=job.file_name)
        if job.replaces is not None:
            follow(replace_file(job.replaces, job.made_by, file, job.id, tell), job.made_by)
        else:
            import_file(job.study, job.made_by, file, dataset_id=job.id, tell=tell)


def follow(dataset: DataSet, user: Any) -> None:
    """Make again what rests on a data set that changed, and what rests on that: at once where it is
    small, otherwise as a job."""
    for made in resting_on(dataset):
        if not behind(made):
            continue
        if is_large(made):
            start_making_again(made, user)
        else:
            follow(make_again(made), user)


def is_large(dataset: DataSet) -> bool:
    """Whether making it takes longer than people wait for."""
    return dataset.rows * dataset.entries.count() > settings.MADE_AT_ONCE


def would_be_large(sources: list[DataSet]) -> bool:
    """The same of what is to be made."""
    cells = sum(source.rows * source.entries.count() for source in sources)
    return cells > settings.MADE_AT_ONCE


def _end(job: Job, state: JobState, message: str = "") -> None:
    Job.objects.filter(id=job.id).update(state=state, message=message)
    _forget_file(job)


def _forget_file(job: Job) -> None:
    if job.file:
        job.file.delete(save=False)
