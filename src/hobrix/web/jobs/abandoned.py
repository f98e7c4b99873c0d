"""What a killed process leaves: jobs that say they run, and files that belong to nothing."""

from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from hobrix.web.jobs.models import Job, JobState
from hobrix.web.jobs.running import BEAT, enqueue
from hobrix.web.studies.models import DataSet

DEAD_AFTER = timedelta(seconds=5 * BEAT)
MOST_ATTEMPTS = 2


def take_up_abandoned() -> list[Job]:
    """Queue the jobs whose heart stopped once more; those that died twice have failed.

    Returns the jobs it dealt with.
    """
    dead = list(
        Job.objects.filter(state=JobState.RUNNING, heartbeat_at__lt=timezone.now() - DEAD_AFTER)
    )
    for job in dead:
        DBTaskResult.objects.filter(id=job.task).delete()
        if job.stop_requested or job.attempts >= MOST_ATTEMPTS:
            job.state = JobState.STOPPED if job.stop_requested else JobState.FAILED
            job.message = "It was interrupted twice, so it was given up. Nothing was kept."
            if job.file:
                job.file.delete(save=False)
        else:
            job.state, job.progress, job.doing = JobState.WAITING, 0.0, ""
        job.save(update_fields=["state", "message", "progress", "doing", "file"])
        if job.state == JobState.WAITING:
            enqueue(job)
    return dead


def remove_orphans() -> list[Path]:
    """Delete kept files that no data set and no job knows, and unfinished uploads.

    Only for the moment before the server takes requests: a file is kept before it is known.
    """
    unfinished = {JobState.WAITING, JobState.RUNNING}
    known = set(DataSet.objects.values_list("file", flat=True))
    known |= set(Job.objects.filter(state__in=unfinished).values_list("file", flat=True))
    sources, uploads = Path(settings.MEDIA_ROOT), Path(settings.FILE_UPLOAD_TEMP_DIR)
    orphans = [
        file
        for file in sources.rglob("*")
        if file.is_file() and str(file.relative_to(sources)) not in known
    ]
    orphans += [file for file in uploads.glob("*.upload*") if file.is_file()]
    for file in orphans:
        file.unlink()
    return orphans
