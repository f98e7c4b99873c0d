"""Letting go of what was deleted long ago."""

from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from hobrix.web.people.models import Happening
from hobrix.web.reports.models import Report
from hobrix.web.studies.models import DataSet, SavedQuestion, Study


def purge(days: int | None = None) -> dict[str, int]:
    """Delete for good what was deleted so many days ago (``settings.KEPT_DAYS``): how many of each.

    A data set stays while one that is there was made from it, or has taken its place and could be put back.
    """
    before = timezone.now() - timedelta(days=settings.KEPT_DAYS if days is None else days)
    old = {"deleted_at__lt": before}
    files = []
    with transaction.atomic():
        studies = Study.objects.filter(**old)
        gone = DataSet.objects.filter(study__in=studies) | DataSet.objects.filter(**old)
        needed = DataSet.objects.filter(deleted_at__isnull=True, study__deleted_at__isnull=True)
        gone = gone.exclude(
            pk__in=needed.filter(replaces__isnull=False).values("replaces")
        ).exclude(rests_on_it__dataset__in=needed)
        keys = list(gone.values_list("pk", flat=True).distinct())
        files = [each.file for each in DataSet.objects.filter(pk__in=keys) if each.file]
        counts = {
            "questions": SavedQuestion.objects.filter(**old).count(),
            "reports": Report.objects.filter(**old).count(),
            "data sets": len(keys),
            "studies": studies.count(),
        }
        SavedQuestion.objects.filter(**old).delete()
        Report.objects.filter(**old).delete()
        DataSet.objects.filter(pk__in=keys).delete()
        Happening.objects.filter(study__in=list(studies)).delete()
        studies.delete()
    # Once the database has let go of them: a kill before this leaves orphans, which are harmless.
    for file in files:
        file.storage.delete(str(file.name))
    return counts
