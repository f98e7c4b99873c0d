"""What whoever runs this installation sees of it, and what machines that watch it are told."""

import json
from datetime import datetime
from importlib.metadata import version
from typing import Any

from django.conf import settings
from django.db import connection
from django.db.models import Count
from django.db.utils import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router, Schema

from hobrix.web import beside
from hobrix.web.api.problems import Problem
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.people import overview
from hobrix.web.studies.models import DataSet, Study

router = Router(by_alias=True)


class PersonOut(Schema):
    name: str
    is_operator: bool
    last_seen: datetime | None
    studies: int
    bytes: int


class StudyLineOut(Schema):
    id: str
    name: str
    owners: str
    people: int
    datasets: int
    rows: int
    bytes: int
    is_deleted: bool


class JobLine(Schema):
    study: str
    what: str
    state: str
    made_at: datetime
    progress: float


class HomeOut(Schema):
    database: int
    files: int
    free: int


class OverviewOut(Schema):
    people: list[PersonOut]
    studies: list[StudyLineOut]
    jobs: list[JobLine]
    home: HomeOut
    version: str


@router.get("", response={200: OverviewOut, 404: Problem})
def read_overview(request: HttpRequest) -> dict[str, Any]:
    """For operators only; to everybody else it is not there."""
    if not getattr(request.user, "is_staff", False):
        raise Http404("There is no such thing here.")
    latest = Job.objects.select_related("study").order_by("-made_at")[:100]
    return {
        "people": overview.everybody(),
        "studies": overview.all_studies(),
        "jobs": [
            {
                "study": job.study.name,
                "what": f"{job.get_kind_display()}: {job.file_name}",
                "state": job.state,
                "made_at": job.made_at,
                "progress": job.progress,
            }
            for job in latest
        ],
        "home": overview.home(),
        "version": version("hobrix"),
    }


def health(_request: HttpRequest) -> HttpResponse:
    """Whether requests can be answered: 200, or 503."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1 FROM studies_study LIMIT 1")
        told = {"ok": True, "version": version("hobrix")}
    except DatabaseError as error:
        told = {"ok": False, "why": type(error).__name__}
    return HttpResponse(
        json.dumps(told), status=200 if told["ok"] else 503, content_type="application/json"
    )


def metrics(request: HttpRequest) -> HttpResponse:
    """Numbers in the text format that Prometheus reads. With the token, or on this machine itself."""
    if not _may_measure(request):
        raise Http404("There is no such thing here.")
    jobs = dict(Job.objects.values_list("state").annotate(Count("id")))
    kept, work = overview.home(), beside.numbers()
    told = {
        "hobrix_studies": Study.objects.filter(deleted_at__isnull=True).count(),
        "hobrix_data_sets": DataSet.objects.filter(deleted_at__isnull=True).count(),
        "hobrix_jobs_waiting": jobs.get(JobState.WAITING, 0),
        "hobrix_jobs_running": jobs.get(JobState.RUNNING, 0),
        "hobrix_answers_waiting": work.waiting,
        "hobrix_answers_running": work.running,
        "hobrix_processes": work.processes,
        "hobrix_processes_bytes": work.memory,
        "hobrix_database_bytes": kept.database,
        "hobrix_files_bytes": kept.files,
        "hobrix_disk_free_bytes": kept.free,
    }
    lines = [f"# TYPE {name} gauge\n{name} {value}\n" for name, value in told.items()]
    return HttpResponse("".join(lines), content_type="text/plain; version=0.0.4")


def _may_measure(request: HttpRequest) -> bool:
    if settings.METRICS_TOKEN:
        return request.headers.get("Authorization") == f"Bearer {settings.METRICS_TOKEN}"
    is_here = request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1")
    return is_here and "X-Forwarded-For" not in request.headers
