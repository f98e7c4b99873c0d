"""One's own account, and invitations as those invited see them."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.contrib.auth import login, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema, Status

from hobrix.web.api.problems import Problem, problem
from hobrix.web.api.session import Session, anybody, session_of
from hobrix.web.people import inviting, sessions

router = Router(by_alias=True)
invitations = Router(by_alias=True)


class SignInOut(Schema):
    """Where one is signed in."""

    id: int
    browser: str
    made_at: datetime
    seen_at: datetime
    is_this: bool


@router.get("/sessions", response=list[SignInOut])
def signed_in(request: HttpRequest) -> list[dict[str, Any]]:
    here = request.session.session_key
    return [
        {
            "id": each.id,
            "browser": each.browser,
            "made_at": each.made_at,
            "seen_at": each.seen_at,
            "is_this": each.session == here,
        }
        for each in sessions.of(request.user)
    ]


@router.delete("/sessions/{which}", response={204: None})
def sign_out_there(request: HttpRequest, which: Path[int]) -> Status[None]:
    sessions.end(request.user, which)
    return Status(204, None)


class PasswordChange(Schema):
    old: str
    new: str


@router.post("/password", response={204: None, 422: Problem})
def change_password(request: HttpRequest, body: PasswordChange) -> Status[None] | HttpResponse:
    """Another password; everywhere else one is signed out by that."""
    user: Any = request.user
    if user.has_usable_password() and not user.check_password(body.old):
        return problem(
            422, "password", "Not changed", "This is not your password.", {"field": "old"}
        )
    try:
        inviting.check_password(body.new, user)
    except inviting.Unfit as error:
        return problem(422, "password", "Not changed", error.message, {"field": "new"})
    user.set_password(body.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    return Status(204, None)


class InvitedTo(Schema):
    """What an invitation lets one into."""

    study: str
    role: str
    by: str


class Joined(Schema):
    study: UUID
    session: Session


class NewAccount(Schema):
    """``username`` and ``password`` of the account to make; both left out by who is signed in."""

    username: str | None = None
    password: str | None = None


@invitations.get("/{secret}", auth=anybody, response={200: InvitedTo, 404: Problem})
def look_at_invitation(request: HttpRequest, secret: Path[str]) -> dict[str, Any]:  # noqa: ARG001
    found = inviting.invitation_of(secret)
    return {"study": found.study.name, "role": found.role, "by": found.made_by.get_username()}


@invitations.post("/{secret}", auth=anybody, response={200: Joined, 404: Problem, 422: Problem})
def join(request: HttpRequest, secret: Path[str], body: NewAccount) -> Any:
    """Into the study: with the account one is signed in with, or with a new one."""
    inviting.invitation_of(secret)
    if not request.user.is_authenticated:
        try:
            made = inviting.new_account(body.username or "", body.password or "")
        except inviting.NameTaken as error:
            return problem(422, "account", "Not made", error.message, {"field": "username"})
        except inviting.Unfit as error:
            return problem(422, "account", "Not made", error.message, {"field": error.field})
        login(request, made, backend="django.contrib.auth.backends.ModelBackend")
    member = inviting.accept(secret, request.user)
    return {"study": member.study_id, "session": session_of(request)}
