"""Signing in and out, and what the front end needs to know at its start."""

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.core.cache import cache
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema, Status
from ninja.utils import check_csrf

from hobrix.figures import Spec, config, palettes
from hobrix.web.api.problems import Problem, locked_out, problem

router = Router(by_alias=True)


# Over all names, so many wrong passwords from one address within so many seconds are too many: an office
# has one address, a guesser many names.
FAILURES, WITHIN = 40, 15 * 60


def _failures(request: HttpRequest) -> str:
    return f"failures-{request.META.get('REMOTE_ADDR', '')}"


def too_many_from(request: HttpRequest) -> bool:
    return int(cache.get(_failures(request), 0)) >= FAILURES


def count_failure(request: HttpRequest) -> None:
    cache.add(_failures(request), 0, WITHIN)
    cache.incr(_failures(request))


class Session(Schema):
    """Who is signed in (null for nobody), and the limits and looks in force."""

    user: str | None
    is_operator: bool
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


def session_of(request: HttpRequest) -> dict[str, Any]:
    user = request.user
    get_token(request)  # sets the cookie that later requests are checked against
    return {
        "user": user.get_username() if user.is_authenticated else None,
        "is_operator": bool(getattr(user, "is_staff", False)),
        "upload_limit": settings.UPLOAD_LIMIT,
        "figure_config": {"light": config("light"), "dark": config("dark")},
        "figure_palettes": {"light": palettes("light"), "dark": palettes("dark")},
    }


@router.get("", auth=anybody, response=Session)
def read_session(request: HttpRequest) -> dict[str, Any]:
    return session_of(request)


@router.post("", auth=anybody, response={200: Session, 401: Problem})
def sign_in(request: HttpRequest, credentials: Credentials) -> dict[str, Any] | HttpResponse:
    if too_many_from(request):
        return locked_out(request)
    user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        count_failure(request)
        detail = "This name and password do not go together."
        return problem(401, "wrong-credentials", "Not signed in", detail, {"field": "password"})
    login(request, user)
    return session_of(request)


@router.delete("", response={204: None})
def sign_out(request: HttpRequest) -> Status[None]:
    logout(request)
    return Status(204, None)
