"""Who is in a study, in which role; inviting, leaving, handing over; the log; who is here now."""

import hashlib
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.http import Http404, HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import Field

from hobrix.core.errors import HobrixError
from hobrix.web.api.problems import Problem
from hobrix.web.people import inviting, presence
from hobrix.web.people.models import Invitation
from hobrix.web.people.sessions import seen
from hobrix.web.studies.access import study_for
from hobrix.web.studies.models import Membership, Role, Study

router = Router(by_alias=True)
REFUSED = {403: Problem, 404: Problem, 422: Problem}
MAY: dict[str, str] = {
    Role.OWNER: "may do everything, also invite and take out people, and delete the study",
    Role.ANALYST: "may bring in and prepare data, ask, and write reports",
    Role.READER: "may ask and look at everything, and changes nothing",
}


class MemberOut(Schema):
    id: int
    user: str
    role: Role
    is_you: bool


class InvitationOut(Schema):
    id: UUID
    role: Role
    made_by: str
    ends_at: datetime


class PeopleOut(Schema):
    """``may``: what each role may do, in words. Invitations are the owners' to see."""

    members: list[MemberOut]
    invitations: list[InvitationOut]
    may: dict[str, str]


def _member(member: Membership, user: Any) -> dict[str, Any]:
    return {
        "id": member.user_id,
        "user": member.user.get_username(),
        "role": member.role,
        "is_you": member.user_id == user.pk,
    }


def _invitation(each: Invitation) -> dict[str, Any]:
    return {
        "id": each.id,
        "role": each.role,
        "made_by": each.made_by.get_username(),
        "ends_at": each.ends_at,
    }


@router.get("/people", response={200: PeopleOut, **REFUSED})
def people(request: HttpRequest, study_id: Path[UUID]) -> dict[str, Any]:
    study = study_for(request.user, study_id)
    members = study.memberships.select_related("user").order_by("user__username")
    is_owner = any(m.user_id == request.user.pk and m.role == Role.OWNER for m in members)
    open_ones = Invitation.objects.filter(study=study, used_at__isnull=True)
    return {
        "members": [_member(each, request.user) for each in members],
        "invitations": [_invitation(each) for each in open_ones] if is_owner else [],
        "may": MAY,
    }


class InvitationIn(Schema):
    role: Role
    days: Annotated[int, Field(ge=1, le=90)] = 7


class Invited(InvitationOut):
    """``secret`` is the end of the link; it is told this once."""

    secret: str


@router.post("/people/invitations", response={201: Invited, **REFUSED})
def invite(
    request: HttpRequest, study_id: Path[UUID], body: InvitationIn
) -> Status[dict[str, Any]]:
    study = study_for(request.user, study_id, Role.OWNER)
    made, secret = inviting.invite(study, request.user, body.role, body.days)
    return Status(201, {**_invitation(made), "secret": secret})


@router.delete("/people/invitations/{invitation_id}", response={204: None, **REFUSED})
def take_back(
    request: HttpRequest, study_id: Path[UUID], invitation_id: Path[UUID]
) -> Status[None]:
    study = study_for(request.user, study_id, Role.OWNER)
    if not Invitation.objects.filter(study=study, id=invitation_id).delete()[0]:
        raise Http404("There is no such invitation.")
    return Status(204, None)


class RoleIn(Schema):
    role: Role


@router.patch("/people/{user_id}", response={200: MemberOut, **REFUSED})
def change_role(
    request: HttpRequest, study_id: Path[UUID], user_id: Path[int], body: RoleIn
) -> dict[str, Any]:
    """Another role for somebody; the study is handed over by making somebody else its owner."""
    study = study_for(request.user, study_id, Role.OWNER)
    with transaction.atomic():
        member = _found(study, user_id)
        if member.role == Role.OWNER and body.role != Role.OWNER:
            _refuse_last_owner(study, member)
        member.role = body.role
        member.save(update_fields=["role"])
    return _member(member, request.user)


@router.delete("/people/{user_id}", response={204: None, **REFUSED})
def take_out(request: HttpRequest, study_id: Path[UUID], user_id: Path[int]) -> Status[None]:
    """An owner takes somebody out; everybody may leave."""
    roles = () if user_id == request.user.pk else (Role.OWNER,)
    study = study_for(request.user, study_id, *roles)
    with transaction.atomic():
        member = _found(study, user_id)
        if member.role == Role.OWNER:
            _refuse_last_owner(study, member)
        member.delete()
    return Status(204, None)


def _found(study: Study, user_id: int) -> Membership:
    found = study.memberships.select_related("user").filter(user_id=user_id).first()
    if found is None:
        raise Http404("There is no such member.")
    return found


def _refuse_last_owner(study: Study, member: Membership) -> None:
    if not study.memberships.filter(role=Role.OWNER).exclude(pk=member.pk).exists():
        raise HobrixError(
            "A study needs an owner. Make somebody else its owner first, or delete the study."
        )


class HappeningOut(Schema):
    at: datetime
    who: str
    words: str


@router.get("/log", response={200: list[HappeningOut], **REFUSED})
def log(
    request: HttpRequest,
    study_id: Path[UUID],
    offset: Annotated[int, Field(ge=0)] = 0,
    limit: Annotated[int, Field(ge=1, le=500)] = 100,
) -> Any:
    """Who did what, newest first. Owners may read it; nobody can change it."""
    study = study_for(request.user, study_id, Role.OWNER)
    return list(study.happenings.all()[offset : offset + limit])


class PulseIn(Schema):
    """Where somebody is: a window of their browser, its screen, and what they are changing."""

    window: Annotated[str, Field(max_length=40)]
    screen: Annotated[str, Field(max_length=40)] = ""
    editing: Annotated[str, Field(max_length=200)] = ""


class HereOut(Schema):
    who: str
    screen: str
    editing: str


class PulseOut(Schema):
    """Marks of what the study holds, each of which changes when that does; and who else is here."""

    questions: str
    datasets: str
    reports: str
    people: str
    here: list[HereOut]


@router.post("/pulse", response={200: PulseOut, **REFUSED})
def pulse(request: HttpRequest, study_id: Path[UUID], body: PulseIn) -> dict[str, Any]:
    """Asked every two seconds by each window that is open."""
    study = study_for(request.user, study_id)
    seen(request)
    who = request.user.get_username()
    presence.heard(study.id, who, body.window, body.screen, body.editing)
    return {
        "questions": _mark(study.questions, "id", "version", "position", "headline", "deleted_at"),
        "datasets": _mark(study.datasets, "id", "version", "is_draft", "deleted_at", "trouble"),
        "reports": _mark(study.reports, "id", "version", "deleted_at"),
        "people": _mark(study.memberships, "user_id", "role"),
        "here": presence.others(study.id, who),
    }


def _mark(rows: Any, *fields: str) -> str:
    told = "|".join(str(row) for row in rows.values_list(*fields))
    return hashlib.sha256(told.encode()).hexdigest()[:16]
