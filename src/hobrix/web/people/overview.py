"""What the operator sees: people, studies, their sizes, and the work under way. No data."""

import shutil
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db.models import Count, Q, Sum

from hobrix.web.studies.models import DataSet, Membership, Role, Study


@dataclass(frozen=True)
class Person:
    name: str
    is_operator: bool
    last_seen: datetime | None
    studies: int
    bytes: int


@dataclass(frozen=True)
class StudyLine:
    id: str
    name: str
    owners: str
    people: int
    datasets: int
    rows: int
    bytes: int
    is_deleted: bool


@dataclass(frozen=True)
class Home:
    """Bytes of the database and of the files, and what is free on their disk."""

    database: int
    files: int
    free: int


def everybody() -> list[Person]:
    users: Any = get_user_model().objects.annotate(
        studies_in=Count("memberships", filter=Q(memberships__study__deleted_at__isnull=True))
    )
    sizes = dict(
        DataSet.objects.values_list("imported_by")
        .annotate(Sum("size"))
        .values_list("imported_by", "size__sum")
    )
    return [
        Person(
            name=user.get_username(),
            is_operator=user.is_staff,
            last_seen=user.last_login,
            studies=user.studies_in,
            bytes=int(sizes.get(user.pk) or 0),
        )
        for user in users.order_by("username")
    ]


def all_studies() -> list[StudyLine]:
    found = Study.objects.annotate(
        people=Count("memberships", distinct=True),
        sets=Count("datasets", filter=Q(datasets__deleted_at__isnull=True), distinct=True),
    )
    sizes = {
        study: (size or 0, rows or 0)
        for study, size, rows in DataSet.objects.values_list("study")
        .annotate(Sum("size"), Sum("rows"))
        .values_list("study", "size__sum", "rows__sum")
    }
    owners: dict[Any, list[str]] = {}
    for member in Membership.objects.filter(role=Role.OWNER).select_related("user"):
        owners.setdefault(member.study_id, []).append(member.user.get_username())
    return [
        StudyLine(
            id=str(study.id),
            name=study.name,
            owners=", ".join(owners.get(study.id, [])),
            people=vars(study)["people"],
            datasets=vars(study)["sets"],
            rows=int(sizes.get(study.id, (0, 0))[1]),
            bytes=int(sizes.get(study.id, (0, 0))[0]),
            is_deleted=study.deleted_at is not None,
        )
        for study in found
    ]


def home() -> Home:
    database = Path(str(settings.DATABASES["default"]["NAME"]))
    sources = Path(settings.MEDIA_ROOT)
    return Home(
        # With what is not yet written into it.
        database=sum(file.stat().st_size for file in database.parent.glob(f"{database.name}*")),
        files=sum(file.stat().st_size for file in sources.rglob("*") if file.is_file()),
        free=shutil.disk_usage(settings.HOME).free,
    )
