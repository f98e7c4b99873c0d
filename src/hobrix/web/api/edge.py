"""What comes in can be kept and sent out again, and what goes out is kept by nobody on the way."""

import json
import re
from collections.abc import Callable
from typing import Any, NoReturn

from django.http import HttpRequest, HttpResponse

from hobrix.core.text import has_half_characters
from hobrix.web.api.problems import problem

Answer = Callable[[HttpRequest], HttpResponse]
# Only a body that names surrogates can hold half of a character, only one with such words or powers a
# number that is none.
_SUSPECT = re.compile(rb"\\u[dD][89a-fA-F]|NaN|Infinity|[eE]\+?\d{3}")


def sound_json(get_response: Answer) -> Answer:
    """Middleware: JSON bodies hold whole text and finite numbers."""

    def answer(request: HttpRequest) -> HttpResponse:
        if request.content_type == "application/json" and _SUSPECT.search(request.body):
            wrong = _wrong(request.body)
            if wrong:
                return problem(422, "invalid", "This was not understood", wrong)
        return get_response(request)

    return answer


def not_stored(get_response: Answer) -> Answer:
    """Middleware: answers, rows and exports are stored by no browser and no proxy."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if request.path.startswith("/api/"):
            response.setdefault("Cache-Control", "no-store")
        return response

    return answer


class _NoNumber(ValueError):
    pass


def _refuse(text: str) -> NoReturn:
    raise _NoNumber(text)


def _finite(text: str) -> float:
    number = float(text)
    return number if abs(number) != float("inf") else _refuse(text)


def _wrong(body: bytes) -> str:
    """What is wrong with a body; "" for one that is sound, or no JSON at all."""
    try:
        found: Any = json.loads(body, parse_constant=_refuse, parse_float=_finite)
    except _NoNumber as error:
        return f"{error} is no number that can be kept."
    except (ValueError, RecursionError):
        return ""
    if has_half_characters(found):
        return "A text holds half of a character, which cannot be kept."
    return ""
