"""Logs as lines of JSON, for machines that read them. What people ask and what their data hold stays out:
of a request its route, not its address; of a mistake where it happened, not what it said."""

import json
import logging
import time
import traceback
from collections.abc import Callable
from datetime import UTC, datetime

from django.http import HttpRequest, HttpResponse

_requests = logging.getLogger("hobrix.requests")


class AsJson(logging.Formatter):
    """A line per message."""

    def format(self, record: logging.LogRecord) -> str:
        told: dict[str, object] = {
            "time": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "from": record.name,
        }
        if isinstance(record.args, dict):
            told |= record.args
        elif record.exc_info and record.exc_info[0] is not None:
            frames = traceback.extract_tb(record.exc_info[2])
            told["mistake"] = record.exc_info[0].__name__
            told["where"] = [f"{frame.filename}:{frame.lineno}" for frame in frames[-12:]]
        else:
            # The words alone, without what is put into them.
            told["message"] = str(record.msg)
        return json.dumps(told)


def each_request(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: a line for each request, where logs are lines of JSON."""

    def answer(request: HttpRequest) -> HttpResponse:
        began = time.perf_counter()
        response = get_response(request)
        if _requests.isEnabledFor(logging.INFO):
            match = request.resolver_match
            told = {
                "method": request.method,
                "route": match.route if match else "",
                "status": response.status_code,
                "ms": round(1000 * (time.perf_counter() - began), 1),
                "user": getattr(getattr(request, "user", None), "pk", None),
            }
            _requests.info("request", told)
        return response

    return answer
