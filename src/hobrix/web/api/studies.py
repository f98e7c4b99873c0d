"""Studies: list, create, rename, delete and bring back."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.db.models import Count, F, Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import StringConstraints

from hobrix.web.api.problems import Problem, Stale
from hobrix.web.people.allowance import refuse_more_studies
from hobrix.web.studies.access import MAY_CHANGE, study_for
from hobrix.web.studies.models import Membership, Role, Study

router = Router(by_alias=True)

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]


class StudyIn(Schema):
    name: Name


class StudyChange(Schema):
    name: Name
    version: int


class StudyOut(Schema):
    id: UUID
    name: str
    role: str
    version: int
    created_at: datetime
    datasets: int
    questions: int


def _listed(request: HttpRequest, **conditions: Any) -> list[dict[str, Any]]:
    """Studies the user is a member of, newest first, with their role and what they hold."""
    studies = (
        Study.objects.filter(memberships__user=request.user, **conditions)  # type: ignore[misc]
        .annotate(
            role=F("memberships__role"),
            datasets_present=Count(
                "datasets", filter=Q(datasets__deleted_at__isnull=True), distinct=True
            ),
            questions_present=Count(
                "questions", filter=Q(questions__deleted_at__isnull=True), distinct=True
            ),
        )
        .order_by("-created_at")
    )
    return [
        {
            "id": study.id,
            "name": study.name,
            "role": study.role,
            "version": study.version,
            "created_at": study.created_at,
            "datasets": study.datasets_present,
            "questions": study.questions_present,
        }
        for study in studies
    ]


def _one(request: HttpRequest, study: Study) -> dict[str, Any]:
    return _listed(request, id=study.id)[0]


@router.get("", response=list[StudyOut])
def list_studies(request: HttpRequest) -> list[dict[str, Any]]:
    return _listed(request, deleted_at__isnull=True)


@router.post("", response={201: StudyOut, 422: Problem})
def create_study(request: HttpRequest, body: StudyIn) -> Status[dict[str, Any]]:
    refuse_more_studies(request.user)
    with transaction.atomic():
        study = Study.objects.create(name=body.name)
        Membership.objects.create(study=study, user=request.user, role=Role.OWNER)  # type: ignore[misc]
    return Status(201, _one(request, study))


@router.get("/{study_id}", response={200: StudyOut, 404: Problem})
def read_study(request: HttpRequest, study_id: UUID) -> dict[str, Any]:
    return _one(request, study_for(request.user, study_id))


@router.patch("/{study_id}", response={200: StudyOut, 404: Problem, 409: Problem})
def rename_study(request: HttpRequest, study_id: UUID, body: StudyChange) -> dict[str, Any]:
    study = study_for(request.user, study_id, *MAY_CHANGE)
    changed = Study.objects.filter(id=study.id, version=body.version).update(
        name=body.name, version=F("version") + 1
    )
    if not changed:
        raise Stale(StudyOut(**_one(request, study)).model_dump(mode="json"))
    return _one(request, study)


@router.delete("/{study_id}", response={204: None, 404: Problem})
def delete_study(request: HttpRequest, study_id: UUID) -> Status[None]:
    study = study_for(request.user, study_id, Role.OWNER)
    Study.objects.filter(id=study.id).update(deleted_at=timezone.now())
    return Status(204, None)


@router.post("/{study_id}/restore", response={200: StudyOut, 404: Problem})
def restore_study(request: HttpRequest, study_id: UUID) -> dict[str, Any]:
    study = study_for(request.user, study_id, Role.OWNER, deleted=True)
    Study.objects.filter(id=study.id).update(deleted_at=None)
    return _one(request, study)
