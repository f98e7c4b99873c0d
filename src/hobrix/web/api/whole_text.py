"""What comes in can be kept and sent out again: bodies with half of a character are refused."""

import json
import re
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from hobrix.core.text import has_half_characters
from hobrix.web.api.problems import problem

# Only a body that names surrogates can hold half of a character.
_SURROGATE = re.compile(rb"\\u[dD][89a-fA-F]")


def whole_text(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware for JSON bodies."""

    def answer(request: HttpRequest) -> HttpResponse:
        if request.content_type == "application/json" and _SURROGATE.search(request.body):
            try:
                is_half = has_half_characters(json.loads(request.body))
            except (ValueError, RecursionError):
                is_half = False
            if is_half:
                detail = "A text holds half of a character, which cannot be kept."
                return problem(422, "invalid", "This was not understood", detail)
        return get_response(request)

    return answer
