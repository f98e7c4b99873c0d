"""Refuses a file that is too large before any of it is read."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from hobrix.web.api.problems import problem


class UploadLimitMiddleware:
    """Answers 413 when the body is announced as larger than ``UPLOAD_LIMIT``."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        announced = request.META.get("CONTENT_LENGTH") or "0"
        limit = settings.UPLOAD_LIMIT
        if announced.isdigit() and int(announced) > limit:
            detail = (
                f"The file has {int(announced) / 2**20:,.0f} MB; this Hobrix takes files up to "
                f"{limit / 2**20:,.0f} MB."
            )
            return problem(413, "too-large", "This file is too large", detail)
        return self.get_response(request)
