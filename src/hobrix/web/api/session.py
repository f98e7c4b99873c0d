"""Signing in and out, and what the front end needs to know at its start."""

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema, Status
from ninja.utils import check_csrf

from hobrix.figures import Spec, config, palettes
from hobrix.web.api.problems import Problem, problem

router = Router(by_alias=True)


class Session(Schema):
    """Who is signed in (null for nobody), and the limits and looks in force."""

    user: str | None
    upload_limit: int
    figure_config: dict[str, Spec]
    figure_palettes: dict[str, dict[str, Spec]]


class Credentials(Schema):
    username: str
    password: str


def anybody(request: HttpRequest) -> bool:
    """Open to those not signed in, but still guarded against forged requests."""
    if request.method not in ("GET", "HEAD", "OPTIONS"):
        return check_csrf(request) is None
    return True


def _session(request: HttpRequest) -> dict[str, Any]:
    user = request.user
    get_token(request)  # sets the cookie that later requests are checked against
    return {
        "user": user.get_username() if user.is_authenticated else None,
        "upload_limit": settings.UPLOAD_LIMIT,
        "figure_config": {"light": config("light"), "dark": config("dark")},
        "figure_palettes": {"light": palettes("light"), "dark": palettes("dark")},
    }


@router.get("", auth=anybody, response=Session)
def read_session(request: HttpRequest) -> dict[str, Any]:
    return _session(request)


@router.post("", auth=anybody, response={200: Session, 401: Problem})
def sign_in(request: HttpRequest, credentials: Credentials) -> dict[str, Any] | HttpResponse:
    user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        detail = "This name and password do not go together."
        return problem(401, "wrong-credentials", "Not signed in", detail, {"field": "password"})
    login(request, user)
    return _session(request)


@router.delete("", response={204: None})
def sign_out(request: HttpRequest) -> Status[None]:
    logout(request)
    return Status(204, None)
