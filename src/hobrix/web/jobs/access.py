"""Jobs are reached through their study, as all that belongs to one."""

from typing import Any
from uuid import UUID

from django.http import Http404

from hobrix.web.jobs.models import Job
from hobrix.web.studies.access import study_for
from hobrix.web.studies.models import Role


def job_for(user: Any, study_id: UUID, job_id: UUID, *roles: Role) -> Job:
    """A job of a study the user may see; raises as ``study_for`` does."""
    study = study_for(user, study_id, *roles)
    job = Job.objects.filter(id=job_id, study=study).first()
    if job is None:
        raise Http404("There is no such job.")
    return job
