"""Answers that take long: who waits for them, and what is said meanwhile.

A browser names its request in the header ``Hobrix-Work`` and asks again, under the same name, while it
is told 202. Who names nothing waits until the answer is there.
"""

from typing import Any, Literal, TypeVar

from django.http import HttpRequest, HttpResponse
from ninja import Schema

from hobrix.web.beside import Asker, Piece, UnderWay, run

NAME = "Hobrix-Work"
Given = TypeVar("Given")


class Progress(Schema):
    """From 0 to 1; null where nothing is known of it. ``place``: whose turn it is in the queue, 1 for
    the next; null for work that goes on."""

    done: float | None
    place: int | None = None


class StillWorking(Progress):
    """What is said instead of an answer; to be asked for again under the same name."""

    still_working: Literal[True]


class NotYet(Exception):
    """The work goes on; to be asked for again."""

    def __init__(self, under_way: UnderWay) -> None:
        super().__init__("not yet")
        self.under_way = under_way


def asker_of(request: HttpRequest) -> Asker:
    return Asker(int(request.user.pk or 0), request.headers.get(NAME, "")[:80])


def there(given: Given | UnderWay) -> Given:
    """What was worked out.

    Raises:
        NotYet: it is still worked out.
    """
    if isinstance(given, UnderWay):
        raise NotYet(given)
    return given


def beside(request: HttpRequest, piece: Piece) -> Any:
    """What a piece of work gives; raises NotYet."""
    return there(run(asker_of(request), piece))


def not_yet(under_way: UnderWay) -> HttpResponse:
    said = StillWorking(done=under_way.done, place=under_way.place, still_working=True)
    body = said.model_dump_json(by_alias=True)
    headers = {NAME: "under way"}
    return HttpResponse(body, status=202, content_type="application/json", headers=headers)
