"""Long work of a study: how far it is, and stopping it."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Router, Schema

from hobrix.web.api.problems import Problem
from hobrix.web.jobs.access import job_for
from hobrix.web.jobs.models import Job, JobKind, JobState
from hobrix.web.jobs.running import request_stop
from hobrix.web.studies.access import MAY_CHANGE, study_for

router = Router(by_alias=True)


class JobOut(Schema):
    """``progress`` runs from 0 to 1; ``message`` says why it failed. A job that is done made
    the data set with its id."""

    id: UUID
    kind: JobKind
    file_name: str
    state: JobState
    progress: float
    doing: str
    message: str
    stop_requested: bool


@router.get("", response={200: list[JobOut], 404: Problem})
def list_jobs(request: HttpRequest, study_id: Path[UUID]) -> Any:
    """Jobs that wait or run, and those that failed until their message is put away."""
    study = study_for(request.user, study_id)
    return study.jobs.exclude(state__in=[JobState.DONE, JobState.STOPPED])


@router.get("/{job_id}", response={200: JobOut, 404: Problem})
def read_job(request: HttpRequest, study_id: Path[UUID], job_id: Path[UUID]) -> Job:
    return job_for(request.user, study_id, job_id)


@router.delete("/{job_id}", response={200: JobOut, 404: Problem})
def stop_job(request: HttpRequest, study_id: Path[UUID], job_id: Path[UUID]) -> Job:
    """Stop a job, or put the message of a failed one away."""
    job = job_for(request.user, study_id, job_id, *MAY_CHANGE)
    request_stop(job)
    return job
