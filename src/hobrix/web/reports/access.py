"""Reports are reached through their study."""

from typing import Any
from uuid import UUID

from django.http import Http404

from hobrix.web.reports.models import Report
from hobrix.web.studies.access import study_for
from hobrix.web.studies.models import Role


def report_for(
    user: Any, study_id: UUID, report_id: UUID, *roles: Role, deleted: bool = False
) -> Report:
    """A report of a study the user may see; raises as ``study_for`` does."""
    study = study_for(user, study_id, *roles)
    found = Report.objects.filter(study=study, id=report_id, deleted_at__isnull=not deleted).first()
    if found is None:
        raise Http404("There is no such report.")
    return found
