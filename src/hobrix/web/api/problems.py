"""Errors as problem details (RFC 9457), with a message a researcher can act on."""

import errno
import logging
from collections.abc import Callable
from typing import Any

from django.core.exceptions import BadRequest, SuspiciousOperation
from django.db.utils import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from django.http.multipartparser import MultiPartParserError
from django.http.request import RawPostDataException, UnreadablePostError
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError
from ninja.errors import ValidationError as RequestError

from hobrix.core.errors import CodebookError, FormatError, HobrixError, QuestionError, RecipeError
from hobrix.core.progress import Stopped
from hobrix.core.questions import Question
from hobrix.web.api.waiting import NotYet, not_yet
from hobrix.web.studies.access import Forbidden
from hobrix.web.studies.models import DataSet
from hobrix.web.studies.preparing import SeenOld
from hobrix.web.studies.terms import TermsAsked

MEDIA_TYPE = "application/problem+json"


class Way(Schema):
    """What may be tried instead: the question that does it."""

    label: str
    question: Question


class Problem(Schema):
    """What went wrong. ``where`` names the slot, field, line or column it concerns; ``remedies``
    what may be tried."""

    type: str
    title: str
    status: int
    detail: str
    where: dict[str, str | int | None] = {}
    current: dict[str, Any] | None = None
    remedies: list[Way] = []


class Stale(Exception):
    """A change made on an older version; ``current`` is how the thing stands now."""

    def __init__(self, current: dict[str, Any]) -> None:
        super().__init__("stale")
        self.current = current


def problem(
    status: int,
    kind: str,
    title: str,
    detail: str,
    where: dict[str, Any] | None = None,
    current: dict[str, Any] | None = None,
    remedies: list[Way] | None = None,
) -> HttpResponse:
    body = Problem(
        type=f"urn:hobrix:{kind}",
        title=title,
        status=status,
        detail=detail,
        where=where or {},
        current=current,
        remedies=remedies or [],
    )
    return HttpResponse(body.model_dump_json(by_alias=True), status=status, content_type=MEDIA_TYPE)


def locked_out(_request: HttpRequest, *_args: Any, **_kwargs: Any) -> HttpResponse:
    """Too many wrong passwords (called by django-axes)."""
    detail = "Too many attempts to sign in. Wait a quarter of an hour, then try again."
    return problem(429, "locked-out", "Signing in is paused", detail)


def install(api: NinjaAPI) -> None:
    """Turn every error the application knows into a problem."""

    def on(error: type[Exception], make: Callable[[Any], HttpResponse]) -> None:
        api.exception_handler(error)(lambda _request, exc: make(exc))

    on(QuestionError, _question)
    on(
        FormatError,
        lambda e: _hobrix(e, "file", "This file cannot be read", line=e.line, column=e.column),
    )
    on(
        CodebookError,
        lambda e: _hobrix(e, "codebook", "The codebook would contradict itself", field=e.field),
    )
    on(
        RecipeError,
        lambda e: _hobrix(e, "recipe", "These do not come together so", field=e.field),
    )
    on(HobrixError, lambda e: _hobrix(e, "refused", "This does not work"))
    on(Stale, lambda e: _stale(e.current))
    on(Http404, lambda _: _nothing_there())
    on(OverflowError, lambda e: _nothing_there() if "SQLite" in str(e) else _unforeseen(e))
    on(
        Forbidden,
        lambda _: problem(
            403, "forbidden", "Not allowed", "Your role in this study does not allow changes."
        ),
    )
    on(
        AuthenticationError,
        lambda _: problem(401, "signed-out", "Signed out", "Sign in to go on."),
    )
    on(TermsAsked, lambda e: _terms(e.datasets))
    on(SeenOld, lambda _: _stale({}))
    on(Stopped, lambda _: problem(409, "stopped", "Stopped", "The answer was stopped."))
    for unread in (MultiPartParserError, BadRequest, SuspiciousOperation, RawPostDataException):
        on(unread, lambda _: _unread())
    on(UnreadablePostError, lambda _: _unread())
    on(OperationalError, _storage)
    on(OSError, _storage)
    on(NotYet, lambda e: not_yet(e.under_way))
    on(RequestError, _invalid_request)
    on(Exception, _unforeseen)
    on(HttpError, lambda e: problem(e.status_code, "refused", "This does not work", str(e)))


def _stale(current: dict[str, Any]) -> HttpResponse:
    detail = (
        "This was changed since you opened it. What you see now is how it stands; "
        "your change was not made."
    )
    return problem(409, "stale", "Somebody changed this meanwhile", detail, current=current)


def _terms(datasets: list[DataSet]) -> HttpResponse:
    named = " and ".join(dataset.name for dataset in datasets)
    detail = f"{named} may be used under terms only. Read and accept them on the Data screen first."
    current = {"terms": [{"name": each.name, "terms": each.terms} for each in datasets]}
    return problem(403, "terms", "Terms to accept first", detail, current=current)


def _unforeseen(error: Exception) -> HttpResponse:
    logging.getLogger("hobrix").error("unforeseen", exc_info=error)
    detail = "Hobrix made a mistake. Nothing was changed; the server log says more."
    return problem(500, "mistake", "Something went wrong here", detail)


def _nothing_there() -> HttpResponse:
    """Also for keys that are larger than any there can be."""
    return problem(404, "not-found", "Not found", "There is no such thing here.")


def _unread() -> HttpResponse:
    detail = "What was sent is incomplete or damaged, so nothing was changed. Send it again."
    return problem(422, "invalid", "This was not understood", detail)


def _storage(error: Exception) -> HttpResponse:
    """The disk or the database refuses; whoever runs the server can put that right."""
    said = str(error)
    if "full" in said or getattr(error, "errno", None) in (errno.ENOSPC, errno.EDQUOT):
        detail = (
            "The disk of the server is full, so this was not kept. Whoever runs Hobrix here has to make "
            "room; then do it again."
        )
        return problem(507, "disk-full", "The disk is full", detail)
    if "readonly" in said or getattr(error, "errno", None) in (errno.EROFS, errno.EACCES):
        detail = "The server may not write to its disk, so this was not kept. Tell whoever runs it."
        return problem(507, "read-only", "Nothing can be kept", detail)
    if "locked" in said:
        detail = "The server is busy keeping other changes. Nothing was changed; try again."
        return problem(503, "busy", "Busy", detail)
    return _unforeseen(error)


def _question(error: QuestionError) -> HttpResponse:
    return problem(
        422,
        "question",
        "This cannot be answered yet",
        error.message,
        {"slot": error.slot},
        remedies=[
            Way(label=label, question=asked)
            for label, asked in error.remedies
            if isinstance(asked, Question)
        ],
    )


def _hobrix(error: HobrixError, kind: str, title: str, **where: Any) -> HttpResponse:
    return problem(422, kind, title, error.message, where)


def _invalid_request(error: RequestError) -> HttpResponse:
    first = error.errors[0]
    path = [str(part) for part in first["loc"] if part not in ("body", "query", "path", "form")]
    detail = str(first["msg"])
    where = {"field": ".".join(path)}
    if path[:1] == ["question"]:
        # A slot of the sentence or one of its options.
        where = {"slot": ".".join(path[1:])}
    if path and first["type"] != "said":
        detail = f"{' › '.join(path)}: {detail}"
    return problem(422, "invalid", "This was not understood", detail, where)
